// Package school holds what a school decides about itself: its rules and reasons, its
// emblem, and the pictures of its students.
package school

import (
	"context"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/held"
	"meldung/work"
)

// RegisterRules are what the school has decided about registers and doors, in minutes but for an
// age.
type RegisterRules struct {
	Section     ids.Section `json:"section,omitempty" doc:"The section whose rules they are; 0 for every one"`
	Within      day.Minutes `json:"within" minimum:"1" maximum:"120" doc:"After the slot's start a register is to be in"`
	LateGrace   day.Minutes `json:"lateGrace" minimum:"0" maximum:"60" doc:"After the slot's start one is still on time"`
	RemindAfter day.Minutes `json:"remindAfter" minimum:"0" maximum:"120" doc:"Overdue, its teacher is reminded; 0 for never"`
	CallAfter   day.Minutes `json:"callAfter" minimum:"0" maximum:"240" doc:"After the first slot's start homes are rung; 0 is as soon as its registers are due"`
	AloneFrom   int         `json:"aloneFrom" minimum:"0" maximum:"25" doc:"Age in years from which students may leave alone; 0 for any"`
}

// SetRegisterRules stores what the school has decided about registers.
func SetRegisterRules(ctx context.Context, o *work.Office, p work.Person, key string, r RegisterRules) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MaySetRegisterRules, Kind: "register rules", In: r, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		sections, err := v.SectionsWith(r.Section)
		if err != nil {
			return err
		}
		out = tx.Receipt("The rules are kept, and hold from now on")
		for _, s := range sections {
			next := s.Settings
			next.RegisterWithin, next.LateGrace, next.RemindAfter = r.Within, r.LateGrace, r.RemindAfter
			next.CallAfter, next.AloneFrom = r.CallAfter, r.AloneFrom
			if err := tx.ChangeSettings(ctx, s.ID, next); err != nil {
				return err
			}
		}
		return nil
	})
	return out, err
}

// Grading is how a section writes attendance for grading.
type Grading struct {
	Section ids.Section      `json:"section,omitempty" doc:"The section whose rule it is; 0 for every one"`
	Seen    held.GradingRule `json:"seen" doc:"As it was when the change was begun"`
	Rule    held.GradingRule `json:"rule"`
}

// SetGrading stores how attendance is written for grading; it holds from now on.
func SetGrading(ctx context.Context, o *work.Office, p work.Person, key string, g Grading) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MaySetGrading, Kind: "grading rule", In: g, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		if _, err := g.Rule.Grading(); err != nil {
			return work.Wrongf("%v; nothing was saved", err)
		}
		sections, err := v.SectionsWith(g.Section)
		if err != nil {
			return err
		}
		out = tx.Receipt("Attendance for grading saved")
		for _, s := range sections {
			if s.Settings.Grading != g.Seen {
				return work.Conflictf("somebody else has changed it in between%s; nothing was saved, look at it again", v.OfSection(s.ID))
			}
			next := s.Settings
			next.Grading = g.Rule
			if err := tx.ChangeSettings(ctx, s.ID, next); err != nil {
				return err
			}
		}
		return nil
	})
	return out, err
}

// AddReason adds to the school's reasons while working, in every section. One with other codes
// ties it to those of its reason of the word that has these codes in the first.
func AddReason(ctx context.Context, o *work.Office, p work.Person, key string, r held.Reason) (work.Receipt, error) {
	var out work.Receipt
	r.Word = strings.TrimSpace(r.Word)
	if r.Word == "" {
		return out, work.Wrongf("a reason needs a word")
	}
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayAddReason, Kind: "reason", In: r, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		out = tx.Receipt(r.Word + " added")
		for _, s := range v.Sections() {
			if slices.ContainsFunc(s.Settings.Reasons, func(old held.Reason) bool { return old.Word == r.Word }) {
				return work.Conflictf("%q is there already", r.Word)
			}
			tied, err := tiedLike(v.Sections()[0], s, r)
			if err != nil {
				return err
			}
			next := s.Settings
			next.Reasons = append(slices.Clone(next.Reasons), tied)
			if err := tx.ChangeSettings(ctx, s.ID, next); err != nil {
				return err
			}
		}
		return nil
	})
	return out, err
}

// tiedLike ties a reason with the codes of the first section to those of another: to the codes
// of its reason whose like in the first has these.
func tiedLike(first, s work.Section, r held.Reason) (held.Reason, error) {
	for _, code := range []string{r.Absent, r.Late} {
		if _, ok := first.Codes.Find(code); !ok {
			return r, work.Wrongf("there is no code %q", code)
		}
	}
	if s.Codes.ID == first.Codes.ID {
		return r, nil
	}
	for _, like := range first.Settings.Reasons {
		if like.Absent != r.Absent || like.Late != r.Late {
			continue
		}
		for _, own := range s.Settings.Reasons {
			if own.Word == like.Word {
				r.Absent, r.Late = own.Absent, own.Late
				return r, nil
			}
		}
	}
	return r, work.Wrongf("%s has codes of its own, and no reason like this one: add it on the School page; nothing was saved", s.Name)
}
