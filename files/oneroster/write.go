package oneroster

import (
	"cmp"
	"fmt"
	"strconv"
	"strings"

	"meldung/core/day"
	"meldung/files/table"
)

// Write returns a roster as the standard's bulk files.
func Write(b Bundle) table.Files {
	files := table.Files{}
	add := func(name string, rows []map[string]string, extra ...string) {
		header := append(append([]string(nil), columns[name]...), extra...)
		out := make([][]string, len(rows))
		for i, r := range rows {
			out[i] = make([]string, len(header))
			for k, c := range header {
				out[i][k] = r[c]
			}
		}
		files[name] = table.Write(header, out)
	}
	school := "" // what belongs to no section in particular
	if len(b.Orgs) > 0 {
		school = b.Orgs[0].ID
	}
	schoolOf := map[string]string{} // by class
	for _, c := range b.Classes {
		schoolOf[c.ID] = cmp.Or(c.School, school)
	}
	add("manifest.csv", manifest())
	add("orgs.csv", each(b.Orgs, func(o Org) map[string]string {
		return map[string]string{"sourcedId": o.ID, "name": o.Name, "type": o.Type, "identifier": o.Identifier, "parentSourcedId": o.Parent}
	}))
	add("academicSessions.csv", each(b.Sessions, func(s Session) map[string]string {
		return map[string]string{"sourcedId": s.ID, "title": s.Title, "type": s.Type, "startDate": s.Start.String(), "endDate": s.End.String(), "parentSourcedId": s.Parent, "schoolYear": s.SchoolYear}
	}))
	add("courses.csv", each(b.Courses, func(c Course) map[string]string {
		return map[string]string{"sourcedId": c.ID, "title": c.Title, "courseCode": c.Code, "grades": c.Grades, "orgSourcedId": school, "subjects": c.Subject}
	}))
	add("classes.csv", each(b.Classes, func(c Class) map[string]string {
		return map[string]string{"sourcedId": c.ID, "title": c.Title, "grades": c.Grades, "courseSourcedId": c.Course, "classCode": c.Code, "classType": c.Type, "location": c.Location, "schoolSourcedId": schoolOf[c.ID], "termSourcedIds": c.Terms}
	}))
	add("users.csv", users(b, school), metadata...)
	add("enrollments.csv", enrollments(b, schoolOf))
	add("demographics.csv", each(b.Students, func(s Student) map[string]string {
		return map[string]string{"sourcedId": s.ID, "birthDate": s.Born}
	}))
	return files
}

func each[T any](list []T, f func(T) map[string]string) []map[string]string {
	out := make([]map[string]string, len(list))
	for i, x := range list {
		out[i] = f(x)
	}
	return out
}

func manifest() []map[string]string {
	out := []map[string]string{
		{"propertyName": "manifest.version", "value": "1.0"},
		{"propertyName": "oneroster.version", "value": "1.1"},
	}
	for _, name := range []string{"academicSessions", "categories", "classes", "classResources", "courses", "courseResources", "demographics", "enrollments", "lineItems", "orgs", "resources", "results", "users"} {
		value := "absent"
		if columns[name+".csv"] != nil {
			value = "bulk"
		}
		out = append(out, map[string]string{"propertyName": "file." + name, "value": value})
	}
	return append(out, map[string]string{"propertyName": "source.systemName", "value": "Meldung"})
}

func users(b Bundle, school string) []map[string]string {
	var out []map[string]string
	for _, s := range b.Staff {
		out = append(out, map[string]string{"sourcedId": s.ID, "enabledUser": "true", "orgSourcedIds": cmp.Or(strings.Join(s.Orgs, ","), school), "role": s.Role, "username": s.Email,
			"givenName": s.Given, "familyName": s.Family, "identifier": s.Number, "email": s.Email, "phone": s.Phone})
	}
	of := map[string][]string{}
	for _, s := range b.Students {
		row := map[string]string{"sourcedId": s.ID, "enabledUser": "true", "orgSourcedIds": cmp.Or(strings.Join(s.Orgs, ","), school), "role": "student", "username": s.Number,
			"givenName": s.Given, "familyName": s.Family, "middleName": s.Middle, "identifier": s.Number, "email": s.Email, "grades": s.Grades,
			"metadata.card": s.Card, "metadata.travels": s.Travels, "metadata.enrolledFrom": dateText(s.From), "metadata.enrolledTo": dateText(s.To),
			"metadata.shareHere": s.ShareHere, "metadata.shareElsewhere": s.ShareElsewhere}
		var agents, relations, collect, lives, never, warnings, schedule []string
		for _, t := range s.Ties {
			of[t.Contact] = append(of[t.Contact], s.ID)
			agents, relations = append(agents, t.Contact), append(relations, t.Relation)
			for _, f := range []struct {
				is   bool
				list *[]string
			}{{t.MayCollect, &collect}, {t.LivesWith, &lives}, {t.DoNotCall, &never}} {
				if f.is {
					*f.list = append(*f.list, t.Contact)
				}
			}
		}
		for _, w := range s.Warnings {
			text := w.Text
			if w.CareFirst {
				text = careFirst + text
			}
			warnings = append(warnings, text)
		}
		for _, d := range s.Schedule {
			text := d.Slot
			if d.Weekday > 0 {
				text = fmt.Sprintf("%s@%d", d.Slot, d.Weekday)
			}
			schedule = append(schedule, text)
		}
		row["agentSourcedIds"], row["metadata.callOrder"] = strings.Join(agents, ","), strings.Join(agents, ",")
		row["metadata.relations"], row["metadata.warnings"] = strings.Join(relations, "|"), strings.Join(warnings, "|")
		row["metadata.mayCollect"], row["metadata.livesWith"], row["metadata.doNotCall"] = strings.Join(collect, ","), strings.Join(lives, ","), strings.Join(never, ",")
		row["metadata.schedule"] = strings.Join(schedule, ",")
		out = append(out, row)
	}
	for _, c := range b.Contacts {
		out = append(out, map[string]string{"sourcedId": c.ID, "enabledUser": "true", "orgSourcedIds": school, "role": "guardian", "username": c.ID,
			"givenName": c.Given, "familyName": c.Family, "email": c.Email, "sms": c.SMS, "phone": c.Phone, "agentSourcedIds": strings.Join(of[c.ID], ","), "metadata.address": strings.ReplaceAll(c.Address, "\n", "|"), "metadata.language": c.Language})
	}
	return out
}

func dateText(d *day.Date) string {
	if d == nil {
		return ""
	}
	return d.String()
}

func enrollments(b Bundle, schoolOf map[string]string) []map[string]string {
	var out []map[string]string
	for _, t := range b.Teachings {
		out = append(out, map[string]string{"sourcedId": t.ID, "classSourcedId": t.Class, "schoolSourcedId": schoolOf[t.Class], "userSourcedId": t.Staff, "role": "teacher", "primary": strconv.FormatBool(t.Primary),
			"beginDate": dateText(t.From), "endDate": dateText(t.To)})
	}
	for _, e := range b.Enrollments {
		out = append(out, map[string]string{"sourcedId": e.ID, "classSourcedId": e.Class, "schoolSourcedId": schoolOf[e.Class], "userSourcedId": e.Student, "role": "student",
			"beginDate": dateText(e.From), "endDate": dateText(e.To)})
	}
	return out
}
