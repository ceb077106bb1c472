package roster

import (
	"meldung/core/day"
	"meldung/core/ids"
	"meldung/files/assess"
	"meldung/files/oneroster"
	"meldung/files/policyfile"
	"meldung/files/table"
	"meldung/store"
	"meldung/work"
)

// ExportRoster returns the school's people and classes as OneRoster files; what
// has ended is left out.
func ExportRoster(o *work.Office) (table.Files, error) {
	var b oneroster.Bundle
	err := o.Read(func(v work.Snapshot) error {
		b = bundle(v.School)
		return nil
	})
	return oneroster.Write(b), err
}

func bundle(s *work.School) oneroster.Bundle {
	var b oneroster.Bundle
	courses, classes, students := map[ids.Course]string{}, map[ids.Class]string{}, map[ids.Student]string{}
	contacts, staff := map[ids.Contact]string{}, map[ids.Staff]string{}
	for _, o := range s.Rows.Organisations {
		b.Orgs = append(b.Orgs, oneroster.Org{ID: o.SourcedID, Name: o.Name, Type: o.Type, Identifier: o.Identifier, Parent: o.Parent})
	}
	for _, x := range s.Rows.Sessions {
		b.Sessions = append(b.Sessions, oneroster.Session{ID: x.SourcedID, Title: x.Title, Type: x.Type, Start: x.Start, End: x.End, Parent: x.Parent, SchoolYear: x.SchoolYear})
	}
	for _, c := range s.Rows.Courses {
		courses[c.ID] = c.SourcedID
		if !c.Ended {
			b.Courses = append(b.Courses, oneroster.Course{ID: c.SourcedID, Title: c.Title, Code: c.Code, Grades: c.Grades, Subject: c.Subject})
		}
	}
	ended := map[ids.Class]bool{}
	for _, c := range s.Rows.Classes {
		classes[c.ID] = c.SourcedID
		if ended[c.ID] = c.Ended; !c.Ended {
			b.Classes = append(b.Classes, oneroster.Class{ID: c.SourcedID, Title: c.Title, Grades: c.Year, Course: courses[c.CourseID], Code: c.Code, Type: c.Type, Location: c.Room, Terms: c.Terms})
		}
	}
	for _, p := range s.Rows.Staff {
		if !p.Ended {
			staff[p.ID] = p.SourcedID
			b.Staff = append(b.Staff, oneroster.Staff{ID: p.SourcedID, Number: p.Number, Given: p.Given, Family: p.Family, Role: p.Role, Email: p.Email, Phone: p.Phone})
		}
	}
	for _, c := range s.Rows.Contacts {
		if !c.Ended {
			contacts[c.ID] = c.SourcedID
			b.Contacts = append(b.Contacts, oneroster.Contact{ID: c.SourcedID, Given: c.Given, Family: c.Family, Phone: c.Phone, SMS: c.SMS, Email: c.Email})
		}
	}
	for _, x := range s.Rows.Students {
		students[x.ID] = x.SourcedID
		b.Students = append(b.Students, rosterStudent(s, x, contacts))
	}
	for _, t := range s.Rows.Teachers {
		if teacher := staff[t.StaffID]; teacher != "" && !ended[t.ClassID] {
			b.Teachings = append(b.Teachings, oneroster.Teaching{ID: t.SourcedID, Class: classes[t.ClassID], Staff: teacher, Primary: t.Main})
		}
	}
	for _, e := range s.Rows.Enrollments {
		if !ended[e.ClassID] {
			from := e.From
			b.Enrollments = append(b.Enrollments, oneroster.Enrollment{ID: e.SourcedID, Class: classes[e.ClassID], Student: students[e.StudentID], From: &from, To: e.To})
		}
	}
	return b
}

func rosterStudent(s *work.School, x store.Student, contacts map[ids.Contact]string) oneroster.Student {
	from := x.EnrolledFrom
	out := oneroster.Student{ID: x.SourcedID, Number: x.Number, Given: x.Given, Family: x.Family, Middle: x.Middle, Email: x.Email, Grades: x.Year, Born: x.Born,
		Card: x.Card, Travels: x.Travels, From: &from, To: x.EnrolledTo, ShareHere: x.ShareHere, ShareElsewhere: x.ShareElsewhere}
	for _, r := range s.ScheduleOf(x.ID) {
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

// ExportAssess returns the school's year as the files that are measured by
// "meldung assess", and the shipped policies with the school's own codes. Measured
// by them, the files give the figures of the Absence page.
func ExportAssess(o *work.Office) (table.Files, error) {
	var files table.Files
	err := o.Read(func(v work.Snapshot) error {
		if v.Ledger == nil {
			return work.NoCalendar()
		}
		_, last := v.School.Calendar.Span()
		var people []assess.Person
		for _, s := range v.School.Students { // in the order of the ledger
			people = append(people, assess.Person{Family: s.Family, Given: s.Given, Year: s.Year, Form: v.School.Form(s.ID, last)})
		}
		files = assess.Write(v.Ledger, people, day.Always)
		for _, id := range policyfile.Policies() {
			text, err := policyfile.TextWithCodes(id, v.Settings.Codes)
			if err != nil {
				return err
			}
			files["policy-"+id+".yaml"] = text
		}
		return nil
	})
	return files, err
}
