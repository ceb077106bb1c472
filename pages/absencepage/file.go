package absencepage

import (
	"cmp"
	"context"
	"fmt"
	"strings"

	"meldung/core/absence"
	"meldung/core/ids"
	"meldung/files/sheet"
	"meldung/pages"
	"meldung/work"
)

const private = "Holds data of students: keep it where nobody else can read it"

// aboutFile says in lines what a file of figures covers.
func aboutFile(v AbsenceView) []string {
	lines := []string{"Measured by " + v.Title, v.Label, cmp.Or(v.Group, "Everyone"), cmp.Or(v.Scope, "The whole school")}
	if v.Lessons {
		lines = append(lines, "The lessons of this class alone")
	}
	return append(lines, private)
}

// KeepFile writes the table as a file, in the order in which it is shown.
func KeepFile(ctx context.Context, o *work.Office, asAt string, a pages.AbsenceAsk, format string, of ...ids.Section) (pages.File, error) {
	v, err := Show(ctx, o, asAt, a, of...)
	if err != nil {
		return pages.File{}, err
	}
	unit := map[string]string{"day": "days", "session": "sessions", "minute": "minutes"}[v.Unit]
	number := func(heading string) sheet.Column { return sheet.Column{Heading: heading, Width: 12, Number: true} }
	list := sheet.List{Title: "Absence", About: aboutFile(v), Columns: []sheet.Column{{Heading: "Student", Width: 26}, {Heading: "Number", Width: 10}, {Heading: "Year", Width: 8}, {Heading: "Form", Width: 14},
		number("Possible, " + unit), number("Missed, " + unit), number("Excused, " + unit), number("Unexcused, " + unit), {Heading: "Share missed, %", Width: 12, Decimal: 1}, {Heading: "Band", Width: 14},
		number("Marks without a reason"), number("Lates"), number("Lessons missed while on site"), number("Due, minutes"), number("Missed, minutes"), number("Charged, minutes")}}
	room := v.Whole && v.Unit != "minute" && !v.Lessons
	if room {
		list.Columns = append(list.Columns, number("Room left below "+v.Line+" %, "+unit), number("In a row to be below it, "+unit))
	}
	if v.Grading != "" {
		list.Columns = append(list.Columns, gradingColumn(v.Grading))
	}
	for _, r := range v.Rows {
		f := r.Figures
		row := []string{r.Student.Name, r.Student.Number, r.Student.Year, r.Student.Form, fmt.Sprint(f.Possible), fmt.Sprint(f.Absent), fmt.Sprint(f.Excused), fmt.Sprint(f.Unexcused), f.Rate, f.Band,
			fmt.Sprint(f.Unexplained), fmt.Sprint(f.Lates), fmt.Sprint(r.OnSite), fmt.Sprint(f.DueMinutes), fmt.Sprint(f.MissedMinutes), fmt.Sprint(f.ChargedMinutes)}
		if room {
			left, back := "", ""
			switch {
			case f.WayBack.Known && f.WayBack.Units > 0:
				back = fmt.Sprint(f.WayBack.Units)
			case f.Headroom.Known && !f.Headroom.None:
				left = fmt.Sprint(f.Headroom.Units)
			}
			row = append(row, left, back)
		}
		if v.Grading != "" {
			row = append(row, r.Grading)
		}
		list.Rows = append(list.Rows, row)
	}
	return pages.ListFile("absence-"+pages.Slug(cmp.Or(v.Group, "everyone"))+"-"+v.AsAt, list, format)
}

// KeepDays writes what each student missed and was charged on each day, as a file: a row for each
// day of which anything was missed or charged.
func KeepDays(ctx context.Context, o *work.Office, asAt string, a pages.AbsenceAsk, format string, of ...ids.Section) (pages.File, error) {
	var out pages.File
	m, err := o.Moment(asAt, of...)
	if err != nil {
		return out, err
	}
	err = o.ReadOn(ctx, m.Date, func(v work.Snapshot) error {
		parts, _, err := partsOf(v, m.Scope, a.PolicyID())
		if err != nil {
			return err
		}
		group, err := ask(v, parts, m, a)
		if err != nil {
			return err
		}
		span := spanOf(parts)
		number := func(heading string) sheet.Column { return sheet.Column{Heading: heading, Width: 12, Number: true} }
		list := sheet.List{Title: "Days missed", About: []string{"Measured by " + parts[0].measure.Policy().Title, span.Sentence, cmp.Or(group, "Everyone"), cmp.Or(v.ScopeText(m.Scope), "The whole school"), private},
			Columns: []sheet.Column{{Heading: "Student", Width: 26}, {Heading: "Number", Width: 10}, {Heading: "Form", Width: 14}, {Heading: "Date", Width: 12, Date: true},
				number("Due, minutes"), number("Missed, minutes"), number("Excused, minutes"), number("Unexcused, minutes"), number("Charged, minutes"), {Heading: "Counts as", Width: 14}, {Heading: "Codes", Width: 24}}}
		for _, p := range parts {
			for i, s := range p.students {
				for _, e := range p.measure.Days(p.places[i], p.span.Span) {
					if e.Missed == 0 && e.Charged == 0 {
						continue
					}
					list.Rows = append(list.Rows, []string{s.Name(), s.Number, v.School.Form(s.ID, e.Date), e.Date.String(), fmt.Sprint(e.Due), fmt.Sprint(e.Missed), fmt.Sprint(e.Excused), fmt.Sprint(e.Unexcused),
						fmt.Sprint(e.Charged), string(e.Verdict), codesOf(e)})
				}
			}
		}
		out, err = pages.ListFile("days-missed-"+pages.Slug(cmp.Or(group, "everyone"))+"-"+span.Last, list, format)
		return err
	})
	return out, err
}

// codesOf says by which codes a day was missed, slot by slot: "1 U, 2 U, 3 M".
func codesOf(e absence.DayEvidence) string {
	var out []string
	for _, k := range e.Marks {
		if k.Missed > 0 {
			out = append(out, k.Slot.Name+" "+k.Code.Code)
		}
	}
	return strings.Join(out, ", ")
}
