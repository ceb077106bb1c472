package concernspage_test

import (
	"slices"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/attention"
	"meldung/core/day"
	"meldung/core/ids"
	"meldung/demo/demotest"
	"meldung/pages"
	"meldung/pages/concernspage"
	"meldung/pages/studentpage"
	"meldung/work"
	"meldung/work/concerns"
	"meldung/work/incidents"
	"meldung/work/takeback"
)

func show(t *testing.T, o *work.Office, p work.Person, at string, ask concernspage.Ask) concernspage.ConcernsView {
	t.Helper()
	v, err := concernspage.Show(t.Context(), o, p, at, ask)
	require.NoError(t, err)
	return v
}

func rowOf(v concernspage.ConcernsView, id ids.Student) *concernspage.ConcernRow {
	i := slices.IndexFunc(v.Rows, func(r concernspage.ConcernRow) bool { return r.Student.ID == id })
	if i < 0 {
		return nil
	}
	return &v.Rows[i]
}

func settle(t *testing.T, o *work.Office, p work.Person, d concerns.Decide) work.Receipt {
	t.Helper()
	r, err := concerns.Settle(t.Context(), o, p, "", d)
	require.NoError(t, err)
	return r
}

func dues(v concernspage.ConcernsView) (out []concernspage.ConcernRow) {
	for _, r := range v.Rows {
		if r.Due {
			out = append(out, r)
		}
	}
	return out
}

