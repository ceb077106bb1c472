package work

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/register"
	"meldung/outside"
	"meldung/store"
)

// The ways in which a message goes out.
const (
	byText   = "text"
	byEMail  = "e-mail"
	onPage   = "page" // on the pages of whoever it is for
	reminder = "remind"
)

// Gateway carries texts and e-mails. Deliver takes a message over, which may be
// repeated, and returns what has become of it by now, oldest first.
type Gateway interface {
	Deliver(m outside.Outgoing, now day.Instant) []outside.Report
}

// Message is a note to those who take a register.
type Message struct {
	Kind    string `json:"kind" enum:"remind,ask"`
	Class   int64  `json:"class"`
	Slot    string `json:"slot"`
	Student int64  `json:"student,omitempty"`
	Words   string `json:"words,omitempty"`
}

// Send puts a message to those who take a register into the outbox, where it stays.
func (o *Office) Send(ctx context.Context, p Person, key string, msg Message) (Receipt, error) {
	var out Receipt
	err := o.writeToday(ctx, p, key, "message", &out, func(w *writing, v view, x *Day) (err error) {
		out, err = w.sendToTakers(v, x, msg)
		return err
	})
	return out, err
}

// sendToTakers writes to everyone who takes a register: on their pages, and by text
// or, without a phone on file, by e-mail.
func (w *writing) sendToTakers(v view, x *Day, msg Message) (Receipt, error) {
	c, err := v.school.Class(msg.Class)
	if err != nil {
		return Receipt{}, err
	}
	takers := v.takersOf(x, c.ID, msg.Slot)
	if len(takers) == 0 {
		return Receipt{}, refused("%s has no teacher to write to", c.Title)
	}
	if msg.Words == "" {
		msg.Words = fmt.Sprintf("The register of %s, %s, is still out. Please send it.", c.Title, msg.Slot)
	}
	out := Receipt{Seq: w.journal.ID, IDs: []int64{}, Words: "sent to " + v.takersWords(x, c.ID, msg.Slot)}
	for _, id := range takers {
		staff := v.school.staff[id]
		away := store.Message{Channel: byText, Address: staff.Phone}
		if staff.Phone == "" {
			away = store.Message{Channel: byEMail, Address: staff.Email}
		}
		for _, row := range []store.Message{{Channel: onPage}, away} {
			row.Kind, row.StaffID, row.ClassID, row.Slot, row.Words = msg.Kind, &id, &c.ID, msg.Slot, msg.Words
			if msg.Student != 0 {
				row.StudentID = &msg.Student
			}
			stored, err := w.addMessage(row)
			if err != nil {
				return out, err
			}
			out.IDs = append(out.IDs, stored)
		}
	}
	return out, nil
}

func (w *writing) addMessage(row store.Message) (int64, error) {
	row.Date, row.Minute, row.State, row.Journal = w.now.Date(), w.now.Minute(), "waiting", w.journal.ID
	return store.AddMessage(w.ctx, w.tx, row)
}

// StudentMessage is a note to students of a register.
type StudentMessage struct {
	Class    int64   `json:"class"`
	Slot     string  `json:"slot"`
	Students []int64 `json:"students" minItems:"1" maxItems:"500"`
	Words    string  `json:"words,omitempty" maxLength:"500" doc:"Empty asks them to check in"`
}

// WriteToStudents writes to students of a register, each at the own address. Who has
// none is told.
func (o *Office) WriteToStudents(ctx context.Context, p Person, key string, msg StudentMessage) (Receipt, error) {
	var out Receipt
	err := o.writeToday(ctx, p, key, "message", &out, func(w *writing, v view, x *Day) error {
		r, err := v.registry(x, p, msg.Class, msg.Slot)
		if err != nil {
			return err
		}
		if msg.Words == "" {
			msg.Words = fmt.Sprintf("Check-in of %s, %s, is open and you are not in yet. Where are you?", r.Class.Title, r.Slot.Words())
		}
		roll := r.Roll
		out = Receipt{Seq: w.journal.ID, IDs: []int64{}}
		var without []string
		for _, id := range msg.Students {
			i := slices.IndexFunc(roll, func(s store.Student) bool { return s.ID == id })
			if i < 0 {
				return wrong("a student is not on this register; nobody was written to")
			}
			if roll[i].Email == "" {
				without = append(without, roll[i].Name())
				continue
			}
			stored, err := w.addMessage(store.Message{Kind: "check-in", StudentID: &id, ClassID: &r.Class.ID, Slot: msg.Slot, Channel: byEMail, Address: roll[i].Email, Words: msg.Words})
			if err != nil {
				return err
			}
			out.IDs = append(out.IDs, stored)
		}
		out.Words = fmt.Sprintf("Written to %d of %d", len(out.IDs), len(msg.Students))
		if len(without) > 0 {
			out.Words += "; no address on file: " + strings.Join(without, ", ")
		}
		return nil
	})
	return out, err
}

