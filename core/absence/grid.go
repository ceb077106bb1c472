package absence

import "meldung/core/policy"

// Cell is what a grid shows of one student on a day, or in one slot of it.
type Cell struct {
	Code     *policy.Code // by which most was missed, or that of a late; nil for plain attendance and where there is nothing
	Possible bool         // something was due and marked
	Share    int          // of the due minutes missed, in per cent, rounded down; 100 only for all of them
	Absent   int          // in the policy's unit
	Unmarked bool         // something was due and has no mark
}

// DayCells returns a student's cells day by day over a span. What they count as absent adds up to
// what Student returns for the span.
func (m *Measure) DayCells(i int, span Span) []Cell {
	r := &m.ledger.rows[i]
	out := make([]Cell, max(0, span.To-span.From+1))
	var s stretch
	for d := range r.within(span) {
		m.stretch(&s, r, Span{d, d})
		c := &out[d-span.From]
		c.Possible, c.Unmarked = s.sum.due > 0, s.sum.unmarked > 0
		c.Absent = m.sums(&s, r).Absent
		if len(s.events) == 0 {
			continue
		}
		c.Code = m.mostly(r, d)
		if s.sum.due > 0 {
			c.Share = s.sum.missed.total() * 100 / int(s.sum.due)
		}
	}
	return out
}

// mostly returns the code by which most of a day was missed; of a day of which nothing was, that of
// a late, or else of what made the day void.
func (m *Measure) mostly(r *row, d int) *policy.Code {
	missed := map[*codeRule]int{}
	var best, other *codeRule
	m.eachMark(r, d, func(s *countedSlot, k cell, det detail) {
		rule := m.rule(d, k)
		n, _, _ := missedOf(rule, &s.slot, det.from, det.to)
		switch {
		case rule.code.Counts != policy.Void && n > 0:
			missed[rule] += n
			if best == nil || missed[rule] > missed[best] {
				best = rule
			}
		case other == nil && (rule.code.Late || rule.code.Counts == policy.Void):
			other = rule
		}
	})
	if best == nil {
		best = other
	}
	if best == nil {
		return nil
	}
	return &best.code
}

// SlotCells returns a student's cells in the counted slots of an open day, in time order; those in
// which the student is not due have nothing in them.
func (m *Measure) SlotCells(i, d int) []Cell {
	r := &m.ledger.rows[i]
	counted := m.counted[m.ledger.pattern[d]]
	out := make([]Cell, len(counted))
	if !m.ledger.Enrolled(i, d) {
		return out
	}
	for n := range counted {
		s := &counted[n]
		if !m.ledger.onSchedule(r, d, s.pos) {
			continue
		}
		k := r.cells[m.ledger.offset[d]+int32(s.pos)]
		if !k.marked() {
			out[n].Unmarked = true
			continue
		}
		rule, det := m.rule(d, k), r.detail(k)
		c := &out[n]
		c.Code, c.Possible = &rule.code, rule.code.Counts != policy.Void
		if c.Possible {
			missed, _, _ := missedOf(rule, &s.slot, det.from, det.to)
			c.Share = missed * 100 / s.minutes
			if rule.absent {
				c.Absent = 1
			}
		}
	}
	return out
}

// CountedSlots returns the slots of an open day that the policy counts, in time order.
func (m *Measure) CountedSlots(d int) []string {
	var out []string
	for _, s := range m.counted[m.ledger.pattern[d]] {
		out = append(out, s.slot.Name)
	}
	return out
}

// CodeCounts counts a student's marks in counted slots by code, over a span.
func (m *Measure) CodeCounts(i int, span Span) map[string]int {
	r := &m.ledger.rows[i]
	out := map[string]int{}
	for d := range r.within(span) {
		m.eachMark(r, d, func(_ *countedSlot, k cell, _ detail) { out[m.rule(d, k).code.Code]++ })
	}
	return out
}

// Lessons counts a student's marks: how the lessons of a class went.
type Lessons struct {
	Marked    int // exempt ones included
	Excused   int // absent with a reason that counts
	Unexcused int // absent with a known reason that does not, or none
	Unknown   int // absent, and nobody has said why yet
	Exempt    int // void: nothing was required
	Lates     int
}

// Absent returns all lessons missed.
func (l Lessons) Absent() int { return l.Excused + l.Unexcused + l.Unknown }

// Plus adds up two counts.
func (l Lessons) Plus(o Lessons) Lessons {
	return Lessons{l.Marked + o.Marked, l.Excused + o.Excused, l.Unexcused + o.Unexcused, l.Unknown + o.Unknown, l.Exempt + o.Exempt, l.Lates + o.Lates}
}

// Lessons counts a student's marks in counted slots over a span by what they are.
func (m *Measure) Lessons(i int, span Span) Lessons {
	r := &m.ledger.rows[i]
	var out Lessons
	for d := range r.within(span) {
		m.eachMark(r, d, func(_ *countedSlot, k cell, _ detail) {
			code := &m.rule(d, k).code
			out.Marked++
			switch {
			case code.Unexplained:
				out.Unknown++
			case code.Counts == policy.Excused:
				out.Excused++
			case code.Counts == policy.Unexcused:
				out.Unexcused++
			case code.Counts == policy.Void:
				out.Exempt++
			}
			if code.Late {
				out.Lates++
			}
		})
	}
	return out
}
