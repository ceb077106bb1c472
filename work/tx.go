package work

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"slices"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/held"
	"meldung/held/dated"
	"meldung/store"
)

// Tx is one write under way: a transaction with its entry in the journal.
type Tx struct {
	*sqlx.Tx
	Person Person
	Now    day.Instant
	Entry  ids.Entry // the journal's
	Effects

	marks    []store.Mark                  // stored so far
	settings map[ids.Section]held.Settings // changed from the present day on
	changed  bool                          // the school itself is another
	contacts bool                          // those of students are others
	kind     string                        // of the journal's entry
	looked   []day.Date                    // days that it has looked at, which are all that it says anything about
}

// Effects are what follows a write once it is stored. By itself, what is in memory takes in what
// was stored, and the pages that show it are told.
type Effects struct {
	Untold bool   // no page needs to look again
	Scope  string // the one register that it concerns, for those who follow that; see RegisterScope
}

// Origin returns where the rows of this write come from.
func (tx *Tx) Origin() store.Origin {
	return store.Origin{Journal: tx.Entry, Known: tx.Now, By: tx.Person.Name}
}

// Moment returns the present moment of the write.
func (tx *Tx) Moment() Moment {
	return Moment{Date: tx.Now.Date(), Minute: tx.Now.Minute(), Known: tx.Now, Live: true}
}

// MomentOf returns the moment at which a write looks at a day: now, or the end of an earlier one as
// it stands now.
func (tx *Tx) MomentOf(d day.Date) Moment {
	if d == tx.Now.Date() {
		return tx.Moment()
	}
	return Moment{Date: d, Minute: dated.LastMinute, Known: tx.Now}
}

// TakenBack are the kinds of entry that can be taken back as a whole, with what it needs.
var TakenBack = map[string]Permission{
	"movement": MayUndoMovement, "notice": MayWithdrawNotice, "call": MayCall, "quick": MayUndoMovement,
	"student settled": MaySettleStudent, "register settled": MaySettleRegister, "settled": MaySettle,
	"hold": MayEndHold, "search ended": MayEndSearch, "correction": MayCorrect, "fetch": MayEndFetch,
	"homes texted": MayTextHomes, "warning ended": MayEndWarning, "step": MayDoSteps, "letters": MayPrintLetter, "list": MayKeepList, "paper list": MaySavePaper, "paper plan": MayPlanPaper, "pin": MayPin, "made up": MayMakeUp, "incident": MayTakeIncidentBack, "decision": MayDecide, "review finished": MayFinishReview, "case": MayChangeCase, "concern told": MayTellConcern, "follow-up": MayFollowUp, "case plan": MayPlanCase, "case paper": MayAddPaper, "meeting": MayMeet, "support session": MayAddSession, "week without session": MaySayWhyNone,
}

// Receipt says what was stored.
type Receipt struct {
	Seq  ids.Entry `json:"seq"`
	Text string    `json:"text"`
	IDs  []int64   `json:"ids" doc:"What was made, for taking it back"`
	Undo bool      `json:"undo,omitempty" doc:"Whoever stored it can take it back as a whole"`
}

// Receipt returns the receipt of a write that made nothing to take back.
func (tx *Tx) Receipt(words string) Receipt { return ReceiptOf[int64](tx, words) }

// ReceiptOf returns the receipt of a write with the ids of what it made.
func ReceiptOf[ID ~int64](tx *Tx, words string, made ...ID) Receipt {
	needs, can := TakenBack[tx.kind]
	out := Receipt{Seq: tx.Entry, Text: words, IDs: make([]int64, len(made)), Undo: can && tx.Person.May(MayTakeBack) && tx.Person.May(needs)}
	for i, id := range made {
		out.IDs[i] = int64(id)
	}
	return out
}

// Job is a piece of work: who does it, what it needs and what comes of it.
type Job struct {
	By    Person
	Key   string     // of whoever asked; a repeat does nothing and gets the same answer
	Needs Permission // empty for what only the program itself does
	Kind  string     // of the journal's entry
	In    any        // what was asked, held against the limits that its tags state; nil for nothing
	Of    any        // what it is done to, where In does not say; a repeat of the key is of the same
	Out   any        // pointer to the answer that is kept for a repeat; nil for none
}

