package leavers_test

import (
	"archive/zip"
	"bytes"
	"fmt"
	"io"
	"maps"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/demo/demotest"
	"meldung/pages/schoolpage"
	"meldung/store"
	"meldung/work"
	"meldung/work/check"
	"meldung/work/contacts"
	"meldung/work/leavers"
	"meldung/work/roster"
)

var admin = work.Person{Account: 46, Name: "Administrator", Role: work.Administrator}

func list(t *testing.T, o *work.Office) (out []leavers.Leaver) {
	t.Helper()
	require.NoError(t, o.Read(t.Context(), func(v work.Snapshot) (err error) {
		out, err = leavers.Of(t.Context(), v)
		return err
	}))
	return out
}

// leaving has some students leave after today.
func leaving(t *testing.T, o *work.Office, students ...ids.Student) {
	t.Helper()
	require.NoError(t, o.Write(t.Context(), work.Job{Kind: "left"}, func(tx *work.Tx, _ work.Snapshot) error {
		tx.Changed()
		for _, id := range students {
			for _, table := range []string{"enrollment", "student_span"} {
				if _, err := tx.ExecContext(t.Context(), `UPDATE `+table+` SET to_date = ? WHERE student_id = ?`, day.MustDate("2026-03-10"), id); err != nil {
					return err
				}
			}
		}
		return nil
	}))
}

// textOf returns everything that is stored about a student, file by file.
func textOf(t *testing.T, o *work.Office, student ids.Student) map[string]string {
	t.Helper()
	out := map[string]string{}
	_, archive, err := leavers.Everything(t.Context(), o, admin, student)
	require.NoError(t, err)
	files, err := zip.NewReader(bytes.NewReader(archive), int64(len(archive)))
	require.NoError(t, err)
	for _, f := range files.File {
		r, err := f.Open()
		require.NoError(t, err)
		text, err := io.ReadAll(r)
		require.NoError(t, err)
		if f.Name == "record.pdf" {
			text = printed(t, text)
		}
		out[f.Name] = string(text)
	}
	return out
}

// printed is a PDF's text as another program reads it.
func printed(t *testing.T, pdf []byte) []byte {
	t.Helper()
	name := filepath.Join(t.TempDir(), "record.pdf")
	require.NoError(t, os.WriteFile(name, pdf, 0o600))
	out, err := exec.Command("pdftotext", "-layout", name, "-").Output()
	require.NoError(t, err)
	return out
}

// What is handed out is there to read too: a PDF with every table.
func TestARecordToRead(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	files := textOf(t, o, 232)
	plain := func(s string) string { return strings.ToLower(strings.ReplaceAll(s, "-", " ")) }
	read := plain(files["record.pdf"])
	for file, content := range files {
		if table, is := strings.CutSuffix(file, ".csv"); is && table != "about" && strings.Count(content, "\n") > 1 {
			assert.True(t, strings.Contains(read, plain(table)), file)
		}
	}
	assert.True(t, strings.Contains(read, "student data of fairlead school"))
}

