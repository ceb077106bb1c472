package pages

import (
	"cmp"
	"strings"

	"meldung/files/sheet"
	"meldung/held/names"
)

// File is something to keep: its name says what it holds.
type File struct {
	Name    string
	Type    string
	Content []byte
}

// PDF is the type of a PDF file.
const PDF = "application/pdf"

// Slug writes a text for a file's name.
func Slug(s string) string {
	words := strings.FieldsFunc(names.Fold(s), func(r rune) bool { return (r < 'a' || r > 'z') && (r < '0' || r > '9') })
	return cmp.Or(strings.Join(words, "-"), "all")
}

// ListFile writes a list as CSV or as a spreadsheet (csv, xlsx), under a name without the ending.
func ListFile(name string, list sheet.List, format string) (File, error) {
	if format == "csv" {
		return File{Name: name + ".csv", Type: "text/csv; charset=utf-8", Content: list.CSV()}, nil
	}
	content, err := list.Spreadsheet()
	return File{Name: name + ".xlsx", Type: "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", Content: content}, err
}
