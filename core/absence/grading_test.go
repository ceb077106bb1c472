package absence_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"meldung/core/absence"
	"meldung/core/policy"
)

// Hand-worked: 40 lessons, 3 excused, 2 unexcused, 4 lates.
func TestAttendanceForGrading(t *testing.T) {
	c := absence.Counts{Possible: 40, Excused: 3, Unexcused: 2, Lates: 4}
	points := absence.Grading{Kind: absence.GradedByPoints, Full: policy.NewFraction(100, 1), OffUnexcused: policy.NewFraction(5, 1), OffLates: policy.NewFraction(1, 2)}
	for _, x := range []struct {
		g    absence.Grading
		c    absence.Counts
		want string
	}{
		{absence.Grading{}, c, ""},
		{absence.Grading{Kind: absence.GradedByShare}, c, "87.5"},
		{absence.Grading{Kind: absence.GradedByShare, ExcusedApart: true}, c, "94.6"}, // 35 of 37
		{absence.Grading{Kind: absence.GradedByShare, ExcusedApart: true}, absence.Counts{Possible: 3, Excused: 3}, ""},
		{absence.Grading{Kind: absence.GradedByShare}, absence.Counts{}, ""},
		{points, c, "88.00"},
		{points, absence.Counts{Possible: 40, Unexcused: 21}, "0.00"},
		{points, absence.Counts{}, ""},
	} {
		assert.Equal(t, x.want, x.g.Text(x.c))
	}
}

// Missing more never gives more, whatever the rule.
func TestMissingMoreGivesNoMore(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		part := rapid.Custom(func(t *rapid.T) policy.Fraction {
			return policy.NewFraction(rapid.Int64Range(0, 20).Draw(t, "p"), rapid.Int64Range(1, 4).Draw(t, "q"))
		})
		g := absence.Grading{Kind: absence.GradingKind(rapid.IntRange(0, 2).Draw(t, "kind")), ExcusedApart: rapid.Bool().Draw(t, "apart"),
			Full: part.Draw(t, "full"), OffExcused: part.Draw(t, "excused"), OffUnexcused: part.Draw(t, "unexcused"), OffLates: part.Draw(t, "lates")}
		c := absence.Counts{Possible: rapid.IntRange(1, 50).Draw(t, "possible"), Lates: rapid.IntRange(0, 9).Draw(t, "late")}
		c.Excused = rapid.IntRange(0, c.Possible-1).Draw(t, "was excused")
		c.Unexcused = rapid.IntRange(0, c.Possible-1-c.Excused).Draw(t, "was unexcused")
		more := c
		more.Unexcused++
		a, ok := g.Of(c)
		b, still := g.Of(more)
		assert.Equal(t, ok, still)
		if ok {
			assert.LessOrEqual(t, b.Rat().Cmp(a.Rat()), 0)
			if g.Kind == absence.GradedByShare {
				assert.True(t, a.Sign() >= 0 && a.Cmp(1, 1) >= 0)
			}
		}
	})
}
