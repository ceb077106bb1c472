// Package roster brings a school's people, classes, calendar and timetable in from files, with a dry
// run, and out again.
package roster

import (
	"context"
	"fmt"
	"reflect"
	"slices"
	"sort"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/files/oneroster"
	"meldung/files/table"
	"meldung/held"
	"meldung/store"
	"meldung/work"
	"meldung/work/plans"
)

// ImportRoster reads a OneRoster bundle, says what it would change, and changes it when asked
// to: all of it, or nothing where a line is wrong. It holds from today, or from the first
// date of a school year still to come, unless another date is asked for; it says nothing of
// school years after its own.
func ImportRoster(ctx context.Context, o *work.Office, p work.Person, key string, files table.Files, opt plans.Options) (plans.Plan, error) {
	return plans.Run(ctx, o, work.Job{By: p, Key: key, Needs: work.MayImport, Kind: "import roster", Of: []any{files, opt}}, opt, &rosterChange{read: oneroster.Read(files), opt: opt})
}

// rosterChange is a roster to be taken.
type rosterChange struct {
	read oneroster.Result
	opt  plans.Options

	// What is known once it is looked at.
	p       *plans.Plan
	old     store.School
	today   day.Date
	over    day.Dates
	marked  map[ids.Student]day.Date // the last mark of those who have one from today on
	changed store.School             // of the rows that hold at all times, those to write
	next    store.School
	name    string        // of the school
	fresh   []ids.Section // sections that are new

	sections    map[string]ids.Section // by organisation
	sectionName map[ids.Section]string
	classes     map[string]ids.Class
	courses     map[string]ids.Course
	staff       map[string]ids.Staff
	students    map[string]ids.Student
	contacts    map[string]ids.Contact

	keptPerson   map[ids.Contact]store.ContactChange // whom the school itself has changed last
	keptTies     map[ids.Student]store.ContactChange // the students about whose contacts it has
	keptWarnings map[ids.Student]store.WarningChange // and about whose warnings
}

func (c *rosterChange) Plan(ctx context.Context, v work.Snapshot, lastSent day.Date, sent bool) (plans.Plan, store.School, error) {
	p := plans.New(c.read.Problems, c.read.Notes)
	c.p, c.old, c.next, c.changed = &p, v.School.Records().Rows, v.School.Records().Rows, store.School{}
	c.today = v.Now.Date()
	first, last := c.schoolYear()
	usual := day.NoStart
	if len(c.old.Students) > 0 {
		usual = max(v.Now.Date(), first)
	}
	from, err := plans.Beginning(usual, c.opt, lastSent, sent)
	if err != nil {
		return p, c.next, err
	}
	c.over = day.Dates{From: from, To: day.NoEnd}
	if slices.ContainsFunc(c.old.ClassDetails, func(x store.ClassDetail) bool { return x.From > last }) {
		c.over.To = last // what is known of later years stays
	}
	if c.marked, err = store.MarkedFrom(ctx, v.Store(), max(from, 0)); err != nil {
		return p, c.next, err
	}
	p.Hold(c.over, lastSent, sent && c.opt.CorrectPast)
	if err := c.readKept(ctx, v.Store()); err != nil {
		return p, c.next, err
	}
	c.frame()
	c.people()
	c.enrol()
	c.moves(v)
	return p, c.next, nil
}

// schoolYear returns the first and last date of the roster's school year: of several the
// present one, or else the next to come, or the last.
func (c *rosterChange) schoolYear() (first, last day.Date) {
	first, last = day.NoStart, day.NoEnd
	for _, s := range c.read.Bundle.Sessions {
		if s.Type != "schoolYear" {
			continue
		}
		switch nearer := s.End >= c.today && (last < c.today || s.Start < first); {
		case first == day.NoStart, nearer, last < c.today && s.End > last:
			first, last = s.Start, s.End
		}
	}
	return first, last
}

// overOf returns the dates over which something is said of a student. Who has a mark of today
// was there by what held this morning: for them it holds from the day after, unless the
// past is to be corrected.
func (c *rosterChange) overOf(student ids.Student) day.Dates {
	over := c.over
	if last, marked := c.marked[student]; marked && !c.opt.CorrectPast {
		over.From = max(over.From, last+1)
	}
	return over
}

