// Package work is the kernel of what people do: who does it, what they may, one write at
// a time, a steady look at the school and a day, and what follows a write. The packages
// below it hold a piece of work each and import it, never one another. It must not know
// of HTTP or pages; what the core says is handed on as it is.
package work

import (
	"context"
	"fmt"
	"sync"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/policy"
	"meldung/held"
	"meldung/store"
)

// Clock tells the present minute in the school's zone, and the second for codes
// that change faster.
type Clock interface {
	Now() day.Instant
	Unix() int64
}

// Office is a school at work: its store, its clock and its ledger in memory.
type Office struct {
	store     *store.Store
	clock     Clock
	writing   sync.Mutex // one write at a time, so that the ledger follows the store
	listeners listeners

	mu      sync.RWMutex // guards what follows
	records *held.Records

	cacheMu sync.Mutex // guards what follows, for those who hold mu to read
	days    map[day.Date]*Day
	ledgers ledgers
}

// Open reads the school from the store and fills the ledger.
func Open(ctx context.Context, s *store.Store, clock Clock) (*Office, error) {
	o := &Office{store: s, clock: clock}
	if err := o.Reload(ctx); err != nil {
		return nil, fmt.Errorf("opening the school: %w", err)
	}
	return o, nil
}

// Now returns the present minute.
func (o *Office) Now() day.Instant { return o.clock.Now() }

// Unix returns the present second, for codes that change with it.
func (o *Office) Unix() int64 { return o.clock.Unix() }

// Store returns the office's store.
func (o *Office) Store() *store.Store { return o.store }

// Settings returns what the school has decided, as it holds today.
func (o *Office) Settings() held.Settings {
	o.mu.RLock()
	defer o.mu.RUnlock()
	return o.records.SettingsOn(o.clock.Now().Date()).Settings
}

// Reload reads school and settings afresh; ledgers are filled when they are asked for.
func (o *Office) Reload(ctx context.Context) error {
	o.writing.Lock()
	defer o.writing.Unlock()
	records, err := held.Load(ctx, o.store.Read())
	if err != nil {
		return err
	}
	o.take(records, nil)
	return nil
}

// take has the office look at records from now on, with ledgers that are filled already.
func (o *Office) take(records *held.Records, filled ledgers) {
	o.mu.Lock()
	defer o.mu.Unlock()
	o.records, o.days, o.ledgers = records, map[day.Date]*Day{}, filled
}

// Warm fills the ledgers of the present school year and of the one before, beside which it
// stands, so that nobody has to wait for them.
func (o *Office) Warm(ctx context.Context) error {
	return o.Read(ctx, func(v Snapshot) error {
		y := v.School.Records().YearBefore(v.On)
		if y == nil {
			return nil
		}
		_, last := y.Calendar.Span()
		_, err := v.At(ctx, last)
		return err
	})
}

// reload is Reload for who holds the lock on writing. The ledger of the present school year is
// filled before the pages see any of it: they show what was until then.
func (o *Office) reload(ctx context.Context) error {
	records, err := held.Load(ctx, o.store.Read())
	if err != nil {
		return err
	}
	school := records.On(o.clock.Now().Date())
	if school.Year() == nil {
		o.take(records, nil)
		return nil
	}
	l := &ledgerOf{year: school.Year()}
	if err := l.fill(ctx, o.store.Read(), school); err != nil {
		return err
	}
	o.take(records, ledgers{l})
	return nil
}

// Snapshot is a steady look at the school as it held on a date: nothing in it changes while
// the function that was given it runs, and it must not be kept.
type Snapshot struct {
	On       day.Date
	School   *held.School
	Settings held.Settings
	Codes    *policy.CodeSet
	Ledger   *absence.Ledger // of the school year; nil without a calendar
	Now      day.Instant
	held     *ledgerOf
	office   *Office
}

// Read gives f the school of today, unchanged while f runs.
func (o *Office) Read(ctx context.Context, f func(v Snapshot) error) error {
	return o.ReadOn(ctx, o.clock.Now().Date(), f)
}

// ReadOn gives f the school as it held on a date, unchanged while f runs.
func (o *Office) ReadOn(ctx context.Context, d day.Date, f func(v Snapshot) error) error {
	o.mu.RLock()
	defer o.mu.RUnlock()
	v, err := Snapshot{Now: o.clock.Now(), office: o}.At(ctx, d)
	if err != nil {
		return err
	}
	return f(v)
}

// At returns the same look at the school as it held on another date.
func (v Snapshot) At(ctx context.Context, d day.Date) (Snapshot, error) {
	settings := v.office.records.SettingsOn(d)
	v.On, v.School, v.Settings, v.Codes = d, v.office.records.On(d), settings.Settings, settings.Codes
	v.held, v.Ledger = nil, nil
	if v.School.Year() == nil {
		return v, nil
	}
	v.held = v.office.ledgerOf(v.School.Year())
	err := v.held.fill(ctx, v.Store(), v.School)
	v.Ledger = v.held.ledger
	return v, err
}

// CodesOn returns the code set that holds on a date.
func (v Snapshot) CodesOn(d day.Date) *policy.CodeSet { return v.office.records.SettingsOn(d).Codes }

// ReadDay gives f the school as it held at a moment, and its day, unchanged while f runs.
func (o *Office) ReadDay(ctx context.Context, m Moment, f func(v Snapshot, x *Day) error) error {
	return o.ReadOn(ctx, m.Date, func(v Snapshot) error {
		x, err := v.Day(ctx, m.Date)
		if err != nil {
			return err
		}
		return f(v, x)
	})
}

// Store returns the connections to read more from.
func (v Snapshot) Store() store.Queryer { return v.office.store.Read() }
