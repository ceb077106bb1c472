package results

import (
	"cmp"
	"fmt"
	"math/big"
	"slices"
	"strings"

	"meldung/core/policy"
)

// Track is where a student stands on the list of those who are not on track.
type Track int

// The tracks that are no number of courses away. From 1 on, a track is so many courses away.
const (
	OnTrack    Track = 0
	Behind     Track = 1 << 20 // none away, and behind in credits
	Everything Track = 1 << 21 // every course stands lost, two at least
)

// Track returns where the sums stand.
func (s Sums) Track() Track {
	switch {
	case s.All():
		return Everything
	case s.Away > 0:
		return Track(s.Away)
	case s.Behind != nil && s.Behind.Sign() > 0:
		return Behind
	}
	return OnTrack
}

// Tracked is a student who is not on track.
type Tracked struct {
	Student int // among the book's
	Track   Track
	Sums    Sums
}

// NotOnTrack returns those of some students who are not on track: one course away first, since that is
// worth the effort first, then two and so on, then none away but behind, then those who fail everything;
// among equals the fewest credits behind, who has no figure after those, then by name.
func (b *Book) NotOnTrack(students []int, at Quarter, name func(student int) string) []Tracked {
	var out []Tracked
	for _, s := range students {
		sums := b.Sum(s, at)
		if t := sums.Track(); t != OnTrack {
			out = append(out, Tracked{s, t, sums})
		}
	}
	slices.SortStableFunc(out, func(x, y Tracked) int {
		return cmp.Or(cmp.Compare(x.Track, y.Track), fewest(x.Sums.Behind, y.Sums.Behind), strings.Compare(name(x.Student), name(y.Student)), cmp.Compare(b.Students[x.Student].ID, b.Students[y.Student].ID))
	})
	return out
}

// fewest compares credits behind; no figure comes last.
func fewest(x, y *policy.Fraction) int {
	switch {
	case x == nil || y == nil:
		return cmp.Compare(map[bool]int{false: 0, true: 1}[x == nil], map[bool]int{false: 0, true: 1}[y == nil])
	default:
		return x.Compare(*y)
	}
}

// Still says in words what would still earn the credit of a half-year that is open: "a D in Q4", "a C in Q3,
// Q4 and the examination"; "no grade any more" where none does. It is empty for what is not open.
func (b *Book) Still(s Standing) string {
	if s.State != Open && s.State != StandsLost {
		return ""
	}
	if s.Needed == None {
		return "no grade any more"
	}
	return b.atLeast(s, s.Needed)
}

// atLeast names a grade in what is missing of a half-year: "a D in Q4"; of the lowest, "any grade in Q4".
func (b *Book) atLeast(s Standing, place int) string {
	if place == len(b.Rule.Scale)-1 {
		return "any grade in " + b.parts(s)
	}
	grade := b.Rule.Scale[place].Shown()
	return fmt.Sprintf("%s %s in %s", article(grade), grade, b.parts(s))
}

// Explain says how a half-year's value comes about: "(0 + 1) ÷ 2 = 0.5, the line is 0.5: earned". It is
// empty while a part is missing.
func (r *Rule) Explain(c Course, s Standing) string {
	if s.Value == nil {
		return ""
	}
	of := func(p Part) string { return Decimal(r.points(s.Parts[p])) }
	words := fmt.Sprintf("(%s + %s) ÷ 2", of(FirstQuarter), of(SecondQuarter))
	if c.HasExam() {
		w := c.ExamWeight.Rat()
		words = fmt.Sprintf("%s × %s + %s × %s", Decimal(new(big.Rat).Sub(big.NewRat(1, 1), w)), words, Decimal(w), of(Examination))
	}
	verdict := map[bool]string{true: "earned", false: "lost"}[r.earns(s.Value)]
	return fmt.Sprintf("%s = %s, the line is %s: %s", words, Decimal(s.Value), Decimal(r.Line.Rat()), verdict)
}

// Decimal writes a number with three decimals at most, half up, without idle zeros.
func Decimal(x *big.Rat) string {
	s := strings.TrimRight(x.FloatString(3), "0")
	return strings.TrimSuffix(s, ".")
}

// article returns "an" before what is spoken with a vowel first: an A, an F, an 80.
func article(grade string) string {
	if grade != "" && strings.ContainsRune("AEFHILMNORSX8", rune(grade[0])) {
		return "an"
	}
	return "a"
}

// WhatIf returns a student's results as if a part of a half-year had a grade. The book stays as it is.
func (b *Book) WhatIf(student int, at Quarter, course int, half Half, part Part, m Mark) Sums {
	records := slices.Clone(b.records[student])
	none := Mark{Place: None}
	next := &Record{Course: course, Half: half, Quarters: [2]Mark{none, none}, Exam: none}
	if i := slices.IndexFunc(records, func(r *Record) bool { return r.Course == course && r.Half == half }); i >= 0 {
		copied := *records[i]
		next = &copied
		records[i] = next
	} else {
		records = append(records, next)
	}
	next.Set(part, m)
	return b.sum(b.Students[student], records, at)
}

