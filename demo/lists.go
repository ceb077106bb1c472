package demo

import (
	"context"
	"encoding/json"
	"fmt"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/store"
	"meldung/work/paperlists"
)

// savedLists are lists that people of the invented school have shaped and kept, each by whom and shared with whom.
var savedLists = []struct {
	name, by, with string
	setup          paperlists.Setup
	plan           store.PaperPlan // without a way for none
}{
	{"Petrel late: whom to ring", "tolvan", "ase", paperlists.Setup{
		Title: "The Petrel is late: whom to ring", Above: "**Ring only** who has nobody aboard to ask. Harbour office: 01632 960 111", Kind: "table", Points: 9, Shade: true, Who: "travels:Petrel",
		Columns: []paperlists.PaperListColumn{{Field: "tick", Heading: "Rung", Width: 13}, {Field: "sorted", Heading: "Name", Width: 46}, {Field: "form", Heading: "Form", Width: 22}, {Field: "contact:1:name, relation and phone", Heading: "Contact", Width: 60}, {Field: "warnings", Heading: "To know", Width: 40}},
		Order:   []paperlists.Order{{Field: "form"}, {Field: "sorted"}}},
		store.PaperPlan{Way: paperlists.ToPrinter, Format: "pdf", Weekdays: "[]", Minute: day.MustMinute("07:40")}},
	{"Year 9: absence for the parents’ evening", "ase", "tolvan", paperlists.Setup{
		Title: "Year 9: absence for the parents’ evening", Kind: "table", Points: 9, Who: "year:9", Group: "form", NewPage: true,
		Columns: []paperlists.PaperListColumn{{Field: "sorted", Heading: "Name", Width: 50}, {Field: "figure:ten-percent:share", Heading: "Missed, %", Width: 22}, {Field: "figure:ten-percent:unexcused", Heading: "Unexcused days", Width: 24}, {Field: "figure:ten-percent:lates", Heading: "Lates", Width: 16}, {Field: "write", Heading: "What was agreed", Width: 74}},
		Order:   []paperlists.Order{{Field: "figure:ten-percent:share", Down: true}, {Field: "sorted"}}},
		store.PaperPlan{Way: paperlists.ByEMail, Format: "xlsx", Weekdays: "[2]", Minute: day.MustMinute("07:30")}},
}

// addLists keeps the lists.
func addLists(ctx context.Context, tx *sqlx.Tx, accounts map[string]ids.Account) error {
	for _, l := range savedLists {
		by := accounts[l.by]
		j, err := store.AddJournal(ctx, tx, store.Journal{Known: day.At(day.MustDate("2026-02-24"), day.MustMinute("14:05")), Account: &by, Kind: "paper list"})
		if err != nil {
			return err
		}
		id, err := store.AddPaperList(ctx, tx, store.PaperList{AccountID: by, Name: l.name, Origin: store.Origin{Journal: j.ID}})
		if err != nil {
			return fmt.Errorf("keeping the list %s: %w", l.name, err)
		}
		l.setup.Sign, l.setup.Extra, l.setup.Without = []string{}, []ids.Student{}, []ids.Student{}
		text, err := json.Marshal(l.setup)
		if err != nil {
			return err
		}
		if err := store.AddPaperVersion(ctx, tx, id, string(text), j.ID); err != nil {
			return err
		}
		if _, err := store.SharePaperList(ctx, tx, id, accounts[l.with], true, j.ID); err != nil {
			return err
		}
		var to []ids.Account
		if l.plan.Way == paperlists.ByEMail {
			to = []ids.Account{by, accounts[l.with]}
		}
		l.plan.ListID, l.plan.Sections, l.plan.Journal = id, "[]", j.ID
		if _, err := store.AddPaperPlan(ctx, tx, l.plan, to); err != nil {
			return err
		}
	}
	return nil
}
