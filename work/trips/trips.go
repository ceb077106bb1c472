// Package trips plans what takes students away from the timetable, and holds who is with the others, who
// is not, and that they have come back.
package trips

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
)

// Activity is something planned away from the timetable, off the premises.
type Activity struct {
	Title    string        `json:"title" minLength:"1" maxLength:"100"`
	Place    string        `json:"place,omitempty" maxLength:"100" doc:"Where it goes"`
	Date     string        `json:"date,omitempty" maxLength:"10" doc:"Empty for today"`
	ToDate   string        `json:"toDate,omitempty" maxLength:"10" doc:"Where it ends on another date"`
	From     string        `json:"from" maxLength:"10" doc:"As typed"`
	To       string        `json:"to" maxLength:"10" doc:"As typed"`
	Home     bool          `json:"home,omitempty" doc:"They go home from where it is: nobody is expected back"`
	Leader   string        `json:"leader,omitempty" maxLength:"100" doc:"Who leads it, where that is nobody of the staff"`
	LeaderID ids.Staff     `json:"leaderId,omitempty" doc:"Who of the staff leads it, and takes its register"`
	Phone    string        `json:"phone,omitempty" maxLength:"40" doc:"Of the leader"`
	Students []ids.Student `json:"students" minItems:"1" maxItems:"2000"`
}

// mostDays bounds how many dates an activity lasts.
const mostDays = 60

// read returns an activity as it is stored.
func (a Activity) read(tx *work.Tx, v work.Snapshot) (store.Activity, error) {
	out := store.Activity{Title: strings.TrimSpace(a.Title), Place: strings.TrimSpace(a.Place), Date: tx.Now.Date(), Returns: !a.Home, Leader: strings.TrimSpace(a.Leader), Phone: strings.TrimSpace(a.Phone), Origin: tx.Origin()}
	var err error
	if out.Title == "" {
		return out, work.Wrongf("say what it is; nothing was stored")
	}
	if a.Date != "" {
		if out.Date, err = day.ParseDate(a.Date); err != nil {
			return out, work.Wrongf("%v; nothing was stored", err)
		}
	}
	if a.ToDate != "" && a.ToDate != out.Date.String() {
		last, err := day.ParseDate(a.ToDate)
		if err != nil {
			return out, work.Wrongf("%v; nothing was stored", err)
		}
		if last < out.Date || last > out.Date+mostDays {
			return out, work.Wrongf("it can’t end on %s: that is before it begins or more than %d days after it; nothing was stored", last.Spoken(), mostDays)
		}
		out.ToDate = &last
	}
	if out.From, err = day.ParseTyped(a.From); err != nil {
		return out, work.Wrongf("%v; nothing was stored", err)
	}
	if out.To, err = day.ParseTyped(a.To); err != nil {
		return out, work.Wrongf("%v; nothing was stored", err)
	}
	if out.ToDate == nil && !out.To.After(out.From) {
		return out, work.Wrongf("%s is not after %s; nothing was stored", out.To, out.From)
	}
	if a.LeaderID != 0 {
		s, ok := v.School.StaffMember(a.LeaderID)
		if !ok || s.Ended {
			return out, work.NotFoundf("that is nobody of the staff; nothing was stored")
		}
		out.LeaderID, out.Leader = &s.ID, s.Short()
		if out.Phone == "" {
			out.Phone = s.Phone
		}
	}
	return out, nil
}

// Plan stores a planned activity.
func Plan(ctx context.Context, o *work.Office, p work.Person, key string, a Activity) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayPlanTrip, Kind: "trip", In: a, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		row, err := a.read(tx, v)
		if err != nil {
			return err
		}
		if row.Last() < tx.Now.Date() {
			return work.Wrongf("%s is over; nothing was stored", row.Last().Spoken())
		}
		students, err := onTheRoll(ctx, v, row, a.Students)
		if err != nil {
			return err
		}
		id, err := store.AddActivity(ctx, tx.Tx, row, students)
		out = work.ReceiptOf(tx, fmt.Sprintf("%s, %s, %s to %s: %s", row.Title, row.Date.Spoken(), row.From, row.To, work.Count(len(students), "student")), id)
		return err
	})
	return out, err
}

