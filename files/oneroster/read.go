package oneroster

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"meldung/core/day"
	"meldung/core/policy"
	"meldung/files/table"
)

// Result is a roster as it was read, what is wrong with it, and what is worth
// knowing though it is not wrong.
type Result struct {
	// Whether users.csv has the columns of shares and own slots: without them it says nothing of these.
	SharesSaid, ScheduleSaid bool
	Bundle                   Bundle
	Problems                 []table.Problem
	Notes                    []string
}

type reader struct {
	files  table.Files
	needed map[string][]string // columns of each file
	out    Result
	seen   map[string]map[string]bool // ids by file
	lost   map[string]bool            // files of which nothing could be read
	gone   map[string][]string        // ids by file of what is to be deleted

	places map[[2]string][]day.Dates // of a user in a class
}

// needed are the columns without which a file can't be used.
var needed = map[string][]string{
	"orgs.csv":             {"sourcedId", "name", "type"},
	"academicSessions.csv": {"sourcedId", "title", "type", "startDate", "endDate", "schoolYear"},
	"courses.csv":          {"sourcedId", "title"},
	"classes.csv":          {"sourcedId", "title", "courseSourcedId", "classType"},
	"users.csv":            {"sourcedId", "role", "givenName", "familyName"},
	"enrollments.csv":      {"sourcedId", "classSourcedId", "userSourcedId", "role"},
	"demographics.csv":     {"sourcedId"},
}

// Read reads a roster. Every row is looked at; a row that is wrong is left out
// and said, by file and line.
func Read(files table.Files) Result {
	r := &reader{files: files, needed: needed, seen: map[string]map[string]bool{}, lost: map[string]bool{}, gone: map[string][]string{}, places: map[[2]string][]day.Dates{}}
	if _, ok := files["manifest.csv"]; !ok {
		r.note("there is no manifest.csv; the files are taken as they are")
	}
	for _, name := range files.Names() {
		if columns[name] == nil {
			r.note("%s is not a file of this standard that is used here; it is left out", name)
		}
	}
	r.orgs()
	r.sessions()
	r.courses()
	r.classes()
	r.users()
	r.enrollments()
	r.demographics()
	r.look()
	return r.out
}

func (r *reader) note(format string, args ...any) {
	r.out.Notes = append(r.out.Notes, fmt.Sprintf(format, args...))
}

// each gives the active rows of a file whose id is new.
func (r *reader) each(name string, must bool, yield func(t *table.Table, row table.Row)) {
	r.seen[name] = map[string]bool{}
	content, ok := r.files[name]
	if !ok {
		r.lost[name] = true
		if must {
			r.out.Problems = append(r.out.Problems, table.Problem{File: name, Text: "the file is missing"})
		}
		return
	}
	optional := columns[name]
	if optional == nil {
		optional = gradebookColumns[name]
	}
	if name == "users.csv" {
		optional = append(append([]string(nil), optional...), metadata...)
	}
	t := table.Read(name, content, r.needed[name], without(optional, r.needed[name]))
	r.lost[name] = !t.Usable
	if len(t.Unknown) > 0 {
		r.note("%s: columns left out: %s", name, strings.Join(t.Unknown, ", "))
	}
	for _, row := range t.Rows {
		id := row.Get("sourcedId")
		switch {
		case id == "":
			t.Wrong(row, "sourcedId is empty")
		case r.seen[name][id]:
			t.Wrong(row, "sourcedId %q is there twice", id)
		case row.Get("status") == "tobedeleted":
			r.seen[name][id] = true
			r.gone[name] = append(r.gone[name], id)
		default:
			r.seen[name][id] = true
			yield(t, row)
		}
	}
	r.out.Problems = append(r.out.Problems, t.Problems...)
}

func without(list, out []string) []string {
	var kept []string
	for _, c := range list {
		drop := false
		for _, o := range out {
			drop = drop || o == c
		}
		if !drop {
			kept = append(kept, c)
		}
	}
	return kept
}

func (r *reader) orgs() {
	r.each("orgs.csv", true, func(_ *table.Table, row table.Row) {
		r.out.Bundle.Orgs = append(r.out.Bundle.Orgs, Org{row.Get("sourcedId"), row.Get("name"), row.Get("type"), row.Get("identifier"), row.Get("parentSourcedId")})
	})
}

