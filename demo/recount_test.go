package demo_test

import (
	"encoding/csv"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/policy"
	"meldung/demo/demotest"
	"meldung/files/assess"
	"meldung/files/policyfile"
	"meldung/files/table"
	"meldung/pages"
	"meldung/pages/absencepage"
	"meldung/work"
	"meldung/work/roster"
)

// The school's own data, exported and measured as plain files, give the figures
// that the Absence page shows: for every section, every shipped policy, every student and line.
func TestExportedFilesMeasureAsThePageShows(t *testing.T) {
	o := open(t)
	all, err := roster.ExportAssess(t.Context(), o, o.Now().Date(), "")
	require.NoError(t, err)
	for _, s := range []struct {
		id       ids.Section
		name     string
		students int
	}{{demotest.Lower, "Lower School", 408}, {demotest.Upper, "Upper School", 204}} {
		files, err := roster.ExportAssess(t.Context(), o, o.Now().Date(), s.name)
		require.NoError(t, err)
		for name, content := range files {
			assert.Equal(t, string(content), string(all[map[ids.Section]string{demotest.Lower: "org-lower/", demotest.Upper: "org-upper/"}[s.id]+name]), name)
		}
		measuresAsThePage(t, o, files, s.id, s.students)
	}
	_, err = roster.ExportAssess(t.Context(), o, o.Now().Date(), "Middle School")
	assert.ErrorContains(t, err, "there is no section")
}

func measuresAsThePage(t *testing.T, o *work.Office, files table.Files, section ids.Section, students int) {
	t.Helper()
	folder := t.TempDir()
	require.NoError(t, table.WriteFolder(folder, files))
	for _, id := range policyfile.Policies() {
		p, err := policyfile.Load(filepath.Join(folder, "policy-"+id+".yaml"))
		require.NoError(t, err)
		ledger, problems := assess.Read(os.DirFS(folder), p)
		require.Empty(t, problems)
		page, err := absencepage.Show(t.Context(), o, "", pages.AbsenceAsk{Policy: id}, section)
		require.NoError(t, err)
		require.Equal(t, students, page.Students)

		tables := assess.Measure(ledger, p, day.MustDate(page.AsAt))
		want := rowsByStudent(t, tables["students.csv"])
		triggers, steps := rowsByStudent(t, tables["triggers.csv"]), rowsByStudent(t, tables["steps.csv"])
		for _, r := range page.Rows {
			f, row := r.Figures, want[sourced(t, o, r.Student.ID)][0]
			room := func(v pages.RoomView) string {
				return map[bool]string{true: fmt.Sprint(v.Units), false: ""}[v.Known && !v.None] + map[bool]string{true: "none", false: ""}[v.None]
			}
			got := []string{f.Unit, fmt.Sprint(f.Possible), fmt.Sprint(f.Absent), fmt.Sprint(f.Excused), fmt.Sprint(f.Unexcused), fmt.Sprint(f.Unexplained),
				fmt.Sprint(f.Void), fmt.Sprint(f.Unmarked), fmt.Sprint(f.Lates), f.Rate, f.Band, room(f.Headroom), room(f.WayBack)}
			require.Equal(t, append(append([]string(nil), row[1:10]...), row[13:]...), got, "%s by %s", r.Student.Name, id)
			minutes := []string{f.Due, f.Missed, f.Charged}
			for n, text := range row[10:13] {
				var m int
				_, err := fmt.Sscan(text, &m)
				require.NoError(t, err)
				require.Equal(t, day.Duration(m), minutes[n])
			}
		}
		for _, row := range page.Rows[:40] {
			why, err := absencepage.ShowWhy(t.Context(), o, officer, row.Student.ID, "", pages.AbsenceAsk{Policy: id})
			require.NoError(t, err)
			student := sourced(t, o, row.Student.ID)
			reached := 0
			for _, r := range triggers[student] {
				if r[4] != "" {
					reached++
				}
			}
			lines := 0
			for _, w := range why.Triggers {
				if w.Reached != "" {
					lines++
				}
			}
			require.Equal(t, reached, lines)
			for _, d := range why.Due {
				if d.Kind == "step" {
					lines++
				}
			}
			require.Equal(t, reached+len(steps[student]), lines)
		}
	}
}

// The whole school is the sum of its sections, each measured by its own calendar: the upper
// school had a day less.
func TestTheWholeIsTheSumOfItsSections(t *testing.T) {
	o := open(t)
	for _, id := range policyfile.Policies() {
		show := func(of ...ids.Section) absencepage.AbsenceView {
			v, err := absencepage.Show(t.Context(), o, "", pages.AbsenceAsk{Policy: id}, of...)
			require.NoError(t, err)
			return v
		}
		all, low, up := show(), show(demotest.Lower), show(demotest.Upper)
		assert.Equal(t, []string{"all sections", "Lower School", "Upper School"}, []string{all.Scope, low.Scope, up.Scope})
		assert.Equal(t, []int{113, 113, 112}, []int{all.Days, low.Days, up.Days})
		assert.Equal(t, all.Students, low.Students+up.Students)
		assert.Equal(t, all.DueInAll, low.DueInAll+up.DueInAll)
		possible, absent := 0, 0
		byID := map[ids.Student]pages.AbsenceFigures{}
		for _, r := range append(low.Rows, up.Rows...) {
			byID[r.Student.ID] = r.Figures
			possible, absent = possible+r.Figures.Possible, absent+r.Figures.Absent
		}
		for _, r := range all.Rows {
			assert.Equal(t, byID[r.Student.ID], r.Figures, r.Student.Name)
		}
		assert.Equal(t, policy.Percent(absent, possible), all.School)
		for i, b := range all.Bands {
			assert.Equal(t, b.Count, low.Bands[i].Count+up.Bands[i].Count)
		}
		assert.InDelta(t, number(t, low.Attendance)+number(t, up.Attendance), number(t, all.Attendance), 0.11, "rounded once")
		assert.InDelta(t, number(t, low.Membership)+number(t, up.Membership), number(t, all.Membership), 0.11)
	}
	_, err := absencepage.Show(t.Context(), o, "", pages.AbsenceAsk{}, 7)
	assert.ErrorContains(t, err, "there is no section 7")
}

