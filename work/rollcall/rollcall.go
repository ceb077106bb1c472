package rollcall

import (
	"context"
	"fmt"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/rollcall"
	"meldung/store"
	"meldung/work"
)

// Start says that everyone is to be found.
type Start struct {
	Token string `json:"token" minLength:"8" maxLength:"64" doc:"Given where it was begun: a repeat begins no other"`
	Kind  string `json:"kind" enum:"drill,real"`
	Ago   int    `json:"ago,omitempty" minimum:"0" maximum:"86400" doc:"Seconds since it was begun, where the line was down"`
}

// Begun says which roll call runs.
type Begun struct {
	ID   ids.RollCall `json:"id"`
	Text string       `json:"text"`
}

// moment is a minute and its second.
type moment struct {
	at     day.Instant
	second int
}

// ago returns the moment so many seconds ago, as the office's clock goes.
func ago(o *work.Office, tx *work.Tx, passed int) moment {
	seconds := int64(tx.Now)*60 + (o.Unix()%60+60)%60 - int64(passed)
	return moment{day.Instant(seconds / 60), int(seconds % 60)}
}

// Begin begins a roll call with the list as it is at this minute. Where one runs, or ran when this
// one was begun without a line, that is the one: there are never two of the same fire.
func Begin(ctx context.Context, o *work.Office, p work.Person, key string, s Start) (Begun, error) {
	var out Begun
	err := o.WriteToday(ctx, work.Job{By: p, Key: key, Needs: work.MayStartRollCall, Kind: "roll call", In: s, Out: &out}, func(tx *work.Tx, v work.Snapshot, x *work.Day) error {
		began := ago(o, tx, s.Ago)
		if began.at.Date() != x.Date {
			return work.Wrongf("that was begun on another day; nothing was saved")
		}
		there, err := sameAs(ctx, v, s, began.at)
		if err != nil {
			return err
		}
		if there != nil {
			out = Begun{there.ID, fmt.Sprintf("%s since %s%s", there.Kind, there.Minute, work.By(there.By))}
			if s.Kind == Real && there.Kind == Drill && there.EndedAt == nil {
				out.Text = "the drill is real now"
				return store.RollCallIsReal(ctx, tx.Tx, there.ID)
			}
			tx.Untold = true
			return nil
		}
		r := store.RollCall{Date: x.Date, Minute: began.at.Minute(), Second: began.second, Kind: s.Kind, Token: s.Token, Origin: tx.Origin()}
		if r.ID, err = store.AddRollCall(ctx, tx.Tx, r); err != nil {
			return err
		}
		people := People(v, x, tx.Moment())
		rows := make([]store.RollPerson, len(people))
		for i, one := range people {
			rows[i] = row(r.ID, one, tx.Entry)
		}
		out = Begun{r.ID, fmt.Sprintf("roll call, %s: %d to find", s.Kind, len(rows))}
		return store.AddRollPersons(ctx, tx.Tx, rows)
	})
	return out, err
}

// The kinds of roll call.
const (
	Drill = "drill"
	Real  = "real"
)

// sameAs returns the roll call that one begun at an instant is: itself, one that runs, or one of its
// kind that ran then. Begun in the minute in which another ended it is a new one: rather one alarm
// too many than one that is swallowed.
func sameAs(ctx context.Context, v work.Snapshot, s Start, at day.Instant) (*store.RollCall, error) {
	if r, err := store.RollCallBegunWith(ctx, v.Store(), s.Token); r != nil || err != nil {
		return r, err
	}
	if r, err := store.RollCallRunning(ctx, v.Store()); r != nil || err != nil {
		return r, err
	}
	today, err := store.RollCallsBetween(ctx, v.Store(), at.Date(), at.Date())
	for _, r := range today {
		if r.Kind == s.Kind && r.Began() <= at && at < *r.EndedAt {
			return &r, err
		}
	}
	return nil, err
}

func row(id ids.RollCall, p Person, entry ids.Entry) store.RollPerson {
	return store.RollPerson{RollCallID: id, Kind: string(p.Kind), Person: p.ID, Why: string(p.Why), Point: p.Point, Place: p.Place, Seen: p.Seen, Journal: entry}
}

// NewTick is that somebody met a person, knows that they are elsewhere, or takes that back.
type NewTick struct {
	Token  string `json:"token" minLength:"8" maxLength:"64" doc:"Given where it was made: a repeat stores nothing"`
	Kind   string `json:"kind" enum:"student,staff,visitor"`
	Person int64  `json:"person,omitempty" doc:"Id of a student, of a member of staff, of a visitor who signed in; 0 for somebody who did not"`
	Name   string `json:"name,omitempty" maxLength:"100" doc:"What somebody is called who did not sign in"`
	Here   bool   `json:"here" doc:"Met; else known to be elsewhere"`
	Place  string `json:"place,omitempty" maxLength:"100" doc:"Where they were met, or how it is known where they are"`
	How    string `json:"how" enum:"list,name,card"`
	Ago    int    `json:"ago" minimum:"0" maximum:"86400" doc:"Seconds since it was made"`
	Undo   bool   `json:"undo,omitempty" doc:"The tick with this token is taken back"`
}

