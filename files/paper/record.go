package paper

import (
	"errors"
	"strings"
	"unicode/utf8"
)

// Record is all that is on record of somebody: a table for each kind of thing.
type Record struct {
	School string
	Title  string
	Covers string // of when it is: on every page
	Foot   string // whose data it holds, who made it: on every page
	Tables []RecordTable
}

// RecordTable is a table of a record, with a text for each of its columns in a row.
type RecordTable struct {
	Name    string
	Columns []string
	Rows    [][]string
}

// recordPoints is the size of a record's text.
const recordPoints = 7.5

// PDF sets the record on A4 across. A table without rows is named as empty, so that nobody takes it for forgotten.
func (r Record) PDF() ([]byte, error) {
	if len(r.Tables) == 0 {
		return nil, errors.New("there is nothing on record")
	}
	var empty []string
	s := &setter{l: List{School: r.School, Title: r.Title, Covers: r.Covers, Foot: r.Foot, Points: recordPoints}, w: 297, h: 210, margin: 12}
	for _, t := range r.Tables {
		if len(t.Rows) == 0 {
			empty = append(empty, t.Name)
			continue
		}
		s.l.Columns, s.xs, s.heads = t.columns(), nil, nil
		s.columns()
		if len(s.pages) == 0 {
			s.bare()
		}
		s.table(t)
	}
	if len(s.pages) == 0 {
		s.bare()
	}
	if len(empty) > 0 {
		s.y += 3
		s.l.Columns, s.heads = nil, nil
		s.text("Nothing is on record of: "+strings.Join(empty, ", ")+".", recordPoints+1, false, false)
	}
	s.numbers()
	return asPDF(r.Title, s.pages)
}

// bare begins the first page without headings: each table has its own.
func (s *setter) bare() {
	columns, heads := s.l.Columns, s.heads
	s.l.Columns, s.heads = nil, nil
	s.page()
	s.l.Columns, s.heads = columns, heads
}

// table sets a table under its name, which does not stand alone at the foot of a page.
func (s *setter) table(t RecordTable) {
	const nameAndOneRow = 24.0
	if s.y+nameAndOneRow > s.bottom() {
		s.bare()
	}
	s.y += 3
	s.runs([]run{{strings.ToUpper(t.Name[:1]) + t.Name[1:], true}}, s.margin, recordPoints+2, true, false)
	s.y += s.line(recordPoints+2) + 0.5
	s.headings()
	for _, row := range t.Rows {
		s.row(row, false)
	}
}

// columns are as wide as their longest texts, within bounds.
func (t RecordTable) columns() []ListColumn {
	const narrow, wide = 5, 42 // letters
	out := make([]ListColumn, len(t.Columns))
	for i, name := range t.Columns {
		heading := strings.ReplaceAll(name, "_", " ")
		longest := utf8.RuneCountInString(heading)
		for _, r := range t.Rows {
			longest = max(longest, utf8.RuneCountInString(r[i]))
		}
		out[i] = ListColumn{Heading: heading, Width: float64(min(max(longest, narrow), wide))}
	}
	return out
}
