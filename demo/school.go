package demo

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/store"
)

const seed = 20260310

// years are the year groups of Fairlead School.
var years = []int{7, 8, 9, 10, 11, 12}

// The sections: years 7 to 10, and the upper school across the harbour.
const (
	lower = ids.Section(1)
	upper = ids.Section(2)
)

// sectionOf is the section of a year group.
func sectionOf(year int) ids.Section {
	if year >= 11 {
		return upper
	}
	return lower
}

// upperClosed is a weekday without school in the upper school alone: its ferry is overhauled.
var upperClosed = day.MustDate("2026-01-06")

// laterBells is by how much the bells of the upper school are later.
const laterBells = 10

// people builds the invented school, the same each time.
type people struct {
	school   store.School
	random   *rand.Rand
	students map[string]*store.Student // planted ones, by name
	subject  map[string]ids.Course     // course by year and subject
	forms    map[string]ids.Class      // form class by title
	phones   int

	years         int         // how many school years, the present one included
	formsEach     int         // forms of a year group, and sets of a subject
	teachers      int         // of the staff, the first so many; those of the upper school come last
	upper         []ids.Staff // who teach in the upper school
	insteadOfJahn ids.Staff
	groups        map[string]int       // of these which teach a subject
	sets          map[string]ids.Class // by code, of the present year
	formOf        map[ids.Student]int  // which of the year group's forms
	left          map[ids.Student]int  // how many years back who is gone left
	past          []*earlierYear
	noReviews     bool
	present       int // students of the present year, the first so many
}

// Options say how large the invented school is.
type Options struct {
	Students int // about so many; 0 for Fairlead's 612
	Years    int // school years, the present one included; 0 for one

	NoReviews bool // nobody has held a review: it is built in half the time
}

// formSize is how many students a form has, in the mean.
const formSize = 25.5

func newSchool(o Options) *people {
	p := &people{random: rand.New(rand.NewPCG(seed, 1)), students: map[string]*store.Student{}, subject: map[string]ids.Course{}, forms: map[string]ids.Class{},
		years: max(1, o.Years), noReviews: o.NoReviews, formsEach: len(formNames), sets: map[string]ids.Class{}, formOf: map[ids.Student]int{}}
	if o.Students > 0 {
		p.formsEach = max(len(formNames), int(float64(o.Students)/float64(len(years))/formSize+0.5))
	}
	p.teachers = max(len(teacherSet), p.formsEach*len(subjects))
	p.calendar()
	p.staff()
	p.classes()
	p.enrol()
	p.homes()
	p.present = len(p.school.Students)
	p.past = p.earlier()
	p.hold()
	return p
}

// sectionOfClass is the section of a class's year group.
func sectionOfClass(c store.Class) ids.Section { return sectionNamed(c.Year) }

// sectionNamed is the section of a year group by its name.
func sectionNamed(year string) ids.Section {
	n := 0
	_, _ = fmt.Sscan(year, &n)
	return sectionOf(n)
}

// formName is the name of the n-th form of a year group.
func formName(n int) string {
	if n < len(formNames) {
		return formNames[n]
	}
	return moreForms[(n-len(formNames))%len(moreForms)] + strings.Repeat("’", (n-len(formNames))/len(moreForms))
}

var dayShape = []store.PatternSlot{
	{Slot: "AM", Start: day.MustMinute("08:45"), End: day.MustMinute("09:00"), Kind: "registration"},
	{Slot: "1", Start: day.MustMinute("09:05"), End: day.MustMinute("09:55"), Kind: "lesson"},
	{Slot: "2", Start: day.MustMinute("10:00"), End: day.MustMinute("10:50"), Kind: "lesson"},
	{Slot: "3", Start: day.MustMinute("11:10"), End: day.MustMinute("12:00"), Kind: "lesson"},
	{Slot: "4", Start: day.MustMinute("12:05"), End: day.MustMinute("12:55"), Kind: "lesson"},
	{Slot: "PM", Start: day.MustMinute("13:45"), End: day.MustMinute("13:55"), Kind: "registration"},
	{Slot: "5", Start: day.MustMinute("14:00"), End: day.MustMinute("14:50"), Kind: "lesson"},
	{Slot: "6", Start: day.MustMinute("14:55"), End: day.MustMinute("15:45"), Kind: "lesson"},
}

