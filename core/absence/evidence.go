package absence

import (
	"slices"

	"meldung/core/day"
	"meldung/core/policy"
)

// Verdict is what a day counted as.
type Verdict string

// The verdicts of a day.
const (
	NotPossible  Verdict = "not possible"
	WasAttended  Verdict = "attended"
	WasExcused   Verdict = "excused"
	WasUnexcused Verdict = "unexcused"
)

// SlotEvidence is one mark with what it added.
type SlotEvidence struct {
	Slot   day.Slot
	Code   policy.Code
	From   day.Minute // Missing where not written
	To     day.Minute
	Due    int // minutes
	Missed int // minutes
	Side   policy.Side
}

// DayEvidence is one day of a student taken apart: its marks, its minutes and
// its verdict by the measure's policy.
type DayEvidence struct {
	Date        day.Date
	Due         int
	Missed      int
	Excused     int // of the missed minutes
	Unexcused   int
	Charged     int
	ChargedFull bool
	AbsentFrom  int // missed minutes from which the day is absent
	Unmarked    int
	Verdict     Verdict
	Marks       []SlotEvidence
}

// Days takes a student's span apart, day by day, in time order. What the days
// add up to is what Student returns for the same span.
func (m *Measure) Days(i int, span Span) []DayEvidence {
	r := &m.ledger.rows[i]
	var out []DayEvidence
	var t tally
	for d := range r.within(span) {
		m.day(&t, r, d)
		charged, full := m.charge(&t, r, d)
		e := DayEvidence{
			Date: m.ledger.cal.Day(d).Date, Due: int(t.due), Missed: t.missed.total(),
			Excused: t.missed.excused(), Unexcused: int(t.missed.unexcused),
			Charged: charged.total(), ChargedFull: full, Unmarked: int(t.unmarked),
			Verdict: m.verdict(&t).word(),
		}
		if t.due > 0 {
			e.AbsentFrom = m.absentFrom[t.due]
		}
		m.eachMark(r, d, func(s *countedSlot, k cell, det detail) {
			rule := m.rule(d, k)
			missed, _, _ := missedOf(rule, &s.slot, det.from, det.to)
			due := s.minutes
			if rule.code.Counts == policy.Void {
				due = 0
			}
			e.Marks = append(e.Marks, SlotEvidence{s.slot, rule.code, det.from, det.to, due, missed, rule.minute})
		})
		out = append(out, e)
	}
	return out
}

func (v verdict) word() Verdict {
	switch {
	case !v.possible:
		return NotPossible
	case !v.absent:
		return WasAttended
	case v.side == policy.SideUnexcused:
		return WasUnexcused
	default:
		return WasExcused
	}
}

// Bases is missed time on both bases, in minutes, whatever the policy's own is.
type Bases struct {
	Due       int // scheduled minutes with a mark
	Scheduled int // of them missed
	FullDay   int // charged on the basis full_day
	FullDays  int // days charged as full ones
	FullOf    int // minutes charged for these days
	FullSeen  int // minutes that the school saw of these days
}

// Bases adds up one student's missed time over a span on both bases. They differ
// by FullOf − FullSeen: what full days are charged beyond the own schedule.
func (m *Measure) Bases(i int, span Span) Bases {
	r := &m.ledger.rows[i]
	var s stretch
	m.stretch(&s, r, span)
	b := Bases{Due: int(s.sum.due), Scheduled: s.sum.missed.total()}
	for k := range s.events {
		e := &s.events[k]
		charged, full := m.fullDay(&e.tally, r, e.day)
		b.FullDay += charged.total()
		if full {
			b.FullDays++
			b.FullOf += charged.total()
			b.FullSeen += int(e.due)
		}
	}
	return b
}

// Reason is what was missed with one code.
type Reason struct {
	Code    policy.Code
	Minutes int // missed
	Marks   int // with anything missed
}

// Reasons adds up what the given students missed over a span by the code it was
// missed with, most minutes first, then in the order of the code sets. The minutes
// add up to those missed in all.
func (m *Measure) Reasons(students []int, span Span) []Reason {
	var all []Reason
	type name struct {
		code, word string
		counts     policy.Counts
	}
	nameOf := func(c policy.Code) name { return name{c.Code, c.Word, c.Counts} }
	place := map[name]int{}
	for _, rules := range m.rules {
		for _, rule := range rules {
			if _, known := place[nameOf(rule.code)]; !known {
				place[nameOf(rule.code)] = len(all)
				all = append(all, Reason{Code: rule.code})
			}
		}
	}
	var s stretch
	for _, i := range students {
		r := &m.ledger.rows[i]
		m.stretch(&s, r, span)
		for k := range s.events {
			d := s.events[k].day
			m.eachMark(r, d, func(slot *countedSlot, c cell, det detail) {
				rule := m.rule(d, c)
				if missed, _, _ := missedOf(rule, &slot.slot, det.from, det.to); missed > 0 {
					of := &all[place[nameOf(rule.code)]]
					of.Minutes += missed
					of.Marks++
				}
			})
		}
	}
	out := slices.DeleteFunc(all, func(r Reason) bool { return r.Marks == 0 })
	slices.SortStableFunc(out, func(a, b Reason) int { return b.Minutes - a.Minutes })
	return out
}

