// Package concerns holds what is done about students who need a look.
package concerns

import (
	"context"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
)

// Outcomes are how a follow-up call can end.
var Outcomes = []string{"spoke", "left a message", "no answer", "met"}

// Followup is a call about a student's signals.
type Followup struct {
	Student ids.Student `json:"student"`
	Contact ids.Contact `json:"contact,omitempty"`
	Outcome string      `json:"outcome"`
	Note    string      `json:"note,omitempty"`
	Next    string      `json:"next,omitempty" doc:"Date of the next contact, YYYY-MM-DD; empty for none"`
	work.Since
}

// LogFollowup stores a follow-up; it stands in the student's history and, with a
// next date, on the list of calls due.
func LogFollowup(ctx context.Context, o *work.Office, p work.Person, key string, f Followup) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayFollowUp, Kind: "follow-up", In: f, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		s, err := v.Student(f.Student)
		if err != nil {
			return err
		}
		if !slices.Contains(Outcomes, f.Outcome) {
			return work.Wrongf("%q is no outcome; choose one of %s", f.Outcome, strings.Join(Outcomes, ", "))
		}
		before, err := store.FollowupsOf(ctx, tx.Tx, s.ID)
		if err != nil {
			return err
		}
		for _, other := range before {
			if f.IsNews(tx, other.Origin) {
				return work.FirstTold(other.Origin, work.Join(", ", s.Name()+": "+other.Outcome, other.Note))
			}
		}
		row := store.Followup{StudentID: s.ID, Date: tx.Now.Date(), Minute: tx.Now.Minute(), Outcome: f.Outcome, Note: f.Note, Origin: tx.Origin()}
		if f.Contact != 0 {
			if _, ok := v.School.Contact(f.Contact); !ok {
				return work.NotFoundf("there is no contact %d", f.Contact)
			}
			row.ContactID = &f.Contact
		}
		if f.Next != "" {
			next, err := day.ParseDate(f.Next)
			if err != nil {
				return work.Wrongf("%v; nothing was saved", err)
			}
			if next < tx.Now.Date() {
				return work.Wrongf("the next date %s has passed; nothing was saved", next.Spoken())
			}
			row.NextDate = &next
		}
		id, err := store.AddFollowup(ctx, tx.Tx, row)
		out = work.ReceiptOf(tx, s.Name()+": "+f.Outcome, id)
		return err
	})
	return out, err
}
