// Package steps holds what a school does about what its policies say is due: done, put off, handed
// on, set aside; and the letters that it writes.
package steps

import (
	"context"
	"slices"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/policy"
	"meldung/core/steps"
	"meldung/held"
	"meldung/store"
	"meldung/work"
)

// Item is a step of one student: its cause, what was done about it, or both.
type Item struct {
	Student store.Student
	Measure *absence.Measure
	Action  held.Action
	Cause   *steps.Cause // nil where a correction took it away
	On      day.Date     // the day on which it fell due
	Early   bool         // that was before the school began to act on the policy
	Row     *store.Step  // nil while nobody has done anything
	Acts    []store.StepAct
	steps.Standing
}

// Last returns the last that was done about it; ok is false where nothing was.
func (i Item) Last() (a store.StepAct, ok bool) {
	if len(i.Acts) == 0 {
		return a, false
	}
	return i.Acts[len(i.Acts)-1], true
}

// Rule returns what the step comes from.
func (i Item) Rule() steps.Rule {
	if i.Cause != nil {
		return i.Cause.Rule
	}
	return steps.Rule{Name: i.Row.Rule, Do: i.Row.Do, Scope: i.Row.Scope, Number: i.Row.Number}
}

// Trigger returns the line that was reached; nil for a step of a ladder, or where the policy has no
// such line any more.
func (i Item) Trigger() *policy.Trigger {
	list := i.Measure.Policy().Triggers
	if n := slices.IndexFunc(list, func(t policy.Trigger) bool { return t.ID == i.Rule().Name }); n >= 0 {
		return &list[n]
	}
	return nil
}

// Followed is a policy on which a section acts, made ready for its ledger.
type Followed struct {
	Measure *absence.Measure
	From    day.Date
}

// Follows returns the policies on which a section acts on the snapshot's date, and the ids of those
// by which it no longer measures.
func Follows(s work.Section) (out []Followed, gone []string, err error) {
	for _, f := range s.Settings.Steps.Follows {
		from, err := day.ParseDate(f.From)
		if err != nil {
			return nil, nil, err
		}
		m, err := s.Measure(f.Policy)
		if err != nil {
			gone = append(gone, f.Policy)
			continue
		}
		out = append(out, Followed{m, from})
	}
	return out, gone, nil
}

// recorded are the steps about which something was done, by student and policy.
type recorded struct {
	rows map[key][]store.Step
	acts map[ids.Step][]store.StepAct
}

type key struct {
	student ids.Student
	policy  string
}

func read(rows []store.Step, acts []store.StepAct, known day.Instant) recorded {
	out := recorded{map[key][]store.Step{}, map[ids.Step][]store.StepAct{}}
	for _, a := range acts {
		if a.Stands(known) {
			out.acts[a.StepID] = append(out.acts[a.StepID], a)
		}
	}
	for _, r := range rows {
		if len(out.acts[r.ID]) > 0 {
			k := key{r.StudentID, r.Policy}
			out.rows[k] = append(out.rows[k], r)
		}
	}
	return out
}

// Of returns every step of some students of a section up to a moment, in the order of the students,
// the policies, their lines and ladders, and time.
func Of(ctx context.Context, s work.Section, m work.Moment, students []store.Student) ([]Item, error) {
	if s.Ledger == nil {
		return nil, work.NoCalendar()
	}
	first, last := s.Calendar.Span()
	var rows []store.Step
	var acts []store.StepAct
	var err error
	if len(students) == 1 {
		rows, acts, err = store.StepsOf(ctx, s.Store(), students[0].ID)
		rows = slices.DeleteFunc(rows, func(r store.Step) bool { return r.SectionID != s.ID || r.Reached < first || r.Reached > last })
	} else {
		rows, acts, err = store.StepsBetween(ctx, s.Store(), s.ID, day.Dates{From: first, To: last})
	}
	if err != nil {
		return nil, err
	}
	follows, _, err := Follows(s)
	if err != nil {
		return nil, err
	}
	rec := read(rows, acts, m.Known)
	asAt := s.Calendar.EndedBy(m.Date, m.Minute)
	var out []Item
	for _, st := range students {
		for _, f := range follows {
			out = append(out, itemsOf(s, f, st, rec, asAt, m.Date)...)
		}
	}
	return out, nil
}

func itemsOf(s work.Section, f Followed, st store.Student, rec recorded, asAt int, on day.Date) []Item {
	place := s.Place(st.ID)
	if place < 0 {
		return nil
	}
	p := f.Measure.Policy()
	rows := rec.rows[key{st.ID, p.ID}]
	records := make([]steps.Record, len(rows))
	for i, r := range rows {
		records[i] = steps.Record{Rule: steps.Rule{Name: r.Rule, Do: r.Do, Scope: r.Scope, Number: r.Number}, ID: int64(i), On: s.Calendar.UpTo(r.Reached)}
	}
	var out []Item
	for _, x := range steps.Match(steps.Causes(f.Measure, place, asAt), records) {
		item := Item{Student: st, Measure: f.Measure, Cause: x.Cause}
		if x.Record != nil {
			row := rows[x.Record.ID]
			item.Row, item.Acts, item.On = &row, rec.acts[row.ID], row.Reached
		}
		if x.Cause != nil {
			item.On = s.Calendar.Day(x.Cause.On).Date
		}
		item.Early = item.On < f.From
		var asked bool
		if item.Action, asked = ActionOf(s.Settings.Steps, p, item); !asked && item.Row == nil {
			continue
		}
		var acts []steps.Act
		for _, a := range item.Acts {
			act := steps.Act{Kind: steps.Kind(a.Kind)}
			if a.Until != nil {
				act.Until = *a.Until
			}
			if a.AccountID != nil {
				act.To = *a.AccountID
			}
			acts = append(acts, act)
		}
		item.Standing = steps.Stand(acts, on)
		if x.Cause == nil {
			item.State = steps.TakenBack
		}
		out = append(out, item)
	}
	return out
}

// ActionOf returns what a step asks for; asked is false for a line at which nothing is done.
func ActionOf(r held.StepRules, p *policy.Policy, i Item) (a held.Action, asked bool) {
	if rule := i.Rule(); rule.Do != "" {
		return r.Action(rule.Do), true
	}
	if t := i.Trigger(); t != nil {
		return r.OfLine(p.ID, t)
	}
	return held.Action{Name: i.Row.Title, Kind: "other"}, false
}

// Students returns the students of a section who are on its roll on the snapshot's date.
func Students(s work.Section) []store.Student {
	var out []store.Student
	for _, st := range s.Students {
		if st.Section == s.ID && st.EnrolledOn(s.On) {
			out = append(out, st)
		}
	}
	return out
}
