package paperpage

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/punctuality"
	"meldung/files/sheet"
	"meldung/held"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
)

// LatesAsk says which late arrivals and early departures are listed. Everything may be
// empty: the week so far, everyone, every kind.
type LatesAsk struct {
	From, To string // dates
	Group    string // "year:9", "class:12" or "student:7"
	Kind     string // a kind in words
	Page     int    // from 1 on; 0 for all of it at once
}

// latesPage is how many entries a page has, and latesStudents how many students stand beside it.
const (
	latesPage     = 200
	latesStudents = 50
)

// LateRow is one late arrival or early departure.
type LateRow struct {
	Date    string           `json:"date"`
	Day     string           `json:"day" doc:"The date in words"`
	Student pages.StudentRef `json:"student"`
	Kind    string           `json:"kind" enum:"late arrival,late to a lesson,left early"`
	State   string           `json:"state" doc:"The state whose shape it has"`
	At      string           `json:"at" doc:"Empty where nobody wrote it down"`
	Slot    string           `json:"slot"`
	Reason  string           `json:"reason"`
	Missed  string           `json:"missed" doc:"Time missed, in words; empty where not known"`
	minutes int
}

// LateCount is how often something was the case, by kind.
type LateCount struct {
	Label string `json:"label"`
	Of    []int  `json:"of" doc:"A number for each kind"`
	All   int    `json:"all"`
}

// LateStudent is how often a student was on the list.
type LateStudent struct {
	Student pages.StudentRef `json:"student"`
	LateCount
	Missed string `json:"missed" doc:"Time missed, in words"`
}

// LatesView is the list of late arrivals and early departures with its counts.
type LatesView struct {
	From     string         `json:"from"`
	To       string         `json:"to"`
	Label    string         `json:"label" doc:"The span in words"`
	School   string         `json:"school"`
	Scope    string         `json:"scope" doc:"The sections that it covers; empty where the school has one"`
	Group    string         `json:"group" doc:"The group in words; empty for everyone"`
	Groups   []pages.Choice `json:"groups"`
	Spans    []pages.Choice `json:"spans"`
	Kinds    []string       `json:"kinds"`
	Rows     []LateRow      `json:"rows" doc:"Newest first"`
	Reasons  []LateCount    `json:"reasons" doc:"Most first"`
	Weekdays []LateCount    `json:"weekdays" doc:"Monday first"`
	Students []LateStudent  `json:"students" doc:"Most first"`
	All      int            `json:"all" doc:"Entries on all pages"`
	Page     int            `json:"page" doc:"0 where all are here"`
	Pages    int            `json:"pages"`
}

// noReasonGiven stands where the door asked for none.
const noReasonGiven = "none given"

// ShowLates lists who came late and who left early up to a moment: by the marks as they stand
// now, and by what the door had stored by then and nobody has taken back.
func ShowLates(ctx context.Context, o *work.Office, asAt string, ask LatesAsk, of ...ids.Section) (LatesView, error) {
	out := LatesView{Groups: []pages.Choice{}, Spans: []pages.Choice{}, Rows: []LateRow{}, Reasons: []LateCount{}, Weekdays: []LateCount{}, Students: []LateStudent{}}
	for k := range punctuality.Kinds {
		out.Kinds = append(out.Kinds, k.String())
	}
	m, err := o.Moment(asAt, of...)
	if err != nil {
		return out, err
	}
	err = o.ReadOn(ctx, m.Date, func(v work.Snapshot) error {
		return lates(ctx, v, &out, m, ask)
	})
	return out, err
}

