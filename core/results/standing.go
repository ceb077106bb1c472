package results

import (
	"math/big"
	"sort"

	"meldung/core/policy"
)

// Quarter is a grading period by its place in time, from 0. Two are a half-year, four a school year.
type Quarter int

// Half is a half-year by its place in time, from 0.
type Half int

// Half returns the half-year of a quarter.
func (q Quarter) Half() Half { return Half(q / 2) }

// First reports whether it is the first quarter of its half-year.
func (q Quarter) First() bool { return q%2 == 0 }

// InYear returns the place of the quarter in its school year, 0 to 3.
func (q Quarter) InYear() int { return int(q % 4) }

// Quarter returns the first or second quarter of a half-year, by 0 or 1.
func (h Half) Quarter(n int) Quarter { return Quarter(int(h)*2 + n) }

// None is the place of what is no grade.
const None = -1

// Mark is a grade as it was given; the zero place is the best grade, so one that is not given has None.
type Mark struct {
	Written   string
	Place     int // on the scale, or None
	Withdrawn bool
}

// Given reports whether there is a grade.
func (m Mark) Given() bool { return m.Place != None }

// Course is what is taught, with what it counts for.
type Course struct {
	ID         string
	Title      string
	Area       string
	Credits    policy.Fraction // of a half-year
	Core       bool
	ExamWeight policy.Fraction  // of a half-year's examination; 0 for none
	Max        *policy.Fraction // the most that its half-years give together; nil for no limit
}

// HasExam reports whether a half-year of the course ends in an examination.
func (c Course) HasExam() bool { return c.ExamWeight.Sign() > 0 }

// Recovery is a course in which lost credit can be regained.
type Recovery struct {
	When   Quarter
	Known  bool // how it ended
	Passed bool
}

// Record is what is on record of a student in a half-year of a course.
type Record struct {
	Course     int // among the book's
	Half       Half
	Quarters   [2]Mark
	Taken      [2]bool // the quarter has a row, with a grade or without one
	Class      [2]string
	Exam       Mark
	Recoveries []Recovery
}

// State is how a half-year's credit stands.
type State string

// The states, in the order in which the first that fits is taken.
const (
	Earned     State = "earned"
	Recovered  State = "recovered"
	Lost       State = "lost"
	StandsLost State = "stands_lost" // what is missing, taken at the mean so far, would lose it
	Open       State = "open"
)

// Has reports whether the credit is had.
func (s State) Has() bool { return s == Earned || s == Recovered }

// Away reports whether the credit is lost or stands lost.
func (s State) Away() bool { return s == Lost || s == StandsLost }

// Part is a part of a half-year's value.
type Part int

// The parts of a half-year.
const (
	FirstQuarter Part = iota
	SecondQuarter
	Examination
)

// Standing is a half-year of a course as at a quarter.
type Standing struct {
	Record  *Record
	Parts   [3]Mark  // what is read as at the quarter: both quarters, the examination
	Value   *big.Rat // in points, exact; nil while a part is missing
	State   State
	Missing []Part
	Needed  int // the place of the least grade that, in every missing part, still earns the credit; None where none does
}

// Stand says how a half-year stands as at a quarter's end: what is later is not read. ok is false where
// nothing of it is on record by then, and where the student has withdrawn from it.
func (r *Rule) Stand(c Course, rec *Record, at Quarter) (s Standing, ok bool) {
	s = Standing{Record: rec, Parts: [3]Mark{{Place: None}, {Place: None}, {Place: None}}, Needed: None}
	taken := false
	for n := range 2 {
		if rec.Taken[n] && rec.Half.Quarter(n) <= at {
			s.Parts[n], taken = rec.Quarters[n], true
		}
	}
	if !taken || rec.withdrawn(at) {
		return s, false
	}
	if c.HasExam() && rec.Half.Quarter(1) <= at {
		s.Parts[Examination] = rec.Exam
	}
	for part := FirstQuarter; part <= Examination; part++ {
		if part == Examination && !c.HasExam() {
			continue
		}
		if !s.Parts[part].Given() {
			s.Missing = append(s.Missing, part)
		}
	}
	s.State = r.state(c, &s, at)
	return s, true
}

// withdrawn reports whether the student has left the half-year of the course by the end of a quarter.
func (r *Record) withdrawn(at Quarter) bool {
	for n := range 2 {
		if r.Taken[n] && r.Half.Quarter(n) <= at && r.Quarters[n].Withdrawn {
			return true
		}
	}
	return false
}

func (r *Rule) state(c Course, s *Standing, at Quarter) State {
	if len(s.Missing) == 0 {
		s.Value = r.value(c, s.Parts)
		if r.earns(s.Value) {
			return Earned
		}
	}
	for _, x := range s.Record.Recoveries {
		if x.When <= at && x.Known && x.Passed {
			return Recovered
		}
	}
	if len(s.Missing) == 0 || s.Record.Half < at.Half() {
		return Lost
	}
	s.Needed = r.least(c, s)
	if mean, any := r.mean(s.Parts); any && !r.earns(r.valueWith(c, s.Parts, mean)) {
		return StandsLost
	}
	return Open
}

// least returns the place of the least grade that, in every missing part, earns the credit; None where none does.
func (r *Rule) least(c Course, s *Standing) int {
	// Points never rise along the scale: from some place on, no grade does.
	return sort.Search(len(r.Scale), func(place int) bool { return !r.earns(r.value(c, s.filled(place))) }) - 1
}

// filled returns the parts with one grade in every missing one.
func (s *Standing) filled(place int) [3]Mark {
	parts := s.Parts
	for _, m := range s.Missing {
		parts[m] = Mark{Place: place}
	}
	return parts
}

func (r *Rule) earns(value *big.Rat) bool { return value.Cmp(r.Line.Rat()) >= 0 }

func (r *Rule) points(m Mark) *big.Rat { return r.Scale[m.Place].Points.Rat() }

// value returns (1 − w)·(q1 + q2)/2 + w·x; every part that counts is there.
func (r *Rule) value(c Course, parts [3]Mark) *big.Rat { return r.valueWith(c, parts, nil) }

// valueWith is value with other for each part that is missing.
func (r *Rule) valueWith(c Course, parts [3]Mark, other *big.Rat) *big.Rat {
	of := func(p Part) *big.Rat {
		if parts[p].Given() {
			return r.points(parts[p])
		}
		return other
	}
	half := big.NewRat(1, 2)
	mean := new(big.Rat).Add(of(FirstQuarter), of(SecondQuarter))
	mean.Mul(mean, half)
	if !c.HasExam() {
		return mean
	}
	w := c.ExamWeight.Rat()
	rest := new(big.Rat).Sub(big.NewRat(1, 1), w)
	return mean.Add(mean.Mul(mean, rest), w.Mul(w, of(Examination)))
}

// mean returns the plain mean of the points so far; any is false where there are none.
func (r *Rule) mean(parts [3]Mark) (mean *big.Rat, any bool) {
	sum, n := new(big.Rat), int64(0)
	for _, p := range parts {
		if p.Given() {
			sum.Add(sum, r.points(p))
			n++
		}
	}
	if n == 0 {
		return nil, false
	}
	return sum.Quo(sum, big.NewRat(n, 1)), true
}
