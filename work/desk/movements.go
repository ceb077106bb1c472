// Package desk holds what reception does: who comes, who goes and who collects them, and
// the passes that are made for it.
package desk

import (
	"cmp"
	"context"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/work"
)

// Movement is one or more students arriving or leaving.
type Movement struct {
	Students []ids.Student `json:"students" minItems:"1"`
	Kind     string        `json:"kind" enum:"arrived,departed,seen"`
	Time     string        `json:"time,omitempty" doc:"As typed, 925 or 9:25; empty is now"`
	Reason   string        `json:"reason,omitempty"`
	Note     string        `json:"note,omitempty"`
	Returns  string        `json:"returns,omitempty" doc:"When expected back, as typed"`

	Collector ids.Contact `json:"collector,omitempty" doc:"Contact who collects those who leave; 0 for nobody or somebody else"`
	Collects  string      `json:"collects,omitempty" maxLength:"100" doc:"Who collects who is no contact; needs a note"`
}

// read reads the times of a movement that is stored at a minute.
func (m Movement) read(now day.Minute) (work.Movement, error) {
	out := work.Movement{Kind: m.Kind, At: now, Reason: m.Reason, Note: m.Note, Collector: m.Collector, Collects: m.Collects}
	var err error
	if strings.TrimSpace(m.Time) != "" {
		if out.At, err = day.ParseTyped(m.Time); err != nil {
			return out, work.Wrongf("%v; nothing was stored", err)
		}
	}
	if strings.TrimSpace(m.Returns) != "" {
		if out.Returns, err = day.ParseTyped(m.Returns); err != nil {
			return out, work.Wrongf("back by %v; nothing was stored", err)
		}
	}
	return out, out.Check(now)
}

// Move stores arrivals or departures and brings the marks of the day into line
// with them: an arrival turns unexplained marks before it into what its reason
// says, a departure marks the rest of the slot under way.
func Move(ctx context.Context, o *work.Office, p work.Person, key string, m Movement) (work.Receipt, error) {
	var out work.Receipt
	err := o.WriteToday(ctx, work.Job{By: p, Key: key, Needs: work.MayMove, Kind: "movement", In: m, Out: &out}, func(tx *work.Tx, v work.Snapshot, x *work.Day) error {
		read, err := m.read(tx.Now.Minute())
		if err != nil {
			return err
		}
		out, err = tx.MoveAll(ctx, v, x, m.Students, read)
		return err
	})
	return out, err
}

// UndoMovement takes a movement back, with the marks it changed.
func UndoMovement(ctx context.Context, o *work.Office, p work.Person, key string, id ids.Movement) (work.Receipt, error) {
	var out work.Receipt
	err := o.WriteToday(ctx, work.Job{By: p, Key: key, Needs: work.MayUndoMovement, Kind: "movement undone", Of: id, Out: &out}, func(tx *work.Tx, v work.Snapshot, x *work.Day) error {
		for _, m := range x.Movements {
			if m.ID != id {
				continue
			}
			out = work.ReceiptOf(tx, "taken back", id)
			return tx.TakeBackMovement(ctx, v, x, m)
		}
		return work.NotFoundf("there is no such movement today")
	})
	return out, err
}

// Amendment adds to a movement what was forgotten when it was stored.
type Amendment struct {
	Reason  string `json:"reason,omitempty" maxLength:"60"`
	Note    string `json:"note,omitempty" maxLength:"500"`
	Returns string `json:"returns,omitempty" doc:"When expected back, as typed"`

	Collector ids.Contact `json:"collector,omitempty" doc:"Contact who collects; 0 for nobody or somebody else"`
	Collects  string      `json:"collects,omitempty" maxLength:"100" doc:"Who collects who is no contact; needs a note"`
}

// Amend stores a movement of today anew at its own minute, with what was forgotten; the one before
// stays on record as taken back. The marks follow the reason.
func Amend(ctx context.Context, o *work.Office, p work.Person, key string, id ids.Movement, a Amendment) (work.Receipt, error) {
	var out work.Receipt
	err := o.WriteToday(ctx, work.Job{By: p, Key: key, Needs: work.MayAmendMovement, Kind: "movement", In: a, Of: id, Out: &out}, func(tx *work.Tx, v work.Snapshot, x *work.Day) error {
		m := x.Movement(id)
		switch {
		case m == nil:
			return work.NotFoundf("there is no such movement today")
		case x.PassOf(id, tx.Now) != nil:
			return work.Conflictf("a pass was made for it, which says otherwise: take the movement back and store it again; nothing was changed")
		}
		s, err := v.Student(m.StudentID)
		if err != nil {
			return err
		}
		next, err := Movement{Kind: m.Kind, Time: m.Minute.String(), Reason: cmp.Or(strings.TrimSpace(a.Reason), m.Reason), Note: cmp.Or(strings.TrimSpace(a.Note), m.Note),
			Returns: cmp.Or(a.Returns, m.Returns.String()), Collector: a.Collector, Collects: a.Collects}.read(tx.Now.Minute())
		if err != nil {
			return err
		}
		if next.Collector == 0 && strings.TrimSpace(next.Collects) == "" && m.CollectorID != nil {
			next.Collector = *m.CollectorID
		}
		stored, err := tx.Again(ctx, v, x, s, *m, next)
		out = work.ReceiptOf(tx, s.Name()+" "+next.Summary(), stored)
		return err
	})
	return out, err
}
