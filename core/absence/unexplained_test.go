package absence_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/policy"
)

// twelve is a ledger of one student over twelve days, with the marks of each day in a
// letter each.
func twelve(t testing.TB, marks ...string) *absence.Ledger {
	cal := calendar(t, 12, twoLessons)
	l := absence.NewLedger(cal, plain)
	l.AddStudent(absence.Student{ID: "a", Enrolled: []day.Dates{day.Always}, ShareHere: policy.NewFraction(1, 1)})
	for d, m := range marks {
		for pos := range m {
			if code, ok := plain.Index(m[pos : pos+1]); ok {
				require.NoError(t, l.Set(0, d, pos, absence.Mark{Code: code}))
			}
		}
	}
	return l
}

func TestUnexplainedDays(t *testing.T) {
	l := twelve(t, "PPP", "NNN", "PNP", "UUU", "MMM", "NPN")
	assert.Equal(t, []absence.UnexplainedDay{{Day: 1, Slots: []int{0, 1, 2}, Since: 4}, {Day: 2, Slots: []int{1}, Since: 3}, {Day: 5, Slots: []int{0, 2}, Since: 0}}, l.UnexplainedDays(0, 5))
	assert.Len(t, l.UnexplainedDays(0, 1), 1, "what comes later is not read")
	assert.Empty(t, l.UnexplainedDays(0, -1))
	index, _ := plain.Index("M")
	for pos := range 3 {
		require.NoError(t, l.Set(0, 1, pos, absence.Mark{Code: index}))
	}
	assert.Len(t, l.UnexplainedDays(0, 5), 2, "a reason takes it off the list")
	l.AddStudent(absence.Student{ID: "a", Enrolled: []day.Dates{day.Since(day.MustDate("2025-09-04"))}, ShareHere: policy.NewFraction(1, 1)})
	assert.Len(t, l.UnexplainedDays(0, 5), 1, "only while enrolled")
}

// Every mark without a reason is on the list once, and nothing else is.
func TestEveryUnexplainedMarkIsListed(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		marks := rapid.SliceOfN(rapid.StringMatching(`[PNUM-]{3}`), 12, 12).Draw(rt, "marks")
		l := twelve(t, marks...)
		asAt := rapid.IntRange(0, 11).Draw(rt, "as at")
		listed := map[[2]int]bool{}
		for _, d := range l.UnexplainedDays(0, asAt) {
			assert.Equal(rt, asAt-d.Day, d.Since)
			for _, pos := range d.Slots {
				assert.False(rt, listed[[2]int{d.Day, pos}])
				listed[[2]int{d.Day, pos}] = true
			}
		}
		for d := range 12 {
			for pos := range 3 {
				assert.Equal(rt, d <= asAt && marks[d][pos] == 'N', listed[[2]int{d, pos}], "day %d slot %d", d, pos)
			}
		}
	})
}
