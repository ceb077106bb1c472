package schoolpage

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/held"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
)

// CalendarView is the school years that concern today, section by section.
type CalendarView struct {
	Today string        `json:"today" doc:"YYYY-MM-DD"`
	Years []SectionYear `json:"years"`
}

// SectionYear is the school year of a section.
type SectionYear struct {
	Section  ids.Section   `json:"section"`
	Name     string        `json:"name" doc:"Empty where the school has one section"`
	Title    string        `json:"title" doc:"2025 to 2026"`
	Days     int           `json:"days" doc:"School days"`
	Number   int           `json:"number" doc:"Which of them today is, or the last that was; 0 before the first"`
	Kinds    []DayKind     `json:"kinds" doc:"The day patterns, the most usual first"`
	First    string        `json:"first" doc:"YYYY-MM-DD, of the year"`
	Patterns []string      `json:"patterns" doc:"The day patterns there are, those that no date goes by yet too"`
	Terms    []TermDates   `json:"terms"`
	Periods  []TermDates   `json:"periods" doc:"Grading periods"`
	Months   []MonthOfYear `json:"months"`
	Closed   []ClosedDay   `json:"closed" doc:"Closed against the calendar, the last first; those taken back too"`
}

// ClosedDay is a date that was closed against the calendar.
type ClosedDay struct {
	ID     ids.Closure `json:"id"`
	Date   string      `json:"date"`
	Words  string      `json:"words" doc:"Thu 12 March: storm, Administrator Fri 13 March"`
	Stands bool        `json:"stands"`
}

// DayKind is a day pattern, with how many days it has.
type DayKind struct {
	Name string `json:"name"`
	Days int    `json:"days"`
}

// TermDates are the dates of a term or grading period.
type TermDates struct {
	Name  string `json:"name"`
	Days  int    `json:"days"`
	From  string `json:"from" doc:"In words"`
	To    string `json:"to"`
	First string `json:"first" doc:"YYYY-MM-DD"`
	Last  string `json:"last"`
}

// MonthOfYear is a month of a school year.
type MonthOfYear struct {
	Title string     `json:"title"`
	Days  []MonthDay `json:"days" doc:"Those on which there could be school, and those on which there is"`
}

// MonthDay is a date of a month.
type MonthDay struct {
	Date    string `json:"date"`
	Day     int    `json:"day"`
	Weekday int    `json:"weekday" doc:"1 is Monday"`
	Kind    string `json:"kind" enum:"usual,other,changed,closed" doc:"By the usual pattern, by another, put right, without school"`
	Words   string `json:"words" doc:"Thu 12 March, normal"`
}

// ShowCalendar returns the calendar of some sections, of every one where none is given.
func ShowCalendar(ctx context.Context, o *work.Office, of ...ids.Section) (CalendarView, error) {
	out := CalendarView{Years: []SectionYear{}}
	m, err := o.Moment("", of...)
	if err != nil {
		return out, err
	}
	return out, o.Read(ctx, func(v work.Snapshot) error {
		ever, err := store.ClosuresEver(ctx, v.Store())
		if err != nil {
			return err
		}
		out.Today = m.Date.String()
		for _, s := range v.In(m.Scope) {
			if s.Calendar == nil {
				continue
			}
			year := sectionYear(s, m.Date)
			year.Closed = closedDays(s, ever)
			if len(v.Sections()) > 1 {
				year.Name = s.Name
			}
			out.Years = append(out.Years, year)
		}
		return nil
	})
}

// closedDays lists what was closed in a section's school year.
func closedDays(s work.Section, ever []store.Closure) []ClosedDay {
	out := []ClosedDay{}
	first, last := s.Calendar.Span()
	for _, c := range ever {
		if c.SectionID != s.ID || c.Date < first-14 || c.Date > last+14 {
			continue
		}
		one := ClosedDay{ID: c.ID, Date: c.Date.String(), Words: c.Date.Spoken() + ": " + work.Join(", ", hoursText(c), c.Reason, c.By+" "+c.Known.Date().Spoken()), Stands: c.UndoneBy == nil}
		if c.UndoneAt != nil {
			one.Words += ", taken back " + c.UndoneAt.Date().Spoken()
		}
		out = append(out, one)
	}
	slices.SortStableFunc(out, func(a, b ClosedDay) int { return cmp.Compare(b.Date, a.Date) })
	return out
}

