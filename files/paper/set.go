package paper

import (
	"bytes"
	"fmt"
	"strings"
	"sync"

	"github.com/phpdave11/gofpdf"
	xfont "golang.org/x/image/font"
	"golang.org/x/image/font/sfnt"
	"golang.org/x/image/math/fixed"
)

// PageMark is something on a page, at a place in millimetres from its upper left corner. A text stands on Y, begins at X or
// ends there, and is Size points large.
type PageMark struct {
	Kind    string  `json:"kind" enum:"text,line,box,fill,picture"`
	X       float64 `json:"x"`
	Y       float64 `json:"y"`
	W       float64 `json:"w"`
	H       float64 `json:"h"`
	Text    string  `json:"text" doc:"Of a picture: the student whose photo it is, or mark for that of the school"`
	Size    float64 `json:"size"`
	Bold    bool    `json:"bold"`
	Muted   bool    `json:"muted"`
	End     bool    `json:"end" doc:"The text ends at X"`
	picture []byte
}

// PagePart is a place on a page where something of the list is set: its title, notes, and a heading for each column.
type PagePart struct {
	Name string  `json:"name" enum:"title,above,below,heading"`
	N    int     `json:"n" doc:"Which of the columns"`
	X    float64 `json:"x"`
	Y    float64 `json:"y"`
	W    float64 `json:"w"`
	H    float64 `json:"h"`
}

// Page is a page as it is set, all measures in millimetres.
type Page struct {
	Width  float64    `json:"width"`
	Height float64    `json:"height"`
	Marks  []PageMark `json:"marks"`
	Parts  []PagePart `json:"parts"`
}

const millimetres = 25.4 / 72 // in a point

// metrics measure texts of a face, a letter once.
type metrics struct {
	font *sfnt.Font
	mu   sync.Mutex // guards what follows
	wide map[rune]float64
	buf  sfnt.Buffer
}

var fontMetrics = sync.OnceValues(func() (map[string]*metrics, error) {
	out := map[string]*metrics{}
	for face, file := range map[string]string{usual: "AtkinsonHyperlegibleNext-Regular", usual + "B": "AtkinsonHyperlegibleNext-Bold", wide: "NotoSans-Regular", wide + "B": "NotoSans-Bold"} {
		font, err := sfnt.Parse(fontFile(file))
		if err != nil {
			return nil, fmt.Errorf("reading the font %s: %w", file, err)
		}
		out[face] = &metrics{font: font, wide: map[rune]float64{}}
	}
	return out, nil
})

// of returns how wide a letter is, in parts of the size of the text; has is false where the face lacks it.
func (m *metrics) of(r rune) (width float64, has bool) {
	m.mu.Lock()
	defer m.mu.Unlock()
	if w, known := m.wide[r]; known {
		return max(w, 0), w >= 0
	}
	const em = 1000
	w := -1.0
	if glyph, err := m.font.GlyphIndex(&m.buf, r); err == nil && glyph != 0 {
		if a, err := m.font.GlyphAdvance(&m.buf, glyph, fixed.I(em), xfont.HintingNone); err == nil {
			w = float64(a) / 64 / em
		}
	}
	m.wide[r] = w
	return max(w, 0), w >= 0
}

// face returns the face that has every letter of a text.
func face(s string, bold bool) string {
	fonts, err := fontMetrics()
	style := map[bool]string{true: "B"}[bold]
	if err != nil {
		return wide + style
	}
	for _, r := range s {
		if _, has := fonts[usual].of(r); !has {
			return wide + style
		}
	}
	return usual + style
}

// widthOf is how wide a text is, in millimetres.
func widthOf(s string, points float64, bold bool) float64 {
	fonts, err := fontMetrics()
	if err != nil {
		return 0
	}
	m, sum := fonts[face(s, bold)], 0.0
	for _, r := range s {
		w, _ := m.of(r)
		sum += w
	}
	return sum * points * millimetres
}

// run is a piece of a line.
type run struct {
	text string
	bold bool
}

// wrap breaks a text into lines of at most a width in millimetres: between words, and within one that is wider than
// that. Its own breaks stay.
func wrap(s string, points, width float64, bold bool) [][]run {
	return broken(s, points, width, bold, func(p string) []string { return []string{p} })
}

// wrapMarked is wrap for a text in which what stands between two ** is bold.
func wrapMarked(s string, points, width float64) [][]run {
	return broken(s, points, width, false, func(p string) []string { return strings.Split(p, "**") })
}

