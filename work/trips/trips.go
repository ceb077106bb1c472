// Package trips plans what takes students away from the timetable.
package trips

import (
	"context"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
)

// Activity is something planned away from the timetable, off the premises.
type Activity struct {
	Title    string
	From, To string // as typed
	Students []ids.Student
}

// Plan stores a planned activity of today.
func Plan(ctx context.Context, o *work.Office, p work.Person, key string, a Activity) (work.Receipt, error) {
	var out work.Receipt
	from, err := day.ParseTyped(a.From)
	if err != nil {
		return out, work.Wrongf("%v", err)
	}
	to, err := day.ParseTyped(a.To)
	if err != nil {
		return out, work.Wrongf("%v", err)
	}
	err = o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayPlanTrip, Kind: "activity", Of: a, Out: &out}, func(tx *work.Tx, _ work.Snapshot) error {
		id, err := store.AddActivity(ctx, tx.Tx, store.Activity{Title: a.Title, Date: tx.Now.Date(), From: from, To: to, Returns: true, Students: a.Students, Origin: tx.Origin()})
		out = work.ReceiptOf(tx, a.Title, id)
		return err
	})
	return out, err
}
