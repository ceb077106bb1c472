package paper_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/files/paper"
)

// A large school's list is on paper while people still walk out.
func TestARollCallIsOnPaperAtOnce(t *testing.T) {
	r := paper.RollCall{School: "Fairlead School", Title: "Roll call, drill, Tue 10 March", AsAt: "10:42"}
	for _, point := range []string{"Pier", "Field", "Slipway", "Yard"} {
		p := paper.RollPoint{Name: point}
		for n := range 500 {
			p.People = append(p.People, paper.RollPerson{Name: fmt.Sprintf("Brightwater-%d, Pella Žofie", n), Form: "7 Halyard", Where: "lesson 2 7Sc2, lab 1 · seen 10:03, lesson 2", Loud: n%50 == 0})
		}
		r.Points = append(r.Points, p)
	}
	began := time.Now()
	content, err := r.PDF()
	require.NoError(t, err)
	t.Log(time.Since(began), len(content))
	assert.Equal(t, "%PDF", string(content[:4]))
	_, err = paper.RollCall{}.PDF()
	assert.ErrorContains(t, err, "nobody")
}
