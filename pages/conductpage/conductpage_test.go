package conductpage_test

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"os/exec"
	"strconv"
	"strings"
	"testing"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/ids"
	"meldung/demo/demotest"
	"meldung/pages/conductpage"
	"meldung/pages/studentpage"
	"meldung/work"
	"meldung/work/incidents"
)

func show(t *testing.T, o *work.Office, ask conductpage.Ask, of ...ids.Section) conductpage.ConductView {
	t.Helper()
	v, err := conductpage.Show(t.Context(), o, demotest.Officer, "", ask, of...)
	require.NoError(t, err)
	return v
}

// The grid, its rows, its columns, the bars, the weeks and the list are the same incidents, whatever is
// asked for; each cell opens into as many as it says; and what one asks for is what the file has.
func TestThePartsAddUp(t *testing.T) {
	o := demotest.Copy(t)
	pier := int64(0)
	for _, p := range show(t, o, conductpage.Ask{}).Places {
		if p.Name == "pier" {
			pier = int64(p.ID)
		}
	}
	for what, ask := range map[string]conductpage.Ask{
		"all": {}, "weekdays": {Rows: "weekday"}, "kinds": {Rows: "kind", Group: "year:9"}, "harmed": {Roles: []string{"was harmed"}}, "pier": {Places: []int64{pier}, From: "2025-09-01"},
		"no action": {Actions: []int64{0}}, "incomplete": {Incomplete: true}, "before": {Times: []string{"before", "unknown"}}, "monday": {Weekdays: []int{1}}, "a term": {From: "2026-01-05", To: "2026-02-13"},
	} {
		v := show(t, o, ask)
		rows, columns, kinds, weeks := 0, 0, 0, 0
		for _, r := range v.Grid.Rows {
			sum := 0
			for c, n := range r.Cells {
				sum += n
				if n > 0 && what != "all" {
					cell := ask
					cell.CellRow, cell.CellTime = r.Key, v.Grid.Columns[c].Time
					assert.Equal(t, n, show(t, o, cell).Count, "%s %s %s", what, r.Name, v.Grid.Columns[c].Name)
				}
			}
			assert.Equal(t, sum, r.Sum, what)
			rows += sum
		}
		for _, n := range v.Grid.Sums {
			columns += n
		}
		for _, b := range v.ByKind {
			kinds += b.Count
		}
		for _, w := range v.Weeks {
			weeks += w.Count
		}
		assert.Equal(t, []int{v.Rate.Incidents, v.Rate.Incidents, v.Rate.Incidents, v.Rate.Incidents, v.Rate.Incidents, v.Rate.Incidents}, []int{rows, columns, kinds, weeks, v.Grid.All, v.Count}, what)
		f, err := conductpage.Keep(t.Context(), o, demotest.Officer, "", ask, "csv")
		require.NoError(t, err)
		lines, err := csv.NewReader(bytes.NewReader(f.Content)).ReadAll()
		require.NoError(t, err)
		assert.Len(t, lines, v.Count+1, what)
	}
}

// Counts and student-days recounted by sqlite3 from the tables alone.
func TestCountsAgainstSQL(t *testing.T) {
	o := demotest.Copy(t)
	v := show(t, o, conductpage.Ask{From: "2025-09-01", Roles: []string{"was harmed"}})
	var files []string
	require.NoError(t, sqlx.SelectContext(t.Context(), o.Store().Read(), &files, `SELECT file FROM pragma_database_list WHERE name = 'main'`))
	query := func(sql string) string {
		out, err := exec.CommandContext(t.Context(), "sqlite3", files[0], sql).CombinedOutput()
		require.NoError(t, err, string(out))
		return strings.TrimSpace(string(out))
	}
	const stands = ` FROM incident i JOIN incident_version x ON x.incident_id = i.id AND x.ended_by IS NULL WHERE i.taken_back_by IS NULL AND x.date >= julianday('2025-09-01') - 2440587.5 AND EXISTS (SELECT 1 FROM incident_person p WHERE p.version_id = x.id AND p.role = 'was harmed')`
	assert.Equal(t, strconv.Itoa(v.Count), query(`SELECT count(*)`+stands))
	for _, r := range v.Grid.Rows {
		where := fmt.Sprintf(" AND x.place_id = %s", r.Key)
		if r.Key == "0" {
			where = " AND x.place_id IS NULL"
		}
		assert.Equal(t, strconv.Itoa(r.Sum), query(`SELECT count(*)`+stands+where), r.Name)
	}
	days := query(`SELECT count(*) FROM calendar c JOIN student_detail d ON d.section_id = c.section_id AND d.from_date <= c.date AND coalesce(d.to_date, c.date) >= c.date
		JOIN student_span s ON s.student_id = d.student_id AND s.from_date <= c.date AND coalesce(s.to_date, c.date) >= c.date
		WHERE c.pattern <> 'closed' AND c.date BETWEEN julianday('2025-09-01') - 2440587.5 AND julianday('2026-03-10') - 2440587.5`)
	n, err := strconv.Atoi(days)
	require.NoError(t, err)
	assert.Equal(t, fmt.Sprintf("%.2f", float64(v.Rate.Incidents)*100/float64(n)), v.Rate.PerHundred)
}

