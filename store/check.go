package store

import (
	"context"
	"errors"
	"fmt"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
)

// Check looks for damage in the file and gaps in the history, and returns what
// is wrong, a line each; none when all is well. Whether the indexes hold what the tables hold
// is told by their number of entries; with whole, each entry is compared, which takes some five
// times as long. It has a connection of its own, so that others read beside it.
func (s *Store) Check(ctx context.Context, whole bool) (wrong []string, err error) {
	tx, done, err := s.aside(ctx)
	if err != nil {
		return nil, err
	}
	defer func() { err = errors.Join(err, done()) }()
	how := `PRAGMA quick_check`
	if whole {
		how = `PRAGMA integrity_check`
	}
	lines, err := list[string](ctx, tx, how)
	if err != nil {
		return nil, fmt.Errorf("checking the file: %w", err)
	}
	for _, l := range lines {
		if l != "ok" {
			wrong = append(wrong, "file: "+l)
		}
	}
	for _, look := range []func(context.Context, Queryer) ([]string, error){uneven, missing, brokenHistory} {
		found, err := look(ctx, tx)
		if err != nil {
			return nil, err
		}
		wrong = append(wrong, found...)
	}
	return wrong, nil
}

// uneven looks for indexes that do not have an entry for each row of their table.
func uneven(ctx context.Context, q Queryer) (wrong []string, err error) {
	type index struct {
		Name  string `db:"name"`
		Table string `db:"tbl_name"`
	}
	indexes, err := list[index](ctx, q, `SELECT name, tbl_name FROM sqlite_schema WHERE type = 'index' AND sql IS NOT NULL AND sql NOT LIKE '% WHERE %'`)
	if err != nil {
		return nil, err
	}
	for _, i := range indexes {
		var entries, rows int
		if err := sqlx.GetContext(ctx, q, &entries, fmt.Sprintf(`SELECT count(*) FROM %q INDEXED BY %q`, i.Table, i.Name)); err != nil {
			return nil, fmt.Errorf("counting the index %s: %w", i.Name, err)
		}
		if err := sqlx.GetContext(ctx, q, &rows, fmt.Sprintf(`SELECT count(*) FROM %q NOT INDEXED`, i.Table)); err != nil {
			return nil, fmt.Errorf("counting the table %s: %w", i.Table, err)
		}
		if entries != rows {
			wrong = append(wrong, fmt.Sprintf("index: %s has %d entries for the %d rows of %s", i.Name, entries, rows, i.Table))
		}
	}
	return wrong, nil
}

// missing looks for rows that name another that is not there.
func missing(ctx context.Context, q Queryer) (wrong []string, err error) {
	rows, err := q.QueryxContext(ctx, `PRAGMA foreign_key_check`)
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
	return wrong, rows.Err()
}

// brokenHistory looks for marks whose versions do not run from 1 on, or whose
// later version was known earlier.
func brokenHistory(ctx context.Context, q Queryer) ([]string, error) {
	return list[string](ctx, q, `
		SELECT 'history: version ' || m.version || ' of the mark of student ' || m.student_id || ' on day ' || m.date || ' in ' || m.slot ||
			CASE WHEN m.version < 1 THEN ' is numbered below 1' WHEN b.version IS NULL THEN ' has none before it' ELSE ' was known before the one it replaces' END
		FROM mark m LEFT JOIN mark b ON b.date = m.date AND b.slot = m.slot AND b.student_id = m.student_id AND b.version = m.version - 1
		WHERE m.version <> 1 AND (m.version < 1 OR b.version IS NULL OR m.journal_id <= b.journal_id)`)
}

