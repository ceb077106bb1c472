package store

import (
	"context"
	"database/sql"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/core/ids"
)

func took(res sql.Result, err error) (bool, error) {
	if err != nil {
		return false, err
	}
	n, err := res.RowsAffected()
	return n > 0, err
}

// Followup is a contact about a student: a call, a message, a meeting or a visit.
type Followup struct {
	ID        ids.Followup `db:"id"`
	StudentID ids.Student  `db:"student_id"`
	Date      day.Date     `db:"date"`
	Minute    day.Minute   `db:"minute"`
	Way       string       `db:"way"`       // call, message, meeting, visit
	With      string       `db:"with_whom"` // home, student, outside
	ContactID *ids.Contact `db:"contact_id"`
	Who       string       `db:"who"` // by name, where it is no contact on file
	Outcome   string       `db:"outcome"`
	Note      string       `db:"note"`
	NextDate  *day.Date    `db:"next_date"`
	Kept      string       `db:"kept"`       // for whom the note is: office, leads, owner
	SourcedID string       `db:"sourced_id"` // by which files know it; empty for none
	UndoneBy  *ids.Entry   `db:"undone_by"`
	AccountID ids.Account  `db:"account_id"` // who wrote it; 0 for the program
	Origin
}

const followups = `SELECT x.*, coalesce(j.account_id, 0) AS account_id, ` + origin + ` FROM followup x` + originJoin

// Followups returns every student's contacts known by an instant that stand, in time.
func Followups(ctx context.Context, q Queryer, known day.Instant) ([]Followup, error) {
	return list[Followup](ctx, q, followups+` LEFT JOIN journal u ON u.id = x.undone_by WHERE j.known <= ?1 AND (u.known IS NULL OR u.known > ?1) ORDER BY x.date, x.minute, x.id`, known)
}

// FollowupsOf returns a student's contacts that stand, newest first.
func FollowupsOf(ctx context.Context, q Queryer, student ids.Student) ([]Followup, error) {
	return list[Followup](ctx, q, followups+`WHERE x.student_id = ? AND x.undone_by IS NULL ORDER BY x.date DESC, x.minute DESC, x.id DESC LIMIT 60`, student)
}

// FollowupByID returns a contact that stands; nil for none.
func FollowupByID(ctx context.Context, q Queryer, id ids.Followup) (*Followup, error) {
	found, err := list[Followup](ctx, q, followups+`WHERE x.id = ? AND x.undone_by IS NULL`, id)
	if err != nil || len(found) == 0 {
		return nil, err
	}
	return &found[0], nil
}

// AddFollowup writes a contact: a call with the home, its note for the office, where nothing else is said.
func AddFollowup(ctx context.Context, tx *sqlx.Tx, f Followup) (ids.Followup, error) {
	return insert[ids.Followup](ctx, tx, `INSERT INTO followup (student_id, date, minute, way, with_whom, contact_id, who, outcome, note, next_date, kept, sourced_id, journal_id)
		VALUES (:student_id, :date, :minute, coalesce(nullif(:way, ''), 'call'), coalesce(nullif(:with_whom, ''), 'home'), :contact_id, :who, :outcome, :note, :next_date, coalesce(nullif(:kept, ''), 'office'), :sourced_id, :journal_id)`, f)
}

// UndoFollowup takes back the contacts that an entry of the journal has stored.
func UndoFollowup(ctx context.Context, tx *sqlx.Tx, entry, by ids.Entry) (bool, error) {
	return took(tx.ExecContext(ctx, `UPDATE followup SET undone_by = ?2 WHERE journal_id = ?1 AND undone_by IS NULL`, entry, by))
}

// FollowupsKept returns all contacts, also those that were taken back, in the order in which they were written.
func FollowupsKept(ctx context.Context, q Queryer) ([]Followup, error) {
	return list[Followup](ctx, q, followups+`ORDER BY x.id`)
}

// ReplaceFollowup takes a contact back in whose place another comes.
func ReplaceFollowup(ctx context.Context, tx *sqlx.Tx, id ids.Followup, by ids.Entry) error {
	_, err := took(tx.ExecContext(ctx, `UPDATE followup SET undone_by = ? WHERE id = ? AND undone_by IS NULL`, by, id))
	return err
}

// Tried is a call of the morning about a student.
type Tried struct {
	StudentID ids.Student `db:"student_id"`
	ContactID ids.Contact `db:"contact_id"`
	Date      day.Date    `db:"date"`
	Minute    day.Minute  `db:"minute"`
	Outcome   string      `db:"outcome"`
	Said      string      `db:"said"`
	Note      string      `db:"note"`
	By        string      `db:"by_name"`
}

// CallsFrom returns the calls about every student from a date on that were known by an instant and stand, in
// time, those to be fetched from school apart.
func CallsFrom(ctx context.Context, q Queryer, from day.Date, known day.Instant) ([]Tried, error) {
	return list[Tried](ctx, q, `SELECT s.student_id, coalesce(x.contact_id, 0) AS contact_id, x.date, x.minute, x.outcome, x.said, x.note, coalesce(a.name, '') AS by_name
		FROM call x JOIN call_student s ON s.call_id = x.id`+originJoin+` LEFT JOIN journal u ON u.id = x.undone_by
		WHERE x.date >= ?2 AND j.known <= ?1 AND (u.known IS NULL OR u.known > ?1) ORDER BY x.date, x.minute, x.id`, known, from)
}