// The pier before school stands out, and the supervised queue helped: on as many school days either side.
func TestThePierAndTheQueue(t *testing.T) {
	o := demotest.Copy(t)
	v := show(t, o, conductpage.Ask{From: "2025-09-01"})
	var pier int64
	for _, r := range v.Grid.Rows {
		if r.Name == "pier" {
			pier, _ = strconv.ParseInt(r.Key, 10, 64)
			assert.Equal(t, v.Grid.Most, r.Cells[0], "the darkest cell is the pier before school")
			assert.Equal(t, "before school", v.Grid.Columns[0].Name)
		}
	}
	at := show(t, o, conductpage.Ask{Places: []int64{pier}})
	require.Len(t, at.Changes, 1)
	c := at.Changes[0]
	assert.Equal(t, []string{"Supervised ferry queue", "fewer"}, []string{c.Name, c.Ratio.Verdict})
	assert.Equal(t, c.Before.Days, c.After.Days)
	assert.Equal(t, "2026-01-12", c.After.From)
	assert.Less(t, c.Before.To, c.After.From)
	assert.Less(t, c.After.Incidents, c.Before.Incidents)

	r, err := incidents.MarkChange(t.Context(), o, demotest.Ase, "mark", incidents.ConductChange{Date: "2026-03-10", Name: "Two at the gate"})
	require.NoError(t, err)
	now := show(t, o, conductpage.Ask{}).Changes[0]
	assert.Equal(t, 1, now.After.Days)
	_, err = incidents.TakeChangeBack(t.Context(), o, demotest.Ase, "off", ids.ConductChange(r.IDs[0]))
	require.NoError(t, err)
	assert.Len(t, show(t, o, conductpage.Ask{}).Changes, 1)
	_, err = incidents.TakeChangeBack(t.Context(), o, demotest.Ase, "off again", ids.ConductChange(r.IDs[0]))
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
}

// A section's incidents are those of its students, and both sections' are all.
func TestConductOfASection(t *testing.T) {
	o := demotest.Copy(t)
	ask := conductpage.Ask{From: "2025-09-01"}
	lower, upper := show(t, o, ask, demotest.Lower), show(t, o, ask, demotest.Upper)
	assert.Equal(t, show(t, o, ask).Count, lower.Count+upper.Count)
	assert.Positive(t, upper.Count)
	_, err := conductpage.Show(t.Context(), o, demotest.Officer, "", conductpage.Ask{Roles: []string{"heard of it"}})
	assert.Equal(t, work.Wrong, demotest.Kind(t, err))
	_, err = conductpage.Show(t.Context(), o, demotest.Officer, "", conductpage.Ask{From: "2026-03-10", To: "2026-03-01"})
	assert.Equal(t, work.Wrong, demotest.Kind(t, err))
}

// A student's sheet has the student's own part and nobody else's name; the desk sees nothing of it.
func TestConductOnTheSheet(t *testing.T) {
	o := demotest.Copy(t)
	oona, other := demotest.Find(t, o, "Oona Harle").Student, demotest.Find(t, o, "Maren Holt").Student
	_, err := incidents.SetNote(t.Context(), o, demotest.Officer, "note", incidents.IncidentNote{Text: "Oona Harle pushed Maren Holt", Time: "08:40",
		People: []incidents.IncidentPart{{Student: oona.ID, Role: "did it"}, {Student: other.ID, Role: "was harmed"}}})
	require.NoError(t, err)
	happened := func(p work.Person, id ids.Student) (out []string) {
		v, err := studentpage.Show(t.Context(), o, p, id, "")
		require.NoError(t, err)
		for _, h := range v.Happened {
			if h.Kind == "conduct" {
				out = append(out, h.Text)
			}
		}
		return out
	}
	assert.Equal(t, "was harmed", happened(demotest.Officer, other.ID)[0])
	assert.NotContains(t, strings.Join(happened(demotest.Officer, other.ID), " "), "Oona")
	assert.Contains(t, strings.Join(happened(demotest.Officer, oona.ID), "|"), "did it · left a lesson · boat shed")
	assert.Empty(t, happened(demotest.Maud, oona.ID))
}
