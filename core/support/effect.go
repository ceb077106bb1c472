package support

import (
	"slices"

	"meldung/core/day"
)

// Around is how many school days before support began, and after it ended, are set beside each other; Least is how
// many there must be on either side.
const (
	Around = 20
	Least  = 5
)

// Episode is support of a student from a date to another, both included: a case from its opening to its end, or a
// kind of session from the first to the last.
type Episode struct {
	Student    int
	Begin, End day.Date
}

// Span is a stretch of school days by their places in the calendar, both ends included.
type Span struct{ From, To int }

// Sides returns the school days before an episode and after it: as many as there are up to Around, the last school
// day that may be read being upto. ok is false where either side has fewer than Least.
func (e Episode) Sides(cal *day.Calendar, upto int) (before, after Span, ok bool) {
	last := cal.UpTo(e.Begin - 1)
	before = Span{max(last-Around+1, 0), last}
	first := cal.From(e.End + 1)
	after = Span{first, min(first+Around-1, upto)}
	return before, after, before.To-before.From+1 >= Least && after.To-after.From+1 >= Least
}

// Sums are a student's figures over a span: units of school that were possible, and of these missed and missed
// without excuse; lates; incidents that the student did.
type Sums struct{ Possible, Absent, Unexcused, Lates, Incidents int }

// Plus adds sums up.
func (s Sums) Plus(o Sums) Sums {
	return Sums{s.Possible + o.Possible, s.Absent + o.Absent, s.Unexcused + o.Unexcused, s.Lates + o.Lates, s.Incidents + o.Incidents}
}

// Effect is what became of the students of several episodes. It shows no cause.
type Effect struct {
	Episodes int // in all
	Students int
	Early    int // of these, with too few school days on a side to be compared
	Lengths  []int
	Before   Sums // of those that can be compared
	After    Sums
	Less     int // in how many a smaller share was missed after than before
	Same     int
	More     int
}

// Length is the middle one of the episodes in calendar days, the lower one of two.
func (e Effect) Length() int {
	if len(e.Lengths) == 0 {
		return 0
	}
	return e.Lengths[(len(e.Lengths)-1)/2]
}

// Plus puts the effects of other episodes of other students beside these.
func (e Effect) Plus(o Effect) Effect {
	out := Effect{Episodes: e.Episodes + o.Episodes, Students: e.Students + o.Students, Early: e.Early + o.Early, Before: e.Before.Plus(o.Before), After: e.After.Plus(o.After), Less: e.Less + o.Less, Same: e.Same + o.Same, More: e.More + o.More}
	out.Lengths = slices.Concat(e.Lengths, o.Lengths)
	slices.Sort(out.Lengths)
	return out
}

// Of sets before and after beside each other. Sums returns a student's figures over a span of school days, of which
// upto is the last that may be read.
func Of(cal *day.Calendar, episodes []Episode, upto int, sums func(student int, s Span) Sums) Effect {
	var out Effect
	seen := map[int]bool{}
	for _, e := range episodes {
		out.Episodes++
		out.Lengths = append(out.Lengths, int(e.End-e.Begin)+1)
		if !seen[e.Student] {
			seen[e.Student] = true
			out.Students++
		}
		before, after, ok := e.Sides(cal, upto)
		if !ok {
			out.Early++
			continue
		}
		was, is := sums(e.Student, before), sums(e.Student, after)
		out.Before, out.After = out.Before.Plus(was), out.After.Plus(is)
		switch a, b := is.Absent*was.Possible, was.Absent*is.Possible; {
		case a < b:
			out.Less++
		case a > b:
			out.More++
		default:
			out.Same++
		}
	}
	slices.Sort(out.Lengths)
	return out
}
