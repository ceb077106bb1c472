package web

import (
	"context"

	"meldung/core/ids"
	"meldung/pages/coursespage"
	"meldung/work"
	"meldung/work/coursework"
)

// CoursesAsked is which course results are asked for.
type CoursesAsked struct {
	LookedIn
	Grouped
	Period string `query:"period" maxLength:"100" doc:"A grading period; empty is the last with grades"`
	By     string `query:"by" enum:"course,class,area,year,form,leaving" default:"course"`
}

func (a CoursesAsked) ask() coursespage.Ask {
	return coursespage.Ask{Period: a.Period, Group: a.Group, By: a.By}
}

// courseRoutes are course results.
func (s *server) courseRoutes() {
	get(s, work.MaySeeCourses, "/courses", "Who is not on track, and which courses fail", func(ctx context.Context, in *CoursesAsked) (*body[coursespage.CoursesView], error) {
		return answer(coursespage.Show(ctx, s.office, person(ctx), in.At, in.ask(), in.scope()...))
	})
	get(s, work.MaySeeTables, "/courses/tables", "What fails quarter by quarter, and which credits half-years lost", func(ctx context.Context, in *CoursesAsked) (*body[coursespage.TablesView], error) {
		return answer(coursespage.Tables(ctx, s.office, person(ctx), in.At, in.ask(), in.scope()...))
	})
	get(s, work.MaySeeCell, "/courses/cell", "Whose grades or credits a cell counts", func(ctx context.Context, in *struct {
		CoursesAsked
		Column string `query:"column" required:"true" maxLength:"100" doc:"A grading period or a half-year"`
		Name   string `query:"name" maxLength:"200" doc:"The line; empty is everyone"`
	}) (*body[coursespage.CellView], error) {
		ask := in.ask()
		ask.Column, ask.Name = in.Column, in.Name
		return answer(coursespage.Cell(ctx, s.office, person(ctx), in.At, ask, in.scope()...))
	})
	get(s, work.MaySeeCredits, "/courses/credits", "Who lost credit, where, and how it can be regained", func(ctx context.Context, in *CoursesAsked) (*body[coursespage.CreditsView], error) {
		return answer(coursespage.Credits(ctx, s.office, person(ctx), in.At, in.ask(), in.scope()...))
	})
	get(s, work.MaySeeResults, "/courses/student", "All of a student's results", func(ctx context.Context, in *struct {
		LookedAt
		Student ids.Student `query:"of" required:"true"`
	}) (*body[coursespage.OneView], error) {
		return answer(coursespage.One(ctx, s.office, person(ctx), in.At, in.Student))
	})
	get(s, work.MayKeepCourses, "/courses/file", "A view of the course results, as a file", func(ctx context.Context, in *struct {
		CoursesAsked
		View   string `query:"view" enum:"tracks,tables,credits" default:"tracks"`
		Format string `query:"format" enum:"csv,xlsx" required:"true"`
	}) (*fileBody, error) {
		f, err := coursespage.Keep(ctx, s.office, person(ctx), in.At, in.View, in.ask(), in.Format, in.scope()...)
		return answerFile(f, err, "attachment")
	})
	get(s, work.MayAskWhatIf, "/courses/what-if", "What a grade would change; kept nowhere", func(ctx context.Context, in *struct {
		LookedAt
		Period  string      `query:"period" maxLength:"100"`
		Student ids.Student `query:"of" required:"true"`
		Course  int         `query:"course" required:"true"`
		Part    int         `query:"part" required:"true" minimum:"0" maximum:"2"`
		Grade   string      `query:"grade" required:"true" maxLength:"20"`
	}) (*body[coursespage.GuessView], error) {
		return answer(coursespage.WhatIf(ctx, s.office, person(ctx), in.At, coursespage.Guess{Period: in.Period, Student: in.Student, Course: in.Course, Part: in.Part, Grade: in.Grade}))
	})
	post(s, work.MaySetGrade, "/courses/grade", "Put a grade right", func(ctx context.Context, in *Keyed[coursework.GradeCorrection]) (*body[work.Receipt], error) {
		return answer(coursework.SetGrade(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	get(s, work.MaySeeResultRule, "/courses/rule", "The rule by which grades become credits", func(ctx context.Context, _ *struct{}) (*body[coursework.RulePlan], error) {
		return answer(coursework.ShowRule(ctx, s.office))
	})
	post(s, work.MaySetResultRule, "/courses/rule", "Look at another rule, or take it", func(ctx context.Context, in *Keyed[coursework.RuleDraft]) (*body[coursework.RulePlan], error) {
		return answer(coursework.SetRule(ctx, s.office, person(ctx), in.Key, in.Body))
	})
}
