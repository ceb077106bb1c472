// Package messages writes to those who take registers and to students, and minds what
// falls due by itself: reminders, and what became of what went out.
package messages

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
)

// Simulation stands in for carriers in a demonstration: it says of a message what would have
// become of it by an instant, oldest first.
type Simulation interface {
	BecameOf(m Outgoing, now day.Instant) []Report
}

// Report is what became of a message.
type Report struct {
	At    day.Instant
	State string // sent, delivered, failed, replied
	Text  string
}

// Message is a note to those who take a register.
type Message struct {
	Kind    string      `json:"kind" enum:"remind,ask"`
	Class   ids.Class   `json:"class"`
	Slot    string      `json:"slot"`
	Student ids.Student `json:"student,omitempty"`
	Text    string      `json:"text,omitempty"`
}

// Send puts a message to those who take a register into the outbox, where it stays.
func Send(ctx context.Context, o *work.Office, p work.Person, key string, msg Message) (work.Receipt, error) {
	var out work.Receipt
	err := o.WriteToday(ctx, work.Job{By: p, Key: key, Needs: work.MaySendMessage, Kind: "message", In: msg, Out: &out}, func(tx *work.Tx, v work.Snapshot, x *work.Day) (err error) {
		out, err = sendToTakers(ctx, tx, v, x, msg)
		return err
	})
	return out, err
}

// sendToTakers writes to everyone who takes a register: on their pages, and by text
// or, without a phone on file, by e-mail.
func sendToTakers(ctx context.Context, tx *work.Tx, v work.Snapshot, x *work.Day, msg Message) (work.Receipt, error) {
	c, err := v.Class(msg.Class)
	if err != nil {
		return work.Receipt{}, err
	}
	takers := v.TakersOf(x, c.ID, msg.Slot)
	if len(takers) == 0 {
		return work.Receipt{}, work.Refusedf("%s has no teacher to write to", c.Title)
	}
	if msg.Text == "" {
		msg.Text = fmt.Sprintf("The register of %s, %s, is still out. Please send it.", c.Title, msg.Slot)
	}
	out := tx.Receipt("sent to " + v.TakerNames(x, c.ID, msg.Slot))
	for _, id := range takers {
		staff := v.School.StaffOf(id)
		away := store.Message{Channel: work.ByText, Address: staff.Phone}
		if staff.Phone == "" {
			away = store.Message{Channel: work.ByEMail, Address: staff.Email}
		}
		for _, row := range []store.Message{{Channel: work.OnPage}, away} {
			row.Kind, row.StaffID, row.ClassID, row.Slot, row.Text = msg.Kind, &id, &c.ID, msg.Slot, msg.Text
			if msg.Student != 0 {
				row.StudentID = &msg.Student
			}
			stored, err := tx.AddMessage(ctx, row)
			if err != nil {
				return out, err
			}
			out.IDs = append(out.IDs, int64(stored))
		}
	}
	return out, nil
}

// StudentMessage is a note to students of a register.
type StudentMessage struct {
	Class    ids.Class     `json:"class"`
	Slot     string        `json:"slot"`
	Students []ids.Student `json:"students" minItems:"1" maxItems:"500"`
	Text     string        `json:"text,omitempty" maxLength:"500" doc:"Empty asks them to check in"`
}

// WriteToStudents writes to students of a register, each at the own address. Who has
// none is told.
func WriteToStudents(ctx context.Context, o *work.Office, p work.Person, key string, msg StudentMessage) (work.Receipt, error) {
	var out work.Receipt
	err := o.WriteToday(ctx, work.Job{By: p, Key: key, Needs: work.MayWriteToClass, Kind: "message", In: msg, Out: &out}, func(tx *work.Tx, v work.Snapshot, x *work.Day) error {
		r, err := v.RegisterFor(x, p, msg.Class, msg.Slot)
		if err != nil {
			return err
		}
		if msg.Text == "" {
			msg.Text = fmt.Sprintf("Check-in of %s, %s, is open and you are not in yet. Where are you?", r.Class.Title, r.Slot.Label())
		}
		roll := r.Roll
		out = tx.Receipt("")
		var without []string
		for _, id := range msg.Students {
			i := slices.IndexFunc(roll, func(s store.Student) bool { return s.ID == id })
			if i < 0 {
				return work.Wrongf("a student is not on this register; nobody was written to")
			}
			if roll[i].Email == "" {
				without = append(without, roll[i].Name())
				continue
			}
			stored, err := tx.AddMessage(ctx, store.Message{Kind: work.ToStudent, StudentID: &id, ClassID: &r.Class.ID, Slot: msg.Slot, Channel: work.ByEMail, Address: roll[i].Email, Text: msg.Text})
			if err != nil {
				return err
			}
			out.IDs = append(out.IDs, int64(stored))
		}
		out.Text = fmt.Sprintf("Written to %d of %d", len(out.IDs), len(msg.Students))
		if len(without) > 0 {
			out.Text += "; no address on file: " + strings.Join(without, ", ")
		}
		return nil
	})
	return out, err
}

// Resend sends a message once more, another way if the first failed.
func Resend(ctx context.Context, o *work.Office, p work.Person, key string, id ids.Message) (work.Receipt, error) {
	var out work.Receipt
	err := o.WriteToday(ctx, work.Job{By: p, Key: key, Needs: work.MayResend, Kind: "message", Of: id, Out: &out}, func(tx *work.Tx, v work.Snapshot, x *work.Day) error {
		i := slices.IndexFunc(x.Messages, func(m store.Message) bool { return m.ID == id })
		if i < 0 {
			return work.NotFoundf("there is no message %d today", id)
		}
		row := x.Messages[i]
		if row.Channel == work.ByText && x.StateOfMessage(row, tx.Now) == work.Failed {
			if other := emailFor(v, row); other != "" {
				row.Channel, row.Address = work.ByEMail, other
			}
		}
		stored, err := tx.AddMessage(ctx, row)
		if err != nil {
			return err
		}
		out = work.ReceiptOf(tx, "Sent again by "+row.Channel, stored)
		return store.MovePaperJob(ctx, tx.Tx, id, stored)
	})
	return out, err
}

// emailFor is the e-mail address of whoever a message is for; empty for none.
func emailFor(v work.Snapshot, m store.Message) string {
	switch {
	case m.ContactID != nil:
		return v.School.ContactOf(*m.ContactID).Email
	case m.StaffID != nil:
		return v.School.StaffOf(*m.StaffID).Email
	default:
		return ""
	}
}

// SeenNotes names messages that were seen.
type SeenNotes struct {
	IDs []ids.Message `json:"ids" minItems:"1" maxItems:"100"`
}

// SeeNotes stores that a member of staff has seen messages on their page.
func SeeNotes(ctx context.Context, o *work.Office, p work.Person, key string, seen SeenNotes) (work.Receipt, error) {
	var out work.Receipt
	err := o.WriteToday(ctx, work.Job{By: p, Key: key, Needs: work.MayMarkNotes, Kind: "message seen", In: seen, Out: &out}, func(tx *work.Tx, _ work.Snapshot, x *work.Day) error {
		out = tx.Receipt("")
		for _, msg := range x.Messages {
			if !slices.Contains(seen.IDs, msg.ID) || msg.StaffID == nil || *msg.StaffID != p.Staff || x.StateOfMessage(msg, tx.Now) == work.SeenBy {
				continue
			}
			if err := tx.AddMessageEvent(ctx, msg.ID, tx.Now, work.SeenBy, ""); err != nil {
				return err
			}
			out.IDs = append(out.IDs, int64(msg.ID))
		}
		return nil
	})
	return out, err
}
