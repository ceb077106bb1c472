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

// DayTimes are when slots of one date begin and end: a day is put right that went otherwise than
// its pattern says.
type DayTimes struct {
	Date    string      `json:"date" maxLength:"10" doc:"YYYY-MM-DD"`
	Section ids.Section `json:"section"`
	Slots   []SlotTimes `json:"slots" minItems:"1" maxItems:"60" doc:"Those that are others; the rest of the day stays"`
	Reason  string      `json:"reason" minLength:"1" maxLength:"200" doc:"Why the day was another"`
	Apply   bool        `json:"apply,omitempty" doc:"Else it is only looked at"`
	Seen    string      `json:"seen,omitempty" maxLength:"20" doc:"The stamp of what was looked at; where it would be another now, nothing is changed"`
}

// SlotTimes is when a slot is.
type SlotTimes struct {
	Slot string `json:"slot" maxLength:"20"`
	From string `json:"from" maxLength:"10" doc:"As typed"`
	To   string `json:"to" maxLength:"10" doc:"As typed"`
}

// SetDayTimes says what other times of a date's slots would change, and changes them when asked
// to. They hold on that date alone; registers of the date that are in get them too, since they
// are what was, and not another plan.
func SetDayTimes(ctx context.Context, o *work.Office, p work.Person, key string, in DayTimes) (plans.Plan, error) {
	job := work.Job{By: p, Key: key, Needs: work.MaySetDayTimes, Kind: "times of a day", In: in}
	return plans.Run(ctx, o, job, plans.Options{Apply: in.Apply, Seen: in.Seen}, &dayTimes{in: in})
}

// dayTimes is a day to be put right.
type dayTimes struct {
	in DayTimes

	date    day.Date // once it is looked at
	section ids.Section
	slots   []store.PatternSlot
}

func (c *dayTimes) Plan(ctx context.Context, v work.Snapshot, lastSent day.Date, sent bool) (plans.Plan, store.School, error) {
	p := plans.New(nil, nil)
	rows := v.School.Records().Rows
	var err error
	if strings.TrimSpace(c.in.Reason) == "" {
		return p, rows, work.Wrongf("say why the day was another; nothing was changed")
	}
	if c.date, err = day.ParseDate(c.in.Date); err != nil {
		return p, rows, work.Wrongf("%v; nothing was changed", err)
	}
	old, err := slotsOn(ctx, v, c.in.Section, c.date)
	if err != nil {
		return p, rows, err
	}
	c.section = old[0].SectionID
	if c.slots, err = c.in.of(old); err != nil {
		return p, rows, err
	}
	usual := UsualTimes(v, c.section, c.date)
	for i := range c.slots {
		was := usual[c.slots[i].Slot]
		c.slots[i].Once = was.Start != c.slots[i].Start || was.End != c.slots[i].End
	}
	var kept, of []store.PatternSlot // of the pattern, whenever it holds
	for _, x := range rows.PatternSlots {
		if x.SectionID == c.section && x.Pattern == old[0].Pattern {
			of = append(of, x)
		} else {
			kept = append(kept, x)
		}
	}
	only := day.Dates{From: c.date, To: c.date}
	next := rows
	next.PatternSlots = append(kept, plans.Said(&p, "slot", of, c.slots, only,
		func(x store.PatternSlot) string { return x.Slot },
		func(x *store.PatternSlot) *store.Held { return &x.Held },
		func(x store.PatternSlot) string { return fmt.Sprintf("%s, %s to %s", x.Slot, x.Start, x.End) })...)
	p.Hold(only, lastSent, sent)
	p.When = "on " + plans.SpokenYear(c.date) + " alone, " + strings.TrimSpace(c.in.Reason)
	p.Past = p.Past || c.date <= v.Now.Date()
	return p, next, nil
}

