package absencepage_test

import (
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/demo/demotest"
	"meldung/pages"
	"meldung/pages/absencepage"
	"meldung/work"
)

// The grid's codes and totals are recounted by the sqlite3 program from the stored marks; its rows
// are the table's; the PDF, read by pdftotext (poppler), has every name and the totals.
func TestTheGridIsRecounted(t *testing.T) {
	o := demotest.Copy(t)
	form := pages.AbsenceAsk{Group: fmt.Sprint("class:", demotest.Halyard), From: "2026-02-23", To: "2026-03-09"}
	codes, err := absencepage.ShowGrid(t.Context(), o, "", absencepage.GridAsk{AbsenceAsk: form, By: "codes"})
	require.NoError(t, err)
	folder := t.TempDir()
	file := filepath.Join(folder, "copy.db")
	_, err = o.Store().Sessions().ExecContext(t.Context(), "VACUUM INTO ?", file)
	require.NoError(t, err)
	out, err := exec.CommandContext(t.Context(), "sqlite3", "-separator", " ", file, fmt.Sprintf(`SELECT s.number, m.code, count(*) FROM mark m JOIN student s ON s.id = m.student_id JOIN enrollment e ON e.student_id = s.id AND e.class_id = %d
		WHERE m.date BETWEEN %d AND %d AND m.version = (SELECT max(version) FROM mark o WHERE o.date = m.date AND o.slot = m.slot AND o.student_id = m.student_id) GROUP BY 1, 2`,
		demotest.Halyard, day.MustDate(form.From), day.MustDate(form.To))).CombinedOutput()
	require.NoError(t, err, string(out))
	want := map[string]string{}
	for line := range strings.Lines(string(out)) {
		f := strings.Fields(line)
		want[f[0]+" "+f[1]] = f[2]
	}
	require.NotEmpty(t, want)
	cells := 0
	for _, r := range codes.Rows {
		for i, c := range codes.Columns {
			n := want[r.Student.Number+" "+c.Label]
			if n == "" {
				n = "0"
			}
			assert.Equal(t, n, r.Codes[i], "%s %s: a zero is a zero", r.Student.Name, c.Label)
			cells++
		}
	}
	assert.Greater(t, cells, 100)

	table := show(t, o, form)
	byName := map[string]absencepage.AbsenceRow{}
	for _, r := range table.Rows {
		byName[r.Student.Name] = r
	}
	for _, by := range []string{"dates", "slots"} {
		g, err := absencepage.ShowGrid(t.Context(), o, "", absencepage.GridAsk{AbsenceAsk: form, By: by})
		require.NoError(t, err)
		sum, all := 0, 0
		for _, c := range g.Columns {
			sum += c.Total
		}
		for _, r := range g.Rows {
			assert.Equal(t, byName[r.Student.Name].Figures.Absent, r.Absent)
			all += r.Absent
		}
		assert.Equal(t, all, g.Absent)
		if by == "dates" {
			assert.Equal(t, all, sum, "the columns add up to the rows")
			assert.Len(t, g.Columns, 11)
		}
	}
	pdf, err := absencepage.KeepGrid(t.Context(), o, "", absencepage.GridAsk{AbsenceAsk: pages.AbsenceAsk{Group: form.Group}, By: "dates"}, "pdf")
	require.NoError(t, err)
	name := filepath.Join(folder, "grid.pdf")
	require.NoError(t, os.WriteFile(name, pdf.Content, 0o600))
	text, err := exec.CommandContext(t.Context(), "pdftotext", "-layout", name, "-").Output()
	require.NoError(t, err)
	read := strings.Split(strings.TrimSuffix(string(text), "\f"), "\f")
	require.Greater(t, len(read), 2, "a year needs several pages")
	year := show(t, o, pages.AbsenceAsk{Group: form.Group})
	last := read[len(read)-1]
	for _, r := range year.Rows {
		for n, p := range read {
			assert.Contains(t, p, r.Student.Sorted, "page %d", n+1)
		}
		for line := range strings.Lines(last) {
			if strings.HasPrefix(strings.TrimSpace(line), r.Student.Sorted) {
				f := strings.Fields(line)
				assert.Equal(t, []string{strconv.Itoa(r.Figures.Possible), strconv.Itoa(r.Figures.Absent), r.Figures.Rate}, []string{f[len(f)-6], f[len(f)-5], f[len(f)-1]}, r.Student.Name)
			}
		}
	}
}

