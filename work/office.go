// Package work holds what people do, a file for each piece of work: permission,
// one transaction, the core, the store. It must not know of HTTP or pages; what
// the core says is handed on as it is.
package work

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"
	"sync"

	"github.com/jmoiron/sqlx"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/policy"
	"meldung/core/whereabouts"
	"meldung/files/policyfile"
	"meldung/store"
)

// Clock tells the present minute in the school's zone, and the second for codes
// that change faster.
type Clock interface {
	Now() day.Instant
	Unix() int64
}

// Role is what an account may do.
type Role string

// The roles.
const (
	Officer       Role = "officer"
	Pastoral      Role = "pastoral"
	Teacher       Role = "teacher"
	Desk          Role = "desk"
	Leader        Role = "leader"
	Administrator Role = "administrator"
)

// Roles lists the roles.
var Roles = []Role{Officer, Pastoral, Teacher, Desk, Leader, Administrator}

// Person is who does a piece of work.
type Person struct {
	Account int64
	Name    string
	Role    Role
	Staff   int64       // 0 for none
	at      day.Instant // when it is done, where that is not now: the demonstration's own people
}

// ActingAt returns the person doing things at an instant of the demonstration.
func (p Person) ActingAt(i day.Instant) Person { p.at = i; return p }

// ErrorKind says what sort of mistake an Error is.
type ErrorKind uint8

// The kinds of mistake.
const (
	Wrong ErrorKind = iota
	NotFound
	Refused
	Conflict
)

// Error is a mistake that the person who made it can understand and mend.
type Error struct {
	Kind  ErrorKind
	Words string
}

func (e *Error) Error() string { return e.Words }

func wrong(format string, args ...any) error { return &Error{Wrong, fmt.Sprintf(format, args...)} }
func notFound(format string, args ...any) error {
	return &Error{NotFound, fmt.Sprintf(format, args...)}
}
func refused(format string, args ...any) error { return &Error{Refused, fmt.Sprintf(format, args...)} }
func conflict(format string, args ...any) error {
	return &Error{Conflict, fmt.Sprintf(format, args...)}
}

// Event tells the pages that something changed.
type Event struct {
	Seq   int64  `json:"seq" doc:"The journal entry that made the change"`
	Kind  string `json:"kind" doc:"What was done"`
	Scope string `json:"scope,omitempty" doc:"All that the change concerns, where that is one register: date, class and slot"`
}

// Office is a school at work: its store, its clock and its ledger in memory.
type Office struct {
	store   *store.Store
	clock   Clock
	gateway Gateway    // nil for none: messages wait
	writing sync.Mutex // one write at a time, so that the ledger follows the store

	mu       sync.RWMutex // guards what follows
	school   *School
	settings Settings
	codes    *policy.CodeSet
	ledger   *absence.Ledger

	cacheMu sync.Mutex // guards what follows, for those who hold mu to read
	days    map[day.Date]*Day
	panel   *absence.Panel   // every shipped policy
	signal  *absence.Measure // what the signals look at

	listeners sync.Map // chan Event → struct{}
}

// Open reads the school from the store and fills the ledger. Without a gateway, messages wait.
func Open(ctx context.Context, s *store.Store, clock Clock, gateway Gateway) (*Office, error) {
	o := &Office{store: s, clock: clock, gateway: gateway}
	if err := o.Reload(ctx); err != nil {
		return nil, fmt.Errorf("opening the school: %w", err)
	}
	return o, nil
}

// Now returns the present minute.
func (o *Office) Now() day.Instant { return o.clock.Now() }

// Store returns the office's store, for sign-in sessions and checks.
func (o *Office) Store() *store.Store { return o.store }

// Reload reads school, settings and marks afresh.
func (o *Office) Reload(ctx context.Context) error {
	o.writing.Lock()
	defer o.writing.Unlock()
	return o.reload(ctx)
}

