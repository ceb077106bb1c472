package store

import (
	"context"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/core/ids"
)

// Visit is somebody of no roll who signed in: a visitor, or a member of staff.
type Visit struct {
	ID        ids.Visit    `db:"id"`
	Kind      string       `db:"kind"`     // visitor, staff
	StaffID   *ids.Staff   `db:"staff_id"` // of staff
	Name      string       `db:"name"`
	Firm      string       `db:"firm"`
	Host      string       `db:"host"`
	Badge     string       `db:"badge"`
	Date      day.Date     `db:"date"`
	From      day.Minute   `db:"from_minute"`
	To        day.Minute   `db:"to_minute"` // none while they are in
	StationID *ids.Station `db:"station_id"`
	EndedBy   *ids.Entry   `db:"ended_by"`
	Origin
}

// VisitsOn returns who signed in on a date, in the order in which they did.
func VisitsOn(ctx context.Context, q Queryer, d day.Date) ([]Visit, error) {
	return list[Visit](ctx, q, `SELECT x.*, `+origin+` FROM visit x`+originJoin+`WHERE x.date = ? ORDER BY x.id`, d)
}

// VisitsWith returns the visits that a roll call names.
func VisitsWith(ctx context.Context, q Queryer, id ids.RollCall) ([]Visit, error) {
	return list[Visit](ctx, q, `SELECT x.*, `+origin+` FROM visit x`+originJoin+`WHERE x.id IN (SELECT person FROM roll_person WHERE roll_call_id = ? AND kind = 'visitor') ORDER BY x.id`, id)
}

// AddVisit writes that somebody signed in.
func AddVisit(ctx context.Context, tx *sqlx.Tx, v Visit) (ids.Visit, error) {
	return insert[ids.Visit](ctx, tx, `INSERT INTO visit (kind, staff_id, name, firm, host, badge, date, from_minute, station_id, journal_id)
		VALUES (:kind, :staff_id, :name, :firm, :host, :badge, :date, :from_minute, :station_id, :journal_id)`, v)
}

// EndVisit writes that somebody has left.
func EndVisit(ctx context.Context, tx *sqlx.Tx, id ids.Visit, at day.Minute, journal ids.Entry) (bool, error) {
	return took(tx.ExecContext(ctx, `UPDATE visit SET to_minute = ?, ended_by = ? WHERE id = ? AND ended_by IS NULL`, at, journal, id))
}

// VisitAgain takes back that somebody has left.
func VisitAgain(ctx context.Context, tx *sqlx.Tx, id ids.Visit) (bool, error) {
	return took(tx.ExecContext(ctx, `UPDATE visit SET to_minute = NULL, ended_by = NULL WHERE id = ? AND ended_by IS NOT NULL`, id))
}

// RollCall is that everyone on the premises is to be found.
type RollCall struct {
	ID      ids.RollCall `db:"id"`
	Date    day.Date     `db:"date"`
	Minute  day.Minute   `db:"minute"`
	Second  int          `db:"second"`
	Kind    string       `db:"kind"` // drill, real
	Token   string       `db:"token"`
	EndedBy *ids.Entry   `db:"ended_by"`
	EndedAt *day.Instant `db:"ended_at"`
	Ender   string       `db:"ender"`
	RollCallEnd
	Origin
}

// Began returns the instant at which a roll call began.
func (r RollCall) Began() day.Instant { return day.At(r.Date, r.Minute) }

// RollCallIsReal writes that what was begun as a drill is none.
func RollCallIsReal(ctx context.Context, tx *sqlx.Tx, id ids.RollCall) error {
	_, err := tx.ExecContext(ctx, `UPDATE roll_call SET kind = 'real' WHERE id = ?`, id)
	return err
}

// RollCallEnd is how a roll call stood when it ended. A number of minutes that is missing was
// never reached.
type RollCallEnd struct {
	Note   string       `db:"note"`
	People int          `db:"people"`
	Open   int          `db:"open"`
	Half   *day.Minutes `db:"half"`
	Most   *day.Minutes `db:"most"`
	Whole  *day.Minutes `db:"whole"`
}

const rollCalls = `SELECT x.*, u.known AS ended_at, coalesce(b.name, '') AS ender, ` + origin + ` FROM roll_call x` + originJoin + `
	LEFT JOIN journal u ON u.id = x.ended_by LEFT JOIN account b ON b.id = u.account_id `

