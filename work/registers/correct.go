package registers

import (
	"context"
	"fmt"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
)

// Correction is a change of a mark after its register was sent.
type Correction struct {
	Date    string      `json:"date"`
	Slot    string      `json:"slot"`
	Student ids.Student `json:"student"`
	Code    string      `json:"code"`
	Time    string      `json:"time,omitempty"`
	Reason  string      `json:"reason" doc:"Why; stays visible beside both marks"`
}

// Correct replaces a mark by a new version that says why. Both stay visible.
func Correct(ctx context.Context, o *work.Office, p work.Person, key string, c Correction) (work.Receipt, error) {
	var out work.Receipt
	d, err := day.ParseDate(c.Date)
	if err != nil {
		return out, work.Wrongf("%v", err)
	}
	if strings.TrimSpace(c.Reason) == "" {
		return out, work.Wrongf("a correction needs a reason; the mark stays as it is")
	}
	err = o.WriteOn(ctx, d, work.Job{By: p, Key: key, Needs: work.MayCorrect, Kind: "correction", In: c, Out: &out}, func(tx *work.Tx, v work.Snapshot, x *work.Day) error {
		s, err := v.Student(c.Student)
		if err != nil {
			return err
		}
		versions := x.Versions(c.Student, c.Slot)
		if len(versions) == 0 {
			return work.NotFoundf("%s has no mark in %s on %s: send the register first", s.Name(), c.Slot, d.Spoken())
		}
		last := versions[len(versions)-1]
		r, err := v.RegisterFor(x, p, last.ClassID, c.Slot)
		if err != nil {
			return err
		}
		mark, err := markOf(v, tx, x, r, SentMark{Student: c.Student, Code: c.Code, Time: c.Time, Reason: c.Reason, Made: last.Made.String()})
		if err != nil {
			return work.Wrongf("%s: %v; the mark stays as it is", s.Name(), err)
		}
		if !mark.AwayTo.IsZero() {
			mark.Made = day.Latest(mark.Made, day.Earliest(mark.AwayTo, r.Slot.End))
		}
		mark.Version = last.Version + 1
		out = tx.Receipt(fmt.Sprintf("%s, %s: %s is now %s", s.Name(), c.Slot, last.Code, c.Code))
		return tx.AddMarks(ctx, []store.Mark{mark})
	})
	return out, err
}
