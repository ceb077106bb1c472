package messages_test

import (
	"context"
	"errors"
	"fmt"
	"sync"
	"testing"
	"time"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/demo/demotest"
	"meldung/pages/todaypage"
	"meldung/store"
	"meldung/work"
	"meldung/work/home"
	"meldung/work/messages"
	"meldung/work/takeback"
)

// scripted is a carrier of the tests' own: it answers what it is told to, and keeps what it was
// handed.
type scripted struct {
	mu      sync.Mutex
	answers []error // by try; the last from then on
	handed  []messages.Outgoing
	wait    chan struct{} // closed to let messages through; nil for at once
	begun   chan struct{}
}

func (s *scripted) Carry(ctx context.Context, m messages.Outgoing) (string, error) {
	s.mu.Lock()
	n := len(s.handed)
	s.handed = append(s.handed, m)
	wait := s.wait
	s.mu.Unlock()
	if s.begun != nil {
		s.begun <- struct{}{}
	}
	if wait != nil {
		select {
		case <-wait:
		case <-ctx.Done():
			return "", ctx.Err()
		}
	}
	if len(s.answers) == 0 {
		return "ref-" + m.Key, nil
	}
	err := s.answers[min(n, len(s.answers)-1)]
	return "", err
}

// texted writes to the home of a student and returns the message, whose seconds for taking it back
// have passed.
func texted(t *testing.T, o *work.Office, name string) ids.Message {
	t.Helper()
	r, err := home.TextHomes(t.Context(), o, demotest.Officer, "text about "+name, home.HomeText{Students: demotest.IDs(t, o, name)})
	require.NoError(t, err)
	require.Len(t, r.IDs, 1)
	require.NoError(t, o.Store().Write(t.Context(), func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(t.Context(), `UPDATE message SET leaves = 0 WHERE id = ?`, r.IDs[0])
		return err
	}))
	return ids.Message(r.IDs[0])
}

// What can be taken back waits, and what was taken back never leaves.
func TestATextWaitsForItsSeconds(t *testing.T) {
	t.Parallel()
	o, clock := aMorning(t)
	ctx := t.Context()
	c := &scripted{}
	var entries []ids.Entry
	for _, name := range []string{"Cato Vane", "Idris Quell"} {
		r, err := home.TextHomes(ctx, o, demotest.Officer, "text about "+name, home.HomeText{Students: demotest.IDs(t, o, name)})
		require.NoError(t, err)
		entries = append(entries, r.Seq)
	}
	require.NoError(t, byText(o, c).Round(ctx, work.ByText))
	assert.Empty(t, c.handed)
	_, err := takeback.Entry(ctx, o, demotest.Officer, "back", entries[0])
	require.NoError(t, err)
	clock.Set(clock.Now() + 1)
	require.NoError(t, byText(o, c).Round(ctx, work.ByText))
	require.Len(t, c.handed, 1)
	assert.Contains(t, c.handed[0].Text, "Idris")
}

// aMorning is the school without the simulation's reminders under way: what is told is told by
// the carrier of the test.
func aMorning(t *testing.T) (*work.Office, *demotest.Clock) {
	t.Helper()
	o, clock := demotest.CopyWithClock(t)
	for _, m := range demotest.Outbox(t, o, demotest.Officer) {
		if m.State == work.Waiting && m.Channel == work.ByText {
			t.Fatal("something waits already")
		}
	}
	return o, clock
}

func state(t *testing.T, o *work.Office, id ids.Message) (state, trying string, steps []todaypage.MessageStep) {
	t.Helper()
	for _, m := range demotest.Outbox(t, o, demotest.Officer) {
		if m.ID == id {
			return m.State, m.Trying, m.Steps
		}
	}
	t.Fatalf("there is no message %d", id)
	return "", "", nil
}

func byText(o *work.Office, c messages.Carrier) *messages.Worker {
	return messages.NewWorker(o, map[string]messages.Carrier{work.ByText: c}, nil)
}

