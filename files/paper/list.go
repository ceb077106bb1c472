package paper

import (
	"bytes"
	"errors"
	"fmt"
	"image"
	_ "image/jpeg" // photos may be
	_ "image/png"
)

// List is a list of students as it is set on paper.
type List struct {
	School  string
	Emblem  []byte // the school's mark as PNG; nil for none
	Title   string
	Above   string // notes; what stands between two ** is bold
	Below   string
	A5      bool
	Across  bool
	Points  float64 // the size of the text
	Columns []ListColumn
	Groups  []ListGroup
	NewPage bool     // each group begins a page
	Sign    []string // lines to sign at the end
	Shade   bool     // every other row
	Covers  string   // what it covers and as at when: on every page
	Foot    string   // whose data it holds, who made it: on every page
	Empty   string   // what stands where there is nobody
	Photo   func(id string) []byte
}

// ListColumn is a column; widths count beside one another, since together they fill the page.
type ListColumn struct {
	Heading string
	Width   float64
	Right   bool // numbers, which end under one another
	Write   bool // to write in
	Tick    bool // to tick
	Photo   bool // of whom the text names; nothing for no photo
}

// ListGroup is rows under a heading, each with a text for every column, lines apart by \n. Count says how many
// students are in it.
type ListGroup struct {
	Name string
	Rows [][]string
}

// Measures of a page, in millimetres.
const (
	cellSide   = 1.0 // beside a text in its column
	cellOver   = 0.9 // over and under it
	leading    = 1.22
	writeLine  = 7.5 // a row to write in is as high as this
	photoHigh  = 24.0
	emblemSide = 11.0
	signLine   = 13.0
	footPoints = 7.5
)

// EmblemMark is the text of the picture that is the school's mark.
const EmblemMark = "mark"

// setter sets a list page by page.
type setter struct {
	l      List
	w, h   float64
	margin float64
	xs     []float64 // where columns begin, and where the last ends
	heads  [][][]run
	pages  []Page
	y      float64 // how far the page is filled
	rows   int     // on this page, since the headings
}

// Pages sets the list: its title and notes, its rows under their headings on as many pages as they need, and what it
// covers on each. A row that is longer than a page goes on on the next one.
func (l List) Pages() ([]Page, error) {
	if len(l.Columns) == 0 {
		return nil, errors.New("the list has no column")
	}
	s := &setter{l: l, w: 210, h: 297, margin: 12}
	if l.A5 {
		s.w, s.h, s.margin = 148, 210, 9
	}
	if l.Across {
		s.w, s.h = s.h, s.w
	}
	s.columns()
	s.page()
	for n, g := range l.Groups {
		if n > 0 && l.NewPage {
			s.page()
		}
		s.group(g)
	}
	if len(l.Groups) == 0 {
		s.text(l.Empty, l.Points, false, true)
	}
	s.notes("below", l.Below)
	s.sign()
	s.numbers()
	return s.pages, nil
}

// PDF sets the list as PDF.
func (l List) PDF() ([]byte, error) {
	pages, err := l.Pages()
	if err != nil {
		return nil, fmt.Errorf("setting a list: %w", err)
	}
	return asPDF(l.Title, pages)
}

func (s *setter) inner() float64 { return s.w - 2*s.margin }

// bottom is how far a page may be filled.
func (s *setter) bottom() float64 { return s.h - s.margin - 4 }

func (s *setter) line(points float64) float64 { return points * millimetres * leading }

// columns gives each column its part of the page.
func (s *setter) columns() {
	sum := 0.0
	for _, c := range s.l.Columns {
		sum += max(c.Width, 1)
	}
	x := s.margin
	for _, c := range s.l.Columns {
		s.xs = append(s.xs, x)
		w := max(c.Width, 1) / sum * s.inner()
		s.heads = append(s.heads, wrap(c.Heading, s.l.Points, w-2*cellSide, true))
		x += w
	}
	s.xs = append(s.xs, x)
}

func (s *setter) last() *Page { return &s.pages[len(s.pages)-1] }

func (s *setter) mark(m PageMark) { p := s.last(); p.Marks = append(p.Marks, m) }

func (s *setter) part(name string, n int, x, y, w, h float64) {
	p := s.last()
	p.Parts = append(p.Parts, PagePart{name, n, x, y, w, h})
}

