package results_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"meldung/core/policy"
	"meldung/core/results"
)

func standing(t *testing.T, b *results.Book, student, course int, half results.Half, at results.Quarter) results.Standing {
	t.Helper()
	for _, s := range b.Sum(student, at).Standings {
		if s.Record.Course == course && s.Record.Half == half {
			return s
		}
	}
	require.Fail(t, "nothing on record")
	return results.Standing{}
}

func TestWhereCreditWasLostAndHowItIsRegained(t *testing.T) {
	b := shelf(t, results.DefaultRule(), []string{"9"}, []string{"FFB", "B?B", "BBB", "BBB"}, []string{"FFB", "BBB", "FFB", "BBB"})
	offered := func() []bool { return b.Offered() }
	lost := standing(t, b, 0, 0, 0, 2)
	assert.Equal(t, "(0 + 0) ÷ 2 = 0, the line is 0.5: lost", b.Why(lost))
	assert.Equal(t, []string{"taking it again"}, b.Ways(0, lost, 2, offered()))

	missing := standing(t, b, 0, 1, 0, 2)
	assert.Equal(t, "Q2 is missing", b.Why(missing))
	assert.Equal(t, []string{"any grade in Q2", "taking it again"}, b.Ways(0, missing, 2, offered()), "a B before earns it alone")

	// Another has been in the recovery course: the school has one. Who is in it waits for how it ends.
	rec := b.Record(1, 0, 0)
	rec.Recoveries = []results.Recovery{{When: 2}}
	assert.Equal(t, []string{"the recovery course", "taking it again"}, b.Ways(0, lost, 2, offered()))
	theirs := standing(t, b, 1, 0, 0, 2)
	assert.Equal(t, []string{"the recovery course in Q3, how it ended is not known yet", "taking it again"}, b.Ways(1, theirs, 2, offered()))
	assert.Equal(t, []string{"the recovery course", "taking it again"}, b.Ways(1, standing(t, b, 1, 0, 0, 1), 1, offered()), "what begins later is not read")

	// A course that gives no more than it has given is not taken again.
	most := policy.NewFraction(1, 2)
	b.Courses[2].Max = &most
	assert.Equal(t, []string{"taking it again"}, b.Ways(1, standing(t, b, 1, 2, 0, 2), 2, offered()))
	b.Record(1, 2, 1).Set(results.SecondQuarter, results.Mark{Place: 3})
	assert.Empty(t, b.Ways(1, standing(t, b, 1, 2, 0, 3), 3, offered()))

	had := standing(t, b, 1, 1, 0, 2)
	assert.Empty(t, b.Why(had))
	assert.Empty(t, b.Ways(1, had, 2, offered()), "what is had is not regained")
}

// A table's parts add up to the whole, and to what each student's sums say.
func TestPartsAddUp(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		grades := rapid.SliceOfN(rapid.SliceOfN(rapid.StringMatching(`[ABCDFW?-]{0,4}`), 4, 4), 1, 8).Draw(rt, "grades")
		b := shelf(rt, results.DefaultRule(), []string{"9", "10"}, grades...)
		at := results.Quarter(rapid.IntRange(0, 3).Draw(rt, "at"))
		everyone := make([]int, len(grades))
		for i := range everyone {
			everyone[i] = i
		}
		byCourse := func(_ int, r *results.Record) []string { return []string{b.Courses[r.Course].ID} }
		whole := func(int, *results.Record) []string { return []string{""} }
		var sum results.Count
		for _, c := range b.Counts(everyone, at, byCourse) {
			sum = results.Count{Failing: sum.Failing + c.Failing, Nearly: sum.Nearly + c.Nearly, Of: sum.Of + c.Of}
		}
		assert.Equal(rt, b.Counts(everyone, at, whole)[""], sum)
		var credits results.CreditCount
		for _, c := range b.CreditCounts(everyone, at.Half(), at, byCourse) {
			credits = results.CreditCount{Lost: credits.Lost + c.Lost, Stands: credits.Stands + c.Stands, Of: credits.Of + c.Of}
		}
		assert.Equal(rt, b.CreditCounts(everyone, at.Half(), at, whole)[""], credits)
		failing, away, courses := 0, 0, 0
		for _, s := range everyone {
			sums := b.Sum(s, at)
			failing, away, courses = failing+sums.Failing, away+sums.Away, courses+sums.Courses
		}
		assert.Equal(rt, failing, sum.Failing)
		assert.Equal(rt, [2]int{away, courses}, [2]int{credits.Lost + credits.Stands, credits.Of})
	})
}
