// Package work is the kernel of what people do: who does it, what they may, one write at
// a time, a steady look at the school and a day, and what follows a write. The packages
// below it hold a piece of work each and import it, never one another. It must not know
// of HTTP or pages; what the core says is handed on as it is.
package work

import (
	"context"
	"fmt"
	"strings"
	"sync"
	"sync/atomic"

	"github.com/jmoiron/sqlx"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/policy"
	"meldung/held"
	"meldung/held/dated"
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
	running   running
	version   atomic.Int64 // see Version
	last      atomic.Int64 // see LastEntry

	mu      sync.RWMutex // guards what follows
	records *held.Records

	cacheMu sync.Mutex // guards what follows, for those who hold mu to read
	days    map[day.Date]*Day
	ledgers ledgers
	answers answers // nil while nobody has asked

	unsettled map[day.Date]dated.Unsettled // what days that are over left open; see Unsettled

	remembered   map[string]remembered // by key; see Remember
	rememberedOn day.Date              // on which day they were made
}

// Open reads the school from the store and fills the ledger.
func Open(ctx context.Context, s *store.Store, clock Clock) (*Office, error) {
	o := &Office{store: s, clock: clock}
	if err := o.Reload(ctx); err != nil {
		return nil, fmt.Errorf("opening the school: %w", err)
	}
	return o, nil
}

// Beside returns an office of a copy of the store, made since this office's last write, with what this one has read
// already: a test that opens the same school as another reads it but once.
func (o *Office) Beside(s *store.Store, clock Clock) *Office {
	o.mu.RLock()
	defer o.mu.RUnlock()
	o.cacheMu.Lock()
	defer o.cacheMu.Unlock()
	out := &Office{store: s, clock: clock}
	out.last.Store(o.last.Load())
	var filled ledgers
	for _, l := range o.ledgers {
		l.mu.Lock()
		if l.ledger != nil {
			filled = append(filled, &ledgerOf{year: l.year, ledger: l.ledger.Clone(), lost: l.lost})
		}
		l.mu.Unlock()
	}
	out.take(o.records, filled)
	return out
}

// Now returns the present minute.
func (o *Office) Now() day.Instant { return o.clock.Now() }

// Unix returns the present second, for codes that change with it.
func (o *Office) Unix() int64 { return o.clock.Unix() }

// Store returns the office's store.
func (o *Office) Store() *store.Store { return o.store }

// Settings returns what some sections have decided, every one where none is given, as it holds
// today: as the first of them has it, with the reasons of all.
func (o *Office) Settings(of ...ids.Section) held.Settings {
	o.mu.RLock()
	defer o.mu.RUnlock()
	var list []held.Settings
	for _, s := range o.records.Sections() {
		if held.InScope(of, s.ID) {
			list = append(list, s.SettingsOn(o.clock.Now().Date()).Settings)
		}
	}
	return held.Together(list)
}

// SchoolName returns what the school is called today.
func (o *Office) SchoolName() string {
	o.mu.RLock()
	defer o.mu.RUnlock()
	return o.records.Sections()[0].SettingsOn(o.clock.Now().Date()).Name
}

// Reload reads school and settings afresh; ledgers are filled when they are asked for.
func (o *Office) Reload(ctx context.Context) error {
	o.writing.Lock()
	defer o.writing.Unlock()
	records, err := held.Load(ctx, o.store.Read())
	if err != nil {
		return err
	}
	last, err := store.LastEntry(ctx, o.store.Read())
	if err != nil {
		return err
	}
	o.last.Store(int64(last))
	o.take(records, nil)
	return nil
}

// take has the office look at records from now on, with ledgers that are filled already.
func (o *Office) take(records *held.Records, filled ledgers) {
	o.mu.Lock()
	defer o.mu.Unlock()
	o.records, o.days, o.ledgers, o.answers, o.remembered, o.unsettled = records, map[day.Date]*Day{}, filled, nil, nil, nil
}

// Warm fills the ledgers of the present school year and of the one before, beside which it
// stands, so that nobody has to wait for them.
func (o *Office) Warm(ctx context.Context) error {
	return o.Read(ctx, func(v Snapshot) error {
		for _, s := range v.Sections() {
			y := s.YearBefore(v.On)
			if y == nil {
				continue
			}
			_, last := y.Calendar.Span()
			if _, err := s.At(ctx, last); err != nil {
				return err
			}
		}
		return nil
	})
}

// reload is Reload for who holds the lock on writing. The ledgers of the present school year
// are filled before the pages see any of it: they show what was until then.
func (o *Office) reload(ctx context.Context) error {
	records, err := held.Load(ctx, o.store.Read())
	if err != nil {
		return err
	}
	var filled ledgers
	var of []*held.Section
	for _, s := range records.On(o.clock.Now().Date()).Sections() {
		if s.Year() != nil {
			filled, of = append(filled, &ledgerOf{year: s.Year()}), append(of, s)
		}
	}
	if err := filled.fill(ctx, o.store.Read(), of); err != nil {
		return err
	}
	o.take(records, filled)
	return nil
}

// Tidy removes what is older than it is of use; see store.Tidy.
func (o *Office) Tidy(ctx context.Context) error {
	return o.store.Write(ctx, func(tx *sqlx.Tx) error { return store.Tidy(ctx, tx, o.clock.Now().Date()) })
}

// Still gives f the school of today while nothing can be written, with what ledgers there are.
func (o *Office) Still(ctx context.Context, f func(v Snapshot) error) error {
	o.writing.Lock()
	defer o.writing.Unlock()
	o.mu.RLock()
	defer o.mu.RUnlock()
	now := o.clock.Now()
	return f(Snapshot{Now: now, office: o}.unfilled(now.Date()))
}

