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
	if err := s.write.SelectContext(ctx, &lines, `PRAGMA integrity_check`); err != nil {
		return nil, fmt.Errorf("checking the file: %w", err)
	}
	for _, l := range lines {
		if l != "ok" {
			wrong = append(wrong, "file: "+l)
		}
	}
	rows, err := s.write.QueryxContext(ctx, `PRAGMA foreign_key_check`)
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
	known := day.At(d, 0)
	const later = `(SELECT id FROM journal WHERE known >= ?)`
	for _, q := range []string{
		`DELETE FROM hold_student WHERE hold_id IN (SELECT id FROM hold WHERE journal_id IN ` + later + `)`,
		`DELETE FROM hold WHERE journal_id IN ` + later,
		`UPDATE hold SET ended_by = NULL WHERE ended_by IN ` + later,
		`DELETE FROM mended WHERE journal_id IN ` + later,
		`DELETE FROM call_student WHERE call_id IN (SELECT id FROM call WHERE journal_id IN ` + later + `)`,
		`DELETE FROM activity_student WHERE activity_id IN (SELECT id FROM activity WHERE journal_id IN ` + later + `)`,
		`DELETE FROM mark WHERE version > 1 AND journal_id IN ` + later,
		`DELETE FROM draft_mark WHERE journal_id IN ` + later,
		`DELETE FROM photo WHERE journal_id IN ` + later,
		`DELETE FROM wrong_try WHERE journal_id IN ` + later,
		`DELETE FROM phone WHERE journal_id IN ` + later,
		`DELETE FROM check_in_entry WHERE journal_id IN ` + later,
		`DELETE FROM check_in WHERE journal_id IN ` + later,
		`DELETE FROM stand_in WHERE journal_id IN ` + later,
		`DELETE FROM seat WHERE journal_id IN ` + later,
		`DELETE FROM pass WHERE journal_id IN ` + later,
		`UPDATE pass SET returned_by = NULL WHERE returned_by IN ` + later,
		`DELETE FROM movement WHERE journal_id IN ` + later,
		`DELETE FROM notice WHERE journal_id IN ` + later,
		`DELETE FROM activity WHERE journal_id IN ` + later,
		`DELETE FROM call WHERE journal_id IN ` + later,
		`DELETE FROM fetch WHERE journal_id IN ` + later,
		`UPDATE fetch SET ended_by = NULL WHERE ended_by IN ` + later,
		`DELETE FROM search WHERE journal_id IN ` + later,
		`DELETE FROM settled WHERE journal_id IN ` + later,
		`DELETE FROM answer_read WHERE journal_id IN ` + later,
		`DELETE FROM message_student WHERE message_id IN (SELECT id FROM message WHERE journal_id IN ` + later + `)`,
		`DELETE FROM message_event WHERE journal_id IN ` + later,
		`DELETE FROM message WHERE journal_id IN ` + later,
		`DELETE FROM closing WHERE journal_id IN ` + later,
		`DELETE FROM followup WHERE journal_id IN ` + later,
		`UPDATE movement SET undone_by = NULL WHERE undone_by IN ` + later,
		`UPDATE notice SET withdrawn_by = NULL WHERE withdrawn_by IN ` + later,
		`UPDATE activity SET ended_by = NULL WHERE ended_by IN ` + later,
		`UPDATE check_in SET ended_by = NULL WHERE ended_by IN ` + later,
		`UPDATE check_in_entry SET confirmed_by = NULL WHERE confirmed_by IN ` + later,
		`UPDATE stand_in SET ended_by = NULL WHERE ended_by IN ` + later,
		`UPDATE search SET ended_by = NULL, outcome = '', place = '', found_by = '' WHERE ended_by IN ` + later,
	} {
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
