package caseload

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
)

// The kinds of change of a case.
const (
	CaseOpened   = "opened"
	CaseChanged  = "changed"
	CaseClosed   = "closed"
	CaseReopened = "reopened"
)

// Where a case comes from.
const (
	FromReview  = "review"
	FromConcern = "concern"
	FromStep    = "step"
	ByHand      = "hand"
)

// Case is a student in somebody's hands, with what became of it.
type Case struct {
	store.Case
	Changes []store.CaseChange // in time, one at least
}

// Last is what holds of it.
func (c Case) Last() store.CaseChange { return c.Changes[len(c.Changes)-1] }

// Open reports whether it is not closed.
func (c Case) Open() bool { return c.Last().Kind != CaseClosed }

// WaitsOn reports whether it waits on a date: its next date has not come, and nobody is to do anything before.
func (c Case) WaitsOn(d day.Date) bool {
	last := c.Last()
	return c.Open() && last.Waits && last.NextDate != nil && *last.NextDate > d
}

// Shown are words of the case as lists, searches and files show them.
func (c Case) Shown(words string) string { return Shown(c.Last().Kept, words) }

// Cases returns the cases that there were at an instant, in the order in which they were opened.
func Cases(ctx context.Context, q store.Queryer, known day.Instant) ([]Case, error) {
	rows, err := store.Cases(ctx, q, known)
	if err != nil {
		return nil, err
	}
	changes, err := store.CaseChanges(ctx, q, known)
	if err != nil {
		return nil, err
	}
	of := map[ids.Case][]store.CaseChange{}
	for _, c := range changes {
		of[c.CaseID] = append(of[c.CaseID], c)
	}
	var out []Case
	for _, r := range rows {
		if len(of[r.ID]) > 0 {
			out = append(out, Case{r, of[r.ID]})
		}
	}
	return out, nil
}

// CaseByID returns a case of a list; the error says that there is none.
func CaseByID(all []Case, id ids.Case) (Case, error) {
	i := slices.IndexFunc(all, func(c Case) bool { return c.ID == id })
	if i < 0 {
		return Case{}, work.NotFoundf("there is no such case")
	}
	return all[i], nil
}

// OpenCaseOf returns the open case of a student; nil for none.
func OpenCaseOf(all []Case, student ids.Student) *Case {
	for i := range slices.Backward(all) {
		if all[i].StudentID == student && all[i].Open() {
			return &all[i]
		}
	}
	return nil
}

// Owners are the accounts in whose hands a case can be, by name.
func Owners(ctx context.Context, q store.Queryer) ([]store.Account, error) {
	list, err := store.Accounts(ctx, q)
	if err != nil {
		return nil, err
	}
	list = slices.DeleteFunc(list, func(a store.Account) bool { return a.EndedBy != nil || !work.Role(a.Role).May(work.MayOwnCase) })
	slices.SortStableFunc(list, func(a, b store.Account) int { return strings.Compare(a.Name, b.Name) })
	return list, nil
}

func ownerOf(ctx context.Context, q store.Queryer, id ids.Account) (store.Account, error) {
	all, err := Owners(ctx, q)
	if err != nil {
		return store.Account{}, err
	}
	i := slices.IndexFunc(all, func(a store.Account) bool { return a.ID == id })
	if i < 0 {
		return store.Account{}, work.Wrongf("say in whose hands it is: one of those who can have a case; nothing was saved")
	}
	return all[i], nil
}

