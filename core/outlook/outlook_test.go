package outlook_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"meldung/core/outlook"
)

func num(x float64) outlook.Value { return outlook.Value{Known: true, Number: x} }
func word(w string) outlook.Value { return outlook.Value{Known: true, Word: w} }

// Drawn by a hidden law: log-odds −1 + 0.8·absence − 0.5·points + 0.7 for coming by the Heron.
var (
	inputs = []outlook.Input{{Name: "absence", Number: true}, {Name: "points", Number: true}, {Name: "ferry"}}
	law    = map[string]float64{"absence": 0.8, "points": -0.5, "ferryHeron": 0.7}
)

func drawn(seed uint64, n int) []outlook.Row {
	r := rand.New(rand.NewPCG(seed, 1))
	var rows []outlook.Row
	for i := range n {
		ferry := []string{"Petrel", "Heron", "Coot"}[r.IntN(3)]
		x, y := r.NormFloat64(), r.NormFloat64()
		eta := -1 + law["absence"]*x + law["points"]*y
		if ferry == "Heron" {
			eta += law["ferryHeron"]
		}
		rows = append(rows, outlook.Row{Student: fmt.Sprintf("s%05d", i), Outcome: r.Float64() < 1/(1+math.Exp(-eta)), Values: []outlook.Value{num(x), num(y), word(ferry)}})
	}
	return rows
}

func fitted(t require.TestingT, rows []outlook.Row, ridge float64) *outlook.Fit {
	f, err := outlook.New(outlook.NewHistory(inputs, rows), ridge)
	require.NoError(t, err)
	return f
}

// The hidden law comes out within three standard errors, and what it predicts happens as often as it says.
func TestTheHiddenLaw(t *testing.T) {
	f := fitted(t, drawn(1, 4000), 0)
	for i, term := range f.Terms {
		c := f.Coefficients[i]
		assert.InDelta(t, law[term.Name], c.Estimate, 3*c.StdError, term.Name)
	}
	trust := f.Trust()
	for _, g := range trust.Calibration {
		assert.Equal(t, 400, g.N)
		assert.InDelta(t, g.Predicted, g.Observed, 4*math.Sqrt(g.Predicted*(1-g.Predicted)/400))
	}
	assert.Greater(t, trust.AUC, 0.65)
	assert.Less(t, trust.Brier, f.Always(), "better than always the average")
	assert.False(t, f.Few())
}

// With a ridge the gradient of the penalised likelihood is zero at the estimates: the penalty is over the
// standardised columns, a category's too, and the intercept is free.
func TestRidge(t *testing.T) {
	rows, ridge := drawn(2, 300), 3.0
	f := fitted(t, rows, ridge)
	n := float64(len(rows))
	var sums [5]float64
	column := func(r outlook.Row, t int) float64 {
		term := f.Terms[t]
		switch {
		case inputs[term.Input].Number:
			return r.Values[term.Input].Number
		case r.Values[term.Input].Word == term.Value:
			return 1
		}
		return 0
	}
	for _, r := range rows {
		eta := f.Intercept.Estimate
		for i := range f.Terms {
			eta += f.Coefficients[i].Estimate * column(r, i)
		}
		miss := -1 / (1 + math.Exp(-eta))
		if r.Outcome {
			miss++
		}
		sums[0] += miss
		for i := range f.Terms {
			sums[i+1] += miss * column(r, i)
		}
	}
	assert.InDelta(t, 0, sums[0], 1e-6)
	for i := range f.Terms {
		mean, square := 0.0, 0.0
		for _, r := range rows {
			mean += column(r, i) / n
			square += column(r, i) * column(r, i) / n
		}
		variance := square - mean*mean
		assert.InDelta(t, ridge*variance*f.Coefficients[i].Estimate, sums[i+1], 1e-6, f.Terms[i].Name)
	}
	assert.Less(t, math.Abs(f.Coefficients[0].Estimate), math.Abs(fitted(t, rows, 0).Coefficients[0].Estimate))
}

