// Package coursespage is the place Courses: who is not on track and what would still do it, which courses
// fail most, what a grade would change.
package coursespage

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"meldung/core/ids"
	"meldung/core/results"
	"meldung/files/sheet"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
	"meldung/work/coursework"
)

const ninthYear = "9"

// look is what a person may see of the course results.
type look struct {
	*results.Book
	v        work.Snapshot
	p        work.Person
	m        work.Moment
	at       results.Quarter
	students []int // asked for, with something in the half-year
	refs     map[int]store.Student
	group    string
	titles   []string        // of the courses, told apart by their year
	last     results.Quarter // with grades
	place    func(ids.Student) int
}

// open reads what a person may see: a teacher the courses of the own classes, of who is in them.
func open(ctx context.Context, v work.Snapshot, p work.Person, m work.Moment, ask Ask) (*look, bool, error) {
	shelf, err := coursework.Read(ctx, v, m.Date)
	if err != nil || !shelf.Any {
		return nil, false, err
	}
	l := &look{Book: shelf.Book, v: v, p: p, m: m, at: shelf.At, last: shelf.At, place: shelf.Place, refs: map[int]store.Student{}}
	if ask.Period != "" {
		i := slices.IndexFunc(shelf.Periods, func(x results.Period) bool { return x.Name == ask.Period })
		if i < 0 {
			return nil, false, work.NotFoundf("there is no grading period %q", ask.Period)
		}
		l.at = results.Quarter(i)
	}
	if l.Book, err = shelf.Then(v, m.Date, l.at); err != nil {
		return nil, false, err
	}
	ofRoster := map[string]store.Course{}
	for _, c := range v.School.Records().Rows.Courses {
		ofRoster[c.SourcedID] = c
	}
	for _, c := range shelf.Courses {
		title := work.Join(" ", c.Title, ofRoster[c.ID].Grades)
		if slices.Contains(l.titles, title) { // another course that is called the same
			title += " (" + c.ID + ")"
		}
		l.titles = append(l.titles, title)
	}
	if p.Role == work.Teacher {
		l.Book = l.Only(own(v, p, shelf, ofRoster))
	}
	group, words, err := pages.GroupOf(v, m.Scope, m.Date, ask.Group)
	if err != nil {
		return nil, false, err
	}
	if ask.Group != "" {
		l.group = words
	}
	for _, s := range group {
		i := shelf.Place(s.ID)
		if i < 0 || !slices.ContainsFunc(l.Records(i), func(r *results.Record) bool { return r.Half == l.at.Half() }) {
			continue
		}
		l.students = append(l.students, i)
		l.refs[i] = s
	}
	return l, true, nil
}

// own says which records a teacher may see: of a course that they teach the student.
func own(v work.Snapshot, p work.Person, shelf *coursework.Shelf, ofRoster map[string]store.Course) func(int, *results.Record) bool {
	taught := map[ids.Course]map[ids.Student]bool{}
	present := v.School.Records().On(v.Now.Date())
	for _, c := range present.Classes {
		if !present.Teaches(p.Staff, c.ID) {
			continue
		}
		for _, e := range present.EnrolledIn(c.ID) {
			if !e.On(v.Now.Date()) {
				continue
			}
			if taught[c.CourseID] == nil {
				taught[c.CourseID] = map[ids.Student]bool{}
			}
			taught[c.CourseID][e.StudentID] = true
		}
	}
	student := make([]ids.Student, len(shelf.Students))
	for _, s := range v.School.Students {
		if i := shelf.Place(s.ID); i >= 0 {
			student[i] = s.ID
		}
	}
	return func(i int, r *results.Record) bool {
		course, known := ofRoster[shelf.Courses[r.Course].ID]
		return known && taught[course.ID][student[i]]
	}
}

// with reads what is asked for and shows it; nothing where there are no grades.
func (ask Ask) with(ctx context.Context, o *work.Office, p work.Person, asAt string, of []ids.Section, show func(*look) error) error {
	m, err := o.Moment(asAt, of...)
	if err != nil {
		return err
	}
	return o.ReadOn(ctx, m.Date, func(v work.Snapshot) error {
		l, any, err := open(ctx, v, p, m, ask)
		if err != nil || !any {
			return err
		}
		return show(l)
	})
}

// frame is what stands around every view of the place.
func (l *look) frame() Frame {
	out := Frame{Any: true, Group: l.group, Rule: l.Rule.Title, Groups: pages.GroupChoices(l.v, l.m.Scope), Own: l.p.Role == work.Teacher,
		Period: l.Periods[l.at].Name, Half: l.Periods[l.at].Half, Periods: []pages.Choice{}, Grades: []string{}}
	for _, x := range slices.Backward(l.Periods) {
		out.Periods = append(out.Periods, pages.Choice{Value: x.Name, Label: x.Name, Kind: x.Half})
	}
	for _, g := range l.Rule.Scale {
		out.Grades = append(out.Grades, g.Shown())
	}
	return out
}

