// Package absencepage holds the Absence page: absence measured by a policy, and a student's
// figure taken apart down to the marks.
package absencepage

import (
	"context"
	"fmt"
	"sort"
	"strings"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/policy"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
)

// AbsenceRow is a student in the table.
type AbsenceRow struct {
	Student pages.StudentRef     `json:"student"`
	Figures pages.AbsenceFigures `json:"figures"`
	Weeks   []int                `json:"weeks" doc:"Days absent in each of the last twelve school weeks of the span, oldest first"`
	Mostly  string               `json:"mostly" doc:"The words of the days missed, most first"`
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
	From       string          `json:"from"`
	AsAt       string          `json:"asAt" doc:"Last day of the span"`
	Label      string          `json:"label" doc:"The span in words"`
	Whole      bool            `json:"whole" doc:"The span is the year so far: room left and way back have a meaning"`
	Spans      []pages.Choice  `json:"spans" doc:"Spans to choose from; value is FROM..TO"`
	Groups     []pages.Choice  `json:"groups" doc:"Years, forms and classes to choose from"`
	Group      string          `json:"group" doc:"The group in words; empty for everyone"`
	Days       int             `json:"days"`
	School     string          `json:"school" doc:"Rate of the whole group"`
	Before     *BeforeView     `json:"before,omitempty" doc:"The year before to the same school day; for everyone and for a year group, of the year so far"`
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
}

// mostDetailed bounds the rows that show weeks and reasons.
const mostDetailed = 120

// mostDue bounds the list of lines reached and steps due.
const mostDue = 200

// Show measures a group by a policy over a span up to a moment, the nearest to
// the line first.
func Show(ctx context.Context, o *work.Office, asAt string, ask pages.AbsenceAsk) (AbsenceView, error) {
	out := AbsenceView{Policies: []pages.Choice{}, Spans: []pages.Choice{}, Groups: []pages.Choice{}, Bands: []BandView{}, Bins: []Bin{}, Lines: []pages.Choice{}, Rows: []AbsenceRow{},
		Reasons: []ReasonView{}, Due: []pages.DueView{}}
	m, err := o.Moment(asAt)
	if err != nil {
		return out, err
	}
	err = o.ReadOn(ctx, m.Date, func(v work.Snapshot) error {
		measure, err := v.Measure(ask.PolicyID())
		if err != nil {
			return err
		}
		if err := measured(v, &out, measure, m, ask); err != nil {
			return err
		}
		return before(ctx, v, &out, measure.Policy().ID, m, ask)
	})
	return out, err
}

// before measures the same group a year before, to the same school day, by the policy of then.
func before(ctx context.Context, v work.Snapshot, out *AbsenceView, policyID string, m work.Moment, ask pages.AbsenceAsk) error {
	kind, _, _ := strings.Cut(ask.Group, ":")
	if !out.Whole || (kind != "" && kind != "year") {
		return nil
	}
	was, span, ok, err := pages.LastYear(ctx, v, pages.EndedBy(v, m))
	if err != nil || !ok {
		return err
	}
	measure, err := was.Measure(policyID)
	if err != nil {
		return nil // the policy is younger than that
	}
	students, _, err := pages.GroupOf(was, was.On, ask.Group)
	if err != nil {
		return err
	}
	places := make([]int, len(students))
	for i, s := range students {
		places[i] = was.School.Place(s.ID)
	}
	g := measure.Group(places, span)
	out.Before = &BeforeView{Label: "to " + was.On.Spoken() + was.On.Time().Format(" 2006"), School: g.Rate(), Students: len(students), Bands: bandViews(measure.Policy()), AsAt: was.On.String()}
	for i, n := range g.Bands {
		out.Before.Bands[i].Count = n
	}
	return nil
}