const pattern = "normal"

// shapeOf is the day of a section.
func shapeOf(section ids.Section) []store.PatternSlot {
	if section == upper {
		return upperShape
	}
	return dayShape
}

var upperShape = func() []store.PatternSlot {
	out := slices.Clone(dayShape)
	for i := range out {
		out[i].Start, out[i].End = out[i].Start.Add(laterBells), out[i].End.Add(laterBells)
	}
	return out
}()

// closures are the weekdays without school, both ends included.
var closures = [][2]string{{"2025-10-27", "2025-10-31"}, {"2025-12-22", "2026-01-05"}, {"2026-02-16", "2026-02-20"},
	{"2026-03-30", "2026-04-10"}, {"2026-05-04", "2026-05-04"}, {"2026-05-25", "2026-05-29"}}

var (
	firstDay = day.MustDate("2025-09-03")
	lastDay  = day.MustDate("2026-07-16")
	// Today is the demonstration's day, the 114th of 190.
	Today = day.MustDate("2026-03-10")
)

var terms = []struct {
	name string
	last day.Date
}{
	{"Autumn 1", day.MustDate("2025-10-26")}, {"Autumn 2", day.MustDate("2025-12-31")}, {"Spring 1", day.MustDate("2026-02-17")},
	{"Spring 2", day.MustDate("2026-04-05")}, {"Summer", day.MustDate("2026-12-31")},
}

var gradingPeriods = []struct {
	name string
	last day.Date
}{
	{"Quarter 1", day.MustDate("2025-11-14")}, {"Quarter 2", day.MustDate("2026-01-30")}, {"Quarter 3", day.MustDate("2026-04-24")}, {"Quarter 4", day.MustDate("2026-12-31")},
}

func (p *people) calendar() {
	for _, section := range []ids.Section{lower, upper} {
		for _, s := range shapeOf(section) {
			s.SectionID, s.Pattern = section, pattern
			p.school.PatternSlots = append(p.school.PatternSlots, s)
		}
	}
	for d := firstDay; d <= lastDay; d++ {
		if d.Weekday() > 5 {
			continue
		}
		row := store.CalendarDay{Date: d, Pattern: pattern}
		for i := len(terms) - 1; i >= 0; i-- {
			if d <= terms[i].last {
				row.Term = terms[i].name
			}
		}
		for i := len(gradingPeriods) - 1; i >= 0; i-- {
			if d <= gradingPeriods[i].last {
				row.GradingPeriod = gradingPeriods[i].name
			}
		}
		for _, c := range closures {
			if d >= day.MustDate(c[0]) && d <= day.MustDate(c[1]) {
				row.Pattern = day.Closed
			}
		}
		row.SectionID = lower
		p.school.Calendar = append(p.school.Calendar, row)
		row.SectionID = upper
		if d == upperClosed {
			row.Pattern = day.Closed
		}
		p.school.Calendar = append(p.school.Calendar, row)
	}
	p.school.Sections = []store.Section{{ID: lower, SourcedID: "org-lower", Name: "Lower School"}, {ID: upper, SourcedID: "org-upper", Name: "Upper School"}}
	for _, s := range p.school.Sections {
		p.school.Years = append(p.school.Years, store.SchoolYear{SectionID: s.ID, First: firstDay, Last: lastDay})
	}
	p.school.Organisations = []store.Organisation{{ID: 1, SourcedID: "org-fairlead", Name: "Fairlead School", Type: "local", Identifier: "FL"},
		{ID: 2, SourcedID: "org-lower", Name: "Lower School", Type: "school", Identifier: "FL01", Parent: "org-fairlead"},
		{ID: 3, SourcedID: "org-upper", Name: "Upper School", Type: "school", Identifier: "FL02", Parent: "org-fairlead"}}
	p.school.Sessions = []store.AcademicSession{{ID: 1, SourcedID: "year-2026", Title: "2025 to 2026", Type: "schoolYear", Start: firstDay, End: lastDay, SchoolYear: "2026"}}
}

