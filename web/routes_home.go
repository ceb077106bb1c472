package web

import (
	"context"

	"meldung/work"
)

// Reopening says why safe arrival is opened again.
type Reopening struct {
	Reason string `json:"reason" maxLength:"200"`
}

// Mending says how a wrong number was dealt with.
type Mending struct {
	Note string `json:"note,omitempty" maxLength:"200"`
}

// homeRoutes are what is said with homes: notices, calls, texts, and what they lead to.
func (s *server) homeRoutes() {
	get(s, "notices", "/notices", "The notices that hold on a day", func(ctx context.Context, in *LookedAt) (*body[[]work.NoticeView], error) {
		return answer(s.office.Notices(ctx, in.At))
	})
	post(s, "read-notice", "/notices/read", "What a notice would do", func(ctx context.Context, in *struct{ Body work.Notice }) (*body[work.NoticePreview], error) {
		return answer(s.office.ReadNotice(ctx, in.Body))
	})
	post(s, "notify", "/notices", "Note what home says", func(ctx context.Context, in *Keyed[work.Notice]) (*body[work.Receipt], error) {
		return answer(s.office.Notify(ctx, person(ctx), in.Key, in.Body))
	})
	post(s, "withdraw-notice", "/notices/{id}/withdraw", "Withdraw a notice", func(ctx context.Context, in *KeyedByID) (*body[work.Receipt], error) {
		return answer(s.office.WithdrawNotice(ctx, person(ctx), in.Key, in.ID))
	})
	post(s, "call", "/calls", "Log a call home", func(ctx context.Context, in *Keyed[work.Call]) (*body[work.Receipt], error) {
		return answer(s.office.LogCall(ctx, person(ctx), in.Key, in.Body))
	})
	post(s, "text-homes", "/messages/homes", "Write to the homes of students", func(ctx context.Context, in *Keyed[work.HomeText]) (*body[work.Receipt], error) {
		return answer(s.office.TextHomes(ctx, person(ctx), in.Key, in.Body))
	})
	post(s, "read-answer", "/messages/{id}/read", "An answer says no reason", func(ctx context.Context, in *KeyedByID) (*body[work.Receipt], error) {
		return answer(s.office.ReadAnswer(ctx, person(ctx), in.Key, in.ID))
	})
	post(s, "hold", "/holds", "Do not ring these homes until a time", func(ctx context.Context, in *Keyed[work.NewHold]) (*body[work.Receipt], error) {
		return answer(s.office.Hold(ctx, person(ctx), in.Key, in.Body))
	})
	post(s, "end-hold", "/holds/{id}/end", "Ring held homes after all", func(ctx context.Context, in *KeyedByID) (*body[work.Receipt], error) {
		return answer(s.office.EndHold(ctx, person(ctx), in.Key, in.ID))
	})
	post(s, "start-search", "/searches", "Begin a search", func(ctx context.Context, in *Keyed[work.NewSearch]) (*body[work.Receipt], error) {
		return answer(s.office.StartSearch(ctx, person(ctx), in.Key, in.Body))
	})
	post(s, "find-search", "/searches/end", "End a search", func(ctx context.Context, in *Keyed[work.SearchEnd]) (*body[work.Receipt], error) {
		return answer(s.office.EndSearch(ctx, person(ctx), in.Key, in.Body))
	})
	post(s, "start-fetch", "/fetches", "A student is to be fetched", func(ctx context.Context, in *Keyed[work.NewFetch]) (*body[work.Receipt], error) {
		return answer(s.office.StartFetch(ctx, person(ctx), in.Key, in.Body))
	})
	post(s, "end-fetch", "/fetches/{id}/end", "A student stays after all", func(ctx context.Context, in *KeyedByID) (*body[work.Receipt], error) {
		return answer(s.office.EndFetch(ctx, person(ctx), in.Key, in.ID))
	})
	get(s, "tasks", "/tasks", "What the office has to mend", func(ctx context.Context, _ *struct{}) (*body[[]work.Task], error) {
		return answer(s.office.Tasks(ctx))
	})
	post(s, "mend", "/calls/{id}/mended", "A wrong number was dealt with", func(ctx context.Context, in *struct {
		ID int64 `path:"id"`
		Keyed[Mending]
	}) (*body[work.Receipt], error) {
		return answer(s.office.Mend(ctx, person(ctx), in.Key, in.ID, in.Body.Note))
	})
	get(s, "unexplained", "/unexplained", "Absences without a reason", func(ctx context.Context, in *LookedAt) (*body[work.UnexplainedView], error) {
		return answer(s.office.Unexplained(ctx, in.At))
	})
	post(s, "close-safe-arrival", "/safe-arrival/close", "Close safe arrival", func(ctx context.Context, in *Keyed[nothing]) (*body[work.Receipt], error) {
		return answer(s.office.CloseSafeArrival(ctx, person(ctx), in.Key))
	})
	post(s, "reopen-safe-arrival", "/safe-arrival/reopen", "Open safe arrival again", func(ctx context.Context, in *Keyed[Reopening]) (*body[work.Receipt], error) {
		return answer(s.office.ReopenSafeArrival(ctx, person(ctx), in.Key, in.Body.Reason))
	})
	get(s, "protocol", "/safe-arrival/protocol", "The record of a morning", func(ctx context.Context, in *LookedAt) (*body[work.Protocol], error) {
		return answer(s.office.SafeArrivalProtocol(ctx, in.At))
	})
}
