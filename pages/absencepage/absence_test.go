package absencepage_test

import (
	"bytes"
	"cmp"
	"encoding/csv"
	"fmt"
	"slices"
	"strconv"
	"testing"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/demo/demotest"
	"meldung/pages"
	"meldung/pages/absencepage"
	"meldung/work"
)

func show(t *testing.T, o *work.Office, a pages.AbsenceAsk) absencepage.AbsenceView {
	t.Helper()
	v, err := absencepage.Show(t.Context(), o, "", a)
	require.NoError(t, err)
	return v
}

// A class is measured by the lessons in which it met: recounted from the stored marks, each of
// which says for which class it was made.
func TestAClassShowsItsOwnLessons(t *testing.T) {
	o := demotest.Copy(t)
	var class ids.Class
	require.NoError(t, o.Read(t.Context(), func(v work.Snapshot) error {
		for _, c := range v.School.Classes {
			if !c.Form() && !c.Ended && len(v.School.EnrolledIn(c.ID)) > 15 {
				class = c.ID
				break
			}
		}
		return nil
	}))
	v := show(t, o, pages.AbsenceAsk{Group: fmt.Sprint("class:", class)})
	require.True(t, v.Lessons)
	require.Greater(t, len(v.Rows), 15)
	assert.Empty(t, v.Due, "lines are about all of a student's lessons")
	type count struct {
		Student int64 `db:"student_id"`
		Marks   int   `db:"marks"`
		Missed  int   `db:"missed"`
		Lates   int   `db:"lates"`
		Partly  int   `db:"partly"` // attended with times: half a lesson missed is one missed
	}
	var counts []count
	require.NoError(t, sqlx.SelectContext(t.Context(), o.Store().Read(), &counts, `SELECT student_id, count(*) AS marks, sum(code IN ('X', 'M', 'U', 'N', 'S')) AS missed, sum(code IN ('L', 'LX')) AS lates,
		sum(code NOT IN ('X', 'M', 'U', 'N', 'S') AND (away_from IS NOT NULL OR away_to IS NOT NULL)) AS partly
		FROM mark m WHERE class_id = ? AND date <= ? AND date >= ? AND code <> 'Z' AND version = (SELECT max(version) FROM mark o WHERE o.date = m.date AND o.slot = m.slot AND o.student_id = m.student_id) GROUP BY student_id`,
		class, day.MustDate("2026-03-09"), day.MustDate("2025-08-01")))
	by := map[ids.Student]count{}
	for _, c := range counts {
		by[ids.Student(c.Student)] = c
	}
	all := 0
	for _, r := range v.Rows {
		c := by[r.Student.ID]
		assert.Equal(t, []int{c.Marks, c.Lates}, []int{r.Figures.Possible, r.Figures.Lates}, "%s: a day with the class is one lesson", r.Student.Name)
		assert.GreaterOrEqual(t, r.Figures.Absent, c.Missed, r.Student.Name)
		assert.LessOrEqual(t, r.Figures.Absent, c.Missed+c.Partly, r.Student.Name)
		why, err := absencepage.ShowWhy(t.Context(), o, demotest.Officer, r.Student.ID, "", pages.AbsenceAsk{Group: fmt.Sprint("class:", class)})
		require.NoError(t, err)
		assert.Equal(t, r.Figures.Absent, why.Figures.Absent, "the figure taken apart is the one that is shown")
		all += c.Missed
	}
	assert.Positive(t, all)
}

// Rows are in the order that is asked for, and the file has the same rows in that order, shares as
// numbers; what each missed on each day adds up to the table.
func TestWhatIsShownLeaves(t *testing.T) {
	o := demotest.Copy(t)
	near, worst := show(t, o, pages.AbsenceAsk{}), show(t, o, pages.AbsenceAsk{Sort: "rate"})
	assert.Equal(t, "near", near.Sort)
	assert.Len(t, worst.Rows, len(near.Rows))
	rate := func(r absencepage.AbsenceRow) float64 {
		return float64(r.Figures.Absent) / float64(max(1, r.Figures.Possible))
	}
	assert.True(t, slices.IsSortedFunc(worst.Rows, func(a, b absencepage.AbsenceRow) int { return cmp.Compare(rate(b), rate(a)) }))
	onSite := show(t, o, pages.AbsenceAsk{Sort: "on-site"})
	assert.Positive(t, onSite.Rows[0].OnSite, "somebody skips lessons")
	ask := pages.AbsenceAsk{Sort: "missed", Group: "year:9"}
	v := show(t, o, ask)
	file, err := absencepage.KeepFile(t.Context(), o, "", ask, "csv")
	require.NoError(t, err)
	rows, err := csv.NewReader(bytes.NewReader(file.Content)).ReadAll()
	require.NoError(t, err)
	require.Len(t, rows, len(v.Rows)+1)
	column := func(heading string) int { return slices.Index(rows[0], heading) }
	missed := map[string]int{}
	for i, r := range v.Rows {
		got := rows[i+1]
		assert.Equal(t, []string{r.Student.Name, fmt.Sprint(r.Figures.Absent), r.Figures.Rate, fmt.Sprint(r.OnSite)}, []string{got[0], got[column("Missed, days")], got[column("Share missed, %")], got[column("Lessons missed while on site")]})
		assert.False(t, got[column("Room left below 10 %, days")] != "" && got[column("In a row to be below it, days")] != "", "never both")
		missed[r.Student.Number], err = strconv.Atoi(got[column("Missed, minutes")])
		require.NoError(t, err)
	}
	days, err := absencepage.KeepDays(t.Context(), o, "", ask, "xlsx")
	require.NoError(t, err)
	book, err := excelize.OpenReader(bytes.NewReader(days.Content))
	require.NoError(t, err)
	lines, err := book.GetRows("List", excelize.Options{RawCellValue: true})
	require.NoError(t, err)
	sums := map[string]int{}
	for _, l := range lines[1:] {
		n, err := strconv.Atoi(l[5])
		require.NoError(t, err)
		sums[l[1]] += n
		_, err = strconv.Atoi(l[3])
		require.NoError(t, err, "a date is a number of days")
	}
	for number, n := range missed {
		assert.Equal(t, n, sums[number], number)
	}
}

// Those who come by a ferry, and those who are here for a part of the day, are groups.
func TestGroups(t *testing.T) {
	o := demotest.Copy(t)
	v := show(t, o, pages.AbsenceAsk{})
	kinds := map[string]int{}
	for _, g := range v.Groups {
		kinds[g.Kind]++
	}
	assert.Equal(t, 3, kinds["transport"])
	assert.Equal(t, 1, kinds["timetable"])
	petrel := show(t, o, pages.AbsenceAsk{Group: "travels:Petrel"})
	assert.Equal(t, "Those who come by Petrel", petrel.Group)
	assert.Less(t, petrel.Students, v.Students)
	part := show(t, o, pages.AbsenceAsk{Group: "part-time:yes"})
	assert.Positive(t, part.Students)
	_, err := absencepage.Show(t.Context(), o, "", pages.AbsenceAsk{Group: "nothing:1"})
	assert.Equal(t, work.Wrong, demotest.Kind(t, err))
}
