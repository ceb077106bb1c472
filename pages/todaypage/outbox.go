package todaypage

import (
	"context"
	"fmt"
	"slices"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
)

// MessageStep is what became of a message at a minute.
type MessageStep struct {
	At    string `json:"at"`
	State string `json:"state"`
	Text  string `json:"text"`
}

// MessageView is a message in the outbox.
type MessageView struct {
	ID      ids.Message   `json:"id"`
	At      string        `json:"at"`
	Kind    string        `json:"kind"`
	Channel string        `json:"channel" enum:"text,e-mail,page"`
	To      string        `json:"to"`
	Address string        `json:"address"`
	Text    string        `json:"text"`
	State   string        `json:"state" enum:"waiting,sent,delivered,failed,seen,replied"`
	Steps   []MessageStep `json:"steps" doc:"What became of it, oldest first"`
	Trying  string        `json:"trying" doc:"Why it has not gone out yet, and when it is tried again; empty for not tried, and for gone"`
	By      string        `json:"by" doc:"Empty where it went out by itself"`
	Class   ids.Class     `json:"class"`
	Slot    string        `json:"slot"`
}

// ShowOutbox lists a day's messages, newest first; a teacher sees their own.
func ShowOutbox(ctx context.Context, o *work.Office, p work.Person, asAt string, of ...ids.Section) ([]MessageView, error) {
	out := []MessageView{}
	m, err := o.Moment(asAt, of...)
	if err != nil {
		return out, err
	}
	err = o.ReadDay(ctx, m, func(v work.Snapshot, x *work.Day) error {
		tries, err := store.TriesOn(ctx, v.Store(), m.Date)
		if err != nil {
			return err
		}
		for i := len(x.Messages) - 1; i >= 0; i-- {
			msg := x.Messages[i]
			if msg.Known <= m.Known && (p.May(work.MaySeeAllMessages) || (msg.StaffID != nil && *msg.StaffID == p.Staff)) {
				view := messageView(v, x, msg, m.Known)
				if m.Live && view.State == work.Waiting {
					view.Trying = trying(tries, msg.ID, o)
				}
				out = append(out, view)
			}
		}
		return nil
	})
	return out, err
}

// trying says why a message has not gone out yet, and when it is tried again.
func trying(tries []store.Try, id ids.Message, o *work.Office) string {
	var last *store.Try
	for i := range tries {
		if tries[i].MessageID == id {
			last = &tries[i]
		}
	}
	switch {
	case last == nil:
		return ""
	case last.Again == nil:
		return "on its way"
	default:
		at := o.Now() + day.Instant((*last.Again-o.Unix()+59)/60)
		return fmt.Sprintf("%s; tried %s, again at %s", last.Text, work.Count(last.N, "time"), at.Minute())
	}
}

// messageView returns a message with what became of it by an instant.
func messageView(v work.Snapshot, x *work.Day, msg store.Message, known day.Instant) MessageView {
	out := MessageView{ID: msg.ID, At: msg.Minute.String(), Kind: msg.Kind, Channel: msg.Channel, Address: msg.Address, Text: msg.Text,
		State: x.StateOfMessage(msg, known), Steps: []MessageStep{}, By: msg.By, Slot: msg.Slot}
	for _, e := range x.MessageEvents(msg.ID) {
		if e.Known <= known {
			out.Steps = append(out.Steps, MessageStep{e.Minute.String(), e.State, e.Text})
		}
	}
	switch {
	case msg.ContactID != nil:
		out.To = v.School.ContactOf(*msg.ContactID).Name() + ", about " + v.School.Names(msg.Students)
	case msg.StaffID != nil:
		out.To = v.School.StaffOf(*msg.StaffID).Short()
	case msg.StudentID != nil:
		out.To = v.School.StudentOf(*msg.StudentID).Name()
	}
	if msg.ClassID != nil {
		out.Class = *msg.ClassID
	}
	return out
}

// ShowNotes lists what a member of staff is told now: the registers that they are reminded of and that are
// still out, and whom rules have come to find or which list was not made, until they have seen that.
func ShowNotes(ctx context.Context, o *work.Office, p work.Person) ([]MessageView, error) {
	out := []MessageView{}
	if p.Staff == 0 {
		return out, nil
	}
	m, err := o.Moment("")
	if err != nil {
		return out, err
	}
	err = o.ReadDay(ctx, m, func(v work.Snapshot, x *work.Day) error {
		seen := map[*work.Register]bool{}
		for i := len(x.Messages) - 1; i >= 0; i-- {
			msg := x.Messages[i]
			if msg.Channel == work.OnPage && (msg.Kind == work.OfConcern || msg.Kind == work.AsList) && msg.StaffID != nil && *msg.StaffID == p.Staff && msg.Known <= m.Known && x.StateOfMessage(msg, m.Known) != work.SeenBy {
				out = append(out, messageView(v, x, msg, m.Known))
			}
			if msg.Channel != work.OnPage || msg.Kind != work.Reminder || msg.StaffID == nil || *msg.StaffID != p.Staff || msg.ClassID == nil || msg.Known > m.Known {
				continue
			}
			if r := x.Register(*msg.ClassID, msg.Slot); r != nil && r.Sent == nil && !seen[r] {
				seen[r] = true
				out = append(out, messageView(v, x, msg, m.Known))
			}
		}
		return nil
	})
	return out, err
}

// trace says when a register's takers were reminded and by whom, and what has become
// of the last reminder so far.
func trace(x *work.Day, class ids.Class, slot string, known day.Instant) (reminded []string, answer string) {
	reminded = []string{}
	var last store.MessageEvent
	var at day.Minute
	for _, msg := range x.Messages {
		if msg.Kind != work.Reminder || msg.ClassID == nil || *msg.ClassID != class || msg.Slot != slot || msg.Known > known {
			continue
		}
		by := "automatically"
		if msg.By != "" {
			by = "by " + msg.By
		}
		if words := msg.Minute.String() + " " + by; !slices.Contains(reminded, words) {
			reminded = append(reminded, words)
		}
		if msg.Minute.After(at) {
			at, last = msg.Minute, store.MessageEvent{}
		}
		for _, e := range x.MessageEvents(msg.ID) {
			if e.Known <= known && e.ID > last.ID {
				last = e
			}
		}
	}
	if last.ID != 0 {
		answer = work.Join(": ", last.State+" "+last.Minute.String(), last.Text)
	}
	return reminded, answer
}
