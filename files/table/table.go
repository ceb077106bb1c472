// Package table reads and writes CSV with a header, as RFC 4180 has it, and says
// what is wrong by file and line.
package table

import (
	"bufio"
	"bytes"
	"cmp"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"iter"
	"maps"
	"slices"
	"strings"
	"unicode/utf8"
)

// Problem is one thing that is wrong in a file.
type Problem struct {
	File string
	Line int // physical line on which the record starts; 0 for the file as a whole
	Text string
}

// String returns the problem as one line.
func (p Problem) String() string {
	if p.Line == 0 {
		return p.File + ": " + p.Text
	}
	return fmt.Sprintf("%s:%d: %s", p.File, p.Line, p.Text)
}

// Row is one record.
type Row struct {
	Line    int
	fields  []string
	columns []column
	whole   bool // every field is valid UTF-8
}

// column is a known column and its place in the file.
type column struct {
	name  string
	place int
}

// Get returns the value of a column; empty where the table lacks it.
func (r Row) Get(name string) string {
	for _, c := range r.columns { // a handful: quicker than a map
		if c.name == name {
			return r.fields[c.place]
		}
	}
	return ""
}

// Readable reports whether the value of a column is valid UTF-8.
func (r Row) Readable(column string) bool { return r.whole || utf8.ValidString(r.Get(column)) }

// Table is a file that was read.
type Table struct {
	Name     string
	Rows     []Row    // kept by Read
	Unknown  []string // columns that nobody asked for
	Problems []Problem
	Usable   bool // the header has every needed column
	Absent   bool // there is no such file, and need not be
	Records  int  // records after the header, readable or not
	Lost     int  // records that could not be taken apart into the header's columns
	columns  []column
}

// Has reports whether the table has a column.
func (t *Table) Has(name string) bool {
	return slices.ContainsFunc(t.columns, func(c column) bool { return c.name == name })
}

// Wrong adds a problem of a row.
func (t *Table) Wrong(r Row, format string, args ...any) {
	t.Problems = append(t.Problems, Problem{t.Name, r.Line, fmt.Sprintf(format, args...)})
}

// Read reads a table and keeps its rows. Needed columns must be in the header;
// those optional may be; others are left out and listed. Wholly empty lines are
// skipped; a row with more or fewer fields than the header, invalid UTF-8 and
// stray quotes are problems.
func Read(name string, content []byte, needed, optional []string) *Table {
	var rows []Row
	t := Scan(name, bytes.NewReader(content), needed, optional, func(_ *Table, r Row) {
		if r.whole {
			rows = append(rows, r)
		}
	})
	t.Rows = rows
	return t
}

// Scan reads a table as Read does and hands on each row instead of keeping it,
// rows with invalid UTF-8 too.
func Scan(name string, content io.Reader, needed, optional []string, each func(t *Table, r Row)) *Table {
	t := &Table{Name: name}
	text := bufio.NewReaderSize(content, 1<<16)
	if mark, _ := text.Peek(3); string(mark) == "\ufeff" {
		_, _ = text.Discard(3) // peeked at just now
	}
	reader := csv.NewReader(text)
	reader.FieldsPerRecord, reader.ReuseRecord = -1, true
	header, err := reader.Read()
	if err != nil {
		t.failed(err, "the file is empty; a header row is expected")
		return t
	}
	line, _ := reader.FieldPos(0)
	width := len(header)
	t.header(header, line, needed, optional)
	if !t.Usable {
		return t
	}
	for batch := range readAhead(reader, width) {
		for _, r := range batch {
			t.Records++
			if r.err != nil {
				t.Lost++
				t.failed(r.err, "")
				continue
			}
			row := Row{Line: r.line, fields: r.fields, columns: t.columns, whole: r.whole}
			if !row.whole {
				t.Wrong(row, "this line is not valid UTF-8")
			}
			if len(r.fields) != width {
				t.Lost++
				t.Wrong(row, "%d fields where the header has %d", len(r.fields), width)
				continue
			}
			each(t, row)
		}
	}
	return t
}

// ScanFile is Scan of a file of a folder. One that may be missing, and is, is a table without rows.
func ScanFile(folder fs.FS, name string, mayMiss bool, needed, optional []string, each func(t *Table, r Row)) *Table {
	content, err := folder.Open(name)
	switch {
	case errors.Is(err, fs.ErrNotExist) && mayMiss:
		return &Table{Name: name, Usable: true, Absent: true}
	case errors.Is(err, fs.ErrNotExist):
		return &Table{Name: name, Problems: []Problem{{File: name, Text: "the file is missing"}}}
	case err != nil:
		return &Table{Name: name, Problems: []Problem{{File: name, Text: "can't be read: " + err.Error()}}}
	}
	defer content.Close()
	return Scan(name, content, needed, optional, each)
}

// Named reads a name that can't be empty; ok is false where it is, or is unreadable.
func Named(t *Table, row Row, column string) (name string, ok bool) {
	if !row.Readable(column) {
		return "", false
	}
	if name = row.Get(column); name == "" {
		t.Wrong(row, "%s is empty", column)
		return "", false
	}
	return name, true
}

