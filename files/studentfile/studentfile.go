// Package studentfile reads and writes the whole record of a student, as one school hands it to another or to whoever
// asks what is kept of them: a zip archive of CSV files, a table each, with the photo and the documents of warnings. It
// knows nothing of what the tables hold but about.csv, which says whose record it is, and the few that a receiving
// school can take over.
package studentfile

import (
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"path"
	"slices"
	"strings"
	"unicode/utf8"

	"meldung/files/table"
)

// About says whose record it is.
type About struct {
	School string // that hands it out
	Given  string
	Family string
	Number string // the school's own
	Born   string // YYYY-MM-DD; empty where it is not known
	Made   string // YYYY-MM-DD HH:MM
	MadeBy string
}

// Name is the student's name.
func (a About) Name() string { return strings.TrimSpace(a.Given + " " + a.Family) }

// Table is one kind of what is on record.
type Table struct {
	Name   string // as its file, without the ending
	Header []string
	Rows   [][]string
}

// Each hands on the rows of a table with a way to read a cell by its heading; empty where there is no such.
func (t Table) Each(row func(get func(column string) string)) {
	place := map[string]int{}
	for i, h := range t.Header {
		place[h] = i
	}
	for _, r := range t.Rows {
		row(func(column string) string {
			if i, there := place[column]; there {
				return r[i]
			}
			return ""
		})
	}
}

// Record is all that is on record about a student.
type Record struct {
	About  About
	Tables []Table           // by name; without about
	Files  map[string][]byte // the rest by name: photo.png, record.pdf, documents/…
}

// Table returns a table by its name; one without rows where there is none.
func (r Record) Table(name string) Table {
	if i := slices.IndexFunc(r.Tables, func(t Table) bool { return t.Name == name }); i >= 0 {
		return r.Tables[i]
	}
	return Table{Name: name}
}

const aboutName = "about"

var aboutHeader = []string{"school", "given", "family", "number", "born", "made", "made_by"}

// Zip writes a record as an archive.
func (r Record) Zip() ([]byte, error) {
	files := table.Files{}
	for name, content := range r.Files {
		files[name] = content
	}
	a := r.About
	tables := append([]Table{{Name: aboutName, Header: aboutHeader, Rows: [][]string{{a.School, a.Given, a.Family, a.Number, a.Born, a.Made, a.MadeBy}}}}, r.Tables...)
	for _, t := range tables {
		name := t.Name + ".csv"
		if _, twice := files[name]; twice {
			return nil, fmt.Errorf("the record has two tables called %s", t.Name)
		}
		files[name] = table.Write(t.Header, t.Rows)
	}
	var out bytes.Buffer
	err := files.Zip(&out)
	return out.Bytes(), err
}

// Read reads a record from an archive. What is wrong is told by file and line, all of it; then there is no record.
func Read(archive []byte) (Record, []table.Problem) {
	files, err := table.UnzipAll(archive)
	if err != nil {
		return Record{}, []table.Problem{{File: "the file", Text: strings.TrimPrefix(err.Error(), "this is neither a folder nor a zip archive: ")}}
	}
	out := Record{Files: map[string][]byte{}}
	var wrong []table.Problem
	for _, name := range files.Names() {
		base, is := strings.CutSuffix(name, ".csv")
		if !is {
			out.Files[name] = files[name]
			continue
		}
		t, problem := readTable(name, files[name])
		if problem != nil {
			wrong = append(wrong, *problem)
			continue
		}
		if t.Name = path.Base(base); slices.ContainsFunc(out.Tables, func(o Table) bool { return o.Name == t.Name }) {
			wrong = append(wrong, table.Problem{File: name, Text: "is there twice, in two folders"})
			continue
		}
		out.Tables = append(out.Tables, t)
	}
	at := slices.IndexFunc(out.Tables, func(t Table) bool { return t.Name == aboutName })
	switch {
	case at < 0 && len(wrong) == 0:
		wrong = append(wrong, table.Problem{File: "about.csv", Text: "is missing: this is no record of a student that a school has handed out"})
	case at >= 0:
		out.Tables[at].Each(func(get func(string) string) {
			out.About = About{get("school"), get("given"), get("family"), get("number"), get("born"), get("made"), get("made_by")}
		})
		if len(out.Tables[at].Rows) != 1 || out.About.School == "" || out.About.Name() == "" {
			wrong = append(wrong, table.Problem{File: "about.csv", Text: "must have one line, with school, given and family name"})
		}
		out.Tables = slices.Delete(out.Tables, at, at+1)
	}
	slices.SortFunc(out.Tables, func(a, b Table) int { return strings.Compare(a.Name, b.Name) })
	return out, wrong
}

func readTable(name string, content []byte) (Table, *table.Problem) {
	if !utf8.Valid(content) {
		return Table{}, &table.Problem{File: name, Text: "is not UTF-8"}
	}
	r := csv.NewReader(bytes.NewReader(bytes.TrimPrefix(content, []byte("\ufeff"))))
	header, err := r.Read()
	if errors.Is(err, io.EOF) {
		return Table{}, &table.Problem{File: name, Text: "is empty: there is no header"}
	}
	var rows [][]string
	for err == nil {
		var row []string
		if row, err = r.Read(); err == nil {
			rows = append(rows, row)
		}
	}
	var at *csv.ParseError
	switch {
	case errors.As(err, &at) && errors.Is(err, csv.ErrFieldCount):
		return Table{}, &table.Problem{File: name, Line: at.StartLine, Text: fmt.Sprintf("has not the %d fields of the header", len(header))}
	case errors.As(err, &at):
		return Table{}, &table.Problem{File: name, Line: at.StartLine, Text: at.Err.Error()}
	case !errors.Is(err, io.EOF):
		return Table{}, &table.Problem{File: name, Text: err.Error()}
	}
	for i, h := range header {
		if header[i] = strings.TrimSpace(h); slices.Contains(header[:i], header[i]) {
			return Table{}, &table.Problem{File: name, Line: 1, Text: fmt.Sprintf("has the column %q twice", header[i])}
		}
	}
	return Table{Header: header, Rows: rows}, nil
}
