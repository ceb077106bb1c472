package roster

import (
	"context"
	"fmt"
	"reflect"
	"sort"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/files/oneroster"
	"meldung/files/table"
	"meldung/store"
	"meldung/work"
)

// ImportRoster reads a OneRoster bundle, says what it would change, and changes
// it when asked to: all of it, or nothing where a line is wrong.
func ImportRoster(ctx context.Context, o *work.Office, p work.Person, key string, files table.Files, apply bool) (Plan, error) {
	read := oneroster.Read(files)
	plan := Plan{Details: []string{}, Problems: problemLines(read.Problems), Notes: listed(read.Notes), Parts: []PlanPart{}}
	var change *rosterChange
	err := o.Read(func(v work.Snapshot) error {
		change = newRosterChange(v.School.Rows, o.Now().Date())
		change.all(read.Bundle)
		return nil
	})
	if err != nil {
		return plan, err
	}
	plan.Parts, plan.Details = change.parts, listed(change.details)
	if !apply || len(plan.Problems) > 0 {
		return plan, nil
	}
	plan.Applied = true
	if plan.Changes() == 0 {
		return plan, nil
	}
	err = o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayImport, Kind: "import roster", Out: &plan}, func(tx *work.Tx, v work.Snapshot) error {
		if err := store.SaveRoster(ctx, tx.Tx, change.save, change.replaced); err != nil {
			return err
		}
		if change.teachers != nil {
			if err := store.ReplaceTeachers(ctx, tx.Tx, change.teachers); err != nil {
				return err
			}
		}
		if change.name == "" {
			return nil
		}
		settings := v.Settings
		if settings.Name == work.UsualSettings().Name {
			settings.Name = change.name
		}
		return tx.ChangeSettings(ctx, settings)
	})
	if err != nil {
		return plan, err
	}
	return plan, o.Reload(ctx)
}

// rosterChange works out what a roster changes.
type rosterChange struct {
	old      store.School
	today    day.Date
	save     store.School
	replaced []ids.Student
	teachers []store.ClassTeacher // nil where they stay as they are
	name     string
	parts    []PlanPart
	details  []string

	classes  map[string]ids.Class
	courses  map[string]ids.Course
	staff    map[string]ids.Staff
	students map[string]ids.Student
	contacts map[string]ids.Contact
}

func newRosterChange(old store.School, today day.Date) *rosterChange {
	return &rosterChange{old: old, today: today}
}

func (c *rosterChange) detail(format string, args ...any) {
	if len(c.details) < mostDetails {
		c.details = append(c.details, fmt.Sprintf(format, args...))
	}
}

// differ compares rows of one kind with those that are there. It gives ids, and
// returns the rows to write. end is called for a row that is there and no longer
// in the roster; it reports whether that row is to be written as ended.
func differ[T any, ID ~int64](c *rosterChange, what string, old, now []T, key func(*T) *string, id func(*T) *ID, words func(T) string, end func(*T) bool) ([]T, map[string]ID) {
	part := PlanPart{What: what}
	before := map[string]int{}
	next := ID(0)
	for i := range old {
		before[*key(&old[i])] = i
		next = max(next, *id(&old[i]))
	}
	var write []T
	given := map[string]ID{}
	for i := range now {
		row := now[i]
		k, known := before[*key(&row)]
		if !known {
			next++
			*id(&row) = next
			given[*key(&row)] = next
			part.Added++
			c.detail("add %s %s", what, words(row))
			write = append(write, row)
			continue
		}
		*id(&row) = *id(&old[k])
		given[*key(&row)] = *id(&row)
		delete(before, *key(&row))
		if reflect.DeepEqual(row, old[k]) {
			part.Same++
			continue
		}
		part.Changed++
		c.detail("change %s %s", what, words(row))
		write = append(write, row)
	}
	var gone []int
	for _, k := range before {
		gone = append(gone, k)
	}
	sort.Ints(gone)
	for _, k := range gone {
		row := old[k]
		if end == nil || !end(&row) {
			continue
		}
		part.Ended++
		c.detail("end %s %s", what, words(row))
		write = append(write, row)
	}
	c.parts = append(c.parts, part)
	return write, given
}

func (c *rosterChange) all(b oneroster.Bundle) {
	c.frame(b)
	c.people(b)
	c.ties(b)
	c.enrol(b)
	c.teach(b)
}

