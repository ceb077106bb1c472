package calendarpage_test

import (
	"bytes"
	"strings"
	"testing"

	ics "github.com/arran4/golang-ical"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/demo/demotest"
	"meldung/pages/calendarpage"
	"meldung/work"
	"meldung/work/calendar"
	"meldung/work/caseload"
)

func events(t *testing.T, o *work.Office, p work.Person) map[string]*ics.VEvent {
	t.Helper()
	f, err := calendarpage.File(t.Context(), o, p)
	require.NoError(t, err)
	c, err := ics.ParseCalendar(bytes.NewReader(f.Content))
	require.NoError(t, err)
	out := map[string]*ics.VEvent{}
	for _, e := range c.Events() {
		assert.NotContains(t, out, e.Id(), "an event stands once")
		out[e.Id()] = e
	}
	return out
}

func value(e *ics.VEvent, p ics.ComponentProperty) string { return e.GetProperty(p).Value }

func titled(all map[string]*ics.VEvent, words string) (out []*ics.VEvent) {
	for _, e := range all {
		if strings.Contains(value(e, ics.ComponentPropertySummary), words) {
			out = append(out, e)
		}
	}
	return out
}

// Terms, closed days, reviews and meetings stand in the calendar, each for those who may know of it.
func TestTheYearForACalendar(t *testing.T) {
	o := demotest.Copy(t)
	ctx := t.Context()
	_, err := calendar.Close(ctx, o, demotest.Admin, "", calendar.DayClosing{From: "2026-03-20", Reason: "storm", Apply: true})
	require.NoError(t, err)
	_, err = caseload.Meet(ctx, o, demotest.Ase, "", caseload.Meeting{Student: demotest.Find(t, o, "Cato Vane").Student.ID, Date: "2026-03-12", From: "15:30", Until: "16:00", Title: "Home and tutor", Room: "Room 4", People: []string{"Disa Ase"}})
	require.NoError(t, err)

	all := events(t, o, demotest.Ase)
	assert.Len(t, titled(all, "Autumn"), 4, "two terms of two sections")
	closed := titled(all, "Closed: storm")
	require.Len(t, closed, 2)
	assert.Equal(t, []string{"20260320", "20260321"}, []string{value(closed[0], ics.ComponentPropertyDtStart), value(closed[0], ics.ComponentPropertyDtEnd)}, "the day after is no part of it")
	assert.NotEmpty(t, titled(all, "Review of concerns"))
	meeting := titled(all, "Home and tutor")
	require.Len(t, meeting, 1)
	assert.Equal(t, []string{"20260312T153000", "20260312T160000", "Room 4"}, []string{value(meeting[0], ics.ComponentPropertyDtStart), value(meeting[0], ics.ComponentPropertyDtEnd), value(meeting[0], ics.ComponentPropertyLocation)})

	for _, p := range []work.Person{demotest.Osk, demotest.Maud} {
		theirs := events(t, o, p)
		assert.Len(t, titled(theirs, "Closed: storm"), 2)
		assert.Empty(t, titled(theirs, "Review"), p.Name)
		assert.Empty(t, titled(theirs, "Home and tutor"), p.Name)
	}
}
