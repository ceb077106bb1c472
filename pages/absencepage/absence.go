// Package absencepage holds the Absence page: absence measured by a policy, and a student's
// figure taken apart down to the marks.
package absencepage

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"sort"
	"strings"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/policy"
	"meldung/pages"
	"meldung/work"
)

// AbsenceRow is a student in the table.
type AbsenceRow struct {
	Student pages.StudentRef     `json:"student"`
	Figures pages.AbsenceFigures `json:"figures"`
	OnSite  int                  `json:"onSite" doc:"Lessons missed while on site"`
	Weeks   []int                `json:"weeks" doc:"Days absent in each of the last twelve school weeks of the span, oldest first"`
	Mostly  string               `json:"mostly" doc:"The words of the days missed, most first"`
	Grading string               `json:"grading" doc:"Attendance for grading, by the school's own rule; empty where there is none"`
}

// BandView is a band with its line and how many are in it.
type BandView struct {
	Name  string `json:"name"`
	From  string `json:"from" doc:"Per cent at which it begins"`
	Count int    `json:"count"`
}

// Bin is a column of the distribution.
type Bin struct {
	From  int `json:"from" doc:"Tenths of a per cent"`
	Band  int `json:"band"`
	Count int `json:"count"`
}

// ReasonView is what was missed with one code.
type ReasonView struct {
	Code  string `json:"code"`
	Word  string `json:"word"`
	State string `json:"state"`
	Time  string `json:"time" doc:"Time missed, in words"`
	Share string `json:"share" doc:"Per cent of the time missed, with one decimal"`
}

// BeforeView is how the same group stood a year before: everyone of then, or the year group
// of then.
type BeforeView struct {
	Label    string     `json:"label" doc:"Its span in words"`
	School   string     `json:"school" doc:"Its rate"`
	Students int        `json:"students"`
	Bands    []BandView `json:"bands"`
	From     string     `json:"from" doc:"Its first day"`
	AsAt     string     `json:"asAt" doc:"The day up to which it is measured"`
}

// AbsenceView is the Absence page.
type AbsenceView struct {
	Policy     string          `json:"policy"`
	Title      string          `json:"title"`
	Source     string          `json:"source"`
	Unit       string          `json:"unit" enum:"day,session,minute"`
	Policies   []pages.Choice  `json:"policies"`
	OtherCodes bool            `json:"otherCodes" doc:"The policy was written for other codes than the school's, whose own count here"`
	Scope      string          `json:"scope" doc:"The sections that it covers; empty where the school has one"`
	Apart      string          `json:"apart" doc:"Which sections are left out and why; empty for none"`
	From       string          `json:"from"`
	AsAt       string          `json:"asAt" doc:"Last day of the span"`
	Label      string          `json:"label" doc:"The span in words"`
	Whole      bool            `json:"whole" doc:"The span is the year so far: room left and way back have a meaning"`
	Spans      []pages.Choice  `json:"spans" doc:"Spans to choose from; value is FROM..TO"`
	Groups     []pages.Choice  `json:"groups" doc:"Years, forms and classes to choose from"`
	Group      string          `json:"group" doc:"The group in words; empty for everyone"`
	Days       int             `json:"days"`
	School     string          `json:"school" doc:"Rate of the whole group"`
	Before     *BeforeView     `json:"before,omitempty" doc:"The year before, over the same school days; for everyone, a year group, a list and a student"`
	Attendance string          `json:"attendance" doc:"Average daily attendance; empty without a school day"`
	Membership string          `json:"membership" doc:"Average daily membership"`
	Middle     string          `json:"middle" doc:"Half of the students missed at most this, in per cent; empty without rates"`
	NineInTen  string          `json:"nineInTen" doc:"Nine in ten missed at most this, in per cent"`
	Students   int             `json:"students"`
	Unbanded   int             `json:"unbanded"`
	Bands      []BandView      `json:"bands"`
	Bins       []Bin           `json:"bins"`
	Line       string          `json:"line" doc:"The line by which the table is sorted, in per cent"`
	Lines      []pages.Choice  `json:"lines" doc:"Lines to sort by; value is a fraction"`
	Rows       []AbsenceRow    `json:"rows" doc:"Nearest to the line first"`
	Reasons    []ReasonView    `json:"reasons" doc:"Most time first"`
	Due        []pages.DueView `json:"due" doc:"Lines reached and steps due in the span, newest first"`
	DueInAll   int             `json:"dueInAll"`
	Trend      TrendView       `json:"trend" doc:"When it was missed"`
	Lessons    bool            `json:"lessons" doc:"A class is measured by its own lessons alone"`
	Sort       string          `json:"sort" enum:"near,rate,missed,excused,unexcused,unexplained,lates,on-site,time,name" doc:"By what the rows are sorted, the most first"`
	Up         bool            `json:"up" doc:"The least first"`

	Grading string `json:"grading" doc:"What attendance for grading is in: %, points; empty where it is off"`

	sums absence.Group // of the whole group
}

