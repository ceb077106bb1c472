package store

import (
	"context"
	"slices"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/core/ids"
)

// Student is a person on the roll.
type Student struct {
	ID        ids.Student `db:"id"`
	SourcedID string      `db:"sourced_id"`
	Number    string      `db:"number"`
	Family    string      `db:"family"`
	Given     string      `db:"given"`
	Middle    string      `db:"middle"`
	Born      string      `db:"born"`
	Card      string      `db:"card"`
	Travels   string      `db:"travels"`
	Email     string      `db:"email"`

	// What held on the date looked at, or is known of it; no columns of the table.
	Section        ids.Section `db:"-"`
	Year           string      `db:"-"`
	ShareHere      string      `db:"-"`
	ShareElsewhere string      `db:"-"`
	Spans          []day.Dates `db:"-"` // on the roll, in order
}

// Name returns "Given Family".
func (s Student) Name() string { return s.Given + " " + s.Family }

// EnrolledOn reports whether the student is on the roll on a date.
func (s Student) EnrolledOn(d day.Date) bool {
	return slices.ContainsFunc(s.Spans, func(e day.Dates) bool { return e.Has(d) })
}

// CameBy returns the first date of the stay that a date lies in or comes after; ok is false
// before the first.
func (s Student) CameBy(d day.Date) (came day.Date, ok bool) {
	for _, e := range s.Spans {
		if e.From <= d {
			came, ok = e.From, true
		}
	}
	return came, ok
}

// Held are the dates on which a row holds: from 0, the beginning, or a date on, to a date or
// without an end.
type Held struct {
	From day.Date  `db:"from_date"`
	To   *day.Date `db:"to_date"`
}

// Dates returns the dates as the core knows them.
func (h Held) Dates() day.Dates {
	out := day.Dates{From: h.From, To: day.NoEnd}
	if h.From == 0 {
		out.From = day.NoStart
	}
	if h.To != nil {
		out.To = *h.To
	}
	return out
}

// On reports whether the row holds on a date.
func (h Held) On(d day.Date) bool { return h.Dates().Has(d) }

// HeldOn returns dates as they are stored.
func HeldOn(d day.Dates) Held {
	out := Held{From: d.From}
	if d.From == day.NoStart {
		out.From = 0
	}
	if d.To != day.NoEnd {
		out.To = &d.To
	}
	return out
}

// StudentSlot is a slot in which a part-time student is due.
type StudentSlot struct {
	StudentID ids.Student `db:"student_id"`
	Slot      string      `db:"slot"`
	Weekday   int         `db:"weekday"`
	Held
}

// StudentSpan is a stay on the roll.
type StudentSpan struct {
	StudentID ids.Student `db:"student_id"`
	Held
}

// StudentDetail is what changes about a student and enters lists and figures.
type StudentDetail struct {
	StudentID      ids.Student `db:"student_id"`
	SectionID      ids.Section `db:"section_id"`
	Year           string      `db:"year"`
	ShareHere      string      `db:"share_here"`
	ShareElsewhere string      `db:"share_elsewhere"`
	Held
}

// Contact is a person at home.
type Contact struct {
	ID        ids.Contact `db:"id"`
	SourcedID string      `db:"sourced_id"`
	Family    string      `db:"family"`
	Given     string      `db:"given"`
	Phone     string      `db:"phone"`
	SMS       string      `db:"sms"`
	Email     string      `db:"email"`
	Address   string      `db:"address"`  // lines
	Language  string      `db:"language"` // empty for the school's own
	Ended     bool        `db:"ended"`
}

// Name returns "Given Family".
func (c Contact) Name() string { return c.Given + " " + c.Family }

// StudentContact ties a contact to a student.
type StudentContact struct {
	StudentID  ids.Student `db:"student_id"`
	ContactID  ids.Contact `db:"contact_id"`
	CallOrder  int         `db:"call_order"`
	Relation   string      `db:"relation"`
	MayCollect bool        `db:"may_collect"`
	LivesWith  bool        `db:"lives_with"`
	DoNotCall  bool        `db:"do_not_call"`
}

// Staff is a person who works here.
type Staff struct {
	ID        ids.Staff `db:"id"`
	SourcedID string    `db:"sourced_id"`
	Number    string    `db:"number"`
	Family    string    `db:"family"`
	Given     string    `db:"given"`
	Role      string    `db:"role"`
	Email     string    `db:"email"`
	Phone     string    `db:"phone"`
	Ended     bool      `db:"ended"`
}

// Short returns "G. Family".
func (s Staff) Short() string {
	if s.Given == "" {
		return s.Family
	}
	return string([]rune(s.Given)[0]) + ". " + s.Family
}

