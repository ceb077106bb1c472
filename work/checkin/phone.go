package checkin

import (
	"context"
	"errors"
	"fmt"
	"strings"

	totp "meldung/core/checkin"
	"meldung/core/day"
	"meldung/store"
	"meldung/work"
)

// PhoneStart is what a phone gets for a right code.
type PhoneStart struct {
	Ticket   string `json:"ticket"`
	Class    string `json:"class"`
	Slot     string `json:"slot"`
	Closes   string `json:"closes"`
	Question string `json:"question"`
	Distance bool   `json:"distance" doc:"Whether one may say that one attends at a distance"`
	ByLink   bool   `json:"byLink" doc:"By the link of a remote lesson: one attends at a distance"`
}

// StartOnPhone exchanges the code on show, or the link of a remote lesson, for a ticket of this
// phone. A wrong one is logged.
func StartOnPhone(ctx context.Context, o *work.Office, phone, code string) (PhoneStart, error) {
	var out PhoneStart
	code = strings.ReplaceAll(code, " ", "")
	now := o.Unix()
	step, _ := totp.StepAt(now)
	err := o.Read(ctx, func(v work.Snapshot) error {
		if strings.Contains(code, ".") {
			var err error
			out, err = startByLink(ctx, v, phone, code, now)
			return err
		}
		c, x, err := OpenWindow(ctx, v, func(c *store.CheckIn) bool { return totp.Shown(c.Secret, code, step) })
		if err != nil {
			return err
		}
		if c == nil {
			return work.Wrongf("that code is not on show now: look at it again, it changes every %d seconds", totp.Seconds)
		}
		r := x.Register(c.ClassID, c.Slot)
		out = PhoneStart{Ticket: totp.Ticket(c.Secret, c.ID, phone, now, false), Class: r.Class.Title, Slot: r.Slot.Label(), Closes: c.Closes.String(), Question: c.Question,
			Distance: AtADistance(x, c)}
		return nil
	})
	if isWrong(err) {
		return out, wrongTry(ctx, o, phone, "code", nil, err)
	}
	return out, err
}

// startByLink exchanges the link of a remote lesson for a ticket, while its window is open.
func startByLink(ctx context.Context, v work.Snapshot, phone, link string, now int64) (PhoneStart, error) {
	named, _ := totp.Window(link)
	c, err := store.CheckInByID(ctx, v.Store(), named)
	switch {
	case err != nil:
		return PhoneStart{}, err
	case c == nil || !totp.IsLink(c.Secret, c.ID, link):
		return PhoneStart{}, work.Wrongf("that link is of no check-in")
	case c.EndedBy == nil && v.Now < day.At(c.Date, c.Opens):
		return PhoneStart{}, work.Refusedf("check-in to %s opens on %s at %s: open this link again then", v.School.ClassOf(c.ClassID).Title, c.Date.Spoken(), c.Opens)
	case !IsOpen(c, v.Now):
		return PhoneStart{}, work.Refusedf("check-in is closed; speak to your teacher")
	}
	x, err := v.Day(ctx, c.Date)
	if err != nil {
		return PhoneStart{}, err
	}
	r := x.Register(c.ClassID, c.Slot)
	if r == nil || !AtADistance(x, c) {
		return PhoneStart{}, work.Refusedf("nobody attends %s at a distance; speak to your teacher", v.School.ClassOf(c.ClassID).Title)
	}
	return PhoneStart{Ticket: totp.Ticket(c.Secret, c.ID, phone, now, true), Class: r.Class.Title, Slot: r.Slot.Label(), Closes: c.Closes.String(), Question: c.Question, ByLink: true}, nil
}

func isWrong(err error) bool {
	var mistake *work.Error
	return errors.As(err, &mistake) && mistake.Kind == work.Wrong
}

