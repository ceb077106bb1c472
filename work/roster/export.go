package roster

import (
	"context"
	"fmt"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/files/assess"
	"meldung/files/oneroster"
	"meldung/files/policyfile"
	"meldung/files/table"
	"meldung/held"
	"meldung/store"
	"meldung/work"
)

// ExportRoster returns the school's people and classes, as they are today, as OneRoster files;
// what is over is left out, but for the students who left within the school year.
func ExportRoster(ctx context.Context, o *work.Office) (table.Files, error) {
	var b oneroster.Bundle
	err := o.Read(ctx, func(v work.Snapshot) error {
		b = bundle(v)
		return nil
	})
	return oneroster.Write(b), err
}

func bundle(v work.Snapshot) oneroster.Bundle {
	var b oneroster.Bundle
	s, rows := v.School, v.School.Records().Rows
	org := func(id ids.Section) string {
		if len(s.Sections()) == 1 {
			return ""
		}
		return s.Section(id).SourcedID
	}
	courses, classes, students := map[ids.Course]string{}, map[ids.Class]string{}, map[ids.Student]string{}
	contacts, staff := map[ids.Contact]string{}, map[ids.Staff]string{}
	for _, o := range rows.Organisations {
		b.Orgs = append(b.Orgs, oneroster.Org{ID: o.SourcedID, Name: o.Name, Type: o.Type, Identifier: o.Identifier, Parent: o.Parent})
	}
	for _, x := range rows.Sessions {
		if !overlaps(s.Sections(), x) {
			continue // of another school year
		}
		b.Sessions = append(b.Sessions, oneroster.Session{ID: x.SourcedID, Title: x.Title, Type: x.Type, Start: x.Start, End: x.End, Parent: x.Parent, SchoolYear: x.SchoolYear})
	}
	for _, c := range rows.Courses {
		courses[c.ID] = c.SourcedID
		if !c.Ended {
			b.Courses = append(b.Courses, oneroster.Course{ID: c.SourcedID, Title: c.Title, Code: c.Code, Grades: c.Grades, Subject: c.Subject})
		}
	}
	for _, c := range s.Classes {
		if !c.Ended {
			classes[c.ID] = c.SourcedID
			b.Classes = append(b.Classes, oneroster.Class{ID: c.SourcedID, Title: c.Title, Grades: c.Year, Course: courses[c.CourseID], Code: c.Code, Type: c.Type, Location: c.Room, Terms: c.Terms, School: org(c.Section)})
		}
	}
	for _, p := range rows.Staff {
		if !p.Ended {
			staff[p.ID] = p.SourcedID
			b.Staff = append(b.Staff, oneroster.Staff{ID: p.SourcedID, Number: p.Number, Given: p.Given, Family: p.Family, Role: p.Role, Email: p.Email, Phone: p.Phone, Orgs: orgsOf(rows, p.ID, org)})
		}
	}
	for _, c := range rows.Contacts {
		if !c.Ended {
			contacts[c.ID] = c.SourcedID
			b.Contacts = append(b.Contacts, oneroster.Contact{ID: c.SourcedID, Given: c.Given, Family: c.Family, Phone: c.Phone, SMS: c.SMS, Email: c.Email, Address: c.Address, Language: c.Language})
		}
	}
	for _, x := range s.Students {
		students[x.ID] = x.SourcedID
		student := rosterStudent(v, x, contacts)
		if id := org(x.Section); id != "" {
			student.Orgs = []string{id}
		}
		b.Students = append(b.Students, student)
	}
	for _, t := range rows.Teachers {
		if teacher := staff[t.StaffID]; teacher != "" && classes[t.ClassID] != "" && t.On(v.On) {
			b.Teachings = append(b.Teachings, oneroster.Teaching{ID: t.SourcedID, Class: classes[t.ClassID], Staff: teacher, Primary: t.Main, From: written(t.From), To: t.To})
		}
	}
	for _, e := range rows.Enrollments {
		if classes[e.ClassID] != "" && students[e.StudentID] != "" {
			b.Enrollments = append(b.Enrollments, oneroster.Enrollment{ID: e.SourcedID, Class: classes[e.ClassID], Student: students[e.StudentID], From: written(e.From), To: e.To})
		}
	}
	return b
}

// orgsOf returns the organisations in which a member of staff works.
func orgsOf(rows store.School, staff ids.Staff, org func(ids.Section) string) []string {
	var out []string
	for _, x := range rows.StaffSections {
		if id := org(x.SectionID); x.StaffID == staff && id != "" {
			out = append(out, id)
		}
	}
	return out
}

// overlaps reports whether an academic session has a date of a section's school year, or none
// has one.
func overlaps(sections []*held.Section, x store.AcademicSession) bool {
	years := false
	for _, s := range sections {
		if s.Calendar == nil {
			continue
		}
		years = true
		if first, last := s.Calendar.Span(); x.Start <= last && first <= x.End {
			return true
		}
	}
	return !years
}

