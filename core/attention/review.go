package attention

import (
	"cmp"
	"slices"
	"strconv"
	"strings"

	"meldung/core/day"
)

// Turn is how a student stands at a review beside the one before.
type Turn int

// The turns, in the order in which they are decided.
const (
	New     Turn = iota // matched no rule at the last review
	Rising              // more rules match than then
	Holding             // as many
	Easing              // fewer
)

// Reviewed is a student at a review, with what puts the list in order.
type Reviewed struct {
	Student int
	Name    string
	Year    string
	Rules   int    // that match
	Before  int    // that matched at the last review
	Since   int    // the school day since which a rule has matched longest
	Outlook *Value // the probability; nil where there is none
	Moved   int    // of the outlook since then, beyond noise: 1 up, −1 down, 0 for none
	Rate    Value  // of absence
}

// Turn is the student's turn: with as many rules as at the last review, an outlook that moved beyond noise
// decides.
func (r Reviewed) Turn() Turn {
	switch {
	case r.Before == 0:
		return New
	case r.Rules > r.Before:
		return Rising
	case r.Rules < r.Before:
		return Easing
	case r.Moved > 0:
		return Rising
	case r.Moved < 0:
		return Easing
	}
	return Holding
}

// Order puts students in the order in which they are decided: by turn; the worst first, by rules, outlook and
// absence rate; among equals the higher year, who has stood longest, then the name.
func Order(list []Reviewed) {
	slices.SortStableFunc(list, func(a, b Reviewed) int {
		return cmp.Or(cmp.Compare(a.Turn(), b.Turn()), cmp.Compare(b.Rules, a.Rules), worse(a.Outlook, b.Outlook), worse(&a.Rate, &b.Rate),
			higher(a.Year, b.Year), cmp.Compare(a.Since, b.Since), strings.Compare(a.Name, b.Name), cmp.Compare(a.Student, b.Student))
	})
}

// worse puts the larger number first; who has none comes last.
func worse(a, b *Value) int {
	x, y := a != nil && a.Kind == Number, b != nil && b.Kind == Number
	switch {
	case !x && !y:
		return 0
	case !y:
		return -1
	case !x:
		return 1
	}
	return b.compare(*a)
}

// higher puts the higher year first: by number where both are one, and what is none last.
func higher(a, b string) int {
	x, errX := strconv.Atoi(a)
	y, errY := strconv.Atoi(b)
	switch {
	case errX == nil && errY == nil:
		return cmp.Compare(y, x)
	case errX == nil:
		return -1
	case errY == nil:
		return 1
	}
	return strings.Compare(b, a)
}

// Decision is what can be decided about a student at a review.
type Decision string

// The decisions.
const (
	OpenCase Decision = "case"
	WaitFor  Decision = "wait"
	NoAction Decision = "none"
)

// Stood is a rule that matches a student, with the date since when.
type Stood struct {
	Rule  string
	Since day.Date
}

// Decided is the last decision about a student.
type Decided struct {
	Kind  Decision
	Here  bool     // at the review that is being held
	Open  bool     // of a case: it is open still
	Until day.Date // of waiting
	AsAt  day.Date // when it was decided: a stretch that had begun by then was known
	Rules []string // that matched then
}

// Fresh returns the rules that have come since the decision: those that did not match then, and those that
// match anew.
func (d Decided) Fresh(now []Stood) []string {
	var out []string
	for _, s := range now {
		if s.Since > d.AsAt || !slices.Contains(d.Rules, s.Rule) {
			out = append(out, s.Rule)
		}
	}
	return out
}

// Holds reports whether a decision still holds on a date, so that nobody needs to decide again. No action
// holds until the next review, waiting until its date, a case while it is open; a rule that has come since
// ends each of them.
func (d Decided) Holds(now []Stood, on day.Date) bool {
	if len(d.Fresh(now)) > 0 {
		return false
	}
	switch d.Kind {
	case OpenCase:
		return d.Open || d.Here
	case WaitFor:
		return on < d.Until
	}
	return d.Here
}
