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
	Entry     ids.Entry   `db:"entry"` // of the journal; 0 for a look
}

// DoneAsked is what is asked of who looked at what and who did what.
type DoneAsked struct {
	From, To day.Instant // with both
	Account  ids.Account // 0 for everyone
	Student  ids.Student // what concerned this student; 0 for all there is
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
		part := `SELECT x.id, x.at, x.account_id, 0 AS "write", x.what, x.student_id, x.detail, 0 AS entry FROM look x WHERE x.at BETWEEN ? AND ?`
		args = append(args, ask.From, ask.To)
		if ask.Account != 0 {
			part, args = part+` AND x.account_id = ?`, append(args, ask.Account)
		}
		if ask.Student != 0 {
			part, args = part+` AND x.student_id = ?`, append(args, ask.Student)
		}
		parts = append(parts, part)
	}
	if ask.Writes {
		part := `SELECT j.id, j.known AS at, COALESCE(j.account_id, 0) AS account_id, 1 AS "write", j.kind AS what, 0 AS student_id, '' AS detail, j.id AS entry FROM journal j WHERE j.known BETWEEN ? AND ?`
		args = append(args, ask.From, ask.To)
		if ask.Account != 0 {
			part, args = part+` AND j.account_id = ?`, append(args, ask.Account)
		}
		if ask.Student != 0 {
			part, args = part+` AND j.id IN (SELECT entry FROM (`+concerning+`) WHERE student_id = ?)`, append(args, ask.Student)
		}
		parts = append(parts, part)
	}
	if len(parts) == 0 {
		return []Done{}, nil
	}
	args = append(args, ask.Limit, ask.Offset)
	return list[Done](ctx, q, `SELECT x.at, x.account_id, x."write", x.what, x.student_id, x.detail, x.entry, COALESCE(a.name, '') AS who
		FROM (`+strings.Join(parts, " UNION ALL ")+`) x LEFT JOIN account a ON a.id = x.account_id
		ORDER BY x.at DESC, x."write", x.id DESC LIMIT ? OFFSET ?`, args...)
}

// concerning are the entries of the journal with the students whom they concern.
const concerning = `SELECT journal_id AS entry, student_id FROM movement
	UNION ALL SELECT journal_id, student_id FROM notice
	UNION ALL SELECT c.journal_id, s.student_id FROM call c JOIN call_student s ON s.call_id = c.id
	UNION ALL SELECT h.journal_id, s.student_id FROM hold h JOIN hold_student s ON s.hold_id = h.id
	UNION ALL SELECT journal_id, student_id FROM fetch
	UNION ALL SELECT journal_id, student_id FROM search
	UNION ALL SELECT journal_id, student_id FROM settled
	UNION ALL SELECT journal_id, student_id FROM contact_change
	UNION ALL SELECT journal_id, student_id FROM settling WHERE student_id IS NOT NULL
	UNION ALL SELECT journal_id, student_id FROM followup
	UNION ALL SELECT m.journal_id, s.student_id FROM message m JOIN message_student s ON s.message_id = m.id
	UNION ALL SELECT journal_id, student_id FROM mark WHERE version > 1`

// Concerned is a student, or a register, that an entry of the journal concerns.
type Concerned struct {
	Entry     ids.Entry   `db:"entry"`
	StudentID ids.Student `db:"student_id"` // 0 for a register
	ClassID   ids.Class   `db:"class_id"`
	Date      day.Date    `db:"date"`
	Slot      string      `db:"slot"`
}

// ConcernedBy returns whom entries of the journal concern.
func ConcernedBy(ctx context.Context, q Queryer, entries []ids.Entry) ([]Concerned, error) {
	if len(entries) == 0 {
		return nil, nil
	}
	query, args, err := sqlx.In(`SELECT DISTINCT entry, student_id, 0 AS class_id, 0 AS date, '' AS slot FROM (`+concerning+`) WHERE entry IN (?)
		UNION ALL SELECT journal_id, 0, class_id, date, slot FROM register WHERE journal_id IN (?) ORDER BY entry, student_id`, entries, entries)
	if err != nil {
		return nil, err
	}
	return list[Concerned](ctx, q, query, args...)
}
