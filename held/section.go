package held

import (
	"fmt"
	"slices"
	"sort"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/store"
)

// Year is a school year of a section: its calendar, and who was on the roll of the section at
// any time of it, in the order of its ledger.
type Year struct {
	Calendar *day.Calendar
	Students []ids.Student
	places   map[ids.Student]int
}

// SectionRecords are what is stored of one section or site, whenever it held: its school
// years, what it decided and by what it measures.
type SectionRecords struct {
	store.Section
	Settings []SettingsFrom // in the order of the dates from which they hold; there is one at least

	decided  decisions
	policies []PolicyFrom // its own
	years    []*Year
	closed   map[day.Date]bool           // against the calendar
	gone     map[slotOn]bool             // slots of dates of which a part was closed
	members  map[ids.Student][]day.Dates // the dates on which a student belongs to it
}

// Section is a section as it held on a date, with the school year that the date lies in, or
// else the last before it.
type Section struct {
	*SectionRecords
	Calendar *day.Calendar   // of the school year; nil until one is imported
	Students []store.Student // on its roll at some time of the year, in the order of its ledger

	school *School
	year   *Year
}

// membersOf says on which dates each student belongs to which section: by what is known of
// them, and before and between by what was known first and last.
func membersOf(rows store.School) map[ids.Section]map[ids.Student][]day.Dates {
	out := map[ids.Section]map[ids.Student][]day.Dates{}
	for _, s := range rows.Sections {
		out[s.ID] = map[ids.Student][]day.Dates{}
	}
	known := map[ids.Student]bool{}
	for i, x := range rows.Details {
		known[x.StudentID] = true
		on := day.Dates{From: x.Dates().From, To: day.NoEnd}
		if i == 0 || rows.Details[i-1].StudentID != x.StudentID {
			on.From = day.NoStart
		}
		if i+1 < len(rows.Details) && rows.Details[i+1].StudentID == x.StudentID {
			on.To = rows.Details[i+1].Dates().From - 1
		}
		of := out[x.SectionID]
		if of == nil {
			continue
		}
		if was := of[x.StudentID]; len(was) > 0 && was[len(was)-1].To == on.From-1 {
			was[len(was)-1].To = on.To
			continue
		}
		of[x.StudentID] = append(of[x.StudentID], on)
	}
	for _, s := range rows.Students {
		if !known[s.ID] && len(rows.Sections) > 0 {
			out[rows.Sections[0].ID][s.ID] = []day.Dates{day.Always}
		}
	}
	return out
}

// Stay returns the dates around a date on which a student belongs to the section; none where
// the student does not then.
func (s *SectionRecords) Stay(student ids.Student, d day.Date) day.Dates {
	for _, on := range s.members[student] {
		if on.Has(d) {
			return on
		}
	}
	return day.Dates{From: d, To: d - 1}
}

// makeYears makes the calendar of each of the section's school years, with who is on its roll.
func (s *SectionRecords) makeYears(rows store.School, spans map[ids.Student][]day.Dates) error {
	slots, gone, closed := hoursOf(rows, s.ID)
	patterns, err := patternsOf(slots, s.ID)
	if err != nil {
		return err
	}
	s.closed, s.gone = closed, gone
	for _, c := range rows.Closures {
		if c.SectionID == s.ID && !c.Hours() {
			s.closed[c.Date] = true
		}
	}
	for _, y := range rows.Years {
		if y.SectionID != s.ID {
			continue
		}
		var dates []day.Row
		for _, c := range rows.Calendar {
			if c.SectionID == s.ID && c.Date >= y.First && c.Date <= y.Last && !s.closed[c.Date] {
				dates = append(dates, day.Row{Date: c.Date, Pattern: c.Pattern, Term: c.Term, GradingPeriod: c.GradingPeriod})
			}
		}
		cal, err := day.NewCalendar(patterns, dates)
		if err != nil {
			return fmt.Errorf("the school year from %s: %w", y.First, err)
		}
		made := &Year{Calendar: cal, places: map[ids.Student]int{}}
		for student := range s.members {
			if len(s.onRoll(student, spans[student], cal)) > 0 {
				made.Students = append(made.Students, student)
			}
		}
		slices.Sort(made.Students)
		for i, id := range made.Students {
			made.places[id] = i
		}
		s.years = append(s.years, made)
	}
	return nil
}

// onRoll returns the dates of a school year on which a student is on the section's roll.
func (s *SectionRecords) onRoll(student ids.Student, spans []day.Dates, year *day.Calendar) []day.Dates {
	first, last := year.Span()
	var out []day.Dates
	for _, span := range spans {
		for _, member := range s.members[student] {
			if on := span.Common(member).Common(day.Dates{From: first, To: last}); !on.Empty() {
				out = append(out, on)
			}
		}
	}
	return out
}

// patternsOf puts the stored slots of a section together: each pattern as often as it was
// another.
func patternsOf(rows []store.PatternSlot, section ids.Section) ([]day.Pattern, error) {
	of := map[string][]store.PatternSlot{}
	var names []string
	for _, r := range rows {
		if r.SectionID != section {
			continue
		}
		if of[r.Pattern] == nil {
			names = append(names, r.Pattern)
		}
		of[r.Pattern] = append(of[r.Pattern], r)
	}
	var out []day.Pattern
	for _, name := range names {
		var begins []day.Date
		for _, r := range of[name] {
			begins = append(begins, r.From)
			if r.To != nil {
				begins = append(begins, *r.To+1)
			}
		}
		slices.Sort(begins)
		for _, since := range slices.Compact(begins) {
			p := day.Pattern{Name: name, Since: since}
			for _, r := range of[name] {
				if !r.On(since) {
					continue
				}
				slot, err := SlotOf(r.Slot, r.Start, r.End, r.Kind)
				if err != nil {
					return nil, err
				}
				p.Slots = append(p.Slots, slot)
			}
			if len(p.Slots) > 0 {
				out = append(out, p)
			}
		}
	}
	return out, nil
}