// page begins a page: whose it is, the title, on the first one the notes, and the headings.
func (s *setter) page() {
	first := len(s.pages) == 0
	s.pages = append(s.pages, Page{Width: s.w, Height: s.h, Marks: []PageMark{}, Parts: []PagePart{}})
	s.y = s.margin
	right := s.w - s.margin
	if first && len(s.l.Emblem) > 0 {
		w, h := within(s.l.Emblem, emblemSide, emblemSide)
		right -= w
		s.mark(PageMark{Kind: "picture", X: right, Y: s.y, W: w, H: h, Text: EmblemMark, picture: s.l.Emblem})
		right -= 2
	}
	s.mark(PageMark{Kind: "text", X: right, Y: s.y + 3, Text: s.l.School, Size: 8.5, Muted: true, End: true})
	points := map[bool]float64{true: 16, false: 10}[first]
	space := right - s.margin - widthOf(s.l.School, 8.5, false) - 6
	top := s.y
	for _, line := range wrap(s.l.Title, points, space, true) {
		s.runs(line, s.margin, points, true, false)
		s.y += s.line(points)
	}
	if first {
		s.part("title", 0, s.margin, top, space, s.y-top)
	}
	s.text(s.l.Covers, 8.5, false, true)
	if first {
		s.notes("above", s.l.Above)
	}
	s.y += 2
	s.headings()
}

// runs sets a line at the height that is reached.
func (s *setter) runs(line []run, x, points float64, bold, muted bool) {
	for _, r := range line {
		if r.text != "" {
			s.mark(PageMark{Kind: "text", X: x, Y: s.y + points*millimetres, Text: r.text, Size: points, Bold: bold || r.bold, Muted: muted})
			x += widthOf(r.text, points, bold || r.bold)
		}
	}
}

// text sets a paragraph over the width of the page, on the next page where this one is full.
func (s *setter) text(words string, points float64, bold, muted bool) {
	if words == "" {
		return
	}
	s.lines(wrap(words, points, s.inner(), bold), points, bold, muted)
}

func (s *setter) lines(lines [][]run, points float64, bold, muted bool) {
	for _, line := range lines {
		if s.y+s.line(points) > s.bottom() {
			s.page()
		}
		s.runs(line, s.margin, points, bold, muted)
		s.y += s.line(points)
	}
}

func (s *setter) notes(name, words string) {
	s.y += 1.5
	top := s.y
	if words != "" {
		s.lines(wrapMarked(words, s.l.Points+0.5, s.inner()), s.l.Points+0.5, false, false)
	}
	s.part(name, 0, s.margin, min(top, s.y), s.inner(), max(s.y-top, 3.5))
	if words != "" {
		s.y += 1
	}
}

// headings sets what the columns are called.
func (s *setter) headings() {
	if len(s.heads) == 0 {
		return
	}
	high := 1
	for _, h := range s.heads {
		high = max(high, len(h))
	}
	top := s.y
	for i, lines := range s.heads {
		s.y = top + cellOver
		for _, line := range lines {
			s.cell(i, line, true)
			s.y += s.line(s.l.Points)
		}
		s.part("heading", i, s.xs[i], top, s.xs[i+1]-s.xs[i], float64(high)*s.line(s.l.Points)+2*cellOver)
	}
	s.y = top + float64(high)*s.line(s.l.Points) + 2*cellOver
	s.mark(PageMark{Kind: "line", X: s.margin, Y: s.y, W: s.inner()})
	s.rows = 0
}

// cell sets a line of a cell.
func (s *setter) cell(i int, line []run, bold bool) {
	if len(line) == 0 {
		return
	}
	text := ""
	for _, r := range line {
		text += r.text
	}
	if s.l.Columns[i].Right {
		s.mark(PageMark{Kind: "text", X: s.xs[i+1] - cellSide, Y: s.y + s.l.Points*millimetres, Text: text, Size: s.l.Points, Bold: bold, End: true})
		return
	}
	s.mark(PageMark{Kind: "text", X: s.xs[i] + cellSide, Y: s.y + s.l.Points*millimetres, Text: text, Size: s.l.Points, Bold: bold})
}

// group sets rows under their heading, which does not stand alone at the foot of a page.
func (s *setter) group(g ListGroup) {
	if g.Name != "" {
		high := s.line(s.l.Points+1.5) + 3
		if s.y+high+writeLine > s.bottom() && s.rows > 0 {
			s.page()
		}
		s.y += 2
		s.runs([]run{{g.Name, true}}, s.margin+cellSide, s.l.Points+1.5, true, false)
		count := fmt.Sprint(len(g.Rows))
		s.mark(PageMark{Kind: "text", X: s.w - s.margin - cellSide, Y: s.y + (s.l.Points+1.5)*millimetres, Text: count, Size: s.l.Points, Muted: true, End: true})
		s.y += s.line(s.l.Points+1.5) + 1
		s.mark(PageMark{Kind: "line", X: s.margin, Y: s.y, W: s.inner()})
		s.rows = 0
	}
	for n, r := range g.Rows {
		s.row(r, s.l.Shade && n%2 == 1)
	}
}

