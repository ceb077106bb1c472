package store

import (
	"context"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/core/ids"
)

// CheckIn is a window of minutes in which the students of a class check themselves in.
type CheckIn struct {
	ID       ids.CheckIn  `db:"id"`
	Date     day.Date     `db:"date"`
	Slot     string       `db:"slot"`
	ClassID  ids.Class    `db:"class_id"`
	Opens    day.Minute   `db:"opens"`
	Closes   day.Minute   `db:"closes"`
	Question string       `db:"question"`
	Distance bool         `db:"distance"`
	Secret   []byte       `db:"secret"`
	EndedBy  *ids.Entry   `db:"ended_by"`
	EndedAt  *day.Instant `db:"ended_at"`
	Origin
}

const checkIns = `SELECT x.*, u.known AS ended_at, ` + origin + ` FROM check_in x` + originJoin + ` LEFT JOIN journal u ON u.id = x.ended_by `

// CheckInsOn returns a date's check-in windows, ended ones included, oldest first.
func CheckInsOn(ctx context.Context, q Queryer, d day.Date) ([]CheckIn, error) {
	return list[CheckIn](ctx, q, checkIns+`WHERE x.date = ? ORDER BY x.id`, d)
}

// CheckInsOf returns a class's check-in windows in a slot from a date on.
func CheckInsOf(ctx context.Context, q Queryer, class ids.Class, slot string, from day.Date) ([]CheckIn, error) {
	return list[CheckIn](ctx, q, checkIns+`WHERE x.class_id = ? AND x.slot = ? AND x.date >= ? ORDER BY x.date, x.id`, class, slot, from)
}

// CheckInByID returns a check-in window; nil for none.
func CheckInByID(ctx context.Context, q Queryer, id ids.CheckIn) (*CheckIn, error) {
	found, err := list[CheckIn](ctx, q, checkIns+`WHERE x.id = ?`, id)
	if err != nil || len(found) == 0 {
		return nil, err
	}
	return &found[0], nil
}

// AddCheckIn writes a check-in window and returns its id.
func AddCheckIn(ctx context.Context, tx *sqlx.Tx, c CheckIn) (ids.CheckIn, error) {
	return insert[ids.CheckIn](ctx, tx, `INSERT INTO check_in (date, slot, class_id, opens, closes, question, distance, secret, journal_id)
		VALUES (:date, :slot, :class_id, :opens, :closes, :question, :distance, :secret, :journal_id)`, c)
}

// EndCheckIn closes a check-in window.
func EndCheckIn(ctx context.Context, tx *sqlx.Tx, id ids.CheckIn, journal ids.Entry) (bool, error) {
	return took(tx.ExecContext(ctx, `UPDATE check_in SET ended_by = ? WHERE id = ? AND ended_by IS NULL`, journal, id))
}

// CheckInEntry is a student who has checked in.
type CheckInEntry struct {
	CheckInID   ids.CheckIn `db:"check_in_id"`
	StudentID   ids.Student `db:"student_id"`
	Minute      day.Minute  `db:"minute"`
	Answer      string      `db:"answer"`
	Distance    bool        `db:"distance"`
	Phone       string      `db:"phone"`
	ConfirmedBy *ids.Entry  `db:"confirmed_by"`
	Origin
}

// EntriesOf returns who has checked in on a window, in the order in which they came.
func EntriesOf(ctx context.Context, q Queryer, checkIn ids.CheckIn) ([]CheckInEntry, error) {
	return list[CheckInEntry](ctx, q, `SELECT x.*, `+origin+` FROM check_in_entry x`+originJoin+`WHERE x.check_in_id = ? ORDER BY x.journal_id`, checkIn)
}

// AddEntry writes that a student has checked in.
func AddEntry(ctx context.Context, tx *sqlx.Tx, e CheckInEntry) error {
	_, err := tx.NamedExecContext(ctx, `INSERT INTO check_in_entry (check_in_id, student_id, minute, answer, distance, phone, journal_id)
		VALUES (:check_in_id, :student_id, :minute, :answer, :distance, :phone, :journal_id)`, e)
	return err
}

// ConfirmEntry writes that the teacher has confirmed a student.
func ConfirmEntry(ctx context.Context, tx *sqlx.Tx, checkIn ids.CheckIn, student ids.Student, journal ids.Entry) error {
	_, err := tx.ExecContext(ctx, `UPDATE check_in_entry SET confirmed_by = ? WHERE check_in_id = ? AND student_id = ?`, journal, checkIn, student)
	return err
}