func TestAMessageIsTriedAgainAndGoesOutOnce(t *testing.T) {
	t.Parallel()
	o, clock := aMorning(t)
	id := texted(t, o, "Cato Vane")
	c := &scripted{answers: []error{errors.New("the carrier answered 503"), errors.New("the carrier answered 503"), nil}}
	w := byText(o, c)
	require.NoError(t, w.Round(t.Context(), work.ByText))
	is, trying, _ := state(t, o, id)
	assert.Equal(t, "waiting", is)
	assert.Equal(t, "the carrier answered 503; tried 1 time, again at 09:13", trying)
	require.NoError(t, w.Round(t.Context(), work.ByText), "not before its time")
	assert.Len(t, c.handed, 1)
	for range 5 {
		clock.Set(o.Now() + 1)
		require.NoError(t, w.Round(t.Context(), work.ByText))
	}
	is, trying, steps := state(t, o, id)
	assert.Equal(t, []string{"sent", ""}, []string{is, trying})
	assert.Len(t, steps, 1)
	assert.Len(t, c.handed, 3, "and never again")
	assert.Equal(t, c.handed[0].Key, c.handed[2].Key, "under one key")
	assert.Equal(t, "Fairlead School", c.handed[0].Subject)
}

func TestAMessageThatCantGoOutFails(t *testing.T) {
	t.Parallel()
	o, clock := aMorning(t)
	id := texted(t, o, "Cato Vane")
	w := byText(o, &scripted{answers: []error{messages.Permanent(errors.New("the carrier refused it with 400"))}})
	require.NoError(t, w.Round(t.Context(), work.ByText))
	is, _, steps := state(t, o, id)
	assert.Equal(t, "failed", is)
	assert.Equal(t, "the carrier refused it with 400", steps[0].Text)

	// What nobody could send within the hour is not sent in the afternoon.
	late := texted(t, o, "Bram Ollerton")
	c := &scripted{answers: []error{errors.New("the carrier can't be reached")}}
	w = byText(o, c)
	for range 64 {
		clock.Set(o.Now() + 1)
		require.NoError(t, w.Round(t.Context(), work.ByText))
	}
	is, _, steps = state(t, o, late)
	assert.Equal(t, "failed", is)
	assert.Equal(t, "not sent within 60 minutes", steps[0].Text)
	assert.Less(t, len(c.handed), 20, "it waits longer each time")
}

// While a carrier keeps everybody waiting, what is stored is stored and what is read is read.
func TestASlowCarrierSlowsNobody(t *testing.T) {
	t.Parallel()
	o, _ := aMorning(t)
	id := texted(t, o, "Cato Vane")
	c := &scripted{wait: make(chan struct{}), begun: make(chan struct{}, 1)}
	w := byText(o, c)
	done := make(chan error)
	go func() { done <- w.Round(t.Context(), work.ByText) }()
	<-c.begun
	began := time.Now()
	_, trying, _ := state(t, o, id)
	assert.Equal(t, "on its way", trying)
	texted(t, o, "Bram Ollerton")
	assert.Less(t, time.Since(began), 5*time.Second)
	other := byText(o, &scripted{})
	require.NoError(t, other.Round(t.Context(), work.ByText), "a second worker takes what is not under way")
	close(c.wait)
	require.NoError(t, <-done)
	is, _, _ := state(t, o, id)
	assert.Equal(t, "sent", is)
	assert.Len(t, c.handed, 1)
}

// A stop in the middle of sending: it is told that the message may have arrived, and it is not sent
// again by itself.
func TestAStopSendsNothingTwice(t *testing.T) {
	t.Parallel()
	o, clock := aMorning(t)
	id := texted(t, o, "Cato Vane")
	c := &scripted{wait: make(chan struct{}), begun: make(chan struct{}, 1)}
	ctx, stop := context.WithCancel(t.Context())
	done := make(chan error)
	go func() { done <- byText(o, c).Round(ctx, work.ByText) }()
	<-c.begun
	stop()
	require.Error(t, <-done)

	again := &scripted{}
	w := byText(o, again)
	require.NoError(t, w.Resume(t.Context()))
	clock.Set(o.Now() + 10)
	require.NoError(t, w.Round(t.Context(), work.ByText))
	is, _, steps := state(t, o, id)
	assert.Equal(t, "failed", is)
	assert.Equal(t, "the program stopped while it went out: it may have arrived", steps[0].Text)
	assert.Empty(t, again.handed)
}

