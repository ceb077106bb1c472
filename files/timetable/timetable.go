// Package timetable reads and writes a school's calendar, slots and timetable as
// CSV: calendar.csv and slots.csv as for the calculations on plain files, and
// timetable.csv with the columns class, pattern, weekday, slot and room. Where a school has
// several sections, calendar.csv and slots.csv have a column section, which names one by its
// organisation's sourcedId or by its name; rows without are of every section that has no rows
// of its own in the file.
package timetable

import (
	"fmt"
	"sort"
	"strconv"
	"strings"

	"meldung/core/day"
	"meldung/files/table"
)

// Date is a date of a section's calendar.
type Date struct {
	Section string
	day.Row
	Line int // in calendar.csv
}

// Slot is a slot of a section's day pattern.
type Slot struct {
	Section    string
	Pattern    string
	Name       string
	Start, End day.Minute
	Kind       day.Kind
	Line       int // in slots.csv
}

// Meeting is when a class meets: on days of a pattern or on a weekday (0 is all).
type Meeting struct {
	Class   string // sourcedId, code or title
	Pattern string
	Weekday int
	Slot    string
	Room    string
	Line    int // in timetable.csv
}

// Bundle is a whole timetable.
type Bundle struct {
	Calendar []Date
	Slots    []Slot
	Meetings []Meeting
}

// Result is a timetable as it was read, with what is wrong and what was left out.
type Result struct {
	Bundle   Bundle
	Problems []table.Problem
	Notes    []string
}

// Read reads a timetable. Every row is looked at.
func Read(files table.Files) Result {
	var out Result
	open := func(name string, needed, optional []string) *table.Table {
		content, ok := files[name]
		if !ok {
			out.Problems = append(out.Problems, table.Problem{File: name, Text: "the file is missing"})
			return &table.Table{Name: name}
		}
		t := table.Read(name, content, needed, optional)
		if len(t.Unknown) > 0 {
			out.Notes = append(out.Notes, fmt.Sprintf("%s: columns left out: %s", name, strings.Join(t.Unknown, ", ")))
		}
		return t
	}
	slots := open("slots.csv", []string{"day", "slot", "start", "end"}, []string{"kind", "section"})
	calendar := open("calendar.csv", []string{"date", "day", "term", "grading_period"}, []string{"section"})
	meetings := open("timetable.csv", []string{"class", "slot"}, []string{"pattern", "weekday", "room"})
	readSlots(&out.Bundle, slots)
	readCalendar(&out.Bundle, calendar)
	readMeetings(&out.Bundle, meetings)
	for _, t := range []*table.Table{calendar, slots, meetings} {
		sort.SliceStable(t.Problems, func(a, b int) bool { return t.Problems[a].Line < t.Problems[b].Line })
		out.Problems = append(out.Problems, t.Problems...)
	}
	return out
}

func readSlots(b *Bundle, t *table.Table) {
	for _, row := range t.Rows {
		s := Slot{Section: row.Get("section"), Pattern: row.Get("day"), Name: row.Get("slot"), Line: row.Line}
		var err error
		bad := false
		if s.Start, err = day.ParseMinute(row.Get("start")); err != nil {
			t.Wrong(row, "start %v", err)
			bad = true
		}
		if s.End, err = day.ParseMinute(row.Get("end")); err != nil {
			t.Wrong(row, "end %v", err)
			bad = true
		}
		if s.Kind, err = day.ParseKind(row.Get("kind")); err != nil {
			t.Wrong(row, "kind %v", err)
			bad = true
		}
		switch {
		case s.Name == "" || s.Pattern == "":
			t.Wrong(row, "day and slot need a name")
			bad = true
		case s.Pattern == day.Closed:
			t.Wrong(row, "a pattern can't be called closed")
			bad = true
		case !bad && !s.End.After(s.Start):
			t.Wrong(row, "end %s is not after start %s", s.End, s.Start)
			bad = true
		}
		for _, o := range b.Slots {
			if o.Section != s.Section || o.Pattern != s.Pattern || bad {
				continue
			}
			if o.Name == s.Name {
				t.Wrong(row, "slot %q is there twice in pattern %q", s.Name, s.Pattern)
				bad = true
			} else if day.Overlap(s.Start, s.End, o.Start, o.End) > 0 {
				t.Wrong(row, "slot %q overlaps %q in pattern %q", s.Name, o.Name, s.Pattern)
				bad = true
			}
		}
		if !bad {
			b.Slots = append(b.Slots, s)
		}
	}
}

