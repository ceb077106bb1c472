package store

import (
	"context"
	"fmt"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/core/ids"
)

// Review is one of those whom the rules find, of a section.
type Review struct {
	ID         ids.Review   `db:"id"`
	SectionID  ids.Section  `db:"section_id"`
	Date       day.Date     `db:"date"`
	AsAt       day.Date     `db:"as_at"` // the last school day that was read
	FinishedBy *ids.Entry   `db:"finished_by"`
	FinishedAt *day.Instant `db:"finished_at"`
	Finisher   string       `db:"finisher"`
	Origin
}

// Reviews returns the reviews begun by an instant, the newest first.
func Reviews(ctx context.Context, q Queryer, known day.Instant) ([]Review, error) {
	return list[Review](ctx, q, `SELECT x.*, u.known AS finished_at, coalesce(b.name, '') AS finisher, `+origin+` FROM review x`+originJoin+
		` LEFT JOIN journal u ON u.id = x.finished_by LEFT JOIN account b ON b.id = u.account_id WHERE j.known <= ? ORDER BY x.date DESC, x.section_id`, known)
}

// AddReview writes a review that begins.
func AddReview(ctx context.Context, tx *sqlx.Tx, r Review) (ids.Review, error) {
	return insert[ids.Review](ctx, tx, `INSERT INTO review (section_id, date, as_at, journal_id) VALUES (:section_id, :date, :as_at, :journal_id)`, r)
}

// FinishReview ends a review, and reports whether it was not ended before.
func FinishReview(ctx context.Context, tx *sqlx.Tx, id ids.Review, entry ids.Entry) (bool, error) {
	return took(tx.ExecContext(ctx, `UPDATE review SET finished_by = ? WHERE id = ? AND finished_by IS NULL`, entry, id))
}

// ReviewRow is a student on a review, with what the rules found then.
type ReviewRow struct {
	ReviewID  ids.Review  `db:"review_id"`
	StudentID ids.Student `db:"student_id"`
	Rules     int         `db:"rules"`
	Found     string      `db:"found"` // JSON
	JournalID ids.Entry   `db:"journal_id"`
}

// PutReviewRows writes students on a review; who is on it already is written anew.
func PutReviewRows(ctx context.Context, tx *sqlx.Tx, rows []ReviewRow) error {
	return inBatches(ctx, tx, `INSERT INTO review_row (review_id, student_id, rules, found, journal_id) VALUES (:review_id, :student_id, :rules, :found, :journal_id)
		ON CONFLICT DO UPDATE SET rules = excluded.rules, found = excluded.found, journal_id = excluded.journal_id`, rows)
}

// DropReviewRows takes everybody off a review.
func DropReviewRows(ctx context.Context, tx *sqlx.Tx, id ids.Review) error {
	if _, err := tx.ExecContext(ctx, `DELETE FROM review_row WHERE review_id = ?`, id); err != nil {
		return fmt.Errorf("emptying a review: %w", err)
	}
	return nil
}

// SetReviewAsAt notes that a review was read anew.
func SetReviewAsAt(ctx context.Context, tx *sqlx.Tx, id ids.Review, asAt day.Date) error {
	_, err := took(tx.ExecContext(ctx, `UPDATE review SET as_at = ? WHERE id = ?`, asAt, id))
	return err
}

// ReviewRowsOf returns who is on a review, as it was written by an instant.
func ReviewRowsOf(ctx context.Context, q Queryer, id ids.Review, known day.Instant) ([]ReviewRow, error) {
	return list[ReviewRow](ctx, q, `SELECT x.* FROM review_row x JOIN journal j ON j.id = x.journal_id WHERE x.review_id = ? AND j.known <= ? ORDER BY x.student_id`, id, known)
}

// ReviewCount is how many rules found a student at a review.
type ReviewCount struct {
	ReviewID  ids.Review  `db:"review_id"`
	StudentID ids.Student `db:"student_id"`
	Rules     int         `db:"rules"`
}

// ReviewCounts returns the numbers of every review from a date on.
func ReviewCounts(ctx context.Context, q Queryer, from day.Date) ([]ReviewCount, error) {
	return list[ReviewCount](ctx, q, `SELECT w.review_id, w.student_id, w.rules FROM review_row w JOIN review r ON r.id = w.review_id WHERE r.date >= ? ORDER BY r.date`, from)
}

// ReviewDecision is what was decided about a student.
type ReviewDecision struct {
	ID        ids.Decision `db:"id"`
	ReviewID  ids.Review   `db:"review_id"`
	StudentID ids.Student  `db:"student_id"`
	Kind      string       `db:"kind"` // case, wait, none
	Until     *day.Date    `db:"until"`
	Text      string       `db:"words"`
	CaseID    *ids.Case    `db:"case_id"`
	AsAt      day.Date     `db:"as_at"`
	Rules     string       `db:"rules"` // JSON
	UndoneBy  *ids.Entry   `db:"undone_by"`
	Origin
}

