package store

import (
	"context"

	"github.com/jmoiron/sqlx"

	"meldung/core/ids"
)

// SavedView is a page's address under a name.
type SavedView struct {
	ID        ids.SavedView `db:"id"`
	AccountID ids.Account   `db:"account_id"`
	Place     string        `db:"place"`
	Name      string        `db:"name"`
	Address   string        `db:"address"`
	Shared    bool          `db:"shared"`
	EndedBy   *ids.Entry    `db:"ended_by"`
	Origin
}

// SavedViews returns the views that stand, by name.
func SavedViews(ctx context.Context, q Queryer) ([]SavedView, error) {
	return list[SavedView](ctx, q, `SELECT x.*, `+origin+` FROM saved_view x`+originJoin+`WHERE x.ended_by IS NULL ORDER BY x.name, x.id`)
}

// AddSavedView writes a view and returns its id.
func AddSavedView(ctx context.Context, tx *sqlx.Tx, s SavedView) (ids.SavedView, error) {
	return insert[ids.SavedView](ctx, tx, `INSERT INTO saved_view (account_id, place, name, address, shared, journal_id) VALUES (:account_id, :place, :name, :address, :shared, :journal_id)`, s)
}

// EndSavedView takes a view off.
func EndSavedView(ctx context.Context, tx *sqlx.Tx, id ids.SavedView, journal ids.Entry) (bool, error) {
	return took(tx.ExecContext(ctx, `UPDATE saved_view SET ended_by = ? WHERE id = ? AND ended_by IS NULL`, journal, id))
}