// Set gives a part of a half-year a grade.
func (r *Record) Set(part Part, m Mark) {
	if part == Examination {
		r.Exam = m
		return
	}
	r.Taken[part], r.Quarters[part] = true, m
}

// Count is how many grades of a quarter fail, and nearly.
type Count struct {
	Failing int
	Nearly  int
	Of      int // grades given
}

// Graded is a grade of a quarter, with whose it is.
type Graded struct {
	Student int
	Record  *Record
	Grade   Grade
}

// Graded returns the grades of some students in a quarter. Who has withdrawn has none.
func (b *Book) Graded(students []int, at Quarter) []Graded {
	var out []Graded
	for _, s := range students {
		for _, r := range b.records[s] {
			if r.Half != at.Half() {
				continue
			}
			if m := r.Quarters[at%2]; r.Taken[at%2] && m.Given() && !r.withdrawn(at) {
				out = append(out, Graded{s, r, b.Rule.Scale[m.Place]})
			}
		}
	}
	return out
}

// Counts counts the grades of a quarter by what each belongs to: a course, a class, an area, a year. A
// grade may belong to nothing, or to several.
func (b *Book) Counts(students []int, at Quarter, of func(student int, r *Record) []string) map[string]Count {
	out := map[string]Count{}
	for _, g := range b.Graded(students, at) {
		for _, key := range of(g.Student, g.Record) {
			c := out[key]
			c.Failing += one(g.Grade.Failing)
			c.Nearly += one(g.Grade.Nearly)
			c.Of++
			out[key] = c
		}
	}
	return out
}

// Credit is a half-year's credit, with whose it is.
type Credit struct {
	Student  int
	Standing Standing
}

// Halves returns the credits of some students in a half-year, as at a quarter.
func (b *Book) Halves(students []int, half Half, at Quarter) []Credit {
	var out []Credit
	for _, s := range students {
		for _, st := range b.Sum(s, at).Standings {
			if st.Record.Half == half {
				out = append(out, Credit{s, st})
			}
		}
	}
	return out
}

// CreditCount is how many credits of a half-year are lost, and how many stand lost.
type CreditCount struct {
	Lost   int
	Stands int
	Of     int
}

// CreditCounts counts the credits of a half-year by what each belongs to, like Counts.
func (b *Book) CreditCounts(students []int, half Half, at Quarter, of func(student int, r *Record) []string) map[string]CreditCount {
	out := map[string]CreditCount{}
	for _, x := range b.Halves(students, half, at) {
		for _, key := range of(x.Student, x.Standing.Record) {
			c := out[key]
			c.Lost += one(x.Standing.State == Lost)
			c.Stands += one(x.Standing.State == StandsLost)
			c.Of++
			out[key] = c
		}
	}
	return out
}

// Mean returns the mean points of a student's grades of a quarter; ok is false where there is none.
func (b *Book) Mean(student int, at Quarter) (mean policy.Fraction, ok bool) {
	sum, n := policy.NewFraction(0, 1), int64(0)
	for _, g := range b.Graded([]int{student}, at) {
		sum = sum.Add(g.Grade.Points)
		n++
	}
	if n == 0 {
		return sum, false
	}
	return sum.Scaled(1, n), true
}

// The ninth-year rule: Allensworth and Easton, The On-Track Indicator as a Predictor of High School
// Graduation, Consortium on Chicago School Research 2005; from memory.
const (
	ninthYearCredits = 5 // full credits by the end of the year
	ninthYearFailed  = 1 // half-years of core courses failed, at most
)

// Ninth is a student of the ninth year by that rule.
type Ninth struct {
	OnTrack bool
	Earned  policy.Fraction // credits of this school year
	Needed  policy.Fraction // by the half-years that are over
	Failed  int             // half-years of core courses whose credit is lost, or was before it was recovered
}

// NinthYear judges a school year up to a quarter: the pace of five credits by the half-years whose second
// quarter is in, and no more than one half-year of a core course failed. A credit that was recovered counts
// as earned, and the half-year as failed.
func (b *Book) NinthYear(student int, at Quarter) Ninth {
	out := Ninth{Needed: policy.NewFraction(ninthYearCredits*int64((at.InYear()+1)/2), 2)}
	for _, s := range b.Sum(student, at).Standings {
		if int(s.Record.Half)/2 != int(at.Half())/2 {
			continue
		}
		c := b.Courses[s.Record.Course]
		if s.State.Has() {
			out.Earned = out.Earned.Add(c.Credits)
		}
		failed := s.State == Lost || s.State == Recovered && s.Value != nil
		if c.Core && failed {
			out.Failed++
		}
	}
	out.OnTrack = out.Earned.Compare(out.Needed) >= 0 && out.Failed <= ninthYearFailed
	return out
}
