package followuppage

import (
	"fmt"

	"meldung/files/icalendar"
	"meldung/pages"
	"meldung/store"
)

// MeetingEvent is a meeting as a calendar has it.
func MeetingEvent(m store.StudentMeeting) icalendar.Event {
	e := icalendar.Event{ID: fmt.Sprintf("meeting-%d-%s", m.ID, m.Date), First: m.Date, From: m.Minute, To: m.Until, Title: m.Title, Where: m.Room, Known: m.Known}
	if m.People != "" {
		e.About = "With " + joinPeople(m.People)
	}
	return e
}

// calendarFile writes a meeting as a calendar program reads it.
func calendarFile(m store.StudentMeeting) pages.File {
	return pages.File{Name: fmt.Sprintf("meeting-%s.ics", m.Date), Type: icalendar.Type, Content: icalendar.Write([]icalendar.Event{MeetingEvent(m)})}
}
