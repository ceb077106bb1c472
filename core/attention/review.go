package attention

import (
	"cmp"
	"slices"
	"strconv"
	"strings"
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
