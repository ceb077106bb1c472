package coursework_test

import (
	"strings"
	"testing"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/core/results"
	"meldung/demo/demotest"
	"meldung/files/table"
	"meldung/work"
	"meldung/work/coursework"
	"meldung/work/plans"
)

const periods = "period,half_year\nQuarter 1,half-year 1\nQuarter 2,half-year 1\nQuarter 3,half-year 2\nQuarter 4,half-year 2\n"

func files(grades, more string) table.Files {
	out := table.Files{
		"periods.csv": []byte(periods),
		"courses.csv": []byte("course,title,area,credits,core,exam_weight,max_credits\nnav,Navigation,Sea,0.5,true,1/4,\nknots,Knots,Sea,0.25,,,0.25\n"),
		"grades.csv":  []byte("student,class,course,period,grade\n" + grades),
	}
	if more != "" {
		name, text, _ := strings.Cut(more, "\n")
		out[name] = []byte(text)
	}
	return out
}

func read(t *testing.T, o *work.Office, d day.Date) (shelf *coursework.Shelf) {
	t.Helper()
	require.NoError(t, o.Read(t.Context(), func(v work.Snapshot) (err error) {
		shelf, err = coursework.Read(t.Context(), v, d)
		return err
	}))
	return shelf
}

func run(t *testing.T, o *work.Office, f table.Files, apply bool) plans.Plan {
	t.Helper()
	plan, err := coursework.Import(t.Context(), o, demotest.Admin, "", f, plans.Options{Apply: apply})
	require.NoError(t, err)
	return plan
}

func part(p plans.Plan, what string) plans.PlanPart {
	for _, x := range p.Parts {
		if x.What == what {
			return x
		}
	}
	return plans.PlanPart{}
}

// Files are looked at and then taken; a second time nothing changes; a grade that is replaced stays on
// record with its date; what later files lack stays.
func TestGradesBroughtIn(t *testing.T) {
	o := demotest.Copy(t)
	today := day.MustDate("2026-03-10")
	who := ""
	require.NoError(t, o.Read(t.Context(), func(v work.Snapshot) error {
		who = v.School.StudentOf(12).SourcedID
		return nil
	}))
	before := read(t, o, today)
	courses := len(before.Courses)
	first := files(who+",k1,nav,Quarter 1,F\n"+who+",k1,nav,Quarter 2,D\n"+who+",,knots,Quarter 3,\n", "exams.csv\nstudent,course,half_year,grade\n"+who+",nav,half-year 1,C\n")
	looked := run(t, o, first, false)
	assert.Equal(t, plans.PlanPart{What: "course", Added: 2}, part(looked, "course"))
	assert.Equal(t, plans.PlanPart{What: "grade", Added: 3}, part(looked, "grade"))
	assert.Equal(t, plans.PlanPart{What: "examination", Added: 1}, part(looked, "examination"))
	assert.Equal(t, plans.PlanPart{What: "grading period", Same: 4}, part(looked, "grading period"))
	assert.Len(t, read(t, o, today).Courses, courses, "looking changes nothing")
	require.True(t, run(t, o, first, true).Applied)
	assert.Zero(t, run(t, o, first, true).Changes())

	shelf := read(t, o, today)
	place := shelf.Place(12)
	half := shelf.At.Half() - 1
	rec := shelf.Find(place, courses, half)
	require.NotNil(t, rec)
	st, ok := shelf.Rule.Stand(shelf.Courses[courses], rec, half.Quarter(1))
	require.True(t, ok)
	assert.Equal(t, results.Earned, st.State)
	assert.Equal(t, "0.875", st.Value.FloatString(3)) // ¾ · (0 + 1) / 2 + ¼ · 2
	assert.Equal(t, [2]string{"k1", "k1"}, rec.Class)

	second := run(t, o, files(who+",k1,nav,Quarter 1,C\n", ""), true)
	assert.Equal(t, plans.PlanPart{What: "grade", Changed: 1}, part(second, "grade"))
	assert.Contains(t, strings.Join(second.Details, "\n"), `from "F" to "C"`)
	rec = read(t, o, today).Find(place, courses, half)
	assert.Equal(t, []string{"C", "D", "C"}, []string{rec.Quarters[0].Written, rec.Quarters[1].Written, rec.Exam.Written}, "what the files lack stays")
	var kept []string
	require.NoError(t, sqlx.SelectContext(t.Context(), o.Store().Read(), &kept, `SELECT value || ' ' || date(date * 86400, 'unixepoch') FROM result WHERE ended_by IS NOT NULL`))
	assert.Equal(t, []string{"F 2026-03-10"}, kept, "what was replaced stays on record")
}

