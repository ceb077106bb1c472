package support_test

import (
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/core/support"
)

func date(s string) day.Date { return day.MustDate(s) }

// spring is a calendar of school days: weekdays from Monday 2 February 2026 on, but for the week of the 16th.
func spring(t *testing.T, to string) *day.Calendar {
	t.Helper()
	var rows []day.Row
	for d := date("2026-02-02"); d <= date(to); d++ {
		pattern := "normal"
		if d.Weekday() > 5 || d.Monday() == date("2026-02-16") {
			pattern = day.Closed
		}
		rows = append(rows, day.Row{Date: d, Pattern: pattern})
	}
	cal, err := day.NewCalendar([]day.Pattern{{Name: "normal", Slots: []day.Slot{
		{Name: "R", Start: day.MustMinute("08:50"), End: day.MustMinute("09:00")},
		{Name: "6", Start: day.MustMinute("14:20"), End: day.MustMinute("15:20")}}}}, rows)
	require.NoError(t, err)
	return cal
}

func TestTheOrderOfTheWorkList(t *testing.T) {
	today, never, none := date("2026-03-10"), day.NoStart, day.NoEnd
	want := []support.Waiting{
		{Name: "overdue longest", Next: date("2026-03-06"), Last: date("2026-03-09")},
		{Name: "overdue, never reached", Next: date("2026-03-09"), Last: never},
		{Name: "overdue, unmet too", Next: date("2026-03-09"), Last: date("2026-03-01"), Unmet: true},
		{Name: "today", Next: today, Last: never, Concerns: 9},
		{Name: "unmet, never reached", Next: none, Last: never, Unmet: true},
		{Name: "unmet, though a date is ahead", Next: date("2026-03-12"), Last: date("2026-02-25"), Unmet: true},
		{Name: "unmet, reached later", Next: none, Last: date("2026-03-02"), Unmet: true, Concerns: 4},
		{Name: "never", Next: date("2026-03-11"), Last: never, Concerns: 1},
		{Name: "more concerns", Next: none, Last: date("2026-03-04"), Concerns: 3, Since: date("2026-03-01")},
		{Name: "older", Next: none, Last: date("2026-03-04"), Concerns: 2, Since: date("2026-02-01")},
		{Name: "a younger", Next: none, Last: date("2026-03-04"), Concerns: 2, Since: date("2026-02-02")},
		{Name: "b younger", Next: none, Last: date("2026-03-04"), Concerns: 2, Since: date("2026-02-02")},
	}
	for i := range want {
		want[i].Student = i
	}
	got := slices.Clone(want)
	r := rand.New(rand.NewPCG(1, 2))
	for range 200 {
		r.Shuffle(len(got), func(i, j int) { got[i], got[j] = got[j], got[i] })
		slices.SortFunc(got, support.Order(today))
		assert.Equal(t, want, got)
	}
}

// The order is total: of two different students one comes first, whatever they have, and the other way round the
// other.
func TestTheOrderIsTotal(t *testing.T) {
	today := date("2026-03-10")
	r := rand.New(rand.NewPCG(3, 4))
	dates := []day.Date{day.NoStart, date("2026-03-08"), date("2026-03-09"), today, date("2026-03-12"), day.NoEnd}
	var all []support.Waiting
	for i := range 60 {
		all = append(all, support.Waiting{Student: i, Name: "same", Next: dates[1+r.IntN(5)], Last: dates[r.IntN(4)], Unmet: r.IntN(2) == 0, Concerns: r.IntN(3), Since: dates[1+r.IntN(5)]})
	}
	order := support.Order(today)
	for _, a := range all {
		for _, b := range all {
			assert.Equal(t, order(a, b), -order(b, a))
			assert.Equal(t, a.Student == b.Student, order(a, b) == 0)
			for _, c := range all {
				if order(a, b) < 0 && order(b, c) < 0 && order(a, c) >= 0 {
					t.Fatalf("%v before %v before %v", a, b, c)
				}
			}
		}
	}
}

