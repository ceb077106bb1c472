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

// Followup is a call about a student's signals.
type Followup struct {
	ID        ids.Followup `db:"id"`
	StudentID ids.Student  `db:"student_id"`
	Date      day.Date     `db:"date"`
	Minute    day.Minute   `db:"minute"`
	ContactID *ids.Contact `db:"contact_id"`
	Outcome   string       `db:"outcome"`
	Note      string       `db:"note"`
	NextDate  *day.Date    `db:"next_date"`
	Origin
}

const followups = `SELECT x.*, ` + origin + ` FROM followup x` + originJoin

// Followups returns every student's follow-ups known by an instant, oldest first.
func Followups(ctx context.Context, q Queryer, known day.Instant) ([]Followup, error) {
	return list[Followup](ctx, q, followups+`WHERE j.known <= ? ORDER BY x.id`, known)
}

// FollowupsOf returns a student's follow-ups, newest first.
func FollowupsOf(ctx context.Context, q Queryer, student ids.Student) ([]Followup, error) {
	return list[Followup](ctx, q, followups+`WHERE x.student_id = ? ORDER BY x.id DESC LIMIT 60`, student)
}

// AddFollowup writes a follow-up.
func AddFollowup(ctx context.Context, tx *sqlx.Tx, f Followup) (ids.Followup, error) {
	return insert[ids.Followup](ctx, tx, `INSERT INTO followup (student_id, date, minute, contact_id, outcome, note, next_date, journal_id)
		VALUES (:student_id, :date, :minute, :contact_id, :outcome, :note, :next_date, :journal_id)`, f)
}