// Course is what is taught.
type Course struct {
	ID        ids.Course `db:"id"`
	SourcedID string     `db:"sourced_id"`
	Title     string     `db:"title"`
	Code      string     `db:"code"`
	Grades    string     `db:"grades"`
	Subject   string     `db:"subject"`
	Ended     bool       `db:"ended"`
}

// Class is a group that has a register; a form is one of type homeroom.
type Class struct {
	ID        ids.Class  `db:"id"`
	SourcedID string     `db:"sourced_id"`
	Type      string     `db:"type"`
	CourseID  ids.Course `db:"course_id"`

	// What held on the date looked at, or was known last before it; no columns of the table.
	Section ids.Section `db:"-"`
	Title   string      `db:"-"`
	Code    string      `db:"-"`
	Year    string      `db:"-"`
	Room    string      `db:"-"`
	Terms   string      `db:"-"`
	Ended   bool        `db:"-"` // it is over, or has not begun
}

// ClassDetail is what a class is called from a date on; without one that holds it is over.
type ClassDetail struct {
	ClassID   ids.Class   `db:"class_id"`
	SectionID ids.Section `db:"section_id"`
	Title     string      `db:"title"`
	Code      string      `db:"code"`
	Year      string      `db:"year"`
	Room      string      `db:"room"`
	Terms     string      `db:"terms"`
	Held
}

// Form reports whether the class is a form.
func (c Class) Form() bool { return c.Type == "homeroom" }

// Enrollment is a student's place in a class.
type Enrollment struct {
	ID        int64       `db:"id"`
	SourcedID string      `db:"sourced_id"`
	ClassID   ids.Class   `db:"class_id"`
	StudentID ids.Student `db:"student_id"`
	Held
}

// ClassTeacher ties a teacher to a class.
type ClassTeacher struct {
	SourcedID string    `db:"sourced_id"`
	ClassID   ids.Class `db:"class_id"`
	StaffID   ids.Staff `db:"staff_id"`
	Main      bool      `db:"main"`
	Held
}

// Section is a section or site of the school.
type Section struct {
	ID        ids.Section `db:"id"`
	SourcedID string      `db:"sourced_id"` // of its organisation; empty before the first roster
	Name      string      `db:"name"`
}

// StaffSection says that a member of staff works in a section.
type StaffSection struct {
	StaffID   ids.Staff   `db:"staff_id"`
	SectionID ids.Section `db:"section_id"`
}

// SchoolYear is a school year of a section from its first date to its last.
type SchoolYear struct {
	SectionID ids.Section `db:"section_id"`
	First     day.Date    `db:"first_date"`
	Last      day.Date    `db:"last_date"`
}

// PatternSlot is a slot of a section's day pattern.
type PatternSlot struct {
	SectionID ids.Section `db:"section_id"`
	Pattern   string      `db:"pattern"`
	Slot      string      `db:"slot"`
	Start     day.Minute  `db:"starts"`
	End       day.Minute  `db:"ends"`
	Kind      string      `db:"kind"`
	Once      bool        `db:"once"` // of days that were put right, and of no other
	Held
}

// CalendarDay is a date of a section's school year.
type CalendarDay struct {
	SectionID     ids.Section `db:"section_id"`
	Date          day.Date    `db:"date"`
	Pattern       string      `db:"pattern"`
	Term          string      `db:"term"`
	GradingPeriod string      `db:"grading_period"`
}

// Meeting is when a class meets.
type Meeting struct {
	ClassID ids.Class `db:"class_id"`
	Pattern string    `db:"pattern"`
	Weekday int       `db:"weekday"`
	Slot    string    `db:"slot"`
	Room    string    `db:"room"`
	Held
}

// Organisation is the school or what it belongs to.
type Organisation struct {
	ID         int64  `db:"id"`
	SourcedID  string `db:"sourced_id"`
	Name       string `db:"name"`
	Type       string `db:"type"`
	Identifier string `db:"identifier"`
	Parent     string `db:"parent"`
}

// AcademicSession is a school year, term or grading period.
type AcademicSession struct {
	ID         int64    `db:"id"`
	SourcedID  string   `db:"sourced_id"`
	Title      string   `db:"title"`
	Type       string   `db:"type"`
	Start      day.Date `db:"start_date"`
	End        day.Date `db:"end_date"`
	Parent     string   `db:"parent"`
	SchoolYear string   `db:"school_year"`
}

// Account is someone who can sign in.
type Account struct {
	ID       ids.Account `db:"id"`
	Username string      `db:"username"`
	Name     string      `db:"name"`
	Role     string      `db:"role"`
	StaffID  *ids.Staff  `db:"staff_id"`
	Password string      `db:"password"` // argon2id
	OneTime  bool        `db:"one_time"`
	EndedBy  *ids.Entry  `db:"ended_by"`
}