// none is the frame while there are no grades.
func none() Frame {
	return Frame{Periods: []pages.Choice{}, Groups: []pages.Choice{}, Grades: []string{}}
}

// Show shows who is not on track as at a period, of those whom a person may see, and what fails most.
func Show(ctx context.Context, o *work.Office, p work.Person, asAt string, ask Ask, of ...ids.Section) (CoursesView, error) {
	out := CoursesView{Frame: none(), Tracks: []TrackView{}, Failing: []FailingLine{}, By: cmp.Or(ask.By, "course")}
	err := ask.with(ctx, o, p, asAt, of, func(l *look) error {
		out.Frame = l.frame()
		l.tracks(&out)
		l.failing(&out)
		l.ninth(&out)
		return nil
	})
	return out, err
}

// half names the half-year of a standing.
func (l *look) half(s results.Standing) string { return l.Periods[s.Record.Half.Quarter(0)].Half }

func (l *look) name(i int) string { return l.refs[i].Family + " " + l.refs[i].Given }

func (l *look) tracks(out *CoursesView) {
	out.Of = len(l.students)
	not := l.NotOnTrack(l.students, l.at, l.name)
	out.Not = len(not)
	if l.at.InYear() > 0 {
		n := len(l.NotOnTrack(l.students, l.at-1, l.name))
		out.Before, out.Since = &n, l.Periods[l.at-1].Name
	}
	var last results.Track = -1
	for _, t := range not {
		if t.Track != last {
			out.Tracks = append(out.Tracks, TrackView{Title: titleOf(t.Track), Students: []StudentLine{}})
			last = t.Track
		}
		group := &out.Tracks[len(out.Tracks)-1]
		group.Students = append(group.Students, l.line(t))
	}
}

func titleOf(t results.Track) string {
	numbers := []string{"", "One course", "Two courses", "Three courses", "Four courses", "Five courses"}
	switch {
	case t == results.Everything:
		return "Failing everything"
	case t == results.Behind:
		return "None away, and behind in credits"
	case int(t) < len(numbers):
		return numbers[t] + " away"
	}
	return fmt.Sprintf("%d courses away", t)
}

func (l *look) line(t results.Tracked) StudentLine {
	s := l.refs[t.Student]
	out := StudentLine{Student: pages.Student(l.v, s, l.m.Date), Courses: []CourseStrip{}, Still: []StillLine{}, Lost: []string{}}
	for _, st := range t.Sums.Standings {
		c := l.Courses[st.Record.Course]
		if st.State == results.Lost {
			out.Lost = append(out.Lost, c.Title+", "+l.half(st))
		}
		if st.Record.Half != l.at.Half() {
			continue
		}
		out.Courses = append(out.Courses, l.strip(st))
		if st.State.Away() {
			words := l.Still(st)
			if words == "" {
				words = "lost"
			}
			out.Still = append(out.Still, StillLine{c.Title, words})
		}
	}
	if b := t.Sums.Behind; b != nil {
		text, _ := b.Decimal()
		out.Behind = map[bool]string{true: "on pace", false: text + " behind"}[b.Sign() == 0]
	}
	// What it is about comes first.
	slices.SortStableFunc(out.Courses, func(a, b CourseStrip) int { return rank(a) - rank(b) })
	return out
}

// rank puts courses that stand lost before those of which a grade fails or nearly does, and these before
// the others.
func rank(c CourseStrip) int {
	switch {
	case results.State(c.State).Away():
		return 0
	case slices.ContainsFunc(c.Parts, func(m PartMark) bool { return m.Failing || m.Nearly }):
		return 1
	}
	return 2
}

func (l *look) strip(st results.Standing) CourseStrip {
	c := l.Courses[st.Record.Course]
	out := CourseStrip{Course: st.Record.Course, Title: c.Title, Short: shortOf(c.Title), State: string(st.State), Parts: []PartMark{}}
	for part, m := range st.Parts {
		if results.Part(part) == results.Examination && !c.HasExam() {
			continue
		}
		one := PartMark{Part: part, Name: "examination", Grade: m.Written}
		if part < 2 {
			one.Name = l.Periods[st.Record.Half.Quarter(part)].Name
		}
		if m.Given() {
			g := l.Rule.Scale[m.Place]
			one.Failing, one.Nearly = g.Failing, g.Nearly
		}
		out.Parts = append(out.Parts, one)
	}
	return out
}

