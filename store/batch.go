package store

import (
	"context"
	"errors"
	"fmt"
	"reflect"

	"github.com/jmoiron/sqlx"
)

// batchRows keeps a statement under SQLite's limit on bound values.
const batchRows = 500

// inBatches writes many rows with few statements; the statement of a full batch is
// prepared once.
func inBatches(ctx context.Context, tx *sqlx.Tx, query string, rows any) error {
	v := reflect.ValueOf(rows)
	var full *sqlx.Stmt
	for i := 0; i < v.Len(); i += batchRows {
		part := v.Slice(i, min(i+batchRows, v.Len()))
		text, args, err := sqlx.Named(query, part.Interface())
		if err != nil {
			return fmt.Errorf("writing %s: %w", part.Type().Elem(), err)
		}
		if part.Len() < batchRows {
			_, err = tx.ExecContext(ctx, text, args...)
		} else {
			if full == nil {
				if full, err = tx.PreparexContext(ctx, text); err != nil {
					return fmt.Errorf("writing %s: %w", part.Type().Elem(), err)
				}
				defer full.Close()
			}
			_, err = full.ExecContext(ctx, args...)
		}
		if err != nil {
			return fmt.Errorf("writing %s: %w", part.Type().Elem(), err)
		}
	}
	return nil
}

// WriteBulk is Write for very many rows that name one another rightly: references are not
// looked up row by row. It is for the demonstration, which makes them itself.
func (s *Store) WriteBulk(ctx context.Context, f func(tx *sqlx.Tx) error) (err error) {
	if _, err := s.write.ExecContext(ctx, `PRAGMA foreign_keys = OFF`); err != nil {
		return err
	}
	defer func() {
		_, on := s.write.ExecContext(context.WithoutCancel(ctx), `PRAGMA foreign_keys = ON`)
		err = errors.Join(err, on)
	}()
	return s.Write(ctx, f)
}

// WithoutStudentIndex writes very many marks: their second index is taken away
// and made again when f has written them.
func WithoutStudentIndex(ctx context.Context, tx *sqlx.Tx, f func() error) error {
	if _, err := tx.ExecContext(ctx, `DROP INDEX mark_student`); err != nil {
		return err
	}
	if err := f(); err != nil {
		return err
	}
	_, err := tx.ExecContext(ctx, `CREATE INDEX mark_student ON mark (student_id, date)`)
	return err
}
