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
	Again int // draws that did not fit and were made again
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
		n.refit = append(n.refit, m)
	}
	return n
}

// Moved reports whether an outlook has moved between two sets of values beyond noise: 0 does not lie between
// the 5th and the 95th percentile of the difference over the refits. Up is a larger probability.
func (n *Noise) Moved(before, after []Value) (moved, up bool) {
	differences := make([]float64, len(n.refit))
	for i, m := range n.refit {
		again := *n.fit
		again.model = m
		again.MeanLogOdds = again.meanLogOdds()
		differences[i] = again.Of(after).Probability - again.Of(before).Probability
	}
	return outside(differences)
}

func outside(differences []float64) (moved, up bool) {
	slices.Sort(differences)
	low, high := quantile.Of(differences, early), quantile.Of(differences, late)
	return low > 0 || high < 0, low > 0
}
