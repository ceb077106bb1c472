package paper

import (
	"fmt"
	"slices"
)

// LabelSheet is a sheet of labels by its measures in millimetres; the sheet is A4, upright.
type LabelSheet struct {
	ID            string
	Across, Down  int
	Width, Height float64 // of a label
	Left, Top     float64 // where the first begins
	StepX, StepY  float64 // from one to the next
}

// LabelSheets are common sheets. Their measures are common practice, from memory, with no one source.
var LabelSheets = []LabelSheet{
	{"3x7", 3, 7, 63.5, 38.1, 7.2, 15.15, 66.04, 38.1},
	{"3x8", 3, 8, 70, 37, 0, 0.5, 70, 37},
	{"2x7", 2, 7, 99.1, 38.1, 4.65, 15.15, 101.6, 38.1},
	{"2x8", 2, 8, 99.1, 33.9, 4.65, 12.9, 101.6, 33.9},
	{"2x5", 2, 5, 105, 57, 0, 6, 105, 57},
}

// Title says what a sheet is in words.
func (l LabelSheet) Title() string {
	return fmt.Sprintf("%d labels of %g × %g mm", l.Across*l.Down, l.Width, l.Height)
}

// LabelSheetOf returns a sheet; ok is false where there is none of that id.
func LabelSheetOf(id string) (s LabelSheet, ok bool) {
	i := slices.IndexFunc(LabelSheets, func(s LabelSheet) bool { return s.ID == id })
	if i < 0 {
		return s, false
	}
	return LabelSheets[i], true
}

// At is where the n-th label of a sheet begins, counted by rows from 0.
func (l LabelSheet) At(n int) (x, y float64) {
	return l.Left + float64(n%l.Across)*l.StepX, l.Top + float64(n/l.Across%l.Down)*l.StepY
}

// Labels are texts for labels, lines apart by \n; the first Skip labels of the first sheet are gone already.
type Labels struct {
	Sheet  LabelSheet
	Points float64
	Skip   int
	Texts  []string
}

const labelSide = 4.0 // mm between a label's edge and its text

// Pages sets the labels. A text that is too long for its label is set smaller, down to five points; what is left over
// even so is an error that names it.
func (l Labels) Pages() ([]Page, error) {
	var out []Page
	per := l.Sheet.Across * l.Sheet.Down
	for i, words := range l.Texts {
		n := i + l.Skip%per
		if i == 0 || n%per == 0 {
			out = append(out, Page{Width: 210, Height: 297, Marks: []PageMark{}, Parts: []PagePart{}})
		}
		marks, err := l.set(words, n%per)
		if err != nil {
			return nil, err
		}
		p := &out[len(out)-1]
		p.Marks = append(p.Marks, marks...)
	}
	if len(out) == 0 {
		return nil, fmt.Errorf("there is nobody to write a label for")
	}
	return out, nil
}

func (l Labels) set(words string, n int) (marks []PageMark, err error) {
	x, y := l.Sheet.At(n)
	for points := l.Points; points >= 5; points -= 0.5 {
		lines := wrap(words, points, l.Sheet.Width-2*labelSide, false)
		line := points * millimetres * leading
		high := float64(len(lines)) * line
		if high > l.Sheet.Height-labelSide {
			continue
		}
		top := y + (l.Sheet.Height-high)/2
		for k, one := range lines {
			for _, r := range one {
				if r.text != "" {
					marks = append(marks, PageMark{Kind: "text", X: x + labelSide, Y: top + float64(k)*line + points*millimetres, Text: r.text, Size: points})
				}
			}
		}
		return marks, nil
	}
	return nil, fmt.Errorf("%q does not fit on a label", words)
}

// PDF sets the labels as PDF.
func (l Labels) PDF(title string) ([]byte, error) {
	pages, err := l.Pages()
	if err != nil {
		return nil, err
	}
	return asPDF(title, pages)
}
