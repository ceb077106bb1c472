package calendar_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/ids"
	"meldung/demo/demotest"
	"meldung/pages"
	"meldung/pages/absencepage"
	"meldung/pages/schoolpage"
	"meldung/pages/stepspage"
	"meldung/work"
	"meldung/work/calendar"
	"meldung/work/check"
)

// figures are every student's by every policy, and what is due.
func figures(t *testing.T, o *work.Office) (map[string]any, stepspage.StepsView) {
	t.Helper()
	out := map[string]any{}
	for _, policy := range []string{"ten-percent", "hours", "sessions", "letters"} {
		v, err := absencepage.Show(t.Context(), o, "", pages.AbsenceAsk{Policy: policy, Sort: "name"})
		require.NoError(t, err)
		for _, r := range v.Rows {
			out[fmt.Sprint(policy, r.Student.ID)] = r.Figures
		}
		out[policy] = []any{v.Days, v.School, v.Attendance, v.Membership, v.Bands}
	}
	due, err := stepspage.Show(t.Context(), o, demotest.Officer, "")
	require.NoError(t, err)
	return out, due
}

// Closing a day after the fact and opening it again leaves every figure as it was, and what is due;
// while it is closed it is no school day and its marks count for nobody.
func TestAClosedDayAndBack(t *testing.T) {
	o := demotest.Copy(t)
	before, due := figures(t, o)
	in := calendar.DayClosing{From: "2026-03-06", Reason: "storm"}
	looked, err := calendar.Close(t.Context(), o, demotest.Admin, "look", in)
	require.NoError(t, err)
	assert.False(t, looked.Applied)
	assert.True(t, looked.Past)
	require.NotEmpty(t, looked.Figures)
	assert.Contains(t, looked.Notes[0], "marks of")
	same, _ := figures(t, o)
	assert.Equal(t, before, same, "looking changes nothing")

	in.Apply = true
	plan, err := calendar.Close(t.Context(), o, demotest.Admin, "close", in)
	require.NoError(t, err)
	assert.True(t, plan.Applied)
	closed, less := figures(t, o)
	assert.NotEqual(t, before, closed)
	assert.Equal(t, before["ten-percent"].([]any)[0].(int)-1, closed["ten-percent"].([]any)[0])
	assert.NotEqual(t, due.Due, less.Due, "what fell due that day is not due")
	cal, err := schoolpage.ShowCalendar(t.Context(), o)
	require.NoError(t, err)
	var back []ids.Closure
	for _, y := range cal.Years {
		require.Len(t, y.Closed, 1)
		assert.Equal(t, "Fri 6 March: storm, Administrator Tue 10 March", y.Closed[0].Words)
		back = append(back, y.Closed[0].ID)
	}
	wrong, err := check.Check(t.Context(), o, true)
	require.NoError(t, err)
	assert.Empty(t, wrong)
	_, err = calendar.Close(t.Context(), o, demotest.Admin, "twice", in)
	assert.ErrorContains(t, err, "there is no school")

	plan, err = calendar.Open(t.Context(), o, demotest.Admin, "open", calendar.DayOpening{Closures: back, Apply: true})
	require.NoError(t, err)
	assert.True(t, plan.Applied)
	after, again := figures(t, o)
	assert.Equal(t, before, after)
	assert.Equal(t, due, again)
	_, err = calendar.Open(t.Context(), o, demotest.Admin, "open twice", calendar.DayOpening{Closures: back, Apply: true})
	assert.ErrorContains(t, err, "taken back already")
}

func TestWhatCannotBeClosed(t *testing.T) {
	o := demotest.Copy(t)
	for want, in := range map[string]calendar.DayClosing{
		"today has begun":         {From: "2026-03-10", Reason: "storm"},
		"there is no school":      {From: "2026-03-07", Reason: "storm"},
		"is before":               {From: "2026-03-06", To: "2026-03-05", Reason: "storm"},
		"not a date":              {From: "2026-03-66", Reason: "storm"},
		"say why":                 {From: "2026-03-06", Reason: " "},
		"there is no section":     {From: "2026-03-06", Reason: "storm", Section: 99},
		"at most 60 dates can be": {From: "2026-03-06", To: "2026-06-30", Reason: "storm"},
	} {
		_, err := calendar.Close(t.Context(), o, demotest.Admin, "k", in)
		assert.ErrorContains(t, err, want)
	}
	_, err := calendar.Close(t.Context(), o, demotest.Officer, "officer", calendar.DayClosing{From: "2026-03-06", Reason: "storm"})
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
	one, err := calendar.Close(t.Context(), o, demotest.Admin, "ahead", calendar.DayClosing{From: "2026-03-25", To: "2026-03-26", Section: demotest.Lower, Reason: "polling day", Apply: true})
	require.NoError(t, err)
	assert.True(t, one.Applied)
	assert.Equal(t, 2, one.Parts[0].Ended)
}
