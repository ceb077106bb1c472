package todaypage

import (
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
	Warnings []string         `json:"warnings"`
	Search   Searching        `json:"search"`
	Lesson   *Lesson          `json:"lesson,omitempty" doc:"Where the student should be now"`
}

// missingOnSite returns a student on site with who looks for them; search may be nil.
func missingOnSite(v work.Snapshot, x *work.Day, s store.Student, p whereabouts.Position, search *morning.Search, m work.Moment) MissingOnSite {
	return MissingOnSite{Student: pages.Student(v, s, m.Date), Text: work.Whereabouts(p), Warnings: pages.Warnings(v.School.WarningsOf(s.ID)),
		Search: searching(search), Lesson: lessonNow(v, x, s.ID, m)}
}
