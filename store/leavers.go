package store

import (
	"context"
	"errors"
	"fmt"

	"github.com/jmoiron/sqlx"

	"meldung/core/ids"
)

// Sheet is a table of what is stored, as text.
type Sheet struct {
	Name   string
	Header []string
	Rows   [][]string
}

// About returns everything that is stored about a student, a sheet for each kind.
func About(ctx context.Context, q Queryer, student ids.Student) ([]Sheet, error) {
	var out []Sheet
	for _, part := range aboutStudent {
		rows, err := q.QueryxContext(ctx, part.query, student)
		if err != nil {
			return nil, fmt.Errorf("reading the %s of a student: %w", part.name, err)
		}
		sheet, err := sheetOf(part.name, rows)
		if err != nil {
			return nil, err
		}
		out = append(out, sheet)
	}
	return out, nil
}

func sheetOf(name string, rows *sqlx.Rows) (out Sheet, err error) {
	defer func() { err = errors.Join(err, rows.Close()) }()
	out.Name = name
	if out.Header, err = rows.Columns(); err != nil {
		return out, err
	}
	for rows.Next() {
		cells, err := rows.SliceScan()
		if err != nil {
			return out, err
		}
		row := make([]string, len(cells))
		for i, c := range cells {
			if c != nil {
				row[i] = fmt.Sprint(c)
			}
		}
		out.Rows = append(out.Rows, row)
	}
	return out, rows.Err()
}

// How dates, minutes and the journal's instants are read in the sheets.
func date(column string) string { return "date(" + column + " * 86400, 'unixepoch')" }
func minute(column string) string {
	return "iif(" + column + " IS NULL, '', printf('%02d:%02d', " + column + " / 60, " + column + " % 60))"
}

// open reads words that are for all of the office; what is kept to fewer is said to be there, and not what it is.
func open(kept, words string) string {
	return "iif(" + kept + " = 'office' OR " + words + " = '', " + words + ", 'confidential')"
}

// keptOf is for whom a case is.
func keptOf(id string) string {
	return "(SELECT h.kept FROM case_change h WHERE h.case_id = " + id + " AND h.undone_by IS NULL ORDER BY h.id DESC LIMIT 1)"
}

// recorded are who wrote a row and when.
const recorded = `strftime('%Y-%m-%d %H:%M', j.known * 60, 'unixepoch') AS recorded, coalesce(a.name, '') AS recorded_by`

