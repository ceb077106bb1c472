package work

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/store"
)

// spanOf reads the span that is asked for, up to the last day that is over, and
// offers others.
func (v view) spanOf(out *AbsenceView, m Moment, ask AbsenceAsk) (absence.Span, error) {
	c := v.school.Calendar
	span := absence.Span{From: 0, To: v.endedBy(m)}
	out.Spans = v.spanChoices(span.To)
	out.Whole = true
	if ask.From != "" || ask.To != "" {
		first, last := c.Span()
		from, err := dateOr(ask.From, first)
		if err != nil {
			return span, err
		}
		to, err := dateOr(ask.To, last)
		if err != nil {
			return span, err
		}
		if to < from {
			return span, wrong("the span ends on %s, before it begins on %s", to, from)
		}
		asked := v.o.ledger.Between(from, to)
		out.Whole = asked.From == 0 && asked.To >= span.To
		span = absence.Span{From: asked.From, To: min(asked.To, span.To)}
	}
	out.Days = max(0, span.To-span.From+1)
	if span.To >= 0 && span.From < c.Days() {
		from, to := c.Day(span.From).Date, c.Day(max(span.To, 0)).Date
		out.From, out.AsAt = from.String(), to.String()
		out.Words = "Year to " + to.Words()
		if !out.Whole {
			out.Words = from.Words() + " to " + to.Words()
		}
	}
	return span, nil
}

func dateOr(text string, other day.Date) (day.Date, error) {
	if text == "" {
		return other, nil
	}
	d, err := day.ParseDate(text)
	if err != nil {
		return d, wrong("%v", err)
	}
	return d, nil
}

// spanChoices lists the year so far and the terms, grading periods and months
// that have begun, the newest first.
func (v view) spanChoices(last int) []Choice {
	c := v.school.Calendar
	out := []Choice{}
	if last < 0 {
		return out
	}
	choose := func(kind, label string, from, to int) {
		out = append(out, Choice{Value: c.Day(from).Date.String() + ".." + c.Day(to).Date.String(), Label: label, Kind: kind})
	}
	choose("year", "Year to "+c.Day(last).Date.Words(), 0, last)
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

// groupOf finds the students who are asked for, on the roll on a date, and says in words
// who they are; empty for everyone.
func (v view) groupOf(d day.Date, group string) (students []store.Student, words string, err error) {
	kind, name, _ := strings.Cut(group, ":")
	id, numberErr := strconv.ParseInt(name, 10, 64)
	takes := func(store.Student) bool { return true }
	switch kind {
	case "":
	case "year":
		words = "Year " + name
		takes = func(s store.Student) bool { return s.Year == name }
	case "student":
		one, err := v.school.Student(id)
		if err != nil || numberErr != nil {
			return nil, "", wrong("%q is no student", name)
		}
		words = one.Name()
		takes = func(s store.Student) bool { return s.ID == id }
	case "class":
		class, err := v.school.Class(id)
		if err != nil || numberErr != nil {
			return nil, "", wrong("%q is no class", name)
		}
		words = class.Title
		inClass := map[int64]bool{}
		for _, e := range v.school.rolls[id] {
			inClass[e.StudentID] = inClass[e.StudentID] || e.On(d)
		}
		takes = func(s store.Student) bool { return inClass[s.ID] }
	default:
		return nil, "", wrong("%q is no group: a year, a class or a student is expected", group)
	}
	for _, s := range v.school.Students {
		if s.EnrolledOn(d) && takes(s) {
			students = append(students, s)
		}
	}
	return students, words, nil
}

func (v view) groupChoices() []Choice {
	out := []Choice{}
	var years []string
	for _, s := range v.school.Students {
		if s.Year != "" && !slices.Contains(years, s.Year) {
			years = append(years, s.Year)
		}
	}
	slices.SortFunc(years, func(a, b string) int {
		x, _ := strconv.Atoi(a)
		y, _ := strconv.Atoi(b)
		if x != y {
			return x - y
		}
		return strings.Compare(a, b)
	})
	for _, y := range years {
		out = append(out, Choice{Value: "year:" + y, Label: "Year " + y, Kind: "year"})
	}
	for _, form := range []bool{true, false} {
		kind := map[bool]string{true: "form", false: "class"}[form]
		for _, c := range v.school.raw.Classes {
			if c.Form() == form && !c.Ended {
				out = append(out, Choice{Value: fmt.Sprintf("class:%d", c.ID), Label: c.Title, Kind: kind})
			}
		}
	}
	return out
}
