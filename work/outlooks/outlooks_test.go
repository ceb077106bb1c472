package outlooks_test

import (
	"bytes"
	"context"
	"fmt"
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/attention"
	"meldung/core/ids"
	"meldung/core/outlook"
	"meldung/demo"
	"meldung/demo/demotest"
	"meldung/files/outlookfile"
	"meldung/files/table"
	"meldung/pages/concernspage"
	"meldung/pages/outlookpage"
	"meldung/pages/rulespage"
	"meldung/store"
	"meldung/work"
	"meldung/work/concerns"
	"meldung/work/outlooks"
	"meldung/work/plans"
)

// What is learned from the invented school's past students is the law that they were drawn by, as near as so many
// can tell: each estimate within four of its standard errors.
func TestWhatIsLearnedIsTheLaw(t *testing.T) {
	past, _, wrong := outlookfile.Read(outlooks.HistoryFile, demo.Past(), "", nil)
	require.Empty(t, wrong)
	fit, err := outlook.New(past, 0)
	require.NoError(t, err)
	assert.Greater(t, len(past.Rows), 300)
	assert.Positive(t, past.LeftOut)
	assert.InDelta(t, demo.Law[""], fit.Intercept.Estimate, 4*fit.Intercept.StdError)
	for i, term := range fit.Terms {
		c := fit.Coefficients[i]
		assert.InDelta(t, demo.Law[term.Name], c.Estimate, 4*c.StdError, term.Name) // 0 for the year, which does nothing
	}
	trust := fit.Trust()
	assert.Less(t, trust.Brier, fit.Always())
	assert.Greater(t, trust.AUC, 0.6)
}

func rule(t *testing.T, o *work.Office) outlooks.OutlookRule {
	t.Helper()
	r, err := outlooks.RuleOf(t.Context(), o.Store().Read())
	require.NoError(t, err)
	return r
}

func page(t *testing.T, o *work.Office) outlookpage.OutlookView {
	t.Helper()
	v, err := outlookpage.Show(t.Context(), o, demotest.Admin)
	require.NoError(t, err)
	return v
}

// The page says what the fit is worth; it is switched by an administrator alone, and only by the history that was
// read; another history puts it at rest.
func TestTheOutlookOfASchool(t *testing.T) {
	o, ctx := demotest.Copy(t), t.Context()
	v := page(t, o)
	require.Empty(t, v.Problem)
	assert.Equal(t, 612, v.Students)
	sum, came := 0, 0
	for _, g := range v.Calibration {
		sum, came = sum+g.N, came+g.Came
	}
	assert.Equal(t, [2]int{v.N, v.Came}, [2]int{sum, came}, "the tenths add up")
	sum, came = 0, 0
	for _, g := range v.ByYear {
		sum, came = sum+g.N, came+g.Came
	}
	assert.Equal(t, [2]int{v.N, v.Came}, [2]int{sum, came}, "the year groups add up")
	for _, in := range v.Inputs {
		assert.NotEmpty(t, in.Source, in.Name)
	}
	assert.Contains(t, strings.Join(v.Warnings, "\n"), "not why anybody left")

	r := rule(t, o)
	assert.True(t, r.On)
	_, err := outlooks.SetRule(ctx, o, demotest.Ase, "", r)
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
	for _, wrong := range []outlooks.OutlookRule{{On: true, Ridge: "-1", From: "1.5"}, {On: true, Ridge: "0", From: "1"}, {On: true, Ridge: "much", From: "2"}} {
		_, err := outlooks.SetRule(ctx, o, demotest.Admin, "", wrong)
		assert.Equal(t, work.Wrong, demotest.Kind(t, err), "%+v", wrong)
	}
	stale := r
	stale.History = 99
	_, err = outlooks.SetRule(ctx, o, demotest.Admin, "", stale)
	assert.Equal(t, work.Conflict, demotest.Kind(t, err))

	bring := func(content []byte, apply bool) plans.Plan {
		t.Helper()
		p, err := outlooks.Import(ctx, o, demotest.Admin, "", table.Files{outlooks.HistoryFile: content}, plans.Options{Apply: apply})
		require.NoError(t, err)
		return p
	}
	bad := bring([]byte("student,outcome,absence_rate\na,2,0.1\na,1,x\n"), true)
	assert.False(t, bad.Applied)
	assert.Len(t, bad.Problems, 2)
	assert.True(t, rule(t, o).On)
	same := bring(demo.Past(), true)
	assert.Equal(t, 331, same.Parts[0].Same)
	assert.NotNil(t, chance(t, o), "the same past students change nothing")
	other := bytes.Join(bytes.Split(demo.Past(), []byte("\n"))[:300], []byte("\n"))
	looked := bring(append(other, '\n'), false)
	assert.Equal(t, 299, looked.Parts[0].Changed)
	assert.NotNil(t, chance(t, o), "a look changes nothing")
	bring(append(other, '\n'), true)
	assert.Nil(t, chance(t, o), "it rests until it was read anew")
	next := page(t, o)
	assert.NotEqual(t, v.History, next.History)
	_, err = outlooks.SetRule(ctx, o, demotest.Admin, "", outlooks.OutlookRule{On: true, Ridge: "0.5", From: "2", History: next.History})
	require.NoError(t, err)
	assert.NotNil(t, chance(t, o))

	// Who leaves in the middle gets nothing, and the next gets all of it.
	gone, stop := context.WithCancel(ctx)
	stop()
	_, err = outlookpage.Fit(gone, o, demotest.Admin, outlookpage.Fitting{Ridge: "3", Name: "mine"})
	assert.Error(t, err)
	assert.Zero(t, o.HowFar(demotest.Admin, "mine").Of, "it has ended")
	refit, err := outlookpage.Fit(ctx, o, demotest.Admin, outlookpage.Fitting{Ridge: "3"})
	require.NoError(t, err)
	assert.NotEqual(t, next.Terms[1].Estimate, refit.Terms[1].Estimate)
	assert.Equal(t, "0.5", rule(t, o).Ridge, "a look at a ridge sets none")
}

