// Package letter fills the school's own letters: plain text with named fields in braces. It must
// not know where the figures come from, nor how a letter is set on paper.
package letter

import (
	"fmt"
	"slices"
	"strings"
)

// Field is something that a letter can name.
type Field struct {
	Name, About string
	OfStep      bool // it says something about a step alone
}

// Fields are what a letter can name, in the order in which an editor lists them.
var Fields = []Field{
	{"addressees", "whom it goes to: Marta and Leon Wake", false},
	{"student", "the student's name", false},
	{"given name", "the student's given name", false},
	{"form", "the student's form", false},
	{"number", "the student's number", false},
	{"count", "what was counted: 5 days, 31 h 15 min, 4 lates", true},
	{"reach", "the line that was reached: 5 days", true},
	{"dates", "the dates that were counted: 4, 11 and 12 February", true},
	{"window", "over what it was counted: in the year", true},
	{"class", "where lates were counted: the class", true},
	{"missed", "all that was missed by the policy: 22 of 113 days", true},
	{"share", "the same in per cent: 19.5 %", true},
	{"time missed", "the time missed of the student's own timetable: 131 h 40 min", true},
	{"time charged", "the time on the policy's basis; for a part-time student of the own timetable", true},
	{"timetable", "for a part-time student: of the student's own timetable; else nothing", true},
	{"lates", "how many lates this year", true},
	{"school", "the school's name", false},
	{"phone", "the number to be called about it", false},
	{"date", "the day on which it is printed", false},
	{"sender", "who prints it", false},
}

// piece is a stretch of plain text, or a field by its name.
type piece struct {
	text  string
	field bool
}

// parse takes a text apart. Braces are written twice to stand for themselves.
func parse(text string) ([]piece, error) {
	var out []piece
	var plain strings.Builder
	for i := 0; i < len(text); i++ {
		switch c := text[i]; {
		case (c == '{' || c == '}') && i+1 < len(text) && text[i+1] == c:
			plain.WriteByte(c)
			i++
		case c == '}':
			return nil, fmt.Errorf("line %d: } has no { before it", lineOf(text, i))
		case c == '{':
			end := strings.IndexAny(text[i+1:], "{}\n")
			if end < 0 || text[i+1+end] != '}' {
				return nil, fmt.Errorf("line %d: { has no } after it", lineOf(text, i))
			}
			name := strings.TrimSpace(text[i+1 : i+1+end])
			if !slices.ContainsFunc(Fields, func(f Field) bool { return f.Name == name }) {
				return nil, fmt.Errorf("line %d: there is no field {%s}", lineOf(text, i), name)
			}
			out = append(out, piece{text: plain.String()}, piece{name, true})
			plain.Reset()
			i += 1 + end
		default:
			plain.WriteByte(c)
		}
	}
	return append(out, piece{text: plain.String()}), nil
}

func lineOf(text string, at int) int { return strings.Count(text[:at], "\n") + 1 }

// Check says what is wrong with a letter: a field that is none, or a brace that stands alone.
func Check(text string) error {
	_, err := parse(text)
	return err
}

// CheckPlain says what is wrong with a letter that no step is about.
func CheckPlain(text string) error {
	pieces, err := parse(text)
	if err != nil {
		return err
	}
	for _, p := range pieces {
		if p.field && slices.ContainsFunc(Fields, func(f Field) bool { return f.Name == p.text && f.OfStep }) {
			return fmt.Errorf("{%s} is for a letter that a step asks for, and says nothing in this one", p.text)
		}
	}
	return nil
}

// Fill puts values in the place of fields. A field without a value is left out with the space
// before it; a line that then says nothing is left out too, unless it was empty before.
func Fill(text string, values map[string]string) (string, error) {
	pieces, err := parse(text)
	if err != nil {
		return "", err
	}
	const gone = "\x00"
	var b strings.Builder
	for _, p := range pieces {
		switch {
		case !p.field:
			b.WriteString(p.text)
		case values[p.text] == "":
			b.WriteString(gone)
		default:
			b.WriteString(values[p.text])
		}
	}
	var out []string
	for line := range strings.SplitSeq(b.String(), "\n") {
		filled := strings.ReplaceAll(strings.ReplaceAll(line, " "+gone, ""), gone, "")
		if strings.TrimSpace(filled) == "" && strings.TrimSpace(line) != "" {
			continue
		}
		out = append(out, strings.TrimRight(filled, " \t\r"))
	}
	return strings.Trim(strings.Join(out, "\n"), "\n"), nil
}

// Paragraphs parts a filled letter at its empty lines. Lines within a paragraph stay apart.
func Paragraphs(text string) []string {
	var out []string
	for part := range strings.SplitSeq(text, "\n\n") {
		if part = strings.Trim(part, "\n"); part != "" {
			out = append(out, part)
		}
	}
	return out
}
