package outlook

import (
	"math"
	"slices"

	"meldung/core/quantile"
)

// Outlook is what a fit says of a student of today.
type Outlook struct {
	Probability float64
	Low, High   float64   // as the missing inputs run from the best to the worst
	LogOdds     float64   // of the probability
	Missing     []int     // inputs that are not known, in the fit or left out
	Shares      []float64 // of each input, in log-odds: with the mean student's they add up to LogOdds
}

// known are the ends between which a missing input runs, and what it is taken at.
const (
	lowest  = 0.1 // quantiles of a number
	highest = 0.9
	part    = 10 // of a category, any value of a tenth of the history or more
)

// Of returns the outlook of a student with a value of each input. A missing number is taken at the history's
// mean, a category at its most frequent value, the first in byte order among equals; a word that the history
// lacks is missing.
func (f *Fit) Of(values []Value) Outlook {
	out := Outlook{Shares: make([]float64, len(f.History.Inputs)), LogOdds: f.MeanLogOdds}
	low, high := f.MeanLogOdds, f.MeanLogOdds
	for i := range f.History.Inputs {
		s := f.span(i, values[i])
		out.Shares[i] = s.at
		out.LogOdds += s.at
		low, high = low+s.low, high+s.high
		if s.missing {
			out.Missing = append(out.Missing, i)
		}
	}
	out.Probability = chance(out.LogOdds)
	out.Low, out.High = min(chance(low), out.Probability), max(chance(high), out.Probability)
	return out
}

// span is what an input gives to the log-odds beside the mean student, and between which ends.
type span struct {
	at, low, high float64
	missing       bool
}

func (f *Fit) span(input int, v Value) span {
	if f.History.Inputs[input].Number {
		return f.numberSpan(input, v)
	}
	words, count := f.History.words(input)
	if v.Known && count[v.Word] > 0 {
		at := f.share(input, v)
		return span{at: at, low: at, high: at}
	}
	s := span{at: f.share(input, f.wordOr(input, v)), missing: true, low: math.Inf(1), high: math.Inf(-1)}
	for _, w := range words {
		if count[w]*part >= len(f.History.Rows) {
			at := f.share(input, Value{Known: true, Word: w})
			s.low, s.high = min(s.low, at), max(s.high, at)
		}
	}
	if s.low > s.high { // no value is that frequent
		s.low, s.high = s.at, s.at
	}
	return s
}

// wordOr is the value of a category, or its most frequent one where it is missing.
func (f *Fit) wordOr(input int, v Value) Value {
	words, count := f.History.words(input)
	if v.Known && count[v.Word] > 0 {
		return v
	}
	most := words[0]
	for _, w := range words {
		if count[w] > count[most] {
			most = w
		}
	}
	return Value{Known: true, Word: most}
}

func (f *Fit) numberSpan(input int, v Value) span {
	if v.Known {
		at := f.share(input, v)
		return span{at: at, low: at, high: at}
	}
	all := make([]float64, len(f.History.Rows))
	for i, r := range f.History.Rows {
		all[i] = r.Values[input].Number
	}
	slices.Sort(all)
	a := f.share(input, Value{Known: true, Number: quantile.Of(all, lowest)})
	b := f.share(input, Value{Known: true, Number: quantile.Of(all, highest)})
	return span{missing: true, low: min(a, b), high: max(a, b)}
}

// share is Σ β(x − mean) over the columns of an input.
func (f *Fit) share(input int, v Value) float64 {
	sum := 0.0
	for t, term := range f.Terms {
		if term.Input == input && !term.Out {
			sum += f.model.beta[t] * (term.of(v, f.History.Inputs[input].Number) - f.Means[t])
		}
	}
	return sum
}
