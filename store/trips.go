package store

import (
	"context"
	"errors"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/core/ids"
)

// Activity is something planned away from the timetable: a trip, a visit.
type Activity struct {
	ID       ids.Activity `db:"id"`
	Title    string       `db:"title"`
	Place    string       `db:"place"`
	Date     day.Date     `db:"date"`
	ToDate   *day.Date    `db:"to_date"` // where it ends on another date
	From     day.Minute   `db:"from_minute"`
	To       day.Minute   `db:"to_minute"`
	OnSite   bool         `db:"on_site"`
	Returns  bool         `db:"returns"` // those on it are expected back at its end
	Leader   string       `db:"leader"`
	LeaderID *ids.Staff   `db:"leader_id"` // whose account takes its register
	Phone    string       `db:"phone"`
	EndedBy  *ids.Entry   `db:"ended_by"`
	EndedAt  *day.Instant `db:"ended_at"`
	Origin

	Times   []ActivityTime   `db:"-"` // oldest first; the first as it was planned
	Members []ActivityMember `db:"-"` // those who were taken off too
	Marks   []ActivityMark   `db:"-"` // oldest first
	Backs   []ActivityBack   `db:"-"` // those that were taken back too
}

// Last returns the date on which an activity ends.
func (a Activity) Last() day.Date {
	if a.ToDate != nil {
		return *a.ToDate
	}
	return a.Date
}

// ActivityTime is when an activity is from and to, as of when that is known.
type ActivityTime struct {
	ActivityID ids.Activity `db:"activity_id"`
	From       day.Minute   `db:"from_minute"`
	To         day.Minute   `db:"to_minute"`
	Origin
}

// ActivityMember is a student who is on an activity, or was.
type ActivityMember struct {
	ActivityID ids.Activity `db:"activity_id"`
	StudentID  ids.Student  `db:"student_id"`
	EndedBy    *ids.Entry   `db:"ended_by"`
	EndedAt    *day.Instant `db:"ended_at"`
	Origin
}

// ActivityMark is that the leader has a student with them, or has not.
type ActivityMark struct {
	ActivityID ids.Activity `db:"activity_id"`
	StudentID  ids.Student  `db:"student_id"`
	Here       bool         `db:"here"`
	Date       day.Date     `db:"date"`
	Minute     day.Minute   `db:"minute"`
	Origin
}

// ActivityBack is that those on an activity have come back, or went home from it.
type ActivityBack struct {
	ActivityID ids.Activity `db:"activity_id"`
	Date       day.Date     `db:"date"`
	Minute     day.Minute   `db:"minute"`
	Home       bool         `db:"home"`
	Note       string       `db:"note"`
	UndoneBy   *ids.Entry   `db:"undone_by"`
	UndoneAt   *day.Instant `db:"undone_at"`
	Origin
}

// Back returns how an activity has ended; nil while it has not.
func (a Activity) Back() *ActivityBack {
	for i := range a.Backs {
		if a.Backs[i].UndoneBy == nil {
			return &a.Backs[i]
		}
	}
	return nil
}

// ActivityTables are those that an activity is read from.
var ActivityTables = []string{"activity", "activity_time", "activity_member", "activity_mark", "activity_back"}

const activities = `SELECT x.*, u.known AS ended_at, ` + origin + ` FROM activity x` + originJoin + ` LEFT JOIN journal u ON u.id = x.ended_by `

// ActivitiesOn returns a date's activities with their students.
func ActivitiesOn(ctx context.Context, q Queryer, d day.Date) ([]Activity, error) {
	return activitiesWith(ctx, q, `WHERE x.date <= ? AND coalesce(x.to_date, x.date) >= ? ORDER BY x.id`, d, d)
}

