package results_test

import (
	"math/big"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"meldung/core/policy"
	"meldung/core/results"
)

func fraction(t require.TestingT, s string) policy.Fraction {
	f, err := policy.ParseFraction(s)
	require.NoError(t, err)
	return f
}

// record is a half-year of a course; "" is a row without a grade, "-" no row at all.
func record(t require.TestingT, r *results.Rule, half results.Half, q1, q2, exam string) *results.Record {
	none := results.Mark{Place: results.None}
	out := &results.Record{Half: half, Quarters: [2]results.Mark{none, none}, Exam: none}
	read := func(s string) results.Mark {
		m, err := r.Read(s)
		require.NoError(t, err)
		return m
	}
	for i, q := range []string{q1, q2} {
		if q != "-" {
			out.Taken[i], out.Quarters[i] = true, read(q)
		}
	}
	if exam != "-" {
		out.Exam = read(exam)
	}
	return out
}

// Half-years by hand. The rule is common practice and has no source: the mean of two quarters' points is
// at least half a point.
func TestAHalfYear(t *testing.T) {
	rule := results.DefaultRule()
	passed := func(when results.Quarter) results.Recovery {
		return results.Recovery{When: when, Known: true, Passed: true}
	}
	for _, c := range []struct {
		what         string
		half         results.Half
		q1, q2, exam string
		weight       string
		recoveries   []results.Recovery
		at           results.Quarter
		state        results.State // empty: nothing on record
		value        string        // "" while a part is missing
		needed       string        // "" is not asked for, or none does
	}{
		{what: "both fail", q1: "F", q2: "F", at: 1, state: results.Lost, value: "0.000"},
		{what: "nearly is not enough", q1: "D-", q2: "F", at: 1, state: results.Lost, value: "0.350"},
		{what: "a D with an F is", q1: "F", q2: "D", at: 1, state: results.Earned, value: "0.500"},
		{what: "the second quarter is not read before its end", q1: "F", q2: "D", at: 0, state: results.StandsLost, needed: "D"},
		{what: "nothing so far is not judged", q1: "", q2: "-", at: 0, state: results.Open, needed: "D-"},
		{what: "no row by then", q1: "-", q2: "A", at: 0},
		{what: "and by the second quarter there is one, with the first missing", q1: "-", q2: "A", at: 1, state: results.Open, needed: "F"},
		{what: "the half-year is over", q1: "-", q2: "A", at: 2, state: results.Lost},
		{what: "a good first quarter", q1: "D", q2: "", at: 0, state: results.Open, needed: "F"},
		{what: "nearly failing so far is above the line", q1: "D-", q2: "", at: 0, state: results.Open, needed: "D-"},
		{what: "withdrawn", q1: "A", q2: "W", at: 1},
		{what: "withdrawn later is not read yet", q1: "A", q2: "W", at: 0, state: results.Open, needed: "F"},
		{what: "an examination of a fifth, still to come", q1: "F", q2: "F", exam: "A", weight: "1/5", at: 0, state: results.StandsLost, needed: "D"},
		{what: "and sat", q1: "F", q2: "F", exam: "A", weight: "1/5", at: 1, state: results.Earned, value: "0.800"},
		{what: "too light to help", q1: "F", q2: "F", exam: "", weight: "0.1", at: 1, state: results.StandsLost},
		{what: "a third", q1: "F", q2: "D-", exam: "D-", weight: "1/3", at: 1, state: results.Lost, value: "0.467"},
		{what: "half up", q1: "C+", q2: "F", exam: "F", weight: "0.9", at: 1, state: results.Lost, value: "0.115"},
		{what: "an examination of a course that has none is not read", q1: "D", q2: "F", exam: "A", weight: "0", at: 1, state: results.Earned, value: "0.500"},
		{what: "recovered", q1: "F", q2: "F", recoveries: []results.Recovery{passed(2)}, at: 2, state: results.Recovered, value: "0.000"},
		{what: "not yet", q1: "F", q2: "F", recoveries: []results.Recovery{passed(2)}, at: 1, state: results.Lost, value: "0.000"},
		{what: "not known yet", q1: "F", q2: "F", recoveries: []results.Recovery{{When: 2}}, at: 3, state: results.Lost, value: "0.000"},
		{what: "failed again", q1: "F", q2: "F", recoveries: []results.Recovery{{When: 2, Known: true}, passed(3)}, at: 3, state: results.Recovered, value: "0.000"},
		{what: "recovered while a part is missing", half: 1, q1: "F", q2: "", recoveries: []results.Recovery{passed(2)}, at: 2, state: results.Recovered},
		{what: "earned without need of it", q1: "A", q2: "A", recoveries: []results.Recovery{passed(2)}, at: 2, state: results.Earned, value: "4.000"},
	} {
		t.Run(c.what, func(t *testing.T) {
			course := results.Course{}
			if c.weight != "" {
				course.ExamWeight = fraction(t, c.weight)
			}
			exam := c.exam
			if exam == "" && c.weight == "" {
				exam = "-"
			}
			rec := record(t, rule, c.half, c.q1, c.q2, exam)
			rec.Recoveries = c.recoveries
			s, ok := rule.Stand(course, rec, c.at)
			require.Equal(t, c.state != "", ok)
			if !ok {
				return
			}
			assert.Equal(t, c.state, s.State)
			value := ""
			if s.Value != nil {
				value = s.Value.FloatString(3)
			}
			assert.Equal(t, c.value, value)
			needed := ""
			if s.Needed != results.None {
				needed = rule.Scale[s.Needed].Name
			}
			assert.Equal(t, c.needed, needed)
		})
	}
}

