package absence_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"meldung/core/absence"
	"meldung/core/policy"
)

func TestBinsHoldEveryoneWithARate(t *testing.T) {
	assert.Equal(t, []absence.Bin{{From: 0, Band: 0, Count: 2}, {From: 90, Band: 0, Count: 1}, {From: 100, Band: 1, Count: 1}, {From: 1000, Band: 1, Count: 1}},
		absence.Bins([]absence.Figures{{Possible: 200, Absent: 1}, {Possible: 100}, {Possible: 11, Absent: 1}, {Possible: 10, Absent: 1, Band: 1}, {Possible: 3, Absent: 3, Band: 1}, {}}))
	rapid.Check(t, func(t *rapid.T) {
		var list []absence.Figures
		rates := 0
		for range rapid.IntRange(0, 50).Draw(t, "students") {
			f := absence.Figures{Possible: rapid.IntRange(0, 200).Draw(t, "possible"), Band: rapid.IntRange(-1, 3).Draw(t, "band")}
			f.Absent = rapid.IntRange(0, f.Possible).Draw(t, "absent")
			list = append(list, f)
			if f.Possible > 0 {
				rates++
			}
		}
		sum := 0
		for i, b := range absence.Bins(list) {
			sum += b.Count
			assert.True(t, b.From >= 0 && b.From <= 1000 && b.From%10 == 0)
			if i > 0 {
				before := absence.Bins(list)[i-1]
				assert.True(t, before.From < b.From || before.From == b.From && before.Band < b.Band)
			}
		}
		assert.Equal(t, rates, sum)
	})
}

func TestDistanceFromALine(t *testing.T) {
	tenth := policy.NewFraction(1, 10)
	assert.Equal(t, 0, absence.Figures{Possible: 180, Absent: 18}.DistanceFrom(tenth))
	assert.Equal(t, 50_000, absence.Figures{Possible: 100, Absent: 5}.DistanceFrom(tenth))
	assert.Equal(t, 50_000, absence.Figures{Possible: 100, Absent: 15}.DistanceFrom(tenth), "the same on either side")
	assert.Greater(t, absence.Figures{}.DistanceFrom(tenth), absence.Figures{Possible: 1, Absent: 1}.DistanceFrom(tenth), "who has no rate is farthest")
}

func TestMostlyMissed(t *testing.T) {
	ill, late := policy.Code{Word: "ill"}, policy.Code{Word: "late"}
	day := absence.DayEvidence{Marks: []absence.SlotEvidence{{Code: late, Missed: 20}, {Code: ill, Missed: 50}, {Code: late, Missed: 20}, {Code: policy.Code{Word: "present"}}}}
	assert.Equal(t, "ill", day.MostlyMissed())
	day.Marks[0].Missed = 30
	assert.Equal(t, "ill", day.MostlyMissed(), "of several the one that came to it first")
	assert.Empty(t, absence.DayEvidence{}.MostlyMissed())
}