// check refuses what the person may not do, and what was asked beyond its limits.
func (j Job) check() error {
	if !j.By.May(j.Needs) {
		return Refusedf("your account may not do that")
	}
	return within(j.In)
}

// Write does a piece of work once: in one transaction, with a journal entry, and
// with its answer kept for a repeat of the key. f looks at the school as it is before the
// write. The ledger, the pages and the days in memory follow when it is safely stored.
func (o *Office) Write(ctx context.Context, j Job, f func(tx *Tx, v Snapshot) error) error {
	if err := j.check(); err != nil {
		return err
	}
	o.writing.Lock()
	defer o.writing.Unlock()
	if j.Key != "" {
		done, err := store.Answered(ctx, o.store.Read(), j.Key)
		if err != nil {
			return err
		}
		if done != nil {
			return j.repeat(done)
		}
	}
	asked, err := j.asked()
	if err != nil {
		return err
	}
	tx := &Tx{Person: j.By, Now: o.clock.Now(), kind: j.Kind}
	if j.By.at != 0 {
		tx.Now = j.By.at
	}
	alone := false // nobody looks: o.mu is locked
	defer func() {
		if alone {
			o.mu.Unlock()
		}
	}()
	tables, err := o.store.WriteTold(ctx, func(inner *sqlx.Tx) error {
		if err := o.work(ctx, tx, j, asked, inner, f); err != nil {
			return err
		}
		if !tx.changed {
			// A look sees all of a write or nothing of it, in the file as in memory.
			o.mu.Lock()
			alone = true
		}
		return nil
	})
	if err != nil {
		return err
	}
	if err := o.follow(context.WithoutCancel(ctx), tx, tables); err != nil {
		return err
	}
	if about := topicsOf(tables); !tx.Untold && len(about) > 0 {
		o.listeners.tell(Event{tx.Entry, j.Kind, tx.Scope, about})
	}
	return nil
}

// work does a job within its transaction, with its entry in the journal.
func (o *Office) work(ctx context.Context, tx *Tx, j Job, asked string, inner *sqlx.Tx, f func(tx *Tx, v Snapshot) error) error {
	tx.Tx = inner
	entry := store.Journal{Known: tx.Now, Kind: j.Kind}
	if j.By.Account != 0 {
		entry.Account = &j.By.Account
	}
	if j.Key != "" {
		entry.Key, entry.Asked = &j.Key, asked
	}
	stored, err := store.AddJournal(ctx, inner, entry)
	if err != nil {
		return err
	}
	tx.Entry = stored.ID
	if err := o.ReadOn(ctx, tx.Now.Date(), func(v Snapshot) error {
		v.tx = tx
		return f(tx, v)
	}); err != nil {
		return err
	}
	if j.Out == nil {
		return nil
	}
	text, err := json.Marshal(j.Out)
	if err != nil {
		return err
	}
	return store.SetAnswer(ctx, inner, tx.Entry, string(text))
}

// Look looks at what a piece of work would do, for those who may do it.
func (o *Office) Look(ctx context.Context, j Job, f func(v Snapshot) error) error {
	if err := j.check(); err != nil {
		return err
	}
	return o.Read(ctx, f)
}

// WriteOn does a piece of work on a date: a write that looks at the school as it held then
// and at what is known of that day so far.
func (o *Office) WriteOn(ctx context.Context, date day.Date, j Job, f func(tx *Tx, v Snapshot, x *Day) error) error {
	return o.Write(ctx, j, func(tx *Tx, v Snapshot) error {
		v, err := v.At(ctx, date)
		if err != nil {
			return err
		}
		x, err := v.Day(ctx, date)
		if err != nil {
			return err
		}
		return f(tx, v, x)
	})
}

// WriteToday does a piece of work on the present day.
func (o *Office) WriteToday(ctx context.Context, j Job, f func(tx *Tx, v Snapshot, x *Day) error) error {
	return o.Write(ctx, j, func(tx *Tx, v Snapshot) error {
		x, err := v.Day(ctx, tx.Now.Date())
		if err != nil {
			return err
		}
		return f(tx, v, x)
	})
}

