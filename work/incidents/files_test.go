package incidents_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/ids"
	"meldung/demo/demotest"
	"meldung/files/incidentfile"
	"meldung/files/table"
	"meldung/pages/conductpage"
	"meldung/work"
	"meldung/work/incidents"
	"meldung/work/plans"
)

// What was exported changes nothing when it comes back; corrected in the file it is a new version, new ones
// are added with the words that they bring, and what was taken back here stays so.
func TestIncidentsAsFiles(t *testing.T) {
	o := demotest.Copy(t)
	ctx := t.Context()
	run := func(files table.Files, apply bool) plans.Plan {
		t.Helper()
		plan, err := incidents.Import(ctx, o, demotest.Admin, "", files, plans.Options{Apply: apply})
		require.NoError(t, err)
		return plan
	}
	files, err := incidents.Export(ctx, o)
	require.NoError(t, err)
	all, problems := incidentfile.Read(files)
	require.Empty(t, problems)
	assert.Equal(t, plans.PlanPart{What: "incident", Same: len(all)}, run(files, true).Parts[0])

	mine, _ := note(t, o, demotest.Officer, "mine", incidents.IncidentNote{Text: "mine"})
	back := ids.Incident(1)
	_, err = incidents.TakeBack(ctx, o, demotest.Officer, "back", incidents.IncidentBack{ID: back, Seen: show(t, o, demotest.Officer, back).Incident.Version, Why: "mistake"})
	require.NoError(t, err)
	changed := table.Files{
		incidentfile.Incidents: append([]byte(strings.Replace(string(files[incidentfile.Incidents]), "pier", "ferry steps", 1)), "outside-1,2026-03-09,,scuffle,,\"by the gate, twice\",\"home told; bus ban\",M. Kersey\n"...),
		incidentfile.People:    append(files[incidentfile.People], "outside-1,"+sourced(t, o, 12)+",did it\n"...),
	}
	looked := run(changed, false)
	assert.Equal(t, plans.PlanPart{What: "incident", Added: 1, Changed: 1, Same: len(all) - 2}, looked.Parts[0], "the one taken back is in none")
	assert.Contains(t, strings.Join(looked.Notes, " "), "1 incident that was taken back here stay so")
	before, err := conductpage.Show(ctx, o, demotest.Officer, "", conductpage.Ask{From: "2025-09-01"})
	require.NoError(t, err)
	require.True(t, run(changed, true).Applied)
	after, err := conductpage.Show(ctx, o, demotest.Officer, "", conductpage.Ask{From: "2025-09-01"})
	require.NoError(t, err)
	assert.Equal(t, before.Count+1, after.Count)
	assert.Equal(t, "mine", show(t, o, demotest.Officer, mine).Incident.Text, "what the files lack stays")
	assert.Zero(t, run(changed, true).Changes(), "a second time nothing")
	l := lists(t, o, demotest.Officer)
	assert.Equal(t, "scuffle", l["kind"].Words[len(l["kind"].Words)-1].Name)
	assert.Equal(t, "bus ban", l["action"].Words[len(l["action"].Words)-1].Name)

	again, err := incidents.Export(ctx, o)
	require.NoError(t, err)
	assert.Contains(t, string(again[incidentfile.Incidents]), `outside-1,2026-03-09,,scuffle,,"by the gate, twice",home told; bus ban,M. Kersey`)
}

func sourced(t *testing.T, o *work.Office, id ids.Student) (out string) {
	t.Helper()
	require.NoError(t, o.Read(t.Context(), func(v work.Snapshot) error {
		out = v.School.StudentOf(id).SourcedID
		return nil
	}))
	return out
}

// Every wrong line is told by file and line, and nothing of the files is kept.
func TestWrongIncidentFiles(t *testing.T) {
	o := demotest.Copy(t)
	who := sourced(t, o, 12)
	for want, files := range map[string][2]string{
		`incidents.csv:2: date "2026-13-01" is not a date`:     {"a,2026-13-01,,,,,,\n", ""},
		`incidents.csv:2: time "9:5" is not a time`:            {"a,2026-03-01,9:5,,,,,\n", ""},
		`incidents.csv:3: the incident "a" is there twice`:     {"a,2026-03-01,,,,,,\na,2026-03-02,,,,,,\n", ""},
		`incidents.csv:2: incident is empty`:                   {",2026-03-01,,,,,,\n", ""},
		`which has not come yet`:                               {"a,2026-03-11,,,,,,\n", ""},
		`incident_people.csv:2: there is no incident "b"`:      {"a,2026-03-01,,,,,,\n", "b," + who + ",did it\n"},
		`incident_people.csv:2: there is no student nobody`:    {"a,2026-03-01,,,,,,\n", "a,nobody,did it\n"},
		`incident_people.csv:2: role is "did"`:                 {"a,2026-03-01,,,,,,\n", "a," + who + ",did\n"},
		`in the incident "a" twice`:                            {"a,2026-03-01,,,,,,\n", "a," + who + ",did it\na," + who + ",saw it\n"},
		`incident_people.csv:2: 2 fields where the header has`: {"a,2026-03-01,,,,,,\n", "a," + who + "\n"},
	} {
		plan, err := incidents.Import(t.Context(), o, demotest.Admin, "", table.Files{
			incidentfile.Incidents: []byte("incident,date,time,kind,place,what_happened,actions,recorded_by\n" + files[0]),
			incidentfile.People:    []byte("incident,student,role\n" + files[1]),
		}, plans.Options{Apply: true})
		require.NoError(t, err)
		assert.Contains(t, strings.Join(plan.Problems, "\n"), want)
		assert.False(t, plan.Applied)
	}
	plan, err := incidents.Import(t.Context(), o, demotest.Admin, "", table.Files{}, plans.Options{})
	require.NoError(t, err)
	assert.Equal(t, []string{"incidents.csv: the file is missing", "incident_people.csv: the file is missing"}, plan.Problems)
}
