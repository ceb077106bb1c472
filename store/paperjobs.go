package store

import (
	"context"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/core/ids"
)

// PaperPlan is when a list is made without being asked for.
type PaperPlan struct {
	ID        ids.PaperPlan `db:"id"`
	ListID    ids.PaperList `db:"list_id"`
	AccountID ids.Account   `db:"account_id"` // whose list it is
	Name      string        `db:"name"`       // the list's
	VersionID int64         `db:"version_id"` // how the list is shaped now
	Minute    day.Minute    `db:"minute"`
	Weekdays  string        `db:"weekdays"` // JSON
	Way       string        `db:"way"`
	Format    string        `db:"format"`
	Sections  string        `db:"sections"` // JSON
	Origin
}

// PaperPlans returns the plans that stand, of lists that stand, by their time.
func PaperPlans(ctx context.Context, q Queryer) ([]PaperPlan, error) {
	return list[PaperPlan](ctx, q, `SELECT x.id, x.list_id, l.account_id, l.name, v.id AS version_id, x.minute, x.weekdays, x.way, x.format, x.sections, x.journal_id, `+origin+`
		FROM paper_plan x JOIN paper_list l ON l.id = x.list_id
		JOIN paper_list_version v ON v.id = (SELECT max(o.id) FROM paper_list_version o WHERE o.list_id = l.id AND o.undone_by IS NULL)`+originJoin+`
		WHERE x.ended_by IS NULL AND l.ended_by IS NULL ORDER BY x.minute, x.id`)
}

// PaperPlanReader is an account that a plan sends to.
type PaperPlanReader struct {
	PlanID    ids.PaperPlan `db:"plan_id"`
	AccountID ids.Account   `db:"account_id"`
}

// PaperPlanReaders returns to whom the plans that stand send.
func PaperPlanReaders(ctx context.Context, q Queryer) ([]PaperPlanReader, error) {
	return list[PaperPlanReader](ctx, q, `SELECT r.plan_id, r.account_id FROM paper_plan_reader r JOIN paper_plan x ON x.id = r.plan_id WHERE x.ended_by IS NULL ORDER BY r.plan_id, r.account_id`)
}

// AddPaperPlan writes a plan with those to whom it sends.
func AddPaperPlan(ctx context.Context, tx *sqlx.Tx, p PaperPlan, readers []ids.Account) (ids.PaperPlan, error) {
	id, err := insert[ids.PaperPlan](ctx, tx, `INSERT INTO paper_plan (list_id, minute, weekdays, way, format, sections, journal_id) VALUES (:list_id, :minute, :weekdays, :way, :format, :sections, :journal_id)`, p)
	for _, r := range readers {
		if err == nil {
			_, err = tx.ExecContext(ctx, `INSERT INTO paper_plan_reader (plan_id, account_id, journal_id) VALUES (?, ?, ?)`, id, r, p.Journal)
		}
	}
	return id, err
}

// EndPaperPlan ends a plan; it reports whether it stood.
func EndPaperPlan(ctx context.Context, tx *sqlx.Tx, id ids.PaperPlan, journal ids.Entry) (bool, error) {
	return took(tx.ExecContext(ctx, `UPDATE paper_plan SET ended_by = ? WHERE id = ? AND ended_by IS NULL`, journal, id))
}

// UndoPaperPlans takes back what an entry did to plans; it reports whether anything was changed.
func UndoPaperPlans(ctx context.Context, tx *sqlx.Tx, of, journal ids.Entry) (bool, error) {
	return undo(ctx, tx, of, journal, backAndForth("paper_plan", "id", "list_id"))
}

// PaperJob is a list on its way to the printer or by e-mail, or what became of it.
type PaperJob struct {
	ID        ids.PaperJob   `db:"id"`
	ListID    ids.PaperList  `db:"list_id"`
	Name      string         `db:"name"`     // the list's
	OwnerID   ids.Account    `db:"owner_id"` // whose list it is
	VersionID int64          `db:"version_id"`
	Setup     string         `db:"setup"` // JSON
	PlanID    *ids.PaperPlan `db:"plan_id"`
	AccountID ids.Account    `db:"account_id"`
	For       string         `db:"for_name"` // the account's name
	Way       string         `db:"way"`
	Format    string         `db:"format"`
	Sections  string         `db:"sections"` // JSON
	Date      day.Date       `db:"date"`
	Minute    day.Minute     `db:"minute"`
	MessageID *ids.Message   `db:"message_id"`
	Sent      string         `db:"sent"`       // what became of the message; empty for nothing yet
	SentWords string         `db:"sent_words"` // and why
	State     string         `db:"state"`
	Words     string         `db:"words"`
	File      string         `db:"file"`
	SettledBy *ids.Entry     `db:"settled_by"`
	Origin
}

