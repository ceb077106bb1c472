package rulespage_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/demo/demotest"
	"meldung/pages/rulespage"
	"meldung/work"
	"meldung/work/concerns"
)

func show(t *testing.T, o *work.Office, p work.Person) rulespage.RulesView {
	t.Helper()
	v, err := rulespage.Show(t.Context(), o, p, "")
	require.NoError(t, err)
	return v
}

func one(t *testing.T, o *work.Office, id string) rulespage.RuleView {
	t.Helper()
	v, err := rulespage.One(t.Context(), o, demotest.Ase, id)
	require.NoError(t, err)
	return v
}

func names(list []rulespage.RuleStudent) []string {
	var out []string
	for _, s := range list {
		out = append(out, s.Student.Name)
	}
	return out
}

// The rules that ship find whom the stories of the invented school are about.
func TestWhomTheRulesFind(t *testing.T) {
	o := demotest.Copy(t)
	v := show(t, o, demotest.Ase)
	assert.True(t, v.MayChange)
	assert.Equal(t, "Mon 9 March", v.AsAt)
	require.Len(t, v.Rules, 10)
	for _, r := range v.Rules {
		assert.Empty(t, r.Problem)
		assert.Equal(t, 612, r.Of, r.Title)
		assert.True(t, r.N > 0 || r.ID == "lates-in-a-class", r.Title)
		found, err := rulespage.Look(t.Context(), o, demotest.Ase, rulespage.Looking{Rule: one(t, o, r.ID).Form})
		require.NoError(t, err)
		assert.Equal(t, [3]int{r.N, r.Of, r.Unknown}, [3]int{len(found.Students), found.Of, len(found.Unknown)}, "what is filled in is the rule: %s", r.Title)
		assert.Equal(t, r.Sentence, found.Sentence)
	}
	fails, err := rulespage.Look(t.Context(), o, demotest.Ase, rulespage.Looking{Rule: one(t, o, "failing-course").Form})
	require.NoError(t, err)
	assert.Contains(t, names(fails.Students), "Idris Quell")
	for _, s := range fails.Students {
		if s.Student.Name == "Idris Quell" {
			assert.Equal(t, "failing 10 courses", s.Why)
			assert.Equal(t, "Fri 14 November", s.Since)
		}
	}
	assert.False(t, show(t, o, demotest.Officer).MayChange)
}

// A rule is built, saved, changed as the version that was seen, switched off and taken off; what was stays on
// record, and the rules that shipped become the school's own.
func TestARuleOfTheSchoolsOwn(t *testing.T) {
	o, ctx := demotest.Copy(t), t.Context()
	piece := concerns.RuleCondition{Indicator: "absence", Policy: "ten-percent", Count: "days", Of: []string{"unexcused"}, Window: "rolling_days", N: "4", Weekday: 1, Op: "at_least", Value: "2"}
	piece.Kinds, piece.Roles, piece.Places = []string{}, []string{}, []string{}
	form := concerns.RuleForm{Tell: []string{}, Title: "Monday drift", On: true, Years: []string{"9", "10"}, Forms: []string{}, Classes: []string{}, Lists: []string{}, Pieces: []concerns.RulePiece{{Condition: &piece, Within: []concerns.RuleCondition{}}}}
	found, err := rulespage.Look(ctx, o, demotest.Ase, rulespage.Looking{Rule: form})
	require.NoError(t, err)
	assert.Equal(t, "absent unexcused for 2 days or more on the last 4 Mondays, in years 9 and 10", found.Sentence)
	assert.Equal(t, 204, found.Of)
	nothing := form
	nothing.Pieces = []concerns.RulePiece{}
	wrong, err := rulespage.Look(ctx, o, demotest.Ase, rulespage.Looking{Rule: nothing})
	require.NoError(t, err)
	assert.Contains(t, wrong.Problem, "says nothing")
	_, err = concerns.SaveRule(ctx, o, demotest.Ase, "nothing", concerns.RuleChange{Rule: nothing})
	assert.Equal(t, work.Wrong, demotest.Kind(t, err))

	r, err := concerns.SaveRule(ctx, o, demotest.Ase, "new", concerns.RuleChange{Rule: form})
	require.NoError(t, err)
	assert.Equal(t, "“Monday drift” saved", r.Text)
	v := show(t, o, demotest.Ase)
	require.Len(t, v.Rules, 11)
	last := v.Rules[10]
	assert.Equal(t, "monday-drift", last.ID)
	assert.Equal(t, len(found.Students), last.N)

	held := one(t, o, "monday-drift")
	held.Form.On = false
	held.Form.Pieces[0].Condition.Value = "3"
	change := concerns.RuleChange{Rule: held.Form, Version: held.Version}
	_, err = concerns.SaveRule(ctx, o, demotest.Admin, "changed", change)
	require.NoError(t, err)
	_, err = concerns.SaveRule(ctx, o, demotest.Ase, "second", change)
	assert.Equal(t, work.Conflict, demotest.Kind(t, err), "the second of two is told")
	now := one(t, o, "monday-drift")
	require.Len(t, now.Versions, 2)
	assert.Contains(t, now.Versions[0].Sentence, "3 days or more on the last 4 Mondays, in years 9 and 10 (off)")
	assert.NotEmpty(t, now.Versions[1].Until)
	assert.Equal(t, "2", now.Versions[1].Form.Pieces[0].Condition.Value, "one begins from a version again")
	_, err = concerns.SaveRule(ctx, o, demotest.Ase, "gone", concerns.RuleChange{Rule: now.Form, Version: now.Version, Off: true})
	require.NoError(t, err)
	assert.Len(t, show(t, o, demotest.Ase).Rules, 10)
	now.Form.ID = "no-such"
	_, err = concerns.SaveRule(ctx, o, demotest.Ase, "none", concerns.RuleChange{Rule: now.Form, Off: true})
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
	_, err = concerns.SaveRule(ctx, o, demotest.Officer, "may not", concerns.RuleChange{Rule: form})
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
}

