package outlookfile

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"meldung/core/outlook"
	"meldung/files/table"
)

// The columns that are no inputs.
const (
	studentColumn = "student"
	outcomeColumn = "outcome"
)

// mostMixed is of how many different values a column may be both numbers and words.
const mostMixed = 20

// Read reads a history, and students of today where content of them is not nil. Names are those under which
// problems are told. Every row is looked at; where anything is wrong the history is nil.
func Read(historyName string, history []byte, studentsName string, students []byte) (*outlook.History, []Student, []table.Problem) {
	inputs, rows, problems := readHistory(historyName, history)
	if inputs == nil {
		return nil, nil, problems
	}
	var today []Student
	if students != nil {
		var wrong []table.Problem
		today, wrong = readStudents(studentsName, students, inputs)
		problems = append(problems, wrong...)
	}
	if len(problems) > 0 {
		return nil, nil, problems
	}
	return outlook.NewHistory(inputs, rows), today, nil
}

// raw is a row of the history as it is written.
type raw struct {
	line    int
	student string
	outcome bool
	sound   bool // student and outcome could be read
	cells   []string
}

func readHistory(name string, content []byte) ([]outlook.Input, []outlook.Row, []table.Problem) {
	columns, nameless := inputColumns(content)
	list := []raw{}
	seen := map[string]bool{}
	t := table.Scan(name, bytes.NewReader(content), []string{studentColumn, outcomeColumn}, columns, func(t *table.Table, row table.Row) {
		r := raw{line: row.Line}
		r.student, r.sound = table.Named(t, row, studentColumn)
		if r.sound && seen[r.student] {
			t.Wrong(row, "student %q is there twice", r.student)
		}
		seen[r.student] = true
		outcome, ok := table.Value(t, row, outcomeColumn, parseOutcome)
		r.outcome, r.sound = outcome, r.sound && ok
		for _, c := range columns {
			if !row.Readable(c) {
				r.cells = append(r.cells, "")
				continue
			}
			r.cells = append(r.cells, strings.Clone(row.Get(c)))
		}
		list = append(list, r)
	})
	if t.Usable {
		switch {
		case nameless:
			t.Problems = append(t.Problems, table.Problem{File: name, Line: headerLine(content), Text: "a column has no name"})
		case len(columns) == 0:
			t.Problems = append(t.Problems, table.Problem{File: name, Line: headerLine(content), Text: "there is no column beside student and outcome; one input is needed"})
		}
	}
	if !t.Usable || len(columns) == 0 || nameless {
		return nil, nil, t.Problems
	}
	inputs := make([]outlook.Input, len(columns))
	for i, c := range columns {
		inputs[i] = outlook.Input{Name: c}
		var wrong *table.Problem
		if inputs[i].Number, wrong = kindOf(name, c, list, i); wrong != nil {
			t.Problems = append(t.Problems, *wrong)
		}
	}
	table.ByLine(t.Problems)
	rows := make([]outlook.Row, len(list))
	for n, r := range list {
		rows[n] = outlook.Row{Student: r.student, Outcome: r.outcome}
		for i, in := range inputs {
			v, _ := value(in, r.cells[i])
			rows[n].Values = append(rows[n].Values, v)
		}
	}
	return inputs, rows, t.Problems
}

// inputColumns are the columns of a header that are inputs, in their order, each once; nameless tells that
// one has no name.
func inputColumns(content []byte) (columns []string, nameless bool) {
	header, err := csv.NewReader(bytes.NewReader(bytes.TrimPrefix(content, []byte("\ufeff")))).Read()
	if err != nil {
		return nil, false // the table says so
	}
	for _, c := range header {
		switch {
		case c == "":
			nameless = true
		case c != studentColumn && c != outcomeColumn && !slices.Contains(columns, c):
			columns = append(columns, c)
		}
	}
	return columns, nameless
}

func headerLine(content []byte) int {
	reader := csv.NewReader(bytes.NewReader(bytes.TrimPrefix(content, []byte("\ufeff"))))
	if _, err := reader.Read(); err != nil {
		return 1
	}
	line, _ := reader.FieldPos(0)
	return line
}

func parseOutcome(text string) (bool, error) {
	if text != "0" && text != "1" {
		return false, fmt.Errorf("%q is not 0 or 1", text)
	}
	return text == "1", nil
}

// kindOf tells whether a column is one of numbers. One that is both numbers and words, of many values, has a
// typing mistake at its first word.
func kindOf(name, column string, list []raw, i int) (isNumber bool, wrong *table.Problem) {
	values := map[string]bool{}
	numbers, word, line := false, "", 0
	for _, r := range list {
		text := r.cells[i]
		if text == "" {
			continue
		}
		values[text] = true
		switch _, ok := parseNumber(text); {
		case ok:
			numbers = true
		case line == 0:
			word, line = text, r.line
		}
	}
	if line > 0 && numbers && len(values) > mostMixed {
		return true, &table.Problem{File: name, Line: line, Text: fmt.Sprintf("%s %q is not a number, as others of its column are", column, word)}
	}
	return line == 0, nil
}

// parseNumber reads digits, with an optional minus before and an optional point and digits after.
func parseNumber(text string) (float64, bool) {
	whole, part, point := strings.Cut(strings.TrimPrefix(text, "-"), ".")
	if !digits(whole) || point && !digits(part) {
		return 0, false
	}
	x, err := strconv.ParseFloat(text, 64)
	return x, err == nil
}

func digits(text string) bool { return text != "" && strings.Trim(text, "0123456789") == "" }

// value reads one cell; ok is false for a word among numbers.
func value(in outlook.Input, text string) (v outlook.Value, ok bool) {
	switch {
	case text == "":
		return v, true
	case !in.Number:
		return outlook.Value{Known: true, Word: text}, true
	}
	x, ok := parseNumber(text)
	return outlook.Value{Known: ok, Number: x}, ok
}

func readStudents(name string, content []byte, inputs []outlook.Input) ([]Student, []table.Problem) {
	needed := []string{studentColumn}
	for _, in := range inputs {
		needed = append(needed, in.Name)
	}
	list := []Student{}
	seen := map[string]bool{}
	t := table.Scan(name, bytes.NewReader(content), needed, nil, func(t *table.Table, row table.Row) {
		id, ok := table.Named(t, row, studentColumn)
		if ok && seen[id] {
			t.Wrong(row, "student %q is there twice", id)
		}
		seen[id] = true
		s := Student{ID: id}
		for _, in := range inputs {
			text := row.Get(in.Name)
			v, ok := value(in, strings.Clone(text))
			if !ok && row.Readable(in.Name) {
				t.Wrong(row, "%s %q is not a number", in.Name, text)
			}
			s.Values = append(s.Values, v)
		}
		list = append(list, s)
	})
	return list, t.Problems
}
