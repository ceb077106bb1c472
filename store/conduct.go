package store

import (
	"context"
	"fmt"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/core/ids"
)

// ConductWord is a kind, place or action of the school's own, or the name of a break.
type ConductWord struct {
	ID      ids.ConductWord `db:"id"`
	List    string          `db:"list"` // kind, place, action or break
	Name    string          `db:"name"`
	OfTime  string          `db:"of_time"` // of a break
	Place   int             `db:"place"`
	Retired bool            `db:"retired"`
	Journal ids.Entry       `db:"journal_id"`
}

// ConductWords returns the school's lists, each in its order, what is retired too.
func ConductWords(ctx context.Context, q Queryer) ([]ConductWord, error) {
	return list[ConductWord](ctx, q, `SELECT * FROM conduct_word ORDER BY list, place, id`)
}

// SaveConductWord writes a word that is new or changed.
func SaveConductWord(ctx context.Context, tx *sqlx.Tx, w ConductWord) (ids.ConductWord, error) {
	if w.ID == 0 {
		return insert[ids.ConductWord](ctx, tx, `INSERT INTO conduct_word (list, name, of_time, place, retired, journal_id) VALUES (:list, :name, :of_time, :place, :retired, :journal_id)`, w)
	}
	_, err := tx.NamedExecContext(ctx, `UPDATE conduct_word SET name = :name, place = :place, retired = :retired WHERE id = :id`, w)
	return w.ID, err
}

// Incident is something that happened, as its newest version says, without its people and actions.
type Incident struct {
	ID          ids.Incident        `db:"id"`
	SourcedID   string              `db:"sourced_id"` // by which files know it
	Version     ids.IncidentVersion `db:"version_id"`
	Account     *ids.Account        `db:"account_id"` // who recorded it; nil where that is no account
	RecordedBy  string              `db:"recorded_by"`
	Date        day.Date            `db:"date"`
	Minute      day.Minute          `db:"minute"` // none where it is not known
	Kind        *ids.ConductWord    `db:"kind_id"`
	Place       *ids.ConductWord    `db:"place_id"`
	Text        string              `db:"words"`
	TakenBackBy *ids.Entry          `db:"taken_back_by"`
	Why         string              `db:"why"` // it was taken back
	Origin                          // of the version
}

// IncidentPerson is a student's part in a version of an incident.
type IncidentPerson struct {
	Version   ids.IncidentVersion `db:"version_id"`
	StudentID ids.Student         `db:"student_id"`
	Role      string              `db:"role"`
}

// IncidentAction is what was done about an incident.
type IncidentAction struct {
	Version ids.IncidentVersion `db:"version_id"`
	Action  ids.ConductWord     `db:"action_id"`
	By      string              `db:"by_whom"`
}

const incidentColumns = `SELECT i.id, i.sourced_id, i.account_id, i.recorded_by, i.taken_back_by, i.why, x.id AS version_id, x.date, x.minute, x.kind_id, x.place_id, x.words, x.journal_id, ` + origin +
	` FROM incident i JOIN incident_version x ON x.incident_id = i.id` + originJoin

const incidentStands = ` x.ended_by IS NULL AND i.taken_back_by IS NULL `

// Incidents returns the incidents of a span that stand, in time.
func Incidents(ctx context.Context, q Queryer, from, to day.Date) ([]Incident, error) {
	return list[Incident](ctx, q, incidentColumns+`WHERE`+incidentStands+`AND x.date BETWEEN ? AND ? ORDER BY x.date, x.minute, i.id`, from, to)
}

// IncidentsOf returns a student's incidents that stand, newest first.
func IncidentsOf(ctx context.Context, q Queryer, student ids.Student) ([]Incident, error) {
	return list[Incident](ctx, q, incidentColumns+`JOIN incident_person p ON p.version_id = x.id WHERE`+incidentStands+`AND p.student_id = ? ORDER BY x.date DESC, x.minute DESC LIMIT 200`, student)
}

// IncidentVersions returns every version of an incident, the newest first.
func IncidentVersions(ctx context.Context, q Queryer, id ids.Incident) ([]Incident, error) {
	return list[Incident](ctx, q, incidentColumns+`WHERE i.id = ? ORDER BY x.id DESC`, id)
}

// IncidentPeople returns who had a part in the incidents of a span, whatever the version.
func IncidentPeople(ctx context.Context, q Queryer, from, to day.Date) ([]IncidentPerson, error) {
	return list[IncidentPerson](ctx, q, `SELECT p.* FROM incident_person p JOIN incident_version x ON x.id = p.version_id WHERE x.ended_by IS NULL AND x.date BETWEEN ? AND ? ORDER BY p.version_id, p.student_id`, from, to)
}

// IncidentActions returns what was done about the incidents of a span.
func IncidentActions(ctx context.Context, q Queryer, from, to day.Date) ([]IncidentAction, error) {
	return list[IncidentAction](ctx, q, `SELECT a.* FROM incident_action a JOIN incident_version x ON x.id = a.version_id WHERE x.ended_by IS NULL AND x.date BETWEEN ? AND ? ORDER BY a.version_id, a.action_id`, from, to)
}

// IncidentParts returns the people and actions of every version of one incident.
func IncidentParts(ctx context.Context, q Queryer, id ids.Incident) (people []IncidentPerson, actions []IncidentAction, err error) {
	people, err = list[IncidentPerson](ctx, q, `SELECT p.* FROM incident_person p JOIN incident_version x ON x.id = p.version_id WHERE x.incident_id = ? ORDER BY p.version_id, p.student_id`, id)
	if err != nil {
		return nil, nil, err
	}
	actions, err = list[IncidentAction](ctx, q, `SELECT a.* FROM incident_action a JOIN incident_version x ON x.id = a.version_id WHERE x.incident_id = ? ORDER BY a.version_id, a.action_id`, id)
	return people, actions, err
}

