package work

import (
	"sort"
	"strconv"
	"strings"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/followup"
	"meldung/core/policy"
	"meldung/store"
)

// School is the school's people, classes and calendar, ready to look things up.
type School struct {
	raw      store.School
	Calendar *day.Calendar // nil until one is imported
	Students []store.Student
	Classes  map[int64]store.Class

	student     map[int64]int                // place in Students
	enrollments map[int64][]store.Enrollment // by student
	rolls       map[int64][]store.Enrollment // by class
	staff       map[int64]store.Staff
	teachers    map[int64][]int64 // by class
	taught      map[int64][]int64 // classes by staff
	contacts    map[int64]store.Contact
	ofStudent   map[int64][]store.StudentContact
	ofContact   map[int64][]int64 // students by contact
	warnings    map[int64][]store.Warning
	slots       map[int64][]absence.ScheduleRow
	courses     map[int64]store.Course
	placeOf     map[int64]int // student's number in the ledger
}

func newSchool(raw store.School) (*School, error) {
	s := &School{raw: raw, Students: raw.Students, Classes: map[int64]store.Class{}, student: map[int64]int{},
		enrollments: map[int64][]store.Enrollment{}, rolls: map[int64][]store.Enrollment{}, staff: map[int64]store.Staff{},
		teachers: map[int64][]int64{}, taught: map[int64][]int64{}, contacts: map[int64]store.Contact{},
		ofStudent: map[int64][]store.StudentContact{}, ofContact: map[int64][]int64{}, warnings: map[int64][]store.Warning{},
		slots: map[int64][]absence.ScheduleRow{}, courses: map[int64]store.Course{}, placeOf: map[int64]int{}}
	for i, st := range raw.Students {
		s.student[st.ID], s.placeOf[st.ID] = i, i
	}
	for _, c := range raw.Classes {
		s.Classes[c.ID] = c
	}
	for _, e := range raw.Enrollments {
		s.enrollments[e.StudentID] = append(s.enrollments[e.StudentID], e)
		s.rolls[e.ClassID] = append(s.rolls[e.ClassID], e)
	}
	for _, p := range raw.Staff {
		s.staff[p.ID] = p
	}
	for _, t := range raw.Teachers {
		s.teachers[t.ClassID] = append(s.teachers[t.ClassID], t.StaffID)
		s.taught[t.StaffID] = append(s.taught[t.StaffID], t.ClassID)
	}
	for _, c := range raw.Contacts {
		s.contacts[c.ID] = c
	}
	for _, c := range raw.StudentContacts {
		s.ofStudent[c.StudentID] = append(s.ofStudent[c.StudentID], c)
		s.ofContact[c.ContactID] = append(s.ofContact[c.ContactID], c.StudentID)
	}
	for _, w := range raw.Warnings {
		s.warnings[w.StudentID] = append(s.warnings[w.StudentID], w)
	}
	for _, c := range raw.Courses {
		s.courses[c.ID] = c
	}
	for _, r := range raw.Slots {
		s.slots[r.StudentID] = append(s.slots[r.StudentID], absence.ScheduleRow{Slot: r.Slot, Weekday: r.Weekday})
	}
	return s, s.makeCalendar()
}

func (s *School) makeCalendar() error {
	if len(s.raw.Calendar) == 0 {
		return nil
	}
	var patterns []day.Pattern
	for _, r := range s.raw.PatternSlots {
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
	rows := make([]day.Row, len(s.raw.Calendar))
	for i, c := range s.raw.Calendar {
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
	to := absence.NoEnd
	if st.EnrolledTo != nil {
		to = *st.EnrolledTo
	}
	return absence.Student{ID: st.SourcedID, From: st.EnrolledFrom, To: to, ShareHere: here, ShareElsewhere: elsewhere, Schedule: s.slots[st.ID]}
}

// cell finds a mark's place in the ledger.
func (s *School) cell(student int64, d day.Date, slot string) (i, dayIndex, pos int, ok bool) {
	i, known := s.placeOf[student]
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
func (s *School) Student(id int64) (store.Student, error) {
	i, ok := s.student[id]
	if !ok {
		return store.Student{}, notFound("there is no student %d", id)
	}
	return s.Students[i], nil
}

// Class returns the class with this id.
func (s *School) Class(id int64) (store.Class, error) {
	c, ok := s.Classes[id]
	if !ok {
		return store.Class{}, notFound("there is no class %d", id)
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
func (s *School) Form(student int64, d day.Date) string {
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
	for _, c := range s.raw.Classes {
		if c.Form() && !c.Ended {
			out = append(out, c.Title)
		}
	}
	return out
}

// onSchedule reports whether a student is due in a slot by the own schedule.
func (s *School) onSchedule(student int64, slot string, weekday int) bool {
	rows, listed := s.slots[student]
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
func (s *School) Roll(class int64, slot string, d day.Date) []store.Student {
	var out []store.Student
	for _, e := range s.rolls[class] {
		st := s.Students[s.student[e.StudentID]]
		if e.On(d) && st.EnrolledOn(d) && s.onSchedule(st.ID, slot, d.Weekday()) {
			out = append(out, st)
		}
	}
	sortStudents(out)
	return out
}

func sortStudents(list []store.Student) {
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
	for _, m := range s.raw.Timetable {
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

// TeachersOf names a class's teachers.
func (s *School) TeachersOf(class int64) string {
	var names []string
	for _, id := range s.teachers[class] {
		names = append(names, s.staff[id].Short())
	}
	return strings.Join(names, ", ")
}

func (s *School) teaches(staff, class int64) bool {
	for _, c := range s.taught[staff] {
		if c == class {
			return true
		}
	}
	return false
}

// maySee refuses a student to a teacher who does not teach them.
func (s *School) maySee(p Person, student int64) error {
	if p.Role != Teacher {
		return nil
	}
	for _, e := range s.enrollments[student] {
		if s.teaches(p.Staff, e.ClassID) {
			return nil
		}
	}
	return refused("that student is in none of your classes")
}

// ContactsOf returns a student's contacts in call order.
func (s *School) ContactsOf(student int64) []followup.Contact {
	out := []followup.Contact{}
	for _, sc := range s.ofStudent[student] {
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
func (s *School) Siblings(student int64, d day.Date) []store.Student {
	seen := map[int64]bool{student: true}
	var out []store.Student
	for _, sc := range s.ofStudent[student] {
		for _, other := range s.ofContact[sc.ContactID] {
			st := s.Students[s.student[other]]
			if !seen[other] && st.EnrolledOn(d) {
				seen[other] = true
				out = append(out, st)
			}
		}
	}
	sortStudents(out)
	return out
}

// dayNumber returns the date's number among the school days, and how many there are.
func (s *School) dayNumber(d day.Date) (n, of int) {
	if s.Calendar == nil {
		return 0, 0
	}
	return s.Calendar.UpTo(d) + 1, s.Calendar.Days()
}
