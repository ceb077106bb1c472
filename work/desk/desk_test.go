package desk_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/demo"
	"meldung/demo/demotest"
	"meldung/held"
	"meldung/pages/deskpage"
	"meldung/pages/frame"
	"meldung/pages/registerpage"
	"meldung/pages/studentpage"
	"meldung/pages/todaypage"
	"meldung/work"
	"meldung/work/desk"
	"meldung/work/home"
	"meldung/work/morning"
	"meldung/work/school"
)

func TestLeavingForAnAppointmentAndNotComingBack(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	perran := demotest.Find(t, o, "Perran Hask").Student.ID
	_, err := desk.Move(ctx, o, demotest.Maud, "desk key 1", desk.Movement{Students: []ids.Student{perran}, Kind: "departed", Reason: "appointment", Returns: "900"})
	assert.ErrorContains(t, err, "is not after leaving")
	_, err = desk.Move(ctx, o, demotest.Maud, "desk key 2", desk.Movement{Students: []ids.Student{perran}, Kind: "departed", Reason: "appointment", Returns: "1010"})
	require.NoError(t, err)
	assert.Equal(t, "left", demotest.Place(t, o, "Perran Hask"))
	_, err = desk.Move(ctx, o, demotest.Maud, "desk key 3", desk.Movement{Students: []ids.Student{perran}, Kind: "departed"})
	assert.Equal(t, work.Conflict, demotest.Kind(t, err))

	clock.Set(day.At(demo.Today, day.MustMinute("10:14")))
	assert.Equal(t, "left", demotest.Place(t, o, "Perran Hask"), "within the grace")
	clock.Set(day.At(demo.Today, day.MustMinute("10:16")))
	assert.Equal(t, "unaccounted", demotest.Place(t, o, "Perran Hask"))
	shown, err := deskpage.Show(ctx, o, "")
	require.NoError(t, err)
	overdue := map[string]bool{}
	for _, d := range shown.DueBack {
		overdue[d.Student.Name] = d.Overdue
	}
	assert.Equal(t, map[string]bool{"Perran Hask": true, "Pip Garrow": false, "Eskil Dray": false}, overdue)
	_, err = desk.Move(ctx, o, demotest.Maud, "desk key 4", desk.Movement{Students: []ids.Student{perran}, Kind: "arrived"})
	require.NoError(t, err)
	assert.Equal(t, "in", demotest.Place(t, o, "Perran Hask"), "back, and not late: he was in this morning")
}

func TestWhoArrivesAfterTheRegisterIsLate(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	juno := demotest.Find(t, o, "Juno Sandal").Student.ID
	_, err := desk.Move(ctx, o, demotest.Maud, "late key 1", desk.Movement{Students: []ids.Student{juno}, Kind: "arrived", Reason: "overslept"})
	require.NoError(t, err)
	assert.Equal(t, "late", demotest.Place(t, o, "Juno Sandal"))
	shown, err := deskpage.Show(ctx, o, "")
	require.NoError(t, err)
	assert.Equal(t, "late", shown.Movements[0].State)
	assert.Equal(t, "Juno Sandal", shown.Movements[0].Student.Name)
	sheet, err := studentpage.Show(ctx, o, demotest.Officer, juno, "")
	require.NoError(t, err)
	words := ""
	for _, h := range sheet.Happened[:4] {
		words += h.Text + "\n"
	}
	assert.Contains(t, words, "AM registration: unexcused", "overslept explains it, and does not excuse it")
	assert.Contains(t, words, "lesson 1: late, came 09:12")
}

func TestAGroupArrivesTogetherOrNotAtAll(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	before := demotest.Count(t, o)
	_, err := desk.Move(ctx, o, demotest.Maud, "group key 1", desk.Movement{Students: []ids.Student{demotest.Find(t, o, "Bram Ollerton").Student.ID, 99999}, Kind: "arrived", Reason: "ferry"})
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
	assert.Equal(t, before, demotest.Count(t, o), "nothing is half-applied")
	_, err = desk.Move(ctx, o, demotest.Maud, "group key 2", desk.Movement{Students: []ids.Student{demotest.Find(t, o, "Bram Ollerton").Student.ID, demotest.Find(t, o, "Idris Quell").Student.ID}, Kind: "arrived", Reason: "ferry"})
	require.NoError(t, err)
	assert.Equal(t, before["unaccounted"]-2, demotest.Count(t, o)["unaccounted"])
}