var aboutStudent = []struct{ name, query string }{
	{"student", `SELECT sourced_id, number, family, given, middle, born, card, travels, email FROM student WHERE id = ?`},
	{"on the roll", `SELECT c.type, d.title AS class, ` + date("e.from_date") + ` AS from_date, ` + date("e.to_date") + ` AS to_date FROM enrollment e JOIN class c ON c.id = e.class_id
		LEFT JOIN class_detail d ON d.class_id = c.id AND d.from_date = (SELECT max(from_date) FROM class_detail WHERE class_id = c.id AND from_date <= e.from_date)
		WHERE e.student_id = ? ORDER BY e.from_date, e.id`},
	{"years and shares", `SELECT year, share_here, share_elsewhere, ` + date("from_date") + ` AS from_date, ` + date("to_date") + ` AS to_date FROM student_detail WHERE student_id = ? ORDER BY from_date`},
	{"warnings", `SELECT w.words, w.care_first, coalesce(d.name, '') AS document, w.ended_by IS NOT NULL AS ended FROM warning w LEFT JOIN warning_document d ON d.warning_id = w.id WHERE w.student_id = ? ORDER BY w.id`},
	{"changes of warnings", `SELECT x.words, ` + recorded + ` FROM warning_change x` + originJoin + `WHERE x.student_id = ? ORDER BY x.id`},
	{"contacts", `SELECT c.given, c.family, c.phone, c.sms, c.email, c.address, c.language, t.relation, t.call_order, t.may_collect, t.lives_with, t.do_not_call
		FROM student_contact t JOIN contact c ON c.id = t.contact_id WHERE t.student_id = ? ORDER BY t.call_order`},
	{"changes of contacts", `SELECT c.given, c.family, x.words, ` + recorded + ` FROM contact_change x` + originJoin + ` JOIN contact c ON c.id = x.contact_id WHERE x.student_id = ? ORDER BY x.id`},
	{"marks", `SELECT ` + date("x.date") + ` AS date, x.slot, x.version, x.code, ` + minute("x.away_from") + ` AS away_from, ` + minute("x.away_to") + ` AS away_to, x.source, x.reason, x.note, ` + recorded + `
		FROM mark x` + originJoin + `WHERE x.student_id = ? ORDER BY x.date, x.slot, x.version`},
	{"movements", `SELECT ` + date("x.date") + ` AS date, ` + minute("x.minute") + ` AS at, x.kind, x.reason, x.note, ` + minute("x.returns") + ` AS back_by, x.collector, x.undone_by IS NOT NULL AS undone, ` + recorded + `
		FROM movement x` + originJoin + `WHERE x.student_id = ? ORDER BY x.id`},
	{"notices", `SELECT ` + date("x.from_date") + ` AS from_date, ` + date("x.to_date") + ` AS to_date, ` + minute("x.from_minute") + ` AS from_time, ` + minute("x.to_minute") + ` AS to_time, x.reason, x.told_by, x.told_how, x.withdrawn_by IS NOT NULL AS withdrawn, ` + recorded + `
		FROM notice x` + originJoin + `WHERE x.student_id = ? ORDER BY x.id`},
	{"calls", `SELECT ` + date("x.date") + ` AS date, ` + minute("x.minute") + ` AS at, iif(x.about IS NULL, '', ` + date("x.about") + `) AS about, x.phone, x.outcome, x.said, x.note, x.collector, x.undone_by IS NOT NULL AS undone, ` + recorded + `
		FROM call x` + originJoin + `WHERE x.id IN (SELECT call_id FROM call_student WHERE student_id = ?) ORDER BY x.id`},
	{"messages", `SELECT ` + date("x.date") + ` AS date, ` + minute("x.minute") + ` AS at, x.kind, x.channel, x.address, x.words, x.state, ` + recorded + `
		FROM message x` + originJoin + `WHERE x.student_id = ?1 OR x.id IN (SELECT message_id FROM message_student WHERE student_id = ?1) ORDER BY x.id`},
	{"answers", `SELECT ` + date("e.date") + ` AS date, ` + minute("e.minute") + ` AS at, e.state, e.words
		FROM message_event e JOIN message x ON x.id = e.message_id WHERE e.words <> '' AND (x.student_id = ?1 OR x.id IN (SELECT message_id FROM message_student WHERE student_id = ?1)) ORDER BY e.id`},
	{"searches", `SELECT ` + date("x.date") + ` AS date, ` + minute("x.minute") + ` AS at, x.outcome, x.place, x.searcher, x.found_by, ` + recorded + ` FROM search x` + originJoin + `WHERE x.student_id = ? ORDER BY x.id`},
	{"to be fetched", `SELECT ` + date("x.date") + ` AS date, ` + minute("x.minute") + ` AS at, x.reason, x.place, ` + recorded + ` FROM fetch x` + originJoin + `WHERE x.student_id = ? ORDER BY x.id`},
	{"contradictions", `SELECT ` + date("x.date") + ` AS date, x.slot, x.kind, x.note, ` + recorded + ` FROM settled x` + originJoin + `WHERE x.student_id = ? ORDER BY x.id`},
	{"settled", `SELECT ` + date("x.date") + ` AS date, ` + minute("x.minute") + ` AS at, x.how, x.undone_by IS NOT NULL AS undone, ` + recorded + ` FROM settling x` + originJoin + `WHERE x.student_id = ? ORDER BY x.id`},
	{"roll calls", `SELECT ` + date("c.date") + ` AS date, c.kind, x.why, x.place, x.seen, coalesce(strftime('%H:%M', t.at * 60, 'unixepoch'), '') AS ticked_at, coalesce(t.place, '') AS ticked_where
		FROM roll_person x JOIN roll_call c ON c.id = x.roll_call_id LEFT JOIN roll_tick t ON t.roll_call_id = c.id AND t.kind = x.kind AND t.person = x.person AND t.undone_by IS NULL
		WHERE x.kind = 'student' AND x.person = ? ORDER BY c.id`},
	{"trips", `SELECT t.title, t.place, ` + date("t.date") + ` AS date, x.ended_by IS NOT NULL AS taken_off, ` + recorded + ` FROM activity_member x JOIN activity t ON t.id = x.activity_id` + originJoin + `WHERE x.student_id = ? ORDER BY t.date, x.id`},
	{"check-ins", `SELECT ` + date("c.date") + ` AS date, c.slot, ` + minute("x.minute") + ` AS at, c.question, x.answer, x.distance, ` + recorded + `
		FROM check_in_entry x JOIN check_in c ON c.id = x.check_in_id` + originJoin + `WHERE x.student_id = ? ORDER BY c.date, c.id`},
	{"incidents", `SELECT ` + date("x.date") + ` AS date, ` + minute("x.minute") + ` AS at, coalesce(w.name, '') AS place, coalesce(k.name, '') AS kind, s.role, x.words,
		coalesce((SELECT group_concat(c.name, '; ') FROM incident_action t JOIN conduct_word c ON c.id = t.action_id WHERE t.version_id = x.id), '') AS action, i.recorded_by AS told_by,
		x.ended_by IS NOT NULL AS corrected, i.taken_back_by IS NOT NULL AS taken_back, ` + recorded + `
		FROM incident_person s JOIN incident_version x ON x.id = s.version_id JOIN incident i ON i.id = x.incident_id
		LEFT JOIN conduct_word w ON w.id = x.place_id LEFT JOIN conduct_word k ON k.id = x.kind_id` + originJoin + `WHERE s.student_id = ? ORDER BY x.id`},
	{"course results", `SELECT x.kind, c.title AS course, x.period, x.at_period, x.class, x.value, ` + date("x.date") + ` AS stored, x.ended_by IS NOT NULL AS replaced, ` + recorded + `
		FROM result x JOIN graded_course c ON c.id = x.course_id` + originJoin + `WHERE x.student_id = ? ORDER BY x.id`},
	{"pieces of work", `SELECT d.title AS class, i.title, i.category, coalesce(` + date("i.due") + `, '') AS due, x.status, x.score, i.most AS of, x.comment, ` + date("x.date") + ` AS stored, x.ended_by IS NOT NULL AS replaced, ` + recorded + `
		FROM item_score x JOIN line_item i ON i.id = x.item_id
		LEFT JOIN class_detail d ON d.class_id = i.class_id AND d.from_date = (SELECT max(from_date) FROM class_detail WHERE class_id = i.class_id AND from_date <= x.date)` + originJoin + `WHERE x.student_id = ? ORDER BY x.id`},
	{"contacts of follow-up", `SELECT ` + date("x.date") + ` AS date, ` + minute("x.minute") + ` AS at, x.way, x.with_whom, x.who, x.outcome, ` + open("x.kept", "x.note") + ` AS note, ` + date("x.next_date") + ` AS next, x.undone_by IS NOT NULL AS undone, ` + recorded + ` FROM followup x` + originJoin + `WHERE x.student_id = ? ORDER BY x.id`},
	{"reviews", `SELECT ` + date("r.date") + ` AS review, x.found, ` + recorded + ` FROM review_row x JOIN review r ON r.id = x.review_id` + originJoin + `WHERE x.student_id = ? ORDER BY r.date`},
	{"decisions at reviews", `SELECT ` + date("r.date") + ` AS review, x.kind, coalesce(` + date("x.until") + `, '') AS until, iif(x.case_id IS NULL, x.words, ` + open(keptOf("x.case_id"), "x.words") + `) AS words, x.undone_by IS NOT NULL AS undone, ` + recorded + ` FROM review_decision x JOIN review r ON r.id = x.review_id` + originJoin + `WHERE x.student_id = ? ORDER BY x.id`},
	{"cases", `SELECT c.id AS case_number, c.found, x.kind, o.name AS owner, coalesce(` + date("x.next_date") + `, '') AS next, ` + open("x.kept", "x.words") + ` AS words, coalesce(w.name, '') AS ended, x.undone_by IS NOT NULL AS undone, ` + recorded + ` FROM case_change x LEFT JOIN support_word w ON w.id = x.end_id JOIN student_case c ON c.id = x.case_id JOIN account o ON o.id = x.owner_id` + originJoin + `WHERE c.student_id = ? ORDER BY x.id`},
	{"plans of cases", `SELECT s.case_id AS case_number, ` + open(keptOf("s.case_id"), "s.words") + ` AS step, coalesce(` + date("s.due") + `, '') AS due, o.name AS who, coalesce(e.done, '') AS done, ` + open(keptOf("s.case_id"), "coalesce(e.words, '')") + ` AS words, ` + recorded + `
		FROM case_step s JOIN student_case c ON c.id = s.case_id JOIN account o ON o.id = s.owner_id LEFT JOIN case_step_end e ON e.step_id = s.id AND e.undone_by IS NULL JOIN journal j ON j.id = s.journal_id LEFT JOIN account a ON a.id = j.account_id WHERE c.student_id = ? ORDER BY s.id`},
	{"papers of cases", `SELECT x.case_id AS case_number, ` + open(keptOf("x.case_id"), "x.name") + ` AS name, x.type, length(x.content) AS bytes, x.undone_by IS NOT NULL AS taken_off, ` + recorded + ` FROM case_document x JOIN student_case c ON c.id = x.case_id` + originJoin + `WHERE c.student_id = ? ORDER BY x.id`},
	{"meetings", `SELECT ` + date("x.date") + ` AS date, ` + minute("x.minute") + ` AS at, ` + minute("x.until") + ` AS until, x.title, x.room, x.people, x.undone_by IS NOT NULL AS cancelled, ` + recorded + ` FROM meeting x` + originJoin + `WHERE x.student_id = ? ORDER BY x.date, x.id`},
	{"support sessions", `SELECT s.sourced_id AS session, ` + date("x.date") + ` AS date, ` + minute("x.minute") + ` AS at, x.minutes, w.name AS kind, x.led_by, ` + open("x.kept", "x.note") + ` AS note_for_all, ` + open("x.kept", "x.own_note") + ` AS note, x.gone AS taken_off, x.undone_by IS NOT NULL AS undone, ` + recorded + `
		FROM session_version x JOIN support_session s ON s.id = x.session_id JOIN support_word w ON w.id = x.kind_id` + originJoin + `WHERE s.student_id = ? ORDER BY x.id`},
	{"weeks without a session", `SELECT ` + date("x.week") + ` AS week, x.words, x.undone_by IS NOT NULL AS undone, ` + recorded + ` FROM week_reason x` + originJoin + `WHERE x.student_id = ? ORDER BY x.id`},
	{"said for reviews", `SELECT x.words, x.undone_by IS NOT NULL AS undone, ` + recorded + ` FROM concern_word x` + originJoin + `WHERE x.student_id = ? ORDER BY x.id`},
	{"learning activity", `SELECT x.source, coalesce(strftime('%Y-%m-%d %H:%M', x.at * 60, 'unixepoch'), '') AS at, x.kind, ` + recorded + ` FROM learning_activity x` + originJoin + `WHERE x.student_id = ? ORDER BY x.id`},
	{"steps of policies", `SELECT x.policy, x.title, ` + date("x.reached") + ` AS due, t.kind, coalesce(` + date("t.until") + `, '') AS until, coalesce(o.name, '') AS handed_to, t.words, t.undone_by IS NOT NULL AS undone,
		strftime('%Y-%m-%d %H:%M', j.known * 60, 'unixepoch') AS recorded, coalesce(a.name, '') AS recorded_by
		FROM step x JOIN step_act t ON t.step_id = x.id JOIN journal j ON j.id = t.journal_id LEFT JOIN account a ON a.id = j.account_id LEFT JOIN account o ON o.id = t.account_id WHERE x.student_id = ? ORDER BY t.id`},
	{"letters", `SELECT ` + date("x.date") + ` AS date, x.recipient, x.subject, x.words, x.undone_by IS NOT NULL AS undone, ` + recorded + ` FROM letter x` + originJoin + `WHERE x.student_id = ? ORDER BY x.id`},
	{"own fields", `SELECT f.name AS field, x.value, x.ended_by IS NOT NULL AS ended, ` + recorded + ` FROM own_value x JOIN own_field f ON f.id = x.field_id` + originJoin + `WHERE x.student_id = ? ORDER BY x.id`},
	{"on lists", `SELECT l.name AS list, x.ended_by IS NOT NULL AS taken_off, ` + recorded + ` FROM student_list_member x JOIN student_list l ON l.id = x.list_id` + originJoin + `WHERE x.student_id = ? ORDER BY x.id`},
	{"records of earlier schools", `SELECT x.school, x.made, x.ended_by IS NOT NULL AS taken_off, ` + recorded + ` FROM former_record x` + originJoin + `WHERE x.student_id = ? ORDER BY x.id`},
	{"looked at", `SELECT strftime('%Y-%m-%d %H:%M', l.at * 60, 'unixepoch') AS at, a.name AS by, l.what FROM look l JOIN account a ON a.id = l.account_id WHERE l.student_id = ? ORDER BY l.id`},
}

