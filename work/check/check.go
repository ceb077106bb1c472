// Package check looks for damage: in the file, in what is kept in memory, and for marks that
// enter no figure. It writes nothing.
package check

import (
	"context"
	"fmt"

	"golang.org/x/sync/errgroup"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/held"
	"meldung/held/dated"
	"meldung/store"
	"meldung/work"
)

// mostMisplaced is how many marks without a place Check tells one by one.
const mostMisplaced = 50

// Check looks for damage in the store, compares what is kept in memory with a fresh
// computation, and looks for marks that enter no figure, in every school year. It returns
// what is wrong, a line each. With whole, every entry of every index of the file is compared.
func Check(ctx context.Context, o *work.Office, whole bool) (wrong []string, err error) {
	var file []string
	both, within := errgroup.WithContext(ctx)
	both.Go(func() (err error) {
		file, err = o.Store().Check(within, whole)
		return err
	})
	both.Go(func() (err error) {
		wrong, err = memory(within, o)
		return err
	})
	err = both.Wait()
	return append(file, wrong...), err
}

// memory looks at what is kept in memory, and for marks that enter no figure.
func memory(ctx context.Context, o *work.Office) (wrong []string, err error) {
	err = o.Still(ctx, func(v work.Snapshot) error {
		var lost []held.Misplaced
		for _, s := range v.Sections() {
			differing, without, err := section(ctx, s)
			if err != nil {
				return err
			}
			wrong, lost = append(wrong, differing...), append(lost, without...)
		}
		for _, x := range v.KeptDays() {
			fresh, err := dated.Read(ctx, v.Store(), v.School.Records().On(x.Date), x.Date)
			if err != nil {
				return err
			}
			if part := x.Differs(fresh); part != "" {
				wrong = append(wrong, fmt.Sprintf("day: the %s of %s in memory differ from the file", part, x.Date))
			}
		}
		wrong = append(wrong, misplacedLines(v.School.Records(), lost)...)
		return nil
	})
	return wrong, err
}

// section compares each school year's ledger of a section with a fresh one, and returns the marks
// of its students that enter no figure.
func section(ctx context.Context, s work.Section) (wrong []string, lost []held.Misplaced, err error) {
	next := day.NoStart
	outside := func(to day.Date) error {
		return store.EachSlot(ctx, s.Store(), day.Dates{From: next, To: to}, func(of store.SlotMarks) error {
			for _, m := range of.Marks {
				if s.Has(m.StudentID, m.Date) {
					lost = append(lost, held.Misplaced{LedgerMark: m, Why: "that date lies in no school year"})
				}
			}
			return nil
		})
	}
	for _, y := range s.Years() {
		first, last := y.Calendar.Span()
		if err := outside(first - 1); err != nil {
			return nil, nil, err
		}
		fresh, err := s.School.Records().On(first).Section(s.ID).Ledger(ctx, s.Store())
		if err != nil {
			return nil, nil, err
		}
		lost = append(lost, fresh.Lost...)
		wrong = append(wrong, differences(s.Kept(y), fresh.Ledger)...)
		next = last + 1
	}
	return wrong, lost, outside(day.NoEnd)
}

// differences compares a year's ledger in memory, nil where there is none, with a fresh one.
func differences(kept, fresh *absence.Ledger) []string {
	var wrong []string
	if kept == nil {
		return nil
	}
	for i := range fresh.Len() {
		differ := 0
		for d := range fresh.Calendar().Days() {
			for pos := range fresh.Calendar().Day(d).Pattern.Slots {
				a, okA := kept.Mark(i, d, pos)
				b, okB := fresh.Mark(i, d, pos)
				if a != b || okA != okB {
					differ++
				}
			}
		}
		if differ > 0 {
			wrong = append(wrong, fmt.Sprintf("ledger: %d marks of student %s differ from the file", differ, fresh.Student(i).ID))
		}
	}
	return wrong
}

// misplacedLines tells the marks that enter no figure, a line each, and how many more.
func misplacedLines(r *held.Records, lost []held.Misplaced) []string {
	var out []string
	for _, m := range lost[:min(len(lost), mostMisplaced)] {
		s := r.On(m.Date).StudentOf(m.StudentID)
		out = append(out, fmt.Sprintf("mark: %s (%s) on %s in %s, %s, enters no figure: %s", s.Name(), s.Number, m.Date, m.Slot, m.Code, m.Why))
	}
	if more := len(lost) - mostMisplaced; more > 0 {
		out = append(out, fmt.Sprintf("mark: %d more enter no figure", more))
	}
	return out
}
