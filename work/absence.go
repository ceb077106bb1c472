package work

import (
	"context"
	"fmt"
	"sort"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/policy"
	"meldung/store"
)

// RoomView is how many units more may be missed, or must be attended.
type RoomView struct {
	Known bool `json:"known"`
	None  bool `json:"none"`
	Units int  `json:"units"`
}

// AbsenceFigures are a student's figures by a policy.
type AbsenceFigures struct {
	Unit        string   `json:"unit" enum:"day,session,minute" doc:"What possible, absent, excused and unexcused count"`
	Possible    int      `json:"possible"`
	Absent      int      `json:"absent"`
	Excused     int      `json:"excused"`
	Unexcused   int      `json:"unexcused"`
	Unexplained int      `json:"unexplained"`
	Unmarked    int      `json:"unmarked"`
	Void        int      `json:"void"`
	Lates       int      `json:"lates"`
	Rate        string   `json:"rate" doc:"Per cent with one decimal; empty where nothing was possible"`
	Band        string   `json:"band"`
	BandPlace   int      `json:"bandPlace" doc:"-1 for none"`
	Headroom    RoomView `json:"headroom"`
	WayBack     RoomView `json:"wayBack"`
	ToCome      int      `json:"toCome"`
	Due         string   `json:"due" doc:"Time with a mark, in words"`
	Missed      string   `json:"missed" doc:"Time missed, in words"`
	Charged     string   `json:"charged" doc:"Time charged on the policy's basis, in words"`
}

func (v view) figures(m *absence.Measure, f absence.Figures) AbsenceFigures {
	out := AbsenceFigures{Unit: m.Policy().Unit.String(), Void: f.Void, Due: day.Duration(f.DueMinutes), Charged: day.Duration(f.ChargedMinutes), Possible: f.Possible, Absent: f.Absent, Excused: f.Excused, Unexcused: f.Unexcused, Unexplained: f.Unexplained,
		Unmarked: f.Unmarked, Lates: f.Lates, Rate: f.Rate(), BandPlace: f.Band, Headroom: RoomView(f.Headroom), WayBack: RoomView(f.WayBack),
		ToCome: f.ToCome, Missed: day.Duration(f.MissedMinutes)}
	if f.Band >= 0 {
		out.Band = m.Policy().Bands[f.Band].Name
	}
	return out
}