// chance is that of somebody on the review; nil where nobody has one.
func chance(t *testing.T, o *work.Office) *concernspage.Chance {
	t.Helper()
	v, err := concernspage.Show(t.Context(), o, demotest.Ase, "", concernspage.Ask{})
	require.NoError(t, err)
	return v.Rows[0].Chance
}

// The areas' shares add up to the student's own log-odds; who lacks an input has a range that holds the chance; a
// teacher has none of it, nor a rule that goes by it.
func TestChancesOnTheReview(t *testing.T) {
	o, ctx := demotest.Copy(t), t.Context()
	v, err := concernspage.Show(ctx, o, demotest.Ase, "", concernspage.Ask{})
	require.NoError(t, err)
	mean := 0.0
	require.NoError(t, o.Read(ctx, func(snap work.Snapshot) error {
		m, _, err := outlooks.Held(ctx, snap)
		mean = m.MeanLogOdds
		return err
	}))
	ranges := 0
	for _, r := range v.Rows {
		c := r.Chance
		require.NotNil(t, c)
		odds := mean
		for _, s := range c.Shares {
			odds += float64(s.Weight) / 100
		}
		p := c.Percent / 100
		assert.InDelta(t, math.Log(p/(1-p)), odds, 0.05, r.Student.Name)
		assert.LessOrEqual(t, c.Low, c.Percent)
		assert.GreaterOrEqual(t, c.High, c.Percent)
		if len(c.Missing) > 0 {
			ranges++
			assert.Contains(t, c.Text, " to ")
			assert.Less(t, c.Low, c.High)
		}
		assert.Len(t, c.Course, 6)
	}
	assert.Positive(t, ranges)

	one, err := rulespage.Look(ctx, o, demotest.Ase, rulespage.Looking{Rule: outlookRule()})
	require.NoError(t, err)
	require.Empty(t, one.Problem)
	require.NotEmpty(t, one.Students)
	_, err = concerns.SaveRule(ctx, o, demotest.Ase, "", concerns.RuleChange{Rule: outlookRule()})
	require.NoError(t, err)
	own, err := concernspage.Show(ctx, o, demotest.Osk, "", concernspage.Ask{})
	require.NoError(t, err)
	for _, k := range own.Kinds {
		assert.NotEqual(t, "A high chance", k.Title)
	}
	for _, r := range own.Rows {
		assert.Nil(t, r.Chance)
		for _, c := range r.Concerns {
			assert.NotContains(t, c.Why+c.Figure, "outlook")
			assert.NotEqual(t, "A high chance", c.Figure)
		}
	}
}

