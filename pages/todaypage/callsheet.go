package todaypage

import (
	"context"
	"fmt"

	"meldung/core/ids"
	"meldung/files/sheet"
	"meldung/pages"
	"meldung/work"
)

// CallSheet is the list of calls to take along: every home with every number.
type CallSheet struct {
	School string          `json:"school"`
	Day    string          `json:"day" doc:"The date in words"`
	AsAt   string          `json:"asAt"`
	Scope  string          `json:"scope" doc:"The sections that it covers; empty where the school has one"`
	Homes  []HouseholdView `json:"homes" doc:"In the order in which they are rung; those worried for are not among them"`
	Calm   string          `json:"calm" doc:"What it means that there is none"`
}

// ShowCallSheet returns the list of calls at a moment.
func ShowCallSheet(ctx context.Context, o *work.Office, asAt string, of ...ids.Section) (CallSheet, error) {
	out := CallSheet{Homes: []HouseholdView{}}
	m, err := o.Moment(asAt, of...)
	if err != nil {
		return out, err
	}
	err = o.ReadDay(ctx, m, func(v work.Snapshot, x *work.Day) error {
		t := today(v, x, m)
		out = CallSheet{School: v.SchoolName(), Day: m.Date.Spoken(), AsAt: t.AsAt, Scope: v.ScopeText(m.Scope), Homes: t.Households, Calm: t.Calm}
		return nil
	})
	return out, err
}

// CallFile returns the list of calls as a file: a line for each student and contact, in call
// order; who has nobody to ring has a line too.
func CallFile(ctx context.Context, o *work.Office, asAt, format string, of ...ids.Section) (pages.File, error) {
	s, err := ShowCallSheet(ctx, o, asAt, of...)
	if err != nil {
		return pages.File{}, err
	}
	list := sheet.List{Title: "Homes to ring, " + s.Day,
		About: []string{work.Join(", ", s.School, s.Scope), "as at " + s.AsAt, "This file holds data about students and their homes."},
		Columns: []sheet.Column{{Heading: "home", Width: 6, Number: true}, {Heading: "number", Width: 9}, {Heading: "family name", Width: 18}, {Heading: "given name", Width: 14}, {Heading: "form", Width: 12}, {Heading: "year", Width: 6},
			{Heading: "not in", Width: 26}, {Heading: "lately", Width: 20}, {Heading: "warnings", Width: 30}, {Heading: "order", Width: 6, Number: true}, {Heading: "contact", Width: 20}, {Heading: "relation", Width: 12}, {Heading: "phone", Width: 16},
			{Heading: "tried", Width: 40}, {Heading: "held", Width: 24}}}
	for n, h := range s.Homes {
		for _, one := range h.Students {
			list.Rows = append(list.Rows, callRows(n+1, h, one)...)
		}
	}
	return pages.ListFile("student-data-homes-to-ring-"+s.AsAt[:len("2006-01-02")], list, format)
}

func callRows(n int, h HouseholdView, one HouseholdStudent) [][]string {
	var tried []string
	for _, a := range h.Attempts {
		tried = append(tried, work.Join(" ", a.At, work.Join(", ", a.Contact, a.Outcome, a.Said, a.Note)))
	}
	held := h.Held
	if held != "" {
		held = "until " + h.Again + ": " + held
	}
	row := func(order, contact, relation, phone string) []string {
		return []string{fmt.Sprint(n), one.Student.Number, family(one.Student), one.Student.Given, one.Student.Form, one.Student.Year, one.Text, one.Lately, work.Join("; ", one.Warnings...),
			order, contact, relation, phone, work.Join("; ", tried...), held}
	}
	var out [][]string
	for _, c := range h.Contacts {
		out = append(out, row(fmt.Sprint(c.Order), c.Name, c.Relation, c.Phone))
	}
	for _, name := range h.NotCalled {
		out = append(out, row("", name, "", "must not be called"))
	}
	if len(out) == 0 {
		out = append(out, row("", "no contact on file", "", ""))
	}
	return out
}

// family is a student's family name.
func family(s pages.StudentRef) string { return s.Sorted[:len(s.Sorted)-len(", "+s.Given)] }