// Ticks are what one phone has to tell.
type Ticks struct {
	Ticks []NewTick `json:"ticks" minItems:"1" maxItems:"500"`
}

// Refused is a tick that was not stored, and why.
type Refused struct {
	Token string `json:"token"`
	Text  string `json:"text"`
}

// Taken says what became of ticks: those that are not named were stored, now or before.
type Taken struct {
	Seq     ids.Entry `json:"seq"`
	Refused []Refused `json:"refused"`
}

// AddTicks stores who was met. Each is stored once, however often it comes; what can't be stored is
// named and holds nothing else up. What was ticked before a roll call ended is taken after it too.
func AddTicks(ctx context.Context, o *work.Office, p work.Person, key string, id ids.RollCall, list Ticks) (Taken, error) {
	var out Taken
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayTick, Kind: "ticks", In: list, Of: id, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		out = Taken{Seq: tx.Entry, Refused: []Refused{}}
		r, err := store.RollCallWith(ctx, v.Store(), id)
		if err != nil {
			return err
		}
		if r == nil {
			return work.NotFoundf("there is no such roll call; nothing was saved")
		}
		w, err := newTicking(ctx, o, tx, v, *r)
		if err != nil {
			return err
		}
		for _, t := range list.Ticks {
			refused, err := w.store(ctx, t)
			if err != nil {
				return err
			}
			if refused != "" {
				out.Refused = append(out.Refused, Refused{t.Token, refused})
			}
		}
		return w.close(ctx)
	})
	return out, err
}

// ticking is a write of ticks under way.
type ticking struct {
	office *work.Office
	tx     *work.Tx
	v      work.Snapshot
	day    *work.Day
	roll   store.RollCall
}

func newTicking(ctx context.Context, o *work.Office, tx *work.Tx, v work.Snapshot, r store.RollCall) (*ticking, error) {
	w := &ticking{office: o, tx: tx, roll: r}
	var err error
	if w.v, err = v.At(ctx, r.Date); err != nil {
		return nil, err
	}
	w.day, err = w.v.Day(ctx, r.Date)
	return w, err
}

// KeyOf names a person of a list.
func KeyOf(p store.RollPerson) rollcall.Key {
	return rollcall.Key{Kind: rollcall.Kind(p.Kind), ID: p.Person}
}

// store stores one tick, and says why not where it can't.
func (w *ticking) store(ctx context.Context, t NewTick) (refused string, err error) {
	made := ago(w.office, w.tx, t.Ago)
	if made.at < w.roll.Began() {
		made = moment{w.roll.Began(), w.roll.Second}
	}
	if ended := w.roll.EndedAt; ended != nil && made.at > *ended {
		return "the roll call ended at " + ended.Minute().String(), nil
	}
	before, err := store.RollTickWith(ctx, w.tx.Tx, w.roll.ID, t.Token)
	switch {
	case err != nil:
		return "", err
	case t.Undo && before == nil:
		return "that tick is not known here", nil
	case t.Undo:
		_, err := store.UndoRollTick(ctx, w.tx.Tx, before.ID, w.tx.Entry)
		return "", err
	case before != nil:
		return "", nil
	case !t.Here && strings.TrimSpace(t.Place) == "":
		return "say how it is known where they are", nil
	}
	person, refused, err := w.person(ctx, t)
	if err != nil || refused != "" {
		return refused, err
	}
	row := store.RollTick{RollCallID: w.roll.ID, Token: t.Token, Kind: string(person.Kind), Person: person.ID, At: made.at, Second: made.second, Here: t.Here, Place: strings.TrimSpace(t.Place), How: t.How, Origin: w.tx.Origin()}
	_, err = store.AddRollTick(ctx, w.tx.Tx, row)
	return "", err
}

