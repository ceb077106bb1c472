package paper

import (
	"fmt"
	"strings"

	"github.com/johnfercher/maroto/v2/pkg/components/col"
	"github.com/johnfercher/maroto/v2/pkg/components/page"
	"github.com/johnfercher/maroto/v2/pkg/components/row"
	"github.com/johnfercher/maroto/v2/pkg/components/text"
	"github.com/johnfercher/maroto/v2/pkg/consts/align"
	"github.com/johnfercher/maroto/v2/pkg/core"
	"github.com/johnfercher/maroto/v2/pkg/props"
)

// Letter is a letter to a home.
type Letter struct {
	Sender     []string // lines of the school's address, its name first
	Recipient  []string // lines of the address, names first
	Date       string
	Subject    string
	Paragraphs []string // lines within one stay apart
	Foot       string   // what it is about, small at the end: the student's number
}

// Measures in millimetres. The address stands where a window envelope shows it: 45 mm from the top
// and 20 mm from the left, 85 wide and 45 high (DIN 5008, form B; from memory).
const (
	letterMargin  = 20.0
	letterWindow  = 45.0
	letterField   = 85.0
	letterSize    = 10.5
	letterColumns = 170 // of a millimetre each
)

// LettersPDF sets letters on A4, each beginning on a page of its own.
func LettersPDF(title string, letters []Letter) ([]byte, error) {
	if len(letters) == 0 {
		return nil, fmt.Errorf("there is no letter to print")
	}
	s, err := newSheet(title, size{width: 210, height: 297, margin: letterMargin}, letterColumns)
	if err != nil {
		return nil, err
	}
	for _, l := range letters {
		s.AddPages(page.New().Add(s.letter(l)...))
	}
	return s.bytes()
}

func (s *sheet) letter(l Letter) []core.Row {
	rows := []core.Row{s.sender(l)}
	address := row.New(letterField / 2)
	var lines []string
	for _, line := range l.Recipient {
		lines = append(lines, strings.TrimSpace(line))
	}
	block := col.New(int(letterField))
	for i, line := range lines {
		block.Add(text.New(line, props.Text{Size: letterSize, Family: familyFor(line), Top: float64(i) * 5}))
	}
	address.Add(block, col.New(letterColumns-int(letterField)))
	rows = append(rows, address, s.flow(l.Date, props.Text{Size: letterSize, Align: align.Right}, 8),
		s.flow(l.Subject, props.Text{Size: 11.5, Style: bold}, 6))
	for _, p := range l.Paragraphs {
		for line := range strings.SplitSeq(p, "\n") {
			rows = append(rows, s.flow(line, props.Text{Size: letterSize, VerticalPadding: 0.9}, 1))
		}
		rows = append(rows, row.New(2.6).Add(col.New(letterColumns)))
	}
	return append(rows, row.New(4).Add(col.New(letterColumns)), s.flow(l.Foot, props.Text{Size: 8, Color: second}, 0))
}

// sender is the school's own address, at the right above the recipient's.
func (s *sheet) sender(l Letter) core.Row {
	block := col.New(letterColumns)
	for i, line := range l.Sender {
		p := props.Text{Size: 9, Align: align.Right, Top: float64(i) * 4.4, Family: familyFor(line)}
		if i == 0 {
			p.Style, p.Size = bold, letterSize
		}
		block.Add(text.New(line, p))
	}
	return row.New(letterWindow - letterMargin).Add(block)
}

// flow is a text over the whole width, as high as it needs to be, with some millimetres after it.
func (s *sheet) flow(words string, p props.Text, after float64) core.Row {
	p.Family, p.Bottom = familyFor(words), after
	return row.New().Add(text.NewCol(letterColumns, words, p))
}
