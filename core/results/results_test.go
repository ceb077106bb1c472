package results_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"meldung/core/results"
)

func TestFailingCourses(t *testing.T) {
	b := shelf(t, results.DefaultRule(), []string{"9"},
		[]string{"FFF", "BBB"}, // failing on and on
		[]string{"FC", "F?F"},  // recovered; and a quarter without a grade breaks no run
		[]string{"FDF", "BFW"}, // and fallen again; withdrawn
		[]string{"---", "--F"},
	)
	failing := func(s int, at results.Quarter) (out [][2]int) {
		for _, f := range b.Failing(s, at) {
			out = append(out, [2]int{f.Course, int(f.Since)})
		}
		return out
	}
	assert.Equal(t, [][2]int{{0, 0}}, failing(0, 2))
	assert.Equal(t, [][2]int{{1, 0}}, failing(1, 2))
	assert.Equal(t, [][2]int{{0, 0}, {1, 0}}, failing(1, 0))
	assert.Equal(t, [][2]int{{0, 2}, {1, 1}}, failing(2, 2))
	assert.Equal(t, [][2]int{{1, 2}}, failing(3, 2))
	assert.Empty(t, failing(3, 1))
}
