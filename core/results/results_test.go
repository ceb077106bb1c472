package results_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/results"
)

func TestFailingCourses(t *testing.T) {
	q1, q2, q3 := day.MustDate("2025-10-24"), day.MustDate("2026-01-16"), day.MustDate("2026-03-06")
	const art, maths = ids.Course(1), ids.Course(2)
	grade := func(s ids.Student, c ids.Course, g string, on day.Date) results.Given {
		return results.Given{Student: s, Course: c, Grade: g, On: on}
	}
	got := results.FailingCourses([]results.Given{
		grade(1, art, "F", q1), grade(1, art, "F", q2), grade(1, maths, "B", q2), // failing on and on
		grade(2, art, "F", q1), grade(2, art, "C", q2), // recovered
		grade(3, art, "F", q1), grade(3, art, "D", q2), grade(3, art, "F", q3), // and fallen again
		grade(4, maths, "F", q3), grade(4, art, "F", q3),
	})
	assert.Equal(t, map[ids.Student][]results.Failing{
		1: {{Course: art, Grade: "F", Since: q1}},
		3: {{Course: art, Grade: "F", Since: q3}},
		4: {{Course: maths, Grade: "F", Since: q3}, {Course: art, Grade: "F", Since: q3}},
	}, got)
	assert.Empty(t, results.FailingCourses(nil))
}
