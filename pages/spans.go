package pages

import (
	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/ids"
	"meldung/work"
)

// AbsenceAsk says what a page of figures is to show. Everything may be empty: ten per cent
// of days, the year so far, everyone, the policy's threshold.
type AbsenceAsk struct {
	Policy   string // id of a shipped policy; empty is ten per cent
	From, To string // dates of a span
	Group    string // "year:9", or "class:12" with the id of a form or class
	Line     string // a fraction
	Sort     string // by what rows are sorted, the most first; empty is by nearness to the line
	Up       bool   // the least first
}

// PolicyID returns the policy that is asked for.
func (a AbsenceAsk) PolicyID() string {
	if a.Policy == "" {
		return work.UsualPolicy
	}
	return a.Policy
}

// Span is a span of school days with what pages say of it.
type Span struct {
	absence.Span
	Whole    bool // the year so far
	Days     int
	First    string // YYYY-MM-DD; empty where there is no day in it
	Last     string
	Sentence string
}

// SpanOf reads the span that is asked for, up to the last day that is over at a moment.
func SpanOf(v work.Section, m work.Moment, ask AbsenceAsk) (Span, error) {
	c := v.Calendar
	out := Span{Span: absence.Span{From: 0, To: EndedBy(v, m)}, Whole: true}
	if ask.From != "" || ask.To != "" {
		first, last := c.Span()
		from, to, err := Dates(ask.From, first, ask.To, func(day.Date) day.Date { return last })
		if err != nil {
			return out, err
		}
		asked := v.Ledger.Between(from, to)
		out.Whole = asked.From == 0 && asked.To >= out.To
		out.Span = absence.Span{From: asked.From, To: min(asked.To, out.To)}
	}
	out.Days = max(0, out.To-out.From+1)
	if out.To >= 0 && out.From < c.Days() {
		from, to := c.Day(out.From).Date, c.Day(max(out.To, 0)).Date
		out.First, out.Last = from.String(), to.String()
		out.Sentence = "Year to " + to.Spoken()
		if !out.Whole {
			out.Sentence = from.Spoken() + " to " + to.Spoken()
		}
	}
	return out, nil
}

// Dates reads a first and a last date, and what they are where nothing is written.
func Dates(first string, usualFirst day.Date, last string, usualLast func(first day.Date) day.Date) (from, to day.Date, err error) {
	if from, err = dateOr(first, usualFirst); err != nil {
		return from, to, err
	}
	if to, err = dateOr(last, usualLast(from)); err != nil {
		return from, to, err
	}
	if to < from {
		return from, to, work.Wrongf("the span ends on %s, before it begins on %s", to, from)
	}
	return from, to, nil
}

func dateOr(text string, other day.Date) (day.Date, error) {
	if text == "" {
		return other, nil
	}
	d, err := day.ParseDate(text)
	if err != nil {
		return d, work.Wrongf("%v", err)
	}
	return d, nil
}

// SpanChoices offers the year so far and the terms, grading periods and months that have
// begun by a school day, the newest first.
func SpanChoices(v work.Section, last int) []Choice {
	c := v.Calendar
	out := []Choice{}
	if last < 0 {
		return out
	}
	choose := func(kind, label string, from, to int) {
		out = append(out, Choice{Value: c.Day(from).Date.String() + ".." + c.Day(to).Date.String(), Label: label, Kind: kind})
	}
	choose("year", "Year to "+c.Day(last).Date.Spoken(), 0, last)
	for _, k := range []struct {
		kind string
		name func(d day.SchoolDay) string
	}{
		{"term", func(d day.SchoolDay) string { return d.Term }},
		{"grading period", func(d day.SchoolDay) string { return d.GradingPeriod }},
		{"month", func(d day.SchoolDay) string { return d.Date.Time().Format("January 2006") }},
	} {
		for to := last; to >= 0; {
			from := to
			for from > 0 && k.name(c.Day(from-1)) == k.name(c.Day(to)) {
				from--
			}
			if name := k.name(c.Day(to)); name != "" {
				choose(k.kind, name, from, to)
			}
			to = from - 1
		}
	}
	return out
}

// MeasuredOf returns by what and over which days one student is measured, for who may see them.
func MeasuredOf(v work.Snapshot, p work.Person, student ids.Student, m work.Moment, ask AbsenceAsk) (s work.Section, measure *absence.Measure, span Span, err error) {
	st, err := v.Student(student)
	if err != nil {
		return s, nil, span, err
	}
	if err := v.MaySee(p, student); err != nil {
		return s, nil, span, err
	}
	s = v.Of(student)
	if measure, err = s.Measure(ask.PolicyID()); err != nil {
		return s, nil, span, err
	}
	if s.Place(student) < 0 {
		return s, nil, span, work.NotFoundf("%s was not on the roll in this school year: there are no figures", st.Name())
	}
	span, err = SpanOf(s, m, ask)
	return s, measure, span, err
}

// Between says from when to when: "Mon 5 January to Tue 10 March 2026".
func Between(from, to day.Date) string {
	year := to.Time().Format(" 2006")
	switch {
	case from == to:
		return to.Spoken() + year
	case from.Time().Year() != to.Time().Year():
		return from.Spoken() + from.Time().Format(" 2006") + " to " + to.Spoken() + year
	}
	return from.Spoken() + " to " + to.Spoken() + year
}
