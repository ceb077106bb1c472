package results

import (
	"cmp"
	"slices"
	"sync"

	"meldung/core/policy"
)

// Period is a grading period and the half-year that it is a part of.
type Period struct{ Name, Half string }

// DefaultPeriods returns the four quarters of a school year.
func DefaultPeriods() []Period {
	return []Period{{"Q1", "H1"}, {"Q2", "H1"}, {"Q3", "H2"}, {"Q4", "H2"}}
}

// Student is whose results are kept.
type Student struct {
	ID   string
	Year string // may be empty
}

// Book is what is on record of course results. It is filled once and then only read.
type Book struct {
	Rule     *Rule
	Periods  []Period
	Courses  []Course
	Students []Student
	records  [][]*Record // of each student
	sums     *sync.Map   // by sumKey, once the book is closed
}

type sumKey struct {
	student int
	at      Quarter
}

// Close ends the filling: what students' results come to is remembered from now on.
func (b *Book) Close() { b.sums = &sync.Map{} }

// NewBook returns a book in which nothing is written yet. Periods are in time, two to a half-year.
func NewBook(rule *Rule, periods []Period, courses []Course, students []Student) *Book {
	return &Book{Rule: rule, Periods: periods, Courses: courses, Students: students, records: make([][]*Record, len(students))}
}

// Record returns what is on record of a student in a half-year of a course, made when there is nothing yet.
func (b *Book) Record(student, course int, half Half) *Record {
	if r := b.Find(student, course, half); r != nil {
		return r
	}
	none := Mark{Place: None}
	r := &Record{Course: course, Half: half, Quarters: [2]Mark{none, none}, Exam: none}
	b.records[student] = append(b.records[student], r)
	return r
}

// Records returns what is on record of a student.
func (b *Book) Records(student int) []*Record { return b.records[student] }

// Find is Record without making one: nil where nothing is on record.
func (b *Book) Find(student, course int, half Half) *Record {
	for _, r := range slices.Backward(b.records[student]) {
		if r.Course == course && r.Half == half {
			return r
		}
	}
	return nil
}

// Only returns the book with the records that are to be kept, and nothing expected of anyone: what somebody
// may see who sees a part.
func (b *Book) Only(keep func(student int, r *Record) bool) *Book {
	out := *b
	out.sums = nil
	rule := *b.Rule
	rule.Expected = nil
	out.Rule = &rule
	out.records = make([][]*Record, len(b.records))
	for i, list := range b.records {
		for _, r := range list {
			if keep(i, r) {
				out.records[i] = append(out.records[i], r)
			}
		}
	}
	return &out
}

// InYears returns the book with every student in the year that they were in at another time, for what is
// judged as at that time. Empty is a year that nobody knows: nothing is expected of it.
func (b *Book) InYears(year func(student int) string) *Book {
	out := *b
	out.Students = slices.Clone(b.Students)
	for i := range out.Students {
		out.Students[i].Year = year(i)
	}
	out.Close()
	return &out
}

// Sums are a student's results as at a quarter.
type Sums struct {
	Standings []Standing // by half-year, then in the order of the courses

	Courses int // taken this half-year
	Failing int // grades of this quarter
	Nearly  int
	Lost    int // credits of all half-years, lost for good
	Away    int // courses of this half-year whose credit is lost or stands lost

	Earned   policy.Fraction
	Expected *policy.Fraction // nil where the school expects no figure of the student's year
	Behind   *policy.Fraction // nil with it
}

// All reports whether every course of the half-year stands lost, two at least.
func (s Sums) All() bool { return s.Courses >= 2 && s.Away == s.Courses }

// Sum returns a student's results as at a quarter.
func (b *Book) Sum(student int, at Quarter) Sums {
	if b.sums == nil {
		return b.sum(b.Students[student], b.records[student], at)
	}
	key := sumKey{student, at}
	if known, ok := b.sums.Load(key); ok {
		return known.(Sums)
	}
	out := b.sum(b.Students[student], b.records[student], at)
	b.sums.Store(key, out)
	return out
}

func (b *Book) sum(student Student, records []*Record, at Quarter) Sums {
	var out Sums
	for _, rec := range records {
		if rec.Half > at.Half() {
			continue
		}
		if s, ok := b.Rule.Stand(b.Courses[rec.Course], rec, at); ok {
			out.Standings = append(out.Standings, s)
		}
	}
	slices.SortFunc(out.Standings, func(a, b Standing) int {
		return cmp.Or(cmp.Compare(a.Record.Half, b.Record.Half), cmp.Compare(a.Record.Course, b.Record.Course))
	})
	earned := map[int]policy.Fraction{}
	for _, s := range out.Standings {
		c := b.Courses[s.Record.Course]
		if s.State.Has() {
			sum := earned[s.Record.Course].Add(c.Credits)
			if c.Max != nil && sum.Compare(*c.Max) > 0 {
				sum = *c.Max
			}
			earned[s.Record.Course] = sum
		}
		if s.State == Lost {
			out.Lost++
		}
		if s.Record.Half != at.Half() {
			continue
		}
		out.Courses++
		if s.State.Away() {
			out.Away++
		}
		if m := s.Parts[at%2]; m.Given() {
			g := b.Rule.Scale[m.Place]
			out.Failing += one(g.Failing)
			out.Nearly += one(g.Nearly)
		}
	}
	for _, credits := range earned {
		out.Earned = out.Earned.Add(credits)
	}
	if expected, ok := b.Rule.ExpectedAt(student.Year, at); ok {
		behind := policy.NewFraction(0, 1)
		if expected.Compare(out.Earned) > 0 {
			behind = expected.Minus(out.Earned)
		}
		out.Expected, out.Behind = &expected, &behind
	}
	return out
}

func one(is bool) int {
	if is {
		return 1
	}
	return 0
}
