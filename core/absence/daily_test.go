package absence_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"meldung/core/absence"
	"meldung/core/policy"
)

// What each day gives, added up over a window on every day, is what a trigger counts there; and over the
// year what the figures say.
func TestDailyAmountsAddUp(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		l := randomSchool(t)
		withTimes(t, l)
		p := everyTrigger(t)
		m := absence.NewMeasure(l, p)
		last := 14
		possible, absent := m.Daily(0, last)
		figures := m.Student(0, absence.Span{From: 0, To: last})
		assert.Equal(t, [2]int{figures.Possible, figures.Absent}, [2]int{total(possible), total(absent)})
		for n, tr := range p.Triggers {
			if tr.Window.Kind == policy.Run {
				continue
			}
			sums := absence.NewWindow(l.Calendar(), tr.Window, 0).Sums(m.DailyCount(0, last, tr.Count, tr.Of))
			for d := range last + 1 {
				assert.Equal(t, m.Triggers(0, d)[n].Now, int(sums[d]), "%v over %+v on %d", tr.Count, tr.Window, d)
			}
		}
		onSite, lates := total(m.DailyOnSite(0, last)), 0
		assert.Equal(t, m.MissedOnSite(0, absence.Span{From: 0, To: last}, nil), onSite)
		for _, daily := range m.DailyLates(0, last) {
			lates += total(daily)
		}
		assert.Equal(t, figures.Lates, lates)
	})
}

func total(daily []int32) int {
	sum := 0
	for _, n := range daily {
		sum += int(n)
	}
	return sum
}

// A window with a weekday has its days alone; a number of rolling days is that of days that fall on it. Each
// sum is that of the days that the window has.
func TestWindowsWithAWeekday(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		l := randomSchool(t)
		cal := l.Calendar()
		daily := make([]int32, cal.Days())
		for d := range daily {
			daily[d] = int32(rapid.IntRange(0, 3).Draw(t, "amount"))
		}
		weekday, n := rapid.IntRange(0, 7).Draw(t, "weekday"), rapid.IntRange(1, 4).Draw(t, "n")
		for _, kind := range []policy.Window{{Kind: policy.RollingDays, N: n}, {Kind: policy.Term}, {Kind: policy.RollingWeeks, N: n}} {
			w := absence.NewWindow(cal, kind, weekday)
			sums := w.Sums(daily)
			for end := range daily {
				sum, days := int32(0), 0
				for d := end; d >= 0; d-- {
					falls := weekday == 0 || cal.Day(d).Date.Weekday() == weekday
					if kind.Kind == policy.RollingDays {
						assert.Equal(t, falls && days < n, w.Has(d, end), "%d of %d, weekday %d", d, end, weekday)
					}
					if falls {
						days++
					}
					if w.Has(d, end) {
						assert.True(t, falls)
						sum += daily[d]
					}
				}
				assert.Equal(t, sum, sums[end])
			}
		}
	})
}

func TestLastAttended(t *testing.T) {
	l := twelve(t, "U", "PU", "U", "U")
	got := l.LastAttended(0, 3)
	assert.Equal(t, []int32{-1, 1, 1, 1}, got)
}
