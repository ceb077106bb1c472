package studentpage

import (
	"fmt"
	"slices"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/pages"
	"meldung/work"
)

// WhereView is when lessons are missed, by weekday and slot.
type WhereView struct {
	Slots    []pages.SlotRef `json:"slots" doc:"In the order of the day"`
	Weekdays []WeekdayMissed `json:"weekdays" doc:"Those with school"`
}

// WeekdayMissed is a weekday with a cell for each slot.
type WeekdayMissed struct {
	Weekday string       `json:"weekday"`
	Cells   []CellMissed `json:"cells"`
}

// CellMissed is a slot on a weekday.
type CellMissed struct {
	Marked int `json:"marked" doc:"How often the student was due in it and marked; 0 where there is none"`
	Missed int `json:"missed"`
	OnSite int `json:"onSite" doc:"Of them while on site"`
}

// whereView puts slots on weekdays into a grid.
func whereView(list []absence.SlotMissed, v work.Section) WhereView {
	out := WhereView{Slots: []pages.SlotRef{}, Weekdays: []WeekdayMissed{}}
	var names []string
	for _, p := range v.Calendar.Patterns() {
		for _, s := range p.Slots {
			if !slices.Contains(names, s.Name) && slices.ContainsFunc(list, func(x absence.SlotMissed) bool { return x.Slot == s.Name && x.Marked > 0 }) {
				names = append(names, s.Name)
				out.Slots = append(out.Slots, pages.SlotRef{Name: s.Name, Label: s.Label()})
			}
		}
	}
	for w := 1; w <= 7; w++ {
		row := WeekdayMissed{Weekday: weekdayName(w), Cells: make([]CellMissed, len(names))}
		any := false
		for _, x := range list {
			if i := slices.Index(names, x.Slot); x.Weekday == w && i >= 0 {
				row.Cells[i] = CellMissed{x.Marked, x.Missed, x.OnSite}
				any = any || x.Marked > 0
			}
		}
		if any {
			out.Weekdays = append(out.Weekdays, row)
		}
	}
	return out
}

func weekdayName(w int) string {
	return (day.MustDate("2024-01-01") + day.Date(w-1)).Time().Format("Monday")
}

// habitText says in a sentence what stands out.
func habitText(h absence.Habit, v work.Section) string {
	if h.Missed == 0 {
		return "Has missed no whole lesson this year."
	}
	missed := work.Count(h.Missed, "missed lesson")
	var said string
	switch {
	case h.Slot != "":
		said = fmt.Sprintf("Misses %s: %d of %s", slotLabel(v, h.Slot), h.Of, missed)
	case h.Weekday != 0:
		said = fmt.Sprintf("Is missing on %ss: %d of %s", weekdayName(h.Weekday), h.Of, missed)
	case h.Missed > 1 && 2*h.OnSite >= h.Missed:
		return fmt.Sprintf("Comes in and misses lessons: %d of %s while on site.", h.OnSite, missed)
	case h.Whole == h.Days:
		said = fmt.Sprintf("Away for whole days: %s", work.Count(h.Whole, "day"))
	case h.Whole > 0:
		said = fmt.Sprintf("%s on %s, %d of them whole days", missed, work.Count(h.Days, "day"), h.Whole)
	default:
		said = fmt.Sprintf("%s on %s", missed, work.Count(h.Days, "day"))
	}
	switch {
	case h.InFirst:
		said = "In every morning. " + said
	case h.OnSite > 0:
		said += fmt.Sprintf(", %d while on site", h.OnSite)
	}
	return said + "."
}

// slotLabel names a slot in a sentence.
func slotLabel(v work.Section, name string) string {
	for _, p := range v.Calendar.Patterns() {
		if i, ok := p.Position(name); ok {
			return p.Slots[i].Label()
		}
	}
	return name
}
