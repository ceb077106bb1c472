package home

import (
	"context"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/followup"
	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
)

// NewFetch says that a student is to be collected.
type NewFetch struct {
	Student ids.Student `json:"student"`
	Reason  string      `json:"reason" maxLength:"100"`
	Place   string      `json:"place,omitempty" maxLength:"100" doc:"Where the student waits"`
}

// StartFetch stores that a student who is here must be collected.
func StartFetch(ctx context.Context, o *work.Office, p work.Person, key string, f NewFetch) (work.Receipt, error) {
	var out work.Receipt
	err := o.WriteToday(ctx, work.Job{By: p, Key: key, Needs: work.MayStartFetch, Kind: "fetch", In: f, Out: &out}, func(tx *work.Tx, v work.Snapshot, x *work.Day) error {
		s, err := v.Student(f.Student)
		if err != nil {
			return err
		}
		m := tx.Moment()
		if here := v.Position(x, s.ID, m); !here.OnPremises() {
			return work.Refusedf("%s is not on the premises: %s; nobody is to collect them", s.Name(), work.Whereabouts(here))
		}
		if open := x.OpenFetch(s.ID, m); open != nil {
			return work.Conflictf("%s is to be collected already, since %s", s.Name(), open.Minute)
		}
		if f.Reason = strings.TrimSpace(f.Reason); f.Reason == "" {
			return work.Wrongf("say why %s is to be collected; nothing was saved", s.Name())
		}
		id, err := store.AddFetch(ctx, tx.Tx, store.Fetch{StudentID: s.ID, Date: x.Date, Minute: tx.Now.Minute(), Reason: f.Reason, Place: strings.TrimSpace(f.Place), Origin: tx.Origin()})
		out = work.ReceiptOf(tx, s.Name()+" is to be collected: "+f.Reason, id)
		return err
	})
	return out, err
}

// EndFetch stores that a student stays after all.
func EndFetch(ctx context.Context, o *work.Office, p work.Person, key string, id ids.Fetch) (work.Receipt, error) {
	var out work.Receipt
	err := o.WriteToday(ctx, work.Job{By: p, Key: key, Needs: work.MayEndFetch, Kind: "fetch ended", Of: id, Out: &out}, func(tx *work.Tx, v work.Snapshot, x *work.Day) error {
		i := slices.IndexFunc(x.Fetches, func(f store.Fetch) bool { return f.ID == id })
		if i < 0 {
			return work.NotFoundf("nobody is to be collected under that number today")
		}
		done, err := store.EndFetch(ctx, tx.Tx, id, tx.Entry)
		if err == nil && !done {
			err = work.Conflictf("that was ended already")
		}
		out = work.ReceiptOf(tx, v.School.Names([]ids.Student{x.Fetches[i].StudentID})+" stays", id)
		return err
	})
	return out, err
}

// fetchCall reads what a call about a student to be collected came to, into its row, and
// says it in words.
func fetchCall(v work.Snapshot, x *work.Day, c Call, row *store.Call, now day.Instant) (string, error) {
	i := slices.IndexFunc(x.Fetches, func(f store.Fetch) bool { return f.ID == c.Fetch })
	if i < 0 || !slices.Equal(c.Students, []ids.Student{x.Fetches[i].StudentID}) {
		return "", work.NotFoundf("nobody is to be collected under that number today; nothing was saved")
	}
	s, err := v.Student(x.Fetches[i].StudentID)
	if err != nil {
		return "", err
	}
	if x.OpenFetch(s.ID, work.Moment{Date: x.Date, Minute: now.Minute(), Known: now}) == nil {
		return "", work.Conflictf("%s is not to be collected any more; nothing was saved", s.Name())
	}
	if c.Said != "" {
		return "", work.Wrongf("a call about fetching %s says who comes, not why somebody is absent; nothing was saved", s.Name())
	}
	row.FetchID = &c.Fetch
	if row.CollectorID, row.Collector, err = v.Collector(s, c.Collector, c.Collects, c.Note); err != nil || row.Collector == "" {
		return "", err
	}
	if followup.Outcome(c.Outcome) != followup.Spoke {
		return "", work.Wrongf("nobody was spoken to who could say that %s comes; nothing was saved", row.Collector)
	}
	words := row.Collector + " comes"
	if strings.TrimSpace(c.Until) != "" {
		at, err := day.ParseTyped(c.Until)
		if err != nil {
			return "", work.Wrongf("expected when? %v; nothing was saved", err)
		}
		if at.Before(now.Minute()) {
			return "", work.Wrongf("expected %s has passed, it is %s; nothing was saved", at, now.Minute())
		}
		row.Expected = at
		words += " by " + at.String()
	}
	return words, nil
}
