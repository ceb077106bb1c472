// Package store keeps what happened, in one SQLite file. It knows tables and
// rows; it must not know permissions, pages or the rules of the job.
package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"slices"

	"github.com/jmoiron/sqlx"
	_ "modernc.org/sqlite" // the database driver

	"meldung/core/day"
	"meldung/core/ids"
)

// Store is one open database. Reads run side by side; writes one at a time.
type Store struct {
	read     Queryer
	pool     *sqlx.DB // what is read from; nil where one moment is
	address  string   // of the file, where one moment is read
	write    *sqlx.DB // nil where there is nothing but reading
	sessions *sqlx.DB
	close    []func() error
	changed  map[string]bool // tables that the write under way has changed
}

// Queryer is a connection or a transaction to read from.
type Queryer interface {
	sqlx.QueryerContext
	sqlx.ExecerContext
}

// Close closes the database.
func (s *Store) Close() error {
	var err error
	for i := len(s.close) - 1; i >= 0; i-- {
		err = errors.Join(err, s.close[i]())
	}
	return err
}

// Read returns the connections to read from.
func (s *Store) Read() Queryer { return s.read }

// Sessions returns connections for the table of sessions, so that no page waits for a write to
// know who asks.
func (s *Store) Sessions() *sql.DB { return s.sessions.DB }

// Write runs f in one transaction: all of it is kept, or nothing.
func (s *Store) Write(ctx context.Context, f func(tx *sqlx.Tx) error) error {
	_, err := s.WriteTold(ctx, f)
	return err
}

// WriteTold is Write, and returns in which tables rows were added, changed or removed.
func (s *Store) WriteTold(ctx context.Context, f func(tx *sqlx.Tx) error) (tables []string, err error) {
	if s.write == nil {
		return nil, errors.New("this school is open to read only")
	}
	tx, err := s.write.BeginTxx(ctx, nil)
	if err != nil {
		return nil, fmt.Errorf("beginning to write: %w", err)
	}
	clear(s.changed) // there is one connection, and it is this transaction's
	if err := f(tx); err != nil {
		return nil, errors.Join(err, tx.Rollback())
	}
	tables = slices.Sorted(maps.Keys(s.changed))
	if err := tx.Commit(); err != nil {
		return nil, fmt.Errorf("writing: %w", err)
	}
	return tables, nil
}

// list runs a query and returns its rows; never nil, so that JSON shows [].
func list[T any](ctx context.Context, q Queryer, query string, args ...any) ([]T, error) {
	out := []T{}
	if err := sqlx.SelectContext(ctx, q, &out, query, args...); err != nil {
		return nil, fmt.Errorf("reading %T: %w", *new(T), err)
	}
	return out, nil
}

// insert writes one row of named values and returns its id.
func insert[ID ~int64](ctx context.Context, tx *sqlx.Tx, query string, row any) (ID, error) {
	res, err := tx.NamedExecContext(ctx, query, row)
	if err != nil {
		return 0, fmt.Errorf("writing %T: %w", row, err)
	}
	id, err := res.LastInsertId()
	return ID(id), err
}

// Setting reads a setting of the whole school, as it was last set, into v and reports whether it is there.
func Setting(ctx context.Context, q Queryer, name string, v any) (bool, error) {
	var text string
	switch err := sqlx.GetContext(ctx, q, &text, `SELECT value FROM setting WHERE section_id = 0 AND name = ? ORDER BY from_date DESC LIMIT 1`, name); {
	case errors.Is(err, sql.ErrNoRows):
		return false, nil
	case err != nil:
		return false, fmt.Errorf("reading the setting %s: %w", name, err)
	}
	if err := json.Unmarshal([]byte(text), v); err != nil {
		return false, fmt.Errorf("reading the setting %s: %w", name, err)
	}
	return true, nil
}

// SettingFrom is a setting of a section, as JSON, with the date from which it holds; 0 is the
// beginning.
type SettingFrom struct {
	SectionID ids.Section `db:"section_id"`
	From      day.Date    `db:"from_date"`
	Value     string      `db:"value"`
}

// SettingsOver returns a setting of each section over all time, in the order of the dates from
// which each holds.
func SettingsOver(ctx context.Context, q Queryer, name string) ([]SettingFrom, error) {
	return list[SettingFrom](ctx, q, `SELECT section_id, from_date, value FROM setting WHERE name = ? ORDER BY section_id, from_date`, name)
}

// SetSetting writes a setting of the whole school that holds at all times.
func SetSetting(ctx context.Context, tx *sqlx.Tx, name string, v any) error {
	return SetSettingFrom(ctx, tx, 0, name, v, 0)
}

// SetSettingFrom writes a setting of a section that holds from a date on.
func SetSettingFrom(ctx context.Context, tx *sqlx.Tx, section ids.Section, name string, v any, from day.Date) error {
	text, err := json.Marshal(v)
	if err != nil {
		return fmt.Errorf("writing the setting %s: %w", name, err)
	}
	_, err = tx.ExecContext(ctx, `INSERT INTO setting (section_id, name, from_date, value) VALUES (?, ?, ?, ?) ON CONFLICT (section_id, name, from_date) DO UPDATE SET value = excluded.value`, section, name, from, string(text))
	return err
}

// Journal is one write, as it became known.
type Journal struct {
	ID      ids.Entry    `db:"id"`
	Known   day.Instant  `db:"known"`
	Account *ids.Account `db:"account_id"`
	Kind    string       `db:"kind"`
	Key     *string      `db:"key"`
	Answer  *string      `db:"answer"`
	Asked   string       `db:"asked"` // a fingerprint of what was asked with the key; empty where there was none yet
}