func outlookRule() concerns.RuleForm {
	piece := concerns.RuleCondition{Indicator: "outlook", Op: string(attention.AtLeast), Value: "20 %", Of: []string{}, Kinds: []string{}, Roles: []string{}, Places: []string{}}
	return concerns.RuleForm{Title: "A high chance", On: true, Tell: []string{}, Years: []string{}, Forms: []string{}, Classes: []string{}, Lists: []string{}, Pieces: []concerns.RulePiece{{Condition: &piece, Within: []concerns.RuleCondition{}}}}
}

// The inputs of today, with an outcome filled in, are read as a history.
func TestTodaysInputsAreAHistory(t *testing.T) {
	o := demotest.Copy(t)
	f, err := outlookpage.Keep(t.Context(), o, demotest.Ase, "csv")
	require.NoError(t, err)
	lines := strings.Split(strings.TrimSpace(string(f.Content)), "\n")
	require.Len(t, lines, 613)
	for i := range lines[1:] {
		cells := strings.Split(lines[i+1], ",")
		cells[1] = fmt.Sprint(i % 2)
		lines[i+1] = strings.Join(cells, ",")
	}
	h, wrong := outlooks.Check([]byte(strings.Join(lines, "\n")))
	require.Empty(t, wrong)
	assert.Equal(t, 612, len(h.Rows)+h.LeftOut)
}

// Activity is added once; a row without a time says that the source knows the student; a wrong row stops all.
func TestActivity(t *testing.T) {
	o, ctx := demotest.Copy(t), t.Context()
	var names []string
	require.NoError(t, o.Read(ctx, func(v work.Snapshot) error {
		for _, s := range v.School.Students[:3] {
			names = append(names, s.SourcedID)
		}
		return nil
	}))
	bring := func(text string, apply bool) plans.Plan {
		t.Helper()
		p, err := outlooks.ImportActivity(ctx, o, demotest.Admin, "", table.Files{"activity.csv": []byte(text)}, plans.Options{Apply: apply})
		require.NoError(t, err)
		return p
	}
	rows := func() int {
		all, err := store.LearningActivities(ctx, o.Store().Read(), o.Now().Date())
		require.NoError(t, err)
		return len(all)
	}
	before := rows()
	header := "student,source,at,kind\n"
	bad := bring(header+names[0]+",Library,2026-03-09T10:15,loan\nnobody,Library,,\n"+names[1]+",,2026-03-09,loan\n"+names[1]+",Library,later,loan\n"+names[1]+",Library,2026-04-01,loan\n", true)
	assert.False(t, bad.Applied)
	assert.Len(t, bad.Problems, 4)
	assert.Equal(t, before, rows())
	good := header + names[0] + ",Library,2026-03-09T10:15,loan\n" + names[0] + ",Library,2026-03-09T10:15,loan\n" + names[1] + ",Library,,\n"
	p := bring(good, true)
	assert.True(t, p.Applied)
	assert.Equal(t, [2]int{2, 1}, [2]int{p.Parts[0].Added, p.Parts[0].Same})
	again := bring(good, true)
	assert.Equal(t, 0, again.Parts[0].Added)
	assert.Equal(t, before+2, rows())

	piece := concerns.RuleCondition{Indicator: "activity_last", Source: "Library", Op: string(attention.AtLeast), Value: "1", Of: []string{}, Kinds: []string{}, Roles: []string{}, Places: []string{}}
	form := outlookRule()
	form.Pieces[0].Condition = &piece
	found, err := rulespage.Look(ctx, o, demotest.Ase, rulespage.Looking{Rule: form})
	require.NoError(t, err)
	require.Empty(t, found.Problem)
	var of []ids.Student
	for _, s := range found.Students {
		of = append(of, s.Student.ID)
	}
	assert.Len(t, of, 1, "never counts as long ago; who was there yesterday was not a day ago")
	assert.Len(t, found.Unknown, 610, "of whom the library knows nothing, nothing is said")
}