// mostDetailed bounds the rows that show weeks and reasons.
const mostDetailed = 120

// mostDue bounds the list of lines reached and steps due.
const mostDue = 200

// Show measures a group of some sections by a policy over a span up to a moment, the nearest
// to the line first. Each section is measured by its own calendar; the whole is their sum.
func Show(ctx context.Context, o *work.Office, asAt string, a pages.AbsenceAsk, of ...ids.Section) (AbsenceView, error) {
	out := AbsenceView{Policies: []pages.Choice{}, Spans: []pages.Choice{}, Groups: []pages.Choice{}, Bands: []BandView{}, Bins: []Bin{}, Lines: []pages.Choice{}, Rows: []AbsenceRow{}, Trend: TrendView{Weeks: []TrendBar{}, Weekdays: []TrendBar{}, Slots: []TrendBar{}},
		Reasons: []ReasonView{}, Due: []pages.DueView{}}
	m, err := o.Moment(asAt, of...)
	if err != nil {
		return out, err
	}
	err = o.ReadOn(ctx, m.Date, func(v work.Snapshot) error {
		key, follows := pages.Kept(v, m, fmt.Sprint("absence ", a))
		out, err = work.Remember(v, key, follows, func() (AbsenceView, error) { return show(ctx, v, out, m, a) })
		return err
	})
	return out, err
}

func show(ctx context.Context, v work.Snapshot, out AbsenceView, m work.Moment, a pages.AbsenceAsk) (AbsenceView, error) {
	parts, apart, err := partsOf(v, m.Scope, a.PolicyID())
	if err != nil {
		return out, err
	}
	out.Scope, out.Apart = v.ScopeText(m.Scope), apartText(apart)
	if err := measured(v, &out, parts, m, a); err != nil {
		return out, err
	}
	return out, before(ctx, &out, parts, m, a)
}

// before measures the same group a year before, over the same school days, by the policy of then: of
// a list those of it who were there. Where a section was not there a year before there is nothing to
// stand beside it; forms, classes and ways of coming were other ones.
func before(ctx context.Context, out *AbsenceView, parts []part, m work.Moment, a pages.AbsenceAsk) error {
	kind, _, _ := strings.Cut(a.Group, ":")
	if !slices.Contains([]string{"", "year", "students", "student"}, kind) {
		return nil
	}
	var then []part
	for _, p := range parts {
		was, span, ok, err := pages.LastYear(ctx, p.Section, min(p.span.To, pages.EndedBy(p.Section, m)))
		if err != nil || !ok {
			return err
		}
		measure, err := was.Measure(p.measure.Policy().ID)
		if err != nil {
			return nil // the policy is younger than that
		}
		students, _, err := pages.GroupOf(was.Snapshot, work.Scope{p.ID}, was.On, a.Group)
		if err != nil {
			return err
		}
		span.From = p.span.From
		one := part{Section: was, measure: measure, students: students, span: pages.Span{Span: span}}
		for _, s := range students {
			one.places = append(one.places, was.Place(s.ID))
		}
		then = append(then, one)
	}
	if len(then) == 0 {
		return nil
	}
	g := groupsOf(then).Total()
	on := then[0].On
	for _, p := range then {
		on = max(on, p.On)
	}
	out.Before = &BeforeView{Label: "to " + on.Spoken() + on.Time().Format(" 2006"), School: g.Rate(), Students: g.Students, Bands: bandViews(then[0].measure.Policy()), AsAt: on.String()}
	if first := then[0]; first.span.From < first.Calendar.Days() {
		out.Before.From = first.Calendar.Day(first.span.From).Date.String()
	}
	if first := then[0]; !out.Whole && first.span.From < first.Calendar.Days() {
		out.Before.Label = first.Calendar.Day(first.span.From).Date.Spoken() + " " + out.Before.Label
	}
	for i, n := range g.Bands {
		out.Before.Bands[i].Count = n
	}
	return nil
}

