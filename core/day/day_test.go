package day_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

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
	assert.Equal(t, day.MustMinute("23:59"), m)
}

func TestDates(t *testing.T) {
	d := day.MustDate("2026-03-10")
	assert.Equal(t, 2, d.Weekday(), "a Tuesday")
	assert.Equal(t, "2026-03-09", d.Monday().String())
	assert.Equal(t, "Tue 10 March", d.Spoken())
	assert.Equal(t, "10 March", day.ListDates([]day.Date{d}))
	assert.Equal(t, "4, 11 and 12 February and 10 March", day.ListDates([]day.Date{day.MustDate("2026-02-04"), day.MustDate("2026-02-11"), day.MustDate("2026-02-12"), d}))
	assert.Equal(t, "30 January, 2 February and 10 and 11 March", day.ListDates([]day.Date{day.MustDate("2026-01-30"), day.MustDate("2026-02-02"), d, d + 1}))
	assert.Empty(t, day.ListDates(nil))
	assert.Equal(t, day.Date(0), day.MustDate("1970-01-01"))
	assert.Equal(t, "1969-12-31", day.Date(-1).String())
	assert.Equal(t, 3, day.Date(-1).Weekday())
	for _, s := range []string{"2026-02-29", "2026-13-01", "26-01-01", "2026-1-01", "2026-01-01 ", "0000-01-01", ""} {
		_, err := day.ParseDate(s)
		assert.Error(t, err, s)
	}
}

func TestInstants(t *testing.T) {
	i := day.At(day.MustDate("2026-03-10"), day.MustMinute("09:12"))
	assert.Equal(t, "2026-03-10T09:12", i.String())
	back, err := day.ParseInstant(i.String())
	require.NoError(t, err)
	assert.Equal(t, i, back)
	early := day.At(-1, day.MustMinute("23:59"))
	assert.Equal(t, []any{day.Date(-1), day.MustMinute("23:59")}, []any{early.Date(), early.Minute()})
}

func TestDurationsAreNeverDecimal(t *testing.T) {
	assert.Equal(t, "5 h 25 min", day.Duration(325))
	assert.Equal(t, "40 min", day.Duration(40))
	assert.Equal(t, "2 h", day.Duration(120))
	assert.Equal(t, "0 min", day.Duration(0))
}

func TestCalendar(t *testing.T) {
	p := day.Pattern{Name: "normal", Slots: []day.Slot{{Name: "1", Start: day.MustMinute("09:05"), End: day.MustMinute("09:55")}, {Name: "AM", Start: day.MustMinute("08:45"), End: day.MustMinute("09:00"), Kind: day.Registration}}}
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
		if m, err := day.ParseTyped(s); err == nil && (m.IsZero() || !m.Before(day.EndOfDay)) {
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
		if m, err := day.ParseMinute(s); err == nil && (m.String() != s || m.IsZero() || !m.Before(day.EndOfDay)) {
			t.Fatalf("time %q became %s", s, m)
		}
		if i, err := day.ParseInstant(s); err == nil && i.String() != s {
			t.Fatalf("instant %q became %s", s, i)
		}
	})
}

// A minute holds nothing but a minute of a day, or none, whatever is done to it.
func TestAMinuteHoldsNothingElse(t *testing.T) {
	anyMinute := rapid.Custom(func(t *rapid.T) day.Minute {
		m, err := day.AtMinute(rapid.IntRange(0, 1440).Draw(t, "minute"))
		require.NoError(t, err)
		return m
	})
	rapid.Check(t, func(t *rapid.T) {
		a, b := anyMinute.Draw(t, "a"), anyMinute.Draw(t, "b")
		d := day.Minutes(rapid.IntRange(-3000, 3000).Draw(t, "length"))
		later := a.Add(d)
		assert.False(t, later.Before(day.Midnight) || later.After(day.EndOfDay))
		if n := a.SinceMidnight() + int(d); n >= 0 && n <= 1440 {
			assert.Equal(t, d, later.Sub(a), "within the day nothing is lost")
		}
		assert.Equal(t, a.Compare(b), -b.Compare(a))
		assert.Equal(t, a.Before(b), b.After(a))
		assert.Equal(t, a.Sub(b), -b.Sub(a))
		assert.Equal(t, []day.Minute{day.Earliest(a, b), day.Latest(b, a)}, []day.Minute{day.Earliest(b, a), day.Latest(a, b)})
		value, err := a.Value()
		require.NoError(t, err)
		var back day.Minute
		require.NoError(t, back.Scan(value))
		assert.Equal(t, a, back, "through a database")
		if a != day.EndOfDay {
			read, err := day.ParseMinute(a.String())
			require.NoError(t, err)
			assert.Equal(t, a, read)
			assert.Equal(t, a, day.At(day.MustDate("2026-03-10"), a).Minute())
		}
	})
}

