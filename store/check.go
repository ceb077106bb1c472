package store

import (
	"context"
	"fmt"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
)

// Check looks for damage in the file and gaps in the history, and returns what
// is wrong, a line each; none when all is well.
func (s *Store) Check(ctx context.Context) ([]string, error) {
	var wrong []string
	var lines []string
	if err := sqlx.SelectContext(ctx, s.read, &lines, `PRAGMA integrity_check`); err != nil {
		return nil, fmt.Errorf("checking the file: %w", err)
	}
	for _, l := range lines {
		if l != "ok" {
			wrong = append(wrong, "file: "+l)
		}
	}
	rows, err := s.read.QueryxContext(ctx, `PRAGMA foreign_key_check`)
	if err != nil {
		return nil, fmt.Errorf("checking references: %w", err)
	}
	defer rows.Close()
	for rows.Next() {
		row := map[string]any{}
		if err := rows.MapScan(row); err != nil {
			return nil, err
		}
		wrong = append(wrong, fmt.Sprintf("reference: row %v of %v names a missing %v", row["rowid"], row["table"], row["parent"]))
	}
	if err := rows.Err(); err != nil {
		return nil, err
	}
	history, err := brokenHistory(ctx, s.read)
	return append(wrong, history...), err
}

// brokenHistory looks for marks whose versions do not run from 1 on, or whose
// later version was known earlier.
func brokenHistory(ctx context.Context, q Queryer) ([]string, error) {
	return list[string](ctx, q, `
		SELECT 'history: mark of student ' || student_id || ' on day ' || date || ' in ' || slot || ' has ' || count(*) || ' versions, the last numbered ' || max(version)
		FROM mark GROUP BY date, slot, student_id HAVING count(*) <> max(version) OR min(version) <> 1
		UNION ALL
		SELECT 'history: version ' || later.version || ' of the mark of student ' || later.student_id || ' on day ' || later.date || ' in ' || later.slot || ' was known before the one it replaces'
		FROM mark later JOIN mark earlier ON earlier.date = later.date AND earlier.slot = later.slot AND earlier.student_id = later.student_id AND earlier.version = later.version - 1
		WHERE later.version > 1 AND later.journal_id <= earlier.journal_id`)
}

// DropFrom forgets everything written since midnight of a date. Journal entries
// stay, emptied, since taking them away would search every table for who names
// them. It is for the demonstration, which starts a day again, and for nothing else.
func DropFrom(ctx context.Context, tx *sqlx.Tx, d day.Date) error {
	known := day.At(d, day.Midnight)
	const later = ` IN (SELECT id FROM journal WHERE known >= ?)`
	var do []string
	for _, of := range []string{"hold", "call", "activity", "message"} {
		do = append(do, "DELETE FROM "+of+"_student WHERE "+of+"_id IN (SELECT id FROM "+of+" WHERE journal_id"+later+")")
	}
	do = append(do, "DELETE FROM message_try WHERE message_id IN (SELECT id FROM message WHERE journal_id"+later+")")
	// In this order nothing is left that names what goes.
	for _, table := range []string{"hold", "mended", "draft_mark", "photo", "wrong_try", "phone", "check_in_entry", "check_in", "stand_in", "seat",
		"pass", "movement", "notice", "activity", "call", "fetch", "search", "settled", "answer_read", "message_event", "carrier_report", "message", "closing", "followup"} {
		do = append(do, "DELETE FROM "+table+" WHERE journal_id"+later)
	}
	do = append(do, "DELETE FROM mark WHERE version > 1 AND journal_id"+later,
		"UPDATE search SET ended_by = NULL, outcome = '', place = '', found_by = '' WHERE ended_by"+later)
	for _, ended := range [][2]string{{"hold", "ended_by"}, {"fetch", "ended_by"}, {"activity", "ended_by"}, {"check_in", "ended_by"}, {"stand_in", "ended_by"},
		{"pass", "returned_by"}, {"movement", "undone_by"}, {"notice", "withdrawn_by"}, {"check_in_entry", "confirmed_by"}} {
		do = append(do, "UPDATE "+ended[0]+" SET "+ended[1]+" = NULL WHERE "+ended[1]+later)
	}
	for _, q := range do {
		if _, err := tx.ExecContext(ctx, q, known); err != nil {
			return fmt.Errorf("starting the day again: %w", err)
		}
	}
	for _, q := range []string{`DELETE FROM mark WHERE date >= ?`, `DELETE FROM register WHERE date >= ?`} {
		if _, err := tx.ExecContext(ctx, q, d); err != nil {
			return fmt.Errorf("starting the day again: %w", err)
		}
	}
	_, err := tx.ExecContext(ctx, `UPDATE journal SET key = NULL, answer = NULL, kind = 'forgotten', known = ? WHERE known >= ?`, known-1, known)
	return err
}
