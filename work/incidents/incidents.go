// Package incidents keeps what happened between students: noted where it is seen, corrected without losing
// what was there, taken back with a reason; and the school's own lists of kinds, places and actions.
package incidents

import (
	"context"
	"slices"

	"meldung/core/conduct"
	"meldung/core/day"
	"meldung/core/ids"
	"meldung/held"
	"meldung/store"
	"meldung/work"
)

// Lists are the school's own kinds, places, actions and names of breaks.
type Lists struct {
	words  map[string][]store.ConductWord // by list, in their order, the retired ones too
	name   map[ids.ConductWord]string
	Breaks map[conduct.Time]string
}

// The lists.
const (
	Kinds   = "kind"
	Places  = "place"
	Actions = "action"
	Breaks  = "break"
)

// ReadLists reads the school's lists.
func ReadLists(ctx context.Context, q store.Queryer) (Lists, error) {
	rows, err := store.ConductWords(ctx, q)
	out := Lists{words: map[string][]store.ConductWord{}, name: map[ids.ConductWord]string{}, Breaks: map[conduct.Time]string{}}
	for _, w := range rows {
		out.words[w.List] = append(out.words[w.List], w)
		out.name[w.ID] = w.Name
		if w.List == Breaks && !w.Retired {
			out.Breaks[conduct.Time(w.OfTime)] = w.Name
		}
	}
	return out, err
}

// Of returns a list in its order, the retired words too.
func (l Lists) Of(list string) []store.ConductWord { return l.words[list] }

// Name returns a word; empty for none.
func (l Lists) Name(id ids.ConductWord) string { return l.name[id] }

// Action is something that was done about an incident.
type Action struct {
	ID ids.ConductWord
	By string // empty for whoever recorded it
}

// Told is an incident with what was said of it.
type Told struct {
	conduct.Incident
	SourcedID string       // by which files know it
	Account   *ids.Account // who recorded it; nil where that is no account
	Version   ids.IncidentVersion
	Text      string
	Done      []Action
	Known     day.Instant // of this version
	By        string      // who wrote this version
}

// Between returns the incidents of a span that stand, in time, with the time of the day that each was at.
func Between(ctx context.Context, v work.Snapshot, from, to day.Date) ([]Told, error) {
	rows, err := store.Incidents(ctx, v.Store(), from, to)
	if err != nil {
		return nil, err
	}
	people, err := store.IncidentPeople(ctx, v.Store(), from, to)
	if err != nil {
		return nil, err
	}
	actions, err := store.IncidentActions(ctx, v.Store(), from, to)
	return gathered(v, rows, people, actions), err
}

// Of returns a student's incidents that stand, newest first.
func Of(ctx context.Context, v work.Snapshot, student ids.Student) ([]Told, error) {
	rows, err := store.IncidentsOf(ctx, v.Store(), student)
	if err != nil {
		return nil, err
	}
	var people []store.IncidentPerson
	var actions []store.IncidentAction
	for _, r := range rows {
		p, a, err := store.IncidentParts(ctx, v.Store(), r.ID)
		if err != nil {
			return nil, err
		}
		people, actions = append(people, p...), append(actions, a...)
	}
	return gathered(v, rows, people, actions), nil
}

// Versions returns every version of an incident, the newest first; none where there is no such incident.
func Versions(ctx context.Context, v work.Snapshot, id ids.Incident) ([]Told, *store.Incident, error) {
	rows, err := store.IncidentVersions(ctx, v.Store(), id)
	if err != nil || len(rows) == 0 {
		return nil, nil, err
	}
	people, actions, err := store.IncidentParts(ctx, v.Store(), id)
	return gathered(v, rows, people, actions), &rows[0], err
}

func gathered(v work.Snapshot, rows []store.Incident, people []store.IncidentPerson, actions []store.IncidentAction) []Told {
	who, done := map[ids.IncidentVersion][]conduct.Person{}, map[ids.IncidentVersion][]Action{}
	for _, p := range people {
		who[p.Version] = append(who[p.Version], conduct.Person{Student: p.StudentID, Role: conduct.Role(p.Role)})
	}
	for _, a := range actions {
		done[a.Version] = append(done[a.Version], Action{a.Action, a.By})
	}
	out := make([]Told, len(rows))
	for i, r := range rows {
		t := Told{SourcedID: r.SourcedID, Account: r.Account, Version: r.Version, Text: r.Text, Done: done[r.Version], Known: r.Known, By: r.By}
		t.Incident = conduct.Incident{ID: r.ID, Date: r.Date, Minute: r.Minute, People: who[r.Version], RecordedBy: r.RecordedBy}
		if r.Kind != nil {
			t.Kind = *r.Kind
		}
		if r.Place != nil {
			t.Place = *r.Place
		}
		for _, a := range t.Done {
			t.Actions = append(t.Actions, a.ID)
		}
		slices.SortStableFunc(t.People, func(a, b conduct.Person) int {
			return slices.Index(conduct.Roles, a.Role) - slices.Index(conduct.Roles, b.Role)
		})
		var slots []day.Slot
		if p := PatternOn(SectionOf(v, t.People), t.Date); p != nil {
			slots = p.Slots
		}
		t.Time = conduct.TimeOf(slots, t.Minute)
		out[i] = t
	}
	return out
}

// SectionOf is the section by whose day an incident's time is called: that of the first of those who had a
// part in it.
func SectionOf(v work.Snapshot, people []conduct.Person) *held.SectionRecords {
	of := v.Sections()[0].ID
	if len(people) > 0 {
		of = v.School.SectionOf(people[0].Student).ID
	}
	s, _ := v.School.Records().Section(of)
	return s
}

// PatternOn returns by which day pattern a section went on a date; nil where it had no school.
func PatternOn(s *held.SectionRecords, d day.Date) *day.Pattern {
	for _, y := range s.Years() {
		if i, open := y.Calendar.Index(d); open {
			return y.Calendar.Day(i).Pattern
		}
	}
	return nil
}

// Sight is what a person may see of incidents: a teacher those of the students taught, and those that they
// recorded.
type Sight struct {
	v    work.Snapshot
	p    work.Person
	seen map[ids.Student]bool
}

// SightOf returns what a person may see.
func SightOf(v work.Snapshot, p work.Person) Sight {
	return Sight{v, p, map[ids.Student]bool{}}
}

// Sees reports whether the person may see an incident.
func (s Sight) Sees(t Told) bool {
	if s.p.Role != work.Teacher || t.Account != nil && *t.Account == s.p.Account {
		return true
	}
	return slices.ContainsFunc(t.People, func(p conduct.Person) bool {
		sees, known := s.seen[p.Student]
		if !known {
			sees = s.v.MaySee(s.p, p.Student) == nil
			s.seen[p.Student] = sees
		}
		return sees
	})
}

// MayCorrect reports whether a person may correct an incident: whoever recorded it, and the office and
// leaders any.
func MayCorrect(p work.Person, t Told) bool {
	return p.May(work.MayCorrectAnyIncident) || t.Account != nil && *t.Account == p.Account
}
