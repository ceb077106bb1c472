package work

import (
	"context"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/held/dated"
	"meldung/store"
)

// The ways in which a message goes out.
const (
	ByText  = "text"
	ByEMail = "e-mail"
	OnPage  = "page" // on the pages of whoever it is for
)

// What messages are for.
const (
	Reminder  = "remind"   // a register is out
	Question  = "ask"      // a contradiction is put to a teacher
	ToHome    = "home"     // a home is asked for a reason
	ToStudent = "check-in" // a student has not checked in
	AsLetter  = "letter"   // a letter that a step asks for, or that goes to many
	OfConcern = "concern"  // rules have come to find somebody
	AsList    = "list"     // a list that is made without being asked for
)

// What becomes of a message.
const (
	Waiting = "waiting"
	Sent    = "sent"
	Failed  = "failed"
	SeenBy  = "seen"
	Back    = "taken back" // before it left
	Replied = dated.Replied
)

// AddMessage puts a message of the present day into the outbox and returns its id.
func (tx *Tx) AddMessage(ctx context.Context, row store.Message) (ids.Message, error) {
	row.Date, row.Minute, row.State, row.Journal = tx.Now.Date(), tx.Now.Minute(), Waiting, tx.Entry
	return store.AddMessage(ctx, tx.Tx, row)
}

// AddMessageEvent stores what became of a message.
func (tx *Tx) AddMessageEvent(ctx context.Context, message ids.Message, at day.Instant, state, words string) error {
	return store.AddMessageEvent(ctx, tx.Tx, store.MessageEvent{MessageID: message, Date: tx.Now.Date(), Minute: at.Minute(), State: state, Text: words, Origin: tx.Origin()})
}
