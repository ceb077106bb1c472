// Package leavers holds what becomes of the data of those who have left the school: it is handed
// out, and erased once the time is over that the school has set.
package leavers

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
)

// setting names the rule among the settings.
const setting = "leavers"

// Rule is for how long the data of those who have left are kept.
type Rule struct {
	Years int `json:"years" minimum:"0" maximum:"80" doc:"After the last date on the roll; 0 for as long as nobody decides otherwise"`
}

// Leaver is a student who is on the roll no more and will not be.
type Leaver struct {
	Student store.Student
	Left    day.Date // the last date on the roll
	Due     day.Date // from when the data may be erased; 0 for never
}

// RuleOf returns the school's rule.
func RuleOf(ctx context.Context, v work.Snapshot) (Rule, error) {
	var r Rule
	_, err := store.Setting(ctx, v.Store(), setting, &r)
	return r, err
}

// SetRule stores for how long the data of leavers are kept. It erases nothing.
func SetRule(ctx context.Context, o *work.Office, p work.Person, key string, r Rule) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MaySetLeaversRule, Kind: "rule for leavers", In: r, Out: &out}, func(tx *work.Tx, _ work.Snapshot) error {
		out = tx.Receipt("Kept for as long as nobody decides otherwise")
		if r.Years > 0 {
			out.Text = fmt.Sprintf("To be erased %d years after leaving", r.Years)
		}
		return store.SetSetting(ctx, tx.Tx, setting, r)
	})
	return out, err
}

// Of returns those who have left and whose data are there, the first to leave first.
func Of(ctx context.Context, v work.Snapshot) ([]Leaver, error) {
	rule, err := RuleOf(ctx, v)
	if err != nil {
		return nil, err
	}
	today := v.Now.Date()
	var out []Leaver
	for _, row := range v.School.Records().Rows.Students {
		s := v.School.StudentOf(row.ID)
		if len(s.Spans) == 0 || strings.HasPrefix(s.SourcedID, store.ErasedPrefix) {
			continue
		}
		last := s.Spans[0].To
		for _, on := range s.Spans {
			last = max(last, on.To)
		}
		if last >= today {
			continue
		}
		one := Leaver{Student: s, Left: last}
		if rule.Years > 0 {
			at := last.Time().AddDate(rule.Years, 0, 0)
			one.Due = day.DateOf(at.Year(), at.Month(), at.Day())
		}
		out = append(out, one)
	}
	slices.SortStableFunc(out, func(a, b Leaver) int { return cmp.Compare(a.Left, b.Left) })
	return out, nil
}

// Erasure are the leavers whose data are to go.
type Erasure struct {
	Students []ids.Student `json:"students" minItems:"1" maxItems:"2000"`
}

// Erase forgets who some leavers were. All of them are due, or nothing is erased. Backups that were
// made before still hold their data.
func Erase(ctx context.Context, o *work.Office, p work.Person, key string, e Erasure) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayEraseLeavers, Kind: "personal data erased", In: e, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		all, err := Of(ctx, v)
		if err != nil {
			return err
		}
		today := v.Now.Date()
		for _, id := range e.Students {
			i := slices.IndexFunc(all, func(l Leaver) bool { return l.Student.ID == id })
			switch {
			case i < 0:
				return work.Conflictf("student %d is on the roll, or erased already; nothing was erased", id)
			case all[i].Due == 0:
				return work.Refusedf("the school has not decided for how long data are kept; nothing was erased")
			case all[i].Due > today:
				return work.Refusedf("the data of %s are kept until %s; nothing was erased", all[i].Student.Name(), all[i].Due-1)
			}
			if err := store.Erase(ctx, tx.Tx, id); err != nil {
				return err
			}
			out.IDs = append(out.IDs, int64(id))
		}
		ids := out.IDs
		out = tx.Receipt(fmt.Sprintf("The data of %d who have left are erased", len(e.Students)))
		out.IDs = ids
		tx.Changed()
		return nil
	})
	return out, err
}