// AbsenceRow is a student in the table.
type AbsenceRow struct {
	Student StudentRef     `json:"student"`
	Figures AbsenceFigures `json:"figures"`
	Weeks   []int          `json:"weeks" doc:"Days absent in each of the last twelve school weeks of the span, oldest first"`
	Mostly  string         `json:"mostly" doc:"The words of the days missed, most first"`
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

// Choice is something that a list offers.
type Choice struct {
	Value string `json:"value"`
	Label string `json:"label"`
	Kind  string `json:"kind"`
}

// ReasonView is what was missed with one code.
type ReasonView struct {
	Code  string `json:"code"`
	Word  string `json:"word"`
	State string `json:"state"`
	Time  string `json:"time" doc:"Time missed, in words"`
	Share string `json:"share" doc:"Per cent of the time missed, with one decimal"`
}

// AbsenceView is the Absence page.
type AbsenceView struct {
	Policy     string       `json:"policy"`
	Title      string       `json:"title"`
	Source     string       `json:"source"`
	Unit       string       `json:"unit" enum:"day,session,minute"`
	Policies   []Choice     `json:"policies"`
	OtherCodes bool         `json:"otherCodes" doc:"The policy was written for other codes than the school's, whose own count here"`
	From       string       `json:"from"`
	AsAt       string       `json:"asAt" doc:"Last day of the span"`
	Words      string       `json:"words" doc:"The span in words"`
	Whole      bool         `json:"whole" doc:"The span is the year so far: room left and way back have a meaning"`
	Spans      []Choice     `json:"spans" doc:"Spans to choose from; value is FROM..TO"`
	Groups     []Choice     `json:"groups" doc:"Years, forms and classes to choose from"`
	Group      string       `json:"group" doc:"The group in words; empty for everyone"`
	Days       int          `json:"days"`
	School     string       `json:"school" doc:"Rate of the whole group"`
	Attendance string       `json:"attendance" doc:"Average daily attendance; empty without a school day"`
	Membership string       `json:"membership" doc:"Average daily membership"`
	Middle     string       `json:"middle" doc:"Half of the students missed at most this, in per cent; empty without rates"`
	NineInTen  string       `json:"nineInTen" doc:"Nine in ten missed at most this, in per cent"`
	Students   int          `json:"students"`
	Unbanded   int          `json:"unbanded"`
	Bands      []BandView   `json:"bands"`
	Bins       []Bin        `json:"bins"`
	Line       string       `json:"line" doc:"The line by which the table is sorted, in per cent"`
	Lines      []Choice     `json:"lines" doc:"Lines to sort by; value is a fraction"`
	Rows       []AbsenceRow `json:"rows" doc:"Nearest to the line first"`
	Reasons    []ReasonView `json:"reasons" doc:"Most time first"`
	Due        []DueView    `json:"due" doc:"Lines reached and steps due in the span, newest first"`
	DueInAll   int          `json:"dueInAll"`
}

// AbsenceAsk says what the Absence page is to show. Everything may be
// empty: ten per cent of days, the year so far, everyone, the policy's threshold.
type AbsenceAsk struct {
	Policy   string // id of a shipped policy; empty is ten per cent
	From, To string // dates of a span
	Group    string // "year:9", or "class:12" with the id of a form or class
	Line     string // a fraction
}

// usualPolicy measures where no other is asked for.
const usualPolicy = "ten-percent"

func (a AbsenceAsk) policy() string {
	if a.Policy == "" {
		return usualPolicy
	}
	return a.Policy
}

// mostDue bounds the list of lines reached and steps due.
const mostDue = 200

// Absence measures a group by a policy over a span up to a moment, the nearest to
// the line first.
func (o *Office) Absence(ctx context.Context, asAt string, ask AbsenceAsk) (AbsenceView, error) {
	out := AbsenceView{Policies: []Choice{}, Spans: []Choice{}, Groups: []Choice{}, Bands: []BandView{}, Bins: []Bin{}, Lines: []Choice{}, Rows: []AbsenceRow{},
		Reasons: []ReasonView{}, Due: []DueView{}}
	m, err := o.moment(asAt)
	if err != nil {
		return out, err
	}
	err = o.look(func(v view) error {
		measure, err := v.measure(ask.policy())
		if err != nil {
			return err
		}
		return v.absence(&out, measure, m, ask)
	})
	return out, err
}

func (v view) absence(out *AbsenceView, measure *absence.Measure, m Moment, ask AbsenceAsk) error {
	p := measure.Policy()
	threshold := p.Threshold
	if ask.Line != "" {
		f, err := policy.ParseFraction(ask.Line)
		if err != nil {
			return wrong("%v", err)
		}
		threshold = f
	}
	span, err := v.spanOf(out, m, ask)
	if err != nil {
		return err
	}
	out.Groups = v.groupChoices()
	var students []store.Student
	if students, out.Group, err = v.groupOf(m.Date, ask.Group); err != nil {
		return err
	}
	out.Policy, out.Title, out.Source, out.Unit, out.Line = p.ID, p.Title, p.Source, p.Unit.String(), percentOf(threshold)
	out.OtherCodes = p.Codes.ID != v.settings.Codes
	out.Bands, out.Lines = bandViews(p), lineChoices(p)
	if out.Policies, err = v.policyChoices(); err != nil {
		return err
	}
	places := v.absenceRows(out, measure, students, m, span, threshold)
	v.groupFigures(out, measure, places, span)
	due := v.due(measure, students, m, span)
	out.DueInAll = len(due)
	out.Due = append(out.Due, due[:min(len(due), mostDue)]...)
	return nil
}

// absenceRows measures each student and returns their places in the ledger.
func (v view) absenceRows(out *AbsenceView, measure *absence.Measure, students []store.Student, m Moment, span absence.Span, threshold policy.Fraction) []int {
	type near struct {
		row      AbsenceRow
		distance int // in millionths
	}
	var rows []near
	var places []int
	var all []absence.Figures
	bins := map[int]*Bin{}
	for _, s := range students {
		place := v.school.placeOf[s.ID]
		places = append(places, place)
		f := measure.Student(place, span)
		all = append(all, f)
		row := AbsenceRow{Student: v.ref(s, m.Date), Figures: v.figures(measure, f), Weeks: []int{}}
		if f.Band >= 0 {
			out.Bands[f.Band].Count++
		} else {
			out.Unbanded++
		}
		if f.Possible > 0 {
			addBin(bins, f)
		}
		rows = append(rows, near{row, distance(f, threshold)})
	}
	sort.SliceStable(rows, func(a, b int) bool { return rows[a].distance < rows[b].distance })
	for i, r := range rows {
		if i < 120 {
			v.detail(&r.row, measure, span)
		}
		out.Rows = append(out.Rows, r.row)
	}
	if q := absence.Quantiles(all, policy.NewFraction(1, 2), policy.NewFraction(9, 10)); q != nil {
		out.Middle, out.NineInTen = q[0].Percent(), q[1].Percent()
	}
	for _, b := range bins {
		out.Bins = append(out.Bins, *b)
	}
	sort.Slice(out.Bins, func(a, b int) bool {
		if out.Bins[a].From != out.Bins[b].From {
			return out.Bins[a].From < out.Bins[b].From
		}
		return out.Bins[a].Band < out.Bins[b].Band
	})
	return places
}

// groupFigures says what the whole group comes to.
func (v view) groupFigures(out *AbsenceView, measure *absence.Measure, places []int, span absence.Span) {
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
		out.Reasons = append(out.Reasons, ReasonView{Code: r.Code.Code, Word: r.Code.Word, State: codeState(r.Code), Time: day.Duration(r.Minutes), Share: policy.Percent(r.Minutes, all)})
	}
}

