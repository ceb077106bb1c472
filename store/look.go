package store

import (
	"context"
	"strings"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/core/ids"
)

// Look is that someone looked at something.
type Look struct {
	At        day.Instant `db:"at"`
	AccountID ids.Account `db:"account_id"`
	What      string      `db:"what"`
	StudentID ids.Student `db:"student_id"` // 0 where it was at no one student
	Detail    string      `db:"detail"`
}

// AddLooks writes looks.
func AddLooks(ctx context.Context, tx *sqlx.Tx, looks []Look) error {
	return inBatches(ctx, tx, `INSERT INTO look (at, account_id, what, student_id, detail) VALUES (:at, :account_id, :what, :student_id, :detail)`, looks)
}

// PruneLooks removes the looks before an instant.
func PruneLooks(ctx context.Context, tx *sqlx.Tx, before day.Instant) error {
	_, err := tx.ExecContext(ctx, `DELETE FROM look WHERE at < ?`, before)
	return err
}

// Done is a line of who looked at what and who did what.
type Done struct {
	At        day.Instant `db:"at"`
	Who       string      `db:"who"`
	Account   ids.Account `db:"account_id"` // 0 for the program itself
	Write     bool        `db:"write"`
	What      string      `db:"what"`
	StudentID ids.Student `db:"student_id"` // 0 for no one student
	Detail    string      `db:"detail"`
}

// DoneAsked is what is asked of who looked at what and who did what.
type DoneAsked struct {
	From, To day.Instant // with both
	Account  ids.Account // 0 for everyone
	Student  ids.Student // looks at this student only; 0 for all there is
	Writes   bool        // what was done
	Looks    bool        // what was looked at
	Limit    int
	Offset   int
}

// DoneBy returns who looked at what and who did what, the latest first.
func DoneBy(ctx context.Context, q Queryer, ask DoneAsked) ([]Done, error) {
	var parts []string
	var args []any
	if ask.Looks {
		part := `SELECT x.id, x.at, x.account_id, 0 AS "write", x.what, x.student_id, x.detail FROM look x WHERE x.at BETWEEN ? AND ?`
		args = append(args, ask.From, ask.To)
		if ask.Account != 0 {
			part, args = part+` AND x.account_id = ?`, append(args, ask.Account)
		}
		if ask.Student != 0 {
			part, args = part+` AND x.student_id = ?`, append(args, ask.Student)
		}
		parts = append(parts, part)
	}
	if ask.Writes && ask.Student == 0 {
		part := `SELECT j.id, j.known AS at, COALESCE(j.account_id, 0) AS account_id, 1 AS "write", j.kind AS what, 0 AS student_id, '' AS detail FROM journal j WHERE j.known BETWEEN ? AND ?`
		args = append(args, ask.From, ask.To)
		if ask.Account != 0 {
			part, args = part+` AND j.account_id = ?`, append(args, ask.Account)
		}
		parts = append(parts, part)
	}
	if len(parts) == 0 {
		return []Done{}, nil
	}
	args = append(args, ask.Limit, ask.Offset)
	return list[Done](ctx, q, `SELECT x.at, x.account_id, x."write", x.what, x.student_id, x.detail, COALESCE(a.name, '') AS who
		FROM (`+strings.Join(parts, " UNION ALL ")+`) x LEFT JOIN account a ON a.id = x.account_id
		ORDER BY x.at DESC, x."write", x.id DESC LIMIT ? OFFSET ?`, args...)
}
