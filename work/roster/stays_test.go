package roster

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"meldung/core/day"
)

func d(text string) *day.Date {
	if text == "" {
		return nil
	}
	x := day.MustDate(text)
	return &x
}

func dates(from, to string) day.Dates {
	out := day.Since(day.MustDate(from))
	if to != "" {
		out.To = day.MustDate(to)
	}
	return out
}

// What a roster that is taken from 10 March on makes of a place.
func TestWhatARosterMakesOfAPlace(t *testing.T) {
	march := day.Since(day.MustDate("2026-03-10"))
	since := []day.Dates{dates("2025-09-01", "")}
	left := []day.Dates{dates("2025-09-01", "2025-12-19")}
	usual := *d("2026-03-10")
	for _, c := range []struct {
		name     string
		old      []day.Dates
		from, to string
		lacks    bool
		over     day.Dates
		want     []day.Dates
		past     bool
	}{
		{"goes on", since, "", "", false, march, since, false},
		{"goes on, as written", since, "2025-09-01", "", false, march, since, false},
		{"leaves, as the roster lacks it", since, "", "", true, march, []day.Dates{dates("2025-09-01", "2026-03-09")}, false},
		{"leaves later", since, "2025-09-01", "2026-06-30", false, march, []day.Dates{dates("2025-09-01", "2026-06-30")}, false},
		{"left before, says the roster", since, "", "2026-02-01", false, march, []day.Dates{dates("2025-09-01", "2026-03-09")}, true},
		{"came at another time, says the roster", since, "2025-10-01", "", false, march, since, true},
		{"is new", nil, "", "", false, march, []day.Dates{dates("2026-03-10", "")}, false},
		{"came two days ago", nil, "2026-03-08", "", false, march, []day.Dates{dates("2026-03-08", "")}, false},
		{"will come", nil, "2026-04-01", "", false, march, []day.Dates{dates("2026-04-01", "")}, false},
		{"comes back", left, "", "", false, march, []day.Dates{left[0], dates("2026-03-10", "")}, false},
		{"came back last week", left, "2026-03-02", "", false, march, []day.Dates{left[0], dates("2026-03-02", "")}, false},
		{"comes back, and the roster has the first date", left, "2025-09-01", "", false, march, []day.Dates{left[0], dates("2026-03-10", "")}, false},
		{"has left, and the roster says so", left, "2025-09-01", "2025-12-19", false, march, left, false},
		{"has left and is lacking", left, "", "", true, march, left, false},
		{"the past is corrected", since, "2025-10-01", "", false, day.Always, []day.Dates{dates("2025-10-01", "")}, false},
		{"was never there, when the past is corrected", since, "", "", true, day.Always, nil, false},
		{"next year's roster says nothing of the year after", []day.Dates{dates("2025-09-01", "2026-07-01"), dates("2027-09-01", "")}, "", "", true,
			day.Dates{From: day.MustDate("2026-09-01"), To: day.MustDate("2027-07-31")}, []day.Dates{dates("2025-09-01", "2026-07-01"), dates("2027-09-01", "")}, false},
	} {
		s := &stay{from: d(c.from), to: d(c.to), usual: usual}
		if c.lacks {
			s = nil
		}
		got, past := s.taken(c.old, c.over)
		assert.Equal(t, c.want, got, c.name)
		assert.Equal(t, c.past, past, c.name)
		again, _ := s.taken(got, c.over)
		assert.Equal(t, c.want, again, "%s, taken twice", c.name)
	}
}
