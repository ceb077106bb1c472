// Package conductpage is the place Conduct: where and when incidents gather, what they were, whether they
// became fewer, and what of them is still open.
package conductpage

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"meldung/core/conduct"
	"meldung/core/day"
	"meldung/core/ids"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
	"meldung/work/incidents"
)

const mostFound = 200

// Show shows the incidents that are asked for, among those that a person may see.
func Show(ctx context.Context, o *work.Office, p work.Person, asAt string, ask Ask, of ...ids.Section) (ConductView, error) {
	var out ConductView
	m, err := o.Moment(asAt, of...)
	if err != nil {
		return out, err
	}
	err = o.ReadOn(ctx, m.Date, func(v work.Snapshot) error {
		b, err := open(ctx, v, p, m, ask)
		if err != nil {
			return err
		}
		out, err = b.view(ctx)
		return err
	})
	return out, err
}

// book is what a look at the place works with.
type book struct {
	v      work.Snapshot
	p      work.Person
	m      work.Moment
	ask    Ask
	lists  incidents.Lists
	all    []incidents.Told // that the person may see, in time
	core   []conduct.Incident
	search conduct.Search
	roll   rollDays
	group  string
	sight  incidents.Sight
}

func open(ctx context.Context, v work.Snapshot, p work.Person, m work.Moment, ask Ask) (*book, error) {
	b := &book{v: v, p: p, m: m, ask: ask, sight: incidents.SightOf(v, p)}
	var err error
	if b.lists, err = incidents.ReadLists(ctx, v.Store()); err != nil {
		return nil, err
	}
	told, err := incidents.Between(ctx, v, day.NoStart, m.Date)
	if err != nil {
		return nil, err
	}
	for _, t := range told {
		if b.sight.Sees(t) && m.Scope.Has(incidents.SectionOf(v, t.People).ID) {
			b.all, b.core = append(b.all, t), append(b.core, t.Incident)
		}
	}
	students, words, err := pages.GroupOf(v, m.Scope, m.Date, ask.Group)
	if err != nil {
		return nil, err
	}
	var means map[ids.Student]bool
	if ask.Group != "" {
		means, b.group = map[ids.Student]bool{}, words
		for _, s := range students {
			means[s.ID] = true
		}
	}
	b.roll = rollOf(v, m.Scope, m.Date, means)
	return b, b.read(means)
}

// read reads what is asked for.
func (b *book) read(means map[ids.Student]bool) error {
	first, last := b.usual()
	from, to, err := pages.Dates(b.ask.From, first, b.ask.To, func(day.Date) day.Date { return last })
	if err != nil {
		return err
	}
	words := func(list []int64) (out []ids.ConductWord) {
		for _, x := range list {
			out = append(out, ids.ConductWord(x))
		}
		return out
	}
	b.search = conduct.Search{From: from, To: min(to, b.m.Date), Kinds: words(b.ask.Kinds), Places: words(b.ask.Places), Actions: words(b.ask.Actions), Weekdays: b.ask.Weekdays,
		RecordedBy: b.ask.By, Students: means, Incomplete: b.ask.Incomplete}
	for _, t := range b.ask.Times {
		b.search.Times = append(b.search.Times, conduct.Time(t))
	}
	for _, r := range b.ask.Roles {
		if !slices.Contains(conduct.Roles, conduct.Role(r)) {
			return work.Wrongf("%q is no part in an incident", r)
		}
		b.search.Roles = append(b.search.Roles, conduct.Role(r))
	}
	return nil
}

// fewDays is below how many school days a term says too little alone.
const fewDays = 20

// usual is the term of the date that is looked at, up to it; the school year so far while the term has
// only begun.
func (b *book) usual() (first, last day.Date) {
	for _, s := range b.v.In(b.m.Scope) {
		c := s.Calendar
		if c == nil {
			continue
		}
		n := c.EndedBy(b.m.Date, day.MustMinute("23:59"))
		if n < 0 {
			continue
		}
		from := n
		for from > 0 && c.Day(from-1).Term == c.Day(n).Term {
			from--
		}
		if n-from+1 < fewDays {
			from = 0
		}
		return c.Day(from).Date, b.m.Date
	}
	return b.m.Date - 90, b.m.Date
}

