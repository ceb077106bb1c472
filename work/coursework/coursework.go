// Package coursework keeps course results: what courses count for, grades, examinations and recovery
// courses, by version, and the rule by which they become credits.
package coursework

import (
	"context"
	"fmt"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/policy"
	"meldung/core/results"
	"meldung/files/gradebook"
	"meldung/held"
	"meldung/store"
	"meldung/work"
)

// Shelf is the school's course results as they stood on a date.
type Shelf struct {
	*results.Book
	Graded []store.GradedCourse // as the book's courses
	At     results.Quarter      // the last in which there is a grade
	Any    bool                 // there is one

	of    map[ids.Student]int
	given map[store.ResultKey]day.Date
}

// tables are those that a shelf is made of.
var tables = []string{"student", "student_detail", "result", "result_rule", "result_period", "graded_course"}

// Read returns the course results as they stood at the end of a date. They are kept until something of
// them changes.
func Read(ctx context.Context, v work.Snapshot, d day.Date) (*Shelf, error) {
	return work.Remember(v, fmt.Sprint("course results ", d), tables, func() (*Shelf, error) { return read(ctx, v, d) })
}

// Rule returns the school's rule; the usual one where it has none.
func Rule(ctx context.Context, q store.Queryer) (*results.Rule, string, error) {
	text, err := store.ResultRule(ctx, q)
	if err != nil || text == "" {
		return results.DefaultRule(), "", err
	}
	rule, err := gradebook.ParseRule([]byte(text))
	return rule, text, err
}

func read(ctx context.Context, v work.Snapshot, d day.Date) (*Shelf, error) {
	f, err := bare(ctx, v)
	if err != nil {
		return nil, err
	}
	all, err := store.Results(ctx, v.Store(), d)
	if err != nil {
		return nil, err
	}
	for _, r := range all {
		f.put(r)
	}
	f.shelf.Close()
	return f.shelf, nil
}

// filling is a shelf that is being filled.
type filling struct {
	shelf    *Shelf
	quarters map[string]results.Quarter
	halves   map[string]results.Half
	place    map[ids.GradedCourse]int
}

// bare returns a shelf with courses, periods and students, and no results.
func bare(ctx context.Context, v work.Snapshot) (*filling, error) {
	q := v.Store()
	rule, _, err := Rule(ctx, q)
	if err != nil {
		return nil, err
	}
	f := &filling{shelf: &Shelf{of: map[ids.Student]int{}, given: map[store.ResultKey]day.Date{}}, quarters: map[string]results.Quarter{}, halves: map[string]results.Half{}, place: map[ids.GradedCourse]int{}}
	if f.shelf.Graded, err = store.GradedCourses(ctx, q); err != nil {
		return nil, err
	}
	rows, err := store.ResultPeriods(ctx, q)
	if err != nil {
		return nil, err
	}
	var periods []results.Period
	for i, p := range rows {
		f.quarters[p.Name] = results.Quarter(i)
		f.halves[p.Half] = results.Quarter(i).Half()
		periods = append(periods, results.Period{Name: p.Name, Half: p.Half})
	}
	var courses []results.Course
	for i, c := range f.shelf.Graded {
		one, err := courseOf(c)
		if err != nil {
			return nil, err
		}
		f.place[c.ID] = i
		courses = append(courses, one)
	}
	var students []results.Student
	for i, st := range v.School.Students {
		f.shelf.of[st.ID] = i
		students = append(students, results.Student{ID: st.SourcedID, Year: st.Year})
	}
	f.shelf.Book = results.NewBook(rule, periods, courses, students)
	return f, nil
}

// put writes a result into the book. What the rule of today can't read is no grade: it stays stored.
func (f *filling) put(r store.Result) {
	s := f.shelf
	student, known := s.of[r.StudentID]
	if !known {
		return
	}
	course := f.place[r.CourseID]
	s.given[r.Key()] = r.Date
	mark, err := s.Rule.Read(r.Value)
	if err != nil {
		mark = results.Mark{Written: r.Value, Place: results.None}
	}
	switch r.Kind {
	case store.GradeResult:
		q := f.quarters[r.Period]
		rec := s.Record(student, course, q.Half())
		rec.Set(results.Part(q%2), mark)
		rec.Class[q%2] = r.Class
		if mark.Given() {
			s.At, s.Any = max(s.At, q), true
		}
	case store.ExamResult:
		s.Record(student, course, f.halves[r.Period]).Exam = mark
	case store.RecoveryResult:
		rec := s.Record(student, course, f.halves[r.Period])
		rec.Recoveries = append(rec.Recoveries, results.Recovery{When: f.quarters[r.At], Known: r.Value != "", Passed: r.Value == "true"})
	}
}

func courseOf(c store.GradedCourse) (results.Course, error) {
	out := results.Course{ID: c.Key, Title: c.Title, Area: c.Area, Core: c.Core}
	var err error
	if out.Credits, err = policy.ParseDecimal(c.Credits); err != nil {
		return out, fmt.Errorf("credits of %s: %w", c.Key, err)
	}
	if c.ExamWeight != "" {
		if out.ExamWeight, err = policy.ParseFraction(c.ExamWeight); err != nil {
			return out, fmt.Errorf("exam_weight of %s: %w", c.Key, err)
		}
	}
	if c.MaxCredits != "" {
		most, err := policy.ParseDecimal(c.MaxCredits)
		if err != nil {
			return out, fmt.Errorf("max_credits of %s: %w", c.Key, err)
		}
		out.Max = &most
	}
	return out, nil
}

// Then returns the book as at a period of an earlier school year: each student is in the year of then.
// Where the school has no school year on record for it, nobody knows the years.
func (s *Shelf) Then(v work.Snapshot, d day.Date, at results.Quarter) (*results.Book, error) {
	back := int(s.At/4) - int(at/4)
	if back <= 0 {
		return s.Book, nil
	}
	return work.Remember(v, fmt.Sprint("course results ", d, " years back ", back), tables, func() (*results.Book, error) {
		began := map[ids.Section][]store.SchoolYear{}
		for _, y := range v.School.Records().Rows.Years {
			if y.First <= d {
				began[y.SectionID] = append(began[y.SectionID], y)
			}
		}
		then := map[ids.Section]*held.School{}
		for section, years := range began {
			if n := len(years) - 1 - back; n >= 0 {
				then[section] = v.School.Records().On(years[n].Last)
			}
		}
		students := v.School.Students
		return s.InYears(func(i int) string {
			school, known := then[students[i].Section]
			if !known {
				return ""
			}
			return school.StudentOf(students[i].ID).Year
		}), nil
	})
}

// Place returns a student's place in the book; −1 for none.
func (s *Shelf) Place(student ids.Student) int {
	if i, ok := s.of[student]; ok {
		return i
	}
	return -1
}

// Given returns the date on which a grade of a quarter was stored.
func (s *Shelf) Given(student ids.Student, course int, q results.Quarter) day.Date {
	return s.given[store.ResultKey{Kind: store.GradeResult, Student: student, Course: s.Graded[course].ID, Period: s.Periods[q].Name}]
}
