// Package school holds what a school decides about itself: its rules and reasons, its
// emblem, and the pictures of its students.
package school

import (
	"context"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/held"
	"meldung/work"
)

// RegisterRules are what the school has decided about registers, in minutes.
type RegisterRules struct {
	Within      day.Minutes `json:"within" minimum:"1" maximum:"120" doc:"After the slot's start a register is to be in"`
	LateGrace   day.Minutes `json:"lateGrace" minimum:"0" maximum:"60" doc:"After the slot's start one is still on time"`
	RemindAfter day.Minutes `json:"remindAfter" minimum:"0" maximum:"120" doc:"Overdue, its teacher is reminded; 0 for never"`
}

// SetRegisterRules stores what the school has decided about registers.
func SetRegisterRules(ctx context.Context, o *work.Office, p work.Person, key string, r RegisterRules) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MaySetRegisterRules, Kind: "register rules", In: r, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		next := v.Settings
		next.RegisterWithin, next.LateGrace, next.RemindAfter = r.Within, r.LateGrace, r.RemindAfter
		out = tx.Receipt("The rules are kept, and hold from now on")
		return tx.ChangeSettings(ctx, next)
	})
	return out, err
}

// AddReason adds to the school's reasons while working.
func AddReason(ctx context.Context, o *work.Office, p work.Person, key string, r held.Reason) (work.Receipt, error) {
	var out work.Receipt
	r.Word = strings.TrimSpace(r.Word)
	if r.Word == "" {
		return out, work.Wrongf("a reason needs a word")
	}
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayAddReason, Kind: "reason", In: r, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		for _, old := range v.Settings.Reasons {
			if old.Word == r.Word {
				return work.Conflictf("%q is there already", r.Word)
			}
		}
		for _, code := range []string{r.Absent, r.Late} {
			if _, ok := v.Codes.Find(code); !ok {
				return work.Wrongf("there is no code %q", code)
			}
		}
		next := v.Settings
		next.Reasons = append(slices.Clone(next.Reasons), r)
		out = tx.Receipt(r.Word + " added")
		return tx.ChangeSettings(ctx, next)
	})
	return out, err
}