// onTheRoll returns students once each, and refuses who is not on the roll on the date.
func onTheRoll(ctx context.Context, v work.Snapshot, a store.Activity, list []ids.Student) ([]ids.Student, error) {
	v, err := v.At(ctx, a.Date)
	if err != nil {
		return nil, err
	}
	var out []ids.Student
	for _, id := range list {
		s, err := v.Student(id)
		if err != nil {
			return nil, err
		}
		if !s.EnrolledOn(a.Date) {
			return nil, work.Refusedf("%s is not on the roll on %s; nothing was stored", s.Name(), a.Date.Spoken())
		}
		if !slices.Contains(out, id) {
			out = append(out, id)
		}
	}
	return out, nil
}

// Change stores an activity anew: one more student, one who stays back, other times. Marks of registers
// that are in stay as they are.
func Change(ctx context.Context, o *work.Office, p work.Person, key string, id ids.Activity, a Activity) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayChangeTrip, Kind: "trip changed", In: a, Of: id, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		old, err := running(ctx, tx, id)
		if err != nil {
			return err
		}
		row, err := a.read(tx, v)
		if err != nil {
			return err
		}
		row.ID = id
		if old.Date < tx.Now.Date() && row.Date != old.Date {
			return work.Wrongf("it has begun on %s: that can’t be changed; nothing was stored", old.Date.Spoken())
		}
		if err := store.SetActivity(ctx, tx.Tx, row); err != nil {
			return err
		}
		said := []string{}
		if row.From != old.From || row.To != old.To {
			said = append(said, fmt.Sprintf("%s to %s", row.From, row.To))
			if err := store.AddActivityTime(ctx, tx.Tx, store.ActivityTime{ActivityID: id, From: row.From, To: row.To, Origin: tx.Origin()}); err != nil {
				return err
			}
		}
		more, fewer, err := changeMembers(ctx, tx, v, *old, row, a.Students)
		if err != nil {
			return err
		}
		if len(more) > 0 {
			said = append(said, v.School.Names(more)+" too")
		}
		if len(fewer) > 0 {
			said = append(said, "without "+v.School.Names(fewer))
		}
		if len(said) == 0 {
			said = []string{"changed"}
		}
		out = work.ReceiptOf(tx, row.Title+": "+strings.Join(said, ", "), id)
		return nil
	})
	return out, err
}

func changeMembers(ctx context.Context, tx *work.Tx, v work.Snapshot, old, row store.Activity, list []ids.Student) (more, fewer []ids.Student, err error) {
	wanted, err := onTheRoll(ctx, v, row, list)
	if err != nil {
		return nil, nil, err
	}
	were := Members(old)
	for _, s := range wanted {
		if !slices.Contains(were, s) {
			more = append(more, s)
			if err := store.AddActivityMember(ctx, tx.Tx, old.ID, s, tx.Entry); err != nil {
				return nil, nil, err
			}
		}
	}
	for _, s := range were {
		if !slices.Contains(wanted, s) {
			fewer = append(fewer, s)
			if _, err := store.EndActivityMember(ctx, tx.Tx, old.ID, s, tx.Entry); err != nil {
				return nil, nil, err
			}
		}
	}
	return more, fewer, nil
}

// Members returns who is on an activity.
func Members(a store.Activity) []ids.Student {
	var out []ids.Student
	for _, m := range a.Members {
		if m.EndedBy == nil {
			out = append(out, m.StudentID)
		}
	}
	return out
}

// AsKnown returns an activity as it was known at an instant; ok is false where it was not.
func AsKnown(a store.Activity, known day.Instant) (out store.Activity, ok bool) {
	if a.Known > known {
		return a, false
	}
	out = a
	if a.EndedAt != nil && *a.EndedAt > known {
		out.EndedBy, out.EndedAt = nil, nil
	}
	out.Times, out.Members, out.Backs = nil, nil, nil
	for _, t := range a.Times {
		if t.Known <= known {
			out.Times, out.From, out.To = append(out.Times, t), t.From, t.To
		}
	}
	for _, m := range a.Members {
		if m.EndedAt != nil && *m.EndedAt > known {
			m.EndedBy, m.EndedAt = nil, nil
		}
		if m.Known <= known {
			out.Members = append(out.Members, m)
		}
	}
	out.Marks = slices.DeleteFunc(slices.Clone(a.Marks), func(m store.ActivityMark) bool { return m.Known > known })
	for _, b := range a.Backs {
		if b.UndoneAt != nil && *b.UndoneAt > known {
			b.UndoneBy, b.UndoneAt = nil, nil
		}
		if b.Known <= known {
			out.Backs = append(out.Backs, b)
		}
	}
	return out, true
}

