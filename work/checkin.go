package work

import (
	"context"
	"crypto/rand"
	"fmt"
	"slices"
	"strings"

	"meldung/core/checkin"
	"meldung/core/day"
	"meldung/core/register"
	"meldung/files/barcode"
	"meldung/store"
)

// CheckInEntryView is a student who has checked in, with the mark that follows.
type CheckInEntryView struct {
	Student   StudentRef `json:"student"`
	At        string     `json:"at"`
	Answer    string     `json:"answer"`
	Code      string     `json:"code"`
	Time      string     `json:"time" doc:"When they came, where that is late"`
	Confirmed bool       `json:"confirmed"`
	Doubt     string     `json:"doubt" doc:"Why the teacher should look: the phone is another student's too; empty for none"`
}

// CheckInView is a check-in window as its teacher sees it.
type CheckInView struct {
	ID       int64              `json:"id"`
	Opens    string             `json:"opens"`
	Closes   string             `json:"closes"`
	Open     bool               `json:"open"`
	Question string             `json:"question"`
	Distance bool               `json:"distance"`
	Entries  []CheckInEntryView `json:"entries" doc:"In the order in which they came"`
	NotYet   []StudentRef       `json:"notYet" doc:"Due, and neither checked in nor known to be away"`
	Wrong    int                `json:"wrong" doc:"Wrong codes and numbers while it was open"`
}

// CheckInDay is a later day on which the class meets in the slot.
type CheckInDay struct {
	Date    string `json:"date"`
	Words   string `json:"words"`
	Planned bool   `json:"planned" doc:"A window opens there already"`
}

// addCheckIn adds the newest check-in window of a register and the days to repeat it on.
func (v view) addCheckIn(ctx context.Context, out *RegisterView, x *Day, r *registry, m Moment) error {
	windows, err := store.CheckInsOf(ctx, v.o.store.Read(), r.Class.ID, r.Slot.Name, x.Date)
	if err != nil {
		return err
	}
	planned := map[day.Date]bool{}
	for i := range windows {
		c := &windows[i]
		planned[c.Date] = planned[c.Date] || c.EndedBy == nil
		if c.Date == x.Date && c.Known <= m.Known {
			if out.CheckIn, err = v.checkInView(ctx, out, x, r, c, m); err != nil {
				return err
			}
		}
	}
	out.CheckInDays = v.checkInDays(x, r, planned)
	out.MayCheckInAtADistance = v.distanceCode() != ""
	return nil
}

// distanceCode returns the code of those who attend at a distance; empty where the
// school's codes have none.
func (v view) distanceCode() string {
	if c, ok := v.codes.Find(v.settings.Distance); ok && !c.OnSite && codeState(c) == "elsewhere" {
		return c.Code
	}
	return ""
}

// checkInDays returns the next ten days on which the class meets in the slot.
func (v view) checkInDays(x *Day, r *registry, planned map[day.Date]bool) []CheckInDay {
	out := []CheckInDay{}
	c := v.school.Calendar
	for i := c.From(x.Date + 1); i < c.Days() && len(out) < 10; i++ {
		sd := c.Day(i)
		for _, m := range v.school.Meetings(sd) {
			if m.ClassID == r.Class.ID && m.Slot == r.Slot.Name {
				out = append(out, CheckInDay{sd.Date.String(), sd.Date.Words(), planned[sd.Date]})
				break
			}
		}
	}
	return out
}

func isOpen(c *store.CheckIn, now day.Instant) bool {
	return c.EndedBy == nil && now >= day.At(c.Date, c.Opens) && now < day.At(c.Date, c.Closes)
}

