package absence_test

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/policy"
)

var plain = mustSet([]policy.Code{
	{Code: "P", Counts: policy.Attended, OnSite: true},
	{Code: "L", Counts: policy.Attended, Late: true, OnSite: true},
	{Code: "LX", Counts: policy.Attended, Late: true, OnSite: true, MinutesAsExcused: true},
	{Code: "X", Counts: policy.Excused},
	{Code: "M", Counts: policy.Excused, Medical: true},
	{Code: "U", Counts: policy.Unexcused},
	{Code: "N", Counts: policy.Unexcused, Unexplained: true},
	{Code: "V", Counts: policy.Activity},
	{Code: "Z", Counts: policy.Void},
	{Code: "D", Counts: policy.Attended, OnSite: true, MinutesAsExcused: true},
})

func mustSet(codes []policy.Code) *policy.CodeSet {
	s, err := policy.NewCodeSet("plain", codes)
	if err != nil {
		panic(err)
	}
	return s
}

// twoLessons is a day of a 15-minute registration and two lessons of 40 and 60.
var twoLessons = day.Pattern{Name: "short", Slots: []day.Slot{
	{Name: "AM", Start: day.MustMinute("08:45"), End: day.MustMinute("09:00"), Kind: day.Registration},
	{Name: "1", Start: day.MustMinute("09:00"), End: day.MustMinute("09:40")},
	{Name: "2", Start: day.MustMinute("10:00"), End: day.MustMinute("11:00")},
}}

// calendar returns n school days, Monday to Friday from 1 September 2025.
func calendar(t testing.TB, n int, pattern day.Pattern) *day.Calendar {
	var rows []day.Row
	for d := day.MustDate("2025-09-01"); n > 0; d++ {
		if d.Weekday() > 5 {
			continue
		}
		rows = append(rows, day.Row{Date: d, Pattern: pattern.Name, Term: "autumn", GradingPeriod: "q1"})
		n--
	}
	c, err := day.NewCalendar([]day.Pattern{pattern}, rows)
	require.NoError(t, err)
	return c
}

func whole() (policy.Fraction, policy.Fraction) {
	return policy.NewFraction(1, 1), policy.NewFraction(0, 1)
}

func student(id string) absence.Student {
	here, elsewhere := whole()
	return absence.Student{ID: id, Enrolled: []day.Dates{day.Always}, ShareHere: here, ShareElsewhere: elsewhere}
}

func base(unit policy.Unit) *policy.Policy {
	b1, b2, b3 := policy.NewFraction(1, 20), policy.NewFraction(1, 10), policy.NewFraction(1, 5)
	return &policy.Policy{ID: "test", Unit: unit, DayAbsentAt: policy.NewFraction(1, 2), Threshold: policy.NewFraction(1, 10),
		Bands: []policy.Band{{Name: "on course", Below: &b1}, {Name: "at risk", Below: &b2}, {Name: "chronic", Below: &b3}, {Name: "severe"}}}
}

// put marks a day's slots with codes; "" leaves a slot unmarked. A code may carry
// times: "L:-,550" came at 550, "D:620,-" left at 620.
func put(t testing.TB, l *absence.Ledger, i, d int, codes ...string) {
	t.Helper()
	for pos, c := range codes {
		if c == "" {
			continue
		}
		m := absence.Mark{}
		code, times, timed := strings.Cut(c, ":")
		if timed {
			from, to, _ := strings.Cut(times, ",")
			m.From, m.To = minute(from), minute(to)
		}
		k, ok := plain.Index(code)
		require.True(t, ok, code)
		m.Code = k
		require.NoError(t, l.Set(i, d, pos, m))
	}
}

func minute(s string) day.Minute {
	if s == "-" {
		return day.Minute{}
	}
	var m int
	_, _ = fmt.Sscan(s, &m)
	return day.Midnight.Add(day.Minutes(m))
}

