package paperpage

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"meldung/files/paper"
	"meldung/files/sheet"
)

// asPages sets the list.
func (f *filled) asPages() ([]paper.Page, error) {
	if f.setup.Kind == "labels" {
		l, err := f.labels()
		if err != nil {
			return nil, err
		}
		return l.Pages()
	}
	return f.onPaper().Pages()
}

func (f *filled) onPaper() paper.List {
	l := paper.List{School: f.school, Emblem: f.emblem, Title: f.title, Above: f.setup.Above, Below: f.setup.Below, A5: f.setup.A5, Across: f.setup.Across, Points: float64(f.setup.Points), NewPage: f.setup.NewPage,
		Sign: f.setup.Sign, Shade: f.setup.Shade, Covers: f.covers, Foot: f.foot, Empty: "Nobody is on this list.", Photo: func(id string) []byte { return f.photos[id] }}
	for i, c := range f.columns {
		l.Columns = append(l.Columns, paper.ListColumn{Heading: f.as[i].Heading, Width: float64(f.as[i].Width), Right: c.kind == numberField || c.kind == shareField, Write: c.kind == writeField, Tick: c.kind == tickField, Photo: c.kind == photoField})
	}
	for _, g := range f.groups {
		one := paper.ListGroup{Name: g.Name}
		if f.grouped != nil && g.Name == "" {
			one.Name = "without: " + f.grouped.heading
		}
		for _, r := range g.Rows {
			cells := make([]string, len(r.Cells))
			for i, c := range r.Cells {
				cells[i] = c.Text
			}
			one.Rows = append(one.Rows, cells)
		}
		l.Groups = append(l.Groups, one)
	}
	return l
}

// labels are the rows with their columns as lines. Whoever has nothing to write there gets no label, and a text
// stands on one label only, as that to a home with several students.
func (f *filled) labels() (paper.Labels, error) {
	s, ok := paper.LabelSheetOf(f.setup.Labels)
	if !ok {
		return paper.Labels{}, fmt.Errorf("there is no sheet of labels %q", f.setup.Labels)
	}
	out := paper.Labels{Sheet: s, Points: float64(f.setup.Points), Skip: f.setup.Skip}
	for _, g := range f.groups {
		for _, r := range g.Rows {
			var lines []string
			for i, c := range r.Cells {
				if f.columns[i].kind != photoField && c.Text != "" {
					lines = append(lines, c.Text)
				}
			}
			switch text := strings.Join(lines, "\n"); {
			case text == "":
				f.blank = append(f.blank, r.Name)
			case slices.Contains(out.Texts, text):
				f.again++
			default:
				out.Texts = append(out.Texts, text)
			}
		}
	}
	return out, nil
}

// asSheet is the list for a file: the same rows, columns and notes.
func (f *filled) asSheet() sheet.List {
	l := sheet.List{Title: f.title, Lead: []string{f.foot}, About: []string{f.foot, f.covers}}
	for _, note := range []string{f.setup.Above, f.setup.Below} {
		if note != "" {
			l.About = append(l.About, strings.ReplaceAll(note, "**", ""))
		}
	}
	if len(f.left) > 0 {
		l.About = append(l.About, "Left out: "+strings.Join(f.left, ", "))
	}
	group := f.grouped != nil && !slices.ContainsFunc(f.columns, func(k field) bool { return k.id == f.grouped.id })
	if group {
		l.Columns = append(l.Columns, sheet.Column{Heading: f.grouped.heading, Width: 18})
	}
	for i, c := range f.columns {
		column := sheet.Column{Heading: cmp.Or(f.as[i].Heading, c.label), Width: max(float64(f.as[i].Width)/2, 6), Number: c.kind == numberField, Date: c.kind == dateField}
		if c.kind == shareField {
			column.Decimal = 2
		}
		if c.unit != "" {
			column.Heading += " (" + c.unit + ")"
		}
		l.Columns = append(l.Columns, column)
	}
	for _, g := range f.groups {
		for _, r := range g.Rows {
			var cells []string
			if group {
				cells = append(cells, r.Group.InFile())
			}
			for i, c := range r.Cells {
				switch f.columns[i].kind {
				case photoField:
					cells = append(cells, map[bool]string{true: "there is one"}[c.Text != ""])
				default:
					cells = append(cells, c.InFile())
				}
			}
			l.Rows = append(l.Rows, cells)
		}
	}
	return l
}
