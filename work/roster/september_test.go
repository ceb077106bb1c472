package roster_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/demo/demotest"
	"meldung/files/table"
	"meldung/pages"
	"meldung/pages/absencepage"
	"meldung/pages/concernspage"
	"meldung/pages/frame"
	"meldung/pages/registerpage"
	"meldung/pages/studentpage"
	"meldung/pages/todaypage"
	"meldung/work"
	"meldung/work/check"
	"meldung/work/plans"
	"meldung/work/registers"
	"meldung/work/roster"
)

// Two years of a small school: a form moves up with a new class and another slot, a student
// leaves, one comes new.
func yearRoster(session, users, classes, enrollments string) table.Files {
	return table.Files{
		"orgs.csv":             []byte("sourcedId,name,type\no1,Skerry School,school\n"),
		"academicSessions.csv": []byte("sourcedId,title,type,startDate,endDate,schoolYear\n" + session),
		"courses.csv":          []byte("sourcedId,title\nc1,Registration\n"),
		"classes.csv":          []byte("sourcedId,title,grades,courseSourcedId,classType\n" + classes),
		"users.csv":            []byte("sourcedId,role,givenName,familyName,identifier,grades\nt1,teacher,Bertil,Ek,,\n" + users),
		"enrollments.csv":      []byte("sourcedId,classSourcedId,userSourcedId,role,beginDate,endDate\n" + enrollments),
	}
}

func firstYear() (people, timetable table.Files) {
	return yearRoster("y1,2025 to 2026,schoolYear,2025-09-01,2026-07-17,2026\n", "s1,student,Asta,Øye,70001,7\ns2,student,Bo,Lone,70002,7\n", "k1,7 Gannet,7,c1,homeroom\n",
			"e0,k1,t1,teacher,,\ne1,k1,s1,student,,\ne2,k1,s2,student,,\n"),
		table.Files{
			"calendar.csv":  []byte("date,day,term,grading_period\n2026-03-09,normal,Spring,Q3\n2026-03-10,normal,Spring,Q3\n2026-07-16,normal,Summer,Q4\n2026-07-17,normal,Summer,Q4\n"),
			"slots.csv":     []byte("day,slot,start,end,kind\nnormal,AM,08:45,09:00,registration\n"),
			"timetable.csv": []byte("class,pattern,weekday,slot,room\nk1,normal,,AM,room 1\n"),
		}
}

func secondYear() (people, timetable table.Files) {
	return yearRoster("y2,2026 to 2027,schoolYear,2026-09-01,2027-07-16,2027\n", "s1,student,Asta,Øye,70001,8\ns3,student,Cara,Voe,70003,8\n", "k2,8 Gannet,8,c1,homeroom\n",
			"f0,k2,t1,teacher,,\nf1,k2,s1,student,,\nf3,k2,s3,student,,\n"),
		table.Files{
			"calendar.csv":  []byte("date,day,term,grading_period\n2026-09-01,normal,Autumn,Q1\n2026-09-02,normal,Autumn,Q1\n2027-01-11,normal,Spring,Q2\n2027-07-16,normal,Summer,Q4\n"),
			"slots.csv":     []byte("day,slot,start,end,kind\nnormal,Reg,09:00,09:20,registration\n"),
			"timetable.csv": []byte("class,pattern,weekday,slot,room\nk2,normal,,Reg,room 2\n"),
		}
}

type small struct {
	*testing.T
	*work.Office
	clock *demotest.Clock
}

func (s small) at(instant string) {
	s.Helper()
	at, err := day.ParseInstant(instant)
	require.NoError(s, err)
	s.clock.Set(at)
}

func (s small) takes(people, timetable table.Files) (a, b plans.Plan) {
	s.Helper()
	a, err := roster.ImportRoster(s.Context(), s.Office, importer, "", people, plans.Options{Apply: true})
	require.NoError(s, err)
	require.Empty(s, a.Problems)
	b, err = roster.ImportTimetable(s.Context(), s.Office, importer, "", timetable, plans.Options{Apply: true})
	require.NoError(s, err)
	require.Empty(s, b.Problems)
	return a, b
}

// sends sends the day's first register with the codes in the order of the names.
func (s small) sends(codes ...string) registerpage.RegisterRef {
	s.Helper()
	date := s.Now().Date().String()
	list, err := registerpage.ShowAll(s.Context(), s.Office, demotest.Admin, "")
	require.NoError(s, err)
	require.Len(s, list.Registers, 1)
	r := list.Registers[0]
	v, err := registerpage.Show(s.Context(), s.Office, demotest.Admin, r.Class, r.Slot, "")
	require.NoError(s, err)
	require.Len(s, v.Rows, len(codes))
	var marks []registers.SentMark
	for i, row := range v.Rows {
		marks = append(marks, registers.SentMark{Student: row.Student.ID, Code: codes[i]})
	}
	_, err = registers.Send(s.Context(), s.Office, work.Person{Name: "admin", Role: work.Administrator}, "", registers.SentRegister{Date: date, Class: r.Class, Slot: r.Slot, Marks: marks})
	require.NoError(s, err)
	return r
}

