package web

import (
	"context"

	"meldung/core/ids"
	"meldung/pages/followuppage"
	"meldung/work"
	"meldung/work/caseload"
	"meldung/work/concerns"
)

// FollowupAsked is of whom a list of Follow-up is.
type FollowupAsked struct {
	LookedIn
	Grouped
	Owner   ids.Account `query:"owner" doc:"In whose hands; 0 for anybody's"`
	Overdue bool        `query:"overdue"`
	Closed  bool        `query:"closed" doc:"Of cases: closed ones too"`
	Days    int         `query:"days" minimum:"0" maximum:"1000" doc:"Of cases: opened so many days ago or longer"`
}

func (a FollowupAsked) ask() followuppage.Ask {
	return followuppage.Ask{Group: a.Group, Owner: a.Owner, Overdue: a.Overdue, Closed: a.Closed, Days: a.Days}
}

// FollowupFile is a list of Follow-up as a file.
type FollowupFile struct {
	FollowupAsked
	Format string `query:"format" enum:"csv,xlsx" required:"true"`
}

// WeekAsked is which week of support is asked for.
type WeekAsked struct {
	FollowupAsked
	Week string `query:"week" maxLength:"10" doc:"A date of it, YYYY-MM-DD; empty for the present one"`
}

// OfCase is a case of a student.
type OfCase struct {
	Student ids.Student `path:"id"`
	Case    ids.Case    `path:"case"`
}

