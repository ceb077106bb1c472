package store

import (
	"context"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/core/ids"
)

// Step is a step of a policy about which something was done.
type Step struct {
	ID        ids.Step    `db:"id"`
	StudentID ids.Student `db:"student_id"`
	SectionID ids.Section `db:"section_id"`
	Policy    string      `db:"policy"`
	Rule      string      `db:"rule"`
	Do        string      `db:"do"`
	Scope     string      `db:"scope"`
	Number    int         `db:"number"`
	Reached   day.Date    `db:"reached"`
	Title     string      `db:"title"`
	Origin
}

// StepAct is what was done about a step.
type StepAct struct {
	ID        int64        `db:"id"`
	StepID    ids.Step     `db:"step_id"`
	Kind      string       `db:"kind"`
	Until     *day.Date    `db:"until"`
	AccountID *ids.Account `db:"account_id"`
	To        string       `db:"to_name"` // the name of the account
	Text      string       `db:"words"`
	UndoneBy  *ids.Entry   `db:"undone_by"`
	UndoneAt  *day.Instant `db:"undone_at"`
	Origin
}

// Stands reports whether the act was known by an instant, and not taken back by then.
func (a StepAct) Stands(known day.Instant) bool {
	return a.Known <= known && (a.UndoneAt == nil || *a.UndoneAt > known)
}

const stepActs = `SELECT x.*, coalesce(t.name, '') AS to_name, u.known AS undone_at, ` + origin + ` FROM step_act x` + originJoin + ` LEFT JOIN account t ON t.id = x.account_id LEFT JOIN journal u ON u.id = x.undone_by `

// StepsBetween returns the steps of a section that were due from one date to another and about
// which something was done, with all that was done about each, in its order.
func StepsBetween(ctx context.Context, q Queryer, section ids.Section, on day.Dates) ([]Step, []StepAct, error) {
	steps, err := list[Step](ctx, q, `SELECT x.*, `+origin+` FROM step x`+originJoin+`WHERE x.section_id = ? AND x.reached BETWEEN ? AND ? ORDER BY x.id`, section, on.From, on.To)
	if err != nil {
		return nil, nil, err
	}
	acts, err := list[StepAct](ctx, q, stepActs+`WHERE x.step_id IN (SELECT id FROM step WHERE section_id = ? AND reached BETWEEN ? AND ?) ORDER BY x.id`, section, on.From, on.To)
	return steps, acts, err
}

// StepsOf returns a student's steps about which something was done, and all that was.
func StepsOf(ctx context.Context, q Queryer, student ids.Student) ([]Step, []StepAct, error) {
	steps, err := list[Step](ctx, q, `SELECT x.*, `+origin+` FROM step x`+originJoin+`WHERE x.student_id = ? ORDER BY x.id`, student)
	if err != nil {
		return nil, nil, err
	}
	acts, err := list[StepAct](ctx, q, stepActs+`WHERE x.step_id IN (SELECT id FROM step WHERE student_id = ?) ORDER BY x.id`, student)
	return steps, acts, err
}

// AddStep writes a step and returns its id.
func AddStep(ctx context.Context, tx *sqlx.Tx, s Step) (ids.Step, error) {
	return insert[ids.Step](ctx, tx, `INSERT INTO step (student_id, section_id, policy, rule, do, scope, number, reached, title, journal_id)
		VALUES (:student_id, :section_id, :policy, :rule, :do, :scope, :number, :reached, :title, :journal_id)`, s)
}

// AddStepAct writes what was done about a step.
func AddStepAct(ctx context.Context, tx *sqlx.Tx, a StepAct) error {
	_, err := insert[int64](ctx, tx, `INSERT INTO step_act (step_id, kind, until, account_id, words, journal_id) VALUES (:step_id, :kind, :until, :account_id, :words, :journal_id)`, a)
	return err
}

// UndoStepActs takes back what an entry of the journal did about steps, and the letters that it
// printed; acts after which something else was done about the same step stand. It returns how many
// acts were taken back.
func UndoStepActs(ctx context.Context, tx *sqlx.Tx, entry, undoneBy ids.Entry) (int64, error) {
	res, err := tx.ExecContext(ctx, `UPDATE step_act SET undone_by = ?2 WHERE journal_id = ?1 AND undone_by IS NULL
		AND NOT EXISTS (SELECT 1 FROM step_act o WHERE o.step_id = step_act.step_id AND o.id > step_act.id AND o.undone_by IS NULL AND o.journal_id <> ?1)`, entry, undoneBy)
	if err != nil {
		return 0, err
	}
	n, err := res.RowsAffected()
	if err != nil {
		return 0, err
	}
	_, err = tx.ExecContext(ctx, `UPDATE letter SET undone_by = ?2 WHERE journal_id = ?1 AND undone_by IS NULL
		AND NOT EXISTS (SELECT 1 FROM step_act a WHERE a.step_id = letter.step_id AND a.journal_id = ?1 AND a.undone_by IS NULL)`, entry, undoneBy)
	return n, err
}

// MarkCorrected is a mark that was put right, with what it said before.
type MarkCorrected struct {
	Date        day.Date    `db:"date"`
	Slot        string      `db:"slot"`
	StudentID   ids.Student `db:"student_id"`
	Code        string      `db:"code"` // as it says now
	Before      string      `db:"before_code"`
	BeforeFrom  day.Minute  `db:"before_from"`
	BeforeTo    day.Minute  `db:"before_to"`
	BeforeClass ids.Class   `db:"before_class"`
	Origin
}

