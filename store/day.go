package store

import (
	"context"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
)

// Origin is when a row became known and who wrote it.
type Origin struct {
	Journal int64       `db:"journal_id"`
	Known   day.Instant `db:"known"`
	By      string      `db:"by_name"`
}

const origin = `j.known, coalesce(a.name, '') AS by_name`
const originJoin = ` JOIN journal j ON j.id = x.journal_id LEFT JOIN account a ON a.id = j.account_id `

// Mark is one version of a mark.
type Mark struct {
	Date      day.Date    `db:"date"`
	Slot      string      `db:"slot"`
	StudentID int64       `db:"student_id"`
	Version   int         `db:"version"`
	ClassID   int64       `db:"class_id"`
	Code      string      `db:"code"`
	AwayFrom  *day.Minute `db:"away_from"`
	AwayTo    *day.Minute `db:"away_to"`
	Made      day.Minute  `db:"made"`
	Source    string      `db:"source"`
	Note      string      `db:"note"`
	Reason    string      `db:"reason"`
	Origin
}

// MarksOn returns every version of every mark of a date, oldest first.
func MarksOn(ctx context.Context, q Queryer, d day.Date) ([]Mark, error) {
	return list[Mark](ctx, q, `SELECT x.*, `+origin+` FROM mark x`+originJoin+`WHERE x.date = ? ORDER BY x.slot, x.student_id, x.version`, d)
}

// MarksOf returns every version of a student's marks on given dates, newest first.
func MarksOf(ctx context.Context, q Queryer, student int64, from, to day.Date) ([]Mark, error) {
	return list[Mark](ctx, q, `SELECT x.*, `+origin+` FROM mark x INDEXED BY mark_student`+originJoin+`WHERE x.date BETWEEN ? AND ? AND x.student_id = ? ORDER BY x.date DESC, x.slot, x.version`, from, to, student)
}

// AddMarks writes versions of marks. A version that is there already is refused.
func AddMarks(ctx context.Context, tx *sqlx.Tx, marks []Mark) error {
	return inBatches(ctx, tx, `INSERT INTO mark (date, slot, student_id, version, class_id, code, away_from, away_to, made, source, note, reason, journal_id)
		VALUES (:date, :slot, :student_id, :version, :class_id, :code, :away_from, :away_to, :made, :source, :note, :reason, :journal_id)`, marks)
}

// LedgerMark is what the ledger needs of a mark in force.
type LedgerMark struct {
	Date      day.Date
	Slot      string
	StudentID int64
	ClassID   int64
	Code      string
	AwayFrom  *day.Minute
	AwayTo    *day.Minute
}

// EachMark gives every version of every mark in the order of date, slot,
// student and version, so that the last one of a place is in force.
func EachMark(ctx context.Context, q Queryer, yield func(LedgerMark) error) error {
	rows, err := q.QueryContext(ctx, `SELECT date, slot, student_id, class_id, code, away_from, away_to FROM mark ORDER BY date, slot, student_id, version`)
	if err != nil {
		return err
	}
	defer rows.Close()
	for rows.Next() {
		var m LedgerMark
		if err := rows.Scan(&m.Date, &m.Slot, &m.StudentID, &m.ClassID, &m.Code, &m.AwayFrom, &m.AwayTo); err != nil {
			return err
		}
		if err := yield(m); err != nil {
			return err
		}
	}
	return rows.Err()
}

// Register says that a class's register for a slot is in.
type Register struct {
	Date    day.Date `db:"date"`
	Slot    string   `db:"slot"`
	ClassID int64    `db:"class_id"`
	Origin
}

// RegistersOn returns the registers that are in on a date.
func RegistersOn(ctx context.Context, q Queryer, d day.Date) ([]Register, error) {
	return list[Register](ctx, q, `SELECT x.*, `+origin+` FROM register x`+originJoin+`WHERE x.date = ? ORDER BY j.id`, d)
}

// AddRegisters writes that registers are in.
func AddRegisters(ctx context.Context, tx *sqlx.Tx, rows []Register) error {
	return inBatches(ctx, tx, `INSERT INTO register (date, slot, class_id, journal_id) VALUES (:date, :slot, :class_id, :journal_id)`, rows)
}

