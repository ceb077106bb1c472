package work

import (
	"context"
	"strings"

	"meldung/files/paper"
	"meldung/store"
)

const pdfType = "application/pdf"

// MarkSetting names the school's mark, a PNG, among the settings.
const MarkSetting = "mark"

// PassSheet is a pass as PDF, for a printer of leaves or, for "thermal", of rolls.
func (o *Office) PassSheet(ctx context.Context, p Person, number, stock string) (File, error) {
	pass, err := o.Pass(ctx, p, number)
	if err != nil {
		return File{}, err
	}
	if pass.State != "good" {
		return File{}, refused("%s It is not printed again.", pass.Words)
	}
	mark, err := o.Mark(ctx)
	if err != nil {
		return File{}, err
	}
	photo, err := store.Photo(ctx, o.store.Read(), pass.Student.ID)
	if err != nil {
		return File{}, err
	}
	out := paper.Pass{School: pass.School, Mark: mark, Photo: photo, Name: pass.Student.Name, Form: pass.Student.Form + " · " + pass.Student.Number, Number: pass.Number, Code: pass.Code, Title: "Late pass"}
	when := paper.Fact{Label: "In at", Words: pass.At + ", " + pass.Day}
	if pass.Kind == "departed" {
		out.Title, when.Label = "Leave pass", "Left at"
	}
	out.Facts = append(out.Facts, when)
	for _, f := range []paper.Fact{{Label: "Because", Words: pass.Reason}, {Label: "Back by", Words: pass.Returns}, {Label: "Fetched by", Words: pass.Collector}, {Label: "Note", Words: pass.Note}, {Label: "Made", Words: pass.Made}} {
		if f.Words != "" {
			out.Facts = append(out.Facts, f)
		}
	}
	for _, l := range pass.Lessons {
		out.Lessons = append(out.Lessons, paper.Lesson{At: l.At, Words: l.Words + " · " + l.Class, Who: join(", ", l.Teacher, l.Room)})
	}
	kind := paper.A6
	if stock == "thermal" {
		kind = paper.Thermal
	}
	content, err := out.PDF(kind)
	return File{"pass-" + pass.Number + ".pdf", pdfType, content}, err
}

// CardsAsk says which cards are printed and how.
type CardsAsk struct {
	Group  string // "year:9", "class:12", "student:7"; empty is everyone
	Symbol string // "code39" or "qr"
	Sheets bool   // many on a sheet, else one a page
}

// CardSheets are students' cards as PDF, by name. A student without a card gets one with
// the number.
func (o *Office) CardSheets(_ context.Context, ask CardsAsk) (File, error) {
	var cards []paper.Card
	words := ""
	err := o.look(func(v view) error {
		today := v.o.clock.Now().Date()
		students, group, err := v.groupOf(today, ask.Group)
		if err != nil {
			return err
		}
		words = group
		sortStudents(students)
		for _, s := range students {
			code := s.Card
			if code == "" {
				code = s.Number
			}
			cards = append(cards, paper.Card{School: v.settings.Name, Name: s.Name(), Form: v.school.Form(s.ID, today), Number: s.Number, Code: code})
		}
		return nil
	})
	if err != nil {
		return File{}, err
	}
	if len(cards) == 0 {
		return File{}, notFound("nobody is in %s: there is no card to print", join(" ", "that group", words))
	}
	symbol := paper.Code39
	if ask.Symbol == "qr" {
		symbol = paper.QR
	}
	content, err := paper.Cards(cards, symbol, ask.Sheets)
	if err != nil {
		return File{}, wrong("%v: a QR code can write it", err)
	}
	return File{"student-data-cards-" + slug(words) + ".pdf", pdfType, content}, nil
}

// slug writes a text for a file's name.
func slug(s string) string {
	out := strings.Trim(strings.Map(func(r rune) rune {
		if (r >= 'a' && r <= 'z') || (r >= '0' && r <= '9') {
			return r
		}
		return '-'
	}, fold(s)), "-")
	if out == "" {
		return "all"
	}
	return out
}

// Mark returns the school's mark as PNG; empty for none.
func (o *Office) Mark(ctx context.Context) ([]byte, error) {
	var mark []byte
	_, err := store.Setting(ctx, o.store.Read(), MarkSetting, &mark)
	return mark, err
}

// pictureIn reads a PNG or JPEG and makes it small enough to keep; empty stays empty.
func pictureIn(content []byte) ([]byte, error) {
	if len(content) == 0 {
		return nil, nil
	}
	kept, err := paper.Picture(content)
	if err != nil {
		return nil, wrong("%v; nothing was kept", err)
	}
	return kept, nil
}

// SetMark keeps the school's mark, which stands on passes; empty takes it away.
func (o *Office) SetMark(ctx context.Context, p Person, key string, picture []byte) (Receipt, error) {
	var out Receipt
	mark, err := pictureIn(picture)
	if err != nil {
		return out, err
	}
	err = o.write(ctx, p, key, "mark", &out, func(w *writing) error {
		w.aside = true
		out = Receipt{Seq: w.journal.ID, Words: "The mark is taken away", IDs: []int64{}}
		if mark != nil {
			out.Words = "The mark stands on passes from now on"
		}
		return store.SetSetting(ctx, w.tx, MarkSetting, mark)
	})
	return out, err
}

// SetPhoto keeps a student's photo, which stands on passes; empty takes it away.
func (o *Office) SetPhoto(ctx context.Context, p Person, key string, student int64, picture []byte) (Receipt, error) {
	var out Receipt
	photo, err := pictureIn(picture)
	if err != nil {
		return out, err
	}
	err = o.write(ctx, p, key, "photo", &out, func(w *writing) error {
		return o.look(func(v view) error {
			s, err := v.school.Student(student)
			if err != nil {
				return err
			}
			w.aside = true
			out = Receipt{Seq: w.journal.ID, Words: "There is no photo of " + s.Name() + " any more", IDs: []int64{}}
			if photo != nil {
				out.Words = "The photo of " + s.Name() + " stands on passes from now on"
			}
			return store.SetPhoto(ctx, w.tx, store.StudentPhoto{StudentID: student, Picture: photo, Journal: w.journal.ID})
		})
	})
	return out, err
}

// Photo returns a student's photo as PNG.
func (o *Office) Photo(ctx context.Context, p Person, student int64) (File, error) {
	if err := o.look(func(v view) error { return v.school.maySee(p, student) }); err != nil {
		return File{}, err
	}
	photo, err := store.Photo(ctx, o.store.Read(), student)
	if err == nil && len(photo) == 0 {
		err = notFound("there is no photo")
	}
	return File{"photo.png", "image/png", photo}, err
}