// lates fills the list for a moment.
func lates(ctx context.Context, v work.Snapshot, out *LatesView, m work.Moment, ask LatesAsk) error {
	if ask.Kind != "" && !slices.Contains(out.Kinds, ask.Kind) {
		return work.Wrongf("%q is no kind; there are %s", ask.Kind, strings.Join(out.Kinds, ", "))
	}
	from, to, err := pages.Dates(ask.From, m.Date.Monday(), ask.To, func(from day.Date) day.Date { return max(from, m.Date) })
	if err != nil {
		return err
	}
	to = min(to, m.Date)
	students, group, err := pages.GroupOf(v, m.Scope, m.Date, ask.Group)
	if err != nil {
		return err
	}
	var sections []work.Section
	for _, s := range v.In(m.Scope) {
		if s.Ledger != nil {
			sections = append(sections, s)
		}
	}
	if len(sections) == 0 {
		return work.NoCalendar()
	}
	out.From, out.To, out.School, out.Group, out.Groups, out.Scope = from.String(), to.String(), v.SchoolName(), group, pages.GroupChoices(v, m.Scope), v.ScopeText(m.Scope)
	out.Label = from.Spoken() + " to " + to.Spoken()
	if from == to {
		out.Label = from.Spoken()
	}
	out.Spans = append([]pages.Choice{{Value: m.Date.String() + ".." + m.Date.String(), Label: "today", Kind: "day"}, {Value: m.Date.Monday().String() + ".." + m.Date.String(), Label: "this week", Kind: "week"},
		{Value: (m.Date.Monday() - 7).String() + ".." + (m.Date.Monday() - 1).String(), Label: "the week before", Kind: "week"}}, pages.SpanChoices(sections[0], sections[0].Calendar.UpTo(m.Date))...)
	year := m.Date
	for _, section := range sections {
		first, _ := section.Calendar.Span()
		year = min(year, first)
	}
	crossings, err := door(ctx, v, year, max(from, year), to, m)
	if err != nil {
		return err
	}
	for _, section := range sections {
		span := section.Ledger.Between(from, to)
		marked, err := lateOrLeaving(section)
		if err != nil {
			return err
		}
		for d := span.To; d >= span.From; d-- {
			date := section.Calendar.Day(d).Date
			for _, s := range students {
				place := section.Place(s.ID)
				if place < 0 || (d < len(marked) && !marked[d][place] && len(crossings[doorKey{s.ID, date}]) == 0) {
					continue
				}
				if section.Has(s.ID, date) {
					latesOf(section, out, s, d, crossings[doorKey{s.ID, date}], ask.Kind, m)
				}
			}
		}
	}
	slices.SortStableFunc(out.Rows, func(a, b LateRow) int {
		if c := strings.Compare(b.Date, a.Date); c != 0 {
			return c
		}
		return strings.Compare(b.At, a.At)
	})
	out.sum()
	out.All, out.Pages = len(out.Rows), 1
	if ask.Page > 0 {
		out.Pages = max(1, (out.All+latesPage-1)/latesPage)
		out.Page = min(ask.Page, out.Pages)
		out.Rows = out.Rows[(out.Page-1)*latesPage : min(out.All, out.Page*latesPage)]
		out.Students = out.Students[:min(len(out.Students), latesStudents)]
	}
	return nil
}

// lateOrLeaving says, for each of a section's days that are over, which places of its ledger have
// a mark of coming late or leaving early. It is kept while nothing of those days changes.
func lateOrLeaving(section work.Section) ([][]bool, error) {
	over := section.Calendar.From(section.Now.Date())
	return work.Remember(section.Snapshot, fmt.Sprint("late or leaving ", section.ID, section.Calendar.Day(0).Date, over), []string{work.PastMarks}, func() ([][]bool, error) {
		out := make([][]bool, over)
		for d := range over {
			out[d] = make([]bool, section.Ledger.Len())
			for place := range out[d] {
				out[d][place] = isLateOrLeaving(section, place, d)
			}
		}
		return out, nil
	})
}

func isLateOrLeaving(section work.Section, place, d int) bool {
	for pos := range section.Calendar.Day(d).Pattern.Slots {
		if mark, marked := section.Ledger.Mark(place, d, pos); marked {
			p, _ := punctuality.PresenceOf(section.Ledger.Codes(d).Codes[mark.Code], mark.From, mark.To)
			if p == punctuality.Late || p == punctuality.Leaving {
				return true
			}
		}
	}
	return false
}

