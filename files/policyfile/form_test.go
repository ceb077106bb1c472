package policyfile

import (
	"slices"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"meldung/core/policy"
)

// A shipped policy that is filled in and written again says the same.
func TestShippedPoliciesAreTheSameWhenFilledIn(t *testing.T) {
	for _, id := range Policies() {
		p, err := Shipped(id)
		require.NoError(t, err)
		again, err := Parse(FormOf(p).Text(), ShippedCodes)
		require.NoError(t, err, id)
		again.Version = p.Version
		assert.Equal(t, p.Plainly(), again.Plainly())
		assert.Equal(t, FormOf(p), FormOf(again))
		assert.Equal(t, p.Codes, again.Codes)
	}
	for _, name := range CodeSets() {
		set, err := ShippedCodes(name)
		require.NoError(t, err)
		again, err := ParseCodes(name, CodesFile(set))
		require.NoError(t, err, name)
		assert.Equal(t, set, again)
	}
}

// Whatever is filled in and taken is what the file says, whatever its texts hold.
func TestAFormIsWhatItsTextSays(t *testing.T) {
	text := rapid.OneOf(rapid.StringMatching(`[a-zA-Z0-9 :#{}\[\],"'%&*!|>@/~-]{1,12}`), rapid.SampledFrom([]string{"N", "null", "~", "true", "0x1", "08", "1e3", "a: b", "- x", "# y", "ü — ß", "1/2", "no", ".5", "a;b"}))
	share := rapid.Custom(func(t *rapid.T) policy.Fraction {
		q := rapid.Int64Range(1, 40).Draw(t, "q")
		return policy.NewFraction(rapid.Int64Range(1, q).Draw(t, "p"), q)
	})
	rapid.Check(t, func(t *rapid.T) {
		p := &policy.Policy{ID: text.Draw(t, "id"), Title: text.Draw(t, "title"), Source: rapid.OneOf(rapid.Just(""), text).Draw(t, "source"), Unit: policy.Unit(rapid.IntRange(0, 2).Draw(t, "unit")),
			Basis: policy.Basis(rapid.IntRange(0, 1).Draw(t, "basis")), RegistrationOnly: rapid.Bool().Draw(t, "slots"), DayAbsentAt: share.Draw(t, "absent"), Threshold: share.Draw(t, "threshold"),
			MinPossible: rapid.IntRange(0, 4000).Draw(t, "least"), UnexplainedAfter: rapid.IntRange(0, 9).Draw(t, "after")}
		p.Codes, _ = ShippedCodes("plain")
		if rapid.Bool().Draw(t, "own codes") {
			p.Codes = &policy.CodeSet{ID: ownCodes, Codes: p.Codes.Codes}
		}
		shares := slices.CompactFunc(slices.SortedFunc(slices.Values(rapid.SliceOfN(share, 0, 4).Draw(t, "bands")), func(a, b policy.Fraction) int { return a.Rat().Cmp(b.Rat()) }), func(a, b policy.Fraction) bool { return a.Rat().Cmp(b.Rat()) == 0 })
		for _, s := range shares {
			p.Bands = append(p.Bands, policy.Band{Name: text.Draw(t, "band"), Below: &s})
		}
		if len(shares) > 0 {
			p.Bands = append(p.Bands, policy.Band{Name: text.Draw(t, "last")})
		}
		for n := range rapid.IntRange(0, 4).Draw(t, "lines") {
			line := policy.Trigger{ID: strconv.Itoa(n), Title: text.Draw(t, "line"), Count: policy.Count(rapid.IntRange(0, 3).Draw(t, "count")), Reach: rapid.IntRange(1, 5000).Draw(t, "reach"), Window: policy.Window{Kind: policy.WindowKind(rapid.IntRange(0, 6).Draw(t, "window"))}}
			if line.Count != policy.CountLates {
				line.Of = policy.Side(rapid.IntRange(1, 7).Draw(t, "sides"))
			}
			if line.Window.Kind == policy.RollingDays || line.Window.Kind == policy.RollingWeeks {
				line.Window.N = rapid.IntRange(1, 20).Draw(t, "n")
			}
			p.Triggers = append(p.Triggers, line)
		}
		if rapid.Bool().Draw(t, "ladder") {
			p.Ladders = []policy.Ladder{{ID: "l", Title: text.Draw(t, "ladder's"), Per: policy.Scope(rapid.IntRange(0, 3).Draw(t, "per")), Within: policy.WindowKind(rapid.IntRange(0, 2).Draw(t, "within")),
				Steps: []policy.Step{{From: 2, To: rapid.IntRange(2, 4).Draw(t, "to"), Do: []string{"word", "detention, after school"}[:1]}, {From: 5, Do: []string{"call", "meeting"}}}}}
		}
		form := FormOf(p)
		again, err := Parse(form.Text(), ShippedCodes)
		require.NoError(t, err, string(form.Text()))
		assert.Equal(t, form, FormOf(again), string(form.Text()))
		assert.Equal(t, p.Plainly(), again.Plainly())
		assert.Equal(t, p.Triggers, again.Triggers)
		assert.Equal(t, p.Ladders, again.Ladders)
	})
}

// What is wrong in a form is told by the line of its text, and nothing of it is put right in
// silence.
func TestWhatIsWrongInAFormIsTold(t *testing.T) {
	p, err := Shipped("letters")
	require.NoError(t, err)
	bare := FormOf(p)
	bare.Threshold = "12.5"
	again, err := Parse(bare.Text(), ShippedCodes)
	require.NoError(t, err)
	assert.Equal(t, "12.5 %", FormOf(again).Threshold, "a number above one is in per cent")
	for _, c := range []struct {
		change func(f *PolicyForm)
		want   string
	}{
		{func(f *PolicyForm) { f.ID = "" }, "line 1: id is empty"},
		{func(f *PolicyForm) { f.Threshold = "ten" }, `threshold is "ten"`},
		{func(f *PolicyForm) { f.Threshold = "120 %" }, `threshold is "6/5"`},
		{func(f *PolicyForm) { f.MinPossible = "-1" }, `min_possible is "-1"`},
		{func(f *PolicyForm) { f.MinPossible = "" }, "min_possible is empty"},
		{func(f *PolicyForm) { f.Codes = "nowhere" }, "nowhere"},
		{func(f *PolicyForm) { f.Bands[0].Below = "" }, "below is empty"},
		{func(f *PolicyForm) { f.Bands[1].Below = f.Bands[0].Below }, "bands ascend"},
		{func(f *PolicyForm) { f.Triggers[0].Reach = "3 h" }, `reach is "3 h"`},
		{func(f *PolicyForm) { f.Triggers[1].ID = f.Triggers[0].ID }, "is there twice"},
		{func(f *PolicyForm) { f.Triggers[0].Of = nil }, "of is empty"},
		{func(f *PolicyForm) { f.Triggers[0].Window, f.Triggers[0].N = "rolling_days", "0" }, `rolling_days is "0"`},
		{func(f *PolicyForm) {
			f.Ladders = []LadderForm{{ID: "l", Per: "class", Within: "term", Steps: []StepForm{{From: "2"}}}}
		}, "do is missing or empty"},
	} {
		form := FormOf(p)
		c.change(&form)
		_, err := Parse(form.Text(), ShippedCodes)
		assert.ErrorContains(t, err, c.want, string(form.Text()))
	}
}
