// Package results says what course grades come to. It must not know where grades come
// from.
package results

import (
	"meldung/core/day"
	"meldung/core/ids"
)

// Failed is the grade of a failed course.
const Failed = "F"

// Fails reports whether a grade is one of a failed course.
func Fails(grade string) bool { return grade == Failed }

// Given is a grade that a student was given in a course.
type Given struct {
	Student ids.Student
	Course  ids.Course
	Grade   string
	On      day.Date
}

// Failing is a course whose latest grade fails.
type Failing struct {
	Course ids.Course
	Grade  string
	Since  day.Date // when the first of the unbroken run of failing grades was given
}

// FailingCourses returns each student's failing courses, in the order in which a student's
// courses come first in the grades, which are in time order.
func FailingCourses(grades []Given) map[ids.Student][]Failing {
	type key struct {
		student ids.Student
		course  ids.Course
	}
	latest := map[key]Given{}
	var order []key
	for _, g := range grades {
		k := key{g.Student, g.Course}
		before, seen := latest[k]
		if !seen {
			order = append(order, k)
		}
		if seen && Fails(before.Grade) && Fails(g.Grade) {
			g.On = before.On
		}
		latest[k] = g
	}
	out := map[ids.Student][]Failing{}
	for _, k := range order {
		if g := latest[k]; Fails(g.Grade) {
			out[k.student] = append(out[k.student], Failing{Course: k.course, Grade: g.Grade, Since: g.On})
		}
	}
	return out
}
