package signals_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"meldung/core/day"
	"meldung/core/signals"
)

var today = day.MustDate("2026-03-10")

func kinds(f signals.Found) []signals.Kind {
	out := []signals.Kind{}
	for _, s := range f.Signals {
		out = append(out, s.Kind)
	}
	return out
}

func TestLines(t *testing.T) {
	incident := func(daysAgo day.Date) signals.Incident { return signals.Incident{Date: today - daysAgo, Words: "w"} }
	for _, c := range []struct {
		name string
		in   signals.Input
		want []signals.Kind
	}{
		{"nothing", signals.Input{Band: 1}, nil},
		{"no band yet", signals.Input{Band: -1}, nil},
		{"chronic", signals.Input{Band: 2}, []signals.Kind{signals.AbsenceBand}},
		{"two unexcused days", signals.Input{Band: -1, UnexcusedDays: 2}, nil},
		{"three unexcused days", signals.Input{Band: -1, UnexcusedDays: 3}, []signals.Kind{signals.UnexcusedRun}},
		{"one incident", signals.Input{Band: -1, Incidents: []signals.Incident{incident(2)}}, nil},
		{"two incidents within 30 days", signals.Input{Band: -1, Incidents: []signals.Incident{incident(0), incident(29)}}, []signals.Kind{signals.Incidents}},
		{"the second is 30 days ago", signals.Input{Band: -1, Incidents: []signals.Incident{incident(0), incident(30)}}, nil},
		{"an incident still to come", signals.Input{Band: -1, Incidents: []signals.Incident{incident(1), incident(-1)}}, nil},
		{"failing a course", signals.Input{Band: -1, Failing: []signals.Failing{{Course: "Art", Grade: "F"}}}, []signals.Kind{signals.FailingCourse}},
	} {
		found := signals.Find([]signals.Input{c.in}, signals.Usual, today)
		if c.want == nil {
			assert.Empty(t, found, c.name)
			continue
		}
		assert.Equal(t, c.want, kinds(found[0]), c.name)
	}
}

func TestNewFirstThenByNumberThenTheOldest(t *testing.T) {
	band := func(id string, since day.Date) signals.Input {
		return signals.Input{Student: id, Band: 2, BandSince: since}
	}
	both := band("two, old", today-90)
	both.UnexcusedDays, both.UnexcusedOn = 4, today-20
	found := signals.Find([]signals.Input{band("old", today-60), band("new", today-6), band("older", today-100), both, band("just not new", today-7)}, signals.Usual, today)
	got := []string{}
	for _, f := range found {
		got = append(got, f.Student)
	}
	assert.Equal(t, []string{"new", "two, old", "older", "old", "just not new"}, got)
	assert.True(t, found[0].New)
	assert.False(t, found[1].New)
}