func (o *Office) reload(ctx context.Context) error {
	settings := UsualSettings()
	if _, err := store.Setting(ctx, o.store.Read(), "school", &settings); err != nil {
		return err
	}
	raw, err := store.LoadSchool(ctx, o.store.Read())
	if err != nil {
		return fmt.Errorf("reading the school: %w", err)
	}
	school, err := newSchool(raw)
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
	o.days, o.panel, o.signal = map[day.Date]*Day{}, nil, nil
	return nil
}

// fillLedger builds the ledger from every mark in force.
func fillLedger(ctx context.Context, q store.Queryer, school *School, codes *policy.CodeSet) (*absence.Ledger, error) {
	l := absence.NewLedger(school.Calendar, codes)
	for _, s := range school.Students {
		l.AddStudent(school.ledgerStudent(s))
	}
	err := store.EachMark(ctx, q, func(m store.LedgerMark) error { return setInLedger(l, school, codes, m) })
	return l, err
}

func setInLedger(l *absence.Ledger, school *School, codes *policy.CodeSet, m store.LedgerMark) error {
	s, d, pos, ok := school.cell(m.StudentID, m.Date, m.Slot)
	code, known := codes.Index(m.Code)
	if !ok || !known || !l.Due(s, d, pos) {
		return nil // taken when the student was due; the timetable has changed since
	}
	mark := absence.Mark{Code: code, From: absence.Missing, To: absence.Missing, Class: school.Classes[m.ClassID].Title}
	if m.AwayFrom != nil {
		mark.From = *m.AwayFrom
	}
	if m.AwayTo != nil {
		mark.To = *m.AwayTo
	}
	return l.Set(s, d, pos, mark)
}

// writing is one write under way.
type writing struct {
	ctx     context.Context
	tx      *sqlx.Tx
	office  *Office
	person  Person
	journal store.Journal
	now     day.Instant
	marks   []store.Mark
	aside   bool   // it changes nothing that a day's evidence is made of
	scope   string // the one thing it concerns, for those who follow
	quiet   bool   // nobody who follows needs to look again
}

// write does a piece of work once: in one transaction, with a journal entry, and
// with its answer kept for a repeat of the key. The ledger, the pages and the
// day's cache follow when it is safely stored.
func (o *Office) write(ctx context.Context, p Person, key, kind string, answer any, f func(w *writing) error) error {
	o.writing.Lock()
	defer o.writing.Unlock()
	if key != "" {
		done, err := store.Answered(ctx, o.store.Read(), key)
		if err != nil {
			return err
		}
		if done != nil {
			return repeat(done, kind, answer)
		}
	}
	w := &writing{ctx: ctx, office: o, person: p, now: o.clock.Now()}
	if p.at != 0 {
		w.now = p.at
	}
	err := o.store.Write(ctx, func(tx *sqlx.Tx) error {
		w.tx = tx
		entry := store.Journal{Known: w.now, Kind: kind}
		if p.Account != 0 {
			entry.Account = &p.Account
		}
		if key != "" {
			entry.Key = &key
		}
		var err error
		if w.journal, err = store.AddJournal(ctx, tx, entry); err != nil {
			return err
		}
		if err := f(w); err != nil {
			return err
		}
		if key == "" || answer == nil {
			return nil
		}
		text, err := json.Marshal(answer)
		if err != nil {
			return err
		}
		return store.SetAnswer(ctx, tx, w.journal.ID, string(text))
	})
	if err != nil {
		return err
	}
	if !w.aside {
		o.follow(w)
	}
	if !w.quiet {
		o.publish(Event{w.journal.ID, kind, w.scope})
	}
	return nil
}

// writeToday does a piece of work on the present day: a write that looks at the school
// and at what is known of the day so far.
func (o *Office) writeToday(ctx context.Context, p Person, key, kind string, answer any, f func(w *writing, v view, x *Day) error) error {
	return o.write(ctx, p, key, kind, answer, func(w *writing) error {
		return o.look(func(v view) error {
			x, err := v.day(ctx, w.now.Date())
			if err != nil {
				return err
			}
			return f(w, v, x)
		})
	})
}