// measured fills the page by a policy.
func measured(v work.Snapshot, out *AbsenceView, measure *absence.Measure, m work.Moment, ask pages.AbsenceAsk) error {
	p := measure.Policy()
	threshold := p.Threshold
	if ask.Line != "" {
		f, err := policy.ParseFraction(ask.Line)
		if err != nil {
			return work.Wrongf("%v", err)
		}
		threshold = f
	}
	span, err := pages.SpanOf(v, m, ask)
	if err != nil {
		return err
	}
	out.From, out.AsAt, out.Label, out.Whole, out.Days = span.First, span.Last, span.Sentence, span.Whole, span.Days
	out.Spans = pages.SpanChoices(v, pages.EndedBy(v, m))
	out.Groups = pages.GroupChoices(v)
	var students []store.Student
	if students, out.Group, err = pages.GroupOf(v, m.Date, ask.Group); err != nil {
		return err
	}
	out.Policy, out.Title, out.Source, out.Unit, out.Line = p.ID, p.Title, p.Source, p.Unit.String(), pages.PercentOf(threshold)
	out.OtherCodes = p.Codes.ID != v.Settings.Codes
	out.Bands, out.Lines = bandViews(p), lineChoices(p)
	if out.Policies, err = policyChoices(v); err != nil {
		return err
	}
	places := absenceRows(v, out, measure, students, m, span.Span, threshold)
	groupFigures(out, measure, places, span.Span)
	due := pages.Due(v, measure, students, m, span.Span)
	out.DueInAll = len(due)
	out.Due = append(out.Due, due[:min(len(due), mostDue)]...)
	return nil
}

// absenceRows measures each student and returns their places in the ledger.
func absenceRows(v work.Snapshot, out *AbsenceView, measure *absence.Measure, students []store.Student, m work.Moment, span absence.Span, threshold policy.Fraction) []int {
	type near struct {
		row      AbsenceRow
		distance int // in millionths
	}
	var rows []near
	var places []int
	var all []absence.Figures
	for _, s := range students {
		place := v.School.Place(s.ID)
		places = append(places, place)
		f := measure.Student(place, span)
		all = append(all, f)
		row := AbsenceRow{Student: pages.Student(v, s, m.Date), Figures: pages.Figures(measure, f), Weeks: []int{}}
		if f.Band >= 0 {
			out.Bands[f.Band].Count++
		} else {
			out.Unbanded++
		}
		rows = append(rows, near{row, f.DistanceFrom(threshold)})
	}
	sort.SliceStable(rows, func(a, b int) bool { return rows[a].distance < rows[b].distance })
	for i, r := range rows {
		if i < mostDetailed {
			detail(v, &r.row, measure, span)
		}
		out.Rows = append(out.Rows, r.row)
	}
	if q := absence.Quantiles(all, policy.NewFraction(1, 2), policy.NewFraction(9, 10)); q != nil {
		out.Middle, out.NineInTen = q[0].Percent(), q[1].Percent()
	}
	for _, b := range absence.Bins(all) {
		out.Bins = append(out.Bins, Bin(b))
	}
	return places
}

// groupFigures says what the whole group comes to.
func groupFigures(out *AbsenceView, measure *absence.Measure, places []int, span absence.Span) {
	g := measure.Group(places, span)
	out.Students, out.School = g.Students, g.Rate()
	if attendance, ok := g.AverageDailyAttendance(); ok {
		membership, _ := g.AverageDailyMembership()
		out.Attendance, out.Membership = attendance.Rounded(), membership.Rounded()
	}
	reasons := measure.Reasons(places, span)
	all := 0
	for _, r := range reasons {
		all += r.Minutes
	}
	for _, r := range reasons {
		out.Reasons = append(out.Reasons, ReasonView{Code: r.Code.Code, Word: r.Code.Word, State: pages.Shape(r.Code), Time: day.Duration(r.Minutes), Share: policy.Percent(r.Minutes, all)})
	}
}

// policyChoices lists the shipped policies.
func policyChoices(v work.Snapshot) ([]pages.Choice, error) {
	panel, err := v.Panel()
	if err != nil {
		return nil, err
	}
	out := []pages.Choice{}
	for _, m := range panel.Measures() {
		out = append(out, pages.Choice{Value: m.Policy().ID, Label: m.Policy().Title, Kind: m.Policy().Unit.String()})
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
func detail(v work.Snapshot, row *AbsenceRow, measure *absence.Measure, span absence.Span) {
	c := v.School.Calendar
	if span.To < span.From {
		return
	}
	firstWeek := max(c.Week(span.From), c.Week(span.To)-11)
	row.Weeks = make([]int, c.Week(span.To)-firstWeek+1)
	words := map[string]int{}
	for _, e := range measure.Days(v.School.Place(row.Student.ID), span) {
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