// slotsOn returns a section's slots on a date, as they are stored.
func slotsOn(ctx context.Context, v work.Snapshot, section ids.Section, d day.Date) ([]store.PatternSlot, error) {
	then, err := v.At(ctx, d)
	if err != nil {
		return nil, err
	}
	s, err := then.SectionWith(section)
	if err != nil {
		return nil, err
	}
	on, _, open := s.SchoolDay(d)
	if !open {
		return nil, work.Wrongf("there is no school on %s; nothing was changed", d.Spoken())
	}
	var out []store.PatternSlot
	for _, x := range v.School.Records().Rows.PatternSlots {
		if x.SectionID == s.ID && x.Pattern == on.Pattern.Name && x.On(d) {
			out = append(out, x)
		}
	}
	if len(out) == 0 {
		return nil, work.Wrongf("%s has no slots; nothing was changed", d.Spoken())
	}
	return out, nil
}

// of returns the slots of the day with the times that were asked for.
func (t DayTimes) of(slots []store.PatternSlot) ([]store.PatternSlot, error) {
	out := slices.Clone(slots)
	for i := range out {
		out[i].Held = store.Held{}
	}
	for _, n := range t.Slots {
		i := slices.IndexFunc(out, func(x store.PatternSlot) bool { return x.Slot == n.Slot })
		if i < 0 {
			return nil, work.NotFoundf("the day has no slot %q; nothing was changed", n.Slot)
		}
		var err error
		if out[i].Start, err = day.ParseTyped(n.From); err != nil {
			return nil, work.Wrongf("%s begins: %v; nothing was changed", n.Slot, err)
		}
		if out[i].End, err = day.ParseTyped(n.To); err != nil {
			return nil, work.Wrongf("%s ends: %v; nothing was changed", n.Slot, err)
		}
		if !out[i].End.After(out[i].Start) {
			return nil, work.Wrongf("%s can’t end at %s, it begins at %s; nothing was changed", n.Slot, out[i].End, out[i].Start)
		}
	}
	for i, a := range out {
		for _, b := range out[:i] {
			if day.Overlap(a.Start, a.End, b.Start, b.End) > 0 {
				return nil, work.Wrongf("%s, %s to %s, and %s, %s to %s, would be at the same time; nothing was changed", b.Slot, b.Start, b.End, a.Slot, a.Start, a.End)
			}
		}
	}
	return out, nil
}

func (c *dayTimes) Write(ctx context.Context, tx *work.Tx, v work.Snapshot, next store.School) error {
	if err := store.ReplaceTimetable(ctx, tx.Tx, next); err != nil {
		return err
	}
	then, err := v.At(ctx, c.date)
	if err != nil {
		return err
	}
	sent, err := store.RegistersOn(ctx, tx.Tx, c.date)
	if err != nil {
		return err
	}
	for _, r := range sent {
		i := slices.IndexFunc(c.slots, func(x store.PatternSlot) bool { return x.Slot == r.Slot })
		if i < 0 || then.School.SectionOfClass(r.ClassID).ID != c.section {
			continue
		}
		r.Start, r.End = c.slots[i].Start, c.slots[i].End
		if err := store.SetRegisterTimes(ctx, tx.Tx, r); err != nil {
			return err
		}
	}
	return nil
}

// UsualTimes returns the slots of a section's date, by name, as they would be had no day been put
// right: those of the version that held, or of the first that did.
func UsualTimes(v work.Snapshot, section ids.Section, d day.Date) map[string]store.PatternSlot {
	out := map[string]store.PatternSlot{}
	rows := v.School.Records().Rows
	pattern := ""
	for _, x := range rows.Calendar {
		if x.SectionID == section && x.Date == d {
			pattern = x.Pattern
		}
	}
	for _, x := range rows.PatternSlots {
		if x.SectionID != section || x.Pattern != pattern || x.Once {
			continue
		}
		had, known := out[x.Slot]
		if !known || (x.From <= d && (x.From > had.From || had.From > d)) || (x.From < had.From && had.From > d) {
			out[x.Slot] = x
		}
	}
	return out
}
