package oneroster

import (
	"fmt"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/policy"
	"meldung/files/table"
)

// The gradebook's files.
const (
	Categories = "categories.csv"
	LineItems  = "lineItems.csv"
	Results    = "results.csv"
)

// gradebookColumns are the header columns of the standard's gradebook.
var gradebookColumns = map[string][]string{
	Categories: {"sourcedId", "status", "dateLastModified", "title"},
	LineItems:  {"sourcedId", "status", "dateLastModified", "title", "description", "assignDate", "dueDate", "classSourcedId", "categorySourcedId", "gradingPeriodSourcedId", "resultValueMin", "resultValueMax"},
	Results:    {"sourcedId", "status", "dateLastModified", "lineItemSourcedId", "studentSourcedId", "scoreStatus", "score", "scoreDate", "comment"},
}

var gradebookNeeded = map[string][]string{
	Categories: {"sourcedId", "title"},
	LineItems:  {"sourcedId", "title", "classSourcedId"},
	Results:    {"sourcedId", "lineItemSourcedId", "studentSourcedId", "scoreStatus"},
}

// scoreStatuses are the standard's words for how far a score is.
var scoreStatuses = []string{"exempt", "fully graded", "not submitted", "partially graded", "submitted"}

// LineItem is a piece of work that a class was given. Numbers are as they are written.
type LineItem struct {
	ID, Title, Class, Category string // the category by its title
	Assigned, Due              *day.Date
	Min, Max                   string
	Gone                       bool // to be deleted
	Line                       int

	categorised bool
}

// Score is what a student has of an item.
type Score struct {
	ID, Item, Student, Status, Score, Comment string
	Date                                      *day.Date
	Gone                                      bool
	Line                                      int
}

// Gradebook is items and scores as they were read.
type Gradebook struct {
	Items    []LineItem
	Scores   []Score
	Problems []table.Problem
	Notes    []string
}

// HasGradebook reports whether files hold items or scores of the standard.
func HasGradebook(files table.Files) bool {
	_, items := files[LineItems]
	_, scores := files[Results]
	return items || scores
}

// ReadGradebook reads items and scores. Every row is looked at; a row that is wrong is said, by file and
// line. An item that scores belong to may be in the school already: known says which are.
func ReadGradebook(files table.Files, known func(item string) bool) Gradebook {
	r := &reader{files: files, needed: gradebookNeeded, seen: map[string]map[string]bool{}, lost: map[string]bool{}, gone: map[string][]string{}}
	var out Gradebook
	titles := map[string]string{}
	r.each(Categories, false, func(_ *table.Table, row table.Row) { titles[row.Get("sourcedId")] = row.Get("title") })
	r.each(LineItems, false, func(t *table.Table, row table.Row) {
		if one, ok := r.item(t, row, titles); ok {
			out.Items = append(out.Items, one)
		}
	})
	for _, id := range r.gone[LineItems] {
		out.Items = append(out.Items, LineItem{ID: id, Gone: true})
	}
	if r.lost[Categories] && slices.ContainsFunc(out.Items, func(x LineItem) bool { return x.categorised }) {
		r.note("%s names categories and there is no %s: their titles stay empty", LineItems, Categories)
	}
	belongs := func(item string) bool {
		return r.seen[LineItems][item] && !slices.Contains(r.gone[LineItems], item) || known(item)
	}
	pairs := map[[2]string]bool{}
	r.each(Results, false, func(t *table.Table, row table.Row) {
		if one, ok := r.score(t, row, belongs); ok {
			pair := [2]string{one.Item, one.Student}
			if pairs[pair] {
				t.Wrong(row, "student %s has a score of %s twice", one.Student, one.Item)
				return
			}
			pairs[pair] = true
			out.Scores = append(out.Scores, one)
		}
	})
	for _, id := range r.gone[Results] {
		out.Scores = append(out.Scores, Score{ID: id, Gone: true})
	}
	out.Problems, out.Notes = r.out.Problems, r.out.Notes
	return out
}

func (r *reader) item(t *table.Table, row table.Row, titles map[string]string) (LineItem, bool) {
	out := LineItem{ID: row.Get("sourcedId"), Title: strings.TrimSpace(row.Get("title")), Class: row.Get("classSourcedId"), Min: row.Get("resultValueMin"), Max: row.Get("resultValueMax"), Line: row.Line}
	ok := true
	wrong := func(format string, args ...any) {
		t.Wrong(row, format, args...)
		ok = false
	}
	if out.Title == "" {
		wrong("title is empty")
	}
	if category := row.Get("categorySourcedId"); category != "" {
		title, known := titles[category]
		if !known && !r.lost[Categories] {
			wrong("there is no category %q in %s", category, Categories)
		}
		out.Category, out.categorised = title, true
	}
	for _, x := range []struct{ column, text string }{{"resultValueMin", out.Min}, {"resultValueMax", out.Max}} {
		if _, err := number(x.text); err != nil {
			wrong("%s %v", x.column, err)
		}
	}
	var okAssigned, okDue bool
	out.Assigned, okAssigned = date(t, row, "assignDate", false)
	out.Due, okDue = date(t, row, "dueDate", false)
	return out, ok && okAssigned && okDue
}

func (r *reader) score(t *table.Table, row table.Row, known func(string) bool) (Score, bool) {
	out := Score{ID: row.Get("sourcedId"), Item: row.Get("lineItemSourcedId"), Student: row.Get("studentSourcedId"), Status: row.Get("scoreStatus"), Score: row.Get("score"), Comment: row.Get("comment"), Line: row.Line}
	ok := true
	wrong := func(format string, args ...any) {
		t.Wrong(row, format, args...)
		ok = false
	}
	if !known(out.Item) && !r.lost[LineItems] {
		wrong("there is no item %q", out.Item)
	} else if !known(out.Item) {
		wrong("there is no item %q in the school, and no %s that can be read", out.Item, LineItems)
	}
	if !slices.Contains(scoreStatuses, out.Status) {
		wrong("scoreStatus %q is none of %s", out.Status, strings.Join(scoreStatuses, ", "))
	}
	if _, err := number(out.Score); err != nil {
		wrong("score %v", err)
	}
	if out.Score != "" && out.Status == "not submitted" {
		wrong("score %s of what was not submitted", out.Score)
	}
	if out.Score == "" && out.Status == "fully graded" {
		wrong("score is empty, and scoreStatus is fully graded")
	}
	var okDate bool
	out.Date, okDate = date(t, row, "scoreDate", false)
	return out, ok && okDate
}

// number reads a decimal that is 0 or more; empty is none.
func number(text string) (*policy.Fraction, error) {
	if text == "" {
		return nil, nil
	}
	n, err := policy.ParseDecimal(text)
	if err != nil {
		return nil, fmt.Errorf("%q is not a number such as 12 or 7.5", text)
	}
	return &n, nil
}