func (r *reader) sessions() {
	r.each("academicSessions.csv", true, func(t *table.Table, row table.Row) {
		start, okStart := date(t, row, "startDate", true)
		end, okEnd := date(t, row, "endDate", true)
		if !okStart || !okEnd {
			return
		}
		if *end < *start {
			t.Wrong(row, "endDate %s is before startDate %s", *end, *start)
			return
		}
		r.out.Bundle.Sessions = append(r.out.Bundle.Sessions, Session{row.Get("sourcedId"), row.Get("title"), row.Get("type"), *start, *end, row.Get("parentSourcedId"), row.Get("schoolYear")})
	})
}

func date(t *table.Table, row table.Row, column string, must bool) (*day.Date, bool) {
	text := row.Get(column)
	if text == "" {
		if must {
			t.Wrong(row, "%s is empty", column)
		}
		return nil, !must
	}
	d, err := day.ParseDate(text)
	if err != nil {
		t.Wrong(row, "%s %v", column, err)
		return nil, false
	}
	return &d, true
}

func (r *reader) courses() {
	r.each("courses.csv", true, func(_ *table.Table, row table.Row) {
		r.out.Bundle.Courses = append(r.out.Bundle.Courses, Course{row.Get("sourcedId"), row.Get("title"), row.Get("courseCode"), row.Get("grades"), row.Get("subjects")})
	})
}

func (r *reader) classes() {
	courses := map[string]bool{}
	for _, c := range r.out.Bundle.Courses {
		courses[c.ID] = true
	}
	r.each("classes.csv", true, func(t *table.Table, row table.Row) {
		kind := row.Get("classType")
		if kind != "homeroom" && kind != "scheduled" {
			t.Wrong(row, "classType %q is neither homeroom nor scheduled", kind)
			return
		}
		if !courses[row.Get("courseSourcedId")] && !r.lost["courses.csv"] {
			t.Wrong(row, "courseSourcedId %q is not among the active rows of courses.csv", row.Get("courseSourcedId"))
			return
		}
		r.out.Bundle.Classes = append(r.out.Bundle.Classes, Class{row.Get("sourcedId"), row.Get("title"), row.Get("grades"), row.Get("courseSourcedId"),
			row.Get("classCode"), kind, row.Get("location"), row.Get("termSourcedIds"), row.Get("schoolSourcedId"), row.Line})
	})
}

func (r *reader) users() {
	agents := map[string][]string{} // students by the guardian that lists them
	type listed struct {
		t   *table.Table
		row table.Row
		s   int
	}
	var students []listed
	contacts := map[string]bool{}
	r.each("users.csv", true, func(t *table.Table, row table.Row) {
		id, given, family := row.Get("sourcedId"), row.Get("givenName"), row.Get("familyName")
		if given == "" && family == "" {
			t.Wrong(row, "user %q has no name", id)
			return
		}
		switch role := row.Get("role"); role {
		case "student":
			s, ok := r.student(t, row)
			if ok {
				r.out.Bundle.Students = append(r.out.Bundle.Students, s)
				students = append(students, listed{t, row, len(r.out.Bundle.Students) - 1})
			}
		case "guardian", "parent", "relative":
			contacts[id] = true
			r.out.Bundle.Contacts = append(r.out.Bundle.Contacts, Contact{ID: id, Given: given, Family: family, Phone: row.Get("phone"), SMS: row.Get("sms"), Email: row.Get("email"),
				Address: strings.ReplaceAll(row.Get("metadata.address"), "|", "\n"), Language: row.Get("metadata.language")})
			for _, s := range ids(row.Get("agentSourcedIds")) {
				agents[s] = append(agents[s], id)
			}
		case "teacher", "administrator", "aide", "proctor":
			r.out.Bundle.Staff = append(r.out.Bundle.Staff, Staff{id, row.Get("identifier"), given, family, role, row.Get("email"), row.Get("phone"), ids(row.Get("orgSourcedIds"))})
		default:
			t.Wrong(row, "role %q is not one of student, guardian, parent, relative, teacher, administrator, aide, proctor", role)
		}
	})
	for _, l := range students {
		s := &r.out.Bundle.Students[l.s]
		before := len(l.t.Problems)
		s.Ties = ties(l.t, l.row, s.ID, agents[s.ID], contacts)
		r.out.Problems = append(r.out.Problems, l.t.Problems[before:]...)
	}
	order(r.out.Problems)
}

