package web

import (
	"context"

	"meldung/work"
)

// PassNumber names a pass by its number, as typed or scanned.
type PassNumber struct {
	Number string `path:"number" maxLength:"30"`
}

// deskRoutes are what comes of movements: passes.
func (s *server) deskRoutes() {
	get(s, "reason-kinds", "/reasons/kinds", "What a new reason may mean", func(ctx context.Context, _ *struct{}) (*body[[]work.ReasonKind], error) {
		return answer(s.office.ReasonKinds(ctx))
	})
	post(s, "make-pass", "/movements/{id}/pass", "Make a pass", func(ctx context.Context, in *KeyedByID) (*body[work.PassView], error) {
		return answer(s.office.MakePass(ctx, person(ctx), in.Key, in.ID))
	})
	get(s, "pass", "/passes/{number}", "What a pass is worth", func(ctx context.Context, in *PassNumber) (*body[work.PassView], error) {
		return answer(s.office.Pass(ctx, person(ctx), in.Number))
	})
	post(s, "return-pass", "/passes/{number}/return", "A pass came back", func(ctx context.Context, in *struct {
		PassNumber
		Keyed[nothing]
	}) (*body[work.Receipt], error) {
		return answer(s.office.ReturnPass(ctx, person(ctx), in.Key, in.Number))
	})
}
