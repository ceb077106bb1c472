package demo_test

import (
	"context"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/demo"
	"meldung/demo/demotest"
	"meldung/pages"
	"meldung/pages/absencepage"
	"meldung/pages/concernspage"
	"meldung/pages/frame"
	"meldung/pages/schoolpage"
	"meldung/pages/studentpage"
	"meldung/pages/todaypage"
	"meldung/work"
	"meldung/work/caseload"
	"meldung/work/check"
	"meldung/work/desk"
	"meldung/work/home"
	"meldung/work/plans"
	"meldung/work/roster"
)

var officer = work.Person{Account: 41, Name: "R. Tolvan", Role: work.Officer}

// morning is Tuesday 10 March at 09:12, shared by the tests that only look.
var morning = sync.OnceValues(func() (*work.Office, error) {
	folder, err := os.MkdirTemp("", "meldung-demo-test-")
	if err != nil {
		return nil, err
	}
	return demotest.Open(context.Background(), folder, "2026-03-10T09:12")
})

func open(t *testing.T) *work.Office {
	t.Helper()
	o, err := morning()
	require.NoError(t, err)
	return o
}

func TestTheSchoolIsAsTold(t *testing.T) {
	v, err := schoolpage.Show(t.Context(), open(t))
	require.NoError(t, err)
	assert.Equal(t, []int{612, 24, 61}, []int{v.Students, v.Forms, v.Staff})
	assert.Len(t, v.NoContact, 3)
	assert.Len(t, v.OfNobody, 1)
	assert.Empty(t, v.NoForm)
	rail, err := frame.ShowRail(t.Context(), open(t), "")
	require.NoError(t, err)
	assert.Equal(t, []int{114, 190}, []int{rail.Strips[0].Number, rail.Strips[0].Of})
}

func TestPhonesAreFromRangesForFiction(t *testing.T) {
	files, err := roster.ExportRoster(t.Context(), open(t))
	require.NoError(t, err)
	for _, line := range strings.Split(string(files["users.csv"]), "\n") {
		if strings.Contains(line, ",guardian,") {
			assert.True(t, strings.Contains(line, "07700 900 ") || strings.Contains(line, "01632 960 "), line)
		}
	}
}

func TestTheMorningAddsUp(t *testing.T) {
	today, err := todaypage.Show(t.Context(), open(t), "")
	require.NoError(t, err)
	sum := 0
	for _, c := range today.Count {
		sum += c.N
	}
	assert.Equal(t, today.Roll, sum)
	assert.Equal(t, 2, len(today.Registers), "8 Halyard and 11 Cleat are out")
	assert.Equal(t, "open", today.Safe[0].State)
	assert.Greater(t, today.Missing, 15)
	assert.Less(t, today.Missing, 40)
}

func student(t *testing.T, o *work.Office, name string) ids.Student {
	t.Helper()
	found, err := frame.FindStudents(t.Context(), o, officer, name, "", 3)
	require.NoError(t, err)
	require.NotEmpty(t, found, name)
	return found[0].Student.ID
}

func TestStorySlidingSinceTheMove(t *testing.T) {
	s, err := concernspage.Show(t.Context(), open(t), officer, "", concernspage.Ask{})
	require.NoError(t, err)
	for _, r := range s.Rows {
		if r.Student.Name == "Mika Ulvar" {
			kinds := []string{}
			for _, k := range r.Concerns {
				kinds = append(kinds, k.Kind)
			}
			assert.Subset(t, kinds, []string{"chronic-absence", "unexcused-days"})
			assert.NotNil(t, r.Last)
			return
		}
	}
	t.Fatal("Mika Ulvar has no signal")
}

func TestStoryAHomeNobodyReaches(t *testing.T) {
	o := open(t)
	today, err := todaypage.Show(t.Context(), o, "")
	require.NoError(t, err)
	for _, h := range today.Households {
		if len(h.Students) == 2 && strings.HasSuffix(h.Students[0].Student.Name, "Merrow") {
			assert.Len(t, h.Contacts, 3)
			sheet, err := studentpage.Show(t.Context(), o, officer, h.Students[0].Student.ID, "")
			require.NoError(t, err)
			calls := 0
			for _, e := range sheet.Happened {
				if e.Kind == "call" {
					calls++
				}
			}
			assert.Equal(t, 4, calls)
			return
		}
	}
	t.Fatal("the Merrows are not one household on the call list")
}