// ReviewDecisions returns what was decided by an instant and stands, in the order in which it was.
func ReviewDecisions(ctx context.Context, q Queryer, known day.Instant) ([]ReviewDecision, error) {
	return list[ReviewDecision](ctx, q, `SELECT x.*, `+origin+` FROM review_decision x`+originJoin+` LEFT JOIN journal u ON u.id = x.undone_by
		WHERE j.known <= ?1 AND (u.known IS NULL OR u.known > ?1) ORDER BY x.id`, known)
}

// AddReviewDecision writes a decision.
func AddReviewDecision(ctx context.Context, tx *sqlx.Tx, d ReviewDecision) (ids.Decision, error) {
	return insert[ids.Decision](ctx, tx, `INSERT INTO review_decision (review_id, student_id, kind, until, words, case_id, as_at, rules, journal_id)
		VALUES (:review_id, :student_id, :kind, :until, :words, :case_id, :as_at, :rules, :journal_id)`, d)
}

// Case is a student in somebody's hands, with what holds of it.
type Case struct {
	ID        ids.Case    `db:"id"`
	StudentID ids.Student `db:"student_id"`
	Found     string      `db:"found"`     // JSON: what the rules found when it was opened
	From      string      `db:"came_from"` // review, concern, step, hand
	UndoneBy  *ids.Entry  `db:"undone_by"`
	Origin
}

// Cases returns the cases opened by an instant that stand, in the order in which they were.
func Cases(ctx context.Context, q Queryer, known day.Instant) ([]Case, error) {
	return list[Case](ctx, q, `SELECT x.*, `+origin+` FROM student_case x`+originJoin+` LEFT JOIN journal u ON u.id = x.undone_by
		WHERE j.known <= ?1 AND (u.known IS NULL OR u.known > ?1) ORDER BY x.id`, known)
}

// AddCase writes a case; what is done about it are its changes.
func AddCase(ctx context.Context, tx *sqlx.Tx, c Case) (ids.Case, error) {
	return insert[ids.Case](ctx, tx, `INSERT INTO student_case (student_id, found, came_from, journal_id) VALUES (:student_id, :found, :came_from, :journal_id)`, c)
}

// CaseChange is something that became of a case.
type CaseChange struct {
	ID       ids.CaseChange   `db:"id"`
	CaseID   ids.Case         `db:"case_id"`
	Kind     string           `db:"kind"` // opened, changed, closed, reopened
	OwnerID  ids.Account      `db:"owner_id"`
	Owner    string           `db:"owner"`
	NextDate *day.Date        `db:"next_date"`
	Text     string           `db:"words"`
	Kept     string           `db:"kept"`   // for whom it is: office, leads, owner
	Weekly   bool             `db:"weekly"` // its student is to have a session each week
	Waits    bool             `db:"waits"`  // until the next date
	End      *ids.SupportWord `db:"end_id"` // how it ended
	UndoneBy *ids.Entry       `db:"undone_by"`
	Origin
}

// CaseChanges returns what became of cases by an instant and stands, in the order in which it did.
func CaseChanges(ctx context.Context, q Queryer, known day.Instant) ([]CaseChange, error) {
	return list[CaseChange](ctx, q, `SELECT x.*, o.name AS owner, `+origin+` FROM case_change x`+originJoin+` JOIN account o ON o.id = x.owner_id LEFT JOIN journal u ON u.id = x.undone_by
		WHERE j.known <= ?1 AND (u.known IS NULL OR u.known > ?1) ORDER BY x.id`, known)
}

// AddCaseChange writes what became of a case.
func AddCaseChange(ctx context.Context, tx *sqlx.Tx, c CaseChange) (ids.CaseChange, error) {
	return insert[ids.CaseChange](ctx, tx, `INSERT INTO case_change (case_id, kind, owner_id, next_date, words, kept, weekly, waits, end_id, journal_id)
		VALUES (:case_id, :kind, :owner_id, :next_date, :words, :kept, :weekly, :waits, :end_id, :journal_id)`, c)
}

// ConcernWord is what somebody has to say about a student at the next review.
type ConcernWord struct {
	ID        ids.ConcernWord `db:"id"`
	StudentID ids.Student     `db:"student_id"`
	Text      string          `db:"words"`
	UndoneBy  *ids.Entry      `db:"undone_by"`
	Origin
}

// ConcernWords returns what was said by an instant and stands, in the order in which it was.
func ConcernWords(ctx context.Context, q Queryer, known day.Instant) ([]ConcernWord, error) {
	return list[ConcernWord](ctx, q, `SELECT x.*, `+origin+` FROM concern_word x`+originJoin+` LEFT JOIN journal u ON u.id = x.undone_by
		WHERE j.known <= ?1 AND (u.known IS NULL OR u.known > ?1) ORDER BY x.id`, known)
}