func (b *book) view(ctx context.Context) (ConductView, error) {
	s := b.search
	found := conduct.Find(b.core, s)
	out := ConductView{From: s.From.String(), To: s.To.String(), Label: pages.Between(s.From, s.To), Groups: pages.GroupChoices(b.v, b.m.Scope), Group: b.group, Spans: b.spans(), Times: []pages.Choice{}, By: []string{},
		Kinds: b.words(incidents.Kinds), Places: b.words(incidents.Places), Actions: b.words(incidents.Actions), Found: []IncidentLine{}, Weeks: []ConductWeek{}, Changes: []ConductChangeView{}, Open: []IncidentLine{}, People: []ConductTally{}}
	for _, i := range b.core {
		if i.RecordedBy != "" && !slices.Contains(out.By, i.RecordedBy) {
			out.By = append(out.By, i.RecordedBy)
		}
	}
	slices.Sort(out.By)
	columns := b.columns(s)
	for _, c := range columns {
		out.Times = append(out.Times, pages.Choice{Value: string(c.Time), Label: c.Time.Name(b.lists.Breaks), Kind: "time"})
	}
	out.Grid = b.grid(found, columns)
	days := b.roll.between(s.From, s.To)
	rate := b.rate(days, s.From, s.To)
	out.Rate = b.rateView(rate, s.From, s.To)
	if err := b.beside(&out, days, rate); err != nil {
		return out, err
	}
	b.list(&out, found)
	b.weeks(&out, days, found)
	for _, t := range conduct.Tallies(found, s) {
		st, ok := b.v.School.Student(t.Student)
		if ok && b.v.MaySee(b.p, t.Student) == nil {
			out.People = append(out.People, ConductTally{pages.Student(b.v, st, b.m.Date), t.Count, t.Last.Spoken()})
		}
	}
	b.incomplete(&out)
	return out, b.changes(ctx, &out)
}

func (b *book) words(list string) []ConductWordRef {
	out := []ConductWordRef{}
	for _, w := range b.lists.Of(list) {
		out = append(out, ConductWordRef{w.ID, w.Name, w.Retired})
	}
	return out
}

func (b *book) spans() []pages.Choice {
	for _, s := range b.v.In(b.m.Scope) {
		if s.Calendar != nil {
			return pages.SpanChoices(s, s.Calendar.EndedBy(b.m.Date, day.MustMinute("23:59")))
		}
	}
	return []pages.Choice{}
}

// columns are the times of the days of a span.
func (b *book) columns(s conduct.Search) []conduct.Column {
	var patterns []*day.Pattern
	for _, section := range b.v.In(b.m.Scope) {
		records, _ := b.v.School.Records().Section(section.ID)
		for _, y := range records.Years() {
			for i := range y.Calendar.Days() {
				if d := y.Calendar.Day(i); d.Date >= s.From && d.Date <= s.To && !slices.Contains(patterns, d.Pattern) {
					patterns = append(patterns, d.Pattern)
				}
			}
		}
	}
	return conduct.Columns(patterns, false)
}

const placeRows, weekdayRows, kindRows = "place", "weekday", "kind"

// grid gathers incidents by row and time. The way from one slot to the next has a column only where
// something happened on it.
func (b *book) grid(found []conduct.Incident, columns []conduct.Column) ConductGrid {
	by := cmp.Or(b.ask.Rows, placeRows)
	var rows []string
	switch by {
	case weekdayRows:
		for n := 1; n <= 5; n++ {
			rows = append(rows, strconv.Itoa(n))
		}
	default:
		asked := map[string][]ids.ConductWord{placeRows: b.search.Places, kindRows: b.search.Kinds}[by]
		for _, w := range b.lists.Of(by) {
			if !w.Retired && (len(asked) == 0 || slices.Contains(asked, w.ID)) {
				rows = append(rows, strconv.FormatInt(int64(w.ID), 10))
			}
		}
		if len(asked) == 0 {
			rows = append(rows, "0")
		}
	}
	g := conduct.Gather(found, rows, columns, func(i conduct.Incident) string { return b.rowOf(by, i) })
	out := ConductGrid{By: by, Columns: []ConductColumn{}, Rows: []ConductRow{}, Sums: []int{}, All: g.All}
	var shown []int
	for c, x := range g.Columns {
		if strings.HasPrefix(string(x.Time), "between:") && x.Minutes < incidents.ShortBreak && g.Sums[c] == 0 {
			continue
		}
		name := x.Time.Name(b.lists.Breaks)
		out.Columns = append(out.Columns, ConductColumn{string(x.Time), name, shortOf(x.Time, name)})
		out.Sums = append(out.Sums, g.Sums[c])
		shown = append(shown, c)
	}
	for r, key := range g.Rows {
		row := ConductRow{Key: key, Name: b.rowName(by, key), Cells: []int{}, Sum: g.RowSums[r]}
		for _, c := range shown {
			row.Cells = append(row.Cells, g.Cells[r][c])
			out.Most = max(out.Most, g.Cells[r][c])
		}
		out.Rows = append(out.Rows, row)
	}
	return out
}

func (b *book) rowOf(by string, i conduct.Incident) string {
	switch by {
	case weekdayRows:
		return strconv.Itoa(i.Date.Weekday())
	case kindRows:
		return strconv.FormatInt(int64(i.Kind), 10)
	}
	return strconv.FormatInt(int64(i.Place), 10)
}

var weekdays = []string{"", "Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"}

func (b *book) rowName(by, key string) string {
	n, err := strconv.ParseInt(key, 10, 64)
	switch {
	case err != nil:
		return key
	case by == weekdayRows && n >= 1 && n <= 7:
		return weekdays[n]
	case n == 0:
		return "not known"
	}
	return b.lists.Name(ids.ConductWord(n))
}

func shortOf(t conduct.Time, name string) string {
	switch t {
	case conduct.Before:
		return "before"
	case conduct.After:
		return "after"
	case conduct.Unknown:
		return "?"
	case conduct.NoDay:
		return "no school"
	}
	return name
}

