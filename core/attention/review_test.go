package attention_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"meldung/core/attention"
	"meldung/core/day"
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

// A decision ends a row's turn until the next review, its date or the end of its case, or until a new concern.
func TestADecisionHolds(t *testing.T) {
	const on = day.Date(100)
	stood := func(rule string, since day.Date) attention.Stood { return attention.Stood{Rule: rule, Since: since} }
	same := []attention.Stood{stood("chronic", 80), stood("failing", 60)}
	for name, c := range map[string]struct {
		d     attention.Decided
		now   []attention.Stood
		holds bool
	}{
		"no action at this review":                {attention.Decided{Kind: attention.NoAction, Here: true}, same, true},
		"no action at one before":                 {attention.Decided{Kind: attention.NoAction}, same, false},
		"waiting until tomorrow":                  {attention.Decided{Kind: attention.WaitFor, Until: 101}, same, true},
		"waiting until today":                     {attention.Decided{Kind: attention.WaitFor, Until: 100, Here: true}, same, false},
		"an open case":                            {attention.Decided{Kind: attention.OpenCase, Open: true}, same, true},
		"a case that was closed":                  {attention.Decided{Kind: attention.OpenCase}, same, false},
		"a case opened and closed at this review": {attention.Decided{Kind: attention.OpenCase, Here: true}, same, true},
		"a rule more":                             {attention.Decided{Kind: attention.OpenCase, Open: true}, append(slices.Clone(same), stood("seen", 70)), false},
		"a rule that went and came":               {attention.Decided{Kind: attention.WaitFor, Until: 120}, []attention.Stood{stood("chronic", 97)}, false},
		"a rule less":                             {attention.Decided{Kind: attention.NoAction, Here: true}, same[:1], true},
		"none any more, and the wait is not over": {attention.Decided{Kind: attention.WaitFor, Until: 120}, nil, true},
	} {
		c.d.AsAt, c.d.Rules = 95, []string{"chronic", "failing"}
		assert.Equal(t, c.holds, c.d.Holds(c.now, on), name)
	}
	d := attention.Decided{AsAt: 95, Rules: []string{"chronic"}}
	assert.Equal(t, []string{"failing"}, d.Fresh(same))
}

func TestReviewsAreOnSchoolDays(t *testing.T) {
	date := func(text string) day.Date {
		d, err := day.ParseDate(text)
		require.NoError(t, err)
		return d
	}
	// Two weeks, one without school, one that begins on a Wednesday, one that ends on a Monday.
	var rows []day.Row
	for _, text := range []string{"2026-01-05", "2026-01-06", "2026-01-07", "2026-01-12", "2026-01-13", "2026-01-28", "2026-01-29", "2026-02-02"} {
		rows = append(rows, day.Row{Date: date(text), Pattern: "A"})
	}
	cal, err := day.NewCalendar([]day.Pattern{{Name: "A", Slots: []day.Slot{{Name: "1", Start: day.Midnight.Add(540), End: day.Midnight.Add(600)}}}}, rows)
	require.NoError(t, err)
	days := func(weekday, weeks int) []string {
		var out []string
		for _, d := range (attention.Schedule{Weekday: weekday, Weeks: weeks}).Days(cal) {
			out = append(out, d.String())
		}
		return out
	}
	assert.Equal(t, []string{"2026-01-06", "2026-01-13", "2026-01-28", "2026-02-02"}, days(2, 1))
	assert.Equal(t, []string{"2026-01-05", "2026-01-12", "2026-01-28", "2026-02-02"}, days(1, 1))
	assert.Equal(t, []string{"2026-01-07", "2026-01-13", "2026-01-29", "2026-02-02"}, days(4, 1), "the last of the week where the weekday is none of school")
	assert.Equal(t, []string{"2026-01-06", "2026-02-02"}, days(2, 2), "the second and the fourth week are none of the turn; the third has no school")
	assert.Empty(t, days(2, 0), "by hand")
}
