package incidents

import (
	"context"
	"crypto/rand"
	"slices"
	"strings"

	"meldung/core/conduct"
	"meldung/core/day"
	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
)

// IncidentNote is an incident as it is noted, or corrected. What is not known yet stays open.
type IncidentNote struct {
	ID      ids.Incident        `json:"id,omitempty" doc:"The incident that is corrected; 0 for a new one"`
	Seen    ids.IncidentVersion `json:"seen,omitempty" doc:"The version that is corrected; where another stands by now, nothing is saved"`
	Date    string              `json:"date,omitempty" maxLength:"10" doc:"YYYY-MM-DD; empty is today"`
	Time    string              `json:"time,omitempty" maxLength:"5" doc:"HH:MM; empty where it is not known"`
	Kind    ChosenWord          `json:"kind,omitempty"`
	Place   ChosenWord          `json:"place,omitempty"`
	People  []IncidentPart      `json:"people,omitempty" maxItems:"60"`
	Text    string              `json:"text,omitempty" maxLength:"2000" doc:"What happened"`
	Actions []IncidentAction    `json:"actions,omitempty" maxItems:"20"`
}

// ChosenWord is a word of a list, or a new one that joins it.
type ChosenWord struct {
	ID  ids.ConductWord `json:"id,omitempty"`
	New string          `json:"new,omitempty" maxLength:"60" doc:"A word that the list lacks"`
}

// IncidentPart is a student's part.
type IncidentPart struct {
	Student ids.Student `json:"student"`
	Role    string      `json:"role" enum:"did it,was harmed,saw it"`
}

// IncidentAction is an action and who took it.
type IncidentAction struct {
	ChosenWord
	By string `json:"by,omitempty" maxLength:"60" doc:"Empty for whoever records it"`
}

// SetNote notes an incident or corrects one.
func SetNote(ctx context.Context, o *work.Office, p work.Person, key string, n IncidentNote) (work.Receipt, error) {
	var out work.Receipt
	kind := map[bool]string{true: "incident", false: "incident corrected"}[n.ID == 0]
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayNoteIncident, Kind: kind, In: n, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		was, row, err := before(ctx, v, p, n)
		if err != nil {
			return err
		}
		lists, err := ReadLists(ctx, tx.Tx)
		if err != nil {
			return err
		}
		row.Origin, row.Text = tx.Origin(), strings.TrimSpace(n.Text)
		if row.Date, row.Minute, err = n.when(tx.Now); err != nil {
			return err
		}
		if row.Kind, err = n.Kind.in(ctx, tx, &lists, Kinds, was.Kind); err != nil {
			return err
		}
		if row.Place, err = n.Place.in(ctx, tx, &lists, Places, was.Place); err != nil {
			return err
		}
		people, err := n.parts(v)
		if err != nil {
			return err
		}
		actions, err := n.taken(ctx, tx, &lists, was)
		if err != nil {
			return err
		}
		if row.Kind == nil && row.Text == "" && len(people) == 0 {
			return work.Wrongf("say at least what kind, who or what happened; nothing was saved")
		}
		if n.ID == 0 {
			row.SourcedID, row.Account, row.RecordedBy = strings.ToLower(rand.Text()), &p.Account, p.Name
			if row.ID, err = store.AddIncident(ctx, tx.Tx, row); err != nil {
				return err
			}
		}
		if err := store.AddIncidentVersion(ctx, tx.Tx, row, people, actions); err != nil {
			return err
		}
		out = work.ReceiptOf(tx, said(n, lists, row, people), row.ID)
		return nil
	})
	return out, err
}

// said says what was stored, and what of it is still open.
func said(n IncidentNote, lists Lists, row store.Incident, people []store.IncidentPerson) string {
	i := conduct.Incident{Minute: row.Minute}
	what := "Incident"
	if row.Kind != nil {
		i.Kind, what = *row.Kind, lists.Name(*row.Kind)
	}
	if row.Place != nil {
		i.Place = *row.Place
	}
	for _, p := range people {
		i.People = append(i.People, conduct.Person{Student: p.StudentID, Role: conduct.Role(p.Role)})
	}
	words := what + map[bool]string{true: " noted", false: " corrected"}[n.ID == 0]
	if open := i.Open(); len(open) > 0 {
		words += "; still open: " + strings.Join(open, ", ")
	}
	return words
}

// before returns the incident as it stands before it is corrected.
func before(ctx context.Context, v work.Snapshot, p work.Person, n IncidentNote) (was Told, row store.Incident, err error) {
	if n.ID == 0 {
		return was, row, nil
	}
	was, row, err = Standing(ctx, v, p, n.ID)
	switch {
	case err != nil:
		return was, row, err
	case !MayCorrect(p, was):
		return was, row, work.Refusedf("it is corrected by whoever recorded it, %s, or by the office; nothing was saved", was.RecordedBy)
	case n.Seen != was.Version:
		return was, row, work.Conflictf("%s has corrected it meanwhile; yours was not saved. Look at it as it is now", was.By)
	}
	return was, row, nil
}

// Standing returns an incident that stands and that a person may see.
func Standing(ctx context.Context, v work.Snapshot, p work.Person, id ids.Incident) (Told, store.Incident, error) {
	versions, row, err := Versions(ctx, v, id)
	switch {
	case err != nil:
		return Told{}, store.Incident{}, err
	case row == nil || !SightOf(v, p).Sees(versions[0]):
		return Told{}, store.Incident{}, work.NotFoundf("there is no such incident among those that you may see")
	case row.TakenBackBy != nil:
		return Told{}, store.Incident{}, work.Conflictf("that incident was taken back: %s", row.Why)
	}
	return versions[0], *row, nil
}