// MarksCorrected returns the marks of some dates that were put right between two instants, and on a
// later date than their own, as they were before and are after it.
func MarksCorrected(ctx context.Context, q Queryer, since, known day.Instant, on day.Dates) ([]MarkCorrected, error) {
	return list[MarkCorrected](ctx, q, `WITH span AS (SELECT min(id) AS first, max(id) AS last FROM journal WHERE known >= ?1 AND known <= ?2),
		changed AS (SELECT m.date, m.slot, m.student_id, max(m.version) AS version, min(m.version) AS first_version FROM mark m INDEXED BY mark_corrected JOIN journal e ON e.id = m.journal_id
			WHERE m.version > 1 AND m.journal_id BETWEEN (SELECT first FROM span) AND (SELECT last FROM span) AND e.known BETWEEN ?1 AND ?2 AND e.known >= (m.date + 1) * 1440
			AND m.date BETWEEN ?3 AND ?4 GROUP BY m.date, m.slot, m.student_id)
		SELECT x.date, x.slot, x.student_id, x.code, b.code AS before_code, b.away_from AS before_from, b.away_to AS before_to, b.class_id AS before_class, x.journal_id, `+origin+`
		FROM changed c JOIN mark x ON x.date = c.date AND x.slot = c.slot AND x.student_id = c.student_id AND x.version = c.version
		JOIN mark b ON b.date = c.date AND b.slot = c.slot AND b.student_id = c.student_id AND b.version = c.first_version - 1`+originJoin+`ORDER BY x.student_id, x.date, x.slot`,
		since, known, on.From, on.To)
}

// LetterTemplate is a letter that the school writes.
type LetterTemplate struct {
	ID      ids.Template `db:"id"`
	Name    string       `db:"name"`
	Retired bool         `db:"retired"`
	Journal ids.Entry    `db:"journal_id"`
}

// LetterText is a wording of a template in a language.
type LetterText struct {
	ID         ids.LetterText `db:"id"`
	TemplateID ids.Template   `db:"template_id"`
	Language   string         `db:"language"`
	Version    int            `db:"version"`
	Subject    string         `db:"subject"`
	Text       string         `db:"words"`
	Origin
}

// LetterTemplates returns the school's letters in the order in which they were made.
func LetterTemplates(ctx context.Context, q Queryer) ([]LetterTemplate, error) {
	return list[LetterTemplate](ctx, q, `SELECT * FROM letter_template ORDER BY id`)
}

// LetterTexts returns every wording of the school's letters, the newest of each last.
func LetterTexts(ctx context.Context, q Queryer) ([]LetterText, error) {
	return list[LetterText](ctx, q, `SELECT x.*, `+origin+` FROM letter_text x`+originJoin+`ORDER BY x.template_id, x.language, x.version`)
}

// AddLetterTemplate writes a template and returns its id.
func AddLetterTemplate(ctx context.Context, tx *sqlx.Tx, t LetterTemplate) (ids.Template, error) {
	return insert[ids.Template](ctx, tx, `INSERT INTO letter_template (name, retired, journal_id) VALUES (:name, :retired, :journal_id)`, t)
}

// SetLetterTemplate changes a template's name, or whether it is offered.
func SetLetterTemplate(ctx context.Context, tx *sqlx.Tx, t LetterTemplate) error {
	_, err := tx.NamedExecContext(ctx, `UPDATE letter_template SET name = :name, retired = :retired WHERE id = :id`, t)
	return err
}

// AddLetterText writes the next wording of a template in a language.
func AddLetterText(ctx context.Context, tx *sqlx.Tx, t LetterText) (ids.LetterText, error) {
	return insert[ids.LetterText](ctx, tx, `INSERT INTO letter_text (template_id, language, version, subject, words, journal_id)
		VALUES (:template_id, :language, (SELECT coalesce(max(version), 0) + 1 FROM letter_text WHERE template_id = :template_id AND language = :language), :subject, :words, :journal_id)`, t)
}

// Letter is a letter as it was printed.
type Letter struct {
	ID        ids.Letter      `db:"id"`
	StudentID ids.Student     `db:"student_id"`
	StepID    *ids.Step       `db:"step_id"`
	TextID    *ids.LetterText `db:"text_id"` // the wording; nil for one that goes by none
	Date      day.Date        `db:"date"`
	Recipient string          `db:"recipient"` // lines of the address
	Subject   string          `db:"subject"`
	Text      string          `db:"words"`
	UndoneBy  *ids.Entry      `db:"undone_by"`
	UndoneAt  *day.Instant    `db:"undone_at"`
	Origin
}

const letters = `SELECT x.*, u.known AS undone_at, ` + origin + ` FROM letter x` + originJoin + ` LEFT JOIN journal u ON u.id = x.undone_by `

// Letters returns letters by their ids, in the order in which they were printed.
func Letters(ctx context.Context, q Queryer, of []ids.Letter) ([]Letter, error) {
	query, args, err := sqlx.In(letters+`WHERE x.id IN (?) ORDER BY x.id`, of)
	if err != nil {
		return nil, err
	}
	return list[Letter](ctx, q, query, args...)
}

// LettersOf returns a student's letters, newest first, those taken back included.
func LettersOf(ctx context.Context, q Queryer, student ids.Student) ([]Letter, error) {
	return list[Letter](ctx, q, letters+`WHERE x.student_id = ? ORDER BY x.id DESC LIMIT 60`, student)
}

// AddLetter writes a letter and returns its id.
func AddLetter(ctx context.Context, tx *sqlx.Tx, l Letter) (ids.Letter, error) {
	return insert[ids.Letter](ctx, tx, `INSERT INTO letter (student_id, step_id, text_id, date, recipient, subject, words, journal_id)
		VALUES (:student_id, :step_id, :text_id, :date, :recipient, :subject, :words, :journal_id)`, l)
}
