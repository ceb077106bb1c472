package followuppage

import (
	"fmt"
	"time"

	ics "github.com/arran4/golang-ical"

	"meldung/core/day"
	"meldung/pages"
	"meldung/store"
)

// calendarFile writes a meeting as a calendar program reads it. Times are the school's own, without a zone, which a
// calendar takes as those of the place where it is.
func calendarFile(m store.StudentMeeting) pages.File {
	c := ics.NewCalendar()
	c.SetProductId("-//Meldung//Meldung//EN")
	c.SetMethod(ics.MethodPublish)
	e := c.AddEvent(fmt.Sprintf("meeting-%d-%s@meldung", m.ID, m.Date))
	e.SetDtStampTime(clock(m.Known))
	floating(e, ics.ComponentPropertyDtStart, day.At(m.Date, m.Minute))
	floating(e, ics.ComponentPropertyDtEnd, day.At(m.Date, m.Until))
	e.SetSummary(m.Title)
	if m.Room != "" {
		e.SetLocation(m.Room)
	}
	if m.People != "" {
		e.SetDescription("With " + joinPeople(m.People))
	}
	return pages.File{Name: fmt.Sprintf("meeting-%s.ics", m.Date), Type: "text/calendar; charset=utf-8", Content: []byte(c.Serialize(ics.WithNewLineWindows))}
}

func floating(e *ics.VEvent, p ics.ComponentProperty, at day.Instant) {
	e.SetProperty(p, clock(at).Format("20060102T150405"))
}

func clock(at day.Instant) time.Time {
	return at.Date().Time().Add(time.Duration(at.Minute().SinceMidnight()) * time.Minute)
}