// measured fills the page by a policy.
func measured(v work.Snapshot, out *AbsenceView, parts []part, m work.Moment, a pages.AbsenceAsk) error {
	p := parts[0].measure.Policy()
	threshold := p.Threshold
	if a.Line != "" {
		f, err := policy.ParseFraction(a.Line)
		if err != nil {
			return work.Wrongf("%v", err)
		}
		threshold = f
	}
	var err error
	if out.Group, err = ask(v, parts, m, a); err != nil {
		return err
	}
	span := spanOf(parts)
	out.From, out.AsAt, out.Label, out.Whole, out.Days = span.First, span.Last, span.Sentence, span.Whole, span.Days
	out.Spans = pages.SpanChoices(parts[0].Section, pages.EndedBy(parts[0].Section, m))
	out.Groups = pages.GroupChoices(v, m.Scope)
	out.Sort, out.Up, out.Lessons = a.Sort, a.Up, len(parts) > 0 && parts[0].lessons != nil
	if _, known := orders[a.Sort]; !known {
		out.Sort = "near"
	}
	out.Policy, out.Title, out.Source, out.Unit, out.Line = p.ID, p.Title, p.Source, p.Unit.String(), pages.PercentOf(threshold)
	out.Bands, out.Lines = bandViews(p), lineChoices(p)
	if out.Policies, err = policyChoices(v.In(m.Scope)); err != nil {
		return err
	}
	for _, part := range parts {
		out.Grading = cmp.Or(out.Grading, gradedIn(part.Section))
		out.OtherCodes = out.OtherCodes || p.Codes.ID != part.Settings.Codes
	}
	absenceRows(v, out, parts, m, threshold, a)
	out.Trend = trendOf(parts)
	groupFigures(out, parts)
	var due []pages.DueView
	for _, part := range parts {
		if part.lessons != nil {
			continue // lines and ladders are about all of a student's lessons
		}
		due = append(due, pages.Due(part.Section, part.measure, part.students, m, part.span.Span)...)
	}
	sort.SliceStable(due, func(a, b int) bool { return due[a].Date > due[b].Date })
	out.DueInAll = len(due)
	out.Due = append(out.Due, due[:min(len(due), mostDue)]...)
	return nil
}

// absenceRows measures each student.
func absenceRows(v work.Snapshot, out *AbsenceView, parts []part, m work.Moment, threshold policy.Fraction, by pages.AbsenceAsk) {
	type near struct {
		row      AbsenceRow
		part     part
		place    int
		figures  absence.Figures
		distance int // in millionths
	}
	var rows []near
	var all []absence.Figures
	for _, part := range parts {
		for i, s := range part.students {
			f := part.measure.Student(part.places[i], part.span.Span)
			all = append(all, f)
			row := AbsenceRow{Student: pages.Student(v, s, m.Date), Figures: pages.Figures(part.measure, f), OnSite: part.onSite(s.ID), Weeks: []int{},
				Grading: grade(part.Section, absence.Counts{Possible: f.Possible, Excused: f.Excused, Unexcused: f.Unexcused, Lates: f.Lates})}
			if f.Band >= 0 {
				out.Bands[f.Band].Count++
			} else {
				out.Unbanded++
			}
			rows = append(rows, near{row, part, part.places[i], f, f.DistanceFrom(threshold)})
		}
	}
	sort.SliceStable(rows, func(a, b int) bool { return rows[a].distance < rows[b].distance })
	if order, known := orders[by.Sort]; known {
		slices.SortStableFunc(rows, func(a, b near) int {
			if by.Up {
				a, b = b, a
			}
			return order(ordered{a.row, a.figures}, ordered{b.row, b.figures})
		})
	}
	for i, r := range rows {
		if i < mostDetailed {
			r.part.detail(&r.row, r.place)
		}
		out.Rows = append(out.Rows, r.row)
	}
	if q := absence.Quantiles(all, policy.NewFraction(1, 2), policy.NewFraction(9, 10)); q != nil {
		out.Middle, out.NineInTen = q[0].Percent(), q[1].Percent()
	}
	for _, b := range absence.Bins(all) {
		out.Bins = append(out.Bins, Bin(b))
	}
}

