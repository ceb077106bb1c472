package paper

import (
	"fmt"

	"github.com/johnfercher/maroto/v2/pkg/components/col"
	"github.com/johnfercher/maroto/v2/pkg/components/page"
	"github.com/johnfercher/maroto/v2/pkg/components/row"
	"github.com/johnfercher/maroto/v2/pkg/consts/border"
	"github.com/johnfercher/maroto/v2/pkg/consts/linestyle"
	"github.com/johnfercher/maroto/v2/pkg/core"
	"github.com/johnfercher/maroto/v2/pkg/props"
)

// Card is what stands on a student's card.
type Card struct {
	School string
	Name   string
	Form   string
	Number string
	Code   string // what its code says
}

// Symbol is how a card's code is drawn.
type Symbol int

// The symbols.
const (
	Code39 Symbol = iota
	QR
)

const (
	cardWidth, cardHeight = 85.6, 54.0 // mm, ID-1 of ISO/IEC 7810
	cardMargin            = 4.0
	sheetRows, sheetCols  = 5, 2 // cards on an A4 sheet
)

// Cards sets cards as PDF: one a page of its own size, or ten on sheets of A4 with a
// little room to cut. There has to be one card at least.
func Cards(cards []Card, symbol Symbol, onSheets bool) ([]byte, error) {
	if len(cards) == 0 {
		return nil, fmt.Errorf("there is no card to print")
	}
	if onSheets {
		return cardSheets(cards, symbol)
	}
	s, err := newSheet("Cards", size{width: cardWidth, height: cardHeight, margin: cardMargin}, grid)
	if err != nil {
		return nil, err
	}
	for _, c := range cards {
		s.AddPages(page.New().Add(s.cardRows([]Card{c}, symbol, false)...))
	}
	return s.bytes()
}

func cardSheets(cards []Card, symbol Symbol) ([]byte, error) {
	// 2 × 85.6 and 5 × 54 in the middle of 210 × 297.
	s, err := newSheet("Cards", size{width: 210, height: 297, margin: 12}, 2*grid)
	if err != nil {
		return nil, err
	}
	for len(cards) > 0 {
		p := page.New()
		for range sheetRows {
			n := min(sheetCols, len(cards))
			if n == 0 {
				break
			}
			p.Add(s.cardRows(cards[:n], symbol, true)...)
			cards = cards[n:]
		}
		s.AddPages(p)
	}
	return s.bytes()
}

// cardRows sets cards side by side.
func (s *sheet) cardRows(cards []Card, symbol Symbol, onSheet bool) []core.Row {
	height, width := cardHeight, s.inner()/sheetCols
	if !onSheet {
		height, width = height-2*cardMargin, s.inner()
	}
	line := func(height float64, one func(c Card) []core.Col) core.Row {
		r := row.New(height)
		for _, c := range cards {
			r.Add(one(c)...)
		}
		return r
	}
	text := func(wide int, what string, size float64, p props.Text) core.Col {
		p.Size, p.Left, p.Right = size, 2, 2
		return words(wide, width, what, p)
	}
	school := func(c Card) []core.Col {
		return []core.Col{text(grid, c.School, 8, props.Text{Color: second, Top: 1.5})}
	}
	name := func(c Card) []core.Col { return []core.Col{text(grid, c.Name, 13, props.Text{Style: bold})} }
	form := func(c Card) []core.Col { return []core.Col{text(grid, c.Form+" · "+c.Number, 9, props.Text{})} }
	bars := func(c Card) []core.Col { return []core.Col{s.code39(grid, c.Code, 95)} }
	if symbol == Code39 {
		return []core.Row{line(7, school), line(12, name), line(6, form), line(20, bars), gap(height-45, onSheet)}
	}
	half := grid / 2
	beside := func(c Card) []core.Col {
		return []core.Col{text(grid-half, c.Name, 13, props.Text{Style: bold}), s.qr(half, c.Code, 90)}
	}
	return []core.Row{line(7, school), line(32, beside), line(6, form), gap(height-45, onSheet)}
}

// gap fills a card up; on a sheet a line shows where to cut.
func gap(height float64, cut bool) core.Row {
	r := row.New(height).Add(col.New())
	if cut {
		r.WithStyle(&props.Cell{BorderType: border.Bottom, BorderThickness: 0.1, BorderColor: second, LineStyle: linestyle.Dashed})
	}
	return r
}
