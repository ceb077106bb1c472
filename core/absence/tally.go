package absence

import (
	"meldung/core/day"
	"meldung/core/policy"
)

// bySide holds an amount of absence by its side.
type bySide struct{ medical, nonmedical, unexcused int32 }

func (b *bySide) add(side policy.Side, n int) {
	switch side {
	case policy.SideMedical:
		b.medical += int32(n)
	case policy.SideExcusedNonmedical:
		b.nonmedical += int32(n)
	default:
		b.unexcused += int32(n)
	}
}

func (b *bySide) plus(other bySide) {
	b.medical += other.medical
	b.nonmedical += other.nonmedical
	b.unexcused += other.unexcused
}

func (b bySide) of(sides policy.Side) int {
	n := int32(0)
	if sides&policy.SideMedical != 0 {
		n += b.medical
	}
	if sides&policy.SideExcusedNonmedical != 0 {
		n += b.nonmedical
	}
	if sides&policy.SideUnexcused != 0 {
		n += b.unexcused
	}
	return int(n)
}

func (b bySide) excused() int { return int(b.medical + b.nonmedical) }
func (b bySide) total() int   { return int(b.medical + b.nonmedical + b.unexcused) }

// tally is what the counted marks of one student's day add up to. It is the same
// for every policy that counts the same slots.
type tally struct {
	due         int32 // minutes
	missed      bySide
	sessions    bySide
	possible    int32 // sessions
	void        int32
	unmarked    int32
	unexplained int32
	lates       int32
	timed       bool // a counted mark carries times
	eventful    bool // more than plain presence: something may be missed, late or void
}

// codeRule is a code made ready for the loop.
type codeRule struct {
	code   policy.Code
	absent bool
	minute policy.Side // side of missed minutes
}

type countedSlot struct {
	pos     int
	minutes int
	slot    day.Slot
}

// counting is a choice of slots made ready for one ledger: it adds up days.
type counting struct {
	ledger  *Ledger
	rules   [][]codeRule    // by code set and code
	plain   [][256]bool     // by code set and the cell of a mark without times or class: plain presence
	counted [][]countedSlot // by pattern, in time order
	full    []int           // by pattern: minutes of its counted slots
}

func newCounting(l *Ledger, p *policy.Policy) *counting {
	c := &counting{ledger: l, plain: make([][256]bool, len(l.sets))}
	for set := range l.sets {
		c.addRules(set)
	}
	for _, pattern := range l.cal.Patterns() {
		var slots []countedSlot
		full := 0
		for pos, s := range pattern.Slots {
			if p.CountsSlot(s) {
				slots = append(slots, countedSlot{pos, s.Minutes(), s})
				full += s.Minutes()
			}
		}
		c.counted = append(c.counted, slots)
		c.full = append(c.full, full)
	}
	return c
}

// addRules makes the codes of a set ready.
func (c *counting) addRules(set int) {
	codes := c.ledger.sets[set].Codes
	rules := make([]codeRule, len(codes))
	for i, code := range codes {
		r := codeRule{code: code, absent: code.Counts.Absent(), minute: policy.SideUnexcused}
		if code.Side() == policy.Excused {
			r.minute = policy.SideExcusedNonmedical
			if code.Medical {
				r.minute = policy.SideMedical
			}
		}
		rules[i] = r
		c.plain[set][i+1] = !code.Late && (code.Counts == policy.Attended || code.Counts == policy.Activity)
	}
	c.rules = append(c.rules, rules)
}

// rule returns what a mark of the d-th open day counts as.
func (c *counting) rule(d int, k cell) *codeRule { return &c.rules[c.ledger.set[d]][k.code()] }

// missedOf returns the minutes of [slot.Start, slot.End) that a mark misses,
// with the bounds of the absence cut to the slot.
func missedOf(rule *codeRule, slot *day.Slot, from, to day.Minute) (minutes int, start, end day.Minute) {
	timed := !from.IsZero() || !to.IsZero()
	if from.IsZero() {
		from = slot.Start
	}
	if to.IsZero() {
		to = slot.End
	}
	switch {
	case rule.code.Counts == policy.Activity, rule.code.Counts == policy.Void:
		return 0, slot.End, slot.End
	case rule.code.Counts == policy.Attended && !timed:
		return 0, slot.End, slot.End
	}
	return day.Overlap(from, to, slot.Start, slot.End), day.Latest(from, slot.Start), day.Earliest(to, slot.End)
}

