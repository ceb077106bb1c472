package conduct

import (
	"cmp"
	"slices"
	"strings"

	"meldung/core/day"
)

// Time is a part of a school day, as a key: a slot, what lies between two, or what lies about the day.
type Time string

// The times that are no slots.
const (
	Before  Time = "before" // school
	After   Time = "after"
	Unknown Time = "unknown"
	NoDay   Time = "no-day" // on a date without school
)

const (
	slotKey    = "slot:"
	betweenKey = "between:"
)

// Slot is the time of a slot.
func Slot(name string) Time { return Time(slotKey + name) }

// Between is the time between two slots that follow each other.
func Between(first, next string) Time { return Time(betweenKey + first + "|" + next) }

// Name returns how the time is called: a slot by its name, what lies between two by the school's name for
// it where it has one.
func (t Time) Name(breaks map[Time]string) string {
	if s, ok := strings.CutPrefix(string(t), slotKey); ok {
		return s
	}
	if name := breaks[t]; name != "" {
		return name
	}
	if s, ok := strings.CutPrefix(string(t), betweenKey); ok {
		first, next, _ := strings.Cut(s, "|")
		return first + "–" + next
	}
	switch t {
	case Before:
		return "before school"
	case After:
		return "after school"
	case NoDay:
		return "no school day"
	}
	return "time not known"
}

// TimeOf returns the time of a day at a minute, by the slots of that date; a slot has its first minute and
// not its last. No slots are a date without school.
func TimeOf(slots []day.Slot, at day.Minute) Time {
	if at.IsZero() {
		return Unknown
	}
	if len(slots) == 0 {
		return NoDay
	}
	ordered := byStart(slots)
	last := ""
	for _, s := range ordered {
		if at.Before(s.Start) {
			if last == "" {
				return Before
			}
			return Between(last, s.Name)
		}
		if at.Before(s.End) {
			return Slot(s.Name)
		}
		last = s.Name
	}
	return After
}

func byStart(slots []day.Slot) []day.Slot {
	ordered := slices.Clone(slots)
	slices.SortStableFunc(ordered, func(a, b day.Slot) int {
		return cmp.Compare(a.Start.SinceMidnight(), b.Start.SinceMidnight())
	})
	return ordered
}

// Column is a time of some days.
type Column struct {
	Time    Time
	Minutes int // how long it is on the day on which it is longest; 0 for what has no end
}

// Columns returns the times of days that go by some patterns, in their order, and what is left over at the
// end: not known and, where it is asked for, dates without school.
func Columns(patterns []*day.Pattern, noDay bool) []Column {
	type timed struct {
		Column
		start int
	}
	var all []timed
	add := func(t Time, start, end int) {
		i := slices.IndexFunc(all, func(x timed) bool { return x.Time == t })
		if i < 0 {
			all = append(all, timed{Column{t, end - start}, start})
			return
		}
		all[i].start, all[i].Minutes = min(all[i].start, start), max(all[i].Minutes, end-start)
	}
	for _, p := range patterns {
		ordered := byStart(p.Slots)
		for i, s := range ordered {
			add(Slot(s.Name), s.Start.SinceMidnight(), s.End.SinceMidnight())
			if i > 0 && s.Start.After(ordered[i-1].End) {
				add(Between(ordered[i-1].Name, s.Name), ordered[i-1].End.SinceMidnight(), s.Start.SinceMidnight())
			}
		}
	}
	slices.SortStableFunc(all, func(a, b timed) int { return cmp.Compare(a.start, b.start) })
	out := []Column{{Time: Before}}
	for _, x := range all {
		out = append(out, x.Column)
	}
	out = append(out, Column{Time: After})
	if noDay {
		out = append(out, Column{Time: NoDay})
	}
	return append(out, Column{Time: Unknown})
}

// Grid is how many incidents there were of each row at each time.
type Grid[R comparable] struct {
	Rows    []R
	Columns []Column
	Cells   [][]int // by row and column
	RowSums []int
	Sums    []int // of the columns
	All     int
}

// Gather counts incidents by row and time. What has a row or a time that is not among those given gets one
// at the end, so that the cells always add up to the incidents.
func Gather[R comparable](found []Incident, rows []R, columns []Column, of func(Incident) R) Grid[R] {
	g := Grid[R]{Rows: slices.Clone(rows), Columns: slices.Clone(columns)}
	for range g.Rows {
		g.Cells = append(g.Cells, make([]int, len(g.Columns)))
	}
	for _, i := range found {
		r := slices.Index(g.Rows, of(i))
		if r < 0 {
			r = len(g.Rows)
			g.Rows = append(g.Rows, of(i))
			g.Cells = append(g.Cells, make([]int, len(g.Columns)))
		}
		c := slices.IndexFunc(g.Columns, func(x Column) bool { return x.Time == i.Time })
		if c < 0 {
			c = len(g.Columns)
			g.Columns = append(g.Columns, Column{Time: i.Time})
			for n := range g.Cells {
				g.Cells[n] = append(g.Cells[n], 0)
			}
		}
		g.Cells[r][c]++
	}
	g.RowSums, g.Sums = make([]int, len(g.Rows)), make([]int, len(g.Columns))
	for r, row := range g.Cells {
		for c, n := range row {
			g.RowSums[r] += n
			g.Sums[c] += n
			g.All += n
		}
	}
	return g
}
