package store

import (
	"context"

	"github.com/jmoiron/sqlx"

	"meldung/core/ids"
)

// PaperList is a list as it is shaped on paper, by its last version.
type PaperList struct {
	ID        ids.PaperList `db:"id"`
	AccountID ids.Account   `db:"account_id"`
	Name      string        `db:"name"`
	Setup     string        `db:"setup"` // JSON
	Versions  int           `db:"versions"`
	Version   int64         `db:"version_id"` // the last one
	EndedBy   *ids.Entry    `db:"ended_by"`
	Origin                  // of the last version
}

// PaperLists returns the lists that stand, by name.
func PaperLists(ctx context.Context, q Queryer) ([]PaperList, error) {
	return list[PaperList](ctx, q, `SELECT l.id, l.account_id, l.name, l.ended_by, x.setup, x.id AS version_id, x.journal_id, (SELECT count(*) FROM paper_list_version o WHERE o.list_id = l.id AND o.undone_by IS NULL) AS versions, `+origin+`
		FROM paper_list l JOIN paper_list_version x ON x.id = (SELECT max(o.id) FROM paper_list_version o WHERE o.list_id = l.id AND o.undone_by IS NULL)`+originJoin+`WHERE l.ended_by IS NULL ORDER BY l.name, l.id`)
}

// PaperVersion is how a list was shaped at some time.
type PaperVersion struct {
	ID    int64  `db:"id"`
	Setup string `db:"setup"`
	Origin
}

// PaperVersions returns the versions of a list that stand, the last first.
func PaperVersions(ctx context.Context, q Queryer, of ids.PaperList) ([]PaperVersion, error) {
	return list[PaperVersion](ctx, q, `SELECT x.id, x.setup, x.journal_id, `+origin+` FROM paper_list_version x`+originJoin+`WHERE x.list_id = ? AND x.undone_by IS NULL ORDER BY x.id DESC`, of)
}

// PaperReader is an account that a list is shared with.
type PaperReader struct {
	ListID    ids.PaperList `db:"list_id"`
	AccountID ids.Account   `db:"account_id"`
	Name      string        `db:"name"`
}

// PaperReaders returns with whom lists that stand are shared, by name.
func PaperReaders(ctx context.Context, q Queryer) ([]PaperReader, error) {
	return list[PaperReader](ctx, q, `SELECT r.list_id, r.account_id, a.name FROM paper_list_reader r JOIN account a ON a.id = r.account_id JOIN paper_list l ON l.id = r.list_id
		WHERE r.ended_by IS NULL AND l.ended_by IS NULL ORDER BY a.name, a.id`)
}

// AddPaperList writes a list without a version, and returns its id.
func AddPaperList(ctx context.Context, tx *sqlx.Tx, l PaperList) (ids.PaperList, error) {
	return insert[ids.PaperList](ctx, tx, `INSERT INTO paper_list (account_id, name, journal_id) VALUES (:account_id, :name, :journal_id)`, l)
}

// NamePaperList gives a list another name.
func NamePaperList(ctx context.Context, tx *sqlx.Tx, id ids.PaperList, name string) error {
	_, err := tx.ExecContext(ctx, `UPDATE paper_list SET name = ? WHERE id = ?`, name, id)
	return err
}

// AddPaperVersion writes how a list is shaped from now on.
func AddPaperVersion(ctx context.Context, tx *sqlx.Tx, id ids.PaperList, setup string, journal ids.Entry) error {
	_, err := tx.ExecContext(ctx, `INSERT INTO paper_list_version (list_id, setup, journal_id) VALUES (?, ?, ?)`, id, setup, journal)
	return err
}

// SharePaperList shares a list with an account, or with it no more; it reports whether that is new.
func SharePaperList(ctx context.Context, tx *sqlx.Tx, id ids.PaperList, with ids.Account, shared bool, journal ids.Entry) (bool, error) {
	if shared {
		return took(tx.ExecContext(ctx, `INSERT INTO paper_list_reader (list_id, account_id, journal_id) VALUES (?, ?, ?) ON CONFLICT DO NOTHING`, id, with, journal))
	}
	return took(tx.ExecContext(ctx, `UPDATE paper_list_reader SET ended_by = ? WHERE list_id = ? AND account_id = ? AND ended_by IS NULL`, journal, id, with))
}

// EndPaperList takes a list away.
func EndPaperList(ctx context.Context, tx *sqlx.Tx, id ids.PaperList, journal ids.Entry) (bool, error) {
	return took(tx.ExecContext(ctx, `UPDATE paper_list SET ended_by = ? WHERE id = ? AND ended_by IS NULL`, journal, id))
}

// UndoPaperLists takes back what an entry did to lists: one that it made is gone, one that it took away stands again
// but where another of its name has taken its place, and a version that it wrote gives way to the one before. It
// reports whether anything was changed.
func UndoPaperLists(ctx context.Context, tx *sqlx.Tx, of, journal ids.Entry) (bool, error) {
	statements := append(backAndForth("paper_list", "account_id", "name"), backAndForth("paper_list_reader", "list_id", "account_id")...)
	return undo(ctx, tx, of, journal, append(statements, `UPDATE paper_list_version AS v SET undone_by = ?1 WHERE journal_id = ?2 AND undone_by IS NULL
		AND EXISTS (SELECT 1 FROM paper_list_version o WHERE o.list_id = v.list_id AND o.undone_by IS NULL AND o.id <> v.id)`))
}
