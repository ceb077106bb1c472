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

// Statement is what a student missed, day by day, with what its codes mean.
type Statement struct {
	Sender []string // the school, its name first
	Name   string
	About  string   // form, number, dates
	Sums   []string // what it comes to, a line each
	Days   []StatementDay
	Key    []string // "M medical", a code each
	Foot   string
}

// StatementDay is a day of which anything was missed.
type StatementDay struct {
	Date   string
	What   string // the slots with their codes
	Time   string // missed
	Counts string // excused, unexcused, or not as a day
}

const statementColumns = 170 // of a millimetre each

// PDF sets the statement on A4, on as many pages as it needs.
func (s Statement) PDF() ([]byte, error) {
	one, err := newSheet(s.Name, size{width: 210, height: 297, margin: letterMargin}, statementColumns)
	if err != nil {
		return nil, err
	}
	rows := []core.Row{
		row.New(9).Add(plain(110, s.Name, props.Text{Size: 15, Style: bold}), plain(60, s.Sender[0], props.Text{Size: letterSize, Style: bold, Align: align.Right, Top: 1.5})),
		one.flow(s.About, props.Text{Size: 9.5, Color: second}, 3),
	}
	for _, line := range s.Sums {
		rows = append(rows, one.flow(line, props.Text{Size: letterSize}, 1))
	}
	rows = append(rows, row.New(4).Add(col.New(statementColumns)), one.day(StatementDay{"Day", "Slots and codes", "Missed", "Counts as"}, true))
	for _, d := range s.Days {
		rows = append(rows, one.day(d, false))
	}
	if len(s.Days) == 0 {
		rows = append(rows, one.flow("Nothing was missed.", props.Text{Size: letterSize}, 2))
	}
	rows = append(rows, row.New(4).Add(col.New(statementColumns)))
	for _, k := range s.Key {
		rows = append(rows, one.flow(k, props.Text{Size: 8.5, Color: second}, 0.5))
	}
	rows = append(rows, row.New(3).Add(col.New(statementColumns)), one.flow(s.Foot, props.Text{Size: 8, Color: second}, 0))
	one.AddPages(page.New().Add(rows...))
	out, err := one.bytes()
	if err != nil {
		return nil, fmt.Errorf("setting a statement: %w", err)
	}
	return out, nil
}

// Text sets the statement as plain text, a day in each line.
func (s Statement) Text() string {
	days := make([]string, len(s.Days))
	for i, d := range s.Days {
		days[i] = d.Date + ": " + d.What + " – " + d.Time
		if d.Counts != "" {
			days[i] += ", " + d.Counts
		}
	}
	if len(days) == 0 {
		days = []string{"Nothing was missed."}
	}
	parts := []string{s.Name + "\n" + s.About, strings.Join(s.Sums, "\n"), strings.Join(days, "\n")}
	if len(s.Key) > 0 {
		parts = append(parts, strings.Join(s.Key, "\n"))
	}
	return strings.Join(append(parts, s.Foot+"\n"+strings.Join(s.Sender, "\n")), "\n\n")
}

func (s *sheet) day(d StatementDay, head bool) core.Row {
	style := props.Text{Size: 9, Top: 0.8, Bottom: 0.8}
	if head {
		style.Style = bold
	}
	lined := func(columns int, words string, right bool) core.Col {
		p := style
		p.Family = familyFor(words)
		if right {
			p.Align = align.Right
		}
		return text.NewCol(columns, words, p).WithStyle(&props.Cell{BorderType: border.Bottom, BorderColor: &props.Color{Red: 221, Green: 214, Blue: 200}, BorderThickness: 0.1})
	}
	return row.New().Add(lined(34, d.Date, false), lined(82, d.What, false), lined(26, d.Time, true), lined(28, d.Counts, true))
}