const paperJobs = `SELECT x.id, l.id AS list_id, l.name, l.account_id AS owner_id, x.version_id, v.setup, x.plan_id, x.account_id, f.name AS for_name, x.way, x.format, x.sections, x.date, x.minute, x.message_id,
	coalesce(e.state, '') AS sent, coalesce(e.words, '') AS sent_words, x.state, x.words, x.file, x.settled_by, x.journal_id, ` + origin + `
	FROM paper_job x JOIN paper_list_version v ON v.id = x.version_id JOIN paper_list l ON l.id = v.list_id JOIN account f ON f.id = x.account_id
	LEFT JOIN message_event e ON e.id = (SELECT max(o.id) FROM message_event o WHERE o.message_id = x.message_id)` + originJoin

// PaperJobsSince returns the jobs since a date that an account has asked for or that go to it, the last first.
func PaperJobsSince(ctx context.Context, q Queryer, d day.Date, account ids.Account, most int) ([]PaperJob, error) {
	return list[PaperJob](ctx, q, paperJobs+`WHERE x.date >= ? AND (l.account_id = ? OR x.account_id = ?) ORDER BY x.id DESC LIMIT ?`, d, account, account, most)
}

// PaperJobsToPrint returns the jobs that wait for the printer, the first first.
func PaperJobsToPrint(ctx context.Context, q Queryer) ([]PaperJob, error) {
	return list[PaperJob](ctx, q, paperJobs+`WHERE x.state = 'waiting' AND x.way = 'printer' ORDER BY x.id`)
}

// PaperJobsBy returns the jobs with an id, or those that go by a message: one or none.
func PaperJobsBy(ctx context.Context, q Queryer, id ids.PaperJob, message ids.Message) ([]PaperJob, error) {
	return list[PaperJob](ctx, q, paperJobs+`WHERE x.id = ? OR x.message_id = ?`, id, message)
}

// PaperMade is for whom a plan has made a list on a date.
type PaperMade struct {
	PlanID    ids.PaperPlan `db:"plan_id"`
	AccountID ids.Account   `db:"account_id"`
}

// PaperMadeOn returns what plans have made on a date.
func PaperMadeOn(ctx context.Context, q Queryer, d day.Date) ([]PaperMade, error) {
	return list[PaperMade](ctx, q, `SELECT plan_id, account_id FROM paper_job WHERE date = ? AND plan_id IS NOT NULL`, d)
}

// AddPaperJob writes a job.
func AddPaperJob(ctx context.Context, tx *sqlx.Tx, j PaperJob) (ids.PaperJob, error) {
	return insert[ids.PaperJob](ctx, tx, `INSERT INTO paper_job (version_id, plan_id, account_id, way, format, sections, date, minute, message_id, state, words, journal_id)
		VALUES (:version_id, :plan_id, :account_id, :way, :format, :sections, :date, :minute, :message_id, :state, :words, :journal_id)`, j)
}

// MovePaperJob has a list that went by a message go by another, which is sent in its place.
func MovePaperJob(ctx context.Context, tx *sqlx.Tx, from, to ids.Message) error {
	_, err := tx.ExecContext(ctx, `UPDATE paper_job SET message_id = ? WHERE message_id = ?`, to, from)
	return err
}

// SettlePaperJob writes what became of a job that waits; it reports false for one that waits no more.
func SettlePaperJob(ctx context.Context, tx *sqlx.Tx, j PaperJob, by ids.Entry) (bool, error) {
	return took(tx.ExecContext(ctx, `UPDATE paper_job SET state = ?, words = ?, file = ?, settled_by = ? WHERE id = ? AND state = 'waiting'`, j.State, j.Words, j.File, by, j.ID))
}
