package attention_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"meldung/core/attention"
)

func TestTurnsOfAReview(t *testing.T) {
	for want, list := range map[attention.Turn][]attention.Reviewed{
		attention.New:     {{Rules: 1}, {Rules: 3, Moved: -1}},
		attention.Rising:  {{Rules: 2, Before: 1}, {Rules: 2, Before: 2, Moved: 1}, {Rules: 2, Before: 1, Moved: -1}},
		attention.Holding: {{Rules: 2, Before: 2}},
		attention.Easing:  {{Rules: 1, Before: 2, Moved: 1}, {Rules: 2, Before: 2, Moved: -1}, {Rules: 0, Before: 1}},
	} {
		for _, r := range list {
			assert.Equal(t, want, r.Turn(), "%+v", r)
		}
	}
}

// New before rising before holding before easing; within, each of what decides in turn.
func TestTheOrderOfAReview(t *testing.T) {
	share := func(n, of int64) attention.Value { return attention.Value{Kind: attention.Number, Num: n, Den: of} }
	low, high := share(1, 10), share(3, 10)
	want := []attention.Reviewed{
		{Name: "three rules", Rules: 3},
		{Name: "a high outlook", Rules: 2, Outlook: &high},
		{Name: "a low outlook", Rules: 2, Outlook: &low, Rate: share(9, 10)},
		{Name: "no outlook, much absent", Rules: 2, Rate: share(1, 2)},
		{Name: "less absent", Rules: 2, Rate: share(1, 3)},
		{Name: "the higher year", Rules: 1, Year: "10", Since: 50},
		{Name: "stands longer", Rules: 1, Year: "9", Since: 3},
		{Name: "a by name", Rules: 1, Year: "9", Since: 9},
		{Name: "b by name", Rules: 1, Year: "9", Since: 9},
		{Name: "no year", Rules: 1},
		{Name: "rising", Rules: 9, Before: 1},
		{Name: "holding", Rules: 9, Before: 9},
		{Name: "easing", Rules: 9, Before: 10},
	}
	got := slices.Clone(want)
	slices.Reverse(got)
	attention.Order(got)
	assert.Equal(t, want, got)
}

// The order is total, and the same whatever the list began with.
func TestTheOrderIsTotal(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var list []attention.Reviewed
		for i := range rapid.IntRange(0, 12).Draw(t, "students") {
			r := attention.Reviewed{Student: i, Name: rapid.SampledFrom([]string{"a", "b"}).Draw(t, "name"), Year: rapid.SampledFrom([]string{"", "9", "10", "R"}).Draw(t, "year"),
				Rules: rapid.IntRange(0, 2).Draw(t, "rules"), Before: rapid.IntRange(0, 2).Draw(t, "before"), Since: rapid.IntRange(0, 2).Draw(t, "since"), Moved: rapid.IntRange(-1, 1).Draw(t, "moved")}
			if rapid.Bool().Draw(t, "has an outlook") {
				r.Outlook = &attention.Value{Kind: attention.Number, Num: int64(rapid.IntRange(0, 2).Draw(t, "outlook")), Den: 3}
			}
			list = append(list, r)
		}
		other := slices.Clone(list)
		slices.Reverse(other)
		attention.Order(list)
		attention.Order(other)
		assert.Equal(t, list, other)
	})
}
