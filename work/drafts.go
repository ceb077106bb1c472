package work

import (
	"context"
	"fmt"

	"meldung/core/day"
	"meldung/core/register"
	"meldung/store"
)

// DraftMark is a row as someone leaves it on a register that is not sent yet.
type DraftMark struct {
	Student int64  `json:"student"`
	Code    string `json:"code" doc:"Empty takes the mark off"`
	Time    string `json:"time,omitempty"`
	Note    string `json:"note,omitempty"`
	Source  string `json:"source,omitempty"`
	Made    string `json:"made,omitempty" doc:"Minute in which the mark was made, HH:MM"`
	Seen    int    `json:"seen" doc:"Version of the row that was seen when it was marked; 0 for none"`
}

// DraftView is a row of the shared draft.
type DraftView struct {
	Student int64  `json:"student"`
	Code    string `json:"code"`
	Time    string `json:"time"`
	Note    string `json:"note"`
	Source  string `json:"source"`
	Made    string `json:"made"`
	Version int    `json:"version"`
	By      string `json:"by"`
	At      string `json:"at"`
}

// DraftReceipt says which rows were taken, and which stand otherwise since.
type DraftReceipt struct {
	Seq       int64       `json:"seq"`
	Taken     []DraftView `json:"taken"`
	Conflicts []DraftView `json:"conflicts" doc:"What stands there; nothing was changed"`
}

// Drafts is what someone marks on a register that is not sent yet.
type Drafts struct {
	Date  string      `json:"date"`
	Class int64       `json:"class"`
	Slot  string      `json:"slot"`
	Marks []DraftMark `json:"marks" minItems:"1" maxItems:"500"`
}

func draftView(d store.DraftMark) DraftView {
	return DraftView{Student: d.StudentID, Code: d.Code, Time: d.Time, Note: d.Note, Source: d.Source, Made: d.Made, Version: d.Version, By: d.By, At: d.Known.Minute().String()}
}

// DraftRegister shares marks of a register that is not sent yet with all who have
// it open. A row that someone else has marked otherwise in between is left, and
// told.
func (o *Office) DraftRegister(ctx context.Context, p Person, key string, drafts Drafts) (DraftReceipt, error) {
	out := DraftReceipt{Taken: []DraftView{}, Conflicts: []DraftView{}}
	d, err := day.ParseDate(drafts.Date)
	if err != nil {
		return out, wrong("%v", err)
	}
	err = o.write(ctx, p, key, "draft", &out, func(w *writing) error {
		w.aside, w.scope = true, registerScope(d, drafts.Class, drafts.Slot)
		return o.look(func(v view) error {
			x, err := v.day(ctx, d)
			if err != nil {
				return err
			}
			r, err := v.registry(x, p, drafts.Class, drafts.Slot)
			if err != nil {
				return err
			}
			if r.Sent != nil {
				return conflict("%s %s was sent at %s by %s. Your marks are still on this page: change what differs as a correction", r.Class.Title, drafts.Slot, r.Sent.Known.Minute(), r.Sent.By)
			}
			out.Seq = w.journal.ID
			return v.putDrafts(w, x, r, drafts.Marks, &out)
		})
	})
	return out, err
}

// registerScope names a register to those who follow it.
func registerScope(d day.Date, class int64, slot string) string {
	return fmt.Sprintf("%s %d %s", d, class, slot)
}

func (v view) putDrafts(w *writing, x *Day, r *registry, marks []DraftMark, out *DraftReceipt) error {
	onRoll := map[int64]bool{}
	for _, s := range r.Roll {
		onRoll[s.ID] = true
	}
	current, err := store.DraftsOf(w.ctx, w.tx, x.Date, r.Class.ID, r.Slot.Name)
	if err != nil {
		return err
	}
	var rows []store.DraftMark
	for _, m := range marks {
		if !onRoll[m.Student] {
			return wrong("a mark is of a student who is not on this register; nothing was stored")
		}
		if _, known := v.codes.Find(m.Code); !known && m.Code != "" {
			return wrong("there is no code %q; nothing was stored", m.Code)
		}
		there := current[m.Student]
		before := register.Draft{Code: there.Code, Time: there.Time, Note: there.Note, Version: there.Version}
		after, conflict := register.Put(before, register.Draft{Code: m.Code, Time: m.Time, Note: m.Note}, m.Seen)
		switch {
		case conflict:
			out.Conflicts = append(out.Conflicts, draftView(there))
			continue
		case after.Version != there.Version:
			there = store.DraftMark{Date: x.Date, Slot: r.Slot.Name, ClassID: r.Class.ID, StudentID: m.Student, Code: m.Code, Time: m.Time, Note: m.Note,
				Source: m.Source, Made: m.Made, Version: after.Version,
				Origin: store.Origin{Journal: w.journal.ID, Known: w.now, By: w.person.Name}}
			current[m.Student] = there
			rows = append(rows, there)
		}
		out.Taken = append(out.Taken, draftView(there))
	}
	return store.PutDrafts(w.ctx, w.tx, rows)
}

// unseen returns the rows of a draft that stand otherwise than they are sent, and
// that the sender has not seen.
func unseen(drafts map[int64]store.DraftMark, sent []SentMark) []int64 {
	var out []int64
	for _, m := range sent {
		d, ok := drafts[m.Student]
		if ok && d.Version > m.Seen && (d.Code != m.Code || d.Time != m.Time || d.Note != m.Note) {
			out = append(out, m.Student)
		}
	}
	return out
}
