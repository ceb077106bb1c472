package coursespage_test

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"os/exec"
	"strings"
	"testing"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/demo/demotest"
	"meldung/files/table"
	"meldung/pages/coursespage"
	"meldung/work"
	"meldung/work/coursework"
	"meldung/work/plans"
)

func show(t *testing.T, o *work.Office, p work.Person, ask coursespage.Ask) coursespage.CoursesView {
	t.Helper()
	v, err := coursespage.Show(t.Context(), o, p, "", ask)
	require.NoError(t, err)
	return v
}

func lineOf(v coursespage.CoursesView, name string) (track string, line coursespage.StudentLine) {
	for _, t := range v.Tracks {
		for _, s := range t.Students {
			if s.Student.Name == name {
				return t.Title, s
			}
		}
	}
	return "", line
}

// The stories of the invented school: one course away and what would still do it, two, everything, and
// one who recovered.
func TestTheStories(t *testing.T) {
	v := show(t, demotest.Copy(t), demotest.Officer, coursespage.Ask{})
	assert.Equal(t, "Quarter 3", v.Period)
	assert.Equal(t, "One course away", v.Tracks[0].Title)
	track, perran := lineOf(v, "Perran Hask")
	assert.Equal(t, "One course away", track)
	assert.Equal(t, []coursespage.StillLine{{Course: "English", Words: "a D in Quarter 4"}}, perran.Still)
	assert.Equal(t, "English", perran.Courses[0].Title, "what it is about first")
	track, cato := lineOf(v, "Cato Vane")
	assert.Equal(t, "Two courses away", track)
	assert.Len(t, cato.Still, 2)
	track, _ = lineOf(v, "Idris Quell")
	assert.Equal(t, "Failing everything", track)
	assert.Equal(t, "Failing everything", v.Tracks[len(v.Tracks)-1].Title)
	track, _ = lineOf(v, "Tavi Lund")
	assert.Empty(t, track, "recovered, and on track")
	not := 0
	for _, x := range v.Tracks {
		not += len(x.Students)
	}
	assert.Equal(t, v.Not, not)
}

// Counts of failing grades and a student's credits by plain SQL in the sqlite3 program.
func TestCountsAgainstSQL(t *testing.T) {
	o := demotest.Copy(t)
	var files []string
	require.NoError(t, sqlx.SelectContext(t.Context(), o.Store().Read(), &files, `SELECT file FROM pragma_database_list WHERE name = 'main'`))
	query := func(sql string) string {
		out, err := exec.CommandContext(t.Context(), "sqlite3", files[0], sql).CombinedOutput()
		require.NoError(t, err, string(out))
		return strings.TrimSpace(string(out))
	}
	v := show(t, o, demotest.Officer, coursespage.Ask{By: "area"})
	for _, f := range v.Failing {
		got := query(fmt.Sprintf(`SELECT sum(value = 'F') || ' ' || sum(value = 'D-') || ' ' || count(*) FROM result r JOIN graded_course c ON c.id = r.course_id
			JOIN student_span s ON s.student_id = r.student_id AND s.from_date <= julianday('2026-03-10') - 2440587.5 AND coalesce(s.to_date, 99999) >= julianday('2026-03-10') - 2440587.5
			WHERE r.kind = 'grade' AND r.period = 'Quarter 3' AND r.ended_by IS NULL AND c.area = '%s'`, f.Name))
		assert.Equal(t, fmt.Sprintf("%d %d %d", f.Failing, f.Nearly, f.Of), got, f.Name)
	}
	// Half-years of the first half that earn their credit: (1 − w)·(q1 + q2)/2 + w·x ≥ ½, in tenths of points.
	const points = `(CASE %s.value WHEN 'A' THEN 40 WHEN 'A-' THEN 37 WHEN 'B+' THEN 33 WHEN 'B' THEN 30 WHEN 'B-' THEN 27 WHEN 'C+' THEN 23 WHEN 'C' THEN 20 WHEN 'C-' THEN 17 WHEN 'D+' THEN 13 WHEN 'D' THEN 10 WHEN 'D-' THEN 7 ELSE 0 END)`
	p := func(t string) string { return fmt.Sprintf(points, t) }
	earned := query(`SELECT count(*) FROM result a JOIN result b ON b.student_id = a.student_id AND b.course_id = a.course_id AND b.kind = 'grade' AND b.period = 'Quarter 2'
		JOIN graded_course c ON c.id = a.course_id LEFT JOIN result x ON x.student_id = a.student_id AND x.course_id = a.course_id AND x.kind = 'exam' AND x.period = 'half-year 1'
		WHERE a.kind = 'grade' AND a.period = 'Quarter 1' AND (c.exam_weight = '' AND ` + p("a") + ` + ` + p("b") + ` >= 10 OR c.exam_weight <> '' AND x.id IS NOT NULL AND 2 * (` + p("a") + ` + ` + p("b") + `) + ` + p("x") + ` >= 25)`)
	n := 0
	require.NoError(t, o.Read(t.Context(), func(s work.Snapshot) error {
		shelf, err := coursework.Read(t.Context(), s, day.MustDate("2026-03-10"))
		require.NoError(t, err)
		for i := range shelf.Students {
			for _, st := range shelf.Sum(i, shelf.At-1).Standings {
				if st.State == "earned" && st.Record.Half == shelf.At.Half()-1 {
					n++
				}
			}
		}
		return nil
	}))
	assert.Equal(t, earned, fmt.Sprint(n))
}