// Every wrong line is told by file and line, and nothing of the files is kept.
func TestBrokenGrades(t *testing.T) {
	o := demotest.Copy(t)
	before := read(t, o, day.MustDate("2026-03-10"))
	who := ""
	require.NoError(t, o.Read(t.Context(), func(v work.Snapshot) error {
		who = v.School.StudentOf(12).SourcedID
		return nil
	}))
	for want, f := range map[string]table.Files{
		`grades.csv:2: grade "E" is not on the scale`: files(who+",,nav,Quarter 1,E\n", ""),
		`grades.csv:2: there is no student "nobody"`:  files("nobody,,nav,Quarter 1,A\n", ""),
		`exams.csv:2: the course "knots" has no exam`: files("", "exams.csv\nstudent,course,half_year,grade\n"+who+",knots,half-year 1,A\n"),
		`courses.csv: the file is missing`:            {"grades.csv": []byte("student,class,course,period,grade\n")},
		`Quarter 1 of half-year 1 comes after`:        files("", "periods.csv\nperiod,half_year\nQuarter 3,half-year 2\nQuarter 4,half-year 2\nQuarter 1,half-year 1\nQuarter 2,half-year 1\n"),
		`is Quarter 3 of half-year 2, and here Q3`:    files("", "periods.csv\nperiod,half_year\nQuarter 1,half-year 1\nQuarter 2,half-year 1\nQ3,H2\nQ4,H2\n"),
		`the school has no student s9`:                files("", "students.csv\nstudent,year\ns9,9\n"),
	} {
		plan := run(t, o, f, true)
		assert.Contains(t, strings.Join(plan.Problems, "\n"), want)
		assert.False(t, plan.Applied)
	}
	assert.Len(t, read(t, o, day.MustDate("2026-03-10")).Courses, len(before.Courses))
	_, err := coursework.Import(t.Context(), o, demotest.Officer, "", files("", ""), plans.Options{})
	assert.Error(t, err, "an administrator brings them in")
}

// A second school year: its periods follow those that are there, under names of their own; without a file
// of periods the school's hold; and grades of an earlier year are not replaced by those of this one.
func TestASecondSchoolYear(t *testing.T) {
	o := demotest.Copy(t)
	const course = "course-025" // mathematics of year 9, of which there are grades
	who, tenth := "", []string{}
	require.NoError(t, o.Read(t.Context(), func(v work.Snapshot) error {
		for _, s := range v.School.Students {
			if s.Name() == "Perran Hask" {
				who = s.SourcedID
			}
			if s.Year == "10" {
				tenth = append(tenth, s.SourcedID+",,"+course+",Quarter 1 of 2024/25,D\n")
			}
		}
		return nil
	}))
	f := files(who+",,"+course+",Quarter 1,A\n", "")
	delete(f, "periods.csv")
	f["courses.csv"] = []byte("course,title,area,credits,core,exam_weight\n" + course + ",Mathematics,Sciences,0.5,true,1/5\n")
	plan := run(t, o, f, true)
	require.True(t, plan.Applied, "%v", plan.Problems)
	assert.Equal(t, plans.PlanPart{What: "grade", Changed: 1}, part(plan, "grade"))

	f["periods.csv"] = []byte("period,half_year\nQ1 next,H1 next\nQ2 next,H1 next\nQ3 next,H2 next\nQ4 next,H2 next\n")
	f["grades.csv"] = []byte("student,class,course,period,grade\n" + who + ",," + course + ",Q1 next,B\n")
	plan = run(t, o, f, true)
	require.True(t, plan.Applied, "%v", plan.Problems)
	assert.Equal(t, 4, part(plan, "grading period").Added)
	assert.Equal(t, "Q1 next", func() string { s := read(t, o, day.MustDate("2026-03-10")); return s.Periods[s.At].Name }())

	delete(f, "periods.csv")
	f["grades.csv"] = []byte("student,class,course,period,grade\n" + strings.Join(tenth, ""))
	plan = run(t, o, f, true)
	require.False(t, plan.Applied)
	assert.Contains(t, plan.Problems[0], "of an earlier school year would be replaced")
	plan, err := coursework.Import(t.Context(), o, demotest.Admin, "", f, plans.Options{Apply: true, CorrectPast: true})
	require.NoError(t, err)
	assert.True(t, plan.Applied)
}