// A whole review: each kind of decision, the record, and the next week's.
func TestAReview(t *testing.T) {
	o, clock := demotest.CopyWithClock(t)
	before := show(t, o, demotest.Ase, "", concernspage.Ask{})
	r := before.Review
	assert.Equal(t, "Tue 10 March", r.Date)
	assert.Equal(t, "Tue 3 March", r.Before)
	assert.Equal(t, "Tue 17 March", r.Next)
	assert.False(t, r.Begun)
	due := dues(before)
	require.Greater(t, len(due), 20)
	assert.Len(t, due, r.Due)
	assert.Equal(t, []string{"new", "rising", "holding", "easing"}, turnsOf(before.Rows), "in the order of the decision")
	for _, row := range before.Rows {
		assert.Len(t, row.Course, 6, "five reviews and now")
		assert.Equal(t, row.Course[4], row.Before)
	}

	a, b, c := due[0].Student, due[1].Student, due[2].Student
	for _, wrong := range []concerns.Decide{
		{Student: a.ID, Kind: attention.NoAction},
		{Student: a.ID, Kind: attention.WaitFor, Text: "why"},
		{Student: a.ID, Kind: attention.WaitFor, Until: "2026-03-10"},
		{Student: a.ID, Kind: attention.OpenCase, Owner: demotest.Ase.Account},
		{Student: a.ID, Kind: attention.OpenCase, Until: "2026-03-20"},
		{Student: a.ID, Kind: attention.OpenCase, Until: "2026-03-20", Owner: demotest.Rask.Account},
	} {
		_, err := concerns.Settle(t.Context(), o, demotest.Ase, "", wrong)
		assert.Equal(t, work.Wrong, demotest.Kind(t, err), "%+v", wrong)
	}
	_, err := concerns.Settle(t.Context(), o, demotest.Ase, "", concerns.Decide{Student: 99999, Kind: attention.NoAction, Text: "x"})
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
	assert.False(t, show(t, o, demotest.Ase, "", concernspage.Ask{}).Review.Begun, "what was refused began nothing")
	assert.Equal(t, r.Of, len(slices.DeleteFunc(slices.Clone(before.Rows), func(r concernspage.ConcernRow) bool { return len(r.Concerns)+len(r.Words) == 0 })), "whom no rule finds any more is not on it")

	settle(t, o, demotest.Ase, concerns.Decide{Student: a.ID, Kind: attention.OpenCase, Owner: demotest.Officer.Account, Until: "2026-03-16", Text: "see the home"})
	settle(t, o, demotest.Officer, concerns.Decide{Student: b.ID, Kind: attention.WaitFor, Until: "2026-03-20", Text: "new ferry"})
	undo := settle(t, o, demotest.Ase, concerns.Decide{Student: c.ID, Kind: attention.NoAction, Text: "ill, and back"})

	now := show(t, o, demotest.Ase, "", concernspage.Ask{})
	assert.True(t, now.Review.Begun)
	assert.Equal(t, r.Due-3, now.Review.Due)
	assert.Equal(t, r.Of, now.Review.Of)
	assert.ElementsMatch(t, []concernspage.Decider{{By: "D. Ase", N: 2, Last: "09:12"}, {By: "R. Tolvan", N: 1, Last: "09:12"}}, now.Review.Deciders)
	assert.Equal(t, "R. Tolvan", rowOf(now, a.ID).Case.Owner)
	assert.Equal(t, "waits until Fri 20 March", rowOf(now, b.ID).Decision.Words)
	mine := show(t, o, demotest.Officer, "", concernspage.Ask{Owner: demotest.Officer.Account})
	assert.NotNil(t, rowOf(mine, a.ID))
	assert.Nil(t, rowOf(mine, b.ID))
	assert.Nil(t, rowOf(show(t, o, demotest.Ase, "", concernspage.Ask{Undecided: true}), c.ID))

	_, err = takeback.Entry(t.Context(), o, demotest.Ase, "", undo.Seq)
	require.NoError(t, err)
	assert.True(t, rowOf(show(t, o, demotest.Ase, "", concernspage.Ask{}), c.ID).Due)

	done, err := concerns.Finish(t.Context(), o, demotest.Ase, "", concerns.OfSections{})
	require.NoError(t, err)
	_, err = concerns.Finish(t.Context(), o, demotest.Ase, "", concerns.OfSections{})
	assert.Equal(t, work.Conflict, demotest.Kind(t, err))
	assert.Contains(t, show(t, o, demotest.Ase, "", concernspage.Ask{}).Review.Finished, "by D. Ase")
	_, err = takeback.Entry(t.Context(), o, demotest.Ase, "", done.Seq)
	require.NoError(t, err)
	assert.Empty(t, show(t, o, demotest.Ase, "", concernspage.Ask{}).Review.Finished)
	_, err = concerns.Finish(t.Context(), o, demotest.Ase, "", concerns.OfSections{})
	require.NoError(t, err)

	_, err = concerns.Settle(t.Context(), o, demotest.Ase, "", concerns.Decide{Student: a.ID, Kind: attention.NoAction, Text: "known"})
	assert.Equal(t, work.Conflict, demotest.Kind(t, err), "whom a case has in hand is not let go by a word")

	// At 08:30 of that morning nothing of it was known.
	early := show(t, o, demotest.Ase, "2026-03-10T08:30", concernspage.Ask{})
	assert.False(t, early.Review.Begun)
	assert.Equal(t, r.Due, early.Review.Due)
	assert.False(t, early.MayDecide)

	// A week later those who wait still do, the case is open, and what was left asks again.
	clock.Set(day.At(day.MustDate("2026-03-17"), day.MustMinute("15:50")))
	require.NoError(t, o.Reload(t.Context()))
	next := show(t, o, demotest.Ase, "", concernspage.Ask{})
	assert.Equal(t, "Tue 17 March", next.Review.Date)
	assert.Equal(t, "Tue 10 March", next.Review.Before)
	assert.False(t, next.Review.Begun)
	if row := rowOf(next, b.ID); assert.NotNil(t, row) && len(row.Concerns) > 0 && !slices.ContainsFunc(row.Concerns, func(c pages.ConcernView) bool { return c.Fresh }) {
		assert.False(t, row.Due, "it waits until Friday")
	}
	assert.True(t, rowOf(next, a.ID).Case.Overdue)

	reviews, err := concernspage.Reviews(t.Context(), o, "")
	require.NoError(t, err)
	require.Len(t, reviews.Reviews, 12, "five before and this one, of two sections")
	sum := 0
	for _, line := range reviews.Reviews[:2] {
		rec, err := concernspage.Record(t.Context(), o, line.ID)
		require.NoError(t, err)
		assert.Equal(t, "Tue 10 March", rec.Review.Date)
		assert.Equal(t, "Tue 3 March", rec.Before.Date)
		made := 0
		for _, d := range rec.Decided {
			made += d.Now
		}
		assert.Equal(t, rec.Students, made, "everybody whom a rule found is in one of the kinds")
		sum += rec.Review.Decided
	}
	assert.Equal(t, 2, sum)
	_, err = concernspage.Record(t.Context(), o, 99999)
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
}