// differ compares rows of one kind with those that are there. It gives ids, and returns the
// rows to write and all as they would be. end is called for a row that is there and no longer
// in the roster; it reports whether that row is to be written as ended.
func differ[T any, ID ~int64](c *rosterChange, what string, old, now []T, key func(*T) *string, id func(*T) *ID, name func(T) string, end func(*T) bool) (write, all []T, given map[string]ID) {
	part := plans.PlanPart{What: what}
	before := map[string]int{}
	next := ID(0)
	all = slices.Clone(old)
	for i := range old {
		before[*key(&old[i])] = i
		next = max(next, *id(&old[i]))
	}
	given = map[string]ID{}
	for i := range now {
		row := now[i]
		k, known := before[*key(&row)]
		if !known {
			next++
			*id(&row) = next
			given[*key(&row)] = next
			part.Added++
			c.p.Detail("add %s %s", what, name(row))
			write, all = append(write, row), append(all, row)
			continue
		}
		*id(&row) = *id(&old[k])
		given[*key(&row)] = *id(&row)
		delete(before, *key(&row))
		differences := fromTo(old[k], row)
		if differences == "" {
			part.Same++
			continue
		}
		part.Changed++
		c.p.Detail("change %s %s: %s", what, name(row), differences)
		write, all[k] = append(write, row), row
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
		c.p.Detail("end %s %s", what, name(row))
		write, all[k] = append(write, row), row
	}
	c.p.Parts = append(c.p.Parts, part)
	return write, all, given
}

// fromTo says which columns of two rows differ, and from what to what; empty for none.
func fromTo(old, now any) string {
	a, b := reflect.ValueOf(old), reflect.ValueOf(now)
	var out []string
	for i := range a.NumField() {
		column := a.Type().Field(i).Tag.Get("db")
		if column == "" || column == "-" || column == "id" || reflect.DeepEqual(a.Field(i).Interface(), b.Field(i).Interface()) {
			continue
		}
		out = append(out, fmt.Sprintf("%s from %s to %s", strings.ReplaceAll(column, "_", " "), orNothing(a.Field(i).Interface()), orNothing(b.Field(i).Interface())))
	}
	return strings.Join(out, ", ")
}

func orNothing(x any) string {
	if text := fmt.Sprint(x); text != "" {
		return text
	}
	return "nothing"
}

// once sets a flag and reports whether it was not set before.
func once(flag *bool) bool {
	was := *flag
	*flag = true
	return !was
}

// frame takes what people are put into: organisations, sessions, courses and classes.
func (c *rosterChange) frame() {
	b := c.read.Bundle
	c.takeSections()
	var orgs []store.Organisation
	for _, o := range b.Orgs {
		orgs = append(orgs, store.Organisation{SourcedID: o.ID, Name: o.Name, Type: o.Type, Identifier: o.Identifier, Parent: o.Parent})
	}
	c.changed.Organisations, c.next.Organisations, _ = differ(c, "organisation", c.old.Organisations, orgs, func(o *store.Organisation) *string { return &o.SourcedID },
		func(o *store.Organisation) *int64 { return &o.ID }, func(o store.Organisation) string { return o.Name }, nil)
	var sessions []store.AcademicSession
	for _, s := range b.Sessions {
		sessions = append(sessions, store.AcademicSession{SourcedID: s.ID, Title: s.Title, Type: s.Type, Start: s.Start, End: s.End, Parent: s.Parent, SchoolYear: s.SchoolYear})
	}
	c.changed.Sessions, c.next.Sessions, _ = differ(c, "academic session", c.old.Sessions, sessions, func(s *store.AcademicSession) *string { return &s.SourcedID },
		func(s *store.AcademicSession) *int64 { return &s.ID }, func(s store.AcademicSession) string { return s.Title }, nil)
	var courses []store.Course
	for _, x := range b.Courses {
		courses = append(courses, store.Course{SourcedID: x.ID, Title: x.Title, Code: x.Code, Grades: x.Grades, Subject: x.Subject})
	}
	c.changed.Courses, c.next.Courses, c.courses = differ(c, "course", c.old.Courses, courses, func(x *store.Course) *string { return &x.SourcedID },
		func(x *store.Course) *ids.Course { return &x.ID }, func(x store.Course) string { return x.Title }, func(x *store.Course) bool { return once(&x.Ended) })

	var classes []store.Class
	title := map[string]string{}
	for _, x := range b.Classes {
		title[x.ID] = x.Title
		classes = append(classes, store.Class{SourcedID: x.ID, Type: x.Type, CourseID: c.courses[x.Course]})
	}
	c.changed.Classes, c.next.Classes, c.classes = differ(c, "class", c.old.Classes, classes, func(x *store.Class) *string { return &x.SourcedID },
		func(x *store.Class) *ids.Class { return &x.ID }, func(x store.Class) string { return title[x.SourcedID] }, nil)
	var details []store.ClassDetail
	for _, x := range b.Classes {
		details = append(details, store.ClassDetail{ClassID: c.classes[x.ID], SectionID: c.sectionOfClass(x), Title: x.Title, Code: x.Code, Year: x.Grades, Room: x.Location, Terms: x.Terms})
	}
	c.next.ClassDetails = plans.Said(c.p, "name of a class", c.old.ClassDetails, details, c.over, func(x store.ClassDetail) ids.Class { return x.ClassID },
		func(x *store.ClassDetail) *store.Held { return &x.Held },
		func(x store.ClassDetail) string {
			return work.Join(", ", x.Title, work.Join(" ", "year", x.Year), x.Room, c.among(x.SectionID))
		})
}