func TestReasonsAreTheSchoolsOwn(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	_, err := school.AddReason(ctx, o, demotest.Maud, "reason key 1", held.Reason{Word: " ", Absent: "X", Late: "LX"})
	assert.ErrorContains(t, err, "needs a word")
	_, err = school.AddReason(ctx, o, demotest.Maud, "reason key 2", held.Reason{Word: "storm", Absent: "Q", Late: "LX"})
	assert.ErrorContains(t, err, `no code "Q"`)
	_, err = school.AddReason(ctx, o, demotest.Maud, "reason key 3", held.Reason{Word: "storm", Absent: "X", Late: "LX", Excused: true, Arrive: true})
	require.NoError(t, err)
	_, err = school.AddReason(ctx, o, demotest.Maud, "reason key 4", held.Reason{Word: "storm", Absent: "X", Late: "LX"})
	assert.Equal(t, work.Conflict, demotest.Kind(t, err))
	require.NoError(t, o.Reload(ctx))
	shown, err := deskpage.Show(ctx, o, "")
	require.NoError(t, err)
	assert.Equal(t, "storm", shown.Reasons[len(shown.Reasons)-1].Word, "it is kept")
}

func TestANoticeForPartOfADay(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	mika := demotest.Find(t, o, "Mika Ulvar").Student.ID
	_, err := home.Notify(ctx, o, demotest.Maud, "part key 1", home.Notice{Students: []ids.Student{mika}, Reason: "appointment", ToTime: "1000"})
	require.NoError(t, err)
	assert.Equal(t, "explained", demotest.Place(t, o, "Mika Ulvar"))
	clock.Set(day.At(demo.Today, day.MustMinute("10:10")))
	assert.Equal(t, "explained", demotest.Place(t, o, "Mika Ulvar"), "the marks it explained stay explained")
	v, err := registerpage.Show(ctx, o, demotest.Officer, 102, "1", "")
	require.NoError(t, err)
	assert.NotEmpty(t, v.Rows)
	_, err = home.Notify(ctx, o, demotest.Maud, "part key 2", home.Notice{Students: []ids.Student{mika}, Reason: ""})
	assert.ErrorContains(t, err, "needs a reason")
	_, err = home.Notify(ctx, o, demotest.Maud, "part key 3", home.Notice{Students: []ids.Student{mika}, Reason: "ill", FromTime: "25"})
	assert.ErrorContains(t, err, "nothing was saved")
}

func TestASearchIsGivenUpAndHomeIsRung(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	oona := demotest.Find(t, o, "Oona Harle").Student.ID
	_, err := morning.StartSearch(ctx, o, demotest.Maud, "search key 1", morning.NewSearch{Student: oona})
	require.NoError(t, err)
	today, err := todaypage.Show(ctx, o, "")
	require.NoError(t, err)
	assert.Equal(t, "M. Kersey", today.OnSite[0].Search.By)
	missing := today.Missing
	_, err = morning.EndSearch(ctx, o, demotest.Maud, "search key 2", morning.SearchEnd{Student: oona, Found: false, Place: ""})
	require.NoError(t, err)
	today, err = todaypage.Show(ctx, o, "")
	require.NoError(t, err)
	assert.Empty(t, today.OnSite)
	assert.Equal(t, missing+1, today.Missing)
	_, err = morning.EndSearch(ctx, o, demotest.Maud, "search key 3", morning.SearchEnd{Student: oona, Found: true, Place: "boat shed"})
	require.NoError(t, err)
	assert.Equal(t, "in", demotest.Place(t, o, "Oona Harle"))
	sheet, err := studentpage.Show(ctx, o, demotest.Officer, oona, "")
	require.NoError(t, err)
	assert.Contains(t, sheet.Happened[0].Text, "Found · boat shed")
}

