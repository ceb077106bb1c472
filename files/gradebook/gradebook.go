// Package gradebook reads course results from a folder of CSV files and writes what they come to. It
// knows how the files are written and what can be wrong in them; what they add up to is core/results'.
package gradebook

import (
	"strconv"

	"meldung/core/policy"
	"meldung/core/results"
	"meldung/files/table"
)

// The names of the files that are read, in the order in which their problems are told.
const (
	Periods  = "periods.csv" // may be missing: four quarters
	Courses  = "courses.csv"
	Students = "students.csv"
	Grades   = "grades.csv"
	Exams    = "exams.csv"    // may be missing
	Recovery = "recovery.csv" // may be missing
)

// columns are the columns that a file must have; those of optional it may have.
var (
	columns = map[string][]string{
		Periods:  {"period", "half_year"},
		Courses:  {"course", "title", "area", "credits", "core"},
		Students: {"student", "year"},
		Grades:   {"student", "class", "course", "period", "grade"},
		Exams:    {"student", "course", "half_year", "grade"},
		Recovery: {"student", "course", "half_year", "period", "passed"},
	}
	optional = map[string][]string{Courses: {"exam_weight", "max_credits"}}
)

// Measure returns the tables students.csv and courses.csv of a book as at a quarter's end.
func Measure(b *results.Book, at results.Quarter) table.Files {
	var students, courses [][]string
	for i, s := range b.Students {
		sums := b.Sum(i, at)
		row := []string{s.ID}
		for _, n := range []int{sums.Courses, sums.Failing, sums.Nearly, sums.Lost, sums.Away} {
			row = append(row, strconv.Itoa(n))
		}
		students = append(students, append(row, exactly(&sums.Earned), exactly(sums.Expected), exactly(sums.Behind)))
		for _, st := range sums.Standings {
			courses = append(courses, courseRow(b, s.ID, st))
		}
	}
	return table.Files{
		"students.csv": table.Write([]string{"student", "courses", "failing", "nearly", "lost", "away", "credits_earned", "credits_expected", "credits_behind"}, students),
		"courses.csv":  table.Write([]string{"student", "course", "half_year", "q1", "q2", "exam", "value", "state", "needed"}, courses),
	}
}

func courseRow(b *results.Book, student string, s results.Standing) []string {
	rec := s.Record
	row := []string{student, b.Courses[rec.Course].ID, b.Periods[rec.Half.Quarter(0)].Half}
	for _, m := range s.Parts {
		row = append(row, m.Written)
	}
	value, needed := "", ""
	if s.Value != nil {
		value = s.Value.FloatString(3)
	}
	if s.State == results.Open || s.State == results.StandsLost {
		needed = "none"
		if s.Needed != results.None {
			needed = b.Rule.Scale[s.Needed].Shown()
		}
	}
	return append(row, value, string(s.State), needed)
}

// exactly writes credits without idle zeros; empty for none.
func exactly(f *policy.Fraction) string {
	if f == nil {
		return ""
	}
	text, _ := f.Decimal()
	return text
}
