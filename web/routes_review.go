package web

import (
	"context"

	"meldung/core/ids"
	"meldung/pages"
	"meldung/pages/absencepage"
	"meldung/pages/concernspage"
	"meldung/pages/studentpage"
	"meldung/work"
	"meldung/work/concerns"
)

func (s *server) reviewRoutes() {
	get(s, work.MaySeeStudent, "/students/{id}", "A student's sheet", func(ctx context.Context, in *struct {
		LookedAt
		ID ids.Student `path:"id"`
	}) (*body[studentpage.StudentSheet], error) {
		return answer(studentpage.Show(ctx, s.office, person(ctx), in.ID, in.At))
	})
	get(s, work.MaySeeAbsence, "/absence", "Absence against a policy", func(ctx context.Context, in *struct {
		LookedIn
		Measured
		Group string `query:"group" maxLength:"100" doc:"year:NAME, or class:ID for a form or class; empty is everyone"`
		Line  string `query:"line" maxLength:"100" doc:"The line to sort by, as a fraction; empty is the policy's threshold"`
	}) (*body[absencepage.AbsenceView], error) {
		return answer(absencepage.Show(ctx, s.office, in.At, pages.AbsenceAsk{Policy: in.Policy, From: in.From, To: in.To, Group: in.Group, Line: in.Line}, in.scope()...))
	})
	get(s, work.MaySeeWhy, "/absence/{student}", "A student's figure taken apart", func(ctx context.Context, in *struct {
		LookedAt
		Measured
		Student ids.Student `path:"student"`
	}) (*body[absencepage.WhyView], error) {
		return answer(absencepage.ShowWhy(ctx, s.office, person(ctx), in.Student, in.At, pages.AbsenceAsk{Policy: in.Policy, From: in.From, To: in.To}))
	})
	get(s, work.MaySeeConcerns, "/concerns", "Students who need a look", func(ctx context.Context, in *LookedIn) (*body[concernspage.ConcernsView], error) {
		return answer(concernspage.Show(ctx, s.office, person(ctx), in.At, in.scope()...))
	})
	post(s, work.MayFollowUp, "/followups", "Log a follow-up", func(ctx context.Context, in *Keyed[concerns.Followup]) (*body[work.Receipt], error) {
		return answer(concerns.LogFollowup(ctx, s.office, person(ctx), in.Key, in.Body))
	})
}
