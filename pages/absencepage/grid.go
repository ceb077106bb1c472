package absencepage

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"meldung/core/absence"
	"meldung/core/ids"
	"meldung/core/policy"
	"meldung/files/paper"
	"meldung/files/sheet"
	"meldung/pages"
	"meldung/work"
)

// GridAsk is what a grid shows: AbsenceAsk's dates and group, by dates, by slots, or by codes.
type GridAsk struct {
	pages.AbsenceAsk
	By string
}

// GridColumn is a column of a grid.
type GridColumn struct {
	Label string `json:"label" doc:"The day of the month, the slot, or the code"`
	Over  string `json:"over" doc:"What stands over it: the month, the date; the same over several in a row"`
	Title string `json:"title" doc:"In words"`
	Total int    `json:"total" doc:"How many were absent, in the policy's unit; by codes how many marks"`
}

// GridRow is a student in a grid.
type GridRow struct {
	Student   pages.StudentRef `json:"student"`
	Codes     []string         `json:"codes" doc:"A text for each column: a code; a dot for plain attendance; a question mark for no mark; empty where nothing was due. By codes a count, 0 included"`
	Shares    []int            `json:"shares" doc:"Per cent missed, for each column; -1 where nothing was possible"`
	Possible  int              `json:"possible"`
	Absent    int              `json:"absent"`
	Excused   int              `json:"excused"`
	Unexcused int              `json:"unexcused"`
	Lates     int              `json:"lates"`
	Rate      string           `json:"rate" doc:"Per cent; empty where nothing was possible"`
}

// GridKey says what a code in a grid means.
type GridKey struct {
	Code  string `json:"code"`
	Word  string `json:"word"`
	State string `json:"state"`
	Count int    `json:"count" doc:"Marks with it in the grid's span"`
}

// GridView is a grid of attendance.
type GridView struct {
	By       string         `json:"by" enum:"dates,slots,codes"`
	Policy   string         `json:"policy"`
	Title    string         `json:"title"`
	Unit     string         `json:"unit" enum:"day,session,minute"`
	Policies []pages.Choice `json:"policies"`
	Spans    []pages.Choice `json:"spans"`
	Groups   []pages.Choice `json:"groups"`
	Group    string         `json:"group"`
	Scope    string         `json:"scope"`
	Apart    string         `json:"apart"`
	Label    string         `json:"label"`
	From     string         `json:"from"`
	AsAt     string         `json:"asAt"`
	Columns  []GridColumn   `json:"columns"`
	Rows     []GridRow      `json:"rows" doc:"By form and name"`
	Key      []GridKey      `json:"key"`
	Absent   int            `json:"absent" doc:"All that was missed, in the policy's unit"`
	Possible int            `json:"possible"`
	Rate     string         `json:"rate"`
	TooWide  string         `json:"tooWide" doc:"Why fewer dates are shown than were asked for; empty for all"`
}

// mostSlotColumns bounds a grid by slots: about four weeks.
const mostSlotColumns = 160

// ShowGrid shows the attendance of a group: students by dates, by slots or by codes.
func ShowGrid(ctx context.Context, o *work.Office, asAt string, a GridAsk, of ...ids.Section) (GridView, error) {
	out := GridView{By: cmp.Or(a.By, "dates"), Policies: []pages.Choice{}, Spans: []pages.Choice{}, Groups: []pages.Choice{}, Columns: []GridColumn{}, Rows: []GridRow{}, Key: []GridKey{}}
	m, err := o.Moment(asAt, of...)
	if err != nil {
		return out, err
	}
	err = o.ReadOn(ctx, m.Date, func(v work.Snapshot) error {
		key, follows := pages.Kept(v, m, fmt.Sprint("grid ", a))
		out, err = work.Remember(v, key, follows, func() (GridView, error) { return grid(v, out, m, a) })
		return err
	})
	return out, err
}

