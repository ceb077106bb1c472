package held

import (
	"meldung/core/day"
	"meldung/core/ids"
	"meldung/store"
)

// slotOn is a slot of a date.
type slotOn struct {
	date day.Date
	slot string
}

// hoursOf says what the slots of a section are where it was closed for a part of a date: those wholly
// within the closed time are gone then, of others what is left remains. A date of which nothing is left
// is closed.
func hoursOf(rows store.School, section ids.Section) (slots []store.PatternSlot, gone map[slotOn]bool, closed map[day.Date]bool) {
	gone, closed = map[slotOn]bool{}, map[day.Date]bool{}
	patterns := map[day.Date]string{}
	for _, x := range rows.PatternSlots {
		if x.SectionID == section {
			slots = append(slots, x)
		}
	}
	for _, c := range rows.Closures {
		if c.SectionID == section && c.Hours() {
			patterns[c.Date] = ""
		}
	}
	if len(patterns) == 0 {
		return slots, gone, closed
	}
	for _, c := range rows.Calendar {
		if _, asked := patterns[c.Date]; asked && c.SectionID == section {
			patterns[c.Date] = c.Pattern
		}
	}
	for _, c := range rows.Closures {
		if c.SectionID != section || !c.Hours() || patterns[c.Date] == "" {
			continue
		}
		var left bool
		slots, left = without(slots, gone, c, patterns[c.Date])
		closed[c.Date] = closed[c.Date] || !left
	}
	return slots, gone, closed
}

// without takes the closed time out of the slots of a date, and reports whether any is left.
func without(slots []store.PatternSlot, gone map[slotOn]bool, c store.Closure, pattern string) (out []store.PatternSlot, left bool) {
	only := day.Dates{From: c.Date, To: c.Date}
	for _, x := range slots {
		if x.Pattern != pattern || !x.On(c.Date) {
			out = append(out, x)
			continue
		}
		start, end := c.Left(x.Start, x.End)
		if start == x.Start && end == x.End {
			out, left = append(out, x), true
			continue
		}
		on := x.Dates()
		for _, rest := range []day.Dates{{From: on.From, To: c.Date - 1}, {From: c.Date + 1, To: on.To}} {
			if !rest.Empty() {
				x.Held = store.HeldOn(rest)
				out = append(out, x)
			}
		}
		if !end.After(start) {
			gone[slotOn{c.Date, x.Slot}] = true
			continue
		}
		x.Held, x.Start, x.End, x.Once = store.HeldOn(only), start, end, true
		out, left = append(out, x), true
	}
	return out, left
}