// written returns a date as files have it: nil for the beginning.
func written(d day.Date) *day.Date {
	if d == 0 {
		return nil
	}
	return &d
}

func rosterStudent(v work.Snapshot, x store.Student, contacts map[ids.Contact]string) oneroster.Student {
	s := v.School
	out := oneroster.Student{ID: x.SourcedID, Number: x.Number, Given: x.Given, Family: x.Family, Middle: x.Middle, Email: x.Email, Grades: x.Year, Born: x.Born,
		Card: x.Card, Travels: x.Travels, ShareHere: x.ShareHere, ShareElsewhere: x.ShareElsewhere}
	for i, span := range x.Spans { // the present stay, or the last before it
		if i == 0 || span.From <= v.On {
			held := store.HeldOn(span)
			out.From, out.To = written(held.From), held.To
		}
	}
	for _, r := range s.ScheduleOf(x.ID, v.On) {
		out.Schedule = append(out.Schedule, oneroster.DueSlot{Slot: r.Slot, Weekday: r.Weekday})
	}
	for _, w := range s.WarningsOf(x.ID) {
		out.Warnings = append(out.Warnings, oneroster.Warning{Text: w.Text, CareFirst: w.CareFirst})
	}
	for _, t := range s.TiesOf(x.ID) {
		if id := contacts[t.ContactID]; id != "" {
			out.Ties = append(out.Ties, oneroster.Tie{Contact: id, Relation: t.Relation, MayCollect: t.MayCollect, LivesWith: t.LivesWith, DoNotCall: t.DoNotCall})
		}
	}
	return out
}

// policies adds the policies of the snapshot's date, with a code set that the section uses.
func policies(ctx context.Context, v work.Section, files table.Contents, folder, codes string) error {
	own, err := store.CodeSets(ctx, v.Store())
	if err != nil {
		return err
	}
	if text, isOwn := own[codes]; isOwn {
		files[folder+"codes-"+codes+".yaml"] = table.Whole([]byte(text))
		codes = "codes-" + codes + ".yaml"
	}
	list, err := v.PoliciesOn(v.On)
	if err != nil {
		return err
	}
	for _, p := range list {
		text, err := v.PolicyText(p.ID, v.On)
		if err != nil {
			return err
		}
		if text, err = policyfile.WithCodes(text, codes); err != nil {
			return fmt.Errorf("the policy %s: %w", p.ID, err)
		}
		files[folder+"policy-"+p.ID+".yaml"] = table.Whole(text)
	}
	return nil
}

// ExportAssess returns what WriteAssess writes.
func ExportAssess(ctx context.Context, o *work.Office, d day.Date, section string) (files table.Files, err error) {
	err = WriteAssess(ctx, o, d, section, func(c table.Contents) error {
		files, err = c.Files()
		return err
	})
	return files, err
}

// WriteAssess gives write the school year of a date as the files that are measured by "meldung
// assess", and the shipped policies with the section's own codes. Measured by them, the files
// give the figures of the Absence page. A school with several sections has a folder for each,
// or the one that is asked for by its organisation's sourcedId or name; where the codes
// changed within the year there is a folder for each stretch of it. Marks that a closure set
// aside are left out.
func WriteAssess(ctx context.Context, o *work.Office, d day.Date, section string, write func(table.Contents) error) error {
	return o.ReadOn(ctx, d, func(v work.Snapshot) error {
		sections := v.Sections()
		if section != "" {
			one, ok := sectionNamed(sections, section)
			if !ok {
				return work.NotFoundf("there is no section %q, by its organisation's sourcedId or name; nothing was written", section)
			}
			sections = []work.Section{one}
		}
		files := table.Contents{}
		written := 0
		for _, s := range sections {
			folder := ""
			if len(sections) > 1 {
				folder = s.SourcedID + "/"
			}
			if s.Ledger == nil {
				continue
			}
			written++
			if err := exportSection(ctx, s, files, folder); err != nil {
				return err
			}
		}
		if written == 0 {
			return work.NoCalendar()
		}
		return write(files)
	})
}

// exportSection adds a section's school year.
func exportSection(ctx context.Context, v work.Section, files table.Contents, within string) error {
	first, last := v.Calendar.Span()
	form := v.School.Records().On(last)
	var people []assess.Person
	for _, s := range v.Students { // in the order of the ledger
		people = append(people, assess.Person{Family: s.Family, Given: s.Given, Year: s.Year, Form: form.Form(s.ID, last)})
	}
	stretches := v.CodesOver(day.Dates{From: first, To: last})
	for n, x := range stretches {
		to := last
		folder := within
		if n+1 < len(stretches) {
			to = stretches[n+1].From - 1
		}
		if len(stretches) > 1 {
			folder += x.From.String() + "/"
		}
		for name, content := range assess.Write(v.Ledger, people, day.Dates{From: x.From, To: to}) {
			files[folder+name] = content
		}
		if err := policies(ctx, v, files, folder, x.Settings.Codes); err != nil {
			return err
		}
	}
	return nil
}
