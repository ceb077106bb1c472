package store

import (
	"context"
	"fmt"

	"github.com/jmoiron/sqlx"

	"meldung/core/ids"
)

// Warning is something to know when dealing with a student.
type Warning struct {
	ID        ids.Warning `db:"id"` // 0 for one to be added
	StudentID ids.Student `db:"student_id"`
	Text      string      `db:"words"`
	CareFirst bool        `db:"care_first"` // the student is rung about first
	Document  string      `db:"document"`   // the name of what it goes by; empty for none
}

const (
	warnings = `SELECT w.id, w.student_id, w.words, w.care_first, coalesce(d.name, '') AS document
		FROM warning w LEFT JOIN warning_document d ON d.warning_id = w.id `
	warningsKept = warnings + `WHERE w.ended_by IS NULL ORDER BY w.id` // those that have not ended
)

// WarningDocument is what a warning goes by.
type WarningDocument struct {
	WarningID ids.Warning `db:"warning_id"`
	Name      string      `db:"name"`
	Type      string      `db:"type"`
	Content   []byte      `db:"content"`
	Journal   ids.Entry   `db:"journal_id"`
}

// WarningChange is what the school itself has changed about a student's warnings, in words.
type WarningChange struct {
	ID        int64       `db:"id"`
	StudentID ids.Student `db:"student_id"`
	WarningID ids.Warning `db:"warning_id"`
	Text      string      `db:"words"`
	TakenBy   *ids.Entry  `db:"taken_by"` // the import that put the roster's own in their place
	Origin
}

// WarningChangesOf returns what was changed about a student's warnings, newest first.
func WarningChangesOf(ctx context.Context, q Queryer, student ids.Student) ([]WarningChange, error) {
	return list[WarningChange](ctx, q, `SELECT x.*, `+origin+` FROM warning_change x`+originJoin+`WHERE x.student_id = ? ORDER BY x.id DESC LIMIT 60`, student)
}

// WarningChanges returns what the school has changed and no import has put the roster's own in the
// place of, oldest first.
func WarningChanges(ctx context.Context, q Queryer) ([]WarningChange, error) {
	return list[WarningChange](ctx, q, `SELECT x.*, `+origin+` FROM warning_change x`+originJoin+`WHERE x.taken_by IS NULL ORDER BY x.id`)
}

// AddWarningChange writes what was changed.
func AddWarningChange(ctx context.Context, tx *sqlx.Tx, c WarningChange) error {
	_, err := insert[int64](ctx, tx, `INSERT INTO warning_change (student_id, warning_id, words, journal_id) VALUES (:student_id, :warning_id, :words, :journal_id)`, c)
	return err
}

// TakeWarningChanges writes that the roster's own was put in the place of what the school had
// changed.
func TakeWarningChanges(ctx context.Context, tx *sqlx.Tx, journal ids.Entry) error {
	_, err := tx.ExecContext(ctx, `UPDATE warning_change SET taken_by = ? WHERE taken_by IS NULL`, journal)
	return err
}

const setWarning = `INSERT INTO warning (id, student_id, words, care_first) VALUES (nullif(:id, 0), :student_id, :words, :care_first)
	ON CONFLICT (id) DO UPDATE SET words = excluded.words, care_first = excluded.care_first`

// SetWarning adds a warning, or changes one, and returns its id.
func SetWarning(ctx context.Context, tx *sqlx.Tx, w Warning) (ids.Warning, error) {
	id, err := insert[ids.Warning](ctx, tx, setWarning, w)
	if w.ID != 0 {
		id = w.ID
	}
	return id, err
}

// EndWarning ends a warning; it stays on record.
func EndWarning(ctx context.Context, tx *sqlx.Tx, id ids.Warning, journal ids.Entry) error {
	_, err := tx.ExecContext(ctx, `UPDATE warning SET ended_by = ? WHERE id = ? AND ended_by IS NULL`, journal, id)
	return err
}

// WarningEndedBy returns the warning that an entry of the journal has ended; nil for none.
func WarningEndedBy(ctx context.Context, q Queryer, entry ids.Entry) (*Warning, error) {
	found, err := list[Warning](ctx, q, warnings+`WHERE w.ended_by = ?`, entry)
	if err != nil || len(found) == 0 {
		return nil, err
	}
	return &found[0], nil
}

// RestoreWarning takes back that a warning has ended.
func RestoreWarning(ctx context.Context, tx *sqlx.Tx, id ids.Warning) error {
	_, err := tx.ExecContext(ctx, `UPDATE warning SET ended_by = NULL WHERE id = ?`, id)
	return err
}

// saveWarnings makes the warnings that are kept those of a list, and ends the others.
func saveWarnings(ctx context.Context, tx *sqlx.Tx, all []Warning, journal ids.Entry) error {
	kept := map[ids.Warning]bool{}
	for _, w := range all {
		kept[w.ID] = true
	}
	now, err := list[Warning](ctx, tx, warningsKept)
	if err != nil {
		return err
	}
	was := map[ids.Warning]Warning{}
	for _, w := range now {
		was[w.ID] = w
		if !kept[w.ID] {
			if err := EndWarning(ctx, tx, w.ID, journal); err != nil {
				return err
			}
		}
	}
	for _, w := range all {
		if w.ID != 0 && was[w.ID] == w {
			continue
		}
		if _, err := SetWarning(ctx, tx, w); err != nil {
			return err
		}
	}
	return nil
}

// DocumentOf returns what a warning of a student goes by; nil for none.
func DocumentOf(ctx context.Context, q Queryer, student ids.Student, id ids.Warning) (*WarningDocument, error) {
	found, err := list[WarningDocument](ctx, q, `SELECT d.* FROM warning_document d JOIN warning w ON w.id = d.warning_id WHERE w.id = ? AND w.student_id = ?`, id, student)
	if err != nil || len(found) == 0 {
		return nil, err
	}
	return &found[0], nil
}

// DocumentsOf returns what warnings of a student go by, those that have ended among them.
func DocumentsOf(ctx context.Context, q Queryer, student ids.Student) ([]WarningDocument, error) {
	return list[WarningDocument](ctx, q, `SELECT d.* FROM warning_document d JOIN warning w ON w.id = d.warning_id WHERE w.student_id = ? ORDER BY w.id`, student)
}

// SetDocument keeps what a warning goes by, in the place of what it went by before; without
// content, it goes by nothing any more.
func SetDocument(ctx context.Context, tx *sqlx.Tx, d WarningDocument) error {
	query := `INSERT INTO warning_document (warning_id, name, type, content, journal_id) VALUES (:warning_id, :name, :type, :content, :journal_id)
		ON CONFLICT (warning_id) DO UPDATE SET name = excluded.name, type = excluded.type, content = excluded.content, journal_id = excluded.journal_id`
	if len(d.Content) == 0 {
		query = `DELETE FROM warning_document WHERE warning_id = :warning_id`
	}
	if _, err := tx.NamedExecContext(ctx, query, d); err != nil {
		return fmt.Errorf("keeping a document: %w", err)
	}
	return nil
}
