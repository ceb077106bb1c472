package work

import (
	"context"
	"fmt"
	"strings"

	"meldung/core/absence"
	"meldung/core/concerns"
	"meldung/core/policy"
	"meldung/files/policyfile"
	"meldung/store"
)

// fillLedger builds the ledger from every mark in force.
func fillLedger(ctx context.Context, q store.Queryer, school *School, codes *policy.CodeSet) (*absence.Ledger, error) {
	l := absence.NewLedger(school.Calendar, codes)
	for _, s := range school.Students {
		l.AddStudent(school.ledgerStudent(s))
	}
	err := store.EachMark(ctx, q, func(m store.LedgerMark) error { return setInLedger(l, school, codes, m) })
	return l, err
}

func setInLedger(l *absence.Ledger, school *School, codes *policy.CodeSet, m store.LedgerMark) error {
	s, d, pos, ok := school.cell(m.StudentID, m.Date, m.Slot)
	code, known := codes.Index(m.Code)
	if !ok || !known || !l.Due(s, d, pos) {
		return nil // taken when the student was due; the timetable has changed since
	}
	return l.Set(s, d, pos, absence.Mark{Code: code, From: m.AwayFrom, To: m.AwayTo, Class: school.Classes[m.ClassID].Title})
}

// measures are policies made ready for the ledger, each made once.
type measures struct {
	panel   *absence.Panel   // every shipped policy
	concern *absence.Measure // what concerns look at
}

// NoCalendar is the answer to who asks for figures of a school without dates.
func NoCalendar() error {
	return NotFoundf("there is no calendar yet: import a timetable first")
}

// Panel returns every shipped policy made ready for the ledger.
func (v Snapshot) Panel() (*absence.Panel, error) {
	if v.Ledger == nil {
		return nil, NoCalendar()
	}
	o := v.office
	o.cacheMu.Lock()
	defer o.cacheMu.Unlock()
	if o.measures.panel == nil {
		var policies []*policy.Policy
		for _, id := range policyfile.Policies() {
			p, err := policyfile.Shipped(id)
			if err != nil {
				return nil, fmt.Errorf("reading the policy %s: %w", id, err)
			}
			policies = append(policies, p)
		}
		o.measures.panel = absence.NewPanel(v.Ledger, policies...)
	}
	return o.measures.panel, nil
}

// Measure returns a shipped policy made ready for the ledger.
func (v Snapshot) Measure(id string) (*absence.Measure, error) {
	panel, err := v.Panel()
	if err != nil {
		return nil, err
	}
	for _, m := range panel.Measures() {
		if m.Policy().ID == id {
			return m, nil
		}
	}
	return nil, NotFoundf("there is no shipped policy %q; there are %s", id, strings.Join(policyfile.Policies(), ", "))
}

// ConcernMeasure returns the policy by which concerns are found made ready for the
// ledger: ten per cent of days, with a trigger for unexcused days.
func (v Snapshot) ConcernMeasure() (*absence.Measure, error) {
	if v.Ledger == nil {
		return nil, NoCalendar()
	}
	o := v.office
	o.cacheMu.Lock()
	defer o.cacheMu.Unlock()
	if o.measures.concern == nil {
		p, err := policyfile.Shipped(UsualPolicy)
		if err != nil {
			return nil, err
		}
		p.Triggers = []policy.Trigger{concerns.UnexcusedDays(concerns.Usual)}
		o.measures.concern = absence.NewMeasure(v.Ledger, p)
	}
	return o.measures.concern, nil
}

// UsualPolicy measures where no other is asked for.
const UsualPolicy = "ten-percent"
