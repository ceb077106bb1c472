package results

import (
	"strings"
)

// Plainly says a rule in plain sentences.
func (r *Rule) Plainly() []string {
	var grades, failing, nearly []string
	for _, g := range r.Scale {
		one := g.Name + " " + Decimal(g.Points.Rat())
		if g.From != nil {
			one = g.Name + " from " + g.Written + ": " + Decimal(g.Points.Rat())
		}
		grades = append(grades, one)
		if g.Failing {
			failing = append(failing, g.Name)
		}
		if g.Nearly {
			nearly = append(nearly, g.Name)
		}
	}
	out := []string{"Points: " + strings.Join(grades, ", ") + "."}
	if len(failing) > 0 {
		out = append(out, "Failing: "+strings.Join(failing, ", ")+".")
	}
	if len(nearly) > 0 {
		out = append(out, "Nearly failing: "+strings.Join(nearly, ", ")+".")
	}
	out = append(out, "A half-year’s credit is earned at "+Decimal(r.Line.Rat())+" points or more: the mean of its two quarters, and its examination by the course’s weight.")
	if len(r.Withdrawn) > 0 {
		out = append(out, "Who has "+strings.Join(r.Withdrawn, ", ")+" has left the course: that half-year counts for nothing.")
	}
	var expected []string
	for _, y := range r.Expected {
		expected = append(expected, "year "+y.Year+" "+Decimal(y.By[0].Rat())+" and "+Decimal(y.By[1].Rat()))
	}
	if len(expected) > 0 {
		out = append(out, "Credits expected by the end of each half-year: "+strings.Join(expected, ", ")+".")
	} else {
		out = append(out, "No credits are expected of any year: nobody is behind.")
	}
	return out
}

// By returns the book by another rule. What that rule can't read is no grade.
func (b *Book) By(rule *Rule) *Book {
	out := *b
	out.Rule, out.sums = rule, nil
	out.records = make([][]*Record, len(b.records))
	again := func(m Mark) Mark {
		next, err := rule.Read(m.Written)
		if err != nil {
			return Mark{Written: m.Written, Place: None}
		}
		return next
	}
	for i, list := range b.records {
		for _, r := range list {
			next := *r
			next.Quarters = [2]Mark{again(r.Quarters[0]), again(r.Quarters[1])}
			next.Exam = again(r.Exam)
			out.records[i] = append(out.records[i], &next)
		}
	}
	return &out
}
