package plans

import (
	"context"
	"errors"
	"fmt"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/policy"
	"meldung/held"
	"meldung/store"
	"meldung/work"
)

// Change works out, from the school as it is, what files make of it.
type Change interface {
	// Plan says what would change, and returns the school's rows as they would be.
	Plan(ctx context.Context, v work.Snapshot, lastSent day.Date, sent bool) (Plan, store.School, error)
	// Write stores what would change.
	Write(ctx context.Context, tx *work.Tx, v work.Snapshot, next store.School) error
}

// errNothing ends a write in which there is nothing to do.
var errNothing = errors.New("nothing to change")

// Run looks at a change or, where it is to be applied and nothing is wrong, applies it: what
// is stored is worked out within the write, from the school as it then is.
func Run(ctx context.Context, o *work.Office, job work.Job, opt Options, c Change) (Plan, error) {
	var plan Plan
	look := func(v work.Snapshot) (next store.School, err error) {
		lastSent, sent, err := store.LastRegister(ctx, v.Store())
		if err != nil {
			return next, err
		}
		if plan, next, err = c.Plan(ctx, v, lastSent, sent); err != nil || len(plan.Problems) > 0 || plan.Changes() == 0 {
			return next, err
		}
		records, err := v.School.Records().With(next)
		if err != nil {
			return next, work.Wrongf("%v; nothing was changed", err)
		}
		if plan.Past {
			plan.Figures, err = compare(ctx, v, records)
		}
		plan.Stamp = plan.stamp()
		return next, err
	}
	job.Out = &plan
	if !opt.Apply {
		err := o.Look(ctx, job, func(v work.Snapshot) error {
			_, err := look(v)
			return err
		})
		return plan, err
	}
	if opt.CorrectPast {
		job.Kind = "correct the past: " + job.Kind
	}
	err := o.Write(ctx, job, func(tx *work.Tx, v work.Snapshot) error {
		next, err := look(v)
		if err != nil {
			return err
		}
		if len(plan.Problems) > 0 || plan.Changes() == 0 {
			return errNothing
		}
		if opt.Seen != "" && opt.Seen != plan.Stamp {
			return work.Conflictf("what it would change is not what you looked at: somebody else has changed it meanwhile. Nothing was changed; look again")
		}
		plan.Applied = true
		tx.Changed()
		return c.Write(ctx, tx, v, next)
	})
	if errors.Is(err, errNothing) {
		plan.Applied = len(plan.Problems) == 0
		return plan, nil
	}
	return plan, err
}

// compare says which figures would be others by next: for every school year that has begun,
// how many students' change under each policy, and the marks that would enter no figure.
func compare(ctx context.Context, v work.Snapshot, next *held.Records) ([]string, error) {
	out := []string{}
	for _, s := range next.Sections() {
		was, err := v.SectionWith(s.ID)
		if err != nil {
			continue // it is new, and has no past
		}
		lines, err := compareSection(ctx, was, s, next)
		if err != nil {
			return nil, err
		}
		out = append(out, lines...)
	}
	if len(out) == 0 {
		out = append(out, "No figure changes.")
	}
	return out, nil
}

// compareSection is compare for one section.
func compareSection(ctx context.Context, v work.Section, s *held.SectionRecords, next *held.Records) ([]string, error) {
	var out []string
	for _, y := range s.Years() {
		first, last := y.Calendar.Span()
		if first > v.Now.Date() {
			continue
		}
		was, err := v.At(ctx, first)
		if err != nil {
			return nil, err
		}
		if was.Ledger == nil {
			continue
		}
		filled, err := next.On(first).Section(s.ID).Ledger(ctx, v.Store())
		if err != nil {
			return nil, err
		}
		year := fmt.Sprintf("%d/%02d", first.Time().Year(), last.Time().Year()%100)
		if len(next.Sections()) > 1 {
			year = s.Name + ", " + year
		}
		panel, err := was.Panel()
		if err != nil {
			return nil, err
		}
		asAt := min(last, v.Now.Date())
		for _, m := range panel.Measures() {
			if line := difference(m, absence.NewMeasure(filled.Ledger, m.Policy()), asAt); line != "" {
				out = append(out, year+", "+m.Policy().Title+": "+line)
			}
		}
		if lost := filled.Lost; len(lost) > len(was.Misplaced()) {
			out = append(out, fmt.Sprintf("%s: %s more would enter no figure, the first of %s in %s: %s", year, work.Count(len(lost)-len(was.Misplaced()), "mark"), lost[0].Date.Spoken(), lost[0].Slot, lost[0].Why))
		}
	}
	return out, nil
}

// difference says how the figures of a school year, up to a date, differ between two ledgers;
// empty where they are the same.
func difference(was, next *absence.Measure, asAt day.Date) string {
	students := 0
	before, after := everyone(was, asAt), everyone(next, asAt)
	for id, f := range after.of {
		if g, known := before.of[id]; !known || f != g {
			students++
		}
	}
	for id := range before.of {
		if _, known := after.of[id]; !known {
			students++
		}
	}
	if students == 0 {
		return ""
	}
	school := "the school's rate goes from " + rate(before.Group) + " to " + rate(after.Group)
	if before.Rate() == after.Rate() {
		school = "the school's rate stays at " + before.Rate() + " %"
	}
	return fmt.Sprintf("the figures of %s change; %s", work.Count(students, "student"), school)
}

func rate(g absence.Group) string {
	if g.Possible == 0 {
		return "–"
	}
	return fmt.Sprintf("%s %% (%d of %d)", g.Rate(), g.Absent, g.Possible)
}

type figures struct {
	absence.Group
	of map[string]absence.Figures
}

// everyone measures all students of a ledger up to a date, in the policy's own unit; what is
// still to come is left out.
func everyone(m *absence.Measure, asAt day.Date) figures {
	l := m.Ledger()
	out := figures{of: map[string]absence.Figures{}}
	var all []int
	for i := range l.Len() {
		all = append(all, i)
		f := m.Student(i, l.YearTo(asAt))
		f.Headroom, f.ToCome = absence.Room{}, 0
		if m.Policy().Unit != policy.Minutes {
			f.DueMinutes, f.MissedMinutes, f.ChargedMinutes = 0, 0, 0
		}
		out.of[l.Student(i).ID] = f
	}
	out.Group = m.Group(all, l.YearTo(asAt))
	return out
}
