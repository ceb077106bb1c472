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
	Opens   string      `json:"opens,omitempty" maxLength:"10" doc:"The time, as typed, until which it was closed: opened late; empty for not"`
	Ends    string      `json:"ends,omitempty" maxLength:"10" doc:"The time, as typed, from which it was closed: ended early; empty for not"`
	Reason  string      `json:"reason" minLength:"1" maxLength:"200"`
	Apply   bool        `json:"apply,omitempty" doc:"Else it is only looked at"`
	Seen    string      `json:"seen,omitempty" maxLength:"20" doc:"The stamp of what was looked at; where it would be another now, nothing is changed"`
}

// Close says what closing dates would change, and closes them when asked to. Marks of those dates
// are kept and enter no figure while the closure stands.
func Close(ctx context.Context, o *work.Office, p work.Person, key string, in DayClosing) (plans.Plan, error) {
	job := work.Job{By: p, Key: key, Needs: work.MayCloseDays, Kind: "closure", In: in}
	return plans.Run(ctx, o, job, plans.Options{Apply: in.Apply, Seen: in.Seen}, &closing{in: in})
}

// mostClosed bounds how many dates are closed at once.
const mostClosed = 60

type closing struct {
	in DayClosing

	add  []store.Closure
	part plans.PlanPart
	set  map[ids.Student]int // marks that are set aside
}

