// Package punctuality says when students came late, to school or to a lesson, and when
// they left early, from the marks and the door of each day. It must not know where
// either is kept.
package punctuality

import (
	"slices"

	"meldung/core/day"
	"meldung/core/policy"
)

// Kind is what happened.
type Kind uint8

// The kinds.
const (
	LateArrival    Kind = iota // to school: after the grace of the first due slot
	LateToLesson               // to a later slot, having been in
	EarlyDeparture             // before the last due slot ended, and not back that day
	Kinds
)

// String returns the kind in words.
func (k Kind) String() string {
	return [...]string{"late arrival", "late to a lesson", "left early"}[k]
}

// Presence is what a mark says of a slot.
type Presence uint8

// What a mark can say.
const (
	NotMarked Presence = iota
	Absent
	Present
	Late
	Leaving // present, and left in it
)

// Slot is a slot in which the student was due, with its mark.
type Slot struct {
	day.Slot
	Presence Presence
	At       day.Minute // when a late one came or a leaving one left; none where not written
}

// Crossing is a student going through the door.
type Crossing struct {
	At     day.Minute
	Out    bool
	Reason string
}

// Day is one student's day: the due slots and the door, both in time order.
type Day struct {
	Slots []Slot
	Door  []Crossing
}

// Entry is one line of the list.
type Entry struct {
	Kind   Kind
	At     day.Minute // none where nobody wrote it down
	Slot   string     // the slot that was missed in part or whole
	Reason string     // as given at the door; empty for none
	Missed int        // minutes of due time before arriving or after leaving; −1 without a time
}

// Of lists a day's late arrivals and early departures in time order. A student is late
// for school who was not present in the first due slot and came after its grace: the
// door says when, else the late mark. A late mark in a later slot after a presence is a
// late for that lesson. Whoever went out before the last due slot ended and was not seen
// again, at the door or by a register, left early: the door says when, else the mark.
// Absence all day is neither.
func Of(d Day, grace day.Minutes) []Entry {
	if len(d.Slots) == 0 {
		return nil
	}
	var out []Entry
	arrival, late := arrivalOf(d, grace)
	if late {
		out = append(out, arrival)
	}
	seen := false
	for i, s := range d.Slots {
		if s.Presence == Late && seen && i > 0 {
			out = append(out, Entry{Kind: LateToLesson, At: s.At, Slot: s.Name, Reason: d.cameIn(s), Missed: missedBefore(d.Slots[i:i+1], s.At)})
		}
		seen = seen || s.Presence >= Present
	}
	if leaving, left := departureOf(d); left {
		out = append(out, leaving)
	}
	slices.SortStableFunc(out, func(a, b Entry) int { return a.At.SinceMidnight() - b.At.SinceMidnight() })
	return out
}

func arrivalOf(d Day, grace day.Minutes) (Entry, bool) {
	first := d.Slots[0]
	if first.Presence == Present || first.Presence == Leaving {
		return Entry{}, false
	}
	e := Entry{Kind: LateArrival, Slot: first.Name, Missed: -1}
	if len(d.Door) > 0 && !d.Door[0].Out {
		came := d.Door[0]
		e.At, e.Reason, e.Missed = came.At, came.Reason, missedBefore(d.Slots, came.At)
		return e, came.At.After(first.Start.Add(grace)) && came.At.Before(d.Slots[len(d.Slots)-1].End)
	}
	for _, s := range d.Slots {
		switch s.Presence {
		case Late:
			e.At, e.Slot, e.Missed = s.At, s.Name, missedBefore(d.Slots, s.At)
			return e, true
		case Present, Leaving:
			return Entry{}, false // absent at first, and nobody saw them come: an absence, not a late
		}
	}
	return Entry{}, false
}

// cameIn is the reason given by whoever came in within a slot.
func (d Day) cameIn(s Slot) string {
	for _, p := range d.Door {
		if !p.Out && !p.At.Before(s.Start) && !p.At.After(s.End) {
			return p.Reason
		}
	}
	return ""
}

func departureOf(d Day) (Entry, bool) {
	end := d.Slots[len(d.Slots)-1].End
	for i := len(d.Door) - 1; i >= 0; i-- {
		p := d.Door[i]
		if !p.Out {
			return Entry{}, false // back again
		}
		if !p.At.Before(end) {
			continue
		}
		if seenAfter(d.Slots, p.At) {
			return Entry{}, false
		}
		slot := d.Slots[len(d.Slots)-1].Name
		for k := len(d.Slots) - 1; k >= 0 && d.Slots[k].End.After(p.At); k-- {
			slot = d.Slots[k].Name
		}
		return Entry{Kind: EarlyDeparture, At: p.At, Slot: slot, Reason: p.Reason, Missed: missedAfter(d.Slots, p.At)}, true
	}
	for i := len(d.Slots) - 1; i >= 0; i-- {
		switch s := d.Slots[i]; s.Presence {
		case Leaving:
			return Entry{Kind: EarlyDeparture, At: s.At, Slot: s.Name, Missed: missedAfter(d.Slots, s.At)}, true
		case Present, Late:
			return Entry{}, false
		}
	}
	return Entry{}, false
}

// seenAfter reports whether a register says that a student was there after a minute.
func seenAfter(slots []Slot, at day.Minute) bool {
	for _, s := range slots {
		if s.Presence >= Present && (!s.Start.Before(at) || s.Presence == Late && s.At.After(at)) {
			return true
		}
	}
	return false
}

func missedBefore(slots []Slot, at day.Minute) int {
	if at.IsZero() {
		return -1
	}
	n := 0
	for _, s := range slots {
		n += max(0, int(day.Earliest(at, s.End).Sub(s.Start)))
	}
	return n
}

func missedAfter(slots []Slot, at day.Minute) int {
	if at.IsZero() {
		return -1
	}
	n := 0
	for _, s := range slots {
		n += max(0, int(s.End.Sub(day.Latest(at, s.Start))))
	}
	return n
}

// PresenceOf returns what a mark says of who came and who left, and the minute at which a
// late came or somebody left early; none where neither, or nobody wrote it down. from and to
// are those of the mark, none where not written.
func PresenceOf(code policy.Code, from, to day.Minute) (Presence, day.Minute) {
	switch {
	case code.Counts == policy.Void:
		return NotMarked, day.Minute{}
	case code.Late:
		return Late, to
	case code.Counts.Absent():
		return Absent, day.Minute{}
	case !from.IsZero() && to.IsZero():
		return Leaving, from
	default:
		return Present, day.Minute{}
	}
}
