// Package deskpage holds what the desk and the devices at the doors show: the day's
// movements, groups, passes and stations.
package deskpage

import (
	"context"
	"fmt"
	"slices"

	"meldung/core/ids"
	passnumber "meldung/core/pass"
	"meldung/core/whereabouts"
	"meldung/held"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
	"meldung/work/desk"
)

// MovementView is a movement on the desk's list.
type MovementView struct {
	ID      ids.Movement     `json:"id"`
	Student pages.StudentRef `json:"student"`
	At      string           `json:"at"`
	Kind    string           `json:"kind"`
	State   string           `json:"state" doc:"The state whose shape it has"`
	Reason  string           `json:"reason"`
	Note    string           `json:"note"`
	Returns string           `json:"returns"`
	By      string           `json:"by"`
	Undone  bool             `json:"undone"`
	With    int              `json:"with" doc:"How many others were written down in the same go, and stand"`

	Collector string `json:"collector" doc:"Who collects; empty for nobody"`
	Pass      string `json:"pass" doc:"The pass's number; empty for none"`
	Returned  bool   `json:"returned" doc:"Whether the pass came back"`
}

// DeskView is the desk's day.
type DeskView struct {
	Date      string            `json:"date"`
	Scope     string            `json:"scope" doc:"The sections that it covers; empty where the school has one"`
	Movements []MovementView    `json:"movements" doc:"Newest first"`
	Late      int               `json:"late"`
	Left      int               `json:"left"`
	DueBack   []pages.DueBack   `json:"dueBack"`
	Reasons   []held.Reason     `json:"reasons"`
	Mostly    []ReasonCount     `json:"mostly"`
	Fetches   []pages.FetchView `json:"fetches" doc:"Students to be collected"`
	Passes    []PassView        `json:"passes" doc:"Passes that are still out"`
	Groups    []GroupView       `json:"groups" doc:"Who comes together, with those who are not in yet"`
}

// ReasonCount is how often a reason was given.
type ReasonCount struct {
	Reason string `json:"reason"`
	N      int    `json:"n"`
}

// Show returns the desk's movements as at a moment.
func Show(ctx context.Context, o *work.Office, asAt string, of ...ids.Section) (DeskView, error) {
	out := DeskView{Movements: []MovementView{}, DueBack: []pages.DueBack{}, Mostly: []ReasonCount{}, Fetches: []pages.FetchView{}, Passes: []PassView{}, Groups: []GroupView{}}
	m, err := o.Moment(asAt, of...)
	if err != nil {
		return out, err
	}
	err = o.ReadDay(ctx, m, func(v work.Snapshot, x *work.Day) error {
		out.Date, out.Scope, out.Reasons = m.Date.String(), v.ScopeText(m.Scope), v.Offered(m.Scope)
		for i := len(x.Movements) - 1; i >= 0; i-- {
			mv := x.Movements[i]
			if mv.Known > m.Known || mv.Minute.After(m.Minute) {
				continue
			}
			out.add(v, x, mv, m)
		}
		for _, s := range x.Roll {
			if b, ok := pages.Expected(v, s, v.Position(x, s.ID, m), m); ok {
				out.DueBack = append(out.DueBack, b)
			}
		}
		pages.SortDueBack(out.DueBack)
		out.Fetches, out.Groups = pages.Fetches(v, x, m), groups(v, x, m)
		for _, pass := range passesOut(x, m) {
			view, err := passView(v, x, pass, m)
			if err != nil {
				return err
			}
			out.Passes = append(out.Passes, view)
		}
		return nil
	})
	return out, err
}

// add adds a movement to the list and the counts.
func (out *DeskView) add(v work.Snapshot, x *work.Day, mv store.Movement, m work.Moment) {
	s, err := v.Student(mv.StudentID)
	if err != nil {
		return
	}
	row := MovementView{ID: mv.ID, Student: pages.Student(v, s, x.Date), At: mv.Minute.String(), Kind: mv.Kind, Reason: mv.Reason, Note: mv.Note,
		Returns: mv.Returns.String(), By: mv.By, Undone: mv.UndoneAt != nil && *mv.UndoneAt <= m.Known, State: "in", Collector: mv.Collector}
	if pass := x.PassOf(mv.ID, m.Known); pass != nil {
		row.Pass, row.Returned = passnumber.Number(pass.ID), returnedBy(*pass, m.Known)
	}
	late := false
	if mv.Kind == work.Departed {
		row.State = "left"
	} else if e := x.Evidence[mv.StudentID]; e != nil && mv.Kind == work.Arrived {
		came, isLate, _ := whereabouts.FirstArrival(*e, x.Rules(mv.StudentID), m.Minute, m.Known)
		if late = isLate && came == mv.Minute; late {
			row.State = "late"
		}
	}
	if !row.Undone {
		row.With = len(desk.Together(x, mv)) - 1
	}
	out.Movements = append(out.Movements, row)
	if row.Undone {
		return
	}
	if mv.Kind == work.Departed {
		out.Left++
	}
	if late {
		out.Late++
		for i := range out.Mostly {
			if out.Mostly[i].Reason == mv.Reason {
				out.Mostly[i].N++
				return
			}
		}
		if mv.Reason != "" {
			out.Mostly = append(out.Mostly, ReasonCount{mv.Reason, 1})
		}
	}
}

// ReasonKind is what a new reason may mean: a pair of codes that some reason has already.
type ReasonKind struct {
	Absent  string `json:"absent"`
	Late    string `json:"late"`
	Excused bool   `json:"excused"`
	Label   string `json:"label" doc:"What the codes say"`
}

// ReasonKinds lists what a new reason may mean, as the school's reasons have it.
func ReasonKinds(ctx context.Context, o *work.Office) ([]ReasonKind, error) {
	out := []ReasonKind{}
	err := o.Read(ctx, func(v work.Snapshot) error {
		first := v.Sections()[0] // others tie a reason to the like of these; see school.AddReason
		for _, r := range first.Settings.Offered() {
			k := ReasonKind{Absent: r.Absent, Late: r.Late, Excused: r.Excused}
			code, ok := first.Codes.Find(r.Absent)
			if !ok || code.Unexplained || slices.ContainsFunc(out, func(old ReasonKind) bool { return old.Absent == k.Absent && old.Late == k.Late }) {
				continue
			}
			k.Label = fmt.Sprintf("%s (%s)", code.Word, code.Code)
			out = append(out, k)
		}
		return nil
	})
	return out, err
}
