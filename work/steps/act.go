package steps

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/steps"
	"meldung/store"
	"meldung/work"
)

// Ref names a step to whoever looked at it.
type Ref struct {
	Student ids.Student `json:"student"`
	Policy  string      `json:"policy" maxLength:"60"`
	Rule    string      `json:"rule" maxLength:"100" doc:"A line or a ladder of the policy"`
	Do      string      `json:"do,omitempty" maxLength:"100" doc:"The action that a ladder names"`
	Scope   string      `json:"scope,omitempty" maxLength:"200"`
	Number  int         `json:"number,omitempty" doc:"The late's, in a ladder"`
	Reached string      `json:"reached" minLength:"10" maxLength:"10" doc:"The date on which it fell due"`
}

// RefOf returns by what a step is named.
func RefOf(i Item) Ref {
	r := i.Rule()
	return Ref{i.Student.ID, i.Measure.Policy().ID, r.Name, r.Do, r.Scope, r.Number, i.On.String()}
}

// Act is something that is done about steps.
type Act struct {
	Steps []Ref       `json:"steps" minItems:"1" maxItems:"3000"`
	Kind  steps.Kind  `json:"kind" enum:"done,put off,handed,set aside,reopened,noted"`
	Text  string      `json:"text,omitempty" maxLength:"400" doc:"The outcome, or the reason"`
	Until string      `json:"until,omitempty" maxLength:"10" doc:"Where put off: the date on which it is due again"`
	To    ids.Account `json:"to,omitempty" doc:"Where handed on: to whose account"`
}

// check reads what does not depend on the steps.
func (a Act) check(ctx context.Context, tx *work.Tx) (row store.StepAct, to string, err error) {
	row = store.StepAct{Kind: string(a.Kind), Text: strings.TrimSpace(a.Text), Origin: tx.Origin()}
	switch a.Kind {
	case steps.PutOff:
		until, err := day.ParseDate(a.Until)
		switch {
		case err != nil:
			return row, "", work.Wrongf("say until when it is put off; nothing was saved")
		case until <= tx.Now.Date():
			return row, "", work.Wrongf("%s is not later than today; nothing was saved", until.Spoken())
		case row.Text == "":
			return row, "", work.Wrongf("putting off needs a reason; nothing was saved")
		}
		row.Until = &until
	case steps.SetAside:
		if row.Text == "" {
			return row, "", work.Wrongf("setting aside needs a reason; nothing was saved")
		}
	case steps.Handed:
		account, err := store.AccountByID(ctx, tx.Tx, a.To)
		switch {
		case err != nil:
			return row, "", err
		case account == nil || account.EndedBy != nil:
			return row, "", work.NotFoundf("there is no such account; nothing was saved")
		case !work.Role(account.Role).May(work.MaySeeSteps):
			return row, "", work.Conflictf("%s can't see steps; nothing was saved", account.Name)
		}
		row.AccountID, to = &a.To, account.Name
	}
	return row, to, nil
}

// Do stores what was done about steps: about all of them, or about none.
func Do(ctx context.Context, o *work.Office, p work.Person, key string, a Act) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayDoSteps, Kind: "step", In: a, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		row, to, err := a.check(ctx, tx)
		if err != nil {
			return err
		}
		found, err := find(ctx, tx, v, p, a.Steps)
		if err != nil {
			return err
		}
		var made []int64
		for _, item := range found {
			if err := item.allows(a.Kind); err != nil {
				return err
			}
			id, err := item.keep(ctx, tx, row)
			if err != nil {
				return err
			}
			made = append(made, int64(id))
		}
		out = work.ReceiptOf(tx, summary(found, a, to), made...)
		return nil
	})
	return out, err
}

