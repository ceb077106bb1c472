package work

import (
	"context"

	"meldung/core/ids"
	"meldung/store"
)

// TakeBackMovement takes a movement back, with the marks that it changed.
func (tx *Tx) TakeBackMovement(ctx context.Context, v Snapshot, x *Day, m store.Movement) error {
	done, err := store.UndoMovement(ctx, tx.Tx, m.ID, tx.Entry)
	if err != nil {
		return err
	}
	if !done {
		return Conflictf("that was taken back already")
	}
	var stoodInFor []ids.Entry // it was stored before, with less
	for _, o := range x.Movements {
		if o.StudentID == m.StudentID && o.Minute == m.Minute && o.Kind == m.Kind && o.UndoneBy != nil {
			stoodInFor = append(stoodInFor, o.Journal)
		}
	}
	return tx.Restore(ctx, v, x, m.StudentID, m.Journal, "the movement was taken back", stoodInFor...)
}

// TakeBackNotice takes a notice back, with the marks that it explained and that nobody has
// changed since, and with the word that ended a worry for its sake.
func (tx *Tx) TakeBackNotice(ctx context.Context, v Snapshot, n store.Notice) error {
	done, err := store.WithdrawNotice(ctx, tx.Tx, n.ID, tx.Entry)
	if err != nil {
		return err
	}
	if !done {
		return Conflictf("that notice was withdrawn already")
	}
	for d := n.FromDate; d <= min(n.ToDate, tx.Now.Date()); d++ {
		x, err := v.Day(ctx, d)
		if err != nil {
			return err
		}
		for _, s := range x.Settlings {
			if s.StudentID != nil && *s.StudentID == n.StudentID && s.Journal == n.Journal && s.UndoneBy == nil {
				if _, err := store.UndoSettling(ctx, tx.Tx, s.ID, tx.Entry); err != nil {
					return err
				}
			}
		}
		if err := tx.Restore(ctx, v, x, n.StudentID, n.Journal, "the notice was withdrawn"); err != nil {
			return err
		}
	}
	return nil
}
