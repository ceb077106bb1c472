package paper

import (
	"fmt"

	"github.com/johnfercher/maroto/v2/pkg/components/col"
	"github.com/johnfercher/maroto/v2/pkg/components/page"
	"github.com/johnfercher/maroto/v2/pkg/components/row"
	"github.com/johnfercher/maroto/v2/pkg/components/text"
	"github.com/johnfercher/maroto/v2/pkg/consts/align"
	"github.com/johnfercher/maroto/v2/pkg/consts/border"
	"github.com/johnfercher/maroto/v2/pkg/core"
	"github.com/johnfercher/maroto/v2/pkg/props"
)

// RollCall is what is ticked off on paper: a list for each meeting point.
type RollCall struct {
	School string
	Title  string // "Roll call, drill, Tue 10 March"
	AsAt   string // the minute of which the lists are
	Points []RollPoint
}

// RollPoint is the list of one meeting point, in the order in which it is called out.
type RollPoint struct {
	Name   string
	People []RollPerson
}

// RollPerson is a line of a list.
type RollPerson struct {
	Name  string
	Form  string
	Where string // where they should be, and were seen last
	Loud  bool   // unaccounted for, or not yet known
	Mark  string // when they were ticked, where they were; empty for an empty box
}

const (
	rollLine     = 6.2 // mm
	rollHead     = 20.0
	rollFoot     = 5.0
	rollMargin   = 12.0
	rollColumns  = 60
	rollOnAPage  = int((297 - 2*rollMargin - rollHead - rollFoot) / rollLine)
	rollTextSize = 9.0
)

// PDF sets the lists on A4: each meeting point begins on a page of its own.
func (r RollCall) PDF() ([]byte, error) {
	if len(r.Points) == 0 {
		return nil, fmt.Errorf("there is nobody to find")
	}
	s, err := newSheet(r.Title, size{width: 210, height: 297, margin: rollMargin}, rollColumns)
	if err != nil {
		return nil, err
	}
	for _, p := range r.Points {
		pages := (len(p.People) + rollOnAPage - 1) / rollOnAPage
		for n := range pages {
			part := p.People[n*rollOnAPage : min((n+1)*rollOnAPage, len(p.People))]
			one := page.New().Add(r.head(p, n+1, pages)...)
			for _, who := range part {
				one.Add(s.rollRow(who))
			}
			s.AddPages(one)
		}
	}
	return s.bytes()
}

func (r RollCall) head(p RollPoint, n, of int) []core.Row {
	count := fmt.Sprintf("%d to find", len(p.People))
	if of > 1 {
		count += fmt.Sprintf(" · page %d of %d", n, of)
	}
	return []core.Row{
		row.New(9).Add(plain(40, p.Name, props.Text{Size: 16, Style: bold}), plain(20, count, props.Text{Size: 10, Align: align.Right, Top: 2})),
		row.New(rollHead - 9).Add(plain(60, r.School+" · "+r.Title+" · as at "+r.AsAt, props.Text{Size: 9, Color: second})),
	}
}

// plain is a text in some columns of a list, in the family that can write it.
func plain(columns int, s string, p props.Text) core.Col {
	p.Family = familyFor(s)
	return text.NewCol(columns, s, p)
}

var boxed = &props.Cell{BorderType: border.Full, BorderThickness: 0.3}

func (s *sheet) rollRow(who RollPerson) core.Row {
	style := props.Text{Size: rollTextSize, Top: 1}
	name := style
	if who.Loud {
		name.Style = bold
	}
	box := col.New(3).WithStyle(boxed)
	where := style
	where.Size, where.Color, where.Top = 7.5, second, 1.3
	r := row.New(rollLine).WithStyle(&props.Cell{BorderType: border.Bottom, BorderThickness: 0.1, BorderColor: second})
	return r.Add(box, plain(1, "", style), plain(20, clipped(who.Name, 34), name), plain(10, clipped(who.Form, 16), style), plain(20, clipped(who.Where, 44), where), plain(6, who.Mark, where))
}

// clipped cuts a text that would not fit on its line.
func clipped(s string, most int) string {
	letters := []rune(s)
	if len(letters) <= most {
		return s
	}
	return string(letters[:most-1]) + "…"
}
