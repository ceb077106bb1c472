package registers

import (
	"context"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/work"
)

// Drafts is what someone marks on a register that is not sent yet.
type Drafts struct {
	Date  string           `json:"date"`
	Class ids.Class        `json:"class"`
	Slot  string           `json:"slot"`
	Marks []work.DraftMark `json:"marks" minItems:"1" maxItems:"500"`
}

// Draft shares marks of a register that is not sent yet with all who have
// it open. A row that someone else has marked otherwise in between is left, and
// told.
func Draft(ctx context.Context, o *work.Office, p work.Person, key string, drafts Drafts) (work.DraftReceipt, error) {
	var out work.DraftReceipt
	d, err := day.ParseDate(drafts.Date)
	if err != nil {
		return out, work.Wrongf("%v", err)
	}
	err = o.WriteOn(ctx, d, work.Job{By: p, Key: key, Needs: work.MayDraftRegister, Kind: "draft", In: drafts, Out: &out}, func(tx *work.Tx, v work.Snapshot, x *work.Day) error {
		tx.Scope = work.RegisterScope(d, drafts.Class, drafts.Slot)
		r, err := v.RegisterFor(x, p, drafts.Class, drafts.Slot)
		if err != nil {
			return err
		}
		if r.Sent != nil {
			return alreadySent(r)
		}
		out, err = tx.PutDrafts(ctx, v, x, r, drafts.Marks)
		return err
	})
	return out, err
}
