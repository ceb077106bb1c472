package absence_test

import (
	"fmt"
	"math/big"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/policy"
)

var everyWindow = []policy.Window{{Kind: policy.Year}, {Kind: policy.Term}, {Kind: policy.GradingPeriod}, {Kind: policy.Month},
	{Kind: policy.FourWeeks}, {Kind: policy.RollingWeeks, N: 2}, {Kind: policy.RollingDays, N: 4}, {Kind: policy.Run}}

// everyTrigger is a policy of the unit with a trigger for every count and window.
func everyTrigger(t *rapid.T) *policy.Policy {
	p := base(policy.Unit(rapid.IntRange(0, 2).Draw(t, "unit")))
	p.Basis = policy.Basis(rapid.IntRange(0, 1).Draw(t, "basis"))
	sides := policy.Side(rapid.IntRange(1, 7).Draw(t, "sides"))
	for _, w := range everyWindow {
		for _, c := range []policy.Count{policy.CountMinutes, policy.CountSessions, policy.CountDays, policy.CountLates} {
			if c == policy.CountLates && w.Kind == policy.Run {
				continue
			}
			p.Triggers = append(p.Triggers, policy.Trigger{ID: fmt.Sprint(w, c), Count: c, Of: sides, Reach: rapid.IntRange(1, 200).Draw(t, "reach"), Window: w})
		}
	}
	p.Ladders = []policy.Ladder{{ID: "l", Per: policy.PerSlot, Within: policy.Term, Steps: []policy.Step{{From: 2, Do: []string{"word"}}}}}
	return p
}

// withTimes gives some marks times.
func withTimes(t *rapid.T, l *absence.Ledger) {
	for i := range l.Len() {
		for range rapid.IntRange(0, 12).Draw(t, "timed") {
			d, pos := rapid.IntRange(0, 14).Draw(t, "day"), rapid.IntRange(0, 2).Draw(t, "slot")
			m := absence.Mark{Code: rapid.IntRange(0, len(plain.Codes)-1).Draw(t, "code"), To: day.Midnight.Add(day.Minutes(rapid.IntRange(520, 670).Draw(t, "to")))}
			require.NoError(t, l.Set(i, d, pos, m))
		}
	}
}

// One pass for several policies says what each says alone.
func TestAPanelSaysWhatItsPoliciesSay(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		l := randomSchool(t)
		withTimes(t, l)
		registrations := everyTrigger(t)
		registrations.RegistrationOnly = true
		policies := []*policy.Policy{everyTrigger(t), registrations, everyTrigger(t)}
		panel := absence.NewPanel(l, policies...)
		asAt := rapid.IntRange(-1, 14).Draw(t, "as at")
		for i := range l.Len() {
			for n, r := range panel.Student(i, asAt) {
				alone := absence.NewMeasure(l, policies[n])
				assert.Equal(t, alone.Student(i, absence.Span{From: 0, To: asAt}), r.Figures)
				assert.Equal(t, alone.Triggers(i, asAt), r.Triggers)
				assert.Equal(t, alone.Steps(i, asAt), r.Steps)
				assert.Equal(t, alone.Year(i, asAt), r)
			}
		}
	})
}

// What is behind a count adds up to it, for every count and window.
func TestWhatIsBehindACountAddsUpToIt(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		l := randomSchool(t)
		withTimes(t, l)
		m := absence.NewMeasure(l, everyTrigger(t))
		asAt := rapid.IntRange(-1, 14).Draw(t, "as at")
		for n, r := range m.Triggers(0, asAt) {
			want := r.Now
			if r.Ever {
				want = r.CountThen
			}
			sum := 0
			for _, a := range m.Behind(0, n, asAt) {
				assert.Positive(t, a.Amount)
				assert.LessOrEqual(t, a.Day, asAt)
				sum += a.Amount
			}
			assert.Equal(t, want, sum, "%v in %+v", r.Trigger.Count, r.Trigger.Window)
		}
	})
}

// Days, reasons and bases take the same minutes apart.
func TestPartsAddUpToTheFigure(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		l := randomSchool(t)
		withTimes(t, l)
		m := absence.NewMeasure(l, everyTrigger(t))
		span := absence.Span{From: rapid.IntRange(0, 8).Draw(t, "from"), To: rapid.IntRange(0, 14).Draw(t, "to")}
		f := m.Student(1, span)
		due, missed, charged := 0, 0, 0
		for _, d := range m.Days(1, span) {
			due, missed, charged = due+d.Due, missed+d.Missed, charged+d.Charged
		}
		assert.Equal(t, []int{f.DueMinutes, f.MissedMinutes, f.ChargedMinutes}, []int{due, missed, charged})
		byReason := 0
		for _, r := range m.Reasons([]int{1}, span) {
			byReason += r.Minutes
		}
		assert.Equal(t, f.MissedMinutes, byReason)
		b := m.Bases(1, span)
		assert.Equal(t, []int{f.DueMinutes, f.MissedMinutes}, []int{b.Due, b.Scheduled})
		assert.Equal(t, b.FullDay-b.Scheduled, b.FullOf-b.FullSeen, "full days are all the difference")
	})
}

