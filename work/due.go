package work

import (
	"fmt"
	"sort"
	"strings"
	"unicode/utf8"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/policy"
	"meldung/store"
)

// DueView is a line that a student reached, or a step of a ladder that is due.
type DueView struct {
	Student StudentRef `json:"student"`
	Policy  string     `json:"policy" doc:"The policy's title"`
	Kind    string     `json:"kind" enum:"line,step,band"`
	Title   string     `json:"title"`
	Words   string     `json:"words" doc:"What was counted"`
	Date    string     `json:"date"`
	When    string     `json:"when" doc:"The date in words"`
	Holds   bool       `json:"holds" doc:"The count still stands at or above the line"`
}

// due lists what the students reached within a span, newest first.
func (v view) due(measure *absence.Measure, students []store.Student, m Moment, span absence.Span) []DueView {
	out := []DueView{}
	for _, s := range students {
		out = append(out, v.dueOf(measure, measure.Year(v.school.placeOf[s.ID], span.To), s, m, span)...)
	}
	sort.SliceStable(out, func(a, b int) bool { return out[a].Date > out[b].Date })
	return out
}

// dueOf lists what one student reached within a span, by what a policy says of the
// year up to its end.
func (v view) dueOf(measure *absence.Measure, year absence.Result, s store.Student, m Moment, span absence.Span) []DueView {
	var out []DueView
	add := func(kind, title, words string, on int, holds bool) {
		if on < span.From || on > span.To {
			return
		}
		d := v.school.Calendar.Day(on).Date
		out = append(out, DueView{Student: v.ref(s, m.Date), Policy: measure.Policy().Title, Kind: kind, Title: title, Words: words, Date: d.String(), When: d.Words(), Holds: holds})
	}
	for _, r := range year.Triggers {
		if r.Ever {
			add("line", titleOr(r.Trigger.Title, r.Trigger.ID), "reached at "+amountWords(r.Trigger.Count, r.CountThen)+", now "+bareAmount(r.Trigger.Count, r.Now), r.On, r.Now >= r.Trigger.Reach)
		}
	}
	for _, step := range year.Steps {
		add("step", actionWords(step.Do), lateWords(step), step.Day, true)
	}
	if f := year.Figures; f.Band >= lineBand(measure.Policy()) {
		if since, ok := measure.BandSince(v.school.placeOf[s.ID], span.To, f.Band); ok {
			add("band", "Came to "+measure.Policy().Bands[f.Band].Name, fmt.Sprintf("now %s %%", f.Rate()), since, true)
		}
	}
	return out
}

// lineBand is the first band that lies above the policy's threshold.
func lineBand(p *policy.Policy) int {
	for i, b := range p.Bands {
		if b.Below != nil && b.Below.Rat().Cmp(p.Threshold.Rat()) >= 0 {
			return i + 1
		}
	}
	return len(p.Bands)
}

func titleOr(title, id string) string {
	if title != "" {
		return title
	}
	return id
}

func actionWords(do []string) string {
	words := strings.ReplaceAll(strings.Join(do, ", "), "-", " ")
	_, size := utf8.DecodeRuneInString(words)
	return strings.ToUpper(words[:size]) + words[size:]
}

// lateWords says which late makes a step due: "4th late in geography, Quarter 3".
func lateWords(s absence.StepDue) string {
	words := ordinal(s.Count) + " late"
	switch s.Ladder.Per {
	case policy.PerClass, policy.PerSlot:
		words += " in " + s.Scope
	case policy.PerDay:
		words = ordinal(s.Count) + " day with a late"
	}
	if s.Ladder.Within != policy.Year {
		words += ", " + s.Period
	}
	return words
}

func ordinal(n int) string {
	suffix := "th"
	if n%100 < 11 || n%100 > 13 {
		switch n % 10 {
		case 1:
			suffix = "st"
		case 2:
			suffix = "nd"
		case 3:
			suffix = "rd"
		}
	}
	return fmt.Sprint(n, suffix)
}

// amountWords says a count of a trigger: "31 h 15 min", "3 days", "1 late".
func amountWords(c policy.Count, n int) string {
	switch {
	case c == policy.CountMinutes:
		return bareAmount(c, n)
	case n == 1:
		return "1 " + strings.TrimSuffix(c.String(), "s")
	default:
		return bareAmount(c, n) + " " + c.String()
	}
}

// bareAmount says a count without its unit, unless that is time.
func bareAmount(c policy.Count, n int) string {
	if c == policy.CountMinutes {
		return day.Duration(n)
	}
	return fmt.Sprint(n)
}

// windowWords says over what a trigger counts.
func windowWords(w policy.Window) string {
	switch w.Kind {
	case policy.Term:
		return "in the term"
	case policy.GradingPeriod:
		return "in the grading period"
	case policy.Month:
		return "in the month"
	case policy.FourWeeks:
		return "in the school month of four weeks"
	case policy.RollingWeeks:
		return fmt.Sprintf("in %d school weeks", w.N)
	case policy.RollingDays:
		return fmt.Sprintf("in %d school days", w.N)
	case policy.Run:
		return "in a run"
	default:
		return "in the year"
	}
}
