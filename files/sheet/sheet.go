// Package sheet writes lists as spreadsheets (Office Open XML, ISO/IEC 29500) and as CSV,
// with the same columns. It must not know what the lists are about.
package sheet

import (
	"bytes"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/xuri/excelize/v2"

	"meldung/files/table"
)

// Column is a column with its heading, which names the unit where there is one.
type Column struct {
	Heading string
	Width   float64 // in characters
	Number  bool    // whole numbers; empty cells stay empty
	Decimal int     // numbers with so many decimals, written with a point; empty cells stay empty
	Date    bool    // dates, YYYY-MM-DD; what is none stays a text
}

// List is a list with what it covers.
type List struct {
	Title   string
	Lead    []string // lines of a CSV file before its headings: whose data it holds, who made it
	About   []string // what it covers, as at when, that it has student data: a line each
	Columns []Column
	Rows    [][]string // a value for each column
}

// CSV writes the list as RFC 4180 has it, UTF-8, its columns' headings first. A text that
// a spreadsheet would take for a formula begins with an apostrophe there, as is common
// practice.
func (l List) CSV() []byte {
	header := make([]string, len(l.Columns))
	for i, c := range l.Columns {
		header[i] = c.Heading
	}
	rows := make([][]string, len(l.Rows))
	for i, r := range l.Rows {
		rows[i] = make([]string, len(r))
		for k, v := range r {
			rows[i][k] = plain(v)
		}
	}
	out := table.Write(header, rows)
	for _, line := range slices.Backward(l.Lead) {
		out = append(table.Write([]string{plain(line)}, nil), out...)
	}
	return out
}

func plain(v string) string {
	if v != "" && strings.ContainsRune("=+-@\t\r", rune(v[0])) {
		return "'" + v
	}
	return v
}

// Spreadsheet writes the list as a workbook: the list with its headings held in view and
// a filter, and a second sheet that says what it covers. Texts are texts, never formulas.
func (l List) Spreadsheet() ([]byte, error) {
	f := excelize.NewFile()
	defer f.Close()
	const list, about = "List", "About"
	if err := f.SetSheetName("Sheet1", list); err != nil {
		return nil, err
	}
	if _, err := f.NewSheet(about); err != nil {
		return nil, err
	}
	if err := l.fill(f, list); err != nil {
		return nil, fmt.Errorf("writing %s: %w", l.Title, err)
	}
	for i, line := range append([]string{l.Title}, l.About...) {
		if err := f.SetCellStr(about, fmt.Sprintf("A%d", i+1), line); err != nil {
			return nil, err
		}
	}
	if err := f.SetColWidth(about, "A", "A", 80); err != nil {
		return nil, err
	}
	var out bytes.Buffer
	if err := f.Write(&out); err != nil {
		return nil, fmt.Errorf("writing %s: %w", l.Title, err)
	}
	return out.Bytes(), nil
}

func (l List) fill(f *excelize.File, list string) error {
	bold, err := f.NewStyle(&excelize.Style{Font: &excelize.Font{Bold: true}})
	if err != nil {
		return err
	}
	for i, c := range l.Columns {
		name, err := excelize.ColumnNumberToName(i + 1)
		if err != nil {
			return err
		}
		if err := f.SetCellStr(list, name+"1", c.Heading); err != nil {
			return err
		}
		if err := f.SetColWidth(list, name, name, c.Width); err != nil {
			return err
		}
	}
	if err := f.SetRowStyle(list, 1, 1, bold); err != nil {
		return err
	}
	if err := l.dates(f, list); err != nil {
		return err
	}
	for r, row := range l.Rows {
		for i, v := range row {
			cell, err := excelize.CoordinatesToCellName(i+1, r+2)
			if err != nil {
				return err
			}
			if err := l.set(f, list, cell, i, v); err != nil {
				return err
			}
		}
	}
	if err := f.SetPanes(list, &excelize.Panes{Freeze: true, YSplit: 1, TopLeftCell: "A2", ActivePane: "bottomLeft"}); err != nil {
		return err
	}
	end, err := excelize.CoordinatesToCellName(len(l.Columns), len(l.Rows)+1)
	if err != nil {
		return err
	}
	return f.AutoFilter(list, "A1:"+end, nil)
}

// dates has a column of dates show days, as the standard's format 14 does in the reader's own way.
func (l List) dates(f *excelize.File, list string) error {
	const shortDate = 14
	style, err := f.NewStyle(&excelize.Style{NumFmt: shortDate})
	if err != nil {
		return err
	}
	for i, c := range l.Columns {
		if !c.Date {
			continue
		}
		name, err := excelize.ColumnNumberToName(i + 1)
		if err != nil {
			return err
		}
		if len(l.Rows) == 0 {
			continue
		}
		if err := f.SetCellStyle(list, name+"2", fmt.Sprint(name, len(l.Rows)+1), style); err != nil {
			return err
		}
	}
	return nil
}

func (l List) set(f *excelize.File, list, cell string, column int, v string) error {
	if v == "" {
		return nil
	}
	switch c := l.Columns[column]; {
	case c.Number:
		if n, err := strconv.ParseInt(v, 10, 64); err == nil {
			return f.SetCellInt(list, cell, n)
		}
	case c.Decimal > 0:
		if x, err := strconv.ParseFloat(v, 64); err == nil {
			return f.SetCellFloat(list, cell, x, c.Decimal, 64)
		}
	case c.Date:
		if d, err := time.Parse(time.DateOnly, v); err == nil {
			return f.SetCellValue(list, cell, d)
		}
	}
	return f.SetCellStr(list, cell, v)
}
