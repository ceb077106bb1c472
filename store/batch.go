package store

import (
	"context"
	"fmt"
	"reflect"

	"github.com/jmoiron/sqlx"
)

// batchRows keeps a statement under SQLite's limit on bound values.
const batchRows = 500

// inBatches writes many rows with few statements.
func inBatches(ctx context.Context, tx *sqlx.Tx, query string, rows any) error {
	v := reflect.ValueOf(rows)
	for i := 0; i < v.Len(); i += batchRows {
		part := v.Slice(i, min(i+batchRows, v.Len()))
		if _, err := tx.NamedExecContext(ctx, query, part.Interface()); err != nil {
			return fmt.Errorf("writing %s: %w", part.Type().Elem(), err)
		}
	}
	return nil
}