func (p *people) staff() {
	add := func(given, family, role string) {
		id := ids.Staff(len(p.school.Staff) + 1)
		email := strings.ToLower(given + "." + family + "@fairlead.example")
		p.school.Staff = append(p.school.Staff, store.Staff{ID: id, SourcedID: fmt.Sprintf("staff-%02d", id), Number: fmt.Sprintf("%03d", 100+id), Given: given, Family: family, Role: role, Email: email, Phone: fmt.Sprintf("07700 900 %03d", 900+id)})
	}
	for _, t := range teacherSet {
		add(t.given, t.family, "teacher")
	}
	for n := len(teacherSet); n < p.teachers; n++ {
		family := fmt.Sprintf("%s-%s", familyNames[n%len(familyNames)], familyNames[n*3%len(familyNames)])
		if n >= len(familyNames) { // the pairs come again
			family = fmt.Sprintf("%s-%d", family, n)
		}
		add(givenNames[n*7%len(givenNames)], family, "teacher")
	}
	for _, t := range officeSet {
		add(t.given, t.family, t.role)
	}
	p.groups = groupsOfSubjects()
	groups := 0
	for _, g := range p.groups {
		groups = max(groups, g+1)
	}
	p.upper = []ids.Staff{jahn}
	for n := range groups*p.formsEach - 1 {
		if n < len(upperSet) {
			add(upperSet[n].given, upperSet[n].family, "teacher")
		} else {
			add(givenNames[n*5%len(givenNames)], fmt.Sprintf("%s-%s-%d", familyNames[n*2%len(familyNames)], familyNames[n*5%len(familyNames)], n), "teacher")
		}
		p.upper = append(p.upper, ids.Staff(len(p.school.Staff)))
	}
	add("Wanda", "Hoyle", "teacher") // in place of Jahn, who went across the harbour
	p.insteadOfJahn = ids.Staff(len(p.school.Staff))
	p.staffSections()
}

// jahn is Mads Jahn, tutor of 11 Cleat.
const jahn = ids.Staff(2)

// groupsOfSubjects parts the subjects so that the two year groups of the upper school never
// need teachers of one part at the same time.
func groupsOfSubjects() map[string]int {
	apart := map[string]map[string]bool{}
	for k := range 30 {
		a, b := week[(k+5*4)%30], week[(k+5*5)%30]
		for _, pair := range [][2]string{{a, b}, {b, a}} {
			if apart[pair[0]] == nil {
				apart[pair[0]] = map[string]bool{}
			}
			apart[pair[0]][pair[1]] = true
		}
	}
	out := map[string]int{}
	for _, s := range subjects {
		taken := map[int]bool{}
		for other := range apart[s.code] {
			if g, known := out[other]; known {
				taken[g] = true
			}
		}
		g := 0
		for taken[g] {
			g++
		}
		out[s.code] = g
	}
	return out
}

// teacherOf is who teaches a set of a subject in a year group.
func (p *people) teacherOf(year, subject, set int) ids.Staff {
	if sectionOf(year) == upper {
		return p.upper[p.groups[subjects[subject].code]*p.formsEach+set]
	}
	if id := ids.Staff(subject*p.formsEach + set + 1); id != jahn {
		return id
	}
	return p.insteadOfJahn
}

// staffSections says who works where: the office in both sections.
func (p *people) staffSections() {
	across := map[ids.Staff]bool{}
	for _, id := range p.upper {
		across[id] = true
	}
	for i, s := range p.school.Staff {
		inOffice := i >= p.teachers && i < p.teachers+len(officeSet)
		for _, section := range []ids.Section{lower, upper} {
			if inOffice || across[s.ID] == (section == upper) {
				p.school.StaffSections = append(p.school.StaffSections, store.StaffSection{StaffID: s.ID, SectionID: section})
			}
		}
	}
}

