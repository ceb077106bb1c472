package absence

import (
	"cmp"
	"slices"

	"meldung/core/policy"
)

// SlotMissed is a slot on a weekday, over some days of a student: how often they were marked in it,
// how often they missed all of it, and how often of these they were on site.
type SlotMissed struct {
	Weekday int // 1 for Monday
	Slot    string
	Marked  int
	Missed  int
	OnSite  int
}

// Where takes days apart by weekday and slot, in the order of the week and of the day. A slot is
// missed where all that was due of it was. It is missed while on site where nothing excuses it and
// the student was seen there in an earlier slot of the day, and had not left since by a mark that
// says so: whoever is not in lesson 5 after lesson 4 was somewhere near. The definition is this
// project's own.
func Where(days []DayEvidence) []SlotMissed {
	type key struct {
		weekday int
		slot    string
	}
	found := map[key]*SlotMissed{}
	order := map[key]int{} // minute at which it began, of the last day that had it
	for _, d := range days {
		onSite := false
		for _, e := range d.Marks {
			k := key{d.Date.Weekday(), e.Slot.Name}
			if found[k] == nil {
				found[k] = &SlotMissed{Weekday: k.weekday, Slot: k.slot}
			}
			one := found[k]
			order[k] = e.Slot.Start.SinceMidnight()
			if e.Due > 0 {
				one.Marked++
			}
			whole := e.Due > 0 && e.Missed == e.Due
			if whole {
				one.Missed++
			}
			if attended := e.Code.Counts == policy.Attended && e.Code.OnSite; attended {
				left := !e.From.IsZero() && e.To.IsZero()
				onSite = !left
			} else if whole && onSite && e.Side == policy.SideUnexcused {
				one.OnSite++
			}
		}
	}
	var out []SlotMissed
	for _, one := range found {
		out = append(out, *one)
	}
	slices.SortFunc(out, func(a, b SlotMissed) int {
		return cmp.Or(cmp.Compare(a.Weekday, b.Weekday), cmp.Compare(order[key{a.Weekday, a.Slot}], order[key{b.Weekday, b.Slot}]), cmp.Compare(a.Slot, b.Slot))
	})
	return out
}

// MissedOnSite counts a student's slots over a span that were missed while on site, as Where tells
// them: those of some slots, by open day and position; of nil, all.
func (m *Measure) MissedOnSite(i int, span Span, of func(d, pos int) bool) int {
	r := &m.ledger.rows[i]
	var s stretch
	m.stretch(&s, r, span)
	n := 0
	for k := range s.events {
		if s.events[k].missed.unexcused == 0 {
			continue
		}
		d, onSite := s.events[k].day, false
		m.eachMark(r, d, func(slot *countedSlot, c cell, det detail) {
			rule := m.rule(d, c)
			if rule.code.Counts == policy.Attended && rule.code.OnSite {
				onSite = det.from.IsZero() || !det.to.IsZero()
				return
			}
			if rule.code.Counts == policy.Void || !onSite || rule.minute != policy.SideUnexcused {
				return
			}
			if missed, _, _ := missedOf(rule, &slot.slot, det.from, det.to); missed == slot.minutes && (of == nil || of(d, slot.pos)) {
				n++
			}
		})
	}
	return n
}

// Habit is what stands out of where a student is missing.
type Habit struct {
	Missed  int    // slots in all
	OnSite  int    // of them while on site
	Slot    string // in which at least half of them are; empty for none
	Weekday int    // on which at least half of them are; 0 for none
	Of      int    // how many of them are there
	Whole   int    // days of which every slot was missed
	Days    int    // days of which any was
	InFirst bool   // the first slot of the day was never missed
}

// fewest is from how many missed slots on a habit is looked for: of fewer, half is chance.
const fewest = 6

// HabitOf says what stands out: the slot or the weekday that has more of what was missed, the slot
// where both have as much.
func HabitOf(days []DayEvidence) Habit {
	out := Habit{InFirst: true}
	bySlot, byWeekday := map[string]int{}, map[int]int{}
	var slots []string
	for _, one := range Where(days) {
		out.Missed += one.Missed
		out.OnSite += one.OnSite
		if bySlot[one.Slot] == 0 {
			slots = append(slots, one.Slot)
		}
		bySlot[one.Slot] += one.Missed
		byWeekday[one.Weekday] += one.Missed
	}
	for _, d := range days {
		missed, marked := 0, 0
		for _, e := range d.Marks {
			if e.Due == 0 {
				continue
			}
			if e.Missed == e.Due {
				missed++
				out.InFirst = out.InFirst && marked > 0
			}
			marked++
		}
		if missed > 0 {
			out.Days++
		}
		if missed > 0 && missed == marked {
			out.Whole++
		}
	}
	if out.Missed < fewest {
		return out
	}
	for _, s := range slots {
		if n := bySlot[s]; 2*n >= out.Missed && n > out.Of {
			out.Slot, out.Of = s, n
		}
	}
	for w := 1; w <= 7; w++ {
		if n := byWeekday[w]; 2*n >= out.Missed && n > out.Of {
			out.Slot, out.Weekday, out.Of = "", w, n
		}
	}
	return out
}