func TestWhatIsLeftOut(t *testing.T) {
	in := []outlook.Input{{Name: "a", Number: true}, {Name: "constant", Number: true}, {Name: "twice", Number: true}, {Name: "one"}, {Name: "nearly", Number: true}}
	var rows []outlook.Row
	for i, r := range drawn(3, 200) {
		a := r.Values[0].Number
		nearly := a + 1e-5*float64(i%3)
		rows = append(rows, outlook.Row{Student: r.Student, Outcome: r.Outcome, Values: []outlook.Value{num(a), num(7), num(3 - 2*a), word("same"), num(nearly)}})
	}
	rows = append(rows, outlook.Row{Student: "x", Values: []outlook.Value{num(1), num(1), {}, word("other"), num(1)}})
	h := outlook.NewHistory(in, rows)
	assert.Equal(t, 1, h.LeftOut)
	f, err := outlook.New(h, 0)
	require.NoError(t, err)
	var out []bool
	for _, term := range f.Terms {
		out = append(out, term.Out)
	}
	assert.Equal(t, []bool{false, true, true, true, false}, out, "a hundred thousandth beside the columns before is enough")
	o := f.Of([]outlook.Value{num(0), {}, num(0), word("never seen"), num(0)})
	assert.Equal(t, []int{1, 3}, o.Missing, "named though they are left out")
	assert.Zero(t, o.Shares[1])
}

func TestTooFew(t *testing.T) {
	rows := drawn(4, 400)
	with := 0
	var few []outlook.Row
	for _, r := range rows {
		if r.Outcome {
			with++
		}
		if !r.Outcome || with <= 19 {
			few = append(few, r)
		}
	}
	_, err := outlook.New(outlook.NewHistory(inputs, few), 0)
	var refused *outlook.TooFew
	require.ErrorAs(t, err, &refused)
	assert.Equal(t, 19, refused.With)
	assert.ErrorContains(t, err, "19 rows have outcome 1")
	_, err = outlook.New(outlook.NewHistory(inputs, nil), 1)
	assert.ErrorAs(t, err, &refused)
}

// What tells the outcomes apart without fail is refused and named; with a ridge it fits.
func TestSeparation(t *testing.T) {
	rows := drawn(5, 200)
	for i := range rows {
		x := -1.0
		if rows[i].Outcome {
			x = 1 + float64(i%5)
		}
		rows[i].Values[0] = num(x)
	}
	_, err := outlook.New(outlook.NewHistory(inputs, rows), 0)
	var refused *outlook.Separated
	require.ErrorAs(t, err, &refused)
	assert.Equal(t, []string{"absence"}, refused.Alone)
	assert.ErrorContains(t, err, "ridge")
	f := fitted(t, rows, 1)
	assert.Greater(t, f.Of(rows[0].Values).Probability, 0.0)

	// At or below, with a tie in the middle.
	for i := range rows {
		x := 0.0
		if rows[i].Outcome {
			x = float64(i % 2)
		}
		rows[i].Values[0] = num(x)
	}
	_, err = outlook.New(outlook.NewHistory(inputs, rows), 0)
	require.ErrorAs(t, err, &refused)
	assert.Equal(t, []string{"absence"}, refused.Alone)

	// A category with a value of one outcome only.
	rows = drawn(6, 200)
	for i := range rows {
		if rows[i].Outcome && i%2 == 0 {
			rows[i].Values[2] = word("Sandpiper")
		}
	}
	_, err = outlook.New(outlook.NewHistory(inputs, rows), 0)
	require.ErrorAs(t, err, &refused)
	assert.Equal(t, []string{"ferry"}, refused.Alone)
}