// person returns who a tick is of, and puts them on the list where they are not.
func (w *ticking) person(ctx context.Context, t NewTick) (k rollcall.Key, refused string, err error) {
	k = rollcall.Key{Kind: rollcall.Kind(t.Kind), ID: t.Person}
	if there, err := store.OnRollCall(ctx, w.tx.Tx, w.roll.ID, t.Kind, t.Person); there || err != nil {
		return k, "", err
	}
	p := Person{Key: k, Why: rollcall.Found}
	switch k.Kind {
	case rollcall.Student:
		s, err := w.v.Student(ids.Student(k.ID))
		if err != nil || w.day.Evidence[s.ID] == nil {
			return k, "nobody on the roll is meant", nil
		}
		p.Point, p.Seen = pointOf(w.v, w.day, s), work.Whereabouts(w.v.Position(w.day, s.ID, w.tx.MomentOf(w.roll.Date)))
	case rollcall.Staff:
		if s, ok := w.v.School.StaffMember(ids.Staff(k.ID)); !ok || s.Ended {
			return k, "nobody of the staff is meant", nil
		}
		p.Point = pointNamed(w.day, Staff)
	default:
		name := strings.TrimSpace(t.Name)
		if k.ID != 0 || name == "" {
			return k, "nobody who signed in is meant: give a name", nil
		}
		visit, err := store.AddVisit(ctx, w.tx.Tx, store.Visit{Kind: "visitor", Name: name, Firm: "met at the roll call", Date: w.roll.Date, From: w.tx.Now.Minute(), Origin: w.tx.Origin()})
		if err != nil {
			return k, "", err
		}
		k.ID = int64(visit)
		p.Key, p.Point = k, pointNamed(w.day, Visitors)
	}
	return k, "", store.AddRollPersons(ctx, w.tx.Tx, []store.RollPerson{row(w.roll.ID, p, w.tx.Entry)})
}

// close brings what a roll call that is over came to into line with ticks that came after it.
func (w *ticking) close(ctx context.Context) error {
	if w.roll.EndedAt == nil {
		return nil
	}
	end, err := reached(ctx, w.tx, w.roll)
	if err != nil {
		return err
	}
	return store.SetRollCallEnd(ctx, w.tx.Tx, w.roll.ID, end)
}

// CoreTicks returns stored ticks as the core reads them.
func CoreTicks(list []store.RollTick) []rollcall.Tick {
	out := make([]rollcall.Tick, len(list))
	for i, t := range list {
		out[i] = rollcall.Tick{Key: rollcall.Key{Kind: rollcall.Kind(t.Kind), ID: t.Person}, ID: t.Token, At: t.At, Second: t.Second, Here: t.Here, By: t.By, Undone: t.UndoneBy != nil}
	}
	return out
}

// reached returns how a roll call stands, as its end is kept.
func reached(ctx context.Context, tx *work.Tx, r store.RollCall) (store.RollCallEnd, error) {
	end := store.RollCallEnd{Note: r.Note}
	persons, err := store.RollPersons(ctx, tx.Tx, r.ID)
	if err != nil {
		return end, err
	}
	stored, err := store.RollTicks(ctx, tx.Tx, r.ID, 0)
	if err != nil {
		return end, err
	}
	keys, ticks := make([]rollcall.Key, len(persons)), CoreTicks(stored)
	for i, one := range persons {
		keys[i] = KeyOf(one)
	}
	count := rollcall.Counted(keys, ticks)
	end.People, end.Open = count.Of, count.Open
	for percent, to := range map[int]**day.Minutes{50: &end.Half, 90: &end.Most, 100: &end.Whole} {
		if after, ok := rollcall.Reached(r.Began(), keys, ticks, percent); ok {
			*to = &after
		}
	}
	return end, nil
}

// RollCallEnding says how a roll call ended.
type RollCallEnding struct {
	Note string `json:"note,omitempty" maxLength:"500" doc:"What is known of those who were not found; needed where there are any"`
}

// End ends a roll call. Who was not found is not explained by that.
func End(ctx context.Context, o *work.Office, p work.Person, key string, id ids.RollCall, e RollCallEnding) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayEndRollCall, Kind: "roll call ended", In: e, Of: id, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		r, err := store.RollCallWith(ctx, v.Store(), id)
		if err != nil {
			return err
		}
		switch {
		case r == nil:
			return work.NotFoundf("there is no such roll call; nothing was saved")
		case r.EndedAt != nil:
			return work.Conflictf("the roll call was ended at %s%s", r.EndedAt.Minute(), work.By(r.Ender))
		}
		end, err := reached(ctx, tx, *r)
		if err != nil {
			return err
		}
		if end.Note = strings.TrimSpace(e.Note); end.Note == "" && end.Open > 0 {
			return work.Wrongf("%s not found: say what is known of them; the roll call goes on", work.Count(end.Open, "person"))
		}
		if _, err := store.EndRollCall(ctx, tx.Tx, r.ID, end, tx.Entry); err != nil {
			return err
		}
		out = work.ReceiptOf(tx, fmt.Sprintf("roll call ended: %d of %d found", end.People-end.Open, end.People), r.ID)
		return nil
	})
	return out, err
}
