package work

import (
	"context"
	"fmt"
	"strings"
	"sync"

	"meldung/core/absence"
	"meldung/core/concerns"
	"meldung/core/policy"
	"meldung/files/policyfile"
	"meldung/held"
	"meldung/store"
)

// mostLedgers bounds how many school years are kept in memory.
const mostLedgers = 3

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
	panels  map[string]*absence.Panel // all policies of a date, by which these are
	concern *absence.Measure          // what concerns look at
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
	o.ledgers = append(others[max(0, len(others)-mostLedgers+1):], asked)
	return asked
}

// fill fills the ledger with the marks of its school year, where that was not done before.
func (l *ledgerOf) fill(ctx context.Context, q store.Queryer, s *held.School) error {
	l.mu.Lock()
	defer l.mu.Unlock()
	if l.ledger != nil {
		return nil
	}
	filled, lost, err := s.Records().FillLedger(ctx, q, s)
	if err != nil {
		return fmt.Errorf("reading the marks of the school year: %w", err)
	}
	l.ledger, l.lost = filled, lost
	return nil
}

// Misplaced returns the marks of the school year that enter no figure.
func (v Snapshot) Misplaced() []held.Misplaced {
	if v.held == nil {
		return nil
	}
	v.held.mu.Lock()
	defer v.held.mu.Unlock()
	return v.held.lost
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
		policies, err := v.School.Records().PoliciesOn(v.On)
		if err != nil {
			return err
		}
		key := held.PolicyKey(policies)
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
