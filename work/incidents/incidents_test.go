package incidents_test

import (
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/ids"
	"meldung/demo/demotest"
	"meldung/pages/conductpage"
	"meldung/work"
	"meldung/work/incidents"
	"meldung/work/takeback"
)

func lists(t *testing.T, o *work.Office, p work.Person) map[string]conductpage.ConductListView {
	t.Helper()
	v, err := conductpage.ShowLists(t.Context(), o, p)
	require.NoError(t, err)
	out := map[string]conductpage.ConductListView{}
	for _, l := range v.Lists {
		out[l.List] = l
	}
	return out
}

func show(t *testing.T, o *work.Office, p work.Person, id ids.Incident) conductpage.IncidentView {
	t.Helper()
	v, err := conductpage.ShowIncident(t.Context(), o, p, id)
	require.NoError(t, err)
	return v
}

func note(t *testing.T, o *work.Office, p work.Person, key string, n incidents.IncidentNote) (ids.Incident, work.Receipt) {
	t.Helper()
	r, err := incidents.SetNote(t.Context(), o, p, key, n)
	require.NoError(t, err)
	if n.ID != 0 {
		return n.ID, r
	}
	return ids.Incident(r.IDs[0]), r
}

// Three people in three parts, noted by a teacher with what is not known left open, completed by the
// office; what it was stays on record, and is taken back with a reason.
func TestAnIncident(t *testing.T) {
	o := demotest.Copy(t)
	ctx := t.Context()
	l := lists(t, o, demotest.Osk)
	n := incidents.IncidentNote{Kind: incidents.ChosenWord{ID: l["kind"].Words[0].ID}, Text: "pushed on the steps",
		People: []incidents.IncidentPart{{Student: 30, Role: "was harmed"}, {Student: 20, Role: "did it"}, {Student: 10, Role: "saw it"}}}
	id, r := note(t, o, demotest.Osk, "note", n)
	assert.Contains(t, r.Text, "still open: when, where")
	again, err := incidents.SetNote(ctx, o, demotest.Osk, "note", n)
	require.NoError(t, err)
	assert.Equal(t, r, again, "the same key notes once")

	v := show(t, o, demotest.Osk, id)
	assert.Equal(t, []string{"did it", "was harmed", "saw it"}, []string{v.Incident.People[0].Role, v.Incident.People[1].Role, v.Incident.People[2].Role})
	assert.True(t, v.Incident.Own && v.Incident.MayCorrect)
	assert.Equal(t, demotest.Osk.Name, v.Incident.RecordedBy)
	page, err := conductpage.Show(ctx, o, demotest.Osk, "", conductpage.Ask{})
	require.NoError(t, err)
	assert.Equal(t, id, page.Open[0].ID, "one's own first")

	_, err = incidents.SetNote(ctx, o, demotest.Rask, "another teacher", incidents.IncidentNote{ID: id, Seen: v.Incident.Version, Text: "no"})
	assert.Error(t, err)
	n.ID, n.Seen, n.Time, n.Place.New = id, v.Incident.Version, "08:41", "ferry steps"
	n.Actions = []incidents.IncidentAction{{ChosenWord: incidents.ChosenWord{ID: l["action"].Words[0].ID}, By: "K. Strom"}}
	_, err = incidents.SetNote(ctx, o, demotest.Osk, "a place of a teacher's own", n)
	assert.ErrorContains(t, err, "the office adds it")
	_, r = note(t, o, demotest.Officer, "complete", n)
	assert.NotContains(t, r.Text, "open")
	_, err = incidents.SetNote(ctx, o, demotest.Osk, "too late", n)
	assert.Equal(t, work.Conflict, demotest.Kind(t, err), "somebody else corrected it")

	v = show(t, o, demotest.Osk, id)
	assert.Equal(t, "ferry steps", v.Incident.Place)
	assert.Equal(t, "before school", v.Incident.When)
	assert.Equal(t, "K. Strom", v.Incident.Actions[0].By)
	require.Len(t, v.Before, 2)
	assert.Empty(t, v.Before[1].Incident.Place, "what it was stays")
	assert.Equal(t, demotest.Osk.Name, v.Before[1].By)

	_, err = incidents.TakeBack(ctx, o, demotest.Osk, "no reason", incidents.IncidentBack{ID: id, Seen: v.Incident.Version, Why: " "})
	assert.ErrorContains(t, err, "say why")
	_, err = incidents.TakeBack(ctx, o, demotest.Osk, "back", incidents.IncidentBack{ID: id, Seen: v.Incident.Version, Why: "it was another day"})
	require.NoError(t, err)
	v = show(t, o, demotest.Osk, id)
	assert.Equal(t, "it was another day", v.Back)
	assert.False(t, v.Incident.MayCorrect)
	after, err := conductpage.Show(ctx, o, demotest.Officer, "", conductpage.Ask{From: "2026-03-10"})
	require.NoError(t, err)
	assert.Zero(t, after.Count)
}