type doorKey struct {
	student ids.Student
	date    day.Date
}

// movements returns the arrivals and departures of some dates. Nobody stores or takes back one of a
// day that is over, so those of the year's days before the present one are kept.
func movements(ctx context.Context, v work.Snapshot, year, from, to day.Date) (past, now []store.Movement, err error) {
	yesterday := v.Now.Date() - 1
	if from > yesterday {
		now, err = store.MovementsBetween(ctx, v.Store(), from, to)
		return nil, now, err
	}
	past, err = work.Remember(v, fmt.Sprint("movements from ", year, " to ", yesterday), nil, func() ([]store.Movement, error) {
		return store.MovementsBetween(ctx, v.Store(), year, yesterday)
	})
	if err != nil {
		return nil, nil, err
	}
	on := func(d day.Date) int {
		n, _ := slices.BinarySearchFunc(past, d, func(mv store.Movement, d day.Date) int { return cmp.Compare(mv.Date, d) })
		return n
	}
	past = past[on(from):on(to+1)]
	if to > yesterday {
		now, err = store.MovementsBetween(ctx, v.Store(), yesterday+1, to)
	}
	return past, now, err
}

// door returns who went through the door on some dates, by student and date.
func door(ctx context.Context, v work.Snapshot, year, from, to day.Date, m work.Moment) (map[doorKey][]punctuality.Crossing, error) {
	past, now, err := movements(ctx, v, year, from, to)
	if err != nil {
		return nil, err
	}
	out := make(map[doorKey][]punctuality.Crossing, len(past)+len(now))
	add := func(mv store.Movement) {
		leaves := mv.Kind == work.Departed
		if mv.Known > m.Known || (leaves && mv.Date == m.Date && mv.Returns.After(m.Minute)) {
			return // not known yet; or expected back, and not early so far
		}
		k := doorKey{mv.StudentID, mv.Date}
		if n := len(out[k]); mv.Kind == work.Seen && (n == 0 || !out[k][n-1].Out) {
			return // found in the building: that is no coming, unless they had left
		}
		out[k] = append(out[k], punctuality.Crossing{At: mv.Minute, Out: leaves, Reason: work.Join(": ", mv.Reason, mv.Note)})
	}
	for _, some := range [][]store.Movement{past, now} {
		for _, mv := range some {
			add(mv)
		}
	}
	return out, nil
}

// latesOf adds what a student did on one school day.
func latesOf(v work.Section, out *LatesView, s store.Student, d int, door []punctuality.Crossing, kind string, m work.Moment) {
	sd := v.Calendar.Day(d)
	today := punctuality.Day{Door: door}
	place := v.Place(s.ID)
	interesting := len(door) > 0
	for pos, slot := range sd.Pattern.Slots {
		if !v.Ledger.Due(place, d, pos) {
			continue
		}
		one := punctuality.Slot{Slot: slot}
		if mark, marked := v.Ledger.Mark(place, d, pos); marked {
			code := v.Ledger.Codes(d).Codes[mark.Code]
			one.Presence, one.At = punctuality.PresenceOf(code, mark.From, mark.To)
			interesting = interesting || one.Presence == punctuality.Late || one.Presence == punctuality.Leaving
		}
		today.Slots = append(today.Slots, one)
	}
	if !interesting {
		return
	}
	for _, e := range punctuality.Of(today, v.Settings.LateGrace) {
		if (kind != "" && e.Kind.String() != kind) || (sd.Date == m.Date && e.At.After(m.Minute)) {
			continue
		}
		row := LateRow{Date: sd.Date.String(), Day: sd.Date.Spoken(), Student: pages.Student(v.Snapshot, s, m.Date), Kind: e.Kind.String(), State: "late", At: e.At.String(), Reason: e.Reason, minutes: max(e.Missed, 0)}
		if pos, ok := sd.Pattern.Position(e.Slot); ok {
			row.Slot = sd.Pattern.Slots[pos].Label()
		}
		if e.Kind == punctuality.EarlyDeparture {
			row.State = "left"
		}
		if e.Missed > 0 {
			row.Missed = day.Duration(e.Missed)
		}
		out.Rows = append(out.Rows, row)
	}
}

