// Package takeback takes back what somebody has just done, as a whole: whatever one entry of the
// journal has stored.
package takeback

import (
	"context"
	"slices"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
	"meldung/work/contacts"
)

// Entry takes back what an entry of the journal of today has stored: movements, notices, calls,
// what was settled, holds and corrected marks. What is taken back stays on record. Marks that
// somebody has changed since are left.
func Entry(ctx context.Context, o *work.Office, p work.Person, key string, id ids.Entry) (work.Receipt, error) {
	var out work.Receipt
	err := o.WriteToday(ctx, work.Job{By: p, Key: key, Needs: work.MayTakeBack, Kind: "taken back", Of: id, Out: &out}, func(tx *work.Tx, v work.Snapshot, _ *work.Day) error {
		entry, err := store.EntryByID(ctx, tx.Tx, id)
		if err != nil {
			return err
		}
		if entry == nil || entry.Known.Date() != tx.Now.Date() {
			return work.NotFoundf("nothing of that number was stored today")
		}
		needs, can := work.TakenBack[entry.Kind]
		if !can {
			return work.Conflictf("a %s can't be taken back; it can be corrected on its own page", entry.Kind)
		}
		if !p.May(needs) {
			return work.Refusedf("your account may not take that back")
		}
		about, err := store.DatesOf(ctx, tx.Tx, id)
		if err != nil {
			return err
		}
		t := taking{tx: tx, v: v, id: id, second: o.Unix(), gone: map[any]bool{}}
		if undo, whole := wholes[entry.Kind]; whole {
			if undo.own && (entry.Account == nil || *entry.Account != p.Account) {
				return work.Refusedf("another's %s is changed by whose it is", entry.Kind)
			}
			done, err := undo.store(ctx, tx.Tx, id, tx.Entry)
			t.did(id, done, err)
		}
		if entry.Kind == "warning ended" {
			done, err := contacts.HaveBack(ctx, tx, v, id)
			t.did(id, done, err)
		}
		for _, d := range about {
			if t.err == nil {
				t.of(ctx, d)
			}
		}
		if t.err == nil && len(t.gone) == 0 && entry.Kind == "homes texted" {
			return work.Conflictf("they have left already")
		}
		if t.err == nil && len(t.gone) == 0 {
			return work.Conflictf("that was taken back already, or somebody has changed it since")
		}
		out = tx.Receipt("taken back")
		return t.err
	})
	return out, err
}

// wholes are the kinds of entry that the store takes back as a whole; what is one's own nobody else does.
var wholes = map[string]struct {
	own   bool
	store func(ctx context.Context, tx *sqlx.Tx, entry, by ids.Entry) (bool, error)
}{
	"step": {false, undoSteps}, "letters": {false, undoSteps}, "list": {true, store.UndoLists}, "paper list": {true, store.UndoPaperLists}, "paper plan": {true, store.UndoPaperPlans}, "pin": {true, store.UndoPins}, "incident": {true, store.UndoIncident},
	"decision": {false, store.UndoReviewing}, "review finished": {false, store.UndoReviewing}, "case": {true, store.UndoReviewing}, "concern told": {true, store.UndoReviewing},
	"follow-up": {true, undoContact}, "case plan": {true, store.UndoSupport}, "case paper": {true, store.UndoSupport}, "meeting": {false, store.UndoSupport}, "support session": {true, store.UndoSupport}, "week without session": {false, store.UndoSupport},
}

// undoContact takes back a contact, with the date to which it has moved a case.
func undoContact(ctx context.Context, tx *sqlx.Tx, entry, by ids.Entry) (bool, error) {
	moved, err := store.UndoReviewing(ctx, tx, entry, by)
	if err != nil {
		return false, err
	}
	done, err := store.UndoFollowup(ctx, tx, entry, by)
	return done || moved, err
}