func TestMinutesOfOneDay(t *testing.T) {
	cases := []struct {
		name                          string
		codes                         []string
		due, missed, excused, unexcus int
		verdict                       absence.Verdict
	}{
		{"all in", []string{"P", "P", "P"}, 115, 0, 0, 0, absence.WasAttended},
		{"all missed without a reason", []string{"N", "N", "N"}, 115, 115, 0, 115, absence.WasUnexcused},
		{"ill all day", []string{"M", "M", "M"}, 115, 115, 115, 0, absence.WasExcused},
		{"an unmarked slot adds nothing", []string{"P", "", "U"}, 75, 60, 0, 60, absence.WasUnexcused},
		{"void is not due", []string{"Z", "P", "P"}, 100, 0, 0, 0, absence.WasAttended},
		{"void all day makes no day", []string{"Z", "Z", "Z"}, 0, 0, 0, 0, absence.NotPossible},
		{"half exactly is absent", []string{"P", "P", "U:602,-"}, 115, 58, 0, 58, absence.WasUnexcused},
		{"late by ten of forty", []string{"P", "L:-,550", "P"}, 115, 10, 0, 10, absence.WasAttended},
		{"late, excused", []string{"P", "LX:-,550", "P"}, 115, 10, 10, 0, absence.WasAttended},
		{"left early", []string{"P", "P", "D:620,-"}, 115, 40, 40, 0, absence.WasAttended},
		{"times outside the slot miss nothing", []string{"P", "L:-,500", "P"}, 115, 0, 0, 0, absence.WasAttended},
		{"an activity misses nothing", []string{"P", "V:540,570", "P"}, 115, 0, 0, 0, absence.WasAttended},
		{"an even day is unexcused", []string{"", "M:540,560", "U:600,620"}, 100, 40, 20, 20, absence.WasAttended},
	}
	for _, c := range cases {
		t.Run(c.name, func(t *testing.T) {
			l := absence.NewLedger(calendar(t, 1, twoLessons), plain)
			i := l.AddStudent(student("a"))
			put(t, l, i, 0, c.codes...)
			d := absence.NewMeasure(l, base(policy.Day)).Days(i, absence.Span{From: 0, To: 0})[0]
			assert.Equal(t, []int{c.due, c.missed, c.excused, c.unexcus}, []int{d.Due, d.Missed, d.Excused, d.Unexcused})
			assert.Equal(t, c.verdict, d.Verdict)
		})
	}
}

// Common practice, no source: 10 % of 180 days is 18 days, of 190 days 19 days,
// or 38 half-day sessions.
func TestTenPerCentOfAYear(t *testing.T) {
	tenth := policy.NewFraction(1, 10)
	for _, c := range []struct{ units, line int }{{180, 18}, {190, 19}, {380, 38}} {
		assert.Equal(t, absence.Room{Known: true, Units: c.line - 1}, absence.Headroom(0, 0, c.units, tenth), "of %d", c.units)
		assert.Equal(t, absence.Room{Known: true}, absence.WayBack(c.line-1, c.units, tenth))
		assert.Equal(t, absence.Room{Known: true, Units: 1}, absence.WayBack(c.line, c.units, tenth))
	}
}

func TestHeadroomAndWayBackByBruteForce(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(0, 200).Draw(t, "possible")
		a := rapid.IntRange(0, n).Draw(t, "absent")
		r := rapid.IntRange(0, 100).Draw(t, "to come")
		q := rapid.IntRange(1, 30).Draw(t, "q")
		p := rapid.IntRange(1, q).Draw(t, "p")
		th := policy.NewFraction(int64(p), int64(q))
		want := absence.Room{Known: n+r > 0, None: n+r > 0}
		for x := 0; x <= r && n+r > 0; x++ {
			if (a+x)*q < p*(n+r) {
				want = absence.Room{Known: true, Units: x}
			}
		}
		assert.Equal(t, want, absence.Headroom(a, n, r, th))
		m := 0
		for n > 0 && a*q >= p*(n+m) {
			m++
		}
		assert.Equal(t, absence.Room{Known: true, Units: m}, absence.WayBack(a, n, th))
		back := absence.Figures{WayBack: absence.WayBack(a, n, th), ToCome: r}
		assert.Equal(t, n == 0 || a*q < p*(n+r), back.BackInTime(), "attending all that is to come gets below, or does not")
	})
}

// Common practice, no source: five full days of 375 minutes are 1,875, past
// 30 hours; seven are 2,625, past 38.
func TestFullDaysOfAPartTimeStudent(t *testing.T) {
	long := day.Pattern{Name: "long", Slots: []day.Slot{{Name: "1", Start: day.MustMinute("09:00"), End: day.MustMinute("09:40")}, {Name: "2", Start: day.MustMinute("10:00"), End: day.MustMinute("15:35")}}}
	l := absence.NewLedger(calendar(t, 7, long), plain)
	s := student("part")
	s.ShareHere, s.ShareElsewhere = policy.NewFraction(1, 2), policy.NewFraction(1, 2)
	s.Schedule = []absence.ScheduleRow{{Slot: "1", On: day.Always}}
	i := l.AddStudent(s)
	for d := range 7 {
		put(t, l, i, d, "U")
	}
	p := base(policy.Minutes)
	p.Basis = policy.FullDay
	p.Triggers = []policy.Trigger{{ID: "run", Of: policy.SideUnexcused, Reach: 1800, Window: policy.Window{Kind: policy.Run}}}
	m := absence.NewMeasure(l, p)
	f := m.Student(i, absence.Span{From: 0, To: 4})
	assert.Equal(t, 5*40, f.MissedMinutes)
	assert.Equal(t, 1875, f.ChargedMinutes)
	assert.Equal(t, 2625, m.Student(i, absence.Span{From: 0, To: 6}).ChargedMinutes)
	r := m.Triggers(i, 6)[0]
	assert.Equal(t, 4, r.On)
	assert.Equal(t, 2625, r.Now)
}