// when reads date and time, of which neither may be to come.
func (n IncidentNote) when(now day.Instant) (d day.Date, at day.Minute, err error) {
	d = now.Date()
	if n.Date != "" {
		if d, err = day.ParseDate(n.Date); err != nil {
			return d, at, work.Wrongf("%v; nothing was saved", err)
		}
	}
	if n.Time != "" {
		if at, err = day.ParseMinute(n.Time); err != nil {
			return d, at, work.Wrongf("%v; nothing was saved", err)
		}
	}
	if d > now.Date() || d == now.Date() && at.After(now.Minute()) {
		return d, at, work.Wrongf("%s %s has not come yet; nothing was saved", d.Spoken(), n.Time)
	}
	return d, at, nil
}

// in finds a word in its list, or adds one that the list lacks. One that is retired stays where it was.
func (w ChosenWord) in(ctx context.Context, tx *work.Tx, lists *Lists, list string, was ids.ConductWord) (*ids.ConductWord, error) {
	name := strings.TrimSpace(w.New)
	switch {
	case w.ID == 0 && name == "":
		return nil, nil
	case w.ID == 0:
		id, err := addWord(ctx, tx, lists, list, name)
		return &id, err
	}
	i := slices.IndexFunc(lists.words[list], func(x store.ConductWord) bool { return x.ID == w.ID })
	if i < 0 {
		return nil, work.Wrongf("there is no such %s; nothing was saved", list)
	}
	if x := lists.words[list][i]; x.Retired && x.ID != was {
		return nil, work.Conflictf("%q is no longer used; choose another. Nothing was saved", x.Name)
	}
	return &w.ID, nil
}

// addWord adds a word to a list, or finds it there by its name in any case.
func addWord(ctx context.Context, tx *work.Tx, lists *Lists, list, name string) (ids.ConductWord, error) {
	if i := slices.IndexFunc(lists.words[list], func(x store.ConductWord) bool { return strings.EqualFold(x.Name, name) }); i >= 0 {
		x := &lists.words[list][i]
		if x.Retired {
			x.Retired = false
			_, err := store.SaveConductWord(ctx, tx.Tx, *x)
			return x.ID, err
		}
		return x.ID, nil
	}
	if !tx.Person.May(work.MaySetConductLists) {
		return 0, work.Refusedf("%q is not among the %ss yet: the office adds it. Nothing was saved", name, list)
	}
	row := store.ConductWord{List: list, Name: name, Place: len(lists.words[list]) + 1, Journal: tx.Entry}
	var err error
	if row.ID, err = store.SaveConductWord(ctx, tx.Tx, row); err != nil {
		return 0, err
	}
	lists.words[list], lists.name[row.ID] = append(lists.words[list], row), name
	return row.ID, nil
}

// parts reads who had which part, nobody twice.
func (n IncidentNote) parts(v work.Snapshot) ([]store.IncidentPerson, error) {
	var out []store.IncidentPerson
	for _, x := range n.People {
		st, err := v.Student(x.Student)
		if err != nil {
			return nil, err
		}
		if slices.ContainsFunc(out, func(o store.IncidentPerson) bool { return o.StudentID == x.Student }) {
			return nil, work.Wrongf("%s is there twice; nothing was saved", st.Name())
		}
		out = append(out, store.IncidentPerson{StudentID: x.Student, Role: x.Role})
	}
	return out, nil
}

func (n IncidentNote) taken(ctx context.Context, tx *work.Tx, lists *Lists, was Told) ([]store.IncidentAction, error) {
	var out []store.IncidentAction
	for _, a := range n.Actions {
		stays := ids.ConductWord(0)
		if slices.Contains(was.Actions, a.ID) {
			stays = a.ID
		}
		id, err := a.in(ctx, tx, lists, Actions, stays)
		if err != nil {
			return nil, err
		}
		if id == nil || slices.ContainsFunc(out, func(o store.IncidentAction) bool { return o.Action == *id }) {
			continue
		}
		out = append(out, store.IncidentAction{Action: *id, By: strings.TrimSpace(a.By)})
	}
	return out, nil
}

// IncidentBack is why an incident does not stand.
type IncidentBack struct {
	ID   ids.Incident        `json:"id"`
	Seen ids.IncidentVersion `json:"seen"`
	Why  string              `json:"why" maxLength:"300"`
}

// TakeBack says that an incident was entered by mistake. It stays on record with the reason.
func TakeBack(ctx context.Context, o *work.Office, p work.Person, key string, t IncidentBack) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayTakeIncidentBack, Kind: "incident taken back", In: t, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		why := strings.TrimSpace(t.Why)
		if why == "" {
			return work.Wrongf("say why it is taken back; nothing was changed")
		}
		if _, _, err := before(ctx, v, p, IncidentNote{ID: t.ID, Seen: t.Seen}); err != nil {
			return err
		}
		if _, err := store.TakeIncidentBack(ctx, tx.Tx, t.ID, why, tx.Entry); err != nil {
			return err
		}
		out = tx.Receipt("Incident taken back")
		return nil
	})
	return out, err
}
