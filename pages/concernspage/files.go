package concernspage

import (
	"context"
	"strconv"
	"strings"

	"meldung/core/ids"
	"meldung/files/sheet"
	"meldung/pages"
	"meldung/work"
)

// turnWords are the headings of the list, in its order.
var turnWords = map[string]string{"new": "New", "rising": "Rising", "holding": "Holding", "easing": "Easing"}

// ofStudents stands on every file.
const ofStudents = "Holds data of students: keep it where nobody else can read it"

// Keep writes the list as a file, with what is shown and in its order.
func Keep(ctx context.Context, o *work.Office, p work.Person, asAt string, ask Ask, format string, of ...ids.Section) (pages.File, error) {
	v, err := Show(ctx, o, p, asAt, ask, of...)
	if err != nil {
		return pages.File{}, err
	}
	list := sheet.List{Title: "Concerns", About: []string{"Review of " + v.Review.Date + ", figures as at " + v.Label, work.Join(", ", v.Scope, v.Group), ofStudents, "Made by " + p.Name},
		Columns: []sheet.Column{{Heading: "Turn", Width: 10}, {Heading: "Student", Width: 26}, {Heading: "Number", Width: 10}, {Heading: "Form", Width: 14}, {Heading: "Years in this stage", Width: 10}, {Heading: "Rules", Width: 8, Number: true}, {Heading: "At the review before", Width: 18, Number: true},
			{Heading: "Why", Width: 70}, {Heading: "Since", Width: 16}, {Heading: "Days missed in %", Width: 14, Decimal: 1}, {Heading: "Unexcused", Width: 10, Number: true}, {Heading: "Outlook in %", Width: 12, Decimal: 1}, {Heading: "From", Width: 8, Decimal: 1}, {Heading: "To", Width: 8, Decimal: 1}, {Heading: "Said", Width: 40}, {Heading: "In hand", Width: 34}, {Heading: "To decide", Width: 10}}}
	for _, r := range v.Rows {
		var said []string
		for _, w := range r.Words {
			said = append(said, w.By+": "+w.Text)
		}
		list.Rows = append(list.Rows, []string{turnWords[r.Turn], r.Student.Name, r.Student.Number, r.Student.Form, r.InStage, strconv.Itoa(len(r.Concerns)), strconv.Itoa(r.Before), pages.Whys(r.Concerns), r.Since, r.Rate, strconv.Itoa(r.Unexcused), r.chance(0), r.chance(1), r.chance(2),
			strings.Join(said, "; "), inHand(r), map[bool]string{true: "yes"}[r.Due]})
	}
	return pages.ListFile("concerns-"+v.AsAt, list, format)
}

// chance writes the probability, and its range.
func (r ConcernRow) chance(n int) string {
	if r.Chance == nil {
		return ""
	}
	return strconv.FormatFloat([]float64{r.Chance.Percent, r.Chance.Low, r.Chance.High}[n], 'f', 1, 64)
}

func inHand(r ConcernRow) string {
	switch {
	case r.Case != nil:
		return work.Join(", ", "Case: "+r.Case.Owner, r.Case.Next)
	case r.Decision != nil && r.Decision.Holds:
		return r.Decision.Words
	}
	return ""
}

// KeepRecord writes a review as it was as a file.
func KeepRecord(ctx context.Context, o *work.Office, p work.Person, id ids.Review, format string) (pages.File, error) {
	v, err := Record(ctx, o, id)
	if err != nil {
		return pages.File{}, err
	}
	list := sheet.List{Title: "Review of " + v.Review.Date, About: []string{"Begun " + v.Begun + "; figures as at " + v.AsAt, map[bool]string{true: "Finished " + v.Review.Finished, false: "Not finished"}[v.Review.Finished != ""], ofStudents, "Made by " + p.Name},
		Columns: []sheet.Column{{Heading: "Turn", Width: 10}, {Heading: "Student", Width: 26}, {Heading: "Number", Width: 10}, {Heading: "Form", Width: 14}, {Heading: "Why", Width: 70}, {Heading: "Days missed in %", Width: 14, Decimal: 1}, {Heading: "Decision", Width: 28}, {Heading: "Reason", Width: 40}, {Heading: "By", Width: 30}}}
	for _, r := range v.Rows {
		list.Rows = append(list.Rows, []string{turnWords[r.Turn], r.Student.Name, r.Student.Number, r.Student.Form, pages.Whys(r.Concerns), r.Rate, r.Decision, r.Text, r.By})
	}
	return pages.ListFile("review-"+v.Review.Day, list, format)
}