// asked returns a fingerprint of what is asked: everything that makes it another piece of work.
func (j Job) asked() (string, error) {
	text, err := json.Marshal([]any{j.Kind, j.In, j.Of})
	if err != nil {
		return "", fmt.Errorf("reading what was asked: %w", err)
	}
	sum := sha256.Sum256(text)
	return hex.EncodeToString(sum[:16]), nil
}

// repeat answers a key that was used before. Used for something else, or by somebody else, it is
// refused: that is no repeat.
func (j Job) repeat(done *store.Journal) error {
	asked, err := j.asked()
	if err != nil {
		return err
	}
	var account ids.Account
	if done.Account != nil {
		account = *done.Account
	}
	switch {
	case done.Kind != j.Kind:
		return Conflictf("this key was used for something else: %s", done.Kind)
	case account != j.By.Account:
		return Conflictf("this key was used by somebody else")
	case done.Asked != "" && done.Asked != asked:
		return Conflictf("this key was used for another %s; nothing was saved", done.Kind)
	}
	if j.Out == nil || done.Answer == nil {
		return nil
	}
	return json.Unmarshal([]byte(*done.Answer), j.Out)
}

// Changed says that the write changes the school itself: it is read again as soon as it is
// stored, before any page hears of it.
func (tx *Tx) Changed() { tx.changed = true }

// ContactsAndWarnings says that the write changes those of students, and nothing else of the school.
func (tx *Tx) ContactsAndWarnings() { tx.contacts = true }

// follow brings what is kept in memory into line with a stored write, whether or not who
// asked for it still waits. Unless the write changes the school itself, nobody looks meanwhile.
func (o *Office) follow(ctx context.Context, tx *Tx, tables []string) error {
	defer func() { o.version.Add(1); o.last.Store(int64(tx.Entry)) }()
	if tx.changed {
		if err := o.reload(ctx); err != nil {
			return fmt.Errorf("everything is saved, but could not be read again: %w", err)
		}
		return nil
	}
	if tx.contacts {
		with, err := store.LoadContactsAndWarnings(ctx, o.store.Read())
		if err != nil {
			return fmt.Errorf("everything is saved, but could not be read again: %w", err)
		}
		o.records, o.remembered = o.records.WithContactsAndWarnings(with), nil
	}
	for section, next := range tx.settings {
		o.records = o.records.Decided(section, next, tx.Now.Date())
	}
	for _, m := range tx.marks {
		section := o.records.On(m.Date).SectionOf(m.StudentID)
		for _, l := range o.ledgers {
			if l.year == section.Year() && l.ledger != nil {
				// A mark that the ledger can't hold was refused before it was stored.
				_ = section.SetInLedger(l.ledger, store.LedgerMark{Date: m.Date, Slot: m.Slot, StudentID: m.StudentID,
					ClassID: m.ClassID, Code: m.Code, AwayFrom: m.AwayFrom, AwayTo: m.AwayTo})
			}
		}
	}
	o.forget(tx, tables)
	for _, d := range tx.looked {
		delete(o.unsettled, d)
	}
	o.followAnswers(ctx, tx, tables)
	if len(tx.settings) > 0 {
		o.days, o.unsettled = map[day.Date]*Day{}, nil
		return nil
	}
	written := dated.Written{Entry: tx.Entry, Tables: tables, Marks: tx.marks}
	for d, x := range o.days {
		if followed, err := x.Follow(ctx, o.store.Read(), written); err != nil || !followed {
			delete(o.days, d) // it is read when somebody looks
		}
	}
	return nil
}

// followAnswers takes in whom somebody was spoken to.
func (o *Office) followAnswers(ctx context.Context, tx *Tx, tables []string) {
	if o.answers == nil || !slices.Contains(tables, "call") {
		return
	}
	calls, err := store.SpokenSince(ctx, o.store.Read(), tx.Entry)
	if err != nil {
		o.answers, o.days = nil, map[day.Date]*Day{} // it is read with the next day
		return
	}
	o.answers.add(calls)
}
