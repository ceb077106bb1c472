package absence

import (
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
	for d := max(span.From, r.lo); d <= min(span.To, r.hi); d++ {
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
		for _, s := range m.counted[m.ledger.pattern[d]] {
			mark, ok := m.ledger.Mark(i, d, s.pos)
			if !ok || !m.ledger.onSchedule(r, d, s.pos) {
				continue
			}
			rule := &m.rules[mark.Code]
			missed, _, _ := missedOf(rule, &s.slot, mark.From, mark.To)
			due := s.minutes
			if rule.code.Counts == policy.Void {
				due = 0
			}
			e.Marks = append(e.Marks, SlotEvidence{s.slot, rule.code, mark.From, mark.To, due, missed, rule.minute})
		}
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