// Leads reports whether a person may take an activity's register: the office any, others their own.
func Leads(p work.Person, a store.Activity) bool {
	return p.May(work.MayChangeTrip) || (p.Staff != 0 && a.LeaderID != nil && *a.LeaderID == p.Staff)
}

// running returns an activity that takes place and has not ended.
func running(ctx context.Context, tx *work.Tx, id ids.Activity) (*store.Activity, error) {
	a, err := store.ActivityWith(ctx, tx.Tx, id)
	switch {
	case err != nil:
		return nil, err
	case a == nil || a.OnSite:
		return nil, work.NotFoundf("there is no such trip; nothing was stored")
	case a.EndedBy != nil:
		return nil, work.Conflictf("%s does not take place; nothing was stored", a.Title)
	case a.Back() != nil:
		return nil, work.Conflictf("%s is over since %s; nothing was stored", a.Title, a.Back().Minute)
	}
	return a, nil
}

// Cancel stores that an activity does not take place: those on it are in their lessons.
func Cancel(ctx context.Context, o *work.Office, p work.Person, key string, id ids.Activity) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayCancelTrip, Kind: "trip cancelled", Of: id, Out: &out}, func(tx *work.Tx, _ work.Snapshot) error {
		a, err := running(ctx, tx, id)
		if err != nil {
			return err
		}
		_, err = store.EndActivity(ctx, tx.Tx, id, tx.Entry)
		out = work.ReceiptOf(tx, a.Title+" does not take place", id)
		return err
	})
	return out, err
}

// Said is what a leader says of students.
type Said struct {
	Here    []ids.Student `json:"here" maxItems:"2000" doc:"They are with the others"`
	Missing []ids.Student `json:"missing" maxItems:"2000" doc:"They are not"`
}

// Mark stores whom the leader has with them and whom not: who is not is missing from this minute on.
func Mark(ctx context.Context, o *work.Office, p work.Person, key string, id ids.Activity, s Said) (work.Receipt, error) {
	var out work.Receipt
	err := o.WriteToday(ctx, work.Job{By: p, Key: key, Needs: work.MayMarkTrip, Kind: "trip register", In: s, Of: id, Out: &out}, func(tx *work.Tx, v work.Snapshot, x *work.Day) error {
		a, err := running(ctx, tx, id)
		if err != nil {
			return err
		}
		switch {
		case !Leads(p, *a):
			return work.Refusedf("%s is not led by you; nothing was stored", a.Title)
		case x.Date < a.Date || (x.Date == a.Date && tx.Now.Minute().Before(a.From.Add(-Earliest))):
			return work.Wrongf("%s begins at %s on %s: its register can be taken from an hour before; nothing was stored", a.Title, a.From, a.Date.Spoken())
		}
		members := Members(*a)
		mark := func(list []ids.Student, here bool) error {
			for _, student := range list {
				if !slices.Contains(members, student) {
					return work.Wrongf("somebody is meant who is not on %s; nothing was stored", a.Title)
				}
				if err := store.AddActivityMark(ctx, tx.Tx, store.ActivityMark{ActivityID: id, StudentID: student, Here: here, Date: x.Date, Minute: tx.Now.Minute(), Origin: tx.Origin()}); err != nil {
					return err
				}
			}
			return nil
		}
		if err := mark(s.Here, true); err != nil {
			return err
		}
		if err := mark(s.Missing, false); err != nil {
			return err
		}
		out = work.ReceiptOf(tx, work.Join(", ", here(v, s.Here), missing(v, s.Missing)), id)
		return nil
	})
	return out, err
}

