package demo_test

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/demo/demotest"
	"meldung/files/policyfile"
	"meldung/files/table"
	"meldung/pages"
	"meldung/pages/absencepage"
	"meldung/pages/frame"
	"meldung/pages/paperpage"
	"meldung/pages/registerpage"
	"meldung/pages/studentpage"
	"meldung/pages/todaypage"
	"meldung/work"
	"meldung/work/check"
	"meldung/work/plans"
	"meldung/work/registers"
	"meldung/work/roster"
)

// the day before the changes, and a day long past.
const (
	yesterday = "2026-03-09"
	november  = "2025-11-06"
)

// past is everything that pages say of days before the changes, but for what is still to come
// of the year.
func past(t *testing.T, o *work.Office) map[string]string {
	t.Helper()
	ctx := t.Context()
	out := map[string]string{}
	keep := func(name string, v any, err error) {
		require.NoError(t, err, name)
		text, err := json.MarshalIndent(v, "", " ")
		require.NoError(t, err)
		out[name] = string(text)
	}
	for _, id := range policyfile.Policies() {
		v, err := absencepage.Show(ctx, o, yesterday, pages.AbsenceAsk{Policy: id})
		for i := range v.Rows {
			withoutWhatComes(&v.Rows[i].Figures)
		}
		keep("absence by "+id, v, err)
	}
	for _, id := range []ids.Student{1, 40, 41, 300} {
		v, err := absencepage.ShowWhy(ctx, o, officer, id, yesterday, pages.AbsenceAsk{Policy: "hours"})
		withoutWhatComes(&v.Figures)
		keep(fmt.Sprint("why ", id), v, err)
		sheet, err := studentpage.Show(ctx, o, officer, id, yesterday)
		sheet.Days = nil
		withoutWhatComes(&sheet.Figures)
		keep(fmt.Sprint("sheet ", id), sheet, err)
	}
	for _, at := range []string{november + "T10:20", yesterday + "T12:00"} {
		today, err := todaypage.Show(ctx, o, at)
		keep("today at "+at, today, err)
		rail, err := frame.ShowRail(ctx, o, at)
		rail.After, rail.Now = "", ""
		keep("rail at "+at, rail, err)
		all, err := registerpage.ShowAll(ctx, o, officer, at)
		keep("registers at "+at, all, err)
		one, err := registerpage.Show(ctx, o, officer, demotest.Halyard, "AM", at[:10])
		one.CheckInDays = nil
		keep("register at "+at, one, err)
	}
	lates, err := paperpage.ShowLates(ctx, o, yesterday, paperpage.LatesAsk{From: "2026-02-23", To: yesterday})
	keep("lates", lates, err)
	return out
}

// withoutWhatComes leaves out of figures what depends on the rest of the year.
func withoutWhatComes(f *pages.AbsenceFigures) {
	f.Headroom, f.ToCome, f.BackInTime = pages.RoomView{}, 0, false
}

// files of the school, as it exports them.
func exported(t *testing.T, o *work.Office) (people, timetable table.Files) {
	t.Helper()
	people, err := roster.ExportRoster(t.Context(), o)
	require.NoError(t, err)
	timetable, err = roster.ExportTimetable(t.Context(), o)
	require.NoError(t, err)
	return people, timetable
}

func replaced(t *testing.T, files table.Files, name string, pairs ...string) {
	t.Helper()
	text := string(files[name])
	for i := 0; i < len(pairs); i += 2 {
		require.Contains(t, text, pairs[i], name)
	}
	files[name] = []byte(strings.NewReplacer(pairs...).Replace(text))
}

func taken(t *testing.T, plan plans.Plan, err error) plans.Plan {
	t.Helper()
	require.NoError(t, err)
	require.Empty(t, plan.Problems)
	require.True(t, plan.Applied)
	return plan
}

