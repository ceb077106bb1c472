// Package studentpage holds a student's sheet: figures, days, contacts, courses and what
// happened.
package studentpage

import (
	"context"
	"sort"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/policy"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
)

// Bar is a stretch of a day bar: from and to in thousandths of the school day.
type Bar struct {
	From  int    `json:"from"`
	To    int    `json:"to"`
	State string `json:"state" enum:"unexcused,explained,late,unaccounted,left"`
}

// DayBar is one school day of a student.
type DayBar struct {
	Date   string `json:"date"`
	Label  string `json:"label"`
	Week   int    `json:"week"`
	Term   string `json:"term"`
	State  string `json:"state" enum:"past,today,future,out" doc:"out is outside enrolment"`
	Missed string `json:"missed" doc:"In words; empty for nothing"`
	Bars   []Bar  `json:"bars"`
}

// HappenedView is an entry of a student's history.
type HappenedView struct {
	Date     string `json:"date"`
	Day      string `json:"day" doc:"In words"`
	At       string `json:"at" doc:"The minute; empty for a whole day's"`
	Kind     string `json:"kind" enum:"mark,desk,home,call,conduct,follow-up,step"`
	State    string `json:"state"`
	Text     string `json:"text"`
	By       string `json:"by"`
	sort     day.Instant
	seq      ids.Entry
	Incident ids.Incident `json:"incident,omitempty" doc:"The incident that it is about"`
	Letter   ids.Letter   `json:"letter,omitempty" doc:"The letter that it is about, as it was printed"`
}

// StudentSheet is all about one student.
type StudentSheet struct {
	Student   pages.StudentRef     `json:"student"`
	Born      string               `json:"born"`
	Travels   string               `json:"travels"`
	Bases     *pages.WhyBases      `json:"bases,omitempty" doc:"For part-time and shared students"`
	Due       []pages.DueView      `json:"due" doc:"Lines reached and steps due this year by every policy, newest first"`
	Warnings  []string             `json:"warnings"`
	Warned    []pages.WarningNow   `json:"warningsNow" doc:"The same warnings as they can be changed; none for those who may not"`
	InOffice  bool                 `json:"inOffice" doc:"Whoever looks may change warnings and take contacts off"`
	Siblings  []pages.StudentRef   `json:"siblings"`
	Place     pages.Place          `json:"place"`
	Figures   pages.AbsenceFigures `json:"figures"`
	Since     string               `json:"since" doc:"Since when the student is in the section whose figures these are, where that is later than the school year; empty for from the beginning"`
	Stays     []StayView           `json:"stays" doc:"The school year in other sections, each measured by its own calendar"`
	Before    *YearBefore          `json:"before,omitempty" doc:"The year before, where the student was on the roll"`
	Sentence  string               `json:"sentence" doc:"What stands out of where the student is missing; empty for who was not on the roll"`
	OnSite    int                  `json:"onSite" doc:"Lessons missed while on site"`
	Where     WhereView            `json:"where" doc:"When lessons are missed"`
	Lates     int                  `json:"lates"`
	LatesNow  int                  `json:"latesNow" doc:"In this grading period"`
	Period    string               `json:"period"`
	Days      []DayBar             `json:"days"`
	Contacts  []pages.ContactRef   `json:"contacts"`
	Changes   []pages.ContactNow   `json:"contactsNow" doc:"The same contacts as they can be changed; none for those who may not"`
	Incidents int                  `json:"incidents"`
	Happened  []HappenedView       `json:"happened" doc:"Newest first"`
	Fetch     *pages.FetchView     `json:"fetch,omitempty" doc:"Where the student is to be collected"`
	MayFetch  bool                 `json:"mayFetch" doc:"The student is here, and nobody is to collect them yet"`
	Photo     bool                 `json:"photo" doc:"There is a photo"`
}

// StayView is how a student stood in a section that they have left in the course of the year, or
// are still to come to.
type StayView struct {
	Section  string `json:"section"`
	Label    string `json:"label" doc:"Its dates in words"`
	Rate     string `json:"rate" doc:"In per cent; empty where nothing was possible"`
	Absent   int    `json:"absent"`
	Possible int    `json:"possible"`
}

// YearBefore is how a student stood a year before, to the same school day and in all.
type YearBefore struct {
	Label    string `json:"label" doc:"Its span to the same school day, in words"`
	Rate     string `json:"rate" doc:"To the same school day, in per cent; empty where nothing was possible"`
	Absent   int    `json:"absent"`
	Possible int    `json:"possible"`
	Whole    string `json:"whole" doc:"Of the whole year"`
	AsAt     string `json:"asAt" doc:"The last day of that year"`
}

