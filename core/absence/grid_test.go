package absence_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/policy"
)

// Hand-worked: a registration of 15 minutes and lessons of 40 and 60.
func TestCells(t *testing.T) {
	l := absence.NewLedger(calendar(t, 6, twoLessons), plain)
	i := l.AddStudent(student("a"))
	put(t, l, i, 0, "P", "P", "P")
	put(t, l, i, 1, "U", "U", "U")
	put(t, l, i, 2, "P", "M", "U")
	put(t, l, i, 3, "L:-,550", "P", "P")
	put(t, l, i, 4, "Z", "Z", "Z")
	m := absence.NewMeasure(l, base(policy.Day))
	got := m.DayCells(i, absence.Span{From: 0, To: 5})
	code := func(c absence.Cell) string {
		if c.Code == nil {
			return ""
		}
		return c.Code.Code
	}
	for d, want := range []struct {
		code          string
		share, absent int
		possible      bool
		unmarked      bool
	}{{"", 0, 0, true, false}, {"U", 100, 1, true, false}, {"U", 86, 1, true, false}, {"L", 13, 0, true, false}, {"Z", 0, 0, false, false}, {"", 0, 0, false, true}} {
		assert.Equal(t, want.code, code(got[d]), "day %d", d)
		assert.Equal(t, []any{want.share, want.absent, want.possible, want.unmarked}, []any{got[d].Share, got[d].Absent, got[d].Possible, got[d].Unmarked}, "day %d", d)
	}
	slots := m.SlotCells(i, 2)
	assert.Equal(t, []string{"P", "M", "U"}, []string{code(slots[0]), code(slots[1]), code(slots[2])})
	assert.Equal(t, []int{0, 100, 100}, []int{slots[0].Share, slots[1].Share, slots[2].Share})
	assert.Equal(t, map[string]int{"P": 6, "U": 4, "M": 1, "L": 1, "Z": 3}, m.CodeCounts(i, absence.Span{From: 0, To: 5}))
}

// The grid's totals are the table's: over days in any unit, and over slots in sessions; its codes
// are all the marks there are.
func TestAGridAddsUpToTheTable(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		l := randomSchool(t)
		withTimes(t, l)
		span := absence.Span{From: rapid.IntRange(0, 10).Draw(t, "from"), To: rapid.IntRange(-1, 14).Draw(t, "to")}
		for unit := policy.Day; unit <= policy.Minutes; unit++ {
			m := absence.NewMeasure(l, base(unit))
			f := m.Student(2, span)
			days, slots, possible, marks := 0, 0, 0, 0
			for n, c := range m.DayCells(2, span) {
				days += c.Absent
				if c.Possible {
					possible++
				}
				for _, s := range m.SlotCells(2, span.From+n) {
					slots += s.Absent
					if s.Code != nil {
						marks++
					}
				}
			}
			assert.Equal(t, f.Absent, days)
			if unit == policy.Day {
				assert.Equal(t, f.Possible, possible)
			}
			if unit == policy.Session {
				assert.Equal(t, f.Absent, slots)
				lessons := m.Lessons(2, span)
				assert.Equal(t, []int{f.Absent, f.Excused, f.Unexplained, f.Void, f.Lates, f.Possible}, []int{lessons.Absent(), lessons.Excused, lessons.Unknown, lessons.Exempt, lessons.Lates, lessons.Marked - lessons.Exempt})
			}
			for _, n := range m.CodeCounts(2, span) {
				marks -= n
			}
			assert.Zero(t, marks)
		}
	})
}

// When it was missed adds up to what was missed: weeks and weekdays in any unit, slots in minutes.
func TestATrendAddsUpToTheGroup(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		l := randomSchool(t)
		withTimes(t, l)
		span := absence.Span{From: rapid.IntRange(0, 10).Draw(t, "from"), To: rapid.IntRange(-1, 14).Draw(t, "to")}
		all := []int{0, 1, 2}
		for unit := policy.Day; unit <= policy.Minutes; unit++ {
			m := absence.NewMeasure(l, base(unit))
			g, trend := m.Group(all, span), m.Trend(all, span)
			var weeks, days, minutes, want absence.Sum
			for _, w := range trend.Weeks {
				weeks.Possible, weeks.Absent = weeks.Possible+w.Possible, weeks.Absent+w.Absent
			}
			for _, d := range trend.Weekdays {
				days.Possible, days.Absent = days.Possible+d.Possible, days.Absent+d.Absent
			}
			for _, s := range trend.Slots {
				minutes.Possible, minutes.Absent = minutes.Possible+s.Possible, minutes.Absent+s.Absent
			}
			for _, i := range all {
				f := m.Student(i, span)
				want.Possible, want.Absent = want.Possible+f.DueMinutes, want.Absent+f.MissedMinutes
			}
			assert.Equal(t, absence.Sum{Possible: g.Possible, Absent: g.Absent}, weeks)
			assert.Equal(t, weeks, days)
			assert.Equal(t, want, minutes)
		}
	})
}

// Hand-worked: lessons of 40 and 60 after a registration of 15 minutes; a day counts from half on.
func TestInstead(t *testing.T) {
	l := absence.NewLedger(calendar(t, 3, twoLessons), plain)
	i := l.AddStudent(student("a"))
	for d := range 3 {
		put(t, l, i, d, "P", "P", "P")
	}
	m := absence.NewMeasure(l, base(policy.Day))
	unexcused, _ := plain.Index("U")
	short := m.Instead(i, 2, unexcused, day.MustMinute("08:45"), day.MustMinute("09:25"))
	assert.Equal(t, []string{"AM", "1"}, short.Slots)
	assert.Equal(t, []int{40, 0, 0}, []int{short.Minutes, short.Before.Absent, short.After.Absent}, "40 of 115 minutes are no day")
	assert.Equal(t, 40, short.After.MissedMinutes)
	long := m.Instead(i, 2, unexcused, day.MustMinute("08:50"), day.MustMinute("10:30"))
	assert.Equal(t, []int{80, 1, 1}, []int{long.Minutes, long.After.Absent, long.After.Unexcused})
	none := m.Instead(i, 2, unexcused, day.MustMinute("12:00"), day.MustMinute("13:00"))
	assert.Empty(t, none.Slots)
	assert.Equal(t, none.Before, none.After)
	assert.Zero(t, m.Student(i, absence.Span{From: 0, To: 2}).MissedMinutes, "nothing was changed")
}