func well(t *testing.T, o *work.Office) {
	t.Helper()
	wrong, err := check.Check(t.Context(), o, false)
	require.NoError(t, err)
	assert.Empty(t, wrong)
}

// What a school exports is what it has: taken again it changes nothing.
func TestTheOwnExportChangesNothing(t *testing.T) {
	o := demotest.Copy(t)
	people, timetable := exported(t, o)
	plan, err := roster.ImportRoster(t.Context(), o, demotest.Admin, "", people, plans.Options{})
	require.NoError(t, err)
	assert.Zero(t, plan.Changes(), "%v", plan.Parts)
	plan, err = roster.ImportTimetable(t.Context(), o, demotest.Admin, "", timetable, plans.Options{})
	require.NoError(t, err)
	assert.Zero(t, plan.Changes(), "%v", plan.Parts)
}

// In mid-year a slot is renamed, bell times move, lessons are at other times, a student
// comes part-time, one leaves, a tutor is replaced and a form has another name: everything
// earlier is as it was, and the next day is by the new.
func TestAChangeInMidYearLeavesWhatWasBefore(t *testing.T) {
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	before := past(t, o)
	people, timetable := exported(t, o)

	replaced(t, timetable, "slots.csv", "normal,AM,08:45,09:00", "normal,Reg,08:40,09:00", "normal,AM,08:55,09:10", "normal,Reg,08:50,09:10", "normal,6,14:55,15:45", "normal,6,14:55,15:30")
	replaced(t, timetable, "timetable.csv", ",AM,", ",Reg,", ",1,3,", ",1,zz,", ",2,3,", ",1,3,")
	replaced(t, timetable, "timetable.csv", ",1,zz,", ",2,3,")
	plan, err := roster.ImportTimetable(ctx, o, demotest.Admin, "", timetable, plans.Options{Apply: true})
	taken(t, plan, err)
	assert.Equal(t, "2026-03-11", plan.From, "the day after the last register")
	assert.False(t, plan.Past)
	assert.Contains(t, strings.Join(plan.Notes, "\n"), "the slot AM is in no day pattern any more, and is in the own schedules of")
	assert.Contains(t, strings.Join(plan.Details, "\n"), "change slot 6 of normal, 14:55 to 15:45, lesson, Lower School to 6 of normal, 14:55 to 15:30, lesson, Lower School")

	clock.Set(day.At(day.MustDate("2026-03-11"), day.MustMinute("07:30")))
	users := strings.Split(string(people["users.csv"]), "\n")
	for i, line := range users {
		switch {
		case strings.Contains(line, ",student,") && strings.Contains(line, ",Della,Fairhurst,"):
			users[i] = ""
		case strings.Contains(line, ",student,") && strings.Contains(line, ",Juno,Sandal,"):
			fields := strings.Split(line, ",")
			fields[len(fields)-1] = `"Reg,1,2"`
			users[i] = strings.Join(fields, ",")
		}
	}
	people["users.csv"] = []byte(strings.Join(users, "\n"))
	var kept []string
	for _, line := range strings.Split(string(people["enrollments.csv"]), "\n") {
		if !strings.Contains(line, ","+sourced(t, o, demotest.IDs(t, o, "Della Fairhurst")[0])+",") {
			kept = append(kept, line)
		}
	}
	people["enrollments.csv"] = []byte(strings.Join(kept, "\n"))
	replaced(t, people, "enrollments.csv", "teach-048,,,class-048,org-lower,staff-01", "teach-048,,,class-048,org-lower,staff-20")
	replaced(t, people, "classes.csv", "8 Halyard", "8 Mainsail")
	replaced(t, people, "users.csv", `4,AM"`, `4,Reg"`, "AM@", "Reg@")
	plan, err = roster.ImportRoster(ctx, o, demotest.Admin, "", people, plans.Options{Apply: true})
	taken(t, plan, err)
	assert.Contains(t, strings.Join(plan.Details, "\n"), "change name of a class 8 Halyard, year 8, room 17, Lower School to 8 Mainsail, year 8, room 17, Lower School")

	after := past(t, o)
	for name, want := range before {
		assert.Equal(t, want, after[name], name)
	}
	well(t, o)

	clock.Set(day.At(day.MustDate("2026-03-11"), day.MustMinute("08:50")))
	all, err := registerpage.ShowAll(ctx, o, officer, "")
	require.NoError(t, err)
	assert.Equal(t, "Reg", all.Registers[0].Slot)
	one, err := registerpage.Show(ctx, o, officer, demotest.Halyard, "Reg", "")
	require.NoError(t, err)
	assert.Equal(t, "8 Mainsail", one.Register.Title)
	_, err = registerpage.Show(ctx, o, officer, demotest.Halyard, "AM", "")
	assert.ErrorContains(t, err, "did not meet in AM")
	_, err = registerpage.Show(ctx, o, demotest.Osk, demotest.Halyard, "Reg", "")
	assert.ErrorContains(t, err, "is not your class", "the tutor of before")
	_, err = studentpage.Show(ctx, o, officer, demotest.IDs(t, o, "Juno Sandal")[0], "")
	require.NoError(t, err)

	// A past register is corrected by what held then.
	old, err := registerpage.Show(ctx, o, officer, demotest.Halyard, "AM", yesterday)
	require.NoError(t, err)
	_, err = registers.Correct(ctx, o, officer, "", registers.Correction{Date: yesterday, Slot: "AM", Student: old.Rows[0].Student.ID, Code: "M", Reason: "the home rang"})
	require.NoError(t, err)
	well(t, o)
}