// Show returns a student's sheet. A teacher sees their own students, without
// contacts and calls.
func Show(ctx context.Context, o *work.Office, p work.Person, id ids.Student, asAt string) (StudentSheet, error) {
	var out StudentSheet
	m, err := o.Moment(asAt)
	if err != nil {
		return out, err
	}
	err = o.ReadOn(ctx, m.Date, func(v work.Snapshot) error {
		s, err := v.Student(id)
		if err != nil {
			return err
		}
		if err := v.MaySee(p, id); err != nil {
			return err
		}
		x, err := v.Day(ctx, m.Date)
		if err != nil {
			return err
		}
		out = StudentSheet{Warned: []pages.WarningNow{}, Changes: []pages.ContactNow{}, Student: pages.Student(v, s, m.Date), Born: bornText(s.Born), Travels: s.Travels, Warnings: pages.Warnings(v.School.WarningsOf(id)),
			Siblings: []pages.StudentRef{}, Stays: []StayView{}, Due: []pages.DueView{}, Place: pages.PlaceOf(v.Position(x, id, m)), Contacts: []pages.ContactRef{}, Happened: []HappenedView{}, Days: []DayBar{}, Where: WhereView{Slots: []pages.SlotRef{}, Weekdays: []WeekdayMissed{}}}
		for _, sib := range v.School.Siblings(id, m.Date) {
			if v.MaySee(p, sib.ID) == nil {
				out.Siblings = append(out.Siblings, pages.Student(v, sib, m.Date))
			}
		}
		if p.May(work.MaySetWarning) {
			out.InOffice = true
			if out.Warned, err = pages.WarningsNow(ctx, v, id); err != nil {
				return err
			}
		}
		if p.May(work.MaySeeContacts) {
			out.Contacts = pages.Contacts(v.School.ContactsOf(id))
			if p.May(work.MaySetContacts) {
				out.Changes = pages.ContactsNow(v, id)
			}
			if open := x.OpenFetch(id, m); open != nil {
				f := pages.Fetch(v, x, *open, m)
				out.Fetch = &f
			}
		}
		out.MayFetch = out.Fetch == nil && v.Position(x, id, m).OnPremises()
		photo, err := store.Photo(ctx, v.Store(), id)
		if err != nil {
			return err
		}
		out.Photo = len(photo) > 0
		section := v.Of(id)
		if err := addFigures(section, &out, s, x, m); err != nil {
			return err
		}
		if err := addYearBefore(ctx, section, &out, id, m); err != nil {
			return err
		}
		return addHistory(ctx, section, &out, p, s, m)
	})
	return out, err
}

// bornText says a date of birth as people do; other texts stay as given.
func bornText(text string) string {
	d, err := day.ParseDate(text)
	if err != nil {
		return text
	}
	return d.Time().Format("2 January 2006")
}

func addFigures(v work.Section, out *StudentSheet, s store.Student, x *work.Day, m work.Moment) error {
	place := v.Place(s.ID)
	if place < 0 {
		return nil // not on the roll in this school year
	}
	ten, err := v.Measure(work.UsualPolicy)
	if err != nil {
		return err
	}
	span := absence.Span{From: 0, To: pages.EndedBy(v, m)}
	f := ten.Student(place, span)
	out.Figures = pages.Figures(ten, f)
	out.Bases = pages.Bases(v, ten, s, span)
	panel, err := v.Panel()
	if err != nil {
		return err
	}
	for n, year := range panel.Student(place, span.To) {
		measure := panel.Measures()[n]
		for _, d := range pages.DueOf(v, measure, year, s, m, span) {
			if d.Kind != "band" || measure == ten { // several policies share the bands
				out.Due = append(out.Due, d)
			}
		}
	}
	sort.SliceStable(out.Due, func(a, b int) bool { return out.Due[a].Date > out.Due[b].Date })
	days := ten.Days(place, span)
	out.Where = whereView(absence.Where(days), v)
	habit := absence.HabitOf(days)
	out.OnSite, out.Sentence = habit.OnSite, habitText(habit, v)
	out.Lates = f.Lates
	if c := v.Calendar; span.To >= 0 {
		from := span.To
		for from > 0 && c.Day(from-1).GradingPeriod == c.Day(span.To).GradingPeriod {
			from--
		}
		out.Period = c.Day(span.To).GradingPeriod
		out.LatesNow = ten.Student(place, absence.Span{From: from, To: span.To}).Lates
	}
	out.Days = dayBars(v, ten, place, x, m)
	return addStays(v, out, s, m)
}

