// Package incidentfile reads and writes incidents as two CSV files. It knows how they are written; who
// the students are, and what a school has already, is for who asks.
package incidentfile

import (
	"bytes"
	"slices"
	"strings"

	"meldung/core/conduct"
	"meldung/core/day"
	"meldung/files/table"
)

// The names of the files.
const (
	Incidents = "incidents.csv"
	People    = "incident_people.csv"
)

var columns = map[string][]string{
	Incidents: {"incident", "date", "time", "kind", "place", "what_happened", "actions", "recorded_by"},
	People:    {"incident", "student", "role"},
}

// Row is an incident. Time, place, kind, words, actions and recorder may be empty.
type Row struct {
	ID         string
	Date       day.Date
	Minute     day.Minute // none where it is not known
	Kind       string
	Place      string
	Text       string
	Actions    []string // joined by "; " in the file
	RecordedBy string
	People     []Person
}

// Person is a student's part, with the line that says so.
type Person struct {
	Student string
	Role    conduct.Role
	Line    int
}

// Read reads both files and looks at every row. Where anything is wrong, the problems are by file and line.
func Read(files table.Files) ([]Row, []table.Problem) {
	var rows []Row
	place := map[string]int{}
	var problems []table.Problem
	whole := true // no incident's name was lost
	scan := func(name string, each func(t *table.Table, row table.Row)) {
		content, there := files[name]
		if !there {
			problems = append(problems, table.Problem{File: name, Text: "the file is missing"})
			whole = false
			return
		}
		t := table.Scan(name, bytes.NewReader(content), columns[name], nil, each)
		problems = append(problems, t.Problems...)
		whole = whole && t.Usable && t.Lost == 0
	}
	scan(Incidents, func(t *table.Table, row table.Row) {
		id, named := table.Named(t, row, "incident")
		one := Row{ID: id, Kind: row.Get("kind"), Place: row.Get("place"), Text: row.Get("what_happened"), RecordedBy: row.Get("recorded_by")}
		one.Date, _ = table.Value(t, row, "date", day.ParseDate)
		one.Minute, _ = table.Value(t, row, "time", minute)
		for _, a := range strings.Split(row.Get("actions"), ";") {
			if a = strings.TrimSpace(a); a != "" && !slices.Contains(one.Actions, a) {
				one.Actions = append(one.Actions, a)
			}
		}
		_, twice := place[id]
		switch {
		case !named:
			whole = false
		case twice:
			t.Wrong(row, "the incident %q is there twice", id)
		default:
			place[id] = len(rows)
			rows = append(rows, one)
		}
	})
	scan(People, func(t *table.Table, row table.Row) {
		id, named := table.Named(t, row, "incident")
		student, known := table.Named(t, row, "student")
		role := conduct.Role(row.Get("role"))
		if !slices.Contains(conduct.Roles, role) {
			t.Wrong(row, "role is %q; did it, was harmed or saw it is expected", role)
		}
		if !named || !known {
			return
		}
		i, there := place[id]
		switch {
		case !there && whole:
			t.Wrong(row, "there is no incident %q in %s", id, Incidents)
		case there && slices.ContainsFunc(rows[i].People, func(p Person) bool { return p.Student == student }):
			t.Wrong(row, "the student %q is in the incident %q twice", student, id)
		case there:
			rows[i].People = append(rows[i].People, Person{student, role, row.Line})
		}
	})
	return rows, problems
}

func minute(text string) (day.Minute, error) {
	if text == "" {
		return day.Minute{}, nil
	}
	return day.ParseMinute(text)
}

// Write writes incidents as Read reads them.
func Write(rows []Row) table.Files {
	var incidents, people [][]string
	for _, r := range rows {
		at := ""
		if !r.Minute.IsZero() {
			at = r.Minute.String()
		}
		incidents = append(incidents, []string{r.ID, r.Date.String(), at, r.Kind, r.Place, r.Text, strings.Join(r.Actions, "; "), r.RecordedBy})
		for _, p := range r.People {
			people = append(people, []string{r.ID, p.Student, string(p.Role)})
		}
	}
	return table.Files{Incidents: table.Write(columns[Incidents], incidents), People: table.Write(columns[People], people)}
}
