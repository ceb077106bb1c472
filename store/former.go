package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"

	"github.com/jmoiron/sqlx"

	"meldung/core/ids"
)

// FormerRecord is what an earlier school has handed on about a student; its archive is read apart.
type FormerRecord struct {
	ID        ids.FormerRecord `db:"id"`
	StudentID ids.Student      `db:"student_id"`
	School    string           `db:"school"`
	Made      string           `db:"made"`
	Digest    string           `db:"digest"`
	Archive   []byte           `db:"archive"` // when it is written
	Origin
}

// FormerRecords returns what earlier schools have handed on about a student and stands, the first to come first.
func FormerRecords(ctx context.Context, q Queryer, student ids.Student) ([]FormerRecord, error) {
	return list[FormerRecord](ctx, q, `SELECT x.id, x.student_id, x.school, x.made, x.digest, x.journal_id, `+origin+` FROM former_record x`+originJoin+`WHERE x.student_id = ? AND x.ended_by IS NULL ORDER BY x.id`, student)
}

// FormerArchive returns the archive of a record that stands; nil for none of the student's.
func FormerArchive(ctx context.Context, q Queryer, student ids.Student, id ids.FormerRecord) ([]byte, error) {
	var out []byte
	err := sqlx.GetContext(ctx, q, &out, `SELECT archive FROM former_record WHERE id = ? AND student_id = ? AND ended_by IS NULL`, id, student)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, nil
	}
	if err != nil {
		return nil, fmt.Errorf("reading the record of an earlier school: %w", err)
	}
	return out, nil
}

// AddFormerRecord writes what an earlier school has handed on.
func AddFormerRecord(ctx context.Context, tx *sqlx.Tx, r FormerRecord) (ids.FormerRecord, error) {
	return insert[ids.FormerRecord](ctx, tx, `INSERT INTO former_record (student_id, school, made, digest, archive, journal_id) VALUES (:student_id, :school, :made, :digest, :archive, :journal_id)`, r)
}

// EndFormerRecord takes a record off a student, and forgets what was in it; it reports whether it stood.
func EndFormerRecord(ctx context.Context, tx *sqlx.Tx, student ids.Student, id ids.FormerRecord, journal ids.Entry) (bool, error) {
	return took(tx.ExecContext(ctx, `UPDATE former_record SET ended_by = ?, archive = x'' WHERE id = ? AND student_id = ? AND ended_by IS NULL`, journal, id, student))
}
