package demo

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"strings"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/store"
)

// yearLength is by how much an earlier school year lies before the next: whole weeks, so
// that weekdays stay.
const yearLength = 364

// earlierYear is a school year before the present one, written whole.
type earlierYear struct {
	back    int // years before the present one
	days    []day.Date
	classes [][5][8]ids.Class // by student, weekday and slot; 0 where not here
	plans   [][]dayPlan       // by student and day
}

// first and last return the ends of the school year so many years back.
func firstOf(back int) day.Date { return firstDay - day.Date(yearLength*back) }
func lastOf(back int) day.Date  { return lastDay - day.Date(yearLength*back) }

// over returns the dates from the beginning of a school year to the beginning of the next.
func over(back int) day.Dates {
	if back == 0 {
		return day.Since(firstDay)
	}
	return day.Dates{From: firstOf(back), To: firstOf(back-1) - 1}
}

// earlier makes the school years before the present one: their calendars, those who were
// there and have left since, and the classes of then.
func (p *people) earlier() []*earlierYear {
	p.left = p.leavers()
	var out []*earlierYear
	for back := 1; back < p.years; back++ {
		p.datesOf(back)
		y := &earlierYear{back: back}
		for _, c := range p.school.Calendar {
			if c.SectionID == lower && c.Pattern != day.Closed && c.Date >= firstOf(back) && c.Date <= lastOf(back) {
				y.days = append(y.days, c.Date)
			}
		}
		y.classes = p.classesOf(back)
		y.plans = p.plansOf(y)
		out = append(out, y)
	}
	p.writeStays()
	return out
}

// datesOf writes the calendar of a school year as the present one's, so many years earlier.
func (p *people) datesOf(back int) {
	for _, c := range p.school.Calendar {
		if c.Date < firstDay {
			continue
		}
		if c.Date == upperClosed {
			c.Pattern = pattern // that was this year
		}
		c.Date -= day.Date(yearLength * back)
		p.school.Calendar = append(p.school.Calendar, c)
	}
	for _, s := range p.school.Sections {
		p.school.Years = append(p.school.Years, store.SchoolYear{SectionID: s.ID, First: firstOf(back), Last: lastOf(back)})
	}
	p.school.Sessions = append(p.school.Sessions, store.AcademicSession{ID: int64(back + 1), SourcedID: fmt.Sprint("year-", 2026-back), Title: fmt.Sprintf("%d to %d", 2025-back, 2026-back),
		Type: "schoolYear", Start: firstOf(back), End: lastOf(back), SchoolYear: fmt.Sprint(2026 - back)})
}

// leavers adds those who left at the end of each earlier year, and returns of each how many
// years back that was.
func (p *people) leavers() map[ids.Student]int {
	out := map[ids.Student]int{}
	taken := map[string]bool{}
	for _, s := range p.school.Students {
		taken[s.Given+s.Family] = true
	}
	number := 39000
	for back := 1; back < p.years; back++ {
		for n := range p.formsEach {
			for range 25 + n%2 {
				number--
				id := ids.Student(len(p.school.Students) + 1)
				given, family := p.newName(taken)
				s := store.Student{ID: id, SourcedID: fmt.Sprintf("student-%05d", number), Number: fmt.Sprint(number), Given: given, Family: family, Year: "12",
					Born: (day.MustDate("2008-09-01") - day.Date(yearLength*back) + day.Date(p.random.IntN(364))).String(), ShareHere: "1", ShareElsewhere: "0"}
				p.school.Students = append(p.school.Students, s)
				out[id] = back
				p.formOf[id] = n
			}
		}
	}
	return out
}

func (p *people) newName(taken map[string]bool) (given, family string) {
	for {
		given, family = givenNames[p.random.IntN(len(givenNames))], familyNames[p.random.IntN(len(familyNames))]
		if !taken[given+family] {
			taken[given+family] = true
			return given, family
		}
	}
}

