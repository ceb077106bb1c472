// Package registers holds how registers are taken: sent, corrected, marked together by
// several people, and by whom they are taken and where the class sits.
package registers

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/register"
	"meldung/store"
	"meldung/work"
)

// SentMark is a row of a register as its taker left it.
type SentMark struct {
	Student ids.Student `json:"student"`
	Code    string      `json:"code"`
	Time    string      `json:"time,omitempty" doc:"After a late: minutes or the time; after leaving early: the time"`
	Note    string      `json:"note,omitempty"`
	Reason  string      `json:"reason,omitempty"`
	Source  string      `json:"source,omitempty" doc:"Where a filled-in mark came from; empty, or not what the office knows, is the taker's own eyes"`
	Made    string      `json:"made,omitempty" doc:"Minute in which the mark was made, HH:MM"`
	Seen    int         `json:"seen,omitempty" doc:"Version of the shared draft's row that the taker had seen"`
}

// SentRegister is a whole register as its taker left it.
type SentRegister struct {
	Date  string     `json:"date"`
	Class ids.Class  `json:"class"`
	Slot  string     `json:"slot"`
	Marks []SentMark `json:"marks"`

	TakenBy string `json:"takenBy,omitempty" maxLength:"100" doc:"Who took it on paper; empty where it was taken here"`
	TakenAt string `json:"takenAt,omitempty" doc:"When it was taken on paper, as typed; empty is when the slot began"`
}

// onPaper returns the rows of a register that comes back on paper: they were seen when it was taken,
// not when it is entered.
func (s SentRegister) onPaper(slot day.Slot) ([]SentMark, error) {
	if strings.TrimSpace(s.TakenBy) == "" {
		return s.Marks, nil
	}
	at := slot.Start
	if strings.TrimSpace(s.TakenAt) != "" {
		var err error
		if at, err = day.ParseTyped(s.TakenAt); err != nil {
			return nil, work.Wrongf("taken when? %v; nothing was sent", err)
		}
		if at.Before(slot.Start) || at.After(slot.End) {
			return nil, work.Wrongf("%s is not within %s, %s to %s; nothing was sent", at, slot.Label(), slot.Start, slot.End)
		}
	}
	out := slices.Clone(s.Marks)
	for i := range out {
		out[i].Made = at.String()
	}
	return out, nil
}

// Send stores a whole register. Every student on the roll must be
// marked: a blank row is never an absence. A register that is in is not sent again.
func Send(ctx context.Context, o *work.Office, p work.Person, key string, sent SentRegister) (work.Receipt, error) {
	d, err := day.ParseDate(sent.Date)
	if err != nil {
		return work.Receipt{}, work.Wrongf("%v", err)
	}
	var out work.Receipt
	err = o.WriteOn(ctx, d, work.Job{By: p, Key: key, Needs: work.MaySendRegister, Kind: "register", In: sent, Out: &out}, func(tx *work.Tx, v work.Snapshot, x *work.Day) error {
		r, err := v.RegisterFor(x, p, sent.Class, sent.Slot)
		if err != nil {
			return err
		}
		if r.Sent != nil {
			return alreadySent(r)
		}
		if tx.Now < day.At(d, r.Slot.Start) {
			return work.Refusedf("%s is not due before %s on %s", sent.Slot, r.Slot.Start, d.Spoken())
		}
		drafts, err := store.DraftsOf(ctx, tx.Tx, d, sent.Class, sent.Slot)
		if err != nil {
			return err
		}
		if others := unseen(drafts, sent.Marks); len(others) > 0 {
			return work.Conflictf("%s marked %s otherwise in between; nothing was sent, look at the rows", drafts[others[0]].By, v.School.Names(others))
		}
		from, err := sourcesOf(ctx, v, tx, x, r)
		if err != nil {
			return err
		}
		marks, err := sent.onPaper(r.Slot)
		if err != nil {
			return err
		}
		rows, err := rowsOf(v, tx, x, r, marks, from)
		if err != nil {
			return err
		}
		if err := tx.AddMarks(ctx, rows); err != nil {
			return err
		}
		if err := store.DropDraft(ctx, tx.Tx, d, sent.Class, sent.Slot); err != nil {
			return err
		}
		out = tx.Receipt(fmt.Sprintf("%s %s sent, %d students", r.Class.Title, sent.Slot, len(rows)))
		return store.AddRegisters(ctx, tx.Tx, []store.Register{{Date: d, Slot: sent.Slot, ClassID: sent.Class,
			Start: r.Slot.Start, End: r.Slot.End, Kind: r.Slot.Kind.String(), TakenBy: strings.TrimSpace(sent.TakenBy), Origin: tx.Origin()}})
	})
	return out, err
}