// sum counts the rows by reason, weekday and student.
func (out *LatesView) sum() {
	kinds := len(out.Kinds)
	reasons, weekdays, students := map[string]*LateCount{}, map[int]*LateCount{}, map[ids.Student]*LateStudent{}
	missed := map[ids.Student]int{}
	for _, r := range out.Rows {
		k := slices.Index(out.Kinds, r.Kind)
		reason, _, _ := strings.Cut(r.Reason, ": ")
		if reason == "" || reason == held.NoReason {
			reason = noReasonGiven
		}
		d := day.MustDate(r.Date)
		if students[r.Student.ID] == nil {
			students[r.Student.ID] = &LateStudent{Student: r.Student, LateCount: LateCount{Label: r.Student.Sorted, Of: make([]int, kinds)}}
		}
		counted(reasons, reason, reason, kinds, k)
		counted(weekdays, d.Weekday(), d.Time().Format("Monday"), kinds, k)
		students[r.Student.ID].Of[k]++
		students[r.Student.ID].All++
		missed[r.Student.ID] += r.minutes
	}
	for _, c := range reasons {
		out.Reasons = append(out.Reasons, *c)
	}
	slices.SortFunc(out.Reasons, mostFirst)
	for w := 1; w <= 7; w++ {
		if c := weekdays[w]; c != nil {
			out.Weekdays = append(out.Weekdays, *c)
		}
	}
	for id, s := range students {
		if missed[id] > 0 {
			s.Missed = day.Duration(missed[id])
		}
		out.Students = append(out.Students, *s)
	}
	slices.SortFunc(out.Students, func(a, b LateStudent) int { return mostFirst(a.LateCount, b.LateCount) })
}

func counted[K comparable](counts map[K]*LateCount, key K, label string, kinds, kind int) {
	if counts[key] == nil {
		counts[key] = &LateCount{Label: label, Of: make([]int, kinds)}
	}
	counts[key].Of[kind]++
	counts[key].All++
}

func mostFirst(a, b LateCount) int {
	if a.All != b.All {
		return b.All - a.All
	}
	return strings.Compare(a.Label, b.Label)
}

// LatesFile is the list as a file: "csv" or "xlsx".
func LatesFile(ctx context.Context, o *work.Office, asAt string, ask LatesAsk, format string, of ...ids.Section) (pages.File, error) {
	v, err := ShowLates(ctx, o, asAt, ask, of...)
	if err != nil {
		return pages.File{}, err
	}
	list := sheet.List{Title: "Late arrivals and early departures", About: []string{work.Join(" · ", v.School, v.Scope, v.Group), v.Label, "As at " + o.Now().String(), "This file holds data about students."},
		Columns: []sheet.Column{{Heading: "Date", Width: 12}, {Heading: "Family, given name", Width: 28}, {Heading: "Number", Width: 10}, {Heading: "Form", Width: 14}, {Heading: "Kind", Width: 16},
			{Heading: "At", Width: 8}, {Heading: "Slot", Width: 18}, {Heading: "Reason", Width: 30}, {Heading: "Minutes missed", Width: 14, Number: true}}}
	for _, r := range v.Rows {
		minutes := ""
		if r.Missed != "" {
			minutes = fmt.Sprint(r.minutes)
		}
		list.Rows = append(list.Rows, []string{r.Date, r.Student.Sorted, r.Student.Number, r.Student.Form, r.Kind, r.At, r.Slot, r.Reason, minutes})
	}
	return pages.ListFile("student-data-lates-"+v.From+"-to-"+v.To, list, format)
}
