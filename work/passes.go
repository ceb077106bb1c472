package work

import (
	"context"
	"slices"
	"strings"

	"meldung/core/day"
	passnumber "meldung/core/pass"
	"meldung/store"
)

// PassLesson is a lesson that whoever carries a pass has still to go to, or misses.
type PassLesson struct {
	Slot    string `json:"slot"`
	Words   string `json:"words"`
	At      string `json:"at"`
	Class   string `json:"class"`
	Teacher string `json:"teacher"`
	Room    string `json:"room"`
}

// PassView is a pass as it is printed and checked.
type PassView struct {
	ID        int64        `json:"id"`
	Number    string       `json:"number"`
	Code      string       `json:"code" doc:"What its Code 39 says"`
	School    string       `json:"school"`
	Student   StudentRef   `json:"student"`
	Kind      string       `json:"kind" enum:"arrived,departed,seen"`
	Date      string       `json:"date"`
	Day       string       `json:"day"`
	At        string       `json:"at"`
	Reason    string       `json:"reason"`
	Note      string       `json:"note"`
	Returns   string       `json:"returns"`
	Collector string       `json:"collector"`
	Made      string       `json:"made" doc:"When and by whom"`
	State     string       `json:"state" enum:"good,back,taken back,another day"`
	Words     string       `json:"words" doc:"What the state means"`
	Place     Place        `json:"place" doc:"Where the student is now"`
	Lessons   []PassLesson `json:"lessons" doc:"The remaining lessons of the day, for their teachers to sign"`
}

// MakePass makes the pass of a movement; a movement has one, however often it is asked for.
func (o *Office) MakePass(ctx context.Context, p Person, key string, movement int64) (PassView, error) {
	var out PassView
	err := o.writeToday(ctx, p, key, "pass", &out, func(w *writing, v view, x *Day) error {
		i := slices.IndexFunc(x.movements, func(m store.Movement) bool { return m.ID == movement })
		if i < 0 {
			return notFound("there is no such movement today: no pass was made")
		}
		if x.movements[i].UndoneAt != nil {
			return refused("that was taken back: no pass was made")
		}
		m := Moment{Date: x.Date, Minute: w.now.Minute(), Known: w.now, Live: true}
		if pass := x.passOf(movement, w.now); pass != nil {
			var err error
			out, err = v.passView(x, *pass, m)
			return err
		}
		pass := store.Pass{MovementID: movement, Date: x.Date, Origin: store.Origin{Journal: w.journal.ID, Known: w.now, By: p.Name}}
		var err error
		if pass.ID, err = store.AddPass(ctx, w.tx, pass); err != nil {
			return err
		}
		out, err = v.passView(x, pass, m)
		return err
	})
	return out, err
}

// Pass returns a pass by its number, as typed or scanned, with what it is worth now.
func (o *Office) Pass(ctx context.Context, p Person, number string) (PassView, error) {
	var out PassView
	serial, err := passnumber.Parse(number)
	if err != nil {
		return out, wrong("%v", err)
	}
	d, ok, err := store.PassDate(ctx, o.store.Read(), serial)
	if err != nil {
		return out, err
	}
	if !ok {
		return out, notFound("no pass has the number %s", passnumber.Number(serial))
	}
	now := o.clock.Now()
	err = o.lookAt(ctx, Moment{Date: d, Minute: day.EndOfDay - 1, Known: now}, func(v view, x *Day) error {
		i := slices.IndexFunc(x.passes, func(pass store.Pass) bool { return pass.ID == serial })
		if i < 0 {
			return notFound("no pass has the number %s", passnumber.Number(serial))
		}
		m := Moment{Date: d, Minute: day.EndOfDay - 1, Known: now}
		if d == now.Date() {
			m.Minute, m.Live = now.Minute(), true
		}
		out, err = v.passView(x, x.passes[i], m)
		return err
	})
	return out, err
}

