package steps_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/policy"
	"meldung/core/steps"
)

// schoolYear is eight weeks of single lessons in two months, two terms and four grading periods.
func schoolYear(t require.TestingT) *day.Calendar {
	lesson := day.Pattern{Name: "usual", Slots: []day.Slot{{Name: "1", Start: day.MustMinute("09:00"), End: day.MustMinute("10:00")}}}
	var rows []day.Row
	for i := range 40 {
		d := day.MustDate("2025-09-01") + day.Date(i/5*7+i%5)
		rows = append(rows, day.Row{Date: d, Pattern: "usual", Term: fmt.Sprint("term ", i/20), GradingPeriod: fmt.Sprint("q", i/10)})
	}
	c, err := day.NewCalendar([]day.Pattern{lesson}, rows)
	require.NoError(t, err)
	return c
}

// codes: present, unexcused, late, medical.
func codes(t require.TestingT) *policy.CodeSet {
	s, err := policy.NewCodeSet("test", []policy.Code{{Code: "P", Counts: policy.Attended}, {Code: "U", Counts: policy.Unexcused},
		{Code: "L", Counts: policy.Attended, Late: true}, {Code: "M", Counts: policy.Excused, Medical: true}})
	require.NoError(t, err)
	return s
}

const (
	present = iota
	unexcused
	late
	medical
)

// rules are a line of each kind of window, and ladders in each kind of period.
func rules() *policy.Policy {
	p := &policy.Policy{ID: "test", Unit: policy.Day, DayAbsentAt: policy.NewFraction(1, 2), Threshold: policy.NewFraction(1, 10)}
	for _, w := range []policy.Window{{Kind: policy.Year}, {Kind: policy.Term}, {Kind: policy.GradingPeriod}, {Kind: policy.Month}, {Kind: policy.FourWeeks},
		{Kind: policy.RollingDays, N: 5}, {Kind: policy.RollingWeeks, N: 2}, {Kind: policy.Run}} {
		p.Triggers = append(p.Triggers, policy.Trigger{ID: fmt.Sprint(w), Count: policy.CountDays, Of: policy.SideUnexcused, Reach: 3, Window: w})
	}
	for _, within := range []policy.WindowKind{policy.Year, policy.Term, policy.GradingPeriod} {
		p.Ladders = append(p.Ladders, policy.Ladder{ID: fmt.Sprint("ladder ", within), Per: policy.PerDay, Within: within,
			Steps: []policy.Step{{From: 2, To: 2, Do: []string{"word"}}, {From: 4, Do: []string{"call", "meeting"}}}})
	}
	return p
}

func ledger(t require.TestingT) *absence.Ledger {
	l := absence.NewLedger(schoolYear(t), codes(t))
	l.AddStudent(absence.Student{ID: "a", Enrolled: []day.Dates{day.Always}, ShareHere: policy.NewFraction(1, 1), ShareElsewhere: policy.NewFraction(0, 1)})
	return l
}

func mark(t require.TestingT, l *absence.Ledger, code int, days ...int) {
	for _, d := range days {
		require.NoError(t, l.Set(0, d, 0, absence.Mark{Code: code}))
	}
}

// only leaves the causes of one rule.
func only(all []steps.Cause, id string) []steps.Cause {
	var out []steps.Cause
	for _, c := range all {
		if c.Name == id {
			out = append(out, c)
		}
	}
	return out
}

// Hand-worked: what was recorded of one day, and marks that were put right afterwards.
func TestMatch(t *testing.T) {
	year, rolling := fmt.Sprint(policy.Window{Kind: policy.Year}), fmt.Sprint(policy.Window{Kind: policy.RollingDays, N: 5})
	m := func(l *absence.Ledger) *absence.Measure { return absence.NewMeasure(l, rules()) }
	recorded := func(rule string, on ...int) []steps.Record {
		var out []steps.Record
		for i, d := range on {
			out = append(out, steps.Record{Rule: steps.Rule{Name: rule}, ID: int64(i + 1), On: d})
		}
		return out
	}
	l := ledger(t)
	mark(t, l, unexcused, 1, 2, 3)
	t.Run("a date that moves is the same step", func(t *testing.T) {
		mark(t, l, present, 3)
		mark(t, l, unexcused, 9)
		got := steps.Match(only(steps.Causes(m(l), 0, 39), year), recorded(year, 3))
		require.Len(t, got, 1)
		assert.Equal(t, 9, got[0].Cause.On)
		assert.Equal(t, int64(1), got[0].Record.ID)
	})
	t.Run("a cause that a correction takes away leaves its record", func(t *testing.T) {
		mark(t, l, medical, 9)
		got := steps.Match(only(steps.Causes(m(l), 0, 39), year), recorded(year, 3))
		require.Len(t, got, 1)
		assert.Nil(t, got[0].Cause)
		assert.Equal(t, 3, got[0].Record.On)
	})
	l = ledger(t)
	mark(t, l, unexcused, 1, 2, 3, 21, 22, 23)
	t.Run("where a window rolls, what was dealt with in autumn is no answer to winter", func(t *testing.T) {
		got := steps.Match(only(steps.Causes(m(l), 0, 39), rolling), recorded(rolling, 3))
		require.Len(t, got, 2)
		assert.Equal(t, int64(1), got[0].Record.ID)
		assert.Nil(t, got[1].Record)
		mark(t, l, present, 3)
		got = steps.Match(only(steps.Causes(m(l), 0, 39), rolling), recorded(rolling, 3))
		require.Len(t, got, 2)
		assert.Nil(t, got[0].Record, "the second is still to be done")
		assert.Nil(t, got[1].Cause, "and the first was taken back")
	})
	t.Run("a rise that a correction moves by days is the same", func(t *testing.T) {
		mark(t, l, unexcused, 4)
		got := steps.Match(only(steps.Causes(m(l), 0, 39), rolling), recorded(rolling, 3))
		require.Len(t, got, 2)
		assert.Equal(t, 4, got[0].Cause.On)
		assert.Equal(t, int64(1), got[0].Record.ID)
	})
	t.Run("the fourth late is the fourth, whichever day it was", func(t *testing.T) {
		l := ledger(t)
		mark(t, l, late, 0, 1, 2, 3, 4)
		id := fmt.Sprint("ladder ", policy.Year)
		before := only(steps.Causes(m(l), 0, 39), id)
		require.Len(t, before, 5, "a word at 2, and a call and a meeting at 4 and at 5")
		done := []steps.Record{{Rule: before[1].Rule, ID: 7, On: before[1].On}}
		mark(t, l, present, 1)
		after := steps.Match(only(steps.Causes(m(l), 0, 39), id), done)
		require.Len(t, after, 3)
		assert.Equal(t, 4, after[1].Cause.On)
		assert.Equal(t, int64(7), after[1].Record.ID)
	})
}

