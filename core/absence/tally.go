package absence

import (
	"meldung/core/day"
	"meldung/core/policy"
)

// bySide holds an amount of absence by its side.
type bySide struct{ medical, nonmedical, unexcused int }

func (b *bySide) add(side policy.Side, n int) {
	switch side {
	case policy.SideMedical:
		b.medical += n
	case policy.SideExcusedNonmedical:
		b.nonmedical += n
	default:
		b.unexcused += n
	}
}

func (b bySide) of(sides policy.Side) int {
	n := 0
	if sides&policy.SideMedical != 0 {
		n += b.medical
	}
	if sides&policy.SideExcusedNonmedical != 0 {
		n += b.nonmedical
	}
	if sides&policy.SideUnexcused != 0 {
		n += b.unexcused
	}
	return n
}

func (b bySide) excused() int { return b.medical + b.nonmedical }
func (b bySide) total() int   { return b.medical + b.nonmedical + b.unexcused }

// tally is one day of one student: minutes, sessions, and the day's verdict.
type tally struct {
	due         int
	missed      bySide
	charged     bySide
	sessions    bySide
	possible    int // sessions
	void        int
	unmarked    int
	unexplained int
	lates       int
	full        bool        // charged as a full day
	dayPossible bool        // the day has due minutes
	dayAbsent   bool        // missed ≥ day_absent_at × due
	daySide     policy.Side // where absent
}

// codeRule is a code made ready for the loop.
type codeRule struct {
	code   policy.Code
	absent bool
	minute policy.Side // side of missed minutes
	plain  bool        // attended, never late or unexplained: nothing to add without times
}

func rulesOf(set *policy.CodeSet) []codeRule {
	rules := make([]codeRule, len(set.Codes))
	for i, c := range set.Codes {
		r := codeRule{code: c, absent: c.Counts.Absent(), minute: policy.SideUnexcused}
		if c.Side() == policy.Excused {
			r.minute = policy.SideExcusedNonmedical
			if c.Medical {
				r.minute = policy.SideMedical
			}
		}
		r.plain = c.Counts == policy.Attended && !c.Late
		rules[i] = r
	}
	return rules
}

// missedOf returns the minutes of [slot.Start, slot.End) that a mark misses,
// with the bounds of the absence cut to the slot (calculations, section 3).
func missedOf(rule *codeRule, slot *day.Slot, from, to day.Minute) (minutes int, start, end day.Minute) {
	timed := from != Missing || to != Missing
	if from == Missing {
		from = slot.Start
	}
	if to == Missing {
		to = slot.End
	}
	switch {
	case rule.code.Counts == policy.Activity, rule.code.Counts == policy.Void:
		return 0, slot.End, slot.End
	case rule.code.Counts == policy.Attended && !timed:
		return 0, slot.End, slot.End
	}
	return day.Overlap(from, to, slot.Start, slot.End), max(from, slot.Start), min(to, slot.End)
}

// tallyDay adds up one open day of one student over the counted slots.
func (m *Measure) tallyDay(t *tally, r *row, shares *shares, d int) {
	*t = tally{}
	l := m.ledger
	p := l.pattern[d]
	cells := r.cells[l.offset[d]:l.offset[d+1]]
	var due []bool
	if r.due != nil {
		due = r.due[p][l.cal.Day(d).Date.Weekday()-1]
	}
	timed := false
	counted := m.counted[p]
	for n := range counted {
		s := &counted[n]
		if due != nil && !due[s.pos] {
			continue
		}
		c := cells[s.pos]
		if !c.marked() {
			t.unmarked++
			continue
		}
		rule := &m.rules[c.code()]
		if rule.plain && !c.hasDetail() {
			t.due += s.minutes
			t.possible++
			continue
		}
		timed = m.tallyMark(t, rule, s, r.detail(c)) || timed
	}
	m.judge(t, shares, int(p), timed)
}

// tallyMark adds one mark and reports whether it carries times.
func (m *Measure) tallyMark(t *tally, rule *codeRule, s *countedSlot, det detail) (timed bool) {
	timed = det.from != Missing || det.to != Missing
	if rule.code.Late {
		t.lates++
	}
	if rule.code.Unexplained {
		t.unexplained++
	}
	if rule.code.Counts == policy.Void {
		t.void++
		return timed
	}
	t.due += s.minutes
	t.possible++
	if rule.absent {
		t.sessions.add(rule.minute, 1)
	}
	if missed, _, _ := missedOf(rule, &s.slot, det.from, det.to); missed > 0 {
		t.missed.add(rule.minute, missed)
	}
	return timed
}

// judge gives the day's verdict and its charge.
func (m *Measure) judge(t *tally, shares *shares, pattern int, timed bool) {
	missed := t.missed.total()
	t.charged = t.missed
	if t.due == 0 {
		return
	}
	t.dayPossible = true
	t.dayAbsent = missed >= m.absentFrom[t.due]
	if t.dayAbsent {
		t.daySide = sideOfDay(t.missed)
	}
	if m.policy.Basis == policy.FullDay && missed == t.due && !timed && t.void == 0 && t.unmarked == 0 {
		t.full = true
		charge := max(shares.charge(m, pattern), missed)
		t.charged = bySide{}
		switch {
		case t.missed.unexcused > 0:
			t.charged.unexcused = charge
		case t.missed.medical == missed:
			t.charged.medical = charge
		default:
			t.charged.nonmedical = charge
		}
	}
}

// sideOfDay returns the side of an absent day: unexcused when at least as many
// minutes are unexcused as excused; medical when all missed minutes are.
func sideOfDay(missed bySide) policy.Side {
	switch {
	case missed.unexcused >= missed.excused():
		return policy.SideUnexcused
	case missed.medical == missed.total():
		return policy.SideMedical
	default:
		return policy.SideExcusedNonmedical
	}
}

// shares works out a student's charge for a full day, once for each pattern.
type shares struct {
	total     policy.Fraction
	whole     bool
	byPattern []int
}

func sharesOf(s Student) *shares {
	total := s.ShareHere.Add(s.ShareElsewhere)
	return &shares{total: total, whole: total.Cmp(1, 1) == 0}
}

func (s *shares) charge(m *Measure, pattern int) int {
	if s.whole {
		return m.full[pattern]
	}
	if s.byPattern == nil {
		s.byPattern = make([]int, len(m.full))
		for i, full := range m.full {
			s.byPattern[i] = s.total.RoundTimes(full)
		}
	}
	return s.byPattern[pattern]
}
