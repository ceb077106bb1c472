package store

import (
	"context"
	"fmt"

	"github.com/jmoiron/sqlx"

	"meldung/core/ids"
)

// OwnContact begins the sourcedId of a contact whom the school itself has added.
const OwnContact = "here-"

// ContactChange is what the school itself has changed about a student's contacts, in words.
type ContactChange struct {
	ID        int64       `db:"id"`
	StudentID ids.Student `db:"student_id"`
	ContactID ids.Contact `db:"contact_id"`
	Text      string      `db:"words"`
	Person    bool        `db:"person"`   // the contact's name or numbers changed, not only what ties them
	TakenBy   *ids.Entry  `db:"taken_by"` // the import that put the roster's own in its place
	Origin
}

// ContactChangesOf returns what was changed about a student's contacts, newest first.
func ContactChangesOf(ctx context.Context, q Queryer, student ids.Student) ([]ContactChange, error) {
	return list[ContactChange](ctx, q, `SELECT x.*, `+origin+` FROM contact_change x`+originJoin+`WHERE x.student_id = ? ORDER BY x.id DESC LIMIT 60`, student)
}

// ContactChanges returns what the school has changed and no import has put the roster's own in the
// place of, oldest first.
func ContactChanges(ctx context.Context, q Queryer) ([]ContactChange, error) {
	return list[ContactChange](ctx, q, `SELECT x.*, `+origin+` FROM contact_change x`+originJoin+`WHERE x.taken_by IS NULL ORDER BY x.id`)
}

// AddContactChange writes what was changed.
func AddContactChange(ctx context.Context, tx *sqlx.Tx, c ContactChange) error {
	_, err := insert[int64](ctx, tx, `INSERT INTO contact_change (student_id, contact_id, words, person, journal_id) VALUES (:student_id, :contact_id, :words, :person, :journal_id)`, c)
	return err
}

// TakeContactChanges writes that the roster's own was put in the place of what the school had
// changed.
func TakeContactChanges(ctx context.Context, tx *sqlx.Tx, journal ids.Entry) error {
	_, err := tx.ExecContext(ctx, `UPDATE contact_change SET taken_by = ? WHERE taken_by IS NULL`, journal)
	return err
}

// AddContact adds a contact of the school's own and returns its id.
func AddContact(ctx context.Context, tx *sqlx.Tx, c Contact) (ids.Contact, error) {
	id, err := insert[ids.Contact](ctx, tx, `INSERT INTO contact (sourced_id, family, given, phone, sms, email, address, language) VALUES ('here-' || (SELECT coalesce(max(id), 0) + 1 FROM contact), :family, :given, :phone, :sms, :email, :address, :language)`, c)
	return id, err
}

// SetContact changes a contact's name and numbers.
func SetContact(ctx context.Context, tx *sqlx.Tx, c Contact) error {
	_, err := tx.NamedExecContext(ctx, `UPDATE contact SET family = :family, given = :given, phone = :phone, sms = :sms, email = :email, address = :address, language = :language, ended = :ended WHERE id = :id`, c)
	return err
}

// SetTies replaces a student's contacts, in call order.
func SetTies(ctx context.Context, tx *sqlx.Tx, student ids.Student, ties []StudentContact) error {
	if _, err := tx.ExecContext(ctx, `DELETE FROM student_contact WHERE student_id = ?`, student); err != nil {
		return fmt.Errorf("setting a student's contacts: %w", err)
	}
	return AddSchool(ctx, tx, School{StudentContacts: ties})
}

// LoadContactsAndWarnings returns the contacts, what ties them to students, and the warnings that are kept.
func LoadContactsAndWarnings(ctx context.Context, q Queryer) (s School, err error) {
	if s.Contacts, err = list[Contact](ctx, q, `SELECT * FROM contact ORDER BY id`); err != nil {
		return s, err
	}
	if s.StudentContacts, err = list[StudentContact](ctx, q, `SELECT * FROM student_contact ORDER BY student_id, call_order`); err != nil {
		return s, err
	}
	s.Warnings, err = list[Warning](ctx, q, warningsKept)
	return s, err
}
