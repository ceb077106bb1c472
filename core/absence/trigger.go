package absence

import (
	"fmt"
	"sort"

	"meldung/core/day"
	"meldung/core/policy"
)

// window tells, for each open day, over which earlier days a count runs: by a
// group that the day belongs to, or from a first day on.
type window struct {
	run   bool
	group []int32 // nil for rolling windows
	start []int32
}

func windowOf(cal *day.Calendar, w policy.Window) window {
	n := cal.Days()
	if w.Kind == policy.Run {
		return window{run: true}
	}
	if w.Kind == policy.RollingDays || w.Kind == policy.RollingWeeks {
		start := make([]int32, n)
		for i := range n {
			switch w.Kind {
			case policy.RollingDays:
				start[i] = int32(max(0, i-w.N+1))
			default:
				start[i] = int32(sort.Search(n, func(j int) bool { return cal.Week(j) >= cal.Week(i)-w.N+1 }))
			}
		}
		return window{start: start}
	}
	group := make([]int32, n)
	number := map[string]int32{}
	for i := range n {
		d := cal.Day(i)
		name := ""
		switch w.Kind {
		case policy.Term:
			name = d.Term
		case policy.GradingPeriod:
			name = d.GradingPeriod
		case policy.Month:
			name = d.Date.String()[:7]
		case policy.FourWeeks:
			name = fmt.Sprint(cal.Week(i) / 4)
		}
		if _, ok := number[name]; !ok {
			number[name] = int32(len(number))
		}
		group[i] = number[name]
	}
	return window{group: group}
}

// Reached is the result of one trigger for one student.
type Reached struct {
	Trigger   *policy.Trigger
	Now       int  // the count in the window that ends "as at"
	Ever      bool // whether the count reached the line this year
	On        int  // the first open day on which it did
	CountThen int  // the count On
}

// Triggers evaluates every trigger of the policy for one student, reading
// nothing after the d-th open day; d is −1 before the first.
func (m *Measure) Triggers(i, asAt int) []Reached {
	out := make([]Reached, len(m.policy.Triggers))
	for n := range out {
		out[n] = Reached{Trigger: &m.policy.Triggers[n], On: -1}
	}
	if asAt < 0 || len(out) == 0 {
		return out
	}
	r := &m.ledger.rows[i]
	tallies := m.tallies(r, asAt)
	for n := range out {
		if m.windows[n].run {
			m.run(&out[n], r, tallies)
		} else {
			sumWindow(&out[n], m.windows[n], tallies)
		}
	}
	return out
}

// tallies returns the student's days from the first open day to asAt.
func (m *Measure) tallies(r *row, asAt int) []tally {
	out := make([]tally, asAt+1)
	sh := sharesOf(r.student)
	for d := max(0, r.lo); d <= min(asAt, r.hi); d++ {
		m.tallyDay(&out[d], r, sh, d)
	}
	return out
}

// amount is what one day adds to a trigger's count.
func amount(t *policy.Trigger, day *tally) int {
	switch t.Count {
	case policy.CountMinutes:
		return day.charged.of(t.Of)
	case policy.CountSessions:
		return day.sessions.of(t.Of)
	case policy.CountDays:
		if day.dayAbsent && day.daySide&t.Of != 0 {
			return 1
		}
		return 0
	default:
		return day.lates
	}
}

// eachWindow gives the count of the window that ends on each day.
func eachWindow(t *policy.Trigger, w window, tallies []tally, yield func(d, sum int)) {
	groups := map[int32]int{}
	sum, first := 0, 0
	for d := range tallies {
		n := amount(t, &tallies[d])
		if w.group != nil {
			groups[w.group[d]] += n
			sum = groups[w.group[d]]
		} else {
			sum += n
			for ; first < int(w.start[d]); first++ {
				sum -= amount(t, &tallies[first])
			}
		}
		yield(d, sum)
	}
}

func sumWindow(out *Reached, w window, tallies []tally) {
	eachWindow(out.Trigger, w, tallies, func(d, sum int) {
		if !out.Ever && sum >= out.Trigger.Reach {
			out.Ever, out.On, out.CountThen = true, d, sum
		}
		out.Now = sum
	})
}

