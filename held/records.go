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

// Records are all that is stored of the school, whenever it held, from which the school of
// any date is made. They do not change: others take their place when something does.
type Records struct {
	Rows store.School

	sections []*SectionRecords // in their order; there is one at least
	index    *index
	changes  []day.Date // the dates on which something begins or is over, in order
	mu       sync.Mutex // guards made
	made     map[int]*School
}

// Load reads the records from a store.
func Load(ctx context.Context, q store.Queryer) (*Records, error) {
	rows, err := store.LoadSchool(ctx, q)
	if err != nil {
		return nil, fmt.Errorf("reading the school: %w", err)
	}
	decided, err := loadDecisions(ctx, q, rows.Sections)
	if err != nil {
		return nil, err
	}
	policies, err := loadPolicies(ctx, q)
	if err != nil {
		return nil, err
	}
	return newRecords(rows, func(s ids.Section) (decisions, []PolicyFrom) { return decided[s], policies[s] })
}

// With returns the records of a school with other rows; it refuses a calendar that can't be.
func (r *Records) With(rows store.School) (*Records, error) {
	return newRecords(rows, func(id ids.Section) (decisions, []PolicyFrom) {
		s, known := r.Section(id)
		if !known {
			s = r.sections[0] // as whose a new one decides
		}
		return s.decided, s.policies
	})
}

// WithContactsAndWarnings returns the records of a school with other contacts and warnings: everything
// else stays as it is, and so does what was made of it but for that.
func (r *Records) WithContactsAndWarnings(with store.School) *Records {
	out := &Records{Rows: r.Rows, sections: r.sections, changes: r.changes, made: map[int]*School{}}
	out.Rows.Contacts, out.Rows.StudentContacts, out.Rows.Warnings = with.Contacts, with.StudentContacts, with.Warnings
	out.index = r.index.contacted(with)
	return out
}

func newRecords(rows store.School, of func(ids.Section) (decisions, []PolicyFrom)) (*Records, error) {
	r := &Records{Rows: rows, index: newIndex(rows), made: map[int]*School{}}
	members := membersOf(rows)
	for _, x := range rows.Sections {
		decided, policies := of(x.ID)
		s := &SectionRecords{Section: x, Settings: decided.over(), decided: decided, policies: policies, members: members[x.ID]}
		if err := s.makeYears(rows, r.index.spans); err != nil {
			return nil, err
		}
		r.sections = append(r.sections, s)
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
	for _, s := range r.sections {
		for _, y := range s.years {
			first, last := y.Calendar.Span()
			dates[first], dates[last+1] = true, true
		}
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

// Sections returns the sections, whenever they held, in their order.
func (r *Records) Sections() []*SectionRecords { return r.sections }

// Section returns the section with this id; ok is false where there is none.
func (r *Records) Section(id ids.Section) (s *SectionRecords, ok bool) {
	for _, s := range r.sections {
		if s.ID == id {
			return s, true
		}
	}
	return nil, false
}

// SchoolDayBefore returns the last school day before a date of any of the sections, all where
// none is given.
func (r *Records) SchoolDayBefore(d day.Date, of ...ids.Section) (before day.Date, ok bool) {
	for _, s := range r.sections {
		if b, there := s.schoolDayBefore(d); there && InScope(of, s.ID) && (!ok || b > before) {
			before, ok = b, true
		}
	}
	return before, ok
}

// SchoolDayAfter returns the first school day after a date of any of the sections, all where
// none is given.
func (r *Records) SchoolDayAfter(d day.Date, of ...ids.Section) (after day.Date, ok bool) {
	for _, s := range r.sections {
		if a, there := s.schoolDayAfter(d); there && InScope(of, s.ID) && (!ok || a < after) {
			after, ok = a, true
		}
	}
	return after, ok
}

// InScope reports whether a section is one of those given, or none is.
func InScope(of []ids.Section, section ids.Section) bool {
	return len(of) == 0 || slices.Contains(of, section)
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

// ledgerStudent returns what the ledger of a section's year needs to know of a student.
func (r *Records) ledgerStudent(s *Section, st store.Student) absence.Student {
	out := absence.Student{ID: st.SourcedID, Enrolled: s.onRoll(st.ID, st.Spans, s.Calendar), ShareHere: policy.NewFraction(1, 1)}
	for _, x := range r.index.details[st.ID] {
		here, elsewhere := sharesOf(x)
		out.Shares = append(out.Shares, absence.Shares{Here: here, Elsewhere: elsewhere, On: x.Dates()})
	}
	if n := len(out.Shares); n == 1 && out.Shares[0].On == day.Always {
		out.ShareHere, out.ShareElsewhere, out.Shares = out.Shares[0].Here, out.Shares[0].Elsewhere, nil
	}
	out.Schedule = r.scheduleOf(r.index.slots[st.ID])
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