// rates are the students' absent and possible half-days, by name, and everyone's rate.
func (s small) rates(at string) map[string][2]int {
	s.Helper()
	v, err := absencepage.Show(s.Context(), s.Office, at, pages.AbsenceAsk{Policy: "sessions"})
	require.NoError(s, err)
	out := map[string][2]int{}
	for _, r := range v.Rows {
		out[r.Student.Name] = [2]int{r.Figures.Absent, r.Figures.Possible}
	}
	return out
}

func (s small) well() {
	s.Helper()
	wrong, err := check.Check(s.Context(), s.Office, false)
	require.NoError(s, err)
	assert.Empty(s, wrong)
}

func newSmall(t *testing.T) small {
	o, clock, err := demotest.EmptyWithClock(t.Context(), t.TempDir(), day.At(day.MustDate("2026-03-09"), day.MustMinute("08:50")))
	require.NoError(t, err)
	s := small{t, o, clock}
	s.takes(firstYear())
	return s
}

func TestASecondSeptember(t *testing.T) {
	t.Parallel()
	s := newSmall(t)
	ctx := t.Context()
	s.sends("P", "N") // Lone, Øye
	s.at("2026-03-10T08:50")
	s.sends("P", "P")
	s.at("2026-07-10T10:00")
	lastYear := map[string][2]int{"Bo Lone": {0, 2}, "Asta Øye": {1, 2}}
	assert.Equal(t, lastYear, s.rates(""))

	people, timetable := s.takes(secondYear())
	assert.Equal(t, []string{"2026-09-01", "2026-09-01"}, []string{people.From, timetable.From})
	assert.Equal(t, "from Tue 1 September 2026 on", timetable.When)
	details := strings.Join(people.Details, "\n")
	assert.Contains(t, details, "Asta Øye 70001: year 7, 7 Gannet to year 8, 8 Gannet")
	assert.Contains(t, details, "Bo Lone 70002: year 7, 7 Gannet to not on the roll")
	assert.Contains(t, details, "Cara Voe 70003: not on the roll to year 8, 8 Gannet")
	notes := strings.Join(people.Notes, "\n")
	assert.Contains(t, notes, "1 student from year 7 to year 8")
	assert.Contains(t, notes, "1 student of year 7: on the roll no more")
	assert.Equal(t, lastYear, s.rates(""), "nothing of this year changes")

	s.at("2026-07-16T08:50")
	r := s.sends("P", "P")
	assert.Equal(t, []string{"7 Gannet", "AM"}, []string{r.Title, r.Slot})
	rail, err := frame.ShowRail(ctx, s.Office, "")
	require.NoError(t, err)
	assert.Equal(t, []any{3, 4, "2026-07-17"}, []any{rail.Strips[0].Number, rail.Strips[0].Of, rail.After})
	lastYear = map[string][2]int{"Bo Lone": {0, 3}, "Asta Øye": {1, 3}}

	s.at("2026-09-01T09:05")
	r = s.sends("N", "P") // Voe, Øye
	assert.Equal(t, []string{"8 Gannet", "Reg", "09:00"}, []string{r.Title, r.Slot, r.Start})
	s.at("2026-09-01T23:00")
	assert.Equal(t, map[string][2]int{"Cara Voe": {1, 1}, "Asta Øye": {0, 1}}, s.rates(""), "this year begins at nothing")
	assert.Equal(t, lastYear, s.rates("2026-07-17"), "and last year's figures are what they were")
	rail, err = frame.ShowRail(ctx, s.Office, "")
	require.NoError(t, err)
	assert.Equal(t, []any{1, 4, "2026-07-17", "2026-09-02"}, []any{rail.Strips[0].Number, rail.Strips[0].Of, rail.Before, rail.After})
	s.well()

	// A mark of last year is corrected by what held then, and changes last year alone.
	bo := s.student("Bo Lone")
	asta := s.student("Asta Øye")
	_, err = registers.Correct(ctx, s.Office, work.Person{Name: "admin", Role: work.Administrator}, "", registers.Correction{Date: "2026-03-10", Slot: "AM", Student: asta, Code: "M", Reason: "found the letter"})
	require.NoError(t, err)
	assert.Equal(t, [2]int{2, 3}, s.rates("2026-07-17")["Asta Øye"])
	assert.Equal(t, [2]int{0, 1}, s.rates("")["Asta Øye"])
	s.well()

	// Who left has a sheet and no figures of this year.
	sheet, err := studentpage.Show(ctx, s.Office, demotest.Officer, bo, "")
	require.NoError(t, err)
	assert.Empty(t, sheet.Figures.Rate)
	then, err := studentpage.Show(ctx, s.Office, demotest.Officer, bo, "2026-07-17")
	require.NoError(t, err)
	assert.Equal(t, "7 Gannet", then.Student.Form)
	assert.Equal(t, "0.0", then.Figures.Rate)
	_, err = absencepage.ShowWhy(ctx, s.Office, demotest.Officer, bo, "", pages.AbsenceAsk{})
	assert.ErrorContains(t, err, "was not on the roll in this school year")
	for _, at := range []string{"", "2026-03-10", "2026-08-10", "2025-08-01", "2028-01-01"} {
		_, err = todaypage.Show(ctx, s.Office, at)
		require.NoError(t, err, at)
		_, err = concernspage.Show(ctx, s.Office, demotest.Officer, at, concernspage.Ask{})
		require.NoError(t, err, at)
	}

	// And comes back: two stays, of which the first keeps its figures.
	s.at("2027-01-11T09:05")
	again, plan := secondYear()
	again = with(again, "users.csv", "s3,student", "s2,student,Bo,Lone,70002,8\ns3,student")
	again = with(again, "enrollments.csv", "f3,k2", "f2,k2,s2,student,,\nf3,k2")
	back, same := s.takes(again, plan)
	assert.Equal(t, 1, part(t, back, "stay on the roll").Changed)
	assert.Zero(t, same.Changes())
	s.sends("P", "P", "P") // Lone, Voe, Øye
	s.at("2027-01-11T23:00")
	assert.Equal(t, map[string][2]int{"Bo Lone": {0, 1}, "Cara Voe": {1, 2}, "Asta Øye": {0, 2}}, s.rates(""))
	assert.Equal(t, [2]int{0, 3}, s.rates("2026-07-17")["Bo Lone"])
	s.well()
}