func TestRunsOfMinutes(t *testing.T) {
	l := absence.NewLedger(calendar(t, 4, twoLessons), plain)
	i := l.AddStudent(student("a"))
	put(t, l, i, 0, "P", "U", "U")       // 100 at the end of the day
	put(t, l, i, 1, "U", "Z", "U:-,610") // 15, void leaves it, 10, then attended
	put(t, l, i, 2, "", "", "")          // unmarked leaves it
	put(t, l, i, 3, "M", "U:560,-", "U") // an absence of another side, then 20 + 60
	p := base(policy.Minutes)
	p.Triggers = []policy.Trigger{
		{ID: "r", Of: policy.SideUnexcused, Reach: 125, Window: policy.Window{Kind: policy.Run}},
		{ID: "days", Count: policy.CountDays, Of: policy.SideUnexcused, Reach: 2, Window: policy.Window{Kind: policy.Run}},
	}
	m := absence.NewMeasure(l, p)
	got := m.Triggers(i, 3)
	assert.Equal(t, 1, got[0].On, "100 + 15 + 10 within the second day")
	assert.Equal(t, 80, got[0].Now)
	assert.False(t, got[1].Ever, "the second day is under half")
	assert.Equal(t, 0, m.Triggers(i, 1)[0].Now)
}

func TestWindows(t *testing.T) {
	l := absence.NewLedger(calendar(t, 30, twoLessons), plain)
	i := l.AddStudent(student("a"))
	for d := range 30 {
		code := "P"
		if d%4 == 0 { // days 0, 4, 8, … 28
			code = "U"
		}
		put(t, l, i, d, code, code, code)
	}
	cases := []struct {
		window  policy.Window
		now, on int
	}{
		{policy.Window{Kind: policy.Year}, 8, 8},
		{policy.Window{Kind: policy.RollingDays, N: 10}, 3, 8}, // 20, 24, 28
		{policy.Window{Kind: policy.RollingWeeks, N: 2}, 3, 8}, // school days 20 to 29
		{policy.Window{Kind: policy.FourWeeks}, 3, 8},          // the run of days 20 to 39
		{policy.Window{Kind: policy.Month}, 2, 8},              // October: days 22 to 29 hold 24 and 28
		{policy.Window{Kind: policy.Term}, 8, 8},
	}
	for _, c := range cases {
		p := base(policy.Day)
		p.Triggers = []policy.Trigger{{ID: "t", Count: policy.CountDays, Of: policy.SideUnexcused, Reach: 3, Window: c.window}}
		got := absence.NewMeasure(l, p).Triggers(i, 29)[0]
		assert.Equal(t, []int{c.now, c.on}, []int{got.Now, got.On}, "%+v", c.window)
	}
}

func TestLadderCountsByClassAndStartsAgain(t *testing.T) {
	l := absence.NewLedger(calendar(t, 6, twoLessons), plain)
	i := l.AddStudent(student("a"))
	k, _ := plain.Index("L")
	for d := range 5 {
		require.NoError(t, l.Set(i, d, 1, absence.Mark{Code: k, To: day.MustMinute("09:05"), Class: "geography"}))
	}
	require.NoError(t, l.Set(i, 5, 2, absence.Mark{Code: k, To: day.MustMinute("10:05"), Class: "art"}))
	p := base(policy.Day)
	p.Ladders = []policy.Ladder{{ID: "lateness", Per: policy.PerClass, Within: policy.GradingPeriod,
		Steps: []policy.Step{{From: 2, To: 2, Do: []string{"word"}}, {From: 4, Do: []string{"contact-home"}}}}}
	m := absence.NewMeasure(l, p)
	var got []string
	for _, s := range m.Steps(i, 5) {
		got = append(got, fmt.Sprint(s.Scope, " ", s.Count, " ", s.Day, s.Do))
	}
	assert.Equal(t, []string{"geography 2 1 [word]", "geography 4 3 [contact-home]", "geography 5 4 [contact-home]"}, got)
	l.Clear(i, 1, 1)
	assert.Len(t, m.Steps(i, 5), 2, "taking a late back takes its step back")
}

