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
	run    bool
	group  []int32 // nil for rolling windows
	groups int
	start  []int32
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
	return window{group: group, groups: len(number)}
}

// holds reports whether the day d takes part in the window that ends on end.
func (w *window) holds(d, end int) bool {
	switch {
	case d > end:
		return false
	case w.group != nil:
		return w.group[d] == w.group[end]
	default:
		return d >= int(w.start[end])
	}
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
	r := &m.ledger.rows[i]
	var s stretch
	m.stretch(&s, r, Span{0, asAt})
	return m.triggers(&s, r)
}

// triggers evaluates every trigger on a student's year so far.
func (m *Measure) triggers(s *stretch, r *row) []Reached {
	out := make([]Reached, len(m.policy.Triggers))
	for n := range out {
		out[n] = Reached{Trigger: &m.policy.Triggers[n], On: -1}
		if m.windows[n].run {
			m.run(&out[n], s, r)
		} else {
			m.sumWindow(&out[n], n, s, r)
		}
	}
	return out
}

// amount is what one day adds to a trigger's count.
func (m *Measure) amount(t *policy.Trigger, e *event, r *row) int {
	switch t.Count {
	case policy.CountMinutes:
		charged, _ := m.charge(&e.tally, r, e.day)
		return charged.of(t.Of)
	case policy.CountSessions:
		return e.sessions.of(t.Of)
	case policy.CountLates:
		return int(e.lates)
	}
	if v := m.verdict(&e.tally); v.absent && v.side&t.Of != 0 {
		return 1
	}
	return 0
}

// sumWindow adds up a trigger's window. A count rises on days with an event
// alone, so that no other day can be the first to reach the line.
func (m *Measure) sumWindow(out *Reached, n int, s *stretch, r *row) {
	w := &m.windows[n]
	if s.last < 0 {
		return
	}
	sum, first := 0, 0
	sums := make([]int, w.groups)
	dropBefore := func(d int) {
		for ; first < len(s.events) && s.events[first].day < d; first++ {
			sum -= m.amount(out.Trigger, &s.events[first], r)
		}
	}
	for k := range s.events {
		e := &s.events[k]
		amount := m.amount(out.Trigger, e, r)
		if w.group != nil {
			sums[w.group[e.day]] += amount
			sum = sums[w.group[e.day]]
		} else {
			sum += amount
			dropBefore(int(w.start[e.day]))
		}
		if !out.Ever && sum >= out.Trigger.Reach {
			out.Ever, out.On, out.CountThen = true, e.day, sum
		}
	}
	if w.group != nil {
		out.Now = sums[w.group[s.last]]
		return
	}
	dropBefore(int(w.start[s.last]))
	out.Now = sum
}

func (m *Measure) run(out *Reached, s *stretch, r *row) {
	c := runCounter{}
	for k := range s.events {
		e := &s.events[k]
		if e.present {
			c.reset()
		}
		m.runDay(&c, out.Trigger, e, r)
		if !out.Ever && c.high >= out.Trigger.Reach {
			out.Ever, out.On, out.CountThen = true, e.day, c.high
		}
	}
	if s.present {
		c.reset()
	}
	out.Now = c.now
}

// runDay takes a run through one day.
func (m *Measure) runDay(c *runCounter, t *policy.Trigger, e *event, r *row) {
	c.high = c.now
	switch t.Count {
	case policy.CountDays:
		if v := m.verdict(&e.tally); v.possible {
			c.unit(v.absent && v.side&t.Of != 0, 1)
		}
		return
	case policy.CountMinutes:
		if charged, full := m.charge(&e.tally, r, e.day); full {
			c.unit(charged.of(t.Of) > 0, charged.total())
			return
		}
	}
	m.runSlots(c, t, r, e.day)
}

// runCounter counts an unbroken run and remembers the day's highest count.
type runCounter struct {
	now, high int
	day       int                   // with added: the day that is counted
	added     func(day, amount int) // where not nil, told of every step; 0 begins anew
}