// AddConcernWord writes what somebody has to say.
func AddConcernWord(ctx context.Context, tx *sqlx.Tx, w ConcernWord) (ids.ConcernWord, error) {
	return insert[ids.ConcernWord](ctx, tx, `INSERT INTO concern_word (student_id, words, journal_id) VALUES (:student_id, :words, :journal_id)`, w)
}

// UndoReviewing takes back what an entry of the journal has stored of reviews and cases: decisions with the
// cases that they opened, what became of cases, that reviews are finished, and what was said. A case of which
// more became since stays.
func UndoReviewing(ctx context.Context, tx *sqlx.Tx, entry, by ids.Entry) (bool, error) {
	any := false
	for _, q := range []string{
		`UPDATE case_change SET undone_by = ?2 WHERE journal_id = ?1 AND undone_by IS NULL AND NOT EXISTS (SELECT 1 FROM case_change o WHERE o.case_id = case_change.case_id AND o.id > case_change.id AND o.undone_by IS NULL)`,
		`UPDATE student_case SET undone_by = ?2 WHERE journal_id = ?1 AND undone_by IS NULL AND NOT EXISTS (SELECT 1 FROM case_change o WHERE o.case_id = student_case.id AND o.undone_by IS NULL)`,
		`UPDATE review_decision SET undone_by = ?2 WHERE journal_id = ?1 AND undone_by IS NULL AND NOT EXISTS (SELECT 1 FROM case_change o WHERE o.case_id = review_decision.case_id AND o.journal_id = ?1 AND o.undone_by IS NULL)`,
		`UPDATE concern_word SET undone_by = ?2 WHERE journal_id = ?1 AND undone_by IS NULL`,
		`UPDATE review SET finished_by = NULL WHERE finished_by = ?1 AND ?2 > 0`,
	} {
		did, err := took(tx.ExecContext(ctx, q, entry, by))
		if err != nil {
			return false, fmt.Errorf("taking back what was decided: %w", err)
		}
		any = any || did
	}
	return any, nil
}

// ConcernTold is that somebody was told of a student whom a rule has come to find.
type ConcernTold struct {
	Rule      string      `db:"rule"`
	StudentID ids.Student `db:"student_id"`
	AsAt      day.Date    `db:"as_at"`
	AccountID ids.Account `db:"account_id"`
	JournalID ids.Entry   `db:"journal_id"`
}

// ConcernsTold returns of whom an account was told.
func ConcernsTold(ctx context.Context, q Queryer) ([]ConcernTold, error) {
	return list[ConcernTold](ctx, q, `SELECT rule, student_id, as_at, account_id, journal_id FROM concern_told ORDER BY id`)
}

// AddConcernsTold writes of whom somebody was told; what was told already stays as it was.
func AddConcernsTold(ctx context.Context, tx *sqlx.Tx, rows []ConcernTold) error {
	return inBatches(ctx, tx, `INSERT INTO concern_told (rule, student_id, as_at, account_id, journal_id)
		VALUES (:rule, :student_id, :as_at, :account_id, :journal_id) ON CONFLICT DO NOTHING`, rows)
}

// ReviewDecisionsOf returns what was decided about a student and stands, the newest first.
func ReviewDecisionsOf(ctx context.Context, q Queryer, student ids.Student) ([]ReviewDecision, error) {
	return list[ReviewDecision](ctx, q, `SELECT x.*, `+origin+` FROM review_decision x`+originJoin+`WHERE x.student_id = ? AND x.undone_by IS NULL ORDER BY x.id DESC LIMIT 60`, student)
}

// CaseChangesOf returns what became of a student's cases and stands, the newest first.
func CaseChangesOf(ctx context.Context, q Queryer, student ids.Student) ([]CaseChange, error) {
	return list[CaseChange](ctx, q, `SELECT x.*, o.name AS owner, `+origin+` FROM case_change x`+originJoin+`JOIN account o ON o.id = x.owner_id JOIN student_case c ON c.id = x.case_id
		WHERE c.student_id = ? AND x.undone_by IS NULL AND c.undone_by IS NULL ORDER BY x.id DESC LIMIT 60`, student)
}

// ConcernWordsOf returns what was said of a student for reviews and stands, the newest first.
func ConcernWordsOf(ctx context.Context, q Queryer, student ids.Student) ([]ConcernWord, error) {
	return list[ConcernWord](ctx, q, `SELECT x.*, `+origin+` FROM concern_word x`+originJoin+`WHERE x.student_id = ? AND x.undone_by IS NULL ORDER BY x.id DESC LIMIT 60`, student)
}
