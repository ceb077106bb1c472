package web

import (
	"context"

	"meldung/core/ids"
	"meldung/pages/deskpage"
	"meldung/pages/paperpage"
	"meldung/pages/studentpage"
	"meldung/work"
	"meldung/work/school"
)

// LatesAsked is which late arrivals and early departures are listed.
type LatesAsked struct {
	LookedIn
	From string `query:"from" maxLength:"10" doc:"First date; empty is Monday"`
	To   string `query:"to" maxLength:"10" doc:"Last date; empty is today"`
	Grouped
	Kind string `query:"kind" maxLength:"40" doc:"A kind in words; empty is all"`
}

func (a LatesAsked) ask() paperpage.LatesAsk {
	return paperpage.LatesAsk{From: a.From, To: a.To, Group: a.Group, Kind: a.Kind}
}

// Picture is a PNG or JPEG; empty takes it away.
type Picture struct {
	Picture []byte `json:"picture" doc:"base64"`
}

// paperRoutes are lists and papers to keep or print.
func (s *server) paperRoutes() {
	get(s, work.MaySeeLates, "/lates", "Late arrivals and early departures", func(ctx context.Context, in *struct {
		LatesAsked
		Page int `query:"page" minimum:"1" maximum:"100000" default:"1"`
	}) (*body[paperpage.LatesView], error) {
		ask := in.ask()
		ask.Page = in.Page
		return answer(paperpage.ShowLates(ctx, s.office, in.At, ask, in.scope()...))
	})
	get(s, work.MayKeepLates, "/lates/file", "Late arrivals and early departures as a file", func(ctx context.Context, in *struct {
		LatesAsked
		Format string `query:"format" enum:"csv,xlsx" required:"true"`
	}) (*fileBody, error) {
		f, err := paperpage.LatesFile(ctx, s.office, in.At, in.ask(), in.Format, in.scope()...)
		return answerFile(f, err, "attachment")
	})
	get(s, work.MayPrintPass, "/passes/{number}/sheet", "A pass to print", func(ctx context.Context, in *struct {
		PassNumber
		Stock string `query:"stock" enum:"leaf,thermal" default:"leaf"`
	}) (*fileBody, error) {
		f, err := deskpage.PassSheet(ctx, s.office, in.Number, in.Stock)
		return answerFile(f, err, "inline")
	})
	get(s, work.MayPrintCards, "/cards", "Students' cards to print", func(ctx context.Context, in *struct {
		Scoped
		Grouped
		Symbol string `query:"symbol" enum:"code39,qr" default:"code39"`
		Sheets bool   `query:"sheets" doc:"Many on a sheet, else one a page"`
	}) (*fileBody, error) {
		f, err := paperpage.CardSheets(ctx, s.office, paperpage.CardsAsk{Group: in.Group, Symbol: in.Symbol, Sheets: in.Sheets}, in.scope()...)
		return answerFile(f, err, "inline")
	})
	get(s, work.MaySeePhoto, "/students/{id}/photo", "A student's photo", func(ctx context.Context, in *struct {
		ID ids.Student `path:"id"`
	}) (*fileBody, error) {
		f, err := studentpage.Photo(ctx, s.office, person(ctx), in.ID)
		return answerFile(f, err, "inline")
	})
	post(s, work.MaySetPhoto, "/students/{id}/photo", "Keep a student's photo", func(ctx context.Context, in *struct {
		ID ids.Student `path:"id"`
		Keyed[Picture]
	}) (*body[work.Receipt], error) {
		return answer(school.SetPhoto(ctx, s.office, person(ctx), in.Key, in.ID, in.Body.Picture))
	})
	post(s, work.MaySetEmblem, "/school/mark", "Keep the school's logo", func(ctx context.Context, in *Keyed[Picture]) (*body[work.Receipt], error) {
		return answer(school.SetEmblem(ctx, s.office, person(ctx), in.Key, in.Body.Picture))
	})
}