// addStays adds the student's school year in other sections.
func addStays(v work.Section, out *StudentSheet, s store.Student, m work.Moment) error {
	if first, _ := v.Calendar.Span(); v.Stay(s.ID, m.Date).From > first {
		out.Since = v.Stay(s.ID, m.Date).From.Spoken()
	}
	for _, other := range v.Sections() {
		place := other.Place(s.ID)
		if other.ID == v.ID || place < 0 {
			continue
		}
		ten, err := other.Measure(work.UsualPolicy)
		if err != nil {
			return err
		}
		f := ten.Student(place, absence.Span{From: 0, To: pages.EndedBy(other, m)})
		if f.Possible == 0 {
			continue
		}
		days := ten.Days(place, absence.Span{From: 0, To: pages.EndedBy(other, m)})
		out.Stays = append(out.Stays, StayView{Section: other.Name, Label: days[0].Date.Spoken() + " to " + days[len(days)-1].Date.Spoken(), Rate: f.Rate(), Absent: f.Absent, Possible: f.Possible})
	}
	return nil
}

// addYearBefore says how the student stood a year before.
func addYearBefore(ctx context.Context, v work.Section, out *StudentSheet, id ids.Student, m work.Moment) error {
	if v.Place(id) < 0 {
		return nil
	}
	was, span, ok, err := pages.LastYear(ctx, v, pages.EndedBy(v, m))
	if err != nil || !ok || was.Place(id) < 0 {
		return err
	}
	ten, err := was.Measure(work.UsualPolicy)
	if err != nil {
		return err
	}
	_, last := was.Calendar.Span()
	place := was.Place(id)
	f := ten.Student(place, span)
	out.Before = &YearBefore{Label: "to " + was.On.Spoken() + was.On.Time().Format(" 2006"), Rate: f.Rate(), Absent: f.Absent, Possible: f.Possible,
		Whole: ten.Student(place, was.Ledger.YearTo(last)).Rate(), AsAt: last.String()}
	return nil
}

func dayBars(v work.Section, ten *absence.Measure, place int, x *work.Day, m work.Moment) []DayBar {
	c := v.Calendar
	last := c.UpTo(m.Date)
	byDate := map[day.Date]absence.DayEvidence{}
	for _, e := range ten.Days(place, absence.Span{From: 0, To: last}) {
		byDate[e.Date] = e
	}
	out := make([]DayBar, c.Days())
	for i := range out {
		sd := c.Day(i)
		b := DayBar{Date: sd.Date.String(), Label: sd.Date.Spoken(), Week: c.Week(i), Term: sd.Term, State: "past", Bars: []Bar{}}
		switch {
		case sd.Date > m.Date:
			b.State = "future"
		case !v.Ledger.Enrolled(place, i):
			b.State = "out"
		case sd.Date == m.Date:
			b.State = "today"
		}
		if e, ok := byDate[sd.Date]; ok && i <= last {
			b.Bars = barsOf(e, sd.Pattern)
			if e.Missed > 0 {
				b.Missed = day.Duration(e.Missed) + " of " + day.Duration(e.Due)
			}
		}
		out[i] = b
	}
	return out
}

// barsOf shows when of a day was missed, in thousandths of it.
func barsOf(e absence.DayEvidence, p *day.Pattern) []Bar {
	out := []Bar{}
	first, last := p.Slots[0].Start, p.Slots[len(p.Slots)-1].End
	at := func(m day.Minute) int { return int(m.Sub(first)) * 1000 / int(last.Sub(first)) }
	for _, k := range e.Marks {
		if k.Missed == 0 {
			continue
		}
		from, to := k.Slot.Start, k.Slot.End
		if k.From.After(from) {
			from = k.From
		}
		if !k.To.IsZero() && k.To.Before(to) {
			to = k.To
		}
		b := Bar{From: at(from), To: at(to), State: pages.Shape(k.Code)}
		switch {
		case k.Code.Unexplained:
			b.State = "unexcused"
		case k.Code.Counts == policy.Attended && !k.Code.Late:
			b.State = "left"
		}
		if n := len(out); n > 0 && out[n-1].State == b.State && b.From-out[n-1].To < 120 {
			out[n-1].To = b.To
			continue
		}
		out = append(out, b)
	}
	return out
}
