package work

import (
	"context"
	"errors"
	"fmt"
	"strings"

	"meldung/core/checkin"
	"meldung/store"
)

// PhoneStart is what a phone gets for a right code.
type PhoneStart struct {
	Ticket   string `json:"ticket"`
	Class    string `json:"class"`
	Slot     string `json:"slot"`
	Closes   string `json:"closes"`
	Question string `json:"question"`
	Distance bool   `json:"distance" doc:"Whether one may attend at a distance"`
}

// StartOnPhone exchanges the code on show for a ticket of this phone. A wrong code is
// logged.
func (o *Office) StartOnPhone(ctx context.Context, phone, code string) (PhoneStart, error) {
	var out PhoneStart
	code = strings.ReplaceAll(code, " ", "")
	now := o.clock.Unix()
	step, _ := checkin.StepAt(now)
	err := o.look(func(v view) error {
		c, x, err := v.openCheckIn(ctx, func(c *store.CheckIn) bool { return checkin.Shown(c.Secret, code, step) })
		if err != nil {
			return err
		}
		if c == nil {
			return wrong("that code is not on show now: look at it again, it changes every %d seconds", checkin.Seconds)
		}
		r := x.byKey[registryKey{c.ClassID, c.Slot}]
		out = PhoneStart{Ticket: checkin.Ticket(c.Secret, c.ID, phone, now), Class: r.Class.Title, Slot: r.Slot.Words(), Closes: c.Closes.String(), Question: c.Question,
			Distance: c.Distance && v.distanceCode() != ""}
		return nil
	})
	if isWrong(err) {
		return out, o.wrongTry(ctx, phone, "code", nil, err)
	}
	return out, err
}

func isWrong(err error) bool {
	var mistake *Error
	return errors.As(err, &mistake) && mistake.Kind == Wrong
}

// wrongTry logs a wrong code or number and hands its error on.
func (o *Office) wrongTry(ctx context.Context, phone, kind string, window *store.CheckIn, why error) error {
	err := o.write(ctx, Person{}, "", "check-in refused", nil, func(w *writing) error {
		w.aside, w.quiet = true, window == nil
		try := store.WrongTry{Date: w.now.Date(), Minute: w.now.Minute(), Kind: kind, Phone: phone, Origin: store.Origin{Journal: w.journal.ID}}
		if window != nil {
			try.CheckInID = &window.ID
			w.scope = registerScope(window.Date, window.ClassID, window.Slot)
		}
		_, err := store.AddWrongTry(ctx, w.tx, try)
		return err
	})
	if err != nil {
		return err
	}
	return why
}

// PhoneEntry is what a student enters on a phone.
type PhoneEntry struct {
	Ticket   string `json:"ticket" maxLength:"200"`
	Number   string `json:"number" maxLength:"40"`
	Answer   string `json:"answer,omitempty" maxLength:"500"`
	Distance bool   `json:"distance,omitempty"`
}

// PhoneReceipt says that a student has checked in.
type PhoneReceipt struct {
	Given string `json:"given" doc:"The student's given name, and nothing more"`
	Class string `json:"class"`
	At    string `json:"at"`
	Words string `json:"words"`
}

// CheckInOnPhone checks a student of the class in, once, while the window is open. A
// number that is not the class's is logged.
func (o *Office) CheckInOnPhone(ctx context.Context, phone string, in PhoneEntry) (PhoneReceipt, error) {
	var out PhoneReceipt
	var window *store.CheckIn
	err := o.writeToday(ctx, Person{}, "", "check-in entry", nil, func(w *writing, v view, x *Day) error {
		w.aside = true
		named, ok := checkin.Window(in.Ticket)
		c, _, err := v.openCheckIn(ctx, func(c *store.CheckIn) bool { return ok && c.ID == named })
		if err != nil {
			return err
		}
		if c == nil {
			return refused("check-in is closed; speak to your teacher")
		}
		if !checkin.Good(c.Secret, in.Ticket, c.ID, phone, o.clock.Unix()) {
			return refused("that took longer than %d minutes: enter the code again", checkin.TicketSeconds/60)
		}
		if c.Question != "" && strings.TrimSpace(in.Answer) == "" {
			return conflict("answer the question too: %s", c.Question)
		}
		window = c
		w.scope = registerScope(c.Date, c.ClassID, c.Slot)
		for _, s := range v.school.Roll(c.ClassID, c.Slot, c.Date) {
			if s.Number == strings.TrimSpace(in.Number) {
				out, err = v.enter(w, x, c, s, phone, in)
				return err
			}
		}
		return wrong("no student of %s has that number", v.school.Classes[c.ClassID].Title)
	})
	if isWrong(err) {
		return out, o.wrongTry(ctx, phone, "number", window, err)
	}
	return out, err
}