// people takes staff, students and contacts, and what belongs to a student.
func (c *rosterChange) people() {
	b := c.read.Bundle
	var staff []store.Staff
	for _, s := range b.Staff {
		staff = append(staff, store.Staff{SourcedID: s.ID, Number: s.Number, Family: s.Family, Given: s.Given, Role: s.Role, Email: s.Email, Phone: s.Phone})
	}
	c.changed.Staff, c.next.Staff, c.staff = differ(c, "staff", c.old.Staff, staff, func(s *store.Staff) *string { return &s.SourcedID },
		func(s *store.Staff) *ids.Staff { return &s.ID }, func(s store.Staff) string { return s.Given + " " + s.Family }, func(s *store.Staff) bool { return once(&s.Ended) })
	var students []store.Student
	for _, s := range b.Students {
		students = append(students, store.Student{SourcedID: s.ID, Number: s.Number, Family: s.Family, Given: s.Given, Middle: s.Middle, Born: s.Born, Card: s.Card,
			Travels: s.Travels, Email: s.Email})
	}
	c.changed.Students, c.next.Students, c.students = differ(c, "student", c.old.Students, students, func(s *store.Student) *string { return &s.SourcedID },
		func(s *store.Student) *ids.Student { return &s.ID }, func(s store.Student) string { return s.Name() + " " + s.Number }, nil)
	c.sectionsOfStaff()
	c.stays()
	c.details()
	var contacts []store.Contact
	for _, x := range b.Contacts {
		contacts = append(contacts, c.contactOf(store.Contact{SourcedID: x.ID, Family: x.Family, Given: x.Given, Phone: x.Phone, SMS: x.SMS, Email: x.Email, Address: x.Address, Language: x.Language}))
	}
	for _, x := range c.old.Contacts {
		if strings.HasPrefix(x.SourcedID, store.OwnContact) && !c.opt.TakeFiles {
			contacts = append(contacts, x) // no roster knows of them
		}
	}
	c.changed.Contacts, c.next.Contacts, c.contacts = differ(c, "contact", c.old.Contacts, contacts, func(x *store.Contact) *string { return &x.SourcedID },
		func(x *store.Contact) *ids.Contact { return &x.ID }, func(x store.Contact) string { return x.Name() }, func(x *store.Contact) bool { return once(&x.Ended) })
	c.ties()
}

// details takes a student's year, shares of full time and own slots.
func (c *rosterChange) details() {
	there := map[string]bool{}
	for _, x := range c.old.PatternSlots {
		there[x.Slot] = there[x.Slot] || !x.Dates().Common(c.over).Empty()
	}
	names := map[ids.Student]string{}
	for _, s := range c.next.Students {
		names[s.ID] = s.Name()
	}
	var details []store.StudentDetail
	var slots []store.StudentSlot
	sections := c.sectionsOfStudents()
	for _, s := range c.read.Bundle.Students {
		id := c.students[s.ID]
		details = append(details, store.StudentDetail{StudentID: id, SectionID: sections[s.ID], Year: s.Grades, ShareHere: s.ShareHere, ShareElsewhere: s.ShareElsewhere})
		for _, d := range s.Schedule {
			if len(there) > 0 && !there[d.Slot] {
				c.p.Wrong("users.csv:%d: metadata.schedule of %s %s names the slot %q, which is in no day pattern", s.Line, s.Given, s.Family, d.Slot)
			}
			slots = append(slots, store.StudentSlot{StudentID: id, Slot: d.Slot, Weekday: d.Weekday})
		}
	}
	kept, inRoster := slices.Clone(details), map[ids.Student]bool{}
	for _, d := range details {
		inRoster[d.StudentID] = true
	}
	for _, x := range c.old.Details { // who is no longer there keeps the last year and share
		if !inRoster[x.StudentID] && x.On(c.over.From) {
			x.Held = store.Held{}
			kept = append(kept, x)
		}
	}
	old := c.old.Details
	if !c.read.SharesSaid {
		old, kept = withoutShares(old), withoutShares(kept)
	}
	c.next.Details = plans.SaidOver(c.p, "year and share of a student", old, kept, func(x store.StudentDetail) day.Dates { return c.overOf(x.StudentID) }, func(x store.StudentDetail) ids.Student { return x.StudentID },
		func(x *store.StudentDetail) *store.Held { return &x.Held },
		func(x store.StudentDetail) string {
			shares := ""
			if x.ShareHere != "1" || x.ShareElsewhere != "0" {
				shares = fmt.Sprintf("%s here and %s elsewhere", x.ShareHere, x.ShareElsewhere)
			}
			return work.Join(", ", names[x.StudentID], work.Join(" ", "year", x.Year), c.among(x.SectionID), shares)
		})
	if !c.read.SharesSaid {
		c.next.Details = withShares(c.next.Details, c.old.Details)
	}
	if !c.read.ScheduleSaid {
		return // the file says nothing of own slots: those there are stay
	}
	c.next.Slots = plans.SaidOver(c.p, "slot of a part-time student", c.old.Slots, slots, func(x store.StudentSlot) day.Dates { return c.overOf(x.StudentID) }, func(x store.StudentSlot) store.StudentSlot { return x },
		func(x *store.StudentSlot) *store.Held { return &x.Held },
		func(x store.StudentSlot) string {
			return work.Join(", ", names[x.StudentID], work.Join(" ", weekdayName(x.Weekday), x.Slot))
		})
}