// ActivitiesFrom returns the activities that end on a date or later, and those of before it that were to
// come back and of which nobody has said so.
func ActivitiesFrom(ctx context.Context, q Queryer, d, began day.Date) ([]Activity, error) {
	return activitiesWith(ctx, q, `WHERE coalesce(x.to_date, x.date) >= ? OR (x.date >= ? AND x.returns = 1 AND x.on_site = 0 AND x.ended_by IS NULL
		AND x.leader <> '' AND NOT EXISTS (SELECT 1 FROM activity_back b WHERE b.activity_id = x.id AND b.undone_by IS NULL)) ORDER BY x.date, x.from_minute, x.id`, d, began)
}

// ActivityWith returns an activity; nil for none.
func ActivityWith(ctx context.Context, q Queryer, id ids.Activity) (*Activity, error) {
	return firstOf(activitiesWith(ctx, q, `WHERE x.id = ?`, id))
}

func activitiesWith(ctx context.Context, q Queryer, where string, args ...any) ([]Activity, error) {
	out, err := list[Activity](ctx, q, activities+where, args...)
	if err != nil || len(out) == 0 {
		return out, err
	}
	of := map[ids.Activity]*Activity{}
	named := make([]ids.Activity, len(out))
	for i := range out {
		of[out[i].ID], named[i] = &out[i], out[i].ID
	}
	times, err := ofActivities[ActivityTime](ctx, q, `SELECT x.activity_id, x.from_minute, x.to_minute, x.journal_id, `+origin+` FROM activity_time x`+originJoin, named)
	if err != nil {
		return nil, err
	}
	members, err := ofActivities[ActivityMember](ctx, q, `SELECT x.activity_id, x.student_id, x.journal_id, x.ended_by, u.known AS ended_at, `+origin+` FROM activity_member x`+originJoin+` LEFT JOIN journal u ON u.id = x.ended_by `, named)
	if err != nil {
		return nil, err
	}
	marks, err := ofActivities[ActivityMark](ctx, q, `SELECT x.activity_id, x.student_id, x.here, x.date, x.minute, x.journal_id, `+origin+` FROM activity_mark x`+originJoin, named)
	if err != nil {
		return nil, err
	}
	backs, err := ofActivities[ActivityBack](ctx, q, `SELECT x.activity_id, x.date, x.minute, x.home, x.note, x.journal_id, x.undone_by, u.known AS undone_at, `+origin+` FROM activity_back x`+originJoin+` LEFT JOIN journal u ON u.id = x.undone_by `, named)
	for i := range out {
		out[i].Times = []ActivityTime{{ActivityID: out[i].ID, From: out[i].From, To: out[i].To, Origin: out[i].Origin}}
	}
	for _, t := range times {
		a := of[t.ActivityID]
		a.Times, a.From, a.To = append(a.Times, t), t.From, t.To
	}
	for _, m := range members {
		of[m.ActivityID].Members = append(of[m.ActivityID].Members, m)
	}
	for _, m := range marks {
		of[m.ActivityID].Marks = append(of[m.ActivityID].Marks, m)
	}
	for _, b := range backs {
		of[b.ActivityID].Backs = append(of[b.ActivityID].Backs, b)
	}
	return out, err
}

func ofActivities[T any](ctx context.Context, q Queryer, query string, named []ids.Activity) ([]T, error) {
	query, args, err := sqlx.In(query+`WHERE x.activity_id IN (?) ORDER BY x.id`, named)
	if err != nil {
		return nil, err
	}
	return list[T](ctx, q, query, args...)
}

// AddActivity writes an activity with its students.
func AddActivity(ctx context.Context, tx *sqlx.Tx, a Activity, students []ids.Student) (ids.Activity, error) {
	id, err := insert[ids.Activity](ctx, tx, `INSERT INTO activity (title, place, date, to_date, from_minute, to_minute, on_site, returns, leader, leader_id, phone, journal_id)
		VALUES (:title, :place, :date, :to_date, :from_minute, :to_minute, :on_site, :returns, :leader, :leader_id, :phone, :journal_id)`, a)
	for _, s := range students {
		err = errors.Join(err, AddActivityMember(ctx, tx, id, s, a.Journal))
	}
	return id, err
}

