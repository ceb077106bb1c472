package todaypage

import (
	"meldung/core/ids"
	"meldung/core/whereabouts"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
	"meldung/work/morning"
)

// MissingOnSite is a student who is on site and not where they should be.
type MissingOnSite struct {
	Student  pages.StudentRef `json:"student"`
	Text     string           `json:"text"`
	Search   ids.Search       `json:"search" doc:"The search under way; 0 for none"`
	Searcher string           `json:"searcher"`
	Since    string           `json:"since"`
}

// missingOnSite returns a student on site with who looks for them; search may be nil.
func missingOnSite(v work.Snapshot, s store.Student, p whereabouts.Position, search *morning.Search, m work.Moment) MissingOnSite {
	out := MissingOnSite{Student: pages.Student(v, s, m.Date), Text: work.Whereabouts(p)}
	if search.Runs() {
		out.Search, out.Searcher, out.Since = search.ID, search.By, search.Since.String()
	}
	return out
}
