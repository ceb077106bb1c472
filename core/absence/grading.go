package absence

import "meldung/core/policy"

// GradingKind is how attendance is written where it enters a grade.
type GradingKind uint8

// The kinds.
const (
	NotGraded GradingKind = iota
	GradedByShare
	GradedByPoints
)

// Grading is a school's own rule for attendance in grades.
type Grading struct {
	Kind         GradingKind
	ExcusedApart bool // of a share: what was excused is left out of it, else it counts as missed

	// Of points: so many to begin with, of which some are taken off for each unit missed and each late,
	// down to the least.
	Full, Least                        policy.Fraction
	OffExcused, OffUnexcused, OffLates policy.Fraction
}

// Counts are what is graded: units possible, missed excused and unexcused, and lates. What nobody has
// given a reason for yet is unexcused.
type Counts struct{ Possible, Excused, Unexcused, Lates int }

// Of returns the share attended, 0 to 1, or the points; ok is false where nothing is graded or nothing
// was possible.
func (g Grading) Of(c Counts) (value policy.Fraction, ok bool) {
	switch {
	case g.Kind == GradedByShare && g.ExcusedApart:
		return ratio(c.Possible-c.Excused-c.Unexcused, c.Possible-c.Excused)
	case g.Kind == GradedByShare:
		return ratio(c.Possible-c.Excused-c.Unexcused, c.Possible)
	case g.Kind == GradedByPoints && c.Possible > 0:
		points := g.Full
		for _, off := range []struct {
			each policy.Fraction
			n    int
		}{{g.OffExcused, c.Excused}, {g.OffUnexcused, c.Unexcused}, {g.OffLates, c.Lates}} {
			points = points.Add(off.each.Scaled(-int64(off.n), 1))
		}
		if points.Rat().Cmp(g.Least.Rat()) < 0 {
			points = g.Least
		}
		return points, true
	}
	return policy.Fraction{}, false
}

func ratio(n, of int) (policy.Fraction, bool) {
	if of <= 0 {
		return policy.Fraction{}, false
	}
	return policy.NewFraction(int64(n), int64(of)), true
}

// Text writes what Of returns: a share in per cent with one decimal, points as exactly as they are in
// up to two decimals; empty where there is nothing.
func (g Grading) Text(c Counts) string {
	value, ok := g.Of(c)
	switch {
	case !ok:
		return ""
	case g.Kind == GradedByShare:
		return value.Percent()
	default:
		return value.Rat().FloatString(2)
	}
}