func (r *reader) student(t *table.Table, row table.Row) (Student, bool) {
	s := Student{Line: row.Line, Orgs: ids(row.Get("orgSourcedIds")), ID: row.Get("sourcedId"), Number: row.Get("identifier"), Given: row.Get("givenName"), Family: row.Get("familyName"), Middle: row.Get("middleName"),
		Email: row.Get("email"), Grades: row.Get("grades"), Card: row.Get("metadata.card"), Travels: row.Get("metadata.travels"),
		ShareHere: row.Get("metadata.shareHere"), ShareElsewhere: row.Get("metadata.shareElsewhere")}
	r.out.SharesSaid, r.out.ScheduleSaid = t.Has("metadata.shareHere") || t.Has("metadata.shareElsewhere"), t.Has("metadata.schedule")
	if s.Number == "" {
		s.Number = s.ID
	}
	var okFrom, okTo bool
	s.From, okFrom = date(t, row, "metadata.enrolledFrom", false)
	s.To, okTo = date(t, row, "metadata.enrolledTo", false)
	ok := okFrom && okTo
	for column, share := range map[string]*string{"metadata.shareHere": &s.ShareHere, "metadata.shareElsewhere": &s.ShareElsewhere} {
		if *share == "" {
			*share = map[string]string{"metadata.shareHere": "1", "metadata.shareElsewhere": "0"}[column]
			continue
		}
		if f, err := policy.ParseFraction(*share); err != nil || f.Cmp(1, 1) < 0 {
			t.Wrong(row, "%s %q is not a number from 0 to 1", column, *share)
			ok = false
		}
	}
	for _, text := range ids(row.Get("metadata.schedule")) {
		slot, weekday, split := strings.Cut(text, "@")
		d := DueSlot{Slot: slot}
		switch n, err := strconv.Atoi(weekday); {
		case split && (err != nil || n < 1 || n > 7):
			t.Wrong(row, "metadata.schedule: %q has no weekday from 1 to 7", text)
			ok = false
			continue
		case slot == "":
			t.Wrong(row, "metadata.schedule: %q names no slot", text)
			ok = false
			continue
		case split:
			d.Weekday = n
		}
		if slices.Contains(s.Schedule, d) {
			t.Wrong(row, "metadata.schedule: %q is there twice", text)
			ok = false
			continue
		}
		s.Schedule = append(s.Schedule, d)
	}
	for _, text := range texts(row.Get("metadata.warnings")) {
		s.Warnings = append(s.Warnings, Warning{strings.TrimPrefix(text, careFirst), strings.HasPrefix(text, careFirst)})
	}
	return s, ok
}

// ties returns a student's contacts: those in the call order first, then those
// listed on either side.
func ties(t *table.Table, row table.Row, student string, listedBy []string, contacts map[string]bool) []Tie {
	var out []Tie
	place := map[string]int{}
	relations := texts(row.Get("metadata.relations"))
	add := func(id, relation, column string) {
		if _, twice := place[id]; twice {
			return
		}
		if !contacts[id] {
			t.Wrong(row, "%s of %q names %q, who is no guardian in users.csv", column, student, id)
			return
		}
		place[id] = len(out)
		out = append(out, Tie{Contact: id, Relation: relation})
	}
	for i, id := range ids(row.Get("metadata.callOrder")) {
		relation := ""
		if i < len(relations) {
			relation = relations[i]
		}
		add(id, relation, "metadata.callOrder")
	}
	for _, id := range ids(row.Get("agentSourcedIds")) {
		add(id, "", "agentSourcedIds")
	}
	for _, id := range listedBy {
		add(id, "", "agentSourcedIds")
	}
	for column, set := range map[string]func(*Tie){
		"metadata.mayCollect": func(x *Tie) { x.MayCollect = true },
		"metadata.livesWith":  func(x *Tie) { x.LivesWith = true },
		"metadata.doNotCall":  func(x *Tie) { x.DoNotCall = true },
	} {
		for _, id := range ids(row.Get(column)) {
			if i, ok := place[id]; ok {
				set(&out[i])
			} else {
				t.Wrong(row, "%s names %q, who is no contact of %q", column, id, student)
			}
		}
	}
	return out
}

