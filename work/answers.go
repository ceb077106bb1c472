package work

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/followup"
	"meldung/store"
)

// toHome is the kind of a message to a home.
const toHome = "home"

// HomeText is a text to the homes of students.
type HomeText struct {
	Students []int64 `json:"students" minItems:"1" maxItems:"2000"`
	Words    string  `json:"words,omitempty" maxLength:"500" doc:"{students} stands for the given names; empty asks for the reason"`
}

// usualText asks a home for the reason.
const usualText = "%s: {students} not in at %s, and we do not know why. Please answer with the reason, or when we may expect them."

// TextHomes writes to the homes of students on the call list, one text a home, to the
// contact who would be rung next. A home without a number for texts is told.
func (o *Office) TextHomes(ctx context.Context, p Person, key string, t HomeText) (Receipt, error) {
	var out Receipt
	err := o.writeToday(ctx, p, key, "message", &out, func(w *writing, v view, x *Day) error {
		m := Moment{Date: x.Date, Minute: w.now.Minute(), Known: w.now, Live: true}
		var missing []followup.Missing
		for _, s := range x.Roll {
			if slices.Contains(t.Students, s.ID) {
				missing = append(missing, v.missing(x, s, m))
			}
		}
		if len(missing) < len(t.Students) {
			return notFound("some of these students are not on the roll today; nobody was written to")
		}
		words := strings.TrimSpace(t.Words)
		if words == "" {
			words = fmt.Sprintf(usualText, v.settings.Name, m.Minute)
		}
		out = Receipt{Seq: w.journal.ID, IDs: []int64{}}
		var without []string
		homes := followup.Households(missing, m.Minute)
		for _, h := range homes {
			to, number := v.textable(h)
			ids := make([]int64, len(h.Students))
			given := make([]string, len(h.Students))
			for i, s := range h.Students {
				ids[i] = idOf(s)
				given[i] = v.school.Students[v.school.student[ids[i]]].Given
			}
			if number == "" {
				without = append(without, v.names(ids))
				continue
			}
			id, err := w.addMessage(store.Message{Kind: toHome, Channel: byText, ContactID: &to, Address: number, Students: ids,
				Words: strings.ReplaceAll(words, "{students}", inSentence(given))})
			if err != nil {
				return err
			}
			out.IDs = append(out.IDs, id)
		}
		out.Words = fmt.Sprintf("Written to %d of %s", len(out.IDs), countOf(len(homes), "home"))
		if len(without) > 0 {
			out.Words += "; no number for texts: " + strings.Join(without, "; ")
		}
		return nil
	})
	return out, err
}

// textable returns whom of a home to write to and at which number: the one to ring next,
// else the first who has a number; no number for none.
func (v view) textable(h followup.Household) (contact int64, number string) {
	order := h.Contacts
	if h.Next > 0 {
		order = append(slices.Clone(h.Contacts[h.Next:]), h.Contacts[:h.Next]...)
	}
	for _, c := range order {
		if contact := v.school.contacts[c.ID]; contact.SMS != "" {
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

// AnswerView is what a home answered to a text, until it is dealt with.
type AnswerView struct {
	Message  int64        `json:"message"`
	At       string       `json:"at"`
	Contact  string       `json:"contact"`
	Phone    string       `json:"phone"`
	Words    string       `json:"words"`
	Students []StudentRef `json:"students"`
	Reason   string       `json:"reason" doc:"The reason that stands in it; empty for none"`
	Until    string       `json:"until" doc:"The time that stands in it"`
}

// answers lists what homes have answered and nobody has dealt with, oldest first.
func (v view) answers(x *Day, m Moment) []AnswerView {
	out := []AnswerView{}
	for _, msg := range x.messages {
		if msg.Kind != toHome || msg.ContactID == nil || msg.Known > m.Known || x.dealtWith(msg.ID, m.Known) {
			continue
		}
		reply, ok := x.replyTo(msg.ID, m.Known)
		if !ok {
			continue
		}
		var words []string
		for _, r := range v.settings.Reasons {
			if r.Home {
				words = append(words, r.Word)
			}
		}
		read := followup.ReadReply(reply.Words, words)
		row := AnswerView{Message: msg.ID, At: reply.Minute.String(), Contact: v.school.contacts[*msg.ContactID].Name(), Phone: msg.Address, Words: reply.Words, Reason: read.Reason, Until: minuteText(read.By)}
		for _, id := range msg.Students {
			row.Students = append(row.Students, v.ref(v.school.Students[v.school.student[id]], m.Date))
		}
		out = append(out, row)
	}
	return out
}

// replyTo returns the last answer to a message.
func (x *Day) replyTo(message int64, known day.Instant) (reply store.MessageEvent, ok bool) {
	for _, e := range x.messageEvents[message] {
		if e.State == "replied" && e.Known <= known {
			reply, ok = e, true
		}
	}
	return reply, ok
}

// dealtWith reports whether an answer was taken as a notice, or read and left at that.
func (x *Day) dealtWith(message int64, known day.Instant) bool {
	return slices.ContainsFunc(x.notices, func(n store.Notice) bool {
		return n.MessageID != nil && *n.MessageID == message && n.Known <= known && (n.WithdrawnAt == nil || *n.WithdrawnAt > known)
	}) || slices.ContainsFunc(x.answersRead, func(a store.AnswerRead) bool { return a.MessageID == message && a.Known <= known })
}

// answered makes a notice that of whoever answered a message.
func (v view) answered(x *Day, n Notice, pn *parsedNotice, now day.Instant) error {
	i := slices.IndexFunc(x.messages, func(m store.Message) bool { return m.ID == n.Message && m.Kind == toHome && m.ContactID != nil })
	if i < 0 {
		return notFound("there is no message home %d today; nothing was stored", n.Message)
	}
	msg := x.messages[i]
	if _, ok := x.replyTo(msg.ID, now); !ok {
		return refused("nobody has answered that message yet; nothing was stored")
	}
	if x.dealtWith(msg.ID, now) {
		return conflict("that answer was dealt with already; nothing was stored")
	}
	for _, id := range n.Students {
		if !slices.Contains(msg.Students, id) {
			return wrong("the message was not about %s; nothing was stored", v.names([]int64{id}))
		}
	}
	pn.message, pn.toldBy, pn.toldHow = &msg.ID, v.school.contacts[*msg.ContactID].Name(), byText
	return nil
}

// ReadAnswer stores that an answer was read and says no reason.
func (o *Office) ReadAnswer(ctx context.Context, p Person, key string, message int64) (Receipt, error) {
	var out Receipt
	err := o.writeToday(ctx, p, key, "answer read", &out, func(w *writing, _ view, x *Day) error {
		if _, ok := x.replyTo(message, w.now); !ok {
			return notFound("there is no answer to message %d today", message)
		}
		if x.dealtWith(message, w.now) {
			return conflict("that answer was dealt with already")
		}
		out = Receipt{Seq: w.journal.ID, Words: "Read; the student stays on the list", IDs: []int64{message}}
		return store.AddAnswerRead(ctx, w.tx, store.AnswerRead{MessageID: message, Date: x.Date, Origin: store.Origin{Journal: w.journal.ID}})
	})
	return out, err
}