// withoutShares leaves the shares out of what is said of students; what then is the same and meets is
// one.
func withoutShares(rows []store.StudentDetail) []store.StudentDetail {
	var out []store.StudentDetail
	last := map[ids.Student]int{}
	rows = slices.Clone(rows)
	slices.SortStableFunc(rows, func(a, b store.StudentDetail) int { return int(a.From - b.From) })
	for _, x := range rows {
		x.ShareHere, x.ShareElsewhere = "1", "0"
		if i, known := last[x.StudentID]; known && out[i].Year == x.Year && out[i].SectionID == x.SectionID && out[i].To != nil && *out[i].To+1 == x.From {
			out[i].To = x.To
			continue
		}
		last[x.StudentID] = len(out)
		out = append(out, x)
	}
	return out
}

// withShares gives what is said of students the shares that they had on each date; full time here where
// nothing was said.
func withShares(rows, old []store.StudentDetail) []store.StudentDetail {
	shares := map[ids.Student][]store.StudentDetail{}
	for _, x := range old {
		shares[x.StudentID] = append(shares[x.StudentID], x)
	}
	var out []store.StudentDetail
	for _, x := range rows {
		list := []day.Dated[store.StudentDetail]{{What: bare(x), On: x.Dates()}}
		for _, s := range shares[x.StudentID] {
			on := s.Dates().Common(x.Dates())
			now := bare(x)
			now.ShareHere, now.ShareElsewhere = s.ShareHere, s.ShareElsewhere
			if !on.Empty() {
				list = day.Supersede(list, &now, on)
			}
		}
		for _, d := range list {
			row := d.What
			row.Held = store.HeldOn(d.On)
			out = append(out, row)
		}
	}
	return out
}

func bare(x store.StudentDetail) store.StudentDetail {
	x.Held = store.Held{}
	return x
}

// count says how many there were and are; one number where they are as many.
func count(was, now int, thing string) string {
	if was == now {
		return work.Count(now, thing)
	}
	return fmt.Sprintf("%d %ss to %d", was, thing, now)
}

func (c *rosterChange) Write(ctx context.Context, tx *work.Tx, v work.Snapshot, next store.School) error {
	if err := store.SaveRoster(ctx, tx.Tx, c.changed, next, tx.Entry); err != nil {
		return err
	}
	if c.opt.TakeFiles {
		if err := store.TakeContactChanges(ctx, tx.Tx, tx.Entry); err != nil {
			return err
		}
		if err := store.TakeWarningChanges(ctx, tx.Tx, tx.Entry); err != nil {
			return err
		}
	}
	for _, s := range v.Sections() {
		if c.name == "" || s.Settings.Name != held.UsualSettings().Name {
			continue
		}
		settings := s.Settings
		settings.Name = c.name
		if err := tx.Decide(ctx, s.ID, settings, 0); err != nil {
			return err
		}
	}
	for _, id := range c.fresh {
		if err := store.CopyDecisions(ctx, tx.Tx, v.Sections()[0].ID, id); err != nil {
			return err
		}
	}
	return nil
}
