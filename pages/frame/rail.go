// Package frame holds what stands round every page: the day rail, the search and the quick
// line.
package frame

import (
	"context"
	"sort"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/whereabouts"
	"meldung/work"
)

// RailSlot is a slot of the day rail.
type RailSlot struct {
	Name      string `json:"name"`
	Start     int    `json:"start" doc:"Minute of the day"`
	End       int    `json:"end"`
	Kind      string `json:"kind"`
	Registers int    `json:"registers"`
	In        int    `json:"in"`
}

// Tick is an arrival or departure on the rail.
type Tick struct {
	At   int    `json:"at"`
	Kind string `json:"kind" enum:"in,late,left"`
	N    int    `json:"n"`
}

// RailStrip is the day of one section: its bells, and who came and went.
type RailStrip struct {
	Section ids.Section `json:"section"`
	Name    string      `json:"name" doc:"The section by name; empty where the school has one"`
	Number  int         `json:"number" doc:"Of the date among the section's school days"`
	Of      int         `json:"of"`
	Term    string      `json:"term"`
	Open    bool        `json:"open"`
	Slots   []RailSlot  `json:"slots"`
	Ticks   []Tick      `json:"ticks"`
}

// SectionRef is a section that can be looked at.
type SectionRef struct {
	ID   ids.Section `json:"id"`
	Name string      `json:"name"`
}

// RailView is the day rail: a strip for each section in scope.
type RailView struct {
	Date     string       `json:"date"`
	Label    string       `json:"label"`
	Open     bool         `json:"open" doc:"Whether any of them has school"`
	Live     bool         `json:"live"`
	Now      string       `json:"now" doc:"The clock, YYYY-MM-DDTHH:MM"`
	AsAt     string       `json:"asAt"`
	Strips   []RailStrip  `json:"strips"`
	Sections []SectionRef `json:"sections" doc:"Those that can be looked at; empty where the school has one"`
	Before   string       `json:"before" doc:"The school day before of any of them; empty for none"`
	After    string       `json:"after"`
}

// ShowRail returns the day rail as at a moment.
func ShowRail(ctx context.Context, o *work.Office, asAt string, of ...ids.Section) (RailView, error) {
	out := RailView{Strips: []RailStrip{}, Sections: []SectionRef{}}
	m, err := o.Moment(asAt, of...)
	if err != nil {
		return out, err
	}
	err = o.ReadDay(ctx, m, func(v work.Snapshot, x *work.Day) error {
		out.Date, out.Label, out.Open, out.Live = m.Date.String(), m.Date.Spoken(), x.Open(), m.Live
		out.Now, out.AsAt = o.Now().String(), m.At().String()
		out.Before, out.After = neighbours(v, m)
		if all := v.Sections(); len(all) > 1 {
			for _, s := range all {
				out.Sections = append(out.Sections, SectionRef{s.ID, s.Name})
			}
		}
		for _, s := range v.In(m.Scope) {
			strip := RailStrip{Section: s.ID, Name: v.Among(s.ID), Slots: []RailSlot{}, Ticks: []Tick{}}
			strip.Number, strip.Of = s.DayNumber(m.Date)
			if on := x.Section(s.ID); on.Open {
				strip.Open, strip.Term = true, on.School.Term
				strip.addSlots(x, on, m)
				strip.addTicks(x, m)
			}
			out.Strips = append(out.Strips, strip)
		}
		return nil
	})
	return out, err
}

func neighbours(v work.Snapshot, m work.Moment) (before, after string) {
	if b, ok := v.School.Records().SchoolDayBefore(m.Date, m.Scope...); ok {
		before = b.String()
	}
	if a, ok := v.School.Records().SchoolDayAfter(m.Date, m.Scope...); ok {
		after = a.String()
	}
	return before, after
}

func (out *RailStrip) addSlots(x *work.Day, on *work.SectionDay, m work.Moment) {
	for _, s := range on.School.Pattern.Slots {
		out.Slots = append(out.Slots, RailSlot{Name: s.Name, Start: s.Start.SinceMidnight(), End: s.End.SinceMidnight(), Kind: s.Kind.String()})
	}
	for _, r := range x.Registers {
		pos, ok := on.School.Pattern.Position(r.Slot.Name)
		if !ok || r.Class.Section != on.ID {
			continue // of another section, or of a slot that the day has no more
		}
		out.Slots[pos].Registers++
		if r.SentBy(m) {
			out.Slots[pos].In++
		}
	}
}

// addTicks adds up first arrivals and departures by minute.
func (out *RailStrip) addTicks(x *work.Day, m work.Moment) {
	type tick struct {
		at   day.Minute
		kind string
	}
	n := map[tick]int{}
	for _, s := range x.Roll {
		if s.Section != out.Section {
			continue
		}
		e := x.Evidence[s.ID]
		at, late, ok := whereabouts.FirstArrival(*e, x.Rules(s.ID), m.Minute, m.Known)
		if ok {
			kind := "in"
			if late {
				kind = "late"
			}
			n[tick{at, kind}]++
		}
		for _, mv := range e.Movements {
			if mv.Kind == whereabouts.Departed && !mv.At.After(m.Minute) && mv.Known.At <= m.Known && (mv.Undone == nil || mv.Undone.At > m.Known) {
				n[tick{mv.At, "left"}]++
			}
		}
	}
	for t, k := range n {
		out.Ticks = append(out.Ticks, Tick{t.at.SinceMidnight(), t.kind, k})
	}
	sort.Slice(out.Ticks, func(a, b int) bool {
		if out.Ticks[a].At != out.Ticks[b].At {
			return out.Ticks[a].At < out.Ticks[b].At
		}
		return out.Ticks[a].Kind < out.Ticks[b].Kind
	})
}
