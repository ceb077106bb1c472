package results_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"meldung/core/day"
	"meldung/core/policy"
	"meldung/core/results"
)

func TestHowAStudentStandsWithAnItem(t *testing.T) {
	due := day.MustDate("2026-03-09")
	points := policy.NewFraction(12, 1)
	zero := policy.NewFraction(0, 1)
	item := results.Item{Title: "Essay", Due: &due, Most: policy.NewFraction(20, 1)}
	for _, c := range []struct {
		name  string
		item  results.Item
		score results.Score
		at    day.Date
		state results.ItemState
		share string
	}{
		{"scored", item, results.Score{Points: &points, Handed: true}, due, results.ItemScored, "3/5"},
		{"nothing right is a score", item, results.Score{Points: &zero, Handed: true}, due, results.ItemScored, "0"},
		{"handed in, without points", item, results.Score{Handed: true}, due, results.ItemHanded, ""},
		{"due today, and nothing there", item, results.Score{}, due, results.ItemNever, ""},
		{"due tomorrow", item, results.Score{}, due - 1, results.ItemOpen, ""},
		{"no date", results.Item{Most: item.Most}, results.Score{}, due, results.ItemOpen, ""},
		{"exempt, whatever else", item, results.Score{Exempt: true}, due + 9, results.ItemExempt, ""},
		{"no maximum, no share", results.Item{Due: &due}, results.Score{Points: &points}, due, results.ItemHanded, ""},
	} {
		state, share := c.item.Stands(c.score, c.at)
		assert.Equal(t, c.state, state, c.name)
		text := ""
		if share != nil {
			text = share.String()
		}
		assert.Equal(t, c.share, text, c.name)
	}
	assert.Equal(t, "12", points.String(), "what is read stays as it is")
}