// SlotOf returns a slot as it is stored.
func SlotOf(name string, start, end day.Minute, kind string) (day.Slot, error) {
	k, err := day.ParseKind(kind)
	return day.Slot{Name: name, Start: start, End: end, Kind: k}, err
}

// Years returns the section's school years in their order.
func (s *SectionRecords) Years() []*Year { return s.years }

// YearBefore returns the school year before that of a date; nil where none is known.
func (s *SectionRecords) YearBefore(d day.Date) *Year {
	n := slices.Index(s.years, s.YearOf(d))
	if n < 1 {
		return nil
	}
	return s.years[n-1]
}

// YearOf returns the school year that a date lies in, or else the last that began before
// it, or the first; nil without any.
func (s *SectionRecords) YearOf(d day.Date) *Year {
	if len(s.years) == 0 {
		return nil
	}
	n := sort.Search(len(s.years), func(i int) bool {
		first, _ := s.years[i].Calendar.Span()
		return first > d
	})
	return s.years[max(0, n-1)]
}

// schoolDayBefore returns the section's last school day before a date, of whichever year.
func (s *SectionRecords) schoolDayBefore(d day.Date) (day.Date, bool) {
	for n := len(s.years) - 1; n >= 0; n-- {
		if c := s.years[n].Calendar; c.UpTo(d-1) >= 0 {
			return c.Day(c.UpTo(d - 1)).Date, true
		}
	}
	return 0, false
}

// schoolDayAfter returns the section's first school day after a date, of whichever year.
func (s *SectionRecords) schoolDayAfter(d day.Date) (day.Date, bool) {
	for _, y := range s.years {
		if c := y.Calendar; c.From(d+1) < c.Days() {
			return c.Day(c.From(d + 1)).Date, true
		}
	}
	return 0, false
}

// section returns the section as it held on a date.
func (s *SectionRecords) section(school *School, d day.Date) *Section {
	out := &Section{SectionRecords: s, school: school, year: s.YearOf(d)}
	if out.year == nil {
		out.Students = s.withoutYear(school)
		return out
	}
	out.Calendar = out.year.Calendar
	for _, id := range out.year.Students {
		out.Students = append(out.Students, school.students[id])
	}
	return out
}

// withoutYear returns everyone who ever belonged to a section without a calendar.
func (s *SectionRecords) withoutYear(school *School) []store.Student {
	var out []store.Student
	for _, st := range school.records.Rows.Students {
		if len(s.members[st.ID]) > 0 {
			out = append(out, school.students[st.ID])
		}
	}
	return out
}

// Year returns the school year that the date lies in, or else the last before it; nil without
// any.
func (s *Section) Year() *Year { return s.year }

// Place returns where a student stands in Students and in the ledger; −1 for who was not
// on the section's roll in the school year.
func (s *Section) Place(student ids.Student) int {
	if s.year == nil {
		return -1
	}
	if i, ok := s.year.places[student]; ok {
		return i
	}
	return -1
}

// SchoolDay returns an open date of the section's calendar.
func (s *Section) SchoolDay(d day.Date) (day.SchoolDay, int, bool) {
	if s.Calendar == nil {
		return day.SchoolDay{}, 0, false
	}
	i, ok := s.Calendar.Index(d)
	if !ok {
		return day.SchoolDay{}, i, false
	}
	return s.Calendar.Day(i), i, true
}

// DayNumber returns the date's number among the school days, and how many there are.
func (s *Section) DayNumber(d day.Date) (n, of int) {
	if s.Calendar == nil {
		return 0, 0
	}
	return s.Calendar.UpTo(d) + 1, s.Calendar.Days()
}

// MeetingsOn returns the section's classes that meet on an open date, by slot in time order.
func (s *Section) MeetingsOn(sd day.SchoolDay) []store.Meeting {
	var out []store.Meeting
	for _, m := range s.school.Meetings {
		if s.meets(m, sd) {
			out = append(out, m)
		}
	}
	sort.SliceStable(out, func(a, b int) bool {
		x, _ := sd.Pattern.Position(out[a].Slot)
		y, _ := sd.Pattern.Position(out[b].Slot)
		if x != y {
			return x < y
		}
		return beforeByYear(s.school.classes[out[a].ClassID], s.school.classes[out[b].ClassID])
	})
	return out
}

// Meets reports whether a class meets in a slot on a school day.
func (s *Section) Meets(class ids.Class, slot string, sd day.SchoolDay) bool {
	return slices.ContainsFunc(s.school.meetings[class], func(m store.Meeting) bool { return m.Slot == slot && s.meets(m, sd) })
}

func (s *Section) meets(m store.Meeting, sd day.SchoolDay) bool {
	class := s.school.classes[m.ClassID]
	if class.Section != s.ID || class.Ended || (m.Pattern != "" && m.Pattern != sd.Pattern.Name) || (m.Weekday != 0 && m.Weekday != sd.Date.Weekday()) {
		return false
	}
	_, ok := sd.Pattern.Position(m.Slot)
	return ok
}

// slotPlace finds a slot's place in the ledger, −1 and why where there is none.
func (s *Section) slotPlace(d day.Date, slot string) (dayIndex, pos int, why string) {
	dayIndex, open := s.Calendar.Index(d)
	if !open {
		return -1, 0, "that was no school day"
	}
	pos, ok := s.Calendar.Day(dayIndex).Pattern.Position(slot)
	if !ok {
		return -1, 0, "there was no " + slot + " on that day"
	}
	return dayIndex, pos, ""
}
