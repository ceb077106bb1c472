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

// Pin is a page that somebody has put first.
type Pin struct {
	ID        ids.Pin     `db:"id"`
	AccountID ids.Account `db:"account_id"`
	Path      string      `db:"path"`
	Title     string      `db:"title"`
	EndedBy   *ids.Entry  `db:"ended_by"`
	Journal   ids.Entry   `db:"journal_id"`
}

// Pins returns what an account has put first, in the order in which it was.
func Pins(ctx context.Context, q Queryer, account ids.Account) ([]Pin, error) {
	return list[Pin](ctx, q, `SELECT * FROM pin WHERE account_id = ? AND ended_by IS NULL ORDER BY id`, account)
}

// AddPin puts a page first.
func AddPin(ctx context.Context, tx *sqlx.Tx, p Pin) (ids.Pin, error) {
	return insert[ids.Pin](ctx, tx, `INSERT INTO pin (account_id, path, title, journal_id) VALUES (:account_id, :path, :title, :journal_id)`, p)
}

// EndPin has a page first no more; it reports whether it was.
func EndPin(ctx context.Context, tx *sqlx.Tx, account ids.Account, id ids.Pin, journal ids.Entry) (bool, error) {
	return took(tx.ExecContext(ctx, `UPDATE pin SET ended_by = ? WHERE id = ? AND account_id = ? AND ended_by IS NULL`, journal, id, account))
}

// UndoPins takes back what an entry did to pins; it reports whether anything was changed.
func UndoPins(ctx context.Context, tx *sqlx.Tx, of, journal ids.Entry) (bool, error) {
	return undo(ctx, tx, of, journal, backAndForth("pin", "account_id", "path"))
}