func TestFindingByAnythingOneKnows(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	for query, want := range map[string]string{
		"ulvar mika": "Mika Ulvar", "49217": "Mika Ulvar", "runa ulvar": "Tora Ulvar", "oona": "Oona Harle", "HARLE": "Oona Harle",
		"lucja yarr": "Łucja Yarrow", "elise selk": "Élise Selkirk", "soren aske": "Søren Aske",
	} {
		list, err := frame.FindStudents(t.Context(), o, demotest.Officer, query, "", 8)
		require.NoError(t, err)
		names := []string{}
		for _, f := range list {
			names = append(names, f.Student.Name)
		}
		assert.Contains(t, names, want, query)
	}
	twice, err := frame.FindStudents(t.Context(), o, demotest.Officer, "finn calloway", "", 8)
	require.NoError(t, err)
	require.Len(t, twice, 2)
	assert.NotEqual(t, twice[0].Student.Form, twice[1].Student.Form, "the same name twice is told apart by form and number")
	sheet, err := studentpage.Show(t.Context(), o, demotest.Officer, demotest.Find(t, o, "Elis Merrow").Student.ID, "")
	require.NoError(t, err)
	by, err := frame.FindStudents(t.Context(), o, demotest.Officer, strings.ReplaceAll(sheet.Contacts[0].Phone, " ", ""), "", 8)
	require.NoError(t, err)
	require.Len(t, by, 2, "a phone finds through its owner")
	assert.Equal(t, "Ida Merrow", by[0].Through)
	own, err := frame.FindStudents(t.Context(), o, demotest.Osk, "merrow", "", 8)
	require.NoError(t, err)
	for _, f := range own {
		assert.Empty(t, f.Through, "a teacher does not search in contacts")
	}
}

// Whoever sits in class is not signed out without a reason, nor alone under the school's age.
func TestLeavingNeedsAReason(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	young, old := demotest.Find(t, o, "Tora Ulvar").Student.ID, demotest.Find(t, o, "Maren Holt").Student.ID
	require.NoError(t, o.Read(ctx, func(v work.Snapshot) error {
		for id, under := range map[ids.Student]bool{young: true, old: false} {
			born := day.MustDate(v.School.StudentOf(id).Born)
			assert.Equal(t, under, born.YearsBy(demo.Today) < v.Of(id).Settings.AloneFrom, v.School.StudentOf(id).Name())
		}
		return nil
	}))
	leave := func(key string, m desk.Movement) error {
		m.Kind = "departed"
		_, err := desk.Move(ctx, o, demotest.Maud, key, m)
		return err
	}
	assert.ErrorContains(t, leave("no reason", desk.Movement{Students: []ids.Student{old}}), "say why Maren leaves")
	assert.ErrorContains(t, leave("none known", desk.Movement{Students: []ids.Student{old}, Reason: "no reason"}), "say why Maren leaves")
	assert.NoError(t, leave("reason", desk.Movement{Students: []ids.Student{old}, Reason: "appointment"}))
	assert.ErrorContains(t, leave("alone", desk.Movement{Students: []ids.Student{young}, Reason: "appointment"}), "Tora is under 13")
	assert.Equal(t, "in", demotest.Place(t, o, "Tora Ulvar"), "nothing was saved")
	assert.NoError(t, leave("allowed", desk.Movement{Students: []ids.Student{young}, Reason: "appointment", Note: "father rang, may walk"}))
	clock.Set(day.At(demo.Today, day.MustMinute("16:30")))
	other := demotest.Find(t, o, "Tavi Lund").Student.ID
	assert.NoError(t, leave("after school", desk.Movement{Students: []ids.Student{other}}), "the day is over")
}

