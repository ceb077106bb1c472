package coursespage

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"meldung/core/ids"
	"meldung/core/policy"
	"meldung/core/results"
	"meldung/files/sheet"
	"meldung/pages"
	"meldung/work"
)

// grouping says under which lines of a table a record of a student stands.
func (l *look) grouping(by string) func(int, *results.Record) []string {
	leaving := pages.Leaving(l.v, l.m.Date)
	return func(i int, r *results.Record) []string {
		switch by {
		case "area":
			return []string{l.Courses[r.Course].Area}
		case "class":
			return l.classes(i, r)
		case "year":
			return []string{yearOf(l.Students[i].Year)}
		case "form":
			return []string{l.v.School.Form(l.refs[i].ID, l.m.Date)}
		case "leaving":
			if year, ok := leaving(l.refs[i]); ok {
				return []string{fmt.Sprintf("Leaving %d", year)}
			}
			return []string{"Not known"}
		}
		return []string{l.titles[r.Course]}
	}
}

func yearOf(year string) string {
	if year == "" {
		return "Year not known"
	}
	return "Year " + year
}

// Tables shows what fails quarter by quarter of a school year, and which credits its half-years lost.
func Tables(ctx context.Context, o *work.Office, p work.Person, asAt string, ask Ask, of ...ids.Section) (TablesView, error) {
	out := TablesView{Frame: none(), Columns: []TableColumn{}, Lines: []TableLine{}, Whole: TableLine{Cells: []TableCell{}}, Not: []NotCell{}, By: cmp.Or(ask.By, "course")}
	err := ask.with(ctx, o, p, asAt, of, func(l *look) error {
		out.Frame = l.frame()
		first := l.at - results.Quarter(l.at.InYear())
		var lines []map[string]TableCell
		for n := range 2 {
			half := first.Half() + results.Half(n)
			for q := range 2 {
				if at := half.Quarter(q); at <= l.at {
					out.Columns = append(out.Columns, TableColumn{Name: l.Periods[at].Name})
					lines = append(lines, l.gradeCells(at, out.By))
					out.Whole.Cells = append(out.Whole.Cells, l.gradeCells(at, "")[""])
					out.Not = append(out.Not, NotCell{Not: len(l.NotOnTrack(l.students, at, l.name)), Of: len(l.inHalf(half))})
				}
			}
			if half.Quarter(0) > l.at {
				continue
			}
			out.Columns = append(out.Columns, TableColumn{Name: l.Periods[half.Quarter(0)].Half, Half: true})
			lines = append(lines, l.creditCells(half, out.By))
			out.Whole.Cells = append(out.Whole.Cells, l.creditCells(half, "")[""])
			out.Not = append(out.Not, NotCell{})
		}
		for _, name := range namesOf(lines) {
			line := TableLine{Name: name, Cells: []TableCell{}}
			for _, cells := range lines {
				line.Cells = append(line.Cells, cells[name])
				out.Most = max(out.Most, cells[name].Part)
			}
			out.Lines = append(out.Lines, line)
		}
		switch {
		case out.By == "form" && l.at/4 != l.last/4:
			out.Note = "Students stand in the form that they are in now."
		case out.By == "class" && len(out.Lines) == 0:
			out.Note = "The grades name no class, and the roster has no class of these courses."
		}
		return nil
	})
	return out, err
}

// inHalf are those of the students who have something in a half-year.
func (l *look) inHalf(h results.Half) []int {
	var out []int
	for _, i := range l.students {
		if slices.ContainsFunc(l.Records(i), func(r *results.Record) bool { return r.Half == h }) {
			out = append(out, i)
		}
	}
	return out
}

func namesOf(lines []map[string]TableCell) []string {
	var out []string
	for _, cells := range lines {
		for name := range cells {
			if !slices.Contains(out, name) {
				out = append(out, name)
			}
		}
	}
	slices.SortFunc(out, func(a, b string) int {
		x, m := numbered(a)
		y, n := numbered(b)
		if strings.IndexAny(a, "0123456789") == 0 {
			return pages.ByNumber(a, b)
		}
		return cmp.Or(strings.Compare(x, y), cmp.Compare(m, n))
	})
	return out
}

// numbered parts the number at the end of a name from it: Art 7 stands before Art 10.
func numbered(name string) (string, int) {
	rest := strings.TrimRight(name, "0123456789")
	n, _ := strconv.Atoi(name[len(rest):])
	return rest, n
}

// all stands for everyone where a table is by nothing.
func all(int, *results.Record) []string { return []string{""} }

func (l *look) by(by string) func(int, *results.Record) []string {
	if by == "" {
		return all
	}
	return l.grouping(by)
}

func (l *look) gradeCells(at results.Quarter, by string) map[string]TableCell {
	out := map[string]TableCell{}
	for name, c := range l.Counts(l.students, at, l.by(by)) {
		out[name] = TableCell{Failing: c.Failing, Nearly: c.Nearly, Of: c.Of, Part: part(c.Failing, c.Of), Share: share(c.Failing, c.Of)}
	}
	if at.InYear() == 0 {
		return out // the courses of the year before were others
	}
	for name, c := range l.Counts(l.students, at-1, l.by(by)) {
		if cell, there := out[name]; there {
			change := cell.Failing - c.Failing
			cell.Change = &change
			out[name] = cell
		}
	}
	return out
}

