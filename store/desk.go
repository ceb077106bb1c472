package store

import (
	"context"
	"database/sql"
	"errors"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/core/ids"
)

// Hold keeps students' homes from being rung until a minute.
type Hold struct {
	ID       ids.Hold      `db:"id"`
	Date     day.Date      `db:"date"`
	Minute   day.Minute    `db:"minute"`
	Until    day.Minute    `db:"until"`
	Reason   string        `db:"reason"`
	EndedBy  *ids.Entry    `db:"ended_by"`
	EndedAt  *day.Instant  `db:"ended_at"`
	Students []ids.Student `db:"-"`
	Origin
}

// HoldsOn returns a date's holds with their students, oldest first.
func HoldsOn(ctx context.Context, q Queryer, d day.Date) ([]Hold, error) {
	out, err := list[Hold](ctx, q, `SELECT x.*, u.known AS ended_at, `+origin+` FROM hold x`+originJoin+` LEFT JOIN journal u ON u.id = x.ended_by WHERE x.date = ? ORDER BY x.id`, d)
	if err != nil {
		return nil, err
	}
	held, err := membersOn[ids.Hold](ctx, q, `SELECT s.hold_id AS of, s.student_id AS student FROM hold_student s JOIN hold x ON x.id = s.hold_id WHERE x.date = ? ORDER BY s.hold_id, s.student_id`, d)
	for i := range out {
		out[i].Students = held[out[i].ID]
	}
	return out, err
}

// AddHold writes a hold with its students and returns its id.
func AddHold(ctx context.Context, tx *sqlx.Tx, h Hold) (ids.Hold, error) {
	id, err := insert[ids.Hold](ctx, tx, `INSERT INTO hold (date, minute, until, reason, journal_id) VALUES (:date, :minute, :until, :reason, :journal_id)`, h)
	return id, errors.Join(err, addMembers(ctx, tx, `INSERT INTO hold_student (hold_id, student_id) VALUES (?, ?)`, id, h.Students))
}

// EndHold ends a hold.
func EndHold(ctx context.Context, tx *sqlx.Tx, id ids.Hold, journal ids.Entry) (bool, error) {
	return took(tx.ExecContext(ctx, `UPDATE hold SET ended_by = ? WHERE id = ? AND ended_by IS NULL`, journal, id))
}

// Fetch says that a student is to be fetched from school.
type Fetch struct {
	ID        ids.Fetch    `db:"id"`
	StudentID ids.Student  `db:"student_id"`
	Date      day.Date     `db:"date"`
	Minute    day.Minute   `db:"minute"`
	Reason    string       `db:"reason"`
	Place     string       `db:"place"` // where the student waits
	EndedBy   *ids.Entry   `db:"ended_by"`
	EndedAt   *day.Instant `db:"ended_at"`
	Origin
}

// FetchesOn returns a date's students to be fetched, oldest first.
func FetchesOn(ctx context.Context, q Queryer, d day.Date) ([]Fetch, error) {
	return list[Fetch](ctx, q, `SELECT x.*, u.known AS ended_at, `+origin+` FROM fetch x`+originJoin+` LEFT JOIN journal u ON u.id = x.ended_by WHERE x.date = ? ORDER BY x.id`, d)
}

// AddFetch writes that a student is to be fetched.
func AddFetch(ctx context.Context, tx *sqlx.Tx, f Fetch) (ids.Fetch, error) {
	return insert[ids.Fetch](ctx, tx, `INSERT INTO fetch (student_id, date, minute, reason, place, journal_id) VALUES (:student_id, :date, :minute, :reason, :place, :journal_id)`, f)
}

// EndFetch writes that a student need not be fetched any more.
func EndFetch(ctx context.Context, tx *sqlx.Tx, id ids.Fetch, journal ids.Entry) (bool, error) {
	return took(tx.ExecContext(ctx, `UPDATE fetch SET ended_by = ? WHERE id = ? AND ended_by IS NULL`, journal, id))
}

// Pass is a pass that was made for a movement.
type Pass struct {
	ID         ids.Pass     `db:"id"`
	MovementID ids.Movement `db:"movement_id"`
	Date       day.Date     `db:"date"`
	ReturnedBy *ids.Entry   `db:"returned_by"`
	ReturnedAt *day.Instant `db:"returned_at"`
	Origin
}

const passes = `SELECT x.*, u.known AS returned_at, ` + origin + ` FROM pass x` + originJoin + ` LEFT JOIN journal u ON u.id = x.returned_by `

// PassesOn returns a date's passes, oldest first.
func PassesOn(ctx context.Context, q Queryer, d day.Date) ([]Pass, error) {
	return list[Pass](ctx, q, passes+`WHERE x.date = ? ORDER BY x.journal_id, x.id`, d)
}

