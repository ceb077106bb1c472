package deskpage

import (
	"cmp"
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
	err := readPass(ctx, o, number, func(v work.Snapshot, x *work.Day, p store.Pass, m work.Moment) (err error) {
		out, err = passView(v, x, p, m)
		return err
	})
	return out, err
}

// PassCheck is what anyone of the staff reads who checks a pass in the corridor: whether it is
// good, whose it is and where they are due; why they came or left is the desk's. Of a pass that
// is not of today it does not say whose it was.
type PassCheck struct {
	Number  string `json:"number"`
	State   string `json:"state" enum:"good,back,taken back,another day"`
	Text    string `json:"text" doc:"What the state means"`
	Name    string `json:"name" doc:"Whose it is; empty where it is of another day"`
	Form    string `json:"form"`
	Kind    string `json:"kind" enum:"arrived,departed,seen"`
	At      string `json:"at"`
	Returns string `json:"returns" doc:"By when they are back"`
	Due     string `json:"due" doc:"The lesson that they are due in now or next"`
}

// CheckPass says what the pass with a number, as typed or scanned, is worth now.
func CheckPass(ctx context.Context, o *work.Office, number string) (PassCheck, error) {
	var out PassCheck
	err := readPass(ctx, o, number, func(v work.Snapshot, x *work.Day, p store.Pass, m work.Moment) error {
		full, err := passView(v, x, p, m)
		if err != nil {
			return err
		}
		out = PassCheck{Number: full.Number, State: full.State, Text: full.Text, Kind: full.Kind}
		if x.Date != v.Now.Date() {
			return nil
		}
		out.Name, out.Form, out.At, out.Returns = full.Student.Name, full.Student.Form, full.At, full.Returns
		for _, l := range passLessons(v, x, full.Student.ID, v.Now.Minute()) {
			out.Due = work.Join(", ", l.Class, cmp.Or(l.Room, l.Label)) + " from " + l.At
			break
		}
		return nil
	})
	return out, err
}

// readPass gives f the pass with a number, as typed or scanned, and its day as it is known now.
func readPass(ctx context.Context, o *work.Office, number string, f func(v work.Snapshot, x *work.Day, p store.Pass, m work.Moment) error) error {
	serial, err := passnumber.Parse(number)
	if err != nil {
		return work.Wrongf("%v", err)
	}
	d, ok, err := store.PassDate(ctx, o.Store().Read(), serial)
	if err != nil {
		return err
	}
	none := work.NotFoundf("no pass has the number %s", passnumber.Number(serial))
	if !ok {
		return none
	}
	m := work.Moment{Date: d, Minute: day.MustMinute("23:59"), Known: o.Now()}
	return o.ReadDay(ctx, m, func(v work.Snapshot, x *work.Day) error {
		i := slices.IndexFunc(x.Passes, func(pass store.Pass) bool { return pass.ID == serial })
		if i < 0 {
			return none
		}
		if d == m.Known.Date() {
			m.Minute, m.Live = m.Known.Minute(), true
		}
		return f(v, x, x.Passes[i], m)
	})
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
