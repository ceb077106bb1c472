package parttime_test

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/ids"
	"meldung/demo/demotest"
	"meldung/files/table"
	"meldung/pages"
	"meldung/pages/absencepage"
	"meldung/pages/studentpage"
	"meldung/work"
	"meldung/work/parttime"
	"meldung/work/plans"
	"meldung/work/roster"
)

const someone = ids.Student(358)

// days are a slot's days of the week.
func days(slot string, weekdays ...int) (out []parttime.Due) {
	for _, n := range weekdays {
		out = append(out, parttime.Due{Slot: slot, Weekday: n})
	}
	return out
}

func all(lists ...[]parttime.Due) (out []parttime.Due) {
	for _, l := range lists {
		out = append(out, l...)
	}
	return out
}

func periods(t *testing.T, o *work.Office, id ids.Student) (out []string) {
	t.Helper()
	v, err := studentpage.ShowPartTime(t.Context(), o, demotest.Officer, id)
	require.NoError(t, err)
	for _, p := range v.Periods {
		out = append(out, fmt.Sprintf("%s: %s here, %s elsewhere, %s", p.When, p.Here, p.Elsewhere, p.Words))
	}
	return out
}

func set(t *testing.T, o *work.Office, s parttime.Schedule) plans.Plan {
	t.Helper()
	s.Student, s.Apply = someone, true
	plan, err := parttime.Set(t.Context(), o, demotest.Officer, "", s)
	require.NoError(t, err)
	require.True(t, plan.Applied)
	return plan
}

func figures(t *testing.T, o *work.Office) map[string]any {
	t.Helper()
	out := map[string]any{}
	for _, policy := range []string{"ten-percent", "hours", "letters"} {
		v, err := absencepage.Show(t.Context(), o, "", pages.AbsenceAsk{Policy: policy})
		require.NoError(t, err)
		for _, r := range v.Rows {
			out[fmt.Sprint(policy, r.Student.ID)] = r.Figures
		}
	}
	return out
}

// A student is due in part from a date on; the past is as it was, until it is corrected, which says
// first what it changes; and saying full time again over all of it leaves everything as before.
func TestAStudentIsDueInPart(t *testing.T) {
	o := demotest.Copy(t)
	before, full := figures(t, o), periods(t, o, someone)
	require.Equal(t, []string{"always: 1 here, 0 elsewhere, every slot"}, full)
	mornings := all(days("AM", 1, 2, 3, 4, 5), days("1", 1, 2, 3), days("2", 1, 2, 3))
	plan := set(t, o, parttime.Schedule{Here: "50 %", Elsewhere: "1/2", Slots: mornings})
	assert.Equal(t, "from Wed 11 March 2026 on", plan.When, "who has a mark of today was there by what held this morning")
	assert.Equal(t, []string{"until Tue 10 March 2026: 1 here, 0 elsewhere, every slot", "from Wed 11 March 2026: 1/2 here, 1/2 elsewhere, Mon to Wed AM, 1, 2; Thu and Fri AM"}, periods(t, o, someone))
	assert.Equal(t, before["hours358"], figures(t, o)["hours358"])

	_, err := parttime.Set(t.Context(), o, demotest.Officer, "", parttime.Schedule{Student: someone, Here: "1/2", Elsewhere: "1/2", Slots: mornings, From: "2026-02-02"})
	assert.Equal(t, work.Refused, demotest.Kind(t, err), "registers are in")
	look, err := parttime.Set(t.Context(), o, demotest.Officer, "", parttime.Schedule{Student: someone, Here: "1/2", Elsewhere: "1/2", Slots: mornings, From: "2026-02-02", To: "2026-02-13", Past: true})
	require.NoError(t, err)
	assert.False(t, look.Applied)
	assert.Contains(t, strings.Join(look.Figures, "\n"), "the figures of 1 student change")
	set(t, o, parttime.Schedule{Here: "1/2", Elsewhere: "1/2", Slots: mornings, From: "2026-02-02", To: "2026-02-13", Past: true})
	changed := figures(t, o)
	assert.NotEqual(t, before, changed)
	for key, f := range before {
		if !strings.HasSuffix(key, "358") {
			assert.Equal(t, f, changed[key], "nobody else's")
		}
	}
	assert.Len(t, periods(t, o, someone), 4)

	set(t, o, parttime.Schedule{Here: "1", Elsewhere: "0", From: "2025-08-01", Past: true})
	assert.Equal(t, full, periods(t, o, someone))
	assert.Equal(t, before, figures(t, o))
}

