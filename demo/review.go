package demo

import (
	"context"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/store"
)

// addReview writes incidents, grades and a few follow-ups of the past.
func (p *people) addReview(ctx context.Context, tx *sqlx.Tx, days []day.Date, plans [][]dayPlan, accounts map[string]ids.Account) error {
	j, err := store.AddJournal(ctx, tx, store.Journal{Known: day.At(days[0], day.MustMinute("07:00")), Kind: "import"})
	if err != nil {
		return err
	}
	if err := p.addIncidents(ctx, tx, days, accounts, j.ID); err != nil {
		return err
	}
	if err := p.addPieces(ctx, tx, days[len(days)-1], j.ID); err != nil {
		return err
	}
	if err := p.addGrades(ctx, tx, days, plans, j.ID); err != nil {
		return err
	}
	if err := p.addPast(ctx, tx, j.ID); err != nil {
		return err
	}
	if err := p.addActivity(ctx, tx, days[len(days)-1], j.ID); err != nil {
		return err
	}
	return p.addTalks(ctx, tx, accounts)
}

// addTalks writes the calls and follow-ups that the stories need.
func (p *people) addTalks(ctx context.Context, tx *sqlx.Tx, accounts map[string]ids.Account) error {
	write := func(account, at, kind string, f func(j store.Journal, d day.Date, m day.Minute) error) error {
		i, err := day.ParseInstant(at)
		if err != nil {
			return err
		}
		id := accounts[account]
		j, err := store.AddJournal(ctx, tx, store.Journal{Known: i, Account: &id, Kind: kind})
		if err != nil {
			return err
		}
		return f(j, i.Date(), i.Minute())
	}
	first := map[ids.Student]ids.Contact{}
	for _, t := range p.school.StudentContacts {
		if t.CallOrder == 1 {
			first[t.StudentID] = t.ContactID
		}
	}
	merrows := []ids.Student{p.named("Elis Merrow").ID, p.named("Ansa Merrow").ID}
	for _, at := range []string{"2026-01-30T09:21", "2026-02-10T09:18", "2026-02-24T09:30", "2026-03-04T09:16"} {
		outcome := map[bool]string{true: "no answer", false: "message"}[at < "2026-02-20"]
		err := write("tolvan", at, "call", func(j store.Journal, d day.Date, m day.Minute) error {
			c := first[merrows[0]]
			_, err := store.AddCall(ctx, tx, store.Call{Date: d, Minute: m, ContactID: &c, Outcome: outcome, Students: merrows, Origin: store.Origin{Journal: j.ID}})
			return err
		})
		if err != nil {
			return err
		}
	}
	for _, f := range []struct{ name, at, outcome, note, next string }{
		{"Mika Ulvar", "2026-03-02T15:20", "spoke", "bad nights since the move, will see the doctor", "2026-03-10"},
		{"Cato Vane", "2026-02-27T14:05", "left a message", "", "2026-03-06"},
		{"Juno Sandal", "2026-03-05T15:40", "spoke", "ill with a cough, back on Thursday", "2026-03-12"},
	} {
		err := write("ase", f.at, "follow-up", func(j store.Journal, d day.Date, m day.Minute) error {
			next := day.MustDate(f.next)
			c := first[p.named(f.name).ID]
			_, err := store.AddFollowup(ctx, tx, store.Followup{StudentID: p.named(f.name).ID, Date: d, Minute: m, ContactID: &c, Outcome: f.outcome, Note: f.note, NextDate: &next, Origin: store.Origin{Journal: j.ID}})
			return err
		})
		if err != nil {
			return err
		}
	}
	return nil
}