// School is all that changes seldom: people, classes, calendar, timetable.
type School struct {
	Sections        []Section
	Organisations   []Organisation
	Sessions        []AcademicSession
	Years           []SchoolYear
	Students        []Student
	Spans           []StudentSpan
	Details         []StudentDetail
	Slots           []StudentSlot
	Warnings        []Warning
	Contacts        []Contact
	StudentContacts []StudentContact
	Staff           []Staff
	StaffSections   []StaffSection
	Courses         []Course
	Classes         []Class
	ClassDetails    []ClassDetail
	Enrollments     []Enrollment
	Teachers        []ClassTeacher
	PatternSlots    []PatternSlot
	Calendar        []CalendarDay
	Closures        []Closure // that stand
	Timetable       []Meeting
}

// LoadSchool reads the school.
func LoadSchool(ctx context.Context, q Queryer) (School, error) {
	var s School
	read := func(dest any, query string) error { return sqlx.SelectContext(ctx, q, dest, query) }
	for _, part := range []struct {
		dest  any
		query string
	}{
		{&s.Sections, `SELECT * FROM section ORDER BY id`},
		{&s.Organisations, `SELECT * FROM organisation ORDER BY id`},
		{&s.Sessions, `SELECT * FROM academic_session ORDER BY id`},
		{&s.Years, `SELECT * FROM school_year ORDER BY section_id, first_date`},
		{&s.Students, `SELECT * FROM student ORDER BY id`},
		{&s.Spans, `SELECT * FROM student_span ORDER BY student_id, from_date`},
		{&s.Details, `SELECT * FROM student_detail ORDER BY student_id, from_date`},
		{&s.Slots, `SELECT * FROM student_slot ORDER BY student_id, from_date, weekday, slot`},
		{&s.Warnings, warningsKept},
		{&s.Contacts, `SELECT * FROM contact ORDER BY id`},
		{&s.StudentContacts, `SELECT * FROM student_contact ORDER BY student_id, call_order`},
		{&s.Staff, `SELECT * FROM staff ORDER BY id`},
		{&s.StaffSections, `SELECT * FROM staff_section ORDER BY staff_id, section_id`},
		{&s.Courses, `SELECT * FROM course ORDER BY id`},
		{&s.Classes, `SELECT * FROM class ORDER BY id`},
		{&s.ClassDetails, `SELECT * FROM class_detail ORDER BY class_id, from_date`},
		{&s.Enrollments, `SELECT * FROM enrollment ORDER BY id`},
		{&s.Teachers, `SELECT * FROM class_teacher ORDER BY class_id, main DESC, staff_id, from_date`},
		{&s.PatternSlots, `SELECT * FROM pattern_slot ORDER BY section_id, pattern, starts, slot, from_date`},
		{&s.Calendar, `SELECT * FROM calendar ORDER BY section_id, date`},
		{&s.Closures, closures + `WHERE x.undone_by IS NULL ORDER BY x.section_id, x.date`},
		{&s.Timetable, `SELECT * FROM timetable ORDER BY class_id, pattern, weekday, slot, from_date`},
	} {
		if err := read(part.dest, part.query); err != nil {
			return School{}, err
		}
	}
	return s, nil
}

