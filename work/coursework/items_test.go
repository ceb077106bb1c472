package coursework_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/results"
	"meldung/demo/demotest"
	"meldung/files/table"
	"meldung/work"
	"meldung/work/coursework"
	"meldung/work/plans"
)

const itemHeader = "sourcedId,title,assignDate,dueDate,classSourcedId,resultValueMax\n"
const scoreHeader = "sourcedId,status,lineItemSourcedId,studentSourcedId,scoreStatus,score,comment\n"

func pieces(t *testing.T, o *work.Office, student ids.Student, d day.Date) map[string]coursework.Piece {
	t.Helper()
	out := map[string]coursework.Piece{}
	require.NoError(t, o.ReadOn(t.Context(), d, func(v work.Snapshot) error {
		list, err := coursework.Pieces(t.Context(), v, student, d)
		for _, p := range list {
			out[p.Item.Title] = p
		}
		return err
	}))
	return out
}

// Items and scores of OneRoster are looked at and taken, twice without harm; a score that is replaced stays
// on record; what is to be deleted goes; where one row is wrong nothing is taken.
func TestItemsBroughtIn(t *testing.T) {
	o := demotest.Copy(t)
	today := day.MustDate("2026-03-10")
	maren := demotest.Find(t, o, "Maren Holt").Student.ID
	var who, class string
	require.NoError(t, o.Read(t.Context(), func(v work.Snapshot) error {
		who = v.School.StudentOf(maren).SourcedID
		for _, e := range v.School.EnrollmentsOf(maren) {
			if c, ok := v.School.Class(e.ClassID); ok && !c.Form() && e.On(today) {
				class = c.SourcedID
			}
		}
		return nil
	}))
	require.NotEmpty(t, class)
	first := table.Files{
		"lineItems.csv": []byte(itemHeader + "x1,Knots,2026-02-01,2026-03-01," + class + ",20\nx2,Charts,2026-02-01,2026-03-02," + class + ",10\nx3,Tides,2026-03-01,2026-03-20," + class + ",10\nx4,Later,2026-03-11,2026-03-30," + class + ",10\n"),
		"results.csv":   []byte(scoreHeader + "r1,,x1," + who + ",fully graded,12,\n"),
	}
	looked := run(t, o, first, false)
	require.Empty(t, looked.Problems)
	assert.Equal(t, plans.PlanPart{What: "item", Added: 4}, part(looked, "item"))
	assert.Equal(t, plans.PlanPart{What: "score", Added: 1}, part(looked, "score"))
	assert.NotContains(t, pieces(t, o, maren, today), "Knots", "looking changes nothing")
	require.True(t, run(t, o, first, true).Applied)
	assert.Zero(t, run(t, o, first, true).Changes())

	have := pieces(t, o, maren, today)
	assert.Equal(t, "3/5", have["Knots"].Share.String())
	assert.Equal(t, results.ItemNever, have["Charts"].State)
	assert.Equal(t, results.ItemOpen, have["Tides"].State)
	assert.NotContains(t, have, "Later", "not given yet")
	assert.NotContains(t, pieces(t, o, demotest.Find(t, o, "Tavi Lund").Student.ID, today), "Knots", "another class's")

	again := run(t, o, table.Files{"results.csv": []byte(scoreHeader + "r1,,x1," + who + ",fully graded,15,\nr2,,x2," + who + ",exempt,,\n")}, true)
	require.True(t, again.Applied, "%v", again.Problems)
	assert.Equal(t, plans.PlanPart{What: "score", Added: 1, Changed: 1}, part(again, "score"))
	have = pieces(t, o, maren, today)
	assert.Equal(t, "3/4", have["Knots"].Share.String())
	assert.Equal(t, results.ItemExempt, have["Charts"].State)

	broken := run(t, o, table.Files{"lineItems.csv": []byte(itemHeader + "x1,Other,,,nowhere,20\n"), "results.csv": []byte(scoreHeader + "r1,,x1,nobody,submitted,,\nr2,,x2," + who + ",submitted,,\n")}, true)
	assert.False(t, broken.Applied)
	assert.Equal(t, []string{`lineItems.csv:2: the school has no class "nowhere"`, `results.csv:2: the school has no student "nobody"`}, broken.Problems)
	assert.Equal(t, results.ItemExempt, pieces(t, o, maren, today)["Charts"].State)

	gone := run(t, o, table.Files{"lineItems.csv": []byte("sourcedId,status,title,classSourcedId\nx1,tobedeleted,,\n"), "results.csv": []byte(scoreHeader + "r2,tobedeleted,,,,,\n")}, true)
	require.True(t, gone.Applied, "%v", gone.Problems)
	have = pieces(t, o, maren, today)
	assert.NotContains(t, have, "Knots")
	assert.Equal(t, results.ItemNever, have["Charts"].State)
}

// Grades and items may come in one folder; a folder with neither is refused.
func TestGradesAndItemsTogether(t *testing.T) {
	o := demotest.Copy(t)
	both := files("", "lineItems.csv\n"+itemHeader)
	plan := run(t, o, both, false)
	require.Empty(t, plan.Problems)
	assert.Equal(t, 2, part(plan, "course").Added)
	assert.Contains(t, plan.Parts, plans.PlanPart{What: "item"})
	empty := run(t, o, table.Files{"other.csv": []byte("a\n1\n")}, true)
	assert.False(t, empty.Applied)
	assert.Contains(t, empty.Problems, "grades.csv: the file is missing")
}
