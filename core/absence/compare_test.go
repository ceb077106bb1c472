package absence_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"meldung/core/absence"
	"meldung/core/policy"
)

// What a look at another policy says is what measuring by it says afterwards: as many in each
// band as the group has, and each line reached by whom and when its measure says.
func TestALookAtAPolicyIsWhatItMeasures(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		l := randomSchool(t)
		withTimes(t, l)
		policies := []*policy.Policy{everyTrigger(t), everyTrigger(t)}
		policies[1].Unit, policies[1].MinPossible = policy.Unit(rapid.IntRange(0, 2).Draw(t, "unit")), rapid.IntRange(0, 9).Draw(t, "least")
		policies[1].Triggers = policies[1].Triggers[rapid.IntRange(0, len(policies[1].Triggers)).Draw(t, "without"):]
		policies[1].Ladders = []policy.Ladder{{ID: "lates", Per: policy.PerSlot, Within: policy.Year, Steps: []policy.Step{{From: 2, Do: []string{"word"}}}}}
		if n := rapid.IntRange(0, 2).Draw(t, "alone"); n < 2 {
			policies[n] = nil
		}
		students, asAt := []int{0, 1, 2}, rapid.IntRange(-1, 14).Draw(t, "as at")
		c := absence.Compare(l, policies[0], policies[1], students, asAt)
		for side, p := range policies {
			bands, seen := map[int]int{}, 0
			for _, m := range c.Moves {
				bands[[]int{m.From, m.To}[side]] += len(m.Students)
				seen += len(m.Students)
			}
			assert.Equal(t, len(students), seen)
			if p == nil {
				assert.Equal(t, map[int]int{-1: len(students)}, bands)
				continue
			}
			m := absence.NewMeasure(l, p)
			for place, n := range m.Group(students, absence.Span{From: 0, To: asAt}).Bands {
				assert.Equal(t, n, bands[place])
			}
			reached := 0
			for _, line := range c.Lines {
				for _, r := range [][]absence.FirstReached{line.Before, line.After}[side] {
					reached++
					if line.ID == "ladder lates" {
						assert.Equal(t, m.Steps(r.Student, asAt)[0].Day, r.On)
						continue
					}
					for _, of := range m.Triggers(r.Student, asAt) {
						if of.Trigger.ID == line.ID {
							assert.True(t, of.Ever)
							assert.Equal(t, of.On, r.On)
						}
					}
				}
			}
			for _, i := range students {
				for _, of := range m.Triggers(i, asAt) {
					if of.Ever {
						reached--
					}
				}
				if len(m.Steps(i, asAt)) > 0 {
					reached--
				}
			}
			assert.Zero(t, reached)
		}
	})
}