// row sets a row: what does not fit on the page goes to the next one, whole where it fits there.
func (s *setter) row(cells []string, shade bool) {
	lines := make([][][]run, len(s.l.Columns))
	most, high := 1, 0.0
	for i, c := range s.l.Columns {
		if c.Write {
			high = max(high, writeLine)
		}
		if c.Photo {
			high = max(high, photoHigh+2*cellOver)
		} else if cells[i] != "" {
			lines[i] = wrap(cells[i], s.l.Points, s.xs[i+1]-s.xs[i]-2*cellSide, false)
		}
		most = max(most, len(lines[i]))
	}
	high = max(high, float64(most)*s.line(s.l.Points)+2*cellOver)
	if s.y+high > s.bottom() && s.rows > 0 {
		s.page()
	}
	for from := 0; from < most; {
		room := max(1, int((s.bottom()-s.y-2*cellOver)/s.line(s.l.Points)))
		until := min(most, from+room)
		part := high
		if from > 0 || until < most {
			part = float64(until-from)*s.line(s.l.Points) + 2*cellOver
		}
		top := s.y
		s.stretch(lines, from, until, part, shade)
		if from == 0 {
			s.photos(cells, top)
		}
		if from = until; from < most {
			s.page()
		}
	}
}

// photos sets the pictures of a row, in a frame where there is none.
func (s *setter) photos(cells []string, top float64) {
	for i, c := range s.l.Columns {
		if !c.Photo {
			continue
		}
		w := min(s.xs[i+1]-s.xs[i]-2*cellSide, photoHigh*3/4)
		m := PageMark{Kind: "box", X: s.xs[i] + cellSide, Y: top + cellOver, W: w, H: w * 4 / 3}
		if s.l.Photo != nil && cells[i] != "" {
			if picture := s.l.Photo(cells[i]); picture != nil {
				m.Kind, m.Text, m.picture = "picture", cells[i], picture
				m.W, m.H = within(picture, m.W, m.H)
			}
		}
		s.mark(m)
	}
}

// within is how large a picture is that is to fit into a frame.
func within(picture []byte, w, h float64) (float64, float64) {
	c, _, err := image.DecodeConfig(bytes.NewReader(picture))
	if err != nil || c.Width == 0 || c.Height == 0 {
		return w, h
	}
	scale := min(w/float64(c.Width), h/float64(c.Height))
	return float64(c.Width) * scale, float64(c.Height) * scale
}

// stretch sets some lines of a row.
func (s *setter) stretch(lines [][][]run, from, until int, high float64, shade bool) {
	top := s.y
	if shade {
		s.mark(PageMark{Kind: "fill", X: s.margin, Y: top, W: s.inner(), H: high})
	}
	for i, c := range s.l.Columns {
		if c.Tick && from == 0 {
			const side = 3.4
			s.mark(PageMark{Kind: "box", X: s.xs[i] + cellSide, Y: top + cellOver + 0.1, W: side, H: side})
		}
		s.y = top + cellOver
		for k := from; k < min(until, len(lines[i])); k++ {
			s.cell(i, lines[i][k], false)
			s.y += s.line(s.l.Points)
		}
	}
	s.y = top + high
	s.mark(PageMark{Kind: "line", X: s.margin, Y: s.y, W: s.inner()})
	s.rows++
}

// sign sets lines to sign, three beside one another.
func (s *setter) sign() {
	const beside = 3
	for n, name := range s.l.Sign {
		if n%beside == 0 {
			if s.y+signLine > s.bottom() {
				s.page()
			}
			s.y += signLine
		}
		w := (s.inner() - 8*(beside-1)) / beside
		x := s.margin + float64(n%beside)*(w+8)
		s.mark(PageMark{Kind: "line", X: x, Y: s.y - 4, W: w})
		s.mark(PageMark{Kind: "text", X: x, Y: s.y - 0.5, Text: name, Size: 8.5, Muted: true})
	}
}

// numbers sets the foot of every page, once it is known how many there are.
func (s *setter) numbers() {
	for n := range s.pages {
		p := &s.pages[n]
		number := fmt.Sprintf("%d of %d", n+1, len(s.pages))
		y := s.h - s.margin + 1
		p.Marks = append(p.Marks, PageMark{Kind: "text", X: s.w - s.margin, Y: y, Text: number, Size: footPoints, Muted: true, End: true})
		lines := wrap(s.l.Foot, footPoints, s.inner()-widthOf(number, footPoints, false)-4, false)
		if len(lines) > 0 && len(lines[0]) > 0 {
			p.Marks = append(p.Marks, PageMark{Kind: "text", X: s.margin, Y: y, Text: lines[0][0].text, Size: footPoints, Muted: true})
		}
	}
}