// list lists the incidents of a cell, or all of them, the newest first.
func (b *book) list(out *ConductView, found []conduct.Incident) {
	cell := b.ask.CellRow != "" || b.ask.CellTime != ""
	var words []string
	if b.ask.CellRow != "" {
		words = append(words, b.rowName(out.Grid.By, b.ask.CellRow))
	}
	if b.ask.CellTime != "" {
		words = append(words, conduct.Time(b.ask.CellTime).Name(b.lists.Breaks))
	}
	out.Listed = strings.Join(words, ", ")
	told := map[ids.Incident]incidents.Told{}
	for _, t := range b.all {
		told[t.ID] = t
	}
	for _, i := range slices.Backward(found) {
		if cell && (b.ask.CellRow != "" && b.rowOf(out.Grid.By, i) != b.ask.CellRow || b.ask.CellTime != "" && string(i.Time) != b.ask.CellTime) {
			continue
		}
		if out.Count++; out.Count <= mostFound {
			out.Found = append(out.Found, b.incident(told[i.ID]))
		}
	}
}

func (b *book) incident(t incidents.Told) IncidentLine {
	return incidentOf(b.v, b.p, b.m.Date, b.lists, t)
}

// incidentOf is an incident as a person sees it.
func incidentOf(v work.Snapshot, p work.Person, on day.Date, lists incidents.Lists, t incidents.Told) IncidentLine {
	out := IncidentLine{ID: t.ID, Version: t.Version, Date: t.Date.String(), Label: t.Date.Spoken(), When: t.Time.Name(lists.Breaks), KindID: t.Kind, Kind: lists.Name(t.Kind), PlaceID: t.Place, Place: lists.Name(t.Place),
		People: []IncidentPartView{}, Text: t.Text, Actions: []ActionView{}, RecordedBy: t.RecordedBy, Open: t.Incident.Open(), Own: t.Account != nil && *t.Account == p.Account, MayCorrect: incidents.MayCorrect(p, t)}
	if out.Open == nil {
		out.Open = []string{}
	}
	if !t.Minute.IsZero() {
		out.Time = t.Minute.String()
	}
	for _, x := range t.People {
		s, _ := v.School.Student(x.Student)
		out.People = append(out.People, IncidentPartView{x.Student, s.Name(), v.School.Form(x.Student, on), string(x.Role), v.MaySee(p, x.Student) == nil})
	}
	for _, a := range t.Done {
		out.Actions = append(out.Actions, ActionView{a.ID, lists.Name(a.ID), a.By})
	}
	return out
}

// incomplete lists what is open in the school year that is looked at, one's own first.
func (b *book) incomplete(out *ConductView) {
	first, _ := b.roll.year(b.m.Date)
	for _, t := range slices.Backward(b.all) {
		if t.Date >= first && len(t.Incident.Open()) > 0 {
			out.Open = append(out.Open, b.incident(t))
		}
	}
	slices.SortStableFunc(out.Open, func(x, y IncidentLine) int {
		return map[bool]int{true: 0, false: 1}[x.Own] - map[bool]int{true: 0, false: 1}[y.Own]
	})
}

// weeks counts by school week.
func (b *book) weeks(out *ConductView, days []day.Date, found []conduct.Incident) {
	at := map[day.Date]int{}
	monday := func(d day.Date) day.Date { return d - day.Date(d.Weekday()-1) }
	add := func(d day.Date) *ConductWeek {
		w := monday(d)
		n, there := at[w]
		if !there {
			n = len(out.Weeks)
			at[w] = n
			out.Weeks = append(out.Weeks, ConductWeek{Monday: w.String(), Label: w.Spoken()})
		}
		return &out.Weeks[n]
	}
	for _, d := range days {
		add(d).Days++
	}
	for _, i := range found {
		add(i.Date).Count++
	}
	slices.SortFunc(out.Weeks, func(x, y ConductWeek) int { return cmp.Compare(x.Monday, y.Monday) })
}

// changes counts before and after what the school has changed.
func (b *book) changes(ctx context.Context, out *ConductView) error {
	rows, err := store.ConductChanges(ctx, b.v.Store())
	if err != nil {
		return err
	}
	for _, c := range rows {
		one := ConductChangeView{ID: c.ID, Name: c.Name, Date: c.Date.String(), Label: c.Date.Spoken()}
		before, after := conduct.Around(b.roll.days, c.Date, b.m.Date)
		if len(after) > 0 {
			was, now := b.rate(before, before[0], before[len(before)-1]), b.rate(after, after[0], after[len(after)-1])
			one.Before, one.After = b.rateView(was, before[0], before[len(before)-1]), b.rateView(now, after[0], after[len(after)-1])
			one.Ratio = ratioOf(conduct.Compare(now, was))
		}
		if one.Ratio.Verdict == "" {
			one.Ratio.Verdict = fmt.Sprintf("no school day since %s yet, or none before", c.Date.Spoken())
		}
		out.Changes = append(out.Changes, one)
	}
	return nil
}
