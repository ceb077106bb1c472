package conductpage

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"meldung/core/conduct"
	"meldung/core/day"
	"meldung/core/ids"
	"meldung/files/sheet"
	"meldung/held/names"
	"meldung/pages"
	"meldung/work"
	"meldung/work/incidents"
)

// IncidentView is an incident with what it was before it was corrected.
type IncidentView struct {
	Incident IncidentLine  `json:"incident"`
	Before   []IncidentWas `json:"before" doc:"What it was, the newest first"`
	Back     string        `json:"back" doc:"Why it was taken back; empty where it stands"`
}

// IncidentWas is what an incident was, by whom and when.
type IncidentWas struct {
	Incident IncidentLine `json:"incident"`
	By       string       `json:"by"`
	At       string       `json:"at"`
}

// ShowIncident shows one incident to who may see it.
func ShowIncident(ctx context.Context, o *work.Office, p work.Person, id ids.Incident) (IncidentView, error) {
	out := IncidentView{Before: []IncidentWas{}}
	err := o.Read(ctx, func(v work.Snapshot) error {
		versions, row, err := incidents.Versions(ctx, v, id)
		if err != nil {
			return err
		}
		if row == nil || !incidents.SightOf(v, p).Sees(versions[0]) {
			return work.NotFoundf("there is no such incident among those that you may see")
		}
		lists, err := incidents.ReadLists(ctx, v.Store())
		if err != nil {
			return err
		}
		out.Back = row.Why
		for n, t := range versions {
			one := incidentOf(v, p, v.On, lists, t)
			if n == 0 {
				one.MayCorrect = one.MayCorrect && row.TakenBackBy == nil
				out.Incident = one
			}
			out.Before = append(out.Before, IncidentWas{one, t.By, t.Known.Date().Spoken() + " " + t.Known.Minute().String()})
		}
		return nil
	})
	return out, err
}

// ConductListsView is what is offered where an incident is noted.
type ConductListsView struct {
	Today  string            `json:"today"`
	Now    string            `json:"now" doc:"HH:MM"`
	MaySet bool              `json:"maySet" doc:"Words may be added to the lists"`
	Lists  []ConductListView `json:"lists"`
	Breaks []ConductBreak    `json:"breaks" doc:"What lies between two slots of the present day patterns, ten minutes and more"`
}

// ConductListView is one of the school's lists.
type ConductListView struct {
	List  string           `json:"list" enum:"kind,place,action,break"`
	Stamp string           `json:"stamp"`
	Words []ConductWordRef `json:"words"`
}

// ConductBreak is a break with the school's name for it.
type ConductBreak struct {
	Time string          `json:"time"`
	Name string          `json:"name" doc:"What it lies between, where the school has no name for it"`
	ID   ids.ConductWord `json:"id" doc:"Of its name; 0 for none"`
	Said string          `json:"said" doc:"The school's name; empty for none"`
}

// ShowLists shows the school's lists.
func ShowLists(ctx context.Context, o *work.Office, p work.Person) (ConductListsView, error) {
	out := ConductListsView{Lists: []ConductListView{}, Breaks: []ConductBreak{}, MaySet: p.May(work.MaySetConductLists)}
	err := o.Read(ctx, func(v work.Snapshot) error {
		out.Today, out.Now = v.Now.Date().String(), v.Now.Minute().String()
		lists, err := incidents.ReadLists(ctx, v.Store())
		if err != nil {
			return err
		}
		for _, name := range []string{incidents.Kinds, incidents.Places, incidents.Actions, incidents.Breaks} {
			one := ConductListView{List: name, Stamp: lists.Stamp(name), Words: []ConductWordRef{}}
			for _, w := range lists.Of(name) {
				one.Words = append(one.Words, ConductWordRef{w.ID, w.Name, w.Retired})
			}
			out.Lists = append(out.Lists, one)
		}
		var patterns []*day.Pattern
		for _, s := range v.Sections() {
			if s.Calendar != nil {
				patterns = append(patterns, s.Calendar.Patterns()...)
			}
		}
		for _, t := range incidents.BreaksOf(conduct.Columns(patterns, false)) {
			b := ConductBreak{Time: string(t), Name: t.Name(nil)}
			for _, w := range lists.Of(incidents.Breaks) {
				if w.OfTime == b.Time {
					b.ID = w.ID
					if !w.Retired {
						b.Said = w.Name
					}
				}
			}
			out.Breaks = append(out.Breaks, b)
		}
		return nil
	})
	return out, err
}

