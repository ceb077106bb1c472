package morning

import (
	"context"

	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
)

// Settlement says that a contradiction stands.
type Settlement struct {
	Student ids.Student `json:"student"`
	Slot    string      `json:"slot"`
	Kind    string      `json:"kind"`
	Note    string      `json:"note,omitempty"`
}

// Settle stores that a contradiction was looked at and stands.
func Settle(ctx context.Context, o *work.Office, p work.Person, key string, c Settlement) (work.Receipt, error) {
	var out work.Receipt
	err := o.WriteToday(ctx, work.Job{By: p, Key: key, Needs: work.MaySettle, Kind: "settled", In: c, Out: &out}, func(tx *work.Tx, v work.Snapshot, _ *work.Day) error {
		s, err := v.Student(c.Student)
		if err != nil {
			return err
		}
		id, err := store.AddSettled(ctx, tx.Tx, store.Settled{StudentID: c.Student, Date: tx.Now.Date(), Slot: c.Slot, Kind: c.Kind, Note: c.Note, Origin: tx.Origin()})
		out = work.ReceiptOf(tx, s.Name()+": stands", id)
		return err
	})
	return out, err
}
