package checkin

import (
	"context"
	"crypto/rand"
	"fmt"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/register"
	"meldung/store"
	"meldung/work"
)

// NewCheckIn opens a check-in window on a register.
type NewCheckIn struct {
	Class    ids.Class `json:"class"`
	Slot     string    `json:"slot"`
	Minutes  int       `json:"minutes" minimum:"1" maximum:"60"`
	Question string    `json:"question,omitempty" maxLength:"200"`
	Distance bool      `json:"distance,omitempty" doc:"Whether one may attend at a distance"`
}

// Open lets the students of a class check themselves in for some minutes from now; where one may
// attend at a distance, from when the slot begins, so that its link can be sent before.
func Open(ctx context.Context, o *work.Office, p work.Person, key string, n NewCheckIn) (work.Receipt, error) {
	var out work.Receipt
	err := o.WriteToday(ctx, work.Job{By: p, Key: key, Needs: work.MayOpenCheckIn, Kind: "check-in", In: n, Out: &out}, func(tx *work.Tx, v work.Snapshot, x *work.Day) error {
		tx.Scope = work.RegisterScope(x.Date, n.Class, n.Slot)
		r, err := v.RegisterFor(x, p, n.Class, n.Slot)
		if err != nil {
			return err
		}
		now := tx.Now.Minute()
		switch {
		case r.Sent != nil:
			return work.Conflictf("%s %s was sent at %s: nobody needs to check in any more", r.Class.Title, n.Slot, r.Sent.Known.Minute())
		case now.Before(r.Slot.Start) && !(n.Distance && x.OfClass(n.Class).DistanceCode() != ""):
			return work.Refusedf("%s is not due before %s", n.Slot, r.Slot.Start)
		case !now.Before(r.Slot.End):
			return work.Refusedf("%s ended at %s: nobody can check in to it any more", n.Slot, r.Slot.End)
		}
		open, err := store.CheckInsOf(ctx, tx.Tx, n.Class, n.Slot, x.Date)
		if err != nil {
			return err
		}
		for i := range open {
			if open[i].Date == x.Date && IsOpen(&open[i], tx.Now) {
				return work.Conflictf("a check-in is open until %s", open[i].Closes)
			}
			if IsToCome(&open[i], tx.Now) {
				return work.Conflictf("a check-in opens automatically at %s", open[i].Opens)
			}
		}
		opens := day.Latest(now, r.Slot.Start)
		c := store.CheckIn{Date: x.Date, Slot: n.Slot, ClassID: n.Class, Opens: opens, Closes: day.Earliest(opens.Add(day.Minutes(n.Minutes)), r.Slot.End), Question: strings.TrimSpace(n.Question), Distance: n.Distance}
		id, err := addCheckIn(ctx, tx, c)
		out = work.ReceiptOf(tx, fmt.Sprintf("Check-in is open until %s", c.Closes), id)
		if opens != now {
			out.Text = fmt.Sprintf("Check-in opens automatically at %s, until %s", c.Opens, c.Closes)
		}
		return err
	})
	return out, err
}

func addCheckIn(ctx context.Context, tx *work.Tx, c store.CheckIn) (ids.CheckIn, error) {
	c.Secret = make([]byte, 32)
	_, _ = rand.Read(c.Secret) // never fails
	c.Journal = tx.Entry
	return store.AddCheckIn(ctx, tx.Tx, c)
}

// CheckInDays names later days on which a check-in window opens by itself.
type CheckInDays struct {
	Dates []string `json:"dates" minItems:"1" maxItems:"60"`
}

// Repeat plans a window like this one for later days of the class; each
// opens when its slot begins.
func Repeat(ctx context.Context, o *work.Office, p work.Person, key string, id ids.CheckIn, days CheckInDays) (work.Receipt, error) {
	var out work.Receipt
	err := withCheckIn(ctx, o, id, work.Job{By: p, Key: key, Needs: work.MayRepeatCheckIn, Kind: "check-in planned", In: days, Out: &out}, func(tx *work.Tx, v work.Snapshot, _ *work.Day, _ *work.Register, c *store.CheckIn) error {
		out = tx.Receipt("")
		there, err := store.CheckInsOf(ctx, tx.Tx, c.ClassID, c.Slot, tx.Now.Date()+1)
		if err != nil {
			return err
		}
		for _, text := range days.Dates {
			d, err := day.ParseDate(text)
			if err != nil {
				return work.Wrongf("%v; nothing was planned", err)
			}
			if d <= tx.Now.Date() {
				return work.Wrongf("%s is not a later day; nothing was planned", d.Spoken())
			}
			if slices.ContainsFunc(there, func(t store.CheckIn) bool { return t.Date == d && t.EndedBy == nil }) {
				continue
			}
			x, err := v.Day(ctx, d)
			if err != nil {
				return err
			}
			r := x.Register(c.ClassID, c.Slot)
			if r == nil {
				return work.Wrongf("%s does not meet in %s on %s; nothing was planned", v.School.ClassOf(c.ClassID).Title, c.Slot, d.Spoken())
			}
			next := *c
			there = append(there, store.CheckIn{Date: d}) // a date named twice is planned once
			next.Date, next.Opens, next.Closes = d, r.Slot.Start, day.Earliest(r.Slot.Start.Add(c.Closes.Sub(c.Opens)), r.Slot.End)
			made, err := addCheckIn(ctx, tx, next)
			if err != nil {
				return err
			}
			out.IDs = append(out.IDs, int64(made))
		}
		out.Text = fmt.Sprintf("Check-in opens automatically on %d more days", len(out.IDs))
		return nil
	})
	return out, err
}