func turnsOf(rows []concernspage.ConcernRow) (out []string) {
	for _, r := range rows {
		if len(out) == 0 || out[len(out)-1] != r.Turn {
			out = append(out, r.Turn)
		}
	}
	return out
}

// A decision ends a row's turn until a rule comes to find the student that did not before.
func TestANewConcernEndsADecision(t *testing.T) {
	o, clock := demotest.CopyWithClock(t)
	row := dues(show(t, o, demotest.Ase, "", concernspage.Ask{Rule: "failing-course"}))[0]
	require.False(t, slices.ContainsFunc(row.Concerns, func(c pages.ConcernView) bool { return c.Kind == "two-incidents" }))
	settle(t, o, demotest.Ase, concerns.Decide{Student: row.Student.ID, Kind: attention.WaitFor, Until: "2026-03-27"})
	assert.False(t, rowOf(show(t, o, demotest.Ase, "", concernspage.Ask{}), row.Student.ID).Due)
	for _, key := range []string{"a first incident", "a second incident"} {
		_, err := incidents.SetNote(t.Context(), o, demotest.Ase, key, incidents.IncidentNote{Date: "2026-03-10", Time: "09:05", Text: "left the lesson", People: []incidents.IncidentPart{{Student: row.Student.ID, Role: "did it"}}})
		require.NoError(t, err)
	}
	after := rowOf(show(t, o, demotest.Ase, "", concernspage.Ask{}), row.Student.ID)
	assert.True(t, after.Due, "noted today, and known today")
	assert.True(t, after.Late)
	i := slices.IndexFunc(after.Concerns, func(c pages.ConcernView) bool { return c.Kind == "two-incidents" })
	require.GreaterOrEqual(t, i, 0)
	assert.True(t, after.Concerns[i].Fresh)

	// What was known when it was decided does not ask again when its day is over.
	settle(t, o, demotest.Ase, concerns.Decide{Student: row.Student.ID, Kind: attention.WaitFor, Until: "2026-03-27"})
	assert.False(t, rowOf(show(t, o, demotest.Ase, "", concernspage.Ask{}), row.Student.ID).Due)
	clock.Set(day.At(day.MustDate("2026-03-11"), day.MustMinute("08:51")))
	require.NoError(t, o.Reload(t.Context()))
	next := rowOf(show(t, o, demotest.Ase, "", concernspage.Ask{}), row.Student.ID)
	require.Equal(t, "two-incidents", next.Concerns[slices.IndexFunc(next.Concerns, func(c pages.ConcernView) bool { return c.Kind == "two-incidents" })].Kind)
	assert.False(t, next.Due)
}

