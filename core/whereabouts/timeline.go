package whereabouts

import (
	"meldung/core/day"
	"meldung/core/policy"
)

type place uint8

const (
	onSite place = iota
	offSite
	away // elsewhere, until a minute
)

// event is a piece of evidence of where the student was at a minute.
type event struct {
	at      day.Minute
	came    day.Minute // since when, where that is earlier than at: a late mark's own time
	rank    int        // a movement outranks a mark made in the same minute
	known   Known
	place   place
	by      Hand
	planned bool // it was arranged, and nobody noted it as it happened
	until   day.Minute
	returns day.Minute
	reason  string
	move    *Movement
	mark    *Mark
}

// slot returns the slot of the mark behind an event; none for others.
func (e event) slot() day.Slot {
	if e.mark == nil {
		return day.Slot{}
	}
	return e.mark.Slot
}

// seen returns the event as evidence to be shown.
func (e event) seen() Sighting {
	s := Sighting{At: e.at, By: e.by, Slot: e.slot()}
	if e.move != nil {
		s.Moved, s.Kind = true, e.move.Kind
	}
	return s
}

// current returns the version of each mark that was in force: the last one
// known, where it was made by t; in the order of their slots. Few marks a day
// make a linear search quicker than a map.
func current(marks []Mark, t day.Minute, known Known) []*Mark {
	out := make([]*Mark, 0, len(marks))
next:
	for i := range marks {
		m := &marks[i]
		if m.Known.After(known) {
			continue
		}
		for k, o := range out {
			if o.Slot.Name == m.Slot.Name {
				if m.Version > o.Version {
					out[k] = m
				}
				continue next
			}
		}
		at := len(out)
		out = append(out, m)
		for ; at > 0 && out[at-1].Slot.Start.After(m.Slot.Start); at-- {
			out[at] = out[at-1]
		}
		out[at] = m
	}
	kept := out[:0]
	for _, m := range out {
		if !m.Made.After(t) {
			kept = append(kept, m)
		}
	}
	return kept
}

// timeline puts what shows where the student was in order.
func timeline(e Evidence, marks []*Mark, t day.Minute, known Known) []event {
	out := make([]event, 0, len(marks)+len(e.Movements)+len(e.Activities))
	for _, m := range marks {
		if m.Code.Counts.Absent() && !m.Code.Late || m.Code.Counts == policy.Void {
			continue
		}
		ev := event{at: m.Made, came: m.Made, known: m.Known, mark: m, by: m.By}
		switch {
		case !m.Code.OnSite:
			ev.place, ev.until, ev.reason = away, m.Slot.End, m.Code.Word
			ev.at = day.Latest(m.Made, m.Slot.Start)
		case m.From.After(m.Slot.Start) && m.To.IsZero() && !m.Code.Late && !m.From.After(t):
			ev.place, ev.at, ev.reason = offSite, day.Latest(m.From, m.Made), m.Code.Word
		case m.Code.Late:
			ev.came = lateBy(m)
		}
		out = insert(out, ev)
	}
	for i := range e.Movements {
		m := &e.Movements[i]
		if m.At.After(t) || !reached(m.Known, m.Undone, known) {
			continue
		}
		ev := event{at: m.At, came: m.At, rank: 1, known: m.Known, move: m, by: m.By, reason: m.Reason}
		if m.Kind == Departed {
			ev.place, ev.returns = offSite, m.Return
		}
		out = insert(out, ev)
	}
	for i := range e.Activities {
		a := &e.Activities[i]
		if a.OnSite || a.From.After(t) || !reached(a.Known, a.Ended, known) || a.missed(t, known) {
			continue
		}
		for _, b := range a.Backs {
			if b.At.After(t) || !reached(b.Known, b.Undone, known) {
				continue
			}
			back := event{at: b.At, came: b.At, rank: 1, known: b.Known, by: ByRest, reason: a.Title}
			if b.Home {
				back.place = offSite
			}
			out = insert(out, back)
		}
		ev := event{at: a.From, came: a.From, known: a.Known, place: away, planned: true, until: a.To, reason: a.Title}
		if a.Returns {
			ev.returns = a.To
		}
		out = insert(out, ev)
		if w := a.said(t, known); w != nil && w.At.Before(a.To) {
			ev.at, ev.came, ev.known, ev.planned = day.Latest(w.At, a.From), w.At, w.Known, false
			out = insert(out, ev)
		}
	}
	return out
}