// classes makes forms, courses and sets with their timetable.
func (p *people) classes() {
	course := func(code, title, year string) ids.Course {
		id := ids.Course(len(p.school.Courses) + 1)
		p.school.Courses = append(p.school.Courses, store.Course{ID: id, SourcedID: fmt.Sprintf("course-%03d", id), Title: title, Code: code, Grades: year, Subject: title})
		return id
	}
	class := func(c store.Class, staff ids.Staff) ids.Class {
		c.ID = ids.Class(len(p.school.Classes) + 1)
		c.SourcedID = fmt.Sprintf("class-%03d", c.ID)
		c.Terms = "year-2026"
		c.Section = sectionOfClass(c)
		p.school.Classes = append(p.school.Classes, c)
		p.school.Teachers = append(p.school.Teachers, store.ClassTeacher{SourcedID: fmt.Sprintf("teach-%03d", c.ID), ClassID: c.ID, StaffID: staff, Main: true})
		return c.ID
	}
	tutor := ids.Staff(1)
	tutors := map[string]ids.Staff{"8 Halyard": 1, "11 Cleat": jahn, "9 Bowline": 3}
	used := map[ids.Staff]bool{1: true, jahn: true, 3: true}
	across := 0
	for _, y := range years {
		year := fmt.Sprint(y)
		registration := course(year+"Reg", "Registration "+year, year)
		p.subject[year+"Reg"] = registration
		for n := range p.formsEach {
			title := year + " " + formName(n)
			staff, planted := tutors[title]
			if !planted && sectionOf(y) == upper {
				across++
				staff, planted = p.upper[across%len(p.upper)], true
			}
			for !planted && used[tutor] {
				tutor++
			}
			if !planted {
				staff, used[tutor] = tutor, true
			}
			room := fmt.Sprintf("room %d", 10+len(p.forms))
			id := class(store.Class{Title: title, Type: "homeroom", CourseID: registration, Year: year, Room: room}, staff)
			p.forms[title] = id
			for _, slot := range []string{"AM", "PM"} {
				p.school.Timetable = append(p.school.Timetable, store.Meeting{ClassID: id, Pattern: pattern, Slot: slot, Room: room})
			}
		}
		for k, s := range subjects {
			c := course(year+s.code, s.title+" "+year, year)
			p.subject[year+s.code] = c
			for set := range p.formsEach {
				room := fmt.Sprintf("%s %d", strings.ToLower(s.title[:3]), set+1)
				id := class(store.Class{Title: fmt.Sprintf("%s%s%d", year, s.code, set+1), Type: "scheduled", CourseID: c, Year: year, Code: fmt.Sprintf("%s%s%d", year, s.code, set+1), Room: room}, p.teacherOf(y, k, set))
				p.sets[fmt.Sprintf("%d%s%d", y, s.code, set+1)] = id
				p.meet(id, y, s.code, room)
			}
		}
	}
}

func (p *people) meet(class ids.Class, year int, subject, room string) {
	for _, at := range lessonsOf(year, subject) {
		p.school.Timetable = append(p.school.Timetable, store.Meeting{ClassID: class, Weekday: at[0], Slot: fmt.Sprint(at[1]), Room: room})
	}
}

// lessonsOf returns when a year group has a subject: weekday and lesson, in their order.
func lessonsOf(year int, subject string) [][2]int {
	var out [][2]int
	for k := range 30 {
		if week[(k+5*(year-7))%30] == subject {
			out = append(out, [2]int{k/6 + 1, k%6 + 1})
		}
	}
	return out
}

// planted students, in their forms; the rest are drawn.
var planted = []struct{ form, given, family string }{
	{"7 Reef", "Elis", "Merrow"}, {"9 Bowline", "Ansa", "Merrow"},
	{"9 Bowline", "Mika", "Ulvar"}, {"7 Reef", "Tora", "Ulvar"},
	{"10 Cleat", "Oona", "Harle"}, {"9 Bowline", "Tavi", "Lund"}, {"9 Bowline", "Perran", "Hask"},
	{"7 Reef", "Della", "Fairhurst"}, {"9 Bowline", "Corin", "Vale"}, {"9 Bowline", "Jory", "Marr"},
	{"9 Bowline", "Pip", "Garrow"}, {"9 Bowline", "Eskil", "Dray"}, {"9 Bowline", "Juno", "Sandal"},
	{"12 Cleat", "Cato", "Vane"}, {"8 Reef", "Idris", "Quell"}, {"10 Halyard", "Bram", "Ollerton"},
	{"8 Reef", "Finn", "Calloway"}, {"10 Bowline", "Finn", "Calloway"}, {"11 Reef", "Maren", "Holt"},
}

