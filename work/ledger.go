package work

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"
	"sync"

	"meldung/core/absence"
	"meldung/core/concerns"
	"meldung/core/day"
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
	lost, err := r.eachSlot(ctx, q, over, func(of store.SlotMarks) []Misplaced { return r.setSlot(l, s, of) })
	return l, lost, err
}

// eachSlot gives the marks of some dates to set, one slot at a time, while two connections
// read the next; it returns in order what set could not place.
func (r *Records) eachSlot(ctx context.Context, q store.Queryer, over day.Dates, set func(store.SlotMarks) []Misplaced) ([]Misplaced, error) {
	ctx, cancel := context.WithCancel(ctx)
	defer cancel()
	slots, ends := make(chan store.SlotMarks, 64), make(chan error)
	last, marked, err := store.LastMark(ctx, q)
	if err != nil || !marked {
		return nil, err
	}
	middle := over.From + (min(over.To, max(over.From, last))-over.From)/2
	for _, half := range []day.Dates{{From: over.From, To: middle}, {From: middle + 1, To: over.To}} {
		go func() {
			ends <- store.EachSlot(ctx, q, half, func(s store.SlotMarks) error {
				select {
				case slots <- s:
					return nil
				case <-ctx.Done():
					return ctx.Err()
				}
			})
		}()
	}
	var lost []Misplaced
	var failed error
	for running := 2; running > 0; {
		select {
		case s := <-slots:
			lost = append(lost, set(s)...)
		case err := <-ends:
			running--
			if err != nil && failed == nil {
				failed = err
				cancel()
			}
		}
	}
	for len(slots) > 0 {
		lost = append(lost, set(<-slots)...)
	}
	slices.SortStableFunc(lost, func(a, b Misplaced) int {
		return cmp.Or(cmp.Compare(a.Date, b.Date), cmp.Compare(a.Slot, b.Slot), cmp.Compare(a.StudentID, b.StudentID))
	})
	return lost, failed
}

// setSlot puts the marks of a slot into the ledger and returns those without a place.
func (r *Records) setSlot(l *absence.Ledger, s *School, of store.SlotMarks) (lost []Misplaced) {
	d, pos, why := s.slotPlace(of.Date, of.Slot)
	if why != "" {
		for _, m := range of.Marks {
			lost = append(lost, Misplaced{m, why})
		}
		return lost
	}
	var code int
	known, last := false, ""
	for _, m := range of.Marks {
		if m.Code != last {
			code, known = l.Codes(d).Index(m.Code)
			last = m.Code
		}
		if why := r.setMark(l, s, m, d, pos, code, known); why != "" {
			lost = append(lost, Misplaced{m, why})
		}
	}
	return lost
}

// setInLedger puts a mark into the ledger, or says why there is no place for it.
func (r *Records) setInLedger(l *absence.Ledger, s *School, m store.LedgerMark) (why string) {
	d, pos, why := s.slotPlace(m.Date, m.Slot)
	if why != "" {
		return why
	}
	code, known := l.Codes(d).Index(m.Code)
	return r.setMark(l, s, m, d, pos, code, known)
}

func (r *Records) setMark(l *absence.Ledger, s *School, m store.LedgerMark, d, pos, code int, known bool) (why string) {
	i := s.Place(m.StudentID)
	if i >= 0 && known {
		mark := absence.Mark{Code: code, From: m.AwayFrom, To: m.AwayTo}
		if l.Codes(d).Codes[code].Late {
			mark.Class = r.classTitle(m.ClassID, m.Date) // is kept of lates alone
		}
		if l.Set(i, d, pos, mark) == nil {
			return ""
		}
	}
	switch {
	case i < 0 || !l.Enrolled(i, d):
		return "the student was not on the roll"
	case !known:
		return fmt.Sprintf("the code %s is not in the codes of that date", m.Code)
	default:
		return "the student was not due in " + m.Slot
	}
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
