package absence

import (
	"cmp"
	"slices"

	"meldung/core/policy"
)

// Sum is what was missed out of what was possible.
type Sum struct{ Possible, Absent int }

func (s *Sum) plus(possible, absent int) { s.Possible, s.Absent = s.Possible+possible, s.Absent+absent }

// SlotSum is the time missed in a slot, in minutes.
type SlotSum struct {
	Slot  string
	Start int // minutes since midnight, of the last day that had it
	Sum
}

// Trend is when a group missed what it missed: by school week and weekday in the policy's unit, by
// slot in minutes.
type Trend struct {
	Weeks    map[int]Sum // by school week
	Weekdays [7]Sum      // Monday first
	Slots    []SlotSum   // in the order of the day
}

// Trend adds up the given students over a span by when it was. Weeks and weekdays each add up to what
// Group returns, slots to the minutes due and missed.
func (m *Measure) Trend(students []int, span Span) Trend {
	out := Trend{Weeks: map[int]Sum{}}
	bySlot := map[string]*SlotSum{}
	cal := m.ledger.cal
	var s stretch
	for _, i := range students {
		r := &m.ledger.rows[i]
		for d := range r.within(span) {
			m.stretch(&s, r, Span{d, d})
			f := m.sums(&s, r)
			week := out.Weeks[cal.Week(d)]
			week.plus(f.Possible, f.Absent)
			out.Weeks[cal.Week(d)] = week
			out.Weekdays[cal.Day(d).Date.Weekday()-1].plus(f.Possible, f.Absent)
			m.slotSums(r, d, bySlot)
		}
	}
	for _, one := range bySlot {
		out.Slots = append(out.Slots, *one)
	}
	slices.SortFunc(out.Slots, func(a, b SlotSum) int { return cmp.Or(cmp.Compare(a.Start, b.Start), cmp.Compare(a.Slot, b.Slot)) })
	return out
}

// slotSums adds the minutes of one student's day to each slot.
func (m *Measure) slotSums(r *row, d int, to map[string]*SlotSum) {
	m.eachMark(r, d, func(slot *countedSlot, k cell, det detail) {
		one := to[slot.slot.Name]
		if one == nil {
			one = &SlotSum{Slot: slot.slot.Name}
			to[slot.slot.Name] = one
		}
		one.Start = slot.slot.Start.SinceMidnight()
		rule := m.rule(d, k)
		missed, _, _ := missedOf(rule, &slot.slot, det.from, det.to)
		if due := slot.minutes; rule.code.Counts != policy.Void {
			one.plus(due, missed)
		}
	})
}