func grid(v work.Snapshot, out GridView, m work.Moment, a GridAsk) (GridView, error) {
	parts, apart, err := partsOf(v, m.Scope, a.PolicyID())
	if err != nil {
		return out, err
	}
	if out.Group, err = ask(v, parts, m, a.AbsenceAsk); err != nil {
		return out, err
	}
	p := parts[0].measure.Policy()
	out.Policy, out.Title, out.Unit, out.Scope, out.Apart = p.ID, p.Title, p.Unit.String(), v.ScopeText(m.Scope), apartText(apart)
	if out.Policies, err = policyChoices(v.In(m.Scope)); err != nil {
		return out, err
	}
	out.Spans, out.Groups = pages.SpanChoices(parts[0].Section, pages.EndedBy(parts[0].Section, m)), pages.GroupChoices(v, m.Scope)
	if out.By == "slots" {
		for i := range parts {
			narrow(&out, &parts[i])
		}
	}
	span := spanOf(parts)
	out.From, out.AsAt, out.Label = span.First, span.Last, span.Sentence
	c := columns{place: map[string]int{}}
	c.ofParts(&out, parts)
	counts, words := map[string]int{}, map[string]policy.Code{}
	for _, part := range parts {
		for i, s := range part.students {
			row := part.gridRow(&out, c, part.places[i])
			row.Student = pages.Student(v, s, m.Date)
			out.Rows = append(out.Rows, row)
			out.Absent += row.Absent
			out.Possible += row.Possible
			for code, n := range part.measure.CodeCounts(part.places[i], part.span.Span) {
				counts[code] += n
			}
		}
		for d := part.span.From; d <= part.span.To; d++ {
			for _, code := range part.measure.Ledger().Codes(d).Codes {
				words[code.Code] = code
			}
		}
	}
	out.Rate = policy.Percent(out.Absent, out.Possible)
	for code, n := range counts {
		out.Key = append(out.Key, GridKey{code, words[code].Word, pages.Shape(words[code]), n})
	}
	slices.SortFunc(out.Key, func(a, b GridKey) int { return cmp.Or(cmp.Compare(b.Count, a.Count), cmp.Compare(a.Code, b.Code)) })
	slices.SortStableFunc(out.Rows, func(a, b GridRow) int {
		return cmp.Or(pages.ByNumber(a.Student.Form, b.Student.Form), cmp.Compare(a.Student.Sorted, b.Student.Sorted))
	})
	return out, nil
}

// narrow leaves the last days of a span, as many as a grid by slots can hold.
func narrow(out *GridView, p *part) {
	n, first := 0, p.span.To+1
	for d := p.span.To; d >= p.span.From; d-- {
		if n += len(p.measure.CountedSlots(d)); n > mostSlotColumns {
			out.TooWide = "Only the last days are shown, as many as fit: choose other dates to see the others."
			break
		}
		first = d
	}
	if p.span.From = first; first <= p.span.To {
		p.span.First, p.span.Whole = p.Calendar.Day(first).Date.String(), false
		p.span.Sentence = p.Calendar.Day(first).Date.Spoken() + " to " + p.Calendar.Day(p.span.To).Date.Spoken()
	}
}

// columns are a grid's columns with where each stands.
type columns struct{ place map[string]int }

func (c columns) add(out *GridView, key string, col GridColumn) {
	if _, known := c.place[key]; !known {
		c.place[key] = len(out.Columns)
		out.Columns = append(out.Columns, col)
	}
}

// ofParts makes the columns: the school days of any section, or their slots, or the codes in use.
func (c columns) ofParts(out *GridView, parts []part) {
	if out.By == "codes" {
		for _, p := range parts {
			used := map[string]bool{}
			for _, place := range p.places {
				for code := range p.measure.CodeCounts(place, p.span.Span) {
					used[code] = true
				}
			}
			for d := p.span.From; d <= p.span.To; d++ {
				for _, code := range p.Ledger.Codes(d).Codes {
					if used[code.Code] {
						c.add(out, code.Code, GridColumn{Label: code.Code, Title: code.Word})
					}
				}
			}
		}
		return
	}
	type one struct {
		key  string
		col  GridColumn
		sort string
	}
	var all []one
	for _, p := range parts {
		for d := p.span.From; d <= p.span.To; d++ {
			date := p.Calendar.Day(d).Date
			if out.By == "dates" {
				all = append(all, one{date.String(), GridColumn{Label: fmt.Sprint(date.Time().Day()), Over: date.Time().Format("January"), Title: date.Spoken()}, date.String()})
				continue
			}
			for _, slot := range p.measure.CountedSlots(d) {
				pos, _ := p.Calendar.Day(d).Pattern.Position(slot)
				all = append(all, one{date.String() + slot, GridColumn{Label: slot, Over: date.Spoken(), Title: date.Spoken() + ", " + slot}, fmt.Sprint(date.String(), 100+pos)})
			}
		}
	}
	slices.SortStableFunc(all, func(a, b one) int { return cmp.Compare(a.sort, b.sort) })
	for _, x := range all {
		c.add(out, x.key, x.col)
	}
}

