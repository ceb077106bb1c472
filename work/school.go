package work

import (
	"sort"
	"strconv"
	"strings"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/followup"
	"meldung/core/ids"
	"meldung/core/policy"
	"meldung/store"
)

// School is the school's people, classes and calendar, ready to look things up. It
// does not change: another one takes its place when something does.
type School struct {
	Rows     store.School  // as they are stored
	Calendar *day.Calendar // nil until one is imported
	Students []store.Student
	Classes  map[ids.Class]store.Class

	places            map[ids.Student]int // in Students and in the ledger
	enrollments       map[ids.Student][]store.Enrollment
	rolls             map[ids.Class][]store.Enrollment // by class
	staff             map[ids.Staff]store.Staff
	teachers          map[ids.Class][]ids.Staff // by class
	taught            map[ids.Staff][]ids.Class // classes by staff
	contacts          map[ids.Contact]store.Contact
	ties              map[ids.Student][]store.StudentContact
	studentsOfContact map[ids.Contact][]ids.Student
	warnings          map[ids.Student][]store.Warning
	schedules         map[ids.Student][]absence.ScheduleRow
	courses           map[ids.Course]store.Course
}

func newSchool(rows store.School) (*School, error) {
	s := &School{Rows: rows, Students: rows.Students, Classes: map[ids.Class]store.Class{}, places: map[ids.Student]int{},
		enrollments: map[ids.Student][]store.Enrollment{}, rolls: map[ids.Class][]store.Enrollment{}, staff: map[ids.Staff]store.Staff{},
		teachers: map[ids.Class][]ids.Staff{}, taught: map[ids.Staff][]ids.Class{}, contacts: map[ids.Contact]store.Contact{},
		ties: map[ids.Student][]store.StudentContact{}, studentsOfContact: map[ids.Contact][]ids.Student{}, warnings: map[ids.Student][]store.Warning{},
		schedules: map[ids.Student][]absence.ScheduleRow{}, courses: map[ids.Course]store.Course{}}
	for i, st := range rows.Students {
		s.places[st.ID] = i
	}
	for _, c := range rows.Classes {
		s.Classes[c.ID] = c
	}
	for _, e := range rows.Enrollments {
		s.enrollments[e.StudentID] = append(s.enrollments[e.StudentID], e)
		s.rolls[e.ClassID] = append(s.rolls[e.ClassID], e)
	}
	for _, p := range rows.Staff {
		s.staff[p.ID] = p
	}
	for _, t := range rows.Teachers {
		s.teachers[t.ClassID] = append(s.teachers[t.ClassID], t.StaffID)
		s.taught[t.StaffID] = append(s.taught[t.StaffID], t.ClassID)
	}
	for _, c := range rows.Contacts {
		s.contacts[c.ID] = c
	}
	for _, c := range rows.StudentContacts {
		s.ties[c.StudentID] = append(s.ties[c.StudentID], c)
		s.studentsOfContact[c.ContactID] = append(s.studentsOfContact[c.ContactID], c.StudentID)
	}
	for _, w := range rows.Warnings {
		s.warnings[w.StudentID] = append(s.warnings[w.StudentID], w)
	}
	for _, c := range rows.Courses {
		s.courses[c.ID] = c
	}
	for _, r := range rows.Slots {
		s.schedules[r.StudentID] = append(s.schedules[r.StudentID], absence.ScheduleRow{Slot: r.Slot, Weekday: r.Weekday, On: day.Always})
	}
	return s, s.makeCalendar()
}

func (s *School) makeCalendar() error {
	if len(s.Rows.Calendar) == 0 {
		return nil
	}
	var patterns []day.Pattern
	for _, r := range s.Rows.PatternSlots {
		if len(patterns) == 0 || patterns[len(patterns)-1].Name != r.Pattern {
			patterns = append(patterns, day.Pattern{Name: r.Pattern})
		}
		kind, err := day.ParseKind(r.Kind)
		if err != nil {
			return err
		}
		p := &patterns[len(patterns)-1]
		p.Slots = append(p.Slots, day.Slot{Name: r.Slot, Start: r.Start, End: r.End, Kind: kind})
	}
	rows := make([]day.Row, len(s.Rows.Calendar))
	for i, c := range s.Rows.Calendar {
		rows[i] = day.Row{Date: c.Date, Pattern: c.Pattern, Term: c.Term, GradingPeriod: c.GradingPeriod}
	}
	var err error
	s.Calendar, err = day.NewCalendar(patterns, rows)
	return err
}

