// Package register says how a register stands and what is already known of its
// rows before anyone takes it. It must not know who keeps the marks.
package register

import (
	"meldung/core/day"
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
)

// ReasonCode gives the code that a school ties to a reason; absent tells
// whether it is for an absence or for a late arrival.
type ReasonCode func(reason string, absent bool) string

// PrefillFor returns what is known of a student for a slot at t, from the desk,
// home and planned activities, newest and nearest first; ok is false where
// nothing is known and the teacher's eyes decide.
func PrefillFor(e whereabouts.Evidence, slot day.Slot, lateGrace day.Minutes, t day.Minute, known day.Instant, code ReasonCode) (Prefill, bool) {
	arrival, departure := doors(e, slot, t, known)
	if departure != nil && !departure.At.After(slot.Start) {
		return Prefill{Code: code(departure.Reason, true), Source: SourceDesk,
			Text: left(*departure)}, true
	}
	if departure != nil {
		return Prefill{Code: "D", From: departure.At, Source: SourceDesk, Text: left(*departure)}, true
	}
	if arrival != nil && arrival.At.After(slot.Start) && arrival.At.Before(slot.End) {
		p := Prefill{Code: "P", Source: SourceDesk, Text: "in at the desk " + arrival.At.String()}
		if arrival.At.After(slot.Start.Add(lateGrace)) {
			p.Code, p.To = code(arrival.Reason, false), arrival.At
		}
		return p, true
	}
	if arrival != nil {
		return Prefill{}, false
	}
	for _, a := range e.Activities {
		if !a.OnSite && !a.From.After(slot.Start) && !a.To.Before(slot.End) && known >= a.Known.At && (a.Ended == nil || a.Ended.At > known) {
			return Prefill{Code: "V", Source: SourceActivity, Text: a.Title + " · trip list"}, true
		}
	}
	if n := noticeFor(e.Notices, slot, known); n != nil {
		p := Prefill{Code: code(n.Reason, true), Source: SourceHome, Text: n.Reason + " · home"}
		if n.Returns {
			p.Text = n.Reason + " until " + n.To.String() + " · home"
		}
		return p, true
	}
	return Prefill{}, false
}

// doors returns the last arrival and the last departure that bear on the slot,
// of which only the later one counts.
func doors(e whereabouts.Evidence, slot day.Slot, t day.Minute, known day.Instant) (arrival, departure *whereabouts.Movement) {
	var last *whereabouts.Movement
	for i := range e.Movements {
		m := &e.Movements[i]
		if m.At.After(t) || !m.At.Before(slot.End) || m.Known.At > known || (m.Undone != nil && m.Undone.At <= known) {
			continue
		}
		if last == nil || m.At.After(last.At) || (m.At == last.At && m.Known.Seq > last.Known.Seq) {
			last = m
		}
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
