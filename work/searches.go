package work

import (
	"context"
	"strings"

	"meldung/core/day"
	"meldung/core/whereabouts"
	"meldung/store"
)

// MissingOnSite is a student who is on site and not where they should be.
type MissingOnSite struct {
	Student  StudentRef `json:"student"`
	Words    string     `json:"words"`
	Search   int64      `json:"search" doc:"The search under way; 0 for none"`
	Searcher string     `json:"searcher"`
	Since    string     `json:"since"`
}

// NewSearch says who is looked for and by whom.
type NewSearch struct {
	Student  int64  `json:"student"`
	Searcher string `json:"searcher,omitempty" maxLength:"100" doc:"Who looks; empty is whoever writes it down"`
}

// StartSearch stores that someone is looking for a student in the building. One search
// for a student runs at a time.
func (o *Office) StartSearch(ctx context.Context, p Person, key string, n NewSearch) (Receipt, error) {
	var out Receipt
	err := o.writeToday(ctx, p, key, "search", &out, func(w *writing, v view, x *Day) error {
		s, err := v.school.Student(n.Student)
		if err != nil {
			return err
		}
		if running := x.searchOf(s.ID, Moment{Date: x.Date, Minute: w.now.Minute(), Known: w.now}); running != nil && running.outcome == "" {
			return conflict("%s is looking for %s since %s", running.by, s.Name(), running.since)
		}
		id, err := store.AddSearch(ctx, w.tx, store.Search{StudentID: s.ID, Date: w.now.Date(), Minute: w.now.Minute(), Searcher: strings.TrimSpace(n.Searcher), Origin: store.Origin{Journal: w.journal.ID}})
		out = Receipt{Seq: w.journal.ID, Words: "searching for " + s.Name(), IDs: []int64{id}}
		return err
	})
	return out, err
}

// SearchEnd says how a search ended.
type SearchEnd struct {
	Student int64  `json:"student"`
	Found   bool   `json:"found" doc:"Else the search is given up, or home is to be rung without one"`
	Place   string `json:"place,omitempty" maxLength:"100" doc:"Where the student was found"`
	FoundBy string `json:"foundBy,omitempty" maxLength:"100" doc:"By whom; empty is whoever looked"`
}

// EndSearch stores where a student was found and by whom; the student is in again. A
// search that is given up, or decided against, has the home rung.
func (o *Office) EndSearch(ctx context.Context, p Person, key string, e SearchEnd) (Receipt, error) {
	var out Receipt
	err := o.writeToday(ctx, p, key, "search ended", &out, func(w *writing, v view, x *Day) error {
		s, err := v.school.Student(e.Student)
		if err != nil {
			return err
		}
		search := x.searchOf(s.ID, Moment{Date: x.Date, Minute: w.now.Minute(), Known: w.now})
		if search == nil || search.outcome != "" {
			id, err := store.AddSearch(ctx, w.tx, store.Search{StudentID: s.ID, Date: x.Date, Minute: w.now.Minute(), Origin: store.Origin{Journal: w.journal.ID}})
			if err != nil {
				return err
			}
			search = &searchSeen{id: id, by: p.Name}
		}
		outcome, place, foundBy := "given up", strings.TrimSpace(e.Place), strings.TrimSpace(e.FoundBy)
		if e.Found {
			outcome = "found"
			if foundBy == "" {
				foundBy = search.by
			}
		}
		if _, err := store.EndSearch(ctx, w.tx, search.id, outcome, place, foundBy, w.journal.ID); err != nil {
			return err
		}
		out = Receipt{Seq: w.journal.ID, Words: join(", ", s.Name()+" "+outcome, place), IDs: []int64{search.id}}
		if !e.Found {
			return nil
		}
		_, err = store.AddMovement(ctx, w.tx, store.Movement{StudentID: s.ID, Date: x.Date, Minute: w.now.Minute(), Kind: "seen",
			Reason: place, Note: "found by " + foundBy, Origin: store.Origin{Journal: w.journal.ID}})
		return err
	})
	return out, err
}

type searchSeen struct {
	id      int64
	outcome string
	by      string
	since   day.Minute
}

// searchOf returns a student's last search as it was known.
func (x *Day) searchOf(student int64, m Moment) *searchSeen {
	var last *searchSeen
	for _, s := range x.searches {
		if s.StudentID != student || s.Known > m.Known || s.Minute > m.Minute {
			continue
		}
		last = &searchSeen{id: s.ID, by: s.By, since: s.Minute}
		if s.Searcher != "" {
			last.by = s.Searcher
		}
		if s.EndedAt != nil && *s.EndedAt <= m.Known {
			last.outcome = s.Outcome
		}
	}
	return last
}

func (v view) missingOnSite(s store.Student, p whereabouts.Position, search *searchSeen, m Moment) MissingOnSite {
	out := MissingOnSite{Student: v.ref(s, m.Date), Words: placeOf(p).Words}
	if search != nil && search.outcome == "" {
		out.Search, out.Searcher, out.Since = search.id, search.by, search.since.String()
	}
	return out
}