// followupRoutes are contacts, cases and support.
func (s *server) followupRoutes() {
	get(s, work.MaySeeNext, "/next", "Whom to contact next, in the order of the work", func(ctx context.Context, in *FollowupAsked) (*body[followuppage.NextView], error) {
		return answer(followuppage.Next(ctx, s.office, person(ctx), in.At, in.ask(), in.scope()...))
	})
	get(s, work.MayKeepNext, "/next/file", "The same as a file", func(ctx context.Context, in *FollowupFile) (*fileBody, error) {
		f, err := followuppage.KeepNext(ctx, s.office, person(ctx), in.At, in.ask(), in.Format, in.scope()...)
		return answerFile(f, err, "attachment")
	})
	post(s, work.MayFollowUp, "/followups", "Log a contact", func(ctx context.Context, in *Keyed[caseload.Followup]) (*body[work.Receipt], error) {
		return answer(caseload.LogFollowup(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	get(s, work.MayReadNote, "/students/{id}/notes/{note}", "A confidential note of a contact; the look is on record", func(ctx context.Context, in *struct {
		Student ids.Student  `path:"id"`
		Note    ids.Followup `path:"note"`
	}) (*body[followuppage.NoteView], error) {
		return answer(followuppage.ReadNote(ctx, s.office, person(ctx), in.Student, in.Note))
	})
	get(s, work.MayReadSession, "/students/{id}/sessions/{session}", "The confidential notes of a student's session; the look is on record", func(ctx context.Context, in *struct {
		Student ids.Student        `path:"id"`
		Session ids.SupportSession `path:"session"`
	}) (*body[followuppage.NoteView], error) {
		return answer(followuppage.ReadSession(ctx, s.office, person(ctx), in.Student, in.Session))
	})
	s.caseRoutes()
	s.supportRoutes()
}

func (s *server) caseRoutes() {
	get(s, work.MaySeeCases, "/cases", "Students who are in somebody's hands", func(ctx context.Context, in *FollowupAsked) (*body[followuppage.CasesView], error) {
		return answer(followuppage.Cases(ctx, s.office, person(ctx), in.At, in.ask(), in.scope()...))
	})
	get(s, work.MayKeepCases, "/cases/file", "The same as a file", func(ctx context.Context, in *FollowupFile) (*fileBody, error) {
		f, err := followuppage.KeepCases(ctx, s.office, person(ctx), in.At, in.ask(), in.Format, in.scope()...)
		return answerFile(f, err, "attachment")
	})
	post(s, work.MayChangeCase, "/cases", "Open a case, change it, close it or open it again", func(ctx context.Context, in *Keyed[caseload.CaseChange]) (*body[work.Receipt], error) {
		return answer(concerns.ChangeCase(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	get(s, work.MaySeeCase, "/students/{id}/cases/{case}", "A case with all that there is of it; the look is on record", func(ctx context.Context, in *struct {
		OfCase
		LookedAt
	}) (*body[followuppage.CasePage], error) {
		return answer(followuppage.OneCase(ctx, s.office, person(ctx), in.Student, in.Case, in.At))
	})
	get(s, work.MaySeeCasesOf, "/students/{id}/cases", "The cases of a student in a line each", func(ctx context.Context, in *struct {
		Student ids.Student `path:"id"`
		LookedAt
	}) (*body[followuppage.StudentCases], error) {
		return answer(followuppage.CasesOf(ctx, s.office, person(ctx), in.Student, in.At))
	})
	post(s, work.MayPlanCase, "/cases/plan", "Plan something in a case", func(ctx context.Context, in *Keyed[caseload.PlanStep]) (*body[work.Receipt], error) {
		return answer(caseload.Plan(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayEndPlanned, "/cases/planned", "Say that something planned was done or is dropped", func(ctx context.Context, in *Keyed[caseload.PlanStepEnd]) (*body[work.Receipt], error) {
		return answer(caseload.EndPlanned(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayAddPaper, "/cases/papers", "Put a paper to a case", func(ctx context.Context, in *Keyed[caseload.Paper]) (*body[work.Receipt], error) {
		return answer(caseload.AddPaper(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	get(s, work.MaySeePaper, "/students/{id}/cases/{case}/papers/{paper}", "A paper of a case; the look is on record", func(ctx context.Context, in *struct {
		OfCase
		Paper ids.CaseDocument `path:"paper"`
	}) (*fileBody, error) {
		f, err := followuppage.PaperOf(ctx, s.office, person(ctx), in.Student, in.Case, in.Paper)
		return answerFile(f, err, "attachment")
	})
	post(s, work.MayTakePaperOff, "/cases/{case}/papers/{paper}/off", "Take a paper off its case", func(ctx context.Context, in *struct {
		Key   string           `header:"Idempotency-Key" minLength:"8" maxLength:"100"`
		Case  ids.Case         `path:"case"`
		Paper ids.CaseDocument `path:"paper"`
	}) (*body[work.Receipt], error) {
		return answer(caseload.TakePaperOff(ctx, s.office, person(ctx), in.Key, in.Case, in.Paper))
	})
	post(s, work.MayMeet, "/meetings", "Arrange a meeting", func(ctx context.Context, in *Keyed[caseload.Meeting]) (*body[work.Receipt], error) {
		return answer(caseload.Meet(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayCallMeetingOff, "/meetings/{id}/off", "Call a meeting off", func(ctx context.Context, in *struct {
		Key string      `header:"Idempotency-Key" minLength:"8" maxLength:"100"`
		ID  ids.Meeting `path:"id"`
	}) (*body[work.Receipt], error) {
		return answer(caseload.CallMeetingOff(ctx, s.office, person(ctx), in.Key, in.ID))
	})
	get(s, work.MayKeepMeeting, "/students/{id}/meetings/{meeting}/file", "A meeting for a calendar", func(ctx context.Context, in *struct {
		Student ids.Student `path:"id"`
		Meeting ids.Meeting `path:"meeting"`
	}) (*fileBody, error) {
		f, err := followuppage.MeetingFile(ctx, s.office, in.Student, in.Meeting)
		return answerFile(f, err, "attachment")
	})
}

func (s *server) supportRoutes() {
	get(s, work.MaySeeWeek, "/support/week", "Support by week", func(ctx context.Context, in *WeekAsked) (*body[followuppage.SupportWeek], error) {
		return answer(followuppage.Week(ctx, s.office, person(ctx), in.At, in.Week, in.ask(), in.scope()...))
	})
	get(s, work.MayKeepWeek, "/support/week/file", "The same as a file", func(ctx context.Context, in *struct {
		WeekAsked
		Format string `query:"format" enum:"csv,xlsx" required:"true"`
	}) (*fileBody, error) {
		f, err := followuppage.KeepWeek(ctx, s.office, person(ctx), in.At, in.Week, in.ask(), in.Format, in.scope()...)
		return answerFile(f, err, "attachment")
	})
	post(s, work.MayAddSession, "/support/sessions", "Write a support session down", func(ctx context.Context, in *Keyed[caseload.NewSession]) (*body[work.Receipt], error) {
		return answer(caseload.AddSession(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayChangeSession, "/support/sessions/change", "Change a session for those chosen", func(ctx context.Context, in *Keyed[caseload.SessionChange]) (*body[work.Receipt], error) {
		return answer(caseload.ChangeSession(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayTakeSessionOff, "/support/sessions/off", "Take a session off for those chosen", func(ctx context.Context, in *Keyed[caseload.OfSession]) (*body[work.Receipt], error) {
		return answer(caseload.TakeSessionOff(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayRepeatSession, "/support/sessions/repeat", "Write a session again on other dates", func(ctx context.Context, in *Keyed[caseload.SessionRepeat]) (*body[work.Receipt], error) {
		return answer(caseload.RepeatSession(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MaySayWhyNone, "/support/none", "Say why a student was in no session of a week", func(ctx context.Context, in *Keyed[caseload.NoSession]) (*body[work.Receipt], error) {
		return answer(caseload.SayWhyNone(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	get(s, work.MaySeeWhatCame, "/support/came", "What came of support", func(ctx context.Context, in *FollowupAsked) (*body[followuppage.CameView], error) {
		return answer(followuppage.WhatCame(ctx, s.office, person(ctx), in.At, in.ask(), in.scope()...))
	})
	get(s, work.MayKeepWhatCame, "/support/came/file", "The same as a file", func(ctx context.Context, in *FollowupFile) (*fileBody, error) {
		f, err := followuppage.KeepWhatCame(ctx, s.office, person(ctx), in.At, in.ask(), in.Format, in.scope()...)
		return answerFile(f, err, "attachment")
	})
	get(s, work.MaySeeSupportWords, "/support/words", "The school's own words of support", func(ctx context.Context, _ *struct{}) (*body[followuppage.SupportWordsView], error) {
		return answer(followuppage.Words(ctx, s.office, person(ctx)))
	})
	post(s, work.MaySetSupport, "/support/words", "Rename, order, retire and add words of support", func(ctx context.Context, in *Keyed[caseload.SupportList]) (*body[work.Receipt], error) {
		return answer(caseload.SetWords(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	get(s, work.MayKeepSupport, "/support/files", "Contacts or sessions as a file", func(ctx context.Context, in *struct {
		Which string `query:"which" enum:"contacts,sessions" required:"true"`
	}) (*fileBody, error) {
		f, err := followuppage.KeepFiles(ctx, s.office, in.Which)
		return answerFile(f, err, "attachment")
	})
}
