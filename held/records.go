package held

import (
	"context"
	"fmt"
	"slices"
	"sort"
	"sync"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/policy"
	"meldung/store"
)

// Year is a school year: its calendar, and who was on the roll at any time of it, in the
// order of its ledger.
type Year struct {
	Calendar *day.Calendar
	Students []ids.Student
	places   map[ids.Student]int
}

// Records are all that is stored of the school, whenever it held, from which the school of
// any date is made. They do not change: others take their place when something does.
type Records struct {
	Rows     store.School
	Settings []SettingsFrom // in the order of the dates from which they hold; there is one at least

	decided  decisions
	policies []PolicyFrom // the school's own
	index    *index
	years    []*Year
	changes  []day.Date // the dates on which something begins or is over, in order
	mu       sync.Mutex // guards made
	made     map[int]*School
}

// Load reads the records from a store.
func Load(ctx context.Context, q store.Queryer) (*Records, error) {
	decided, err := loadDecisions(ctx, q)
	if err != nil {
		return nil, err
	}
	rows, err := store.LoadSchool(ctx, q)
	if err != nil {
		return nil, fmt.Errorf("reading the school: %w", err)
	}
	policies, err := loadPolicies(ctx, q)
	if err != nil {
		return nil, err
	}
	return newRecords(rows, decided, policies)
}

// With returns the records of a school with other rows; it refuses a calendar that can't be.
func (r *Records) With(rows store.School) (*Records, error) {
	return newRecords(rows, r.decided, r.policies)
}

func newRecords(rows store.School, decided decisions, policies []PolicyFrom) (*Records, error) {
	r := &Records{Rows: rows, Settings: decided.over(), decided: decided, policies: policies, index: newIndex(rows), made: map[int]*School{}}
	if err := r.makeYears(); err != nil {
		return nil, err
	}
	dates := map[day.Date]bool{}
	note := func(h store.Held) {
		on := h.Dates()
		dates[on.From] = true
		if on.To != day.NoEnd {
			dates[on.To+1] = true
		}
	}
	for _, x := range rows.Details {
		note(x.Held)
	}
	for _, x := range rows.ClassDetails {
		note(x.Held)
	}
	for _, x := range rows.Teachers {
		note(x.Held)
	}
	for _, x := range rows.Timetable {
		note(x.Held)
	}
	for _, y := range r.years {
		first, last := y.Calendar.Span()
		dates[first], dates[last+1] = true, true
	}
	for d := range dates {
		r.changes = append(r.changes, d)
	}
	slices.Sort(r.changes)
	return r, nil
}

// classTitle returns what a class was called on a date.
func (r *Records) classTitle(class ids.Class, d day.Date) string {
	x, _ := heldOn(r.index.named[class], d, func(x store.ClassDetail) store.Held { return x.Held })
	return x.Title
}

// makeYears makes the calendar of each school year.
func (r *Records) makeYears() error {
	patterns, err := patternsOf(r.Rows.PatternSlots)
	if err != nil {
		return err
	}
	for _, y := range r.Rows.Years {
		var rows []day.Row
		for _, c := range r.Rows.Calendar {
			if c.Date >= y.First && c.Date <= y.Last {
				rows = append(rows, day.Row{Date: c.Date, Pattern: c.Pattern, Term: c.Term, GradingPeriod: c.GradingPeriod})
			}
		}
		cal, err := day.NewCalendar(patterns, rows)
		if err != nil {
			return fmt.Errorf("the school year from %s: %w", y.First, err)
		}
		r.years = append(r.years, &Year{Calendar: cal})
	}
	for _, y := range r.years {
		first, last := y.Calendar.Span()
		y.places = map[ids.Student]int{}
		for _, x := range r.Rows.Spans {
			_, there := y.places[x.StudentID]
			if !there && !x.Dates().Common(day.Dates{From: first, To: last}).Empty() {
				y.places[x.StudentID] = 0
				y.Students = append(y.Students, x.StudentID)
			}
		}
		slices.Sort(y.Students)
		for i, id := range y.Students {
			y.places[id] = i
		}
	}
	return nil
}

// patternsOf puts the stored slots together: each pattern as often as it was another.
func patternsOf(rows []store.PatternSlot) ([]day.Pattern, error) {
	of := map[string][]store.PatternSlot{}
	var names []string
	for _, r := range rows {
		if of[r.Pattern] == nil {
			names = append(names, r.Pattern)
		}
		of[r.Pattern] = append(of[r.Pattern], r)
	}
	var out []day.Pattern
	for _, name := range names {
		var begins []day.Date
		for _, r := range of[name] {
			begins = append(begins, r.From)
			if r.To != nil {
				begins = append(begins, *r.To+1)
			}
		}
		slices.Sort(begins)
		for _, since := range slices.Compact(begins) {
			p := day.Pattern{Name: name, Since: since}
			for _, r := range of[name] {
				if !r.On(since) {
					continue
				}
				slot, err := SlotOf(r.Slot, r.Start, r.End, r.Kind)
				if err != nil {
					return nil, err
				}
				p.Slots = append(p.Slots, slot)
			}
			if len(p.Slots) > 0 {
				out = append(out, p)
			}
		}
	}
	return out, nil
}

