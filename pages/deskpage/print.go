package deskpage

import (
	"context"

	"meldung/files/paper"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
	"meldung/work/school"
)

// PassSheet is a pass as PDF, for a printer of leaves or, for "thermal", of rolls.
func PassSheet(ctx context.Context, o *work.Office, number, stock string) (pages.File, error) {
	pass, err := ShowPass(ctx, o, number)
	if err != nil {
		return pages.File{}, err
	}
	if pass.State != "good" {
		return pages.File{}, work.Refusedf("%s It is not printed again.", pass.Text)
	}
	emblem, err := school.Emblem(ctx, o)
	if err != nil {
		return pages.File{}, err
	}
	photo, err := store.Photo(ctx, o.Store().Read(), pass.Student.ID)
	if err != nil {
		return pages.File{}, err
	}
	out := paper.Pass{School: pass.School, Emblem: emblem, Photo: photo, Name: pass.Student.Name, Form: pass.Student.Form + " · " + pass.Student.Number, Number: pass.Number, Code: pass.Code, Title: "Late pass"}
	when := paper.Fact{Label: "In at", Text: pass.At + ", " + pass.Day}
	if pass.Kind == work.Departed {
		out.Title, when.Label = "Leave pass", "Left at"
	}
	out.Facts = append(out.Facts, when)
	for _, f := range []paper.Fact{{Label: "Because", Text: pass.Reason}, {Label: "Back by", Text: pass.Returns}, {Label: "Collected by", Text: pass.Collector}, {Label: "Note", Text: pass.Note}, {Label: "Made", Text: pass.Made}} {
		if f.Text != "" {
			out.Facts = append(out.Facts, f)
		}
	}
	for _, l := range pass.Lessons {
		out.Lessons = append(out.Lessons, paper.Lesson{At: l.At, Text: l.Label + " · " + l.Class, Who: work.Join(", ", l.Teacher, l.Room)})
	}
	kind := paper.A6
	if stock == "thermal" {
		kind = paper.Thermal
	}
	content, err := out.PDF(kind)
	return pages.File{Name: "pass-" + pass.Number + ".pdf", Type: pages.PDF, Content: content}, err
}