// ledgerStudent returns what the ledger needs to know of a student.
func (s *School) ledgerStudent(st store.Student) absence.Student {
	here, err := policy.ParseFraction(st.ShareHere)
	if err != nil {
		here = policy.NewFraction(1, 1)
	}
	elsewhere, err := policy.ParseFraction(st.ShareElsewhere)
	if err != nil {
		elsewhere = policy.NewFraction(0, 1)
	}
	enrolled := day.Since(st.EnrolledFrom)
	if st.EnrolledTo != nil {
		enrolled.To = *st.EnrolledTo
	}
	return absence.Student{ID: st.SourcedID, Enrolled: []day.Dates{enrolled}, ShareHere: here, ShareElsewhere: elsewhere, Schedule: s.schedules[st.ID]}
}

// cell finds a mark's place in the ledger.
func (s *School) cell(student ids.Student, d day.Date, slot string) (i, dayIndex, pos int, ok bool) {
	i, known := s.places[student]
	if !known || s.Calendar == nil {
		return 0, 0, 0, false
	}
	dayIndex, open := s.Calendar.Index(d)
	if !open {
		return 0, 0, 0, false
	}
	pos, ok = s.Calendar.Day(dayIndex).Pattern.Position(slot)
	return i, dayIndex, pos, ok
}

// Student returns the student with this id.
func (s *School) Student(id ids.Student) (store.Student, error) {
	i, ok := s.places[id]
	if !ok {
		return store.Student{}, NotFoundf("there is no student %d", id)
	}
	return s.Students[i], nil
}

// StudentOf returns the student whom a stored row names; the zero Student where it
// names nobody.
func (s *School) StudentOf(id ids.Student) store.Student {
	st, _ := s.Student(id)
	return st
}

// Names names students in a sentence.
func (s *School) Names(students []ids.Student) string {
	out := make([]string, len(students))
	for i, id := range students {
		out[i] = s.StudentOf(id).Name()
	}
	return strings.Join(out, ", ")
}

// Place returns where a student stands in Students and in the ledger; −1 for nobody.
func (s *School) Place(student ids.Student) int {
	if i, ok := s.places[student]; ok {
		return i
	}
	return -1
}

// Class returns the class with this id.
func (s *School) Class(id ids.Class) (store.Class, error) {
	c, ok := s.Classes[id]
	if !ok {
		return store.Class{}, NotFoundf("there is no class %d", id)
	}
	return c, nil
}

// SchoolDay returns an open date of the calendar.
func (s *School) SchoolDay(d day.Date) (day.SchoolDay, int, bool) {
	if s.Calendar == nil {
		return day.SchoolDay{}, 0, false
	}
	i, ok := s.Calendar.Index(d)
	if !ok {
		return day.SchoolDay{}, i, false
	}
	return s.Calendar.Day(i), i, true
}

// Form returns the title of the student's form on a date; empty for none.
func (s *School) Form(student ids.Student, d day.Date) string {
	for _, e := range s.enrollments[student] {
		if c := s.Classes[e.ClassID]; c.Form() && e.On(d) {
			return c.Title
		}
	}
	return ""
}

// Forms returns the titles of the forms, as they come in the roster.
func (s *School) Forms() []string {
	out := []string{}
	for _, c := range s.Rows.Classes {
		if c.Form() && !c.Ended {
			out = append(out, c.Title)
		}
	}
	return out
}

// onSchedule reports whether a student is due in a slot by the own schedule.
func (s *School) onSchedule(student ids.Student, slot string, weekday int) bool {
	rows, listed := s.schedules[student]
	if !listed {
		return true
	}
	for _, r := range rows {
		if r.Slot == slot && (r.Weekday == 0 || r.Weekday == weekday) {
			return true
		}
	}
	return false
}

// Roll returns the students of a class who are due in a slot on a date, by name.
func (s *School) Roll(class ids.Class, slot string, d day.Date) []store.Student {
	var out []store.Student
	for _, e := range s.rolls[class] {
		st := s.StudentOf(e.StudentID)
		if e.On(d) && st.EnrolledOn(d) && s.onSchedule(st.ID, slot, d.Weekday()) {
			out = append(out, st)
		}
	}
	SortStudents(out)
	return out
}

// SortStudents puts students in the order of their names.
func SortStudents(list []store.Student) {
	sort.SliceStable(list, func(a, b int) bool {
		x, y := list[a], list[b]
		if x.Family != y.Family {
			return x.Family < y.Family
		}
		if x.Given != y.Given {
			return x.Given < y.Given
		}
		return x.Number < y.Number
	})
}

