package incidents

import (
	"context"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/files/incidentfile"
	"meldung/files/table"
	"meldung/store"
	"meldung/work"
	"meldung/work/plans"
)

// Import says what incidents.csv and incident_people.csv would change, and applies them when asked to. An
// incident that is known by its name is corrected where the files say otherwise; one that was taken back
// here stays so; one that the files lack stays.
func Import(ctx context.Context, o *work.Office, p work.Person, key string, files table.Files, opt plans.Options) (plans.Plan, error) {
	job := work.Job{By: p, Key: key, Needs: work.MayImport, Kind: "incidents imported"}
	return plans.Run(ctx, o, job, opt, &fromFiles{files: files})
}

type fromFiles struct {
	files table.Files
	add   []incidentfile.Row
	fix   map[ids.Incident]incidentfile.Row
	of    map[string]ids.Student // by the name in the files
}

func (c *fromFiles) Plan(ctx context.Context, v work.Snapshot, _ day.Date, _ bool) (plans.Plan, store.School, error) {
	rows, problems := incidentfile.Read(c.files)
	c.add, c.fix, c.of = nil, map[ids.Incident]incidentfile.Row{}, map[string]ids.Student{}
	for _, s := range v.School.Students {
		c.of[s.SourcedID] = s.ID
	}
	problems = append(problems, c.judge(v, rows)...)
	p := plans.New(problems, nil)
	p.When = "at all times"
	known, err := c.known(ctx, v)
	if err != nil {
		return p, v.School.Records().Rows, err
	}
	part := plans.PlanPart{What: "incident"}
	back := 0
	for _, r := range rows {
		was, there := known[r.ID]
		switch {
		case !there:
			part.Added++
			c.add = append(c.add, r)
			p.Detail("add incident %s: %s", r.ID, inWords(r))
		case was.back:
			back++
		case same(was.row, r):
			part.Same++
		default:
			part.Changed++
			c.fix[was.id] = r
			p.Detail("change incident %s from %s to %s", r.ID, inWords(was.row), inWords(r))
		}
	}
	if back > 0 {
		p.Note("%s that %s taken back here stay so", work.Count(back, "incident"), map[bool]string{true: "was", false: "were"}[back == 1])
	}
	p.Parts = append(p.Parts, part)
	return p, v.School.Records().Rows, nil
}

// judge says which rows name students that there are not, or days that have not come.
func (c *fromFiles) judge(v work.Snapshot, rows []incidentfile.Row) []table.Problem {
	var out []table.Problem
	for _, r := range rows {
		if r.Date > v.Now.Date() {
			out = append(out, table.Problem{File: incidentfile.Incidents, Text: "the incident " + r.ID + " is of " + r.Date.String() + ", which has not come yet"})
		}
		for _, p := range r.People {
			if c.of[p.Student] == 0 {
				out = append(out, table.Problem{File: incidentfile.People, Line: p.Line, Text: "there is no student " + p.Student})
			}
		}
	}
	return out
}

type knownIncident struct {
	id   ids.Incident
	row  incidentfile.Row
	back bool
}

// known returns the school's incidents by the names that files have for them.
func (c *fromFiles) known(ctx context.Context, v work.Snapshot) (map[string]knownIncident, error) {
	out := map[string]knownIncident{}
	names, err := store.IncidentNames(ctx, v.Store())
	if err != nil {
		return nil, err
	}
	for _, n := range names {
		out[n.SourcedID] = knownIncident{id: n.ID, back: n.TakenBack}
	}
	rows, err := Rows(ctx, v)
	for _, r := range rows {
		k := out[r.ID]
		k.row = r
		out[r.ID] = k
	}
	return out, err
}

func same(a, b incidentfile.Row) bool {
	people := func(r incidentfile.Row) (out []string) {
		for _, p := range r.People {
			out = append(out, p.Student+" "+string(p.Role))
		}
		slices.Sort(out)
		return out
	}
	actions := func(r incidentfile.Row) []string {
		out := slices.Clone(r.Actions)
		slices.Sort(out)
		return out
	}
	return a.Date == b.Date && a.Minute == b.Minute && strings.EqualFold(a.Kind, b.Kind) && strings.EqualFold(a.Place, b.Place) && strings.TrimSpace(a.Text) == strings.TrimSpace(b.Text) &&
		slices.EqualFunc(actions(a), actions(b), strings.EqualFold) && slices.Equal(people(a), people(b))
}