// A student's sums by hand: credits of a course that is taken again end at what it gives at most; what is
// expected in a first quarter is the figure before.
func TestSums(t *testing.T) {
	rule := results.DefaultRule()
	rule.Expected = []results.YearCredits{
		{Year: "9", By: [2]policy.Fraction{fraction(t, "1.5"), fraction(t, "3")}},
		{Year: "10", By: [2]policy.Fraction{fraction(t, "4"), fraction(t, "5.25")}},
	}
	periods := append(results.DefaultPeriods(), results.Period{Name: "Q5", Half: "H3"}, results.Period{Name: "Q6", Half: "H3"}, results.Period{Name: "Q7", Half: "H4"}, results.Period{Name: "Q8", Half: "H4"})
	half, most := fraction(t, "0.5"), fraction(t, "0.75")
	courses := []results.Course{{ID: "maths", Credits: half}, {ID: "art", Credits: half, Max: &most}, {ID: "sport", Credits: fraction(t, "0.25")}}
	b := results.NewBook(rule, periods, courses, []results.Student{{ID: "s1", Year: "9"}, {ID: "s2", Year: "11"}, {ID: "s3", Year: "10"}})
	fill := func(student, course int, half results.Half, q1, q2 string) {
		got := record(t, rule, half, q1, q2, "-")
		rec := b.Record(student, course, half)
		rec.Quarters, rec.Taken = got.Quarters, got.Taken
	}
	fill(0, 1, 1, "C", "D-") // in another order than that of the courses
	fill(0, 0, 0, "F", "F")
	fill(0, 0, 1, "F", "F")
	fill(0, 1, 0, "B", "B")
	fill(0, 2, 0, "A", "W")
	sums := func(student int, at results.Quarter) (out []string) {
		s := b.Sum(student, at)
		show := func(f *policy.Fraction) string {
			if f == nil {
				return ""
			}
			d, _ := f.Decimal()
			return d
		}
		for _, n := range []int{s.Courses, s.Failing, s.Nearly, s.Lost, s.Away} {
			out = append(out, big.NewInt(int64(n)).String())
		}
		return append(out, show(&s.Earned), show(s.Expected), show(s.Behind))
	}
	assert.Equal(t, []string{"3", "1", "0", "0", "1", "0", "0", "0"}, sums(0, 0), "three courses, one of which stands lost")
	assert.Equal(t, []string{"2", "1", "0", "1", "1", "0.5", "1.5", "1"}, sums(0, 1), "one left, one lost")
	assert.Equal(t, []string{"2", "1", "0", "1", "1", "0.5", "1.5", "1"}, sums(0, 2))
	assert.Equal(t, []string{"2", "1", "1", "2", "1", "0.75", "3", "2.25"}, sums(0, 3), "the second half of art gives a quarter only")
	assert.Equal(t, []string{"0", "0", "0", "2", "0", "0.75", "0", "0"}, sums(0, 4), "the next year begins before the first figure")
	assert.Equal(t, []string{"0", "0", "0", "0", "0", "0", "", ""}, sums(1, 3), "no figure of the year")
	assert.Equal(t, "3", sums(2, 0)[6], "in a first quarter the figure of the year before")
	order := []string{}
	for _, s := range b.Sum(0, 3).Standings {
		order = append(order, courses[s.Record.Course].ID)
	}
	assert.Equal(t, []string{"maths", "art", "maths", "art"}, order)
	assert.False(t, b.Sum(0, 3).All())
	fill(2, 0, 0, "F", "")
	assert.False(t, b.Sum(2, 0).All(), "one course alone is not everything")
	fill(2, 1, 0, "F", "")
	assert.True(t, b.Sum(2, 0).All())
}

