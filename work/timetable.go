package work

import (
	"context"
	"fmt"

	"meldung/files/oneroster"
	"meldung/files/table"
	"meldung/files/timetable"
	"meldung/store"
)

// ImportTimetable reads calendar, slots and timetable, says what they would
// change, and changes it when asked to: all of it, or nothing where a line is wrong.
func (o *Office) ImportTimetable(ctx context.Context, p Person, key string, files table.Files, apply bool) (Plan, error) {
	read := timetable.Read(files)
	plan := Plan{Details: []string{}, Problems: problemLines(read.Problems), Notes: listed(read.Notes), Parts: []PlanPart{}}
	var next store.School
	err := o.look(func(v view) error {
		var unknown []string
		next, unknown = timetableRows(v.school, read.Bundle)
		plan.Problems = append(plan.Problems, unknown...)
		plan.Parts = []PlanPart{
			replaced("slot", v.school.raw.PatternSlots, next.PatternSlots),
			replaced("date", v.school.raw.Calendar, next.Calendar),
			replaced("meeting of a class", v.school.raw.Timetable, next.Timetable),
		}
		return nil
	})
	if err != nil || !apply || len(plan.Problems) > 0 {
		return plan, err
	}
	plan.Applied = true
	if plan.Changes() == 0 {
		return plan, nil
	}
	if err := o.write(ctx, p, key, "import timetable", &plan, func(w *writing) error { return store.ReplaceTimetable(ctx, w.tx, next) }); err != nil {
		return plan, err
	}
	return plan, o.Reload(ctx)
}

// timetableRows ties the meetings to classes by sourcedId, code or title.
func timetableRows(s *School, b timetable.Bundle) (store.School, []string) {
	class := map[string]int64{}
	for _, name := range []func(store.Class) string{
		func(c store.Class) string { return c.Title },
		func(c store.Class) string { return c.Code },
		func(c store.Class) string { return c.SourcedID },
	} {
		for _, c := range s.raw.Classes {
			if n := name(c); n != "" && !c.Ended {
				class[n] = c.ID
			}
		}
	}
	var out store.School
	var unknown []string
	for _, x := range b.Slots {
		out.PatternSlots = append(out.PatternSlots, store.PatternSlot{Pattern: x.Pattern, Slot: x.Name, Start: x.Start, End: x.End, Kind: x.Kind.String()})
	}
	for _, d := range b.Calendar {
		out.Calendar = append(out.Calendar, store.CalendarDay{Date: d.Date, Pattern: d.Pattern, Term: d.Term, GradingPeriod: d.GradingPeriod})
	}
	for _, m := range b.Meetings {
		id, ok := class[m.Class]
		if !ok {
			unknown = append(unknown, fmt.Sprintf("timetable.csv:%d: class %q is not in the roster, by sourcedId, code or title", m.Line, m.Class))
			continue
		}
		out.Timetable = append(out.Timetable, store.Meeting{ClassID: id, Pattern: m.Pattern, Weekday: m.Weekday, Slot: m.Slot, Room: m.Room})
	}
	return out, unknown
}

// replaced counts what a list that replaces another adds and ends.
func replaced[T comparable](what string, old, now []T) PlanPart {
	part := PlanPart{What: what}
	before := map[T]bool{}
	for _, x := range old {
		before[x] = true
	}
	for _, x := range now {
		if before[x] {
			part.Same++
			delete(before, x)
		} else {
			part.Added++
		}
	}
	part.Ended = len(before)
	return part
}

// ExportTimetable returns the school's calendar, slots and timetable as files.
func (o *Office) ExportTimetable() (table.Files, error) {
	var b timetable.Bundle
	err := o.look(func(v view) error {
		if v.school.Calendar != nil {
			for _, p := range v.school.Calendar.Patterns() {
				for _, s := range p.Slots {
					b.Slots = append(b.Slots, timetable.Slot{Pattern: p.Name, Name: s.Name, Start: s.Start, End: s.End, Kind: s.Kind})
				}
			}
		}
		for _, d := range v.school.raw.Calendar {
			b.Calendar = append(b.Calendar, dayRow(d))
		}
		for _, m := range v.school.raw.Timetable {
			b.Meetings = append(b.Meetings, timetable.Meeting{Class: v.school.Classes[m.ClassID].SourcedID, Pattern: m.Pattern, Weekday: m.Weekday, Slot: m.Slot, Room: m.Room})
		}
		return nil
	})
	return timetable.Write(b), err
}

