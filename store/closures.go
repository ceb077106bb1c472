package store

import (
	"context"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/core/ids"
)

// Closure is a date on which a section was closed against its calendar.
type Closure struct {
	ID        ids.Closure  `db:"id"`
	SectionID ids.Section  `db:"section_id"`
	Date      day.Date     `db:"date"`
	Starts    day.Minute   `db:"starts"` // of a part of the date; none for the whole of it
	Ends      day.Minute   `db:"ends"`
	Reason    string       `db:"reason"`
	UndoneBy  *ids.Entry   `db:"undone_by"`
	UndoneAt  *day.Instant `db:"undone_at"`
	Origin
}

// Hours reports whether a part of the date alone was closed.
func (c Closure) Hours() bool { return !c.Starts.IsZero() }

// Left returns what is left of a slot: its end is not after its start where nothing is.
func (c Closure) Left(start, end day.Minute) (day.Minute, day.Minute) {
	if day.Overlap(start, end, c.Starts, c.Ends) == 0 {
		return start, end
	}
	if start.Before(c.Starts) {
		return start, c.Starts
	}
	return day.Latest(start, c.Ends), end
}

const closures = `SELECT x.*, u.known AS undone_at, ` + origin + ` FROM closure x` + originJoin + ` LEFT JOIN journal u ON u.id = x.undone_by `

// ClosuresEver returns every closure, those taken back included, the newest first.
func ClosuresEver(ctx context.Context, q Queryer) ([]Closure, error) {
	return list[Closure](ctx, q, closures+`ORDER BY x.id DESC`)
}

// AddClosure writes a closure and returns its id.
func AddClosure(ctx context.Context, tx *sqlx.Tx, c Closure) (ids.Closure, error) {
	return insert[ids.Closure](ctx, tx, `INSERT INTO closure (section_id, date, starts, ends, reason, journal_id) VALUES (:section_id, :date, :starts, :ends, :reason, :journal_id)`, c)
}

// UndoClosure takes a closure back.
func UndoClosure(ctx context.Context, tx *sqlx.Tx, id ids.Closure, journal ids.Entry) (bool, error) {
	return took(tx.ExecContext(ctx, `UPDATE closure SET undone_by = ? WHERE id = ? AND undone_by IS NULL`, journal, id))
}

// Marked is that a student has a mark in a slot.
type Marked struct {
	StudentID ids.Student `db:"student_id"`
	Slot      string      `db:"slot"`
}

// MarkedOn returns which marks a date has, once for each.
func MarkedOn(ctx context.Context, q Queryer, d day.Date) ([]Marked, error) {
	return list[Marked](ctx, q, `SELECT student_id, slot FROM mark WHERE date = ? AND version = 1`, d)
}