func TestWhetherATimeFitsItsKind(t *testing.T) {
	cal := spring(t, "2026-03-27")
	at := func(d, from string, minutes int) support.Time {
		out := support.Time{Date: date(d), Minutes: minutes}
		if from != "" {
			out.From = day.MustMinute(from)
		}
		return out
	}
	for _, c := range []struct {
		place support.Place
		at    support.Time
		want  string
	}{
		{support.InSchoolTime, at("2026-03-09", "12:20", 30), ""},
		{support.InSchoolTime, at("2026-03-09", "15:00", 20), ""},
		{support.InSchoolTime, at("2026-03-09", "15:00", 30), "it is not wholly in school time, 08:50 to 15:20"},
		{support.InSchoolTime, at("2026-03-07", "12:20", 30), "there is no school on Sat 7 March"},
		{support.InSchoolTime, at("2026-02-18", "", 30), "there is no school on Wed 18 February"},
		{support.InSchoolTime, at("2026-03-09", "", 30), ""},
		{support.OutsideIt, at("2026-03-09", "12:20", 30), "it is in school time, 08:50 to 15:20"},
		{support.OutsideIt, at("2026-03-09", "08:20", 30), ""},
		{support.OutsideIt, at("2026-03-09", "08:20", 31), "it is in school time, 08:50 to 15:20"},
		{support.OutsideIt, at("2026-03-07", "12:20", 30), ""},
		{support.OutsideIt, at("2026-03-09", "15:20", 60), ""},
		{support.Either, at("2026-03-09", "12:20", 30), ""},
		{support.Either, at("2026-03-07", "12:20", 30), ""},
	} {
		assert.Equal(t, c.want, c.place.Question(cal, c.at), "%s %v", c.place, c.at)
	}
}

func TestWeeksOverAHoliday(t *testing.T) {
	cal := spring(t, "2026-03-27")
	mondays := func(w []support.Week) (out []string) {
		for _, x := range w {
			out = append(out, x.Monday.String())
		}
		return out
	}
	weeks := support.Weeks(cal, date("2026-02-11"), date("2026-03-10"), nil)
	assert.Equal(t, []string{"2026-02-09", "2026-02-23", "2026-03-02", "2026-03-09"}, mondays(weeks), "the week without school is none")
	held := []support.Session{{Student: 1, Date: date("2026-02-21"), Minutes: 60}, {Student: 1, Date: date("2026-03-08"), Minutes: 20}}
	weeks = support.Weeks(cal, date("2026-02-11"), date("2026-03-10"), held)
	assert.Equal(t, []string{"2026-02-09", "2026-02-16", "2026-02-23", "2026-03-02", "2026-03-09"}, mondays(weeks), "but where somebody was met in it")

	c := support.Cover(weeks, held, []support.Stay{{1, date("2026-02-13"), day.NoEnd}, {2, date("2026-03-05"), date("2026-03-06")}}, []support.Reason{{2, date("2026-03-02"), "ill all week"}, {1, date("2026-03-02"), "not needed"}})
	on := func(student int) (out []bool) {
		for _, x := range c.Cells[student] {
			out = append(out, x.On)
		}
		return out
	}
	assert.Equal(t, []bool{true, true, true, true, true}, on(1))
	assert.Equal(t, []bool{false, false, false, true, false}, on(2))
	assert.Equal(t, 1, c.Cells[1][3].Sessions, "a Sunday is of the week that ends with it")
	assert.Empty(t, c.Cells[1][3].Reason, "who was met needs none")
	assert.Equal(t, "ill all week", c.Cells[2][3].Reason)
	assert.Equal(t, []int{1, 0, 1, 0, 1}, []int{c.Totals[0].Unmet(weeks[0]), c.Totals[1].Unmet(weeks[1]), c.Totals[2].Unmet(weeks[2]), c.Totals[3].Unmet(weeks[3]), c.Totals[4].Unmet(weeks[4])})
	assert.Equal(t, support.Total{Count: support.Count{Sessions: 1, Minutes: 20}, ByKind: map[int]support.Count{0: {Sessions: 1, Minutes: 20}}, On: 2, Met: 1, Reasons: 1}, c.Totals[3])
	assert.False(t, c.Cells[1][1].Unmet(weeks[1]))
}

