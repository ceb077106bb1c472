package work

import (
	"context"
	"slices"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/policy"
	"meldung/core/register"
	"meldung/store"
)

// AddMarks stores versions of marks and hands them to the ledger.
func (tx *Tx) AddMarks(ctx context.Context, marks []store.Mark) error {
	if len(marks) == 0 {
		return nil
	}
	tx.marks = append(tx.marks, marks...)
	return store.AddMarks(ctx, tx.Tx, marks)
}

// Recoding says why marks get new versions.
type Recoding struct {
	Source string
	Reason string
}

// recode gives new versions to a student's marks in force where change says so.
func (tx *Tx) recode(ctx context.Context, v Snapshot, x *Day, student ids.Student, why Recoding, change func(slot day.Slot, m store.Mark) (store.Mark, bool)) error {
	var out []store.Mark
	for _, slot := range x.SlotsOf(student) {
		versions := x.Versions(student, slot.Name)
		if len(versions) == 0 {
			continue
		}
		last := versions[len(versions)-1]
		next, changed := change(slot, last)
		if !changed {
			continue
		}
		next.Version, next.Source, next.Reason = last.Version+1, why.Source, why.Reason
		next.Origin = tx.Origin()
		out = append(out, next)
	}
	return tx.AddMarks(ctx, out)
}

// apply gives new versions to a student's marks in force by a rule of the core.
func (tx *Tx) apply(ctx context.Context, v Snapshot, x *Day, student ids.Student, why Recoding, rule func(slot day.Slot, m register.InForce) (register.Changed, bool)) error {
	return tx.recode(ctx, v, x, student, why, func(slot day.Slot, m store.Mark) (store.Mark, bool) {
		changed, ok := rule(slot, x.InForce(m))
		m.Code, m.AwayFrom, m.AwayTo, m.Made = changed.Code, changed.From, changed.To, changed.Made
		return m, ok
	})
}

// Unexcuse makes a student's marks without a reason unexcused, by what somebody knows.
func (tx *Tx) Unexcuse(ctx context.Context, v Snapshot, x *Day, student ids.Student, how string) error {
	return tx.apply(ctx, v, x, student, Recoding{register.SourceRegister, how}, func(slot day.Slot, k register.InForce) (register.Changed, bool) {
		code, _ := x.Of(student).Codes.For(policy.UseUnexcused, slot)
		return register.Explain(k, code.Code)
	})
}

// Excuse makes a student's unexcused absences in some slots of a day excused, and returns in how many
// slots there were any. A set of codes without one for being away for a reason excuses nothing.
func (tx *Tx) Excuse(ctx context.Context, v Snapshot, x *Day, student ids.Student, why string, in func(slot string) bool) (slots int, err error) {
	codes := x.Of(student).Codes
	lacks := false
	err = tx.recode(ctx, v, x, student, Recoding{register.SourceDesk, why}, func(slot day.Slot, m store.Mark) (store.Mark, bool) {
		was, known := codes.Find(m.Code)
		if !known || was.Counts != policy.Unexcused || !in(slot.Name) {
			return m, false
		}
		next, there := codes.For(policy.UseAway, slot)
		lacks = lacks || !there
		slots++
		m.Code = next.Code
		return m, there
	})
	if err == nil && lacks {
		err = Conflictf("the code set %s has no code for being away for a reason: nothing can be excused with it; nothing was changed", codes.ID)
	}
	return slots, err
}

// Restore gives the marks that a journal entry changed their earlier form back, as new versions:
// that before the entry, and before others that it stood in for.
func (tx *Tx) Restore(ctx context.Context, v Snapshot, x *Day, student ids.Student, entry ids.Entry, reason string, others ...ids.Entry) error {
	return tx.recode(ctx, v, x, student, Recoding{register.SourceDesk, reason}, func(slot day.Slot, m store.Mark) (store.Mark, bool) {
		versions := x.Versions(student, slot.Name)
		if m.Journal != entry {
			return m, false
		}
		for i := len(versions) - 2; i >= 0; i-- {
			if !slices.Contains(others, versions[i].Journal) {
				return versions[i], true
			}
		}
		return m, false
	})
}