func (m *Measure) run(out *Reached, r *row, tallies []tally) {
	c := runCounter{reach: out.Trigger.Reach}
	for d := range tallies {
		t := &tallies[d]
		if d < r.lo || d > r.hi {
			continue
		}
		c.high = c.now
		switch out.Trigger.Count {
		case policy.CountDays:
			if t.dayPossible {
				c.unit(t.dayAbsent && t.daySide&out.Trigger.Of != 0, 1)
			}
		case policy.CountMinutes:
			if t.full {
				c.unit(t.charged.of(out.Trigger.Of) > 0, t.charged.total())
			} else {
				m.runSlots(&c, out.Trigger, r, d)
			}
		default:
			m.runSlots(&c, out.Trigger, r, d)
		}
		if !out.Ever && c.high >= c.reach {
			out.Ever, out.On, out.CountThen = true, d, c.high
		}
	}
	out.Now = c.now
}

// runCounter counts an unbroken run and remembers the day's highest count.
type runCounter struct{ now, high, reach int }

func (c *runCounter) unit(counts bool, n int) {
	if !counts {
		c.now = 0
		return
	}
	c.now += n
	c.high = max(c.high, c.now)
}

func (m *Measure) runSlots(c *runCounter, t *policy.Trigger, r *row, d int) {
	for _, s := range m.counted[m.ledger.pattern[d]] {
		at := m.ledger.offset[d] + int32(s.pos)
		if !r.cells[at].marked() || !m.ledger.onSchedule(r, d, s.pos) {
			continue
		}
		rule := &m.rules[r.cells[at].code()]
		if rule.code.Counts == policy.Void {
			continue
		}
		ofSide := rule.minute&t.Of != 0
		if t.Count == policy.CountSessions {
			c.unit(rule.absent && ofSide, 1)
			continue
		}
		det := r.detail(r.cells[at])
		missed, start, end := missedOf(rule, &s.slot, det.from, det.to)
		if missed == 0 || start > s.slot.Start {
			c.now = 0
		}
		if missed > 0 {
			c.unit(ofSide, missed)
		}
		if missed > 0 && end < s.slot.End {
			c.now = 0
		}
	}
}

// StepDue is one late that lies in a step of a ladder.
type StepDue struct {
	Ladder *policy.Ladder
	Scope  string // the class, the slot, "day" or "school"
	Period string // the grading period, the term, or "year"
	Count  int
	Day    int // open day of that late
	Pos    int // slot of that late
	Do     []string
}

// Steps returns the steps due for one student, nothing after the d-th open day
// being read: by ladder, then time, then scope.
func (m *Measure) Steps(i, asAt int) []StepDue {
	r := &m.ledger.rows[i]
	var out []StepDue
	for n := range m.policy.Ladders {
		out = append(out, m.ladder(&m.policy.Ladders[n], r, asAt)...)
	}
	return out
}

func (m *Measure) ladder(l *policy.Ladder, r *row, asAt int) []StepDue {
	type key struct{ scope, period string }
	counts := map[key]int{}
	var out []StepDue
	for d := max(0, r.lo); d <= min(asAt, r.hi); d++ {
		sd := m.ledger.cal.Day(d)
		period := "year"
		switch l.Within {
		case policy.Term:
			period = sd.Term
		case policy.GradingPeriod:
			period = sd.GradingPeriod
		}
		for _, s := range m.counted[m.ledger.pattern[d]] {
			at := m.ledger.offset[d] + int32(s.pos)
			if !r.cells[at].marked() || !m.rules[r.cells[at].code()].code.Late || !m.ledger.onSchedule(r, d, s.pos) {
				continue
			}
			scope := s.slot.Name
			switch l.Per {
			case policy.PerDay:
				scope = "day"
			case policy.PerSchool:
				scope = "school"
			case policy.PerClass:
				if class := r.detail(r.cells[at]).class; class != "" {
					scope = class
				}
			}
			k := key{scope, period}
			counts[k]++
			if do := stepFor(l, counts[k]); do != nil {
				out = append(out, StepDue{l, scope, period, counts[k], d, s.pos, do})
			}
			if l.Per == policy.PerDay {
				break
			}
		}
	}
	return out
}

func stepFor(l *policy.Ladder, count int) []string {
	for _, s := range l.Steps {
		if count >= s.From && (s.To == 0 || count <= s.To) {
			return s.Do
		}
	}
	return nil
}