// Value reads a value with the given parser; ok is false where it can't be read.
func Value[T any](t *Table, row Row, column string, parse func(string) (T, error)) (v T, ok bool) {
	if !row.Readable(column) {
		return v, false
	}
	v, err := parse(row.Get(column))
	if err != nil {
		t.Wrong(row, "%s %v", column, err)
		return v, false
	}
	return v, true
}

// ByLine puts problems of one file in the order of the lines.
func ByLine(list []Problem) {
	slices.SortStableFunc(list, func(a, b Problem) int { return cmp.Compare(a.Line, b.Line) })
}

// record is what a reader made of one record.
type record struct {
	line   int
	fields []string
	whole  bool
	err    error
}

// batchSize is how many records are handed over at once.
const batchSize = 512

// readAhead reads records in a goroutine of its own, so that the next are taken
// apart while those before are looked at. The channel must be emptied.
func readAhead(reader *csv.Reader, width int) <-chan []record {
	out := make(chan []record, 4)
	go func() {
		defer close(out)
		for more := true; more; {
			batch := make([]record, 0, batchSize)
			fields := make([]string, 0, batchSize*width) // of the whole batch
			for more && len(batch) < batchSize {
				got, err := reader.Read()
				if errors.Is(err, io.EOF) {
					more = false
					break
				}
				r := record{err: err, whole: true}
				if err != nil {
					more = isParseError(err) // any other error would come again
				} else {
					r.line, _ = reader.FieldPos(0)
					from := len(fields)
					fields = append(fields, got...)
					r.fields = fields[from:len(fields):len(fields)]
					for _, f := range got {
						r.whole = r.whole && utf8.ValidString(f)
					}
				}
				batch = append(batch, r)
			}
			out <- batch
		}
	}()
	return out
}

func isParseError(err error) bool {
	var bad *csv.ParseError
	return errors.As(err, &bad)
}

// failed adds a reading error as a problem.
func (t *Table) failed(err error, atEnd string) {
	var bad *csv.ParseError
	switch {
	case errors.As(err, &bad):
		t.Problems = append(t.Problems, Problem{t.Name, bad.StartLine, csvText(err)})
	case errors.Is(err, io.EOF):
		t.Problems = append(t.Problems, Problem{t.Name, 1, atEnd})
	default:
		t.Problems = append(t.Problems, Problem{t.Name, 0, "can't be read: " + err.Error()})
	}
}

func csvText(err error) string {
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
	t.Usable = true
	readable := utf8.ValidString(strings.Join(header, ""))
	if !readable {
		wrong("this line is not valid UTF-8")
	}
	for i, c := range header {
		if !known[c] {
			t.Unknown = append(t.Unknown, c)
			continue
		}
		if t.Has(c) {
			wrong("the column %q is there twice", c)
			t.Usable = false
			continue
		}
		t.columns = append(t.columns, column{c, i})
	}
	for _, c := range needed {
		if t.Has(c) {
			continue
		}
		t.Usable = false
		if readable { // else it may be the one that can't be read
			wrong("the column %q is missing", c)
		}
	}
}

// Write returns a table as CSV: LF, quoted only where needed, with a header.
func Write(header []string, rows [][]string) []byte {
	return WriteEach(header, slices.Values(rows))
}

// WriteEach is Write for rows that are not all held at once.
func WriteEach(header []string, rows iter.Seq[[]string]) []byte {
	var b bytes.Buffer
	_ = Rows(header, rows)(&b) // writing to a buffer can't fail
	return b.Bytes()
}

// Content writes a file.
type Content func(w io.Writer) error

// Rows is the content of a table whose rows are made while it is written.
func Rows(header []string, rows iter.Seq[[]string]) Content {
	return func(to io.Writer) error {
		w := csv.NewWriter(to)
		if err := w.Write(header); err != nil {
			return err
		}
		for row := range rows {
			if err := w.Write(row); err != nil {
				return err
			}
		}
		w.Flush()
		return w.Error()
	}
}

// Whole is the content of a file that is held whole.
func Whole(content []byte) Content {
	return func(w io.Writer) error {
		_, err := w.Write(content)
		return err
	}
}

// Contents are files by name that nobody holds whole.
type Contents map[string]Content

// Files holds them whole.
func (c Contents) Files() (Files, error) {
	out := Files{}
	for name, write := range c {
		var b bytes.Buffer
		if err := write(&b); err != nil {
			return nil, err
		}
		out[name] = b.Bytes()
	}
	return out, nil
}

// Files are files by name.
type Files map[string][]byte

// Names returns the names in order.
func (f Files) Names() []string { return slices.Sorted(maps.Keys(f)) }

// Contents returns the files as they are written.
func (f Files) Contents() Contents {
	out := Contents{}
	for name, content := range f {
		out[name] = Whole(content)
	}
	return out
}
