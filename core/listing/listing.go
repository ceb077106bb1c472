// Package listing puts the rows of a list into order and into groups. It knows nothing of who is on the list, of
// pages, or of paper.
package listing

import (
	"cmp"
	"slices"
	"strings"

	"golang.org/x/text/collate"
	"golang.org/x/text/language"
)

// Cell is what stands in a row under a column.
type Cell struct {
	Text string   // lines apart by \n; empty for nothing
	File string   // as a file has it, where that is another: a date as YYYY-MM-DD, a number without its unit
	Rank *float64 // what it is ordered by, where that is a number, a date or a time; nil for by its text
}

// InFile is what a file has of the cell.
func (c Cell) InFile() string {
	return cmp.Or(c.File, strings.ReplaceAll(c.Text, Together, " "))
}

// Together is a space at which no line is broken, as within a number to ring.
const Together = "\u00a0"

// Ranked is a cell that is ordered by a number.
func Ranked(text string, by float64) Cell { return Cell{Text: text, Rank: &by} }

// Row is a row of a list: a cell for each column, and those that it is grouped and ordered by besides.
type Row struct {
	Name  string // whose row it is
	Cells []Cell
	Group Cell
	By    []Cell // one for each order
}

// Order is how one of the cells of By counts.
type Order struct{ Down bool }

// Group is rows under one heading, in their order.
type Group struct {
	Name string // empty where the rows have none
	Rows []Row
}

// Arrange puts rows into groups by what they are grouped by, and orders groups and rows: by each order in turn, and
// rows that all orders leave equal stay as they came. Numbers in a text count as numbers: 7 Halyard before 10 Cleat;
// letters with marks stand beside those without. What has no text comes last, whichever way the order goes. Rows
// that are not grouped are one group without a name; no rows are no group.
func Arrange(rows []Row, orders []Order) []Group {
	c := comparer{collate.New(language.Und, collate.Loose, collate.Numeric), collate.New(language.Und, collate.Numeric)}
	rows = slices.Clone(rows)
	slices.SortStableFunc(rows, func(a, b Row) int {
		if n := c.compare(a.Group, b.Group, false); n != 0 {
			return n
		}
		for i, o := range orders {
			if n := c.compare(a.By[i], b.By[i], o.Down); n != 0 {
				return n
			}
		}
		return 0
	})
	var out []Group
	for _, r := range rows {
		if n := len(out); n == 0 || out[n-1].Name != r.Group.Text {
			out = append(out, Group{Name: r.Group.Text})
		}
		last := &out[len(out)-1]
		last.Rows = append(last.Rows, r)
	}
	return out
}

// comparer compares cells: loosely first, so that Ågren stands by Agren, then exactly, so that no two texts are one.
type comparer struct{ loose, exact *collate.Collator }

func (c comparer) compare(a, b Cell, down bool) int {
	if empty := cmp.Compare(none(a), none(b)); empty != 0 {
		return empty
	}
	n := 0
	switch {
	case a.Rank != nil && b.Rank != nil:
		n = cmp.Compare(*a.Rank, *b.Rank)
	case a.Rank != nil || b.Rank != nil:
		n = map[bool]int{true: -1, false: 1}[a.Rank != nil]
	}
	if n == 0 && a.Text != b.Text {
		n = cmp.Or(c.loose.CompareString(a.Text, b.Text), c.exact.CompareString(a.Text, b.Text), strings.Compare(a.Text, b.Text))
	}
	if down {
		return -n
	}
	return n
}

// none is 1 for a cell in which nothing stands.
func none(c Cell) int {
	if c.Text == "" && c.Rank == nil {
		return 1
	}
	return 0
}
