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
		return out, work.Wrongf("say what it is; nothing was saved")
	}
	if a.Date != "" {
		if out.Date, err = day.ParseDate(a.Date); err != nil {
			return out, work.Wrongf("%v; nothing was saved", err)
		}
	}
	if a.ToDate != "" && a.ToDate != out.Date.String() {
		last, err := day.ParseDate(a.ToDate)
		if err != nil {
			return out, work.Wrongf("%v; nothing was saved", err)
		}
		if last < out.Date || last > out.Date+mostDays {
			return out, work.Wrongf("it can’t end on %s: that is before it begins or more than %d days after it; nothing was saved", last.Spoken(), mostDays)
		}
		out.ToDate = &last
	}
	if out.From, err = day.ParseTyped(a.From); err != nil {
		return out, work.Wrongf("%v; nothing was saved", err)
	}
	if out.To, err = day.ParseTyped(a.To); err != nil {
		return out, work.Wrongf("%v; nothing was saved", err)
	}
	if out.ToDate == nil && !out.To.After(out.From) {
		return out, work.Wrongf("%s is not after %s; nothing was saved", out.To, out.From)
	}
	if a.LeaderID != 0 {
		s, ok := v.School.StaffMember(a.LeaderID)
		if !ok || s.Ended {
			return out, work.NotFoundf("that is no member of staff; nothing was saved")
		}
		out.LeaderID, out.Leader = &s.ID, s.Short()
		if out.Phone == "" {
			out.Phone = s.Phone
		}
	}
	if out.Leader == "" {
		return out, work.Wrongf("say who leads it: they are asked first when it is late; nothing was saved")
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
			return work.Wrongf("%s is over; nothing was saved", row.Last().Spoken())
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
			return nil, work.Refusedf("%s is not on the roll on %s; nothing was saved", s.Name(), a.Date.Spoken())
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
			return work.Wrongf("it has begun on %s: that can’t be changed; nothing was saved", old.Date.Spoken())
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

// running returns an activity that takes place and has not ended.
func running(ctx context.Context, tx *work.Tx, id ids.Activity) (*store.Activity, error) {
	a, err := store.ActivityWith(ctx, tx.Tx, id)
	switch {
	case err != nil:
		return nil, err
	case a == nil || a.OnSite:
		return nil, work.NotFoundf("there is no such trip; nothing was saved")
	case a.EndedBy != nil:
		return nil, work.Conflictf("%s does not take place; nothing was saved", a.Title)
	case a.Back() != nil:
		return nil, work.Conflictf("%s is over since %s; nothing was saved", a.Title, a.Back().Minute)
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