// A group's parts add up to the group, however it is parted.
func TestAGroupsPartsAddUpToIt(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		l := randomSchool(t)
		m := absence.NewMeasure(l, everyTrigger(t))
		span := absence.Span{From: rapid.IntRange(0, 8).Draw(t, "from"), To: rapid.IntRange(-1, 14).Draw(t, "to")}
		whole, a, b := m.Group([]int{0, 1, 2}, span), m.Group([]int{2}, span), m.Group([]int{0, 1}, span)
		assert.Equal(t, []int{whole.Students, whole.Possible, whole.Absent, whole.Excused, whole.Unexcused, whole.AttendedDays, whole.EnrolledDays},
			[]int{a.Students + b.Students, a.Possible + b.Possible, a.Absent + b.Absent, a.Excused + b.Excused, a.Unexcused + b.Unexcused, a.AttendedDays + b.AttendedDays, a.EnrolledDays + b.EnrolledDays})
		for n := range whole.Bands {
			assert.Equal(t, whole.Bands[n], a.Bands[n]+b.Bands[n])
		}
		attendance, ok := whole.AverageDailyAttendance()
		assert.Equal(t, whole.SchoolDays > 0, ok)
		membership, _ := whole.AverageDailyMembership()
		assert.LessOrEqual(t, attendance.Rat().Cmp(membership.Rat()), 0)
	})
}

// Where all sections have one calendar, their sum is what they come to together.
func TestSectionsOfOneCalendarAreAsOneSchool(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		l := randomSchool(t)
		withTimes(t, l)
		m := absence.NewMeasure(l, everyTrigger(t))
		span := absence.Span{From: rapid.IntRange(0, 8).Draw(t, "from"), To: rapid.IntRange(-1, 14).Draw(t, "to")}
		all, first, second := []int{0, 1, 2}, []int{2}, []int{0, 1}
		whole, parts := m.Group(all, span), absence.Groups{m.Group(first, span), m.Group(second, span)}
		assert.Equal(t, whole, parts.Total())
		for _, average := range []func(absence.Group, absence.Groups) (a, b policy.Fraction, ok bool){
			func(g absence.Group, s absence.Groups) (a, b policy.Fraction, ok bool) {
				a, _ = g.AverageDailyAttendance()
				b, ok = s.AverageDailyAttendance()
				return a, b, ok
			},
			func(g absence.Group, s absence.Groups) (a, b policy.Fraction, ok bool) {
				a, _ = g.AverageDailyMembership()
				b, ok = s.AverageDailyMembership()
				return a, b, ok
			},
		} {
			a, b, ok := average(whole, parts)
			assert.Equal(t, whole.SchoolDays > 0, ok)
			if ok {
				assert.Zero(t, a.Rat().Cmp(b.Rat()), "%s and %s", a, b)
			}
		}
		minutes := func(list []absence.Reason) map[string][2]int {
			out := map[string][2]int{}
			for _, r := range list {
				out[r.Code.Code] = [2]int{r.Minutes, r.Marks}
			}
			return out
		}
		sum := absence.SumReasons(m.Reasons(first, span), m.Reasons(second, span))
		assert.Equal(t, minutes(m.Reasons(all, span)), minutes(sum))
		for i := range sum[min(1, len(sum)):] {
			assert.GreaterOrEqual(t, sum[i].Minutes, sum[i+1].Minutes, "most first")
		}
	})
}

// Worked by hand: ten of ten on two days here, five of six on one day there, make fifteen of
// sixteen a day; the total of student-days by the longer calendar would say fewer.
func TestAveragesOfSectionsAdd(t *testing.T) {
	g := absence.Groups{{AttendedDays: 20, EnrolledDays: 20, SchoolDays: 2, Bands: []int{9, 1}}, {AttendedDays: 5, EnrolledDays: 6, SchoolDays: 1, Bands: []int{5, 1}}, {Bands: []int{0, 0}}}
	attendance, ok := g.AverageDailyAttendance()
	assert.True(t, ok)
	membership, _ := g.AverageDailyMembership()
	assert.Equal(t, []string{"15.0", "16.0"}, []string{attendance.Rounded(), membership.Rounded()})
	assert.Equal(t, []int{14, 2}, g.Total().Bands)
	_, ok = absence.Groups{{}}.AverageDailyAttendance()
	assert.False(t, ok)
}

