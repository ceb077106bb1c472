package web

import (
	"context"

	"meldung/core/ids"
	"meldung/held"
	"meldung/pages/calendarpage"
	"meldung/pages/frame"
	"meldung/work"
	"meldung/work/quick"
	"meldung/work/views"
)

func (s *server) frameRoutes() {
	get(s, work.MaySeeRail, "/rail", "The day rail", func(ctx context.Context, in *LookedIn) (*body[frame.RailView], error) {
		return answer(frame.ShowRail(ctx, s.office, in.At, in.scope()...))
	})
	get(s, work.MaySeeSettings, "/settings", "What the school has decided", func(_ context.Context, in *Scoped) (*body[held.Settings], error) {
		return answer(s.office.Settings(in.scope()...), nil)
	})
	get(s, work.MayFind, "/find", "Students by name, number, card or contact", func(ctx context.Context, in *struct {
		LookedAt
		Query string `query:"q" maxLength:"100"`
	}) (*body[[]frame.FoundStudent], error) {
		return answer(frame.FindStudents(ctx, s.office, person(ctx), in.Query, in.At, 8))
	})
	get(s, work.MayAskHelp, "/help", "The pages that answer a question", func(ctx context.Context, in *struct {
		Question string `query:"q" maxLength:"200" required:"true"`
	}) (*body[[]frame.HelpAnswer], error) {
		return answer(frame.Help(person(ctx), in.Question), nil)
	})
	get(s, work.MaySeePins, "/pins", "The pages that the person has put first", func(ctx context.Context, _ *struct{}) (*body[[]views.PinRef], error) {
		return answer(views.Pins(ctx, s.office, person(ctx)))
	})
	post(s, work.MayPin, "/pins", "Put a page first", func(ctx context.Context, in *Keyed[views.Pinned]) (*body[work.Receipt], error) {
		return answer(views.Pin(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayUnpin, "/pins/{pin}/end", "Have a page first no more", func(ctx context.Context, in *struct {
		Key string  `header:"Idempotency-Key" minLength:"8" maxLength:"100"`
		Pin ids.Pin `path:"pin"`
	}) (*body[work.Receipt], error) {
		return answer(views.Unpin(ctx, s.office, person(ctx), in.Key, in.Pin))
	})
	get(s, work.MayKeepCalendar, "/calendar/file", "Terms, closed days, reviews and meetings for a calendar", func(ctx context.Context, _ *struct{}) (*fileBody, error) {
		f, err := calendarpage.File(ctx, s.office, person(ctx))
		return answerFile(f, err, "attachment")
	})
	post(s, work.MayReadQuick, "/quick/read", "What a quick line would do", func(ctx context.Context, in *struct{ Body quick.QuickLine }) (*body[frame.QuickView], error) {
		return answer(frame.PreviewQuick(ctx, s.office, person(ctx), in.Body))
	})
	post(s, work.MayDoQuick, "/quick", "Do what a quick line says", func(ctx context.Context, in *Keyed[quick.QuickLine]) (*body[work.Receipt], error) {
		return answer(quick.Do(ctx, s.office, person(ctx), in.Key, in.Body))
	})
}