func undoSteps(ctx context.Context, tx *sqlx.Tx, entry, by ids.Entry) (bool, error) {
	n, err := store.UndoStepActs(ctx, tx, entry, by)
	return n > 0, err
}

// taking is an entry of the journal on its way back.
type taking struct {
	tx     *work.Tx
	v      work.Snapshot
	id     ids.Entry
	second int64
	gone   map[any]bool // what is taken back, by its id
	err    error
}

// did notes what became of taking something back.
func (t *taking) did(what any, done bool, err error) {
	if done && err == nil {
		t.gone[what] = true
	}
	if t.err == nil {
		t.err = err
	}
}

// of takes back what the entry has stored about a date.
func (t *taking) of(ctx context.Context, d day.Date) {
	v, err := t.v.At(ctx, d)
	if err != nil {
		t.err = err
		return
	}
	x, err := v.Day(ctx, d)
	if err != nil {
		t.err = err
		return
	}
	for _, m := range x.Movements {
		if m.Journal == t.id && m.UndoneBy == nil {
			t.did(m.ID, true, t.tx.TakeBackMovement(ctx, v, x, m))
		}
	}
	for _, n := range x.Notices {
		if n.Journal == t.id && n.WithdrawnBy == nil && !t.gone[n.ID] {
			t.did(n.ID, true, t.tx.TakeBackNotice(ctx, v, n))
		}
	}
	for _, c := range x.Calls {
		if c.Journal == t.id && c.UndoneBy == nil && !t.gone[c.ID] {
			done, err := store.UndoCall(ctx, t.tx.Tx, c.ID, t.tx.Entry)
			t.did(c.ID, done, err)
		}
	}
	t.settled(ctx, v, x)
	for _, m := range x.Messages {
		if m.Journal == t.id && m.Leaves > t.second && len(x.MessageEvents(m.ID)) == 0 {
			t.did(m.ID, true, t.tx.AddMessageEvent(ctx, m.ID, t.tx.Now, work.Back, ""))
		}
	}
	for _, h := range x.Holds {
		if h.Journal == t.id && h.EndedBy == nil {
			done, err := store.EndHold(ctx, t.tx.Tx, h.ID, t.tx.Entry)
			t.did(h.ID, done, err)
		}
	}
	for _, f := range x.Fetches {
		if f.Journal == t.id && f.EndedBy == nil {
			done, err := store.EndFetch(ctx, t.tx.Tx, f.ID, t.tx.Entry)
			t.did(f.ID, done, err)
		}
	}
	if t.err == nil && len(t.gone) == 0 {
		t.corrected(ctx, v, x)
	}
}

// settled takes back that students or contradictions were settled.
func (t *taking) settled(ctx context.Context, v work.Snapshot, x *work.Day) {
	for _, s := range x.Settlings {
		if s.Journal != t.id || s.UndoneBy != nil || t.gone[s.ID] {
			continue
		}
		done, err := store.UndoSettling(ctx, t.tx.Tx, s.ID, t.tx.Entry)
		t.did(s.ID, done, err)
		if s.StudentID != nil && err == nil {
			t.did(s.ID, true, t.tx.Restore(ctx, v, x, *s.StudentID, t.id, "taken back"))
		}
	}
	for _, s := range x.Settled {
		if s.Journal == t.id && s.UndoneBy == nil {
			done, err := store.UndoSettled(ctx, t.tx.Tx, s.ID, t.tx.Entry)
			t.did(s.ID, done, err)
		}
	}
}

// corrected gives marks that the entry has corrected their form of before.
func (t *taking) corrected(ctx context.Context, v work.Snapshot, x *work.Day) {
	for student := range x.Evidence {
		if slices.ContainsFunc(x.SlotsOf(student), func(s day.Slot) bool {
			versions := x.Versions(student, s.Name)
			return len(versions) > 1 && versions[len(versions)-1].Journal == t.id
		}) {
			t.did(student, true, t.tx.Restore(ctx, v, x, student, t.id, "the correction was taken back"))
		}
	}
}
