package web

import (
	"context"

	"meldung/work"
)

// LatesAsked is which late arrivals and early departures are listed.
type LatesAsked struct {
	LookedAt
	From  string `query:"from" maxLength:"10" doc:"First date; empty is Monday"`
	To    string `query:"to" maxLength:"10" doc:"Last date; empty is today"`
	Group string `query:"group" maxLength:"100" doc:"year:NAME, class:ID or student:ID; empty is everyone"`
	Kind  string `query:"kind" maxLength:"40" doc:"A kind in words; empty is all"`
}

func (a LatesAsked) ask() work.LatesAsk {
	return work.LatesAsk{From: a.From, To: a.To, Group: a.Group, Kind: a.Kind}
}

// Picture is a PNG or JPEG; empty takes it away.
type Picture struct {
	Picture []byte `json:"picture" doc:"base64"`
}

// paperRoutes are lists and papers to keep or print.
func (s *server) paperRoutes() {
	get(s, "lates", "/lates", "Late arrivals and early departures", func(ctx context.Context, in *LatesAsked) (*body[work.LatesView], error) {
		return answer(s.office.Lates(ctx, in.At, in.ask()))
	})
	get(s, "lates-file", "/lates/file", "Late arrivals and early departures as a file", func(ctx context.Context, in *struct {
		LatesAsked
		Format string `query:"format" enum:"csv,xlsx" required:"true"`
	}) (*fileBody, error) {
		f, err := s.office.LatesFile(ctx, in.At, in.ask(), in.Format)
		return answerFile(f, err, "attachment")
	})
	get(s, "pass-sheet", "/passes/{number}/sheet", "A pass to print", func(ctx context.Context, in *struct {
		PassNumber
		Stock string `query:"stock" enum:"leaf,thermal" default:"leaf"`
	}) (*fileBody, error) {
		f, err := s.office.PassSheet(ctx, person(ctx), in.Number, in.Stock)
		return answerFile(f, err, "inline")
	})
	get(s, "card-sheets", "/cards", "Students' cards to print", func(ctx context.Context, in *struct {
		Group  string `query:"group" maxLength:"100"`
		Symbol string `query:"symbol" enum:"code39,qr" default:"code39"`
		Sheets bool   `query:"sheets" doc:"Many on a sheet, else one a page"`
	}) (*fileBody, error) {
		f, err := s.office.CardSheets(ctx, work.CardsAsk{Group: in.Group, Symbol: in.Symbol, Sheets: in.Sheets})
		return answerFile(f, err, "inline")
	})
	get(s, "photo", "/students/{id}/photo", "A student's photo", func(ctx context.Context, in *struct {
		ID int64 `path:"id"`
	}) (*fileBody, error) {
		f, err := s.office.Photo(ctx, person(ctx), in.ID)
		return answerFile(f, err, "inline")
	})
	post(s, "set-photo", "/students/{id}/photo", "Keep a student's photo", func(ctx context.Context, in *struct {
		ID int64 `path:"id"`
		Keyed[Picture]
	}) (*body[work.Receipt], error) {
		return answer(s.office.SetPhoto(ctx, person(ctx), in.Key, in.ID, in.Body.Picture))
	})
	post(s, "set-mark", "/school/mark", "Keep the school's mark", func(ctx context.Context, in *Keyed[Picture]) (*body[work.Receipt], error) {
		return answer(s.office.SetMark(ctx, person(ctx), in.Key, in.Body.Picture))
	})
}
