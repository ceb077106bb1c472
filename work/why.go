package work

import (
	"context"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/policy"
	"meldung/store"
)

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

// WhyAdded is what one day added to a count.
type WhyAdded struct {
	Date   string `json:"date"`
	Words  string `json:"words"`
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

// WhyBases are missed minutes on both bases, for those whose full time is not all here.
type WhyBases struct {
	Due       string `json:"due"`
	Scheduled string `json:"scheduled" doc:"Missed of the own schedule"`
	FullDay   string `json:"fullDay" doc:"Charged where whole days count as full ones"`
	FullDays  int    `json:"fullDays" doc:"Days charged as full ones"`
	FullOf    string `json:"fullOf" doc:"What these are charged"`
	FullSeen  string `json:"fullSeen" doc:"What the school saw of these"`
	Here      string `json:"here" doc:"Share of full time here"`
	Elsewhere string `json:"elsewhere"`
}

// WhyView takes a student's figure apart.
type WhyView struct {
	Student  StudentRef     `json:"student"`
	Policy   string         `json:"policy"`
	Title    string         `json:"title"`
	Source   string         `json:"source"`
	Version  string         `json:"version" doc:"Tells one wording of the policy from another"`
	Words    string         `json:"words" doc:"The span in words"`
	Whole    bool           `json:"whole" doc:"The span is the year so far"`
	FullDay  bool           `json:"fullDay" doc:"The policy charges whole days as full ones"`
	Figures  AbsenceFigures `json:"figures"`
	WholeDay int            `json:"wholeDay" doc:"Absent days that were missed whole"`
	PartDay  int            `json:"partDay" doc:"Absent days of which a part was attended"`
	Shorter  int            `json:"shorter" doc:"Days with shorter absences, which do not count as days"`
	HalfOf   string         `json:"halfOf" doc:"Share of a day from which it counts"`
	Complete int            `json:"complete" doc:"Days attended in full"`
	Bases    *WhyBases      `json:"bases,omitempty" doc:"For part-time and shared students"`
	Triggers []WhyTrigger   `json:"triggers"`
	Due      []DueView      `json:"due" doc:"Lines reached and steps due in the span, newest first"`
	Days     []WhyDay       `json:"days" doc:"Days with anything missed, newest first"`
}

// Why takes a student's figure apart, down to the marks.
func (o *Office) Why(ctx context.Context, p Person, student int64, asAt string, ask AbsenceAsk) (WhyView, error) {
	out := WhyView{Triggers: []WhyTrigger{}, Due: []DueView{}, Days: []WhyDay{}}
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
		measure, err := v.measure(ask.policy())
		if err != nil {
			return err
		}
		var page AbsenceView
		span, err := v.spanOf(&page, m, ask)
		if err != nil {
			return err
		}
		out.Words, out.Whole = page.Words, page.Whole
		v.why(&out, measure, s, m, span)
		return nil
	})
	return out, err
}

func (v view) why(out *WhyView, measure *absence.Measure, s store.Student, m Moment, span absence.Span) {
	place := v.school.placeOf[s.ID]
	out.Student, out.Policy, out.Title, out.Source = v.ref(s, m.Date), measure.Policy().ID, measure.Policy().Title, measure.Policy().Source
	out.Version = measure.Policy().Version
	out.FullDay = measure.Policy().Basis == policy.FullDay
	out.Bases = v.bases(measure, s, span)
	out.Triggers = v.whyTriggers(measure, place, span.To)
	out.Due = append(out.Due, v.due(measure, []store.Student{s}, m, span)...)
	out.Figures, out.HalfOf = v.figures(measure, measure.Student(place, span)), measure.Policy().DayAbsentAt.String()
	days := measure.Days(place, span)
	for i := len(days) - 1; i >= 0; i-- {
		e := days[i]
		absent := e.Verdict == absence.WasExcused || e.Verdict == absence.WasUnexcused
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

// bases compares both bases for a student whose full time is not all here; nil
// for others.
func (v view) bases(measure *absence.Measure, s store.Student, span absence.Span) *WhyBases {
	place := v.school.placeOf[s.ID]
	whole := v.o.ledger.Student(place).ShareHere.Cmp(1, 1) == 0
	if v.school.slots[s.ID] == nil && whole {
		return nil
	}
	b := measure.Bases(place, span)
	return &WhyBases{Due: day.Duration(b.Due), Scheduled: day.Duration(b.Scheduled), FullDay: day.Duration(b.FullDay), FullDays: b.FullDays,
		FullOf: day.Duration(b.FullOf), FullSeen: day.Duration(b.FullSeen), Here: s.ShareHere, Elsewhere: s.ShareElsewhere}
}

func (v view) whyTriggers(measure *absence.Measure, place, last int) []WhyTrigger {
	out := []WhyTrigger{}
	for n, r := range measure.Triggers(place, last) {
		t := WhyTrigger{ID: r.Trigger.ID, Title: titleOr(r.Trigger.Title, r.Trigger.ID), Window: windowWords(r.Trigger.Window),
			Now: bareAmount(r.Trigger.Count, r.Now), Reach: amountWords(r.Trigger.Count, r.Trigger.Reach), Days: []WhyAdded{}}
		if r.Ever {
			t.Reached, t.CountThen = v.school.Calendar.Day(r.On).Date.Words(), bareAmount(r.Trigger.Count, r.CountThen)
		}
		for _, a := range measure.Behind(place, n, last) {
			d := v.school.Calendar.Day(a.Day).Date
			t.Days = append(t.Days, WhyAdded{d.String(), d.Words(), amountWords(r.Trigger.Count, a.Amount)})
		}
		out = append(out, t)
	}
	return out
}
