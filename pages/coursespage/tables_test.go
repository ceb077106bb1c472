package coursespage_test

import (
	"bytes"
	"encoding/csv"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/demo/demotest"
	"meldung/pages/coursespage"
	"meldung/work"
)

// Every way of grouping adds up to everyone, each cell opens into just what it counts, and a half-year's
// credits are those of the students' sums.
func TestTablesAddUpAndOpen(t *testing.T) {
	o, ctx := demotest.Copy(t), t.Context()
	for _, by := range []string{"course", "class", "area", "year", "form", "leaving"} {
		v, err := coursespage.Tables(ctx, o, demotest.Officer, "", coursespage.Ask{By: by})
		require.NoError(t, err)
		require.Len(t, v.Columns, 5, "three quarters and two half-years")
		assert.Equal(t, coursespage.TableColumn{Name: "half-year 1", Half: true}, v.Columns[2])
		for i := range v.Columns {
			var sum coursespage.TableCell
			for _, line := range v.Lines {
				sum.Failing, sum.Nearly, sum.Of = sum.Failing+line.Cells[i].Failing, sum.Nearly+line.Cells[i].Nearly, sum.Of+line.Cells[i].Of
			}
			whole := v.Whole.Cells[i]
			assert.Equal(t, [3]int{whole.Failing, whole.Nearly, whole.Of}, [3]int{sum.Failing, sum.Nearly, sum.Of}, by)
		}
		line, column := v.Lines[len(v.Lines)/2], 2+2*len(by)%2
		cell, err := coursespage.Cell(ctx, o, demotest.Officer, "", coursespage.Ask{By: by, Name: line.Name, Column: v.Columns[column].Name})
		require.NoError(t, err)
		failing := 0
		for _, s := range cell.Students {
			if s.Failing {
				failing++
			}
		}
		assert.Equal(t, [2]int{line.Cells[column].Failing, line.Cells[column].Nearly}, [2]int{failing, len(cell.Students) - failing}, line.Name)
	}
	v, err := coursespage.Tables(ctx, o, demotest.Officer, "", coursespage.Ask{})
	require.NoError(t, err)
	page := show(t, o, demotest.Officer, coursespage.Ask{})
	assert.Equal(t, coursespage.NotCell{Not: page.Not, Of: page.Of}, v.Not[3])
	assert.Equal(t, *page.Before, v.Not[1].Not)
	everyone, err := coursespage.Cell(ctx, o, demotest.Officer, "", coursespage.Ask{Column: "Quarter 3"})
	require.NoError(t, err)
	assert.Len(t, everyone.Students, v.Whole.Cells[3].Failing+v.Whole.Cells[3].Nearly)
	_, err = coursespage.Cell(ctx, o, demotest.Officer, "", coursespage.Ask{Column: "Quarter 4"})
	assert.Equal(t, work.NotFound, demotest.Kind(t, err), "of a quarter to come nothing is counted")
}

// Who lost credit is told where, and how to regain it; the mathematics that Tavi Lund recovered are had.
func TestCredits(t *testing.T) {
	o, ctx := demotest.Copy(t), t.Context()
	v, err := coursespage.Credits(ctx, o, demotest.Officer, "", coursespage.Ask{})
	require.NoError(t, err)
	lost, behind, thisYear := 0, 0, 0
	var last float64
	titles := map[string]bool{}
	for _, g := range v.By {
		assert.False(t, titles[g.Title], "%s once", g.Title)
		titles[g.Title] = true
		for _, s := range g.Students {
			lost += len(s.Lost)
			for _, x := range s.Lost {
				if x.Half == "half-year 1" {
					thisYear++
				}
			}
			assert.NotEqual(t, "Tavi Lund", s.Student.Name)
			for _, x := range s.Lost {
				assert.Contains(t, x.Why, "lost")
				assert.Contains(t, x.Ways, "taking it again")
				assert.Equal(t, strings.HasPrefix(x.Course, "Mathematics 9"), x.Ways[0] == "the recovery course", "%s %v", x.Course, x.Ways)
			}
			if !strings.HasSuffix(g.Title, "behind") {
				continue
			}
			behind++
			by, err := strconv.ParseFloat(s.Behind, 64)
			require.NoError(t, err)
			assert.GreaterOrEqual(t, by, last, "the fewest first")
			last = by
		}
	}
	assert.Equal(t, [2]int{v.Lost, v.Behind}, [2]int{lost, behind})
	tables, err := coursespage.Tables(ctx, o, demotest.Officer, "", coursespage.Ask{By: "leaving"})
	require.NoError(t, err)
	assert.Equal(t, tables.Whole.Cells[2].Failing, thisYear)
	for _, view := range []string{"credits", "tables"} {
		f, err := coursespage.Keep(ctx, o, demotest.Officer, "", view, coursespage.Ask{By: "leaving"}, "csv")
		require.NoError(t, err)
		rows, err := csv.NewReader(bytes.NewReader(f.Content)).ReadAll()
		require.NoError(t, err)
		assert.Greater(t, len(rows), 4, view)
	}
}

