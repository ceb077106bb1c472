package morning

import (
	"context"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
)

// NewSearch says who is looked for and by whom.
type NewSearch struct {
	Student  ids.Student `json:"student"`
	Searcher string      `json:"searcher,omitempty" maxLength:"100" doc:"Who looks; empty is whoever writes it down"`
}

// StartSearch stores that someone is looking for a student in the building. One search
// for a student runs at a time.
func StartSearch(ctx context.Context, o *work.Office, p work.Person, key string, n NewSearch) (work.Receipt, error) {
	var out work.Receipt
	err := o.WriteToday(ctx, work.Job{By: p, Key: key, Needs: work.MayStartSearch, Kind: "search", In: n, Out: &out}, func(tx *work.Tx, v work.Snapshot, x *work.Day) error {
		s, err := v.Student(n.Student)
		if err != nil {
			return err
		}
		if running := SearchOf(x, s.ID, tx.Moment()); running.Runs() {
			return work.Conflictf("%s is looking for %s since %s", running.By, s.Name(), running.Since)
		}
		id, err := store.AddSearch(ctx, tx.Tx, store.Search{StudentID: s.ID, Date: tx.Now.Date(), Minute: tx.Now.Minute(), Searcher: strings.TrimSpace(n.Searcher), Origin: tx.Origin()})
		out = work.ReceiptOf(tx, "searching for "+s.Name(), id)
		return err
	})
	return out, err
}

// SearchEnd says how a search ended.
type SearchEnd struct {
	Student ids.Student `json:"student"`
	Found   bool        `json:"found" doc:"Else the search is given up, or home is to be rung without one"`
	Place   string      `json:"place,omitempty" maxLength:"100" doc:"Where the student was found"`
	FoundBy string      `json:"foundBy,omitempty" maxLength:"100" doc:"By whom; empty is whoever looked"`
}

// EndSearch stores where a student was found and by whom; the student is in again. A
// search that is given up, or decided against, has the home rung.
func EndSearch(ctx context.Context, o *work.Office, p work.Person, key string, e SearchEnd) (work.Receipt, error) {
	var out work.Receipt
	err := o.WriteToday(ctx, work.Job{By: p, Key: key, Needs: work.MayEndSearch, Kind: "search ended", In: e, Out: &out}, func(tx *work.Tx, v work.Snapshot, x *work.Day) error {
		s, err := v.Student(e.Student)
		if err != nil {
			return err
		}
		search := SearchOf(x, s.ID, tx.Moment())
		if !search.Runs() {
			id, err := store.AddSearch(ctx, tx.Tx, store.Search{StudentID: s.ID, Date: x.Date, Minute: tx.Now.Minute(), Origin: tx.Origin()})
			if err != nil {
				return err
			}
			search = &Search{ID: id, By: p.Name}
		}
		outcome, place, foundBy := GivenUp, strings.TrimSpace(e.Place), strings.TrimSpace(e.FoundBy)
		if e.Found {
			outcome = Found
			if foundBy == "" {
				foundBy = search.By
			}
		}
		if _, err := store.EndSearch(ctx, tx.Tx, search.ID, outcome, place, foundBy, tx.Entry); err != nil {
			return err
		}
		out = work.ReceiptOf(tx, work.Join(", ", s.Name()+" "+outcome, place), search.ID)
		if !e.Found {
			return nil
		}
		_, err = store.AddMovement(ctx, tx.Tx, store.Movement{StudentID: s.ID, Date: x.Date, Minute: tx.Now.Minute(), Kind: work.Seen,
			Reason: place, Note: "found by " + foundBy, Origin: tx.Origin()})
		return err
	})
	return out, err
}

// Search is a search as it was known at a moment.
type Search struct {
	ID      ids.Search
	Outcome string // empty while it runs
	By      string // who looks
	Since   day.Minute
}

// Runs reports whether somebody is looking still.
func (s *Search) Runs() bool { return s != nil && s.Outcome == "" }

// How a search ends.
const (
	Found   = "found"
	GivenUp = "given up"
)

// SearchOf returns a student's last search as it was known; nil for none.
func SearchOf(x *work.Day, student ids.Student, m work.Moment) *Search {
	var last *Search
	for _, s := range x.Searches {
		if s.StudentID != student || s.Known > m.Known || s.Minute.After(m.Minute) {
			continue
		}
		last = &Search{ID: s.ID, By: s.By, Since: s.Minute}
		if s.Searcher != "" {
			last.By = s.Searcher
		}
		if s.EndedAt != nil && *s.EndedAt <= m.Known {
			last.Outcome = s.Outcome
		}
	}
	return last
}