// Worked by hand: three students on two days; one is enrolled on the second alone,
// one misses the first. Attendance 4 student-days of 2 days, membership 5 of 2.
func TestAverageDailyAttendanceAndMembership(t *testing.T) {
	l := absence.NewLedger(calendar(t, 2, twoLessons), plain)
	late := student("c")
	late.Enrolled = []day.Dates{day.Since(day.MustDate("2025-09-02"))}
	for i, s := range []absence.Student{student("a"), student("b"), late} {
		l.AddStudent(s)
		put(t, l, i, 1, "P", "P", "P")
	}
	put(t, l, 0, 0, "P", "P", "P")
	put(t, l, 1, 0, "M", "M", "M")
	g := absence.NewMeasure(l, base(policy.Session)).Group([]int{0, 1, 2}, absence.Span{From: 0, To: 1})
	attendance, _ := g.AverageDailyAttendance()
	membership, _ := g.AverageDailyMembership()
	assert.Equal(t, big.NewRat(2, 1), attendance.Rat(), "in days, whatever the policy's unit")
	assert.Equal(t, big.NewRat(5, 2), membership.Rat())
	_, ok := absence.NewMeasure(l, base(policy.Day)).Group(nil, absence.Span{From: 0, To: -1}).AverageDailyAttendance()
	assert.False(t, ok)
}

// Worked by hand: here for one lesson of 40 minutes of a day of 115, half time here
// and half elsewhere. Two whole days and a part: 40 + 40 + 10 minutes were missed,
// 115 + 115 + 10 are charged.
func TestBothBasesOfAPartTimeStudent(t *testing.T) {
	l := absence.NewLedger(calendar(t, 4, twoLessons), plain)
	s := student("part")
	s.ShareHere, s.ShareElsewhere, s.Schedule = policy.NewFraction(1, 2), policy.NewFraction(1, 2), []absence.ScheduleRow{{Slot: "1", On: day.Always}}
	i := l.AddStudent(s)
	put(t, l, i, 0, "", "U")
	for d, code := range []string{"U", "M", "P", "L"} {
		k, _ := plain.Index(code)
		m := absence.Mark{Code: k}
		if code == "L" {
			m.To = day.MustMinute("09:10")
		}
		require.NoError(t, l.Set(i, d, 1, m))
	}
	b := absence.NewMeasure(l, base(policy.Day)).Bases(i, absence.Span{From: 0, To: 3})
	assert.Equal(t, absence.Bases{Due: 160, Scheduled: 90, FullDay: 240, FullDays: 2, FullOf: 230, FullSeen: 80}, b)
}

// Correcting a mark and correcting it back leaves every figure as it was.
func TestCorrectingAndCorrectingBackLeavesFiguresAlone(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		l := randomSchool(t)
		withTimes(t, l)
		panel := absence.NewPanel(l, everyTrigger(t), everyTrigger(t))
		before := panel.Student(1, 14)
		d, pos := rapid.IntRange(0, 14).Draw(t, "day"), rapid.IntRange(0, 2).Draw(t, "slot")
		old, marked := l.Mark(1, d, pos)
		require.NoError(t, l.Set(1, d, pos, absence.Mark{Code: rapid.IntRange(0, len(plain.Codes)-1).Draw(t, "code"), To: day.MustMinute("10:00")}))
		if marked {
			require.NoError(t, l.Set(1, d, pos, old))
		} else {
			l.Clear(1, d, pos)
		}
		assert.Equal(t, before, panel.Student(1, 14))
	})
}

// Figures, triggers and ladders read nothing after "as at".
func TestNothingIsReadPastAsAt(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		l := randomSchool(t)
		panel := absence.NewPanel(l, everyTrigger(t), everyTrigger(t))
		asAt := rapid.IntRange(-1, 13).Draw(t, "as at")
		before := panel.Student(0, asAt)
		for d := asAt + 1; d < 15; d++ {
			for pos := range 3 {
				require.NoError(t, l.Set(0, d, pos, absence.Mark{Code: rapid.IntRange(0, len(plain.Codes)-1).Draw(t, "code")}))
			}
		}
		assert.Equal(t, before, panel.Student(0, asAt))
	})
}