func number(t *testing.T, text string) (n float64) {
	t.Helper()
	_, err := fmt.Sscan(text, &n)
	require.NoError(t, err)
	return n
}

func rowsByStudent(t *testing.T, text []byte) map[string][][]string {
	t.Helper()
	rows, err := csv.NewReader(strings.NewReader(string(text))).ReadAll()
	require.NoError(t, err)
	out := map[string][][]string{}
	for _, r := range rows[1:] {
		out[r[0]] = append(out[r[0]], r)
	}
	return out
}

// sourced is a student's id in files.
func sourced(t *testing.T, o *work.Office, id ids.Student) string {
	t.Helper()
	var text string
	require.NoError(t, o.Store().Sessions().QueryRowContext(t.Context(), "SELECT sourced_id FROM student WHERE id = ?", id).Scan(&text))
	return text
}

// countedAgain is the sums of ten per cent and of half-day sessions by SQL alone,
// straight from the tables of the store: nothing of the program takes part. It starts from the
// marks and the registers that they came in, so that a mark which the program has no place
// for makes a difference.
const countedAgain = `
WITH code(code, side, attended) AS (VALUES ('P','',1),('R','',1),('L','u',1),('LX','e',1),('X','e',0),('M','e',0),('U','u',0),('N','u',0),
  ('S','e',0),('V','',2),('Z','',3),('D','e',1),('DU','u',1)),
force AS (SELECT * FROM mark k WHERE version = (SELECT max(version) FROM mark o WHERE o.date = k.date AND o.slot = k.slot AND o.student_id = k.student_id)),
due AS (
  SELECT f.student_id, f.date, s.kind, c.attended, c.side, s.ends - s.starts AS long,
    CASE WHEN c.attended >= 2 THEN 0
         WHEN c.attended = 1 AND f.away_from IS NULL AND f.away_to IS NULL THEN 0
         ELSE max(0, min(s.ends, coalesce(f.away_to, s.ends)) - max(s.starts, coalesce(f.away_from, s.starts))) END AS missed
  FROM force f LEFT JOIN register s ON s.date = f.date AND s.slot = f.slot AND s.class_id = f.class_id LEFT JOIN code c ON c.code = f.code
  WHERE coalesce(c.attended, 0) < 3 AND f.date <= %[1]d AND f.date >= (SELECT max(first_date) FROM school_year WHERE first_date <= %[1]d)),
days AS (SELECT student_id, date, sum(long) AS long, sum(missed) AS missed, sum(CASE WHEN side = 'u' THEN missed ELSE 0 END) AS u FROM due GROUP BY 1, 2),
day AS (SELECT student_id, count(*) AS possible, sum(2 * missed >= long) AS absent, sum(2 * missed >= long AND 2 * u >= missed) AS unexcused FROM days GROUP BY 1),
session AS (SELECT student_id, count(*) AS possible, sum(attended = 0) AS absent, sum(attended = 0 AND side = 'u') AS unexcused FROM due WHERE kind = 'registration' GROUP BY 1)
SELECT p.id, coalesce(day.possible, 0), coalesce(day.absent, 0), coalesce(day.unexcused, 0),
  coalesce(session.possible, 0), coalesce(session.absent, 0), coalesce(session.unexcused, 0)
FROM student p LEFT JOIN day ON day.student_id = p.id LEFT JOIN session ON session.student_id = p.id ORDER BY p.id;`

func TestDayAndSessionSumsBySQLite(t *testing.T) {
	o := open(t)
	figures := map[ids.Student][]int{}
	asAt := ""
	for _, id := range []string{"ten-percent", "sessions"} {
		page, err := absencepage.Show(t.Context(), o, "", pages.AbsenceAsk{Policy: id})
		require.NoError(t, err)
		asAt = page.AsAt
		for _, r := range page.Rows {
			figures[r.Student.ID] = append(figures[r.Student.ID], r.Figures.Possible, r.Figures.Absent, r.Figures.Unexcused)
		}
	}
	require.NotEmpty(t, figures)
	copied := filepath.Join(t.TempDir(), "copy.db")
	_, err := o.Store().Sessions().ExecContext(t.Context(), "VACUUM INTO ?", copied)
	require.NoError(t, err)
	out, err := exec.Command("sqlite3", "-csv", copied, fmt.Sprintf(countedAgain, day.MustDate(asAt))).CombinedOutput()
	require.NoError(t, err, string(out))
	absent := 0
	for _, line := range strings.Split(strings.TrimSpace(string(out)), "\n") {
		var id ids.Student
		n := make([]int, 6)
		_, err := fmt.Sscanf(strings.TrimSpace(line), "%d,%d,%d,%d,%d,%d,%d", &id, &n[0], &n[1], &n[2], &n[3], &n[4], &n[5])
		require.NoError(t, err, line)
		if got, onRoll := figures[id]; onRoll {
			assert.Equal(t, n, got, "student %d", id)
			absent += n[1]
		}
	}
	assert.Greater(t, absent, 1000, "there is something to count")
}
