package web

import (
	"context"

	"meldung/core/ids"
	"meldung/pages"
	"meldung/pages/absencepage"
	"meldung/pages/studentpage"
	"meldung/work"
	"meldung/work/lists"
	"meldung/work/ownfields"
	"meldung/work/parttime"
	"meldung/work/plans"
	"meldung/work/views"
)

// AbsenceAsked is what is measured, for whom, and in which order.
type AbsenceAsked struct {
	LookedIn
	Measured
	Grouped
	Line string `query:"line" maxLength:"100" doc:"The line to sort by, as a fraction; empty is the policy's threshold"`
	Sort string `query:"sort" maxLength:"20" doc:"By what, the most first: rate, missed, excused, unexcused, unexplained, lates, on-site, time, name; empty is by nearness to the line"`
	Up   bool   `query:"up" doc:"The least first"`
}

func (a AbsenceAsked) ask() pages.AbsenceAsk {
	return pages.AbsenceAsk{Policy: a.Policy, From: a.From, To: a.To, Group: a.Group, Line: a.Line, Sort: a.Sort, Up: a.Up}
}

// GridAsked is which grid is asked for.
type GridAsked struct {
	LookedIn
	Measured
	Grouped
	By string `query:"by" enum:"dates,slots,codes" default:"dates"`
}

func (a GridAsked) ask() absencepage.GridAsk {
	return absencepage.GridAsk{AbsenceAsk: pages.AbsenceAsk{Policy: a.Policy, From: a.From, To: a.To, Group: a.Group}, By: a.By}
}

// BesideAsked is what stands side by side.
type BesideAsked struct {
	LookedIn
	Measured
	Grouped
	OtherGroup string `query:"group2" maxLength:"100" doc:"The second group, as of absence; empty is everyone"`
	OtherFrom  string `query:"from2" maxLength:"10"`
	OtherTo    string `query:"to2" maxLength:"10"`
	Before     bool   `query:"before" doc:"The second is over the same school days of the year before"`
}

func (a BesideAsked) beside(ctx context.Context, s *server) (absencepage.BesideAsk, error) {
	group, err := pages.Group(ctx, s.office, person(ctx), a.OtherGroup)
	return absencepage.BesideAsk{AbsenceAsk: pages.AbsenceAsk{Policy: a.Policy, From: a.From, To: a.To, Group: a.Group}, Group: group, From: a.OtherFrom, To: a.OtherTo, Before: a.Before}, err
}

// ClassesAsked is which of one's own classes are asked for.
type ClassesAsked struct {
	LookedAt
	Class ids.Class `query:"class" doc:"0 for all of them"`
	From  string    `query:"from" maxLength:"10" doc:"First date; empty is the first of the year"`
	To    string    `query:"to" maxLength:"10" doc:"Last date; empty is the last that is over"`
}

func (a ClassesAsked) ask() pages.AbsenceAsk { return pages.AbsenceAsk{From: a.From, To: a.To} }

