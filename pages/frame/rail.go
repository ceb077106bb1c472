// Package frame holds what stands round every page: the day rail, the search and the quick
// line.
package frame

import (
	"context"
	"sort"

	"meldung/core/day"
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

// RailView is the day rail.
type RailView struct {
	Date   string     `json:"date"`
	Label  string     `json:"label"`
	Number int        `json:"number"`
	Of     int        `json:"of"`
	Term   string     `json:"term"`
	Open   bool       `json:"open"`
	Live   bool       `json:"live"`
	Now    string     `json:"now" doc:"The clock, YYYY-MM-DDTHH:MM"`
	AsAt   string     `json:"asAt"`
	Slots  []RailSlot `json:"slots"`
	Ticks  []Tick     `json:"ticks"`
	Before string     `json:"before" doc:"The school day before; empty for none"`
	After  string     `json:"after"`
}

// ShowRail returns the day rail as at a moment.
func ShowRail(ctx context.Context, o *work.Office, asAt string) (RailView, error) {
	out := RailView{Slots: []RailSlot{}, Ticks: []Tick{}}
	m, err := o.Moment(asAt)
	if err != nil {
		return out, err
	}
	err = o.ReadDay(ctx, m, func(v work.Snapshot, x *work.Day) error {
		out.Date, out.Label, out.Open, out.Live = m.Date.String(), m.Date.Spoken(), x.Open, m.Live
		out.Now, out.AsAt = o.Now().String(), m.At().String()
		out.Number, out.Of = v.School.DayNumber(m.Date)
		out.Before, out.After = neighbours(v, m.Date)
		if x.Open {
			out.Term = x.School.Term
			railSlots(v, &out, x, m)
			railTicks(v, &out, x, m)
		}
		return nil
	})
	return out, err
}

func neighbours(v work.Snapshot, d day.Date) (before, after string) {
	if b, ok := v.School.Records().SchoolDayBefore(d); ok {
		before = b.String()
	}
	if a, ok := v.School.Records().SchoolDayAfter(d); ok {
		after = a.String()
	}
	return before, after
}

func railSlots(v work.Snapshot, out *RailView, x *work.Day, m work.Moment) {
	for _, s := range x.School.Pattern.Slots {
		out.Slots = append(out.Slots, RailSlot{Name: s.Name, Start: s.Start.SinceMidnight(), End: s.End.SinceMidnight(), Kind: s.Kind.String()})
	}
	for _, r := range x.Registers {
		pos, ok := x.School.Pattern.Position(r.Slot.Name)
		if !ok {
			continue // of a slot that the day has no more
		}
		out.Slots[pos].Registers++
		if r.SentBy(m) {
			out.Slots[pos].In++
		}
	}
}

// railTicks adds up first arrivals and departures by minute.
func railTicks(v work.Snapshot, out *RailView, x *work.Day, m work.Moment) {
	type tick struct {
		at   day.Minute
		kind string
	}
	n := map[tick]int{}
	for _, s := range x.Roll {
		e := x.Evidence[s.ID]
		at, late, ok := whereabouts.FirstArrival(*e, v.Rules(), m.Minute, m.Known)
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