func (v view) checkInView(ctx context.Context, view *RegisterView, x *Day, r *registry, c *store.CheckIn, m Moment) (*CheckInView, error) {
	q := v.o.store.Read()
	entries, err := store.EntriesOf(ctx, q, c.ID)
	if err != nil {
		return nil, err
	}
	phones, err := store.Phones(ctx, q)
	if err != nil {
		return nil, err
	}
	tries, err := store.WrongTriesOn(ctx, q, x.Date)
	if err != nil {
		return nil, err
	}
	out := &CheckInView{ID: c.ID, Opens: c.Opens.String(), Closes: c.Closes.String(), Open: m.Live && isOpen(c, m.Known), Question: c.Question, Distance: c.Distance,
		Entries: []CheckInEntryView{}, NotYet: []StudentRef{}}
	in := map[int64]bool{}
	for _, e := range entries {
		if e.Known > m.Known {
			continue
		}
		in[e.StudentID] = true
		s := v.school.Students[v.school.student[e.StudentID]]
		code, time := v.checkInMark(r.Slot, e)
		out.Entries = append(out.Entries, CheckInEntryView{Student: v.ref(s, x.Date), At: e.Minute.String(), Answer: e.Answer, Code: code, Time: time,
			Confirmed: e.ConfirmedBy != nil, Doubt: v.doubt(e, entries, phones)})
	}
	for _, row := range view.Rows {
		if !in[row.Student.ID] && row.Known == nil && (row.Draft == nil || row.Draft.Code == "") {
			out.NotYet = append(out.NotYet, row.Student)
		}
	}
	for _, t := range tries {
		if t.Known <= m.Known && t.Minute >= c.Opens && t.Minute < c.Closes && (t.CheckInID == nil || *t.CheckInID == c.ID) {
			out.Wrong++
		}
	}
	return out, nil
}

// checkInMark is the mark that follows from checking in.
func (v view) checkInMark(slot day.Slot, e store.CheckInEntry) (code, time string) {
	if e.Distance {
		return v.distanceCode(), ""
	}
	a := v.arriving(slot)
	if e.Minute <= register.OnTimeUntil(slot, v.settings.LateGrace) {
		return a.In, ""
	}
	return a.Late, e.Minute.String()
}

// doubt says why a check-in needs a second look: its phone was used for someone else.
func (v view) doubt(e store.CheckInEntry, entries []store.CheckInEntry, phones map[string]int64) string {
	var names []string
	for _, other := range entries {
		if other.Phone == e.Phone && other.StudentID != e.StudentID {
			names = append(names, v.school.Students[v.school.student[other.StudentID]].Name())
		}
	}
	if len(names) > 0 {
		return "the same phone as " + strings.Join(names, ", ")
	}
	if owner := phones[e.Phone]; owner != 0 && owner != e.StudentID {
		return "the phone of " + v.school.Students[v.school.student[owner]].Name()
	}
	return ""
}

// NewCheckIn opens a check-in window on a register.
type NewCheckIn struct {
	Class    int64  `json:"class"`
	Slot     string `json:"slot"`
	Minutes  int    `json:"minutes" minimum:"1" maximum:"60"`
	Question string `json:"question,omitempty" maxLength:"200"`
	Distance bool   `json:"distance,omitempty" doc:"Whether one may attend at a distance"`
}

// OpenCheckIn lets the students of a class check themselves in for some minutes from now.
func (o *Office) OpenCheckIn(ctx context.Context, p Person, key string, n NewCheckIn) (Receipt, error) {
	var out Receipt
	err := o.writeToday(ctx, p, key, "check-in", &out, func(w *writing, v view, x *Day) error {
		w.aside, w.scope = true, registerScope(x.Date, n.Class, n.Slot)
		r, err := v.registry(x, p, n.Class, n.Slot)
		if err != nil {
			return err
		}
		now := w.now.Minute()
		switch {
		case r.Sent != nil:
			return conflict("%s %s was sent at %s: nobody needs to check in any more", r.Class.Title, n.Slot, r.Sent.Known.Minute())
		case now < r.Slot.Start:
			return refused("%s is not due before %s", n.Slot, r.Slot.Start)
		case now >= r.Slot.End:
			return refused("%s ended at %s: nobody can check in to it any more", n.Slot, r.Slot.End)
		}
		open, err := store.CheckInsOf(ctx, w.tx, n.Class, n.Slot, x.Date)
		if err != nil {
			return err
		}
		for i := range open {
			if open[i].Date == x.Date && isOpen(&open[i], w.now) {
				return conflict("a check-in is open until %s", open[i].Closes)
			}
		}
		c := store.CheckIn{Date: x.Date, Slot: n.Slot, ClassID: n.Class, Opens: now, Closes: min(now+day.Minute(n.Minutes), r.Slot.End), Question: strings.TrimSpace(n.Question), Distance: n.Distance}
		id, err := w.addCheckIn(c)
		out = Receipt{Seq: w.journal.ID, Words: fmt.Sprintf("Check-in is open until %s", c.Closes), IDs: []int64{id}}
		return err
	})
	return out, err
}

