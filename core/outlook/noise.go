package outlook

import (
	"math/rand/v2"
	"slices"

	"meldung/core/quantile"
)

// The refits from which it is told whether an outlook has moved.
const (
	refits    = 200
	mostDraws = 1000
	early     = 0.05 // quantiles of a move between which 0 must not lie
	late      = 0.95
)

// Noise is a fit made again on histories drawn anew.
type Noise struct {
	fit   *Fit
	refit []model
	mean  []float64 // log-odds of the mean student by each refit
	Again int       // draws that did not fit and were made again
}

// Noise fits again 200 times, each time to as many rows drawn with replacement from a fixed seed, with the
// same terms and ridge. Draws that do not converge or that separate are made again. Each step is told: how
// many refits there are of how many; false ends it, and nil is returned, as when 1,000 draws were too few.
func (f *Fit) Noise(seed uint64, step func(done, of int) bool) *Noise {
	r := rand.New(rand.NewPCG(seed, 0))
	var keep []int
	for i, t := range f.Terms {
		if !t.Out {
			keep = append(keep, i)
		}
	}
	n := &Noise{fit: f}
	for draws := 0; len(n.refit) < refits; draws++ {
		if draws == mostDraws || !step(len(n.refit), refits) {
			return nil
		}
		rows := make([]int, len(f.History.Rows))
		for i := range rows {
			rows[i] = r.IntN(len(rows))
		}
		m := f.design.fit(rows, f.design.independent(rows, keep), f.Ridge)
		if !m.converged || f.Ridge == 0 && m.moved > mostMoved {
			n.Again++
			continue
		}
		again := *f
		again.model = m
		n.refit, n.mean = append(n.refit, m), append(n.mean, again.meanLogOdds())
	}
	return n
}

// Moved reports whether an outlook has moved between two sets of values beyond noise: 0 does not lie between
// the 5th and the 95th percentile of the difference over the refits. Up is a larger probability.
func (n *Noise) Moved(before, after []Value) (moved, up bool) {
	differences := make([]float64, len(n.refit))
	from, to := n.fit.columns(before), n.fit.columns(after)
	for i, m := range n.refit {
		differences[i] = n.chance(m, n.mean[i], to) - n.chance(m, n.mean[i], from)
	}
	return outside(differences)
}

// chance is the probability by a refit, of what the columns of a student are beside the mean student's.
func (n *Noise) chance(m model, mean float64, columns []float64) float64 {
	for t, x := range columns {
		mean += m.beta[t] * x
	}
	return chance(mean)
}

// columns are those of a student's values beside the mean student's; 0 where a number is missing, and of the most
// frequent value where a category is.
func (f *Fit) columns(values []Value) []float64 {
	out := make([]float64, len(f.Terms))
	for t, term := range f.Terms {
		if term.Out {
			continue
		}
		v, number := values[term.Input], f.History.Inputs[term.Input].Number
		if !number {
			v = f.wordOr(term.Input, v)
		}
		if v.Known {
			out[t] = term.of(v, number) - f.Means[t]
		}
	}
	return out
}

func outside(differences []float64) (moved, up bool) {
	slices.Sort(differences)
	low, high := quantile.Of(differences, early), quantile.Of(differences, late)
	return low > 0 || high < 0, low > 0
}
