package desk

import (
	"context"
	"crypto/rand"
	"math/big"

	"meldung/core/ids"
	passnumber "meldung/core/pass"
	"meldung/store"
	"meldung/work"
)

// MakePass makes the pass of a movement and returns its number; a movement has one,
// however often it is asked for. Numbers are drawn, so that nobody finds one by counting.
func MakePass(ctx context.Context, o *work.Office, p work.Person, key string, movement ids.Movement) (work.Receipt, error) {
	var out work.Receipt
	err := o.WriteToday(ctx, work.Job{By: p, Key: key, Needs: work.MayMakePass, Kind: "pass", Of: movement, Out: &out}, func(tx *work.Tx, v work.Snapshot, x *work.Day) error {
		switch m := x.Movement(movement); {
		case m == nil:
			return work.NotFoundf("there is no such movement today: no pass was made")
		case m.UndoneAt != nil:
			return work.Refusedf("that was taken back: no pass was made")
		}
		if pass := x.PassOf(movement, tx.Now); pass != nil {
			out = work.ReceiptOf(tx, passnumber.Number(pass.ID), pass.ID)
			return nil
		}
		pass := store.Pass{MovementID: movement, Date: x.Date, Origin: tx.Origin()}
		for free := false; !free; {
			serial, err := rand.Int(rand.Reader, big.NewInt(passnumber.Most))
			if err != nil {
				return err
			}
			pass.ID = ids.Pass(serial.Int64() + 1)
			if free, err = store.AddPass(ctx, tx.Tx, pass); err != nil {
				return err
			}
		}
		out = work.ReceiptOf(tx, passnumber.Number(pass.ID), pass.ID)
		return nil
	})
	return out, err
}

// ReturnPass stores that a pass came back.
func ReturnPass(ctx context.Context, o *work.Office, p work.Person, key, number string) (work.Receipt, error) {
	var out work.Receipt
	serial, err := passnumber.Parse(number)
	if err != nil {
		return out, work.Wrongf("%v; nothing was saved", err)
	}
	err = o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayReturnPass, Kind: "pass returned", Of: serial, Out: &out}, func(tx *work.Tx, _ work.Snapshot) error {
		_, ok, err := store.PassDate(ctx, tx.Tx, serial)
		if err != nil {
			return err
		}
		if !ok {
			return work.NotFoundf("no pass has the number %s; nothing was saved", passnumber.Number(serial))
		}
		done, err := store.ReturnPass(ctx, tx.Tx, serial, tx.Entry)
		if err == nil && !done {
			err = work.Conflictf("pass %s had come back already", passnumber.Number(serial))
		}
		out = work.ReceiptOf(tx, "Pass "+passnumber.Number(serial)+" is back", serial)
		return err
	})
	return out, err
}
