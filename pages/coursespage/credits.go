package coursespage

import (
	"context"
	"slices"
	"strings"

	"meldung/core/ids"
	"meldung/core/policy"
	"meldung/core/results"
	"meldung/files/sheet"
	"meldung/pages"
	"meldung/work"
)

// Credits shows who lost credit: what was earned of what is expected, where it was lost, and how it can
// be regained.
func Credits(ctx context.Context, o *work.Office, p work.Person, asAt string, ask Ask, of ...ids.Section) (CreditsView, error) {
	out := CreditsView{Frame: none(), By: []CreditGroup{}}
	err := ask.with(ctx, o, p, asAt, of, func(l *look) error {
		out.Frame, out.Of = l.frame(), len(l.students)
		type one struct {
			i    int
			sums results.Sums
		}
		var list []one
		for _, i := range l.students {
			sums := l.Sum(i, l.at)
			if behind(sums) {
				out.Behind++
			}
			out.Lost += sums.Lost
			if behind(sums) || sums.Lost > 0 {
				list = append(list, one{i, sums})
			}
		}
		slices.SortStableFunc(list, func(a, b one) int {
			if x, y := behind(a.sums), behind(b.sums); x != y {
				return map[bool]int{true: -1, false: 1}[x]
			}
			if behind(a.sums) {
				if c := a.sums.Behind.Compare(*b.sums.Behind); c != 0 {
					return c
				}
			}
			if x, y := a.sums.Behind == nil, b.sums.Behind == nil; x != y {
				return map[bool]int{true: 1, false: -1}[x]
			}
			return strings.Compare(l.name(a.i), l.name(b.i))
		})
		offered := l.Offered()
		for _, x := range list {
			title := "On pace, with credit lost"
			if x.sums.Behind == nil {
				title = "Credit lost, nothing expected of the year"
			}
			if behind(x.sums) {
				title = decimal(x.sums.Behind) + " credits behind"
				if x.sums.Behind.Cmp(1, 1) == 0 {
					title = "1 credit behind"
				}
			}
			if n := len(out.By); n == 0 || out.By[n-1].Title != title {
				out.By = append(out.By, CreditGroup{Title: title, Students: []CreditLine{}})
			}
			g := &out.By[len(out.By)-1]
			g.Students = append(g.Students, l.credits(x.i, x.sums, offered))
		}
		return nil
	})
	return out, err
}

func behind(s results.Sums) bool { return s.Behind != nil && s.Behind.Sign() > 0 }

func decimal(x *policy.Fraction) string {
	if x == nil {
		return ""
	}
	text, _ := x.Decimal()
	return text
}

func (l *look) credits(i int, sums results.Sums, offered []bool) CreditLine {
	line := CreditLine{Student: pages.Student(l.v, l.refs[i], l.m.Date), Expected: decimal(sums.Expected), Behind: decimal(sums.Behind), Lost: []LostCredit{}}
	if l.p.Role != work.Teacher { // a sum of a part of the courses would be none
		line.Earned = decimal(&sums.Earned)
	}
	for _, st := range sums.Standings {
		if st.State != results.Lost {
			continue
		}
		ways := l.Ways(i, st, l.at, offered)
		if ways == nil {
			ways = []string{}
		}
		line.Lost = append(line.Lost, LostCredit{Course: l.titles[st.Record.Course], Half: l.half(st), Why: l.Why(st), Ways: ways})
	}
	return line
}

// keepCredits writes who lost credit as a file, a row for each half-year lost.
func keepCredits(ctx context.Context, o *work.Office, p work.Person, asAt string, ask Ask, format string, of ...ids.Section) (pages.File, error) {
	v, err := Credits(ctx, o, p, asAt, ask, of...)
	if err != nil {
		return pages.File{}, err
	}
	list := sheet.List{Title: "Credits", About: about(p, v.Period, v.Half, v.Group),
		Columns: []sheet.Column{{Heading: "Student", Width: 26}, {Heading: "Number", Width: 10}, {Heading: "Form", Width: 14}, {Heading: "Earned", Width: 9}, {Heading: "Expected", Width: 9}, {Heading: "Behind", Width: 9}, {Heading: "Lost in", Width: 24}, {Heading: "Half-year", Width: 18}, {Heading: "Why", Width: 46}, {Heading: "How to regain it", Width: 60}}}
	for _, g := range v.By {
		for _, s := range g.Students {
			row := []string{s.Student.Name, s.Student.Number, s.Student.Form, s.Earned, s.Expected, s.Behind}
			if len(s.Lost) == 0 {
				list.Rows = append(list.Rows, append(row, "", "", "", ""))
			}
			for _, x := range s.Lost {
				list.Rows = append(list.Rows, append(slices.Clone(row), x.Course, x.Half, x.Why, strings.Join(x.Ways, "; ")))
			}
		}
	}
	return pages.ListFile("credits-"+pages.Slug(v.Period), list, format)
}