// shortOf is a title in two letters: the first of its first two words, or of its only one.
func shortOf(title string) string {
	if words := strings.Fields(title); len(words) > 1 {
		return strings.ToUpper(string([]rune(words[0])[:1]) + string([]rune(words[1])[:1]))
	}
	r := []rune(title)
	return string(r[:min(2, len(r))])
}

func (l *look) failing(out *CoursesView) {
	key := l.grouping(out.By)
	now := l.Counts(l.students, l.at, key)
	before := map[string]results.Count{}
	if l.at.InYear() > 0 {
		before = l.Counts(l.students, l.at-1, key)
	}
	for name, c := range now {
		one := FailingLine{Name: name, Failing: c.Failing, Nearly: c.Nearly, Of: c.Of}
		if b, known := before[name]; known {
			change := c.Failing - b.Failing
			one.Change = &change
		}
		out.Failing = append(out.Failing, one)
	}
	slices.SortFunc(out.Failing, func(a, b FailingLine) int {
		return cmp.Or(cmp.Compare(b.Failing*a.Of, a.Failing*b.Of), cmp.Compare(b.Nearly*a.Of, a.Nearly*b.Of), strings.Compare(a.Name, b.Name))
	})
}

// classes are the classes in which a student takes a course: as the files say, or by the roster.
func (l *look) classes(i int, r *results.Record) []string {
	if c := r.Class[l.at%2]; c != "" {
		return []string{c}
	}
	for _, e := range l.v.School.EnrollmentsOf(l.refs[i].ID) {
		class, ok := l.v.School.Class(e.ClassID)
		if ok && e.On(l.m.Date) && l.v.School.CourseOf(class.CourseID).SourcedID == l.Courses[r.Course].ID {
			return []string{class.Title}
		}
	}
	return nil
}

func (l *look) ninth(out *CoursesView) {
	if l.p.Role == work.Teacher {
		return // the rule needs every course
	}
	n := NinthView{Not: []NinthStudent{}}
	for _, i := range l.students {
		if l.Students[i].Year != ninthYear {
			continue
		}
		n.Of++
		rule := l.NinthYear(i, l.at)
		if rule.OnTrack {
			n.OnTrack++
			continue
		}
		n.Not = append(n.Not, NinthStudent{Student: pages.Student(l.v, l.refs[i], l.m.Date), Words: ninthWords(rule)})
	}
	slices.SortFunc(n.Not, func(a, b NinthStudent) int { return strings.Compare(a.Student.Sorted, b.Student.Sorted) })
	if n.Of > 0 {
		n.Source = "five full credits in the year, and no more than one half-year of a core course failed: Allensworth and Easton 2005, from memory"
		out.Ninth = &n
	}
}

// keepTracks writes who is not on track as a file.
func keepTracks(ctx context.Context, o *work.Office, p work.Person, asAt string, ask Ask, format string, of ...ids.Section) (pages.File, error) {
	v, err := Show(ctx, o, p, asAt, ask, of...)
	if err != nil {
		return pages.File{}, err
	}
	list := sheet.List{Title: "Not on track", About: about(p, v.Period, v.Half, v.Group),
		Columns: []sheet.Column{{Heading: "Where", Width: 24}, {Heading: "Student", Width: 26}, {Heading: "Number", Width: 10}, {Heading: "Form", Width: 14}, {Heading: "Credits", Width: 14}, {Heading: "Grades", Width: 60}, {Heading: "What would still do it", Width: 60}, {Heading: "Credit lost in", Width: 40}}}
	for _, t := range v.Tracks {
		for _, s := range t.Students {
			var grades, still []string
			for _, c := range s.Courses {
				one := c.Title
				for _, m := range c.Parts {
					one += " " + cmp.Or(m.Grade, "–")
				}
				grades = append(grades, one)
			}
			for _, x := range s.Still {
				still = append(still, x.Course+": "+x.Words)
			}
			list.Rows = append(list.Rows, []string{t.Title, s.Student.Name, s.Student.Number, s.Student.Form, s.Behind, strings.Join(grades, "; "), strings.Join(still, "; "), strings.Join(s.Lost, "; ")})
		}
	}
	return pages.ListFile("not-on-track-"+pages.Slug(v.Period), list, format)
}

// Keep writes a view of the place as a file: tables, credits, or who is not on track.
func Keep(ctx context.Context, o *work.Office, p work.Person, asAt, view string, ask Ask, format string, of ...ids.Section) (pages.File, error) {
	switch view {
	case "tables":
		return keepTables(ctx, o, p, asAt, ask, format, of...)
	case "credits":
		return keepCredits(ctx, o, p, asAt, ask, format, of...)
	}
	return keepTracks(ctx, o, p, asAt, ask, format, of...)
}
