package web

import (
	"context"

	"meldung/core/ids"
	"meldung/pages/registerpage"
	"meldung/work"
	"meldung/work/calendar"
	"meldung/work/plans"
	"meldung/work/registers"
)

func (s *server) registerRoutes() {
	get(s, work.MaySeeRegisters, "/registers", "A day's registers", func(ctx context.Context, in *LookedIn) (*body[registerpage.RegistersView], error) {
		return answer(registerpage.ShowAll(ctx, s.office, person(ctx), in.At, in.scope()...))
	})
	get(s, work.MaySeeRegister, "/registers/{class}/{slot}", "One register", func(ctx context.Context, in *struct {
		LookedAt
		Class ids.Class `path:"class"`
		Slot  string    `path:"slot"`
	}) (*body[registerpage.RegisterView], error) {
		return answer(registerpage.Show(ctx, s.office, person(ctx), in.Class, in.Slot, in.At))
	})
	get(s, work.MaySeeCard, "/cards/{card}", "Whose card it is", func(ctx context.Context, in *struct {
		LookedAt
		Card string `path:"card" maxLength:"60"`
	}) (*body[registerpage.CardView], error) {
		return answer(registerpage.WhoseCard(ctx, s.office, person(ctx), in.Card, in.At))
	})
	get(s, work.MaySeeStandIns, "/stand-ins", "Who covers for whom", func(ctx context.Context, in *LookedAt) (*body[registerpage.StandInsView], error) {
		return answer(registerpage.ShowStandIns(ctx, s.office, in.At))
	})
	get(s, work.MaySeeDayTimes, "/day-times", "When the slots of a date are", func(ctx context.Context, in *LookedAt) (*body[registerpage.DayTimesView], error) {
		return answer(registerpage.ShowTimes(ctx, s.office, in.At))
	})
	post(s, work.MaySetDayTimes, "/day-times", "Look at other times for a date's slots, or take them", func(ctx context.Context, in *Keyed[calendar.DayTimes]) (*body[plans.Plan], error) {
		return answer(calendar.SetDayTimes(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MaySendRegister, "/registers", "Send a register", func(ctx context.Context, in *Keyed[registers.SentRegister]) (*body[work.Receipt], error) {
		return answer(registers.Send(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayDraftRegister, "/registers/draft", "Share marks of a register that is not sent yet", func(ctx context.Context, in *Keyed[registers.Drafts]) (*body[work.DraftReceipt], error) {
		return answer(registers.Draft(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MaySeat, "/seats", "Change a seating plan", func(ctx context.Context, in *Keyed[registers.Seat]) (*body[work.Receipt], error) {
		return answer(registers.SeatStudent(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayMakeUp, "/made-up", "Excuse what was made up later", func(ctx context.Context, in *Keyed[registers.MadeUp]) (*body[work.Receipt], error) {
		return answer(registers.MakeUp(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayCorrect, "/corrections", "Correct a mark", func(ctx context.Context, in *Keyed[registers.Correction]) (*body[work.Receipt], error) {
		return answer(registers.Correct(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayNameStandIn, "/stand-ins", "Name a cover", func(ctx context.Context, in *Keyed[registers.NewStandIn]) (*body[work.Receipt], error) {
		return answer(registers.NameStandIn(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayEndStandIn, "/stand-ins/{id}/end", "End a cover", func(ctx context.Context, in *KeyedByID[ids.StandIn]) (*body[work.Receipt], error) {
		return answer(registers.EndStandIn(ctx, s.office, person(ctx), in.Key, in.ID))
	})
}