func broken(s string, points, width float64, bold bool, pieces func(paragraph string) []string) [][]run {
	var out [][]run
	for _, paragraph := range strings.Split(s, "\n") {
		var line []run
		used, strong := 0.0, false
		for n, piece := range pieces(paragraph) {
			strong = bold || n%2 == 1
			for w, word := range strings.Split(piece, " ") {
				if w > 0 {
					word = " " + word
				}
				for word != "" {
					wide := widthOf(word, points, strong)
					switch {
					case used+wide <= width:
						line, used = put(line, run{word, strong}), used+wide
						word = ""
					case used > 0:
						out, line, used = append(out, line), nil, 0
						word = strings.TrimPrefix(word, " ")
					default:
						head := fits(word, points, width, strong)
						out = append(out, []run{{head, strong}})
						word = word[len(head):]
					}
				}
			}
		}
		out = append(out, line)
	}
	return out
}

// put adds a piece to a line, to the one before where it is set alike.
func put(line []run, r run) []run {
	if n := len(line); n > 0 && line[n-1].bold == r.bold {
		line[n-1].text += r.text
		return line
	}
	return append(line, r)
}

// fits is as much of a word as a width takes: one letter at least.
func fits(word string, points, width float64, bold bool) string {
	end := 0
	for i, r := range word {
		next := i + len(string(r))
		if end > 0 && widthOf(word[:next], points, bold) > width {
			break
		}
		end = next
	}
	return word[:end]
}

// asPDF writes pages as PDF. Who made it and for what stands in the title.
func asPDF(title string, pages []Page) ([]byte, error) {
	if len(pages) == 0 {
		return nil, fmt.Errorf("%s has no page", title)
	}
	pdf := gofpdf.NewCustom(&gofpdf.InitType{UnitStr: "mm", Size: gofpdf.SizeType{Wd: pages[0].Width, Ht: pages[0].Height}})
	pdf.SetTitle(title, true)
	pdf.SetCreator("Meldung", true)
	pdf.SetAutoPageBreak(false, 0)
	pdf.SetMargins(0, 0, 0)
	known := map[string]bool{}
	use := func(m PageMark) {
		name := face(m.Text, m.Bold)
		family, style := strings.TrimSuffix(name, "B"), map[bool]string{true: "B"}[m.Bold]
		if !known[name] {
			known[name] = true
			file := map[string]string{usual: "AtkinsonHyperlegibleNext-", wide: "NotoSans-"}[family] + map[bool]string{true: "Bold", false: "Regular"}[m.Bold]
			pdf.AddUTF8FontFromBytes(family, style, fontFile(file))
		}
		pdf.SetFont(family, style, m.Size)
	}
	for n, p := range pages {
		pdf.AddPageFormat("P", gofpdf.SizeType{Wd: p.Width, Ht: p.Height})
		for i, m := range p.Marks {
			drawMark(pdf, m, fmt.Sprintf("%d %d", n, i), use)
		}
	}
	var out bytes.Buffer
	if err := pdf.Output(&out); err != nil {
		return nil, fmt.Errorf("setting %s: %w", title, err)
	}
	return out.Bytes(), nil
}

func drawMark(pdf *gofpdf.Fpdf, m PageMark, name string, use func(PageMark)) {
	switch m.Kind {
	case "text":
		use(m)
		if m.Muted {
			pdf.SetTextColor(second.Red, second.Green, second.Blue)
		} else {
			pdf.SetTextColor(0, 0, 0)
		}
		x := m.X
		if m.End {
			x -= widthOf(m.Text, m.Size, m.Bold)
		}
		pdf.Text(x, m.Y, m.Text)
	case "line":
		pdf.SetLineWidth(0.15)
		pdf.SetDrawColor(120, 120, 120)
		pdf.Line(m.X, m.Y, m.X+m.W, m.Y+m.H)
	case "box":
		pdf.SetLineWidth(0.2)
		pdf.SetDrawColor(60, 60, 60)
		pdf.Rect(m.X, m.Y, m.W, m.H, "D")
	case "fill":
		pdf.SetFillColor(238, 236, 230)
		pdf.Rect(m.X, m.Y, m.W, m.H, "F")
	case "picture":
		kind := map[bool]string{true: "PNG", false: "JPG"}[bytes.HasPrefix(m.picture, []byte("\x89PNG"))]
		options := gofpdf.ImageOptions{ImageType: kind}
		pdf.RegisterImageOptionsReader(name, options, bytes.NewReader(m.picture))
		pdf.ImageOptions(name, m.X, m.Y, m.W, m.H, false, options, 0, "")
	}
}