// DropFrom forgets everything written since midnight of a date. Journal entries
// stay, emptied, since taking them away would search every table for who names
// them. It is for the demonstration, which starts a day again, and for nothing else.
func DropFrom(ctx context.Context, tx *sqlx.Tx, d day.Date) error {
	known := day.At(d, day.Midnight)
	const later = ` IN (SELECT id FROM journal WHERE known >= ?)`
	var do []string
	for _, of := range []string{"hold", "call", "message"} {
		do = append(do, "DELETE FROM "+of+"_student WHERE "+of+"_id IN (SELECT id FROM "+of+" WHERE journal_id"+later+")")
	}
	for _, of := range []string{"incident_person", "incident_action"} {
		do = append(do, "DELETE FROM "+of+" WHERE version_id IN (SELECT id FROM incident_version WHERE journal_id"+later+")")
	}
	do = append(do, "DELETE FROM message_try WHERE message_id IN (SELECT id FROM message WHERE journal_id"+later+")")
	// In this order nothing is left that names what goes.
	for _, table := range []string{"activity_back", "activity_mark", "activity_member", "activity_time", "roll_tick", "roll_person", "roll_call", "visit", "hold", "mended", "draft_mark", "photo", "wrong_try", "phone", "check_in_text", "check_in_entry", "check_in", "stand_in", "seat",
		"pass", "movement", "notice", "activity", "call", "fetch", "search", "settled", "settling", "answer_read", "message_event", "carrier_report", "paper_job", "message", "closing", "followup", "letter", "step_act", "step", "letter_text", "letter_template", "closure", "former_record", "pin", "saved_view", "paper_plan_reader", "paper_plan", "paper_list_reader", "paper_list_version", "paper_list", "student_list_member", "student_list", "own_value", "own_field", "incident_version", "incident", "conduct_word", "conduct_change", "result", "result_rule", "result_period", "graded_course", "item_score", "line_item", "attention_rule", "learning_activity", "outlook_history", "concern_told", "concern_word", "review_decision", "week_reason", "session_version", "support_session", "meeting", "case_document", "case_step_end", "case_step", "case_change", "student_case", "support_word", "review_row", "review"} {
		do = append(do, "DELETE FROM "+table+" WHERE journal_id"+later)
	}
	do = append(do, "DELETE FROM mark WHERE version > 1 AND journal_id"+later,
		"UPDATE search SET ended_by = NULL, outcome = '', place = '', found_by = '' WHERE ended_by"+later)
	for _, ended := range [][2]string{{"hold", "ended_by"}, {"visit", "ended_by"}, {"roll_tick", "undone_by"}, {"roll_call", "ended_by"}, {"fetch", "ended_by"}, {"activity", "ended_by"}, {"activity_member", "ended_by"}, {"activity_back", "undone_by"}, {"check_in", "ended_by"}, {"stand_in", "ended_by"},
		{"pass", "returned_by"}, {"movement", "undone_by"}, {"call", "undone_by"}, {"settled", "undone_by"}, {"step_act", "undone_by"}, {"letter", "undone_by"}, {"closure", "undone_by"}, {"saved_view", "ended_by"}, {"student_list", "ended_by"}, {"student_list_member", "ended_by"}, {"paper_list", "ended_by"}, {"former_record", "ended_by"}, {"pin", "ended_by"}, {"paper_plan", "ended_by"}, {"paper_job", "settled_by"}, {"paper_list_version", "undone_by"}, {"paper_list_reader", "ended_by"}, {"own_value", "ended_by"}, {"incident_version", "ended_by"}, {"incident", "taken_back_by"}, {"conduct_change", "taken_back_by"}, {"result", "ended_by"}, {"item_score", "ended_by"}, {"line_item", "ended_by"}, {"attention_rule", "ended_by"}, {"concern_word", "undone_by"}, {"review_decision", "undone_by"}, {"case_change", "undone_by"}, {"student_case", "undone_by"}, {"followup", "undone_by"}, {"case_step", "undone_by"}, {"case_step_end", "undone_by"}, {"case_document", "undone_by"}, {"meeting", "undone_by"}, {"session_version", "undone_by"}, {"week_reason", "undone_by"}, {"review", "finished_by"}, {"notice", "withdrawn_by"}, {"check_in_entry", "confirmed_by"}} {
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
