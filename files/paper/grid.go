package paper

import (
	"fmt"
	"strings"

	"github.com/johnfercher/maroto/v2/pkg/components/col"
	"github.com/johnfercher/maroto/v2/pkg/components/page"
	"github.com/johnfercher/maroto/v2/pkg/components/row"
	"github.com/johnfercher/maroto/v2/pkg/components/text"
	"github.com/johnfercher/maroto/v2/pkg/consts/align"
	"github.com/johnfercher/maroto/v2/pkg/consts/border"
	"github.com/johnfercher/maroto/v2/pkg/core"
	"github.com/johnfercher/maroto/v2/pkg/props"
)

// Grid is students by dates, slots or codes, on as many pages as it needs: the names stand on each.
type Grid struct {
	Title   string
	About   string // what it covers
	Key     string // what the codes mean
	Columns []GridColumn
	Ends    []string // headings of the totals with which every row ends
	Rows    []GridRow
}

// GridColumn is a column of a grid.
type GridColumn struct {
	Label string
	Over  string // the month or the date over it
	Total string
}

// GridRow is a student.
type GridRow struct {
	Name, Form string
	Cells      []string
	Shares     []int // per cent missed; below 0 for nothing possible
	Ends       []string
}

// Measures in millimetres, on A4 lying on its side.
const (
	gridMargin  = 10.0
	gridName    = 46
	gridForm    = 22
	gridCell    = 6
	gridEnd     = 13
	gridWide    = 277 // columns of a millimetre each
	gridLine    = 5.2
	gridHead    = 26.0
	gridKeyHigh = 12.0
	gridRows    = 27 // with the totals: (210 − 2·10 − 26 − 12) ÷ 5.2, less one
)

// stretch is the columns of one page.
type gridStretch struct {
	from, to int
	ends     bool // the totals stand here
}

// stretches part the columns so that each page is full; the totals are on the last.
func (g Grid) stretches() []gridStretch {
	const room = (gridWide - gridName - gridForm) / gridCell
	last := (gridWide - gridName - gridForm - gridEnd*len(g.Ends)) / gridCell
	var out []gridStretch
	at := 0
	for len(g.Columns)-at > last {
		n := min(room, len(g.Columns)-at)
		out = append(out, gridStretch{at, at + n, false})
		at += n
	}
	return append(out, gridStretch{at, len(g.Columns), true})
}

// PDF sets the grid: for each stretch of rows its columns, page by page.
func (g Grid) PDF() ([]byte, error) {
	if len(g.Rows) == 0 {
		return nil, fmt.Errorf("there is nobody in the grid")
	}
	s, err := newSheet(g.Title, size{width: 297, height: 210, margin: gridMargin}, gridWide)
	if err != nil {
		return nil, err
	}
	stretches := g.stretches()
	pages := (len(g.Rows) + gridRows - 1) / gridRows * len(stretches)
	n := 0
	for first := 0; first < len(g.Rows); first += gridRows {
		rows := g.Rows[first:min(first+gridRows, len(g.Rows))]
		for _, st := range stretches {
			n++
			one := page.New().Add(s.gridHead(g, st, n, pages)...)
			for _, r := range rows {
				one.Add(s.gridRow(r, st))
			}
			if first+gridRows >= len(g.Rows) {
				one.Add(s.gridTotals(g, st))
			}
			one.Add(row.New(gridKeyHigh).Add(plain(gridWide, g.Key, props.Text{Size: 7, Color: second, Top: 1.5})))
			s.AddPages(one)
		}
	}
	return s.bytes()
}

