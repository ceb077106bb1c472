package registers_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/ids"
	"meldung/demo/demotest"
	"meldung/pages"
	"meldung/pages/absencepage"
	"meldung/work"
	"meldung/work/registers"
	"meldung/work/takeback"
)

// What was missed unexcused is excused once it was made up: the figure follows, the mark says by whom it
// was allowed, and taking it back gives everything back.
func TestMadeUpWorkExcusesAnAbsence(t *testing.T) {
	o := demotest.Copy(t)
	ctx := t.Context()
	var who ids.Student
	var day absencepage.WhyDay
	why := func() absencepage.WhyView {
		v, err := absencepage.ShowWhy(ctx, o, demotest.Officer, who, "", pages.AbsenceAsk{})
		require.NoError(t, err)
		return v
	}
	page, err := absencepage.Show(ctx, o, "", pages.AbsenceAsk{Sort: "unexcused"})
	require.NoError(t, err)
	who = page.Rows[0].Student.ID
	before := why()
	for _, d := range before.Days {
		if d.Verdict == "unexcused" && d.Missed == d.Due {
			day = d
			break
		}
	}
	require.NotEmpty(t, day.Date)
	in := registers.MadeUp{Student: who, Date: day.Date, Done: "2026-03-10", Words: "two hours of maths", Allowed: "J. Rask"}
	for want, change := range map[string]func(m *registers.MadeUp){
		"before it was missed":    func(m *registers.MadeUp) { m.Done = "2025-09-01" },
		"still to come":           func(m *registers.MadeUp) { m.Done = "2026-03-11" },
		"who allowed it":          func(m *registers.MadeUp) { m.Allowed = " " },
		"nothing unexcused there": func(m *registers.MadeUp) { m.Slots = []string{"none"} },
		"is not a date":           func(m *registers.MadeUp) { m.Date = "2026-13-13" },
		"there is no student":     func(m *registers.MadeUp) { m.Student = 99999 },
	} {
		x := in
		change(&x)
		_, err := registers.MakeUp(ctx, o, demotest.Officer, want, x)
		assert.ErrorContains(t, err, want)
	}
	_, err = registers.MakeUp(ctx, o, demotest.Osk, "teacher", in)
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
	receipt, err := registers.MakeUp(ctx, o, demotest.Officer, "made", in)
	require.NoError(t, err)
	assert.True(t, receipt.Undo)
	after := why()
	assert.Equal(t, []int{before.Figures.Excused + 1, before.Figures.Unexcused - 1, before.Figures.Absent}, []int{after.Figures.Excused, after.Figures.Unexcused, after.Figures.Absent})
	_, err = registers.MakeUp(ctx, o, demotest.Officer, "again", in)
	assert.ErrorContains(t, err, "nothing unexcused there")
	_, err = takeback.Entry(ctx, o, demotest.Officer, "back", receipt.Seq)
	require.NoError(t, err)
	assert.Equal(t, before.Figures, why().Figures)
	assert.Equal(t, before.Days, why().Days)
}
