package home

import (
	"context"
	"slices"
	"strings"

	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
)

// Resolution says how a wrong number was dealt with.
type Resolution struct {
	Note string `json:"note,omitempty" maxLength:"200"`
}

// ResolveNumber stores that a wrong number was dealt with, and how.
func ResolveNumber(ctx context.Context, o *work.Office, p work.Person, key string, call ids.Call, r Resolution) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayResolveNumber, Kind: "mended", In: r, Out: &out}, func(tx *work.Tx, _ work.Snapshot) error {
		open, err := store.WrongNumbers(ctx, tx.Tx)
		if err != nil {
			return err
		}
		if !slices.ContainsFunc(open, func(n store.WrongNumber) bool { return n.CallID == call }) {
			return work.Conflictf("that was dealt with already, or the number is not wrong")
		}
		out = work.ReceiptOf(tx, "Dealt with", call)
		return store.AddResolution(ctx, tx.Tx, store.Resolution{CallID: call, Note: strings.TrimSpace(r.Note), Origin: tx.Origin()})
	})
	return out, err
}