// withCheckIn does a write on a check-in window of today that the person may take.
func withCheckIn(ctx context.Context, o *work.Office, id ids.CheckIn, j work.Job, f func(tx *work.Tx, v work.Snapshot, x *work.Day, r *work.Register, c *store.CheckIn) error) error {
	return o.WriteToday(ctx, j, func(tx *work.Tx, v work.Snapshot, x *work.Day) error {
		windows, err := store.CheckInsOn(ctx, tx.Tx, x.Date)
		if err != nil {
			return err
		}
		for i := range windows {
			c := &windows[i]
			if c.ID != id {
				continue
			}
			r, err := v.RegisterFor(x, j.By, c.ClassID, c.Slot)
			if err != nil {
				return err
			}
			tx.Scope = work.RegisterScope(x.Date, c.ClassID, c.Slot)
			return f(tx, v, x, r, c)
		}
		return work.NotFoundf("there is no check-in %d today", id)
	})
}

// End closes a window before its time.
func End(ctx context.Context, o *work.Office, p work.Person, key string, id ids.CheckIn) (work.Receipt, error) {
	var out work.Receipt
	err := withCheckIn(ctx, o, id, work.Job{By: p, Key: key, Needs: work.MayEndCheckIn, Kind: "check-in ended", Of: id, Out: &out}, func(tx *work.Tx, _ work.Snapshot, _ *work.Day, _ *work.Register, c *store.CheckIn) error {
		out = work.ReceiptOf(tx, "Check-in is closed", c.ID)
		_, err := store.EndCheckIn(ctx, tx.Tx, c.ID, tx.Entry)
		return err
	})
	return out, err
}

// Confirmed is a student whom the teacher has seen, with the version of the row seen.
type Confirmed struct {
	Student ids.Student `json:"student"`
	Seen    int         `json:"seen"`
}

// Confirmation names students whom the teacher has seen.
type Confirmation struct {
	Students []Confirmed `json:"students" minItems:"1" maxItems:"500"`
}

// Confirm marks students who have checked in, as the teacher confirms them,
// on the shared draft. A row that someone else has marked otherwise is left and told.
// A phone that was used for nobody else belongs to its student from then on.
func Confirm(ctx context.Context, o *work.Office, p work.Person, key string, id ids.CheckIn, c Confirmation) (work.DraftReceipt, error) {
	var out work.DraftReceipt
	err := withCheckIn(ctx, o, id, work.Job{By: p, Key: key, Needs: work.MayConfirmCheckIns, Kind: "check-in confirmed", In: c, Out: &out}, func(tx *work.Tx, v work.Snapshot, x *work.Day, r *work.Register, window *store.CheckIn) error {
		if r.Sent != nil {
			return work.Conflictf("%s %s was sent at %s by %s: change what differs as a correction", r.Class.Title, window.Slot, r.Sent.Known.Minute(), r.Sent.By)
		}
		entries, err := store.EntriesOf(ctx, tx.Tx, window.ID)
		if err != nil {
			return err
		}
		phones, err := store.PhonesOf(ctx, tx.Tx, entries)
		if err != nil {
			return err
		}
		var marks []work.DraftMark
		of := map[ids.Student]store.CheckInEntry{}
		for _, s := range c.Students {
			i := slices.IndexFunc(entries, func(e store.CheckInEntry) bool { return e.StudentID == s.Student })
			if i < 0 {
				return work.Wrongf("that student has not checked in; nothing was saved")
			}
			e := entries[i]
			code, time := MarkOf(x.OfClass(r.Class.ID), r.Slot, e)
			of[s.Student] = e
			marks = append(marks, work.DraftMark{Student: s.Student, Code: code, Time: time, Source: register.SourceCheckIn, Made: e.Minute.String(), Seen: s.Seen})
		}
		if out, err = tx.PutDrafts(ctx, v, x, r, marks); err != nil {
			return err
		}
		for _, taken := range out.Taken {
			e := of[taken.Student]
			if err := store.ConfirmEntry(ctx, tx.Tx, window.ID, e.StudentID, tx.Entry); err != nil {
				return err
			}
			if Doubt(v, e, entries, phones) != "" {
				continue
			}
			if err := store.AddPhone(ctx, tx.Tx, store.Phone{Phone: e.Phone, StudentID: e.StudentID}, tx.Entry); err != nil {
				return err
			}
		}
		return nil
	})
	return out, err
}
