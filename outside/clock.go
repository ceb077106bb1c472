// Package outside holds what stands for the world outside the program: clocks
// and the message gateway. Nothing here leaves the machine.
package outside

import (
	"sync"
	"time"

	"meldung/core/day"
)

// WallClock is the real time in a school's zone.
type WallClock struct{ Zone *time.Location }

// Now returns the present minute.
func (c WallClock) Now() day.Instant { return instantOf(time.Now().In(c.Zone)) }

// Unix returns the present second since 1970.
func (c WallClock) Unix() int64 { return time.Now().Unix() }

func instantOf(t time.Time) day.Instant {
	return day.At(day.DateOf(t.Year(), t.Month(), t.Day()), day.Midnight.Add(day.Minutes(t.Hour()*60+t.Minute())))
}

// DemoClock ticks like a real one from wherever it was last set.
type DemoClock struct {
	mu    sync.Mutex
	at    day.Instant
	since time.Time
}

// NewDemoClock returns a clock that shows the instant now and goes on from it.
func NewDemoClock(at day.Instant) *DemoClock { return &DemoClock{at: at, since: time.Now()} }

// Now returns the clock's present minute.
func (c *DemoClock) Now() day.Instant {
	c.mu.Lock()
	defer c.mu.Unlock()
	return c.at + day.Instant(time.Since(c.since)/time.Minute)
}

// Unix returns the clock's present second, counted as if its minutes were those since 1970.
func (c *DemoClock) Unix() int64 {
	c.mu.Lock()
	defer c.mu.Unlock()
	return int64(c.at)*60 + int64(time.Since(c.since)/time.Second)
}

// Set moves the clock.
func (c *DemoClock) Set(at day.Instant) {
	c.mu.Lock()
	defer c.mu.Unlock()
	c.at, c.since = at, time.Now()
}