func (s small) student(name string) ids.Student {
	s.Helper()
	var found ids.Student
	require.NoError(s, s.Read(s.Context(), func(v work.Snapshot) error {
		for _, x := range v.School.Records().Rows.Students {
			if x.Name() == name {
				found = x.ID
			}
		}
		return nil
	}))
	require.NotZero(s, found, name)
	return found
}

// The calendar of two years at once is refused, and so is a past one without a word.
func TestACalendarIsOfOneSchoolYear(t *testing.T) {
	t.Parallel()
	s := newSmall(t)
	_, one := firstYear()
	_, two := secondYear()
	s.sends("P", "P")
	s.takes(secondYear())
	both := with(one, "calendar.csv", "2026-07-17,normal,Summer,Q4\n", "2026-07-17,normal,Summer,Q4\n2026-09-01,normal,Autumn,Q1\n")
	plan, err := roster.ImportTimetable(t.Context(), s.Office, importer, "", both, plans.Options{})
	require.NoError(t, err)
	require.Len(t, plan.Problems, 1)
	assert.Contains(t, plan.Problems[0], "over two school years, of which the second begins on Tue 1 September 2026")

	// This year's bell moves after next year's was brought in: next year's stays.
	moved := with(one, "slots.csv", "08:45,09:00", "08:40,09:00")
	plan, err = roster.ImportTimetable(t.Context(), s.Office, importer, "", moved, plans.Options{Apply: true})
	require.NoError(t, err)
	require.Empty(t, plan.Problems)
	assert.Equal(t, "from Tue 10 March 2026 on, to Fri 17 July 2026", plan.When)
	again, err := roster.ImportTimetable(t.Context(), s.Office, importer, "", two, plans.Options{})
	require.NoError(t, err)
	assert.Zero(t, again.Changes(), "%v", again.Parts)
}

// A roster that is taken in the course of the morning: who has a mark of today was there by
// what held this morning, and leaves, or becomes part-time, from the day after.
func TestARosterInTheCourseOfTheMorning(t *testing.T) {
	t.Parallel()
	s := newSmall(t)
	s.sends("P", "P")
	s.at("2026-03-09T10:00")
	people, _ := firstYear()
	people = with(people, "users.csv", "s2,student,Bo,Lone,70002,7\n", "s4,student,Dag,Ny,70004,7\n")
	people = with(people, "enrollments.csv", "e2,k1,s2,student,,", "e4,k1,s4,student,,")
	plan, err := roster.ImportRoster(t.Context(), s.Office, importer, "", people, plans.Options{Apply: true})
	require.NoError(t, err)
	require.Empty(t, plan.Problems)
	assert.Contains(t, strings.Join(plan.Details, "\n"), "Bo Lone 70002 leaves after Mon 9 March 2026")
	s.well()
	s.at("2026-03-10T08:50")
	s.sends("P", "P") // Ny, Øye
	s.well()
}