// randomSchool fills a small ledger with random marks.
func randomSchool(t *rapid.T) *absence.Ledger {
	var rows []day.Row
	for i := range day.Date(15) {
		rows = append(rows, day.Row{Date: day.MustDate("2025-09-01") + i, Pattern: "short", Term: "autumn", GradingPeriod: "q1"})
	}
	c, err := day.NewCalendar([]day.Pattern{twoLessons}, rows)
	require.NoError(t, err)
	l := absence.NewLedger(c, plain)
	for n := range 3 {
		i := l.AddStudent(student(fmt.Sprint(n)))
		for d := range 15 {
			for pos := range 3 {
				k := rapid.IntRange(-1, len(plain.Codes)-1).Draw(t, "code")
				if k >= 0 {
					require.NoError(t, l.Set(i, d, pos, absence.Mark{Code: k}))
				}
			}
		}
	}
	return l
}

func TestFiguresHoldTogether(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		l := randomSchool(t)
		unit := policy.Unit(rapid.IntRange(0, 2).Draw(t, "unit"))
		m := absence.NewMeasure(l, base(unit))
		span := absence.Span{From: 0, To: rapid.IntRange(-1, 14).Draw(t, "to")}
		possible, absent := 0, 0
		for i := range 3 {
			f := m.Student(i, span)
			assert.Equal(t, f.Absent, f.Excused+f.Unexcused)
			assert.LessOrEqual(t, f.Absent, f.Possible)
			possible, absent = possible+f.Possible, absent+f.Absent
		}
		g := m.Group([]int{0, 1, 2}, span)
		assert.Equal(t, []int{possible, absent}, []int{g.Possible, g.Absent})
	})
}

func TestLedgerRefusesAMarkWhereNobodyIsDue(t *testing.T) {
	l := absence.NewLedger(calendar(t, 5, twoLessons), plain)
	s := student("a")
	s.Enrolled, s.Schedule = []day.Dates{day.Since(day.MustDate("2025-09-02"))}, []absence.ScheduleRow{{Slot: "1", Weekday: 3, On: day.Always}}
	i := l.AddStudent(s)
	mark := absence.Mark{}
	assert.Error(t, l.Set(i, 0, 1, mark), "before enrolment")
	assert.Error(t, l.Set(i, 2, 0, mark), "not on the schedule")
	assert.Error(t, l.Set(i, 3, 1, mark), "not on this weekday")
	assert.NoError(t, l.Set(i, 2, 1, mark))
}

func TestBandSince(t *testing.T) {
	l := absence.NewLedger(calendar(t, 20, twoLessons), plain)
	i := l.AddStudent(student("a"))
	for d := range 20 {
		code := "P"
		if d == 3 || d == 12 {
			code = "U"
		}
		put(t, l, i, d, code, code, code)
	}
	m := absence.NewMeasure(l, base(policy.Day))
	since, ok := m.BandSince(i, 19, 2) // 1/10 on day 9, 1/11 on day 10, 2/13 on day 12, 2/20 on day 19
	assert.True(t, ok)
	assert.Equal(t, 12, since)
	_, ok = m.BandSince(i, 11, 2)
	assert.False(t, ok)
}

func school(b testing.TB, students, days, slots int) *absence.Ledger {
	p := day.Pattern{Name: "long"}
	for k := range slots {
		p.Slots = append(p.Slots, day.Slot{Name: fmt.Sprint(k), Start: day.Midnight.Add(day.Minutes(540 + 45*k)), End: day.Midnight.Add(day.Minutes(580 + 45*k))})
	}
	l := absence.NewLedger(calendar(b, days, p), plain)
	r := rand.New(rand.NewPCG(1, 2))
	for n := range students {
		i := l.AddStudent(student(fmt.Sprint(n)))
		for d := range days {
			for k := range slots {
				m := absence.Mark{}
				if r.IntN(16) == 0 {
					m.Code = r.IntN(len(plain.Codes))
				}
				if m.Code == 1 {
					m.To = p.Slots[k].Start.Add(7)
				}
				require.NoError(b, l.Set(i, d, k, m))
			}
		}
	}
	return l
}

func BenchmarkTenPercentWholeSchool(b *testing.B) {
	l := school(b, 2000, 190, 8)
	p := base(policy.Day)
	p.MinPossible = 10
	b.ResetTimer()
	b.ReportAllocs()
	for b.Loop() {
		m := absence.NewMeasure(l, p)
		for i := range l.Len() {
			m.Student(i, absence.Span{From: 0, To: 189})
		}
	}
}