// RollCallRunning returns the roll call that has not ended; nil for none.
func RollCallRunning(ctx context.Context, q Queryer) (*RollCall, error) {
	return firstOf(list[RollCall](ctx, q, rollCalls+`WHERE x.ended_by IS NULL`))
}

// RollCallWith returns a roll call; nil for none.
func RollCallWith(ctx context.Context, q Queryer, id ids.RollCall) (*RollCall, error) {
	return firstOf(list[RollCall](ctx, q, rollCalls+`WHERE x.id = ?`, id))
}

// RollCallBegunWith returns the roll call that was begun under a token; nil for none.
func RollCallBegunWith(ctx context.Context, q Queryer, token string) (*RollCall, error) {
	return firstOf(list[RollCall](ctx, q, rollCalls+`WHERE x.token = ?`, token))
}

// RollCallsBetween returns the roll calls of some dates, newest first.
func RollCallsBetween(ctx context.Context, q Queryer, from, to day.Date) ([]RollCall, error) {
	return list[RollCall](ctx, q, rollCalls+`WHERE x.date BETWEEN ? AND ? ORDER BY x.id DESC`, from, to)
}

func firstOf[T any](list []T, err error) (*T, error) {
	if err != nil || len(list) == 0 {
		return nil, err
	}
	return &list[0], nil
}

// AddRollCall writes that a roll call begins.
func AddRollCall(ctx context.Context, tx *sqlx.Tx, r RollCall) (ids.RollCall, error) {
	return insert[ids.RollCall](ctx, tx, `INSERT INTO roll_call (date, minute, second, kind, token, journal_id) VALUES (:date, :minute, :second, :kind, :token, :journal_id)`, r)
}

// EndRollCall writes how a roll call ended.
func EndRollCall(ctx context.Context, tx *sqlx.Tx, id ids.RollCall, e RollCallEnd, journal ids.Entry) (bool, error) {
	return took(tx.ExecContext(ctx, `UPDATE roll_call SET note = ?, people = ?, open = ?, half = ?, most = ?, whole = ?, ended_by = ? WHERE id = ? AND ended_by IS NULL`,
		e.Note, e.People, e.Open, e.Half, e.Most, e.Whole, journal, id))
}

// SetRollCallEnd writes anew how a roll call stood that is over.
func SetRollCallEnd(ctx context.Context, tx *sqlx.Tx, id ids.RollCall, e RollCallEnd) error {
	_, err := tx.ExecContext(ctx, `UPDATE roll_call SET people = ?, open = ?, half = ?, most = ?, whole = ? WHERE id = ?`, e.People, e.Open, e.Half, e.Most, e.Whole, id)
	return err
}

// RollPerson is somebody on the list of a roll call.
type RollPerson struct {
	RollCallID ids.RollCall `db:"roll_call_id"`
	Kind       string       `db:"kind"`   // student, staff, visitor
	Person     int64        `db:"person"` // id of a student, a member of staff, a visit
	Why        string       `db:"why"`
	Point      string       `db:"point"`
	Place      string       `db:"place"`
	Seen       string       `db:"seen"`
	Journal    ids.Entry    `db:"journal_id"`
}

// RollPersons returns the list of a roll call, by kind and id.
func RollPersons(ctx context.Context, q Queryer, id ids.RollCall) ([]RollPerson, error) {
	return list[RollPerson](ctx, q, `SELECT * FROM roll_person WHERE roll_call_id = ? ORDER BY kind, person`, id)
}

// AddRollPersons writes who is on the list of a roll call.
func AddRollPersons(ctx context.Context, tx *sqlx.Tx, list []RollPerson) error {
	return inBatches(ctx, tx, `INSERT INTO roll_person (roll_call_id, kind, person, why, point, place, seen, journal_id)
		VALUES (:roll_call_id, :kind, :person, :why, :point, :place, :seen, :journal_id)`, list)
}

// RollTick is that somebody met a person of the list, or knows that they are elsewhere.
type RollTick struct {
	ID         ids.RollTick `db:"id"`
	RollCallID ids.RollCall `db:"roll_call_id"`
	Token      string       `db:"token"`
	Kind       string       `db:"kind"`
	Person     int64        `db:"person"`
	At         day.Instant  `db:"at"`
	Second     int          `db:"second"`
	Here       bool         `db:"here"`
	Place      string       `db:"place"`
	How        string       `db:"how"` // list, name, card
	UndoneBy   *ids.Entry   `db:"undone_by"`
	UndoneAt   *day.Instant `db:"undone_at"`
	Origin
}

