// Package caseload holds how students are followed up: contacts, cases with their plans and papers, support
// sessions, meetings, and for whom what is said of them is.
package caseload

import (
	"context"
	"slices"

	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
)

// For whom words are.
const (
	ForOffice = "office" // all who see cases
	ForLeads  = "leads"  // the pastoral leads, the leaders, and whose it is
	ForOwner  = "owner"  // whose it is alone
)

// Confidential stands in the place of words that are kept to fewer than all of the office.
const Confidential = "confidential"

// Readers says who may read what is kept to fewer than all.
type Readers struct {
	p      work.Person
	active map[ids.Account]bool
}

// ReadersFor makes ready what a person may read.
func ReadersFor(ctx context.Context, q store.Queryer, p work.Person) (Readers, error) {
	list, err := store.Accounts(ctx, q)
	r := Readers{p: p, active: map[ids.Account]bool{}}
	for _, a := range list {
		r.active[a.ID] = a.EndedBy == nil && work.Role(a.Role).May(work.MayOwnCase)
	}
	return r, err
}

// May reports whether the person may read words of whose they are. What is kept to somebody whose account has
// ended is the leads', so that it is not lost.
func (r Readers) May(kept string, whose ...ids.Account) bool {
	lead := r.p.Role == work.Pastoral || r.p.Role == work.Leader
	switch {
	case r.p.Role == "":
		return true
	case !r.p.May(work.MaySeeCases):
		return false
	case kept == ForOffice || slices.Contains(whose, r.p.Account):
		return true
	case kept == ForLeads:
		return lead
	}
	return lead && !slices.ContainsFunc(whose, func(id ids.Account) bool { return r.active[id] })
}

// MayOf reports whether the person may read words about a student: those whose they are, and whoever has the student's
// open case.
func (r Readers) MayOf(cases []Case, student ids.Student, kept string, whose ...ids.Account) bool {
	if c := OpenCaseOf(cases, student); c != nil {
		whose = append(whose, c.Last().OwnerID)
	}
	return r.May(kept, whose...)
}

// Shown are words as lists, searches and files show them: those that are kept to fewer are read where the look is
// on record.
func Shown(kept, words string) string {
	if kept == ForOffice || words == "" {
		return words
	}
	return Confidential
}

// keptOr returns for whom words are, of an answer that may leave it.
func keptOr(kept, otherwise string) string {
	if kept == "" {
		return otherwise
	}
	return kept
}

// DecisionText is why something was decided at a review, as lists show it: of a case, as the case shows it.
func DecisionText(d store.ReviewDecision, cases []Case) string {
	if d.CaseID != nil {
		if c, err := CaseByID(cases, *d.CaseID); err == nil {
			return c.Shown(d.Text)
		}
	}
	return d.Text
}
