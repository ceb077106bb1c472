package web

import (
	"context"

	"meldung/core/ids"
	"meldung/pages"
	"meldung/pages/paperpage"
	"meldung/work"
	"meldung/work/paperlists"
	"meldung/work/school"
)

// paperListRoutes are lists shaped as they are printed.
func (s *server) paperListRoutes() {
	get(s, work.MaySeePapers, "/papers", "Lists that the person has, and what lists are made from", func(ctx context.Context, in *LookedIn) (*body[paperpage.PapersView], error) {
		return answer(paperpage.Papers(ctx, s.office, person(ctx), s.options.Printer, in.At, in.scope()...))
	})
	get(s, work.MaySeePaperList, "/papers/{list}", "How a list is shaped, with the versions before", func(ctx context.Context, in *struct {
		List ids.PaperList `path:"list"`
	}) (*body[paperpage.PaperView], error) {
		return answer(paperpage.OnePaper(ctx, s.office, person(ctx), in.List))
	})
	get(s, work.MayRunPaper, "/papers/{list}/file", "A list on the data of now, as a file", func(ctx context.Context, in *struct {
		LookedIn
		List   ids.PaperList `path:"list"`
		Format string        `query:"format" enum:"pdf,csv,xlsx" required:"true"`
	}) (*fileBody, error) {
		f, err := paperpage.Run(ctx, s.office, person(ctx), in.At, in.List, in.Format, in.scope()...)
		return answerFile(f, err, map[bool]string{true: "inline", false: "attachment"}[in.Format == "pdf"])
	})
	get(s, work.MaySeeMark, "/mark", "The school's mark as PNG", func(ctx context.Context, _ *struct{}) (*fileBody, error) {
		mark, err := school.Emblem(ctx, s.office)
		if err == nil && len(mark) == 0 {
			err = work.NotFoundf("the school has no mark")
		}
		return answerFile(pages.File{Name: "mark.png", Type: "image/png", Content: mark}, err, "inline")
	})
	post(s, work.MayLookAtPaper, "/papers/look", "A list on its way, a page as it would be printed", func(ctx context.Context, in *struct{ Body PaperAsked[paperpage.LookAsk] }) (*body[paperpage.PaperLook], error) {
		return answer(paperpage.LookAt(ctx, s.office, person(ctx), in.Body.At, in.Body.Of, in.Body.Section...))
	})
	post(s, work.MayMakePaper, "/papers/file", "A list on its way, as a file", func(ctx context.Context, in *struct{ Body PaperAsked[paperpage.MakeAsk] }) (*fileBody, error) {
		f, err := paperpage.Make(ctx, s.office, person(ctx), in.Body.At, in.Body.Of, in.Body.Section...)
		return answerFile(f, err, "attachment")
	})
	post(s, work.MaySavePaper, "/papers", "Save a list under a name", func(ctx context.Context, in *Keyed[paperlists.Saved]) (*body[work.Receipt], error) {
		return answer(paperlists.Save(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MaySharePaper, "/papers/share", "Share a list with named colleagues", func(ctx context.Context, in *Keyed[paperlists.Sharing]) (*body[work.Receipt], error) {
		return answer(paperlists.Share(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayEndPaper, "/papers/{list}/end", "Take a list away", func(ctx context.Context, in *struct {
		Key  string        `header:"Idempotency-Key" minLength:"8" maxLength:"100"`
		List ids.PaperList `path:"list"`
	}) (*body[work.Receipt], error) {
		return answer(paperlists.End(ctx, s.office, person(ctx), in.Key, in.List))
	})
}

// paperJobRoutes are lists that are made without being asked for, and what is on its way to the printer.
func (s *server) paperJobRoutes() {
	post(s, work.MayPlanPaper, "/papers/plans", "Have a list made without being asked for", func(ctx context.Context, in *Keyed[paperlists.Planned]) (*body[work.Receipt], error) {
		line := map[string]string{paperlists.ToPrinter: s.options.Lines.Printer, paperlists.ByEMail: s.options.Lines.EMail}[in.Body.Way]
		if line == NoLine {
			return answer(work.Receipt{}, work.Conflictf("nothing is set up by which it could go; nothing was saved"))
		}
		return answer(paperlists.Plan(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayEndPaperPlan, "/papers/plans/{plan}/end", "Have a list made no more", func(ctx context.Context, in *struct {
		Key  string        `header:"Idempotency-Key" minLength:"8" maxLength:"100"`
		Plan ids.PaperPlan `path:"plan"`
	}) (*body[work.Receipt], error) {
		return answer(paperlists.EndPlan(ctx, s.office, person(ctx), in.Key, in.Plan))
	})
	post(s, work.MaySendToPrinter, "/papers/{list}/print", "Give a list to the printer", func(ctx context.Context, in *struct {
		Key  string        `header:"Idempotency-Key" minLength:"8" maxLength:"100"`
		List ids.PaperList `path:"list"`
		Body struct {
			Section []ids.Section `json:"section,omitempty" maxItems:"50"`
		}
	}) (*body[work.Receipt], error) {
		if s.options.Printer == nil {
			return answer(work.Receipt{}, work.Conflictf("no printer is set up; nothing was printed"))
		}
		return answer(paperlists.Print(ctx, s.office, person(ctx), in.Key, in.List, in.Body.Section))
	})
	get(s, work.MaySeePrinted, "/papers/printed/{job}", "A page that lies in the printer's folder still", func(ctx context.Context, in *struct {
		Job ids.PaperJob `path:"job"`
	}) (*fileBody, error) {
		f, err := paperpage.PrintedPaper(ctx, s.office, person(ctx), s.options.Printer, in.Job)
		return answerFile(f, err, "inline")
	})
}

// PaperAsked is a list on its way, of when and of which sections.
type PaperAsked[T any] struct {
	At      string        `json:"at,omitempty" maxLength:"16"`
	Section []ids.Section `json:"section,omitempty" maxItems:"50"`
	Of      T             `json:"of"`
}
