package work

import (
	"context"
	"fmt"
	"strings"
	"sync"

	"meldung/core/absence"
	"meldung/files/policyfile"
	"meldung/held"
	"meldung/store"
)

// mostYears bounds how many school years are kept in memory, each with a ledger for every
// section.
const mostYears = 3

// ledgers are those of the school years that were asked for, the one asked for last at the
// end.
type ledgers []*ledgerOf

// ledgerOf is the ledger of a school year, filled by who asks first.
type ledgerOf struct {
	year     *held.Year
	mu       sync.Mutex // guards what follows
	ledger   *absence.Ledger
	lost     []held.Misplaced
	measures measures
}

// measures are policies made ready for a ledger, each made once.
type measures struct {
	panels map[string]*absence.Panel // all policies of a date, by which these are
	whole  *absence.Measure          // by every slot
}

// ledgerOf returns the ledger of a year, filled or not, and remembers that it was asked for.
func (o *Office) ledgerOf(y *held.Year) *ledgerOf {
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
	o.ledgers = append(others[max(0, len(others)-mostYears*len(o.records.Sections())+1):], asked)
	return asked
}

// fill fills the ledgers of some sections with the marks of their school years, in their order,
// where that was not done before. Each section has a year.
func (ls ledgers) fill(ctx context.Context, q store.Queryer, sections []*held.Section) error {
	var empty ledgers
	var of []*held.Section
	for i, l := range ls {
		l.mu.Lock()
		defer l.mu.Unlock()
		if l.ledger == nil {
			empty, of = append(empty, l), append(of, sections[i])
		}
	}
	if len(empty) == 0 {
		return nil
	}
	filled, err := held.Ledgers(ctx, q, of)
	if err != nil {
		return fmt.Errorf("reading the marks of the school year: %w", err)
	}
	for i, l := range empty {
		l.ledger, l.lost = filled[i].Ledger, filled[i].Lost
	}
	return nil
}

// Kept returns the ledger of a year that is in memory already; nil for none.
func (v Snapshot) Kept(y *held.Year) *absence.Ledger {
	v.office.cacheMu.Lock()
	defer v.office.cacheMu.Unlock()
	for _, l := range v.office.ledgers {
		if l.year == y {
			return l.ledger
		}
	}
	return nil
}

// Misplaced returns the marks of the section's school year that enter no figure.
func (s Section) Misplaced() []held.Misplaced {
	if s.filled == nil {
		return nil
	}
	s.filled.mu.Lock()
	defer s.filled.mu.Unlock()
	return s.filled.lost
}

// NoCalendar is the answer to who asks for figures of a school without dates.
func NoCalendar() error {
	return NotFoundf("there is no calendar yet: import a timetable first")
}

// made gives f the measures of the section's ledger, one at a time.
func (s Section) made(f func(m *measures) error) error {
	if s.Ledger == nil {
		return NoCalendar()
	}
	s.filled.mu.Lock()
	defer s.filled.mu.Unlock()
	return f(&s.filled.measures)
}

// Panel returns every policy by which the section measures on the snapshot's date, made ready
// for its ledger.
func (s Section) Panel() (*absence.Panel, error) {
	var out *absence.Panel
	err := s.made(func(m *measures) error {
		policies, err := s.PoliciesOn(s.On)
		if err != nil {
			return err
		}
		key := held.PolicyKey(policies)
		if m.panels[key] == nil {
			if m.panels == nil {
				m.panels = map[string]*absence.Panel{}
			}
			m.panels[key] = absence.NewPanel(s.Ledger, policies...)
		}
		out = m.panels[key]
		return nil
	})
	return out, err
}

// Measure returns a policy of the snapshot's date made ready for the section's ledger.
func (s Section) Measure(id string) (*absence.Measure, error) {
	panel, err := s.Panel()
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

// EverySlot returns ten per cent of days made ready for the section's ledger, whatever it measures by
// itself.
func (s Section) EverySlot() (*absence.Measure, error) {
	var out *absence.Measure
	err := s.made(func(m *measures) error {
		if m.whole == nil {
			p, err := policyfile.Shipped(UsualPolicy)
			if err != nil {
				return err
			}
			m.whole = absence.NewMeasure(s.Ledger, p)
		}
		out = m.whole
		return nil
	})
	return out, err
}

// UsualPolicy measures where no other is asked for.
const UsualPolicy = "ten-percent"
