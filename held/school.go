// Package held is the school as it held on a date: its people, classes and calendar, what it had
// decided, its codes and policies, and the ledger of a school year. It reads rows and answers;
// it must not know who asks, nor write.
package held

import (
	"sort"
	"strconv"
	"strings"

	"meldung/core/day"
	"meldung/core/followup"
	"meldung/core/ids"
	"meldung/store"
)

// School is the school as it held on a date: its people, classes and the calendar of the
// school year, ready to look things up. It does not change.
type School struct {
	Calendar *day.Calendar   // of the school year; nil until one is imported
	Students []store.Student // on the roll at some time of the year, in the order of its ledger
	Classes  []store.Class   // those that are over too
	Meetings []store.Meeting

	*index
	records  *Records
	year     *Year
	students map[ids.Student]store.Student
	classes  map[ids.Class]store.Class
	teachers map[ids.Class][]ids.Staff // by class
	taught   map[ids.Staff][]ids.Class // classes by staff
}

func newSchool(r *Records, d day.Date) *School {
	s := &School{index: r.index, records: r, year: r.YearOf(d), students: map[ids.Student]store.Student{}, classes: map[ids.Class]store.Class{},
		teachers: map[ids.Class][]ids.Staff{}, taught: map[ids.Staff][]ids.Class{}}
	s.addStudents(d)
	s.addClasses(d)
	if s.year == nil {
		for _, st := range r.Rows.Students {
			s.Students = append(s.Students, s.students[st.ID])
		}
		return s
	}
	s.Calendar = s.year.Calendar
	for _, id := range s.year.Students {
		s.Students = append(s.Students, s.students[id])
	}
	return s
}

// addStudents adds everyone who was ever on the roll, with what held on the date, or first
// or last, where nothing did.
func (s *School) addStudents(d day.Date) {
	for _, st := range s.records.Rows.Students {
		st.Spans, st.ShareHere, st.ShareElsewhere = s.spans[st.ID], "1", "0"
		if x, ok := heldOn(s.details[st.ID], d, func(x store.StudentDetail) store.Held { return x.Held }); ok {
			st.Year, st.ShareHere, st.ShareElsewhere = x.Year, x.ShareHere, x.ShareElsewhere
		}
		s.students[st.ID] = st
	}
}

// addClasses adds every class that there ever was, as it was called, who teaches it and
// when it meets.
func (s *School) addClasses(d day.Date) {
	rows := s.records.Rows
	for _, c := range rows.Classes {
		c.Ended = true
		if x, ok := heldOn(s.named[c.ID], d, func(x store.ClassDetail) store.Held { return x.Held }); ok {
			c.Title, c.Code, c.Year, c.Room, c.Terms, c.Ended = x.Title, x.Code, x.Year, x.Room, x.Terms, !x.On(d)
		}
		s.classes[c.ID] = c
		s.Classes = append(s.Classes, c)
	}
	for _, t := range rows.Teachers {
		if t.On(d) {
			s.teachers[t.ClassID] = append(s.teachers[t.ClassID], t.StaffID)
			s.taught[t.StaffID] = append(s.taught[t.StaffID], t.ClassID)
		}
	}
	for _, m := range rows.Timetable {
		if m.On(d) {
			s.Meetings = append(s.Meetings, m)
		}
	}
}

// heldOn returns the row that held on a date, or else the last before it, or the first; ok
// is false without any. The rows are in the order of their dates.
func heldOn[T any](rows []T, d day.Date, held func(T) store.Held) (row T, ok bool) {
	for i, x := range rows {
		if i == 0 || held(x).Dates().From <= d {
			row, ok = x, true
		}
	}
	return row, ok
}

// Year returns the school year that the date lies in, or else the last before it; nil without
// any.
func (s *School) Year() *Year { return s.year }

// Records returns all that is stored of the school, whenever it held.
func (s *School) Records() *Records { return s.records }