// IncidentName is how files know an incident.
type IncidentName struct {
	ID        ids.Incident `db:"id"`
	SourcedID string       `db:"sourced_id"`
	TakenBack bool         `db:"taken_back"`
}

// IncidentNames returns how files know every incident, those taken back too.
func IncidentNames(ctx context.Context, q Queryer) ([]IncidentName, error) {
	return list[IncidentName](ctx, q, `SELECT id, sourced_id, taken_back_by IS NOT NULL AS taken_back FROM incident ORDER BY id`)
}

// AddIncident writes an incident that is new; its first version is written apart.
func AddIncident(ctx context.Context, tx *sqlx.Tx, i Incident) (ids.Incident, error) {
	return insert[ids.Incident](ctx, tx, `INSERT INTO incident (sourced_id, account_id, recorded_by, journal_id) VALUES (:sourced_id, :account_id, :recorded_by, :journal_id)`, i)
}

// AddIncidentVersion writes what an incident is from now on; what it was stays on record.
func AddIncidentVersion(ctx context.Context, tx *sqlx.Tx, i Incident, people []IncidentPerson, actions []IncidentAction) error {
	if _, err := tx.ExecContext(ctx, `UPDATE incident_version SET ended_by = ? WHERE incident_id = ? AND ended_by IS NULL`, i.Journal, i.ID); err != nil {
		return fmt.Errorf("ending a version of an incident: %w", err)
	}
	version, err := insert[ids.IncidentVersion](ctx, tx, `INSERT INTO incident_version (incident_id, date, minute, kind_id, place_id, words, journal_id)
		VALUES (:id, :date, :minute, :kind_id, :place_id, :words, :journal_id)`, i)
	if err != nil {
		return err
	}
	for n := range people {
		people[n].Version = version
	}
	for n := range actions {
		actions[n].Version = version
	}
	return addIncidentParts(ctx, tx, people, actions)
}

// AddIncidents writes incidents with their ids and one version each, which has the same id.
func AddIncidents(ctx context.Context, tx *sqlx.Tx, rows []Incident, people []IncidentPerson, actions []IncidentAction) error {
	if err := inBatches(ctx, tx, `INSERT INTO incident (id, sourced_id, account_id, recorded_by, journal_id) VALUES (:id, :sourced_id, :account_id, :recorded_by, :journal_id)`, rows); err != nil {
		return err
	}
	if err := inBatches(ctx, tx, `INSERT INTO incident_version (id, incident_id, date, minute, kind_id, place_id, words, journal_id)
		VALUES (:version_id, :id, :date, :minute, :kind_id, :place_id, :words, :journal_id)`, rows); err != nil {
		return err
	}
	return addIncidentParts(ctx, tx, people, actions)
}

func addIncidentParts(ctx context.Context, tx *sqlx.Tx, people []IncidentPerson, actions []IncidentAction) error {
	if err := inBatches(ctx, tx, `INSERT INTO incident_person (version_id, student_id, role) VALUES (:version_id, :student_id, :role)`, people); err != nil {
		return err
	}
	return inBatches(ctx, tx, `INSERT INTO incident_action (version_id, action_id, by_whom) VALUES (:version_id, :action_id, :by_whom)`, actions)
}

// TakeIncidentBack says that an incident was entered by mistake; it stays on record. It reports whether it
// stood.
func TakeIncidentBack(ctx context.Context, tx *sqlx.Tx, id ids.Incident, why string, by ids.Entry) (bool, error) {
	return took(tx.ExecContext(ctx, `UPDATE incident SET taken_back_by = ?, why = ? WHERE id = ? AND taken_back_by IS NULL`, by, why, id))
}

// UndoIncident takes back the incident that an entry of the journal noted, where nobody has corrected it
// since.
func UndoIncident(ctx context.Context, tx *sqlx.Tx, entry, by ids.Entry) (bool, error) {
	return took(tx.ExecContext(ctx, `UPDATE incident SET taken_back_by = ?2, why = 'noted by mistake' WHERE journal_id = ?1 AND taken_back_by IS NULL
		AND NOT EXISTS (SELECT 1 FROM incident_version x WHERE x.incident_id = incident.id AND x.journal_id <> ?1)`, entry, by))
}

// ConductChange is something that the school changed on a date.
type ConductChange struct {
	ID      ids.ConductChange `db:"id"`
	Date    day.Date          `db:"date"`
	Name    string            `db:"name"`
	Journal ids.Entry         `db:"journal_id"`
}

// ConductChanges returns the changes that stand, the newest first.
func ConductChanges(ctx context.Context, q Queryer) ([]ConductChange, error) {
	return list[ConductChange](ctx, q, `SELECT id, date, name, journal_id FROM conduct_change WHERE taken_back_by IS NULL ORDER BY date DESC, id DESC`)
}

// AddConductChange marks a change.
func AddConductChange(ctx context.Context, tx *sqlx.Tx, c ConductChange) (ids.ConductChange, error) {
	return insert[ids.ConductChange](ctx, tx, `INSERT INTO conduct_change (date, name, journal_id) VALUES (:date, :name, :journal_id)`, c)
}

// TakeConductChangeBack takes a change off; it reports whether it stood.
func TakeConductChangeBack(ctx context.Context, tx *sqlx.Tx, id ids.ConductChange, by ids.Entry) (bool, error) {
	return took(tx.ExecContext(ctx, `UPDATE conduct_change SET taken_back_by = ? WHERE id = ? AND taken_back_by IS NULL`, by, id))
}