// rowsOf turns sent rows into marks and refuses what does not fit, by name.
func rowsOf(v work.Snapshot, tx *work.Tx, x *work.Day, r *work.Register, sent []SentMark, from sources) ([]store.Mark, error) {
	byStudent := map[ids.Student]SentMark{}
	for _, m := range sent {
		if _, twice := byStudent[m.Student]; twice {
			return nil, work.Wrongf("a student is marked twice; nothing was sent")
		}
		byStudent[m.Student] = m
	}
	var out []store.Mark
	var blank []string
	for _, s := range r.Roll {
		m, ok := byStudent[s.ID]
		if !ok || m.Code == "" {
			blank = append(blank, s.Name())
			continue
		}
		delete(byStudent, s.ID)
		mark, err := markOf(v, tx, x, r, m)
		if err != nil {
			return nil, work.Wrongf("%s: %v; nothing was sent", s.Name(), err)
		}
		mark.Source = from.of(s, m)
		mark.Version = len(x.Versions(s.ID, r.Slot.Name)) + 1
		out = append(out, mark)
	}
	if len(blank) > 0 {
		return nil, work.Wrongf("%d still to mark: %s. A blank is never an absence; nothing was sent", len(blank), strings.Join(blank, ", "))
	}
	if len(byStudent) > 0 {
		return nil, work.Wrongf("%d marks are of students who are not on this register; nothing was sent", len(byStudent))
	}
	return out, nil
}

// markOf reads one sent row.
func markOf(v work.Snapshot, tx *work.Tx, x *work.Day, r *work.Register, m SentMark) (store.Mark, error) {
	code, ok := x.OfClass(r.Class.ID).Codes.Find(m.Code)
	if !ok {
		return store.Mark{}, fmt.Errorf("there is no code %q", m.Code)
	}
	out := store.Mark{Date: x.Date, Slot: r.Slot.Name, StudentID: m.Student, ClassID: r.Class.ID, Code: m.Code, Note: m.Note, Reason: m.Reason,
		Source: register.SourceRegister, Made: madeAt(tx, x, r.Slot, m.Made), Origin: tx.Origin()}
	switch {
	case m.Time == "":
	case code.Late:
		at, err := register.ParseLate(r.Slot, m.Time)
		if err != nil {
			return out, err
		}
		out.AwayTo = at
	case code.OnSite:
		at, err := day.ParseTyped(m.Time)
		if err != nil {
			return out, err
		}
		out.AwayFrom = at
	}
	return out, nil
}

// madeAt is the minute for which a mark is evidence: the minute in which it was
// made, kept within its slot, and never later than now.
func madeAt(tx *work.Tx, x *work.Day, slot day.Slot, text string) day.Minute {
	made, err := day.ParseMinute(text)
	if err != nil {
		made = slot.End
		if tx.Now.Date() == x.Date {
			made = tx.Now.Minute()
		}
	}
	return register.MadeWithin(slot, made, tx.Now.Minute(), tx.Now.Date() == x.Date)
}

// unseen returns the students whose row of the draft stands otherwise than it is sent, by
// a version that the sender has not seen.
func unseen(drafts map[ids.Student]store.DraftMark, sent []SentMark) []ids.Student {
	there := map[ids.Student]register.Draft{}
	for id, d := range drafts {
		there[id] = work.AsDraft(d)
	}
	return register.Unseen(there, func(yield func(ids.Student, register.Draft) bool) {
		for _, m := range sent {
			if !yield(m.Student, register.Draft{Code: m.Code, Time: m.Time, Note: m.Note, Version: m.Seen}) {
				return
			}
		}
	})
}

func alreadySent(r *work.Register) error {
	return work.Conflictf("%s %s was sent at %s by %s. Your marks are still on this page: change what differs as a correction", r.Class.Title, r.Slot.Name, r.Sent.Known.Minute(), r.Sent.By)
}
