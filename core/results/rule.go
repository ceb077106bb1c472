package results

import (
	"fmt"
	"slices"

	"meldung/core/policy"
)

// Grade is one grade of a scale.
type Grade struct {
	Name    string
	Points  policy.Fraction
	Failing bool
	Nearly  bool             // nearly failing
	From    *policy.Fraction // the lowest number that is this grade; nil on a scale of letters
	Written string           // From as the school writes it
}

// Shown is how the grade is written in a file: its name, or the lowest number that is it.
func (g Grade) Shown() string {
	if g.From != nil {
		return g.Written
	}
	return g.Name
}

// YearCredits are the credits that are expected of a year at the end of its two half-years.
type YearCredits struct {
	Year string
	By   [2]policy.Fraction
}

// Rule says how a school turns grades into credits. The default is common practice and has no source.
type Rule struct {
	Title     string
	Source    string
	Scale     []Grade // from the best to the worst, not empty
	Line      policy.Fraction
	Withdrawn []string      // marks of who has left a course
	Expected  []YearCredits // by year, in order
}

// DefaultRule returns letters from A to F, a line of half a point, W for withdrawn, nothing expected.
func DefaultRule() *Rule {
	r := &Rule{Title: "Letters A to F", Line: policy.NewFraction(1, 2), Withdrawn: []string{"W"}}
	for _, g := range []struct {
		name   string
		tenths int64
	}{{"A", 40}, {"A-", 37}, {"B+", 33}, {"B", 30}, {"B-", 27}, {"C+", 23}, {"C", 20}, {"C-", 17}, {"D+", 13}, {"D", 10}, {"D-", 7}, {"F", 0}} {
		r.Scale = append(r.Scale, Grade{Name: g.name, Points: policy.NewFraction(g.tenths, 10), Failing: g.name == "F", Nearly: g.name == "D-"})
	}
	return r
}

// Numbers reports whether grades are written as numbers.
func (r *Rule) Numbers() bool { return len(r.Scale) > 0 && r.Scale[0].From != nil }

// Place returns the place of a grade on the scale, as it is written in a file; ok is false where it
// is none.
func (r *Rule) Place(written string) (place int, ok bool) {
	if !r.Numbers() {
		place = slices.IndexFunc(r.Scale, func(g Grade) bool { return g.Name == written })
		return place, place >= 0
	}
	n, err := policy.ParseDecimal(written)
	if err != nil {
		return -1, false
	}
	place = slices.IndexFunc(r.Scale, func(g Grade) bool { return n.Compare(*g.From) >= 0 })
	return place, place >= 0
}

// Read reads a grade as it is written: one of the scale, a mark of who has withdrawn, or nothing.
func (r *Rule) Read(written string) (Mark, error) {
	if written == "" {
		return Mark{Place: None}, nil
	}
	if slices.Contains(r.Withdrawn, written) {
		return Mark{Written: written, Place: None, Withdrawn: true}, nil
	}
	place, ok := r.Place(written)
	if !ok {
		return Mark{Place: None}, fmt.Errorf("%q is not on the scale", written)
	}
	return Mark{Written: written, Place: place}, nil
}

// ExpectedAt returns the credits that are expected of a year by a quarter: at the end of a half-year
// its figure, in a first quarter the figure before. ok is false for a year that is not in the table.
func (r *Rule) ExpectedAt(year string, at Quarter) (credits policy.Fraction, ok bool) {
	i := slices.IndexFunc(r.Expected, func(y YearCredits) bool { return y.Year == year })
	if i < 0 {
		return credits, false
	}
	figure := 2*i + at.InYear()/2 // of all the table's figures in their order
	if at.First() {
		figure--
	}
	if figure < 0 {
		return credits, true
	}
	return r.Expected[figure/2].By[figure%2], true
}
