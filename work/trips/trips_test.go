package trips_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/demo"
	"meldung/demo/demotest"
	"meldung/pages"
	"meldung/pages/studentpage"
	"meldung/pages/trippage"
	"meldung/work"
	"meldung/work/trips"
)

// visit plans a visit of four who are in, led by T. Rask.
func visit(t *testing.T, o *work.Office, from, to string) (ids.Activity, []ids.Student) {
	t.Helper()
	going := demotest.IDs(t, o, "Tora Ulvar", "Maren Holt", "Tavi Lund", "Corin Vale")
	got, err := trips.Plan(t.Context(), o, demotest.Officer, "the visit is planned", trips.Activity{Title: "light house", Place: "Skerry", From: from, To: to, LeaderID: demotest.StaffRask, Students: append(going, going[0])})
	require.NoError(t, err)
	assert.Contains(t, got.Text, ": 4 students")
	return ids.Activity(got.IDs[0]), going
}

func shown(t *testing.T, o *work.Office, p work.Person, id ids.Activity) trippage.TripView {
	t.Helper()
	v, err := trippage.Show(t.Context(), o, p, id)
	require.NoError(t, err)
	return v
}

func line(t *testing.T, o *work.Office, title string) *pages.TripLine {
	t.Helper()
	for _, l := range demotest.Today(t, o, "").Trips {
		if l.Title == title {
			return &l
		}
	}
	return nil
}

// A trip from its plan to its end: its members are elsewhere, one more goes and one stays back, one is
// missing and found, it is late back, and it is back, of which one at the door can say so.
func TestATripOfTheDay(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	at := func(minute string) { clock.Set(day.At(demo.Today, day.MustMinute(minute))) }
	id, going := visit(t, o, "0920", "1030")
	assert.Equal(t, "in", demotest.Place(t, o, "Maren Holt"), "not before it begins")
	at("09:25")
	assert.Equal(t, "elsewhere", demotest.Place(t, o, "Maren Holt"))
	assert.Equal(t, "back by 10:30", line(t, o, "light house").Text)

	eskil := demotest.IDs(t, o, "Jory Marr")[0]
	change := trips.Activity{Title: "light house", Place: "Skerry", From: "0920", To: "1100", LeaderID: demotest.StaffRask, Students: append([]ids.Student{eskil}, going[1:]...)}
	got, err := trips.Change(ctx, o, demotest.Officer, "one more and one less", id, change)
	require.NoError(t, err)
	assert.Equal(t, "light house: 09:20 to 11:00, Jory Marr too, without Tora Ulvar", got.Text)
	assert.Equal(t, "in", demotest.Place(t, o, "Tora Ulvar"), "she stayed back")
	then, err := o.Moment("2026-03-10T09:24")
	require.NoError(t, err)
	require.NoError(t, o.ReadDay(ctx, then, func(v work.Snapshot, x *work.Day) error {
		assert.Equal(t, "elsewhere", v.Position(x, going[0], then).State.Slug(), "as it was known then")
		return nil
	}))

	_, err = trips.Mark(ctx, o, demotest.Osk, "another's register", id, trips.Said{Here: going[1:2], Missing: []ids.Student{}})
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
	_, err = trips.Mark(ctx, o, demotest.Rask, "of one who stayed", id, trips.Said{Here: going[:1], Missing: []ids.Student{}})
	assert.ErrorContains(t, err, "not on light house")
	got, err = trips.Mark(ctx, o, demotest.Rask, "the register", id, trips.Said{Here: []ids.Student{going[1], going[2], eskil}, Missing: []ids.Student{going[3]}})
	require.NoError(t, err)
	assert.Contains(t, got.Text, "Corin Vale not there: missing")
	before := demotest.Count(t, o)["unaccounted"]
	assert.Equal(t, []string{"Corin Vale"}, line(t, o, "light house").Missing)
	v := shown(t, o, demotest.Rask, id)
	assert.Equal(t, []int{4, 3}, []int{v.Students, v.There})
	assert.NotEmpty(t, v.Phones, "a leader who is out can ring")
	sheet, err := studentpage.Show(ctx, o, demotest.Officer, going[3], "")
	require.NoError(t, err)
	assert.Equal(t, "Missing on light house", sheet.Happened[0].Text)
	at("09:40")
	_, err = trips.Mark(ctx, o, demotest.Rask, "he was found", id, trips.Said{Here: []ids.Student{going[3]}, Missing: []ids.Student{}, Ago: 5 * 60})
	require.NoError(t, err)
	for _, m := range shown(t, o, demotest.Rask, id).Members {
		if m.Student.ID == going[3] {
			assert.Equal(t, "09:35", m.At, "said without a line, five minutes ago")
		}
	}
	assert.LessOrEqual(t, demotest.Count(t, o)["unaccounted"], before)
	assert.Equal(t, "elsewhere", demotest.Place(t, o, "Maren Holt"))

	// Late back, the trip is asked for as a whole; nobody's home is on the list for it.
	at("11:20")
	late := line(t, o, "light house")
	assert.Equal(t, "not back", late.State)
	assert.Equal(t, "unaccounted", demotest.Place(t, o, "Maren Holt"))
	today := demotest.Today(t, o, "")
	for _, h := range today.Households {
		for _, s := range h.Students {
			assert.NotEqual(t, "Maren Holt", s.Student.Name)
		}
	}
	for _, d := range today.DueBack {
		assert.NotEqual(t, "Maren Holt", d.Student.Name, "one line stands for all")
	}
	_, err = trips.Back(ctx, o, demotest.Osk, "a teacher of others", id, trips.Return{})
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
	_, err = trips.Back(ctx, o, demotest.Maud, "too early", id, trips.Return{At: "915"})
	assert.ErrorContains(t, err, "can’t be back before")
	_, err = trips.Back(ctx, o, demotest.Maud, "they are back", id, trips.Return{At: "1118"})
	require.NoError(t, err)
	assert.Equal(t, "in", demotest.Place(t, o, "Maren Holt"), "in, and not late")
	assert.Equal(t, "in", demotest.Place(t, o, "Tora Ulvar"), "who stayed back is as she was")
	assert.Nil(t, line(t, o, "light house"))
	_, err = trips.Back(ctx, o, demotest.Maud, "once more", id, trips.Return{})
	assert.Equal(t, work.Conflict, demotest.Kind(t, err))
	_, err = trips.GoesOn(ctx, o, demotest.Officer, "they are not back", id)
	require.NoError(t, err)
	assert.Equal(t, "unaccounted", demotest.Place(t, o, "Maren Holt"))
}