// Whatever sessions there are, each counts in one week, by the student and by the kind, and all of them add up.
func TestCoverageAddsUp(t *testing.T) {
	cal := spring(t, "2026-03-27")
	r := rand.New(rand.NewPCG(5, 6))
	for range 50 {
		var sessions []support.Session
		minutes := 0
		for range r.IntN(40) {
			s := support.Session{Student: r.IntN(5), Date: date("2026-02-02") + day.Date(r.IntN(50)), Kind: r.IntN(3), Minutes: 1 + r.IntN(60)}
			sessions, minutes = append(sessions, s), minutes+s.Minutes
		}
		c := support.Cover(support.Weeks(cal, date("2026-02-02"), date("2026-03-27"), sessions), sessions, []support.Stay{{9, date("2026-02-02"), day.NoEnd}}, nil)
		var students, totals, kinds support.Count
		for w, total := range c.Totals {
			totals.Sessions, totals.Minutes = totals.Sessions+total.Sessions, totals.Minutes+total.Minutes
			assert.Equal(t, total.On-total.Met-total.Reasons, 1, "who is on the caseload and never met")
			assert.True(t, c.Weeks[w].Days == 0 || c.Cells[9] == nil || c.Cells[9][w].Unmet(c.Weeks[w]))
		}
		for _, cells := range c.Cells {
			for _, x := range cells {
				students.Sessions, students.Minutes = students.Sessions+x.Sessions, students.Minutes+x.Minutes
				for _, k := range x.ByKind {
					kinds.Sessions, kinds.Minutes = kinds.Sessions+k.Sessions, kinds.Minutes+k.Minutes
				}
			}
		}
		want := support.Count{Sessions: len(sessions), Minutes: minutes}
		assert.Equal(t, []support.Count{want, want, want}, []support.Count{students, totals, kinds})
	}
}

func TestWhatCameOfIt(t *testing.T) {
	cal := spring(t, "2026-05-29")
	upto := cal.UpTo(date("2026-05-29"))
	absent := func(student int, d int) bool { return (student+1)*d%7 < 3 && d < 40 }
	sums := func(student int, s support.Span) (out support.Sums) {
		for d := s.From; d <= s.To; d++ {
			out.Possible++
			if absent(student, d) {
				out.Absent++
				out.Unexcused += d % 2
			}
		}
		return out
	}
	episodes := []support.Episode{
		{Student: 1, Begin: date("2026-03-09"), End: date("2026-03-27")},
		{Student: 2, Begin: date("2026-03-09"), End: date("2026-05-22")}, // five school days after
		{Student: 1, Begin: date("2026-04-13"), End: date("2026-04-13")},
		{Student: 3, Begin: date("2026-02-06"), End: date("2026-02-27")}, // four school days before
		{Student: 4, Begin: date("2026-03-09"), End: date("2026-05-25")}, // four after
	}
	before, after, ok := episodes[0].Sides(cal, upto)
	require.True(t, ok)
	assert.Equal(t, []string{"2026-02-02", "2026-03-06", "2026-03-30", "2026-04-24"}, []string{cal.Day(before.From).Date.String(), cal.Day(before.To).Date.String(), cal.Day(after.From).Date.String(), cal.Day(after.To).Date.String()}, "twenty school days on either side, of which a week is none")
	_, after, ok = episodes[1].Sides(cal, upto)
	assert.Equal(t, 5, after.To-after.From+1)
	assert.True(t, ok)

	got := support.Of(cal, episodes, upto, sums)
	assert.Equal(t, []int{5, 4, 2}, []int{got.Episodes, got.Students, got.Early})
	assert.Equal(t, []int{1, 19, 22, 75, 78}, got.Lengths)
	assert.Equal(t, 22, got.Length())
	var wantBefore, wantAfter support.Sums
	less := 0
	for _, e := range episodes[:3] { // counted again, day by day
		var b, a support.Sums
		for d := range cal.Days() {
			on, one := cal.Day(d).Date, sums(e.Student, support.Span{From: d, To: d})
			if on < e.Begin && cal.UpTo(e.Begin-1)-d < support.Around {
				b = b.Plus(one)
			}
			if on > e.End && d-cal.From(e.End+1) < support.Around {
				a = a.Plus(one)
			}
		}
		wantBefore, wantAfter = wantBefore.Plus(b), wantAfter.Plus(a)
		if a.Absent*b.Possible < b.Absent*a.Possible {
			less++
		}
	}
	assert.Equal(t, wantBefore, got.Before)
	assert.Equal(t, wantAfter, got.After)
	assert.Equal(t, less, got.Less)
	assert.Equal(t, 3, got.Less+got.Same+got.More)
	assert.Zero(t, support.Of(cal, nil, upto, sums).Length())
}