func inWords(r incidentfile.Row) string {
	at := ""
	if !r.Minute.IsZero() {
		at = r.Minute.String()
	}
	return work.Join(", ", r.Date.String()+" "+at, r.Kind, r.Place, work.Count(len(r.People), "student"))
}

func (c *fromFiles) Write(ctx context.Context, tx *work.Tx, _ work.Snapshot, _ store.School) error {
	lists, err := ReadLists(ctx, tx.Tx)
	if err != nil {
		return err
	}
	for _, r := range c.add {
		id, err := store.AddIncident(ctx, tx.Tx, store.Incident{SourcedID: r.ID, RecordedBy: r.RecordedBy, Origin: tx.Origin()})
		if err != nil {
			return err
		}
		if err := c.version(ctx, tx, &lists, id, r); err != nil {
			return err
		}
	}
	for id, r := range c.fix {
		if err := c.version(ctx, tx, &lists, id, r); err != nil {
			return err
		}
	}
	return nil
}

// version writes what the files say of an incident; words that the lists lack join them.
func (c *fromFiles) version(ctx context.Context, tx *work.Tx, lists *Lists, id ids.Incident, r incidentfile.Row) error {
	row := store.Incident{ID: id, Date: r.Date, Minute: r.Minute, Text: strings.TrimSpace(r.Text), Origin: tx.Origin()}
	word := func(list, name string) (*ids.ConductWord, error) {
		if name == "" {
			return nil, nil
		}
		if i := slices.IndexFunc(lists.words[list], func(x store.ConductWord) bool { return strings.EqualFold(x.Name, name) }); i >= 0 {
			return &lists.words[list][i].ID, nil
		}
		id, err := addWord(ctx, tx, lists, list, name)
		return &id, err
	}
	var err error
	if row.Kind, err = word(Kinds, strings.TrimSpace(r.Kind)); err != nil {
		return err
	}
	if row.Place, err = word(Places, strings.TrimSpace(r.Place)); err != nil {
		return err
	}
	var people []store.IncidentPerson
	for _, p := range r.People {
		people = append(people, store.IncidentPerson{StudentID: c.of[p.Student], Role: string(p.Role)})
	}
	var actions []store.IncidentAction
	for _, name := range r.Actions {
		a, err := word(Actions, name)
		if err != nil {
			return err
		}
		actions = append(actions, store.IncidentAction{Action: *a})
	}
	return store.AddIncidentVersion(ctx, tx.Tx, row, people, actions)
}

// Export returns the incidents that stand as incidents.csv and incident_people.csv.
func Export(ctx context.Context, o *work.Office) (table.Files, error) {
	var out table.Files
	err := o.Read(ctx, func(v work.Snapshot) error {
		rows, err := Rows(ctx, v)
		out = incidentfile.Write(rows)
		return err
	})
	return out, err
}

// Rows are the incidents that stand as files have them.
func Rows(ctx context.Context, v work.Snapshot) ([]incidentfile.Row, error) {
	lists, err := ReadLists(ctx, v.Store())
	if err != nil {
		return nil, err
	}
	told, err := Between(ctx, v, day.NoStart, day.NoEnd)
	var out []incidentfile.Row
	for _, t := range told {
		r := incidentfile.Row{ID: t.SourcedID, Date: t.Date, Minute: t.Minute, Kind: lists.Name(t.Kind), Place: lists.Name(t.Place), Text: t.Text, RecordedBy: t.RecordedBy}
		for _, a := range t.Actions {
			r.Actions = append(r.Actions, lists.Name(a))
		}
		for _, p := range t.People {
			s, _ := v.School.Student(p.Student)
			r.People = append(r.People, incidentfile.Person{Student: s.SourcedID, Role: p.Role})
		}
		out = append(out, r)
	}
	return out, err
}