// PassDate returns the date of a pass; ok is false where there is no such pass.
func PassDate(ctx context.Context, q Queryer, id ids.Pass) (d day.Date, ok bool, err error) {
	err = sqlx.GetContext(ctx, q, &d, `SELECT date FROM pass WHERE id = ?`, id)
	if errors.Is(err, sql.ErrNoRows) {
		return 0, false, nil
	}
	return d, err == nil, err
}

// AddPass writes a pass with the id that it was given and reports whether that was still free.
func AddPass(ctx context.Context, tx *sqlx.Tx, p Pass) (bool, error) {
	res, err := tx.NamedExecContext(ctx, `INSERT INTO pass (id, movement_id, date, journal_id) VALUES (:id, :movement_id, :date, :journal_id) ON CONFLICT (id) DO NOTHING`, p)
	return took(res, err)
}

// ReturnPass writes that a pass came back.
func ReturnPass(ctx context.Context, tx *sqlx.Tx, id ids.Pass, journal ids.Entry) (bool, error) {
	return took(tx.ExecContext(ctx, `UPDATE pass SET returned_by = ? WHERE id = ? AND returned_by IS NULL`, journal, id))
}

// Station is a device that students sign themselves in and out on.
type Station struct {
	ID        ids.Station  `db:"id"`
	Name      string       `db:"name"`
	Code      string       `db:"code"`       // hash of the code to be typed once
	CodeUntil day.Instant  `db:"code_until"` // the first instant at which it is not taken any more
	Token     *string      `db:"token"`      // hash of what the bound device shows
	Wrong     int          `db:"wrong"`      // wrong numbers so far
	Bound     *day.Instant `db:"bound"`
	EndedBy   *ids.Entry   `db:"ended_by"`
	Origin
}

// Stations returns all stations, oldest first.
func Stations(ctx context.Context, q Queryer) ([]Station, error) {
	return list[Station](ctx, q, `SELECT x.*, `+origin+` FROM station x`+originJoin+`ORDER BY x.id`)
}

// AddStation writes a station with the hash of its code.
func AddStation(ctx context.Context, tx *sqlx.Tx, s Station) (ids.Station, error) {
	return insert[ids.Station](ctx, tx, `INSERT INTO station (name, code, code_until, journal_id) VALUES (:name, :code, :code_until, :journal_id)`, s)
}

// BindStation ties a station to the device with this token, once.
func BindStation(ctx context.Context, tx *sqlx.Tx, id ids.Station, token string, at day.Instant) (bool, error) {
	return took(tx.ExecContext(ctx, `UPDATE station SET token = ?, bound = ? WHERE id = ? AND token IS NULL AND ended_by IS NULL`, token, at, id))
}

// EndStation takes a station out of use.
func EndStation(ctx context.Context, tx *sqlx.Tx, id ids.Station, journal ids.Entry) (bool, error) {
	return took(tx.ExecContext(ctx, `UPDATE station SET ended_by = ? WHERE id = ? AND ended_by IS NULL`, journal, id))
}

// CountWrong counts a wrong number at a station.
func CountWrong(ctx context.Context, tx *sqlx.Tx, id ids.Station) error {
	_, err := tx.ExecContext(ctx, `UPDATE station SET wrong = wrong + 1 WHERE id = ?`, id)
	return err
}

// StudentPhoto is what a student looks like.
type StudentPhoto struct {
	StudentID ids.Student `db:"student_id"`
	Picture   []byte      `db:"picture"` // PNG; empty takes the photo away
	Journal   ids.Entry   `db:"journal_id"`
}

// Photo returns a student's photo as PNG; empty for none.
func Photo(ctx context.Context, q Queryer, student ids.Student) ([]byte, error) {
	var out []byte
	err := sqlx.GetContext(ctx, q, &out, `SELECT picture FROM photo WHERE student_id = ?`, student)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, nil
	}
	return out, err
}

// WithPhoto returns the students who have a photo.
func WithPhoto(ctx context.Context, q Queryer) (map[ids.Student]bool, error) {
	of, err := list[ids.Student](ctx, q, `SELECT student_id FROM photo`)
	out := map[ids.Student]bool{}
	for _, s := range of {
		out[s] = true
	}
	return out, err
}

// SetPhoto keeps or takes away a student's photo.
func SetPhoto(ctx context.Context, tx *sqlx.Tx, p StudentPhoto) error {
	if len(p.Picture) == 0 {
		_, err := tx.ExecContext(ctx, `DELETE FROM photo WHERE student_id = ?`, p.StudentID)
		return err
	}
	_, err := insert[int64](ctx, tx, `INSERT INTO photo (student_id, picture, journal_id) VALUES (:student_id, :picture, :journal_id)
		ON CONFLICT (student_id) DO UPDATE SET picture = excluded.picture, journal_id = excluded.journal_id`, p)
	return err
}