// Without a carrier messages wait; each channel has its own.
func TestWithoutACarrierMessagesWait(t *testing.T) {
	t.Parallel()
	o, _ := aMorning(t)
	id := texted(t, o, "Cato Vane")
	c := &scripted{}
	w := messages.NewWorker(o, map[string]messages.Carrier{work.ByEMail: c}, nil)
	require.NoError(t, w.Round(t.Context(), work.ByEMail))
	require.NoError(t, w.Round(t.Context(), work.ByText))
	require.NoError(t, messages.Tick(t.Context(), o, nil, o.Now()))
	is, _, _ := state(t, o, id)
	assert.Equal(t, "waiting", is)
	assert.Empty(t, c.handed)
}

// The worker by itself: what is written goes out without being asked for.
func TestTheWorkerSendsWhatIsWritten(t *testing.T) {
	t.Parallel()
	o, _ := aMorning(t)
	c := &scripted{begun: make(chan struct{}, 4)}
	ctx, stop := context.WithCancel(t.Context())
	ended := make(chan struct{})
	go func() { byText(o, c).Run(ctx); close(ended) }()
	id := texted(t, o, "Cato Vane")
	<-c.begun
	require.Eventually(t, func() bool { is, _, _ := state(t, o, id); return is == "sent" }, 10*time.Second, 10*time.Millisecond)
	stop()
	<-ended
}

func TestWhatACarrierTellsIsTakenOnce(t *testing.T) {
	t.Parallel()
	o, _ := aMorning(t)
	ctx := t.Context()
	id := texted(t, o, "Cato Vane")
	c := &scripted{}
	require.NoError(t, byText(o, c).Round(ctx, work.ByText))
	key, number := c.handed[0].Key, c.handed[0].Address
	reports := []messages.CarrierReport{
		{ID: "r1", Message: "ref-" + key, State: "delivered"},
		{ID: "r2", Message: key, State: "replied", Text: " Ill today "},
		{ID: "r3", From: "+44 " + number[1:], State: "replied", Text: "until Thursday"},
		{ID: "r4", Message: "meldung-1-" + fmt.Sprint(id), State: "delivered"},
		{ID: "r5", Message: "no such thing", State: "failed"},
		{ID: "r6", From: "07700 900 999", State: "replied", Text: "who is this"},
		{ID: "r7", State: "failed"},
	}
	got, err := messages.TakeReports(ctx, o, reports)
	require.NoError(t, err)
	assert.Equal(t, messages.TakenReports{Taken: 3, Unknown: []string{"r4", "r5", "r6", "r7"}}, got)
	got, err = messages.TakeReports(ctx, o, reports)
	require.NoError(t, err)
	assert.Equal(t, []int{0, 3}, []int{got.Taken, got.Before})
	_, _, steps := state(t, o, id)
	assert.Len(t, steps, 4, "sent, delivered and two answers")
	today, err := todaypage.Show(ctx, o, "")
	require.NoError(t, err)
	require.NotEmpty(t, today.Answers)
	assert.Equal(t, "until Thursday", today.Answers[len(today.Answers)-1].Text)
	for _, wrong := range []messages.CarrierReport{{State: "delivered"}, {ID: "x", State: "eaten"}, {ID: "x", State: "replied", Text: string(make([]byte, 2000))}} {
		_, err := messages.TakeReports(ctx, o, []messages.CarrierReport{wrong})
		assert.Equal(t, work.Wrong, demotest.Kind(t, err))
	}
	tries, err := store.TriesOn(ctx, o.Store().Read(), day.MustDate(demotest.Date))
	require.NoError(t, err)
	assert.Len(t, tries, 1)
}