// hoursText says which part of a date was closed; empty for the whole of it.
func hoursText(c store.Closure) string {
	switch {
	case !c.Hours():
		return ""
	case c.Starts.SinceMidnight() == 0:
		return "opened at " + c.Ends.String()
	default:
		return "ended at " + c.Starts.String()
	}
}

func sectionYear(s work.Section, today day.Date) SectionYear {
	c := s.Calendar
	first, last := c.Span()
	out := SectionYear{Section: s.ID, Title: yearTitle(first, last), Days: c.Days(), Number: c.UpTo(today) + 1, Kinds: dayKinds(c), First: first.String(), Terms: terms(c, func(d day.SchoolDay) string { return d.Term }), Periods: terms(c, func(d day.SchoolDay) string { return d.GradingPeriod }), Months: []MonthOfYear{}}
	rows := s.School.Records().Rows.PatternSlots
	out.Patterns = patternNames(rows, s.ID, today)
	for d := first.Time(); ; d = d.AddDate(0, 1, 0) {
		month := day.MustDate(d.Format("2006-01") + "-01")
		if month > last {
			return out
		}
		next := day.MustDate(month.Time().AddDate(0, 1, 0).Format("2006-01-02"))
		one := MonthOfYear{Title: month.Time().Format("January"), Days: []MonthDay{}}
		for date := max(month, first); date < min(next, last+1); date++ {
			i, open := c.Index(date)
			if !open && date.Weekday() > 5 {
				continue
			}
			on := MonthDay{Date: date.String(), Day: date.Time().Day(), Weekday: date.Weekday(), Kind: "closed", Words: date.Spoken() + ", no school"}
			if open {
				name := c.Day(i).Pattern.Name
				on.Words = date.Spoken() + ", " + name
				for _, c := range s.School.Records().Rows.Closures {
					if c.SectionID == s.ID && c.Date == date && c.Hours() {
						on.Kind, on.Words = "changed", work.Join(", ", on.Words, hoursText(c), c.Reason)
					}
				}
				switch {
				case on.Kind == "changed":
				case slices.ContainsFunc(rows, func(x store.PatternSlot) bool {
					return x.SectionID == s.ID && x.Pattern == name && x.Once && x.On(date)
				}):
					on.Kind, on.Words = "changed", on.Words+", times of the day changed"
				case name == out.Kinds[0].Name:
					on.Kind = "usual"
				default:
					on.Kind = "other"
				}
			}
			one.Days = append(one.Days, on)
		}
		out.Months = append(out.Months, one)
	}
}

// patternNames lists a section's day patterns that hold today or later.
func patternNames(rows []store.PatternSlot, section ids.Section, today day.Date) []string {
	out := []string{}
	for _, x := range rows {
		if x.SectionID == section && x.Dates().To >= today && !slices.Contains(out, x.Pattern) {
			out = append(out, x.Pattern)
		}
	}
	return out
}

func yearTitle(first, last day.Date) string {
	a, b := first.Time().Year(), last.Time().Year()
	if a == b {
		return fmt.Sprint(a)
	}
	return fmt.Sprintf("%d to %d", a, b)
}

// dayKinds counts the days of each pattern.
func dayKinds(c *day.Calendar) []DayKind {
	out := []DayKind{}
	for i := range c.Days() {
		name := c.Day(i).Pattern.Name
		n := slices.IndexFunc(out, func(k DayKind) bool { return k.Name == name })
		if n < 0 {
			out = append(out, DayKind{Name: name})
			n = len(out) - 1
		}
		out[n].Days++
	}
	slices.SortStableFunc(out, func(a, b DayKind) int { return cmp.Compare(b.Days, a.Days) })
	return out
}

// terms returns the terms, or the grading periods, of a year, in their order.
func terms(c *day.Calendar, of func(day.SchoolDay) string) []TermDates {
	out := []TermDates{}
	for i := range c.Days() {
		d := c.Day(i)
		name := of(d)
		if name == "" {
			continue
		}
		n := slices.IndexFunc(out, func(t TermDates) bool { return t.Name == name })
		if n < 0 {
			out = append(out, TermDates{Name: name, From: d.Date.Spoken(), First: d.Date.String()})
			n = len(out) - 1
		}
		out[n].Days++
		out[n].To, out[n].Last = d.Date.Spoken(), d.Date.String()
	}
	return out
}

