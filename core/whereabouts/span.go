package whereabouts

import (
	"errors"

	"meldung/core/day"
)

// Span is what a home said over some dates: the student is away from a minute of the
// first until a minute of the last.
type Span struct {
	From, To   day.Date
	FromMinute day.Minute // of From; day.Midnight for the whole day
	ToMinute   day.Minute // of To; day.EndOfDay for the whole day
	Returns    bool       // the student is expected at ToMinute
	Reason     string
}

// ErrEndsBefore says that a span ends before it begins.
var ErrEndsBefore = errors.New("the notice ends before it begins")

// Check returns what is wrong with the span: nothing, or ErrEndsBefore.
func (s Span) Check() error {
	if day.At(s.To, s.ToMinute) <= day.At(s.From, s.FromMinute) {
		return ErrEndsBefore
	}
	return nil
}

// On returns what the span says of one date, without id and when it became known; ok is
// false outside its dates.
func (s Span) On(d day.Date) (n Notice, ok bool) {
	if d < s.From || d > s.To {
		return Notice{}, false
	}
	n = Notice{From: day.Midnight, To: day.EndOfDay, Reason: s.Reason}
	if d == s.From {
		n.From = s.FromMinute
	}
	if d == s.To {
		n.To, n.Returns = s.ToMinute, s.Returns
	}
	return n, true
}

// Covers reports whether the span explains a slot of a date: it has the student away when
// the slot begins.
func (s Span) Covers(d day.Date, slot day.Slot) bool {
	n, ok := s.On(d)
	return ok && n.Starts(slot)
}

// Starts reports whether the notice has the student away when a slot begins.
func (n Notice) Starts(slot day.Slot) bool {
	return !n.From.After(slot.Start) && slot.Start.Before(n.To)
}
