package store

import (
	"context"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/core/ids"
)

// DraftMark is a mark of a register that is not sent yet.
type DraftMark struct {
	Date      day.Date    `db:"date"`
	Slot      string      `db:"slot"`
	ClassID   ids.Class   `db:"class_id"`
	StudentID ids.Student `db:"student_id"`
	Code      string      `db:"code"`
	Time      string      `db:"time"`
	Note      string      `db:"note"`
	Source    string      `db:"source"`
	Made      string      `db:"made"`
	Version   int         `db:"version"`
	Origin
}

// DraftsOf returns the draft of a register by student.
func DraftsOf(ctx context.Context, q Queryer, d day.Date, class ids.Class, slot string) (map[ids.Student]DraftMark, error) {
	rows, err := list[DraftMark](ctx, q, `SELECT x.*, `+origin+` FROM draft_mark x`+originJoin+`WHERE x.date = ? AND x.slot = ? AND x.class_id = ?`, d, slot, class)
	out := make(map[ids.Student]DraftMark, len(rows))
	for _, r := range rows {
		out[r.StudentID] = r
	}
	return out, err
}

// PutDrafts writes rows of a draft over those before.
func PutDrafts(ctx context.Context, tx *sqlx.Tx, rows []DraftMark) error {
	for _, r := range rows {
		if _, err := tx.NamedExecContext(ctx, `INSERT OR REPLACE INTO draft_mark (date, slot, class_id, student_id, code, time, note, source, made, version, journal_id)
			VALUES (:date, :slot, :class_id, :student_id, :code, :time, :note, :source, :made, :version, :journal_id)`, r); err != nil {
			return err
		}
	}
	return nil
}

// DropDraft takes the draft of a register away: it was sent.
func DropDraft(ctx context.Context, tx *sqlx.Tx, d day.Date, class ids.Class, slot string) error {
	_, err := tx.ExecContext(ctx, `DELETE FROM draft_mark WHERE date = ? AND slot = ? AND class_id = ?`, d, slot, class)
	return err
}
