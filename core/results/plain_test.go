package results_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"meldung/core/policy"
	"meldung/core/results"
)

func TestARuleInWords(t *testing.T) {
	words := strings.Join(results.DefaultRule().Plainly(), "\n")
	assert.Contains(t, words, "Points: A 4, A- 3.7, B+ 3.3")
	assert.Contains(t, words, "Nearly failing: D-.")
	assert.Contains(t, words, "is earned at 0.5 points or more")
	assert.Contains(t, words, "No credits are expected")
	from := policy.NewFraction(50, 1)
	numbers := &results.Rule{Scale: []results.Grade{{Name: "good", Points: policy.NewFraction(2, 1), From: &from, Written: "50"}}, Line: policy.NewFraction(1, 1),
		Expected: []results.YearCredits{{Year: "9", By: [2]policy.Fraction{policy.NewFraction(5, 2), policy.NewFraction(5, 1)}}}}
	words = strings.Join(numbers.Plainly(), "\n")
	assert.Contains(t, words, "good from 50: 2")
	assert.Contains(t, words, "year 9 2.5 and 5")
	assert.NotContains(t, words, "Failing")
}

// By another rule the same grades count anew; what it can't read is no grade, and the book stays.
func TestABookByAnotherRule(t *testing.T) {
	b := shelf(t, results.DefaultRule(), []string{"9"}, []string{"FDF", "AAA"})
	assert.Equal(t, results.Earned, b.Sum(0, 2).Standings[0].State)
	strict := results.DefaultRule()
	strict.Line = policy.NewFraction(1, 1)
	assert.Equal(t, results.Lost, b.By(strict).Sum(0, 2).Standings[0].State)
	short := results.DefaultRule()
	short.Scale = short.Scale[1:] // no A
	sum := b.By(short).Sum(0, 2)
	assert.Equal(t, results.Lost, sum.Standings[1].State, "over, and nothing that can be read")
	assert.Equal(t, "A", sum.Standings[1].Parts[0].Written)
	assert.Equal(t, results.Earned, b.Sum(0, 2).Standings[1].State)
}