// SumReasons adds up what several sections missed with the same codes, most minutes first, then
// in the order in which they come.
func SumReasons(lists ...[]Reason) []Reason {
	var out []Reason
	for _, list := range lists {
		for _, r := range list {
			i := slices.IndexFunc(out, func(o Reason) bool {
				return o.Code.Code == r.Code.Code && o.Code.Word == r.Code.Word && o.Code.Counts == r.Code.Counts
			})
			if i < 0 {
				out = append(out, r)
				continue
			}
			out[i].Minutes += r.Minutes
			out[i].Marks += r.Marks
		}
	}
	slices.SortStableFunc(out, func(a, b Reason) int { return b.Minutes - a.Minutes })
	return out
}

// eachMark gives a student's marks in the counted slots of a day, in time order.
func (c *counting) eachMark(r *row, d int, yield func(s *countedSlot, k cell, det detail)) {
	l := c.ledger
	counted := c.counted[l.pattern[d]]
	for n := range counted {
		k := r.cells[l.offset[d]+int32(counted[n].pos)]
		if k.marked() && l.onSchedule(r, d, counted[n].pos) {
			yield(&counted[n], k, r.detail(k))
		}
	}
}

// Added is what one day added to a trigger's count.
type Added struct {
	Day    int // open day
	Amount int // minutes, sessions, days or lates
}

// Behind returns the days that were added up for the n-th trigger: at the day on
// which the line was first reached or, where it never was, at the open day asAt.
// Their amounts add up to CountThen or Now of Triggers.
func (m *Measure) Behind(i, n, asAt int) []Added {
	if asAt < 0 {
		return nil
	}
	r := &m.ledger.rows[i]
	var s stretch
	m.stretch(&s, r, Span{0, asAt})
	reached := m.triggers(&s, r)[n]
	end := asAt
	if reached.Ever {
		end = reached.On
	}
	return m.behind(n, &s, r, reached, end)
}

// behind returns the days that were added up for the n-th trigger at the open day end.
func (m *Measure) behind(n int, s *stretch, r *row, reached Reached, end int) []Added {
	if m.windows[n].run {
		return m.behindRun(s, r, reached, end)
	}
	var out []Added
	for k := range s.events {
		e := &s.events[k]
		if amount := m.amount(reached.Trigger, e, r); amount > 0 && m.windows[n].holds(e.day, end) {
			out = append(out, Added{e.day, amount})
		}
	}
	return out
}

// behindRun takes a run apart up to its highest count of the day end, or to its
// end where the line was never reached.
func (m *Measure) behindRun(s *stretch, r *row, reached Reached, end int) []Added {
	var out, highest []Added
	c := runCounter{}
	c.added = func(d, n int) {
		switch {
		case n == 0:
			out = nil
		case len(out) > 0 && out[len(out)-1].Day == d:
			out[len(out)-1].Amount += n
		default:
			out = append(out, Added{d, n})
		}
		if d == end && c.now == reached.CountThen {
			highest = slices.Clone(out)
		}
	}
	for k := range s.events {
		e := &s.events[k]
		if e.day > end {
			break
		}
		c.day = e.day
		if e.present {
			c.reset()
		}
		m.runDay(&c, reached.Trigger, e, r)
	}
	switch {
	case reached.Ever:
		return highest
	case s.present:
		return nil
	default:
		return out
	}
}

// MostlyMissed returns the word of the code by which most of the day was missed, of several
// the one that came to it first; empty where nothing was.
func (e DayEvidence) MostlyMissed() string {
	missed := map[string]int{}
	best := ""
	for _, k := range e.Marks {
		if k.Missed == 0 {
			continue
		}
		missed[k.Code.Word] += k.Missed
		if best == "" || missed[k.Code.Word] > missed[best] {
			best = k.Code.Word
		}
	}
	return best
}

// Absent reports whether the day counts as one of absence.
func (e DayEvidence) Absent() bool { return e.Verdict == WasExcused || e.Verdict == WasUnexcused }
