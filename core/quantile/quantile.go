// Package quantile gives quantiles of numbers as R's type 7 does (Hyndman and Fan 1996).
package quantile

// Of returns the quantile q, 0 to 1, of numbers in order, of which there is one at least.
func Of(sorted []float64, q float64) float64 {
	at := q * float64(len(sorted)-1)
	low := int(at)
	high := min(low+1, len(sorted)-1)
	return sorted[low] + (at-float64(low))*(sorted[high]-sorted[low])
}