func (p *people) enrol() {
	number := 40000
	taken := map[string]bool{}
	for i := range planted {
		taken[planted[i].given+planted[i].family] = true
	}
	for _, y := range years {
		for n := range p.formsEach {
			title := fmt.Sprintf("%d %s", y, formName(n))
			size := 25 + (y+n)%2
			for range size {
				number += 1 + p.random.IntN(3)
				p.student(title, y, number, "", "", taken)
				p.formOf[ids.Student(len(p.school.Students))] = n
			}
		}
	}
	p.plant()
	for i := range p.school.Students {
		p.intoSets(&p.school.Students[i], i)
	}
}

func (p *people) student(form string, year, number int, given, family string, taken map[string]bool) {
	for given == "" {
		g, f := givenNames[p.random.IntN(len(givenNames))], familyNames[p.random.IntN(len(familyNames))]
		if !taken[g+f] {
			given, family = g, f
			taken[g+f] = true
		}
	}
	id := ids.Student(len(p.school.Students) + 1)
	born := day.MustDate(fmt.Sprintf("%d-09-01", 2025-year-5)) + day.Date(p.random.IntN(364))
	s := store.Student{ID: id, SourcedID: fmt.Sprintf("student-%05d", number), Number: fmt.Sprint(number), Given: given, Family: family, Year: fmt.Sprint(year),
		Born: born.String(), Card: fmt.Sprintf("FL%06d", 700000+number), Email: fmt.Sprintf("%d@students.fairlead.example", number), Spans: []day.Dates{day.Since(firstDay)}, ShareHere: "1", ShareElsewhere: "0"}
	if k := p.random.IntN(10); k < 3 {
		s.Travels = ferries[k]
	}
	p.school.Students = append(p.school.Students, s)
	p.enrolIn(p.forms[form], id, firstDay)
}

func (p *people) enrolIn(class ids.Class, student ids.Student, from day.Date) {
	id := int64(len(p.school.Enrollments) + 1)
	p.school.Enrollments = append(p.school.Enrollments, store.Enrollment{ID: id, SourcedID: fmt.Sprintf("enrol-%05d", id), ClassID: class, StudentID: student, Held: store.Held{From: from}})
}

// plant gives the planted names to the first students of their forms.
func (p *people) plant() {
	next := map[ids.Class]int{}
	byForm := map[ids.Class][]int{}
	for _, e := range p.school.Enrollments {
		byForm[e.ClassID] = append(byForm[e.ClassID], int(e.StudentID-1))
	}
	for _, who := range planted {
		form := p.forms[who.form]
		s := &p.school.Students[byForm[form][next[form]]]
		next[form]++
		s.Given, s.Family, s.Travels = who.given, who.family, ""
		p.students[who.given+" "+who.family+" "+who.form] = s
	}
	// Drawn students of the same family in the same form read as twins; that is believable.
	lund := p.named("Tavi Lund")
	lund.ShareHere, lund.ShareElsewhere = "0.5", "0.5"
	for _, slot := range []string{"AM", "1", "2", "3", "4"} {
		p.school.Slots = append(p.school.Slots, store.StudentSlot{StudentID: lund.ID, Slot: slot})
	}
	p.named("Mika Ulvar").Number, p.named("Mika Ulvar").SourcedID = "49217", "student-49217"
	for i := 40; i < 600; i += 97 { // a few more part-time students
		s := &p.school.Students[i]
		s.ShareHere, s.ShareElsewhere = "0.6", "0.4"
		for weekday := 1; weekday <= 3; weekday++ {
			for _, slot := range dayShape {
				p.school.Slots = append(p.school.Slots, store.StudentSlot{StudentID: s.ID, Slot: slot.Slot, Weekday: weekday})
			}
		}
	}
	p.named("Maren Holt").Spans = []day.Dates{day.Since(day.MustDate("2026-02-02"))}
	for i := range p.school.Enrollments {
		if p.school.Enrollments[i].StudentID == p.named("Maren Holt").ID {
			p.school.Enrollments[i].From = day.MustDate("2026-02-02")
		}
	}
}

// named returns the first planted student of this name.
func (p *people) named(name string) *store.Student {
	for _, who := range planted {
		if who.given+" "+who.family == name {
			return p.students[name+" "+who.form]
		}
	}
	panic("nobody planted is called " + name)
}

