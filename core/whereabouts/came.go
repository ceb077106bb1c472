package whereabouts

import "meldung/core/day"

// first is the day's first evidence of a student being in.
type first struct {
	at   day.Minute
	seen day.Minute // the minute of the evidence itself
	door bool       // an arrival, or a late mark: it says when the student came
	slot day.Slot   // of a mark of presence
}

// firstIn returns the day's first evidence of being in. A late mark is evidence for the time
// that it says; one of presence for the minute in which it was made, or for its slot's end
// where it was made afterwards.
func firstIn(marks []*Mark, events []event, t day.Minute) (first, bool) {
	var found first
	ok := false
	take := func(f first) {
		if !ok || f.at.Before(found.at) || (f.at == found.at && f.door && !found.door) {
			found, ok = f, true
		}
	}
	for _, ev := range events {
		if ev.move != nil && ev.place == onSite && !ev.at.After(t) {
			take(first{at: ev.at, seen: ev.at, door: ev.move.Kind == Arrived})
		}
	}
	for _, m := range marks {
		switch {
		case !isPresence(m):
		case m.Code.Late:
			take(first{at: lateBy(m), seen: m.Made, door: true, slot: m.Slot})
		default:
			take(first{at: day.Earliest(m.Made, m.Slot.End), seen: m.Made, slot: m.Slot})
		}
	}
	return found, ok
}

// late reports whether a student whose first evidence this is came late. That needs evidence
// of its own: an arrival or a late mark after the grace of the student's first due slot, or a
// register that is in and has the student absent from an earlier slot. A register that is out
// makes nobody late.
func (f first) late(e Evidence, marks []*Mark, rules Rules, known Known) bool {
	if len(e.Due) == 0 {
		return false
	}
	if f.door {
		return f.at.After(e.Due[0].Slot.Start.Add(rules.LateGrace))
	}
	for _, d := range e.Due {
		if !f.follows(d.Slot) || !d.sentBy(known) {
			continue
		}
		for _, m := range marks {
			if m.Slot.Name == d.Slot.Name && m.Code.Counts.Absent() && !m.Code.Late {
				return true
			}
		}
	}
	return false
}

// follows reports whether a slot is earlier than the evidence.
func (f first) follows(slot day.Slot) bool {
	if f.slot.Name != "" {
		return slot.Start.Before(f.slot.Start)
	}
	return !slot.End.After(f.at)
}

func (v *view) cameLate() bool {
	f, ok := firstIn(v.marks, v.events, v.t)
	return ok && f.late(v.Evidence, v.marks, v.rules, v.known)
}

// notSent returns the first slot before the first evidence of being in whose register is not
// in; one without a name where there is none.
func (v *view) notSent() day.Slot {
	f, ok := firstIn(v.marks, v.events, v.t)
	if !ok || f.door {
		return day.Slot{}
	}
	for _, d := range v.Due {
		if f.follows(d.Slot) && !d.sentBy(v.known) {
			return d.Slot
		}
	}
	return day.Slot{}
}

// FirstArrival returns the minute at which a student was first seen by t, as it
// was known, and whether they came late. Of a late mark it is the time that it says.
func FirstArrival(e Evidence, rules Rules, t day.Minute, known day.Instant) (at day.Minute, late, ok bool) {
	by := lastOf(known)
	marks := current(e.Marks, t, by)
	f, ok := firstIn(marks, timeline(e, marks, t, by), t)
	if !ok {
		return day.Minute{}, false, false
	}
	if f.late(e, marks, rules, by) {
		return f.at, true, true
	}
	return f.seen, false, true
}
