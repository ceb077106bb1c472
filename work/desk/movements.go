// Package desk holds what reception does: who comes, who goes and who collects them, and
// the passes that are made for it.
package desk

import (
	"cmp"
	"context"
	"fmt"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/store"
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
			return out, work.Wrongf("%v; nothing was saved", err)
		}
	}
	if strings.TrimSpace(m.Returns) != "" {
		if out.Returns, err = day.ParseTyped(m.Returns); err != nil {
			return out, work.Wrongf("back by %v; nothing was saved", err)
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
	At       string `json:"at,omitempty" maxLength:"10" doc:"When it really was, as typed; empty leaves it"`
	Together bool   `json:"together,omitempty" doc:"Everyone who was written down in the same go: a ferry, a group"`

	Reason  string `json:"reason,omitempty" maxLength:"60"`
	Note    string `json:"note,omitempty" maxLength:"500"`
	Returns string `json:"returns,omitempty" doc:"When expected back, as typed"`

	Collector ids.Contact `json:"collector,omitempty" doc:"Contact who collects; 0 for nobody or somebody else"`
	Collects  string      `json:"collects,omitempty" maxLength:"100" doc:"Who collects who is no contact; needs a note"`
}

// Amend stores a movement of today anew with what was forgotten or was wrong: its minute, its reason,
// who collects; the one before stays on record as taken back. The marks follow. A whole group is
// put right at once.
func Amend(ctx context.Context, o *work.Office, p work.Person, key string, id ids.Movement, a Amendment) (work.Receipt, error) {
	var out work.Receipt
	err := o.WriteToday(ctx, work.Job{By: p, Key: key, Needs: work.MayAmendMovement, Kind: "movement", In: a, Of: id, Out: &out}, func(tx *work.Tx, v work.Snapshot, x *work.Day) error {
		m := x.Movement(id)
		if m == nil {
			return work.NotFoundf("there is no such movement today")
		}
		of := []store.Movement{*m}
		if a.Together {
			of = Together(x, *m)
		}
		out = tx.Receipt("")
		for _, one := range of {
			stored, words, err := amend(ctx, tx, v, x, one, a)
			if err != nil {
				return err
			}
			out.IDs, out.Text = append(out.IDs, int64(stored)), words
		}
		if len(of) > 1 {
			at := m.Minute
			if made, err := day.ParseTyped(a.At); err == nil {
				at = made
			}
			out.Text = fmt.Sprintf("%s put right: %s", work.Count(len(of), "student"), work.Movement{Kind: m.Kind, At: at, Reason: cmp.Or(strings.TrimSpace(a.Reason), m.Reason)}.Summary())
		}
		return nil
	})
	return out, err
}

// Together returns the movements that were written down in the same go as one, and stand.
func Together(x *work.Day, m store.Movement) []store.Movement {
	var out []store.Movement
	for _, o := range x.Movements {
		if o.ID == m.ID || (o.Journal == m.Journal && o.Kind == m.Kind && o.UndoneBy == nil) {
			out = append(out, o)
		}
	}
	return out
}

func amend(ctx context.Context, tx *work.Tx, v work.Snapshot, x *work.Day, m store.Movement, a Amendment) (ids.Movement, string, error) {
	if x.PassOf(m.ID, tx.Now) != nil {
		return 0, "", work.Conflictf("a pass was made for it, which says otherwise: take the movement back and enter it again; nothing was changed")
	}
	s, err := v.Student(m.StudentID)
	if err != nil {
		return 0, "", err
	}
	next, err := Movement{Kind: m.Kind, Time: cmp.Or(strings.TrimSpace(a.At), m.Minute.String()), Reason: cmp.Or(strings.TrimSpace(a.Reason), m.Reason), Note: cmp.Or(strings.TrimSpace(a.Note), m.Note),
		Returns: cmp.Or(a.Returns, m.Returns.String()), Collector: a.Collector, Collects: a.Collects}.read(tx.Now.Minute())
	if err != nil {
		return 0, "", err
	}
	if err := next.Check(tx.Now.Minute()); err != nil {
		return 0, "", err
	}
	if next.Collector == 0 && strings.TrimSpace(next.Collects) == "" && m.CollectorID != nil {
		next.Collector = *m.CollectorID
	}
	stored, err := tx.Again(ctx, v, x, s, m, next)
	return stored, s.Name() + " " + next.Summary(), err
}