// intoSets puts a student into a set of each subject: English, mathematics,
// science and languages across forms, the rest with the form.
func (p *people) intoSets(s *store.Student, i int) {
	for k, subject := range subjects {
		set := p.setOf(i, k, p.formOf[s.ID])
		p.enrolIn(p.sets[fmt.Sprintf("%s%s%d", s.Year, subject.code, set+1)], s.ID, s.Spans[0].From)
	}
}

// setOf is which set of a subject a student goes to.
func (p *people) setOf(i, k, own int) int {
	switch subjects[k].code {
	case "En", "Ma", "Sc", "La":
		return (i + k*7 + i/(k+3)) % p.formsEach
	}
	return own
}

// phone returns the next number of the ranges kept for fiction, none twice.
func (p *people) phone() string {
	p.phones++
	if p.phones%3 == 0 {
		return fmt.Sprintf("01632 960 %03d", p.phones/3*7%1000)
	}
	return fmt.Sprintf("07700 900 %03d", (p.phones-p.phones/3)*3%1000)
}

func (p *people) contact(given, family string) ids.Contact {
	id := ids.Contact(len(p.school.Contacts) + 1)
	c := store.Contact{ID: id, SourcedID: fmt.Sprintf("home-%04d", id), Given: given, Family: family, Phone: p.phone(),
		Email: strings.ToLower(fmt.Sprintf("home%d@holm.example", id))}
	c.SMS = c.Phone
	p.school.Contacts = append(p.school.Contacts, c)
	return id
}

func (p *people) tie(student ids.Student, contact ids.Contact, order int, relation string, collect, lives, never bool) {
	p.school.StudentContacts = append(p.school.StudentContacts, store.StudentContact{StudentID: student, ContactID: contact, CallOrder: order, Relation: relation,
		MayCollect: collect, LivesWith: lives, DoNotCall: never})
}

// homes gives students their contacts; about one in four has a sibling here.
func (p *people) homes() {
	p.plantedHomes()
	has := map[ids.Student]bool{}
	for _, t := range p.school.StudentContacts {
		has[t.StudentID] = true
	}
	has[p.named("Della Fairhurst").ID] = true // nobody is on file
	without := map[ids.Student]bool{251: true, 401: true}
	for i := range p.school.Students {
		s := &p.school.Students[i]
		if has[s.ID] || without[s.ID] {
			continue
		}
		home := []*store.Student{s}
		if p.random.IntN(4) == 0 {
			for j := i + 90; j < min(i+260, len(p.school.Students)); j++ {
				if other := &p.school.Students[j]; !has[other.ID] && !without[other.ID] && !p.isPlanted(other) {
					other.Family = s.Family
					home = append(home, other)
					break
				}
			}
		}
		p.home(home, has)
	}
	p.contact("Runa", "Strandvik") // a contact of nobody
	p.addresses()
	p.warnings()
}

func (p *people) isPlanted(s *store.Student) bool {
	for _, k := range p.students {
		if k.ID == s.ID {
			return true
		}
	}
	return false
}

func (p *people) home(students []*store.Student, has map[ids.Student]bool) {
	family := students[0].Family
	given := func() string { return givenNames[p.random.IntN(len(givenNames))] }
	first := p.contact(given(), family)
	second, third := ids.Contact(0), ids.Contact(0)
	if p.random.IntN(4) > 0 {
		second = p.contact(given(), family)
	}
	if p.random.IntN(3) == 0 {
		third = p.contact(given(), familyNames[p.random.IntN(len(familyNames))])
	}
	relation := []string{"mother", "father"}
	if p.random.IntN(3) == 0 {
		relation = []string{"father", "mother"}
	}
	for _, s := range students {
		has[s.ID] = true
		p.tie(s.ID, first, 1, relation[0], true, true, false)
		if second != 0 {
			p.tie(s.ID, second, 2, relation[1], true, p.random.IntN(5) > 0, false)
		}
		if third != 0 {
			p.tie(s.ID, third, 3, "aunt", p.random.IntN(2) == 0, false, false)
		}
	}
}

