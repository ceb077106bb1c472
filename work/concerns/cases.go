package concerns

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

// Case is a student in somebody's hands, with what became of it.
type Case struct {
	store.Case
	Changes []store.CaseChange // in time, one at least
}

// Last is what holds of it.
func (c Case) Last() store.CaseChange { return c.Changes[len(c.Changes)-1] }

// Open reports whether it is not closed.
func (c Case) Open() bool { return c.Last().Kind != CaseClosed }

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

func owner(ctx context.Context, q store.Queryer, id ids.Account) (store.Account, error) {
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

// take puts a student into somebody's hands: a case of their own, or the one that is open already.
func take(ctx context.Context, tx *work.Tx, s store.Student, f Found, c CaseChange, next *day.Date) (id ids.Case, name string, err error) {
	to, err := owner(ctx, tx.Tx, c.Owner)
	if err != nil {
		return 0, "", err
	}
	all, err := Cases(ctx, tx.Tx, tx.Now)
	if err != nil {
		return 0, "", err
	}
	row := store.CaseChange{Kind: CaseChanged, OwnerID: to.ID, NextDate: next, Text: c.Text, Origin: tx.Origin()}
	if open := OpenCaseOf(all, s.ID); open != nil {
		row.CaseID = open.ID
	} else {
		words, err := text(f)
		if err != nil {
			return 0, "", err
		}
		row.Kind = CaseOpened
		if row.CaseID, err = store.AddCase(ctx, tx.Tx, store.Case{StudentID: s.ID, Found: words, Origin: tx.Origin()}); err != nil {
			return 0, "", err
		}
	}
	_, err = store.AddCaseChange(ctx, tx.Tx, row)
	return row.CaseID, to.Name, err
}

// CaseChange is what becomes of a case, or one that is opened by hand.
type CaseChange struct {
	Case    ids.Case       `json:"case,omitempty" doc:"0 for one that is opened"`
	Student ids.Student    `json:"student,omitempty" doc:"Of one that is opened"`
	Kind    string         `json:"kind" enum:"opened,changed,closed,reopened"`
	Owner   ids.Account    `json:"owner,omitempty" doc:"In whose hands it is from now on; 0 leaves it"`
	Next    string         `json:"next,omitempty" maxLength:"10" doc:"When it is looked at next, YYYY-MM-DD; needed while it is open"`
	Text    string         `json:"text,omitempty" maxLength:"1000" doc:"What was said or done, or how it ended"`
	Seen    ids.CaseChange `json:"seen,omitempty" doc:"The last change that was seen"`
}

// ChangeCase opens a case, changes it, closes it with what came of it, or opens it again.
func ChangeCase(ctx context.Context, o *work.Office, p work.Person, key string, c CaseChange) (work.Receipt, error) {
	var out work.Receipt
	c.Text = strings.TrimSpace(c.Text)
	looks := map[ids.Section]Look{}
	if c.Kind == CaseOpened {
		var err error
		if looks, err = lookNow(ctx, o); err != nil {
			return out, err
		}
	}
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayChangeCase, Kind: "case", In: c, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		all, err := Cases(ctx, tx.Tx, tx.Now)
		if err != nil {
			return err
		}
		if c.Kind == CaseOpened {
			return c.open(ctx, tx, v, all, looks, &out)
		}
		i := slices.IndexFunc(all, func(x Case) bool { return x.ID == c.Case })
		if i < 0 {
			return work.NotFoundf("there is no such case; nothing was changed")
		}
		last, s := all[i].Last(), v.School.StudentOf(all[i].StudentID)
		switch {
		case c.Seen != 0 && c.Seen != last.ID:
			return work.FirstTold(last.Origin, work.Join(", ", s.Name()+": case "+last.Kind, last.Text))
		case (c.Kind == CaseReopened) == all[i].Open():
			return work.Conflictf("the case of %s is %s; nothing was changed", s.Name(), map[bool]string{true: "open", false: "closed"}[all[i].Open()])
		case c.Kind == CaseClosed && c.Text == "":
			return work.Wrongf("say what came of it; nothing was changed")
		}
		row := store.CaseChange{CaseID: c.Case, Kind: c.Kind, OwnerID: last.OwnerID, Text: c.Text, Origin: tx.Origin()}
		if c.Owner != 0 && c.Owner != last.OwnerID {
			to, err := owner(ctx, tx.Tx, c.Owner)
			if err != nil {
				return err
			}
			row.OwnerID = to.ID
		}
		if c.Kind != CaseClosed {
			if row.NextDate, err = c.next(tx.Now.Date(), last.NextDate); err != nil {
				return err
			}
		}
		id, err := store.AddCaseChange(ctx, tx.Tx, row)
		out = work.ReceiptOf(tx, fmt.Sprintf("%s: case %s", s.Name(), c.Kind), id)
		return err
	})
	return out, err
}

// next reads when a case is looked at next. The date that it had may have passed.
func (c CaseChange) next(today day.Date, had *day.Date) (*day.Date, error) {
	on, err := day.ParseDate(c.Next)
	switch {
	case err != nil:
		return nil, work.Wrongf("say when the case is looked at next; nothing was saved")
	case on < today && (had == nil || *had != on):
		return nil, work.Wrongf("%s has passed; nothing was saved", on.Spoken())
	}
	return &on, nil
}

func (c CaseChange) open(ctx context.Context, tx *work.Tx, v work.Snapshot, all []Case, looks map[ids.Section]Look, out *work.Receipt) error {
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
	id, name, err := take(ctx, tx, s, looks[v.Of(s.ID).ID].Found[s.ID], c, next)
	*out = work.ReceiptOf(tx, fmt.Sprintf("%s: case with %s, next %s", s.Name(), name, next.Spoken()), id)
	return err
}