// TimetableView is when slots are, and when a class meets.
type TimetableView struct {
	Slots    []SlotLine     `json:"slots"`
	Classes  []pages.Choice `json:"classes" doc:"Forms and other classes"`
	Class    string         `json:"class" doc:"The class that is shown; empty for none"`
	Meetings []MeetingLine  `json:"meetings"`
}

// SlotLine is a slot of a day pattern.
type SlotLine struct {
	Section string `json:"section" doc:"Empty where the school has one section"`
	Pattern string `json:"pattern"`
	Label   string `json:"label"`
	From    string `json:"from"`
	To      string `json:"to"`
	Since   string `json:"since" doc:"From when it holds, in words; empty for since the beginning"`

	SectionID ids.Section `json:"sectionId"`
	Slot      string      `json:"slot"`
	Kind      string      `json:"kind" enum:"registration,lesson"`
	Last      bool        `json:"last" doc:"It holds with no end: what is changed from a date on begins with it"`
}

// MeetingLine is when a class meets.
type MeetingLine struct {
	When  string `json:"when" doc:"The weekday, the day pattern or both"`
	Slot  string `json:"slot"`
	Room  string `json:"room"`
	Since string `json:"since" doc:"From when it holds, in words; empty for since the beginning"`
}

// ShowTimetable returns slots and, of a class that is asked for as class:ID, when it meets.
func ShowTimetable(ctx context.Context, o *work.Office, class string, of ...ids.Section) (TimetableView, error) {
	out := TimetableView{Slots: []SlotLine{}, Classes: []pages.Choice{}, Meetings: []MeetingLine{}}
	m, err := o.Moment("", of...)
	if err != nil {
		return out, err
	}
	return out, o.Read(ctx, func(v work.Snapshot) error {
		rows := v.School.Records().Rows
		several := len(v.Sections()) > 1
		for _, s := range v.In(m.Scope) {
			for _, x := range rows.PatternSlots {
				over := x.Dates()
				if x.SectionID != s.ID || over.To < m.Date || x.Once {
					continue // is over, or of days that were put right
				}
				slot, err := held.SlotOf(x.Slot, x.Start, x.End, x.Kind)
				if err != nil {
					return err
				}
				line := SlotLine{Pattern: x.Pattern, Label: slot.Label(), From: x.Start.String(), To: x.End.String(), Since: since(over, m.Date), SectionID: s.ID, Slot: x.Slot, Kind: x.Kind, Last: over.To == day.NoEnd}
				if several {
					line.Section = s.Name
				}
				out.Slots = append(out.Slots, line)
			}
		}
		for _, g := range pages.GroupChoices(v, m.Scope) {
			if strings.HasPrefix(g.Value, "class:") {
				out.Classes = append(out.Classes, g)
			}
		}
		i := slices.IndexFunc(out.Classes, func(c pages.Choice) bool { return c.Value == class })
		if class != "" && i < 0 {
			return work.NotFoundf("there is no such class")
		}
		if i >= 0 {
			out.Class = class
			out.Meetings = meetingsOf(rows.Timetable, class, m.Date)
		}
		return nil
	})
}

func meetingsOf(list []store.Meeting, class string, today day.Date) []MeetingLine {
	out := []MeetingLine{}
	var of []store.Meeting
	for _, x := range list {
		if fmt.Sprintf("class:%d", x.ClassID) == class && x.Dates().To >= today {
			of = append(of, x)
		}
	}
	slices.SortStableFunc(of, func(a, b store.Meeting) int {
		return cmp.Or(cmp.Compare(a.Weekday, b.Weekday), strings.Compare(a.Slot, b.Slot))
	})
	for _, x := range of {
		when := x.Pattern
		if x.Weekday > 0 {
			when = work.Join(", ", (day.MustDate("2024-01-01") + day.Date(x.Weekday-1)).Time().Format("Monday"), x.Pattern)
		}
		if when == "" {
			when = "every day"
		}
		out = append(out, MeetingLine{When: when, Slot: x.Slot, Room: x.Room, Since: since(x.Dates(), today)})
	}
	return out
}

// since says from when something holds; nothing of what held when the year began.
func since(over day.Dates, today day.Date) string {
	said := ""
	switch {
	case over.From == day.NoStart:
	case over.From > today:
		said = "from " + over.From.Spoken() + " on"
	default:
		said = "since " + over.From.Spoken()
	}
	if over.To != day.NoEnd {
		said = work.Join(", ", said, "to "+over.To.Spoken())
	}
	return said
}