func TestStoryMissingSingleLessonsOnSite(t *testing.T) {
	o := open(t)
	today, err := todaypage.Show(t.Context(), o, "")
	require.NoError(t, err)
	require.NotEmpty(t, today.OnSite)
	assert.Equal(t, "Oona Harle", today.OnSite[0].Student.Name)
	for _, h := range today.Households {
		for _, s := range h.Students {
			assert.NotEqual(t, "Oona Harle", s.Student.Name, "home is not rung before the search")
		}
	}
	sheet, err := studentpage.Show(t.Context(), o, officer, student(t, o, "Oona Harle"), "")
	require.NoError(t, err)
	single := 0
	for _, e := range sheet.Happened {
		if strings.HasPrefix(e.Text, "lesson 5: unexcused") {
			single++
		}
	}
	assert.Greater(t, single, 5)
	assert.Less(t, sheet.Figures.Absent, 6, "no day of them counts as absent")
}

func TestStoryPartTimeLooksWorseThanItIs(t *testing.T) {
	o := open(t)
	sheet, err := studentpage.Show(t.Context(), o, officer, student(t, o, "Tavi Lund"), "")
	require.NoError(t, err)
	require.NotNil(t, sheet.Bases)
	assert.Equal(t, "0.5", sheet.Bases.Here)
	assert.Greater(t, sheet.Bases.FullDays, 4, "whole days here are charged as full ones")
	assert.NotEqual(t, sheet.Bases.Scheduled, sheet.Bases.FullDay)
	assert.GreaterOrEqual(t, sheet.Figures.Absent, 5)
}

func TestStoryNearlyBackUnderTenPerCent(t *testing.T) {
	o := open(t)
	sheet, err := studentpage.Show(t.Context(), o, officer, student(t, o, "Perran Hask"), "")
	require.NoError(t, err)
	assert.Equal(t, "chronic", sheet.Figures.Band)
	assert.Less(t, sheet.Figures.WayBack.Units, 10)
	page, err := absencepage.Show(t.Context(), o, "", pages.AbsenceAsk{Policy: "ten-percent"})
	require.NoError(t, err)
	for _, r := range page.Rows[:25] {
		if r.Student.Name == "Perran Hask" {
			return
		}
	}
	t.Fatal("Perran Hask is not among the nearest to ten per cent")
}

func TestStoryVanishedFromEveryList(t *testing.T) {
	today, err := todaypage.Show(t.Context(), open(t), "")
	require.NoError(t, err)
	for _, h := range today.Households {
		if h.Students[0].Student.Name == "Della Fairhurst" {
			assert.Empty(t, h.Contacts)
			assert.Positive(t, today.NoContact)
			return
		}
	}
	t.Fatal("Della Fairhurst is not on the call list")
}

func TestExportImportExportGivesTheSameFiles(t *testing.T) {
	o := open(t)
	people, err := roster.ExportRoster(t.Context(), o)
	require.NoError(t, err)
	timetable, err := roster.ExportTimetable(t.Context(), o)
	require.NoError(t, err)

	empty, err := demotest.Empty(t.Context(), filepath.Join(t.TempDir(), "new"), day.At(demo.Today, day.MustMinute("09:12")))
	require.NoError(t, err)
	person := work.Person{Name: "import"}
	look, err := roster.ImportRoster(t.Context(), empty, person, "", people, plans.Options{})
	require.NoError(t, err)
	assert.False(t, look.Applied)
	v, err := schoolpage.Show(t.Context(), empty)
	require.NoError(t, err)
	assert.Zero(t, v.Students, "looking changes nothing")

	done, err := roster.ImportRoster(t.Context(), empty, person, "", people, plans.Options{Apply: true})
	require.NoError(t, err)
	require.Empty(t, done.Problems)
	_, err = roster.ImportTimetable(t.Context(), empty, person, "", timetable, plans.Options{Apply: true})
	require.NoError(t, err)
	again, err := roster.ImportRoster(t.Context(), empty, person, "", people, plans.Options{Apply: true})
	require.NoError(t, err)
	assert.Zero(t, again.Changes(), "a second import changes nothing")
	assert.Len(t, again.Notes, 4, "three without a guardian, one guardian of nobody")

	back, err := roster.ExportRoster(t.Context(), empty)
	require.NoError(t, err)
	assert.Equal(t, people, back)
	backTimetable, err := roster.ExportTimetable(t.Context(), empty)
	require.NoError(t, err)
	assert.Equal(t, timetable, backTimetable)
}

