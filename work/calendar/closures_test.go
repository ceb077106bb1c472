package calendar_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/demo/demotest"
	"meldung/pages"
	"meldung/pages/absencepage"
	"meldung/pages/schoolpage"
	"meldung/pages/stepspage"
	"meldung/work"
	"meldung/work/calendar"
	"meldung/work/check"
	"meldung/work/plans"
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

// A late opening and an early end set aside the marks of what was closed and count of a shortened slot
// what is left; taken back, every figure is as before, in whichever order.
func TestALateOpeningAndAnEarlyEnd(t *testing.T) {
	o := demotest.Copy(t)
	before, due := figures(t, o)
	in := calendar.DayClosing{From: "2026-03-06", Section: demotest.Lower, Opens: "1020", Ends: "14:30", Reason: "ice"}
	looked, err := calendar.Close(t.Context(), o, demotest.Admin, "look", in)
	require.NoError(t, err)
	assert.Equal(t, plans.PlanPart{What: "slot", Ended: 3, Changed: 2}, looked.Parts[0], "AM, 1 and 6 are gone; 2 begins at 10:20, 5 ends at 14:30: %v", looked.Details)
	assert.Contains(t, looked.Notes[0], "marks of")
	require.NotEmpty(t, looked.Figures)
	in.Apply = true
	_, err = calendar.Close(t.Context(), o, demotest.Admin, "close", in)
	require.NoError(t, err)
	closed, _ := figures(t, o)
	assert.NotEqual(t, before, closed)
	assert.Equal(t, before["ten-percent"].([]any)[0], closed["ten-percent"].([]any)[0], "it is a school day still")
	require.NoError(t, o.ReadOn(t.Context(), day.MustDate("2026-03-06"), func(v work.Snapshot) error {
		s, err := v.SectionWith(demotest.Lower)
		require.NoError(t, err)
		sd, _, open := s.SchoolDay(v.On)
		require.True(t, open)
		var slots []string
		for _, x := range sd.Pattern.Slots {
			slots = append(slots, x.Name+" "+x.Start.String()+" "+x.End.String())
		}
		assert.Equal(t, []string{"2 10:20 10:50", "3 11:10 12:00", "4 12:05 12:55", "PM 13:45 13:55", "5 14:00 14:30"}, slots)
		next, _, _ := s.SchoolDay(v.On + 3)
		assert.Len(t, next.Pattern.Slots, 8, "the day after is as always")
		assert.Empty(t, s.Misplaced())
		return nil
	}))
	wrong, err := check.Check(t.Context(), o, true)
	require.NoError(t, err)
	assert.Empty(t, wrong)
	cal, err := schoolpage.ShowCalendar(t.Context(), o, demotest.Lower)
	require.NoError(t, err)
	var back []ids.Closure
	for _, c := range cal.Years[0].Closed {
		back = append(back, c.ID)
		assert.Regexp(t, "^Fri 6 March: (opened at 10:20|ended at 14:30), ice, Administrator", c.Words)
	}
	require.Len(t, back, 2)
	for _, again := range []calendar.DayClosing{{From: "2026-03-06", Section: demotest.Lower, Opens: "9:30", Reason: "ice"}, in} {
		again.Apply = true
		_, err = calendar.Close(t.Context(), o, demotest.Admin, "again"+again.Opens, again)
		assert.ErrorContains(t, err, "is closed then already")
	}
	for _, id := range []ids.Closure{back[1], back[0]} {
		_, err = calendar.Open(t.Context(), o, demotest.Admin, fmt.Sprint("open", id), calendar.DayOpening{Closures: []ids.Closure{id}, Apply: true})
		require.NoError(t, err)
	}
	after, again := figures(t, o)
	assert.Equal(t, before, after)
	assert.Equal(t, due, again)
}

// Today may end early, while nobody was where it is closed; a whole day is closed as one.
func TestHoursOfToday(t *testing.T) {
	o := demotest.Copy(t)
	for want, in := range map[string]calendar.DayClosing{
		"registers of AM are in":   {From: "2026-03-10", Opens: "10:30", Reason: "ice"},
		"close the whole date":     {From: "2026-03-11", Opens: "18", Reason: "ice"},
		"there is no school then":  {From: "2026-03-11", Ends: "18", Reason: "ice"},
		"open at 12:00 and end at": {From: "2026-03-11", Opens: "12", Ends: "11", Reason: "ice"},
		"is not a time":            {From: "2026-03-11", Opens: "later", Reason: "ice"},
	} {
		in.Apply = true
		_, err := calendar.Close(t.Context(), o, demotest.Admin, want, in)
		assert.ErrorContains(t, err, want)
	}
	plan, err := calendar.Close(t.Context(), o, demotest.Admin, "early", calendar.DayClosing{From: "2026-03-10", Ends: "13", Reason: "storm", Apply: true})
	require.NoError(t, err)
	assert.Equal(t, 6, plan.Parts[0].Ended, "PM, 5 and 6 of both sections: %v", plan.Details)
	assert.Empty(t, plan.Notes, "nobody is marked then")
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
