package policyfile_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/policy"
	"meldung/files/policyfile"
)

// The published thresholds, on the shipped policies. The rules are as remembered,
// not looked up: each test says which it means.

// year is one student's year of days of two registrations and five lessons of an
// hour each, Monday to Friday.
type year struct {
	t      *testing.T
	ledger *absence.Ledger
	panel  *absence.Panel
	codes  *policy.CodeSet
}

func newYear(t *testing.T, id string, days int) *year {
	t.Helper()
	p, err := policyfile.Shipped(id)
	require.NoError(t, err)
	pattern := day.Pattern{Name: "full", Slots: []day.Slot{
		{Name: "AM", Start: day.MustMinute("08:40"), End: day.MustMinute("08:45"), Kind: day.Registration}, {Name: "1", Start: day.MustMinute("08:45"), End: day.MustMinute("09:45")}, {Name: "2", Start: day.MustMinute("09:45"), End: day.MustMinute("10:45")},
		{Name: "3", Start: day.MustMinute("11:00"), End: day.MustMinute("12:00")}, {Name: "PM", Start: day.MustMinute("12:55"), End: day.MustMinute("13:00"), Kind: day.Registration}, {Name: "4", Start: day.MustMinute("13:00"), End: day.MustMinute("14:00")}, {Name: "5", Start: day.MustMinute("14:00"), End: day.MustMinute("14:50")},
	}}
	var rows []day.Row
	for d := day.MustDate("2025-09-01"); len(rows) < days; d++ {
		if d.Weekday() <= 5 {
			rows = append(rows, day.Row{Date: d, Pattern: "full", Term: "autumn", GradingPeriod: "q1"})
		}
	}
	calendar, err := day.NewCalendar([]day.Pattern{pattern}, rows)
	require.NoError(t, err)
	y := &year{t: t, ledger: absence.NewLedger(calendar, p.Codes), codes: p.Codes}
	y.ledger.AddStudent(absence.Student{ID: "a", Enrolled: []day.Dates{day.Always}, ShareHere: policy.NewFraction(1, 1)})
	y.panel = absence.NewPanel(y.ledger, p)
	return y
}

// mark gives every slot of a day the code, or the slots named.
func (y *year) mark(d int, code string, slots ...string) {
	y.t.Helper()
	place, ok := y.codes.Index(code)
	require.True(y.t, ok, code)
	for pos, s := range y.ledger.Calendar().Day(d).Pattern.Slots {
		named := len(slots) == 0
		for _, name := range slots {
			named = named || name == s.Name
		}
		if named {
			require.NoError(y.t, y.ledger.Set(0, d, pos, absence.Mark{Code: place}))
		}
	}
}

func (y *year) asAt(d int) absence.Result { return y.panel.Student(0, d)[0] }

func (y *year) band(d int) string {
	r := y.asAt(d)
	if r.Figures.Band < 0 {
		return ""
	}
	return y.panel.Measures()[0].Policy().Bands[r.Figures.Band].Name
}

// reached says which triggers have been reached, and on which day.
func (y *year) reached(d int) []string {
	out := []string{}
	for _, t := range y.asAt(d).Triggers {
		if t.Ever {
			out = append(out, fmt.Sprintf("%s on %d", t.Trigger.ID, t.On))
		}
	}
	return out
}

// US federal reporting, EDFacts file 195, from memory: chronically absent is who
// was enrolled for at least ten days and missed ten per cent or more of them; a day
// counts as missed when half of it or more was.
func TestTenPerCentOfEDFacts(t *testing.T) {
	y := newYear(t, "ten-percent", 180)
	for d := range 180 {
		y.mark(d, "P")
	}
	for d := range 17 {
		y.mark(d, "M") // excused counts as well
	}
	assert.Equal(t, "at risk", y.band(179), "17 of 180")
	y.mark(17, "U")
	assert.Equal(t, "chronic", y.band(179), "18 of 180 are ten per cent")
	for d := 18; d < 36; d++ {
		y.mark(d, "X")
	}
	assert.Equal(t, "severe", y.band(179), "36 of 180 are twenty per cent")

	y = newYear(t, "ten-percent", 12)
	for d := range 12 {
		y.mark(d, "U")
	}
	assert.Equal(t, "", y.band(8), "nine days are too few to say")
	assert.Equal(t, "severe", y.band(9))

	y = newYear(t, "ten-percent", 10)
	for d := range 10 {
		y.mark(d, "P")
	}
	y.mark(0, "U", "1", "2", "PM") // 125 of 300 minutes
	assert.Equal(t, 0, y.asAt(9).Figures.Absent)
	y.mark(0, "U", "1", "2", "AM", "PM", "4")
	assert.Equal(t, 1, y.asAt(9).Figures.Absent, "190 of 300 are half or more")
}