// groupFigures says what the whole group comes to.
func groupFigures(out *AbsenceView, parts []part) {
	groups := groupsOf(parts)
	total := groups.Total()
	out.Students, out.School, out.sums = total.Students, total.Rate(), total
	if attendance, ok := groups.AverageDailyAttendance(); ok && !out.Lessons {
		membership, _ := groups.AverageDailyMembership()
		out.Attendance, out.Membership = attendance.Rounded(), membership.Rounded()
	}
	var lists [][]absence.Reason
	for _, p := range parts {
		lists = append(lists, p.measure.Reasons(p.places, p.span.Span))
	}
	reasons := absence.SumReasons(lists...)
	all := 0
	for _, r := range reasons {
		all += r.Minutes
	}
	for _, r := range reasons {
		out.Reasons = append(out.Reasons, ReasonView{Code: r.Code.Code, Word: r.Code.Word, State: pages.Shape(r.Code), Time: day.Duration(r.Minutes), Share: policy.Percent(r.Minutes, all)})
	}
}

// policyChoices lists the policies of any of the sections, each once.
func policyChoices(sections []work.Section) ([]pages.Choice, error) {
	out := []pages.Choice{}
	for _, s := range sections {
		if s.Ledger == nil {
			continue
		}
		panel, err := s.Panel()
		if err != nil {
			return nil, err
		}
		for _, m := range panel.Measures() {
			if !slices.ContainsFunc(out, func(c pages.Choice) bool { return c.Value == m.Policy().ID }) {
				out = append(out, pages.Choice{Value: m.Policy().ID, Label: m.Policy().Title, Kind: m.Policy().Unit.String()})
			}
		}
	}
	return out, nil
}

// lineChoices offers a policy's lines.
func lineChoices(p *policy.Policy) []pages.Choice {
	out := []pages.Choice{}
	threshold := false
	for _, b := range p.Bands {
		if b.Below != nil {
			threshold = threshold || b.Below.Rat().Cmp(p.Threshold.Rat()) == 0
			out = append(out, pages.Choice{Value: b.Below.String(), Label: pages.PercentOf(*b.Below)})
		}
	}
	if !threshold {
		out = append(out, pages.Choice{Value: p.Threshold.String(), Label: pages.PercentOf(p.Threshold)})
	}
	return out
}

func bandViews(p *policy.Policy) []BandView {
	out := []BandView{}
	from := "0"
	for _, b := range p.Bands {
		out = append(out, BandView{Name: b.Name, From: from})
		if b.Below != nil {
			from = pages.PercentOf(*b.Below)
		}
	}
	return out
}

// detail adds the last weeks and the reasons.
func (p part) detail(row *AbsenceRow, place int) {
	c, span := p.Calendar, p.span
	if span.To < span.From {
		return
	}
	firstWeek := max(c.Week(span.From), c.Week(span.To)-11)
	row.Weeks = make([]int, c.Week(span.To)-firstWeek+1)
	words := map[string]int{}
	for _, e := range p.measure.Days(place, span.Span) {
		if !e.Absent() {
			continue
		}
		words[e.MostlyMissed()]++
		if i, ok := c.Index(e.Date); ok && c.Week(i) >= firstWeek {
			row.Weeks[c.Week(i)-firstWeek]++
		}
	}
	row.Mostly = mostly(words)
}

// mostly says the words of the days missed, the most frequent two by name.
func mostly(words map[string]int) string {
	var keys []string
	for w := range words {
		keys = append(keys, w)
	}
	sort.Slice(keys, func(a, b int) bool {
		if words[keys[a]] != words[keys[b]] {
			return words[keys[a]] > words[keys[b]]
		}
		return keys[a] < keys[b]
	})
	var parts []string
	rest := 0
	for i, k := range keys {
		if i < 2 {
			parts = append(parts, fmt.Sprintf("%s %d", k, words[k]))
		} else {
			rest += words[k]
		}
	}
	if rest > 0 {
		parts = append(parts, fmt.Sprintf("other %d", rest))
	}
	return work.Join(", ", parts...)
}
