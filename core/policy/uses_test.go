package policy_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/core/policy"
)

var (
	morning   = day.Slot{Name: "AM", Start: day.MustMinute("08:45"), End: day.MustMinute("09:00")}
	afternoon = day.Slot{Name: "PM", Start: day.MustMinute("12:00"), End: day.MustMinute("12:10")}
)

func TestASetAnswersByUse(t *testing.T) {
	set, err := policy.NewCodeSet("halves", []policy.Code{
		{Code: "/", Counts: policy.Attended, OnSite: true, Uses: policy.UsePresent, Half: policy.Morning},
		{Code: "|", Counts: policy.Attended, OnSite: true, Uses: policy.UsePresent, Half: policy.Afternoon},
		{Code: "L", Counts: policy.Attended, OnSite: true, Late: true, Uses: policy.UseLate | policy.UseLateWithReason},
		{Code: "N", Counts: policy.Unexcused, Unexplained: true, Uses: policy.UseNoReason},
	})
	require.NoError(t, err)
	for slot, want := range map[*day.Slot]string{&morning: "/", &afternoon: "|"} {
		c, ok := set.For(policy.UsePresent, *slot)
		assert.True(t, ok)
		assert.Equal(t, want, c.Code)
	}
	_, ok := set.Always(policy.UsePresent)
	assert.False(t, ok, "none is for the whole day")
	c, _ := set.Always(policy.UseLateWithReason)
	assert.Equal(t, "L", c.Code, "a code may have several uses")
	assert.Equal(t, []string{"late", "late_with_reason"}, c.Uses.Words())
	assert.NoError(t, set.Usable())
	lacks := set.Lacks()
	assert.Contains(t, lacks, "leaving early makes no difference to the mark")
	assert.NotContains(t, lacks, "nobody can be marked as there", "both halves have a code")
	assert.Len(t, lacks, len(policy.UseWords())-4)
}

func TestUsesThatAreRefused(t *testing.T) {
	present := policy.Code{Code: "P", Counts: policy.Attended, OnSite: true, Uses: policy.UsePresent}
	for _, c := range []struct {
		codes []policy.Code
		want  string
	}{
		{[]policy.Code{{Code: "U", Counts: policy.Unexcused, Uses: policy.UsePresent}}, `code "U" can't be used for present by what it counts as`},
		{[]policy.Code{{Code: "P", Counts: policy.Attended, OnSite: true, Uses: policy.UseLate}}, `code "P" can't be used for late`},
		{[]policy.Code{present, {Code: "/", Counts: policy.Attended, OnSite: true, Uses: policy.UsePresent}}, `codes "P" and "/" are both used for present`},
		{[]policy.Code{present, {Code: "/", Counts: policy.Attended, OnSite: true, Uses: policy.UsePresent, Half: policy.Morning}}, `codes "P" and "/" are both used for present`},
	} {
		_, err := policy.NewCodeSet("x", c.codes)
		assert.ErrorContains(t, err, c.want)
	}
	half, err := policy.NewCodeSet("x", []policy.Code{{Code: "/", Counts: policy.Attended, OnSite: true, Uses: policy.UsePresent, Half: policy.Morning}})
	require.NoError(t, err)
	assert.ErrorContains(t, half.Usable(), "no code of the set is used for present")
	_, err = policy.ParseUse("here")
	assert.ErrorContains(t, err, `"here" is not one of present, distance, late,`)
}

func TestWhichCodeTakesThePlaceOfAnother(t *testing.T) {
	old, err := policy.NewCodeSet("old", []policy.Code{
		{Code: "P", Counts: policy.Attended, OnSite: true, Uses: policy.UsePresent},
		{Code: "M", Counts: policy.Excused, Medical: true, Uses: policy.UseIll},
		{Code: "S", Counts: policy.Excused},
		{Code: "W", Counts: policy.Excused},
		{Code: "Z", Counts: policy.Void},
	})
	require.NoError(t, err)
	next, err := policy.NewCodeSet("next", []policy.Code{
		{Code: "/", Counts: policy.Attended, OnSite: true, Uses: policy.UsePresent, Half: policy.Morning},
		{Code: "P", Counts: policy.Activity},
		{Code: "C", Counts: policy.Excused},
		{Code: "S", Counts: policy.Excused},
		{Code: "I", Counts: policy.Excused, Medical: true, Uses: policy.UseIll},
	})
	require.NoError(t, err)
	assert.Equal(t, map[string]string{"P": "", "M": "I", "S": "S", "W": "C", "Z": ""}, old.Counterparts(next), "present has a code for the morning alone")
}
