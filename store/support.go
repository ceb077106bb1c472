package store

import (
	"context"
	"fmt"
	"math"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/core/ids"
)

// SupportWord is a kind of support session, or how cases end.
type SupportWord struct {
	ID      ids.SupportWord `db:"id"`
	List    string          `db:"list"` // kind, end
	Name    string          `db:"name"`
	Belongs string          `db:"belongs"` // of a kind: in school time, outside it, or either
	Place   int             `db:"place"`
	Retired bool            `db:"retired"`
	Journal *ids.Entry      `db:"journal_id"` // nil for those that came with the program
}

// SupportWords returns the school's words of support, each list in its order, what is retired too.
func SupportWords(ctx context.Context, q Queryer) ([]SupportWord, error) {
	return list[SupportWord](ctx, q, `SELECT * FROM support_word ORDER BY list, place, id`)
}

// SaveSupportWord writes a word that is new or changed.
func SaveSupportWord(ctx context.Context, tx *sqlx.Tx, w SupportWord) (ids.SupportWord, error) {
	id, err := insert[ids.SupportWord](ctx, tx, `INSERT INTO support_word (id, list, name, belongs, place, retired, journal_id) VALUES (nullif(:id, 0), :list, :name, :belongs, :place, :retired, :journal_id)
		ON CONFLICT (id) DO UPDATE SET name = excluded.name, belongs = excluded.belongs, place = excluded.place, retired = excluded.retired`, w)
	if w.ID != 0 {
		id = w.ID
	}
	return id, err
}

// asKnown ends a query of rows that were known by an instant and stand.
const asKnown = ` LEFT JOIN journal u ON u.id = x.undone_by WHERE j.known <= ?1 AND (u.known IS NULL OR u.known > ?1) `

// CaseStep is something that is planned in a case, with what came of it.
type CaseStep struct {
	ID       ids.CaseStep `db:"id"`
	CaseID   ids.Case     `db:"case_id"`
	Text     string       `db:"words"`
	Due      *day.Date    `db:"due"`
	OwnerID  ids.Account  `db:"owner_id"`
	Owner    string       `db:"owner"`
	UndoneBy *ids.Entry   `db:"undone_by"`
	Origin
}

// CaseStepEnd is that a step was done or dropped.
type CaseStepEnd struct {
	ID       int64        `db:"id"`
	StepID   ids.CaseStep `db:"step_id"`
	Done     bool         `db:"done"` // else it was dropped
	Text     string       `db:"words"`
	UndoneBy *ids.Entry   `db:"undone_by"`
	Origin
}

// CaseSteps returns what was planned by an instant and stands, and what came of it, by step.
func CaseSteps(ctx context.Context, q Queryer, known day.Instant) ([]CaseStep, map[ids.CaseStep]CaseStepEnd, error) {
	steps, err := list[CaseStep](ctx, q, `SELECT x.*, o.name AS owner, `+origin+` FROM case_step x`+originJoin+` JOIN account o ON o.id = x.owner_id`+asKnown+`ORDER BY x.due IS NULL, x.due, x.id`, known)
	if err != nil {
		return nil, nil, err
	}
	ends, err := list[CaseStepEnd](ctx, q, `SELECT x.*, `+origin+` FROM case_step_end x`+originJoin+asKnown+`ORDER BY x.id`, known)
	of := map[ids.CaseStep]CaseStepEnd{}
	for _, e := range ends {
		of[e.StepID] = e
	}
	return steps, of, err
}

// AddCaseStep writes a step of a plan.
func AddCaseStep(ctx context.Context, tx *sqlx.Tx, s CaseStep) (ids.CaseStep, error) {
	return insert[ids.CaseStep](ctx, tx, `INSERT INTO case_step (case_id, words, due, owner_id, journal_id) VALUES (:case_id, :words, :due, :owner_id, :journal_id)`, s)
}

// EndCaseStep writes what came of a step.
func EndCaseStep(ctx context.Context, tx *sqlx.Tx, e CaseStepEnd) error {
	_, err := insert[int64](ctx, tx, `INSERT INTO case_step_end (step_id, done, words, journal_id) VALUES (:step_id, :done, :words, :journal_id)`, e)
	return err
}

