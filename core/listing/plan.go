package listing

import (
	"slices"
	"time"

	"meldung/core/day"
)

// Plan is when a list is made without being asked for: at a minute of every school day, or of some weekdays of them.
type Plan struct {
	At    day.Minute
	On    []time.Weekday // none for every school day
	Since day.Instant    // when it was planned
}

// Grace is for how many minutes after its time a list is still made, where the program was not running then. Later
// than that it would be of no use, and is said to be missing.
const Grace day.Minutes = 120

// Due is what a plan asks for at an instant.
type Due int

// What a plan asks for.
const (
	Nothing Due = iota
	Make
	Missed // its time is over, and nothing was made
)

// Due returns what the plan asks for at an instant of a school day on which nothing has been made by it.
func (p Plan) Due(now day.Instant) Due {
	at := day.At(now.Date(), p.At)
	switch {
	case now < at || p.Since > at, len(p.On) > 0 && !slices.Contains(p.On, now.Date().Time().Weekday()):
		return Nothing
	case now-at > day.Instant(Grace):
		return Missed
	default:
		return Make
	}
}