// What is wrong is refused, and nothing of it is kept.
func TestWhatCannotBeNoted(t *testing.T) {
	o := demotest.Copy(t)
	l := lists(t, o, demotest.Officer)
	kind := incidents.ChosenWord{ID: l["kind"].Words[0].ID}
	for want, n := range map[string]incidents.IncidentNote{
		"say at least":         {},
		"has not come yet":     {Kind: kind, Date: "2026-03-11"},
		"has not come":         {Kind: kind, Time: "23:10"},
		"is not a time":        {Kind: kind, Time: "25:10"},
		"is not a date":        {Kind: kind, Date: "2026-02-30"},
		"there is no student":  {Kind: kind, People: []incidents.IncidentPart{{Student: 99999, Role: "did it"}}},
		"is there twice":       {Kind: kind, People: []incidents.IncidentPart{{Student: 5, Role: "did it"}, {Student: 5, Role: "saw it"}}},
		"there is no such kin": {Kind: incidents.ChosenWord{ID: l["place"].Words[0].ID}},
		"among those that you": {ID: 99999, Text: "nothing"},
	} {
		_, err := incidents.SetNote(t.Context(), o, demotest.Officer, want, n)
		assert.ErrorContains(t, err, want)
	}
	page, err := conductpage.Show(t.Context(), o, demotest.Officer, "", conductpage.Ask{From: "2026-03-10"})
	require.NoError(t, err)
	assert.Zero(t, page.Count)
}

// A teacher sees the incidents of the students taught and those recorded, and no other by counting.
func TestWhatATeacherSees(t *testing.T) {
	o := demotest.Copy(t)
	ctx := t.Context()
	whole, err := conductpage.Show(ctx, o, demotest.Officer, "", conductpage.Ask{})
	require.NoError(t, err)
	own, err := conductpage.Show(ctx, o, demotest.Osk, "", conductpage.Ask{})
	require.NoError(t, err)
	assert.Less(t, own.Grid.All, whole.Grid.All)
	assert.Positive(t, own.Grid.All)
	sees := map[ids.Incident]bool{}
	for _, i := range own.Found {
		sees[i.ID] = true
	}
	require.NoError(t, o.Read(ctx, func(v work.Snapshot) error {
		for _, i := range whole.Found {
			taught := i.RecordedBy == "P. Osk"
			for _, p := range i.People {
				taught = taught || v.MaySee(demotest.Osk, p.Student) == nil
			}
			_, err := conductpage.ShowIncident(ctx, o, demotest.Osk, i.ID)
			assert.Equal(t, taught, err == nil, "%d %s", i.ID, i.RecordedBy)
			if len(own.Found) < 200 {
				assert.Equal(t, taught, sees[i.ID])
			}
		}
		return nil
	}))
	_, err = incidents.SetList(ctx, o, demotest.Osk, "lists", incidents.ConductList{List: "kind"})
	assert.Error(t, err)
	_, err = incidents.MarkChange(ctx, o, demotest.Osk, "change", incidents.ConductChange{Date: "2026-03-02", Name: "x"})
	assert.Error(t, err)
	found, err := conductpage.FindPeople(ctx, o, "maren h")
	require.NoError(t, err)
	assert.Equal(t, "Maren Holt", found[0].Name, "anybody, by name and form")
}

