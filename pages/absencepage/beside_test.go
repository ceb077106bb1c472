package absencepage_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/demo/demotest"
	"meldung/pages"
	"meldung/pages/absencepage"
	"meldung/work"
)

// Two groups side by side are what each is on its own page.
func TestSideBySide(t *testing.T) {
	o := demotest.Copy(t)
	ask := absencepage.BesideAsk{AbsenceAsk: pages.AbsenceAsk{Group: "year:9"}, From: "2026-02-02", To: "2026-02-27"}
	v, err := absencepage.ShowBeside(t.Context(), o, "", ask)
	require.NoError(t, err)
	first, err := absencepage.Show(t.Context(), o, "", ask.AbsenceAsk)
	require.NoError(t, err)
	second, err := absencepage.Show(t.Context(), o, "", pages.AbsenceAsk{From: ask.From, To: ask.To})
	require.NoError(t, err)
	row := func(what string) absencepage.BesideRow {
		for _, r := range v.Rows {
			if r.What == what {
				return r
			}
		}
		return absencepage.BesideRow{}
	}
	assert.Equal(t, []string{"Year 9", first.Label, "Everyone", second.Label}, []string{v.First.Group, v.First.Label, v.Second.Group, v.Second.Label})
	missed := row("Missed, %")
	assert.Equal(t, []string{first.School, second.School}, []string{missed.First, missed.Second})
	assert.Regexp(t, `^[+−]?\d+\.\d$`, missed.Difference)
	assert.Equal(t, first.Attendance, row("Attended on an average day").First)
	assert.Equal(t, second.Trend.Weekdays[0].Rate, row("Missed on Mondays, %").Second)
	same, err := absencepage.ShowBeside(t.Context(), o, "", absencepage.BesideAsk{AbsenceAsk: ask.AbsenceAsk, Group: "year:9"})
	require.NoError(t, err)
	for _, r := range same.Rows {
		assert.Equal(t, r.First, r.Second, r.What)
		assert.Contains(t, []string{"", "0", "0.0"}, r.Difference, r.What)
	}
	f, err := absencepage.KeepBeside(t.Context(), o, "", ask, "csv")
	require.NoError(t, err)
	assert.Contains(t, string(f.Content), `"Missed, %",`+missed.First+","+missed.Second)
	assert.Equal(t, len(v.Rows)+1, strings.Count(string(f.Content), "\n"))
	_, err = absencepage.ShowBeside(t.Context(), o, "", absencepage.BesideAsk{Before: true})
	assert.Equal(t, work.NotFound, demotest.Kind(t, err), "the demonstration's school has one year here")
}
