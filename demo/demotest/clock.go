package demotest

import (
	"sync/atomic"

	"meldung/core/day"
)

// Clock stands still until a test moves it: however slow the machine, a minute lasts.
type Clock struct{ at atomic.Int64 }

// NewClock returns a clock that stands at the instant.
func NewClock(at day.Instant) *Clock {
	c := &Clock{}
	c.Set(at)
	return c
}

// Now returns the minute at which the clock stands.
func (c *Clock) Now() day.Instant { return day.Instant(c.at.Load()) }

// Unix returns the second at which it stands, counted as if its minutes were those since 1970.
func (c *Clock) Unix() int64 { return c.at.Load() * 60 }

// Set moves the clock.
func (c *Clock) Set(at day.Instant) { c.at.Store(int64(at)) }