// Lists are renamed, ordered, retired and added to; what used a word keeps it; of two at once one is told.
func TestTheSchoolsLists(t *testing.T) {
	o := demotest.Copy(t)
	ctx := t.Context()
	before, err := conductpage.Show(ctx, o, demotest.Officer, "", conductpage.Ask{})
	require.NoError(t, err)
	l := lists(t, o, demotest.Admin)["place"]
	edit := func() incidents.ConductList {
		out := incidents.ConductList{List: "place", Seen: l.Stamp}
		for _, w := range l.Words {
			out.Words = append(out.Words, incidents.ConductEntry{ID: w.ID, Name: w.Name, Retired: w.Retired})
		}
		return out
	}
	next := edit()
	next.Words[0].Name, next.Words[1].Name = next.Words[1].Name, next.Words[0].Name // each takes the other's
	next.Words[2].Retired = true
	next.Words = append(next.Words[1:], next.Words[0], incidents.ConductEntry{Name: "lighthouse"})
	var wg sync.WaitGroup
	errs := make([]error, 2)
	for i, p := range []work.Person{demotest.Admin, demotest.Officer} {
		wg.Go(func() { _, errs[i] = incidents.SetList(ctx, o, p, p.Name, next) })
	}
	wg.Wait()
	assert.Equal(t, 1, map[bool]int{true: 1}[errs[0] == nil]+map[bool]int{true: 1}[errs[1] == nil], "%v", errs)
	now := lists(t, o, demotest.Admin)["place"]
	assert.Len(t, now.Words, len(l.Words)+1)
	assert.Equal(t, "lighthouse", now.Words[len(now.Words)-1].Name)
	after, err := conductpage.Show(ctx, o, demotest.Officer, "", conductpage.Ask{})
	require.NoError(t, err)
	assert.Equal(t, before.Grid.All, after.Grid.All)
	_, err = incidents.SetNote(ctx, o, demotest.Officer, "retired", incidents.IncidentNote{Text: "x", Place: incidents.ChosenWord{ID: l.Words[2].ID}})
	assert.ErrorContains(t, err, "no longer used")
	l = now
	short := edit()
	short.Words = short.Words[1:]
	_, err = incidents.SetList(ctx, o, demotest.Admin, "one less", short)
	assert.ErrorContains(t, err, "a word is missing")
	twice := edit()
	twice.Words[0].Name = "Lighthouse"
	_, err = incidents.SetList(ctx, o, demotest.Admin, "twice", twice)
	assert.ErrorContains(t, err, "there twice")
}

// A break is called what the school calls it, and by what it lies between once that is taken out.
func TestNamesOfBreaks(t *testing.T) {
	o := demotest.Copy(t)
	named := func() (out []string) {
		v, err := conductpage.ShowLists(t.Context(), o, demotest.Officer)
		require.NoError(t, err)
		for _, b := range v.Breaks {
			out = append(out, b.Name+" "+b.Said)
		}
		return out
	}
	assert.Equal(t, []string{"2–3 break", "4–PM lunch"}, named())
	l := lists(t, o, demotest.Officer)["break"]
	save := func(first string) {
		t.Helper()
		l = lists(t, o, demotest.Officer)["break"]
		_, err := incidents.SetList(t.Context(), o, demotest.Officer, first, incidents.ConductList{List: "break", Seen: l.Stamp,
			Words: []incidents.ConductEntry{{ID: l.Words[0].ID, Name: first, OfTime: "between:2|3"}, {ID: l.Words[1].ID, Name: "lunch", OfTime: "between:4|PM"}}})
		require.NoError(t, err)
	}
	save("")
	assert.Equal(t, []string{"2–3 ", "4–PM lunch"}, named())
	save("elevenses")
	assert.Equal(t, []string{"2–3 elevenses", "4–PM lunch"}, named())
}

// Whoever noted an incident takes it back at once, unless somebody has corrected it since.
func TestANoteTakenBackAtOnce(t *testing.T) {
	o := demotest.Copy(t)
	ctx := t.Context()
	id, r := note(t, o, demotest.Officer, "note", incidents.IncidentNote{Text: "a scuffle"})
	assert.True(t, r.Undo)
	_, err := takeback.Entry(ctx, o, demotest.Ase, "another's", r.Seq)
	assert.Error(t, err)
	_, err = takeback.Entry(ctx, o, demotest.Officer, "back", r.Seq)
	require.NoError(t, err)
	assert.NotEmpty(t, show(t, o, demotest.Officer, id).Back)
	id, r = note(t, o, demotest.Officer, "again", incidents.IncidentNote{Text: "a scuffle"})
	note(t, o, demotest.Ase, "corrected", incidents.IncidentNote{ID: id, Seen: show(t, o, demotest.Officer, id).Incident.Version, Text: "a fight"})
	_, err = takeback.Entry(ctx, o, demotest.Officer, "too late", r.Seq)
	assert.Equal(t, work.Conflict, demotest.Kind(t, err))
}
