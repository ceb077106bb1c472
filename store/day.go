package store

import (
	"context"
	"errors"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/core/ids"
)

// Origin is when a row became known and who wrote it.
type Origin struct {
	Journal ids.Entry   `db:"journal_id"`
	Known   day.Instant `db:"known"`
	By      string      `db:"by_name"`
}

const origin = `j.known, coalesce(a.name, '') AS by_name`
const originJoin = ` JOIN journal j ON j.id = x.journal_id LEFT JOIN account a ON a.id = j.account_id `

// Mark is one version of a mark.
type Mark struct {
	Date      day.Date    `db:"date"`
	Slot      string      `db:"slot"`
	StudentID ids.Student `db:"student_id"`
	Version   int         `db:"version"`
	ClassID   ids.Class   `db:"class_id"`
	Code      string      `db:"code"`
	AwayFrom  day.Minute  `db:"away_from"`
	AwayTo    day.Minute  `db:"away_to"`
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

// MarksBy returns the versions of a date's marks in a slot that an entry of the journal made.
func MarksBy(ctx context.Context, q Queryer, d day.Date, slot string, entry ids.Entry) ([]Mark, error) {
	return list[Mark](ctx, q, `SELECT x.*, `+origin+` FROM mark x`+originJoin+`WHERE x.date = ? AND x.slot = ? AND x.journal_id = ? ORDER BY x.slot, x.student_id, x.version`, d, slot, entry)
}

// MarksOf returns every version of a student's marks on given dates, newest first.
func MarksOf(ctx context.Context, q Queryer, student ids.Student, from, to day.Date) ([]Mark, error) {
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
	StudentID ids.Student
	ClassID   ids.Class
	Code      string
	AwayFrom  day.Minute
	AwayTo    day.Minute
}

// LastRegister returns the date of the last register that is in; ok is false for none.
func LastRegister(ctx context.Context, q Queryer) (d day.Date, ok bool, err error) {
	return lastDate(ctx, q, `SELECT max(date) FROM register`)
}

// MarkedFrom returns the date of the last mark of every student who has one from a date on.
func MarkedFrom(ctx context.Context, q Queryer, d day.Date) (map[ids.Student]day.Date, error) {
	rows, err := list[struct {
		Student ids.Student `db:"student_id"`
		Last    day.Date    `db:"last"`
	}](ctx, q, `SELECT student_id, max(date) AS last FROM mark WHERE date >= ? GROUP BY student_id`, d)
	out := map[ids.Student]day.Date{}
	for _, r := range rows {
		out[r.Student] = r.Last
	}
	return out, err
}

// LastMark returns the date of the last mark; ok is false for none.
func LastMark(ctx context.Context, q Queryer) (d day.Date, ok bool, err error) {
	return lastDate(ctx, q, `SELECT max(date) FROM mark`)
}

// lastDate returns the one date that a query asks for; ok is false for none.
func lastDate(ctx context.Context, q Queryer, query string) (d day.Date, ok bool, err error) {
	var last *day.Date
	if err := sqlx.GetContext(ctx, q, &last, query); err != nil || last == nil {
		return 0, false, err
	}
	return *last, true, nil
}

// Register says that a class's register for a slot is in, and when the slot was.
type Register struct {
	Date    day.Date   `db:"date"`
	Slot    string     `db:"slot"`
	ClassID ids.Class  `db:"class_id"`
	Start   day.Minute `db:"starts"`
	End     day.Minute `db:"ends"`
	Kind    string     `db:"kind"`
	TakenBy string     `db:"taken_by"` // who took it on paper; empty where it was taken here
	Origin
}

// RegistersOn returns the registers that are in on a date.
func RegistersOn(ctx context.Context, q Queryer, d day.Date) ([]Register, error) {
	return list[Register](ctx, q, `SELECT x.*, `+origin+` FROM register x`+originJoin+`WHERE x.date = ? ORDER BY j.id`, d)
}

// RegistersBy returns a date's registers that came in with an entry of the journal.
func RegistersBy(ctx context.Context, q Queryer, d day.Date, entry ids.Entry) ([]Register, error) {
	return list[Register](ctx, q, `SELECT x.*, `+origin+` FROM register x`+originJoin+`WHERE x.date = ? AND x.journal_id = ? ORDER BY j.id`, d, entry)
}

// AddRegisters writes that registers are in.
func AddRegisters(ctx context.Context, tx *sqlx.Tx, rows []Register) error {
	return inBatches(ctx, tx, `INSERT INTO register (date, slot, class_id, starts, ends, kind, taken_by, journal_id) VALUES (:date, :slot, :class_id, :starts, :ends, :kind, :taken_by, :journal_id)`, rows)
}

// SetRegisterTimes writes when the slot of a register that is in was.
func SetRegisterTimes(ctx context.Context, tx *sqlx.Tx, r Register) error {
	_, err := tx.NamedExecContext(ctx, `UPDATE register SET starts = :starts, ends = :ends WHERE date = :date AND slot = :slot AND class_id = :class_id`, r)
	return err
}

// Movement is a student seen at the door or in the building.
type Movement struct {
	ID        ids.Movement `db:"id"`
	StudentID ids.Student  `db:"student_id"`
	Date      day.Date     `db:"date"`
	Minute    day.Minute   `db:"minute"`
	Kind      string       `db:"kind"` // arrived, departed, seen
	Reason    string       `db:"reason"`
	Note      string       `db:"note"`
	Returns   day.Minute   `db:"returns"`
	Collector string       `db:"collector"` // who collects, by name; empty for nobody
	// CollectorID is the contact who collects; nil for nobody, or for someone else.
	CollectorID *ids.Contact `db:"collector_id"`
	StationID   *ids.Station `db:"station_id"` // the station that stored it, which is then who wrote it
	UndoneBy    *ids.Entry   `db:"undone_by"`
	UndoneAt    *day.Instant `db:"undone_at"`
	Origin
}

const movements = `SELECT x.*, u.known AS undone_at, j.known, coalesce(a.name, st.name, '') AS by_name FROM movement x` + originJoin + `
	LEFT JOIN journal u ON u.id = x.undone_by LEFT JOIN station st ON st.id = x.station_id `

// MovementsOn returns a date's movements, those taken back included.
func MovementsOn(ctx context.Context, q Queryer, d day.Date) ([]Movement, error) {
	return list[Movement](ctx, q, movements+`WHERE x.date = ? ORDER BY x.minute, x.id`, d)
}

// MovementsBy returns a date's movements that an entry of the journal made or took back.
func MovementsBy(ctx context.Context, q Queryer, d day.Date, entry ids.Entry) ([]Movement, error) {
	return list[Movement](ctx, q, movements+`WHERE x.date = ? AND (x.journal_id = ? OR x.undone_by = ?) ORDER BY x.minute, x.id`, d, entry, entry)
}

// MovementsOf returns a student's movements, newest first.
func MovementsOf(ctx context.Context, q Queryer, student ids.Student) ([]Movement, error) {
	return list[Movement](ctx, q, movements+`WHERE x.student_id = ? ORDER BY x.date DESC, x.minute DESC LIMIT 60`, student)
}

// MovementsBetween returns the arrivals and departures of some dates that were not taken
// back, oldest first.
func MovementsBetween(ctx context.Context, q Queryer, from, to day.Date) ([]Movement, error) {
	return list[Movement](ctx, q, movements+`WHERE x.date BETWEEN ? AND ? AND x.kind <> 'seen' AND x.undone_by IS NULL ORDER BY x.date, x.minute, x.id`, from, to)
}

// AddMovement writes a movement and returns its id.
func AddMovement(ctx context.Context, tx *sqlx.Tx, m Movement) (ids.Movement, error) {
	return insert[ids.Movement](ctx, tx, `INSERT INTO movement (student_id, date, minute, kind, reason, note, returns, collector_id, collector, station_id, journal_id)
		VALUES (:student_id, :date, :minute, :kind, :reason, :note, :returns, :collector_id, :collector, :station_id, :journal_id)`, m)
}

// UndoMovement takes a movement back.
func UndoMovement(ctx context.Context, tx *sqlx.Tx, id ids.Movement, journal ids.Entry) (bool, error) {
	return took(tx.ExecContext(ctx, `UPDATE movement SET undone_by = ? WHERE id = ? AND undone_by IS NULL`, journal, id))
}

// Notice is what home said about a student.
type Notice struct {
	ID          ids.Notice   `db:"id"`
	StudentID   ids.Student  `db:"student_id"`
	FromDate    day.Date     `db:"from_date"`
	ToDate      day.Date     `db:"to_date"`
	FromMinute  day.Minute   `db:"from_minute"`
	ToMinute    day.Minute   `db:"to_minute"`
	Returns     bool         `db:"returns"`
	Reason      string       `db:"reason"`
	ToldBy      string       `db:"told_by"`
	ToldHow     string       `db:"told_how"`
	MessageID   *ids.Message `db:"message_id"` // the message whose answer it was
	WithdrawnBy *ids.Entry   `db:"withdrawn_by"`
	WithdrawnAt *day.Instant `db:"withdrawn_at"`
	Origin
}

// NoticesSince returns the notices about some students that were stored after an entry of the
// journal and stand.
func NoticesSince(ctx context.Context, q Queryer, entry ids.Entry, students []ids.Student) ([]Notice, error) {
	query, args, err := sqlx.In(notices+`WHERE x.student_id IN (?) AND x.journal_id > ? AND x.withdrawn_by IS NULL ORDER BY x.id`, students, entry)
	if err != nil {
		return nil, err
	}
	return list[Notice](ctx, q, query, args...)
}

const notices = `SELECT x.*, u.known AS withdrawn_at, ` + origin + ` FROM notice x` + originJoin + ` LEFT JOIN journal u ON u.id = x.withdrawn_by `

// NoticesOn returns the notices that touch a date, withdrawn ones included.
func NoticesOn(ctx context.Context, q Queryer, d day.Date) ([]Notice, error) {
	return list[Notice](ctx, q, notices+`WHERE x.from_date <= ? AND x.to_date >= ? ORDER BY x.id`, d, d)
}

// NoticeByID returns a notice; nil where there is none.
func NoticeByID(ctx context.Context, q Queryer, id ids.Notice) (*Notice, error) {
	out, err := list[Notice](ctx, q, notices+`WHERE x.id = ?`, id)
	if err != nil || len(out) == 0 {
		return nil, err
	}
	return &out[0], nil
}

// NoticesOf returns a student's notices, newest first.
func NoticesOf(ctx context.Context, q Queryer, student ids.Student) ([]Notice, error) {
	return list[Notice](ctx, q, notices+`WHERE x.student_id = ? ORDER BY x.id DESC LIMIT 60`, student)
}

// AddNotice writes a notice and returns its id.
func AddNotice(ctx context.Context, tx *sqlx.Tx, n Notice) (ids.Notice, error) {
	return insert[ids.Notice](ctx, tx, `INSERT INTO notice (student_id, from_date, to_date, from_minute, to_minute, returns, reason, told_by, told_how, message_id, journal_id)
		VALUES (:student_id, :from_date, :to_date, :from_minute, :to_minute, :returns, :reason, :told_by, :told_how, :message_id, :journal_id)`, n)
}

// WithdrawNotice takes a notice back.
func WithdrawNotice(ctx context.Context, tx *sqlx.Tx, id ids.Notice, journal ids.Entry) (bool, error) {
	return took(tx.ExecContext(ctx, `UPDATE notice SET withdrawn_by = ? WHERE id = ? AND withdrawn_by IS NULL`, journal, id))
}

// Search is a search in the building.
type Search struct {
	ID        ids.Search   `db:"id"`
	StudentID ids.Student  `db:"student_id"`
	Date      day.Date     `db:"date"`
	Minute    day.Minute   `db:"minute"`
	Outcome   string       `db:"outcome"` // empty while it lasts, found, given up
	Place     string       `db:"place"`
	Searcher  string       `db:"searcher"` // empty: who wrote it down
	FoundBy   string       `db:"found_by"`
	EndedBy   *ids.Entry   `db:"ended_by"`
	EndedAt   *day.Instant `db:"ended_at"`
	Origin
}

// SearchesOn returns a date's searches.
func SearchesOn(ctx context.Context, q Queryer, d day.Date) ([]Search, error) {
	return list[Search](ctx, q, `SELECT x.*, u.known AS ended_at, `+origin+` FROM search x`+originJoin+` LEFT JOIN journal u ON u.id = x.ended_by WHERE x.date = ? ORDER BY x.id`, d)
}

// AddSearch writes that a search has begun.
func AddSearch(ctx context.Context, tx *sqlx.Tx, s Search) (ids.Search, error) {
	return insert[ids.Search](ctx, tx, `INSERT INTO search (student_id, date, minute, searcher, journal_id) VALUES (:student_id, :date, :minute, :searcher, :journal_id)`, s)
}

// EndSearch writes how a search ended.
func EndSearch(ctx context.Context, tx *sqlx.Tx, id ids.Search, outcome, place, foundBy string, journal ids.Entry) (bool, error) {
	return took(tx.ExecContext(ctx, `UPDATE search SET outcome = ?, place = ?, found_by = ?, ended_by = ? WHERE id = ? AND ended_by IS NULL`, outcome, place, foundBy, journal, id))
}

// Message is something that went out, or would have.
type Message struct {
	ID        ids.Message   `db:"id"`
	Date      day.Date      `db:"date"`
	Minute    day.Minute    `db:"minute"`
	Kind      string        `db:"kind"`    // remind, ask, check-in
	Channel   string        `db:"channel"` // text, e-mail, page
	StaffID   *ids.Staff    `db:"staff_id"`
	ClassID   *ids.Class    `db:"class_id"`
	StudentID *ids.Student  `db:"student_id"`
	ContactID *ids.Contact  `db:"contact_id"` // whom at home it is for
	Slot      string        `db:"slot"`
	Address   string        `db:"address"`
	Text      string        `db:"words"`
	State     string        `db:"state"`
	Reference string        `db:"reference"` // what its carrier calls it
	Leaves    int64         `db:"leaves"`    // second since 1970 from which it may leave; 0 for at once
	Students  []ids.Student `db:"-"`         // whom a message home is about
	Origin
}

// MessagesOn returns a date's messages, oldest first.
func MessagesOn(ctx context.Context, q Queryer, d day.Date) ([]Message, error) {
	out, err := list[Message](ctx, q, `SELECT x.*, `+origin+` FROM message x`+originJoin+`WHERE x.date = ? ORDER BY x.id`, d)
	if err != nil {
		return nil, err
	}
	about, err := membersOn[ids.Message](ctx, q, `SELECT s.message_id AS of, s.student_id AS student FROM message_student s JOIN message x ON x.id = s.message_id WHERE x.date = ? ORDER BY s.message_id, s.student_id`, d)
	for i := range out {
		out[i].Students = about[out[i].ID]
	}
	return out, err
}

// membersOn returns the students of each of a date's things, by a query with the columns
// of and student.
func membersOn[ID ~int64](ctx context.Context, q Queryer, query string, d day.Date) (map[ID][]ids.Student, error) {
	rows, err := list[struct {
		Of      ID          `db:"of"`
		Student ids.Student `db:"student"`
	}](ctx, q, query, d)
	out := map[ID][]ids.Student{}
	for _, r := range rows {
		out[r.Of] = append(out[r.Of], r.Student)
	}
	return out, err
}

// AddMessage writes a message with the students whom it is about.
func AddMessage(ctx context.Context, tx *sqlx.Tx, m Message) (ids.Message, error) {
	id, err := insert[ids.Message](ctx, tx, `INSERT INTO message (date, minute, kind, channel, staff_id, class_id, student_id, contact_id, slot, address, words, state, leaves, journal_id)
		VALUES (:date, :minute, :kind, :channel, :staff_id, :class_id, :student_id, :contact_id, :slot, :address, :words, :state, :leaves, :journal_id)`, m)
	return id, errors.Join(err, addMembers(ctx, tx, `INSERT INTO message_student (message_id, student_id) VALUES (?, ?)`, id, m.Students))
}

// addMembers writes the students of something new.
func addMembers[ID ~int64](ctx context.Context, tx *sqlx.Tx, query string, of ID, students []ids.Student) error {
	for _, s := range students {
		if _, err := tx.ExecContext(ctx, query, of, s); err != nil {
			return err
		}
	}
	return nil
}

// AnswerRead says that an answer from home was dealt with without a notice.
type AnswerRead struct {
	MessageID ids.Message `db:"message_id"`
	Date      day.Date    `db:"date"`
	Origin
}

// AnswersReadOn returns the answers that were dealt with on a date.
func AnswersReadOn(ctx context.Context, q Queryer, d day.Date) ([]AnswerRead, error) {
	return list[AnswerRead](ctx, q, `SELECT x.*, `+origin+` FROM answer_read x`+originJoin+`WHERE x.date = ? ORDER BY x.message_id`, d)
}

// AddAnswerRead writes that an answer was dealt with.
func AddAnswerRead(ctx context.Context, tx *sqlx.Tx, a AnswerRead) error {
	_, err := insert[int64](ctx, tx, `INSERT INTO answer_read (message_id, date, journal_id) VALUES (:message_id, :date, :journal_id)`, a)
	return err
}

// MessageEvent is what became of a message.
type MessageEvent struct {
	ID        int64       `db:"id"`
	MessageID ids.Message `db:"message_id"`
	Date      day.Date    `db:"date"`
	Minute    day.Minute  `db:"minute"`
	State     string      `db:"state"` // sent, delivered, failed, seen, replied
	Text      string      `db:"words"`
	Origin
}

// MessageEventsOn returns what became of messages on a date, oldest first.
func MessageEventsOn(ctx context.Context, q Queryer, d day.Date) ([]MessageEvent, error) {
	return list[MessageEvent](ctx, q, `SELECT x.*, `+origin+` FROM message_event x`+originJoin+`WHERE x.date = ? ORDER BY x.id`, d)
}

// AddMessageEvent writes what became of a message.
func AddMessageEvent(ctx context.Context, tx *sqlx.Tx, e MessageEvent) error {
	_, err := insert[int64](ctx, tx, `INSERT INTO message_event (message_id, date, minute, state, words, journal_id) VALUES (:message_id, :date, :minute, :state, :words, :journal_id)`, e)
	return err
}

// Closing says that someone closed safe arrival of a section, or opened it again.
type Closing struct {
	ID        ids.Closing `db:"id"`
	SectionID ids.Section `db:"section_id"`
	Date      day.Date    `db:"date"`
	Slot      string      `db:"slot"`
	Minute    day.Minute  `db:"minute"`
	Reopened  bool        `db:"reopened"`
	Reason    string      `db:"reason"` // why it was opened again
	Origin
}

// ClosingsOn returns a date's closings and reopenings, oldest first.
func ClosingsOn(ctx context.Context, q Queryer, d day.Date) ([]Closing, error) {
	return list[Closing](ctx, q, `SELECT x.*, `+origin+` FROM closing x`+originJoin+`WHERE x.date = ? ORDER BY x.id`, d)
}

// AddClosing writes that safe arrival was closed or opened again.
func AddClosing(ctx context.Context, tx *sqlx.Tx, c Closing) (ids.Closing, error) {
	return insert[ids.Closing](ctx, tx, `INSERT INTO closing (section_id, date, slot, minute, reopened, reason, journal_id) VALUES (:section_id, :date, :slot, :minute, :reopened, :reason, :journal_id)`, c)
}
