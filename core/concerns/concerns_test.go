package concerns_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"meldung/core/concerns"
	"meldung/core/day"
	"meldung/core/ids"
)

var today = day.MustDate("2026-03-10")

func kinds(f concerns.Found) []concerns.Kind {
	out := []concerns.Kind{}
	for _, s := range f.Concerns {
		out = append(out, s.Kind)
	}
	return out
}

func TestLines(t *testing.T) {
	incident := func(daysAgo day.Date) concerns.Incident { return concerns.Incident{Date: today - daysAgo, Text: "w"} }
	for _, c := range []struct {
		name string
		in   concerns.Input
		want []concerns.Kind
	}{
		{"nothing", concerns.Input{Band: 1}, nil},
		{"no band yet", concerns.Input{Band: -1}, nil},
		{"chronic", concerns.Input{Band: 2}, []concerns.Kind{concerns.AbsenceBand}},
		{"two unexcused days", concerns.Input{Band: -1, UnexcusedDays: 2}, nil},
		{"three unexcused days", concerns.Input{Band: -1, UnexcusedDays: 3}, []concerns.Kind{concerns.UnexcusedRun}},
		{"one incident", concerns.Input{Band: -1, Incidents: []concerns.Incident{incident(2)}}, nil},
		{"two incidents within 30 days", concerns.Input{Band: -1, Incidents: []concerns.Incident{incident(0), incident(29)}}, []concerns.Kind{concerns.Incidents}},
		{"the second is 30 days ago", concerns.Input{Band: -1, Incidents: []concerns.Incident{incident(0), incident(30)}}, nil},
		{"an incident still to come", concerns.Input{Band: -1, Incidents: []concerns.Incident{incident(1), incident(-1)}}, nil},
		{"failing a course", concerns.Input{Band: -1, Failing: []concerns.Failing{{Course: "Art", Grade: "F"}}}, []concerns.Kind{concerns.FailingCourse}},
	} {
		found := concerns.Find([]concerns.Input{c.in}, concerns.Usual, today)
		if c.want == nil {
			assert.Empty(t, found, c.name)
			continue
		}
		assert.Equal(t, c.want, kinds(found[0]), c.name)
	}
}

func TestNewFirstThenByNumberThenTheOldest(t *testing.T) {
	const (
		fresh ids.Student = iota + 1
		both
		oldest
		old
		weekOld
	)
	band := func(who ids.Student, since day.Date) concerns.Input {
		return concerns.Input{Student: who, Band: 2, BandSince: since}
	}
	two := band(both, today-90)
	two.UnexcusedDays, two.UnexcusedOn = 4, today-20
	found := concerns.Find([]concerns.Input{band(old, today-60), band(fresh, today-6), band(oldest, today-100), two, band(weekOld, today-7)}, concerns.Usual, today)
	got := []ids.Student{}
	for _, f := range found {
		got = append(got, f.Student)
	}
	assert.Equal(t, []ids.Student{fresh, both, oldest, old, weekOld}, got)
	assert.True(t, found[0].New)
	assert.False(t, found[1].New)
}
