package store

import (
	"context"
	"database/sql"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/core/ids"
)

func took(res sql.Result, err error) (bool, error) {
	if err != nil {
		return false, err
	}
	n, err := res.RowsAffected()
	return n > 0, err
}

// Grade is a course grade of one grading period.
type Grade struct {
	StudentID ids.Student `db:"student_id"`
	CourseID  ids.Course  `db:"course_id"`
	Period    string      `db:"period"`
	Grade     string      `db:"grade"`
	Given     day.Date    `db:"given"`
	Journal   ids.Entry   `db:"journal_id"`
}

// GradesBy returns the grades given by a date.
func GradesBy(ctx context.Context, q Queryer, d day.Date) ([]Grade, error) {
	return list[Grade](ctx, q, `SELECT * FROM grade WHERE given <= ? ORDER BY student_id, given, course_id`, d)
}

// GradesOf returns a student's grades given by a date.
func GradesOf(ctx context.Context, q Queryer, student ids.Student, d day.Date) ([]Grade, error) {
	return list[Grade](ctx, q, `SELECT * FROM grade WHERE student_id = ? AND given <= ? ORDER BY given, course_id`, student, d)
}

// AddGrades writes grades.
func AddGrades(ctx context.Context, tx *sqlx.Tx, rows []Grade) error {
	return inBatches(ctx, tx, `INSERT INTO grade (student_id, course_id, period, grade, given, journal_id) VALUES (:student_id, :course_id, :period, :grade, :given, :journal_id)`, rows)
}

// Followup is a call about a student's signals.
type Followup struct {
	ID        ids.Followup `db:"id"`
	StudentID ids.Student  `db:"student_id"`
	Date      day.Date     `db:"date"`
	Minute    day.Minute   `db:"minute"`
	ContactID *ids.Contact `db:"contact_id"`
	Outcome   string       `db:"outcome"`
	Note      string       `db:"note"`
	NextDate  *day.Date    `db:"next_date"`
	Origin
}

const followups = `SELECT x.*, ` + origin + ` FROM followup x` + originJoin

// Followups returns every student's follow-ups known by an instant, oldest first.
func Followups(ctx context.Context, q Queryer, known day.Instant) ([]Followup, error) {
	return list[Followup](ctx, q, followups+`WHERE j.known <= ? ORDER BY x.id`, known)
}

// FollowupsOf returns a student's follow-ups, newest first.
func FollowupsOf(ctx context.Context, q Queryer, student ids.Student) ([]Followup, error) {
	return list[Followup](ctx, q, followups+`WHERE x.student_id = ? ORDER BY x.id DESC LIMIT 60`, student)
}

// AddFollowup writes a follow-up.
func AddFollowup(ctx context.Context, tx *sqlx.Tx, f Followup) (ids.Followup, error) {
	return insert[ids.Followup](ctx, tx, `INSERT INTO followup (student_id, date, minute, contact_id, outcome, note, next_date, journal_id)
		VALUES (:student_id, :date, :minute, :contact_id, :outcome, :note, :next_date, :journal_id)`, f)
}