// Phone is a phone with the student whom a teacher has confirmed on it.
type Phone struct {
	Phone     string      `db:"phone"`
	StudentID ids.Student `db:"student_id"`
}

// PhonesOf returns the students of the phones with which some have checked in.
func PhonesOf(ctx context.Context, q Queryer, entries []CheckInEntry) (map[string]ids.Student, error) {
	out := make(map[string]ids.Student, len(entries))
	for _, e := range entries {
		student, err := StudentOfPhone(ctx, q, e.Phone)
		if err != nil {
			return nil, err
		}
		if student != 0 {
			out[e.Phone] = student
		}
	}
	return out, nil
}

// StudentOfPhone returns the student of a phone; 0 for none.
func StudentOfPhone(ctx context.Context, q Queryer, phone string) (ids.Student, error) {
	rows, err := list[ids.Student](ctx, q, `SELECT student_id FROM phone WHERE phone = ?`, phone)
	if len(rows) == 0 {
		return 0, err
	}
	return rows[0], err
}

// AddPhone writes a phone's student; a phone that has one keeps that one.
func AddPhone(ctx context.Context, tx *sqlx.Tx, p Phone, journal ids.Entry) error {
	_, err := tx.ExecContext(ctx, `INSERT INTO phone (phone, student_id, journal_id) VALUES (?, ?, ?) ON CONFLICT DO NOTHING`, p.Phone, p.StudentID, journal)
	return err
}

// WrongTry is a code or number that was wrong.
type WrongTry struct {
	ID        int64        `db:"id"`
	Date      day.Date     `db:"date"`
	Minute    day.Minute   `db:"minute"`
	CheckInID *ids.CheckIn `db:"check_in_id"`
	Kind      string       `db:"kind"` // code, number
	Phone     string       `db:"phone"`
	Origin
}

// WrongTriesOn returns a date's wrong tries, oldest first.
func WrongTriesOn(ctx context.Context, q Queryer, d day.Date) ([]WrongTry, error) {
	return list[WrongTry](ctx, q, `SELECT x.*, `+origin+` FROM wrong_try x`+originJoin+`WHERE x.date = ? ORDER BY x.id`, d)
}

// AddWrongTry writes a wrong try.
func AddWrongTry(ctx context.Context, tx *sqlx.Tx, t WrongTry) (int64, error) {
	return insert[int64](ctx, tx, `INSERT INTO wrong_try (date, minute, check_in_id, kind, phone, journal_id) VALUES (:date, :minute, :check_in_id, :kind, :phone, :journal_id)`, t)
}

// CheckInsOfClass returns a class's check-in windows of some dates, oldest first.
func CheckInsOfClass(ctx context.Context, q Queryer, class ids.Class, from, to day.Date) ([]CheckIn, error) {
	return list[CheckIn](ctx, q, checkIns+`WHERE x.class_id = ? AND x.date BETWEEN ? AND ? ORDER BY x.date, x.opens, x.id`, class, from, to)
}

// EntriesOfClass returns who has checked in to a class on some dates, in the order in which they came.
func EntriesOfClass(ctx context.Context, q Queryer, class ids.Class, from, to day.Date) ([]CheckInEntry, error) {
	return list[CheckInEntry](ctx, q, `SELECT x.*, `+origin+` FROM check_in_entry x`+originJoin+`JOIN check_in c ON c.id = x.check_in_id
		WHERE c.class_id = ? AND c.date BETWEEN ? AND ? ORDER BY x.journal_id`, class, from, to)
}

// CheckInText returns what a class is told about checking in; empty for nothing.
func CheckInText(ctx context.Context, q Queryer, class ids.Class) (string, error) {
	words, err := firstOf(list[string](ctx, q, `SELECT words FROM check_in_text WHERE class_id = ?`, class))
	if words == nil {
		return "", err
	}
	return *words, err
}

// SetCheckInText writes what a class is told about checking in.
func SetCheckInText(ctx context.Context, tx *sqlx.Tx, class ids.Class, words string, journal ids.Entry) error {
	_, err := tx.ExecContext(ctx, `INSERT INTO check_in_text (class_id, words, journal_id) VALUES (?, ?, ?)
		ON CONFLICT (class_id) DO UPDATE SET words = excluded.words, journal_id = excluded.journal_id`, class, words, journal)
	return err
}