func (v view) enter(w *writing, x *Day, c *store.CheckIn, s store.Student, phone string, in PhoneEntry) (PhoneReceipt, error) {
	entries, err := store.EntriesOf(w.ctx, w.tx, c.ID)
	if err != nil {
		return PhoneReceipt{}, err
	}
	for _, e := range entries {
		if e.StudentID != s.ID {
			continue
		}
		if e.Phone != phone {
			return PhoneReceipt{}, conflict("that number is in already, from another phone; speak to your teacher")
		}
		return v.phoneReceipt(x, c, s, e), nil
	}
	e := store.CheckInEntry{CheckInID: c.ID, StudentID: s.ID, Minute: w.now.Minute(), Answer: strings.TrimSpace(in.Answer),
		Distance: in.Distance && c.Distance && v.distanceCode() != "", Phone: phone, Origin: store.Origin{Journal: w.journal.ID}}
	return v.phoneReceipt(x, c, s, e), store.AddEntry(w.ctx, w.tx, e)
}

func (v view) phoneReceipt(x *Day, c *store.CheckIn, s store.Student, e store.CheckInEntry) PhoneReceipt {
	r := x.byKey[registryKey{c.ClassID, c.Slot}]
	code, _ := v.checkInMark(r.Slot, e)
	found, _ := v.codes.Find(code)
	return PhoneReceipt{Given: s.Given, Class: r.Class.Title, At: e.Minute.String(), Words: fmt.Sprintf("%s; your teacher confirms it", found.Word)}
}

// OwnRecord is a student's own strip, on a phone that a teacher has confirmed.
type OwnRecord struct {
	Known  bool        `json:"known" doc:"Whether the phone is a student's"`
	Given  string      `json:"given"`
	Days   []OwnDay    `json:"days" doc:"The last school days, oldest first"`
	Counts []CodeCount `json:"counts"`
}

// OwnDay is a day of a student's own record.
type OwnDay struct {
	Date  string       `json:"date"`
	Words string       `json:"words"`
	Marks []RecentMark `json:"marks"`
}

// CodeCount says how often a mark was given.
type CodeCount struct {
	State string `json:"state"`
	Word  string `json:"word"`
	N     int    `json:"n"`
}

// RecordOfPhone returns the last ten school days of the student whose phone it is, and
// nothing of anyone else.
func (o *Office) RecordOfPhone(ctx context.Context, phone string) (OwnRecord, error) {
	out := OwnRecord{Days: []OwnDay{}, Counts: []CodeCount{}}
	id, err := store.StudentOfPhone(ctx, o.store.Read(), phone)
	if err != nil || id == 0 {
		return out, err
	}
	err = o.look(func(v view) error {
		i, ok := v.school.placeOf[id]
		if !ok || v.school.Calendar == nil {
			return nil
		}
		out.Known, out.Given = true, v.school.Students[i].Given
		n := map[string]int{}
		last := v.school.Calendar.UpTo(o.clock.Now().Date())
		for d := max(0, last-9); d <= last; d++ {
			sd := v.school.Calendar.Day(d)
			own := OwnDay{Date: sd.Date.String(), Words: sd.Date.Words(), Marks: []RecentMark{}}
			for pos, slot := range sd.Pattern.Slots {
				mark, marked := o.ledger.Mark(i, d, pos)
				if !marked {
					continue
				}
				c := v.codes.Codes[mark.Code]
				own.Marks = append(own.Marks, RecentMark{own.Date, slot.Name, c.Code, codeState(c)})
				n[c.Code]++
			}
			out.Days = append(out.Days, own)
		}
		for _, c := range v.codes.Codes {
			if n[c.Code] > 0 {
				out.Counts = append(out.Counts, CodeCount{codeState(c), c.Word, n[c.Code]})
			}
		}
		return nil
	})
	return out, err
}
