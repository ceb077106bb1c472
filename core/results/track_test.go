package results_test

import (
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"meldung/core/policy"
	"meldung/core/results"
)

// shelf is a book of courses of half a credit each; each student's grades are by course, quarter by quarter.
func shelf(t require.TestingT, rule *results.Rule, years []string, grades ...[]string) *results.Book {
	var courses []results.Course
	for i := range 4 {
		courses = append(courses, results.Course{ID: fmt.Sprint("c", i), Area: []string{"Sciences", "Arts"}[i%2], Credits: policy.NewFraction(1, 2), Core: i < 2})
	}
	var students []results.Student
	for i := range grades {
		students = append(students, results.Student{ID: fmt.Sprint("s", i), Year: years[i%len(years)]})
	}
	b := results.NewBook(rule, results.DefaultPeriods(), courses, students)
	for s, list := range grades {
		for c, quarters := range list {
			for q, g := range split(quarters) {
				if g == "-" {
					continue
				}
				m, err := rule.Read(map[bool]string{true: "", false: g}[g == "?"])
				require.NoError(t, err)
				b.Record(s, c, results.Quarter(q).Half()).Set(results.Part(q%2), m)
			}
		}
	}
	return b
}

func split(s string) []string {
	var out []string
	for _, r := range s {
		out = append(out, string(r))
	}
	return out
}

// One course away first, then two, then none away but behind, then everything; among equals the fewest
// credits behind, then the name.
func TestWhoIsNotOnTrack(t *testing.T) {
	rule := results.DefaultRule()
	rule.Expected = []results.YearCredits{{Year: "9", By: [2]policy.Fraction{policy.NewFraction(2, 1), policy.NewFraction(4, 1)}}}
	b := shelf(t, rule, []string{"9"},
		[]string{"FFF", "FFF", "FFF", "FFF"}, // s0 everything
		[]string{"BBF", "BBB", "BBB", "BBB"}, // s1 one away, on pace
		[]string{"FFF", "BBB", "BBB", "BBB"}, // s2 one away, half a credit behind
		[]string{"FFB", "BBB", "BBB", "BBB"}, // s3 none away, behind
		[]string{"BBB", "BBB", "BBB", "BBB"}, // s4 on track
		[]string{"BBF", "BBF", "BBB", "BBB"}, // s5 two away
		[]string{"BBF", "BBB", "BBB", "BBB"}, // s6 as s1
	)
	order := func(names string) (out []int) {
		for _, x := range b.NotOnTrack([]int{0, 1, 2, 3, 4, 5, 6}, 2, func(s int) string { return string(names[s]) }) {
			out = append(out, x.Student)
		}
		return out
	}
	assert.Equal(t, []int{1, 6, 2, 5, 3, 0}, order("abcdefg"))
	assert.Equal(t, []int{6, 1, 2, 5, 3, 0}, order("zyxwvut"))
	track := b.NotOnTrack([]int{0, 1, 3}, 2, func(int) string { return "" })
	assert.Equal(t, []results.Track{1, results.Behind, results.Everything}, []results.Track{track[0].Track, track[1].Track, track[2].Track})
	sum := b.Sum(1, 2)
	assert.Equal(t, "a D in Q4", b.Still(sum.Standings[4]))
	assert.Equal(t, "any grade in Q4", b.Still(sum.Standings[5]))
	assert.Empty(t, b.Still(sum.Standings[0]))
	before := shelf(t, rule, []string{"9"}, []string{"?"})
	assert.Equal(t, "a D- in Q1 and Q2", before.Still(before.Sum(0, 0).Standings[0]))
}

func TestCountsOfAQuarter(t *testing.T) {
	rule := results.DefaultRule()
	rule.Scale[len(rule.Scale)-2].Name = "E" // nearly, in one letter
	b := shelf(t, rule, []string{"9", "10"}, []string{"FE", "B?", "WW"}, []string{"FF", "FB", "FF"})
	by := func(at results.Quarter, key func(int, *results.Record) []string) map[string]results.Count {
		return b.Counts([]int{0, 1}, at, key)
	}
	course := func(_ int, r *results.Record) []string { return []string{b.Courses[r.Course].ID} }
	assert.Equal(t, map[string]results.Count{"c0": {2, 0, 2}, "c1": {1, 0, 2}, "c2": {1, 0, 1}}, by(0, course))
	assert.Equal(t, map[string]results.Count{"c0": {1, 1, 2}, "c1": {0, 0, 1}, "c2": {1, 0, 1}}, by(1, course))
	assert.Equal(t, map[string]results.Count{"9": {0, 1, 1}, "10": {2, 0, 3}}, by(1, func(s int, _ *results.Record) []string { return []string{b.Students[s].Year} }))
	assert.Empty(t, by(2, course))
	mean, ok := b.Mean(1, 1)
	assert.True(t, ok)
	assert.Equal(t, "1", mean.String(), "F, B and F")
	_, ok = b.Mean(0, 3)
	assert.False(t, ok)
}

