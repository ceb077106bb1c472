package absence

import (
	"cmp"
	"math/big"
	"slices"

	"meldung/core/policy"
)

// Quantiles returns the given quantiles of students' absence rates, exactly: with
// k rates in order x₀ … xₖ₋₁, the quantile p lies at h = (k − 1)p, between the
// rates on either side in proportion (type 7 of Hyndman and Fan, Sample Quantiles
// in Statistical Packages, The American Statistician 50, 1996). Students with
// nothing possible have no rate and are left out; the result is nil where none has
// one. Each p lies from 0 to 1.
func Quantiles(figures []Figures, at ...policy.Fraction) []policy.Fraction {
	var rates []*big.Rat
	for _, f := range figures {
		if f.Possible > 0 {
			rates = append(rates, big.NewRat(int64(f.Absent), int64(f.Possible)))
		}
	}
	if len(rates) == 0 {
		return nil
	}
	slices.SortFunc(rates, func(a, b *big.Rat) int { return a.Cmp(b) })
	var out []policy.Fraction
	for _, p := range at {
		h := new(big.Rat).Mul(p.Rat(), big.NewRat(int64(len(rates)-1), 1))
		below := int(new(big.Int).Div(h.Num(), h.Denom()).Int64())
		rest := h.Sub(h, big.NewRat(int64(below), 1))
		step := new(big.Rat).Sub(rates[min(below+1, len(rates)-1)], rates[below])
		out = append(out, policy.FractionOf(step.Mul(step, rest).Add(step, rates[below])))
	}
	return out
}

// Bin counts students whose rates lie in the same whole per cent and the same band.
type Bin struct {
	From  int // tenths of a per cent
	Band  int // −1 for none
	Count int
}

// Bins returns the distribution of students' absence rates in columns one per cent wide,
// by rate and then by band. Students with nothing possible are in none.
func Bins(figures []Figures) []Bin {
	count := map[Bin]int{}
	for _, f := range figures {
		if f.Possible > 0 {
			count[Bin{From: f.Absent * 100 / f.Possible * 10, Band: f.Band}]++
		}
	}
	out := make([]Bin, 0, len(count))
	for b, n := range count {
		b.Count = n
		out = append(out, b)
	}
	slices.SortFunc(out, func(a, b Bin) int { return cmp.Or(a.From-b.From, a.Band-b.Band) })
	return out
}

// DistanceFrom returns how far a rate lies from a line, in millionths, on either side;
// farther than any rate where nothing was possible.
func (f Figures) DistanceFrom(line policy.Fraction) int {
	if f.Possible == 0 {
		return 1 << 40
	}
	d := f.Absent*1_000_000/f.Possible - line.RoundTimes(1_000_000)
	return max(d, -d)
}