func (l *look) creditCells(h results.Half, by string) map[string]TableCell {
	out := map[string]TableCell{}
	for name, c := range l.CreditCounts(l.students, h, l.at, l.by(by)) {
		out[name] = TableCell{Failing: c.Lost, Nearly: c.Stands, Of: c.Of, Part: part(c.Lost, c.Of), Share: share(c.Lost, c.Of)}
	}
	return out
}

func part(n, of int) float64 {
	if of == 0 {
		return 0
	}
	return float64(n) / float64(of)
}

func share(n, of int) string {
	if of == 0 {
		return ""
	}
	return policy.Percent(n, of) + " %"
}

// Cell shows whose grades or credits stand in a cell of a table: those that fail, then those that nearly do.
func Cell(ctx context.Context, o *work.Office, p work.Person, asAt string, ask Ask, of ...ids.Section) (CellView, error) {
	out := CellView{Students: []CellStudent{}}
	err := ask.with(ctx, o, p, asAt, of, func(l *look) error {
		in := l.by(cmp.Or(ask.By, "course"))
		if ask.Name == "" {
			in = all
		}
		add := func(i int, r *results.Record, grade, words string, worst bool) {
			if ask.Name == "" || slices.Contains(in(i, r), ask.Name) {
				out.Students = append(out.Students, CellStudent{Student: pages.Student(l.v, l.refs[i], l.m.Date), Course: l.titles[r.Course], Grade: grade, Words: words, Failing: worst})
			}
		}
		h := slices.IndexFunc(l.Periods, func(x results.Period) bool { return x.Half == ask.Column })
		q := slices.IndexFunc(l.Periods, func(x results.Period) bool { return x.Name == ask.Column })
		switch {
		case q >= 0 && results.Quarter(q) <= l.at:
			for _, g := range l.Graded(l.students, results.Quarter(q)) {
				if g.Grade.Failing || g.Grade.Nearly {
					words := ""
					if st, ok := l.Rule.Stand(l.Courses[g.Record.Course], g.Record, l.at); ok {
						words = l.stands(st)
					}
					add(g.Student, g.Record, g.Grade.Shown(), words, g.Grade.Failing)
				}
			}
		case h >= 0 && results.Quarter(h) <= l.at:
			for _, c := range l.Halves(l.students, results.Quarter(h).Half(), l.at) {
				if c.Standing.State.Away() {
					add(c.Student, c.Standing.Record, "", l.stands(c.Standing), c.Standing.State == results.Lost)
				}
			}
		default:
			return work.NotFoundf("there is no grading period or half-year %q up to %s", ask.Column, l.Periods[l.at].Name)
		}
		out.Title = work.Join(", ", cmp.Or(ask.Name, "Everyone"), ask.Column)
		slices.SortStableFunc(out.Students, func(a, b CellStudent) int {
			if a.Failing != b.Failing {
				return map[bool]int{true: -1, false: 1}[a.Failing]
			}
			return strings.Compare(a.Student.Sorted, b.Student.Sorted)
		})
		return nil
	})
	return out, err
}

// stands says how a half-year's credit stands.
func (l *look) stands(s results.Standing) string {
	switch s.State {
	case results.Lost:
		return l.Why(s)
	case results.Recovered:
		return "credit recovered"
	case results.Earned:
		return "credit earned"
	}
	return l.Still(s)
}

// keepTables writes a table as a file.
func keepTables(ctx context.Context, o *work.Office, p work.Person, asAt string, ask Ask, format string, of ...ids.Section) (pages.File, error) {
	v, err := Tables(ctx, o, p, asAt, ask, of...)
	if err != nil {
		return pages.File{}, err
	}
	list := sheet.List{Title: "Failing by " + v.By, About: about(p, v.Group), Columns: []sheet.Column{{Heading: strings.ToUpper(v.By[:1]) + v.By[1:], Width: 26}}}
	for _, c := range v.Columns {
		worst, near := "failing", "nearly failing"
		if c.Half {
			worst, near = "credits lost", "credits standing lost"
		}
		for _, x := range []string{worst, near, "of"} {
			list.Columns = append(list.Columns, sheet.Column{Heading: c.Name + ", " + x, Width: 14, Number: true})
		}
	}
	v.Whole.Name = "In all"
	for _, line := range append(v.Lines, v.Whole) {
		row := []string{line.Name}
		for _, c := range line.Cells {
			row = append(row, fmt.Sprint(c.Failing), fmt.Sprint(c.Nearly), fmt.Sprint(c.Of))
		}
		list.Rows = append(list.Rows, row)
	}
	return pages.ListFile("failing-by-"+v.By, list, format)
}

func about(p work.Person, of ...string) []string {
	return []string{work.Join(", ", of...), "Made by " + p.Name, "Holds data of students: for those who may see it, and for no one else"}
}
