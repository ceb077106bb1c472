package demo_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/demo"
	"meldung/demo/demotest"
	"meldung/pages"
	"meldung/pages/absencepage"
	"meldung/pages/registerpage"
	"meldung/pages/schoolpage"
	"meldung/store"
	"meldung/work"
	"meldung/work/plans"
	"meldung/work/roster"
)

// A week in which a teacher would believe: nobody has a subject twice on a day, and nobody
// teaches two classes at once.
func TestATimetableThatATeacherWouldBelieve(t *testing.T) {
	o := open(t)
	require.NoError(t, o.Read(t.Context(), func(v work.Snapshot) error {
		subjects, busy := map[[2]any][]string{}, map[[3]any]string{}
		for _, m := range v.School.Meetings {
			c := v.School.ClassOf(m.ClassID)
			if c.Form() {
				continue
			}
			subject := v.School.CourseOf(c.CourseID).Subject
			at := [2]any{c.Title[:len(c.Title)-3] + c.Title[len(c.Title)-1:], m.Weekday} // a set of a year group
			assert.NotContains(t, subjects[at], subject, "%s on weekday %d", c.Title, m.Weekday)
			subjects[at] = append(subjects[at], subject)
			for _, teacher := range v.School.Teachers(m.ClassID) {
				k := [3]any{teacher, m.Weekday, m.Slot}
				assert.Empty(t, busy[k], "%s and %s at once", busy[k], c.Title)
				busy[k] = c.Title
			}
		}
		assert.Len(t, subjects, 6*4*5)
		return nil
	}))
}

// The school with a year before the present one, in the second week of September.
func TestTheYearBefore(t *testing.T) {
	t.Parallel()
	now := day.At(day.MustDate("2025-09-12"), day.MustMinute("20:00"))
	db, err := store.Open(t.Context(), t.TempDir())
	require.NoError(t, err)
	require.NoError(t, demo.NewOf(demo.Options{Years: 2, NoReviews: true}).Build(t.Context(), db, now.Date(), func(int) {}))
	o, err := work.Open(t.Context(), db, demotest.NewClock(now))
	require.NoError(t, err)
	this, err := absencepage.Show(t.Context(), o, "", pages.AbsenceAsk{})
	require.NoError(t, err)
	assert.Equal(t, []any{611, 8}, []any{this.Students, this.Days}, "Maren Holt comes in February")
	require.NotNil(t, this.Before)
	assert.Equal(t, "to Fri 13 September 2024", this.Before.Label, "the same number of school days")
	week := pages.AbsenceAsk{From: "2025-09-05", To: "2025-09-10", Group: "year:8"}
	some, err := absencepage.Show(t.Context(), o, "", week)
	require.NoError(t, err)
	require.NotNil(t, some.Before, "any span has one")
	assert.Equal(t, "Fri 6 September to Wed 11 September 2024", some.Before.Label, "the same school days")
	beside, err := absencepage.ShowBeside(t.Context(), o, "", absencepage.BesideAsk{AbsenceAsk: week, Group: "year:8", Before: true})
	require.NoError(t, err)
	assert.Equal(t, []string{some.School, some.Before.School}, []string{beside.First.Rate, beside.Second.Rate})
	left, err := schoolpage.ShowLeavers(t.Context(), o)
	require.NoError(t, err)
	assert.InDelta(t, 100, len(left.Rows), 30, "last year's oldest, and who moved away")
	assert.Regexp(t, "^12 ", left.Rows[len(left.Rows)-1].Student.Form, "as it was called then")
	last, err := absencepage.Show(t.Context(), o, "2025-07-17", pages.AbsenceAsk{})
	require.NoError(t, err)
	assert.Equal(t, 190, last.Days)
	assert.InDelta(t, 611, last.Students, 10)
	assert.NotEqual(t, "0.0", last.School)
	assert.Nil(t, last.Before, "there is no year before that")
	year9, err := absencepage.Show(t.Context(), o, "2025-07-17", pages.AbsenceAsk{Group: "year:8"})
	require.NoError(t, err)
	ansa := slices.IndexFunc(year9.Rows, func(r absencepage.AbsenceRow) bool { return r.Student.Name == "Ansa Merrow" })
	require.GreaterOrEqual(t, ansa, 0, "now in year 9")
	assert.Equal(t, "8 Bowline", year9.Rows[ansa].Student.Form)
	assert.Contains(t, registerTitles(t, o, "2025-03-11"), "12 Reef")
	people, timetable := exported(t, o)
	plan, err := roster.ImportRoster(t.Context(), o, demotest.Admin, "", people, plans.Options{})
	require.NoError(t, err)
	assert.Zero(t, plan.Changes(), "%v", plan.Parts)
	assert.Empty(t, plan.Problems)
	plan, err = roster.ImportTimetable(t.Context(), o, demotest.Admin, "", timetable, plans.Options{})
	require.NoError(t, err)
	assert.Zero(t, plan.Changes(), "%v", plan.Parts)
	for _, at := range []string{"2025-07-17", "2025-09-12"} {
		require.NoError(t, o.ReadOn(t.Context(), day.MustDate(at), func(v work.Snapshot) error {
			for _, s := range v.Sections() {
				assert.Empty(t, s.Misplaced(), at)
			}
			return nil
		}))
	}
}

func registerTitles(t *testing.T, o *work.Office, at string) (out []string) {
	t.Helper()
	v, err := registerpage.ShowAll(t.Context(), o, officer, at)
	require.NoError(t, err)
	for _, r := range v.Registers {
		out = append(out, r.Title)
	}
	return out
}
