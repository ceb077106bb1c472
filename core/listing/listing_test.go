package listing_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"meldung/core/listing"
)

func texts(groups []listing.Group) (out []string) {
	for _, g := range groups {
		if g.Name != "" {
			out = append(out, "# "+g.Name)
		}
		for _, r := range g.Rows {
			out = append(out, r.Cells[0].Text)
		}
	}
	return out
}

func row(text, group string, by ...listing.Cell) listing.Row {
	return listing.Row{Cells: []listing.Cell{{Text: text}}, Group: listing.Cell{Text: group}, By: by}
}

func TestTheOrderIsThatOfPeople(t *testing.T) {
	rows := []listing.Row{}
	for _, name := range []string{"Zander", "Ågren", "agren", "Østby", "Łucja", "Lund", "10 Cleat", "7 Halyard", ""} {
		rows = append(rows, row(name, "", listing.Cell{Text: name}))
	}
	assert.Equal(t, []string{"7 Halyard", "10 Cleat", "agren", "Ågren", "Łucja", "Lund", "Østby", "Zander", ""}, texts(listing.Arrange(rows, []listing.Order{{}})))
	assert.Equal(t, "", slices.Clone(texts(listing.Arrange(rows, []listing.Order{{Down: true}})))[8], "what is not there comes last either way")
}

func TestNumbersAndGroups(t *testing.T) {
	rows := []listing.Row{
		row("a", "8 Reef", listing.Ranked("9.8 %", 9.8)), row("b", "8 Reef", listing.Ranked("12 %", 12)),
		row("c", "", listing.Ranked("3 %", 3)), row("d", "10 Reef", listing.Cell{}), row("e", "10 Reef", listing.Ranked("0 %", 0)),
	}
	assert.Equal(t, []string{"# 8 Reef", "b", "a", "# 10 Reef", "e", "d", "c"}, texts(listing.Arrange(rows, []listing.Order{{Down: true}})))
	assert.Empty(t, listing.Arrange(nil, nil))
}

// Whatever the rows and orders, none is lost, none comes twice, each group stands once, and arranging again changes
// nothing.
func TestArrangingKeepsEveryRow(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		orders := make([]listing.Order, rapid.IntRange(0, 3).Draw(t, "orders"))
		for i := range orders {
			orders[i].Down = rapid.Bool().Draw(t, "down")
		}
		cell := func(name string) listing.Cell {
			c := listing.Cell{Text: rapid.SampledFrom([]string{"", "a", "Å", "ä", "A", "b 2", "b 10", "ß", "Ω"}).Draw(t, name)}
			if rapid.Bool().Draw(t, name+" ranked") {
				by := float64(rapid.IntRange(-2, 2).Draw(t, name+" by"))
				c.Rank = &by
			}
			return c
		}
		rows := make([]listing.Row, rapid.IntRange(0, 30).Draw(t, "rows"))
		for i := range rows {
			by := make([]listing.Cell, len(orders))
			for k := range by {
				by[k] = cell("by")
			}
			rows[i] = row(fmt.Sprint(i), cell("group").Text, by...)
		}
		groups := listing.Arrange(rows, orders)
		var names, all []string
		var again []listing.Row
		for _, g := range groups {
			names = append(names, g.Name)
			for _, r := range g.Rows {
				all, again = append(all, r.Cells[0].Text), append(again, r)
				assert.Equal(t, g.Name, r.Group.Text)
			}
		}
		assert.Len(t, all, len(rows))
		slices.Sort(names)
		assert.Equal(t, len(names), len(slices.Compact(names)), "a group stands once")
		assert.Equal(t, strings.Join(all, " "), func() string {
			var out []string
			for _, g := range listing.Arrange(again, orders) {
				for _, r := range g.Rows {
					out = append(out, r.Cells[0].Text)
				}
			}
			return strings.Join(out, " ")
		}())
		slices.Sort(all)
		assert.Equal(t, len(all), len(slices.Compact(all)))
	})
}