// day adds up one open day of one student over the counted slots.
func (c *counting) day(t *tally, r *row, d int) {
	*t = tally{}
	l := c.ledger
	p := l.pattern[d]
	cells := r.cells[l.offset[d]:l.offset[d+1]]
	due := l.dueOn(r, d)
	plain := &c.plain[l.set[d]]
	counted := c.counted[p]
	for n := range counted {
		s := &counted[n]
		if due != nil && !due[s.pos] {
			continue
		}
		k := cells[s.pos]
		switch {
		case !k.marked():
			t.unmarked++
		case k <= 0xff && plain[k]:
			t.due += int32(s.minutes)
			t.possible++
		default:
			c.mark(t, c.rule(d, k), s, r.detail(k))
		}
	}
}

// mark adds one mark that is more than plain presence.
func (c *counting) mark(t *tally, rule *codeRule, s *countedSlot, det detail) {
	t.eventful = true
	t.timed = t.timed || !det.from.IsZero() || !det.to.IsZero()
	if rule.code.Late {
		t.lates++
	}
	if rule.code.Unexplained {
		t.unexplained++
	}
	if rule.code.Counts == policy.Void {
		t.void++
		return
	}
	t.due += int32(s.minutes)
	t.possible++
	if rule.absent {
		t.sessions.add(rule.minute, 1)
	}
	if missed, _, _ := missedOf(rule, &s.slot, det.from, det.to); missed > 0 {
		t.missed.add(rule.minute, missed)
	}
}

// event is a day of more than plain presence.
type event struct {
	day int
	tally
	present bool // plain attendance lies between the event before and this one
}

// stretch is what one student's days over a span add up to: the sums, and apart
// the days that a policy has to look at.
type stretch struct {
	last         int // open day with which the span ends
	sum          tally
	possibleDays int // days with due minutes
	enrolledDays int
	events       []event
	present      bool // plain attendance lies after the last event
}

// stretch adds up one student's span. It writes over s and keeps its memory.
func (c *counting) stretch(s *stretch, r *row, span Span) {
	*s = stretch{last: span.To, events: s.events[:0]}
	for d := range r.within(span) {
		var t tally
		c.day(&t, r, d)
		s.enrolledDays++
		s.sum.due += t.due
		s.sum.possible += t.possible
		s.sum.unmarked += t.unmarked
		if t.due > 0 {
			s.possibleDays++
		}
		if !t.eventful {
			s.present = s.present || t.possible > 0
			continue
		}
		s.sum.void += t.void
		s.sum.unexplained += t.unexplained
		s.sum.lates += t.lates
		s.sum.missed.plus(t.missed)
		s.sum.sessions.plus(t.sessions)
		s.events = append(s.events, event{d, t, s.present})
		s.present = false
	}
}

// verdict is what a policy makes of a day.
type verdict struct {
	possible bool        // the day has due minutes
	absent   bool        // missed ≥ day_absent_at × due
	side     policy.Side // where absent
}

func (m *Measure) verdict(t *tally) verdict {
	v := verdict{possible: t.due > 0}
	if !v.possible {
		return v
	}
	if missed := t.missed.total(); missed >= m.absentFrom[t.due] {
		v.absent, v.side = true, sideOfDay(t.missed)
	}
	return v
}

// sideOfDay returns the side of an absent day: unexcused when at least as many
// minutes are unexcused as excused; medical when all missed minutes are.
func sideOfDay(missed bySide) policy.Side {
	switch {
	case int(missed.unexcused) >= missed.excused():
		return policy.SideUnexcused
	case int(missed.medical) == missed.total():
		return policy.SideMedical
	default:
		return policy.SideExcusedNonmedical
	}
}

// charge returns what a day is charged with on the policy's basis, and whether
// that is a full day.
func (m *Measure) charge(t *tally, r *row, d int) (bySide, bool) {
	if m.policy.Basis != policy.FullDay {
		return t.missed, false
	}
	return m.fullDay(t, r, d)
}

// fullDay returns what a day is charged with on the basis full_day: a day missed
// whole by marks without times, with none void and none missing, is charged as a
// full day of the student's shares, on one side.
func (c *counting) fullDay(t *tally, r *row, d int) (bySide, bool) {
	missed := t.missed.total()
	if missed == 0 || missed < int(t.due) || t.timed || t.void > 0 || t.unmarked > 0 {
		return t.missed, false
	}
	n := int32(max(r.shareOn(d).RoundTimes(c.full[c.ledger.pattern[d]]), missed))
	switch {
	case t.missed.unexcused > 0:
		return bySide{unexcused: n}, true
	case int(t.missed.medical) == missed:
		return bySide{medical: n}, true
	default:
		return bySide{nonmedical: n}, true
	}
}
