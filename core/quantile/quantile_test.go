package quantile_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"meldung/core/quantile"
)

// As quantile(c(1, 2, 4, 8, 16), c(0, 0.1, 0.5, 0.9, 1)) of R says.
func TestTypeSeven(t *testing.T) {
	numbers := []float64{1, 2, 4, 8, 16}
	for q, want := range map[float64]float64{0: 1, 0.1: 1.4, 0.5: 4, 0.9: 12.8, 1: 16} {
		assert.InDelta(t, want, quantile.Of(numbers, q), 1e-12)
	}
	assert.Equal(t, 3.0, quantile.Of([]float64{3}, 0.9))
}
