package whereabouts_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"meldung/core/day"
	"meldung/core/whereabouts"
)

// A notice covers a slot when it has the student away as the slot begins.
func TestWhichSlotsASpanCovers(t *testing.T) {
	today := day.MustDate("2026-03-10")
	span := whereabouts.Span{From: today, To: today + 2, FromMinute: day.MustMinute("09:05"), ToMinute: day.MustMinute("10:00"), Returns: true, Reason: "ill"}
	for _, c := range []struct {
		d    day.Date
		slot day.Slot
		want bool
	}{
		{today - 1, first, false},
		{today, registration, false}, // begins before the notice does
		{today, first, true},
		{today, second, true},
		{today + 1, registration, true},
		{today + 2, registration, true},
		{today + 2, first, true},
		{today + 2, second, false}, // expected as it begins
		{today + 3, registration, false},
	} {
		assert.Equal(t, c.want, span.Covers(c.d, c.slot), "%s %s", c.d, c.slot.Name)
	}
	n, ok := span.On(today + 1)
	assert.True(t, ok)
	assert.Equal(t, whereabouts.Notice{From: day.Midnight, To: day.EndOfDay, Reason: "ill"}, n, "a day between is whole, and nobody is expected")
	n, _ = span.On(today + 2)
	assert.True(t, n.Returns)
}

// A span that ends after it begins covers one stretch of slots: what lies between two
// covered ones is covered.
func TestASpanIsOneStretch(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		minute := func(name string) day.Minute {
			return day.Midnight.Add(day.Minutes(rapid.IntRange(0, 1440).Draw(t, name)))
		}
		from := day.MustDate("2026-03-10")
		s := whereabouts.Span{From: from, To: from + day.Date(rapid.IntRange(-1, 3).Draw(t, "days")), FromMinute: minute("from"), ToMinute: minute("to")}
		begins, ends := day.At(s.From, s.FromMinute), day.At(s.To, s.ToMinute)
		assert.Equal(t, begins < ends, s.Check() == nil)
		d, start := from+day.Date(rapid.IntRange(-1, 4).Draw(t, "date")), minute("start")
		if start == day.EndOfDay || s.Check() != nil {
			return
		}
		at := day.At(d, start)
		assert.Equal(t, begins <= at && at < ends, s.Covers(d, day.Slot{Name: "x", Start: start, End: day.EndOfDay}))
	})
}

// No home is rung before an earlier register is in; a later one holds nobody back.
func TestAnEarlierRegisterIsOut(t *testing.T) {
	in := known(day.MustMinute("08:55"))
	e := whereabouts.Evidence{Due: []whereabouts.DueSlot{{Slot: registration}, {Slot: first, Sent: &in}, {Slot: second}}}
	at := day.At(date, day.MustMinute("10:10"))
	assert.False(t, e.EarlierOut(registration, at))
	assert.True(t, e.EarlierOut(first, at))
	e.Due[0].Sent = &in
	assert.False(t, e.EarlierOut(second, at))
	assert.True(t, e.EarlierOut(second, day.At(date, day.MustMinute("08:54"))), "before it was known to be in")
}
