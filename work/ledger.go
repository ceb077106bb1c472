package work

import (
	"cmp"
	"context"
	"fmt"
	"maps"
	"slices"
	"strings"
	"sync"

	"meldung/core/absence"
	"meldung/core/concerns"
	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/policy"
	"meldung/files/policyfile"
	"meldung/store"
)

// mostLedgers bounds how many school years are kept in memory.
const mostLedgers = 3

// ledgers are those of the school years that were asked for, the one asked for last at the
// end.
type ledgers []*ledgerOf

// ledgerOf is the ledger of a school year, filled by who asks first.
type ledgerOf struct {
	year     *Year
	mu       sync.Mutex // guards what follows
	ledger   *absence.Ledger
	lost     []Misplaced
	measures measures
}

// measures are policies made ready for a ledger, each made once.
type measures struct {
	panels  map[string]*absence.Panel // all policies of a date, by which these are
	concern *absence.Measure          // what concerns look at
}

// ledgerOf returns the ledger of a year, filled or not, and remembers that it was asked for.
func (o *Office) ledgerOf(y *Year) *ledgerOf {
	o.cacheMu.Lock()
	defer o.cacheMu.Unlock()
	asked := &ledgerOf{year: y}
	var others ledgers
	for _, l := range o.ledgers {
		if l.year == y {
			asked = l
		} else {
			others = append(others, l)
		}
	}
	o.ledgers = append(others[max(0, len(others)-mostLedgers+1):], asked)
	return asked
}

// fill fills the ledger with the marks of its school year, where that was not done before.
func (l *ledgerOf) fill(ctx context.Context, q store.Queryer, s *School) error {
	l.mu.Lock()
	defer l.mu.Unlock()
	if l.ledger != nil {
		return nil
	}
	filled, lost, err := s.records.fillLedger(ctx, q, s)
	if err != nil {
		return fmt.Errorf("reading the marks of the school year: %w", err)
	}
	l.ledger, l.lost = filled, lost
	return nil
}

// Misplaced is a mark in force that enters no figure, since there is no place for it.
type Misplaced struct {
	store.LedgerMark
	Why string
}

// Misplaced returns the marks of the school year that enter no figure.
func (v Snapshot) Misplaced() []Misplaced {
	if v.held == nil {
		return nil
	}
	v.held.mu.Lock()
	defer v.held.mu.Unlock()
	return v.held.lost
}

// markPlace is where a mark belongs.
type markPlace struct {
	date    day.Date
	slot    string
	student ids.Student
}

// inOrder returns marks by date, slot and student.
func inOrder(marks map[markPlace]Misplaced) []Misplaced {
	out := slices.Collect(maps.Values(marks))
	slices.SortFunc(out, func(a, b Misplaced) int {
		return cmp.Or(cmp.Compare(a.Date, b.Date), cmp.Compare(a.Slot, b.Slot), cmp.Compare(a.StudentID, b.StudentID))
	})
	return out
}

// fillLedger builds the ledger of a school's year from every mark in force, and returns
// those that it has no place for.
func (r *Records) fillLedger(ctx context.Context, q store.Queryer, s *School) (*absence.Ledger, []Misplaced, error) {
	first, last := s.Calendar.Span()
	over := day.Dates{From: first, To: last}
	sets := r.CodesOver(over)
	var later []absence.CodesFrom
	for _, x := range sets[1:] {
		later = append(later, absence.CodesFrom{From: x.From, Set: x.Codes})
	}
	l := absence.NewLedger(s.Calendar, sets[0].Codes, later...)
	for _, st := range s.Students {
		l.AddStudent(r.ledgerStudent(s, st))
	}
	misplaced := map[markPlace]Misplaced{}
	err := store.EachMark(ctx, q, over, func(m store.LedgerMark) error {
		at := markPlace{m.Date, m.Slot, m.StudentID}
		if why := r.setInLedger(l, s, m); why != "" {
			misplaced[at] = Misplaced{m, why}
		} else if len(misplaced) > 0 {
			delete(misplaced, at)
		}
		return nil
	})
	return l, inOrder(misplaced), err
}

// setInLedger puts a mark into the ledger, or says why there is no place for it.
func (r *Records) setInLedger(l *absence.Ledger, s *School, m store.LedgerMark) (why string) {
	i, d, pos, why := s.cell(m.StudentID, m.Date, m.Slot)
	if why != "" {
		return why
	}
	code, known := l.Codes(d).Index(m.Code)
	switch {
	case !l.Enrolled(i, d):
		return "the student was not on the roll"
	case !l.Due(i, d, pos):
		return "the student was not due in " + m.Slot
	case !known:
		return fmt.Sprintf("the code %s is not in the codes of that date", m.Code)
	}
	if err := l.Set(i, d, pos, absence.Mark{Code: code, From: m.AwayFrom, To: m.AwayTo, Class: r.classTitle(m.ClassID, m.Date)}); err != nil {
		return err.Error()
	}
	return ""
}

// NoCalendar is the answer to who asks for figures of a school without dates.
func NoCalendar() error {
	return NotFoundf("there is no calendar yet: import a timetable first")
}

// made gives f the measures of the snapshot's ledger, one at a time.
func (v Snapshot) made(f func(m *measures) error) error {
	if v.Ledger == nil {
		return NoCalendar()
	}
	v.held.mu.Lock()
	defer v.held.mu.Unlock()
	return f(&v.held.measures)
}

// Panel returns every policy by which the school measures on the snapshot's date, made ready
// for the ledger.
func (v Snapshot) Panel() (*absence.Panel, error) {
	var out *absence.Panel
	err := v.made(func(m *measures) error {
		policies, err := v.School.records.PoliciesOn(v.On)
		if err != nil {
			return err
		}
		key := policyKey(policies)
		if m.panels[key] == nil {
			if m.panels == nil {
				m.panels = map[string]*absence.Panel{}
			}
			m.panels[key] = absence.NewPanel(v.Ledger, policies...)
		}
		out = m.panels[key]
		return nil
	})
	return out, err
}

// Measure returns a policy of the snapshot's date made ready for the ledger.
func (v Snapshot) Measure(id string) (*absence.Measure, error) {
	panel, err := v.Panel()
	if err != nil {
		return nil, err
	}
	var there []string
	for _, m := range panel.Measures() {
		if m.Policy().ID == id {
			return m, nil
		}
		there = append(there, m.Policy().ID)
	}
	return nil, NotFoundf("there is no policy %q on that date; there are %s", id, strings.Join(there, ", "))
}

// ConcernMeasure returns the policy by which concerns are found made ready for the
// ledger: ten per cent of days, with a trigger for unexcused days.
func (v Snapshot) ConcernMeasure() (*absence.Measure, error) {
	var out *absence.Measure
	err := v.made(func(m *measures) error {
		if m.concern == nil {
			p, err := policyfile.Shipped(UsualPolicy)
			if err != nil {
				return err
			}
			p.Triggers = []policy.Trigger{concerns.UnexcusedDays(concerns.Usual)}
			m.concern = absence.NewMeasure(v.Ledger, p)
		}
		out = m.concern
		return nil
	})
	return out, err
}

// UsualPolicy measures where no other is asked for.
const UsualPolicy = "ten-percent"
