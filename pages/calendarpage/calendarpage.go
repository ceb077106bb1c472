// Package calendarpage holds the school's dates for other calendars: terms, closed days, and for those who follow
// students up the reviews and meetings to come.
package calendarpage

import (
	"context"
	"fmt"

	"meldung/core/attention"
	"meldung/core/day"
	"meldung/files/icalendar"
	"meldung/pages"
	"meldung/pages/followuppage"
	"meldung/store"
	"meldung/work"
	"meldung/work/concerns"
)

// File is the present school year of the sections as a calendar.
func File(ctx context.Context, o *work.Office, p work.Person) (pages.File, error) {
	var events []icalendar.Event
	err := o.Read(ctx, func(v work.Snapshot) error {
		rule, err := concerns.RuleOfReviews(ctx, v)
		if err != nil {
			return err
		}
		for _, s := range v.Sections() {
			if s.Calendar == nil {
				continue
			}
			events = append(events, terms(s)...)
			events = append(events, closed(s)...)
			if p.May(work.MaySeeReviews) {
				events = append(events, reviews(s, rule)...)
			}
		}
		if !p.May(work.MaySeeCases) {
			return nil
		}
		meetings, err := store.StudentMeetings(ctx, v.Store(), v.Now)
		for _, m := range meetings {
			events = append(events, followuppage.MeetingEvent(m))
		}
		return err
	})
	return pages.File{Name: "school-calendar.ics", Type: icalendar.Type, Content: icalendar.Write(events)}, err
}

// named is what an event is called, with the section where the school has several.
func named(s work.Section, title string) string { return work.Join(", ", title, s.Among(s.ID)) }

// terms are the terms of the section's school year, from their first school day to their last.
func terms(s work.Section) (out []icalendar.Event) {
	for i := range s.Calendar.Days() {
		d := s.Calendar.Day(i)
		if n := len(out); n == 0 || out[n-1].Title != named(s, d.Term) {
			out = append(out, icalendar.Event{ID: fmt.Sprintf("term-%d-%s", s.ID, d.Date), First: d.Date, Title: named(s, d.Term), Known: day.At(d.Date, day.Midnight)})
		}
		out[len(out)-1].Last = d.Date
	}
	return out
}

// closed are the dates and hours that the school was closed against its calendar.
func closed(s work.Section) (out []icalendar.Event) {
	first, last := s.Calendar.Span()
	for _, c := range s.School.Records().Rows.Closures {
		if c.SectionID != s.ID || c.Date < first || c.Date > last {
			continue
		}
		e := icalendar.Event{ID: fmt.Sprintf("closed-%d", c.ID), First: c.Date, Last: c.Date, Title: named(s, "Closed: "+c.Reason), Known: c.Known}
		if c.Hours() {
			e.From, e.To = c.Starts, c.Ends
		}
		out = append(out, e)
	}
	return out
}

// reviews are the days of reviews of the school year.
func reviews(s work.Section, rule concerns.ReviewRule) (out []icalendar.Event) {
	for _, d := range (attention.Schedule(rule)).Days(s.Calendar) {
		out = append(out, icalendar.Event{ID: fmt.Sprintf("review-%d-%s", s.ID, d), First: d, Last: d, Title: named(s, "Review of concerns"), Known: day.At(d, day.Midnight)})
	}
	return out
}