// yearIn returns the year group of a student so many years back; 0 where they were not here.
func (p *people) yearIn(s *store.Student, back int) int {
	left, now := p.left[s.ID], 0
	_, _ = fmt.Sscan(s.Year, &now)
	year := now - back + left
	if year < years[0] || year > years[len(years)-1] || back < left || (left == 0 && p.cameLate(s)) {
		return 0
	}
	return year
}

// cameLate reports whether a student of the present year came in the course of it.
func (p *people) cameLate(s *store.Student) bool { return s.Spans[0].From != firstDay }

// writeStays writes when everybody was on the roll, in which year group.
func (p *people) writeStays() {
	for i := range p.school.Students {
		s := &p.school.Students[i]
		left := p.left[s.ID]
		came := -1
		for back := left; back < p.years; back++ {
			if p.yearIn(s, back) > 0 {
				came = back
			}
		}
		if came < 0 {
			continue
		}
		stay := day.Since(firstOf(came))
		if left > 0 {
			stay.To = lastOf(left)
		}
		for back := came; back >= left; back-- {
			on, here, elsewhere := over(back), s.ShareHere, s.ShareElsewhere
			if back > 0 {
				here, elsewhere = "1", "0"
			}
			if back == came {
				on.From = day.NoStart
			}
			if back == left {
				on.To = day.NoEnd
			}
			p.school.Details = append(p.school.Details, store.StudentDetail{StudentID: s.ID, SectionID: sectionOf(p.yearIn(s, back)), Year: fmt.Sprint(p.yearIn(s, back)), ShareHere: here, ShareElsewhere: elsewhere, Held: store.HeldOn(on)})
		}
		s.Spans = []day.Dates{stay}
	}
}

// classesOf makes the forms and sets of an earlier year, with their teachers, times and
// students, and returns where everyone was to be.
func (p *people) classesOf(back int) [][5][8]ids.Class {
	held := store.HeldOn(day.Dates{From: firstOf(back), To: lastOf(back)})
	class := func(d store.ClassDetail, kind string, course ids.Course, staff ids.Staff) ids.Class {
		id := ids.Class(len(p.school.Classes) + 1)
		p.school.Classes = append(p.school.Classes, store.Class{ID: id, SourcedID: fmt.Sprintf("class-%d-%03d", 2026-back, id), Type: kind, CourseID: course, Title: d.Title, Year: d.Year, Section: sectionNamed(d.Year)})
		d.SectionID = sectionNamed(d.Year)
		d.ClassID, d.Held, d.Terms = id, held, fmt.Sprint("year-", 2026-back)
		p.school.ClassDetails = append(p.school.ClassDetails, d)
		p.school.Teachers = append(p.school.Teachers, store.ClassTeacher{SourcedID: fmt.Sprintf("teach-%d-%03d", 2026-back, id), ClassID: id, StaffID: staff, Main: true, Held: held})
		return id
	}
	forms, sets := map[[2]int]ids.Class{}, map[string]ids.Class{}
	for _, y := range years {
		for n := range p.formsEach {
			f := class(store.ClassDetail{Title: fmt.Sprintf("%d %s", y, formName(n)), Year: fmt.Sprint(y), Room: fmt.Sprintf("room %d", 10+n+(y-7)*p.formsEach)}, "homeroom",
				p.subject[fmt.Sprint(y, "Reg")], p.tutorOf(y, n, back))
			forms[[2]int{y, n}] = f
			for _, slot := range []string{"AM", "PM"} {
				p.school.Timetable = append(p.school.Timetable, store.Meeting{ClassID: f, Pattern: pattern, Slot: slot, Held: held})
			}
		}
		for k, s := range subjects {
			for set := range p.formsEach {
				code := fmt.Sprintf("%d%s%d", y, s.code, set+1)
				room := fmt.Sprintf("%s %d", strings.ToLower(s.title[:3]), set+1)
				c := class(store.ClassDetail{Title: code, Code: code, Year: fmt.Sprint(y), Room: room}, "scheduled", p.subject[fmt.Sprint(y)+s.code], p.teacherOf(y, k, set))
				sets[code] = c
				for _, at := range lessonsOf(y, s.code) {
					p.school.Timetable = append(p.school.Timetable, store.Meeting{ClassID: c, Weekday: at[0], Slot: fmt.Sprint(at[1]), Room: room, Held: held})
				}
			}
		}
	}
	out := make([][5][8]ids.Class, len(p.school.Students))
	for i := range p.school.Students {
		s := &p.school.Students[i]
		year := p.yearIn(s, back)
		if year == 0 {
			continue
		}
		p.goesTo(i, year, forms, sets, &out[i], held)
	}
	return out
}

