// Package table reads and writes CSV with a header, as RFC 4180 has it, and says
// what is wrong by file and line.
package table

import (
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"sort"
	"strings"
	"unicode/utf8"
)

// Problem is one thing that is wrong in a file.
type Problem struct {
	File  string
	Line  int // physical line on which the record starts; 0 for the file as a whole
	Words string
}

// String returns the problem as one line.
func (p Problem) String() string {
	if p.Line == 0 {
		return p.File + ": " + p.Words
	}
	return fmt.Sprintf("%s:%d: %s", p.File, p.Line, p.Words)
}

// Row is one record.
type Row struct {
	Line   int
	fields []string
	place  map[string]int
}

// Get returns the value of a column; empty where the table lacks it.
func (r Row) Get(column string) string {
	i, ok := r.place[column]
	if !ok {
		return ""
	}
	return r.fields[i]
}

// Table is a file that was read.
type Table struct {
	Name     string
	Rows     []Row
	Unknown  []string // columns that nobody asked for
	Problems []Problem
	columns  map[string]int
}

// Has reports whether the table has a column.
func (t *Table) Has(column string) bool { _, ok := t.columns[column]; return ok }

// Wrong adds a problem of a row.
func (t *Table) Wrong(r Row, format string, args ...any) {
	t.Problems = append(t.Problems, Problem{t.Name, r.Line, fmt.Sprintf(format, args...)})
}

// Read reads a table. Needed columns must be in the header; those optional may be;
// others are left out and listed. Wholly empty lines are skipped; a row with more
// or fewer fields than the header, invalid UTF-8 and stray quotes are problems.
func Read(name string, content []byte, needed, optional []string) *Table {
	t := &Table{Name: name, columns: map[string]int{}}
	reader := csv.NewReader(bytes.NewReader(bytes.TrimPrefix(content, []byte("\ufeff"))))
	reader.FieldsPerRecord = -1
	header, err := reader.Read()
	if err != nil {
		words := "the file is empty; a header row is expected"
		if !errors.Is(err, io.EOF) {
			words = csvWords(err)
		}
		t.Problems = append(t.Problems, Problem{name, 1, words})
		return t
	}
	line, _ := reader.FieldPos(0)
	t.header(header, line, needed, optional)
	if len(t.Problems) > 0 {
		return t
	}
	for {
		fields, err := reader.Read()
		if errors.Is(err, io.EOF) {
			return t
		}
		var bad *csv.ParseError
		if errors.As(err, &bad) {
			t.Problems = append(t.Problems, Problem{name, bad.StartLine, csvWords(err)})
			continue
		}
		if err != nil {
			t.Problems = append(t.Problems, Problem{name, 0, err.Error()})
			return t
		}
		line, _ := reader.FieldPos(0)
		row := Row{Line: line, fields: fields, place: t.columns}
		switch {
		case !utf8.ValidString(strings.Join(fields, "")):
			t.Wrong(row, "this line is not valid UTF-8")
		case len(fields) != len(header):
			t.Wrong(row, "%d fields where the header has %d", len(fields), len(header))
		default:
			t.Rows = append(t.Rows, row)
		}
	}
}

func csvWords(err error) string {
	var bad *csv.ParseError
	if !errors.As(err, &bad) {
		return err.Error()
	}
	if errors.Is(bad.Err, csv.ErrBareQuote) {
		return "a stray quote in an unquoted field"
	}
	return "a stray or unfinished quote"
}

func (t *Table) header(header []string, line int, needed, optional []string) {
	wrong := func(format string, args ...any) {
		t.Problems = append(t.Problems, Problem{t.Name, line, fmt.Sprintf(format, args...)})
	}
	known := map[string]bool{}
	for _, c := range append(append([]string(nil), needed...), optional...) {
		known[c] = true
	}
	for i, c := range header {
		if !known[c] {
			t.Unknown = append(t.Unknown, c)
			continue
		}
		if _, twice := t.columns[c]; twice {
			wrong("the column %q is there twice", c)
			continue
		}
		t.columns[c] = i
	}
	for _, c := range needed {
		if _, ok := t.columns[c]; !ok {
			wrong("the column %q is missing", c)
		}
	}
}

// Write returns a table as CSV: LF, quoted only where needed, with a header.
func Write(header []string, rows [][]string) []byte {
	var b bytes.Buffer
	w := csv.NewWriter(&b)
	// Writing to a buffer can't fail.
	_ = w.Write(header)
	_ = w.WriteAll(rows)
	return b.Bytes()
}

// Files are files by name.
type Files map[string][]byte

// Names returns the names in order.
func (f Files) Names() []string {
	var out []string
	for n := range f {
		out = append(out, n)
	}
	sort.Strings(out)
	return out
}