// ErasedPrefix begins the sourcedId of those whose data are erased.
const ErasedPrefix = "erased-"

// erasing forgets who a student was, in this order: what is said of them alone, then what is said
// of several of whom nobody is left. Marks stay with their codes, movements and notices with their
// times and reasons, so that no figure of a group changes.
var erasing = []string{
	`UPDATE student SET sourced_id = 'erased-' || id, number = '', given = 'Erased', family = CAST(id AS TEXT), middle = '', born = '', card = '', travels = '', email = '' WHERE id = ?`,
	`DELETE FROM warning_document WHERE warning_id IN (SELECT id FROM warning WHERE student_id = ?)`,
	`DELETE FROM warning WHERE student_id = ?`,
	`UPDATE warning_change SET words = 'erased' WHERE student_id = ?`,
	`DELETE FROM photo WHERE student_id = ?`,
	`DELETE FROM phone WHERE student_id = ?`,
	`DELETE FROM seat WHERE student_id = ?`,
	`DELETE FROM draft_mark WHERE student_id = ?`,
	`DELETE FROM result WHERE student_id = ?`,
	`DELETE FROM item_score WHERE student_id = ?`,
	`UPDATE mark SET note = '', reason = '' WHERE student_id = ? AND (note <> '' OR reason <> '')`,
	`UPDATE movement SET note = '', collector = '', collector_id = NULL WHERE student_id = ?`,
	`UPDATE notice SET told_by = '', told_how = '' WHERE student_id = ?`,
	`UPDATE search SET place = '' WHERE student_id = ?`,
	`UPDATE fetch SET reason = 'erased', place = '' WHERE student_id = ?`,
	`UPDATE settled SET note = '' WHERE student_id = ?`,
	`UPDATE settling SET how = 'erased' WHERE student_id = ?`,
	`UPDATE roll_person SET place = '', seen = '' WHERE kind = 'student' AND person = ?`,
	`UPDATE roll_tick SET place = '' WHERE kind = 'student' AND person = ?`,
	`UPDATE followup SET note = '', who = '', contact_id = NULL WHERE student_id = ?`,
	`UPDATE case_step_end SET words = '' WHERE step_id IN (SELECT s.id FROM case_step s JOIN student_case c ON c.id = s.case_id WHERE c.student_id = ?)`,
	`UPDATE case_step SET words = '' WHERE case_id IN (SELECT id FROM student_case WHERE student_id = ?)`,
	`DELETE FROM case_document WHERE case_id IN (SELECT id FROM student_case WHERE student_id = ?)`,
	`UPDATE meeting SET title = '', room = '', people = '' WHERE student_id = ?`,
	`UPDATE session_version SET own_note = '' WHERE session_id IN (SELECT id FROM support_session WHERE student_id = ?)`,
	`UPDATE session_version SET note = '' WHERE group_id IN (SELECT v.group_id FROM session_version v JOIN support_session s ON s.id = v.session_id WHERE s.student_id = ?)
		AND NOT EXISTS (SELECT 1 FROM session_version o JOIN support_session p ON p.id = o.session_id JOIN student s ON s.id = p.student_id WHERE o.group_id = session_version.group_id AND s.sourced_id NOT LIKE 'erased-%')`,
	`UPDATE week_reason SET words = '' WHERE student_id = ?`,
	`UPDATE check_in_entry SET answer = '', phone = '' WHERE student_id = ?`,
	`UPDATE call SET phone = '', note = '', collector = '', contact_id = NULL, collector_id = NULL WHERE id IN (SELECT call_id FROM call_student WHERE student_id = ?)
		AND NOT EXISTS (SELECT 1 FROM call_student o JOIN student s ON s.id = o.student_id WHERE o.call_id = call.id AND s.sourced_id NOT LIKE 'erased-%')`,
	`UPDATE mended SET note = '' WHERE call_id IN (SELECT c.id FROM call c JOIN call_student o ON o.call_id = c.id WHERE o.student_id = ? AND c.phone = '')`,
	`UPDATE message SET address = '', words = '', contact_id = NULL WHERE (student_id = ?1 OR id IN (SELECT message_id FROM message_student WHERE student_id = ?1))
		AND NOT EXISTS (SELECT 1 FROM message_student o JOIN student s ON s.id = o.student_id WHERE o.message_id = message.id AND s.sourced_id NOT LIKE 'erased-%')`,
	`UPDATE message_event SET words = '' WHERE message_id IN (SELECT m.id FROM message m LEFT JOIN message_student o ON o.message_id = m.id WHERE (m.student_id = ?1 OR o.student_id = ?1) AND m.words = '')`,
	`UPDATE incident_version SET words = '' WHERE id IN (SELECT version_id FROM incident_person WHERE student_id = ?)
		AND NOT EXISTS (SELECT 1 FROM incident_person o JOIN student s ON s.id = o.student_id WHERE o.version_id = incident_version.id AND s.sourced_id NOT LIKE 'erased-%')`,
	`UPDATE step_act SET words = '' WHERE step_id IN (SELECT id FROM step WHERE student_id = ?)`,
	`UPDATE review_row SET found = '{}' WHERE student_id = ?`,
	`UPDATE review_decision SET words = '' WHERE student_id = ?`,
	`UPDATE student_case SET found = '{}' WHERE student_id = ?`,
	`UPDATE case_change SET words = '' WHERE case_id IN (SELECT id FROM student_case WHERE student_id = ?)`,
	`UPDATE concern_word SET words = '' WHERE student_id = ?`,
	`UPDATE letter SET recipient = '', subject = '', words = '' WHERE student_id = ?`,
	`UPDATE contact SET sourced_id = 'erased-' || id, given = '', family = 'Erased', phone = '', sms = '', email = '', address = '', language = '', ended = 1
		WHERE id IN (SELECT contact_id FROM student_contact WHERE student_id = ?1) AND NOT EXISTS (SELECT 1 FROM student_contact o WHERE o.contact_id = contact.id AND o.student_id <> ?1)`,
	`DELETE FROM learning_activity WHERE student_id = ?`,
	`DELETE FROM former_record WHERE student_id = ?`,
	`DELETE FROM own_value WHERE student_id = ?`,
	`DELETE FROM student_list_member WHERE student_id = ?`,
	`DELETE FROM student_contact WHERE student_id = ?`,
	`UPDATE contact_change SET words = 'erased' WHERE student_id = ?`,
}

// Erase forgets who a student was. What is free in the file afterwards is overwritten.
func Erase(ctx context.Context, tx *sqlx.Tx, student ids.Student) error {
	for _, q := range erasing {
		if _, err := tx.ExecContext(ctx, q, student); err != nil {
			return fmt.Errorf("erasing a student's data: %w", err)
		}
	}
	return nil
}