// gridRow fills a student's cells, and adds to the columns' totals.
func (p part) gridRow(out *GridView, c columns, place int) GridRow {
	f := p.measure.Student(place, p.span.Span)
	row := GridRow{Codes: make([]string, len(out.Columns)), Shares: make([]int, len(out.Columns)), Possible: f.Possible, Absent: f.Absent, Excused: f.Excused, Unexcused: f.Unexcused, Lates: f.Lates, Rate: f.Rate()}
	for i := range row.Shares {
		row.Shares[i] = -1
	}
	set := func(key string, cell absence.Cell) {
		i := c.place[key]
		out.Columns[i].Total += cell.Absent
		if cell.Possible {
			row.Shares[i] = cell.Share
		}
		switch {
		case cell.Code != nil && (cell.Share > 0 || cell.Code.Late || !cell.Possible || out.By == "slots" && cell.Code.Counts != policy.Attended):
			row.Codes[i] = cell.Code.Code
		case cell.Possible:
			row.Codes[i] = "·"
		case cell.Unmarked && p.lessons == nil:
			row.Codes[i] = "?"
		}
	}
	switch out.By {
	case "codes":
		counts := p.measure.CodeCounts(place, p.span.Span)
		for i, col := range out.Columns {
			row.Codes[i] = fmt.Sprint(counts[col.Label])
			out.Columns[i].Total += counts[col.Label]
		}
	case "slots":
		for d := p.span.From; d <= p.span.To; d++ {
			date := p.Calendar.Day(d).Date.String()
			slots := p.measure.CountedSlots(d)
			for n, cell := range p.measure.SlotCells(place, d) {
				set(date+slots[n], cell)
			}
		}
	default:
		for n, cell := range p.measure.DayCells(place, p.span.Span) {
			set(p.Calendar.Day(p.span.From+n).Date.String(), cell)
		}
	}
	return row
}

// totals are the columns with which every row ends.
var totals = []string{"Possible", "Missed", "Excused", "Unexcused", "Lates", "Share, %"}

func (r GridRow) totals() []string {
	return []string{fmt.Sprint(r.Possible), fmt.Sprint(r.Absent), fmt.Sprint(r.Excused), fmt.Sprint(r.Unexcused), fmt.Sprint(r.Lates), cmp.Or(r.Rate, "–")}
}

// KeepGrid writes a grid as a file, or as a PDF on as many pages as it needs with the names on each.
func KeepGrid(ctx context.Context, o *work.Office, asAt string, a GridAsk, format string, of ...ids.Section) (pages.File, error) {
	v, err := ShowGrid(ctx, o, asAt, a, of...)
	if err != nil {
		return pages.File{}, err
	}
	name := "grid-by-" + v.By + "-" + pages.Slug(cmp.Or(v.Group, "everyone")) + "-" + v.AsAt
	about := []string{"Measured by " + v.Title, v.Label, cmp.Or(v.Group, "Everyone"), cmp.Or(v.Scope, "The whole school")}
	var key []string
	for _, k := range v.Key {
		key = append(key, k.Code+" "+k.Word)
	}
	if format == "pdf" {
		g := paper.Grid{Title: o.SchoolName() + " · attendance by " + strings.TrimSuffix(v.By, "s"), About: work.Join(" · ", about...), Key: work.Join(" · ", append(key, "· present", "? no mark")...), Ends: totals}
		for _, c := range v.Columns {
			g.Columns = append(g.Columns, paper.GridColumn{Label: c.Label, Over: c.Over, Total: fmt.Sprint(c.Total)})
		}
		for _, r := range v.Rows {
			g.Rows = append(g.Rows, paper.GridRow{Name: r.Student.Sorted, Form: r.Student.Form, Cells: r.Codes, Shares: r.Shares, Ends: r.totals()})
		}
		content, err := g.PDF()
		return pages.File{Name: name + ".pdf", Type: pages.PDF, Content: content}, err
	}
	list := sheet.List{Title: "Attendance by " + v.By, About: append(append(about, key...), private), Columns: []sheet.Column{{Heading: "Student", Width: 26}, {Heading: "Number", Width: 10}, {Heading: "Form", Width: 14}}}
	for _, c := range v.Columns {
		heading := c.Label
		if v.By != "codes" {
			heading = c.Title
		}
		list.Columns = append(list.Columns, sheet.Column{Heading: heading, Width: 6, Number: v.By == "codes"})
	}
	for i, t := range totals {
		list.Columns = append(list.Columns, sheet.Column{Heading: t, Width: 10, Number: i < len(totals)-1, Decimal: map[bool]int{true: 1}[i == len(totals)-1]})
	}
	for _, r := range v.Rows {
		list.Rows = append(list.Rows, slices.Concat([]string{r.Student.Name, r.Student.Number, r.Student.Form}, r.Codes, r.totals()))
	}
	return pages.ListFile(name, list, format)
}