// lateBy is when a student with a late mark came: the mark's own time, or else the minute
// in which it was made.
func lateBy(m *Mark) day.Minute {
	if !m.To.IsZero() {
		return m.To
	}
	return day.Latest(m.Made, m.Slot.Start)
}

// insert puts an event into its place in time.
func insert(list []event, ev event) []event {
	list = append(list, ev)
	i := len(list) - 1
	for ; i > 0 && ev.before(list[i-1]); i-- {
		list[i] = list[i-1]
	}
	list[i] = ev
	return list
}

func (e event) before(o event) bool {
	if e.at != o.at {
		return e.at.Before(o.at)
	}
	if e.rank != o.rank {
		return e.rank < o.rank
	}
	return e.known.Seq < o.known.Seq
}

// latest returns the place of the last event that holds at t; −1 for none. Being elsewhere
// wears off, unless a return was expected from there: that is missed until something is
// known of the student since.
func latest(events []event, t day.Minute) int {
	for i := len(events) - 1; i >= 0; i-- {
		if events[i].place == away && !t.Before(events[i].until) && events[i].returns.IsZero() {
			continue
		}
		return i
	}
	return -1
}

// stay returns the first evidence of the unbroken stay on the premises that the event at a
// place belongs to: one ends by leaving, by being elsewhere, and by being marked absent.
func stay(events []event, marks []*Mark, at int, t day.Minute) day.Minute {
	since := events[at].came
	for i := at - 1; i >= 0 && events[i].place == onSite; i-- {
		if absentBetween(marks, events[i].at, events[i+1].at, t) {
			break
		}
		since = day.Earliest(since, events[i].came)
	}
	return since
}

// absentBetween reports whether the student was marked absent in a slot that began between
// two minutes.
func absentBetween(marks []*Mark, from, to, t day.Minute) bool {
	for _, m := range marks {
		if isAbsence(m, t) && !m.Slot.Start.Before(from) && m.Slot.Start.Before(to) {
			return true
		}
	}
	return false
}

// absentSince returns the latest absence mark for a slot that began at or after
// the student was last seen.
func absentSince(marks []*Mark, seen, t day.Minute) (*Mark, bool) {
	for i := len(marks) - 1; i >= 0; i-- {
		m := marks[i]
		if isAbsence(m, t) && !m.Slot.Start.Before(seen) {
			return m, true
		}
	}
	return nil, false
}

// lastAbsence returns the latest mark of not being there, or else of not having to.
func lastAbsence(marks []*Mark, t day.Minute) (*Mark, bool) {
	var void *Mark
	for i := len(marks) - 1; i >= 0; i-- {
		switch m := marks[i]; {
		case isAbsence(m, t):
			return m, true
		case void == nil && m.Code.Counts == policy.Void && !m.Slot.Start.After(t):
			void = m
		}
	}
	return void, void != nil
}

func isAbsence(m *Mark, t day.Minute) bool {
	if !m.Code.Counts.Absent() || m.Code.Late || m.Slot.Start.After(t) {
		return false
	}
	return (m.From.IsZero() || !m.From.After(t)) && (m.To.IsZero() || t.Before(m.To))
}

// isPresence reports whether a mark has the student on the premises.
func isPresence(m *Mark) bool {
	return m.Code.OnSite && (!m.Code.Counts.Absent() || m.Code.Late)
}
