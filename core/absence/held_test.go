package absence_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/policy"
)

// after is a code set that names the same otherwise: here P is void and Q present.
var after = mustSet([]policy.Code{
	{Code: "Q", Counts: policy.Attended, OnSite: true},
	{Code: "P", Counts: policy.Void},
	{Code: "W", Counts: policy.Excused, Medical: true},
	{Code: "L", Counts: policy.Attended, Late: true, OnSite: true},
	{Code: "O", Counts: policy.Unexcused},
})

// changing is a school whose day pattern, code set, schedules and shares change, and a
// student of which leaves and comes back.
type changing struct {
	patterns []day.Pattern
	rows     []day.Row
	codes    []absence.CodesFrom
	student  absence.Student
}

func drawChanging(t *rapid.T) changing {
	first := day.MustDate("2025-09-01")
	date := func(name string) day.Date { return first + day.Date(rapid.IntRange(0, 27).Draw(t, name)) }
	x := changing{patterns: []day.Pattern{twoLessons}}
	for d := first; d < first+28; d++ {
		if d.Weekday() < 6 {
			x.rows = append(x.rows, day.Row{Date: d, Pattern: twoLessons.Name, Term: "autumn", GradingPeriod: "q1"})
		}
	}
	if rapid.Bool().Draw(t, "pattern changes") {
		x.patterns = append(x.patterns, day.Pattern{Name: twoLessons.Name, Since: date("pattern"), Slots: []day.Slot{
			{Name: "reg", Start: day.MustMinute("08:40"), End: day.MustMinute("09:00"), Kind: day.Registration},
			{Name: "2", Start: day.MustMinute("09:10"), End: day.MustMinute("10:00")}}})
	}
	if rapid.Bool().Draw(t, "codes change") {
		x.codes = []absence.CodesFrom{{From: date("codes"), Set: after}}
	}
	x.student = student("a")
	x.student.Enrolled = []day.Dates{day.Always}
	if rapid.Bool().Draw(t, "leaves") {
		left := date("left")
		x.student.Enrolled = []day.Dates{{From: first, To: left}, day.Since(left + 1 + day.Date(rapid.IntRange(1, 9).Draw(t, "away")))}
	}
	if rapid.Bool().Draw(t, "part-time") {
		from := date("part-time from")
		x.student.Schedule = []absence.ScheduleRow{{Slot: "2", On: day.Since(from)}}
		for _, slot := range []string{"AM", "1", "2", "reg"} {
			x.student.Schedule = append(x.student.Schedule, absence.ScheduleRow{Slot: slot, On: day.Dates{From: day.NoStart, To: from - 1}})
		}
		x.student.Shares = []absence.Shares{{Here: policy.NewFraction(1, 3), Elsewhere: policy.NewFraction(1, 3), On: day.Since(from)}}
	}
	return x
}

func (x changing) ledger(t *rapid.T, upTo day.Date) *absence.Ledger {
	cal, err := day.NewCalendar(x.patterns, x.rows)
	require.NoError(t, err)
	l := absence.NewLedger(cal, plain, x.codes...)
	i := l.AddStudent(x.student)
	for d := range cal.Days() {
		date := cal.Day(d).Date
		for pos := range cal.Day(d).Pattern.Slots {
			if date <= upTo && l.Due(i, d, pos) {
				require.NoError(t, l.Set(i, d, pos, absence.Mark{Code: (int(date)*7 + pos*3) % len(l.Codes(d).Codes)}))
			}
		}
	}
	return l
}

// before is what stood on a date: nothing that began after it.
func (x changing) before(d day.Date) changing {
	y := changing{rows: x.rows, student: x.student}
	for _, p := range x.patterns {
		if p.Since <= d {
			y.patterns = append(y.patterns, p)
		}
	}
	for _, c := range x.codes {
		if c.From <= d {
			y.codes = append(y.codes, c)
		}
	}
	y.student.Enrolled, y.student.Schedule, y.student.Shares = nil, nil, nil
	for _, e := range x.student.Enrolled {
		if e.From <= d {
			y.student.Enrolled = append(y.student.Enrolled, e)
		}
	}
	for _, r := range x.student.Schedule {
		if r.On.From <= d {
			y.student.Schedule = append(y.student.Schedule, r)
		}
	}
	for _, s := range x.student.Shares {
		if s.On.From <= d {
			y.student.Shares = append(y.student.Shares, s)
		}
	}
	return y
}