// Resend sends a message once more, another way if the first failed.
func (o *Office) Resend(ctx context.Context, p Person, key string, id int64) (Receipt, error) {
	var out Receipt
	err := o.writeToday(ctx, p, key, "message", &out, func(w *writing, v view, x *Day) error {
		i := slices.IndexFunc(x.messages, func(m store.Message) bool { return m.ID == id })
		if i < 0 {
			return notFound("there is no message %d today", id)
		}
		row := x.messages[i]
		if row.Channel == byText && x.stateOfMessage(row, w.now) == "failed" {
			if other := v.emailFor(row); other != "" {
				row.Channel, row.Address = byEMail, other
			}
		}
		stored, err := w.addMessage(row)
		out = Receipt{Seq: w.journal.ID, Words: "Sent again by " + row.Channel, IDs: []int64{stored}}
		return err
	})
	return out, err
}

// emailFor is the e-mail address of whoever a message is for; empty for none.
func (v view) emailFor(m store.Message) string {
	switch {
	case m.ContactID != nil:
		return v.school.contacts[*m.ContactID].Email
	case m.StaffID != nil:
		return v.school.staff[*m.StaffID].Email
	default:
		return ""
	}
}

// stateOfMessage is the last that is known of a message.
func (x *Day) stateOfMessage(m store.Message, known day.Instant) string {
	state := m.State
	for _, e := range x.messageEvents[m.ID] {
		if e.Known <= known {
			state = e.State
		}
	}
	return state
}

// MessageStep is what became of a message at a minute.
type MessageStep struct {
	At    string `json:"at"`
	State string `json:"state"`
	Words string `json:"words"`
}

// MessageView is a message in the outbox.
type MessageView struct {
	ID      int64         `json:"id"`
	At      string        `json:"at"`
	Kind    string        `json:"kind"`
	Channel string        `json:"channel" enum:"text,e-mail,page"`
	To      string        `json:"to"`
	Address string        `json:"address"`
	Words   string        `json:"words"`
	State   string        `json:"state" enum:"waiting,sent,delivered,failed,seen,replied"`
	Steps   []MessageStep `json:"steps" doc:"What became of it, oldest first"`
	By      string        `json:"by" doc:"Empty where it went out by itself"`
	Class   int64         `json:"class"`
	Slot    string        `json:"slot"`
}

// Outbox lists a day's messages, newest first; a teacher sees their own.
func (o *Office) Outbox(ctx context.Context, p Person, asAt string) ([]MessageView, error) {
	out := []MessageView{}
	m, err := o.moment(asAt)
	if err != nil {
		return out, err
	}
	err = o.lookAt(ctx, m, func(v view, x *Day) error {
		for i := len(x.messages) - 1; i >= 0; i-- {
			msg := x.messages[i]
			if msg.Known <= m.Known && (p.Role != Teacher || (msg.StaffID != nil && *msg.StaffID == p.Staff)) {
				out = append(out, v.messageView(x, msg, m.Known))
			}
		}
		return nil
	})
	return out, err
}

func (v view) messageView(x *Day, msg store.Message, known day.Instant) MessageView {
	out := MessageView{ID: msg.ID, At: msg.Minute.String(), Kind: msg.Kind, Channel: msg.Channel, Address: msg.Address, Words: msg.Words,
		State: x.stateOfMessage(msg, known), Steps: []MessageStep{}, By: msg.By, Slot: msg.Slot}
	for _, e := range x.messageEvents[msg.ID] {
		if e.Known <= known {
			out.Steps = append(out.Steps, MessageStep{e.Minute.String(), e.State, e.Words})
		}
	}
	switch {
	case msg.ContactID != nil:
		out.To = v.school.contacts[*msg.ContactID].Name() + ", about " + v.names(msg.Students)
	case msg.StaffID != nil:
		out.To = v.school.staff[*msg.StaffID].Short()
	case msg.StudentID != nil:
		out.To = v.school.Students[v.school.student[*msg.StudentID]].Name()
	}
	if msg.ClassID != nil {
		out.Class = *msg.ClassID
	}
	return out
}

// Notes lists what the office wants of a member of staff now: the registers that they
// are reminded of and that are still out.
func (o *Office) Notes(ctx context.Context, p Person) ([]MessageView, error) {
	out := []MessageView{}
	if p.Staff == 0 {
		return out, nil
	}
	m, err := o.moment("")
	if err != nil {
		return out, err
	}
	err = o.lookAt(ctx, m, func(v view, x *Day) error {
		seen := map[registryKey]bool{}
		for i := len(x.messages) - 1; i >= 0; i-- {
			msg := x.messages[i]
			if msg.Channel != onPage || msg.Kind != reminder || msg.StaffID == nil || *msg.StaffID != p.Staff || msg.ClassID == nil || msg.Known > m.Known {
				continue
			}
			k := registryKey{*msg.ClassID, msg.Slot}
			if r := x.byKey[k]; r != nil && r.Sent == nil && !seen[k] {
				seen[k] = true
				out = append(out, v.messageView(x, msg, m.Known))
			}
		}
		return nil
	})
	return out, err
}

