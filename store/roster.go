package store

import (
	"context"
	"fmt"
	"strings"

	"github.com/jmoiron/sqlx"

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
	classTable    = keyedTable{"class", []string{"title", "type", "course_id", "code", "year", "room", "terms", "ended"}}
	studentTable  = keyedTable{"student", []string{"number", "family", "given", "middle", "year", "born", "card", "travels", "email", "enrolled_from", "enrolled_to", "share_here", "share_elsewhere"}}
	contactTable  = keyedTable{"contact", []string{"family", "given", "phone", "sms", "email", "ended"}}
	enrolTable    = keyedTable{"enrollment", []string{"class_id", "student_id", "from_date", "to_date"}}
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

// SaveRoster adds or changes the given rows, which carry their ids, and replaces
// the ties, slots and warnings of the students in it.
func SaveRoster(ctx context.Context, tx *sqlx.Tx, s School, replaced []ids.Student) error {
	for _, part := range []func() error{
		func() error { return save(ctx, tx, organisations, s.Organisations) },
		func() error { return save(ctx, tx, sessionTable, s.Sessions) },
		func() error { return save(ctx, tx, staffTable, s.Staff) },
		func() error { return save(ctx, tx, courseTable, s.Courses) },
		func() error { return save(ctx, tx, classTable, s.Classes) },
		func() error { return save(ctx, tx, studentTable, s.Students) },
		func() error { return save(ctx, tx, contactTable, s.Contacts) },
		func() error { return save(ctx, tx, enrolTable, s.Enrollments) },
	} {
		if err := part(); err != nil {
			return err
		}
	}
	for _, id := range replaced {
		for _, table := range []string{"student_contact", "student_slot", "warning"} {
			if _, err := tx.ExecContext(ctx, `DELETE FROM `+table+` WHERE student_id = ?`, id); err != nil {
				return fmt.Errorf("replacing %s: %w", table, err)
			}
		}
	}
	return AddSchool(ctx, tx, School{StudentContacts: s.StudentContacts, Slots: s.Slots, Warnings: s.Warnings})
}

// ReplaceTeachers replaces who teaches which class.
func ReplaceTeachers(ctx context.Context, tx *sqlx.Tx, rows []ClassTeacher) error {
	if _, err := tx.ExecContext(ctx, `DELETE FROM class_teacher`); err != nil {
		return err
	}
	return AddSchool(ctx, tx, School{Teachers: rows})
}

// ReplaceTimetable replaces calendar, slots and timetable.
func ReplaceTimetable(ctx context.Context, tx *sqlx.Tx, s School) error {
	for _, table := range []string{"timetable", "calendar", "pattern_slot"} {
		if _, err := tx.ExecContext(ctx, `DELETE FROM `+table); err != nil {
			return fmt.Errorf("replacing %s: %w", table, err)
		}
	}
	return AddSchool(ctx, tx, School{PatternSlots: s.PatternSlots, Calendar: s.Calendar, Timetable: s.Timetable})
}