// CaseDocument is a paper of a case.
type CaseDocument struct {
	ID       ids.CaseDocument `db:"id"`
	CaseID   ids.Case         `db:"case_id"`
	Name     string           `db:"name"`
	Type     string           `db:"type"`
	Size     int              `db:"size"`
	Content  []byte           `db:"content"` // nil in a list
	UndoneBy *ids.Entry       `db:"undone_by"`
	Origin
}

// CaseDocuments returns a case's papers known by an instant that stand, without their content.
func CaseDocuments(ctx context.Context, q Queryer, id ids.Case, known day.Instant) ([]CaseDocument, error) {
	return list[CaseDocument](ctx, q, `SELECT x.id, x.case_id, x.name, x.type, length(x.content) AS size, x.undone_by, `+origin+` FROM case_document x`+originJoin+asKnown+`AND x.case_id = ?2 ORDER BY x.id`, known, id)
}

// CaseDocumentOf returns a paper of a case that stands; nil for none.
func CaseDocumentOf(ctx context.Context, q Queryer, of ids.Case, id ids.CaseDocument) (*CaseDocument, error) {
	found, err := list[CaseDocument](ctx, q, `SELECT x.*, length(x.content) AS size, `+origin+` FROM case_document x`+originJoin+`WHERE x.id = ? AND x.case_id = ? AND x.undone_by IS NULL`, id, of)
	if err != nil || len(found) == 0 {
		return nil, err
	}
	return &found[0], nil
}

// AddCaseDocument keeps a paper of a case.
func AddCaseDocument(ctx context.Context, tx *sqlx.Tx, d CaseDocument) (ids.CaseDocument, error) {
	return insert[ids.CaseDocument](ctx, tx, `INSERT INTO case_document (case_id, name, type, content, journal_id) VALUES (:case_id, :name, :type, :content, :journal_id)`, d)
}

// TakeCaseDocumentOff takes a paper off its case, and reports whether it was on it.
func TakeCaseDocumentOff(ctx context.Context, tx *sqlx.Tx, id ids.CaseDocument, by ids.Entry) (bool, error) {
	return took(tx.ExecContext(ctx, `UPDATE case_document SET undone_by = ? WHERE id = ? AND undone_by IS NULL`, by, id))
}

// StudentMeeting is one about a student, with a date and people.
type StudentMeeting struct {
	ID        ids.Meeting `db:"id"`
	StudentID ids.Student `db:"student_id"`
	Date      day.Date    `db:"date"`
	Minute    day.Minute  `db:"minute"`
	Until     day.Minute  `db:"until"`
	Title     string      `db:"title"`
	Room      string      `db:"room"`
	People    string      `db:"people"` // a line each
	UndoneBy  *ids.Entry  `db:"undone_by"`
	Origin
}

// StudentMeetings returns the meetings known by an instant that stand, in time.
func StudentMeetings(ctx context.Context, q Queryer, known day.Instant) ([]StudentMeeting, error) {
	return list[StudentMeeting](ctx, q, `SELECT x.*, `+origin+` FROM meeting x`+originJoin+asKnown+`ORDER BY x.date, x.minute, x.id`, known)
}

// StudentMeetingsOf returns the meetings about a student that stand, the newest first.
func StudentMeetingsOf(ctx context.Context, q Queryer, student ids.Student) ([]StudentMeeting, error) {
	return list[StudentMeeting](ctx, q, `SELECT x.*, `+origin+` FROM meeting x`+originJoin+`WHERE x.student_id = ? AND x.undone_by IS NULL ORDER BY x.date DESC, x.minute DESC LIMIT 60`, student)
}

// AddMeeting writes a meeting.
func AddMeeting(ctx context.Context, tx *sqlx.Tx, m StudentMeeting) (ids.Meeting, error) {
	return insert[ids.Meeting](ctx, tx, `INSERT INTO meeting (student_id, date, minute, until, title, room, people, journal_id)
		VALUES (:student_id, :date, :minute, :until, :title, :room, :people, :journal_id)`, m)
}

