// Package icalendar writes events as calendar programs read them (iCalendar, RFC 5545). It must not know whose they
// are.
package icalendar

import (
	"time"

	ics "github.com/arran4/golang-ical"

	"meldung/core/day"
)

// Event is something on a calendar: at times of a day, or the whole of some dates where it has no times.
type Event struct {
	ID       string // the same each time it is written, so that a calendar puts it in the place of the one before
	First    day.Date
	Last     day.Date   // of an event over whole dates
	From, To day.Minute // of one at times of its first date; none for whole dates
	Title    string
	Where    string
	About    string
	Known    day.Instant // when it was written down
}

// Type is that of the file.
const Type = "text/calendar; charset=utf-8"

// Write writes events. Times are the school's own, without a zone, which a calendar takes as those of the place where
// it is.
func Write(events []Event) []byte {
	c := ics.NewCalendar()
	c.SetProductId("-//Meldung//Meldung//EN")
	c.SetMethod(ics.MethodPublish)
	for _, x := range events {
		e := c.AddEvent(x.ID + "@meldung")
		e.SetDtStampTime(clock(x.Known))
		if x.From.IsZero() && x.To.IsZero() {
			date(e, ics.ComponentPropertyDtStart, x.First)
			date(e, ics.ComponentPropertyDtEnd, x.Last+1) // which the standard leaves out
		} else {
			floating(e, ics.ComponentPropertyDtStart, day.At(x.First, x.From))
			floating(e, ics.ComponentPropertyDtEnd, day.At(x.First, x.To))
		}
		e.SetSummary(x.Title)
		if x.Where != "" {
			e.SetLocation(x.Where)
		}
		if x.About != "" {
			e.SetDescription(x.About)
		}
	}
	return []byte(c.Serialize(ics.WithNewLineWindows))
}

func date(e *ics.VEvent, p ics.ComponentProperty, d day.Date) {
	e.SetProperty(p, d.Time().Format("20060102"), ics.WithValue("DATE"))
}

func floating(e *ics.VEvent, p ics.ComponentProperty, at day.Instant) {
	e.SetProperty(p, clock(at).Format("20060102T150405"))
}

func clock(at day.Instant) time.Time {
	return at.Date().Time().Add(time.Duration(at.Minute().SinceMidnight()) * time.Minute)
}
