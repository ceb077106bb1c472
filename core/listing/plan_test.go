package listing

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"meldung/core/day"
)

func TestWhenAPlanIsDue(t *testing.T) {
	t.Parallel()
	at := func(text string) day.Instant {
		i, err := day.ParseInstant(text)
		assert.NoError(t, err)
		return i
	}
	plan := Plan{At: day.MustMinute("07:40"), Since: at("2026-03-02T15:00")}
	mondays := plan
	mondays.On = []time.Weekday{time.Monday}
	for _, c := range []struct {
		plan Plan
		now  string
		want Due
	}{
		{plan, "2026-03-10T07:39", Nothing},
		{plan, "2026-03-10T07:40", Make},
		{plan, "2026-03-10T09:40", Make},
		{plan, "2026-03-10T09:41", Missed},
		{plan, "2026-03-02T15:00", Nothing}, // planned after its time of that day
		{plan, "2026-03-03T07:40", Make},
		{mondays, "2026-03-10T07:40", Nothing}, // a Tuesday
		{mondays, "2026-03-09T07:40", Make},
		{mondays, "2026-03-09T18:00", Missed},
	} {
		assert.Equal(t, c.want, c.plan.Due(at(c.now)), c.now)
	}
}

// However often it is looked, over a day a plan is first not due, then to be made, then missed, and never back.
func TestAPlanGoesForward(t *testing.T) {
	t.Parallel()
	rapid.Check(t, func(r *rapid.T) {
		d := day.MustDate("2026-03-10")
		p := Plan{At: day.Midnight.Add(day.Minutes(rapid.IntRange(0, 1439).Draw(r, "at"))), Since: day.At(d-1, day.Midnight)}
		last, made := Nothing, 0
		for m := range 1440 {
			due := p.Due(day.At(d, day.Midnight.Add(day.Minutes(m))))
			assert.GreaterOrEqual(r, due, last)
			if last = due; due == Make {
				made++
			}
		}
		assert.LessOrEqual(r, made, int(Grace)+1)
		assert.Positive(r, made)
	})
}
