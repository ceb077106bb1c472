package caseload

import (
	"context"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/followup"
	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
)

// Outcomes are how a contact can end.
var Outcomes = []string{"spoke", "left a message", "no answer", "wrong number", "met"}

// With whom a contact was.
const (
	WithHome    = "home"
	WithStudent = "student"
	WithOutside = "outside"
)

// Reached reports whether an outcome is that somebody was reached.
func Reached(outcome string) bool { return outcome == "spoke" || outcome == "met" }

// Followup is a contact about a student.
type Followup struct {
	Student ids.Student `json:"student"`
	Way     string      `json:"way,omitempty" enum:"call,message,meeting,visit," doc:"Empty for a meeting where they met, else for a call"`
	With    string      `json:"with,omitempty" enum:"home,student,outside," doc:"Empty for the home"`
	Contact ids.Contact `json:"contact,omitempty" doc:"Of the home"`
	Who     string      `json:"who,omitempty" maxLength:"80" doc:"By name, where it is no contact on file"`
	Outcome string      `json:"outcome"`
	Note    string      `json:"note,omitempty" maxLength:"1000"`
	Kept    string      `json:"kept,omitempty" enum:"office,leads,owner," doc:"For whom the note is; empty for the office"`
	Next    string      `json:"next,omitempty" maxLength:"10" doc:"Date of the next contact, YYYY-MM-DD; empty for none"`
	Date    string      `json:"date,omitempty" maxLength:"10" doc:"When it was, YYYY-MM-DD; empty for today"`
	work.Since
}

// LogFollowup stores a contact: it stands in the student's history, and the next date orders the work list. Where
// the student is in a case, the case's next date moves with it. A number that was wrong is a call as those of the
// morning are, so that it is on the list of contacts to correct.
func LogFollowup(ctx context.Context, o *work.Office, p work.Person, key string, f Followup) (work.Receipt, error) {
	var out work.Receipt
	f.Note, f.Who = strings.TrimSpace(f.Note), strings.TrimSpace(f.Who)
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayFollowUp, Kind: "follow-up", In: f, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		s, err := v.Student(f.Student)
		if err != nil {
			return err
		}
		row, err := f.row(tx, v, s)
		if err != nil {
			return err
		}
		if err := f.untold(ctx, tx, s); err != nil {
			return err
		}
		if f.Outcome == "wrong number" {
			return f.wrongNumber(ctx, tx, v, s, &out)
		}
		if err := f.moveCase(ctx, tx, s, row.NextDate); err != nil {
			return err
		}
		id, err := store.AddFollowup(ctx, tx.Tx, row)
		words := s.Name() + ": " + f.Outcome
		if row.NextDate != nil {
			words += ", next " + row.NextDate.Spoken()
		}
		out = work.ReceiptOf(tx, words, id)
		return err
	})
	return out, err
}

func (f Followup) row(tx *work.Tx, v work.Snapshot, s store.Student) (store.Followup, error) {
	row := store.Followup{StudentID: s.ID, Date: tx.Now.Date(), Minute: tx.Now.Minute(), Way: f.Way, With: f.With, Who: f.Who, Outcome: f.Outcome, Note: f.Note, Kept: keptOr(f.Kept, ForOffice), Origin: tx.Origin()}
	if !slices.Contains(Outcomes, f.Outcome) {
		return row, work.Wrongf("%q is no outcome; choose one of %s", f.Outcome, strings.Join(Outcomes, ", "))
	}
	if row.Way == "" {
		row.Way = map[bool]string{true: "meeting", false: "call"}[f.Outcome == "met"]
	}
	if row.With == "" {
		row.With = WithHome
	}
	if f.Contact != 0 {
		if !slices.ContainsFunc(v.School.ContactsOf(s.ID), func(c followup.Contact) bool { return c.ID == f.Contact }) {
			return row, work.NotFoundf("that is no contact of %s; nothing was saved", s.Name())
		}
		row.ContactID = &f.Contact
	}
	if f.Date != "" {
		on, err := day.ParseDate(f.Date)
		switch {
		case err != nil:
			return row, work.Wrongf("%v; nothing was saved", err)
		case on > tx.Now.Date():
			return row, work.Wrongf("%s has not come yet; nothing was saved", on.Spoken())
		case on < tx.Now.Date():
			row.Date, row.Minute = on, day.MustMinute("12:00")
		}
	}
	if f.Next != "" {
		next, err := day.ParseDate(f.Next)
		if err != nil {
			return row, work.Wrongf("%v; nothing was saved", err)
		}
		if next < tx.Now.Date() {
			return row, work.Wrongf("the next date %s has passed; nothing was saved", next.Spoken())
		}
		row.NextDate = &next
	}
	return row, nil
}

// untold refuses once what somebody else has said about the same student meanwhile.
func (f Followup) untold(ctx context.Context, tx *work.Tx, s store.Student) error {
	before, err := store.FollowupsOf(ctx, tx.Tx, s.ID)
	if err != nil {
		return err
	}
	for _, other := range before {
		if f.IsNews(tx, other.Origin) {
			return work.FirstTold(other.Origin, work.Join(", ", s.Name()+": "+other.Outcome, Shown(other.Kept, other.Note)))
		}
	}
	return nil
}

// moveCase moves the next date of the student's open case. Who was reached about a case whose date has come needs a
// new one, or it would be asked for again at once.
func (f Followup) moveCase(ctx context.Context, tx *work.Tx, s store.Student, next *day.Date) error {
	all, err := Cases(ctx, tx.Tx, tx.Now)
	if err != nil {
		return err
	}
	c := OpenCaseOf(all, s.ID)
	if c == nil {
		return nil
	}
	last := c.Last()
	if next == nil {
		if Reached(f.Outcome) && (last.NextDate == nil || *last.NextDate <= tx.Now.Date()) {
			return work.Wrongf("%s is in a case with %s: say when next. Nothing was saved", s.Name(), last.Owner)
		}
		return nil
	}
	if last.NextDate != nil && *last.NextDate == *next {
		return nil
	}
	row := last
	row.Kind, row.NextDate, row.Text, row.Waits, row.UndoneBy, row.Origin = CaseChanged, next, "", false, nil, tx.Origin()
	_, err = store.AddCaseChange(ctx, tx.Tx, row)
	return err
}

// wrongNumber stores that a number is nobody's.
func (f Followup) wrongNumber(ctx context.Context, tx *work.Tx, v work.Snapshot, s store.Student, out *work.Receipt) error {
	switch {
	case f.Contact == 0:
		return work.Wrongf("say whose number is wrong; nothing was saved")
	case f.Note != "" && keptOr(f.Kept, ForOffice) != ForOffice:
		return work.Wrongf("that a number is wrong is for everybody who rings: its note can't be kept to fewer. Nothing was saved")
	}
	id, err := store.AddCall(ctx, tx.Tx, store.Call{Date: tx.Now.Date(), Minute: tx.Now.Minute(), ContactID: &f.Contact, Phone: v.School.ContactOf(f.Contact).Phone, Outcome: f.Outcome, Note: f.Note, Students: []ids.Student{s.ID}, Origin: tx.Origin()})
	*out = work.ReceiptOf(tx, s.Name()+": wrong number, on the list of contacts to correct", id)
	return err
}
