// Package steps tells what a policy says is due about a student, each once: which causes were
// dealt with, which still wait, and what was dealt with whose cause is gone. It must not know of
// databases, pages or clocks.
package steps

import (
	"cmp"
	"slices"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/ids"
)

// Rule names what a step comes from: a trigger of a policy, or an action of a ladder at the late
// of a number in a scope.
type Rule struct {
	Name   string // the id of the trigger or the ladder
	Do     string // the action that a ladder names; empty for a trigger
	Scope  string // of a ladder: the class, the slot, "day" or "school"
	Number int    // of a ladder: the late's
}

// Cause is why a step is due. Days are open days by their places in the calendar.
type Cause struct {
	Rule
	On    int                // the day on which it came about
	From  int                // the first day that can have added to it
	Until int                // the last day on which it can be told from the next one of its rule
	Same  func(day int) bool // whether a day lies in the instance of its window or period, in which there is one; nil where there is no such instance

	Trigger  int              // the place of its trigger in the policy; −1 for a ladder
	Occasion absence.Occasion // of the trigger
	Late     absence.StepDue  // of the ladder
}

// holds reports whether what was recorded of a day belongs to the cause.
func (c Cause) holds(d int) bool {
	if c.Same != nil {
		return c.Same(d)
	}
	return c.On <= d && d <= c.Until
}

// Causes returns all that a policy says is due about one student of its ledger, nothing after the
// open day asAt being read: by trigger, then by ladder, each in time order. A late that makes
// several actions due is a cause for each.
func Causes(m *absence.Measure, student, asAt int) []Cause {
	var out []Cause
	for n, t := range m.Policy().Triggers {
		for _, o := range m.Occasions(student, n, asAt) {
			c := Cause{Rule: Rule{Name: t.ID}, On: o.On, From: o.From, Until: o.Until, Trigger: n, Occasion: o}
			if m.SameInstance(n, o.On, o.On) {
				c.Same = func(d int) bool { return m.SameInstance(n, o.On, d) }
			}
			out = append(out, c)
		}
	}
	for _, s := range m.Steps(student, asAt) {
		for _, do := range s.Do {
			out = append(out, Cause{Rule: Rule{s.Ladder.ID, do, s.Scope, s.Count}, On: s.Day, From: s.Day, Until: s.Day, Trigger: -1, Late: s,
				Same: func(d int) bool { return m.SamePeriod(s.Ladder, s.Day, d) }})
		}
	}
	return out
}

// Record is a step about which something was done, with the day on which it then was due.
type Record struct {
	Rule
	ID int64
	On int
}

// Step is a cause, what was done about it, or both. Without a record nobody has done anything;
// without a cause a correction took it away.
type Step struct {
	Cause  *Cause
	Record *Record
}

// Match says which record is of which cause. A record belongs to the cause of its rule in whose
// instance its day lies, or during which the count stood at the line. A correction moves causes: a
// record that none holds is of the earliest cause without one that its day can have added to. So
// a step is due once, in whichever order marks are put right. Causes come in their order, then
// records without a cause, the oldest first.
func Match(causes []Cause, records []Record) []Step {
	records = slices.Clone(records)
	slices.SortStableFunc(records, func(a, b Record) int { return cmp.Or(cmp.Compare(a.On, b.On), cmp.Compare(a.ID, b.ID)) })
	of := make([]*Record, len(causes))
	taken := make([]bool, len(records))
	assign := func(fits func(c Cause, d int) bool) {
		for n := range records {
			if taken[n] {
				continue
			}
			for i := range causes {
				if of[i] == nil && causes[i].Rule == records[n].Rule && fits(causes[i], records[n].On) {
					of[i], taken[n] = &records[n], true
					break
				}
			}
		}
	}
	assign(Cause.holds)
	assign(func(c Cause, d int) bool { return c.Same == nil && c.From <= d && d < c.On })
	var out []Step
	for i := range causes {
		out = append(out, Step{&causes[i], of[i]})
	}
	for n := range records {
		if !taken[n] {
			out = append(out, Step{Record: &records[n]})
		}
	}
	return out
}

// Kind is what somebody did about a step.
type Kind string

// What can be done about a step.
const (
	Done     Kind = "done"
	PutOff   Kind = "put off"
	Handed   Kind = "handed"
	SetAside Kind = "set aside"
	Reopened Kind = "reopened"
	Noted    Kind = "noted" // that it was taken back: it leaves the list, and stands as before should its cause come back
)

// Act is one thing that was done about a step.
type Act struct {
	Kind  Kind
	Until day.Date    // where put off: the date on which it is due again
	To    ids.Account // where handed: to whom
}

// State is how a step stands.
type State string

// The states of a step.
const (
	Due       State = "due"
	Waiting   State = "waiting" // put off to a later date
	Finished  State = "done"
	Left      State = "set aside"
	TakenBack State = "taken back"
)

// Standing is how a step stands on a date, by what was done about it.
type Standing struct {
	State State
	Until day.Date    // where it waits
	Owner ids.Account // whom it was last handed to; 0 for nobody
}

// Stand returns how a step stands on a date after some acts, in their order.
func Stand(acts []Act, on day.Date) Standing {
	out := Standing{State: Due}
	for _, a := range acts {
		switch a.Kind {
		case Done:
			out.State, out.Until = Finished, 0
		case SetAside:
			out.State, out.Until = Left, 0
		case Reopened:
			out.State, out.Until = Due, 0
		case PutOff:
			out.State, out.Until = Waiting, a.Until
		case Handed:
			out.State, out.Until, out.Owner = Due, 0, a.To
		}
	}
	if out.State == Waiting && out.Until <= on {
		out.State, out.Until = Due, 0
	}
	return out
}
