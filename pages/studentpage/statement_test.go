package studentpage_test

import (
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/demo/demotest"
	"meldung/pages"
	"meldung/pages/absencepage"
	"meldung/pages/studentpage"
	"meldung/pages/todaypage"
	"meldung/work"
	"meldung/work/steps"
)

// A statement, read back by pdftotext (poppler), has the sums of the Absence page, each day on which
// something was missed, and a key; what is left out is said, and stays in the sums.
func TestAStatement(t *testing.T) {
	o := demotest.Copy(t)
	mika := demotest.Find(t, o, "Mika Ulvar").Student.ID
	read := func(p work.Person, ask studentpage.StatementAsk) string {
		t.Helper()
		f, err := studentpage.Statement(t.Context(), o, p, mika, "", ask)
		require.NoError(t, err)
		name := filepath.Join(t.TempDir(), "statement.pdf")
		require.NoError(t, os.WriteFile(name, f.Content, 0o600))
		out, err := exec.CommandContext(t.Context(), "pdftotext", "-layout", name, "-").Output()
		require.NoError(t, err)
		return string(out)
	}
	why, err := absencepage.ShowWhy(t.Context(), o, demotest.Officer, mika, "", pages.AbsenceAsk{})
	require.NoError(t, err)
	whole := read(demotest.Officer, studentpage.StatementAsk{})
	assert.Contains(t, whole, "Mika Ulvar")
	assert.Contains(t, whole, "Missed "+strconv.Itoa(why.Figures.Absent)+" of "+strconv.Itoa(why.Figures.Possible)+" days, "+why.Figures.Rate+" %")
	assert.Contains(t, whole, "U unexcused")
	days := 0
	for _, d := range why.Days {
		if d.Missed > 0 {
			assert.Contains(t, whole, d.Label)
			days++
		}
	}
	assert.Greater(t, days, 10)
	without := read(demotest.Officer, studentpage.StatementAsk{Without: []string{"U"}})
	assert.Contains(t, without, "Left out below: marks with U. They are in the sums.")
	assert.NotContains(t, without, "U unexcused")
	assert.Contains(t, without, "Missed "+strconv.Itoa(why.Figures.Absent)+" of")
	march := read(demotest.Officer, studentpage.StatementAsk{AbsenceAsk: pages.AbsenceAsk{From: "2026-03-02", To: "2026-03-06"}})
	assert.NotContains(t, march, day.MustDate("2026-01-09").Spoken())
	_, err = studentpage.Statement(t.Context(), o, demotest.Officer, 99999, "", studentpage.StatementAsk{})
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
	assert.Positive(t, strings.Count(whole, "excused"))
}

// A statement is sent to the home in the words of the printed one, once for each home, and stays among
// the student's letters; a home without an address gets none, and nothing leaves.
func TestAStatementSent(t *testing.T) {
	o := demotest.Copy(t)
	ctx := t.Context()
	outbox := func() []todaypage.MessageView {
		out, err := todaypage.ShowOutbox(ctx, o, demotest.Officer, "")
		require.NoError(t, err)
		return out
	}
	mika := demotest.Find(t, o, "Mika Ulvar").Student.ID
	before := outbox()
	ask := studentpage.StatementSending{From: "2026-03-02", To: "2026-03-06", Without: []string{"U"}}
	r, err := studentpage.SendStatement(ctx, o, demotest.Officer, "send", mika, ask)
	require.NoError(t, err)
	again, err := studentpage.SendStatement(ctx, o, demotest.Officer, "send", mika, ask)
	require.NoError(t, err)
	assert.Equal(t, r, again, "the same key sends once")
	after := outbox()
	require.Len(t, after, len(before)+len(r.IDs))
	assert.Contains(t, after[0].Address, "@")
	f, err := studentpage.Statement(ctx, o, demotest.Officer, mika, "", studentpage.StatementAsk{AbsenceAsk: pages.AbsenceAsk{From: ask.From, To: ask.To}, Without: ask.Without})
	require.NoError(t, err)
	name := filepath.Join(t.TempDir(), "statement.pdf")
	require.NoError(t, os.WriteFile(name, f.Content, 0o600))
	printed, err := exec.CommandContext(ctx, "pdftotext", "-layout", name, "-").Output()
	require.NoError(t, err)
	words := func(s string) []string { return strings.Fields(strings.ReplaceAll(s, "–", "-")) }
	for _, line := range strings.Split(after[0].Text, "\n") {
		if strings.HasPrefix(line, "Missed ") {
			for _, w := range words(line) {
				assert.Contains(t, words(string(printed)), w)
			}
		}
	}
	assert.Contains(t, after[0].Text, "Left out below: marks with U.")
	assert.Contains(t, after[0].Text, "What Mika Ulvar missed")
	v, err := studentpage.Show(ctx, o, demotest.Officer, mika, "")
	require.NoError(t, err)
	assert.True(t, slices.ContainsFunc(v.Happened, func(h studentpage.HappenedView) bool {
		return h.Letter == ids.Letter(r.IDs[0]) && strings.HasPrefix(h.Text, "Letter: What Mika Ulvar missed")
	}))

	var without ids.Student
	require.NoError(t, o.Read(ctx, func(v work.Snapshot) error {
		for _, s := range v.School.Students {
			if to := steps.RecipientsOf(v, s.ID); len(to) == 0 || slices.ContainsFunc(to, func(r steps.Recipient) bool { return r.EMail == "" }) {
				without = s.ID
			}
		}
		return nil
	}))
	require.NotZero(t, without)
	_, err = studentpage.SendStatement(ctx, o, demotest.Officer, "no address", without, studentpage.StatementSending{})
	assert.Equal(t, work.Conflict, demotest.Kind(t, err))
	_, err = studentpage.SendStatement(ctx, o, demotest.Osk, "a teacher", mika, studentpage.StatementSending{})
	assert.Error(t, err)
	_, err = studentpage.SendStatement(ctx, o, demotest.Officer, "nobody", 99999, studentpage.StatementSending{})
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
	assert.Len(t, outbox(), len(after))
}
