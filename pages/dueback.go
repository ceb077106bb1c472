package pages

import (
	"sort"

	"meldung/core/whereabouts"
	"meldung/store"
	"meldung/work"
)

// DueBack is someone expected.
type DueBack struct {
	Student StudentRef `json:"student"`
	State   string     `json:"state"`
	Text    string     `json:"text"`
	By      string     `json:"by"`
	Overdue bool       `json:"overdue"`
}

// Expected returns a student who is expected back; ok is false for others.
func Expected(v work.Snapshot, s store.Student, p whereabouts.Position, m work.Moment) (d DueBack, ok bool) {
	if !p.Expected() {
		return DueBack{}, false
	}
	return DueBack{Student: Student(v, s, m.Date), State: p.State.Slug(), Text: p.Reason, By: p.Until.String(), Overdue: p.Overdue(m.Minute)}, true
}

// SortDueBack puts who is overdue on top, then who is expected first.
func SortDueBack(list []DueBack) {
	sort.SliceStable(list, func(a, b int) bool {
		if list[a].Overdue != list[b].Overdue {
			return list[a].Overdue
		}
		return list[a].By < list[b].By
	})
}