func (s *sheet) gridHead(g Grid, st gridStretch, n, of int) []core.Row {
	over := row.New(gridLine).Add(col.New(gridName + gridForm))
	used := gridName + gridForm
	for i := st.from; i < st.to; {
		k := i
		for k < st.to && g.Columns[k].Over == g.Columns[i].Over {
			k++
		}
		wide := (k - i) * gridCell
		over.Add(plain(wide, shortened(g.Columns[i].Over, wide), props.Text{Size: 6.5, Style: bold}))
		used += wide
		i = k
	}
	labels := row.New(gridLine).Add(col.New(gridName + gridForm))
	for i := st.from; i < st.to; i++ {
		labels.Add(plain(gridCell, g.Columns[i].Label, props.Text{Size: 6.5, Align: align.Center, Style: bold}))
	}
	if st.ends {
		for _, e := range g.Ends {
			labels.Add(plain(gridEnd, e, props.Text{Size: 6, Align: align.Right, Style: bold}))
			used += gridEnd
		}
	}
	rest := gridWide - used
	if rest > 0 {
		labels.Add(col.New(rest))
		if st.ends {
			over.Add(col.New(rest + gridEnd*len(g.Ends)))
		} else {
			over.Add(col.New(rest))
		}
	} else if st.ends {
		over.Add(col.New(gridEnd * len(g.Ends)))
	}
	return []core.Row{
		row.New(7).Add(plain(gridWide-40, g.Title, props.Text{Size: 12, Style: bold}), plain(40, fmt.Sprintf("page %d of %d", n, of), props.Text{Size: 8, Align: align.Right, Top: 1})),
		row.New(gridHead - 7 - 2*gridLine).Add(plain(gridWide, g.About, props.Text{Size: 8, Color: second})),
		over, labels,
	}
}

// shortened leaves of a text what its width can hold.
func shortened(s string, millimetres int) string {
	most := max(1, millimetres*10/14)
	if letters := []rune(s); len(letters) > most {
		return strings.TrimSpace(string(letters[:most]))
	}
	return s
}

func (s *sheet) gridRow(r GridRow, st gridStretch) core.Row {
	// A row with a style of its own would leave out those of its columns.
	lined := func(c core.Col, ground *props.Color) core.Col {
		return c.WithStyle(&props.Cell{BackgroundColor: ground, BorderType: border.Bottom, BorderColor: &props.Color{Red: 221, Green: 214, Blue: 200}, BorderThickness: 0.1})
	}
	out := row.New(gridLine).Add(lined(plain(gridName, shortened(r.Name, gridName), props.Text{Size: 7.5, Top: 0.6}), nil), lined(plain(gridForm, shortened(r.Form, gridForm), props.Text{Size: 7, Color: second, Top: 0.6}), nil))
	used := gridName + gridForm
	for i := st.from; i < st.to; i++ {
		c := text.NewCol(gridCell, r.Cells[i], props.Text{Size: 7, Align: align.Center, Top: 0.7, Family: familyFor(r.Cells[i])})
		out.Add(lined(c, shade(r.Shares[i])))
		used += gridCell
	}
	if st.ends {
		for _, e := range r.Ends {
			out.Add(lined(plain(gridEnd, e, props.Text{Size: 7, Align: align.Right, Top: 0.6}), nil))
			used += gridEnd
		}
	}
	if used < gridWide {
		out.Add(col.New(gridWide - used))
	}
	return out
}

// shade is the ground of a cell: the darker the more was missed; nil for nothing.
func shade(share int) *props.Color {
	switch {
	case share <= 0:
		return nil
	case share < 50:
		return &props.Color{Red: 245, Green: 236, Blue: 214}
	case share < 100:
		return &props.Color{Red: 232, Green: 210, Blue: 160}
	default:
		return &props.Color{Red: 214, Green: 176, Blue: 190}
	}
}

func (s *sheet) gridTotals(g Grid, st gridStretch) core.Row {
	out := row.New(gridLine).Add(plain(gridName+gridForm, "In all", props.Text{Size: 7.5, Style: bold, Top: 0.6}))
	used := gridName + gridForm
	for i := st.from; i < st.to; i++ {
		out.Add(plain(gridCell, g.Columns[i].Total, props.Text{Size: 6.5, Align: align.Center, Style: bold, Top: 0.7}))
		used += gridCell
	}
	return out.Add(col.New(gridWide - used))
}
