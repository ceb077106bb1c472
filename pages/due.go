package pages

import (
	"fmt"
	"sort"

	"meldung/core/absence"
	"meldung/core/policy"
	"meldung/store"
	"meldung/work"
)

// DueView is a line that a student reached, or a step of a ladder that is due.
type DueView struct {
	Student StudentRef `json:"student"`
	Policy  string     `json:"policy" doc:"The policy's title"`
	Kind    string     `json:"kind" enum:"line,step,band"`
	Title   string     `json:"title"`
	Text    string     `json:"text" doc:"What was counted"`
	Date    string     `json:"date"`
	When    string     `json:"when" doc:"The date in words"`
	Holds   bool       `json:"holds" doc:"The count still stands at or above the line"`
}

// Due lists what the students reached within a span, newest first.
func Due(v work.Section, measure *absence.Measure, students []store.Student, m work.Moment, span absence.Span) []DueView {
	out := []DueView{}
	for _, s := range students {
		out = append(out, DueOf(v, measure, measure.Year(v.Place(s.ID), span.To), s, m, span)...)
	}
	sort.SliceStable(out, func(a, b int) bool { return out[a].Date > out[b].Date })
	return out
}

// DueOf lists what one student reached within a span, by what a policy says of the
// year up to its end.
func DueOf(v work.Section, measure *absence.Measure, year absence.Result, s store.Student, m work.Moment, span absence.Span) []DueView {
	var out []DueView
	add := func(kind, title, words string, on int, holds bool) {
		if on < span.From || on > span.To {
			return
		}
		d := v.Calendar.Day(on).Date
		out = append(out, DueView{Student: Student(v.Snapshot, s, m.Date), Policy: measure.Policy().Title, Kind: kind, Title: title, Text: words, Date: d.String(), When: d.Spoken(), Holds: holds})
	}
	for _, r := range year.Triggers {
		if r.Ever {
			add("line", TitleOr(r.Trigger.Title, r.Trigger.ID), "reached at "+r.Trigger.Count.Of(r.CountThen)+", now "+r.Trigger.Count.Bare(r.Now), r.On, r.Now >= r.Trigger.Reach)
		}
	}
	for _, step := range year.Steps {
		add("step", actionText(step.Do), step.Words(), step.Day, true)
	}
	if f := year.Figures; f.Band >= measure.Policy().LineBand() {
		if since, ok := measure.BandSince(v.Place(s.ID), span.To, f.Band); ok {
			add("band", "Reached "+PercentOf(bandFrom(measure.Policy(), f.Band))+" %", fmt.Sprintf("%s, now %s %%", measure.Policy().Bands[f.Band].Name, f.Rate()), since, true)
		}
	}
	return out
}

// bandFrom is the share from which a band begins.
func bandFrom(p *policy.Policy, place int) policy.Fraction {
	if place == 0 {
		return policy.NewFraction(0, 1)
	}
	return *p.Bands[place-1].Below
}