// SetActivity writes what an activity is called, where it goes and who leads it.
func SetActivity(ctx context.Context, tx *sqlx.Tx, a Activity) error {
	_, err := tx.NamedExecContext(ctx, `UPDATE activity SET title = :title, place = :place, date = :date, to_date = :to_date, returns = :returns, leader = :leader, leader_id = :leader_id, phone = :phone WHERE id = :id`, a)
	return err
}

// AddActivityTime writes when an activity is from and to from now on.
func AddActivityTime(ctx context.Context, tx *sqlx.Tx, t ActivityTime) error {
	_, err := tx.NamedExecContext(ctx, `INSERT INTO activity_time (activity_id, from_minute, to_minute, journal_id) VALUES (:activity_id, :from_minute, :to_minute, :journal_id)`, t)
	return err
}

// AddActivityMember writes that a student is on an activity.
func AddActivityMember(ctx context.Context, tx *sqlx.Tx, id ids.Activity, s ids.Student, journal ids.Entry) error {
	_, err := tx.ExecContext(ctx, `INSERT INTO activity_member (activity_id, student_id, journal_id) VALUES (?, ?, ?)`, id, s, journal)
	return err
}

// EndActivityMember writes that a student is on an activity no longer.
func EndActivityMember(ctx context.Context, tx *sqlx.Tx, id ids.Activity, s ids.Student, journal ids.Entry) (bool, error) {
	return took(tx.ExecContext(ctx, `UPDATE activity_member SET ended_by = ? WHERE activity_id = ? AND student_id = ? AND ended_by IS NULL`, journal, id, s))
}

// EndActivity writes that an activity does not take place.
func EndActivity(ctx context.Context, tx *sqlx.Tx, id ids.Activity, journal ids.Entry) (bool, error) {
	return took(tx.ExecContext(ctx, `UPDATE activity SET ended_by = ? WHERE id = ? AND ended_by IS NULL`, journal, id))
}

// AddActivityMark writes whether the leader has a student with them.
func AddActivityMark(ctx context.Context, tx *sqlx.Tx, m ActivityMark) error {
	_, err := tx.NamedExecContext(ctx, `INSERT INTO activity_mark (activity_id, student_id, here, date, minute, journal_id) VALUES (:activity_id, :student_id, :here, :date, :minute, :journal_id)`, m)
	return err
}

// AddActivityBack writes that those on an activity have come back.
func AddActivityBack(ctx context.Context, tx *sqlx.Tx, b ActivityBack) error {
	_, err := tx.NamedExecContext(ctx, `INSERT INTO activity_back (activity_id, date, minute, home, note, journal_id) VALUES (:activity_id, :date, :minute, :home, :note, :journal_id)`, b)
	return err
}

// UndoActivityBack takes that back.
func UndoActivityBack(ctx context.Context, tx *sqlx.Tx, id ids.Activity, journal ids.Entry) (bool, error) {
	return took(tx.ExecContext(ctx, `UPDATE activity_back SET undone_by = ? WHERE activity_id = ? AND undone_by IS NULL`, journal, id))
}

// ActivitySaid is what the leader of an activity said of a student.
type ActivitySaid struct {
	ActivityMark
	Title string `db:"title"`
}

// ActivityMarksOf returns what leaders said of a student.
func ActivityMarksOf(ctx context.Context, q Queryer, student ids.Student) ([]ActivitySaid, error) {
	return list[ActivitySaid](ctx, q, `SELECT x.activity_id, x.student_id, x.here, x.date, x.minute, x.journal_id, t.title, `+origin+` FROM activity_mark x JOIN activity t ON t.id = x.activity_id`+originJoin+`WHERE x.student_id = ? ORDER BY x.id`, student)
}
