package messages

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"sync"
	"time"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
)

// Carrier takes messages of one kind out of the house: texts or e-mails.
type Carrier interface {
	// Carry hands a message over and returns what the carrier calls it; empty where it has no
	// name for it. An error that is Permanent says that trying again is of no use. The same
	// message may be handed over again after another error, under the same key.
	Carry(ctx context.Context, m Outgoing) (reference string, err error)
}

// Outgoing is a message for a carrier.
type Outgoing struct {
	ID      ids.Message
	Key     string // names the message, also after a restart
	Channel string // text or e-mail
	Kind    string // what it is about
	Address string
	Subject string // of an e-mail
	Text    string
	Sent    day.Instant // when it was written
	Files   []File      // that go with an e-mail
}

// File goes with an e-mail.
type File struct {
	Name    string
	Type    string
	Content []byte
}

// Enclose makes the files that go with a message, none for most. It is asked at each try, so that nothing about
// students is kept for messages that wait. An error of the kind work.Error says that there will be none.
type Enclose func(ctx context.Context, m store.Message) ([]File, error)

// permanent is an error after which trying again is of no use.
type permanent struct{ error }

func (p permanent) Unwrap() error { return p.error }

// Permanent says of an error that trying again is of no use.
func Permanent(err error) error { return permanent{err} }

// What a worker allows a message.
const (
	patience = 30 * time.Second // for one try
	giveUp   = 60               // minutes after which a message is not sent any more
	atOnce   = 4                // messages of one channel under way at once
)

// pauses are the seconds after which a message is tried again; the last is used from then on.
var pauses = []int64{10, 30, 60, 120, 300}

// Worker hands what is written to the carriers that a school has. It waits for them outside every
// lock and transaction.
type Worker struct {
	office   *work.Office
	carriers map[string]Carrier // by channel
	enclose  Enclose
}

// NewWorker returns a worker for the channels that have a carrier, with what makes the files that go with messages;
// nil for none.
func NewWorker(o *work.Office, carriers map[string]Carrier, enclose Enclose) *Worker {
	return &Worker{office: o, carriers: carriers, enclose: enclose}
}

// Run hands messages over until the context ends. Each channel goes by itself, so that a slow
// carrier holds up nothing but its own messages.
func (w *Worker) Run(ctx context.Context) {
	if err := w.Resume(ctx); err != nil && ctx.Err() == nil {
		slog.Error("looking for messages that were cut short", "error", err)
	}
	var channels sync.WaitGroup
	for channel := range w.carriers {
		channels.Go(func() { w.run(ctx, channel) })
	}
	channels.Wait()
}

func (w *Worker) run(ctx context.Context, channel string) {
	written, stop := w.office.Listen()
	defer stop()
	every := time.NewTicker(5 * time.Second)
	defer every.Stop()
	for {
		if err := w.Round(ctx, channel); err != nil && ctx.Err() == nil {
			slog.Error("messages are held up", "channel", channel, "error", err)
		}
		select {
		case <-ctx.Done():
			return
		case <-every.C:
		case <-written:
		}
	}
}

// Resume tells of messages that were under way when the program stopped. They may have gone out,
// and are not sent again by themselves.
func (w *Worker) Resume(ctx context.Context) error {
	tries, err := store.TriesUnderWay(ctx, w.office.Store().Read())
	if err != nil {
		return err
	}
	for _, t := range tries {
		if err := w.settle(ctx, t, 0, "", result{state: work.Failed, text: "the program stopped while it went out: it may have arrived"}); err != nil {
			return err
		}
	}
	return nil
}