// The figures of a date depend on nothing that began after it. What is still to come is of
// the year as planned, and so is the room that is left in it.
func TestFiguresDependOnNothingThatBeganLater(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		x := drawChanging(t)
		p := everyTrigger(t)
		date := day.MustDate("2025-09-01") + day.Date(rapid.IntRange(0, 27).Draw(t, "as at"))
		now, then := x.ledger(t, day.NoEnd), x.before(date).ledger(t, date)
		a, b := absence.NewMeasure(now, p), absence.NewMeasure(then, p)
		asAt := now.Calendar().UpTo(date)
		whole, early := a.Year(0, asAt), b.Year(0, asAt)
		for _, f := range []*absence.Figures{&whole.Figures, &early.Figures} {
			f.Headroom, f.ToCome = absence.Room{}, 0
		}
		assert.Equal(t, early.Figures, whole.Figures)
		assert.Equal(t, early.Triggers, whole.Triggers)
		assert.Equal(t, early.Steps, whole.Steps)
		assert.Equal(t, b.Days(0, absence.Span{From: 0, To: asAt}), a.Days(0, absence.Span{From: 0, To: asAt}))
		assert.Equal(t, b.Reasons([]int{0}, absence.Span{From: 0, To: asAt}), a.Reasons([]int{0}, absence.Span{From: 0, To: asAt}))
	})
}

// Worked by hand: four days of 115 minutes. The student is there on the first, away on
// the second, enrolled again on the third; from the fourth on the code P is void. From the
// third on only lesson 2 is due, on a third of full time.
func TestAYearInWhichEverythingChanges(t *testing.T) {
	l := absence.NewLedger(calendar(t, 4, twoLessons), plain, absence.CodesFrom{From: day.MustDate("2025-09-04"), Set: after})
	s := student("a")
	wednesday := day.MustDate("2025-09-03")
	s.Enrolled = []day.Dates{{From: day.NoStart, To: wednesday - 2}, day.Since(wednesday)}
	s.Shares = []absence.Shares{{Here: policy.NewFraction(1, 3), Elsewhere: policy.NewFraction(1, 3), On: day.Since(wednesday)}}
	for _, slot := range []string{"AM", "1", "2"} {
		s.Schedule = append(s.Schedule, absence.ScheduleRow{Slot: slot, On: day.Dates{From: day.NoStart, To: wednesday - 1}})
	}
	s.Schedule = append(s.Schedule, absence.ScheduleRow{Slot: "2", On: day.Since(wednesday)})
	i := l.AddStudent(s)
	put(t, l, i, 0, "P", "P", "U")
	assert.ErrorContains(t, l.Set(i, 1, 0, absence.Mark{}), "not due")
	put(t, l, i, 2, "", "", "U")
	void, _ := after.Index("P")
	require.NoError(t, l.Set(i, 3, 2, absence.Mark{Code: void}))

	p := base(policy.Minutes)
	p.Basis = policy.FullDay
	f := absence.NewMeasure(l, p).Student(i, absence.Span{From: 0, To: 3})
	assert.Equal(t, []int{175, 120, 60 + 77, 1}, []int{f.DueMinutes, f.MissedMinutes, f.ChargedMinutes, f.Void}, "two thirds of 115 are 77")
	sessions := absence.NewMeasure(l, base(policy.Session)).Student(i, absence.Span{From: 0, To: 0})
	assert.Equal(t, 2, sessions.ToCome, "lesson 2 of Wednesday and of Thursday")
	group := absence.NewMeasure(l, base(policy.Day)).Group([]int{i}, absence.Span{From: 0, To: 3})
	assert.Equal(t, 3, group.EnrolledDays)
}
