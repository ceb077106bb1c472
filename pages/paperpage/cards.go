// Package paperpage holds the Papers page: lists and cards to keep and to print.
package paperpage

import (
	"context"

	"meldung/core/ids"
	"meldung/files/paper"
	"meldung/held"
	"meldung/pages"
	"meldung/work"
)

// CardsAsk says which cards are printed and how.
type CardsAsk struct {
	Group  string // "year:9", "class:12", "student:7"; empty is everyone
	Symbol string // "code39" or "qr"
	Sheets bool   // many on a sheet, else one a page
}

// CardSheets are students' cards as PDF, by name. A student without a card gets one with
// the number.
func CardSheets(ctx context.Context, o *work.Office, ask CardsAsk, of ...ids.Section) (pages.File, error) {
	var cards []paper.Card
	words := ""
	if _, err := o.Moment("", of...); err != nil {
		return pages.File{}, err
	}
	err := o.Read(ctx, func(v work.Snapshot) error {
		today := v.Now.Date()
		students, group, err := pages.GroupOf(v, of, today, ask.Group)
		if err != nil {
			return err
		}
		words = group
		held.SortStudents(students)
		for _, s := range students {
			code := s.Card
			if code == "" {
				code = s.Number
			}
			cards = append(cards, paper.Card{School: v.SchoolName(), Name: s.Name(), Form: v.School.Form(s.ID, today), Number: s.Number, Code: code})
		}
		return nil
	})
	if err != nil {
		return pages.File{}, err
	}
	if len(cards) == 0 {
		return pages.File{}, work.NotFoundf("nobody is in %s: there is no card to print", work.Join(" ", "that group", words))
	}
	symbol := paper.Code39
	if ask.Symbol == "qr" {
		symbol = paper.QR
	}
	content, err := paper.Cards(cards, symbol, ask.Sheets)
	if err != nil {
		return pages.File{}, work.Wrongf("%v: a QR code can write it", err)
	}
	return pages.File{Name: "student-data-cards-" + pages.Slug(words) + ".pdf", Type: pages.PDF, Content: content}, nil
}
