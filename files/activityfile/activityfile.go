// Package activityfile reads what students did on learning platforms or in the library, as a CSV file.
package activityfile

import (
	"bytes"

	"meldung/core/day"
	"meldung/files/table"
)

// Name is the file's.
const Name = "activity.csv"

// Row is something that a student did.
type Row struct {
	Line    int
	Student string
	Source  string
	At      *day.Instant // nil says that the source knows the student
	Kind    string
}

// Read reads the file: student, source, at (2026-03-10T08:15, or a date alone; empty: the source knows the
// student), kind. Every row is looked at, and every wrong one told by its line.
func Read(files table.Files) ([]Row, []table.Problem) {
	content, there := files[Name]
	if !there {
		return nil, []table.Problem{{File: Name, Text: "the file is missing"}}
	}
	var out []Row
	t := table.Scan(Name, bytes.NewReader(content), []string{"student", "source", "at", "kind"}, nil, func(t *table.Table, row table.Row) {
		r := Row{Line: row.Line, Source: row.Get("source"), Kind: row.Get("kind")}
		var ok bool
		if r.Student, ok = table.Named(t, row, "student"); !ok {
			return
		}
		if r.Source == "" {
			t.Wrong(row, "source is empty")
			return
		}
		if text := row.Get("at"); text != "" {
			at, err := parse(text)
			if err != nil {
				t.Wrong(row, "at is %q; 2026-03-10T08:15 or 2026-03-10 is expected", text)
				return
			}
			r.At = &at
		}
		out = append(out, r)
	})
	return out, t.Problems
}

func parse(text string) (day.Instant, error) {
	if d, err := day.ParseDate(text); err == nil {
		return day.At(d, day.Midnight), nil
	}
	return day.ParseInstant(text)
}