// Take puts a student into somebody's hands: a case of their own, with what was found as JSON, or the one that is
// open already.
func Take(ctx context.Context, tx *work.Tx, s store.Student, found string, c CaseChange, next *day.Date) (id ids.Case, owner string, err error) {
	to, err := ownerOf(ctx, tx.Tx, c.Owner)
	if err != nil {
		return 0, "", err
	}
	all, err := Cases(ctx, tx.Tx, tx.Now)
	if err != nil {
		return 0, "", err
	}
	row := store.CaseChange{Kind: CaseChanged, OwnerID: to.ID, NextDate: next, Text: c.Text, Origin: tx.Origin()}
	if open := OpenCaseOf(all, s.ID); open != nil {
		last := open.Last()
		row.CaseID, row.Kept, row.Weekly = open.ID, keptOr(c.Kept, last.Kept), c.weekly(last.Weekly)
	} else {
		row.Kind, row.Kept, row.Weekly = CaseOpened, keptOr(c.Kept, ForOffice), c.weekly(false)
		if row.CaseID, err = store.AddCase(ctx, tx.Tx, store.Case{StudentID: s.ID, Found: found, From: c.From, Origin: tx.Origin()}); err != nil {
			return 0, "", err
		}
	}
	_, err = store.AddCaseChange(ctx, tx.Tx, row)
	return row.CaseID, to.Name, err
}

// CaseChange is what becomes of a case, or one that is opened by hand.
type CaseChange struct {
	Case    ids.Case        `json:"case,omitempty" doc:"0 for one that is opened"`
	Student ids.Student     `json:"student,omitempty" doc:"Of one that is opened"`
	From    string          `json:"from,omitempty" enum:"review,concern,step,hand," doc:"Of one that is opened; empty for by hand"`
	Kind    string          `json:"kind" enum:"opened,changed,closed,reopened"`
	Owner   ids.Account     `json:"owner,omitempty" doc:"In whose hands it is from now on; 0 leaves it"`
	Next    string          `json:"next,omitempty" maxLength:"10" doc:"When it is looked at next, YYYY-MM-DD; needed while it is open"`
	Waits   bool            `json:"waits,omitempty" doc:"Until then; nobody is to do anything before"`
	Text    string          `json:"text,omitempty" maxLength:"1000" doc:"What was said or done, or how it ended"`
	End     ids.SupportWord `json:"end,omitempty" doc:"How it ended, of the school's own list; needed where it is closed"`
	Kept    string          `json:"kept,omitempty" enum:"office,leads,owner," doc:"For whom it is; empty leaves it"`
	Weekly  string          `json:"weekly,omitempty" enum:"yes,no," doc:"The student is to have a session each week; empty leaves it"`
	Seen    ids.CaseChange  `json:"seen,omitempty" doc:"The last change that was seen"`
}

func (c CaseChange) weekly(was bool) bool { return c.Weekly == "yes" || c.Weekly == "" && was }

// ChangeCase opens a case, changes it, closes it with what came of it, or opens it again. Found says, as JSON, what
// the rules find of a student for whom one is opened.
func ChangeCase(ctx context.Context, o *work.Office, p work.Person, key string, c CaseChange, found func(v work.Snapshot, s store.Student) (string, error)) (work.Receipt, error) {
	var out work.Receipt
	c.Text = strings.TrimSpace(c.Text)
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayChangeCase, Kind: "case", In: c, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		all, err := Cases(ctx, tx.Tx, tx.Now)
		if err != nil {
			return err
		}
		if c.Kind == CaseOpened {
			return c.open(ctx, tx, v, all, found, &out)
		}
		is, err := OwnCase(ctx, tx, all, c.Case)
		if err != nil {
			return err
		}
		s := v.School.StudentOf(is.StudentID)
		row, err := c.row(ctx, tx, all, is, s)
		if err != nil {
			return err
		}
		id, err := store.AddCaseChange(ctx, tx.Tx, row)
		out = work.ReceiptOf(tx, c.words(s, is, row), id)
		return err
	})
	return out, err
}

// OwnCase returns a case that the person of a write may read.
func OwnCase(ctx context.Context, tx *work.Tx, all []Case, id ids.Case) (Case, error) {
	is, err := CaseByID(all, id)
	if err != nil {
		return is, err
	}
	readers, err := ReadersFor(ctx, tx.Tx, tx.Person)
	if err == nil && !readers.May(is.Last().Kept, is.Last().OwnerID) {
		err = work.Refusedf("that case is kept to %s; nothing was changed", map[string]string{ForLeads: "the pastoral leads", ForOwner: is.Last().Owner}[is.Last().Kept])
	}
	return is, err
}