// Earliest is how long before an activity begins its register can be taken.
const Earliest day.Minutes = 60

func here(v work.Snapshot, list []ids.Student) string {
	switch {
	case len(list) == 0:
		return ""
	case len(list) > 3:
		return fmt.Sprintf("%d are there", len(list))
	}
	return v.School.Names(list) + " there"
}

func missing(v work.Snapshot, list []ids.Student) string {
	if len(list) == 0 {
		return ""
	}
	return v.School.Names(list) + " not there: missing"
}

// Return is that those on an activity have come back.
type Return struct {
	At   string `json:"at,omitempty" maxLength:"10" doc:"As typed; empty for now"`
	Home bool   `json:"home,omitempty" doc:"They went home from where it was"`
	Note string `json:"note,omitempty" maxLength:"200"`
}

// Back stores that those on an activity have come back, but for those who were not with it.
func Back(ctx context.Context, o *work.Office, p work.Person, key string, id ids.Activity, r Return) (work.Receipt, error) {
	var out work.Receipt
	err := o.WriteToday(ctx, work.Job{By: p, Key: key, Needs: work.MayEndTrip, Kind: "trip is back", In: r, Of: id, Out: &out}, func(tx *work.Tx, _ work.Snapshot, x *work.Day) error {
		a, err := running(ctx, tx, id)
		if err != nil {
			return err
		}
		if !Leads(p, *a) && !p.May(work.MaySeeAnyTrip) {
			return work.Refusedf("%s is not led by you; nothing was stored", a.Title)
		}
		at := tx.Now.Minute()
		if r.At != "" {
			if at, err = day.ParseTyped(r.At); err != nil {
				return work.Wrongf("%v; nothing was stored", err)
			}
		}
		switch {
		case at.After(tx.Now.Minute()):
			return work.Wrongf("%s is still to come, it is %s; nothing was stored", at, tx.Now.Minute())
		case x.Date < a.Date || (x.Date == a.Date && !at.After(a.From)):
			return work.Wrongf("%s begins at %s on %s: they can’t be back before; nothing was stored", a.Title, a.From, a.Date.Spoken())
		}
		// Of a trip that should have been back on an earlier day it is said today, and holds for its last date.
		date := min(x.Date, a.Last())
		if date < x.Date {
			at = a.To
		}
		if err := store.AddActivityBack(ctx, tx.Tx, store.ActivityBack{ActivityID: id, Date: date, Minute: at, Home: r.Home, Note: strings.TrimSpace(r.Note), Origin: tx.Origin()}); err != nil {
			return err
		}
		words := a.Title + " is back, " + at.String()
		if r.Home {
			words = a.Title + ": gone home from there, " + at.String()
		}
		out = work.ReceiptOf(tx, words, id)
		return nil
	})
	return out, err
}

// GoesOn takes back that those on an activity have come back.
func GoesOn(ctx context.Context, o *work.Office, p work.Person, key string, id ids.Activity) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayReopenTrip, Kind: "trip goes on", Of: id, Out: &out}, func(tx *work.Tx, _ work.Snapshot) error {
		a, err := store.ActivityWith(ctx, tx.Tx, id)
		if err != nil {
			return err
		}
		if a == nil || a.OnSite {
			return work.NotFoundf("there is no such trip; nothing was stored")
		}
		done, err := store.UndoActivityBack(ctx, tx.Tx, id, tx.Entry)
		if err == nil && !done {
			return work.Conflictf("%s is not back; nothing was stored", a.Title)
		}
		out = work.ReceiptOf(tx, a.Title+" is not back yet", id)
		return err
	})
	return out, err
}

// Said by nobody so far of a member is neither here nor missing.
const (
	Here    = "here"
	Missing = "missing"
)

// StandingOf returns what the leader said last of a member; empty for nothing.
func StandingOf(a store.Activity, s ids.Student) (said string, mark *store.ActivityMark) {
	for i := range a.Marks {
		if a.Marks[i].StudentID == s {
			mark = &a.Marks[i]
		}
	}
	switch {
	case mark == nil:
		return "", nil
	case mark.Here:
		return Here, mark
	}
	return Missing, mark
}