func TestNoMinute(t *testing.T) {
	var none day.Minute
	assert.True(t, none.IsZero())
	assert.Empty(t, none.String())
	assert.Equal(t, -1, none.SinceMidnight())
	assert.True(t, none.Before(day.Midnight), "it comes before every other")
	assert.Equal(t, none, none.Add(30), "and stays none")
	assert.Equal(t, none, day.Earliest(day.EndOfDay, none))
	assert.Zero(t, day.EndOfDay.Sub(none))
	value, err := none.Value()
	require.NoError(t, err)
	assert.Nil(t, value, "NULL in a database")
	m := day.MustMinute("09:12")
	require.NoError(t, m.Scan(nil))
	assert.True(t, m.IsZero())
	for _, nonsense := range []any{int64(-1), int64(1441), int64(1 << 40), "09:12", 9.5} {
		assert.Error(t, m.Scan(nonsense), "%v", nonsense)
	}
	for _, nonsense := range []int{-1, 1441} {
		_, err := day.AtMinute(nonsense)
		assert.Error(t, err)
	}
	assert.Equal(t, "24:00", day.EndOfDay.String())
	assert.Equal(t, day.At(day.MustDate("2026-03-11"), day.Midnight), day.At(day.MustDate("2026-03-10"), day.EndOfDay))
}

func TestADayIsOverWhenItsLastSlotIs(t *testing.T) {
	p := day.Pattern{Name: "a", Slots: []day.Slot{{Name: "1", Start: day.MustMinute("09:00"), End: day.MustMinute("10:00")}, {Name: "2", Start: day.MustMinute("10:00"), End: day.MustMinute("15:45")}}}
	monday := day.MustDate("2026-03-09")
	c, err := day.NewCalendar([]day.Pattern{p}, []day.Row{{Date: monday, Pattern: "a"}, {Date: monday + 2, Pattern: "a"}})
	require.NoError(t, err)
	for at, want := range map[string]int{"2026-03-08T12:00": -1, "2026-03-09T15:44": -1, "2026-03-09T15:45": 0, "2026-03-10T08:00": 0, "2026-03-11T15:44": 0, "2026-03-11T15:45": 1, "2026-07-01T00:00": 1} {
		i, err := day.ParseInstant(at)
		require.NoError(t, err)
		assert.Equal(t, want, c.EndedBy(i.Date(), i.Minute()), at)
	}
}

func TestYearsBy(t *testing.T) {
	for _, c := range []struct {
		born, at string
		want     int
	}{
		{"2012-03-10", "2026-03-09", 13}, {"2012-03-10", "2026-03-10", 14}, {"2012-02-29", "2026-02-28", 13}, {"2012-02-29", "2026-03-01", 14},
		{"2012-02-29", "2028-02-29", 16}, {"2012-12-31", "2026-01-01", 13}, {"2012-03-10", "2012-03-10", 0},
	} {
		assert.Equal(t, c.want, day.MustDate(c.born).YearsBy(day.MustDate(c.at)), "%s by %s", c.born, c.at)
	}
}

func TestDurationsAreReadAsWritten(t *testing.T) {
	for _, n := range []int{0, 1, 59, 60, 61, 1875, 4320, 1 << 40} {
		got, err := day.ParseDuration(day.Duration(n))
		require.NoError(t, err)
		assert.Equal(t, n, got)
	}
	for text, want := range map[string]int{"90": 90, " 90 min ": 90, "1 h 90 min": 150, "30 h": 1800} {
		got, err := day.ParseDuration(text)
		require.NoError(t, err, text)
		assert.Equal(t, want, got, text)
	}
	for _, wrong := range []string{"", "h", "3 days", "-1 h", "1.5 h", "5 min 1 h", "+3 h", "1 h 5", "99999999999999999999"} {
		_, err := day.ParseDuration(wrong)
		assert.Error(t, err, wrong)
	}
}
