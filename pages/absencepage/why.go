package absencepage

import (
	"context"

	"meldung/core/absence"
	"meldung/core/ids"
	"meldung/core/policy"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
)

// WhyMark is a mark that made a figure.
type WhyMark struct {
	Slot   string `json:"slot"`
	Label  string `json:"label" doc:"The slot in words"`
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
	Label      string    `json:"label"`
	Due        int       `json:"due"`
	Missed     int       `json:"missed"`
	AbsentFrom int       `json:"absentFrom" doc:"Missed minutes from which the day is absent"`
	Verdict    string    `json:"verdict" enum:"not possible,attended,excused,unexcused"`
	Unmarked   int       `json:"unmarked"`
	Marks      []WhyMark `json:"marks"`
}

// WhyAdded is what one day added to a count.
type WhyAdded struct {
	Date   string `json:"date"`
	Label  string `json:"label"`
	Amount string `json:"amount"`
}

// WhyTrigger is a line of the policy and how near the student is to it.
type WhyTrigger struct {
	ID        string     `json:"id"`
	Title     string     `json:"title"`
	Window    string     `json:"window" doc:"Over what it counts, in words"`
	Now       string     `json:"now"`
	Reach     string     `json:"reach"`
	Reached   string     `json:"reached" doc:"The day on which it was first reached; empty for never"`
	CountThen string     `json:"countThen" doc:"The count on that day"`
	Days      []WhyAdded `json:"days" doc:"What was added up then or, where it was never reached, now"`
}

// WhyView takes a student's figure apart.
type WhyView struct {
	Student  pages.StudentRef     `json:"student"`
	Policy   string               `json:"policy"`
	Title    string               `json:"title"`
	Source   string               `json:"source"`
	Version  string               `json:"version" doc:"Tells one wording of the policy from another"`
	Label    string               `json:"label" doc:"The span in words"`
	Whole    bool                 `json:"whole" doc:"The span is the year so far"`
	Lessons  bool                 `json:"lessons" doc:"Measured by the lessons of one class alone"`
	FullDay  bool                 `json:"fullDay" doc:"The policy charges whole days as full ones"`
	Figures  pages.AbsenceFigures `json:"figures"`
	WholeDay int                  `json:"wholeDay" doc:"Absent days that were missed whole"`
	PartDay  int                  `json:"partDay" doc:"Absent days of which a part was attended"`
	Shorter  int                  `json:"shorter" doc:"Days with shorter absences, which do not count as days"`
	HalfOf   string               `json:"halfOf" doc:"Share of a day from which it counts"`
	Complete int                  `json:"complete" doc:"Days attended in full"`
	Bases    *pages.WhyBases      `json:"bases,omitempty" doc:"For part-time and shared students"`
	Triggers []WhyTrigger         `json:"triggers"`
	Due      []pages.DueView      `json:"due" doc:"Lines reached and steps due in the span, newest first"`
	Days     []WhyDay             `json:"days" doc:"Days with anything missed, newest first"`
}

// ShowWhy takes a student's figure apart, down to the marks.
func ShowWhy(ctx context.Context, o *work.Office, p work.Person, student ids.Student, asAt string, ask pages.AbsenceAsk) (WhyView, error) {
	out := WhyView{Triggers: []WhyTrigger{}, Due: []pages.DueView{}, Days: []WhyDay{}}
	m, err := o.Moment(asAt)
	if err != nil {
		return out, err
	}
	err = o.ReadOn(ctx, m.Date, func(v work.Snapshot) error {
		section, measure, span, err := pages.MeasuredOf(v, p, student, m, ask)
		if err != nil {
			return err
		}
		out.Label, out.Whole = span.Sentence, span.Whole
		p := part{Section: section, measure: measure, span: span, students: []store.Student{v.School.StudentOf(student)}, places: []int{section.Place(student)}}
		if err := p.classOnly(v, ask.Group); err != nil {
			return err
		}
		why(p, &out, m)
		return nil
	})
	return out, err
}

func why(p part, out *WhyView, m work.Moment) {
	v, measure, s, span, place := p.Section, p.measure, p.students[0], p.span.Span, p.places[0]
	out.Student, out.Policy, out.Title, out.Source = pages.Student(v.Snapshot, s, m.Date), measure.Policy().ID, measure.Policy().Title, measure.Policy().Source
	out.Version = measure.Policy().Version
	out.FullDay = measure.Policy().Basis == policy.FullDay
	if out.Lessons = p.lessons != nil; !out.Lessons {
		out.Bases = pages.Bases(v, measure, s, span)
		out.Triggers = whyTriggers(v, measure, place, span.To)
		out.Due = append(out.Due, pages.Due(v, measure, []store.Student{s}, m, span)...)
	}
	out.Figures, out.HalfOf = pages.Figures(measure, measure.Student(place, span)), measure.Policy().DayAbsentAt.String()
	if out.Lessons {
		out.Figures.Unmarked = 0 // the other classes' lessons have no mark here
	}
	days := measure.Days(place, span)
	for i := len(days) - 1; i >= 0; i-- {
		e := days[i]
		absent := e.Absent()
		switch {
		case absent && e.Missed == e.Due:
			out.WholeDay++
		case absent:
			out.PartDay++
		case e.Missed > 0:
			out.Shorter++
		case e.Verdict == absence.WasAttended:
			out.Complete++
		}
		if e.Missed == 0 && (e.Unmarked == 0 || out.Lessons) {
			continue
		}
		d := WhyDay{Date: e.Date.String(), Label: e.Date.Spoken(), Due: e.Due, Missed: e.Missed, AbsentFrom: e.AbsentFrom, Verdict: string(e.Verdict), Unmarked: e.Unmarked, Marks: []WhyMark{}}
		for _, k := range e.Marks {
			if k.Missed > 0 {
				d.Marks = append(d.Marks, WhyMark{k.Slot.Name, k.Slot.Label(), k.Code.Code, k.Code.Word, k.From.String(), k.To.String(), k.Due, k.Missed, pages.Shape(k.Code)})
			}
		}
		out.Days = append(out.Days, d)
	}
}

func whyTriggers(v work.Section, measure *absence.Measure, place, last int) []WhyTrigger {
	out := []WhyTrigger{}
	for n, r := range measure.Triggers(place, last) {
		t := WhyTrigger{ID: r.Trigger.ID, Title: pages.TitleOr(r.Trigger.Title, r.Trigger.ID), Window: r.Trigger.Window.Words(),
			Now: r.Trigger.Count.Bare(r.Now), Reach: r.Trigger.Count.Of(r.Trigger.Reach), Days: []WhyAdded{}}
		if r.Ever {
			t.Reached, t.CountThen = v.Calendar.Day(r.On).Date.Spoken(), r.Trigger.Count.Bare(r.CountThen)
		}
		for _, a := range measure.Behind(place, n, last) {
			d := v.Calendar.Day(a.Day).Date
			t.Days = append(t.Days, WhyAdded{d.String(), d.Spoken(), r.Trigger.Count.Of(a.Amount)})
		}
		out = append(out, t)
	}
	return out
}