func TestLeaversAreErasedOnceTheirTimeIsOver(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	require.Empty(t, list(t, o))
	leaving(t, o, 600, 601, 602)
	require.Empty(t, list(t, o), "today they are there")
	clock.Set(day.At(day.MustDate("2026-03-11"), day.MustMinute("16:00")))
	all := list(t, o)
	require.Len(t, all, 3)
	one, other := all[0], all[1]
	for _, l := range all {
		assert.Less(t, l.Left, o.Now().Date())
		assert.Zero(t, l.Due, "nobody has decided")
	}
	idris := demotest.Find(t, o, "Idris Quell").Student.ID
	refused := func(students []ids.Student, kind work.ErrorKind, what string) {
		t.Helper()
		_, err := leavers.Erase(ctx, o, admin, "", leavers.Erasure{Students: students})
		require.ErrorContains(t, err, what)
		assert.Equal(t, kind, demotest.Kind(t, err))
	}
	refused([]ids.Student{one.Student.ID}, work.Refused, "has not decided")
	_, err := leavers.SetRule(ctx, o, demotest.Officer, "", leavers.Rule{Years: 1})
	require.Error(t, err, "an administrator decides")
	_, err = leavers.SetRule(ctx, o, admin, "", leavers.Rule{Years: 2})
	require.NoError(t, err)
	refused([]ids.Student{one.Student.ID}, work.Refused, "are kept until 2028-03-09")

	set, err := contacts.SetWarning(ctx, o, demotest.Officer, "", contacts.Warning{Student: one.Student.ID, Text: "epilepsy",
		Document: &contacts.Document{Name: "plan.pdf", Content: []byte("%PDF-1.7\nher plan\n%%EOF\n")}})
	require.NoError(t, err)
	_, err = contacts.EndWarning(ctx, o, demotest.Officer, "", contacts.WarningEnd{Student: one.Student.ID, Warning: ids.Warning(set.IDs[0]), Why: "has left"})
	require.NoError(t, err)
	before := textOf(t, o, one.Student.ID)
	assert.Contains(t, before[fmt.Sprintf("documents/%d-plan.pdf", set.IDs[0])], "her plan")
	assert.Contains(t, before["changes-of-warnings.csv"], "holds no longer, has left")
	assert.Contains(t, before["student.csv"], one.Student.Family)
	assert.Contains(t, before["marks.csv"], "2025-09-")
	assert.Contains(t, before["contacts.csv"], "07700 900", "whom to ring")
	present := textOf(t, o, idris)
	assert.Greater(t, len(present), 15)

	clock.Set(day.At(day.MustDate("2028-03-11"), day.MustMinute("16:00")))
	refused([]ids.Student{one.Student.ID, idris}, work.Conflict, "is on the roll")
	still := textOf(t, o, one.Student.ID)
	for _, made := range []string{"record.pdf", "about.csv"} { // which say when they were made
		delete(before, made)
		delete(still, made)
	}
	assert.Equal(t, before, still, "all or nobody")
	year := day.MustDate("2026-03-10")
	figures := func() map[string]string {
		files, err := roster.ExportAssess(ctx, o, year, "")
		require.NoError(t, err)
		out := map[string]string{}
		for name, content := range files {
			if strings.HasSuffix(name, "marks.csv") {
				for _, l := range []leavers.Leaver{one, other} { // under another id
					content = bytes.ReplaceAll(content, []byte(l.Student.SourcedID+","), []byte(fmt.Sprintf("erased-%d,", l.Student.ID)))
				}
				out[name] = string(content)
			}
		}
		require.NotEmpty(t, out)
		return out
	}
	group := figures()
	var done work.Receipt
	two := leavers.Erasure{Students: []ids.Student{one.Student.ID, other.Student.ID}}
	wins := make(chan error, 2)
	for range 2 { // two administrators at once
		go func() {
			r, err := leavers.Erase(ctx, o, admin, "", two)
			if err == nil {
				done = r
			}
			wins <- err
		}()
	}
	a, b := <-wins, <-wins
	assert.True(t, (a == nil) != (b == nil), "%v, %v", a, b)
	assert.Len(t, done.IDs, 2)
	assert.Len(t, list(t, o), len(all)-2)

	after := textOf(t, o, one.Student.ID)
	secrets := []string{one.Student.Family + ",", one.Student.Number, one.Student.Card, one.Student.SourcedID, "01632", "07700", "@"}
	for name, text := range after {
		for _, s := range secrets {
			if s != "" && s != "," {
				assert.NotContains(t, text, s, name)
			}
		}
	}
	assert.True(t, maps.Equal(group, figures()), "marks stay as figures of their groups")
	wrong, err := check.Check(ctx, o, true)
	require.NoError(t, err)
	assert.Empty(t, wrong)
	v, err := schoolpage.ShowLeavers(ctx, o)
	require.NoError(t, err)
	assert.Equal(t, len(all)-2, v.Due)
	assert.Len(t, v.Rows, len(all)-2)
}

// What is said of two of whom one is still there stays, and so does a home that they share.
func TestWhatConcernsOthersStays(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	idris := demotest.Find(t, o, "Idris Quell").Student.ID
	left := ids.Student(600)
	leaving(t, o, left)
	clock.Set(day.At(day.MustDate("2026-03-11"), day.MustMinute("16:00")))
	require.NoError(t, o.Write(ctx, work.Job{Kind: "a shared home"}, func(tx *work.Tx, _ work.Snapshot) error {
		for _, q := range []string{
			`INSERT OR IGNORE INTO student_contact (student_id, contact_id, call_order) SELECT ?1, contact_id, 9 FROM student_contact WHERE student_id = ?2`,
			`INSERT INTO call (date, minute, contact_id, outcome, note, phone, journal_id) SELECT 20000, 540, contact_id, 'spoke', 'about both', '01632 960 999', (SELECT max(id) FROM journal) FROM student_contact WHERE student_id = ?2 LIMIT 1`,
			`INSERT INTO call_student SELECT (SELECT max(id) FROM call), ?1 UNION SELECT (SELECT max(id) FROM call), ?2`,
		} {
			if _, err := tx.ExecContext(ctx, q, left, idris); err != nil {
				return err
			}
		}
		return store.Erase(ctx, tx.Tx, left)
	}))
	still := textOf(t, o, idris)
	assert.Contains(t, still["calls.csv"], "about both")
	assert.Contains(t, still["contacts.csv"], "0", "the home's numbers are there")
	assert.NotContains(t, still["contacts.csv"], "Erased")
}