// Movement is a student seen at the door or in the building.
type Movement struct {
	ID        int64        `db:"id"`
	StudentID int64        `db:"student_id"`
	Date      day.Date     `db:"date"`
	Minute    day.Minute   `db:"minute"`
	Kind      string       `db:"kind"` // arrived, departed, seen
	Reason    string       `db:"reason"`
	Note      string       `db:"note"`
	Returns   *day.Minute  `db:"returns"`
	UndoneBy  *int64       `db:"undone_by"`
	UndoneAt  *day.Instant `db:"undone_at"`
	Origin
}

const movements = `SELECT x.*, u.known AS undone_at, ` + origin + ` FROM movement x` + originJoin + ` LEFT JOIN journal u ON u.id = x.undone_by `

// MovementsOn returns a date's movements, those taken back included.
func MovementsOn(ctx context.Context, q Queryer, d day.Date) ([]Movement, error) {
	return list[Movement](ctx, q, movements+`WHERE x.date = ? ORDER BY x.minute, x.id`, d)
}

// MovementsOf returns a student's movements, newest first.
func MovementsOf(ctx context.Context, q Queryer, student int64) ([]Movement, error) {
	return list[Movement](ctx, q, movements+`WHERE x.student_id = ? ORDER BY x.date DESC, x.minute DESC LIMIT 60`, student)
}

// AddMovement writes a movement and returns its id.
func AddMovement(ctx context.Context, tx *sqlx.Tx, m Movement) (int64, error) {
	return insert(ctx, tx, `INSERT INTO movement (student_id, date, minute, kind, reason, note, returns, journal_id)
		VALUES (:student_id, :date, :minute, :kind, :reason, :note, :returns, :journal_id)`, m)
}

// UndoMovement takes a movement back.
func UndoMovement(ctx context.Context, tx *sqlx.Tx, id, journal int64) (bool, error) {
	return took(tx.ExecContext(ctx, `UPDATE movement SET undone_by = ? WHERE id = ? AND undone_by IS NULL`, journal, id))
}

// Notice is what home said about a student.
type Notice struct {
	ID          int64        `db:"id"`
	StudentID   int64        `db:"student_id"`
	FromDate    day.Date     `db:"from_date"`
	ToDate      day.Date     `db:"to_date"`
	FromMinute  day.Minute   `db:"from_minute"`
	ToMinute    day.Minute   `db:"to_minute"`
	Returns     bool         `db:"returns"`
	Reason      string       `db:"reason"`
	ToldBy      string       `db:"told_by"`
	WithdrawnBy *int64       `db:"withdrawn_by"`
	WithdrawnAt *day.Instant `db:"withdrawn_at"`
	Origin
}

const notices = `SELECT x.*, u.known AS withdrawn_at, ` + origin + ` FROM notice x` + originJoin + ` LEFT JOIN journal u ON u.id = x.withdrawn_by `

// NoticesOn returns the notices that touch a date, withdrawn ones included.
func NoticesOn(ctx context.Context, q Queryer, d day.Date) ([]Notice, error) {
	return list[Notice](ctx, q, notices+`WHERE x.from_date <= ? AND x.to_date >= ? ORDER BY x.id`, d, d)
}

// NoticesOf returns a student's notices, newest first.
func NoticesOf(ctx context.Context, q Queryer, student int64) ([]Notice, error) {
	return list[Notice](ctx, q, notices+`WHERE x.student_id = ? ORDER BY x.id DESC LIMIT 60`, student)
}

// AddNotice writes a notice and returns its id.
func AddNotice(ctx context.Context, tx *sqlx.Tx, n Notice) (int64, error) {
	return insert(ctx, tx, `INSERT INTO notice (student_id, from_date, to_date, from_minute, to_minute, returns, reason, told_by, journal_id)
		VALUES (:student_id, :from_date, :to_date, :from_minute, :to_minute, :returns, :reason, :told_by, :journal_id)`, n)
}

// WithdrawNotice takes a notice back.
func WithdrawNotice(ctx context.Context, tx *sqlx.Tx, id, journal int64) (bool, error) {
	return took(tx.ExecContext(ctx, `UPDATE notice SET withdrawn_by = ? WHERE id = ? AND withdrawn_by IS NULL`, journal, id))
}

// Activity is something planned away from the timetable.
type Activity struct {
	ID       int64        `db:"id"`
	Title    string       `db:"title"`
	Date     day.Date     `db:"date"`
	From     day.Minute   `db:"from_minute"`
	To       day.Minute   `db:"to_minute"`
	OnSite   bool         `db:"on_site"`
	EndedBy  *int64       `db:"ended_by"`
	EndedAt  *day.Instant `db:"ended_at"`
	Students []int64      `db:"-"`
	Origin
}

