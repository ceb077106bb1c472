package store

import (
	"context"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/core/ids"
)

// Settled is a contradiction that was looked at and stands.
type Settled struct {
	ID        ids.Settled  `db:"id"`
	StudentID ids.Student  `db:"student_id"`
	Date      day.Date     `db:"date"`
	Slot      string       `db:"slot"`
	Kind      string       `db:"kind"`
	Note      string       `db:"note"`
	UndoneBy  *ids.Entry   `db:"undone_by"`
	UndoneAt  *day.Instant `db:"undone_at"`
	Origin
}

// SettledOn returns a date's settled contradictions, those taken back included.
func SettledOn(ctx context.Context, q Queryer, d day.Date) ([]Settled, error) {
	return list[Settled](ctx, q, `SELECT x.*, u.known AS undone_at, `+origin+` FROM settled x`+originJoin+` LEFT JOIN journal u ON u.id = x.undone_by WHERE x.date = ? ORDER BY x.id`, d)
}

// AddSettled writes that a contradiction stands.
func AddSettled(ctx context.Context, tx *sqlx.Tx, s Settled) (ids.Settled, error) {
	return insert[ids.Settled](ctx, tx, `INSERT INTO settled (student_id, date, slot, kind, note, journal_id) VALUES (:student_id, :date, :slot, :kind, :note, :journal_id)`, s)
}

// UndoSettled takes back that a contradiction stands.
func UndoSettled(ctx context.Context, tx *sqlx.Tx, id ids.Settled, journal ids.Entry) (bool, error) {
	return took(tx.ExecContext(ctx, `UPDATE settled SET undone_by = ? WHERE id = ? AND undone_by IS NULL`, journal, id))
}

// Settling is that a named person knows where a student is, or why a register of a past day was
// never sent.
type Settling struct {
	ID        ids.Settling `db:"id"`
	Date      day.Date     `db:"date"` // that it is about
	Minute    day.Minute   `db:"minute"`
	StudentID *ids.Student `db:"student_id"` // nil for a register
	ClassID   *ids.Class   `db:"class_id"`   // of a register
	Slot      string       `db:"slot"`
	How       string       `db:"how"`
	UndoneBy  *ids.Entry   `db:"undone_by"`
	UndoneAt  *day.Instant `db:"undone_at"`
	Origin
}

// Stands reports whether it had not been taken back by what was known.
func (s Settling) Stands(known day.Instant) bool {
	return s.Known <= known && (s.UndoneAt == nil || *s.UndoneAt > known)
}

// SettlingsOn returns what was settled of a date, what was taken back included.
func SettlingsOn(ctx context.Context, q Queryer, d day.Date) ([]Settling, error) {
	return list[Settling](ctx, q, `SELECT x.*, u.known AS undone_at, `+origin+` FROM settling x`+originJoin+` LEFT JOIN journal u ON u.id = x.undone_by WHERE x.date = ? ORDER BY x.id`, d)
}

// AddSettling writes that something is settled and returns its id.
func AddSettling(ctx context.Context, tx *sqlx.Tx, s Settling) (ids.Settling, error) {
	return insert[ids.Settling](ctx, tx, `INSERT INTO settling (date, minute, student_id, class_id, slot, how, journal_id) VALUES (:date, :minute, :student_id, :class_id, :slot, :how, :journal_id)`, s)
}

// UndoSettling takes back that something is settled.
func UndoSettling(ctx context.Context, tx *sqlx.Tx, id ids.Settling, journal ids.Entry) (bool, error) {
	return took(tx.ExecContext(ctx, `UPDATE settling SET undone_by = ? WHERE id = ? AND undone_by IS NULL`, journal, id))
}
