package web

import (
	"context"

	"meldung/core/ids"
	"meldung/pages/todaypage"
	"meldung/work"
	"meldung/work/messages"
)

func (s *server) messageRoutes() {
	get(s, work.MaySeeNotes, "/notes", "What the office wants of whoever is signed in", func(ctx context.Context, _ *struct{}) (*body[[]todaypage.MessageView], error) {
		return answer(todaypage.ShowNotes(ctx, s.office, person(ctx)))
	})
	get(s, work.MaySeeOutbox, "/outbox", "What went out", func(ctx context.Context, in *LookedIn) (*body[[]todaypage.MessageView], error) {
		return answer(todaypage.ShowOutbox(ctx, s.office, person(ctx), in.At, in.scope()...))
	})
	post(s, work.MayWriteToClass, "/messages/students", "Write to students of a register", func(ctx context.Context, in *Keyed[messages.StudentMessage]) (*body[work.Receipt], error) {
		return answer(messages.WriteToStudents(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayResend, "/messages/{id}/again", "Send a message once more", func(ctx context.Context, in *KeyedByID[ids.Message]) (*body[work.Receipt], error) {
		return answer(messages.Resend(ctx, s.office, person(ctx), in.Key, in.ID))
	})
	post(s, work.MayMarkNotes, "/notes/seen", "Say that notes were seen", func(ctx context.Context, in *Keyed[messages.SeenNotes]) (*body[work.Receipt], error) {
		return answer(messages.SeeNotes(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MaySendMessage, "/messages", "Write to a class's teachers", func(ctx context.Context, in *Keyed[messages.Message]) (*body[work.Receipt], error) {
		return answer(messages.Send(ctx, s.office, person(ctx), in.Key, in.Body))
	})
}