func (p *people) plantedHomes() {
	for _, h := range []struct {
		students []string
		contacts [][3]string // given, family, relation; a family with ! must not be called
	}{
		{[]string{"Elis Merrow", "Ansa Merrow"}, [][3]string{{"Ida", "Merrow", "mother"}, {"Sunniva", "Pell", "aunt"}, {"Joss", "Merrow", "father"}}},
		{[]string{"Mika Ulvar", "Tora Ulvar"}, [][3]string{{"Runa", "Ulvar", "mother"}, {"Aksel", "Brenn", "stepfather"}}},
		{[]string{"Juno Sandal"}, [][3]string{{"Liv", "Sandal", "mother"}, {"Birger", "Sandal!", "father"}}},
		{[]string{"Cato Vane"}, [][3]string{{"Mina", "Vane", "mother"}}},
		{[]string{"Bram Ollerton"}, [][3]string{{"Sefa", "Ollerton", "mother"}}},
		{[]string{"Idris Quell"}, [][3]string{{"Rhona", "Quell", "mother"}, {"Tor", "Quell", "grandfather"}}},
	} {
		var contacts []ids.Contact
		for _, c := range h.contacts {
			contacts = append(contacts, p.contact(c[0], strings.TrimSuffix(c[1], "!")))
		}
		for _, name := range h.students {
			for n, c := range h.contacts {
				never := strings.HasSuffix(c[1], "!")
				p.tie(p.named(name).ID, contacts[n], n+1, c[2], n == 0 && !never, n == 0, never)
			}
		}
	}
}

func (p *people) warnings() {
	for _, w := range []struct {
		name, words string
		care        bool
	}{
		{"Elis Merrow", "asthma: inhaler in the office", true}, {"Mika Ulvar", "moved house in January", false}, {"Mika Ulvar", "inhaler in the office", false},
		{"Cato Vane", "safety plan", true}, {"Juno Sandal", "never ring B. Sandal", false}, {"Pip Garrow", "knee: no stairs", false},
		{"Tavi Lund", "afternoons at the boatyard college", false}, {"Della Fairhurst", "joined in September, papers lost", false},
	} {
		p.school.Warnings = append(p.school.Warnings, store.Warning{StudentID: p.named(w.name).ID, Text: w.words, CareFirst: w.care})
	}
	for i := 25; i < len(p.school.Students); i += 41 {
		if p.isPlanted(&p.school.Students[i]) {
			continue
		}
		p.school.Warnings = append(p.school.Warnings, store.Warning{StudentID: p.school.Students[i].ID, Text: []string{"nut allergy", "hearing aid: sits in front", "diabetes: may leave to eat"}[i%3], CareFirst: i%3 == 2})
	}
}

// hold writes what is known of students and classes as rows that hold at all times, or from
// the present year on where there are earlier ones.
func (p *people) hold() {
	now := store.Held{}
	if p.years > 1 {
		now = store.HeldOn(over(0))
	}
	for i := range p.school.Slots {
		p.school.Slots[i].Held = now
	}
	told := map[ids.Student]bool{}
	for _, d := range p.school.Details {
		told[d.StudentID] = true
	}
	named := map[ids.Class]bool{}
	for _, d := range p.school.ClassDetails {
		named[d.ClassID] = true
	}
	for i := range p.school.Teachers {
		if t := &p.school.Teachers[i]; !named[t.ClassID] {
			t.Held = now
		}
	}
	for i := range p.school.Timetable {
		if m := &p.school.Timetable[i]; !named[m.ClassID] {
			m.Held = now
		}
	}
	for _, s := range p.school.Students {
		for _, span := range s.Spans {
			p.school.Spans = append(p.school.Spans, store.StudentSpan{StudentID: s.ID, Held: store.HeldOn(span)})
		}
		if told[s.ID] {
			continue
		}
		p.school.Details = append(p.school.Details, store.StudentDetail{StudentID: s.ID, SectionID: sectionNamed(s.Year), Year: s.Year, ShareHere: s.ShareHere, ShareElsewhere: s.ShareElsewhere})
	}
	for _, c := range p.school.Classes {
		if !named[c.ID] {
			p.school.ClassDetails = append(p.school.ClassDetails, store.ClassDetail{ClassID: c.ID, SectionID: c.Section, Title: c.Title, Code: c.Code, Year: c.Year, Room: c.Room, Terms: c.Terms, Held: now})
		}
	}
}