// ActivitiesOn returns a date's activities with their students.
func ActivitiesOn(ctx context.Context, q Queryer, d day.Date) ([]Activity, error) {
	out, err := list[Activity](ctx, q, `SELECT x.*, u.known AS ended_at, `+origin+` FROM activity x`+originJoin+` LEFT JOIN journal u ON u.id = x.ended_by WHERE x.date = ? ORDER BY x.id`, d)
	for i := range out {
		if err == nil {
			out[i].Students, err = list[int64](ctx, q, `SELECT student_id FROM activity_student WHERE activity_id = ? ORDER BY student_id`, out[i].ID)
		}
	}
	return out, err
}

// AddActivity writes an activity with its students.
func AddActivity(ctx context.Context, tx *sqlx.Tx, a Activity) (int64, error) {
	id, err := insert(ctx, tx, `INSERT INTO activity (title, date, from_minute, to_minute, on_site, journal_id) VALUES (:title, :date, :from_minute, :to_minute, :on_site, :journal_id)`, a)
	for _, s := range a.Students {
		if err == nil {
			_, err = tx.ExecContext(ctx, `INSERT INTO activity_student (activity_id, student_id) VALUES (?, ?)`, id, s)
		}
	}
	return id, err
}

// Call is a call to a contact about one or more students.
type Call struct {
	ID        int64       `db:"id"`
	Date      day.Date    `db:"date"`
	Minute    day.Minute  `db:"minute"`
	ContactID *int64      `db:"contact_id"`
	Outcome   string      `db:"outcome"`
	Said      string      `db:"said"`
	Note      string      `db:"note"`
	Next      *day.Minute `db:"next"`
	StudentID int64       `db:"student_id"` // one row for each student when read
	Students  []int64     `db:"-"`
	Origin
}

const calls = `SELECT x.*, s.student_id, ` + origin + ` FROM call x JOIN call_student s ON s.call_id = x.id` + originJoin

// CallsOn returns a date's calls, a row for each student.
func CallsOn(ctx context.Context, q Queryer, d day.Date) ([]Call, error) {
	return list[Call](ctx, q, calls+`WHERE x.date = ? ORDER BY x.id`, d)
}

// CallsOf returns a student's calls, newest first.
func CallsOf(ctx context.Context, q Queryer, student int64) ([]Call, error) {
	return list[Call](ctx, q, calls+`WHERE s.student_id = ? ORDER BY x.id DESC LIMIT 60`, student)
}

// AddCall writes a call with its students.
func AddCall(ctx context.Context, tx *sqlx.Tx, c Call) (int64, error) {
	id, err := insert(ctx, tx, `INSERT INTO call (date, minute, contact_id, outcome, said, note, next, journal_id) VALUES (:date, :minute, :contact_id, :outcome, :said, :note, :next, :journal_id)`, c)
	for _, s := range c.Students {
		if err == nil {
			_, err = tx.ExecContext(ctx, `INSERT INTO call_student (call_id, student_id) VALUES (?, ?)`, id, s)
		}
	}
	return id, err
}

// Search is a search in the building.
type Search struct {
	ID        int64        `db:"id"`
	StudentID int64        `db:"student_id"`
	Date      day.Date     `db:"date"`
	Minute    day.Minute   `db:"minute"`
	Outcome   string       `db:"outcome"` // empty while it lasts, found, given up
	Place     string       `db:"place"`
	EndedBy   *int64       `db:"ended_by"`
	EndedAt   *day.Instant `db:"ended_at"`
	Origin
}

// SearchesOn returns a date's searches.
func SearchesOn(ctx context.Context, q Queryer, d day.Date) ([]Search, error) {
	return list[Search](ctx, q, `SELECT x.*, u.known AS ended_at, `+origin+` FROM search x`+originJoin+` LEFT JOIN journal u ON u.id = x.ended_by WHERE x.date = ? ORDER BY x.id`, d)
}

// AddSearch writes that a search has begun.
func AddSearch(ctx context.Context, tx *sqlx.Tx, s Search) (int64, error) {
	return insert(ctx, tx, `INSERT INTO search (student_id, date, minute, journal_id) VALUES (:student_id, :date, :minute, :journal_id)`, s)
}

// EndSearch writes how a search ended.
func EndSearch(ctx context.Context, tx *sqlx.Tx, id int64, outcome, place string, journal int64) (bool, error) {
	return took(tx.ExecContext(ctx, `UPDATE search SET outcome = ?, place = ?, ended_by = ? WHERE id = ? AND ended_by IS NULL`, outcome, place, journal, id))
}

