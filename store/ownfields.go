package store

import (
	"context"
	"database/sql/driver"
	"encoding/json"
	"fmt"

	"github.com/jmoiron/sqlx"

	"meldung/core/ids"
)

// Words are a list of texts in one column, as JSON.
type Words []string

// Value writes the list.
func (w Words) Value() (driver.Value, error) {
	if w == nil {
		w = Words{}
	}
	text, err := json.Marshal(w)
	return string(text), err
}

// Scan reads the list.
func (w *Words) Scan(value any) error {
	text, ok := value.(string)
	if !ok {
		return fmt.Errorf("%v is no list of words", value)
	}
	return json.Unmarshal([]byte(text), w)
}

// OwnField is a field of the school's own on its students.
type OwnField struct {
	ID      ids.OwnField `db:"id"`
	Place   int          `db:"place"`
	Name    string       `db:"name"`
	Kind    string       `db:"kind"`
	Choices Words        `db:"choices"`
	Icon    string       `db:"icon"`
	Sees    Words        `db:"sees"`    // roles
	Changes Words        `db:"changes"` // roles
	Shown   Words        `db:"shown"`   // where beside the sheet
	Retired bool         `db:"retired"`
	Origin
}

// OwnFields returns the fields in their order, the retired ones too.
func OwnFields(ctx context.Context, q Queryer) ([]OwnField, error) {
	return list[OwnField](ctx, q, `SELECT x.*, `+origin+` FROM own_field x`+originJoin+`ORDER BY x.place, x.id`)
}

// SaveOwnField writes a field that is new or changed.
func SaveOwnField(ctx context.Context, tx *sqlx.Tx, f OwnField) (ids.OwnField, error) {
	if f.ID == 0 {
		return insert[ids.OwnField](ctx, tx, `INSERT INTO own_field (place, name, kind, choices, icon, sees, changes, shown, retired, journal_id) VALUES (:place, :name, :kind, :choices, :icon, :sees, :changes, :shown, :retired, :journal_id)`, f)
	}
	_, err := tx.NamedExecContext(ctx, `UPDATE own_field SET place = :place, name = :name, choices = :choices, icon = :icon, sees = :sees, changes = :changes, shown = :shown, retired = :retired WHERE id = :id`, f)
	return f.ID, err
}

// OwnValue is what a field holds for a student.
type OwnValue struct {
	FieldID   ids.OwnField `db:"field_id"`
	StudentID ids.Student  `db:"student_id"`
	Value     string       `db:"value"`
	Origin
}

// OwnValues returns everything that fields hold; of one student where one is given.
func OwnValues(ctx context.Context, q Queryer, student ids.Student) ([]OwnValue, error) {
	return list[OwnValue](ctx, q, `SELECT x.field_id, x.student_id, x.value, x.journal_id, `+origin+` FROM own_value x`+originJoin+`WHERE x.ended_by IS NULL AND (? = 0 OR x.student_id = ?) ORDER BY x.student_id, x.field_id`, student, student)
}

// SetOwnValue writes what a field holds for a student; empty for nothing. What it held before stays on
// record.
func SetOwnValue(ctx context.Context, tx *sqlx.Tx, v OwnValue) error {
	if _, err := tx.ExecContext(ctx, `UPDATE own_value SET ended_by = ? WHERE field_id = ? AND student_id = ? AND ended_by IS NULL`, v.Journal, v.FieldID, v.StudentID); err != nil {
		return fmt.Errorf("ending an own field's value: %w", err)
	}
	if v.Value == "" {
		return nil
	}
	_, err := tx.NamedExecContext(ctx, `INSERT INTO own_value (field_id, student_id, value, journal_id) VALUES (:field_id, :student_id, :value, :journal_id)`, v)
	return err
}
