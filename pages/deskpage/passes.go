package deskpage

import (
	"context"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	passnumber "meldung/core/pass"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
)

// returnedBy reports whether a pass had come back at an instant.
func returnedBy(p store.Pass, known day.Instant) bool {
	return p.ReturnedAt != nil && *p.ReturnedAt <= known
}

// PassLesson is a lesson that whoever carries a pass has still to go to, or misses.
type PassLesson struct {
	Slot    string `json:"slot"`
	Label   string `json:"label"`
	At      string `json:"at"`
	Class   string `json:"class"`
	Teacher string `json:"teacher"`
	Room    string `json:"room"`
}

// PassView is a pass as it is printed and checked.
type PassView struct {
	ID        ids.Pass         `json:"id"`
	Number    string           `json:"number"`
	Code      string           `json:"code" doc:"What its Code 39 says"`
	School    string           `json:"school"`
	Student   pages.StudentRef `json:"student"`
	Kind      string           `json:"kind" enum:"arrived,departed,seen"`
	Date      string           `json:"date"`
	Day       string           `json:"day"`
	At        string           `json:"at"`
	Reason    string           `json:"reason"`
	Note      string           `json:"note"`
	Returns   string           `json:"returns"`
	Collector string           `json:"collector"`
	Made      string           `json:"made" doc:"When and by whom"`
	State     string           `json:"state" enum:"good,back,taken back,another day"`
	Text      string           `json:"text" doc:"What the state means"`
	Place     pages.Place      `json:"place" doc:"Where the student is now"`
	Lessons   []PassLesson     `json:"lessons" doc:"The remaining lessons of the day, for their teachers to sign"`
}

// ShowPass returns a pass by its number, as typed or scanned, with what it is worth now.
func ShowPass(ctx context.Context, o *work.Office, number string) (PassView, error) {
	var out PassView
	serial, err := passnumber.Parse(number)
	if err != nil {
		return out, work.Wrongf("%v", err)
	}
	d, ok, err := store.PassDate(ctx, o.Store().Read(), serial)
	if err != nil {
		return out, err
	}
	if !ok {
		return out, work.NotFoundf("no pass has the number %s", passnumber.Number(serial))
	}
	now := o.Now()
	err = o.ReadDay(ctx, work.Moment{Date: d, Minute: day.MustMinute("23:59"), Known: now}, func(v work.Snapshot, x *work.Day) error {
		i := slices.IndexFunc(x.Passes, func(pass store.Pass) bool { return pass.ID == serial })
		if i < 0 {
			return work.NotFoundf("no pass has the number %s", passnumber.Number(serial))
		}
		m := work.Moment{Date: d, Minute: day.MustMinute("23:59"), Known: now}
		if d == now.Date() {
			m.Minute, m.Live = now.Minute(), true
		}
		out, err = passView(v, x, x.Passes[i], m)
		return err
	})
	return out, err
}

// passesOut returns the passes that had not come back by a moment, oldest first.
func passesOut(x *work.Day, m work.Moment) []store.Pass {
	var out []store.Pass
	for _, p := range x.Passes {
		mv := x.Movement(p.MovementID)
		undone := mv == nil || (mv.UndoneAt != nil && *mv.UndoneAt <= m.Known)
		if p.Known <= m.Known && !returnedBy(p, m.Known) && !undone {
			out = append(out, p)
		}
	}
	return out
}

// passView returns a pass as it was worth at a moment.
func passView(v work.Snapshot, x *work.Day, p store.Pass, m work.Moment) (PassView, error) {
	mv := x.Movement(p.MovementID)
	if mv == nil {
		return PassView{}, work.NotFoundf("that pass belongs to no movement")
	}
	s, err := v.Student(mv.StudentID)
	if err != nil {
		return PassView{}, err
	}
	out := PassView{ID: p.ID, Number: passnumber.Number(p.ID), Code: passnumber.Code(p.ID), School: v.SchoolName(), Student: pages.Student(v, s, x.Date), Kind: mv.Kind,
		Date: x.Date.String(), Day: x.Date.Spoken(), At: mv.Minute.String(), Reason: mv.Reason, Note: mv.Note, Returns: mv.Returns.String(),
		Collector: mv.Collector, Made: work.When(p.Known, x.Date) + work.By(p.By), Place: pages.PlaceOf(v.Position(x, s.ID, m)), Lessons: passLessons(v, x, s.ID, mv.Minute)}
	out.State, out.Text = passState(p, *mv, x.Date, m, v.Now)
	return out, nil
}

// passState says what a pass is worth.
func passState(p store.Pass, mv store.Movement, d day.Date, m work.Moment, now day.Instant) (state, words string) {
	switch {
	case mv.UndoneAt != nil && *mv.UndoneAt <= m.Known:
		return "taken back", "The desk took this back: the pass is not good."
	case returnedBy(p, m.Known):
		return "back", "This pass came back at " + work.When(*p.ReturnedAt, d) + "."
	case d != now.Date():
		return "another day", "This pass is of " + d.Spoken() + ", not of today."
	default:
		return "good", "This pass is good today."
	}
}

// passLessons lists the student's slots that end after a minute.
func passLessons(v work.Snapshot, x *work.Day, student ids.Student, after day.Minute) []PassLesson {
	out := []PassLesson{}
	for _, r := range x.Registers {
		if !r.Slot.End.After(after) {
			continue
		}
		for _, s := range r.Roll {
			if s.ID == student {
				out = append(out, PassLesson{Slot: r.Slot.Name, Label: r.Slot.Label(), At: r.Slot.Start.String(), Class: r.Class.Title, Teacher: v.TakerNames(x, r.Class.ID, r.Slot.Name), Room: r.Meeting.Room})
			}
		}
	}
	slices.SortStableFunc(out, func(a, b PassLesson) int { return strings.Compare(a.At, b.At) })
	return out
}
