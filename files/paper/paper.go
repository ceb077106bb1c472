// Package paper sets what is printed: passes and cards, as PDF. It must not know who may
// have them or where they come from.
package paper

import (
	"bytes"
	"embed"
	"fmt"
	"image/png"
	"strings"
	"sync"

	"github.com/johnfercher/maroto/v2"
	"github.com/johnfercher/maroto/v2/pkg/components/col"
	"github.com/johnfercher/maroto/v2/pkg/components/image"
	"github.com/johnfercher/maroto/v2/pkg/components/text"
	"github.com/johnfercher/maroto/v2/pkg/config"
	"github.com/johnfercher/maroto/v2/pkg/consts/align"
	"github.com/johnfercher/maroto/v2/pkg/consts/extension"
	"github.com/johnfercher/maroto/v2/pkg/consts/fontstyle"
	"github.com/johnfercher/maroto/v2/pkg/core"
	"github.com/johnfercher/maroto/v2/pkg/core/entity"
	"github.com/johnfercher/maroto/v2/pkg/props"
	"github.com/johnfercher/maroto/v2/pkg/repository"
	xfont "golang.org/x/image/font"
	"golang.org/x/image/font/sfnt"
	"golang.org/x/image/math/fixed"

	"meldung/files/barcode"
)

//go:embed fonts/*.ttf
var fontFiles embed.FS

// The families, the first of which is used wherever it has every letter.
const (
	usual = "atkinson"
	wide  = "noto" // Latin of all of Europe, Greek and Cyrillic
)

// faces are the fonts, read once.
var faces = sync.OnceValues(func() ([]*entity.CustomFont, error) {
	return repository.New().
		AddUTF8FontFromBytes(usual, fontstyle.Normal, fontFile("AtkinsonHyperlegibleNext-Regular")).
		AddUTF8FontFromBytes(usual, fontstyle.Bold, fontFile("AtkinsonHyperlegibleNext-Bold")).
		AddUTF8FontFromBytes(wide, fontstyle.Normal, fontFile("NotoSans-Regular")).
		AddUTF8FontFromBytes(wide, fontstyle.Bold, fontFile("NotoSans-Bold")).
		Load()
})

// outlines are the bold faces, to measure texts by; they have the letters of the others.
var outlines = sync.OnceValues(func() (map[string]*sfnt.Font, error) {
	out := map[string]*sfnt.Font{}
	for family, file := range map[string]string{usual: "AtkinsonHyperlegibleNext-Bold", wide: "NotoSans-Bold"} {
		font, err := sfnt.Parse(fontFile(file))
		if err != nil {
			return nil, err
		}
		out[family] = font
	}
	return out, nil
})

func fontFile(name string) []byte {
	content, err := fontFiles.ReadFile("fonts/" + name + ".ttf")
	if err != nil {
		panic(err) // it is part of the program
	}
	return content
}

// familyFor returns the family that has every letter of a text.
func familyFor(s string) string {
	fonts, err := outlines()
	if err != nil {
		return wide
	}
	var buffer sfnt.Buffer
	for _, r := range s {
		if glyph, err := fonts[usual].GlyphIndex(&buffer, r); err != nil || glyph == 0 {
			return wide
		}
	}
	return usual
}

// fitting returns the size in points, at most the one given and at least five, at which
// no word of a text is wider than so many millimetres: a line breaks between words alone.
func fitting(s string, points, width float64) float64 {
	fonts, err := outlines()
	if err != nil {
		return points
	}
	font := fonts[familyFor(s)]
	var buffer sfnt.Buffer
	const em = 1000
	for _, word := range strings.Fields(s) {
		var advance fixed.Int26_6
		for _, r := range word {
			if glyph, err := font.GlyphIndex(&buffer, r); err == nil {
				if a, err := font.GlyphAdvance(&buffer, glyph, fixed.I(em), xfont.HintingNone); err == nil {
					advance += a
				}
			}
		}
		const millimetresPerPoint = 25.4 / 72
		if needed := float64(advance) / 64 / em * millimetresPerPoint; needed > 0 {
			points = min(points, width/needed)
		}
	}
	return max(points, 5)
}

// size is a page in millimetres.
type size struct{ width, height, margin float64 }

func (s size) inner() float64 { return s.width - 2*s.margin }

// sheet is a document under way.
type sheet struct {
	core.Maroto
	size
	fault error
}

// grid is how many columns a page, or a card on a sheet, is wide.
const grid = 12

func newSheet(title string, s size, columns int) (*sheet, error) {
	fonts, err := faces()
	if err != nil {
		return nil, fmt.Errorf("reading the fonts: %w", err)
	}
	c := config.NewBuilder().WithDimensions(s.width, s.height).WithLeftMargin(s.margin).WithRightMargin(s.margin).WithTopMargin(s.margin).WithBottomMargin(s.margin).
		WithCompression(true).WithMaxGridSize(columns).WithCustomFonts(fonts).WithDefaultFont(&props.Font{Family: usual, Size: 9}).WithTitle(title, true).WithCreator("Meldung", true).Build()
	return &sheet{Maroto: maroto.New(c), size: s}, nil
}

func (s *sheet) bytes() ([]byte, error) {
	if s.fault != nil {
		return nil, s.fault
	}
	document, err := s.Generate()
	if err != nil {
		return nil, fmt.Errorf("setting a page: %w", err)
	}
	return document.GetBytes(), nil
}

// words is a text in some of the twelve columns of a width in millimetres, in the family
// that can write it and no larger than its longest word allows.
func words(columns int, width float64, s string, p props.Text) core.Col {
	p.Family = familyFor(s)
	p.Size = fitting(s, p.Size, width*float64(columns)/grid-p.Left-p.Right-0.5)
	return text.NewCol(columns, s, p)
}

var (
	bold   = fontstyle.Bold
	second = &props.Color{Red: 85, Green: 100, Blue: 107}
)

const pixelsPerModule = 4

// code39 is a Code 39 in a column, drawn so that every module is the same whole number
// of pixels, in the middle between its quiet zones.
func (s *sheet) code39(columns int, what string, percent float64) core.Col {
	picture, err := barcode.Code39Modules(what, pixelsPerModule, 60)
	return s.picture(columns, picture, err, percent)
}

func (s *sheet) qr(columns int, what string, percent float64) core.Col {
	picture, err := barcode.QR(what, 420)
	return s.picture(columns, picture, err, percent)
}

func (s *sheet) picture(columns int, picture []byte, err error, percent float64) core.Col {
	if err != nil {
		s.fault = err
		return col.New(columns)
	}
	return col.New(columns).Add(image.NewFromBytes(picture, extension.Png, props.Rect{Center: true, Percent: percent}))
}

// readable reports whether a picture can be put on paper.
func readable(picture []byte) bool {
	_, err := png.DecodeConfig(bytes.NewReader(picture))
	return err == nil
}

func middle(fontSize float64, style fontstyle.Type) props.Text {
	return props.Text{Size: fontSize, Style: style, Align: align.Center}
}