// AddSchool writes rows of the school as they are, ids included where set.
func AddSchool(ctx context.Context, tx *sqlx.Tx, s School) error {
	for _, part := range []struct {
		rows  any
		n     int
		query string
	}{
		{s.Sections, len(s.Sections), `INSERT INTO section (id, sourced_id, name) VALUES (:id, :sourced_id, :name) ON CONFLICT (id) DO UPDATE SET sourced_id = excluded.sourced_id, name = excluded.name`},
		{s.Organisations, len(s.Organisations), `INSERT INTO organisation (id, sourced_id, name, type, identifier, parent) VALUES (:id, :sourced_id, :name, :type, :identifier, :parent)`},
		{s.Sessions, len(s.Sessions), `INSERT INTO academic_session (id, sourced_id, title, type, start_date, end_date, parent, school_year) VALUES (:id, :sourced_id, :title, :type, :start_date, :end_date, :parent, :school_year)`},
		{s.Years, len(s.Years), `INSERT INTO school_year (section_id, first_date, last_date) VALUES (:section_id, :first_date, :last_date)`},
		{s.Students, len(s.Students), `INSERT INTO student (id, sourced_id, number, family, given, middle, born, card, travels, email) VALUES (:id, :sourced_id, :number, :family, :given, :middle, :born, :card, :travels, :email)`},
		{s.Spans, len(s.Spans), `INSERT INTO student_span (student_id, from_date, to_date) VALUES (:student_id, :from_date, :to_date)`},
		{s.Details, len(s.Details), `INSERT INTO student_detail (student_id, section_id, year, share_here, share_elsewhere, from_date, to_date) VALUES (:student_id, :section_id, :year, :share_here, :share_elsewhere, :from_date, :to_date)`},
		{s.Slots, len(s.Slots), `INSERT INTO student_slot (student_id, slot, weekday, from_date, to_date) VALUES (:student_id, :slot, :weekday, :from_date, :to_date)`},
		{s.Warnings, len(s.Warnings), setWarning},
		{s.Contacts, len(s.Contacts), `INSERT INTO contact (id, sourced_id, family, given, phone, sms, email, address, language, ended) VALUES (:id, :sourced_id, :family, :given, :phone, :sms, :email, :address, :language, :ended)`},
		{s.StudentContacts, len(s.StudentContacts), `INSERT INTO student_contact (student_id, contact_id, call_order, relation, may_collect, lives_with, do_not_call) VALUES (:student_id, :contact_id, :call_order, :relation, :may_collect, :lives_with, :do_not_call)`},
		{s.Staff, len(s.Staff), `INSERT INTO staff (id, sourced_id, number, family, given, role, email, phone, ended) VALUES (:id, :sourced_id, :number, :family, :given, :role, :email, :phone, :ended)`},
		{s.StaffSections, len(s.StaffSections), `INSERT INTO staff_section (staff_id, section_id) VALUES (:staff_id, :section_id)`},
		{s.Courses, len(s.Courses), `INSERT INTO course (id, sourced_id, title, code, grades, subject, ended) VALUES (:id, :sourced_id, :title, :code, :grades, :subject, :ended)`},
		{s.Classes, len(s.Classes), `INSERT INTO class (id, sourced_id, type, course_id) VALUES (:id, :sourced_id, :type, :course_id)`},
		{s.ClassDetails, len(s.ClassDetails), `INSERT INTO class_detail (class_id, section_id, title, code, year, room, terms, from_date, to_date) VALUES (:class_id, :section_id, :title, :code, :year, :room, :terms, :from_date, :to_date)`},
		{s.Enrollments, len(s.Enrollments), `INSERT INTO enrollment (id, sourced_id, class_id, student_id, from_date, to_date) VALUES (:id, :sourced_id, :class_id, :student_id, :from_date, :to_date)`},
		{s.Teachers, len(s.Teachers), `INSERT INTO class_teacher (sourced_id, class_id, staff_id, main, from_date, to_date) VALUES (:sourced_id, :class_id, :staff_id, :main, :from_date, :to_date)`},
		{s.PatternSlots, len(s.PatternSlots), `INSERT INTO pattern_slot (section_id, pattern, slot, starts, ends, kind, once, from_date, to_date) VALUES (:section_id, :pattern, :slot, :starts, :ends, :kind, :once, :from_date, :to_date)`},
		{s.Calendar, len(s.Calendar), `INSERT INTO calendar (section_id, date, pattern, term, grading_period) VALUES (:section_id, :date, :pattern, :term, :grading_period)`},
		{s.Timetable, len(s.Timetable), `INSERT INTO timetable (class_id, pattern, weekday, slot, room, from_date, to_date) VALUES (:class_id, :pattern, :weekday, :slot, :room, :from_date, :to_date)`},
	} {
		if part.n == 0 {
			continue
		}
		if err := inBatches(ctx, tx, part.query, part.rows); err != nil {
			return err
		}
	}
	return nil
}

// Accounts returns everyone who can sign in.
func Accounts(ctx context.Context, q Queryer) ([]Account, error) {
	return list[Account](ctx, q, `SELECT * FROM account ORDER BY id`)
}

// AccountByID returns an account; nil for none.
func AccountByID(ctx context.Context, q Queryer, id ids.Account) (*Account, error) {
	found, err := list[Account](ctx, q, `SELECT * FROM account WHERE id = ?`, id)
	if err != nil || len(found) == 0 {
		return nil, err
	}
	return &found[0], nil
}

// AddAccount writes an account and returns its id.
func AddAccount(ctx context.Context, tx *sqlx.Tx, a Account) (ids.Account, error) {
	return insert[ids.Account](ctx, tx, `INSERT INTO account (username, name, role, staff_id, password, one_time) VALUES (:username, :name, :role, :staff_id, :password, :one_time)`, a)
}

// AccountNamed returns the account with a username, in small letters; nil for none.
func AccountNamed(ctx context.Context, q Queryer, username string) (*Account, error) {
	found, err := list[Account](ctx, q, `SELECT * FROM account WHERE username = ?`, username)
	if err != nil || len(found) == 0 {
		return nil, err
	}
	return &found[0], nil
}

// SaveAccount writes what an account has become.
func SaveAccount(ctx context.Context, tx *sqlx.Tx, a Account) error {
	_, err := tx.NamedExecContext(ctx, `UPDATE account SET name = :name, role = :role, staff_id = :staff_id, password = :password, one_time = :one_time, ended_by = :ended_by WHERE id = :id`, a)
	return err
}
