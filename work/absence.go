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
	Possible    int      `json:"possible"`
	Absent      int      `json:"absent"`
	Excused     int      `json:"excused"`
	Unexcused   int      `json:"unexcused"`
	Unexplained int      `json:"unexplained"`
	Unmarked    int      `json:"unmarked"`
	Lates       int      `json:"lates"`
	Rate        string   `json:"rate" doc:"Per cent with one decimal; empty where nothing was possible"`
	Band        string   `json:"band"`
	BandPlace   int      `json:"bandPlace" doc:"-1 for none"`
	Headroom    RoomView `json:"headroom"`
	WayBack     RoomView `json:"wayBack"`
	ToCome      int      `json:"toCome"`
	Missed      string   `json:"missed" doc:"Time missed, in words"`
}

func (v view) figures(m *absence.Measure, f absence.Figures) AbsenceFigures {
	out := AbsenceFigures{Possible: f.Possible, Absent: f.Absent, Excused: f.Excused, Unexcused: f.Unexcused, Unexplained: f.Unexplained,
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
	Weeks   []int          `json:"weeks" doc:"Days absent in each of the last twelve school weeks, oldest first"`
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

// AbsenceView is the Absence page.
type AbsenceView struct {
	Policy   string       `json:"policy"`
	Title    string       `json:"title"`
	Source   string       `json:"source"`
	AsAt     string       `json:"asAt"`
	Words    string       `json:"words" doc:"The span in words"`
	Days     int          `json:"days"`
	School   string       `json:"school" doc:"Rate of the whole scope"`
	Students int          `json:"students"`
	Unbanded int          `json:"unbanded"`
	Bands    []BandView   `json:"bands"`
	Bins     []Bin        `json:"bins"`
	Line     string       `json:"line" doc:"The line by which the table is sorted, in per cent"`
	Rows     []AbsenceRow `json:"rows" doc:"Nearest to the line first"`
	Forms    []string     `json:"forms" doc:"Forms to choose from"`
}

// Absence measures everyone by a policy over the year up to a moment, the
// nearest to the line first.
func (o *Office) Absence(ctx context.Context, policyID, asAt, form, line string) (AbsenceView, error) {
	out := AbsenceView{Bands: []BandView{}, Bins: []Bin{}, Rows: []AbsenceRow{}, Forms: []string{}}
	m, err := o.moment(asAt)
	if err != nil {
		return out, err
	}
	err = o.look(func(v view) error {
		measure, err := v.measure(policyID)
		if err != nil {
			return err
		}
		return v.absence(&out, measure, m, form, line)
	})
	return out, err
}

func (v view) absence(out *AbsenceView, measure *absence.Measure, m Moment, form, line string) error {
	p := measure.Policy()
	threshold := p.Threshold
	if line != "" {
		f, err := policy.ParseFraction(line)
		if err != nil {
			return wrong("%v", err)
		}
		threshold = f
	}
	last := v.endedBy(m)
	span := absence.Span{From: 0, To: last}
	out.Policy, out.Title, out.Source, out.Days, out.Line = p.ID, p.Title, p.Source, last+1, percentOf(threshold)
	if last >= 0 {
		out.AsAt = v.school.Calendar.Day(last).Date.String()
		out.Words = "Year to " + v.school.Calendar.Day(last).Date.Words()
	}
	out.Bands, out.Forms = bandViews(p), v.school.Forms()
	var group []int
	type near struct {
		row      AbsenceRow
		distance int // in millionths
	}
	var rows []near
	bins := map[int]*Bin{}
	for _, s := range v.school.Students {
		if !s.EnrolledOn(m.Date) || (form != "" && v.school.Form(s.ID, m.Date) != form) {
			continue
		}
		place := v.school.placeOf[s.ID]
		f := measure.Student(place, span)
		group = append(group, place)
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
			v.detail(&r.row, measure, last)
		}
		out.Rows = append(out.Rows, r.row)
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
	out.Students, out.School = len(group), measure.Group(group, span).Rate()
	return nil
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
func (v view) detail(row *AbsenceRow, measure *absence.Measure, last int) {
	c := v.school.Calendar
	if last < 0 {
		return
	}
	firstWeek := max(0, c.Week(last)-11)
	row.Weeks = make([]int, c.Week(last)-firstWeek+1)
	words := map[string]int{}
	for _, e := range measure.Days(v.school.placeOf[row.Student.ID], absence.Span{From: 0, To: last}) {
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

// WhyMark is a mark that made a figure.
type WhyMark struct {
	Slot   string `json:"slot"`
	Words  string `json:"words" doc:"The slot in words"`
	Code   string `json:"code"`
	Word   string `json:"word"`
	From   string `json:"from"`
	To     string `json:"to"`
	Due    int    `json:"due" doc:"Minutes"`
	Missed int    `json:"missed" doc:"Minutes"`
	State  string `json:"state"`
}

// WhyDay is a day that made a figure.
type WhyDay struct {
	Date       string    `json:"date"`
	Words      string    `json:"words"`
	Due        int       `json:"due"`
	Missed     int       `json:"missed"`
	AbsentFrom int       `json:"absentFrom" doc:"Missed minutes from which the day is absent"`
	Verdict    string    `json:"verdict" enum:"not possible,attended,excused,unexcused"`
	Unmarked   int       `json:"unmarked"`
	Marks      []WhyMark `json:"marks"`
}

// WhyView takes a student's figure apart.
type WhyView struct {
	Student  StudentRef     `json:"student"`
	Policy   string         `json:"policy"`
	Title    string         `json:"title"`
	Figures  AbsenceFigures `json:"figures"`
	Whole    int            `json:"whole" doc:"Absent days that were missed whole"`
	Part     int            `json:"part" doc:"Absent days of which a part was attended"`
	Shorter  int            `json:"shorter" doc:"Days with shorter absences, which do not count"`
	HalfOf   string         `json:"halfOf" doc:"Share of a day from which it counts"`
	Days     []WhyDay       `json:"days" doc:"Days with anything missed, newest first"`
	Complete int            `json:"complete" doc:"Days attended in full"`
}

// Why takes a student's figure apart, down to the marks.
func (o *Office) Why(ctx context.Context, p Person, policyID string, student int64, asAt string) (WhyView, error) {
	out := WhyView{Days: []WhyDay{}}
	m, err := o.moment(asAt)
	if err != nil {
		return out, err
	}
	err = o.look(func(v view) error {
		s, err := v.school.Student(student)
		if err != nil {
			return err
		}
		if err := v.school.maySee(p, student); err != nil {
			return err
		}
		measure, err := v.measure(policyID)
		if err != nil {
			return err
		}
		v.why(&out, measure, s, m)
		return nil
	})
	return out, err
}

func (v view) why(out *WhyView, measure *absence.Measure, s store.Student, m Moment) {
	place := v.school.placeOf[s.ID]
	span := absence.Span{From: 0, To: v.endedBy(m)}
	out.Student, out.Policy, out.Title = v.ref(s, m.Date), measure.Policy().ID, measure.Policy().Title
	out.Figures, out.HalfOf = v.figures(measure, measure.Student(place, span)), measure.Policy().DayAbsentAt.String()
	days := measure.Days(place, span)
	for i := len(days) - 1; i >= 0; i-- {
		e := days[i]
		absent := e.Verdict == absence.WasExcused || e.Verdict == absence.WasUnexcused
		switch {
		case absent && e.Missed == e.Due:
			out.Whole++
		case absent:
			out.Part++
		case e.Missed > 0:
			out.Shorter++
		case e.Verdict == absence.WasAttended:
			out.Complete++
		}
		if e.Missed == 0 && e.Unmarked == 0 {
			continue
		}
		d := WhyDay{Date: e.Date.String(), Words: e.Date.Words(), Due: e.Due, Missed: e.Missed, AbsentFrom: e.AbsentFrom, Verdict: string(e.Verdict), Unmarked: e.Unmarked, Marks: []WhyMark{}}
		for _, k := range e.Marks {
			if k.Missed > 0 {
				d.Marks = append(d.Marks, WhyMark{k.Slot.Name, k.Slot.Words(), k.Code.Code, k.Code.Word, minuteText(k.From), minuteText(k.To), k.Due, k.Missed, codeState(k.Code)})
			}
		}
		out.Days = append(out.Days, d)
	}
}
