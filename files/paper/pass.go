package paper

import (
	"github.com/johnfercher/maroto/v2/pkg/components/col"
	"github.com/johnfercher/maroto/v2/pkg/consts/align"
	"github.com/johnfercher/maroto/v2/pkg/consts/border"
	"github.com/johnfercher/maroto/v2/pkg/core"
	"github.com/johnfercher/maroto/v2/pkg/props"
)

// Pass is what stands on a pass.
type Pass struct {
	School  string
	Emblem  []byte // the school's emblem as PNG; empty for none
	Title   string
	Name    string
	Form    string
	Photo   []byte // PNG; empty for none
	Facts   []Fact
	Number  string
	Code    string // what its Code 39 says
	Lessons []Lesson
}

// Fact is a line of a pass.
type Fact struct{ Label, Text string }

// Lesson is a lesson whose teacher signs.
type Lesson struct{ At, Text, Who string }

// Stock is what a pass is printed on.
type Stock int

// The kinds of stock.
const (
	A6      Stock = iota // a leaf of 105 × 148 mm
	Thermal              // a roll 80 mm wide, cut to length
)

const (
	lessonHeight = 9.0  // mm, with room to sign
	factHeight   = 5.5  // mm
	codeHeight   = 15.0 // mm
)

// PDF sets a pass as PDF, on one page.
func (p Pass) PDF(stock Stock) ([]byte, error) {
	page := size{width: 105, height: 148, margin: 7}
	if stock == Thermal {
		page = size{width: 80, height: p.height(4), margin: 4}
	} else if needed := p.height(page.margin); needed > page.height {
		page.height = needed // many lessons: rather a longer leaf than a second one
	}
	s, err := newSheet(p.Title+" "+p.Number, page, grid)
	if err != nil {
		return nil, err
	}
	s.head(p)
	for _, f := range p.Facts {
		s.AddRow(factHeight, words(3, s.inner(), f.Label, props.Text{Size: 8, Color: second, Top: 0.6}), words(9, s.inner(), f.Text, props.Text{Size: 9, Style: bold}))
	}
	if len(p.Lessons) > 0 {
		s.AddRow(5.5, words(12, s.inner(), "Signed by the teachers of the remaining lessons", props.Text{Size: 7, Color: second, Top: 1.5}))
	}
	for _, l := range p.Lessons {
		s.AddRow(lessonHeight, words(2, s.inner(), l.At, props.Text{Size: 8, Top: 4}), words(5, s.inner(), l.Text, props.Text{Size: 8, Top: 4}),
			words(5, s.inner(), l.Who, props.Text{Size: 6.5, Color: second, Top: 6, Align: align.Right})).
			WithStyle(&props.Cell{BorderType: border.Bottom, BorderThickness: 0.15, BorderColor: second})
	}
	s.AddRow(2, col.New(12))
	s.AddRow(codeHeight, s.code39(12, p.Code, 100))
	s.AddRow(6, words(12, s.inner(), p.Number, middle(11, bold)))
	return s.bytes()
}

func (s *sheet) head(p Pass) {
	var side []core.Col
	left := 12
	if readable(p.Emblem) {
		side = append(side, s.picture(2, p.Emblem, nil, 100))
		left -= 2
	}
	s.AddRow(8, append(side, words(left, s.inner(), p.School, props.Text{Size: 10, Style: bold, Top: 1.5, Left: 1}))...)
	s.AddRow(6, words(12, s.inner(), p.Title, props.Text{Size: 10, Top: 1}))
	name := props.Text{Size: 15, Style: bold, Top: 1}
	if readable(p.Photo) {
		s.AddRow(22, words(9, s.inner(), p.Name, name), s.picture(3, p.Photo, nil, 100))
	} else {
		s.AddRow(nameHeight, words(12, s.inner(), p.Name, name))
	}
	s.AddRow(5.5, words(12, s.inner(), p.Form, props.Text{Size: 9, Color: second}))
}

const nameHeight = 14 // room for a name of two lines

// height is how long the pass is, in millimetres.
func (p Pass) height(margin float64) float64 {
	h := 2*margin + 8 + 6 + nameHeight + 5.5 + float64(len(p.Facts))*factHeight + 2 + codeHeight + 6 + 2
	if readable(p.Photo) {
		h += 22 - nameHeight
	}
	if len(p.Lessons) > 0 {
		h += 5.5 + float64(len(p.Lessons))*lessonHeight
	}
	return h
}