// slotPlace finds a slot's place in the ledger, −1 and why where there is none.
func (s *School) slotPlace(d day.Date, slot string) (dayIndex, pos int, why string) {
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

// Student returns the student with this id; ok is false where there is none.
func (s *School) Student(id ids.Student) (st store.Student, ok bool) {
	st, ok = s.students[id]
	return st, ok
}

// StudentOf returns the student whom a stored row names; the zero Student where it
// names nobody.
func (s *School) StudentOf(id ids.Student) store.Student {
	return s.students[id]
}

// Names names students in a sentence.
func (s *School) Names(students []ids.Student) string {
	out := make([]string, len(students))
	for i, id := range students {
		out[i] = s.StudentOf(id).Name()
	}
	return strings.Join(out, ", ")
}

// Place returns where a student stands in Students and in the ledger; −1 for who was not
// on the roll in the school year.
func (s *School) Place(student ids.Student) int {
	if s.year == nil {
		return -1
	}
	if i, ok := s.year.places[student]; ok {
		return i
	}
	return -1
}

// Class returns the class with this id; ok is false where there is none.
func (s *School) Class(id ids.Class) (c store.Class, ok bool) {
	c, ok = s.classes[id]
	return c, ok
}

// ClassOf returns the class that a stored row names.
func (s *School) ClassOf(id ids.Class) store.Class { return s.classes[id] }

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
		if c := s.classes[e.ClassID]; c.Form() && e.On(d) {
			return c.Title
		}
	}
	return ""
}

// Forms returns the titles of the forms, as they come in the roster.
func (s *School) Forms() []string {
	out := []string{}
	for _, c := range s.Classes {
		if c.Form() && !c.Ended {
			out = append(out, c.Title)
		}
	}
	return out
}

// onSchedule reports whether a student is due in a slot on a date by the own schedule.
func (s *School) onSchedule(student ids.Student, slot string, d day.Date) bool {
	own := false
	for _, r := range s.slots[student] {
		if !r.On(d) {
			continue
		}
		if r.Slot == slot && (r.Weekday == 0 || r.Weekday == d.Weekday()) {
			return true
		}
		own = true
	}
	return !own
}

// Roll returns the students of a class who are due in a slot on a date, by name.
func (s *School) Roll(class ids.Class, slot string, d day.Date) []store.Student {
	var out []store.Student
	for _, e := range s.rolls[class] {
		st := s.StudentOf(e.StudentID)
		if e.On(d) && st.EnrolledOn(d) && s.onSchedule(st.ID, slot, d) {
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

// MeetingsOn returns the classes that meet on an open date, by slot in time order.
func (s *School) MeetingsOn(sd day.SchoolDay) []store.Meeting {
	var out []store.Meeting
	for _, m := range s.Meetings {
		if (m.Pattern != "" && m.Pattern != sd.Pattern.Name) || (m.Weekday != 0 && m.Weekday != sd.Date.Weekday()) {
			continue
		}
		if _, ok := sd.Pattern.Position(m.Slot); ok && !s.classes[m.ClassID].Ended {
			out = append(out, m)
		}
	}
	sort.SliceStable(out, func(a, b int) bool {
		x, _ := sd.Pattern.Position(out[a].Slot)
		y, _ := sd.Pattern.Position(out[b].Slot)
		if x != y {
			return x < y
		}
		return beforeByYear(s.classes[out[a].ClassID], s.classes[out[b].ClassID])
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

// EnrollmentsOf returns a student's places in classes, also those that are over.
func (s *School) EnrollmentsOf(student ids.Student) []store.Enrollment { return s.enrollments[student] }

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

// ScheduleOf returns the slots in which a part-time student is due on a date; none for
// those who are due in all.
func (s *School) ScheduleOf(student ids.Student, d day.Date) []store.StudentSlot {
	var out []store.StudentSlot
	for _, r := range s.slots[student] {
		if r.On(d) {
			out = append(out, r)
		}
	}
	return out
}

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
