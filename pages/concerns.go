package pages

import (
	"context"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/work"
	"meldung/work/caseload"
	"meldung/work/concerns"
)

// ConcernView is one reason to look at a student.
type ConcernView struct {
	Kind   string `json:"kind" doc:"The rule by its id"`
	Area   string `json:"area"`
	Figure string `json:"figure" doc:"The rule by its title"`
	Why    string `json:"why"`
	Since  string `json:"since"`
	Fresh  bool   `json:"fresh" doc:"It came after the last decision about the student"`
}

// Concerns are what rules found; which courses fail is for those who may see them all.
func Concerns(f concerns.Found, courses bool) []ConcernView {
	out := []ConcernView{}
	for _, x := range f.Rules {
		c := ConcernView{Kind: x.Rule, Area: x.Area, Figure: x.Title, Why: x.Why, Since: x.Since.Spoken()}
		if x.Courses != "" && courses {
			c.Why += ": " + x.Courses
		}
		out = append(out, c)
	}
	return out
}

// OwnerRef is somebody in whose hands a case can be.
type OwnerRef struct {
	ID   ids.Account `json:"id"`
	Name string      `json:"name"`
	Mine bool        `json:"mine"`
}

// Owners are those in whose hands a case can be, by name.
func Owners(ctx context.Context, v work.Snapshot, p work.Person) ([]OwnerRef, error) {
	list, err := caseload.Owners(ctx, v.Store())
	out := make([]OwnerRef, len(list))
	for i, a := range list {
		out[i] = OwnerRef{a.ID, a.Name, a.ID == p.Account}
	}
	return out, err
}

// SpokenBy is a date in words, with its year where that is another than the one looked from.
func SpokenBy(d, from day.Date) string {
	if d.Time().Year() == from.Time().Year() {
		return d.Spoken()
	}
	return d.Time().Format("Mon 2 January 2006")
}

// SpokenAt is an instant in words, with its year where that is another than the one looked from.
func SpokenAt(at day.Instant, from day.Date) string {
	return SpokenBy(at.Date(), from) + ", " + at.Minute().String()
}

// Whys are why a student is found, in one line.
func Whys(list []ConcernView) string {
	var out []string
	for _, c := range list {
		if c.Why != c.Figure { // a rule of several others has nothing that they have not
			out = append(out, c.Why)
		}
	}
	return strings.Join(out, "; ")
}