func (c *rosterChange) frame(b oneroster.Bundle) {
	var orgs []store.Organisation
	for _, o := range b.Orgs {
		orgs = append(orgs, store.Organisation{SourcedID: o.ID, Name: o.Name, Type: o.Type, Identifier: o.Identifier, Parent: o.Parent})
		if o.Type == "school" && c.name == "" {
			c.name = o.Name
		}
	}
	c.save.Organisations, _ = differ(c, "organisation", c.old.Organisations, orgs, func(o *store.Organisation) *string { return &o.SourcedID },
		func(o *store.Organisation) *int64 { return &o.ID }, func(o store.Organisation) string { return o.Name }, nil)
	var sessions []store.AcademicSession
	for _, s := range b.Sessions {
		sessions = append(sessions, store.AcademicSession{SourcedID: s.ID, Title: s.Title, Type: s.Type, Start: s.Start, End: s.End, Parent: s.Parent, SchoolYear: s.SchoolYear})
	}
	c.save.Sessions, _ = differ(c, "academic session", c.old.Sessions, sessions, func(s *store.AcademicSession) *string { return &s.SourcedID },
		func(s *store.AcademicSession) *int64 { return &s.ID }, func(s store.AcademicSession) string { return s.Title }, nil)
	var courses []store.Course
	for _, x := range b.Courses {
		courses = append(courses, store.Course{SourcedID: x.ID, Title: x.Title, Code: x.Code, Grades: x.Grades, Subject: x.Subject})
	}
	c.save.Courses, c.courses = differ(c, "course", c.old.Courses, courses, func(x *store.Course) *string { return &x.SourcedID },
		func(x *store.Course) *ids.Course { return &x.ID }, func(x store.Course) string { return x.Title }, func(x *store.Course) bool { return once(&x.Ended) })
	var classes []store.Class
	for _, x := range b.Classes {
		classes = append(classes, store.Class{SourcedID: x.ID, Title: x.Title, Type: x.Type, CourseID: c.courses[x.Course], Code: x.Code, Year: x.Grades, Room: x.Location, Terms: x.Terms})
	}
	c.save.Classes, c.classes = differ(c, "class", c.old.Classes, classes, func(x *store.Class) *string { return &x.SourcedID },
		func(x *store.Class) *ids.Class { return &x.ID }, func(x store.Class) string { return x.Title }, func(x *store.Class) bool { return once(&x.Ended) })
}

// once sets a flag and reports whether it was not set before.
func once(flag *bool) bool {
	was := *flag
	*flag = true
	return !was
}

func (c *rosterChange) people(b oneroster.Bundle) {
	var staff []store.Staff
	for _, s := range b.Staff {
		staff = append(staff, store.Staff{SourcedID: s.ID, Number: s.Number, Family: s.Family, Given: s.Given, Role: s.Role, Email: s.Email, Phone: s.Phone})
	}
	c.save.Staff, c.staff = differ(c, "staff", c.old.Staff, staff, func(s *store.Staff) *string { return &s.SourcedID },
		func(s *store.Staff) *ids.Staff { return &s.ID }, func(s store.Staff) string { return s.Given + " " + s.Family }, func(s *store.Staff) bool { return once(&s.Ended) })
	began := c.beginnings(b)
	var students []store.Student
	for _, s := range b.Students {
		row := store.Student{SourcedID: s.ID, Number: s.Number, Family: s.Family, Given: s.Given, Middle: s.Middle, Year: s.Grades, Born: s.Born, Card: s.Card,
			Travels: s.Travels, Email: s.Email, EnrolledFrom: began(s), EnrolledTo: s.To, ShareHere: s.ShareHere, ShareElsewhere: s.ShareElsewhere}
		students = append(students, row)
	}
	yesterday := c.today - 1
	c.save.Students, c.students = differ(c, "student", c.old.Students, students, func(s *store.Student) *string { return &s.SourcedID },
		func(s *store.Student) *ids.Student { return &s.ID }, func(s store.Student) string { return s.Name() + " " + s.Number }, func(s *store.Student) bool {
			if s.EnrolledTo != nil && *s.EnrolledTo <= yesterday {
				return false
			}
			s.EnrolledTo = &yesterday
			return true
		})
	var contacts []store.Contact
	for _, x := range b.Contacts {
		contacts = append(contacts, store.Contact{SourcedID: x.ID, Family: x.Family, Given: x.Given, Phone: x.Phone, SMS: x.SMS, Email: x.Email})
	}
	c.save.Contacts, c.contacts = differ(c, "contact", c.old.Contacts, contacts, func(x *store.Contact) *string { return &x.SourcedID },
		func(x *store.Contact) *ids.Contact { return &x.ID }, func(x store.Contact) string { return x.Name() }, func(x *store.Contact) bool { return once(&x.Ended) })
}

// beginnings says from when a student is on the roll: as written, else as known
// already, else from the first enrolment, else from the start of the year.
func (c *rosterChange) beginnings(b oneroster.Bundle) func(oneroster.Student) day.Date {
	start := c.today
	for _, s := range b.Sessions {
		if s.Type == "schoolYear" {
			start = min(start, s.Start)
		}
	}
	first := map[string]day.Date{}
	for _, e := range b.Enrollments {
		if e.From == nil {
			continue
		}
		if f, ok := first[e.Student]; !ok || *e.From < f {
			first[e.Student] = *e.From
		}
	}
	known := map[string]day.Date{}
	for _, s := range c.old.Students {
		known[s.SourcedID] = s.EnrolledFrom
	}
	return func(s oneroster.Student) day.Date {
		if s.From != nil {
			return *s.From
		}
		if d, ok := known[s.ID]; ok {
			return d
		}
		if d, ok := first[s.ID]; ok {
			return d
		}
		return start
	}
}

