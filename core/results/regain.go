package results

import (
	"fmt"
	"strings"

	"meldung/core/policy"
)

// Why says how a half-year's credit was lost: by its value, or by what is missing of it. It is empty for
// what is not lost.
func (b *Book) Why(s Standing) string {
	if s.State != Lost {
		return ""
	}
	if s.Value != nil {
		return b.Rule.Explain(b.Courses[s.Record.Course], s)
	}
	verb := map[bool]string{true: "is", false: "are"}[len(s.Missing) == 1]
	return fmt.Sprintf("%s %s missing", b.parts(s), verb)
}

// Ways says how the lost credit of a student's half-year can still be had as at a quarter, what is nearest
// first: a recovery course that they take, a grade that is missing, the recovery course that the school has
// had of it (offered, as Offered tells), taking it again. It is empty for what is not lost.
func (b *Book) Ways(student int, s Standing, at Quarter, offered []bool) []string {
	if s.State != Lost {
		return nil
	}
	c := b.Courses[s.Record.Course]
	var out []string
	taking := false
	for _, x := range s.Record.Recoveries {
		if !x.Known && x.When <= at {
			out, taking = append(out, "the recovery course in "+b.Periods[x.When].Name+", how it ended is not known yet"), true
		}
	}
	if len(s.Missing) > 0 {
		if least := b.Rule.least(c, &s); least != None {
			out = append(out, b.atLeast(s, least))
		}
	}
	if !taking && offered[s.Record.Course] {
		out = append(out, "the recovery course")
	}
	if !b.again(student, s, at) {
		return out
	}
	return append(out, "taking it again")
}

// Offered says of each course whether somebody has ever been in a recovery course of it.
func (b *Book) Offered() []bool {
	out := make([]bool, len(b.Courses))
	for _, records := range b.records {
		for _, r := range records {
			out[r.Course] = out[r.Course] || len(r.Recoveries) > 0
		}
	}
	return out
}

// again reports whether the course, taken once more, would give a credit.
func (b *Book) again(student int, s Standing, at Quarter) bool {
	c := b.Courses[s.Record.Course]
	if c.Max == nil {
		return true
	}
	var had policy.Fraction
	for _, x := range b.Sum(student, at).Standings {
		if x.Record.Course == s.Record.Course && x.State.Has() {
			had = had.Add(c.Credits)
		}
	}
	return had.Compare(*c.Max) < 0
}

// parts names what is missing of a half-year: "Q3, Q4 and the examination".
func (b *Book) parts(s Standing) string {
	var where []string
	for _, m := range s.Missing {
		if m == Examination {
			where = append(where, "the examination")
		} else {
			where = append(where, b.Periods[s.Record.Half.Quarter(int(m))].Name)
		}
	}
	in := where[len(where)-1]
	if n := len(where) - 1; n > 0 {
		in = strings.Join(where[:n], ", ") + " and " + in
	}
	return in
}