// policyChoices lists the shipped policies.
func (v view) policyChoices() ([]Choice, error) {
	panel, err := v.panel()
	if err != nil {
		return nil, err
	}
	out := []Choice{}
	for _, m := range panel.Measures() {
		out = append(out, Choice{Value: m.Policy().ID, Label: m.Policy().Title, Kind: m.Policy().Unit.String()})
	}
	return out, nil
}

func lineChoices(p *policy.Policy) []Choice {
	out := []Choice{}
	threshold := false
	for _, b := range p.Bands {
		if b.Below != nil {
			threshold = threshold || b.Below.Rat().Cmp(p.Threshold.Rat()) == 0
			out = append(out, Choice{Value: b.Below.String(), Label: percentOf(*b.Below)})
		}
	}
	if !threshold {
		out = append(out, Choice{Value: p.Threshold.String(), Label: percentOf(p.Threshold)})
	}
	return out
}

func bandViews(p *policy.Policy) []BandView {
	out := []BandView{}
	from := "0"
	for _, b := range p.Bands {
		out = append(out, BandView{Name: b.Name, From: from})
		if b.Below != nil {
			from = percentOf(*b.Below)
		}
	}
	return out
}

func percentOf(f policy.Fraction) string {
	r := f.Rat()
	if !r.Num().IsInt64() || !r.Denom().IsInt64() || r.Denom().Int64() > 1_000_000 {
		return f.String()
	}
	text := policy.Percent(int(r.Num().Int64()), int(r.Denom().Int64()))
	if n := len(text); n > 2 && text[n-2:] == ".0" {
		return text[:n-2]
	}
	return text
}

// addBin puts a student into a column one per cent wide.
func addBin(bins map[int]*Bin, f absence.Figures) {
	from := f.Absent * 100 / f.Possible * 10
	key := from*10 + f.Band + 1
	if bins[key] == nil {
		bins[key] = &Bin{From: from, Band: f.Band}
	}
	bins[key].Count++
}

// distance is how far a rate lies from the line, in millionths.
func distance(f absence.Figures, line policy.Fraction) int {
	if f.Possible == 0 {
		return 1 << 40
	}
	d := f.Absent*1_000_000/f.Possible - line.RoundTimes(1_000_000)
	return max(d, -d)
}

// detail adds the last weeks and the reasons.
func (v view) detail(row *AbsenceRow, measure *absence.Measure, span absence.Span) {
	c := v.school.Calendar
	if span.To < span.From {
		return
	}
	firstWeek := max(c.Week(span.From), c.Week(span.To)-11)
	row.Weeks = make([]int, c.Week(span.To)-firstWeek+1)
	words := map[string]int{}
	for _, e := range measure.Days(v.school.placeOf[row.Student.ID], span) {
		if e.Verdict != absence.WasExcused && e.Verdict != absence.WasUnexcused {
			continue
		}
		words[mainWord(e)]++
		if i, ok := c.Index(e.Date); ok && c.Week(i) >= firstWeek {
			row.Weeks[c.Week(i)-firstWeek]++
		}
	}
	row.Mostly = mostly(words)
}

// mainWord is the word of the code by which most of a day was missed.
func mainWord(e absence.DayEvidence) string {
	missed := map[string]int{}
	best := ""
	for _, k := range e.Marks {
		if k.Missed == 0 {
			continue
		}
		missed[k.Code.Word] += k.Missed
		if best == "" || missed[k.Code.Word] > missed[best] {
			best = k.Code.Word
		}
	}
	return best
}

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
	return join(", ", parts...)
}