// A trip that nobody has said to be back is not forgotten over night.
func TestATripThatDidNotComeBackStandsTheNextDay(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	id, _ := visit(t, o, "0920", "1030")
	clock.Set(day.At(demo.Today+1, day.MustMinute("08:30")))
	stands := line(t, o, "light house")
	require.NotNil(t, stands)
	assert.Equal(t, "should have been back Tue 10 March 10:30", stands.Text)
	_, err := trips.Back(ctx, o, demotest.Officer, "they were back yesterday", id, trips.Return{Note: "at 10:40, nobody wrote it down"})
	require.NoError(t, err)
	assert.Nil(t, line(t, o, "light house"))
	assert.Equal(t, day.MustMinute("10:30"), backOf(t, o, id))
}

func backOf(t *testing.T, o *work.Office, id ids.Activity) (at day.Minute) {
	t.Helper()
	require.NoError(t, o.ReadDay(t.Context(), work.Moment{Date: demo.Today}, func(_ work.Snapshot, x *work.Day) error {
		for _, a := range x.Activities {
			if a.ID == id {
				at = a.Back().Minute
			}
		}
		return nil
	}))
	return at
}

// A trip of several days is elsewhere on each of them, ends on the last, and a trip that does not take
// place is none.
func TestATripOfSeveralDays(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	maren := demotest.IDs(t, o, "Maren Holt")
	got, err := trips.Plan(ctx, o, demotest.Officer, "three days", trips.Activity{Title: "camp", Date: "2026-03-11", ToDate: "2026-03-13", From: "9", To: "15", Leader: "S. Aune", Students: maren})
	require.NoError(t, err)
	for when, want := range map[string]string{"2026-03-11T09:30": "elsewhere", "2026-03-12T08:00": "elsewhere", "2026-03-13T14:00": "elsewhere"} {
		i, err := day.ParseInstant(when)
		require.NoError(t, err)
		clock.Set(i)
		assert.Equal(t, want, demotest.Place(t, o, "Maren Holt"), when)
	}
	_, err = trips.Cancel(ctx, o, demotest.Officer, "it is cancelled", ids.Activity(got.IDs[0]))
	require.NoError(t, err)
	assert.NotEqual(t, "elsewhere", demotest.Place(t, o, "Maren Holt"))
}

func TestTripsThatCannotBe(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	maren := demotest.IDs(t, o, "Maren Holt")
	plan := func(change func(*trips.Activity)) error {
		a := trips.Activity{Title: "camp", Leader: "S. Aune", From: "9", To: "15", Students: maren}
		change(&a)
		_, err := trips.Plan(t.Context(), o, demotest.Officer, "", a)
		return err
	}
	for says, change := range map[string]func(*trips.Activity){
		"not after":             func(a *trips.Activity) { a.To = "830" },
		"is over":               func(a *trips.Activity) { a.Date = "2026-03-09" },
		"before it begins":      func(a *trips.Activity) { a.ToDate = "2026-03-01" },
		"not a time":            func(a *trips.Activity) { a.From = "soon" },
		"no member of":          func(a *trips.Activity) { a.LeaderID = 9999 },
		"say who leads it":      func(a *trips.Activity) { a.Leader = " " },
		"say what it is":        func(a *trips.Activity) { a.Title = "  " },
		"no student":            func(a *trips.Activity) { a.Students = []ids.Student{99999} },
		"expected array length": func(a *trips.Activity) { a.Students = []ids.Student{} },
	} {
		assert.ErrorContains(t, plan(change), says)
	}
	id, _ := visit(t, o, "0920", "1030")
	_, err := trippage.Show(context.Background(), o, demotest.Osk, id)
	assert.Equal(t, work.NotFound, demotest.Kind(t, err), "another's trip is none of hers")
	theirs, err := trippage.ShowAll(t.Context(), o, demotest.Osk)
	require.NoError(t, err)
	assert.Empty(t, theirs.Trips)
	own, err := trippage.ShowAll(t.Context(), o, demotest.Rask)
	require.NoError(t, err)
	assert.Len(t, own.Trips, 1)
	assert.Empty(t, own.Groups, "and can plan none")
	group, err := trippage.Group(t.Context(), o, "class:48")
	require.NoError(t, err)
	assert.Greater(t, len(group), 20)
}
