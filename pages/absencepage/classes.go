package absencepage

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"meldung/core/absence"
	"meldung/core/ids"
	core "meldung/core/steps"
	"meldung/files/sheet"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
	"meldung/work/steps"
)

// ClassLine is a student in a class: lessons of this class alone.
type ClassLine struct {
	Student   pages.StudentRef `json:"student"`
	Lessons   int              `json:"lessons" doc:"With a mark"`
	Excused   int              `json:"excused"`
	Unexcused int              `json:"unexcused"`
	Unknown   int              `json:"unknown" doc:"Nobody has said why yet"`
	Exempt    int              `json:"exempt" doc:"Nothing was required; in no other count"`
	Absent    int              `json:"absent"`
	Lates     int              `json:"lates" doc:"In the present grading period"`
	Grading   string           `json:"grading" doc:"Attendance for grading, by the school's own rule; empty where there is none"`
	Due       string           `json:"due" doc:"What is due now about lates in this class; empty for nothing"`
}

// ClassReport is a class with what its students missed of it.
type ClassReport struct {
	Class ids.Class   `json:"class"`
	Title string      `json:"title"`
	Lines []ClassLine `json:"lines"`
	Sum   ClassLine   `json:"sum" doc:"What the students come to together"`
}

// ClassesView is a teacher's own classes, or those that whoever takes any register asks for.
type ClassesView struct {
	Choices []pages.Choice `json:"choices" doc:"The classes that can be asked for"`
	Label   string         `json:"label" doc:"The dates in words"`
	Period  string         `json:"period" doc:"The grading period of which lates are counted"`
	Classes []ClassReport  `json:"classes"`
	Grading string         `json:"grading" doc:"What attendance for grading is in: %, points; empty where it is off"`
}

// ShowClasses shows how the lessons of a person's own classes went: of one, or of all of them.
func ShowClasses(ctx context.Context, o *work.Office, p work.Person, asAt string, class ids.Class, a pages.AbsenceAsk) (ClassesView, error) {
	out := ClassesView{Choices: []pages.Choice{}, Classes: []ClassReport{}}
	m, err := o.Moment(asAt)
	if err != nil {
		return out, err
	}
	err = o.ReadOn(ctx, m.Date, func(v work.Snapshot) error {
		var own []store.Class
		for _, c := range v.School.Classes {
			if !c.Ended && (v.School.Teaches(p.Staff, c.ID) || class == c.ID && p.May(work.MaySeeAbsence)) {
				own = append(own, c)
				out.Choices = append(out.Choices, pages.Choice{Value: fmt.Sprint(c.ID), Label: c.Title, Kind: map[bool]string{true: "form", false: "class"}[c.Form()]})
			}
		}
		if class != 0 && !slices.ContainsFunc(own, func(c store.Class) bool { return c.ID == class }) {
			return work.Refusedf("that is none of your classes")
		}
		for _, c := range own {
			if class != 0 && c.ID != class {
				continue
			}
			report, err := out.report(ctx, v, m, c, a)
			if err != nil {
				return err
			}
			out.Classes = append(out.Classes, report)
		}
		return nil
	})
	return out, err
}

// report counts the lessons of one class.
func (out *ClassesView) report(ctx context.Context, v work.Snapshot, m work.Moment, c store.Class, a pages.AbsenceAsk) (ClassReport, error) {
	report := ClassReport{Class: c.ID, Title: c.Title, Lines: []ClassLine{}}
	section := v.OfClass(c.ID)
	measure, err := section.Measure(work.UsualPolicy)
	if err != nil {
		return report, err
	}
	part := part{Section: section, measure: measure}
	if part.span, err = pages.SpanOf(section, m, a); err != nil {
		return report, err
	}
	if part.students, _, err = pages.GroupOf(v, work.Scope{section.ID}, m.Date, fmt.Sprint("class:", c.ID)); err != nil {
		return report, err
	}
	for _, s := range part.students {
		part.places = append(part.places, part.Place(s.ID))
	}
	if err := part.lessonsOf(v, c); err != nil {
		return report, err
	}
	out.Label, out.Grading = part.span.Sentence, cmp.Or(out.Grading, gradedIn(section))
	period, name := periodOf(section, part.span.To)
	out.Period = name
	due, err := dueIn(ctx, section, m, part.students, c.Title)
	if err != nil {
		return report, err
	}
	var sum absence.Lessons
	lates := 0
	for i, s := range part.students {
		l := part.measure.Lessons(part.places[i], part.span.Span)
		line := classLine(l, part.measure.Lessons(part.places[i], period).Lates)
		line.Grading = grade(section, absence.Counts{Possible: l.Marked - l.Exempt, Excused: l.Excused, Unexcused: l.Unexcused + l.Unknown, Lates: l.Lates})
		line.Student, line.Due = pages.Student(v, s, m.Date), due[s.ID]
		report.Lines = append(report.Lines, line)
		sum, lates = sum.Plus(l), lates+line.Lates
	}
	slices.SortStableFunc(report.Lines, func(a, b ClassLine) int { return cmp.Compare(a.Student.Sorted, b.Student.Sorted) })
	report.Sum = classLine(sum, lates)
	return report, nil
}