// SlotOf returns a slot as it is stored.
func SlotOf(name string, start, end day.Minute, kind string) (day.Slot, error) {
	k, err := day.ParseKind(kind)
	return day.Slot{Name: name, Start: start, End: end, Kind: k}, err
}

// Years returns the school years in their order.
func (r *Records) Years() []*Year { return r.years }

// Ledger returns the ledger of the school year of a date, filled by these records, and the
// marks that it has no place for.
func (r *Records) Ledger(ctx context.Context, q store.Queryer, d day.Date) (*absence.Ledger, []Misplaced, error) {
	return r.FillLedger(ctx, q, r.On(d))
}

// YearBefore returns the school year before that of a date; nil where none is known.
func (r *Records) YearBefore(d day.Date) *Year {
	n := slices.Index(r.years, r.YearOf(d))
	if n < 1 {
		return nil
	}
	return r.years[n-1]
}

// YearOf returns the school year that a date lies in, or else the last that began before
// it, or the first; nil without any.
func (r *Records) YearOf(d day.Date) *Year {
	if len(r.years) == 0 {
		return nil
	}
	n := sort.Search(len(r.years), func(i int) bool {
		first, _ := r.years[i].Calendar.Span()
		return first > d
	})
	return r.years[max(0, n-1)]
}

// SchoolDayBefore returns the last school day before a date, of whichever year.
func (r *Records) SchoolDayBefore(d day.Date) (day.Date, bool) {
	for n := len(r.years) - 1; n >= 0; n-- {
		if c := r.years[n].Calendar; c.UpTo(d-1) >= 0 {
			return c.Day(c.UpTo(d - 1)).Date, true
		}
	}
	return 0, false
}

// SchoolDayAfter returns the first school day after a date, of whichever year.
func (r *Records) SchoolDayAfter(d day.Date) (day.Date, bool) {
	for _, y := range r.years {
		if c := y.Calendar; c.From(d+1) < c.Days() {
			return c.Day(c.From(d + 1)).Date, true
		}
	}
	return 0, false
}

// On returns the school as it held on a date.
func (r *Records) On(d day.Date) *School {
	n := sort.Search(len(r.changes), func(i int) bool { return r.changes[i] > d })
	r.mu.Lock()
	defer r.mu.Unlock()
	if r.made[n] == nil {
		if len(r.made) >= mostSchools {
			clear(r.made)
		}
		r.made[n] = newSchool(r, d)
	}
	return r.made[n]
}

// mostSchools bounds for how many stretches of time the school is kept in memory.
const mostSchools = 8

// ledgerStudent returns what a ledger needs to know of a student over a span of dates.
func (r *Records) ledgerStudent(s *School, st store.Student) absence.Student {
	out := absence.Student{ID: st.SourcedID, Enrolled: st.Spans, ShareHere: policy.NewFraction(1, 1)}
	for _, x := range s.details[st.ID] {
		here, elsewhere := sharesOf(x)
		out.Shares = append(out.Shares, absence.Shares{Here: here, Elsewhere: elsewhere, On: x.Dates()})
	}
	if n := len(out.Shares); n == 1 && out.Shares[0].On == day.Always {
		out.ShareHere, out.ShareElsewhere, out.Shares = out.Shares[0].Here, out.Shares[0].Elsewhere, nil
	}
	out.Schedule = r.scheduleOf(s.slots[st.ID])
	return out
}

// sharesOf reads the shares of a stored row, which were read before they were stored.
func sharesOf(x store.StudentDetail) (here, elsewhere policy.Fraction) {
	here, err := policy.ParseFraction(x.ShareHere)
	if err != nil {
		here = policy.NewFraction(1, 1)
	}
	elsewhere, err = policy.ParseFraction(x.ShareElsewhere)
	if err != nil {
		elsewhere = policy.Fraction{}
	}
	return here, elsewhere
}

// scheduleOf writes a student's own slots as the core knows them: on dates of which no row
// holds a student is due in all.
func (r *Records) scheduleOf(rows []store.StudentSlot) []absence.ScheduleRow {
	if len(rows) == 0 {
		return nil
	}
	var out []absence.ScheduleRow
	var over []day.Dates
	for _, x := range rows {
		out = append(out, absence.ScheduleRow{Slot: x.Slot, Weekday: x.Weekday, On: x.Dates()})
		over = append(over, x.Dates())
	}
	for _, free := range gaps(over) {
		seen := map[string]bool{}
		for _, p := range r.Rows.PatternSlots {
			if !seen[p.Slot] {
				seen[p.Slot] = true
				out = append(out, absence.ScheduleRow{Slot: p.Slot, On: free})
			}
		}
	}
	return out
}

// gaps returns the dates that lie in none of the given, in order.
func gaps(over []day.Dates) []day.Dates {
	over = slices.Clone(over)
	sort.Slice(over, func(a, b int) bool { return over[a].From < over[b].From })
	var out []day.Dates
	next := day.NoStart
	for _, x := range over {
		if x.From > next {
			out = append(out, day.Dates{From: next, To: x.From - 1})
		}
		if x.To == day.NoEnd {
			return out
		}
		next = max(next, x.To+1)
	}
	return append(out, day.Since(next))
}