func (c *runCounter) unit(counts bool, n int) {
	if !counts {
		n = 0
		c.now = 0
	}
	c.now += n
	c.high = max(c.high, c.now)
	if c.added != nil {
		c.added(c.day, n)
	}
}

// reset begins anew.
func (c *runCounter) reset() { c.unit(false, 0) }

func (m *Measure) runSlots(c *runCounter, t *policy.Trigger, r *row, d int) {
	m.eachMark(r, d, func(s *countedSlot, k cell, det detail) {
		rule := m.rule(d, k)
		if rule.code.Counts == policy.Void {
			return
		}
		ofSide := rule.minute&t.Of != 0
		if t.Count == policy.CountSessions {
			c.unit(rule.absent && ofSide, 1)
			return
		}
		missed, start, end := missedOf(rule, &s.slot, det.from, det.to)
		if missed == 0 || start.After(s.slot.Start) {
			c.reset()
		}
		if missed > 0 {
			c.unit(ofSide, missed)
		}
		if missed > 0 && end.Before(s.slot.End) {
			c.reset()
		}
	})
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
// being read: by ladder, then time.
func (m *Measure) Steps(i, asAt int) []StepDue {
	r := &m.ledger.rows[i]
	var s stretch
	m.stretch(&s, r, Span{0, asAt})
	return m.steps(&s, r)
}

func (m *Measure) steps(s *stretch, r *row) []StepDue {
	if s.sum.lates == 0 {
		return nil
	}
	var out []StepDue
	for n := range m.policy.Ladders {
		out = append(out, m.ladder(&m.policy.Ladders[n], s, r)...)
	}
	return out
}

func (m *Measure) ladder(l *policy.Ladder, s *stretch, r *row) []StepDue {
	type key struct{ scope, period string }
	counts := map[key]int{}
	var out []StepDue
	for k := range s.events {
		e := &s.events[k]
		if e.lates == 0 {
			continue
		}
		period := periodOf(l, m.ledger.cal.Day(e.day))
		for _, late := range m.latesOn(r, e.day) {
			scope := scopeOf(l, late)
			counts[key{scope, period}]++
			count := counts[key{scope, period}]
			if do := stepFor(l, count); do != nil {
				out = append(out, StepDue{l, scope, period, count, e.day, late.pos, do})
			}
			if l.Per == policy.PerDay {
				break
			}
		}
	}
	return out
}

type lateMark struct {
	pos         int
	slot, class string
}

// latesOn returns the lates of a day in counted slots, in time order.
func (m *Measure) latesOn(r *row, d int) []lateMark {
	var out []lateMark
	m.eachMark(r, d, func(s *countedSlot, k cell, det detail) {
		if m.rule(d, k).code.Late {
			out = append(out, lateMark{s.pos, s.slot.Name, det.class})
		}
	})
	return out
}

func periodOf(l *policy.Ladder, d day.SchoolDay) string {
	switch l.Within {
	case policy.Term:
		return d.Term
	case policy.GradingPeriod:
		return d.GradingPeriod
	default:
		return "year"
	}
}

// SamePeriod reports whether two open days lie in one period of a ladder.
func (m *Measure) SamePeriod(l *policy.Ladder, a, b int) bool {
	cal := m.ledger.cal
	return periodOf(l, cal.Day(a)) == periodOf(l, cal.Day(b))
}

// scopeOf names what a late is counted by; a late without a class by its slot.
func scopeOf(l *policy.Ladder, late lateMark) string {
	switch {
	case l.Per == policy.PerDay:
		return "day"
	case l.Per == policy.PerSchool:
		return "school"
	case l.Per == policy.PerClass && late.class != "":
		return late.class
	default:
		return late.slot
	}
}

func stepFor(l *policy.Ladder, count int) []string {
	for _, s := range l.Steps {
		if count >= s.From && (s.To == 0 || count <= s.To) {
			return s.Do
		}
	}
	return nil
}