// What a rule would have done: every number has its students, and another version stands beside it.
func TestTriedOnATerm(t *testing.T) {
	o := demotest.Copy(t)
	held := one(t, o, "unexcused-days")
	trial, err := rulespage.Try(t.Context(), o, demotest.Ase, rulespage.Trying{Rule: held.Form})
	require.NoError(t, err)
	require.Empty(t, trial.Problem)
	assert.Nil(t, trial.Before)
	assert.Greater(t, len(trial.Days), 20)
	assert.Equal(t, trial.Rule.Outcome, len(trial.Rule.Found)+len(trial.Rule.Missed))
	assert.GreaterOrEqual(t, trial.Rule.Matched, len(trial.Rule.Found)+len(trial.Rule.Alarms))
	assert.Contains(t, trial.Against, "(Ten per cent of days)")
	held.Form.Pieces[0].Condition.Value = "2"
	wider, err := rulespage.Try(t.Context(), o, demotest.Ase, rulespage.Trying{Rule: held.Form, Against: "rule:chronic-absence"})
	require.NoError(t, err)
	require.NotNil(t, wider.Before)
	assert.Greater(t, wider.Rule.Matched, wider.Before.Matched)
	assert.Equal(t, "Chronic or severe absence", wider.Against)
	for _, d := range wider.Days {
		assert.GreaterOrEqual(t, d.N, *d.Before)
	}
	for against, span := range map[string]string{"rule:none": "", "band:ten-percent:99": "", "": "2026-01-01 2025-01-01"} {
		_, err := rulespage.Try(t.Context(), o, demotest.Ase, rulespage.Trying{Rule: held.Form, Against: against, Span: span})
		assert.Error(t, err, against+span)
	}
}

// The file reads as the same rules; a wrong one is told by its line and nothing is taken.
func TestRulesAsAFile(t *testing.T) {
	o, ctx := demotest.Copy(t), t.Context()
	f, err := rulespage.Keep(ctx, o, demotest.Ase)
	require.NoError(t, err)
	text := string(f.Content)
	plan, err := concerns.BringRules(ctx, o, demotest.Ase, "", concerns.RulesText{Text: text})
	require.NoError(t, err)
	require.Len(t, plan.Changes, 10)
	for _, c := range plan.Changes {
		assert.Contains(t, c, "(the same)")
	}
	next := strings.Replace(text, "at_least: 3", "at_least: 4", 1) + "  - id: own\n    title: Own\n    all:\n      - lates: {window: term}\n        at_least: 9\n"
	looked, err := concerns.BringRules(ctx, o, demotest.Ase, "", concerns.RulesText{Text: next})
	require.NoError(t, err)
	lates := one(t, o, "lates-in-a-class")
	_, err = concerns.SaveRule(ctx, o, demotest.Admin, "meanwhile", concerns.RuleChange{Rule: lates.Form, Version: lates.Version})
	require.NoError(t, err)
	_, err = concerns.BringRules(ctx, o, demotest.Ase, "too late", concerns.RulesText{Text: next, Apply: true, Seen: looked.Stamp})
	assert.Equal(t, work.Conflict, demotest.Kind(t, err), "what is taken is what was looked at")
	plan, err = concerns.BringRules(ctx, o, demotest.Ase, "take", concerns.RulesText{Text: next, Apply: true})
	require.NoError(t, err)
	assert.True(t, plan.Applied)
	v := show(t, o, demotest.Ase)
	assert.Len(t, v.Rules, 11)
	assert.Equal(t, "absent unexcused on 4 or more of the last 10 school days", v.Rules[1].Sentence)
	plan, err = concerns.BringRules(ctx, o, demotest.Ase, "", concerns.RulesText{Text: "rules:\n  - id: a\n"})
	require.NoError(t, err)
	assert.Equal(t, "rules: line 2: title is missing", plan.Problem)
	_, err = concerns.BringRules(ctx, o, demotest.Ase, "wrong", concerns.RulesText{Text: "rules: []", Apply: true})
	assert.Equal(t, work.Wrong, demotest.Kind(t, err))
}

// As at an earlier day the rules find whom they found then.
func TestAnEarlierDay(t *testing.T) {
	o := demotest.Copy(t)
	v, err := rulespage.Show(t.Context(), o, demotest.Ase, "2025-10-10")
	require.NoError(t, err)
	assert.Equal(t, "Fri 10 October", v.AsAt)
	assert.False(t, v.MayChange)
	for _, r := range v.Rules {
		if r.ID == "points-fallen" {
			assert.Greater(t, r.Unknown, 200, "of many there are no grades of the year before")
		}
	}
}