// Round hands over what waits on a channel now, and returns when all of it is told.
func (w *Worker) Round(ctx context.Context, channel string) error {
	carrier := w.carriers[channel]
	if carrier == nil {
		return nil
	}
	now := w.office.Now()
	due, tries, err := store.MessagesToSend(ctx, w.office.Store().Read(), channel, now.Date()-1, w.office.Unix())
	if err != nil {
		return err
	}
	var under sync.WaitGroup
	var failed error
	var mu sync.Mutex
	places := make(chan struct{}, atOnce)
	for _, m := range due {
		places <- struct{}{}
		under.Go(func() {
			defer func() { <-places }()
			if err := w.hand(ctx, carrier, m, tries[m.ID]+1); err != nil {
				mu.Lock()
				failed = errors.Join(failed, err)
				mu.Unlock()
			}
		})
	}
	under.Wait()
	return failed
}

// result is what came of a try.
type result struct {
	state string // empty where it is tried again
	text  string
}

// hand tries to hand one message over.
func (w *Worker) hand(ctx context.Context, carrier Carrier, m store.Message, n int) error {
	t := store.Try{MessageID: m.ID, N: n, Begun: w.office.Unix()}
	begun := false
	err := w.office.Store().Write(ctx, func(tx *sqlx.Tx) (err error) {
		begun, err = store.BeginTry(ctx, tx, t)
		return err
	})
	if err != nil || !begun {
		return err
	}
	written := day.At(m.Date, m.Minute)
	if w.office.Now()-written > giveUp {
		return w.settle(ctx, t, 0, "", result{work.Failed, fmt.Sprintf("not sent within %d minutes", giveUp)})
	}
	if m.Address == "" {
		return w.settle(ctx, t, 0, "", result{work.Failed, "there is no address"})
	}
	within, cancel := context.WithTimeout(ctx, patience)
	reference, err := w.carry(within, carrier, m)
	cancel()
	switch {
	case err == nil:
		return w.settle(ctx, t, 0, reference, result{state: work.Sent})
	case ctx.Err() != nil:
		return ctx.Err() // the program stops: what became of it is told when it starts again
	case IsPermanent(err):
		return w.settle(ctx, t, 0, "", result{work.Failed, err.Error()})
	default:
		pause := pauses[min(n, len(pauses))-1]
		return w.settle(ctx, t, w.office.Unix()+pause, "", result{text: err.Error()})
	}
}

// carry hands a message over with its files.
func (w *Worker) carry(ctx context.Context, carrier Carrier, m store.Message) (reference string, err error) {
	out := Outgoing{ID: m.ID, Key: keyOf(m), Channel: m.Channel, Kind: m.Kind, Address: m.Address, Subject: w.office.SchoolName(), Text: m.Text, Sent: m.Known}
	if w.enclose != nil {
		out.Files, err = w.enclose(ctx, m)
		var none *work.Error
		switch {
		case errors.As(err, &none):
			return "", Permanent(err)
		case err != nil:
			slog.Error("making what goes with a message", "error", err)
			return "", errors.New("what goes with it could not be made")
		}
	}
	return carrier.Carry(ctx, out)
}

// settle stores what came of a try. What was told by the carrier in between is not told over.
func (w *Worker) settle(ctx context.Context, t store.Try, again int64, reference string, r result) error {
	t.Again, t.Text = &again, r.text
	if r.state == "" {
		return w.office.Store().Write(ctx, func(tx *sqlx.Tx) error { return store.EndTry(ctx, tx, t) })
	}
	return w.office.Write(ctx, work.Job{Kind: "carrier"}, func(tx *work.Tx, _ work.Snapshot) error {
		if err := store.EndTry(ctx, tx.Tx, t); err != nil {
			return err
		}
		if reference != "" {
			if err := store.SetReference(ctx, tx.Tx, t.MessageID, reference); err != nil {
				return err
			}
		}
		told, err := store.StatesOf(ctx, tx.Tx, t.MessageID)
		if err != nil || len(told) > 0 {
			return err
		}
		return tx.AddMessageEvent(ctx, t.MessageID, tx.Now, r.state, r.text)
	})
}

// IsPermanent reports whether trying again is of no use after an error.
func IsPermanent(err error) bool {
	var p permanent
	return errors.As(err, &p)
}
