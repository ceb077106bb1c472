package school_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/policy"
	"meldung/demo/demotest"
	"meldung/held"
	"meldung/pages"
	"meldung/pages/absencepage"
	"meldung/work"
	"meldung/work/school"
)

// Attendance for grading is nowhere until a school has a rule, then a column of what is exported.
func TestAttendanceForGrading(t *testing.T) {
	o := demotest.Copy(t)
	ctx := t.Context()
	table := func() string {
		f, err := absencepage.KeepFile(ctx, o, "", pages.AbsenceAsk{}, "csv")
		require.NoError(t, err)
		return string(f.Content)
	}
	classes := func() absencepage.ClassesView {
		v, err := absencepage.ShowClasses(ctx, o, demotest.Osk, "", 0, pages.AbsenceAsk{})
		require.NoError(t, err)
		return v
	}
	assert.NotContains(t, table(), "grading")
	assert.Empty(t, classes().Grading)
	for want, rule := range map[string]held.GradingRule{
		"off for a late":          {Kind: "points", Full: "100", OffLates: "half"},
		"must be above the least": {Kind: "points", Full: "10", Least: "10"},
		"kind":                    {Kind: "stars"},
	} {
		_, err := school.SetGrading(ctx, o, demotest.Admin, want, school.Grading{Rule: rule})
		assert.ErrorContains(t, err, strings.ToLower(want), want)
	}
	points := held.GradingRule{Kind: "points", Full: "100", OffUnexcused: "2", OffLates: "0.5"}
	oneIsTold(t, func() error {
		_, err := school.SetGrading(ctx, o, demotest.Admin, "", school.Grading{Rule: points})
		return err
	})
	assert.Contains(t, table(), "Attendance for grading, points")
	v := classes()
	assert.Equal(t, "points", v.Grading)
	seen := 0
	for _, l := range v.Classes[0].Lines {
		assert.Regexp(t, `^\d+\.\d\d$`, l.Grading)
		if l.Grading != "100.00" {
			seen++
		}
	}
	assert.NotZero(t, seen)
	f, err := absencepage.KeepClasses(ctx, o, demotest.Osk, "", 0, pages.AbsenceAsk{}, "csv")
	require.NoError(t, err)
	assert.Contains(t, strings.Split(string(f.Content), "\n")[0], "Attendance for grading, points")
	_, err = school.SetGrading(ctx, o, demotest.Admin, "share", school.Grading{Seen: points, Rule: held.GradingRule{Kind: "share"}})
	require.NoError(t, err)
	for _, c := range classes().Classes {
		for _, l := range c.Lines {
			assert.Equal(t, policy.Percent(l.Lessons-l.Exempt-l.Absent, l.Lessons-l.Exempt), l.Grading, "what nobody has given a reason for is missed too")
		}
	}
	_, err = school.SetGrading(ctx, o, demotest.Officer, "officer", school.Grading{})
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
	_, err = school.SetGrading(ctx, o, demotest.Admin, "off", school.Grading{Seen: held.GradingRule{Kind: "share"}})
	require.NoError(t, err)
	assert.NotContains(t, table(), "grading", "off without harm")
}