// tutorOf is the tutor of a form so many years back.
func (p *people) tutorOf(year, form, back int) ids.Staff {
	if sectionOf(year) == upper {
		return p.upper[((year-11)*p.formsEach+form+back)%len(p.upper)]
	}
	if id := ids.Staff(1 + ((year-7)*p.formsEach+form+7*back)%p.teachers); id != jahn {
		return id
	}
	return p.insteadOfJahn
}

// goesTo puts a student into a form and a set of each subject.
func (p *people) goesTo(i, year int, forms map[[2]int]ids.Class, sets map[string]ids.Class, week *[5][8]ids.Class, held store.Held) {
	id := p.school.Students[i].ID
	form := forms[[2]int{year, p.formOf[id]}]
	enrol := func(c ids.Class) {
		n := int64(len(p.school.Enrollments) + 1)
		p.school.Enrollments = append(p.school.Enrollments, store.Enrollment{ID: n, SourcedID: fmt.Sprintf("enrol-%05d", n), ClassID: c, StudentID: id, Held: held})
	}
	enrol(form)
	for w := range week {
		week[w][0], week[w][5] = form, form
	}
	for k, subject := range subjects {
		set := sets[fmt.Sprintf("%d%s%d", year, subject.code, p.setOf(i, k, p.formOf[id])+1)]
		enrol(set)
		for _, at := range lessonsOf(year, subject.code) {
			week[at[0]-1][lessonPlace[at[1]-1]] = set
		}
	}
}

// lessonPlace is where in dayShape the lessons are.
var lessonPlace = [6]int{1, 2, 3, 4, 6, 7}

// plansOf plans the days of an earlier year, as the present one's but for its stories.
func (p *people) plansOf(y *earlierYear) [][]dayPlan {
	out := make([][]dayPlan, len(p.school.Students))
	for i := range p.school.Students {
		if y.classes[i][0][0] == 0 {
			continue
		}
		r := rand.New(rand.NewPCG(seed+uint64(y.back), uint64(1000+i)))
		level := math.Exp(r.NormFloat64()*0.62) * 0.8
		shape := shapeOf(sectionOf(p.yearIn(&p.school.Students[i], y.back)))
		h := habit{ill: 0.0125 * level, unexcused: 0.0028 * level * level, late: 0.013 * level, monday: 1.3, slide: 1, skip: 0.0012 * level}
		out[i] = make([]dayPlan, len(y.days))
		illFor := 0
		for n, d := range y.days {
			out[i][n], illFor = planDay(r, h, n, d, illFor, p.school.Students[i].Travels, shape)
		}
	}
	return out
}

// writeEarlier stores an earlier year: registers, marks and movements of every day.
func (s *School) writeEarlier(ctx context.Context, tx *sqlx.Tx, y *earlierYear, accounts map[string]ids.Account, told func()) error {
	for n, d := range y.days {
		if err := s.writeDay(ctx, tx, d, y.classes, func(i int) *dayPlan { return &y.plans[i][n] }, accounts); err != nil {
			return fmt.Errorf("writing %s: %w", d, err)
		}
		told()
	}
	return nil
}