// A grade is put right as the one that was seen; of two at once the second is told; what it was stays on
// record; nobody else's rule of what a grade is holds.
func TestAGradePutRight(t *testing.T) {
	o := demotest.Copy(t)
	ctx := t.Context()
	perran := demotest.Find(t, o, "Perran Hask").Student.ID
	today := day.MustDate("2026-03-10")
	shelf := read(t, o, today)
	course := shelf.Failing(shelf.Place(perran), shelf.At)[0].Course
	in := coursework.GradeCorrection{Student: perran, Course: course, Period: "Quarter 3", Part: 0, Grade: "D", Seen: "F"}
	r, err := coursework.SetGrade(ctx, o, demotest.Officer, "right", in)
	require.NoError(t, err)
	assert.Contains(t, r.Text, "Perran Hask, English, Quarter 3: D saved")
	_, err = coursework.SetGrade(ctx, o, demotest.Ase, "second", in)
	assert.Equal(t, work.Conflict, demotest.Kind(t, err))
	now := read(t, o, today)
	assert.Equal(t, "D", now.Find(now.Place(perran), course, now.At.Half()).Quarters[0].Written)
	assert.Empty(t, now.Failing(now.Place(perran), now.At))
	for want, change := range map[string]func(*coursework.GradeCorrection){
		"is not on the scale":    func(g *coursework.GradeCorrection) { g.Grade, g.Seen = "E", "D" },
		"already":                func(g *coursework.GradeCorrection) { g.Grade, g.Seen = "D", "D" },
		"no examination":         func(g *coursework.GradeCorrection) { g.Part, g.Grade, g.Seen = 2, "A", "" },
		"does not take":          func(g *coursework.GradeCorrection) { g.Course = 0 },
		"no such grading period": func(g *coursework.GradeCorrection) { g.Period = "Quarter 9" },
		"there is no student":    func(g *coursework.GradeCorrection) { g.Student = 99999 },
	} {
		wrong := in
		change(&wrong)
		_, err := coursework.SetGrade(ctx, o, demotest.Officer, want, wrong)
		assert.ErrorContains(t, err, want)
	}
	_, err = coursework.SetGrade(ctx, o, demotest.Osk, "a teacher", in)
	assert.Error(t, err)
}

// A rule is looked at with what it would change, which is what it then changes; a wrong one is told by line;
// of two at once the second is told.
func TestTheRule(t *testing.T) {
	o := demotest.Copy(t)
	ctx := t.Context()
	held, err := coursework.ShowRule(ctx, o)
	require.NoError(t, err)
	assert.Equal(t, "Fairlead credits", held.Title)
	draft := coursework.RuleDraft{Text: strings.Replace(held.Text, "line: 0.5", "line: 1.5", 1), Seen: held.Stamp}
	looked, err := coursework.SetRule(ctx, o, demotest.Admin, "look", draft)
	require.NoError(t, err)
	assert.Contains(t, strings.Join(looked.Effect, "\n"), "fewer lost no credit")
	assert.Contains(t, strings.Join(looked.Words, "\n"), "is earned at 1.5 points or more")
	lost := func() (n int) {
		shelf := read(t, o, day.MustDate("2026-03-10"))
		for i := range shelf.Students {
			n += shelf.Sum(i, shelf.At).Lost
		}
		return n
	}
	before := lost()
	draft.Apply = true
	taken, err := coursework.SetRule(ctx, o, demotest.Admin, "take", draft)
	require.NoError(t, err)
	assert.True(t, taken.Applied)
	assert.Greater(t, lost(), before)
	_, err = coursework.SetRule(ctx, o, demotest.Admin, "second", coursework.RuleDraft{Text: held.Text, Seen: held.Stamp, Apply: true})
	assert.Equal(t, work.Conflict, demotest.Kind(t, err))
	wrong, err := coursework.SetRule(ctx, o, demotest.Admin, "wrong", coursework.RuleDraft{Text: "line: half\n", Seen: taken.Stamp, Apply: true})
	require.NoError(t, err)
	assert.False(t, wrong.Applied)
	assert.Contains(t, wrong.Problem, "line 1: line \"half\"")
	now, err := coursework.ShowRule(ctx, o)
	require.NoError(t, err)
	_, err = coursework.SetRule(ctx, o, demotest.Admin, "back", coursework.RuleDraft{Text: held.Text, Seen: now.Stamp, Apply: true})
	require.NoError(t, err)
	assert.Equal(t, before, lost())
	_, err = coursework.SetRule(ctx, o, demotest.Officer, "an officer", coursework.RuleDraft{Text: held.Text})
	assert.Error(t, err)
	numbers, err := coursework.SetRule(ctx, o, demotest.Admin, "numbers", coursework.RuleDraft{Text: "scale:\n  - {grade: good, points: 1, from: 50}\n"})
	require.NoError(t, err)
	assert.Contains(t, strings.Join(numbers.Effect, "\n"), "can't be read by it")
}