// Ohio Revised Code 2151.011 and 3321.191, as enacted by House Bill 410 of 2016,
// from memory: habitual truant at 30 consecutive unexcused hours, 42 in a school
// month, 72 in a school year; excessive absence at 38 hours of any kind in a school
// month or 65 in a school year. A day here has five hours.
func TestHoursOfTheOhioCode(t *testing.T) {
	y := newYear(t, "hours", 100)
	for d := range 5 {
		y.mark(d, "U")
	}
	assert.Empty(t, y.reached(4), "25 hours in a run")
	y.mark(5, "U")
	assert.Equal(t, []string{"run-30h on 5"}, y.reached(5), "30 hours")
	y.mark(6, "M")
	assert.Equal(t, 0, y.asAt(6).Triggers[0].Now, "an excused absence breaks the run")
	y.mark(7, "U")
	assert.Equal(t, []string{"run-30h on 5", "any-month-38h on 7"}, y.reached(7), "40 hours of any kind in the month, 35 unexcused")
	y.mark(8, "U")
	y.mark(9, "U")
	assert.Contains(t, y.reached(9), "month-42h on 9", "45 unexcused hours")

	y = newYear(t, "hours", 100) // a day a week: never 42 in a month of four weeks
	var told []string
	for week := range 15 {
		y.mark(week*5, "U")
		y.mark(week*5+1, "P")
		told = y.reached(week * 5)
		if week == 12 {
			assert.Equal(t, []string{"any-year-65h on 60"}, told, "65 hours in the year")
		}
	}
	assert.Equal(t, []string{"year-72h on 70", "any-year-65h on 60"}, told, "75 unexcused hours in the year")
}

// A school month is four school weeks (Ohio Revised Code 3313.62, from memory), not
// any four: 42 hours astride two months reach nothing.
func TestASchoolMonthIsFourSchoolWeeks(t *testing.T) {
	y := newYear(t, "hours", 60)
	for _, d := range []int{15, 16, 17, 18, 20, 21, 22, 23} { // the last week of a month, the first of the next
		y.mark(d, "U")
	}
	y.mark(19, "P")
	assert.Empty(t, y.reached(30), "20 and 20 hours")
}

// England, Working together to improve school attendance (2024), from memory:
// persistently absent from 10 % of sessions, severely from 50 %.
func TestPersistentAndSevereAbsenceInEngland(t *testing.T) {
	y := newYear(t, "sessions", 190)
	for d := range 190 {
		y.mark(d, "/", "AM")
		y.mark(d, "\\", "PM")
	}
	for d := range 18 {
		y.mark(d, "I", "AM", "PM")
	}
	y.mark(18, "I", "AM")
	assert.Equal(t, "regular", y.band(189), "37 of 380 sessions")
	y.mark(18, "I", "PM")
	assert.Equal(t, "persistent", y.band(189), "38 of 380 sessions are ten per cent")
	for d := 19; d < 95; d++ {
		y.mark(d, "O", "AM", "PM")
	}
	assert.Equal(t, "severe", y.band(189), "190 of 380 sessions are half")
	y.mark(94, "Y1", "PM")
	assert.Equal(t, "persistent", y.band(189), "189 of 379: who was unable to attend had no possible session")
}

// England, the national framework for penalty notices (2024), from memory: ten
// sessions of unauthorised absence within a rolling period of ten school weeks;
// code U is one.
func TestTenSessionsInTenSchoolWeeks(t *testing.T) {
	y := newYear(t, "sessions", 100)
	for week := range 9 {
		y.mark(week*5, "U", "AM")
	}
	assert.Empty(t, y.reached(44), "nine sessions in nine weeks")
	y.mark(54, "G", "PM")
	assert.Empty(t, y.reached(54), "the tenth session comes in the eleventh week, when the first is out")
	y.mark(49, "N", "PM")
	assert.Equal(t, []string{"penalty-10 on 49"}, y.reached(54), "ten in ten weeks")
	y.mark(49, "I", "PM")
	assert.Empty(t, y.reached(54), "once a reason is found it is taken back")
}

// Common practice, no source: letters at three, five and ten unexcused days.
func TestLettersAtThreeFiveAndTen(t *testing.T) {
	y := newYear(t, "letters", 40)
	for d := range 40 {
		y.mark(d, map[bool]string{true: "U", false: "P"}[d%3 == 0])
	}
	assert.Equal(t, []string{"letter-3 on 6", "letter-5 on 12", "letter-10 on 27"}, y.reached(39))
	y.mark(0, "M")
	assert.Equal(t, []string{"letter-3 on 9", "letter-5 on 15", "letter-10 on 30"}, y.reached(39), "an excused day is none of them")
}
