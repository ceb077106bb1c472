package morning

import (
	"context"
	"strings"

	"meldung/core/ids"
	"meldung/held/dated"
	"meldung/store"
	"meldung/work"
)

// Settlement says that a contradiction stands.
type Settlement struct {
	Student ids.Student `json:"student"`
	Slot    string      `json:"slot"`
	Kind    string      `json:"kind"`
	Note    string      `json:"note,omitempty" maxLength:"300"`
	Date    string      `json:"date,omitempty" doc:"YYYY-MM-DD; empty is today"`
}

// Settle stores that a contradiction was looked at and stands.
func Settle(ctx context.Context, o *work.Office, p work.Person, key string, c Settlement) (work.Receipt, error) {
	var out work.Receipt
	about, err := o.PastOrToday(c.Date)
	if err != nil {
		return out, err
	}
	err = o.WriteOn(ctx, about, work.Job{By: p, Key: key, Needs: work.MaySettle, Kind: "settled", In: c, Out: &out}, func(tx *work.Tx, v work.Snapshot, _ *work.Day) error {
		s, err := v.Student(c.Student)
		if err != nil {
			return err
		}
		id, err := store.AddSettled(ctx, tx.Tx, store.Settled{StudentID: c.Student, Date: about, Slot: c.Slot, Kind: c.Kind, Note: c.Note, Origin: tx.Origin()})
		out = work.ReceiptOf(tx, s.Name()+": looked at, both are right", id)
		return err
	})
	return out, err
}

// Where says where students are, or were on an earlier day, by somebody who knows.
type Where struct {
	Students  []ids.Student `json:"students" minItems:"1" maxItems:"2000"`
	Date      string        `json:"date,omitempty" doc:"YYYY-MM-DD; empty is today"`
	How       string        `json:"how" maxLength:"300" doc:"Where they are, and how one knows"`
	Unexcused bool          `json:"unexcused,omitempty" doc:"Their marks without a reason become unexcused"`
}

// SettleStudents stores that a named person knows where students are who were unaccounted for
// or worried for, with a word of how. It ends the search for them. It holds until something is
// known of them since.
func SettleStudents(ctx context.Context, o *work.Office, p work.Person, key string, w Where) (work.Receipt, error) {
	var out work.Receipt
	about, err := o.PastOrToday(w.Date)
	if err != nil {
		return out, err
	}
	err = o.WriteOn(ctx, about, work.Job{By: p, Key: key, Needs: work.MaySettleStudent, Kind: "student settled", In: w, Out: &out}, func(tx *work.Tx, v work.Snapshot, x *work.Day) error {
		how := strings.TrimSpace(w.How)
		if how == "" {
			return work.Wrongf("say where they are and how you know; nothing was saved")
		}
		m := tx.MomentOf(about)
		var made []ids.Settling
		for _, id := range w.Students {
			s, err := v.Student(id)
			if err != nil {
				return err
			}
			here := v.Position(x, id, m)
			search := SearchOf(x, id, m)
			if here.State.Settled() && here.Worried.IsZero() && !search.Runs() {
				return work.Conflictf("%s is accounted for: %s; nothing was saved", s.Name(), work.Whereabouts(here))
			}
			if search.Runs() {
				if _, err := store.EndSearch(ctx, tx.Tx, search.ID, GivenUp, how, p.Name, tx.Entry); err != nil {
					return err
				}
			}
			one, err := store.AddSettling(ctx, tx.Tx, store.Settling{Date: about, Minute: m.Minute, StudentID: &id, How: how, Origin: tx.Origin()})
			if err != nil {
				return err
			}
			made = append(made, one)
			if w.Unexcused {
				if err := tx.Unexcuse(ctx, v, x, id, how); err != nil {
					return err
				}
			}
		}
		out = work.ReceiptOf(tx, v.School.Names(w.Students)+": "+how, made...)
		return nil
	})
	return out, err
}

// NeverSent says why the register of an earlier day was never sent.
type NeverSent struct {
	Date  string    `json:"date" doc:"YYYY-MM-DD"`
	Class ids.Class `json:"class"`
	Slot  string    `json:"slot"`
	How   string    `json:"how" maxLength:"300"`
}

// SettleRegister stores why a register of an earlier day will not come, and where its students
// were.
func SettleRegister(ctx context.Context, o *work.Office, p work.Person, key string, n NeverSent) (work.Receipt, error) {
	var out work.Receipt
	about, err := o.PastOrToday(n.Date)
	if err != nil {
		return out, err
	}
	err = o.WriteOn(ctx, about, work.Job{By: p, Key: key, Needs: work.MaySettleRegister, Kind: "register settled", In: n, Out: &out}, func(tx *work.Tx, _ work.Snapshot, x *work.Day) error {
		how := strings.TrimSpace(n.How)
		r := x.Register(n.Class, n.Slot)
		switch {
		case r == nil:
			return work.NotFoundf("there is no such register on %s; nothing was saved", about.Spoken())
		case r.Sent != nil:
			return work.Conflictf("%s, %s was sent; nothing was saved", r.Class.Title, r.Slot.Label())
		case about == tx.Now.Date():
			return work.Refusedf("the day is not over: ask for the register, or take it; nothing was saved")
		case how == "":
			return work.Wrongf("say why it was not sent and where its students were; nothing was saved")
		}
		id, err := store.AddSettling(ctx, tx.Tx, store.Settling{Date: about, Minute: dated.LastMinute, ClassID: &n.Class, Slot: n.Slot, How: how, Origin: tx.Origin()})
		out = work.ReceiptOf(tx, r.Class.Title+", "+r.Slot.Label()+": "+how, id)
		return err
	})
	return out, err
}
