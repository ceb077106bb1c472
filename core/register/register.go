// Package register says how a register stands and what is already known of its
// rows before anyone takes it. It must not know who keeps the marks.
package register

import (
	"meldung/core/day"
	"meldung/core/policy"
	"meldung/core/whereabouts"
)

// State is how a register stands.
type State string

// The states. Missing is a register that is out after its slot has ended.
const (
	NotDue  State = "not due"
	Open    State = "open"
	Sent    State = "sent"
	Late    State = "late"
	Missing State = "missing"
)

// DueBy returns when the register of a slot is to be in: within the given
// minutes of the slot's start, and by its end.
func DueBy(s day.Slot, within day.Minutes) day.Minute {
	return day.Earliest(s.Start.Add(within), s.End)
}

// StateAt returns how a register stands at t; sent is none while it is out.
func StateAt(s day.Slot, within day.Minutes, sent, t day.Minute) State {
	switch {
	case !sent.IsZero() && !sent.After(t):
		return Sent
	case t.Before(s.Start):
		return NotDue
	case !t.After(DueBy(s, within)):
		return Open
	case t.Before(s.End):
		return Late
	default:
		return Missing
	}
}

// Overdue returns the minutes for which a register has been out too long; 0
// when it is in or not yet due.
func Overdue(s day.Slot, within day.Minutes, t day.Minute) int {
	return max(0, int(t.Sub(DueBy(s, within))))
}

// Prefill is a mark that follows from what is known elsewhere, with its source.
type Prefill struct {
	Code     string
	From, To day.Minute // none where not written
	Source   string
	Text     string
}

// The sources of a mark, as they are stored and shown.
const (
	SourceDesk     = "desk"
	SourceHome     = "home"
	SourceActivity = "activity"
	SourceRegister = "register"
	SourceCall     = "call"
	SourceCard     = "card"
	SourceCheckIn  = "check-in"
	SourceRest     = "rest" // in with everyone else who was not marked
)

// Codes are the school's codes, with what it ties to its reasons.
type Codes struct {
	Set    *policy.CodeSet
	Reason func(word string) Reason
}

// PrefillFor returns what is known of a student for a slot at t, from the desk,
// home and planned activities, newest and nearest first; ok is false where
// nothing is known and the teacher's eyes decide.
func PrefillFor(e whereabouts.Evidence, slot day.Slot, lateGrace day.Minutes, t day.Minute, known day.Instant, codes Codes) (Prefill, bool) {
	arrival, departure := doors(e, slot, t, known)
	if arrival != nil && arrival.Kind == whereabouts.Seen {
		return Prefill{}, false // about, and no door says since when
	}
	if departure != nil && !departure.At.After(slot.Start) {
		return filled(Prefill{Code: codes.Reason(departure.Reason).Absent, Source: SourceDesk, Text: left(*departure)})
	}
	if departure != nil {
		p := Prefill{From: departure.At, Source: SourceDesk, Text: left(*departure)}
		if p.Code = LeftEarly(codes.Set, slot, codes.Reason(departure.Reason)); p.Code == "" {
			p.Code, p.From = code(codes.Set, policy.UsePresent, slot), day.Minute{}
		}
		return filled(p)
	}
	if arrival != nil && arrival.At.After(slot.Start) && arrival.At.Before(slot.End) {
		p := Prefill{Code: code(codes.Set, policy.UsePresent, slot), Source: SourceDesk, Text: "in at the desk " + arrival.At.String()}
		if arrival.At.After(slot.Start.Add(lateGrace)) {
			p.Code, p.To = codes.Reason(arrival.Reason).Late, arrival.At
		}
		return filled(p)
	}
	if arrival != nil {
		return Prefill{}, false
	}
	for _, a := range e.Activities {
		if !a.OnSite && !a.From.After(slot.Start) && !a.To.Before(slot.End) && known >= a.Known.At && (a.Ended == nil || a.Ended.At > known) {
			return filled(Prefill{Code: code(codes.Set, policy.UseOffSite, slot), Source: SourceActivity, Text: a.Title + " · trip list"})
		}
	}
	if n := noticeFor(e.Notices, slot, known); n != nil {
		p := Prefill{Code: codes.Reason(n.Reason).Absent, Source: SourceHome, Text: n.Reason + " · home"}
		if n.Returns {
			p.Text = n.Reason + " until " + n.To.String() + " · home"
		}
		return filled(p)
	}
	return Prefill{}, false
}

// filled returns a mark, unless the school's codes have none for it.
func filled(p Prefill) (Prefill, bool) { return p, p.Code != "" }

// code returns a set's code for a use in a slot; empty where it has none.
func code(set *policy.CodeSet, u policy.Use, slot day.Slot) string {
	c, _ := set.For(u, slot)
	return c.Code
}

// doors returns the last arrival and the last departure that bear on the slot,
// of which only the later one counts. Whoever was seen in the building, in a search or at a roll
// call, did not come at that minute: it stands for an arrival only where no door says of one since
// they left.
func doors(e whereabouts.Evidence, slot day.Slot, t day.Minute, known day.Instant) (arrival, departure *whereabouts.Movement) {
	var last, seen *whereabouts.Movement
	later := func(m, than *whereabouts.Movement) bool {
		return than == nil || m.At.After(than.At) || (m.At == than.At && m.Known.Seq > than.Known.Seq)
	}
	for i := range e.Movements {
		m := &e.Movements[i]
		if m.At.After(t) || !m.At.Before(slot.End) || m.Known.At > known || (m.Undone != nil && m.Undone.At <= known) {
			continue
		}
		switch {
		case m.Kind == whereabouts.Seen && later(m, seen):
			seen = m
		case m.Kind != whereabouts.Seen && later(m, last):
			last = m
		}
	}
	if seen != nil && (last == nil || last.Kind == whereabouts.Departed) && later(seen, last) {
		last = seen
	}
	switch {
	case last == nil:
		return nil, nil
	case last.Kind == whereabouts.Departed:
		return nil, last
	default:
		return last, nil
	}
}

func left(m whereabouts.Movement) string {
	w := "left " + m.At.String()
	if m.Reason != "" {
		w += " · " + m.Reason
	}
	if !m.Return.IsZero() {
		w += " · back by " + m.Return.String()
	}
	return w
}

func noticeFor(notices []whereabouts.Notice, slot day.Slot, known day.Instant) *whereabouts.Notice {
	var best *whereabouts.Notice
	for i := range notices {
		n := &notices[i]
		if n.Known.At > known || (n.Withdrawn != nil && n.Withdrawn.At <= known) || !n.Starts(slot) {
			continue
		}
		if best == nil || n.Known.At >= best.Known.At {
			best = n
		}
	}
	return best
}
