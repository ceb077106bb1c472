package store

import (
	"context"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/core/ids"
)

// beganSetting is since when the school has used the program.
const beganSetting = "began"

// Began returns the first date on which the school used the program; ok is false where nobody
// has said so yet.
func Began(ctx context.Context, q Queryer) (d day.Date, ok bool, err error) {
	ok, err = Setting(ctx, q, beganSetting, &d)
	return d, ok, err
}

// SetBegan stores since when the school has used the program.
func SetBegan(ctx context.Context, tx *sqlx.Tx, d day.Date) error {
	return SetSetting(ctx, tx, beganSetting, d)
}

// Doubtful returns the students of whom something about a date may be unsettled or not add up:
// those with a mark by one of some codes in any version, a movement, a word from home, a call
// that home believes them at school, an activity or a search.
func Doubtful(ctx context.Context, q Queryer, d day.Date, codes []string) ([]ids.Student, error) {
	query, args, err := sqlx.In(`SELECT student_id FROM mark WHERE date = ? AND code IN (?)
		UNION SELECT student_id FROM movement WHERE date = ?
		UNION SELECT student_id FROM notice WHERE from_date <= ? AND to_date >= ?
		UNION SELECT s.student_id FROM call c JOIN call_student s ON s.call_id = c.id WHERE (c.date = ? AND c.about IS NULL) OR c.about = ?
		UNION SELECT s.student_id FROM activity a JOIN activity_member s ON s.activity_id = a.id WHERE a.date <= ? AND coalesce(a.to_date, a.date) >= ?
		UNION SELECT student_id FROM search WHERE date = ?`, d, append([]string{""}, codes...), d, d, d, d, d, d, d, d)
	if err != nil {
		return nil, err
	}
	return list[ids.Student](ctx, q, query, args...)
}

// MarksAbout returns every version of some students' marks of a date, oldest first.
func MarksAbout(ctx context.Context, q Queryer, d day.Date, students []ids.Student) ([]Mark, error) {
	var out []Mark
	for at := 0; at < len(students); at += mostInList {
		query, args, err := sqlx.In(`SELECT x.*, `+origin+` FROM mark x INDEXED BY mark_student`+originJoin+`WHERE x.student_id IN (?) AND x.date = ? ORDER BY x.slot, x.student_id, x.version`, students[at:min(at+mostInList, len(students))], d)
		if err != nil {
			return nil, err
		}
		some, err := list[Mark](ctx, q, query, args...)
		if err != nil {
			return nil, err
		}
		out = append(out, some...)
	}
	return out, nil
}

// mostInList bounds how many values a query names one by one.
const mostInList = 500