// CancelMeeting takes a meeting off, and reports whether it was to be.
func CancelMeeting(ctx context.Context, tx *sqlx.Tx, id ids.Meeting, by ids.Entry) (bool, error) {
	return took(tx.ExecContext(ctx, `UPDATE meeting SET undone_by = ? WHERE id = ? AND undone_by IS NULL`, by, id))
}

// SupportSession is a student's part in a support session, as it holds.
type SupportSession struct {
	ID        ids.SupportSession `db:"session_id"`
	Version   int64              `db:"id"`
	StudentID ids.Student        `db:"student_id"`
	SourcedID string             `db:"sourced_id"` // by which files know the session of all
	Group     ids.SupportSession `db:"group_id"`   // those of one were one session
	Date      day.Date           `db:"date"`
	Minute    *day.Minute        `db:"minute"` // nil where only its length is known
	Minutes   int                `db:"minutes"`
	Kind      ids.SupportWord    `db:"kind_id"`
	KindName  string             `db:"-"` // of one that a file brings
	LeaderID  *ids.Account       `db:"leader_id"`
	LedBy     string             `db:"led_by"`
	Note      string             `db:"note"`     // for all of them
	OwnNote   string             `db:"own_note"` // for this student
	Kept      string             `db:"kept"`     // for whom the notes are: office, leads, owner
	Gone      bool               `db:"gone"`
	UndoneBy  *ids.Entry         `db:"undone_by"`
	AccountID ids.Account        `db:"account_id"` // who wrote it so
	Origin
}

// SupportSessions returns the sessions that were held by what was known at an instant, in time, those from a date on.
func SupportSessions(ctx context.Context, q Queryer, from day.Date, known day.Instant) ([]SupportSession, error) {
	return list[SupportSession](ctx, q, sessions+`WHERE x.date >= ?2 AND x.gone = 0 ORDER BY x.date, x.minute, x.group_id, x.session_id`, known, from)
}

// SupportSessionsKept returns all sessions as they hold, also those that were taken off.
func SupportSessionsKept(ctx context.Context, q Queryer, known day.Instant) ([]SupportSession, error) {
	return list[SupportSession](ctx, q, sessions+`ORDER BY x.date, x.minute, x.group_id, x.session_id`, known)
}

// SupportSessionsOf returns the sessions that a student was in or is to be in, the newest first.
func SupportSessionsOf(ctx context.Context, q Queryer, student ids.Student) ([]SupportSession, error) {
	return list[SupportSession](ctx, q, sessions+`WHERE s.student_id = ?2 AND x.gone = 0 ORDER BY x.date DESC, x.minute DESC LIMIT 300`, day.Instant(math.MaxInt64), student)
}

const sessions = `SELECT x.*, s.student_id, s.sourced_id, coalesce(j.account_id, 0) AS account_id, ` + origin + ` FROM session_version x JOIN support_session s ON s.id = x.session_id` + originJoin + `
	JOIN (SELECT max(y.id) AS last FROM session_version y JOIN journal k ON k.id = y.journal_id LEFT JOIN journal u ON u.id = y.undone_by
		WHERE k.known <= ?1 AND (u.known IS NULL OR u.known > ?1) GROUP BY y.session_id) l ON l.last = x.id `

// AddSupportSession writes a student's part in a session, which is its own group until it is said of whose.
func AddSupportSession(ctx context.Context, tx *sqlx.Tx, s SupportSession) (ids.SupportSession, error) {
	return insert[ids.SupportSession](ctx, tx, `INSERT INTO support_session (student_id, sourced_id, journal_id) VALUES (:student_id, :sourced_id, :journal_id)`, s)
}

// NameSupportSession gives a session the name by which files know it.
func NameSupportSession(ctx context.Context, tx *sqlx.Tx, id ids.SupportSession, name string) error {
	_, err := took(tx.ExecContext(ctx, `UPDATE support_session SET sourced_id = ? WHERE id = ?`, name, id))
	return err
}