func (c *closing) Plan(ctx context.Context, v work.Snapshot, lastSent day.Date, sent bool) (plans.Plan, store.School, error) {
	p := plans.New(nil, nil)
	rows := v.School.Records().Rows
	c.add, c.set, c.part = nil, map[ids.Student]int{}, plans.PlanPart{What: "school day"}
	reason := strings.TrimSpace(c.in.Reason)
	if reason == "" {
		return p, rows, work.Wrongf("say why it was closed; nothing was changed")
	}
	from, to, err := c.in.dates()
	if err != nil {
		return p, rows, err
	}
	hours, err := c.in.hours()
	if err != nil {
		return p, rows, err
	}
	if len(hours) > 0 {
		c.part.What = "slot"
	} else if from <= v.Now.Date() && v.Now.Date() <= to && sent && lastSent == v.Now.Date() {
		return p, rows, work.Conflictf("today has begun, and registers are in: people are here. Let it end early, or close it tomorrow; nothing was changed")
	}
	sections, err := v.SectionsWith(c.in.Section)
	if err != nil {
		return p, rows, err
	}
	for _, s := range sections {
		for d := from; d <= to; d++ {
			if err := c.closes(ctx, &p, v, s, d, hours, reason); err != nil {
				return p, rows, err
			}
		}
	}
	if len(c.add) == 0 {
		return p, rows, work.Conflictf("there is no school then anyway, %s to %s; nothing was changed", from.Spoken(), to.Spoken())
	}
	p.Parts = append(p.Parts, c.part)
	if len(c.set) > 0 {
		marks := 0
		for _, n := range c.set {
			marks += n
		}
		p.Note("%d marks of %d students are set aside: they enter no figure, and come back if the closure is taken back", marks, len(c.set))
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

// dates returns the first and the last date.
func (in DayClosing) dates() (from, to day.Date, err error) {
	if from, err = day.ParseDate(in.From); err != nil {
		return from, to, work.Wrongf("%v; nothing was changed", err)
	}
	to = from
	if in.To != "" {
		if to, err = day.ParseDate(in.To); err != nil {
			return from, to, work.Wrongf("%v; nothing was changed", err)
		}
	}
	switch {
	case to < from:
		return from, to, work.Wrongf("%s is before %s; nothing was changed", to.Spoken(), from.Spoken())
	case to-from >= mostClosed:
		return from, to, work.Wrongf("at most %d dates can be closed at once; nothing was changed", mostClosed)
	}
	return from, to, nil
}

// hours returns the parts of a date that were closed; none for all of it.
func (in DayClosing) hours() (out []store.Closure, err error) {
	for _, x := range []struct {
		text   string
		closed func(m day.Minute) store.Closure
	}{
		{in.Opens, func(m day.Minute) store.Closure { return store.Closure{Starts: day.Midnight, Ends: m} }},
		{in.Ends, func(m day.Minute) store.Closure { return store.Closure{Starts: m, Ends: day.EndOfDay} }},
	} {
		if x.text == "" {
			continue
		}
		m, err := day.ParseTyped(x.text)
		if err != nil {
			return nil, work.Wrongf("%v; nothing was changed", err)
		}
		out = append(out, x.closed(m))
	}
	if len(out) == 2 && !out[1].Starts.After(out[0].Ends) {
		return nil, work.Wrongf("it can’t open at %s and end at %s; nothing was changed", out[0].Ends, out[1].Starts)
	}
	return out, nil
}

// closes notes what closing a date, or some hours of it, means for a section.
func (c *closing) closes(ctx context.Context, p *plans.Plan, v work.Snapshot, s work.Section, d day.Date, hours []store.Closure, reason string) error {
	then, err := v.At(ctx, d)
	if err != nil {
		return err
	}
	on, err := then.SectionWith(s.ID)
	if err != nil {
		return err
	}
	sd, _, open := on.SchoolDay(d)
	if !open {
		return nil
	}
	gone := map[string]bool{}
	if len(hours) == 0 {
		for _, slot := range sd.Pattern.Slots {
			gone[slot.Name] = true
		}
		c.add = append(c.add, store.Closure{SectionID: s.ID, Date: d, Reason: reason})
		c.part.Ended++
		p.Detail("%s%s: no school, %s", d.Spoken(), v.OfSection(s.ID), reason)
	}
	for _, h := range hours {
		for _, old := range v.School.Records().Rows.Closures {
			if old.SectionID == s.ID && old.Date == d && old.Starts == h.Starts {
				return work.Conflictf("%s is closed then already%s; take that back first; nothing was changed", d.Spoken(), v.OfSection(s.ID))
			}
		}
		h.SectionID, h.Date, h.Reason = s.ID, d, reason
		if c.cuts(p, v, s, sd, h, gone) {
			c.add = append(c.add, h)
		}
	}
	if len(hours) > 0 && len(gone) == len(sd.Pattern.Slots) {
		return work.Wrongf("nothing would be left of %s: close the whole date; nothing was changed", d.Spoken())
	}
	if len(hours) > 0 && d == v.Now.Date() {
		if err := notYetIn(ctx, v, s.ID, d, gone); err != nil {
			return err
		}
	}
	marked, err := store.MarkedOn(ctx, v.Store(), d)
	if err != nil {
		return err
	}
	for _, m := range marked {
		if gone[m.Slot] && on.Has(m.StudentID, d) {
			c.set[m.StudentID]++
		}
	}
	return nil
}

// cuts notes which slots of a day closed hours take away or shorten, and reports whether there are any.
func (c *closing) cuts(p *plans.Plan, v work.Snapshot, s work.Section, sd day.SchoolDay, h store.Closure, gone map[string]bool) bool {
	any := false
	for _, slot := range sd.Pattern.Slots {
		start, end := h.Left(slot.Start, slot.End)
		switch {
		case start == slot.Start && end == slot.End:
			continue
		case !end.After(start):
			gone[slot.Name] = true
			c.part.Ended++
			p.Detail("%s%s: no %s, %s", sd.Date.Spoken(), v.OfSection(s.ID), slot.Name, h.Reason)
		default:
			c.part.Changed++
			p.Detail("%s%s: %s from %s to %s, %s", sd.Date.Spoken(), v.OfSection(s.ID), slot.Name, start, end, h.Reason)
		}
		any = true
	}
	return any
}

// notYetIn refuses to close hours of today of which registers are in: people were there.
func notYetIn(ctx context.Context, v work.Snapshot, section ids.Section, d day.Date, gone map[string]bool) error {
	in, err := store.RegistersOn(ctx, v.Store(), d)
	if err != nil {
		return err
	}
	for _, r := range in {
		if gone[r.Slot] && v.School.SectionOfClass(r.ClassID).ID == section {
			return work.Conflictf("registers of %s are in: people were there; nothing was changed", r.Slot)
		}
	}
	return nil
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
	Seen     string        `json:"seen,omitempty" maxLength:"20" doc:"The stamp of what was looked at; where it would be another now, nothing is changed"`
}

// Open says what taking closures back would change, and takes them back when asked to: the marks of
// those dates count again as they did.
func Open(ctx context.Context, o *work.Office, p work.Person, key string, in DayOpening) (plans.Plan, error) {
	job := work.Job{By: p, Key: key, Needs: work.MayOpenDays, Kind: "closure taken back", In: in}
	return plans.Run(ctx, o, job, plans.Options{Apply: in.Apply, Seen: in.Seen}, &opening{in: in})
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