// What was forgotten is added; the movement keeps its minute, and the marks follow the reason.
func TestWhatWasForgottenIsAdded(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	bram := demotest.Find(t, o, "Bram Ollerton").Student.ID
	code := func() (code string, versions int) {
		require.NoError(t, o.ReadDay(ctx, work.Moment{Date: demo.Today}, func(_ work.Snapshot, x *work.Day) error {
			all := x.Versions(bram, "AM")
			code, versions = all[len(all)-1].Code, len(all)
			return nil
		}))
		return code, versions
	}
	got, err := desk.Move(ctx, o, demotest.Maud, "came", desk.Movement{Students: []ids.Student{bram}, Kind: "arrived", Reason: "overslept"})
	require.NoError(t, err)
	is, n := code()
	assert.Equal(t, "U", is)
	before := demotest.Count(t, o)
	clock.Set(day.At(demo.Today, day.MustMinute("09:20")))
	again, err := desk.Amend(ctx, o, demotest.Maud, "ferry", ids.Movement(got.IDs[0]), desk.Amendment{Reason: "ferry", Note: "the Petrel"})
	require.NoError(t, err)
	is, more := code()
	assert.Equal(t, "X", is)
	assert.Equal(t, n+1, more, "one version more, not two")
	assert.Equal(t, before, demotest.Count(t, o))
	shown, err := deskpage.Show(ctx, o, "")
	require.NoError(t, err)
	assert.Equal(t, []any{"09:12", "ferry", "the Petrel", false}, []any{shown.Movements[0].At, shown.Movements[0].Reason, shown.Movements[0].Note, shown.Movements[0].Undone})
	_, err = desk.Amend(ctx, o, demotest.Maud, "twice", ids.Movement(got.IDs[0]), desk.Amendment{Reason: "family"})
	assert.Equal(t, work.Conflict, demotest.Kind(t, err))
	_, err = desk.Amend(ctx, o, demotest.Maud, "none", 99999, desk.Amendment{Reason: "family"})
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
	_, err = desk.MakePass(ctx, o, demotest.Maud, "pass", ids.Movement(again.IDs[0]))
	require.NoError(t, err)
	_, err = desk.Amend(ctx, o, demotest.Maud, "passed", ids.Movement(again.IDs[0]), desk.Amendment{Reason: "family"})
	assert.ErrorContains(t, err, "a pass was made")
	_, err = desk.UndoMovement(ctx, o, demotest.Maud, "back", ids.Movement(again.IDs[0]))
	require.NoError(t, err)
	is, _ = code()
	assert.Equal(t, "N", is, "as before either of them")
}

// A ferry's time is put right for everyone who was written down with it, and their marks follow; one alone
// is put right alone, and what was before stays on record.
func TestAFerrysTimeIsPutRight(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	clock.Set(day.At(demo.Today, day.MustMinute("09:45")))
	aboard := demotest.IDs(t, o, "Juno Sandal", "Idris Quell")
	in, err := desk.Move(ctx, o, demotest.Maud, "the ferry is in", desk.Movement{Students: aboard, Kind: "arrived", Time: "941", Reason: "ferry"})
	require.NoError(t, err)
	row := demotest.Desk(t, o).Movements[0]
	assert.Equal(t, 1, row.With)
	first := ids.Movement(in.IDs[0])
	_, err = desk.Amend(ctx, o, demotest.Maud, "to come", first, desk.Amendment{At: "1041", Together: true})
	assert.ErrorContains(t, err, "still to come")
	_, err = desk.Amend(ctx, o, demotest.Maud, "no time", first, desk.Amendment{At: "soon", Together: true})
	assert.ErrorContains(t, err, "not a time")
	got, err := desk.Amend(ctx, o, demotest.Maud, "at twenty past", first, desk.Amendment{At: "920", Together: true})
	require.NoError(t, err)
	assert.Equal(t, "2 students put right: in at 09:20, ferry", got.Text)
	stands := map[string]string{}
	for _, m := range demotest.Desk(t, o).Movements {
		if !m.Undone && m.Reason == "ferry" {
			stands[m.Student.Name] = m.At
		}
	}
	assert.Equal(t, map[string]string{"Juno Sandal": "09:20", "Idris Quell": "09:20"}, stands)
	require.NoError(t, o.ReadOn(ctx, demo.Today, func(v work.Snapshot) error {
		x, err := v.Day(ctx, demo.Today)
		require.NoError(t, err)
		versions := x.Versions(aboard[0], "1")
		last := versions[len(versions)-1]
		assert.Equal(t, []string{"09:20", "arrived at the desk 09:20: ferry"}, []string{last.AwayTo.String(), last.Reason}, "the lesson that they came into")
		return nil
	}))
	alone, err := desk.Amend(ctx, o, demotest.Maud, "one came earlier", ids.Movement(got.IDs[0]), desk.Amendment{At: "918"})
	require.NoError(t, err)
	assert.Equal(t, "Juno Sandal in at 09:18, ferry", alone.Text)
	assert.Equal(t, 0, demotest.Desk(t, o).Movements[0].With)
}
