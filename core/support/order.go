// Package support says whom to contact next, counts support sessions by school week, asks about a session whose
// time does not fit its kind, and sets what students' figures were before support beside what they were after it.
// It is given facts with their dates; it must not know where they come from, nor what a figure means.
package support

import (
	"cmp"

	"meldung/core/day"
)

// Waiting is a student whom somebody is to contact.
type Waiting struct {
	Student  int
	Name     string   // as lists order it
	Next     day.Date // when somebody is to; day.NoEnd for no date
	Unmet    bool     // on the caseload, and in no session this week
	Last     day.Date // when somebody was last reached; day.NoStart for never
	Concerns int
	Since    day.Date // since when the oldest concern has been one; day.NoEnd for none
}

// Part says for what a student stands on the work list.
type Part int

// The parts of the work list, in its order.
const (
	Due   Part = iota // the next date has come
	Unmet             // on the caseload, and in no session this week
	Ahead             // the others, by how long ago they were reached
)

// Part returns the part of the list in which the student stands as at a date.
func (w Waiting) Part(today day.Date) Part {
	switch {
	case w.Next <= today:
		return Due
	case w.Unmet:
		return Unmet
	}
	return Ahead
}

// Order returns the order of the work list as at a date: those whose next date has come, the oldest first; those of
// the caseload who were in no session this week; then the others. Among equals those longest not reached, never
// first; who has more concerns; whose concern is older; by name.
func Order(today day.Date) func(a, b Waiting) int {
	return func(a, b Waiting) int {
		if c := cmp.Compare(a.Part(today), b.Part(today)); c != 0 {
			return c
		}
		if a.Part(today) == Due && a.Next != b.Next {
			return cmp.Compare(a.Next, b.Next)
		}
		return cmp.Or(cmp.Compare(a.Last, b.Last), cmp.Compare(b.Concerns, a.Concerns), cmp.Compare(a.Since, b.Since), cmp.Compare(a.Name, b.Name), cmp.Compare(a.Student, b.Student))
	}
}
