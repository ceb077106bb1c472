package checkin

import (
	"context"
	"strings"

	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
)

// HandOutText is what a class is told on the sheet about checking in.
type HandOutText struct {
	Text string `json:"text" maxLength:"2000"`
}

// SetHandOut keeps what a class is told.
func SetHandOut(ctx context.Context, o *work.Office, p work.Person, key string, class ids.Class, h HandOutText) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MaySetHandOut, Kind: "hand-out", In: h, Of: class, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		c, err := v.OwnClass(p, class)
		if err != nil {
			return err
		}
		out = tx.Receipt("kept on the sheet of " + c.Title)
		return store.SetCheckInText(ctx, tx.Tx, class, strings.TrimSpace(h.Text), tx.Entry)
	})
	return out, err
}
