package policy_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"meldung/core/policy"
)

func TestFractions(t *testing.T) {
	for text, want := range map[string]string{"1/10": "1/10", "0.1": "1/10", "0.50": "1/2", "1": "1", "2/4": "1/2", "0.333333333333333333": "333333333333333333/1000000000000000000", "007": "7", "010/020": "1/2", "010.5": "21/2"} {
		f, err := policy.ParseFraction(text)
		require.NoError(t, err, text)
		assert.Equal(t, want, f.String(), text)
	}
	for _, text := range []string{"", ".1", "1.", "-1", "1/0", "1/-2", "1e3", "1/2/3", "a", " 1", "1/ 2", "0x1"} {
		_, err := policy.ParseFraction(text)
		assert.Error(t, err, text)
	}
}

// Large and small numbers take different ways to the same result.
func TestFractionsOfAnySize(t *testing.T) {
	huge, err := policy.ParseFraction("100000000000000000000001/1000000000000000000000000")
	require.NoError(t, err)
	assert.Equal(t, 1, huge.Cmp(11, 100))
	assert.Equal(t, -1, huge.Cmp(1, 10))
	assert.Equal(t, 20, huge.CeilTimes(190))
	assert.Equal(t, 19, huge.RoundTimes(190))
	assert.Equal(t, 189, huge.FloorUnder(19))
	_, err = policy.ParseDecimal("1/2")
	assert.Error(t, err)
}

func TestPercentIsHalfAwayFromZero(t *testing.T) {
	assert.Equal(t, "9.7", policy.Percent(11, 113))
	assert.Equal(t, "0.1", policy.Percent(1, 2000), "0.05 goes up")
	assert.Equal(t, "0.0", policy.Percent(1, 2001))
	assert.Equal(t, "100.0", policy.Percent(7, 7))
	assert.Equal(t, "", policy.Percent(0, 0), "nothing possible is no rate")
}

func TestPointsBetweenShares(t *testing.T) {
	for _, x := range []struct {
		a, n, b, m int
		want       string
	}{{62, 1000, 5, 100, "+1.2"}, {47, 1000, 5, 100, "−0.3"}, {1, 20, 5, 100, "0.0"}, {1, 0, 1, 2, ""}, {1, 2, 1, 0, ""}, {5005, 10000, 1, 2, "+0.1"}, {0, 3, 7, 7, "−100.0"},
		{4749, 100000, 5251, 100000, "−0.6"}} { // 4.7 beside 5.3, though 0.502 apart
		assert.Equal(t, x.want, policy.PointsBetween(x.a, x.n, x.b, x.m))
	}
}

func TestWholeNumbersFromFractions(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		q := rapid.IntRange(1, 40).Draw(t, "q")
		p := rapid.IntRange(1, q).Draw(t, "p")
		n := rapid.IntRange(0, 1500).Draw(t, "n")
		f := policy.NewFraction(int64(p), int64(q))
		c := f.CeilTimes(n)
		assert.True(t, c*q >= p*n && (c-1)*q < p*n, "ceil")
		r := f.RoundTimes(n)
		assert.True(t, 2*r*q >= 2*p*n-q+1-1 && 2*(r)*q <= 2*p*n+q, "round")
		a := rapid.IntRange(0, 300).Draw(t, "a")
		u := f.FloorUnder(a)
		assert.True(t, u*p <= a*q && (u+1)*p > a*q, "floor")
	})
	assert.Equal(t, 3, policy.NewFraction(1, 2).RoundTimes(5), "2.5 goes up")
}

// A threshold is compared with the exact value, never with the rounded one.
func TestBandsAreExactAndTheirLowerBoundInclusive(t *testing.T) {
	tenth := policy.NewFraction(1, 10)
	p := policy.Policy{MinPossible: 10, Bands: []policy.Band{{Name: "under", Below: &tenth}, {Name: "over"}}}
	place, ok := p.Band(19, 190)
	assert.True(t, ok)
	assert.Equal(t, 1, place)
	place, _ = p.Band(9999, 100000) // shown as 10.0
	assert.Equal(t, 0, place)
	_, ok = p.Band(9, 9)
	assert.False(t, ok, "under ten possible days nobody is banded")
	_, ok = p.Band(0, 0)
	assert.False(t, ok)
}

func TestCodeSets(t *testing.T) {
	_, err := policy.NewCodeSet("x", []policy.Code{{Code: "L", Counts: policy.Void, Late: true}})
	assert.Error(t, err)
	set, err := policy.NewCodeSet("x", []policy.Code{{Code: "P"}, {Code: "p"}})
	require.NoError(t, err, "codes compare exactly")
	_, ok := set.Find("Q")
	assert.False(t, ok)
	assert.Equal(t, policy.Excused, policy.Code{Counts: policy.Attended, MinutesAsExcused: true}.Side())
	assert.Equal(t, policy.Unexcused, policy.Code{Counts: policy.Unexcused, MinutesAsExcused: true}.Side())
}
