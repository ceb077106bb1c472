package store

import (
	"context"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/core/ids"
)

// StandIn is who takes a member of staff's registers on a date.
type StandIn struct {
	ID       ids.StandIn  `db:"id"`
	Date     day.Date     `db:"date"`
	AbsentID ids.Staff    `db:"absent_id"`
	StaffID  ids.Staff    `db:"staff_id"`
	Slot     string       `db:"slot"` // empty for the whole day
	EndedBy  *ids.Entry   `db:"ended_by"`
	EndedAt  *day.Instant `db:"ended_at"`
	Origin
}

// StandInsOn returns a date's stand-ins, ended ones included, oldest first.
func StandInsOn(ctx context.Context, q Queryer, d day.Date) ([]StandIn, error) {
	return list[StandIn](ctx, q, `SELECT x.*, u.known AS ended_at, `+origin+` FROM stand_in x`+originJoin+` LEFT JOIN journal u ON u.id = x.ended_by WHERE x.date = ? ORDER BY x.id`, d)
}

// AddStandIn writes a stand-in and returns its id.
func AddStandIn(ctx context.Context, tx *sqlx.Tx, s StandIn) (ids.StandIn, error) {
	return insert[ids.StandIn](ctx, tx, `INSERT INTO stand_in (date, absent_id, staff_id, slot, journal_id) VALUES (:date, :absent_id, :staff_id, :slot, :journal_id)`, s)
}

// EndStandIn takes a stand-in back.
func EndStandIn(ctx context.Context, tx *sqlx.Tx, id ids.StandIn, journal ids.Entry) (bool, error) {
	return took(tx.ExecContext(ctx, `UPDATE stand_in SET ended_by = ? WHERE id = ? AND ended_by IS NULL`, journal, id))
}

// Seat is where a student of a class sits in a room.
type Seat struct {
	StudentID ids.Student `db:"student_id"`
	Place     int         `db:"place"` // counted from the front, row by row
}

// SeatsOf returns a class's seats in a room.
func SeatsOf(ctx context.Context, q Queryer, class ids.Class, room string) ([]Seat, error) {
	return list[Seat](ctx, q, `SELECT student_id, place FROM seat WHERE class_id = ? AND room = ? ORDER BY place`, class, room)
}

// SetSeats writes a class's seats in a room over those before.
func SetSeats(ctx context.Context, tx *sqlx.Tx, class ids.Class, room string, seats []Seat, journal ids.Entry) error {
	if _, err := tx.ExecContext(ctx, `DELETE FROM seat WHERE class_id = ? AND room = ?`, class, room); err != nil {
		return err
	}
	for _, s := range seats {
		if _, err := tx.ExecContext(ctx, `INSERT INTO seat (class_id, room, student_id, place, journal_id) VALUES (?, ?, ?, ?, ?)`, class, room, s.StudentID, s.Place, journal); err != nil {
			return err
		}
	}
	return nil
}
