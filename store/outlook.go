package store

import (
	"context"
	"fmt"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/core/ids"
)

// OutlookHistory is a file of past students.
type OutlookHistory struct {
	ID      ids.OutlookHistory `db:"id"`
	Content []byte             `db:"content"`
	Origin
}

// LastHistory returns the file that stands; nil for none.
func LastHistory(ctx context.Context, q Queryer) (*OutlookHistory, error) {
	rows, err := list[OutlookHistory](ctx, q, `SELECT x.id, x.content, x.journal_id, `+origin+` FROM outlook_history x`+originJoin+`WHERE x.ended_by IS NULL ORDER BY x.id DESC LIMIT 1`)
	if err != nil || len(rows) == 0 {
		return nil, err
	}
	return &rows[0], nil
}

// SetHistory puts a file of past students in the place of the one before, which Tidy removes.
func SetHistory(ctx context.Context, tx *sqlx.Tx, content []byte, entry ids.Entry) error {
	if _, err := tx.ExecContext(ctx, `UPDATE outlook_history SET ended_by = ? WHERE ended_by IS NULL`, entry); err != nil {
		return fmt.Errorf("ending a history: %w", err)
	}
	_, err := tx.ExecContext(ctx, `INSERT INTO outlook_history (content, journal_id) VALUES (?, ?)`, content, entry)
	return err
}

// LearningActivity is something that a student did on a learning platform or in the library.
type LearningActivity struct {
	StudentID ids.Student  `db:"student_id"`
	Source    string       `db:"source"`
	At        *day.Instant `db:"at"` // nil says that the source knows the student
	Kind      string       `db:"kind"`
	JournalID ids.Entry    `db:"journal_id"`
}

// LearningActivities returns what was done up to a date, in time.
func LearningActivities(ctx context.Context, q Queryer, to day.Date) ([]LearningActivity, error) {
	return list[LearningActivity](ctx, q, `SELECT student_id, source, at, kind, journal_id FROM learning_activity WHERE at IS NULL OR at < ? ORDER BY at, id`, day.At(to+1, day.Midnight))
}

// AddLearningActivities writes what was done.
func AddLearningActivities(ctx context.Context, tx *sqlx.Tx, rows []LearningActivity) error {
	return inBatches(ctx, tx, `INSERT INTO learning_activity (student_id, source, at, kind, journal_id) VALUES (:student_id, :source, :at, :kind, :journal_id) ON CONFLICT DO NOTHING`, rows)
}

// ActivitySources returns the sources of which anything is known.
func ActivitySources(ctx context.Context, q Queryer) ([]string, error) {
	return list[string](ctx, q, `SELECT DISTINCT source FROM learning_activity ORDER BY source`)
}

// OwnValuesOver returns what own fields have held over time, the ended ones too, in the order in which they were
// set.
func OwnValuesOver(ctx context.Context, q Queryer) ([]OwnValueOver, error) {
	return list[OwnValueOver](ctx, q, `SELECT x.field_id, x.student_id, x.value, u.known AS ended_at, `+origin+` FROM own_value x`+originJoin+`LEFT JOIN journal u ON u.id = x.ended_by ORDER BY x.id`)
}

// OwnValueOver is what a field held, and until when.
type OwnValueOver struct {
	OwnValue
	EndedAt *day.Instant `db:"ended_at"` // nil while it holds
}
