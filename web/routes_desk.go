package web

import (
	"context"
	"fmt"

	"meldung/core/ids"
	"meldung/held"
	"meldung/pages/deskpage"
	"meldung/pages/studentpage"
	"meldung/work"
	"meldung/work/contacts"
	"meldung/work/desk"
	"meldung/work/school"
)

// PassNumber names a pass by its number, as typed or scanned.
type PassNumber struct {
	Number string `path:"number" maxLength:"30"`
}

// deskRoutes are the desk's day, movements and what comes of them: passes.

func (s *server) deskRoutes() {
	get(s, work.MaySeeDesk, "/desk", "The desk's day", func(ctx context.Context, in *LookedIn) (*body[deskpage.DeskView], error) {
		return answer(deskpage.Show(ctx, s.office, in.At, in.scope()...))
	})
	post(s, work.MayMove, "/movements", "Students arriving or leaving", func(ctx context.Context, in *Keyed[desk.Movement]) (*body[work.Receipt], error) {
		return answer(desk.Move(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MaySetContacts, "/contacts", "Add a contact of a student, or change one", func(ctx context.Context, in *Keyed[contacts.Contact]) (*body[work.Receipt], error) {
		return answer(contacts.Set(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MaySetWarning, "/warnings", "Add a warning of a student, or change one", func(ctx context.Context, in *Keyed[contacts.Warning]) (*body[work.Receipt], error) {
		return answer(contacts.SetWarning(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayEndWarning, "/warnings/end", "A warning holds no longer", func(ctx context.Context, in *Keyed[contacts.WarningEnd]) (*body[work.Receipt], error) {
		return answer(contacts.EndWarning(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	get(s, work.MaySeeDocument, "/students/{id}/warnings/{warning}/document", "What a warning goes by", func(ctx context.Context, in *struct {
		ID      ids.Student `path:"id"`
		Warning ids.Warning `path:"warning"`
	}) (*fileBody, error) {
		f, err := studentpage.Document(ctx, s.office, person(ctx), in.ID, in.Warning)
		return answerFile(f, err, "inline")
	})
	post(s, work.MayEndContact, "/contacts/end", "Somebody is no contact of a student any more", func(ctx context.Context, in *Keyed[contacts.Ending]) (*body[work.Receipt], error) {
		return answer(contacts.End(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayAmendMovement, "/movements/{id}/amend", "Add what was forgotten to a movement", func(ctx context.Context, in *struct {
		ID ids.Movement `path:"id"`
		Keyed[desk.Amendment]
	}) (*body[work.Receipt], error) {
		return answer(desk.Amend(ctx, s.office, person(ctx), in.Key, in.ID, in.Body))
	})
	post(s, work.MayUndoMovement, "/movements/{id}/undo", "Take a movement back", func(ctx context.Context, in *KeyedByID[ids.Movement]) (*body[work.Receipt], error) {
		return answer(desk.UndoMovement(ctx, s.office, person(ctx), in.Key, in.ID))
	})
	post(s, work.MayAddReason, "/reasons", "Add a reason", func(ctx context.Context, in *Keyed[held.Reason]) (*body[work.Receipt], error) {
		return answer(school.AddReason(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	get(s, work.MaySeeReasonKinds, "/reasons/kinds", "What a new reason may mean", func(ctx context.Context, _ *struct{}) (*body[[]deskpage.ReasonKind], error) {
		return answer(deskpage.ReasonKinds(ctx, s.office))
	})
	post(s, work.MayMakePass, "/movements/{id}/pass", "Make a pass", func(ctx context.Context, in *KeyedByID[ids.Movement]) (*body[deskpage.PassView], error) {
		made, err := desk.MakePass(ctx, s.office, person(ctx), in.Key, in.ID)
		if err != nil {
			return nil, problem(err)
		}
		return answer(deskpage.ShowPass(ctx, s.office, made.Text))
	})
	get(s, work.MaySeePass, "/passes/{number}", "What a pass is worth", func(ctx context.Context, in *PassNumber) (*body[deskpage.PassCheck], error) {
		checked, err := limited(ctx, work.NotFound, func() (deskpage.PassCheck, error) { return deskpage.CheckPass(ctx, s.office, in.Number) },
			reservation{s.passes, fmt.Sprint(person(ctx).Account), false})
		if err != nil {
			return nil, err
		}
		return &body[deskpage.PassCheck]{checked}, nil
	})
	post(s, work.MayReturnPass, "/passes/{number}/return", "A pass came back", func(ctx context.Context, in *struct {
		PassNumber
		Keyed[nothing]
	}) (*body[work.Receipt], error) {
		return answer(desk.ReturnPass(ctx, s.office, person(ctx), in.Key, in.Number))
	})
}
