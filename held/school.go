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

// School is the school as it held on a date: its people, classes and sections, ready to look
// things up. It does not change.
type School struct {
	Students []store.Student // on the roll at some time of their section's school year
	Classes  []store.Class   // those that are over too
	Meetings []store.Meeting

	*index
	records  *Records
	sections []*Section
	students map[ids.Student]store.Student
	classes  map[ids.Class]store.Class
	meetings map[ids.Class][]store.Meeting
	teachers map[ids.Class][]ids.Staff // by class
	taught   map[ids.Staff][]ids.Class // classes by staff
}

func newSchool(r *Records, d day.Date) *School {
	s := &School{index: r.index, records: r, students: map[ids.Student]store.Student{}, classes: map[ids.Class]store.Class{},
		meetings: map[ids.Class][]store.Meeting{}, teachers: map[ids.Class][]ids.Staff{}, taught: map[ids.Staff][]ids.Class{}}
	s.addStudents(d)
	s.addClasses(d)
	there := map[ids.Student]bool{}
	for _, x := range r.sections {
		section := x.section(s, d)
		s.sections = append(s.sections, section)
		for _, st := range section.Students {
			there[st.ID] = true
		}
	}
	for _, st := range r.Rows.Students {
		if there[st.ID] {
			s.Students = append(s.Students, s.students[st.ID])
		}
	}
	return s
}

// Sections returns the sections in their order; there is one at least.
func (s *School) Sections() []*Section { return s.sections }

// SectionOf returns the section that a student belongs to.
func (s *School) SectionOf(student ids.Student) *Section {
	return s.Section(s.students[student].Section)
}

// SectionOfClass returns the section that a class belongs to.
func (s *School) SectionOfClass(class ids.Class) *Section {
	return s.Section(s.classes[class].Section)
}

// Section returns the section with this id, or else the first.
func (s *School) Section(id ids.Section) *Section {
	for _, x := range s.sections {
		if x.ID == id {
			return x
		}
	}
	return s.sections[0]
}

// addStudents adds everyone who was ever on the roll, with what held on the date, or first
// or last, where nothing did.
func (s *School) addStudents(d day.Date) {
	for _, st := range s.records.Rows.Students {
		st.Spans, st.ShareHere, st.ShareElsewhere = s.spans[st.ID], "1", "0"
		if x, ok := heldOn(s.details[st.ID], d, func(x store.StudentDetail) store.Held { return x.Held }); ok {
			st.Section, st.Year, st.ShareHere, st.ShareElsewhere = x.SectionID, x.Year, x.ShareHere, x.ShareElsewhere
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
			c.Section, c.Title, c.Code, c.Year, c.Room, c.Terms, c.Ended = x.SectionID, x.Title, x.Code, x.Year, x.Room, x.Terms, !x.On(d)
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
			s.meetings[m.ClassID] = append(s.meetings[m.ClassID], m)
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

// Records returns all that is stored of the school, whenever it held.
func (s *School) Records() *Records { return s.records }

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

// Class returns the class with this id; ok is false where there is none.
func (s *School) Class(id ids.Class) (c store.Class, ok bool) {
	c, ok = s.classes[id]
	return c, ok
}

// ClassOf returns the class that a stored row names.
func (s *School) ClassOf(id ids.Class) store.Class { return s.classes[id] }

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

// ContactsOf returns a student's contacts in call order; the list is everyone's.
func (s *School) ContactsOf(student ids.Student) []followup.Contact { return s.callable[student] }

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