// A grade tried out is what it is once it is brought in, and is stored nowhere.
func TestWhatIf(t *testing.T) {
	o := demotest.Copy(t)
	ctx := t.Context()
	perran := demotest.Find(t, o, "Perran Hask").Student.ID
	_, line := lineOf(show(t, o, demotest.Officer, coursespage.Ask{}), "Perran Hask")
	english := line.Courses[0]
	guess := coursespage.Guess{Student: perran, Course: english.Course, Part: 1, Grade: "D"}
	v, err := coursespage.WhatIf(ctx, o, demotest.Officer, "", guess)
	require.NoError(t, err)
	assert.Equal(t, coursespage.GuessView{Words: "(0 + 1) ÷ 2 = 0.5, the line is 0.5: earned", State: "earned", Away: 0, Now: 1, Track: v.Track}, v)
	_, again := lineOf(show(t, o, demotest.Officer, coursespage.Ask{}), "Perran Hask")
	assert.Equal(t, line, again)
	guess.Grade = "D-"
	v, err = coursespage.WhatIf(ctx, o, demotest.Officer, "", guess)
	require.NoError(t, err)
	assert.Equal(t, "lost", v.State)
	for grade, part := range map[string]int{"E": 1, "": 1, "W": 1, "A": 2} {
		_, err = coursespage.WhatIf(ctx, o, demotest.Officer, "", coursespage.Guess{Student: perran, Course: english.Course, Part: part, Grade: grade})
		assert.Equal(t, work.Wrong, demotest.Kind(t, err), grade)
	}
	_, err = coursespage.WhatIf(ctx, o, demotest.Officer, "", coursespage.Guess{Student: perran, Course: 999, Grade: "A"})
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))

	var who, course string
	require.NoError(t, o.Read(ctx, func(s work.Snapshot) error {
		shelf, err := coursework.Read(ctx, s, s.On)
		who, course = s.School.StudentOf(perran).SourcedID, shelf.Courses[english.Course].ID
		return err
	}))
	plan, err := coursework.Import(ctx, o, demotest.Admin, "", table.Files{
		"periods.csv": []byte("period,half_year\nQuarter 1,half-year 1\nQuarter 2,half-year 1\nQuarter 3,half-year 2\nQuarter 4,half-year 2\n"),
		"courses.csv": []byte("course,title,area,credits,core\n" + course + ",English,Languages,0.5,true\n"),
		"grades.csv":  []byte("student,class,course,period,grade\n" + who + ",," + course + ",Quarter 4,D\n"),
	}, plans.Options{Apply: true})
	require.NoError(t, err)
	require.True(t, plan.Applied, "%v", plan.Problems)
	track, _ := lineOf(show(t, o, demotest.Officer, coursespage.Ask{Period: "Quarter 4"}), "Perran Hask")
	assert.NotEqual(t, "One course away", track)
}

// A teacher sees the courses that they teach, of the students they teach them to, and no other by counting.
func TestWhatATeacherSees(t *testing.T) {
	o := demotest.Copy(t)
	own := show(t, o, demotest.Osk, coursespage.Ask{})
	assert.True(t, own.Own)
	assert.Positive(t, own.Of)
	assert.Less(t, own.Of, show(t, o, demotest.Officer, coursespage.Ask{}).Of)
	taught := map[[2]int64]bool{}
	for _, f := range own.Failing {
		assert.True(t, strings.HasPrefix(f.Name, "English"), f.Name)
	}
	for _, x := range own.Tracks {
		for _, s := range x.Students {
			for _, c := range s.Courses {
				assert.Equal(t, "English", c.Title)
				taught[[2]int64{int64(s.Student.ID), int64(c.Course)}] = true
			}
		}
	}
	seen := 0
	for id := ids.Student(1); id <= 60; id += 4 {
		for course := range 60 {
			_, err := coursespage.WhatIf(t.Context(), o, demotest.Osk, "", coursespage.Guess{Student: id, Course: course, Part: 1, Grade: "A"})
			if err == nil {
				seen++
				require.NoError(t, o.Read(t.Context(), func(v work.Snapshot) error { return v.MaySee(demotest.Osk, id) }))
			}
		}
	}
	assert.LessOrEqual(t, seen, 15, "one course of a student at most")
}

func TestKeptAsAFile(t *testing.T) {
	o := demotest.Copy(t)
	v := show(t, o, demotest.Officer, coursespage.Ask{Group: "year:9"})
	f, err := coursespage.Keep(t.Context(), o, demotest.Officer, "", "tracks", coursespage.Ask{Group: "year:9"}, "csv")
	require.NoError(t, err)
	rows, err := csv.NewReader(bytes.NewReader(f.Content)).ReadAll()
	require.NoError(t, err)
	assert.Len(t, rows, v.Not+1)
	assert.Contains(t, string(f.Content), "English: a D in Quarter 4")
	_, err = coursespage.Show(t.Context(), o, demotest.Officer, "", coursespage.Ask{Period: "Quarter 9"})
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
	earlier := show(t, o, demotest.Officer, coursespage.Ask{Period: "Quarter 1 of 2022/23"})
	assert.Equal(t, "half-year 1 of 2022/23", earlier.Half)
	assert.Nil(t, earlier.Before)
	assert.Nil(t, earlier.Ninth, "of a school year that is not on record nobody knows the years")
}