// Whoever does every step as soon as it is due, while marks are put right in any order, does
// each once: never two in one instance of a window or for one number of a period, and no two
// whose count stood at the line without a break. What is due at the end has been done.
func TestAStepIsDueOnceWhateverTheOrderOfCorrections(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		l := ledger(t)
		p := rules()
		m := absence.NewMeasure(l, p)
		var records []steps.Record
		asAt := 0
		for range rapid.IntRange(1, 60).Draw(t, "moves") {
			asAt = min(39, asAt+rapid.IntRange(0, 3).Draw(t, "days"))
			mark(t, l, rapid.IntRange(present, medical).Draw(t, "code"), rapid.IntRange(0, asAt).Draw(t, "day"))
			causes := steps.Causes(m, 0, asAt)
			matched := steps.Match(causes, records)
			assert.GreaterOrEqual(t, len(matched), len(causes))
			used := map[int64]bool{}
			for i, s := range matched {
				assert.Equal(t, i < len(causes), s.Cause != nil)
				if s.Record != nil {
					assert.False(t, used[s.Record.ID], "a record is of one cause")
					used[s.Record.ID] = true
					if s.Cause != nil {
						assert.Equal(t, s.Cause.Rule, s.Record.Rule)
					}
				}
			}
			assert.Len(t, used, len(records), "no record is lost")
			for _, s := range matched {
				if s.Record == nil {
					records = append(records, steps.Record{Rule: s.Cause.Rule, ID: int64(len(records) + 1), On: s.Cause.On})
				}
			}
			for _, s := range steps.Match(causes, records) {
				assert.NotNil(t, s.Record, "everything due is done")
			}
		}
		for i, a := range records {
			for _, b := range records[:i] {
				if a.Rule != b.Rule {
					continue
				}
				for n, tr := range p.Triggers {
					assert.False(t, tr.ID == a.Name && m.SameInstance(n, a.On, b.On), "%s twice in one instance", a.Name)
				}
				for _, ladder := range p.Ladders {
					assert.False(t, ladder.ID == a.Name && m.SamePeriod(&ladder, a.On, b.On), "%v twice in one period", a.Rule)
				}
			}
		}
	})
}

// Hand-worked.
func TestStand(t *testing.T) {
	on := day.MustDate("2026-03-10")
	for _, c := range []struct {
		acts []steps.Act
		want steps.Standing
	}{
		{nil, steps.Standing{State: steps.Due}},
		{[]steps.Act{{Kind: steps.PutOff, Until: on + 1}}, steps.Standing{State: steps.Waiting, Until: on + 1}},
		{[]steps.Act{{Kind: steps.PutOff, Until: on}}, steps.Standing{State: steps.Due}},
		{[]steps.Act{{Kind: steps.Handed, To: 7}, {Kind: steps.PutOff, Until: on + 3}}, steps.Standing{State: steps.Waiting, Until: on + 3, Owner: 7}},
		{[]steps.Act{{Kind: steps.PutOff, Until: on + 3}, {Kind: steps.Handed, To: 7}}, steps.Standing{State: steps.Due, Owner: 7}},
		{[]steps.Act{{Kind: steps.Done}}, steps.Standing{State: steps.Finished}},
		{[]steps.Act{{Kind: steps.Handed, To: 7}, {Kind: steps.Noted}}, steps.Standing{State: steps.Due, Owner: 7}},
		{[]steps.Act{{Kind: steps.Done}, {Kind: steps.Noted}}, steps.Standing{State: steps.Finished}},
		{[]steps.Act{{Kind: steps.SetAside}, {Kind: steps.Reopened}}, steps.Standing{State: steps.Due}},
	} {
		assert.Equal(t, c.want, steps.Stand(c.acts, on), "%v", c.acts)
	}
}
