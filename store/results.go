package store

import (
	"context"
	"fmt"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/core/ids"
)

// GradedCourse is what a course counts for. Numbers are as they are written.
type GradedCourse struct {
	ID         ids.GradedCourse `db:"id"`
	Key        string           `db:"key"` // by which files know it
	Title      string           `db:"title"`
	Area       string           `db:"area"`
	Credits    string           `db:"credits"` // of a half-year
	Core       bool             `db:"core"`
	ExamWeight string           `db:"exam_weight"`
	MaxCredits string           `db:"max_credits"` // empty for no limit
	Journal    ids.Entry        `db:"journal_id"`
}

// ResultPeriod is a grading period; they are in time by their place.
type ResultPeriod struct {
	Place   int       `db:"place"`
	Name    string    `db:"name"`
	Half    string    `db:"half"`
	Journal ids.Entry `db:"journal_id"`
}

// The kinds of result.
const (
	GradeResult    = "grade"
	ExamResult     = "exam"
	RecoveryResult = "recovery"
)

// Result is a grade, an examination or a recovery course of a student.
type Result struct {
	Kind      string           `db:"kind"`
	StudentID ids.Student      `db:"student_id"`
	CourseID  ids.GradedCourse `db:"course_id"`
	Period    string           `db:"period"`    // of examinations and recoveries a half-year
	At        string           `db:"at_period"` // when a recovery was
	Class     string           `db:"class"`
	Value     string           `db:"value"`
	Date      day.Date         `db:"date"` // on which it was stored
	Journal   ids.Entry        `db:"journal_id"`
}

// ResultKey tells results apart: of one key one stands.
type ResultKey struct {
	Kind       string
	Student    ids.Student
	Course     ids.GradedCourse
	Period, At string
}

// Key returns the key of a result.
func (r Result) Key() ResultKey { return ResultKey{r.Kind, r.StudentID, r.CourseID, r.Period, r.At} }

// GradedCourses returns what the courses count for, in the order in which they came.
func GradedCourses(ctx context.Context, q Queryer) ([]GradedCourse, error) {
	return list[GradedCourse](ctx, q, `SELECT * FROM graded_course ORDER BY id`)
}

// ResultPeriods returns the grading periods in time.
func ResultPeriods(ctx context.Context, q Queryer) ([]ResultPeriod, error) {
	return list[ResultPeriod](ctx, q, `SELECT * FROM result_period ORDER BY place`)
}

// Results returns every result as it stood at the end of a date.
func Results(ctx context.Context, q Queryer, d day.Date) ([]Result, error) {
	return list[Result](ctx, q, `SELECT x.kind, x.student_id, x.course_id, x.period, x.at_period, x.class, x.value, x.date, x.journal_id
		FROM result x LEFT JOIN journal e ON e.id = x.ended_by WHERE x.date <= ? AND (e.id IS NULL OR e.known >= ?) ORDER BY x.student_id, x.id`, d, day.At(d+1, day.Midnight))
}

// ResultRule returns the text of the school's rule; empty where it has none.
func ResultRule(ctx context.Context, q Queryer) (string, error) {
	rows, err := list[string](ctx, q, `SELECT words FROM result_rule ORDER BY id DESC LIMIT 1`)
	if err != nil || len(rows) == 0 {
		return "", err
	}
	return rows[0], nil
}

// AddResultRule stores the text of a rule that holds from now on.
func AddResultRule(ctx context.Context, tx *sqlx.Tx, words string, entry ids.Entry) error {
	_, err := tx.ExecContext(ctx, `INSERT INTO result_rule (words, journal_id) VALUES (?, ?)`, words, entry)
	return err
}

// SaveGradedCourse writes what a course counts for.
func SaveGradedCourse(ctx context.Context, tx *sqlx.Tx, c GradedCourse) (ids.GradedCourse, error) {
	if c.ID == 0 {
		return insert[ids.GradedCourse](ctx, tx, `INSERT INTO graded_course (key, title, area, credits, core, exam_weight, max_credits, journal_id) VALUES (:key, :title, :area, :credits, :core, :exam_weight, :max_credits, :journal_id)`, c)
	}
	_, err := tx.NamedExecContext(ctx, `UPDATE graded_course SET title = :title, area = :area, credits = :credits, core = :core, exam_weight = :exam_weight, max_credits = :max_credits WHERE id = :id`, c)
	return c.ID, err
}

// AddResultPeriods writes grading periods after those that are there.
func AddResultPeriods(ctx context.Context, tx *sqlx.Tx, rows []ResultPeriod) error {
	return inBatches(ctx, tx, `INSERT INTO result_period (place, name, half, journal_id) VALUES (:place, :name, :half, :journal_id)`, rows)
}

// AddResults writes results; of the same key the one before ends, and stays on record with its date.
func AddResults(ctx context.Context, tx *sqlx.Tx, rows []Result, replaced []ResultKey, entry ids.Entry) error {
	for _, k := range replaced {
		if _, err := tx.ExecContext(ctx, `UPDATE result SET ended_by = ? WHERE kind = ? AND student_id = ? AND course_id = ? AND period = ? AND at_period = ? AND ended_by IS NULL`,
			entry, k.Kind, k.Student, k.Course, k.Period, k.At); err != nil {
			return fmt.Errorf("ending a result: %w", err)
		}
	}
	return inBatches(ctx, tx, `INSERT INTO result (kind, student_id, course_id, period, at_period, class, value, date, journal_id)
		VALUES (:kind, :student_id, :course_id, :period, :at_period, :class, :value, :date, :journal_id)`, rows)
}
