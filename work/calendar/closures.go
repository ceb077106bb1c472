// Package calendar holds what a school changes by hand in its calendar: dates that are closed, and the
// times of a day that went otherwise.
package calendar

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
	"meldung/work/plans"
)

// DayClosing closes dates against the calendar: after the fact or ahead.
type DayClosing struct {
	Section ids.Section `json:"section,omitempty" doc:"The section that was closed; 0 for every one"`
	From    string      `json:"from" minLength:"10" maxLength:"10" doc:"YYYY-MM-DD"`
	To      string      `json:"to,omitempty" maxLength:"10" doc:"The last date; empty for one alone"`
	Reason  string      `json:"reason" minLength:"1" maxLength:"200"`
	Apply   bool        `json:"apply,omitempty" doc:"Else it is only looked at"`
}

// Close says what closing dates would change, and closes them when asked to. Marks of those dates
// are kept and enter no figure while the closure stands.
func Close(ctx context.Context, o *work.Office, p work.Person, key string, in DayClosing) (plans.Plan, error) {
	job := work.Job{By: p, Key: key, Needs: work.MayCloseDays, Kind: "closure", In: in}
	return plans.Run(ctx, o, job, plans.Options{Apply: in.Apply}, &closing{in: in})
}

// mostClosed bounds how many dates are closed at once.
const mostClosed = 60

type closing struct {
	in  DayClosing
	add []store.Closure
}

func (c *closing) Plan(ctx context.Context, v work.Snapshot, lastSent day.Date, sent bool) (plans.Plan, store.School, error) {
	p := plans.New(nil, nil)
	rows := v.School.Records().Rows
	c.add = nil
	reason := strings.TrimSpace(c.in.Reason)
	if reason == "" {
		return p, rows, work.Wrongf("say why it was closed; nothing was changed")
	}
	from, err := day.ParseDate(c.in.From)
	if err != nil {
		return p, rows, work.Wrongf("%v; nothing was changed", err)
	}
	to := from
	if c.in.To != "" {
		if to, err = day.ParseDate(c.in.To); err != nil {
			return p, rows, work.Wrongf("%v; nothing was changed", err)
		}
	}
	switch {
	case to < from:
		return p, rows, work.Wrongf("%s is before %s; nothing was changed", to.Spoken(), from.Spoken())
	case to-from >= mostClosed:
		return p, rows, work.Wrongf("at most %d dates can be closed at once; nothing was changed", mostClosed)
	case from <= v.Now.Date() && v.Now.Date() <= to && sent && lastSent == v.Now.Date():
		return p, rows, work.Conflictf("today has begun, and registers are in: people are here. Put its times right, or close it tomorrow; nothing was changed")
	}
	sections, err := v.SectionsWith(c.in.Section)
	if err != nil {
		return p, rows, err
	}
	part := plans.PlanPart{What: "school day"}
	marks, students := 0, map[ids.Student]bool{}
	for _, s := range sections {
		for d := from; d <= to; d++ {
			then, err := v.At(ctx, d)
			if err != nil {
				return p, rows, err
			}
			on, err := then.SectionWith(s.ID)
			if err != nil {
				return p, rows, err
			}
			if _, _, open := on.SchoolDay(d); !open {
				continue
			}
			c.add = append(c.add, store.Closure{SectionID: s.ID, Date: d, Reason: reason})
			part.Ended++
			p.Detail("%s%s: no school, %s", d.Spoken(), v.OfSection(s.ID), reason)
			marked, err := store.MarkedOn(ctx, v.Store(), d)
			if err != nil {
				return p, rows, err
			}
			for _, id := range marked {
				if on.Has(id, d) {
					marks++
					students[id] = true
				}
			}
		}
	}
	if len(c.add) == 0 {
		return p, rows, work.Conflictf("there is no school from %s to %s anyway; nothing was changed", from.Spoken(), to.Spoken())
	}
	p.Parts = append(p.Parts, part)
	if marks > 0 {
		p.Note("%d marks of %d students are set aside: they enter no figure, and come back if the closure is taken back", marks, len(students))
	}
	p.When = "on " + plans.SpokenYear(from)
	if to != from {
		p.When = "from " + plans.SpokenYear(from) + " to " + plans.SpokenYear(to)
	}
	p.When += ", " + reason
	p.Past = sent && from <= lastSent
	next := rows
	next.Closures = append(slices.Clone(rows.Closures), c.add...)
	return p, next, nil
}

func (c *closing) Write(ctx context.Context, tx *work.Tx, _ work.Snapshot, _ store.School) error {
	for _, one := range c.add {
		one.Journal = tx.Entry
		if _, err := store.AddClosure(ctx, tx.Tx, one); err != nil {
			return err
		}
	}
	return nil
}

// DayOpening takes closures back.
type DayOpening struct {
	Closures []ids.Closure `json:"closures" minItems:"1" maxItems:"200"`
	Apply    bool          `json:"apply,omitempty" doc:"Else it is only looked at"`
}

// Open says what taking closures back would change, and takes them back when asked to: the marks of
// those dates count again as they did.
func Open(ctx context.Context, o *work.Office, p work.Person, key string, in DayOpening) (plans.Plan, error) {
	job := work.Job{By: p, Key: key, Needs: work.MayOpenDays, Kind: "closure taken back", In: in}
	return plans.Run(ctx, o, job, plans.Options{Apply: in.Apply}, &opening{in: in})
}

type opening struct{ in DayOpening }

func (c *opening) Plan(_ context.Context, v work.Snapshot, lastSent day.Date, sent bool) (plans.Plan, store.School, error) {
	p := plans.New(nil, nil)
	rows := v.School.Records().Rows
	next := rows
	next.Closures = nil
	part := plans.PlanPart{What: "school day"}
	for _, x := range rows.Closures {
		if !slices.Contains(c.in.Closures, x.ID) {
			next.Closures = append(next.Closures, x)
			continue
		}
		part.Added++
		p.Detail("%s%s: school as in the calendar", x.Date.Spoken(), v.OfSection(x.SectionID))
		p.Past = p.Past || sent && x.Date <= lastSent
	}
	if part.Added != len(c.in.Closures) {
		return p, rows, work.Conflictf("that closure was taken back already; nothing was changed")
	}
	p.Parts = append(p.Parts, part)
	p.When = fmt.Sprintf("as in the calendar, %d", part.Added)
	return p, next, nil
}

func (c *opening) Write(ctx context.Context, tx *work.Tx, _ work.Snapshot, _ store.School) error {
	for _, id := range c.in.Closures {
		if _, err := store.UndoClosure(ctx, tx.Tx, id, tx.Entry); err != nil {
			return err
		}
	}
	return nil
}