// row judges what becomes of a case, and returns it as it is to be written.
func (c CaseChange) row(ctx context.Context, tx *work.Tx, all []Case, is Case, s store.Student) (store.CaseChange, error) {
	last := is.Last()
	row := store.CaseChange{CaseID: c.Case, Kind: c.Kind, OwnerID: last.OwnerID, Owner: last.Owner, Text: c.Text, Kept: keptOr(c.Kept, last.Kept), Weekly: c.weekly(last.Weekly), Waits: c.Waits && c.Kind != CaseClosed, Origin: tx.Origin()}
	switch {
	case c.Seen != 0 && c.Seen != last.ID:
		return row, work.FirstTold(last.Origin, work.Join(", ", s.Name()+": case "+last.Kind, is.Shown(last.Text)))
	case (c.Kind == CaseReopened) == is.Open():
		return row, work.Conflictf("the case of %s is %s; nothing was changed", s.Name(), map[bool]string{true: "open", false: "closed"}[is.Open()])
	case c.Kind == CaseReopened && OpenCaseOf(all, s.ID) != nil:
		return row, work.Conflictf("%s has an open case already; nothing was changed", s.Name())
	case c.Kind == CaseClosed && c.Text == "":
		return row, work.Wrongf("say what came of it; nothing was changed")
	}
	if c.Owner != 0 && c.Owner != last.OwnerID {
		to, err := ownerOf(ctx, tx.Tx, c.Owner)
		if err != nil {
			return row, err
		}
		row.OwnerID, row.Owner = to.ID, to.Name
	}
	if c.Kind == CaseClosed {
		words, err := Words(ctx, tx.Tx)
		if err != nil {
			return row, err
		}
		if words.Of(Ends, c.End) == nil {
			return row, work.Wrongf("say how it ended: one of the school’s own words; nothing was changed")
		}
		row.End = &c.End
		return row, nil
	}
	var err error
	row.NextDate, err = c.next(tx.Now.Date(), last.NextDate)
	return row, err
}

// words say what became of a case.
func (c CaseChange) words(s store.Student, is Case, row store.CaseChange) string {
	switch {
	case c.Kind != CaseChanged:
		return fmt.Sprintf("%s: case %s", s.Name(), c.Kind)
	case row.OwnerID != is.Last().OwnerID:
		return fmt.Sprintf("%s: case handed to %s", s.Name(), row.Owner)
	case row.Waits:
		return fmt.Sprintf("%s: case waits until %s", s.Name(), row.NextDate.Spoken())
	}
	return fmt.Sprintf("%s: noted, next %s", s.Name(), row.NextDate.Spoken())
}

// next reads when a case is looked at next. The date that it had may have passed, but not if it is waited for.
func (c CaseChange) next(today day.Date, had *day.Date) (*day.Date, error) {
	on, err := day.ParseDate(c.Next)
	switch {
	case err != nil:
		return nil, work.Wrongf("say when the case is looked at next; nothing was saved")
	case on < today && (had == nil || *had != on || c.Waits):
		return nil, work.Wrongf("%s has passed; nothing was saved", on.Spoken())
	case c.Waits && on == today:
		return nil, work.Wrongf("%s is not ahead; nothing was saved", on.Spoken())
	}
	return &on, nil
}

func (c CaseChange) open(ctx context.Context, tx *work.Tx, v work.Snapshot, all []Case, found func(v work.Snapshot, s store.Student) (string, error), out *work.Receipt) error {
	s, err := v.Student(c.Student)
	if err != nil {
		return err
	}
	if OpenCaseOf(all, s.ID) != nil {
		return work.Conflictf("%s has an open case already; nothing was saved", s.Name())
	}
	next, err := c.next(tx.Now.Date(), nil)
	if err != nil {
		return err
	}
	words, err := found(v, s)
	if err != nil {
		return err
	}
	c.From = keptOr(c.From, ByHand)
	id, name, err := Take(ctx, tx, s, words, c, next)
	*out = work.ReceiptOf(tx, fmt.Sprintf("%s: case with %s, next %s", s.Name(), name, next.Spoken()), id)
	return err
}