// Twenty who decide at once begin one review; two about one student are told of each other.
func TestSeveralDecideAtOnce(t *testing.T) {
	o := demotest.Copy(t)
	v := show(t, o, demotest.Ase, "", concernspage.Ask{})
	due := dues(v)[:20]
	var all sync.WaitGroup
	for i, row := range due {
		all.Go(func() {
			p := []work.Person{demotest.Ase, demotest.Officer}[i%2]
			_, err := concerns.Settle(t.Context(), o, p, "", concerns.Decide{Student: row.Student.ID, Kind: attention.NoAction, Text: "known"})
			assert.NoError(t, err)
		})
	}
	all.Wait()
	now := show(t, o, demotest.Ase, "", concernspage.Ask{})
	assert.Equal(t, v.Review.Due-20, now.Review.Due)
	id := due[0].Student.ID
	_, err := concerns.Settle(t.Context(), o, demotest.Officer, "", concerns.Decide{Student: id, Kind: attention.WaitFor, Until: "2026-03-20", Since: work.Since{Seen: 1}})
	assert.Equal(t, work.Conflict, demotest.Kind(t, err))
	assert.Contains(t, err.Error(), "no action, known")
	settle(t, o, demotest.Officer, concerns.Decide{Student: id, Kind: attention.WaitFor, Until: "2026-03-20"})
	assert.Equal(t, "waits until Fri 20 March", rowOf(show(t, o, demotest.Ase, "", concernspage.Ask{}), id).Decision.Words)
}

// A teacher sees the own students with the same reasons, not which courses of others they fail nor what the
// office says, and tells those who decide.
func TestATeachersConcerns(t *testing.T) {
	o := demotest.Copy(t)
	all := show(t, o, demotest.Ase, "", concernspage.Ask{})
	own := show(t, o, demotest.Osk, "", concernspage.Ask{})
	assert.False(t, own.MayDecide)
	assert.True(t, own.MayTell)
	assert.Less(t, len(own.Rows), len(all.Rows))
	require.NotEmpty(t, own.Rows)
	for _, r := range own.Rows {
		assert.Empty(t, r.Contacts)
		assert.Nil(t, r.Last)
		if r.Decision != nil {
			assert.Empty(t, r.Decision.Text)
		}
		if r.Case != nil {
			assert.Empty(t, r.Case.Text+r.Case.Next)
		}
		for _, c := range r.Concerns {
			assert.NotContains(t, c.Why, ": ", "no courses by name")
		}
	}
	for _, g := range own.Groups {
		assert.Contains(t, []string{"form", "class"}, g.Kind)
	}
	form := show(t, o, demotest.Osk, "", concernspage.Ask{Group: "class:48"})
	assert.Equal(t, "8 Halyard", form.Group)
	for _, r := range form.Rows {
		assert.Equal(t, "8 Halyard", r.Student.Form)
	}

	someone := demotest.IDs(t, o, "Oona Harle")[0]
	if rowOf(own, someone) == nil {
		_, err := concerns.Tell(t.Context(), o, demotest.Osk, "", concerns.Word{Student: someone, Text: "asleep"})
		assert.Equal(t, work.Refused, demotest.Kind(t, err), "none of the own")
	}
	var quiet ids.Student
	err := o.Read(t.Context(), func(v work.Snapshot) error {
		for _, s := range v.School.Students {
			if v.MaySee(demotest.Osk, s.ID) == nil && s.EnrolledOn(v.On) && rowOf(all, s.ID) == nil {
				quiet = s.ID
			}
		}
		return nil
	})
	require.NoError(t, err)
	require.NotZero(t, quiet)
	_, err = concerns.Tell(t.Context(), o, demotest.Osk, "", concerns.Word{Student: quiet, Text: "asleep by noon"})
	require.NoError(t, err)
	told := rowOf(show(t, o, demotest.Ase, "", concernspage.Ask{}), quiet)
	require.NotNil(t, told, "whom no rule finds comes on the review by what is said")
	assert.True(t, told.Due)
	assert.Equal(t, "asleep by noon", told.Words[0].Text)
	assert.NotEmpty(t, told.Rate)
	settle(t, o, demotest.Ase, concerns.Decide{Student: quiet, Kind: attention.NoAction, Text: "spoke with them"})
	assert.Equal(t, told.Rate, rowOf(show(t, o, demotest.Ase, "", concernspage.Ask{}), quiet).Rate, "whom no rule finds keeps the figures")
	sheet := func(p work.Person) (out string) {
		v, err := studentpage.Show(t.Context(), o, p, quiet, "")
		require.NoError(t, err)
		for _, h := range v.Happened {
			out += h.Text + "\n"
		}
		return out
	}
	assert.Contains(t, sheet(demotest.Ase), "Review: no action · spoke with them")
	assert.Contains(t, sheet(demotest.Ase), "For the review: asleep by noon")
	assert.NotContains(t, sheet(demotest.Osk), "Review: ")
	assert.NotContains(t, sheet(demotest.Maud), "Review: ")
	assert.False(t, rowOf(show(t, o, demotest.Ase, "", concernspage.Ask{}), quiet).Due)
}