// drawn is a rule with a scale of any points, numbers or letters.
func drawn(t *rapid.T) *results.Rule {
	r := results.DefaultRule()
	n := rapid.IntRange(1, 8).Draw(t, "grades")
	points := int64(rapid.IntRange(0, 40).Draw(t, "most"))
	r.Scale = nil
	for i := range n {
		r.Scale = append(r.Scale, results.Grade{Name: string(rune('A' + i)), Points: policy.NewFraction(points, 10)})
		points = max(0, points-int64(rapid.IntRange(0, 9).Draw(t, "step")))
	}
	r.Line = policy.NewFraction(int64(rapid.IntRange(0, 40).Draw(t, "line")), 10)
	return r
}

// The least grade that still earns the credit, by trying every grade of the scale in every missing part,
// as a stored grade; and what stands lost is what stays lost when the mean so far is given.
func TestTheLeastGrade(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		r := drawn(t)
		course := results.Course{ExamWeight: rapid.SampledFrom([]policy.Fraction{{}, policy.NewFraction(1, 5), policy.NewFraction(1, 3), policy.NewFraction(1, 1)}).Draw(t, "weight")}
		grade := rapid.SampledFrom([]string{"", "A", r.Scale[len(r.Scale)-1].Name})
		rec := record(t, r, 0, grade.Draw(t, "q1"), grade.Draw(t, "q2"), grade.Draw(t, "exam"))
		s, ok := r.Stand(course, rec, 1)
		require.True(t, ok)
		if s.State != results.Open && s.State != results.StandsLost {
			require.Empty(t, s.Missing)
			return
		}
		least := results.None
		for place := range r.Scale {
			next := *rec
			for n := range 2 {
				if !next.Quarters[n].Given() {
					next.Quarters[n] = results.Mark{Place: place}
				}
			}
			if !next.Exam.Given() {
				next.Exam = results.Mark{Place: place}
			}
			if given, _ := r.Stand(course, &next, 1); given.State == results.Earned {
				least = place
			}
		}
		assert.Equal(t, least, s.Needed)
		if least == results.None && len(s.Missing) < 3 && !(len(s.Missing) == 2 && !course.HasExam()) {
			assert.Equal(t, results.StandsLost, s.State, "what no grade can earn stands lost")
		}
	})
}