// Meetings returns the classes that meet on an open date, by slot in time order.
func (s *School) Meetings(sd day.SchoolDay) []store.Meeting {
	var out []store.Meeting
	for _, m := range s.Rows.Timetable {
		if (m.Pattern != "" && m.Pattern != sd.Pattern.Name) || (m.Weekday != 0 && m.Weekday != sd.Date.Weekday()) {
			continue
		}
		if _, ok := sd.Pattern.Position(m.Slot); ok && !s.Classes[m.ClassID].Ended {
			out = append(out, m)
		}
	}
	sort.SliceStable(out, func(a, b int) bool {
		x, _ := sd.Pattern.Position(out[a].Slot)
		y, _ := sd.Pattern.Position(out[b].Slot)
		if x != y {
			return x < y
		}
		return beforeByYear(s.Classes[out[a].ClassID], s.Classes[out[b].ClassID])
	})
	return out
}

// beforeByYear puts year 7 before year 10, then titles in order.
func beforeByYear(a, b store.Class) bool {
	x, errX := strconv.Atoi(a.Year)
	y, errY := strconv.Atoi(b.Year)
	if errX == nil && errY == nil && x != y {
		return x < y
	}
	return a.Title < b.Title
}

// EnrolledIn returns the places in a class, also those that are over.
func (s *School) EnrolledIn(class ids.Class) []store.Enrollment { return s.rolls[class] }

// StaffMember returns the member of staff with this id, also one who has left.
func (s *School) StaffMember(id ids.Staff) (store.Staff, bool) {
	m, ok := s.staff[id]
	return m, ok
}

// StaffOf returns the member of staff whom a stored row names.
func (s *School) StaffOf(id ids.Staff) store.Staff { return s.staff[id] }

// Contact returns the contact with this id, also one who has ended.
func (s *School) Contact(id ids.Contact) (store.Contact, bool) {
	c, ok := s.contacts[id]
	return c, ok
}

// ContactOf returns the contact whom a stored row names.
func (s *School) ContactOf(id ids.Contact) store.Contact { return s.contacts[id] }

// TiesOf returns what ties a student to contacts, in call order.
func (s *School) TiesOf(student ids.Student) []store.StudentContact { return s.ties[student] }

// StudentsOfContact returns the students whom a contact belongs to.
func (s *School) StudentsOfContact(contact ids.Contact) []ids.Student {
	return s.studentsOfContact[contact]
}

// WarningsOf returns what to know when dealing with a student.
func (s *School) WarningsOf(student ids.Student) []store.Warning { return s.warnings[student] }

// ScheduleOf returns the slots in which a part-time student is due; none for those who
// are due in all.
func (s *School) ScheduleOf(student ids.Student) []absence.ScheduleRow { return s.schedules[student] }

// CourseOf returns the course that a stored row names.
func (s *School) CourseOf(id ids.Course) store.Course { return s.courses[id] }

// Teachers returns a class's teachers.
func (s *School) Teachers(class ids.Class) []ids.Staff { return s.teachers[class] }

// TeachersOf names a class's teachers.
func (s *School) TeachersOf(class ids.Class) string {
	var names []string
	for _, id := range s.teachers[class] {
		names = append(names, s.staff[id].Short())
	}
	return strings.Join(names, ", ")
}

// Teaches reports whether a member of staff is one of a class's teachers.
func (s *School) Teaches(staff ids.Staff, class ids.Class) bool {
	for _, c := range s.taught[staff] {
		if c == class {
			return true
		}
	}
	return false
}

// ContactsOf returns a student's contacts in call order.
func (s *School) ContactsOf(student ids.Student) []followup.Contact {
	out := []followup.Contact{}
	for _, sc := range s.ties[student] {
		c := s.contacts[sc.ContactID]
		if c.Ended {
			continue
		}
		out = append(out, followup.Contact{ID: c.ID, Order: sc.CallOrder, Name: c.Name(), Relation: sc.Relation, Phone: c.Phone,
			MayCollect: sc.MayCollect, LivesWith: sc.LivesWith, DoNotCall: sc.DoNotCall})
	}
	return out
}

// Siblings returns the other students on the roll who share a contact.
func (s *School) Siblings(student ids.Student, d day.Date) []store.Student {
	seen := map[ids.Student]bool{student: true}
	var out []store.Student
	for _, sc := range s.ties[student] {
		for _, other := range s.studentsOfContact[sc.ContactID] {
			st := s.StudentOf(other)
			if !seen[other] && st.EnrolledOn(d) {
				seen[other] = true
				out = append(out, st)
			}
		}
	}
	SortStudents(out)
	return out
}

// DayNumber returns the date's number among the school days, and how many there are.
func (s *School) DayNumber(d day.Date) (n, of int) {
	if s.Calendar == nil {
		return 0, 0
	}
	return s.Calendar.UpTo(d) + 1, s.Calendar.Days()
}
