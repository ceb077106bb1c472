// Package access keeps who looked at what, beside the journal of who did what. A look is kept
// shortly after it was made, so that no reader waits for a write. It must not decide who may
// look.
package access

import (
	"context"
	"log/slog"
	"sync"
	"time"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/store"
	"meldung/work"
)

// Keeping is for how many days a look is kept.
const Keeping = 400

const (
	again   = 15               // minutes in which the same look is the same look
	every   = 2 * time.Second  // how often looks are kept
	most    = 20_000           // looks that wait to be kept, at most
	prune   = 6 * time.Hour    // how often those too old are removed
	patient = 10 * time.Second // how long keeping may take when the program ends
)

// Record keeps looks.
type Record struct {
	office *work.Office

	mu      sync.Mutex
	waiting []store.Look
	last    map[store.Look]day.Instant // when each look was made last, without its time
	lost    int                        // looks that there was no room for
}

// New returns a record that keeps looks in an office's store while Run runs.
func New(o *work.Office) *Record {
	return &Record{office: o, last: map[store.Look]day.Instant{}}
}

// Note notes a look. Its time is the present minute.
func (r *Record) Note(l store.Look) {
	now := r.office.Now()
	r.mu.Lock()
	defer r.mu.Unlock()
	l.At = 0
	if before, ok := r.last[l]; ok && now >= before && now < before+again {
		return
	}
	if len(r.waiting) >= most {
		r.lost++
		return
	}
	r.last[l] = now
	l.At = now
	r.waiting = append(r.waiting, l)
}

// Run keeps looks until the context ends, and then those that still wait.
func (r *Record) Run(ctx context.Context) {
	tick, old := time.NewTicker(every), time.NewTicker(prune)
	defer tick.Stop()
	defer old.Stop()
	r.try(ctx, r.Prune)
	for {
		select {
		case <-tick.C:
			r.try(ctx, r.Keep)
		case <-old.C:
			r.try(ctx, r.Prune)
		case <-ctx.Done():
			last, cancel := context.WithTimeout(context.WithoutCancel(ctx), patient)
			defer cancel()
			r.try(last, r.Keep)
			return
		}
	}
}

func (r *Record) try(ctx context.Context, f func(context.Context) error) {
	if err := f(ctx); err != nil && ctx.Err() == nil {
		slog.Error("keeping who looked at what", "error", err)
	}
}

// Keep stores the looks that wait. Where that fails they wait on.
func (r *Record) Keep(ctx context.Context) error {
	r.mu.Lock()
	looks, lost := r.waiting, r.lost
	r.waiting, r.lost = nil, 0
	for l, at := range r.last {
		if at+again <= r.office.Now() {
			delete(r.last, l)
		}
	}
	r.mu.Unlock()
	if lost > 0 {
		slog.Error("there was no room to note who looked at what", "looks", lost)
	}
	if len(looks) == 0 {
		return nil
	}
	err := r.office.Store().Write(ctx, func(tx *sqlx.Tx) error { return store.AddLooks(ctx, tx, looks) })
	if err != nil {
		r.mu.Lock()
		defer r.mu.Unlock()
		r.waiting = append(looks, r.waiting...)
	}
	return err
}

// Prune removes the looks that have been kept long enough.
func (r *Record) Prune(ctx context.Context) error {
	before := day.At(r.office.Now().Date()-Keeping, day.MustMinute("00:00"))
	return r.office.Store().Write(ctx, func(tx *sqlx.Tx) error { return store.PruneLooks(ctx, tx, before) })
}