// ties compares each student's contacts, slots and warnings as a whole.
func (c *rosterChange) ties(b oneroster.Bundle) {
	type own struct {
		ties     []store.StudentContact
		slots    []store.StudentSlot
		warnings []store.Warning
	}
	before := map[ids.Student]*own{}
	at := func(m map[ids.Student]*own, id ids.Student) *own {
		if m[id] == nil {
			m[id] = &own{}
		}
		return m[id]
	}
	for _, t := range c.old.StudentContacts {
		at(before, t.StudentID).ties = append(at(before, t.StudentID).ties, t)
	}
	for _, s := range c.old.Slots {
		at(before, s.StudentID).slots = append(at(before, s.StudentID).slots, s)
	}
	for _, w := range c.old.Warnings {
		w.ID = 0
		at(before, w.StudentID).warnings = append(at(before, w.StudentID).warnings, w)
	}
	part := PlanPart{What: "student's contacts, slots and warnings"}
	for _, s := range b.Students {
		id := c.students[s.ID]
		now := &own{}
		for i, t := range s.Ties {
			now.ties = append(now.ties, store.StudentContact{StudentID: id, ContactID: c.contacts[t.Contact], CallOrder: i + 1, Relation: t.Relation,
				MayCollect: t.MayCollect, LivesWith: t.LivesWith, DoNotCall: t.DoNotCall})
		}
		for _, d := range s.Schedule {
			now.slots = append(now.slots, store.StudentSlot{StudentID: id, Slot: d.Slot, Weekday: d.Weekday})
		}
		sort.Slice(now.slots, func(i, k int) bool {
			if now.slots[i].Weekday != now.slots[k].Weekday {
				return now.slots[i].Weekday < now.slots[k].Weekday
			}
			return now.slots[i].Slot < now.slots[k].Slot
		})
		for _, w := range s.Warnings {
			now.warnings = append(now.warnings, store.Warning{StudentID: id, Text: w.Text, CareFirst: w.CareFirst})
		}
		was := at(before, id)
		if reflect.DeepEqual(was, now) {
			part.Same++
			continue
		}
		if len(was.ties)+len(was.slots)+len(was.warnings) == 0 {
			part.Added++
		} else {
			part.Changed++
			c.detail("change contacts, slots or warnings of %s %s", s.Given, s.Family)
		}
		c.replaced = append(c.replaced, id)
		c.save.StudentContacts = append(c.save.StudentContacts, now.ties...)
		c.save.Slots = append(c.save.Slots, now.slots...)
		c.save.Warnings = append(c.save.Warnings, now.warnings...)
	}
	c.parts = append(c.parts, part)
}

func (c *rosterChange) enrol(b oneroster.Bundle) {
	known := map[string]day.Date{}
	for _, e := range c.old.Enrollments {
		known[e.SourcedID] = e.From
	}
	began := c.beginnings(b)
	student := map[string]oneroster.Student{}
	for _, s := range b.Students {
		student[s.ID] = s
	}
	var rows []store.Enrollment
	for _, e := range b.Enrollments {
		row := store.Enrollment{SourcedID: e.ID, ClassID: c.classes[e.Class], StudentID: c.students[e.Student], To: e.To}
		switch from, ok := known[e.ID]; {
		case e.From != nil:
			row.From = *e.From
		case ok:
			row.From = from
		default:
			row.From = began(student[e.Student])
		}
		rows = append(rows, row)
	}
	yesterday := c.today - 1
	c.save.Enrollments, _ = differ(c, "enrolment", c.old.Enrollments, rows, func(e *store.Enrollment) *string { return &e.SourcedID },
		func(e *store.Enrollment) *int64 { return &e.ID }, func(e store.Enrollment) string { return e.SourcedID }, func(e *store.Enrollment) bool {
			if e.To != nil && *e.To <= yesterday {
				return false
			}
			e.To = &yesterday
			return true
		})
}

func (c *rosterChange) teach(b oneroster.Bundle) {
	var rows []store.ClassTeacher
	for _, t := range b.Teachings {
		rows = append(rows, store.ClassTeacher{SourcedID: t.ID, ClassID: c.classes[t.Class], StaffID: c.staff[t.Staff], Main: t.Primary})
	}
	part := PlanPart{What: "teacher of a class"}
	before := map[store.ClassTeacher]bool{}
	for _, t := range c.old.Teachers {
		before[t] = true
	}
	for _, t := range rows {
		if before[t] {
			part.Same++
			delete(before, t)
		} else {
			part.Added++
		}
	}
	part.Ended = len(before)
	if part.Added+part.Ended > 0 {
		c.teachers = rows
		if rows == nil {
			c.teachers = []store.ClassTeacher{}
		}
	}
	c.parts = append(c.parts, part)
}