func TestTheStoreAndTheLedgerAgree(t *testing.T) {
	wrong, err := check.Check(t.Context(), open(t), false)
	require.NoError(t, err)
	assert.Empty(t, wrong)
}

// everyKindOfWork does one of each of the things that a day's start must be able to forget.
func everyKindOfWork(t *testing.T, o *work.Office, player *demo.Player) {
	ctx := t.Context()
	now, err := todaypage.Show(ctx, o, "")
	require.NoError(t, err)
	require.NotEmpty(t, now.Households)
	first := now.Households[0]
	missing := first.Students[0].Student.ID
	in, err := frame.FindStudents(ctx, o, officer, "Tavi Lund", "", 1)
	require.NoError(t, err)
	tavi := in[0].Student.ID
	_, err = home.Hold(ctx, o, officer, "forget hold", home.NewHold{Students: []ids.Student{missing}, Until: "11:00", Reason: "late"})
	require.NoError(t, err)
	_, err = home.TextHomes(ctx, o, officer, "forget text", home.HomeText{Students: []ids.Student{missing}})
	require.NoError(t, err)
	call := home.Call{Students: []ids.Student{missing}, Outcome: "wrong number"}
	if len(first.Contacts) > 0 {
		call.Contact = first.Contacts[0].ID
	}
	_, err = home.LogCall(ctx, o, officer, "forget call", call)
	require.NoError(t, err)
	fetched, err := home.StartFetch(ctx, o, officer, "forget fetch", home.NewFetch{Student: tavi, Reason: "ill"})
	require.NoError(t, err)
	_, err = home.LogCall(ctx, o, officer, "forget fetch call", home.Call{Students: []ids.Student{tavi}, Fetch: ids.Fetch(fetched.IDs[0]), Outcome: "no answer"})
	require.NoError(t, err)
	left, err := desk.Move(ctx, o, officer, "forget leaving", desk.Movement{Students: []ids.Student{tavi}, Kind: "departed", Reason: "ill"})
	require.NoError(t, err)
	pass, err := desk.MakePass(ctx, o, officer, "forget pass", ids.Movement(left.IDs[0]))
	require.NoError(t, err)
	_, err = desk.ReturnPass(ctx, o, officer, "forget return", pass.Text)
	require.NoError(t, err)
	require.NoError(t, player.Jump(ctx, "10:10"))
	later, err := todaypage.Show(ctx, o, "")
	require.NoError(t, err)
	for _, a := range later.Answers {
		_, err = home.Notify(ctx, o, officer, "forget answer", home.Notice{Students: []ids.Student{a.Students[0].ID}, Reason: "ill", Message: a.Message})
		require.NoError(t, err)
	}
}

func TestMovingTheClock(t *testing.T) {
	o, player := demotest.Played(t)
	first, err := todaypage.Show(t.Context(), o, "")
	require.NoError(t, err)
	require.NoError(t, player.Jump(t.Context(), "10:05"))
	later, err := todaypage.Show(t.Context(), o, "")
	require.NoError(t, err)
	assert.Less(t, later.Missing, first.Missing, "the Petrel has come in")
	assert.Equal(t, "2026-03-10T10:05", later.AsAt)

	_, err = caseload.LogFollowup(t.Context(), o, officer, "a call to be forgotten", caseload.Followup{Student: 1, Outcome: "spoke"})
	require.NoError(t, err)
	everyKindOfWork(t, o, player)
	require.NoError(t, player.Jump(t.Context(), "09:12"))
	again, err := todaypage.Show(t.Context(), o, "")
	require.NoError(t, err)
	for i := range again.Just {
		again.Just[i].Entry = first.Just[i].Entry // the journal is numbered on
	}
	assert.Equal(t, first, again, "the day plays as before")
	wrong, err := check.Check(t.Context(), o, false)
	require.NoError(t, err)
	assert.Empty(t, wrong)

	require.NoError(t, player.Jump(t.Context(), "next"))
	next, err := todaypage.Show(t.Context(), o, "")
	require.NoError(t, err)
	assert.Equal(t, "2026-03-11T08:30", next.AsAt)
	assert.True(t, next.Open)
	assert.Error(t, player.Jump(t.Context(), "nonsense"))
}
