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
	"meldung/files/policyfile"
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

	mu       sync.RWMutex // guards what follows
	school   *School
	settings Settings
	codes    *policy.CodeSet
	ledger   *absence.Ledger

	cacheMu  sync.Mutex // guards what follows, for those who hold mu to read
	days     map[day.Date]*Day
	measures measures
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

// Settings returns what the school has decided.
func (o *Office) Settings() Settings {
	o.mu.RLock()
	defer o.mu.RUnlock()
	return o.settings
}

// Reload reads school, settings and marks afresh.
func (o *Office) Reload(ctx context.Context) error {
	o.writing.Lock()
	defer o.writing.Unlock()
	settings := UsualSettings()
	if _, err := store.Setting(ctx, o.store.Read(), settingsName, &settings); err != nil {
		return err
	}
	rows, err := store.LoadSchool(ctx, o.store.Read())
	if err != nil {
		return fmt.Errorf("reading the school: %w", err)
	}
	school, err := newSchool(rows)
	if err != nil {
		return err
	}
	codes, err := policyfile.ShippedCodes(settings.Codes)
	if err != nil {
		return err
	}
	var ledger *absence.Ledger
	if school.Calendar != nil {
		if ledger, err = fillLedger(ctx, o.store.Read(), school, codes); err != nil {
			return err
		}
	}
	o.mu.Lock()
	defer o.mu.Unlock()
	o.school, o.settings, o.codes, o.ledger = school, settings, codes, ledger
	o.days, o.measures = map[day.Date]*Day{}, measures{}
	return nil
}

// Snapshot is a steady look at the school: nothing in it changes while the function that
// was given it runs, and it must not be kept.
type Snapshot struct {
	School   *School
	Settings Settings
	Codes    *policy.CodeSet
	Ledger   *absence.Ledger // nil without a calendar
	Now      day.Instant
	office   *Office
}

// Read gives f the school, unchanged while f runs.
func (o *Office) Read(f func(v Snapshot) error) error {
	o.mu.RLock()
	defer o.mu.RUnlock()
	return f(Snapshot{School: o.school, Settings: o.settings, Codes: o.codes, Ledger: o.ledger, Now: o.clock.Now(), office: o})
}

// ReadDay gives f the school and the day of a moment, unchanged while f runs.
func (o *Office) ReadDay(ctx context.Context, m Moment, f func(v Snapshot, x *Day) error) error {
	return o.Read(func(v Snapshot) error {
		x, err := v.Day(ctx, m.Date)
		if err != nil {
			return err
		}
		return f(v, x)
	})
}

// Store returns the connections to read more from.
func (v Snapshot) Store() store.Queryer { return v.office.store.Read() }
