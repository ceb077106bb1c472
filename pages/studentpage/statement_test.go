package studentpage_test

import (
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/demo/demotest"
	"meldung/pages"
	"meldung/pages/absencepage"
	"meldung/pages/studentpage"
	"meldung/work"
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