// Settled is a contradiction that was looked at and stands.
type Settled struct {
	ID        int64    `db:"id"`
	StudentID int64    `db:"student_id"`
	Date      day.Date `db:"date"`
	Slot      string   `db:"slot"`
	Kind      string   `db:"kind"`
	Note      string   `db:"note"`
	Origin
}

// SettledOn returns a date's settled contradictions.
func SettledOn(ctx context.Context, q Queryer, d day.Date) ([]Settled, error) {
	return list[Settled](ctx, q, `SELECT x.*, `+origin+` FROM settled x`+originJoin+`WHERE x.date = ? ORDER BY x.id`, d)
}

// AddSettled writes that a contradiction stands.
func AddSettled(ctx context.Context, tx *sqlx.Tx, s Settled) (int64, error) {
	return insert(ctx, tx, `INSERT INTO settled (student_id, date, slot, kind, note, journal_id) VALUES (:student_id, :date, :slot, :kind, :note, :journal_id)`, s)
}

// Message is something that went out, or would have.
type Message struct {
	ID        int64      `db:"id"`
	Date      day.Date   `db:"date"`
	Minute    day.Minute `db:"minute"`
	Kind      string     `db:"kind"`    // remind, ask, check-in
	Channel   string     `db:"channel"` // text, e-mail, page
	StaffID   *int64     `db:"staff_id"`
	ClassID   *int64     `db:"class_id"`
	StudentID *int64     `db:"student_id"`
	Slot      string     `db:"slot"`
	Address   string     `db:"address"`
	Words     string     `db:"words"`
	State     string     `db:"state"`
	Origin
}

// MessagesOn returns a date's messages, oldest first.
func MessagesOn(ctx context.Context, q Queryer, d day.Date) ([]Message, error) {
	return list[Message](ctx, q, `SELECT x.*, `+origin+` FROM message x`+originJoin+`WHERE x.date = ? ORDER BY x.id`, d)
}

// AddMessage writes a message.
func AddMessage(ctx context.Context, tx *sqlx.Tx, m Message) (int64, error) {
	return insert(ctx, tx, `INSERT INTO message (date, minute, kind, channel, staff_id, class_id, student_id, slot, address, words, state, journal_id)
		VALUES (:date, :minute, :kind, :channel, :staff_id, :class_id, :student_id, :slot, :address, :words, :state, :journal_id)`, m)
}

// MessageEvent is what became of a message.
type MessageEvent struct {
	ID        int64      `db:"id"`
	MessageID int64      `db:"message_id"`
	Date      day.Date   `db:"date"`
	Minute    day.Minute `db:"minute"`
	State     string     `db:"state"` // sent, delivered, failed, seen, replied
	Words     string     `db:"words"`
	Origin
}

// MessageEventsOn returns what became of messages on a date, oldest first.
func MessageEventsOn(ctx context.Context, q Queryer, d day.Date) ([]MessageEvent, error) {
	return list[MessageEvent](ctx, q, `SELECT x.*, `+origin+` FROM message_event x`+originJoin+`WHERE x.date = ? ORDER BY x.id`, d)
}

// AddMessageEvent writes what became of a message.
func AddMessageEvent(ctx context.Context, tx *sqlx.Tx, e MessageEvent) error {
	_, err := insert(ctx, tx, `INSERT INTO message_event (message_id, date, minute, state, words, journal_id) VALUES (:message_id, :date, :minute, :state, :words, :journal_id)`, e)
	return err
}

// Closing says that someone closed safe arrival.
type Closing struct {
	ID     int64      `db:"id"`
	Date   day.Date   `db:"date"`
	Slot   string     `db:"slot"`
	Minute day.Minute `db:"minute"`
	Origin
}

// ClosingsOn returns a date's closings, oldest first.
func ClosingsOn(ctx context.Context, q Queryer, d day.Date) ([]Closing, error) {
	return list[Closing](ctx, q, `SELECT x.*, `+origin+` FROM closing x`+originJoin+`WHERE x.date = ? ORDER BY x.id`, d)
}

// AddClosing writes that safe arrival was closed.
func AddClosing(ctx context.Context, tx *sqlx.Tx, c Closing) (int64, error) {
	return insert(ctx, tx, `INSERT INTO closing (date, slot, minute, journal_id) VALUES (:date, :slot, :minute, :journal_id)`, c)
}