const rollTicks = `SELECT x.*, u.known AS undone_at, ` + origin + ` FROM roll_tick x` + originJoin + ` LEFT JOIN journal u ON u.id = x.undone_by `

// RollTicks returns the ticks of a roll call that were stored or taken back after an entry of the
// journal, in the order in which they were stored; 0 for all.
func RollTicks(ctx context.Context, q Queryer, id ids.RollCall, after ids.Entry) ([]RollTick, error) {
	return list[RollTick](ctx, q, rollTicks+`WHERE x.id IN (SELECT id FROM roll_tick WHERE roll_call_id = ?1 AND journal_id > ?2
		UNION SELECT id FROM roll_tick WHERE undone_by > ?2 AND roll_call_id = ?1) ORDER BY x.id`, id, after)
}

// RollTicksOn returns the ticks of students of a date's roll calls.
func RollTicksOn(ctx context.Context, q Queryer, d day.Date) ([]RollTick, error) {
	return list[RollTick](ctx, q, rollTicks+`WHERE x.kind = 'student' AND x.roll_call_id IN (SELECT id FROM roll_call WHERE date = ?) ORDER BY x.id`, d)
}

// RollTicksBy is RollTicksOn of those that an entry of the journal made or took back.
func RollTicksBy(ctx context.Context, q Queryer, d day.Date, entry ids.Entry) ([]RollTick, error) {
	return list[RollTick](ctx, q, rollTicks+`WHERE x.id IN (SELECT id FROM roll_tick WHERE journal_id = ?1 UNION SELECT id FROM roll_tick WHERE undone_by = ?1)
		AND x.kind = 'student' AND x.roll_call_id IN (SELECT id FROM roll_call WHERE date = ?2) ORDER BY x.id`, entry, d)
}

// RollTicksOf returns the ticks of a student in all roll calls.
func RollTicksOf(ctx context.Context, q Queryer, student ids.Student) ([]RollTick, error) {
	return list[RollTick](ctx, q, rollTicks+`WHERE x.kind = 'student' AND x.person = ? ORDER BY x.id`, student)
}

// RollTickWith returns the tick with a token; nil for none.
func RollTickWith(ctx context.Context, q Queryer, id ids.RollCall, token string) (*RollTick, error) {
	return firstOf(list[RollTick](ctx, q, rollTicks+`WHERE x.token = ? AND x.roll_call_id = ?`, token, id))
}

// OnRollCall reports whether somebody is on the list of a roll call.
func OnRollCall(ctx context.Context, q Queryer, id ids.RollCall, kind string, person int64) (bool, error) {
	there, err := list[int](ctx, q, `SELECT 1 FROM roll_person WHERE roll_call_id = ? AND kind = ? AND person = ?`, id, kind, person)
	return len(there) > 0, err
}

// RollCallCount returns how many are on the list of a roll call, and how many of them have a tick.
func RollCallCount(ctx context.Context, q Queryer, id ids.RollCall) (people, ticked int, err error) {
	if err := sqlx.GetContext(ctx, q, &people, `SELECT count(*) FROM roll_person WHERE roll_call_id = ?`, id); err != nil {
		return 0, 0, err
	}
	err = sqlx.GetContext(ctx, q, &ticked, `SELECT count(*) FROM (SELECT DISTINCT kind, person FROM roll_tick WHERE roll_call_id = ? AND undone_by IS NULL)`, id)
	return people, ticked, err
}

// AddRollTick writes a tick.
func AddRollTick(ctx context.Context, tx *sqlx.Tx, t RollTick) (ids.RollTick, error) {
	return insert[ids.RollTick](ctx, tx, `INSERT INTO roll_tick (roll_call_id, token, kind, person, at, second, here, place, how, journal_id)
		VALUES (:roll_call_id, :token, :kind, :person, :at, :second, :here, :place, :how, :journal_id)`, t)
}

// UndoRollTick takes a tick back.
func UndoRollTick(ctx context.Context, tx *sqlx.Tx, id ids.RollTick, journal ids.Entry) (bool, error) {
	return took(tx.ExecContext(ctx, `UPDATE roll_tick SET undone_by = ? WHERE id = ? AND undone_by IS NULL`, journal, id))
}
