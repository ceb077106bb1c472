package store

import (
	"context"
	"fmt"
	"strings"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/core/ids"
)

// keyedTable is a table whose rows are known outside by their sourced_id.
type keyedTable struct {
	name    string
	columns []string // beside id and sourced_id
}

var (
	organisations = keyedTable{"organisation", []string{"name", "type", "identifier", "parent"}}
	sessionTable  = keyedTable{"academic_session", []string{"title", "type", "start_date", "end_date", "parent", "school_year"}}
	staffTable    = keyedTable{"staff", []string{"number", "family", "given", "role", "email", "phone", "ended"}}
	courseTable   = keyedTable{"course", []string{"title", "code", "grades", "subject", "ended"}}
	classTable    = keyedTable{"class", []string{"type", "course_id"}}
	studentTable  = keyedTable{"student", []string{"number", "family", "given", "middle", "born", "card", "travels", "email"}}
	contactTable  = keyedTable{"contact", []string{"family", "given", "phone", "sms", "email", "address", "language", "ended"}}
)

func save[T any](ctx context.Context, tx *sqlx.Tx, t keyedTable, rows []T) error {
	all := append([]string{"id", "sourced_id"}, t.columns...)
	sets := make([]string, len(t.columns))
	for i, c := range t.columns {
		sets[i] = c + " = excluded." + c
	}
	query := fmt.Sprintf(`INSERT INTO %s (%s) VALUES (:%s) ON CONFLICT (sourced_id) DO UPDATE SET %s`,
		t.name, strings.Join(all, ", "), strings.Join(all, ", :"), strings.Join(sets, ", "))
	for _, row := range rows {
		if _, err := tx.NamedExecContext(ctx, query, row); err != nil {
			return fmt.Errorf("writing %s: %w", t.name, err)
		}
	}
	return nil
}

// CopyDecisions has a new section decide as another does: its settings, codes and policies.
func CopyDecisions(ctx context.Context, tx *sqlx.Tx, from, to ids.Section) error {
	for _, query := range []string{
		`INSERT INTO setting (section_id, name, from_date, value) SELECT ?, name, from_date, value FROM setting WHERE section_id = ?`,
		`INSERT INTO policy_file (section_id, policy, from_date, text, journal_id) SELECT ?, policy, from_date, text, journal_id FROM policy_file WHERE section_id = ?`,
	} {
		if _, err := tx.ExecContext(ctx, query, to, from); err != nil {
			return fmt.Errorf("having a new section decide as the first does: %w", err)
		}
	}
	return nil
}

// SaveRoster adds or changes the people, courses and classes of changed, which carry their
// ids, and replaces whatever holds on dates, and what ties students to contacts, by all.
func SaveRoster(ctx context.Context, tx *sqlx.Tx, changed, all School, journal ids.Entry) error {
	for _, part := range []func() error{
		func() error { return AddSchool(ctx, tx, School{Sections: changed.Sections}) },
		func() error { return save(ctx, tx, organisations, changed.Organisations) },
		func() error { return save(ctx, tx, sessionTable, changed.Sessions) },
		func() error { return save(ctx, tx, staffTable, changed.Staff) },
		func() error { return save(ctx, tx, courseTable, changed.Courses) },
		func() error { return save(ctx, tx, classTable, changed.Classes) },
		func() error { return save(ctx, tx, studentTable, changed.Students) },
		func() error { return save(ctx, tx, contactTable, changed.Contacts) },
		func() error { return saveWarnings(ctx, tx, all.Warnings, journal) },
	} {
		if err := part(); err != nil {
			return err
		}
	}
	return replace(ctx, tx, School{Spans: all.Spans, Details: all.Details, Slots: all.Slots, StudentContacts: all.StudentContacts,
		ClassDetails: all.ClassDetails, Enrollments: all.Enrollments, Teachers: all.Teachers, StaffSections: all.StaffSections},
		"staff_section", "student_span", "student_detail", "student_slot", "student_contact", "class_detail", "enrollment", "class_teacher")
}

// ReplaceTimetable replaces school years, calendar, slots and timetable, whenever they held.
func ReplaceTimetable(ctx context.Context, tx *sqlx.Tx, s School) error {
	return replace(ctx, tx, School{Years: s.Years, PatternSlots: s.PatternSlots, Calendar: s.Calendar, Timetable: s.Timetable},
		"timetable", "calendar", "pattern_slot", "school_year")
}

// replace writes rows in place of all that the tables hold.
func replace(ctx context.Context, tx *sqlx.Tx, rows School, tables ...string) error {
	for _, table := range tables {
		if _, err := tx.ExecContext(ctx, `DELETE FROM `+table); err != nil {
			return fmt.Errorf("replacing %s: %w", table, err)
		}
	}
	return AddSchool(ctx, tx, rows)
}

// CodeSets returns the school's own code sets, as they are written, by name.
func CodeSets(ctx context.Context, q Queryer) (map[string]string, error) {
	rows, err := list[struct {
		Name string `db:"name"`
		Text string `db:"text"`
	}](ctx, q, `SELECT name, text FROM code_set`)
	out := map[string]string{}
	for _, r := range rows {
		out[r.Name] = r.Text
	}
	return out, err
}

// AddCodeSet keeps a code set of the school's own; one of that name must not be there.
func AddCodeSet(ctx context.Context, tx *sqlx.Tx, name, text string, journal ids.Entry) error {
	_, err := tx.ExecContext(ctx, `INSERT INTO code_set (name, text, journal_id) VALUES (?, ?, ?)`, name, text, journal)
	return err
}

// PolicyFile is a policy of a section's own, as it is written, from a date on; an empty text
// takes it away.
type PolicyFile struct {
	SectionID ids.Section `db:"section_id"`
	Policy    string      `db:"policy"`
	From      day.Date    `db:"from_date"`
	Text      string      `db:"text"`
	Journal   ids.Entry   `db:"journal_id"`
}

// PolicyFiles returns the own policies of each section, in the order of the dates from which they
// hold.
func PolicyFiles(ctx context.Context, q Queryer) ([]PolicyFile, error) {
	return list[PolicyFile](ctx, q, `SELECT * FROM policy_file ORDER BY section_id, from_date, policy`)
}

// SetPolicyFile keeps a policy from a date on, in place of one of that date.
func SetPolicyFile(ctx context.Context, tx *sqlx.Tx, p PolicyFile) error {
	_, err := tx.NamedExecContext(ctx, `INSERT INTO policy_file (section_id, policy, from_date, text, journal_id) VALUES (:section_id, :policy, :from_date, :text, :journal_id)
		ON CONFLICT (section_id, policy, from_date) DO UPDATE SET text = excluded.text, journal_id = excluded.journal_id`, p)
	return err
}

// SetPartTime replaces a student's years with their shares, and own slots, whenever they held.
func SetPartTime(ctx context.Context, tx *sqlx.Tx, student ids.Student, details []StudentDetail, slots []StudentSlot) error {
	for _, table := range []string{"student_detail", "student_slot"} {
		if _, err := tx.ExecContext(ctx, `DELETE FROM `+table+` WHERE student_id = ?`, student); err != nil {
			return fmt.Errorf("replacing a student's %s: %w", table, err)
		}
	}
	return AddSchool(ctx, tx, School{Details: details, Slots: slots})
}