// PersonFound is a student by name and form, and nothing else.
type PersonFound struct {
	ID   ids.Student `json:"id"`
	Name string      `json:"name"`
	Form string      `json:"form"`
}

const mostPeople = 12

// FindPeople finds students by the beginnings of their names or by their form, whoever they are taught by.
func FindPeople(ctx context.Context, o *work.Office, text string) ([]PersonFound, error) {
	out := []PersonFound{}
	err := o.Read(ctx, func(v work.Snapshot) error {
		words := strings.Fields(names.Fold(text))
		if len(words) == 0 {
			return nil
		}
		type hit struct {
			PersonFound
			exact bool
		}
		var hits []hit
		for _, s := range v.School.Students {
			if !s.EnrolledOn(v.On) {
				continue
			}
			form := v.School.Form(s.ID, v.On)
			parts := strings.Fields(names.Fold(s.Given + " " + s.Family + " " + form))
			fits := !slices.ContainsFunc(words, func(w string) bool {
				return !slices.ContainsFunc(parts, func(x string) bool { return strings.HasPrefix(x, w) })
			})
			if fits {
				hits = append(hits, hit{PersonFound{s.ID, s.Name(), form}, slices.Contains(parts, words[0])})
			}
		}
		slices.SortStableFunc(hits, func(a, b hit) int {
			if a.exact != b.exact {
				return map[bool]int{true: -1, false: 1}[a.exact]
			}
			return strings.Compare(names.Fold(a.Name), names.Fold(b.Name))
		})
		for _, h := range hits[:min(len(hits), mostPeople)] {
			out = append(out, h.PersonFound)
		}
		return nil
	})
	return out, err
}

// Keep writes the incidents that are asked for as a file, a row for each.
func Keep(ctx context.Context, o *work.Office, p work.Person, asAt string, ask Ask, format string, of ...ids.Section) (pages.File, error) {
	var out pages.File
	m, err := o.Moment(asAt, of...)
	if err != nil {
		return out, err
	}
	err = o.ReadOn(ctx, m.Date, func(v work.Snapshot) error {
		b, err := open(ctx, v, p, m, ask)
		if err != nil {
			return err
		}
		list := sheet.List{Title: "Incidents", About: []string{pages.Between(b.search.From, b.search.To), "Made " + m.Date.Spoken() + " by " + p.Name, "Holds data of students: for those who may see it, and for no one else"},
			Columns: []sheet.Column{{Heading: "Date", Width: 12, Date: true}, {Heading: "Time", Width: 8}, {Heading: "When", Width: 14}, {Heading: "Kind", Width: 22}, {Heading: "Place", Width: 16},
				{Heading: "Did it", Width: 30}, {Heading: "Was harmed", Width: 30}, {Heading: "Saw it", Width: 30}, {Heading: "What happened", Width: 50}, {Heading: "Action", Width: 24}, {Heading: "Recorded by", Width: 18}, {Heading: "Not known yet", Width: 18}}}
		if b.group != "" {
			list.About = append(list.About, b.group)
		}
		for _, t := range b.all {
			if !b.search.Fits(t.Incident) {
				continue
			}
			i := b.incident(t)
			who := map[string][]string{}
			for _, x := range i.People {
				who[x.Role] = append(who[x.Role], work.Join(", ", x.Name, x.Form))
			}
			var done []string
			for _, a := range i.Actions {
				done = append(done, work.Join(" by ", a.Name, a.By))
			}
			list.Rows = append(list.Rows, []string{i.Date, i.Time, i.When, i.Kind, i.Place, strings.Join(who[string(conduct.Did)], "; "), strings.Join(who[string(conduct.Harmed)], "; "), strings.Join(who[string(conduct.Saw)], "; "),
				i.Text, strings.Join(done, "; "), i.RecordedBy, strings.Join(i.Open, ", ")})
		}
		out, err = pages.ListFile(fmt.Sprintf("incidents-%s-to-%s", b.search.From, b.search.To), list, format)
		return err
	})
	return out, err
}