// What is shown goes along, in its order, marked as holding data of students.
func TestConcernsAsAFile(t *testing.T) {
	o := demotest.Copy(t)
	ask := concernspage.Ask{Rule: "failing-course", Undecided: true}
	v := show(t, o, demotest.Ase, "", ask)
	f, err := concernspage.Keep(t.Context(), o, demotest.Ase, "", ask, "csv")
	require.NoError(t, err)
	lines := strings.Split(strings.TrimSpace(string(f.Content)), "\n")
	require.Len(t, lines, len(v.Rows)+1)
	for i, r := range v.Rows {
		assert.Contains(t, lines[i+1], r.Student.Name)
	}
	for _, keep := range []func() (string, error){
		func() (string, error) {
			f, err := concernspage.KeepRecord(t.Context(), o, demotest.Ase, 1, "csv")
			return string(f.Content), err
		},
	} {
		content, err := keep()
		require.NoError(t, err)
		assert.Greater(t, strings.Count(content, "\n"), 10)
	}
}

// When reviews are is the school's; one may begin off the plan, and the rules may read again.
func TestReviewsByHand(t *testing.T) {
	o, clock := demotest.CopyWithClock(t)
	_, err := concerns.SetReviews(t.Context(), o, demotest.Officer, "", concerns.ReviewRule{Weekday: 4, Weeks: 2})
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
	_, err = concerns.SetReviews(t.Context(), o, demotest.Ase, "", concerns.ReviewRule{Weekday: 4, Weeks: 0})
	require.NoError(t, err)
	v := show(t, o, demotest.Ase, "", concernspage.Ask{})
	assert.Equal(t, "Tue 3 March", v.Review.Date, "the last that somebody began")
	assert.Empty(t, v.Review.Next)
	assert.Equal(t, "when somebody begins one", v.Review.RuleText)
	_, err = concerns.Begin(t.Context(), o, demotest.Ase, "", concerns.OfSections{})
	require.NoError(t, err)
	_, err = concerns.Begin(t.Context(), o, demotest.Ase, "", concerns.OfSections{})
	assert.Equal(t, work.Conflict, demotest.Kind(t, err), "one a day")
	v = show(t, o, demotest.Ase, "", concernspage.Ask{})
	assert.Equal(t, "Tue 10 March", v.Review.Date)
	assert.Equal(t, "Mon 9 March", v.Review.AsAt)
	decided := dues(v)[0].Student.ID
	settle(t, o, demotest.Ase, concerns.Decide{Student: decided, Kind: attention.WaitFor, Until: "2026-03-27"})

	clock.Set(day.At(day.MustDate("2026-03-11"), day.MustMinute("17:00")))
	require.NoError(t, o.Reload(t.Context()))
	assert.Equal(t, "Mon 9 March", show(t, o, demotest.Ase, "", concernspage.Ask{}).Review.AsAt, "it stays as it began")
	_, err = concerns.ReadAgain(t.Context(), o, demotest.Ase, "", concerns.OfSections{})
	require.NoError(t, err)
	v = show(t, o, demotest.Ase, "", concernspage.Ask{})
	assert.Equal(t, "Wed 11 March", v.Review.AsAt)
	assert.NotNil(t, rowOf(v, decided), "who was decided stays")
	_, err = concerns.Begin(t.Context(), o, demotest.Ase, "", concerns.OfSections{Sections: []ids.Section{99}})
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
}