// The shares add up, the range holds the probability, and its ends are the best and the worst of all corners.
func TestTheOutlookOfAStudent(t *testing.T) {
	rows := drawn(7, 400)
	f := fitted(t, rows, 0)
	rapid.Check(t, func(rt *rapid.T) {
		values := []outlook.Value{{}, {}, {}}
		if rapid.Bool().Draw(rt, "absence known") {
			values[0] = num(rapid.Float64Range(-3, 3).Draw(rt, "absence"))
		}
		if rapid.Bool().Draw(rt, "points known") {
			values[1] = num(rapid.Float64Range(-3, 3).Draw(rt, "points"))
		}
		if w := rapid.SampledFrom([]string{"", "Heron", "Coot", "Petrel", "never seen"}).Draw(rt, "ferry"); w != "" {
			values[2] = word(w)
		}
		o := f.Of(values)
		sum := f.MeanLogOdds
		for _, s := range o.Shares {
			sum += s
		}
		assert.InDelta(rt, o.LogOdds, sum, 1e-9)
		assert.InDelta(rt, o.Probability, 1/(1+math.Exp(-o.LogOdds)), 1e-12)
		assert.LessOrEqual(rt, o.Low, o.Probability)
		assert.GreaterOrEqual(rt, o.High, o.Probability)
		low, high := o.Probability, o.Probability
		for _, a := range ends(rows, 0, values[0]) {
			for _, b := range ends(rows, 1, values[1]) {
				for _, c := range ferries(values[2]) {
					p := f.Of([]outlook.Value{a, b, c}).Probability
					low, high = min(low, p), max(high, p)
				}
			}
		}
		assert.InDelta(rt, low, o.Low, 1e-9)
		assert.InDelta(rt, high, o.High, 1e-9)
	})
	assert.Equal(t, f.Of(rows[3].Values).Low, f.Of(rows[3].Values).High, "nothing is missing")
}

// ends are a known value, or the history's 10th and 90th percentile by counting, as 400 rows allow it.
func ends(rows []outlook.Row, input int, v outlook.Value) []outlook.Value {
	if v.Known {
		return []outlook.Value{v}
	}
	at := func(q float64) float64 {
		lower, upper := math.Inf(-1), math.Inf(1)
		rank := q * float64(len(rows)-1)
		for _, r := range rows {
			x, below := r.Values[input].Number, 0
			for _, o := range rows {
				if o.Values[input].Number < x {
					below++
				}
			}
			if below == int(rank) {
				lower = x
			}
			if below == int(rank)+1 {
				upper = x
			}
		}
		return lower + (rank-math.Floor(rank))*(upper-lower)
	}
	return []outlook.Value{num(at(0.1)), num(at(0.9))}
}

func ferries(v outlook.Value) []outlook.Value {
	if v.Known && v.Word != "never seen" {
		return []outlook.Value{v}
	}
	return []outlook.Value{word("Heron"), word("Coot"), word("Petrel")}
}

// A move that refitting would make by itself is noise.
func TestNoise(t *testing.T) {
	f := fitted(t, drawn(8, 330), 0)
	steps := 0
	n := f.Noise(1, func(done, of int) bool { steps++; return done < of })
	require.NotNil(t, n)
	assert.Equal(t, 200+n.Again, steps)
	base := []outlook.Value{num(0), num(0), word("Coot")}
	moved, _ := n.Moved(base, base)
	assert.False(t, moved)
	moved, up := n.Moved(base, []outlook.Value{num(1.5), num(0), word("Coot")})
	assert.True(t, moved)
	assert.True(t, up)
	moved, up = n.Moved(base, []outlook.Value{num(-1.5), num(0), word("Coot")})
	assert.True(t, moved)
	assert.False(t, up)
	assert.Nil(t, f.Noise(1, func(done, _ int) bool { return done < 5 }), "ended by whoever watches")
	again := f.Noise(1, func(int, int) bool { return true })
	assert.Equal(t, n.Again, again.Again, "the same each time")
}

func TestErrorsAreTold(t *testing.T) {
	assert.ErrorContains(t, &outlook.Separated{Ridge: true}, "larger ridge")
	assert.ErrorContains(t, &outlook.Separated{}, "give a ridge")
}

// A thousand past students, twelve inputs and 200 refits.
func BenchmarkNoise(b *testing.B) {
	r := rand.New(rand.NewPCG(9, 1))
	var in []outlook.Input
	for i := range 12 {
		in = append(in, outlook.Input{Name: fmt.Sprint("x", i), Number: true})
	}
	var rows []outlook.Row
	for i := range 1000 {
		row := outlook.Row{Student: fmt.Sprint(i)}
		eta := -1.0
		for range in {
			x := r.NormFloat64()
			eta += 0.2 * x
			row.Values = append(row.Values, num(x))
		}
		row.Outcome = r.Float64() < 1/(1+math.Exp(-eta))
		rows = append(rows, row)
	}
	h := outlook.NewHistory(in, rows)
	for b.Loop() {
		f, err := outlook.New(h, 0)
		require.NoError(b, err)
		f.Trust()
		require.NotNil(b, f.Noise(1, func(int, int) bool { return true }))
	}
}
