package home

import (
	"context"
	"fmt"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
)

// NewHold keeps students' homes from being rung until a time.
type NewHold struct {
	Students []ids.Student `json:"students" minItems:"1" maxItems:"2000"`
	Until    string        `json:"until" doc:"As typed"`
	Reason   string        `json:"reason" maxLength:"100"`
}

// Hold keeps the homes of students off the list until a time; after it they come back
// by themselves.
func Hold(ctx context.Context, o *work.Office, p work.Person, key string, h NewHold) (work.Receipt, error) {
	var out work.Receipt
	err := o.WriteToday(ctx, work.Job{By: p, Key: key, Needs: work.MayHold, Kind: "hold", In: h, Out: &out}, func(tx *work.Tx, v work.Snapshot, x *work.Day) error {
		until, err := day.ParseTyped(h.Until)
		if err != nil {
			return work.Wrongf("held until when? %v; nobody is held", err)
		}
		if !until.After(tx.Now.Minute()) {
			return work.Wrongf("%s has passed, it is %s; nobody is held", until, tx.Now.Minute())
		}
		reason := strings.TrimSpace(h.Reason)
		if reason == "" {
			return work.Wrongf("say what they are held for; nobody is held")
		}
		for _, id := range h.Students {
			if x.Evidence[id] == nil {
				return work.NotFoundf("student %d is not on the roll today; nobody is held", id)
			}
		}
		id, err := store.AddHold(ctx, tx.Tx, store.Hold{Date: x.Date, Minute: tx.Now.Minute(), Until: until, Reason: reason, Students: h.Students, Origin: tx.Origin()})
		out = work.ReceiptOf(tx, fmt.Sprintf("%s held until %s: %s", work.Count(len(h.Students), "student"), until, reason), id)
		return err
	})
	return out, err
}

// EndHold ends a hold before its time.
func EndHold(ctx context.Context, o *work.Office, p work.Person, key string, id ids.Hold) (work.Receipt, error) {
	var out work.Receipt
	err := o.WriteToday(ctx, work.Job{By: p, Key: key, Needs: work.MayEndHold, Kind: "hold ended", Of: id, Out: &out}, func(tx *work.Tx, _ work.Snapshot, x *work.Day) error {
		for _, h := range x.Holds {
			if h.ID != id {
				continue
			}
			done, err := store.EndHold(ctx, tx.Tx, id, tx.Entry)
			if err == nil && !done {
				err = work.Conflictf("that hold was ended already")
			}
			out = work.ReceiptOf(tx, "No longer held: "+h.Reason, id)
			return err
		}
		return work.NotFoundf("there is no such hold today")
	})
	return out, err
}

// Runs reports whether a hold had begun and not ended by a moment.
func Runs(h store.Hold, m work.Moment) bool {
	return h.Known <= m.Known && !h.Minute.After(m.Minute) && (h.EndedAt == nil || *h.EndedAt > m.Known)
}
