package store

import (
	"context"

	"github.com/jmoiron/sqlx"

	"meldung/core/ids"
)

// StudentList is students under a name.
type StudentList struct {
	ID        ids.StudentList `db:"id"`
	AccountID ids.Account     `db:"account_id"`
	Name      string          `db:"name"`
	Shared    bool            `db:"shared"`
	EndedBy   *ids.Entry      `db:"ended_by"`
	Origin
}

// StudentLists returns the lists that stand, by name.
func StudentLists(ctx context.Context, q Queryer) ([]StudentList, error) {
	return list[StudentList](ctx, q, `SELECT x.*, `+origin+` FROM student_list x`+originJoin+`WHERE x.ended_by IS NULL ORDER BY x.name, x.id`)
}

// ListMember is a student on a list.
type ListMember struct {
	ListID    ids.StudentList `db:"list_id"`
	StudentID ids.Student     `db:"student_id"`
}

// ListMembers returns who is on the lists that stand, in the order in which they came on.
func ListMembers(ctx context.Context, q Queryer) ([]ListMember, error) {
	return list[ListMember](ctx, q, `SELECT m.list_id, m.student_id FROM student_list_member m JOIN student_list l ON l.id = m.list_id WHERE m.ended_by IS NULL AND l.ended_by IS NULL ORDER BY m.id`)
}

// AddStudentList writes a list, with nobody on it, and returns its id.
func AddStudentList(ctx context.Context, tx *sqlx.Tx, l StudentList) (ids.StudentList, error) {
	return insert[ids.StudentList](ctx, tx, `INSERT INTO student_list (account_id, name, shared, journal_id) VALUES (:account_id, :name, :shared, :journal_id)`, l)
}

// NameStudentList gives a list another name, and says whether others may use it.
func NameStudentList(ctx context.Context, tx *sqlx.Tx, l StudentList) error {
	_, err := took(tx.ExecContext(ctx, `UPDATE student_list SET name = ?, shared = ? WHERE id = ?`, l.Name, l.Shared, l.ID))
	return err
}

// PutOnList puts a student on a list, and reports whether that is new.
func PutOnList(ctx context.Context, tx *sqlx.Tx, l ids.StudentList, student ids.Student, journal ids.Entry) (bool, error) {
	return took(tx.ExecContext(ctx, `INSERT INTO student_list_member (list_id, student_id, journal_id) VALUES (?, ?, ?) ON CONFLICT DO NOTHING`, l, student, journal))
}

// TakeOffList takes a student off a list, and reports whether they were on it.
func TakeOffList(ctx context.Context, tx *sqlx.Tx, l ids.StudentList, student ids.Student, journal ids.Entry) (bool, error) {
	return took(tx.ExecContext(ctx, `UPDATE student_list_member SET ended_by = ? WHERE list_id = ? AND student_id = ? AND ended_by IS NULL`, journal, l, student))
}

// EndStudentList takes a list away.
func EndStudentList(ctx context.Context, tx *sqlx.Tx, id ids.StudentList, journal ids.Entry) (bool, error) {
	return took(tx.ExecContext(ctx, `UPDATE student_list SET ended_by = ? WHERE id = ? AND ended_by IS NULL`, journal, id))
}

// UndoLists takes back what an entry did to lists: what it ended stands again, but where another of
// its name has taken its place; whom it put on is off again, whom it took off on. It reports whether
// anything was changed.
func UndoLists(ctx context.Context, tx *sqlx.Tx, of, journal ids.Entry) (bool, error) {
	return undo(ctx, tx, of, journal, append(backAndForth("student_list", "account_id", "name"), backAndForth("student_list_member", "list_id", "student_id")...))
}

// backAndForth are the statements that take back what an entry did to the rows of a table that end: one that it made has
// ended, one that it ended stands again, but where another with the same columns has taken its place.
func backAndForth(table, column, other string) []string {
	return []string{
		`UPDATE ` + table + ` SET ended_by = ?1 WHERE journal_id = ?2 AND ended_by IS NULL`,
		`UPDATE ` + table + ` AS x SET ended_by = NULL WHERE ended_by = ?2 AND NOT EXISTS (SELECT 1 FROM ` + table + ` o WHERE o.` + column + ` = x.` + column + ` AND o.` + other + ` = x.` + other + ` AND o.ended_by IS NULL) AND ?1 > 0`,
	}
}

// undo carries statements out, each with the entry that takes back and the one that is taken back, and reports whether
// anything was changed.
func undo(ctx context.Context, tx *sqlx.Tx, of, journal ids.Entry, statements []string) (bool, error) {
	changed := false
	for _, q := range statements {
		did, err := took(tx.ExecContext(ctx, q, journal, of))
		if err != nil {
			return false, err
		}
		changed = changed || did
	}
	return changed, nil
}