// SeeNotes stores that a member of staff has seen messages on their page.
func (o *Office) SeeNotes(ctx context.Context, p Person, key string, ids []int64) (Receipt, error) {
	var out Receipt
	err := o.writeToday(ctx, p, key, "message seen", &out, func(w *writing, _ view, x *Day) error {
		out = Receipt{Seq: w.journal.ID, IDs: []int64{}}
		for _, msg := range x.messages {
			if !slices.Contains(ids, msg.ID) || msg.StaffID == nil || *msg.StaffID != p.Staff || x.stateOfMessage(msg, w.now) == "seen" {
				continue
			}
			if err := w.addMessageEvent(msg.ID, w.now, "seen", ""); err != nil {
				return err
			}
			out.IDs = append(out.IDs, msg.ID)
		}
		return nil
	})
	return out, err
}

func (w *writing) addMessageEvent(message int64, at day.Instant, state, words string) error {
	return store.AddMessageEvent(w.ctx, w.tx, store.MessageEvent{MessageID: message, Date: w.now.Date(), Minute: at.Minute(), State: state, Words: words, Origin: store.Origin{Journal: w.journal.ID}})
}

// Tick does what falls due by itself at an instant: it reminds of registers that are out
// too long, once each, and asks the gateway what became of messages. It is called
// every few seconds, and does nothing where nothing is due.
func (o *Office) Tick(ctx context.Context, at day.Instant) error {
	person := Person{}.ActingAt(at)
	var due []Message
	var reports []messageReport
	err := o.look(func(v view) error {
		x, err := v.day(ctx, at.Date())
		if err != nil {
			return err
		}
		due, reports = v.remindersDue(x, at), v.reportsDue(x, at)
		return nil
	})
	if err != nil {
		return err
	}
	if len(due) > 0 {
		// Someone may have sent the register in between: what is due is asked again.
		err = o.writeToday(ctx, person, "", "reminder", nil, func(w *writing, v view, x *Day) error {
			for _, msg := range v.remindersDue(x, at) {
				if _, err := w.sendToTakers(v, x, msg); err != nil {
					return err
				}
			}
			return nil
		})
	}
	if err != nil || len(reports) == 0 {
		return err
	}
	return o.writeToday(ctx, person, "", "gateway", nil, func(w *writing, v view, x *Day) error {
		for _, r := range v.reportsDue(x, at) {
			if err := w.addMessageEvent(r.message, r.At, r.State, r.Words); err != nil {
				return err
			}
		}
		return nil
	})
}

// remindersDue returns a reminder for each register that is out too long and that
// nobody has been reminded of.
func (v view) remindersDue(x *Day, at day.Instant) []Message {
	if v.settings.RemindAfter <= 0 || !x.Open {
		return nil
	}
	reminded := map[registryKey]bool{}
	for _, msg := range x.messages {
		if msg.Kind == reminder && msg.ClassID != nil {
			reminded[registryKey{*msg.ClassID, msg.Slot}] = true
		}
	}
	var out []Message
	for _, r := range x.Registers {
		late := register.Overdue(r.Slot, v.settings.RegisterWithin, at.Minute())
		k := registryKey{r.Class.ID, r.Slot.Name}
		if r.Sent != nil || reminded[k] || late < int(v.settings.RemindAfter) || len(v.takersOf(x, k.class, k.slot)) == 0 {
			continue
		}
		out = append(out, Message{Kind: reminder, Class: k.class, Slot: k.slot})
	}
	return out
}

type messageReport struct {
	message int64
	outside.Report
}

// reportsDue returns what the gateway says of the day's messages and is not stored yet.
func (v view) reportsDue(x *Day, at day.Instant) []messageReport {
	if v.o.gateway == nil {
		return nil
	}
	var out []messageReport
	for _, msg := range x.messages {
		if msg.Channel == onPage {
			continue
		}
		known := len(x.messageEvents[msg.ID])
		for i, r := range v.o.gateway.Deliver(outside.Outgoing{ID: msg.ID, Channel: msg.Channel, Kind: msg.Kind, Address: msg.Address, Words: msg.Words, Sent: msg.Known}, at) {
			if i >= known {
				out = append(out, messageReport{msg.ID, r})
			}
		}
	}
	return out
}

// trace says when a register's takers were reminded and by whom, and what has become
// of the last reminder so far.
func (x *Day) trace(class int64, slot string, known day.Instant) (reminded []string, answer string) {
	reminded = []string{}
	var last store.MessageEvent
	var at day.Minute
	for _, msg := range x.messages {
		if msg.Kind != reminder || msg.ClassID == nil || *msg.ClassID != class || msg.Slot != slot || msg.Known > known {
			continue
		}
		by := "automatically"
		if msg.By != "" {
			by = "by " + msg.By
		}
		if words := msg.Minute.String() + " " + by; !slices.Contains(reminded, words) {
			reminded = append(reminded, words)
		}
		if msg.Minute > at {
			at, last = msg.Minute, store.MessageEvent{}
		}
		for _, e := range x.messageEvents[msg.ID] {
			if e.Known <= known && e.ID > last.ID {
				last = e
			}
		}
	}
	if last.ID != 0 {
		answer = join(": ", last.State+" "+last.Minute.String(), last.Words)
	}
	return reminded, answer
}