func repeat(done *store.Journal, kind string, answer any) error {
	if done.Kind != kind {
		return conflict("this key was used for something else: %s", done.Kind)
	}
	if answer == nil || done.Answer == nil {
		return nil
	}
	return json.Unmarshal([]byte(*done.Answer), answer)
}

func (o *Office) follow(w *writing) {
	o.mu.Lock()
	defer o.mu.Unlock()
	for _, m := range w.marks {
		// A mark that the ledger can't hold was refused before it was stored.
		_ = setInLedger(o.ledger, o.school, o.codes, store.LedgerMark{Date: m.Date, Slot: m.Slot, StudentID: m.StudentID,
			ClassID: m.ClassID, Code: m.Code, AwayFrom: m.AwayFrom, AwayTo: m.AwayTo})
	}
	o.days = map[day.Date]*Day{}
}

// Listen returns a channel of events until stop is called. A listener that does
// not keep up misses events, never holds others up.
func (o *Office) Listen() (events <-chan Event, stop func()) {
	ch := make(chan Event, 16)
	o.listeners.Store(ch, struct{}{})
	return ch, func() { o.listeners.Delete(ch) }
}

func (o *Office) publish(e Event) {
	o.listeners.Range(func(k, _ any) bool {
		select {
		case k.(chan Event) <- e:
		default:
		}
		return true
	})
}

// view is a steady look at the school while a page is put together.
type view struct {
	o        *Office
	school   *School
	settings Settings
	codes    *policy.CodeSet
}

// look gives f the school, unchanged while f runs.
func (o *Office) look(f func(v view) error) error {
	o.mu.RLock()
	defer o.mu.RUnlock()
	return f(view{o, o.school, o.settings, o.codes})
}

// panel returns every shipped policy made ready for the ledger, made once.
func (v view) panel() (*absence.Panel, error) {
	if v.o.ledger == nil {
		return nil, notFound("there is no calendar yet: import a timetable first")
	}
	v.o.cacheMu.Lock()
	defer v.o.cacheMu.Unlock()
	if v.o.panel == nil {
		var policies []*policy.Policy
		for _, id := range policyfile.Policies() {
			p, err := policyfile.Shipped(id)
			if err != nil {
				return nil, fmt.Errorf("reading the policy %s: %w", id, err)
			}
			policies = append(policies, p)
		}
		v.o.panel = absence.NewPanel(v.o.ledger, policies...)
	}
	return v.o.panel, nil
}

// measure returns a shipped policy made ready for the ledger.
func (v view) measure(id string) (*absence.Measure, error) {
	panel, err := v.panel()
	if err != nil {
		return nil, err
	}
	for _, m := range panel.Measures() {
		if m.Policy().ID == id {
			return m, nil
		}
	}
	return nil, notFound("there is no shipped policy %q; there are %s", id, strings.Join(policyfile.Policies(), ", "))
}

// signalMeasure returns the policy of the signals made ready for the ledger, made once.
func (v view) signalMeasure() (*absence.Measure, error) {
	if v.o.ledger == nil {
		return nil, notFound("there is no calendar yet: import a timetable first")
	}
	v.o.cacheMu.Lock()
	defer v.o.cacheMu.Unlock()
	if v.o.signal == nil {
		p, err := signalPolicy()
		if err != nil {
			return nil, err
		}
		v.o.signal = absence.NewMeasure(v.o.ledger, p)
	}
	return v.o.signal, nil
}

func (v view) rules() whereabouts.Rules {
	return whereabouts.Rules{LateGrace: v.settings.LateGrace, ReturnGrace: v.settings.ReturnGrace, DayMargin: v.settings.DayMargin}
}

// Announce tells the pages that something other than a write has changed.
func (o *Office) Announce(kind string) { o.publish(Event{Kind: kind}) }

// Settings returns what the school has decided.
func (o *Office) Settings() Settings {
	o.mu.RLock()
	defer o.mu.RUnlock()
	return o.settings
}
