package sheet_test

import (
	"archive/zip"
	"bytes"
	"encoding/csv"
	"encoding/xml"
	"io"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"

	"meldung/files/sheet"
)

var example = sheet.List{Title: "Late arrivals", About: []string{"2 to 6 March 2026", "It holds data about students."},
	Columns: []sheet.Column{{Heading: "Student", Width: 30}, {Heading: "Minutes missed", Width: 12, Number: true}},
	Rows:    [][]string{{"Łucja Ångström", "35"}, {`=HYPERLINK("x")`, ""}, {"+Harle, “Oona”", "0"}, {"two\nlines", "7"}}}

func TestCSV(t *testing.T) {
	read, err := csv.NewReader(bytes.NewReader(example.CSV())).ReadAll()
	require.NoError(t, err)
	assert.Equal(t, [][]string{{"Student", "Minutes missed"}, {"Łucja Ångström", "35"}, {`'=HYPERLINK("x")`, ""}, {"'+Harle, “Oona”", "0"}, {"two\nlines", "7"}}, read)
}

func TestSpreadsheet(t *testing.T) {
	content, err := example.Spreadsheet()
	require.NoError(t, err)
	f, err := excelize.OpenReader(bytes.NewReader(content))
	require.NoError(t, err)
	rows, err := f.GetRows("List")
	require.NoError(t, err)
	assert.Equal(t, [][]string{{"Student", "Minutes missed"}, {"Łucja Ångström", "35"}, {`=HYPERLINK("x")`}, {"+Harle, “Oona”", "0"}, {"two\nlines", "7"}}, rows)
	formula, err := f.GetCellFormula("List", "A3")
	require.NoError(t, err)
	assert.Empty(t, formula, "a text is a text")
	about, err := f.GetRows("About")
	require.NoError(t, err)
	assert.Equal(t, [][]string{{"Late arrivals"}, {"2 to 6 March 2026"}, {"It holds data about students."}}, about)
}

// The parts of the workbook are read without the library that wrote it: a number is a
// number there, a text is not a formula.
func TestTheWorkbookIsWhatTheStandardSays(t *testing.T) {
	content, err := example.Spreadsheet()
	require.NoError(t, err)
	z, err := zip.NewReader(bytes.NewReader(content), int64(len(content)))
	require.NoError(t, err)
	part, err := z.Open("xl/worksheets/sheet1.xml")
	require.NoError(t, err)
	text, err := io.ReadAll(part)
	require.NoError(t, err)
	var ws struct {
		Cells []struct {
			At      string  `xml:"r,attr"`
			Type    string  `xml:"t,attr"`
			Value   string  `xml:"v"`
			Formula *string `xml:"f"`
		} `xml:"sheetData>row>c"`
	}
	require.NoError(t, xml.Unmarshal(text, &ws))
	types := map[string]string{}
	for _, c := range ws.Cells {
		assert.Nil(t, c.Formula, c.At)
		types[c.At] = c.Type + " " + c.Value
	}
	assert.Equal(t, "35", strings.TrimSpace(types["B2"]), "a number has no type")
	assert.Equal(t, "0", strings.TrimSpace(types["B4"]), "nought is shown as nought")
	assert.NotContains(t, types, "B3", "an empty cell stays empty")
	assert.True(t, strings.HasPrefix(types["A3"], "s ") || strings.HasPrefix(types["A3"], "inlineStr") || strings.HasPrefix(types["A3"], "str"), types["A3"])
}

func TestAnEmptyListHasItsHeadings(t *testing.T) {
	empty := example
	empty.Rows = nil
	content, err := empty.Spreadsheet()
	require.NoError(t, err)
	f, err := excelize.OpenReader(bytes.NewReader(content))
	require.NoError(t, err)
	rows, err := f.GetRows("List")
	require.NoError(t, err)
	assert.Equal(t, [][]string{{"Student", "Minutes missed"}}, rows)
	assert.Equal(t, "Student,Minutes missed\r\n", strings.ReplaceAll(strings.ReplaceAll(string(empty.CSV()), "\r\n", "\n"), "\n", "\r\n"))
}

// Dates and shares are numbers in a spreadsheet, so that they can be sorted and reckoned with; the
// file read by another program has what was written.
func TestDatesAndDecimals(t *testing.T) {
	l := sheet.List{Title: "Days", Columns: []sheet.Column{{Heading: "Date", Date: true, Width: 12}, {Heading: "Share, %", Decimal: 1, Width: 8}},
		Rows: [][]string{{"2026-03-09", "10.6"}, {"", ""}, {"no date", "–"}}}
	content, err := l.Spreadsheet()
	require.NoError(t, err)
	f, err := excelize.OpenReader(bytes.NewReader(content))
	require.NoError(t, err)
	for cell, want := range map[string]excelize.CellType{"A2": excelize.CellTypeUnset, "B2": excelize.CellTypeUnset, "A4": excelize.CellTypeSharedString, "B4": excelize.CellTypeSharedString} {
		got, err := f.GetCellType("List", cell)
		require.NoError(t, err)
		assert.Equal(t, want, got, cell)
	}
	raw, err := f.GetCellValue("List", "A2", excelize.Options{RawCellValue: true})
	require.NoError(t, err)
	assert.Equal(t, "46090", raw, "days since 30 December 1899")
	share, err := f.GetCellValue("List", "B2", excelize.Options{RawCellValue: true})
	require.NoError(t, err)
	assert.Equal(t, "10.6", share)
	assert.Equal(t, "Date,\"Share, %\"\n2026-03-09,10.6\n,\nno date,–\n", strings.ReplaceAll(string(l.CSV()), "\r", ""))
}