func (w *writing) addCheckIn(c store.CheckIn) (int64, error) {
	c.Secret = make([]byte, 32)
	_, _ = rand.Read(c.Secret) // never fails
	c.Journal = w.journal.ID
	return store.AddCheckIn(w.ctx, w.tx, c)
}

// CheckInDays names later days on which a check-in window opens by itself.
type CheckInDays struct {
	Dates []string `json:"dates" minItems:"1" maxItems:"60"`
}

// RepeatCheckIn plans a window like this one for later days of the class; each
// opens when its slot begins.
func (o *Office) RepeatCheckIn(ctx context.Context, p Person, key string, id int64, days CheckInDays) (Receipt, error) {
	var out Receipt
	err := o.withCheckIn(ctx, p, key, "check-in planned", id, &out, func(w *writing, v view, _ *Day, _ *registry, c *store.CheckIn) error {
		out = Receipt{Seq: w.journal.ID, IDs: []int64{}}
		there, err := store.CheckInsOf(ctx, w.tx, c.ClassID, c.Slot, w.now.Date()+1)
		if err != nil {
			return err
		}
		for _, text := range days.Dates {
			d, err := day.ParseDate(text)
			if err != nil {
				return wrong("%v; nothing was planned", err)
			}
			if d <= w.now.Date() {
				return wrong("%s is not a later day; nothing was planned", d.Words())
			}
			if slices.ContainsFunc(there, func(t store.CheckIn) bool { return t.Date == d && t.EndedBy == nil }) {
				continue
			}
			x, err := v.day(ctx, d)
			if err != nil {
				return err
			}
			r := x.byKey[registryKey{c.ClassID, c.Slot}]
			if r == nil {
				return wrong("%s does not meet in %s on %s; nothing was planned", v.school.Classes[c.ClassID].Title, c.Slot, d.Words())
			}
			next := *c
			there = append(there, store.CheckIn{Date: d}) // a date named twice is planned once
			next.Date, next.Opens, next.Closes = d, r.Slot.Start, min(r.Slot.Start+c.Closes-c.Opens, r.Slot.End)
			made, err := w.addCheckIn(next)
			if err != nil {
				return err
			}
			out.IDs = append(out.IDs, made)
		}
		out.Words = fmt.Sprintf("Check-in opens by itself on %d more days", len(out.IDs))
		return nil
	})
	return out, err
}

// withCheckIn does a write on a check-in window of today that the person may take.
func (o *Office) withCheckIn(ctx context.Context, p Person, key, kind string, id int64, out any, f func(w *writing, v view, x *Day, r *registry, c *store.CheckIn) error) error {
	return o.writeToday(ctx, p, key, kind, out, func(w *writing, v view, x *Day) error {
		windows, err := store.CheckInsOn(ctx, w.tx, x.Date)
		if err != nil {
			return err
		}
		for i := range windows {
			c := &windows[i]
			if c.ID != id {
				continue
			}
			r, err := v.registry(x, p, c.ClassID, c.Slot)
			if err != nil {
				return err
			}
			w.aside, w.scope = true, registerScope(x.Date, c.ClassID, c.Slot)
			return f(w, v, x, r, c)
		}
		return notFound("there is no check-in %d today", id)
	})
}

// EndCheckIn closes a window before its time.
func (o *Office) EndCheckIn(ctx context.Context, p Person, key string, id int64) (Receipt, error) {
	var out Receipt
	err := o.withCheckIn(ctx, p, key, "check-in ended", id, &out, func(w *writing, _ view, _ *Day, _ *registry, c *store.CheckIn) error {
		out = Receipt{Seq: w.journal.ID, Words: "Check-in is closed", IDs: []int64{c.ID}}
		_, err := store.EndCheckIn(ctx, w.tx, c.ID, w.journal.ID)
		return err
	})
	return out, err
}

// Confirmed is a student whom the teacher has seen, with the version of the row seen.
type Confirmed struct {
	Student int64 `json:"student"`
	Seen    int   `json:"seen"`
}

