package web

import (
	"context"

	"meldung/core/ids"
	"meldung/pages/todaypage"
	"meldung/work"
	"meldung/work/home"
	"meldung/work/morning"
	"meldung/work/takeback"
)

// todayRoutes are what is said with homes: notices, calls, texts, and what they lead to.
func (s *server) todayRoutes() {
	get(s, work.MaySeeToday, "/today", "The Today page", func(ctx context.Context, in *LookedIn) (*body[todaypage.TodayView], error) {
		return answer(todaypage.Show(ctx, s.office, in.At, in.scope()...))
	})
	get(s, work.MaySeePart, "/today/part/{state}", "Who is in a part of the count", func(ctx context.Context, in *struct {
		LookedIn
		State string `path:"state" maxLength:"20"`
	}) (*body[todaypage.PartView], error) {
		return answer(todaypage.ShowPart(ctx, s.office, in.State, in.At, in.scope()...))
	})
	get(s, work.MaySeeCalls, "/today/calls", "The list of calls, with every number", func(ctx context.Context, in *LookedIn) (*body[todaypage.CallSheet], error) {
		return answer(todaypage.ShowCallSheet(ctx, s.office, in.At, in.scope()...))
	})
	get(s, work.MayKeepCalls, "/today/calls/file", "The list of calls as a file", func(ctx context.Context, in *struct {
		LookedIn
		Format string `query:"format" enum:"csv,xlsx" required:"true"`
	}) (*fileBody, error) {
		f, err := todaypage.CallFile(ctx, s.office, in.At, in.Format, in.scope()...)
		return answerFile(f, err, "attachment")
	})
	post(s, work.MaySettle, "/settled", "A contradiction stands", func(ctx context.Context, in *Keyed[morning.Settlement]) (*body[work.Receipt], error) {
		return answer(morning.Settle(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MaySettleStudent, "/students/settled", "Somebody knows where students are", func(ctx context.Context, in *Keyed[morning.Where]) (*body[work.Receipt], error) {
		return answer(morning.SettleStudents(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MaySettleRegister, "/registers/settled", "Why a register of an earlier day was never sent", func(ctx context.Context, in *Keyed[morning.NeverSent]) (*body[work.Receipt], error) {
		return answer(morning.SettleRegister(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayTakeBack, "/entries/{id}/back", "Take back what was just done", func(ctx context.Context, in *KeyedByID[ids.Entry]) (*body[work.Receipt], error) {
		return answer(takeback.Entry(ctx, s.office, person(ctx), in.Key, in.ID))
	})
	get(s, work.MaySeeNotices, "/notices", "The notices that hold on a day", func(ctx context.Context, in *LookedIn) (*body[[]todaypage.NoticeView], error) {
		return answer(todaypage.ShowNotices(ctx, s.office, in.At, in.scope()...))
	})
	post(s, work.MayReadNotice, "/notices/read", "What a notice would do", func(ctx context.Context, in *struct{ Body home.Notice }) (*body[todaypage.NoticePreview], error) {
		return answer(todaypage.PreviewNotice(ctx, s.office, in.Body))
	})
	post(s, work.MayNotify, "/notices", "Save a message from home", func(ctx context.Context, in *Keyed[home.Notice]) (*body[work.Receipt], error) {
		return answer(home.Notify(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayWithdrawNotice, "/notices/{id}/withdraw", "Withdraw a notice", func(ctx context.Context, in *KeyedByID[ids.Notice]) (*body[work.Receipt], error) {
		return answer(home.WithdrawNotice(ctx, s.office, person(ctx), in.Key, in.ID))
	})
	post(s, work.MayCall, "/calls", "Log a call home", func(ctx context.Context, in *Keyed[home.Call]) (*body[work.Receipt], error) {
		return answer(home.LogCall(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayReadTexts, "/messages/homes/read", "What a text to homes would be", func(ctx context.Context, in *struct{ Body home.HomeText }) (*body[todaypage.TextPreview], error) {
		return answer(todaypage.PreviewTexts(ctx, s.office, person(ctx), in.Body))
	})
	post(s, work.MayTextHomes, "/messages/homes", "Write to the homes of students", func(ctx context.Context, in *Keyed[home.HomeText]) (*body[work.Receipt], error) {
		return answer(home.TextHomes(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayReadAnswer, "/messages/{id}/read", "An answer says no reason", func(ctx context.Context, in *KeyedByID[ids.Message]) (*body[work.Receipt], error) {
		return answer(home.ReadAnswer(ctx, s.office, person(ctx), in.Key, in.ID))
	})
	post(s, work.MayHold, "/holds", "Do not ring these homes until a time", func(ctx context.Context, in *Keyed[home.NewHold]) (*body[work.Receipt], error) {
		return answer(home.Hold(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayEndHold, "/holds/{id}/end", "Ring held homes after all", func(ctx context.Context, in *KeyedByID[ids.Hold]) (*body[work.Receipt], error) {
		return answer(home.EndHold(ctx, s.office, person(ctx), in.Key, in.ID))
	})
	post(s, work.MayStartSearch, "/searches", "Begin a search", func(ctx context.Context, in *Keyed[morning.NewSearch]) (*body[work.Receipt], error) {
		return answer(morning.StartSearch(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayEndSearch, "/searches/end", "End a search", func(ctx context.Context, in *Keyed[morning.SearchEnd]) (*body[work.Receipt], error) {
		return answer(morning.EndSearch(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayStartFetch, "/fetches", "A student is to be collected", func(ctx context.Context, in *Keyed[home.NewFetch]) (*body[work.Receipt], error) {
		return answer(home.StartFetch(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayEndFetch, "/fetches/{id}/end", "A student stays after all", func(ctx context.Context, in *KeyedByID[ids.Fetch]) (*body[work.Receipt], error) {
		return answer(home.EndFetch(ctx, s.office, person(ctx), in.Key, in.ID))
	})
	get(s, work.MaySeeTasks, "/tasks", "What the office has to put right", func(ctx context.Context, in *Scoped) (*body[[]todaypage.Task], error) {
		return answer(todaypage.ShowTasks(ctx, s.office, in.scope()...))
	})
	post(s, work.MayResolveNumber, "/calls/{id}/mended", "A wrong number was dealt with", func(ctx context.Context, in *struct {
		ID ids.Call `path:"id"`
		Keyed[home.Resolution]
	}) (*body[work.Receipt], error) {
		return answer(home.ResolveNumber(ctx, s.office, person(ctx), in.Key, in.ID, in.Body))
	})
	get(s, work.MaySeeUnexplained, "/unexplained", "Absences without a reason", func(ctx context.Context, in *LookedIn) (*body[todaypage.UnexplainedView], error) {
		return answer(todaypage.ShowUnexplained(ctx, s.office, in.At, in.scope()...))
	})
	post(s, work.MayClose, "/safe-arrival/close", "Close safe arrival", func(ctx context.Context, in *Keyed[morning.Closing]) (*body[work.Receipt], error) {
		return answer(morning.Close(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayReopen, "/safe-arrival/reopen", "Open safe arrival again", func(ctx context.Context, in *Keyed[morning.Reopening]) (*body[work.Receipt], error) {
		return answer(morning.Reopen(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	get(s, work.MaySeeProtocol, "/safe-arrival/protocol", "The record of a morning", func(ctx context.Context, in *LookedIn) (*body[todaypage.Protocol], error) {
		return answer(todaypage.ShowProtocol(ctx, s.office, in.At, in.scope()...))
	})
}
