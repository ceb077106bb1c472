package home

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/followup"
	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
)

// HomeText is a text to the homes of students.
type HomeText struct {
	Students []ids.Student `json:"students" minItems:"1" maxItems:"2000"`
	Text     string        `json:"text,omitempty" maxLength:"500" doc:"{students} stands for the given names; empty asks for the reason"`
}

// usualText asks a home for the reason.
const usualText = "%s: {students} not in at %s, and we do not know why. Please answer with the reason, or when we may expect them."

// takeBackFor is how long a text can be taken back before it leaves, in seconds.
const takeBackFor = 10

// TextTo is a text for one home.
type TextTo struct {
	Students []ids.Student
	Contact  ids.Contact
	Number   string // empty where the home has none for texts
	Text     string
	Tried    bool // the home was called or written to today
}

// PlanTexts returns the text for each home of some students, in the order in which homes are
// rung, and the words that it was made of, with {students} for the names.
func PlanTexts(v work.Snapshot, x *work.Day, t HomeText, m work.Moment) (plan []TextTo, words string, err error) {
	var missing []followup.Missing
	for _, s := range x.Roll {
		if slices.Contains(t.Students, s.ID) {
			missing = append(missing, Missing(v, x, s, m))
		}
	}
	if len(missing) < len(t.Students) {
		return nil, "", work.NotFoundf("some of these students are not on the roll today; nobody was written to")
	}
	if words = strings.TrimSpace(t.Text); words == "" {
		words = fmt.Sprintf(usualText, v.SchoolName(), m.Minute)
	}
	for _, h := range followup.Households(missing, m.Minute) {
		one := TextTo{Tried: h.Tried > 0}
		one.Contact, one.Number = textable(v, h)
		given := make([]string, len(h.Students))
		for i, s := range h.Students {
			one.Students = append(one.Students, s.Student)
			given[i] = v.School.StudentOf(s.Student).Given
		}
		one.Text = strings.ReplaceAll(words, "{students}", inSentence(given))
		plan = append(plan, one)
	}
	return plan, words, nil
}

// TextHomes writes to the homes of students on the call list, one text a home, to the
// contact who would be rung next. A home without a number for texts is told. The texts leave
// after some seconds, in which they can be taken back.
func TextHomes(ctx context.Context, o *work.Office, p work.Person, key string, t HomeText) (work.Receipt, error) {
	var out work.Receipt
	err := o.WriteToday(ctx, work.Job{By: p, Key: key, Needs: work.MayTextHomes, Kind: "homes texted", In: t, Out: &out}, func(tx *work.Tx, v work.Snapshot, x *work.Day) error {
		plan, _, err := PlanTexts(v, x, t, tx.Moment())
		if err != nil {
			return err
		}
		out = tx.Receipt("")
		var without []string
		for _, one := range plan {
			if one.Number == "" {
				without = append(without, v.School.Names(one.Students))
				continue
			}
			id, err := tx.AddMessage(ctx, store.Message{Kind: work.ToHome, Channel: work.ByText, ContactID: &one.Contact, Address: one.Number, Students: one.Students,
				Text: one.Text, Leaves: o.Unix() + takeBackFor})
			if err != nil {
				return err
			}
			out.IDs = append(out.IDs, int64(id))
		}
		out.Text = fmt.Sprintf("Written to %d of %s", len(out.IDs), work.Count(len(plan), "home"))
		if len(without) > 0 {
			out.Text += "; no number for texts: " + strings.Join(without, "; ")
		}
		return nil
	})
	return out, err
}

// textable returns whom of a home to write to and at which number: the one to ring next,
// else the first who has a number; no number for none.
func textable(v work.Snapshot, h followup.Household) (contact ids.Contact, number string) {
	order := h.Contacts
	if h.Next > 0 {
		order = append(slices.Clone(h.Contacts[h.Next:]), h.Contacts[:h.Next]...)
	}
	for _, c := range order {
		if contact := v.School.ContactOf(c.ID); contact.SMS != "" {
			return c.ID, contact.SMS
		} else if contact.Phone != "" {
			return c.ID, contact.Phone
		}
	}
	return 0, ""
}

// inSentence joins names: "Elis and Ansa are".
func inSentence(names []string) string {
	if len(names) == 1 {
		return names[0] + " is"
	}
	return strings.Join(names[:len(names)-1], ", ") + " and " + names[len(names)-1] + " are"
}

// ReadAnswer stores that an answer was read and says no reason.
func ReadAnswer(ctx context.Context, o *work.Office, p work.Person, key string, message ids.Message) (work.Receipt, error) {
	var out work.Receipt
	err := o.WriteToday(ctx, work.Job{By: p, Key: key, Needs: work.MayReadAnswer, Kind: "answer read", Of: message, Out: &out}, func(tx *work.Tx, _ work.Snapshot, x *work.Day) error {
		if _, ok := x.ReplyTo(message, tx.Now); !ok {
			return work.NotFoundf("there is no answer to message %d today", message)
		}
		if x.DealtWith(message, tx.Now) {
			return work.Conflictf("that answer was dealt with already")
		}
		out = work.ReceiptOf(tx, "Read; the student stays on the list", message)
		return store.AddAnswerRead(ctx, tx.Tx, store.AnswerRead{MessageID: message, Date: x.Date, Origin: tx.Origin()})
	})
	return out, err
}

// answered makes a notice that of whoever answered a message.
func answered(v work.Snapshot, x *work.Day, n Notice, read *work.Notice, now day.Instant) error {
	i := slices.IndexFunc(x.Messages, func(m store.Message) bool { return m.ID == n.Message && m.Kind == work.ToHome && m.ContactID != nil })
	if i < 0 {
		return work.NotFoundf("there is no message home %d today; nothing was saved", n.Message)
	}
	msg := x.Messages[i]
	if _, ok := x.ReplyTo(msg.ID, now); !ok {
		return work.Refusedf("nobody has answered that message yet; nothing was saved")
	}
	if x.DealtWith(msg.ID, now) {
		return work.Conflictf("that answer was dealt with already; nothing was saved")
	}
	for _, id := range n.Students {
		if !slices.Contains(msg.Students, id) {
			return work.Wrongf("the message was not about %s; nothing was saved", v.School.Names([]ids.Student{id}))
		}
	}
	read.Message, read.ToldBy, read.ToldHow = &msg.ID, v.School.ContactOf(*msg.ContactID).Name(), work.ByText
	return nil
}