// ExportRoster returns the school's people and classes as OneRoster files; what
// has ended is left out.
func (o *Office) ExportRoster() (table.Files, error) {
	var b oneroster.Bundle
	err := o.look(func(v view) error {
		b = v.school.bundle()
		return nil
	})
	return oneroster.Write(b), err
}

func (s *School) bundle() oneroster.Bundle {
	var b oneroster.Bundle
	sourced := map[string]map[int64]string{"course": {}, "class": {}, "student": {}, "contact": {}, "staff": {}}
	for _, o := range s.raw.Organisations {
		b.Orgs = append(b.Orgs, oneroster.Org{ID: o.SourcedID, Name: o.Name, Type: o.Type, Identifier: o.Identifier, Parent: o.Parent})
	}
	for _, x := range s.raw.Sessions {
		b.Sessions = append(b.Sessions, oneroster.Session{ID: x.SourcedID, Title: x.Title, Type: x.Type, Start: x.Start, End: x.End, Parent: x.Parent, SchoolYear: x.SchoolYear})
	}
	for _, c := range s.raw.Courses {
		sourced["course"][c.ID] = c.SourcedID
		if !c.Ended {
			b.Courses = append(b.Courses, oneroster.Course{ID: c.SourcedID, Title: c.Title, Code: c.Code, Grades: c.Grades, Subject: c.Subject})
		}
	}
	ended := map[int64]bool{}
	for _, c := range s.raw.Classes {
		sourced["class"][c.ID] = c.SourcedID
		if ended[c.ID] = c.Ended; !c.Ended {
			b.Classes = append(b.Classes, oneroster.Class{ID: c.SourcedID, Title: c.Title, Grades: c.Year, Course: sourced["course"][c.CourseID], Code: c.Code, Type: c.Type, Location: c.Room, Terms: c.Terms})
		}
	}
	for _, p := range s.raw.Staff {
		if !p.Ended {
			sourced["staff"][p.ID] = p.SourcedID
			b.Staff = append(b.Staff, oneroster.Staff{ID: p.SourcedID, Number: p.Number, Given: p.Given, Family: p.Family, Role: p.Role, Email: p.Email, Phone: p.Phone})
		}
	}
	for _, c := range s.raw.Contacts {
		if !c.Ended {
			sourced["contact"][c.ID] = c.SourcedID
			b.Contacts = append(b.Contacts, oneroster.Contact{ID: c.SourcedID, Given: c.Given, Family: c.Family, Phone: c.Phone, SMS: c.SMS, Email: c.Email})
		}
	}
	for _, x := range s.raw.Students {
		sourced["student"][x.ID] = x.SourcedID
		b.Students = append(b.Students, s.rosterStudent(x, sourced["contact"]))
	}
	for _, t := range s.raw.Teachers {
		if staff := sourced["staff"][t.StaffID]; staff != "" && !ended[t.ClassID] {
			b.Teachings = append(b.Teachings, oneroster.Teaching{ID: t.SourcedID, Class: sourced["class"][t.ClassID], Staff: staff, Primary: t.Main})
		}
	}
	for _, e := range s.raw.Enrollments {
		if !ended[e.ClassID] {
			from := e.From
			b.Enrollments = append(b.Enrollments, oneroster.Enrollment{ID: e.SourcedID, Class: sourced["class"][e.ClassID], Student: sourced["student"][e.StudentID], From: &from, To: e.To})
		}
	}
	return b
}

func (s *School) rosterStudent(x store.Student, contacts map[int64]string) oneroster.Student {
	from := x.EnrolledFrom
	out := oneroster.Student{ID: x.SourcedID, Number: x.Number, Given: x.Given, Family: x.Family, Middle: x.Middle, Email: x.Email, Grades: x.Year, Born: x.Born,
		Card: x.Card, Travels: x.Travels, From: &from, To: x.EnrolledTo, ShareHere: x.ShareHere, ShareElsewhere: x.ShareElsewhere}
	for _, r := range s.slots[x.ID] {
		out.Schedule = append(out.Schedule, oneroster.DueSlot{Slot: r.Slot, Weekday: r.Weekday})
	}
	for _, w := range s.warnings[x.ID] {
		out.Warnings = append(out.Warnings, oneroster.Warning{Words: w.Words, CareFirst: w.CareFirst})
	}
	for _, t := range s.ofStudent[x.ID] {
		if id := contacts[t.ContactID]; id != "" {
			out.Ties = append(out.Ties, oneroster.Tie{Contact: id, Relation: t.Relation, MayCollect: t.MayCollect, LivesWith: t.LivesWith, DoNotCall: t.DoNotCall})
		}
	}
	return out
}