// ReturnPass stores that a pass came back.
func (o *Office) ReturnPass(ctx context.Context, p Person, key, number string) (Receipt, error) {
	var out Receipt
	serial, err := passnumber.Parse(number)
	if err != nil {
		return out, wrong("%v; nothing was stored", err)
	}
	err = o.write(ctx, p, key, "pass returned", &out, func(w *writing) error {
		_, ok, err := store.PassDate(ctx, w.tx, serial)
		if err != nil {
			return err
		}
		if !ok {
			return notFound("no pass has the number %s; nothing was stored", passnumber.Number(serial))
		}
		done, err := store.ReturnPass(ctx, w.tx, serial, w.journal.ID)
		if err == nil && !done {
			err = conflict("pass %s had come back already", passnumber.Number(serial))
		}
		out = Receipt{Seq: w.journal.ID, Words: "Pass " + passnumber.Number(serial) + " is back", IDs: []int64{serial}}
		return err
	})
	return out, err
}

// passOf returns a movement's pass as it was known; nil for none.
func (x *Day) passOf(movement int64, known day.Instant) *store.Pass {
	for i := range x.passes {
		if x.passes[i].MovementID == movement && x.passes[i].Known <= known {
			return &x.passes[i]
		}
	}
	return nil
}

// passesOut returns the passes that had not come back by a moment, oldest first.
func (x *Day) passesOut(m Moment) []store.Pass {
	var out []store.Pass
	for _, p := range x.passes {
		mv := x.movement(p.MovementID)
		undone := mv == nil || (mv.UndoneAt != nil && *mv.UndoneAt <= m.Known)
		if p.Known <= m.Known && !returnedBy(p, m.Known) && !undone {
			out = append(out, p)
		}
	}
	return out
}

func returnedBy(p store.Pass, known day.Instant) bool {
	return p.ReturnedAt != nil && *p.ReturnedAt <= known
}

func (x *Day) movement(id int64) *store.Movement {
	for i := range x.movements {
		if x.movements[i].ID == id {
			return &x.movements[i]
		}
	}
	return nil
}

func (v view) passView(x *Day, p store.Pass, m Moment) (PassView, error) {
	mv := x.movement(p.MovementID)
	if mv == nil {
		return PassView{}, notFound("that pass belongs to no movement")
	}
	s, err := v.school.Student(mv.StudentID)
	if err != nil {
		return PassView{}, err
	}
	out := PassView{ID: p.ID, Number: passnumber.Number(p.ID), Code: passnumber.Code(p.ID), School: v.settings.Name, Student: v.ref(s, x.Date), Kind: mv.Kind,
		Date: x.Date.String(), Day: x.Date.Words(), At: mv.Minute.String(), Reason: mv.Reason, Note: mv.Note, Returns: minuteText(orMissing(mv.Returns)),
		Collector: mv.Collector, Made: instantWords(p.Known, x.Date) + by(p.By), Place: placeOf(v.position(x, s.ID, m)), Lessons: v.passLessons(x, s.ID, mv.Minute)}
	out.State, out.Words = passState(p, *mv, x.Date, m, v.o.clock.Now())
	return out, nil
}

// passState says what a pass is worth.
func passState(p store.Pass, mv store.Movement, d day.Date, m Moment, now day.Instant) (state, words string) {
	switch {
	case mv.UndoneAt != nil && *mv.UndoneAt <= m.Known:
		return "taken back", "The desk took this back: the pass is not good."
	case returnedBy(p, m.Known):
		return "back", "This pass came back at " + instantWords(*p.ReturnedAt, d) + "."
	case d != now.Date():
		return "another day", "This pass is of " + d.Words() + ", not of today."
	default:
		return "good", "This pass is good today."
	}
}

// passLessons lists the student's slots that end after a minute.
func (v view) passLessons(x *Day, student int64, after day.Minute) []PassLesson {
	out := []PassLesson{}
	for _, r := range x.Registers {
		if r.Slot.End <= after {
			continue
		}
		for _, s := range r.Roll {
			if s.ID == student {
				out = append(out, PassLesson{Slot: r.Slot.Name, Words: r.Slot.Words(), At: r.Slot.Start.String(), Class: r.Class.Title, Teacher: v.takersWords(x, r.Class.ID, r.Slot.Name), Room: r.Meeting.Room})
			}
		}
	}
	slices.SortStableFunc(out, func(a, b PassLesson) int { return strings.Compare(a.At, b.At) })
	return out
}