func readCalendar(b *Bundle, t *table.Table) {
	patterns := map[string]bool{day.Closed: true}
	for _, s := range b.Slots {
		patterns[s.Pattern] = true
	}
	type key struct {
		section string
		date    day.Date
	}
	seen := map[key]bool{}
	for _, row := range t.Rows {
		d, err := day.ParseDate(row.Get("date"))
		k := key{row.Get("section"), d}
		switch {
		case err != nil:
			t.Wrong(row, "date %v", err)
		case seen[k]:
			t.Wrong(row, "%s is there twice", d)
		case !patterns[row.Get("day")]:
			t.Wrong(row, "day pattern %q is not in slots.csv", row.Get("day"))
		default:
			b.Calendar = append(b.Calendar, Date{k.section, day.Row{Date: d, Pattern: row.Get("day"), Term: row.Get("term"), GradingPeriod: row.Get("grading_period")}, row.Line})
		}
		seen[k] = seen[k] || err == nil
	}
	if len(t.Rows) == 0 && len(t.Problems) == 0 && t.Has("date") {
		t.Problems = append(t.Problems, table.Problem{File: t.Name, Line: 1, Text: "the calendar has no dates"})
	}
}

func readMeetings(b *Bundle, t *table.Table) {
	slots, patterns := map[string]bool{}, map[string]bool{}
	for _, s := range b.Slots {
		slots[s.Name], patterns[s.Pattern] = true, true
	}
	type key struct {
		class, pattern, slot string
		weekday              int
	}
	seen := map[key]bool{}
	for _, row := range t.Rows {
		m := Meeting{Class: row.Get("class"), Pattern: row.Get("pattern"), Slot: row.Get("slot"), Room: row.Get("room"), Line: row.Line}
		weekday := row.Get("weekday")
		n, err := strconv.Atoi(weekday)
		m.Weekday = n
		k := key{m.Class, m.Pattern, m.Slot, m.Weekday}
		switch {
		case m.Class == "":
			t.Wrong(row, "class is empty")
		case weekday != "" && (err != nil || n < 1 || n > 7):
			t.Wrong(row, "weekday %q is not 1 to 7", weekday)
		case m.Pattern != "" && !patterns[m.Pattern]:
			t.Wrong(row, "pattern %q is not in slots.csv", m.Pattern)
		case !slots[m.Slot]:
			t.Wrong(row, "slot %q is in no pattern", m.Slot)
		case seen[k]:
			t.Wrong(row, "this meeting is there twice")
		default:
			seen[k] = true
			b.Meetings = append(b.Meetings, m)
		}
	}
}

// Write returns a timetable as files; they have a column section where a row names one.
func Write(b Bundle) table.Files {
	var calendar, slots, meetings [][]string
	sections := false
	for _, c := range b.Calendar {
		sections = sections || c.Section != ""
		calendar = append(calendar, []string{c.Date.String(), c.Pattern, c.Term, c.GradingPeriod, c.Section})
	}
	for _, s := range b.Slots {
		slots = append(slots, []string{s.Pattern, s.Name, s.Start.String(), s.End.String(), s.Kind.String(), s.Section})
	}
	withSection := func(rows [][]string, columns ...string) []byte {
		if sections {
			return table.Write(append(columns, "section"), rows)
		}
		for i := range rows {
			rows[i] = rows[i][:len(columns)]
		}
		return table.Write(columns, rows)
	}
	for _, m := range b.Meetings {
		weekday := ""
		if m.Weekday > 0 {
			weekday = strconv.Itoa(m.Weekday)
		}
		meetings = append(meetings, []string{m.Class, m.Pattern, weekday, m.Slot, m.Room})
	}
	return table.Files{
		"calendar.csv":  withSection(calendar, "date", "day", "term", "grading_period"),
		"slots.csv":     withSection(slots, "day", "slot", "start", "end", "kind"),
		"timetable.csv": table.Write([]string{"class", "pattern", "weekday", "slot", "room"}, meetings),
	}
}
