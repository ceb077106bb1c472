package dated

import (
	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/policy"
	"meldung/core/register"
	"meldung/store"
)

// InForce returns a stored mark as the core's rules take it.
func (x *Day) InForce(m store.Mark) register.InForce {
	code, _ := x.OfClass(m.ClassID).Codes.Find(m.Code)
	return register.InForce{Code: code, From: m.AwayFrom, To: m.AwayTo, Made: m.Made}
}

// DistanceCode returns the code of those who attend at a distance; empty where the
// section's codes have none.
func (s *SectionDay) DistanceCode() string {
	c, _ := s.Codes.Always(policy.UseDistance)
	return c.Code
}

// StateOfMessage is the last that was known of a message.
func (x *Day) StateOfMessage(m store.Message, known day.Instant) string {
	state := m.State
	for _, e := range x.MessageEvents(m.ID) {
		if e.Known <= known {
			state = e.State
		}
	}
	return state
}

// StateAt returns how the register stands at a moment.
func (r *Register) StateAt(m Moment, within day.Minutes) register.State {
	switch {
	case r.SentBy(m):
		return register.Sent
	case m.Known < day.At(m.Date, day.Midnight):
		return register.NotDue
	default:
		return register.StateAt(r.Slot, within, day.Minute{}, m.Minute)
	}
}

// SentBy reports whether the register was in at a moment.
func (r *Register) SentBy(m Moment) bool { return r.Sent != nil && r.Sent.Known <= m.Known }

// Movement returns a movement of the day; nil for none.
func (x *Day) Movement(id ids.Movement) *store.Movement {
	for i := range x.Movements {
		if x.Movements[i].ID == id {
			return &x.Movements[i]
		}
	}
	return nil
}

// OpenFetch returns the student's fetch that was neither ended nor over by a moment: it
// is over when the student has left since.
func (x *Day) OpenFetch(student ids.Student, m Moment) *store.Fetch {
	var open *store.Fetch
	for i := range x.Fetches {
		if f := &x.Fetches[i]; f.StudentID == student && f.Known <= m.Known && !f.Minute.After(m.Minute) && (f.EndedAt == nil || *f.EndedAt > m.Known) {
			open = f
		}
	}
	if open == nil {
		return nil
	}
	for _, mv := range x.Movements {
		gone := mv.StudentID == student && mv.Kind == Departed && !mv.Minute.Before(open.Minute) && !mv.Minute.After(m.Minute) && mv.Journal > open.Journal
		if gone && mv.Known <= m.Known && (mv.UndoneAt == nil || *mv.UndoneAt > m.Known) {
			return nil
		}
	}
	return open
}

// PassOf returns a movement's pass as it was known; nil for none.
func (x *Day) PassOf(movement ids.Movement, known day.Instant) *store.Pass {
	for i := range x.Passes {
		if x.Passes[i].MovementID == movement && x.Passes[i].Known <= known {
			return &x.Passes[i]
		}
	}
	return nil
}

// ReplyTo returns the last answer to a message.
func (x *Day) ReplyTo(message ids.Message, known day.Instant) (reply store.MessageEvent, ok bool) {
	for _, e := range x.MessageEvents(message) {
		if e.State == Replied && e.Known <= known {
			reply, ok = e, true
		}
	}
	return reply, ok
}

// DealtWith reports whether an answer was taken as a notice, or read and left at that.
func (x *Day) DealtWith(message ids.Message, known day.Instant) bool {
	for _, n := range x.Notices {
		if n.MessageID != nil && *n.MessageID == message && n.Known <= known && (n.WithdrawnAt == nil || *n.WithdrawnAt > known) {
			return true
		}
	}
	for _, a := range x.AnswersRead {
		if a.MessageID == message && a.Known <= known {
			return true
		}
	}
	return false
}