// ids splits a list of ids.
func ids(text string) []string {
	var out []string
	for _, part := range strings.Split(text, ",") {
		if part = strings.TrimSpace(part); part != "" {
			out = append(out, part)
		}
	}
	return out
}

// texts splits a list of texts, empty ones kept in their place.
func texts(text string) []string {
	if text == "" {
		return nil
	}
	return strings.Split(text, "|")
}

func (r *reader) enrollments() {
	students, staff, classes := map[string]bool{}, map[string]bool{}, map[string]bool{}
	for _, s := range r.out.Bundle.Students {
		students[s.ID] = true
	}
	for _, s := range r.out.Bundle.Staff {
		staff[s.ID] = true
	}
	for _, c := range r.out.Bundle.Classes {
		classes[c.ID] = true
	}
	r.each("enrollments.csv", true, func(t *table.Table, row table.Row) {
		class, user := row.Get("classSourcedId"), row.Get("userSourcedId")
		if r.lost["classes.csv"] || r.lost["courses.csv"] || r.lost["users.csv"] {
			return // what is wrong there says it all
		}
		if !classes[class] {
			t.Wrong(row, "classSourcedId %q is not in classes.csv", class)
			return
		}
		from, okFrom := date(t, row, "beginDate", false)
		to, okTo := date(t, row, "endDate", false)
		switch {
		case !okFrom || !okTo:
		case from != nil && to != nil && *to < *from:
			t.Wrong(row, "endDate %s is before beginDate %s", *to, *from)
		case r.twice(t, row, class, user, from, to):
		case row.Get("role") == "student" && students[user]:
			r.out.Bundle.Enrollments = append(r.out.Bundle.Enrollments, Enrollment{row.Get("sourcedId"), class, user, from, to})
		case row.Get("role") != "student" && staff[user]:
			r.out.Bundle.Teachings = append(r.out.Bundle.Teachings, Teaching{row.Get("sourcedId"), class, user, row.Get("primary") != "false", from, to})
		default:
			t.Wrong(row, "userSourcedId %q is no %s in users.csv", user, row.Get("role"))
		}
	})
}

// twice says that someone is in a class twice at a time, in either role.
func (r *reader) twice(t *table.Table, row table.Row, class, user string, from, to *day.Date) bool {
	on, k := datesOf(from, to), [2]string{class, user}
	for _, other := range r.places[k] {
		if !on.Common(other).Empty() {
			t.Wrong(row, "%q is in the class %q twice at a time", user, class)
			return true
		}
	}
	r.places[k] = append(r.places[k], on)
	return false
}

func datesOf(from, to *day.Date) day.Dates {
	out := day.Always
	if from != nil {
		out.From = *from
	}
	if to != nil {
		out.To = *to
	}
	return out
}

func (r *reader) demographics() {
	place := map[string]int{}
	for i, s := range r.out.Bundle.Students {
		place[s.ID] = i
	}
	r.each("demographics.csv", false, func(t *table.Table, row table.Row) {
		born, ok := date(t, row, "birthDate", false)
		if i, known := place[row.Get("sourcedId")]; known && ok && born != nil {
			r.out.Bundle.Students[i].Born = born.String()
		}
	})
}

// look notes what is not wrong and should not be missed.
func (r *reader) look() {
	used := map[string]bool{}
	for _, s := range r.out.Bundle.Students {
		if len(s.Ties) == 0 {
			r.note("%s %s (%s) has no guardian on file", s.Given, s.Family, s.Number)
		}
		for _, t := range s.Ties {
			used[t.Contact] = true
		}
	}
	for _, c := range r.out.Bundle.Contacts {
		if !used[c.ID] {
			r.note("%s %s (%s) is a guardian without a student", c.Given, c.Family, c.ID)
		}
	}
}

// order puts problems in the order of file and line.
func order(list []table.Problem) {
	for i := 1; i < len(list); i++ {
		for k := i; k > 0 && list[k].File == list[k-1].File && list[k].Line < list[k-1].Line; k-- {
			list[k], list[k-1] = list[k-1], list[k]
		}
	}
}