// In the first quarter nothing is compared with a year in which the courses were others.
func TestTheFirstQuarter(t *testing.T) {
	o := demotest.Copy(t)
	v := show(t, o, demotest.Officer, coursespage.Ask{Period: "Quarter 1"})
	assert.Nil(t, v.Before)
	assert.Empty(t, v.Since)
	for _, f := range v.Failing {
		assert.Nil(t, f.Change)
	}
}

// The leaving cohort is that of the year group, whichever way it is asked for.
func TestLeavingCohorts(t *testing.T) {
	o := demotest.Copy(t)
	ninth, cohort := show(t, o, demotest.Officer, coursespage.Ask{Group: "year:9"}), show(t, o, demotest.Officer, coursespage.Ask{Group: "leaving:2029"})
	assert.Positive(t, ninth.Of)
	assert.Equal(t, ninth.Tracks, cohort.Tracks)
	assert.Equal(t, "Leaving 2029", cohort.Group)
	require.NotNil(t, ninth.Ninth)
	assert.Equal(t, ninth.Ninth.Of, ninth.Ninth.OnTrack+len(ninth.Ninth.Not))
}

// On a student's sheet stand the courses with their quarters; a teacher sees those that they teach, and
// nothing of who is not theirs.
func TestOneStudent(t *testing.T) {
	o, ctx := demotest.Copy(t), t.Context()
	tavi := demotest.Find(t, o, "Tavi Lund").Student.ID
	v, err := coursespage.One(ctx, o, demotest.Officer, "", tavi)
	require.NoError(t, err)
	require.True(t, v.Any)
	assert.Equal(t, []string{"Quarter 1", "Quarter 2", "Quarter 3"}, v.Periods)
	assert.Equal(t, "on track", v.Track)
	for _, c := range v.Courses {
		require.Len(t, c.Grades, 3)
		if strings.HasPrefix(c.Title, "Mathematics") {
			assert.Equal(t, []coursespage.OneMark{{Grade: "F", Failing: true}, {Grade: "F", Failing: true}, {Grade: "C"}}, c.Grades)
			assert.Equal(t, []string{"recovered", "open"}, []string{c.Halves[0].State, c.Halves[1].State})
		}
	}
	assert.Regexp(t, `^\d\.\d\d$`, v.Means[2].Mean)
	assert.Regexp(t, `^[+−]\d\.\d\d$`, v.Change)
	seen, others := 0, 0
	for id := tavi - 60; id < tavi+60; id++ {
		one, err := coursespage.One(ctx, o, demotest.Osk, "", id)
		if err != nil {
			others++
			continue
		}
		for _, c := range one.Courses {
			assert.True(t, strings.HasPrefix(c.Title, "English"), c.Title)
			seen++
		}
		assert.Empty(t, one.Earned)
		assert.Empty(t, one.Track)
	}
	assert.Positive(t, seen)
	assert.Positive(t, others)
}

// Tables, credits and cells hold a teacher's own courses alone, whatever is asked for.
func TestATeachersTables(t *testing.T) {
	o, ctx := demotest.Copy(t), t.Context()
	whole, err := coursespage.Tables(ctx, o, demotest.Officer, "", coursespage.Ask{})
	require.NoError(t, err)
	v, err := coursespage.Tables(ctx, o, demotest.Osk, "", coursespage.Ask{})
	require.NoError(t, err)
	require.NotEmpty(t, v.Lines)
	for _, line := range v.Lines {
		assert.True(t, strings.HasPrefix(line.Name, "English"), line.Name)
	}
	assert.Less(t, v.Whole.Cells[0].Of, whole.Whole.Cells[0].Of)
	for _, ask := range []coursespage.Ask{{Column: "Quarter 3"}, {Column: "half-year 1"}, {Column: "Quarter 3", By: "course", Name: "Mathematics 9"}, {Column: "Quarter 3", By: "year", Name: "Year 9"}} {
		cell, err := coursespage.Cell(ctx, o, demotest.Osk, "", ask)
		require.NoError(t, err)
		for _, s := range cell.Students {
			assert.True(t, strings.HasPrefix(s.Course, "English"), s.Course)
		}
	}
	credits, err := coursespage.Credits(ctx, o, demotest.Osk, "", coursespage.Ask{})
	require.NoError(t, err)
	for _, g := range credits.By {
		for _, s := range g.Students {
			assert.Empty(t, s.Earned)
			for _, x := range s.Lost {
				assert.True(t, strings.HasPrefix(x.Course, "English"), x.Course)
			}
		}
	}
}