func TestWhatIsNoSchedule(t *testing.T) {
	o := demotest.Copy(t)
	for want, s := range map[string]parttime.Schedule{
		"a part of full time":   {Here: "half", Elsewhere: "0"},
		"no share here":         {Here: "0", Elsewhere: "1"},
		"the share elsewhere":   {Here: "1", Elsewhere: "120 %"},
		"no slot \"9\"":         {Here: "1", Elsewhere: "0", Slots: days("9", 0)},
		"is there twice":        {Here: "1", Elsewhere: "0", Slots: append(days("AM", 0), days("AM", 1)...)},
		"before it begins":      {Here: "1", Elsewhere: "0", From: "2026-03-20", To: "2026-03-19"},
		"not a date":            {Here: "1", Elsewhere: "0", From: "soon"},
		"there is no student 0": {Here: "1", Elsewhere: "0", Student: -1},
	} {
		if s.Student == 0 {
			s.Student = someone
		} else {
			s.Student = 0
		}
		s.Apply = true
		_, err := parttime.Set(t.Context(), o, demotest.Officer, "", s)
		assert.ErrorContains(t, err, want)
	}
	_, err := parttime.Set(t.Context(), o, demotest.Osk, "", parttime.Schedule{Student: someone, Here: "1", Elsewhere: "0"})
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
	_, err = studentpage.ShowPartTime(t.Context(), o, demotest.Osk, 600)
	assert.Equal(t, work.Refused, demotest.Kind(t, err), "a student of no class of theirs")
	assert.Equal(t, []string{"always: 1 here, 0 elsewhere, every slot"}, periods(t, o, someone))
}

// A roster without the columns says nothing of shares and own slots: those set here stay, later ones
// too. One that has them decides.
func TestARosterThatSaysNothingOfSharesLeavesThem(t *testing.T) {
	o := demotest.Copy(t)
	set(t, o, parttime.Schedule{Here: "1/2", Elsewhere: "1/2", Slots: days("AM", 0), From: "2026-03-11"})
	set(t, o, parttime.Schedule{Here: "3/4", Elsewhere: "1/4", From: "2026-04-20"})
	said := periods(t, o, someone)
	require.Len(t, said, 3)
	files, err := roster.ExportRoster(t.Context(), o)
	require.NoError(t, err)
	columns := users(t, files["users.csv"])
	bare := table.Files{}
	for name, text := range files {
		bare[name] = text
	}
	bare["users.csv"] = without(t, columns, "metadata.shareHere", "metadata.shareElsewhere", "metadata.schedule")
	plan, err := roster.ImportRoster(t.Context(), o, demotest.Admin, "", bare, plans.Options{Apply: true})
	require.NoError(t, err)
	assert.Empty(t, plan.Problems)
	assert.Zero(t, plan.Changes(), "%v", plan.Details)
	assert.Equal(t, said, periods(t, o, someone))

	id := ""
	for _, row := range columns[1:] {
		if row[at(columns, "givenName")]+" "+row[at(columns, "familyName")] == name(t, o) {
			id, row[at(columns, "grades")] = row[0], "13"
		}
	}
	require.NotEmpty(t, id)
	bare["users.csv"] = without(t, columns, "metadata.shareHere", "metadata.shareElsewhere", "metadata.schedule")
	plan, err = roster.ImportRoster(t.Context(), o, demotest.Admin, "", bare, plans.Options{Apply: true})
	require.NoError(t, err)
	assert.Equal(t, 1, plan.Changes(), "%v", plan.Details)
	assert.Equal(t, said, periods(t, o, someone), "another year, the same time")

	files["users.csv"] = without(t, columns)
	plan, err = roster.ImportRoster(t.Context(), o, demotest.Admin, "", files, plans.Options{Apply: true})
	require.NoError(t, err)
	assert.NotZero(t, plan.Changes())
	assert.NotEqual(t, said, periods(t, o, someone))
}

func name(t *testing.T, o *work.Office) string {
	v, err := studentpage.ShowPartTime(t.Context(), o, demotest.Officer, someone)
	require.NoError(t, err)
	return v.Student.Name
}

func users(t *testing.T, text []byte) [][]string {
	rows, err := csv.NewReader(bytes.NewReader(text)).ReadAll()
	require.NoError(t, err)
	return rows
}

func at(rows [][]string, column string) int { return slices.Index(rows[0], column) }

// without writes rows but for some columns.
func without(t *testing.T, rows [][]string, columns ...string) []byte {
	var b bytes.Buffer
	w := csv.NewWriter(&b)
	for _, row := range rows {
		var kept []string
		for i, cell := range row {
			if !slices.Contains(columns, rows[0][i]) {
				kept = append(kept, cell)
			}
		}
		require.NoError(t, w.Write(kept))
	}
	w.Flush()
	return b.Bytes()
}
