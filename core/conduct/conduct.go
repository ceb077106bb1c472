// Package conduct counts incidents: where and when they gather, how often for a number of student-days,
// and whether they became fewer. It must not know where incidents come from or who may see them.
package conduct

import (
	"slices"

	"meldung/core/day"
	"meldung/core/ids"
)

// Role is a student's part in an incident.
type Role string

// The roles.
const (
	Did    Role = "did it"
	Harmed Role = "was harmed"
	Saw    Role = "saw it"
)

// Roles are all roles, in the order in which people are listed.
var Roles = []Role{Did, Harmed, Saw}

// Person is a student's part in an incident.
type Person struct {
	Student ids.Student
	Role    Role
}

// Incident is something that happened.
type Incident struct {
	ID         ids.Incident
	Date       day.Date
	Minute     day.Minute      // none where it is not known
	Time       Time            // of the day, by that date's pattern
	Place      ids.ConductWord // 0 where it is not known
	Kind       ids.ConductWord // 0 where it is not known
	Actions    []ids.ConductWord
	People     []Person
	RecordedBy string
}

// Open says what of an incident is not known yet, in words; an incident of which nothing is open is complete.
func (i Incident) Open() []string {
	var out []string
	for _, x := range []struct {
		open  bool
		words string
	}{
		{i.Kind == 0, "what kind"},
		{i.Minute.IsZero(), "when"},
		{i.Place == 0, "where"},
		{!slices.ContainsFunc(i.People, func(p Person) bool { return p.Role == Did }), "who did it"},
	} {
		if x.open {
			out = append(out, x.words)
		}
	}
	return out
}

// Search is which incidents are meant: every part that is not empty must fit.
type Search struct {
	From, To   day.Date
	Kinds      []ids.ConductWord // 0 among them is not known; so with places
	Places     []ids.ConductWord
	Actions    []ids.ConductWord // 0 is no action yet
	Times      []Time
	Weekdays   []int // 1 is Monday
	Roles      []Role
	RecordedBy []string
	Students   map[ids.Student]bool // in one of the roles; nil for anyone, with nobody in it for no one
	Incomplete bool
}

// Fits reports whether an incident is one of those that are meant. The roles and the students belong
// together: somebody of the students had one of the roles.
func (s Search) Fits(i Incident) bool {
	switch {
	case i.Date < s.From || i.Date > s.To,
		!among(s.Kinds, i.Kind), !among(s.Places, i.Place), !among(s.Times, i.Time),
		!among(s.Weekdays, i.Date.Weekday()), !among(s.RecordedBy, i.RecordedBy),
		s.Incomplete && len(i.Open()) == 0, !s.acted(i):
		return false
	case len(s.Roles) == 0 && s.Students == nil:
		return true
	}
	return slices.ContainsFunc(i.People, s.Means)
}

// Means reports whether somebody's part is one that is meant.
func (s Search) Means(p Person) bool {
	return among(s.Roles, p.Role) && (s.Students == nil || s.Students[p.Student])
}

func (s Search) acted(i Incident) bool {
	if len(s.Actions) == 0 {
		return true
	}
	if len(i.Actions) == 0 {
		return slices.Contains(s.Actions, 0)
	}
	return slices.ContainsFunc(i.Actions, func(a ids.ConductWord) bool { return slices.Contains(s.Actions, a) })
}

// among reports whether a value is in a list; every value is in an empty one.
func among[T comparable](list []T, x T) bool { return len(list) == 0 || slices.Contains(list, x) }

// Find returns the incidents that are meant, in the order in which they are given.
func Find(all []Incident, s Search) []Incident {
	var out []Incident
	for _, i := range all {
		if s.Fits(i) {
			out = append(out, i)
		}
	}
	return out
}

// Tally is how many incidents a student had a part in.
type Tally struct {
	Student ids.Student
	Count   int
	Last    day.Date
}

// Tallies counts the incidents of each student whose part is one that is meant: the most first, then the
// latest, then by id.
func Tallies(found []Incident, s Search) []Tally {
	of := map[ids.Student]*Tally{}
	for _, i := range found {
		for _, p := range i.People {
			if !s.Means(p) {
				continue
			}
			t := of[p.Student]
			if t == nil {
				t = &Tally{Student: p.Student}
				of[p.Student] = t
			}
			t.Count++
			t.Last = max(t.Last, i.Date)
		}
	}
	var out []Tally
	for _, t := range of {
		out = append(out, *t)
	}
	slices.SortFunc(out, func(a, b Tally) int {
		if a.Count != b.Count {
			return b.Count - a.Count
		}
		if a.Last != b.Last {
			return int(b.Last - a.Last)
		}
		return int(a.Student - b.Student)
	})
	return out
}
