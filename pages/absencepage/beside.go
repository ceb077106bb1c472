package absencepage

import (
	"cmp"
	"context"
	"fmt"
	"strconv"

	"meldung/core/ids"
	"meldung/core/policy"
	"meldung/files/sheet"
	"meldung/pages"
	"meldung/work"
)

// BesideAsk is what stands beside what is asked for: another group, another span, or the same school
// days of the year before.
type BesideAsk struct {
	pages.AbsenceAsk
	Group    string
	From, To string
	Before   bool // the same school days of the year before, in place of a span
}

// BesideView is two groups or two spans side by side, by one policy.
type BesideView struct {
	Policy string      `json:"policy"`
	Title  string      `json:"title"`
	Unit   string      `json:"unit" enum:"day,session,minute"`
	First  BesideOf    `json:"first"`
	Second BesideOf    `json:"second"`
	Rows   []BesideRow `json:"rows"`
}

// BesideOf is one of the two.
type BesideOf struct {
	Group string     `json:"group"`
	Label string     `json:"label" doc:"The span in words"`
	AsAt  string     `json:"asAt" doc:"Last day of the span"`
	Rate  string     `json:"rate"`
	Bins  []Bin      `json:"bins"`
	Bands []BandView `json:"bands"`
}

// BesideRow is one figure of both.
type BesideRow struct {
	What       string `json:"what"`
	First      string `json:"first"`
	Second     string `json:"second"`
	Difference string `json:"difference" doc:"The first less the second, in percentage points for shares; empty where it says nothing"`
}

// ShowBeside measures two groups, or one over two spans, by one policy.
func ShowBeside(ctx context.Context, o *work.Office, asAt string, a BesideAsk, of ...ids.Section) (BesideView, error) {
	var out BesideView
	first, err := Show(ctx, o, asAt, a.AbsenceAsk, of...)
	if err != nil {
		return out, err
	}
	other := a.AbsenceAsk
	other.Group, other.From, other.To = a.Group, a.From, a.To
	if a.Before {
		same := a.AbsenceAsk
		same.Group = a.Group
		there, err := Show(ctx, o, asAt, same, of...)
		if err != nil {
			return out, err
		}
		if there.Before == nil {
			return out, work.NotFoundf("nothing is known of the year before for that group")
		}
		asAt, other.From, other.To = there.Before.AsAt, there.Before.From, there.Before.AsAt
	}
	second, err := Show(ctx, o, asAt, other, of...)
	if err != nil {
		return out, err
	}
	out = BesideView{Policy: first.Policy, Title: first.Title, Unit: first.Unit, First: besideOf(first), Second: besideOf(second)}
	out.Rows = besideRows(first, second)
	return out, nil
}

func besideOf(v AbsenceView) BesideOf {
	return BesideOf{Group: cmp.Or(v.Group, "Everyone"), Label: v.Label, AsAt: v.AsAt, Rate: v.School, Bins: v.Bins, Bands: v.Bands}
}

// besideRows lists what both come to.
func besideRows(a, b AbsenceView) []BesideRow {
	out := []BesideRow{}
	add := func(what, first, second, difference string) {
		if first != "" || second != "" {
			out = append(out, BesideRow{what, first, second, difference})
		}
	}
	count := func(what string, of func(AbsenceView) int) {
		x, y := of(a), of(b)
		add(what, strconv.Itoa(x), strconv.Itoa(y), signed(x-y))
	}
	share := func(what string, of func(AbsenceView) (n, of int)) {
		x, n := of(a)
		y, m := of(b)
		add(what, policy.Percent(x, n), policy.Percent(y, m), policy.PointsBetween(x, n, y, m))
	}
	count("Students", func(v AbsenceView) int { return v.Students })
	count("School days", func(v AbsenceView) int { return v.Days })
	share("Missed, %", func(v AbsenceView) (int, int) { return v.sums.Absent, v.sums.Possible })
	share("Missed and excused, %", func(v AbsenceView) (int, int) { return v.sums.Excused, v.sums.Possible })
	share("Missed and unexcused, %", func(v AbsenceView) (int, int) { return v.sums.Unexcused, v.sums.Possible })
	add("Half missed at most, %", a.Middle, b.Middle, "")
	add("One in ten missed more than, %", a.NineInTen, b.NineInTen, "")
	add("Attended on an average day", a.Attendance, b.Attendance, "")
	add("On the roll on an average day", a.Membership, b.Membership, "")
	for i, band := range a.Bands {
		if i < len(b.Bands) && b.Bands[i].Name == band.Name {
			share("Students "+band.Name+", %", func(v AbsenceView) (int, int) { return v.Bands[i].Count, v.Students })
		}
	}
	for _, day := range a.Trend.Weekdays {
		for _, same := range b.Trend.Weekdays {
			if same.Title == day.Title {
				add("Missed on "+day.Title+", %", day.Rate, same.Rate, "")
			}
		}
	}
	return out
}

func signed(n int) string {
	switch {
	case n > 0:
		return fmt.Sprintf("+%d", n)
	case n < 0:
		return fmt.Sprintf("−%d", -n)
	default:
		return "0"
	}
}

// KeepBeside writes both as a file, a figure a row.
func KeepBeside(ctx context.Context, o *work.Office, asAt string, a BesideAsk, format string, of ...ids.Section) (pages.File, error) {
	v, err := ShowBeside(ctx, o, asAt, a, of...)
	if err != nil {
		return pages.File{}, err
	}
	heading := func(b BesideOf) string { return b.Group + ", " + b.Label }
	decimal := func(heading string) sheet.Column { return sheet.Column{Heading: heading, Width: 22, Decimal: 1} }
	list := sheet.List{Title: "Side by side", About: []string{"Measured by " + v.Title, heading(v.First), heading(v.Second), private},
		Columns: []sheet.Column{{Heading: "Figure", Width: 32}, decimal(heading(v.First)), decimal(heading(v.Second)), {Heading: "Difference", Width: 14}}}
	for _, r := range v.Rows {
		list.Rows = append(list.Rows, []string{r.What, r.First, r.Second, r.Difference})
	}
	return pages.ListFile("side-by-side-"+v.First.AsAt, list, format)
}