// A whole school's year is shown and printed; how long it takes is told, not judged.
func TestAWholeSchoolsGrid(t *testing.T) {
	o := demotest.Copy(t)
	began := time.Now()
	g, err := absencepage.ShowGrid(t.Context(), o, "", absencepage.GridAsk{})
	require.NoError(t, err)
	t.Log("shown after", time.Since(began), len(g.Rows), "by", len(g.Columns))
	began = time.Now()
	pdf, err := absencepage.KeepGrid(t.Context(), o, "", absencepage.GridAsk{}, "pdf")
	require.NoError(t, err)
	t.Log("printed after", time.Since(began), len(pdf.Content))
	slots, err := absencepage.ShowGrid(t.Context(), o, "", absencepage.GridAsk{By: "slots"})
	require.NoError(t, err)
	assert.NotEmpty(t, slots.TooWide)
	assert.LessOrEqual(t, len(slots.Columns), 330, "of two sections with days of their own")
}

// A teacher's report adds up to the class, recounted from the marks that were made for it; another's
// class is refused.
func TestATeachersOwnClasses(t *testing.T) {
	o := demotest.Copy(t)
	v, err := absencepage.ShowClasses(t.Context(), o, demotest.Osk, "", 0, pages.AbsenceAsk{})
	require.NoError(t, err)
	require.Greater(t, len(v.Classes), 1)
	for _, c := range v.Classes {
		var lessons, absent, excused int
		for _, l := range c.Lines {
			lessons, absent, excused = lessons+l.Lessons, absent+l.Absent, excused+l.Excused
			assert.Equal(t, l.Absent, l.Excused+l.Unexcused+l.Unknown, l.Student.Name)
		}
		assert.Equal(t, []int{c.Sum.Lessons, c.Sum.Absent, c.Sum.Excused}, []int{lessons, absent, excused})
		ids := make([]any, 0, len(c.Lines)+3)
		ids = append(ids, c.Class, day.MustDate("2025-08-01"), day.MustDate("2026-03-09"))
		marks := ""
		for _, l := range c.Lines {
			ids, marks = append(ids, l.Student.ID), marks+",?"
		}
		var counted struct {
			Marks  int `db:"marks"`
			Absent int `db:"absent"`
		}
		require.NoError(t, sqlx.GetContext(t.Context(), o.Store().Read(), &counted, `SELECT count(*) AS marks, coalesce(sum(code IN ('X', 'M', 'U', 'N', 'S')), 0) AS absent FROM mark m WHERE class_id = ? AND date BETWEEN ? AND ?
			AND version = (SELECT max(version) FROM mark o WHERE o.date = m.date AND o.slot = m.slot AND o.student_id = m.student_id) AND student_id IN (0`+marks+`)`, ids...))
		assert.Equal(t, []int{counted.Marks, counted.Absent}, []int{c.Sum.Lessons, c.Sum.Absent}, c.Title)
	}
	one, err := absencepage.ShowClasses(t.Context(), o, demotest.Osk, "", v.Classes[1].Class, pages.AbsenceAsk{})
	require.NoError(t, err)
	assert.Equal(t, []absencepage.ClassReport{v.Classes[1]}, one.Classes)
	_, err = absencepage.ShowClasses(t.Context(), o, demotest.Rask, "", demotest.Halyard, pages.AbsenceAsk{})
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
	other, err := absencepage.ShowClasses(t.Context(), o, demotest.Officer, "", demotest.Halyard, pages.AbsenceAsk{})
	require.NoError(t, err)
	assert.Len(t, other.Classes, 1)
	file, err := absencepage.KeepClasses(t.Context(), o, demotest.Osk, "", 0, pages.AbsenceAsk{}, "csv")
	require.NoError(t, err)
	assert.Contains(t, string(file.Content), `"Absent, no reason yet"`)
}
