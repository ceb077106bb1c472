package store

import (
	"context"
	"errors"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/core/ids"
)

// Call is a call to a contact about one or more students.
type Call struct {
	ID        ids.Call      `db:"id"`
	Date      day.Date      `db:"date"`
	Minute    day.Minute    `db:"minute"`
	ContactID *ids.Contact  `db:"contact_id"`
	Phone     string        `db:"phone"` // the number that was rung
	Outcome   string        `db:"outcome"`
	Said      string        `db:"said"`
	Note      string        `db:"note"`
	Next      day.Minute    `db:"next"`
	StudentID ids.Student   `db:"student_id"` // one row for each student when read
	Students  []ids.Student `db:"-"`

	About    *day.Date    `db:"about"`     // the date that it was about; nil for that on which it was made
	UndoneBy *ids.Entry   `db:"undone_by"` // written down by mistake
	UndoneAt *day.Instant `db:"undone_at"`

	FetchID     *ids.Fetch   `db:"fetch_id"` // that it was about a student to be fetched
	CollectorID *ids.Contact `db:"collector_id"`
	Collector   string       `db:"collector"`
	Expected    day.Minute   `db:"expected"`
	Origin
}

const calls = `SELECT x.*, u.known AS undone_at, s.student_id, ` + origin + ` FROM call x JOIN call_student s ON s.call_id = x.id` + originJoin + ` LEFT JOIN journal u ON u.id = x.undone_by `

// Stands reports whether a call had not been taken back by what was known.
func (c Call) Stands(known day.Instant) bool {
	return c.Known <= known && (c.UndoneAt == nil || *c.UndoneAt > known)
}

// CallsOn returns the calls about a date, a row for each student, those taken back included.
func CallsOn(ctx context.Context, q Queryer, d day.Date) ([]Call, error) {
	return list[Call](ctx, q, calls+`WHERE (x.date = ? AND x.about IS NULL) OR x.about = ? ORDER BY x.id`, d, d)
}

// CallsOf returns a student's calls, newest first.
func CallsOf(ctx context.Context, q Queryer, student ids.Student) ([]Call, error) {
	return list[Call](ctx, q, calls+`WHERE s.student_id = ? AND x.undone_by IS NULL ORDER BY x.id DESC LIMIT 60`, student)
}

// Spoken is that somebody was spoken to about a student.
type Spoken struct {
	StudentID ids.Student `db:"student_id"`
	ContactID ids.Contact `db:"contact_id"`
	Date      day.Date    `db:"date"`
	Minute    day.Minute  `db:"minute"`
}

// SpokenSince returns, of the calls from an entry of the journal on, whom somebody was spoken to
// about which student, oldest first.
func SpokenSince(ctx context.Context, q Queryer, entry ids.Entry) ([]Spoken, error) {
	return list[Spoken](ctx, q, `SELECT s.student_id, c.contact_id, c.date, c.minute FROM call c JOIN call_student s ON s.call_id = c.id
		WHERE c.journal_id >= ? AND c.outcome = 'spoke' AND c.contact_id IS NOT NULL AND c.undone_by IS NULL ORDER BY c.date, c.minute, c.id`, entry)
}

// WrongNumber is a number that turned out to be wrong and that nobody said was dealt with.
type WrongNumber struct {
	CallID    ids.Call    `db:"id"`
	Date      day.Date    `db:"date"`
	Minute    day.Minute  `db:"minute"`
	ContactID ids.Contact `db:"contact_id"`
	Phone     string      `db:"phone"`
	By        string      `db:"by_name"`
}

// WrongNumbers returns the last call to each contact where that reached a wrong number.
func WrongNumbers(ctx context.Context, q Queryer) ([]WrongNumber, error) {
	return list[WrongNumber](ctx, q, `SELECT x.id, x.date, x.minute, x.contact_id, x.phone, coalesce(a.name, '') AS by_name FROM call x`+originJoin+`
		WHERE x.outcome = 'wrong number' AND x.undone_by IS NULL AND x.id = (SELECT max(y.id) FROM call y WHERE y.contact_id = x.contact_id AND y.undone_by IS NULL)
		AND NOT EXISTS (SELECT 1 FROM mended m WHERE m.call_id = x.id) ORDER BY x.id`)
}

// Resolution says that a wrong number was dealt with.
type Resolution struct {
	CallID ids.Call `db:"call_id"`
	Note   string   `db:"note"`
	Origin
}

// AddResolution writes that a wrong number was dealt with.
func AddResolution(ctx context.Context, tx *sqlx.Tx, m Resolution) error {
	_, err := insert[int64](ctx, tx, `INSERT INTO mended (call_id, note, journal_id) VALUES (:call_id, :note, :journal_id)`, m)
	return err
}

// AddCall writes a call with its students.
func AddCall(ctx context.Context, tx *sqlx.Tx, c Call) (ids.Call, error) {
	id, err := insert[ids.Call](ctx, tx, `INSERT INTO call (date, minute, about, contact_id, phone, outcome, said, note, next, fetch_id, collector_id, collector, expected, journal_id)
		VALUES (:date, :minute, :about, :contact_id, :phone, :outcome, :said, :note, :next, :fetch_id, :collector_id, :collector, :expected, :journal_id)`, c)
	return id, errors.Join(err, addMembers(ctx, tx, `INSERT INTO call_student (call_id, student_id) VALUES (?, ?)`, id, c.Students))
}

// UndoCall takes a call back that was written down by mistake.
func UndoCall(ctx context.Context, tx *sqlx.Tx, id ids.Call, journal ids.Entry) (bool, error) {
	return took(tx.ExecContext(ctx, `UPDATE call SET undone_by = ? WHERE id = ? AND undone_by IS NULL`, journal, id))
}