// Snapshot is a steady look at the school as it held on a date: nothing in it changes while
// the function that was given it runs, and it must not be kept.
type Snapshot struct {
	On       day.Date
	School   *held.School
	Now      day.Instant
	sections []Section
	office   *Office
	tx       *Tx // the write that looks; nil for none
}

// Section is a steady look at one section of the school: its calendar, what it has decided,
// its codes and its ledger, beside the whole school of the same date.
type Section struct {
	Snapshot
	*held.Section
	Settings held.Settings
	Codes    *policy.CodeSet
	Ledger   *absence.Ledger // of the school year; nil without a calendar
	filled   *ledgerOf
}

// Sections returns every section, in their order; there is one at least.
func (v Snapshot) Sections() []Section { return v.sections }

// In returns the sections of a scope, in their order: every one where it is empty.
func (v Snapshot) In(scope Scope) []Section {
	if len(scope) == 0 {
		return v.sections
	}
	var out []Section
	for _, s := range v.sections {
		if scope.Has(s.ID) {
			out = append(out, s)
		}
	}
	return out
}

// Of returns the section that a student belongs to.
func (v Snapshot) Of(student ids.Student) Section { return v.section(v.School.SectionOf(student).ID) }

// OfClass returns the section that a class belongs to.
func (v Snapshot) OfClass(class ids.Class) Section {
	return v.section(v.School.SectionOfClass(class).ID)
}

func (v Snapshot) section(id ids.Section) Section {
	for _, s := range v.sections {
		if s.ID == id {
			return s
		}
	}
	return v.sections[0]
}

// SectionWith returns the section with this id, or the only one where none is given.
func (v Snapshot) SectionWith(id ids.Section) (Section, error) {
	if id == 0 && len(v.sections) == 1 {
		return v.sections[0], nil
	}
	for _, s := range v.sections {
		if s.ID == id {
			return s, nil
		}
	}
	if id == 0 {
		return Section{}, Wrongf("say which section is meant: %s", sectionNames(v.sections))
	}
	return Section{}, NotFoundf("there is no section %d", id)
}

// SectionsWith returns the section with this id, or every one where none is given.
func (v Snapshot) SectionsWith(id ids.Section) ([]Section, error) {
	if id == 0 {
		return v.sections, nil
	}
	one, err := v.SectionWith(id)
	return []Section{one}, err
}

func sectionNames(list []Section) string {
	names := make([]string, len(list))
	for i, s := range list {
		names[i] = s.Name
	}
	return strings.Join(names, ", ")
}

// OfSection names a section in a sentence about it, " of Fairlead"; it is empty where the
// school has one only.
func (v Snapshot) OfSection(id ids.Section) string {
	if name := v.Among(id); name != "" {
		return " of " + name
	}
	return ""
}

// Among names a section among others; it is empty where the school has one only.
func (v Snapshot) Among(id ids.Section) string {
	if len(v.sections) == 1 {
		return ""
	}
	return v.section(id).Name
}

// ScopeText says in words what a scope covers; empty where the school has one section only.
func (v Snapshot) ScopeText(scope Scope) string {
	if len(v.sections) == 1 {
		return ""
	}
	if in := v.In(scope); len(in) < len(v.sections) {
		return sectionNames(in)
	}
	return "all sections"
}

// SchoolName returns what the school is called.
func (v Snapshot) SchoolName() string { return v.sections[0].Settings.Name }

// Offered returns the reasons that the sections of a scope offer, each word once, in the order
// of the first.
func (v Snapshot) Offered(scope Scope) []held.Reason {
	var list []held.Settings
	for _, s := range v.In(scope) {
		list = append(list, s.Settings)
	}
	return held.Together(list).Offered()
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
	v = v.unfilled(d)
	var kept ledgers
	var of []*held.Section
	for _, s := range v.sections {
		if s.filled != nil {
			kept, of = append(kept, s.filled), append(of, s.Section)
		}
	}
	if err := kept.fill(ctx, v.Store(), of); err != nil {
		return v, err
	}
	for i, s := range v.sections {
		if s.filled != nil {
			v.sections[i].Ledger = s.filled.ledger
		}
	}
	return v, nil
}

// unfilled is At without the ledgers.
func (v Snapshot) unfilled(d day.Date) Snapshot {
	v.On, v.School, v.sections = d, v.office.records.On(d), nil
	for _, s := range v.School.Sections() {
		settings := s.SettingsOn(v.On)
		one := Section{Section: s, Settings: settings.Settings, Codes: settings.Codes}
		if s.Year() != nil {
			one.filled = v.office.ledgerOf(s.Year())
		}
		v.sections = append(v.sections, one)
	}
	for i := range v.sections {
		v.sections[i].Snapshot = v
	}
	return v
}

// At returns the same look at the section as it held on another date.
func (s Section) At(ctx context.Context, d day.Date) (Section, error) {
	v, err := s.Snapshot.At(ctx, d)
	if err != nil {
		return s, err
	}
	return v.section(s.ID), nil
}

// CodesOn returns the code set that holds in the section on a date.
func (s Section) CodesOn(d day.Date) *policy.CodeSet { return s.SettingsOn(d).Codes }

// ReadDay gives f the school as it held at a moment, and as much of its day as the moment's
// scope covers, unchanged while f runs.
func (o *Office) ReadDay(ctx context.Context, m Moment, f func(v Snapshot, x *Day) error) error {
	return o.ReadOn(ctx, m.Date, func(v Snapshot) error {
		x, err := v.Day(ctx, m.Date)
		if err != nil {
			return err
		}
		return f(v, x.In(m.Scope))
	})
}

// Store returns the connections to read more from.
func (v Snapshot) Store() store.Queryer { return v.office.store.Read() }