// AddSessionVersions writes how sessions hold from now on.
func AddSessionVersions(ctx context.Context, tx *sqlx.Tx, rows []SupportSession) error {
	return inBatches(ctx, tx, `INSERT INTO session_version (session_id, group_id, date, minute, minutes, kind_id, leader_id, led_by, note, own_note, kept, gone, journal_id)
		VALUES (:session_id, :group_id, :date, :minute, :minutes, :kind_id, :leader_id, :led_by, :note, :own_note, :kept, :gone, :journal_id)`, rows)
}

// WeekReason is why a student was in no session of a week.
type WeekReason struct {
	ID        ids.WeekReason `db:"id"`
	StudentID ids.Student    `db:"student_id"`
	Week      day.Date       `db:"week"` // its Monday
	Text      string         `db:"words"`
	UndoneBy  *ids.Entry     `db:"undone_by"`
	Origin
}

// WeekReasons returns the reasons given by an instant that stand, in the order in which they were.
func WeekReasons(ctx context.Context, q Queryer, known day.Instant) ([]WeekReason, error) {
	return list[WeekReason](ctx, q, `SELECT x.*, `+origin+` FROM week_reason x`+originJoin+asKnown+`ORDER BY x.id`, known)
}

// SetWeekReason writes why a student was in no session of a week, in the place of what was said before; without
// words, nothing is said of it any more.
func SetWeekReason(ctx context.Context, tx *sqlx.Tx, r WeekReason) (ids.WeekReason, error) {
	if _, err := tx.ExecContext(ctx, `UPDATE week_reason SET undone_by = ? WHERE student_id = ? AND week = ? AND undone_by IS NULL`, r.Journal, r.StudentID, r.Week); err != nil {
		return 0, fmt.Errorf("taking a reason off: %w", err)
	}
	if r.Text == "" {
		return 0, nil
	}
	return insert[ids.WeekReason](ctx, tx, `INSERT INTO week_reason (student_id, week, words, journal_id) VALUES (:student_id, :week, :words, :journal_id)`, r)
}

// UndoSupport takes back what an entry of the journal has stored of support: versions of sessions that nobody has
// changed since, plans, papers, meetings and reasons, and that any of these were taken off.
func UndoSupport(ctx context.Context, tx *sqlx.Tx, entry, by ids.Entry) (bool, error) {
	any := false
	for _, q := range []string{
		`UPDATE session_version SET undone_by = ?2 WHERE journal_id = ?1 AND undone_by IS NULL
			AND NOT EXISTS (SELECT 1 FROM session_version m JOIN session_version o ON o.session_id = m.session_id AND o.id > m.id AND o.undone_by IS NULL WHERE m.journal_id = ?1 AND o.journal_id <> ?1)`,
		`UPDATE case_step_end SET undone_by = ?2 WHERE journal_id = ?1 AND undone_by IS NULL`,
		`UPDATE case_step SET undone_by = ?2 WHERE journal_id = ?1 AND undone_by IS NULL AND NOT EXISTS (SELECT 1 FROM case_step_end e WHERE e.step_id = case_step.id AND e.undone_by IS NULL)`,
		`UPDATE case_document SET undone_by = iif(undone_by IS NULL, ?2, NULL) WHERE journal_id = ?1 AND undone_by IS NULL OR undone_by = ?1`,
		`UPDATE meeting SET undone_by = iif(undone_by IS NULL, ?2, NULL) WHERE journal_id = ?1 AND undone_by IS NULL OR undone_by = ?1`,
		`UPDATE week_reason SET undone_by = iif(undone_by IS NULL, ?2, NULL) WHERE journal_id = ?1 AND undone_by IS NULL OR undone_by = ?1 AND journal_id <> ?1`,
	} {
		did, err := took(tx.ExecContext(ctx, q, entry, by))
		if err != nil {
			return false, fmt.Errorf("taking back what was done for support: %w", err)
		}
		any = any || did
	}
	return any, nil
}