// LastEntry returns the last entry of the journal; 0 where there is none yet.
func LastEntry(ctx context.Context, q Queryer) (id ids.Entry, err error) {
	err = sqlx.GetContext(ctx, q, &id, `SELECT coalesce(max(id), 0) FROM journal`)
	return id, err
}

// For how long is kept what only helps for a while, in days.
const (
	AnswersKept   = 7   // answers of the journal, for a write that is repeated
	TriesKept     = 30  // codes and numbers that were wrong
	VisitorsKept  = 365 // what visitors are called
	HistoriesKept = 30  // files of past students in whose place others came
	PhonesKept    = 400 // phones that nobody checks in with any more
)

// Tidy removes what is older than it is of use. What was done stays on record.
func Tidy(ctx context.Context, tx *sqlx.Tx, today day.Date) error {
	since := func(days day.Date) day.Instant { return day.At(today-days, day.Midnight) }
	for _, do := range []struct {
		query string
		args  []any
	}{
		{`UPDATE journal SET answer = NULL, asked = '' WHERE answer IS NOT NULL AND known < ?`, []any{since(AnswersKept)}},
		{`DELETE FROM wrong_try WHERE date < ?`, []any{today - TriesKept}},
		{`DELETE FROM phone WHERE journal_id IN (SELECT id FROM journal WHERE known < ?) AND phone NOT IN (
			SELECT e.phone FROM check_in c JOIN check_in_entry e ON e.check_in_id = c.id WHERE c.date >= ?)`, []any{since(PhonesKept), today - PhonesKept}},
		{`UPDATE outlook_history SET content = x'' WHERE ended_by IN (SELECT id FROM journal WHERE known < ?)`, []any{since(HistoriesKept)}},
		{`UPDATE visit SET name = 'a visitor', firm = '', host = '' WHERE kind = 'visitor' AND date < ? AND name <> 'a visitor'`, []any{today - VisitorsKept}},
	} {
		if _, err := tx.ExecContext(ctx, do.query, do.args...); err != nil {
			return fmt.Errorf("removing what is too old: %w", err)
		}
	}
	return nil
}

// AddJournal writes the journal entry that the rows of a write will name.
func AddJournal(ctx context.Context, tx *sqlx.Tx, j Journal) (Journal, error) {
	id, err := insert[ids.Entry](ctx, tx, `INSERT INTO journal (known, account_id, kind, key, asked) VALUES (:known, :account_id, :kind, :key, :asked)`, j)
	j.ID = id
	return j, err
}

// Entry is a journal entry with the name of who wrote it.
type Entry struct {
	Journal
	By string `db:"by_name"`
}

// Entries returns the newest journal entries of some kinds, as many as most.
func Entries(ctx context.Context, q Queryer, kinds []string, most int) ([]Entry, error) {
	query, args, err := sqlx.In(`SELECT j.*, coalesce(a.name, '') AS by_name FROM journal j LEFT JOIN account a ON a.id = j.account_id WHERE j.kind IN (?) ORDER BY j.id DESC LIMIT ?`, kinds, most)
	if err != nil {
		return nil, err
	}
	return list[Entry](ctx, q, query, args...)
}

// EntryByID returns an entry of the journal; nil where there is none.
func EntryByID(ctx context.Context, q Queryer, id ids.Entry) (*Entry, error) {
	out, err := list[Entry](ctx, q, `SELECT j.*, coalesce(a.name, '') AS by_name FROM journal j LEFT JOIN account a ON a.id = j.account_id WHERE j.id = ?`, id)
	if err != nil || len(out) == 0 {
		return nil, err
	}
	return &out[0], nil
}

// DatesOf returns the dates about which an entry of the journal says something.
func DatesOf(ctx context.Context, q Queryer, id ids.Entry) ([]day.Date, error) {
	return list[day.Date](ctx, q, `SELECT date FROM movement WHERE journal_id = ?1 UNION SELECT from_date FROM notice WHERE journal_id = ?1
		UNION SELECT coalesce(about, date) FROM call WHERE journal_id = ?1 UNION SELECT date FROM settling WHERE journal_id = ?1
		UNION SELECT date FROM settled WHERE journal_id = ?1 UNION SELECT date FROM message WHERE journal_id = ?1 UNION SELECT date FROM hold WHERE journal_id = ?1 UNION SELECT date FROM fetch WHERE journal_id = ?1
		UNION SELECT date FROM mark WHERE version > 1 AND journal_id = ?1 ORDER BY 1`, id)
}

// Answered returns the entry that was written with this key, if there is one.
func Answered(ctx context.Context, q Queryer, key string) (*Journal, error) {
	var j Journal
	switch err := sqlx.GetContext(ctx, q, &j, `SELECT * FROM journal WHERE key = ?`, key); {
	case errors.Is(err, sql.ErrNoRows):
		return nil, nil
	case err != nil:
		return nil, fmt.Errorf("looking for a repeat: %w", err)
	}
	return &j, nil
}

// SetAnswer keeps the answer for a repeat of the entry's key.
func SetAnswer(ctx context.Context, tx *sqlx.Tx, id ids.Entry, answer string) error {
	_, err := tx.ExecContext(ctx, `UPDATE journal SET answer = ? WHERE id = ?`, answer, id)
	return err
}

// LastKnown returns the instant of the newest entry; 0 for none.
func LastKnown(ctx context.Context, q Queryer) (day.Instant, error) {
	var at day.Instant
	err := sqlx.GetContext(ctx, q, &at, `SELECT coalesce(max(known), 0) FROM journal`)
	return at, err
}
