package store

import (
	"context"
	"fmt"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/core/ids"
)

// AttentionRule is a version of a rule by which a school finds who needs attention.
type AttentionRule struct {
	ID      ids.AttentionRule `db:"id"`
	Key     string            `db:"key"`   // by which files know it
	Words   string            `db:"words"` // a file with this rule alone
	Place   int               `db:"place"`
	EndedBy *ids.Entry        `db:"ended_by"`
	EndedAt *day.Instant      `db:"ended_at"`
	Origin
}

const attentionRules = `SELECT x.*, u.known AS ended_at, ` + origin + ` FROM attention_rule x` + originJoin + ` LEFT JOIN journal u ON u.id = x.ended_by `

// AttentionRules returns the rules that stand, in their order.
func AttentionRules(ctx context.Context, q Queryer) ([]AttentionRule, error) {
	return list[AttentionRule](ctx, q, attentionRules+`WHERE x.ended_by IS NULL ORDER BY x.place, x.id`)
}

// AttentionRuleVersions returns the versions of a rule, the newest first.
func AttentionRuleVersions(ctx context.Context, q Queryer, key string) ([]AttentionRule, error) {
	return list[AttentionRule](ctx, q, attentionRules+`WHERE x.key = ? ORDER BY x.id DESC`, key)
}

// AnyAttentionRule reports whether the school has ever had a rule of its own.
func AnyAttentionRule(ctx context.Context, q Queryer) (bool, error) {
	var any bool
	err := sqlx.GetContext(ctx, q, &any, `SELECT EXISTS (SELECT 1 FROM attention_rule)`)
	return any, err
}

// SaveAttentionRule writes a version of a rule; the one before ends. Without words the rule is taken off.
func SaveAttentionRule(ctx context.Context, tx *sqlx.Tx, r AttentionRule, entry ids.Entry) error {
	if _, err := tx.ExecContext(ctx, `UPDATE attention_rule SET ended_by = ? WHERE key = ? AND ended_by IS NULL`, entry, r.Key); err != nil {
		return fmt.Errorf("ending a rule: %w", err)
	}
	if r.Words == "" {
		return nil
	}
	_, err := tx.ExecContext(ctx, `INSERT INTO attention_rule (key, words, place, journal_id) VALUES (?, ?, ?, ?)`, r.Key, r.Words, r.Place, entry)
	return err
}

// StudentDate is that something happened about a student.
type StudentDate struct {
	StudentID ids.Student `db:"student_id"`
	Date      day.Date    `db:"date"`
}

// Arrivals returns on which dates of a span each student signed in or was seen, in time.
func Arrivals(ctx context.Context, q Queryer, from, to day.Date) ([]StudentDate, error) {
	return list[StudentDate](ctx, q, `SELECT DISTINCT student_id, date FROM movement WHERE kind IN ('arrived', 'seen') AND undone_by IS NULL AND date BETWEEN ? AND ? ORDER BY date`, from, to)
}

// Reach is that a student, a home or somebody outside was reached about a student.
type Reach struct {
	StudentID ids.Student `db:"student_id"`
	Date      day.Date    `db:"date"`
	With      string      `db:"with_whom"` // home, student, outside
}

// Reached returns on which dates up to one somebody was reached: by a call of the morning or a contact, in time.
func Reached(ctx context.Context, q Queryer, to day.Date) ([]Reach, error) {
	return list[Reach](ctx, q, `SELECT s.student_id, x.date, 'home' AS with_whom FROM call x JOIN call_student s ON s.call_id = x.id WHERE x.outcome = 'spoke' AND x.undone_by IS NULL AND x.date <= ?1
		UNION SELECT student_id, date, with_whom FROM followup WHERE outcome IN ('spoke', 'met') AND undone_by IS NULL AND date <= ?1 ORDER BY 2`, to)
}

// ResultHistory returns every result that was ever stored, in the order in which they were.
func ResultHistory(ctx context.Context, q Queryer) ([]Result, error) {
	return list[Result](ctx, q, `SELECT kind, student_id, course_id, period, at_period, class, value, date, journal_id FROM result ORDER BY date, id`)
}