func classLine(l absence.Lessons, lates int) ClassLine {
	return ClassLine{Lessons: l.Marked, Excused: l.Excused, Unexcused: l.Unexcused, Unknown: l.Unknown, Exempt: l.Exempt, Absent: l.Absent(), Lates: lates}
}

// periodOf returns the days of the grading period of an open day, up to it.
func periodOf(s work.Section, d int) (absence.Span, string) {
	if d < 0 {
		return absence.Span{From: 0, To: -1}, ""
	}
	name := s.Calendar.Day(d).GradingPeriod
	first := d
	for first > 0 && s.Calendar.Day(first-1).GradingPeriod == name {
		first--
	}
	return absence.Span{From: first, To: d}, name
}

// dueIn says what is due now about each student's lates in a class.
func dueIn(ctx context.Context, s work.Section, m work.Moment, students []store.Student, class string) (map[ids.Student]string, error) {
	items, err := steps.Of(ctx, s, m, students)
	if err != nil {
		return nil, err
	}
	out := map[ids.Student]string{}
	for _, i := range items {
		if i.State == core.Due && !i.Early && i.Rule().Scope == class {
			out[i.Student.ID] = work.Join("; ", out[i.Student.ID], i.Title())
		}
	}
	return out, nil
}

// KeepClasses writes the classes as a file.
func KeepClasses(ctx context.Context, o *work.Office, p work.Person, asAt string, class ids.Class, a pages.AbsenceAsk, format string) (pages.File, error) {
	v, err := ShowClasses(ctx, o, p, asAt, class, a)
	if err != nil {
		return pages.File{}, err
	}
	number := func(heading string) sheet.Column { return sheet.Column{Heading: heading, Width: 12, Number: true} }
	list := sheet.List{Title: "Classes", About: []string{v.Label, "Lessons of each class alone", private}, Columns: []sheet.Column{{Heading: "Class", Width: 14}, {Heading: "Student", Width: 26}, {Heading: "Number", Width: 10}, {Heading: "Form", Width: 14},
		number("Lessons"), number("Absent, excused"), number("Absent, unexcused"), number("Absent, no reason yet"), number("Exempt"), number("Absent in all"), number(work.Join(", ", "Lates", v.Period)), {Heading: "Due now", Width: 40}}}
	if v.Grading != "" {
		list.Columns = append(list.Columns, gradingColumn(v.Grading))
	}
	for _, c := range v.Classes {
		for _, l := range c.Lines {
			row := []string{c.Title, l.Student.Name, l.Student.Number, l.Student.Form, fmt.Sprint(l.Lessons), fmt.Sprint(l.Excused), fmt.Sprint(l.Unexcused), fmt.Sprint(l.Unknown), fmt.Sprint(l.Exempt), fmt.Sprint(l.Absent), fmt.Sprint(l.Lates), l.Due}
			if v.Grading != "" {
				row = append(row, l.Grading)
			}
			list.Rows = append(list.Rows, row)
		}
	}
	return pages.ListFile("classes-"+titleOf(v), list, format)
}

// titleOf names the class, or all of them, for a file.
func titleOf(v ClassesView) string {
	if len(v.Classes) == 1 {
		return pages.Slug(v.Classes[0].Title)
	}
	return "all"
}
