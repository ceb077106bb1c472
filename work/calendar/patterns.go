package calendar

import (
	"cmp"
	"context"
	"slices"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
	"meldung/work/plans"
)

// DayPattern is the pattern by which some dates go: another than the calendar has, or school on a date
// that it has none for.
type DayPattern struct {
	Section ids.Section `json:"section"`
	From    string      `json:"from" minLength:"10" maxLength:"10" doc:"YYYY-MM-DD"`
	To      string      `json:"to,omitempty" maxLength:"10" doc:"The last date, of those with school; empty for one alone, which may have none yet"`
	Pattern string      `json:"pattern" minLength:"1" maxLength:"60"`
	Past    bool        `json:"past,omitempty" doc:"The past is to be corrected: dates whose registers are in"`
	Apply   bool        `json:"apply,omitempty" doc:"Else it is only looked at"`
	Seen    string      `json:"seen,omitempty" maxLength:"20" doc:"The stamp of what was looked at; where it would be another now, nothing is changed"`
}

// SetPattern says what another pattern of some dates would change, and sets it when asked to.
func SetPattern(ctx context.Context, o *work.Office, p work.Person, key string, in DayPattern) (plans.Plan, error) {
	job := work.Job{By: p, Key: key, Needs: work.MaySetPattern, Kind: "day pattern", In: in}
	return plans.Run(ctx, o, job, plans.Options{Apply: in.Apply, Seen: in.Seen, CorrectPast: in.Past}, &newPattern{in: in})
}

type newPattern struct{ in DayPattern }

func (c *newPattern) Plan(_ context.Context, v work.Snapshot, lastSent day.Date, sent bool) (plans.Plan, store.School, error) {
	p := plans.New(nil, nil)
	rows := v.School.Records().Rows
	section, err := v.SectionWith(c.in.Section)
	if err != nil {
		return p, rows, err
	}
	from, to, err := DayClosing{From: c.in.From, To: c.in.To}.dates()
	if err != nil {
		return p, rows, err
	}
	if from, err = plans.Beginning(v.Now.Date()+1, plans.Options{From: &from, CorrectPast: c.in.Past}, lastSent, sent); err != nil {
		return p, rows, err
	}
	year, err := yearWith(rows, section.ID, from.String())
	if err != nil {
		return p, rows, err
	}
	if !slices.ContainsFunc(rows.PatternSlots, func(x store.PatternSlot) bool {
		return x.SectionID == section.ID && x.Pattern == c.in.Pattern
	}) {
		return p, rows, work.NotFoundf("there is no day pattern %q; nothing was changed", c.in.Pattern)
	}
	next := rows
	next.Calendar = slices.Clone(rows.Calendar)
	part, found := plans.PlanPart{What: "school day"}, false
	for i := range next.Calendar {
		x := &next.Calendar[i]
		if x.SectionID != section.ID || x.Date < from || x.Date > to {
			continue
		}
		found = true
		if x.Pattern == c.in.Pattern {
			part.Same++
			continue
		}
		p.Detail("%s%s: %s, not %s", x.Date.Spoken(), v.OfSection(section.ID), c.in.Pattern, x.Pattern)
		x.Pattern = c.in.Pattern
		part.Changed++
	}
	switch {
	case !found && from < to:
		return p, rows, work.Conflictf("there is no school from %s to %s: name one date to have school on it; nothing was changed", from.Spoken(), to.Spoken())
	case !found:
		row := store.CalendarDay{SectionID: section.ID, Date: from, Pattern: c.in.Pattern}
		row.Term, row.GradingPeriod = around(rows, year, from)
		next.Calendar = append(next.Calendar, row)
		slices.SortStableFunc(next.Calendar, func(a, b store.CalendarDay) int {
			return cmp.Or(cmp.Compare(a.SectionID, b.SectionID), cmp.Compare(a.Date, b.Date))
		})
		part.Added++
		p.Detail("%s%s: school, %s", from.Spoken(), v.OfSection(section.ID), c.in.Pattern)
	}
	p.Parts = append(p.Parts, part)
	p.When = "on " + plans.SpokenYear(from)
	if to > from {
		p.When = "from " + plans.SpokenYear(from) + " to " + plans.SpokenYear(to)
	}
	p.Past = sent && from <= lastSent
	return p, next, nil
}

// around returns the term and grading period of a date that had no school: those of the school day
// before it, or else after.
func around(rows store.School, year store.SchoolYear, d day.Date) (term, period string) {
	var nearest *store.CalendarDay
	for i := range rows.Calendar {
		x := &rows.Calendar[i]
		if x.SectionID != year.SectionID || x.Date < year.First || x.Date > year.Last {
			continue
		}
		if nearest == nil || (x.Date < d && x.Date > nearest.Date) || (nearest.Date > d && x.Date < nearest.Date) {
			nearest = x
		}
	}
	if nearest == nil {
		return "", ""
	}
	return nearest.Term, nearest.GradingPeriod
}

func (c *newPattern) Write(ctx context.Context, tx *work.Tx, _ work.Snapshot, next store.School) error {
	return store.ReplaceTimetable(ctx, tx.Tx, next)
}
