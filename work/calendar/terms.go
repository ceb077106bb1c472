package calendar

import (
	"context"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
	"meldung/work/plans"
)

// Terms are the terms, or the grading periods, of a section's school year as they are to be. A school
// day that lies in none has none.
type Terms struct {
	Section ids.Section `json:"section"`
	Year    string      `json:"year" minLength:"10" maxLength:"10" doc:"A date of the school year"`
	Kind    string      `json:"kind" enum:"term,grading period"`
	Spans   []NamedSpan `json:"spans" maxItems:"40"`
	Apply   bool        `json:"apply,omitempty" doc:"Else it is only looked at"`
	Seen    string      `json:"seen,omitempty" maxLength:"20" doc:"The stamp of what was looked at; where it would be another now, nothing is changed"`
}

// NamedSpan is a term or grading period with its first and last date.
type NamedSpan struct {
	Name string `json:"name" maxLength:"60"`
	From string `json:"from" maxLength:"10" doc:"YYYY-MM-DD"`
	To   string `json:"to" maxLength:"10"`
}

// SetTerms says what other terms or grading periods would change, and sets them when asked to.
func SetTerms(ctx context.Context, o *work.Office, p work.Person, key string, in Terms) (plans.Plan, error) {
	job := work.Job{By: p, Key: key, Needs: work.MaySetTerms, Kind: "terms", In: in}
	return plans.Run(ctx, o, job, plans.Options{Apply: in.Apply, Seen: in.Seen}, &newTerms{in: in})
}

type newTerms struct{ in Terms }

func (c *newTerms) Plan(_ context.Context, v work.Snapshot, _ day.Date, _ bool) (plans.Plan, store.School, error) {
	p := plans.New(nil, nil)
	rows := v.School.Records().Rows
	section, err := v.SectionWith(c.in.Section)
	if err != nil {
		return p, rows, err
	}
	year, err := yearWith(rows, section.ID, c.in.Year)
	if err != nil {
		return p, rows, err
	}
	spans, err := c.in.spans(year)
	if err != nil {
		return p, rows, err
	}
	next := rows
	next.Calendar = slices.Clone(rows.Calendar)
	part := plans.PlanPart{What: "school day"}
	days, without := make([]int, len(spans)), 0
	for i := range next.Calendar {
		x := &next.Calendar[i]
		if x.SectionID != section.ID || x.Date < year.First || x.Date > year.Last {
			continue
		}
		name := ""
		if n := slices.IndexFunc(spans, func(s namedDates) bool { return s.on.Has(x.Date) }); n >= 0 {
			name = spans[n].name
			days[n]++
		} else {
			without++
		}
		to := &x.Term
		if c.in.Kind != "term" {
			to = &x.GradingPeriod
		}
		if *to == name {
			part.Same++
			continue
		}
		part.Changed++
		*to = name
	}
	for i, s := range spans {
		if days[i] == 0 {
			return p, rows, work.Wrongf("no school day lies in %s; nothing was changed", s.name)
		}
		p.Detail("%s: %s, %s to %s", s.name, work.Count(days[i], "school day"), s.on.From.Spoken(), s.on.To.Spoken())
	}
	if without > 0 {
		p.Note("%s in no %s", countLie(without), c.in.Kind)
	}
	if part.Changed > 0 {
		p.Note("lines and steps that count by %s are counted anew", c.in.Kind)
	}
	p.Parts = append(p.Parts, part)
	p.When = "in the school year from " + plans.SpokenYear(year.First) + v.OfSection(section.ID)
	return p, next, nil
}

func countLie(n int) string {
	if n == 1 {
		return "1 school day lies"
	}
	return work.Count(n, "school day") + " lie"
}

// yearWith returns a section's school year with a date.
func yearWith(rows store.School, section ids.Section, text string) (store.SchoolYear, error) {
	d, err := day.ParseDate(text)
	if err != nil {
		return store.SchoolYear{}, work.Wrongf("%v; nothing was changed", err)
	}
	for _, y := range rows.Years {
		if y.SectionID == section && y.First <= d && d <= y.Last {
			return y, nil
		}
	}
	return store.SchoolYear{}, work.Wrongf("%s lies in no school year; nothing was changed", d.Spoken())
}

type namedDates struct {
	name string
	on   day.Dates
}

// spans reads the terms: named, none twice, none over another, all in the year.
func (t Terms) spans(year store.SchoolYear) ([]namedDates, error) {
	var out []namedDates
	for _, s := range t.Spans {
		one := namedDates{name: strings.TrimSpace(s.Name)}
		var err error
		if one.on.From, err = day.ParseDate(s.From); err == nil {
			one.on.To, err = day.ParseDate(s.To)
		}
		switch {
		case one.name == "":
			return nil, work.Wrongf("a %s needs a name; nothing was changed", t.Kind)
		case err != nil:
			return nil, work.Wrongf("%s: %v; nothing was changed", one.name, err)
		case one.on.Empty():
			return nil, work.Wrongf("%s would end before it begins; nothing was changed", one.name)
		case one.on.To < year.First || one.on.From > year.Last:
			return nil, work.Wrongf("%s lies outside the school year; nothing was changed", one.name)
		}
		for _, o := range out {
			switch {
			case o.name == one.name:
				return nil, work.Wrongf("%s is there twice; nothing was changed", one.name)
			case !o.on.Common(one.on).Empty():
				return nil, work.Wrongf("%s and %s would have dates in common; nothing was changed", o.name, one.name)
			}
		}
		out = append(out, one)
	}
	return out, nil
}

func (c *newTerms) Write(ctx context.Context, tx *work.Tx, _ work.Snapshot, next store.School) error {
	return store.ReplaceTimetable(ctx, tx.Tx, next)
}