// The ninth-year rule by hand: five credits and one failed half-year of a core course at most.
func TestTheNinthYear(t *testing.T) {
	b := shelf(t, results.DefaultRule(), []string{"9"},
		[]string{"FFBB", "BBBB", "BBBB", "BBBB"}, // 3.5 credits
		[]string{"FFFF", "BBBB", "BBBB", "BBBB"},
		[]string{"BBBB", "BBBB", "FFFF", "BBBB"})
	for i := range b.Courses {
		b.Courses[i].Credits = policy.NewFraction(1, 1)
	}
	judge := func(s int, at results.Quarter) string {
		n := b.NinthYear(s, at)
		return fmt.Sprintf("%v %s of %s, %d failed", n.OnTrack, n.Earned, n.Needed, n.Failed)
	}
	assert.Equal(t, "true 7 of 5, 1 failed", judge(0, 3))
	assert.Equal(t, "false 6 of 5, 2 failed", judge(1, 3))
	assert.Equal(t, "true 6 of 5, 0 failed", judge(2, 3), "not a core course")
	assert.Equal(t, "true 0 of 0, 0 failed", judge(1, 0), "no half-year is over")
	assert.Equal(t, "true 3 of 5/2, 1 failed", judge(1, 1))
	rec := b.Record(1, 0, 0)
	rec.Recoveries = []results.Recovery{{When: 3, Known: true, Passed: true}}
	assert.Equal(t, "false 7 of 5, 2 failed", judge(1, 3), "recovered is earned, and was failed")
}

// A what-if is what the same grade gives once it is stored, and leaves the book as it was; the order of
// those not on track is the same however the students are given.
func TestWhatIfIsWhatItWouldBe(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		rule := results.DefaultRule()
		rule.Expected = []results.YearCredits{{Year: "9", By: [2]policy.Fraction{policy.NewFraction(1, 1), policy.NewFraction(3, 1)}}}
		letter := rapid.SampledFrom([]string{"A", "C", "D", "F", "?", "-", "W"})
		var grades [][]string
		for range rapid.IntRange(1, 6).Draw(t, "students") {
			var of []string
			for range 4 {
				quarters := ""
				for range 4 {
					quarters += letter.Draw(t, "grade")
				}
				of = append(of, quarters)
			}
			grades = append(grades, of)
		}
		b := shelf(t, rule, []string{"9", "10"}, grades...)
		at := results.Quarter(rapid.IntRange(0, 3).Draw(t, "at"))
		s, c := rapid.IntRange(0, len(grades)-1).Draw(t, "student"), rapid.IntRange(0, 3).Draw(t, "course")
		half, part := results.Half(rapid.IntRange(0, 1).Draw(t, "half")), results.Part(rapid.IntRange(0, 1).Draw(t, "part"))
		m, err := rule.Read(rapid.SampledFrom([]string{"A", "D", "F", "W"}).Draw(t, "given"))
		require.NoError(t, err)
		before := show(b, s, at)
		guess := b.WhatIf(s, at, c, half, part, m)
		assert.Equal(t, before, show(b, s, at))
		everyone := make([]int, len(grades))
		for i := range everyone {
			everyone[i] = i
		}
		order := func(of []int) (out []int) {
			for _, x := range b.NotOnTrack(of, at, func(int) string { return "same" }) {
				out = append(out, x.Student)
			}
			return out
		}
		turned := slices.Clone(everyone)
		slices.Reverse(turned)
		assert.Equal(t, order(everyone), order(turned))
		b.Record(s, c, half).Set(part, m)
		assert.Equal(t, words(guess), show(b, s, at))
	})
}

func show(b *results.Book, student int, at results.Quarter) string { return words(b.Sum(student, at)) }

func words(s results.Sums) string {
	out := fmt.Sprint(s.Courses, s.Failing, s.Nearly, s.Lost, s.Away, s.Earned, s.Expected, s.Behind)
	for _, x := range s.Standings {
		out += fmt.Sprintf(" %d.%d %s %v %d", x.Record.Course, x.Record.Half, x.State, x.Value, x.Needed)
	}
	return out
}

func TestHowAValueComesAbout(t *testing.T) {
	rule := results.DefaultRule()
	course := results.Course{}
	s, _ := rule.Stand(course, record(t, rule, 0, "F", "D", "-"), 1)
	assert.Equal(t, "(0 + 1) ÷ 2 = 0.5, the line is 0.5: earned", rule.Explain(course, s))
	course.ExamWeight = policy.NewFraction(1, 3)
	s, _ = rule.Stand(course, record(t, rule, 0, "F", "D-", "D-"), 1)
	assert.Equal(t, "0.667 × (0 + 0.7) ÷ 2 + 0.333 × 0.7 = 0.467, the line is 0.5: lost", rule.Explain(course, s))
	s, _ = rule.Stand(course, record(t, rule, 0, "F", "", "-"), 1)
	assert.Empty(t, rule.Explain(course, s))
}

// Who sees a part of the book sees what that part alone comes to.
func TestAPartOfTheBook(t *testing.T) {
	b := shelf(t, results.DefaultRule(), []string{"9"}, []string{"FFF", "BBF", "BBB"}, []string{"FFF", "FFF"})
	part := b.Only(func(s int, r *results.Record) bool { return s == 0 && r.Course == 1 })
	sum := part.Sum(0, 2)
	assert.Equal(t, []int{1, 1, 0}, []int{sum.Courses, sum.Away, sum.Lost})
	assert.Zero(t, part.Sum(1, 2).Courses)
	assert.Equal(t, 3, b.Sum(0, 2).Courses, "the book stays")
}
