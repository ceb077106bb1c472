package work_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/demo"
	"meldung/demo/demotest"
	"meldung/work"
)

var maud = work.Person{Account: 44, Name: "M. Kersey", Role: work.Desk}

func place(t *testing.T, o *work.Office, name string) string {
	t.Helper()
	return find(t, o, name).Place.State
}

func TestLeavingForAnAppointmentAndNotComingBack(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	perran := find(t, o, "Perran Hask").Student.ID
	_, err := o.Move(ctx, maud, "desk key 1", work.Movement{Students: []int64{perran}, Kind: "departed", Reason: "appointment", Returns: "900"})
	assert.ErrorContains(t, err, "is not after leaving")
	_, err = o.Move(ctx, maud, "desk key 2", work.Movement{Students: []int64{perran}, Kind: "departed", Reason: "appointment", Returns: "1010"})
	require.NoError(t, err)
	assert.Equal(t, "left", place(t, o, "Perran Hask"))
	_, err = o.Move(ctx, maud, "desk key 3", work.Movement{Students: []int64{perran}, Kind: "departed"})
	assert.Equal(t, work.Conflict, kind(t, err))

	clock.Set(day.At(demo.Today, 614))
	assert.Equal(t, "left", place(t, o, "Perran Hask"), "within the grace")
	clock.Set(day.At(demo.Today, 616))
	assert.Equal(t, "unaccounted", place(t, o, "Perran Hask"))
	desk, err := o.Desk(ctx, "")
	require.NoError(t, err)
	overdue := map[string]bool{}
	for _, d := range desk.DueBack {
		overdue[d.Student.Name] = d.Overdue
	}
	assert.Equal(t, map[string]bool{"Perran Hask": true, "Pip Garrow": false, "Eskil Dray": false}, overdue)
	_, err = o.Move(ctx, maud, "desk key 4", work.Movement{Students: []int64{perran}, Kind: "arrived"})
	require.NoError(t, err)
	assert.Equal(t, "in", place(t, o, "Perran Hask"), "back, and not late: he was in this morning")
}

func TestWhoArrivesAfterTheRegisterIsLate(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	juno := find(t, o, "Juno Sandal").Student.ID
	_, err := o.Move(ctx, maud, "late key 1", work.Movement{Students: []int64{juno}, Kind: "arrived", Reason: "overslept"})
	require.NoError(t, err)
	assert.Equal(t, "late", place(t, o, "Juno Sandal"))
	desk, err := o.Desk(ctx, "")
	require.NoError(t, err)
	assert.Equal(t, "late", desk.Movements[0].State)
	assert.Equal(t, "Juno Sandal", desk.Movements[0].Student.Name)
	sheet, err := o.Sheet(ctx, officer, juno, "")
	require.NoError(t, err)
	words := ""
	for _, h := range sheet.Happened[:4] {
		words += h.Words + "\n"
	}
	assert.Contains(t, words, "AM registration: unexcused", "overslept explains it, and does not excuse it")
	assert.Contains(t, words, "lesson 1: late, came 09:12")
}

func TestAGroupArrivesTogetherOrNotAtAll(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	before := count(t, o)
	_, err := o.Move(ctx, maud, "group key 1", work.Movement{Students: []int64{find(t, o, "Bram Ollerton").Student.ID, 99999}, Kind: "arrived", Reason: "ferry"})
	assert.Equal(t, work.NotFound, kind(t, err))
	assert.Equal(t, before, count(t, o), "nothing is half-applied")
	_, err = o.Move(ctx, maud, "group key 2", work.Movement{Students: []int64{find(t, o, "Bram Ollerton").Student.ID, find(t, o, "Idris Quell").Student.ID}, Kind: "arrived", Reason: "ferry"})
	require.NoError(t, err)
	assert.Equal(t, before["unaccounted"]-2, count(t, o)["unaccounted"])
}

func TestReasonsAreTheSchoolsOwn(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	_, err := o.AddReason(ctx, maud, "reason key 1", work.Reason{Word: " ", Absent: "X", Late: "LX"})
	assert.ErrorContains(t, err, "needs a word")
	_, err = o.AddReason(ctx, maud, "reason key 2", work.Reason{Word: "storm", Absent: "Q", Late: "LX"})
	assert.ErrorContains(t, err, `no code "Q"`)
	_, err = o.AddReason(ctx, maud, "reason key 3", work.Reason{Word: "storm", Absent: "X", Late: "LX", Excused: true, Arrive: true})
	require.NoError(t, err)
	_, err = o.AddReason(ctx, maud, "reason key 4", work.Reason{Word: "storm", Absent: "X", Late: "LX"})
	assert.Equal(t, work.Conflict, kind(t, err))
	require.NoError(t, o.Reload(ctx))
	desk, err := o.Desk(ctx, "")
	require.NoError(t, err)
	assert.Equal(t, "storm", desk.Reasons[len(desk.Reasons)-1].Word, "it is kept")
}

