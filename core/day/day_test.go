package day_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
)

func TestTypedTimes(t *testing.T) {
	for typed, want := range map[string]string{"925": "09:25", "0925": "09:25", "9:25": "09:25", "09.25": "09:25", " 9:25 ": "09:25", "9": "09:00", "14": "14:00", "2359": "23:59", "000": "00:00"} {
		got, err := day.ParseTyped(typed)
		require.NoError(t, err, typed)
		assert.Equal(t, want, got.String(), typed)
	}
	for _, typed := range []string{"", "2460", "960", "9:5", "9:255", "abc", "-925", "12345", "25", "9:60"} {
		_, err := day.ParseTyped(typed)
		assert.Error(t, err, typed)
	}
}

func TestTimesInFilesAreStrict(t *testing.T) {
	for _, s := range []string{"9:25", "0925", "24:00", "09:60", " 09:25", "09:2", "0x:25"} {
		_, err := day.ParseMinute(s)
		assert.Error(t, err, s)
	}
	m, err := day.ParseMinute("23:59")
	require.NoError(t, err)
	assert.Equal(t, day.Minute(1439), m)
}

func TestDates(t *testing.T) {
	d := day.MustDate("2026-03-10")
	assert.Equal(t, 2, d.Weekday(), "a Tuesday")
	assert.Equal(t, "2026-03-09", d.Monday().String())
	assert.Equal(t, "Tue 10 March", d.Words())
	assert.Equal(t, day.Date(0), day.MustDate("1970-01-01"))
	assert.Equal(t, "1969-12-31", day.Date(-1).String())
	assert.Equal(t, 3, day.Date(-1).Weekday())
	for _, s := range []string{"2026-02-29", "2026-13-01", "26-01-01", "2026-1-01", "2026-01-01 ", "0000-01-01", ""} {
		_, err := day.ParseDate(s)
		assert.Error(t, err, s)
	}
}

func TestInstants(t *testing.T) {
	i := day.At(day.MustDate("2026-03-10"), 552)
	assert.Equal(t, "2026-03-10T09:12", i.String())
	back, err := day.ParseInstant(i.String())
	require.NoError(t, err)
	assert.Equal(t, i, back)
	early := day.At(-1, 1439)
	assert.Equal(t, []any{day.Date(-1), day.Minute(1439)}, []any{early.Date(), early.Minute()})
}

func TestDurationsAreNeverDecimal(t *testing.T) {
	assert.Equal(t, "5 h 25 min", day.Duration(325))
	assert.Equal(t, "40 min", day.Duration(40))
	assert.Equal(t, "2 h", day.Duration(120))
	assert.Equal(t, "0 min", day.Duration(0))
}

func TestCalendar(t *testing.T) {
	p := day.Pattern{Name: "normal", Slots: []day.Slot{{Name: "1", Start: 545, End: 595}, {Name: "AM", Start: 525, End: 540, Kind: day.Registration}}}
	c, err := day.NewCalendar([]day.Pattern{p}, []day.Row{
		{Date: day.MustDate("2026-03-13"), Pattern: "normal"},
		{Date: day.MustDate("2026-03-09"), Pattern: "normal"},
		{Date: day.MustDate("2026-03-10"), Pattern: day.Closed},
		{Date: day.MustDate("2026-03-23"), Pattern: "normal"},
	})
	require.NoError(t, err)
	assert.Equal(t, 3, c.Days())
	assert.Equal(t, []int{0, 0, 1}, []int{c.Week(0), c.Week(1), c.Week(2)}, "a week without an open date is not counted")
	_, open := c.Index(day.MustDate("2026-03-10"))
	assert.False(t, open)
	assert.Equal(t, 0, c.UpTo(day.MustDate("2026-03-12")))
	assert.Equal(t, -1, c.UpTo(day.MustDate("2026-03-01")))
	assert.Equal(t, 1, c.From(day.MustDate("2026-03-10")))
	first, ok := c.Day(0).Pattern.First()
	assert.True(t, ok)
	assert.Equal(t, "AM", first.Name)
	assert.Equal(t, "AM", c.Day(0).Pattern.Slots[0].Name, "slots are in time order")

	_, err = day.NewCalendar([]day.Pattern{p}, []day.Row{{Date: 1, Pattern: "normal"}, {Date: 1, Pattern: "normal"}})
	assert.ErrorContains(t, err, "twice")
	_, err = day.NewCalendar([]day.Pattern{p}, []day.Row{{Date: 1, Pattern: "short"}})
	assert.ErrorContains(t, err, "does not exist")
}

func FuzzParseTyped(f *testing.F) {
	for _, s := range []string{"925", "9:25", "", "2400", "9.5"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		if m, err := day.ParseTyped(s); err == nil && (m < 0 || m >= day.EndOfDay) {
			t.Fatalf("%q became %d", s, m)
		}
	})
}

// What is read as a date or a time is written again as it was.
func FuzzDatesAndTimes(f *testing.F) {
	for _, s := range []string{"2026-03-10", "0001-01-01", "9999-12-31", "2024-02-29", "2023-02-29", "09:12", "23:59", "24:00", "2026-03-10T09:12"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		if d, err := day.ParseDate(s); err == nil && d.String() != s {
			t.Fatalf("date %q became %s", s, d)
		}
		if m, err := day.ParseMinute(s); err == nil && (m.String() != s || m < 0 || m >= day.EndOfDay) {
			t.Fatalf("time %q became %s", s, m)
		}
		if i, err := day.ParseInstant(s); err == nil && i.String() != s {
			t.Fatalf("instant %q became %s", s, i)
		}
	})
}