// DraftMark is a row as someone leaves it on a register that is not sent yet.
type DraftMark struct {
	Student ids.Student `json:"student"`
	Code    string      `json:"code" doc:"Empty takes the mark off"`
	Time    string      `json:"time,omitempty"`
	Note    string      `json:"note,omitempty"`
	Source  string      `json:"source,omitempty"`
	Made    string      `json:"made,omitempty" doc:"Minute in which the mark was made, HH:MM"`
	Seen    int         `json:"seen" doc:"Version of the row that was seen when it was marked; 0 for none"`
}

// DraftView is a row of the shared draft.
type DraftView struct {
	Student ids.Student `json:"student"`
	Code    string      `json:"code"`
	Time    string      `json:"time"`
	Note    string      `json:"note"`
	Source  string      `json:"source"`
	Made    string      `json:"made"`
	Version int         `json:"version"`
	By      string      `json:"by"`
	At      string      `json:"at"`
}

// DraftReceipt says which rows were taken, and which stand otherwise since.
type DraftReceipt struct {
	Seq       ids.Entry   `json:"seq"`
	Taken     []DraftView `json:"taken"`
	Conflicts []DraftView `json:"conflicts" doc:"What stands there; nothing was changed"`
}

// DraftOf returns a row of the shared draft as pages show it.
func DraftOf(d store.DraftMark) DraftView {
	return DraftView{Student: d.StudentID, Code: d.Code, Time: d.Time, Note: d.Note, Source: d.Source, Made: d.Made, Version: d.Version, By: d.By, At: d.Known.Minute().String()}
}

// PutDrafts puts marks on the shared draft of a register. A row that someone else has
// marked otherwise in between is left, and told.
func (tx *Tx) PutDrafts(ctx context.Context, v Snapshot, x *Day, r *Register, marks []DraftMark) (DraftReceipt, error) {
	out := DraftReceipt{Seq: tx.Entry, Taken: []DraftView{}, Conflicts: []DraftView{}}
	onRoll := map[ids.Student]bool{}
	for _, s := range r.Roll {
		onRoll[s.ID] = true
	}
	current, err := store.DraftsOf(ctx, tx.Tx, x.Date, r.Class.ID, r.Slot.Name)
	if err != nil {
		return out, err
	}
	var rows []store.DraftMark
	for _, m := range marks {
		if !onRoll[m.Student] {
			return out, Wrongf("a mark is of a student who is not on this register; nothing was saved")
		}
		if _, known := x.OfClass(r.Class.ID).Codes.Find(m.Code); !known && m.Code != "" {
			return out, Wrongf("there is no code %q; nothing was saved", m.Code)
		}
		there := current[m.Student]
		after, conflict := register.Put(AsDraft(there), register.Draft{Code: m.Code, Time: m.Time, Note: m.Note}, m.Seen)
		switch {
		case conflict:
			out.Conflicts = append(out.Conflicts, DraftOf(there))
			continue
		case after.Version != there.Version:
			there = store.DraftMark{Date: x.Date, Slot: r.Slot.Name, ClassID: r.Class.ID, StudentID: m.Student, Code: m.Code, Time: m.Time, Note: m.Note,
				Source: m.Source, Made: m.Made, Version: after.Version, Origin: tx.Origin()}
			current[m.Student] = there
			rows = append(rows, there)
		}
		out.Taken = append(out.Taken, DraftOf(there))
	}
	return out, store.PutDrafts(ctx, tx.Tx, rows)
}

// AsDraft returns a row of the shared draft as the core's rules take it.
func AsDraft(d store.DraftMark) register.Draft {
	return register.Draft{Code: d.Code, Time: d.Time, Note: d.Note, Version: d.Version}
}