func (s *server) reviewRoutes() {
	get(s, work.MaySeeStudent, "/students/{id}", "A student's sheet", func(ctx context.Context, in *struct {
		LookedAt
		ID ids.Student `path:"id"`
	}) (*body[studentpage.StudentSheet], error) {
		return answer(studentpage.Show(ctx, s.office, person(ctx), in.ID, in.At))
	})
	get(s, work.MaySeeAbsence, "/absence", "Absence against a policy", func(ctx context.Context, in *AbsenceAsked) (*body[absencepage.AbsenceView], error) {
		return answer(absencepage.Show(ctx, s.office, in.At, in.ask(), in.scope()...))
	})
	get(s, work.MaySeeBeside, "/absence/beside", "Two groups or two spans side by side", func(ctx context.Context, in *BesideAsked) (*body[absencepage.BesideView], error) {
		ask, err := in.beside(ctx, s)
		if err != nil {
			return nil, problem(err)
		}
		return answer(absencepage.ShowBeside(ctx, s.office, in.At, ask, in.scope()...))
	})
	get(s, work.MayKeepBeside, "/absence/beside-file", "The same as a file", func(ctx context.Context, in *struct {
		BesideAsked
		Format string `query:"format" enum:"csv,xlsx" required:"true"`
	}) (*fileBody, error) {
		ask, err := in.beside(ctx, s)
		if err != nil {
			return nil, problem(err)
		}
		f, err := absencepage.KeepBeside(ctx, s.office, in.At, ask, in.Format, in.scope()...)
		return answerFile(f, err, "attachment")
	})
	get(s, work.MayKeepAbsence, "/absence/file", "The table as a file", func(ctx context.Context, in *struct {
		AbsenceAsked
		Format string `query:"format" enum:"csv,xlsx" required:"true"`
	}) (*fileBody, error) {
		f, err := absencepage.KeepFile(ctx, s.office, in.At, in.ask(), in.Format, in.scope()...)
		return answerFile(f, err, "attachment")
	})
	get(s, work.MayKeepDays, "/absence/days-file", "What each student missed on each day as a file", func(ctx context.Context, in *struct {
		AbsenceAsked
		Format string `query:"format" enum:"csv,xlsx" required:"true"`
	}) (*fileBody, error) {
		f, err := absencepage.KeepDays(ctx, s.office, in.At, in.ask(), in.Format, in.scope()...)
		return answerFile(f, err, "attachment")
	})
	get(s, work.MaySeeViews, "/views", "The views of a page that are kept under a name", func(ctx context.Context, in *struct {
		Place string `query:"place" enum:"absence,conduct,courses,papers" required:"true"`
	}) (*body[[]views.Offered], error) {
		return answer(views.Of(ctx, s.office, person(ctx), in.Place))
	})
	post(s, work.MaySaveView, "/views", "Keep a view of a page under a name", func(ctx context.Context, in *Keyed[views.View]) (*body[work.Receipt], error) {
		return answer(views.Save(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	get(s, work.MaySeeOwn, "/own-fields", "What the school's own fields hold, where they are shown", func(ctx context.Context, in *struct {
		Where string `query:"where" enum:"roll,call,desk" required:"true"`
	}) (*body[[]pages.OwnShown], error) {
		return answer(pages.OwnShownIn(ctx, s.office, person(ctx), in.Where))
	})
	get(s, work.MaySeeOwnGroups, "/own-fields/groups", "Groups by what is chosen in own fields", func(ctx context.Context, _ *struct{}) (*body[[]pages.Choice], error) {
		return answer(pages.OwnGroups(ctx, s.office, person(ctx)))
	})
	get(s, work.MaySeeOwnOf, "/students/{id}/own-fields", "What the school's own fields hold of a student", func(ctx context.Context, in *struct {
		ID ids.Student `path:"id"`
	}) (*body[[]pages.OwnLine], error) {
		return answer(pages.OwnOf(ctx, s.office, person(ctx), in.ID))
	})
	post(s, work.MaySetOwn, "/own-fields/value", "Set what an own field holds of a student", func(ctx context.Context, in *Keyed[ownfields.OwnValue]) (*body[work.Receipt], error) {
		return answer(ownfields.SetValue(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	get(s, work.MayKeepOwn, "/own-fields/file", "What the school's own fields hold, as a file", func(ctx context.Context, in *struct {
		Grouped
		Format string `query:"format" enum:"csv,xlsx" required:"true"`
	}) (*fileBody, error) {
		f, err := pages.KeepOwn(ctx, s.office, person(ctx), in.Group, in.Format)
		return answerFile(f, err, "attachment")
	})
	get(s, work.MayDefineOwn, "/school/own-fields", "The school's own fields", func(ctx context.Context, _ *struct{}) (*body[pages.OwnFieldsView], error) {
		return answer(pages.OwnFields(ctx, s.office))
	})
	post(s, work.MaySetOwnFields, "/school/own-fields", "Set the school's own fields", func(ctx context.Context, in *Keyed[ownfields.OwnFieldSet]) (*body[work.Receipt], error) {
		return answer(ownfields.SetFields(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayImportOwn, "/school/own-fields/import", "Look at values of own fields from a file, or take them", func(ctx context.Context, in *Keyed[ownfields.OwnImport]) (*body[ownfields.OwnImportPlan], error) {
		return answer(ownfields.ImportValues(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	get(s, work.MaySeePartTime, "/students/{id}/part-time", "A student's time here and elsewhere", func(ctx context.Context, in *struct {
		ID ids.Student `path:"id"`
	}) (*body[studentpage.PartTimeView], error) {
		return answer(studentpage.ShowPartTime(ctx, s.office, person(ctx), in.ID))
	})
	post(s, work.MaySetPartTime, "/part-time", "Look at when a student is due, or set it", func(ctx context.Context, in *Keyed[parttime.Schedule]) (*body[plans.Plan], error) {
		return answer(parttime.Set(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	get(s, work.MaySeeLists, "/lists", "Students under a name, one's own and those that others share", func(ctx context.Context, _ *struct{}) (*body[[]pages.ListView], error) {
		return answer(pages.Lists(ctx, s.office, person(ctx)))
	})
	post(s, work.MayKeepList, "/lists", "Make a list of students, or change one", func(ctx context.Context, in *Keyed[lists.ListChange]) (*body[work.Receipt], error) {
		return answer(lists.Save(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayEndList, "/lists/{list}/end", "Take a list away", func(ctx context.Context, in *struct {
		Key  string          `header:"Idempotency-Key" maxLength:"100"`
		List ids.StudentList `path:"list"`
	}) (*body[work.Receipt], error) {
		return answer(lists.End(ctx, s.office, person(ctx), in.Key, in.List))
	})
	post(s, work.MayEndView, "/views/{view}/end", "Take a view off", func(ctx context.Context, in *struct {
		View ids.SavedView `path:"view"`
		Keyed[nothing]
	}) (*body[work.Receipt], error) {
		return answer(views.End(ctx, s.office, person(ctx), in.Key, in.View))
	})
	get(s, work.MaySeeGrid, "/absence/grid", "The attendance of a group as a grid", func(ctx context.Context, in *GridAsked) (*body[absencepage.GridView], error) {
		return answer(absencepage.ShowGrid(ctx, s.office, in.At, in.ask(), in.scope()...))
	})
	get(s, work.MayKeepGrid, "/absence/grid-file", "The grid as a file, or to print", func(ctx context.Context, in *struct {
		GridAsked
		Format string `query:"format" enum:"csv,xlsx,pdf" required:"true"`
	}) (*fileBody, error) {
		f, err := absencepage.KeepGrid(ctx, s.office, in.At, in.ask(), in.Format, in.scope()...)
		return answerFile(f, err, map[bool]string{true: "inline", false: "attachment"}[in.Format == "pdf"])
	})
	get(s, work.MayKeepStatement, "/students/{id}/statement", "What a student missed, to print", func(ctx context.Context, in *struct {
		LookedAt
		Measured
		ID      ids.Student `path:"id"`
		Without []string    `query:"without" maxItems:"40" doc:"Codes that are left out of the days"`
	}) (*fileBody, error) {
		f, err := studentpage.Statement(ctx, s.office, person(ctx), in.ID, in.At, studentpage.StatementAsk{AbsenceAsk: pages.AbsenceAsk{Policy: in.Policy, From: in.From, To: in.To}, Without: in.Without})
		return answerFile(f, err, "inline")
	})
	post(s, work.MaySendStatement, "/students/{id}/statement", "Send a student's home what was missed, by e-mail", func(ctx context.Context, in *struct {
		Keyed[studentpage.StatementSending]
		ID ids.Student `path:"id"`
	}) (*body[work.Receipt], error) {
		return answer(studentpage.SendStatement(ctx, s.office, person(ctx), in.Key, in.ID, in.Body))
	})
	get(s, work.MaySeeClasses, "/absence/classes", "How the lessons of one's own classes went", func(ctx context.Context, in *ClassesAsked) (*body[absencepage.ClassesView], error) {
		return answer(absencepage.ShowClasses(ctx, s.office, person(ctx), in.At, in.Class, in.ask()))
	})
	get(s, work.MayKeepClasses, "/absence/classes-file", "The same as a file", func(ctx context.Context, in *struct {
		ClassesAsked
		Format string `query:"format" enum:"csv,xlsx" required:"true"`
	}) (*fileBody, error) {
		f, err := absencepage.KeepClasses(ctx, s.office, person(ctx), in.At, in.Class, in.ask(), in.Format)
		return answerFile(f, err, "attachment")
	})
	get(s, work.MaySeeWhy, "/absence/{student}", "A student's figure taken apart", func(ctx context.Context, in *struct {
		LookedAt
		Measured
		Student ids.Student `path:"student"`
		Group   string      `query:"group" maxLength:"100" doc:"Of a class: measured by its lessons alone"`
	}) (*body[absencepage.WhyView], error) {
		return answer(absencepage.ShowWhy(ctx, s.office, person(ctx), in.Student, in.At, pages.AbsenceAsk{Policy: in.Policy, From: in.From, To: in.To, Group: in.Group}))
	})
}