// find returns the steps that are named, as they stand now. A step that a correction has taken
// away, or that is another's, stops all.
func find(ctx context.Context, tx *work.Tx, v work.Snapshot, p work.Person, refs []Ref) ([]Item, error) {
	of, err := itemsNow(ctx, tx, v, refs)
	if err != nil {
		return nil, err
	}
	var out []Item
	for _, ref := range refs {
		items := of[ref.Student]
		i := slices.IndexFunc(items, func(i Item) bool { return RefOf(i) == ref })
		if i < 0 {
			// A correction may have moved its date since it was looked at.
			i = slices.IndexFunc(items, func(i Item) bool {
				moved := RefOf(i)
				moved.Reached = ref.Reached
				return moved == ref && i.Row != nil && i.Row.Reached.String() == ref.Reached
			})
		}
		switch {
		case i < 0:
			return nil, work.Conflictf("%s: that is not due any more, a correction took it away; nothing was saved", v.School.StudentOf(ref.Student).Name())
		case !mayDo(p, items[i]):
			return nil, work.Refusedf("that step was not handed to you; nothing was saved")
		case slices.ContainsFunc(out, func(o Item) bool { return RefOf(o) == RefOf(items[i]) }):
			return nil, work.Wrongf("%s is there twice; nothing was saved", items[i].Student.Name())
		}
		out = append(out, items[i])
	}
	return out, nil
}

// itemsNow returns every step of the students that are named, as they stand now; each section is
// looked at once.
func itemsNow(ctx context.Context, tx *work.Tx, v work.Snapshot, refs []Ref) (map[ids.Student][]Item, error) {
	bySection := map[ids.Section][]store.Student{}
	seen := map[ids.Student]bool{}
	for _, ref := range refs {
		if seen[ref.Student] {
			continue
		}
		seen[ref.Student] = true
		st, err := v.Student(ref.Student)
		if err != nil {
			return nil, err
		}
		section := v.Of(st.ID).ID
		bySection[section] = append(bySection[section], st)
	}
	out := map[ids.Student][]Item{}
	for _, students := range bySection {
		items, err := Of(ctx, v.Of(students[0].ID), tx.Moment(), students)
		if err != nil {
			return nil, err
		}
		for _, i := range items {
			out[i.Student.ID] = append(out[i.Student.ID], i)
		}
	}
	return out, nil
}

// mayDo reports whether a person may act on a step: the office on any, others on what was handed to
// them.
func mayDo(p work.Person, i Item) bool {
	return p.May(work.MayDoAnyStep) || (i.Owner != 0 && i.Owner == p.Account)
}

// allows refuses what makes no sense as the step stands.
func (i Item) allows(kind steps.Kind) error {
	name := i.Student.Name() + ": " + i.Title()
	last, _ := i.Last()
	switch {
	case kind == steps.Noted && i.State == steps.TakenBack:
		return nil
	case kind == steps.Noted:
		return work.Conflictf("%s was not taken back; nothing was saved", name)
	case kind == steps.Reopened && (i.State == steps.Due || i.State == steps.TakenBack):
		return work.Conflictf("%s is not closed; nothing was saved", name)
	case kind != steps.Reopened && i.State == steps.TakenBack:
		return work.Conflictf("%s is not due any more, a correction took it away; nothing was saved", name)
	case kind != steps.Reopened && (i.State == steps.Finished || i.State == steps.Left):
		return work.Conflictf("%s: %s said %q at %s on %s; nothing was saved", name, last.By, last.Kind, last.Known.Minute(), last.Known.Date().Spoken())
	}
	return nil
}

// keep writes an act about the step, and the step itself where it is the first.
func (i Item) keep(ctx context.Context, tx *work.Tx, act store.StepAct) (ids.Step, error) {
	if i.Row != nil {
		act.StepID = i.Row.ID
		return act.StepID, store.AddStepAct(ctx, tx.Tx, act)
	}
	r := i.Rule()
	id, err := store.AddStep(ctx, tx.Tx, store.Step{StudentID: i.Student.ID, SectionID: i.Student.Section, Policy: i.Measure.Policy().ID,
		Rule: r.Name, Do: r.Do, Scope: r.Scope, Number: r.Number, Reached: i.On, Title: i.Title(), Origin: tx.Origin()})
	if err != nil {
		return 0, err
	}
	act.StepID = id
	return id, store.AddStepAct(ctx, tx.Tx, act)
}

// summary says in a line what was done about which steps.
func summary(items []Item, a Act, to string) string {
	what := fmt.Sprintf("%d steps", len(items))
	if len(items) == 1 {
		what = items[0].Student.Name() + ": " + items[0].Title()
	}
	switch a.Kind {
	case steps.PutOff:
		until, _ := day.ParseDate(a.Until)
		return what + " put off until " + until.Spoken()
	case steps.Handed:
		return what + " handed to " + to
	default:
		return what + " " + string(a.Kind)
	}
}
