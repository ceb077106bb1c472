package web

import (
	"context"

	"meldung/work"
)

// SentRegister is a whole register as its taker left it.
type SentRegister struct {
	Date  string          `json:"date"`
	Class int64           `json:"class"`
	Slot  string          `json:"slot"`
	Marks []work.SentMark `json:"marks"`
}

// Settlement says that a contradiction stands.
type Settlement struct {
	Student int64  `json:"student"`
	Slot    string `json:"slot"`
	Kind    string `json:"kind"`
	Note    string `json:"note,omitempty"`
}

// QuickLine is what stands in the quick line.
type QuickLine struct {
	Text   string  `json:"text" maxLength:"200"`
	Chosen []int64 `json:"chosen,omitempty" doc:"Students chosen from the list; empty lets the name decide"`
}

// SeenNotes names messages that were seen.
type SeenNotes struct {
	IDs []int64 `json:"ids" minItems:"1" maxItems:"100"`
}

type nothing struct{}

// KeyedByID is a write to something that exists.
type KeyedByID struct {
	ID int64 `path:"id"`
	Keyed[nothing]
}

func (s *server) workRoutes() {
	post(s, "send-register", "/registers", "Send a register", func(ctx context.Context, in *Keyed[SentRegister]) (*body[work.Receipt], error) {
		return answer(s.office.SendRegister(ctx, person(ctx), in.Key, in.Body.Date, in.Body.Class, in.Body.Slot, in.Body.Marks))
	})
	post(s, "draft-register", "/registers/draft", "Share marks of a register that is not sent yet", func(ctx context.Context, in *Keyed[work.Drafts]) (*body[work.DraftReceipt], error) {
		return answer(s.office.DraftRegister(ctx, person(ctx), in.Key, in.Body))
	})
	post(s, "seat", "/seats", "Change a seating plan", func(ctx context.Context, in *Keyed[work.Seat]) (*body[work.Receipt], error) {
		return answer(s.office.SeatStudent(ctx, person(ctx), in.Key, in.Body))
	})
	post(s, "correct", "/corrections", "Correct a mark", func(ctx context.Context, in *Keyed[work.Correction]) (*body[work.Receipt], error) {
		return answer(s.office.Correct(ctx, person(ctx), in.Key, in.Body))
	})
	post(s, "move", "/movements", "Students arriving or leaving", func(ctx context.Context, in *Keyed[work.Movement]) (*body[work.Receipt], error) {
		return answer(s.office.Move(ctx, person(ctx), in.Key, in.Body))
	})
	post(s, "undo-movement", "/movements/{id}/undo", "Take a movement back", func(ctx context.Context, in *KeyedByID) (*body[work.Receipt], error) {
		return answer(s.office.UndoMovement(ctx, person(ctx), in.Key, in.ID))
	})
	post(s, "name-stand-in", "/stand-ins", "Name a stand-in", func(ctx context.Context, in *Keyed[work.NewStandIn]) (*body[work.Receipt], error) {
		return answer(s.office.NameStandIn(ctx, person(ctx), in.Key, in.Body))
	})
	post(s, "end-stand-in", "/stand-ins/{id}/end", "End a stand-in", func(ctx context.Context, in *KeyedByID) (*body[work.Receipt], error) {
		return answer(s.office.EndStandIn(ctx, person(ctx), in.Key, in.ID))
	})
	post(s, "add-reason", "/reasons", "Add a reason", func(ctx context.Context, in *Keyed[work.Reason]) (*body[work.Receipt], error) {
		return answer(s.office.AddReason(ctx, person(ctx), in.Key, in.Body))
	})
	post(s, "read-quick", "/quick/read", "What a quick line would do", func(ctx context.Context, in *struct{ Body QuickLine }) (*body[work.QuickView], error) {
		return answer(s.office.ReadQuick(ctx, person(ctx), in.Body.Text, in.Body.Chosen))
	})
	post(s, "do-quick", "/quick", "Do what a quick line says", func(ctx context.Context, in *Keyed[QuickLine]) (*body[work.Receipt], error) {
		return answer(s.office.DoQuick(ctx, person(ctx), in.Key, in.Body.Text, in.Body.Chosen))
	})
	post(s, "settle", "/settled", "A contradiction stands", func(ctx context.Context, in *Keyed[Settlement]) (*body[work.Receipt], error) {
		return answer(s.office.Settle(ctx, person(ctx), in.Key, in.Body.Student, in.Body.Slot, in.Body.Kind, in.Body.Note))
	})
	post(s, "write-to-students", "/messages/students", "Write to students of a register", func(ctx context.Context, in *Keyed[work.StudentMessage]) (*body[work.Receipt], error) {
		return answer(s.office.WriteToStudents(ctx, person(ctx), in.Key, in.Body))
	})
	post(s, "resend-message", "/messages/{id}/again", "Send a message once more", func(ctx context.Context, in *KeyedByID) (*body[work.Receipt], error) {
		return answer(s.office.Resend(ctx, person(ctx), in.Key, in.ID))
	})
	post(s, "see-notes", "/notes/seen", "Say that notes were seen", func(ctx context.Context, in *Keyed[SeenNotes]) (*body[work.Receipt], error) {
		return answer(s.office.SeeNotes(ctx, person(ctx), in.Key, in.Body.IDs))
	})
	post(s, "send-message", "/messages", "Write to a class's teachers", func(ctx context.Context, in *Keyed[work.Message]) (*body[work.Receipt], error) {
		return answer(s.office.Send(ctx, person(ctx), in.Key, in.Body))
	})
}