// ConfirmCheckIns marks students who have checked in, as the teacher confirms them,
// on the shared draft. A row that someone else has marked otherwise is left and told.
// A phone that was used for nobody else belongs to its student from then on.
func (o *Office) ConfirmCheckIns(ctx context.Context, p Person, key string, id int64, students []Confirmed) (DraftReceipt, error) {
	out := DraftReceipt{Taken: []DraftView{}, Conflicts: []DraftView{}}
	err := o.withCheckIn(ctx, p, key, "check-in confirmed", id, &out, func(w *writing, v view, x *Day, r *registry, c *store.CheckIn) error {
		if r.Sent != nil {
			return conflict("%s %s was sent at %s by %s: change what differs as a correction", r.Class.Title, c.Slot, r.Sent.Known.Minute(), r.Sent.By)
		}
		entries, err := store.EntriesOf(ctx, w.tx, c.ID)
		if err != nil {
			return err
		}
		phones, err := store.Phones(ctx, w.tx)
		if err != nil {
			return err
		}
		var marks []DraftMark
		of := map[int64]store.CheckInEntry{}
		for _, s := range students {
			i := slices.IndexFunc(entries, func(e store.CheckInEntry) bool { return e.StudentID == s.Student })
			if i < 0 {
				return wrong("that student has not checked in; nothing was stored")
			}
			e := entries[i]
			code, time := v.checkInMark(r.Slot, e)
			of[s.Student] = e
			marks = append(marks, DraftMark{Student: s.Student, Code: code, Time: time, Source: register.SourceCheckIn, Made: e.Minute.String(), Seen: s.Seen})
		}
		out.Seq = w.journal.ID
		if err := v.putDrafts(w, x, r, marks, &out); err != nil {
			return err
		}
		for _, taken := range out.Taken {
			e := of[taken.Student]
			if err := store.ConfirmEntry(ctx, w.tx, c.ID, e.StudentID, w.journal.ID); err != nil {
				return err
			}
			if v.doubt(e, entries, phones) != "" {
				continue
			}
			if err := store.AddPhone(ctx, w.tx, store.Phone{Phone: e.Phone, StudentID: e.StudentID}, w.journal.ID); err != nil {
				return err
			}
		}
		return nil
	})
	return out, err
}

// CheckInCode is what a teacher shows the class.
type CheckInCode struct {
	Code      string `json:"code"`
	Address   string `json:"address" doc:"The page, without the code"`
	Picture   []byte `json:"picture" doc:"QR code of the page with the code, PNG in base64"`
	ChangesIn int    `json:"changesIn" doc:"Seconds until the next code"`
	In        int    `json:"in"`
	Of        int    `json:"of"`
}

// CheckInCode returns the code of an open window at this second.
func (o *Office) CheckInCode(ctx context.Context, p Person, id int64, base string) (CheckInCode, error) {
	out := CheckInCode{Address: base + "/check-in"}
	err := o.look(func(v view) error {
		c, x, err := v.openCheckIn(ctx, func(c *store.CheckIn) bool { return c.ID == id })
		if err != nil {
			return err
		}
		if c == nil {
			return notFound("that check-in is not open")
		}
		if _, err := v.registry(x, p, c.ClassID, c.Slot); err != nil {
			return err
		}
		step, left := checkin.StepAt(o.clock.Unix())
		out.Code, out.ChangesIn = checkin.Code(c.Secret, step), left
		entries, err := store.EntriesOf(ctx, o.store.Read(), id)
		if err != nil {
			return err
		}
		out.In, out.Of = len(entries), len(v.school.Roll(c.ClassID, c.Slot, c.Date))
		out.Picture, err = barcode.QR(out.Address+"?c="+out.Code, 480)
		return err
	})
	return out, err
}

// openCheckIn returns the open window of today that fits; nil for none.
func (v view) openCheckIn(ctx context.Context, fits func(c *store.CheckIn) bool) (*store.CheckIn, *Day, error) {
	now := v.o.clock.Now()
	x, err := v.day(ctx, now.Date())
	if err != nil {
		return nil, nil, err
	}
	windows, err := store.CheckInsOn(ctx, v.o.store.Read(), now.Date())
	if err != nil {
		return nil, nil, err
	}
	for i := range windows {
		if isOpen(&windows[i], now) && fits(&windows[i]) {
			return &windows[i], x, nil
		}
	}
	return nil, x, nil
}