func TestANoticeForPartOfADay(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	mika := find(t, o, "Mika Ulvar").Student.ID
	_, err := o.Notify(ctx, maud, "part key 1", work.Notice{Students: []int64{mika}, Reason: "appointment", ToTime: "1000"})
	require.NoError(t, err)
	assert.Equal(t, "explained", place(t, o, "Mika Ulvar"))
	clock.Set(day.At(demo.Today, 610))
	assert.Equal(t, "explained", place(t, o, "Mika Ulvar"), "the marks it explained stay explained")
	v, err := o.Register(ctx, officer, 118, "1", "")
	require.NoError(t, err)
	assert.NotEmpty(t, v.Rows)
	_, err = o.Notify(ctx, maud, "part key 2", work.Notice{Students: []int64{mika}, Reason: ""})
	assert.ErrorContains(t, err, "needs a reason")
	_, err = o.Notify(ctx, maud, "part key 3", work.Notice{Students: []int64{mika}, Reason: "ill", FromTime: "25"})
	assert.ErrorContains(t, err, "nothing was stored")
}

func TestASearchIsGivenUpAndHomeIsRung(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	oona := find(t, o, "Oona Harle").Student.ID
	_, err := o.StartSearch(ctx, maud, "search key 1", work.NewSearch{Student: oona})
	require.NoError(t, err)
	today, err := o.Today(ctx, "")
	require.NoError(t, err)
	assert.Equal(t, "M. Kersey", today.OnSite[0].Searcher)
	missing := today.Missing
	_, err = o.EndSearch(ctx, maud, "search key 2", work.SearchEnd{Student: oona, Found: false, Place: ""})
	require.NoError(t, err)
	today, err = o.Today(ctx, "")
	require.NoError(t, err)
	assert.Empty(t, today.OnSite)
	assert.Equal(t, missing+1, today.Missing)
	_, err = o.EndSearch(ctx, maud, "search key 3", work.SearchEnd{Student: oona, Found: true, Place: "boat shed"})
	require.NoError(t, err)
	assert.Equal(t, "in", place(t, o, "Oona Harle"))
	sheet, err := o.Sheet(ctx, officer, oona, "")
	require.NoError(t, err)
	assert.Contains(t, sheet.Happened[0].Words, "Found · boat shed")
}

func TestFindingByAnythingOneKnows(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	for query, want := range map[string]string{
		"ulvar mika": "Mika Ulvar", "49217": "Mika Ulvar", "runa ulvar": "Tora Ulvar", "oona": "Oona Harle", "HARLE": "Oona Harle",
		"lucja yarr": "Łucja Yarrow", "elise selk": "Élise Selkirk", "soren aske": "Søren Aske",
	} {
		list, err := o.FindStudents(t.Context(), officer, query, "", 8)
		require.NoError(t, err)
		names := []string{}
		for _, f := range list {
			names = append(names, f.Student.Name)
		}
		assert.Contains(t, names, want, query)
	}
	twice, err := o.FindStudents(t.Context(), officer, "finn calloway", "", 8)
	require.NoError(t, err)
	require.Len(t, twice, 2)
	assert.NotEqual(t, twice[0].Student.Form, twice[1].Student.Form, "the same name twice is told apart by form and number")
	sheet, err := o.Sheet(t.Context(), officer, find(t, o, "Elis Merrow").Student.ID, "")
	require.NoError(t, err)
	by, err := o.FindStudents(t.Context(), officer, strings.ReplaceAll(sheet.Contacts[0].Phone, " ", ""), "", 8)
	require.NoError(t, err)
	require.Len(t, by, 2, "a phone finds through its owner")
	assert.Equal(t, "Ida Merrow", by[0].Through)
	own, err := o.FindStudents(t.Context(), osk, "merrow", "", 8)
	require.NoError(t, err)
	for _, f := range own {
		assert.Empty(t, f.Through, "a teacher does not search in contacts")
	}
}