// wrongTry logs a wrong code or number and hands its error on.
func wrongTry(ctx context.Context, o *work.Office, phone, kind string, window *store.CheckIn, why error) error {
	err := o.Write(ctx, work.Job{Kind: "check-in refused"}, func(tx *work.Tx, _ work.Snapshot) error {
		tx.Untold = window == nil
		try := store.WrongTry{Date: tx.Now.Date(), Minute: tx.Now.Minute(), Kind: kind, Phone: phone, Origin: tx.Origin()}
		if window != nil {
			try.CheckInID = &window.ID
			tx.Scope = work.RegisterScope(window.Date, window.ClassID, window.Slot)
		}
		_, err := store.AddWrongTry(ctx, tx.Tx, try)
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
	Text  string `json:"text"`
}

// CheckInOnPhone checks a student of the class in, once, while the window is open. A
// number that is not the class's is logged.
func CheckInOnPhone(ctx context.Context, o *work.Office, phone string, in PhoneEntry) (PhoneReceipt, error) {
	var out PhoneReceipt
	var window *store.CheckIn
	err := o.WriteToday(ctx, work.Job{Kind: "check-in entry", In: in}, func(tx *work.Tx, v work.Snapshot, x *work.Day) error {
		named, ok := totp.Window(in.Ticket)
		c, _, err := OpenWindow(ctx, v, func(c *store.CheckIn) bool { return ok && c.ID == named })
		if err != nil {
			return err
		}
		if c == nil {
			return work.Refusedf("check-in is closed; speak to your teacher")
		}
		good, byLink := totp.Good(c.Secret, in.Ticket, c.ID, phone, o.Unix())
		in.Distance = in.Distance || byLink
		if !good {
			return work.Refusedf("that took longer than %d minutes: enter the code again", totp.TicketSeconds/60)
		}
		if c.Question != "" && strings.TrimSpace(in.Answer) == "" {
			return work.Conflictf("answer the question too: %s", c.Question)
		}
		window = c
		tx.Scope = work.RegisterScope(c.Date, c.ClassID, c.Slot)
		for _, s := range v.School.Roll(c.ClassID, c.Slot, c.Date) {
			if s.Number == strings.TrimSpace(in.Number) {
				out, err = enter(ctx, v, tx, x, c, s, phone, in)
				return err
			}
		}
		return work.Wrongf("no student of %s has that number", v.School.ClassOf(c.ClassID).Title)
	})
	if isWrong(err) {
		return out, wrongTry(ctx, o, phone, "number", window, err)
	}
	return out, err
}

func enter(ctx context.Context, v work.Snapshot, tx *work.Tx, x *work.Day, c *store.CheckIn, s store.Student, phone string, in PhoneEntry) (PhoneReceipt, error) {
	entries, err := store.EntriesOf(ctx, tx.Tx, c.ID)
	if err != nil {
		return PhoneReceipt{}, err
	}
	for _, e := range entries {
		if e.StudentID != s.ID {
			continue
		}
		if e.Phone != phone {
			return PhoneReceipt{}, work.Conflictf("that number is in already, from another phone; speak to your teacher")
		}
		return phoneReceipt(v, x, c, s, e), nil
	}
	e := store.CheckInEntry{CheckInID: c.ID, StudentID: s.ID, Minute: tx.Now.Minute(), Answer: strings.TrimSpace(in.Answer),
		Distance: in.Distance && AtADistance(x, c), Phone: phone, Origin: tx.Origin()}
	return phoneReceipt(v, x, c, s, e), store.AddEntry(ctx, tx.Tx, e)
}

func phoneReceipt(v work.Snapshot, x *work.Day, c *store.CheckIn, s store.Student, e store.CheckInEntry) PhoneReceipt {
	r, on := x.Register(c.ClassID, c.Slot), x.OfClass(c.ClassID)
	code, _ := MarkOf(on, r.Slot, e)
	found, _ := on.Codes.Find(code)
	return PhoneReceipt{Given: s.Given, Class: r.Class.Title, At: e.Minute.String(), Text: fmt.Sprintf("%s; your teacher confirms it", found.Word)}
}