// Changing what is over needs a word of its own, and says first which figures change.
func TestThePastIsCorrectedExpressly(t *testing.T) {
	o := demotest.Copy(t)
	ctx := t.Context()
	_, timetable := exported(t, o)
	replaced(t, timetable, "slots.csv", "normal,AM,", "normal,Reg,")
	replaced(t, timetable, "timetable.csv", ",AM,", ",Reg,")
	from := day.MustDate("2026-03-02")
	_, err := roster.ImportTimetable(ctx, o, demotest.Admin, "", timetable, plans.Options{From: &from})
	assert.ErrorContains(t, err, "registers up to Tue 10 March 2026 are in")
	assert.ErrorContains(t, err, "from Wed 11 March 2026 on")

	look, err := roster.ImportTimetable(ctx, o, demotest.Admin, "", timetable, plans.Options{From: &from, CorrectPast: true})
	require.NoError(t, err)
	assert.True(t, look.Past)
	assert.Contains(t, strings.Join(look.Figures, "\n"), "marks more would enter no figure, the first of Mon 2 March in AM: there was no AM on that day")
	assert.Contains(t, look.Figures[0], "2025/26, ")
	well(t, o)

	before, err := absencepage.Show(ctx, o, "2026-02-27", pages.AbsenceAsk{})
	require.NoError(t, err)
	plan, err := roster.ImportTimetable(ctx, o, demotest.Admin, "", timetable, plans.Options{From: &from, CorrectPast: true, Apply: true})
	taken(t, plan, err)
	assert.Equal(t, look.Figures, plan.Figures, "what was said is what was done")
	after, err := absencepage.Show(ctx, o, "2026-02-27", pages.AbsenceAsk{})
	require.NoError(t, err)
	assert.Equal(t, before.School, after.School, "before it nothing changes")
	wrong, err := check.Check(ctx, o, false)
	require.NoError(t, err)
	require.NotEmpty(t, wrong)
	assert.Contains(t, wrong[0], "on 2026-03-02 in AM")
	assert.Contains(t, wrong[len(wrong)-1], "more enter no figure")
	register, err := registerpage.Show(ctx, o, officer, demotest.Halyard, "AM", "2026-03-03")
	require.NoError(t, err, "a register that is in keeps its slot")
	assert.Equal(t, "sent", register.Register.State)
}
