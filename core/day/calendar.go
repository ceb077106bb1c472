package day

import (
	"fmt"
	"slices"
	"sort"
)

// Closed is the name that a calendar gives to dates without school.
const Closed = "closed"

// Kind says what a slot is for.
type Kind uint8

// The kinds of slot.
const (
	Lesson Kind = iota
	Registration
)

// String returns the word used in files.
func (k Kind) String() string {
	if k == Registration {
		return "registration"
	}
	return "lesson"
}

// ParseKind reads "lesson" or "registration"; empty is a lesson.
func ParseKind(s string) (Kind, error) {
	switch s {
	case "", "lesson":
		return Lesson, nil
	case "registration":
		return Registration, nil
	}
	return 0, fmt.Errorf("%q is neither lesson nor registration", s)
}

// Slot is a stretch of the day, [Start, End), for which a register is taken.
type Slot struct {
	Name       string
	Start, End Minute
	Kind       Kind
}

// Minutes returns the slot's length.
func (s Slot) Minutes() int { return int(s.End.Sub(s.Start)) }

// Label names the slot in a sentence: "lesson 3", "AM registration".
func (s Slot) Label() string {
	if s.Kind == Registration {
		return s.Name + " registration"
	}
	return "lesson " + s.Name
}

// Pattern is a bell schedule: its slots in time order. One that has changed is several
// patterns of one name, each with the date from which it holds until the next does.
type Pattern struct {
	Name  string
	Since Date // 0 for the first
	Slots []Slot
}

// Version names the pattern apart from others of its name: "normal", and from a change on
// "normal from 2026-03-02".
func (p *Pattern) Version() string {
	if p.Since == 0 {
		return p.Name
	}
	return p.Name + " from " + p.Since.String()
}

// Position returns the place of the named slot in the pattern.
func (p *Pattern) Position(slot string) (int, bool) {
	for i := range p.Slots {
		if p.Slots[i].Name == slot {
			return i, true
		}
	}
	return 0, false
}

// First returns the slot that opens the day for safe arrival: the first
// registration, or the first slot where there is none.
func (p *Pattern) First() (Slot, bool) {
	for _, s := range p.Slots {
		if s.Kind == Registration {
			return s, true
		}
	}
	if len(p.Slots) == 0 {
		return Slot{}, false
	}
	return p.Slots[0], true
}

// SchoolDay is an open date of the calendar.
type SchoolDay struct {
	Date          Date
	Pattern       *Pattern
	Term          string
	GradingPeriod string
}

// Row is one date as a calendar names it; Pattern "closed" means no school.
type Row struct {
	Date          Date
	Pattern       string
	Term          string
	GradingPeriod string
}

// Calendar is one school year: its open dates in order. It is immutable.
type Calendar struct {
	days     []SchoolDay
	weeks    []int // school week of each open date, from 0
	patterns []*Pattern
	first    Date
	last     Date
}

// NewCalendar builds the calendar of a school year. Slots are put in time order, and each
// date has the version of its pattern that held on it. It refuses a date given twice, a
// pattern that does not exist on a date and no rows at all.
func NewCalendar(patterns []Pattern, rows []Row) (*Calendar, error) {
	if len(rows) == 0 {
		return nil, fmt.Errorf("a calendar needs at least one date")
	}
	c := &Calendar{}
	versions := map[string][]*Pattern{}
	for i := range patterns {
		p := patterns[i]
		p.Slots = append([]Slot(nil), p.Slots...)
		sort.SliceStable(p.Slots, func(a, b int) bool { return p.Slots[a].Start.Before(p.Slots[b].Start) })
		twice := slices.ContainsFunc(versions[p.Name], func(o *Pattern) bool { return o.Since == p.Since })
		if twice || p.Name == Closed {
			return nil, fmt.Errorf("day pattern %q can't be named so, or is there twice", p.Version())
		}
		versions[p.Name] = append(versions[p.Name], &p)
		c.patterns = append(c.patterns, &p)
	}
	sorted := append([]Row(nil), rows...)
	sort.Slice(sorted, func(a, b int) bool { return sorted[a].Date < sorted[b].Date })
	c.first, c.last = sorted[0].Date, sorted[len(sorted)-1].Date
	week, monday := -1, Date(0)
	for i, r := range sorted {
		if i > 0 && sorted[i-1].Date == r.Date {
			return nil, fmt.Errorf("%s is in the calendar twice", r.Date)
		}
		if r.Pattern == Closed {
			continue
		}
		p := heldOn(versions[r.Pattern], r.Date)
		if p == nil {
			return nil, fmt.Errorf("%s has the day pattern %q, which does not exist", r.Date, r.Pattern)
		}
		if week < 0 || r.Date.Monday() != monday {
			week, monday = week+1, r.Date.Monday()
		}
		c.days = append(c.days, SchoolDay{Date: r.Date, Pattern: p, Term: r.Term, GradingPeriod: r.GradingPeriod})
		c.weeks = append(c.weeks, week)
	}
	return c, nil
}

// heldOn returns the version of a pattern that held on a date; nil where none did.
func heldOn(versions []*Pattern, d Date) *Pattern {
	var held *Pattern
	for _, p := range versions {
		if (p.Since == 0 || p.Since <= d) && (held == nil || p.Since > held.Since) {
			held = p
		}
	}
	return held
}

// Days returns the number of open dates.
func (c *Calendar) Days() int { return len(c.days) }

// Day returns the i-th open date, from 0.
func (c *Calendar) Day(i int) SchoolDay { return c.days[i] }

// Week returns the school week of the i-th open date: Monday-to-Sunday weeks
// with at least one open date, counted from 0.
func (c *Calendar) Week(i int) int { return c.weeks[i] }

// Patterns returns the day patterns, each version of one by itself, with their slots in time
// order.
func (c *Calendar) Patterns() []*Pattern { return c.patterns }

// Span returns the first and last date of the school year.
func (c *Calendar) Span() (first, last Date) { return c.first, c.last }

// Index returns the place of an open date; ok is false for any other date.
func (c *Calendar) Index(d Date) (i int, ok bool) {
	i = c.From(d)
	return i, i < len(c.days) && c.days[i].Date == d
}

// From returns the place of the first open date on or after d; Days() if none.
func (c *Calendar) From(d Date) int {
	return sort.Search(len(c.days), func(i int) bool { return c.days[i].Date >= d })
}

// UpTo returns the place of the last open date on or before d; −1 if none.
func (c *Calendar) UpTo(d Date) int {
	return sort.Search(len(c.days), func(i int) bool { return c.days[i].Date > d }) - 1
}

// Overlap returns the minutes that [from, to) and [start, end) have in common.
func Overlap(from, to, start, end Minute) int {
	return max(0, int(Earliest(to, end).Sub(Latest(from, start))))
}

// EndedBy returns the place of the last school day that was over at a minute of a date: a
// day is over when its last slot has ended. It is −1 for none.
func (c *Calendar) EndedBy(d Date, m Minute) int {
	i := c.UpTo(d)
	if i >= 0 && c.Day(i).Date == d {
		slots := c.Day(i).Pattern.Slots
		if len(slots) > 0 && m.Before(slots[len(slots)-1].End) {
			i--
		}
	}
	return i
}
