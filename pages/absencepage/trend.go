package absencepage

import (
	"cmp"
	"maps"
	"slices"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/policy"
)

// TrendBar is a share missed of some time.
type TrendBar struct {
	Label string `json:"label"`
	Title string `json:"title" doc:"In words"`
	Rate  string `json:"rate" doc:"Per cent with one decimal; empty where nothing was possible"`
	Share int    `json:"share" doc:"Thousandths, for the bar"`
}

// TrendView is when a group missed what it missed.
type TrendView struct {
	Weeks    []TrendBar `json:"weeks" doc:"By school week"`
	Weekdays []TrendBar `json:"weekdays"`
	Slots    []TrendBar `json:"slots" doc:"Share of the time of each slot"`
}

func trendOf(parts []part) TrendView {
	out := TrendView{Weeks: []TrendBar{}, Weekdays: []TrendBar{}, Slots: []TrendBar{}}
	weeks := map[day.Date]absence.Sum{}
	var weekdays [7]absence.Sum
	var slots []absence.SlotSum
	for _, p := range parts {
		t := p.measure.Trend(p.places, p.span.Span)
		monday := map[int]day.Date{}
		for d := p.span.From; d <= p.span.To; d++ {
			monday[p.Calendar.Week(d)] = p.Calendar.Day(d).Date.Monday()
		}
		for week, s := range t.Weeks {
			weeks[monday[week]] = together(weeks[monday[week]], s)
		}
		for i, s := range t.Weekdays {
			weekdays[i] = together(weekdays[i], s)
		}
		for _, s := range t.Slots {
			if i := slices.IndexFunc(slots, func(x absence.SlotSum) bool { return x.Slot == s.Slot }); i >= 0 {
				slots[i].Sum = together(slots[i].Sum, s.Sum)
			} else {
				slots = append(slots, s)
			}
		}
	}
	for _, monday := range slices.Sorted(maps.Keys(weeks)) {
		out.Weeks = append(out.Weeks, bar(monday.Time().Format("2 Jan"), "week of "+monday.Spoken(), weeks[monday]))
	}
	for i, s := range weekdays {
		if s.Possible > 0 {
			name := (day.MustDate("2026-03-09") + day.Date(i)).Time().Format("Monday")
			out.Weekdays = append(out.Weekdays, bar(name[:3], name+"s", s))
		}
	}
	slices.SortStableFunc(slots, func(a, b absence.SlotSum) int { return cmp.Compare(a.Start, b.Start) })
	for _, s := range slots {
		out.Slots = append(out.Slots, bar(s.Slot, "in "+s.Slot, s.Sum))
	}
	return out
}

func together(a, b absence.Sum) absence.Sum {
	return absence.Sum{Possible: a.Possible + b.Possible, Absent: a.Absent + b.Absent}
}

func bar(label, title string, s absence.Sum) TrendBar {
	out := TrendBar{Label: label, Title: title, Rate: policy.Percent(s.Absent, s.Possible)}
	if s.Possible > 0 {
		out.Share = s.Absent * 1000 / s.Possible
	}
	return out
}
