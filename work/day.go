package work

import (
	"context"
	"fmt"

	"meldung/core/day"
	"meldung/core/register"
	"meldung/core/whereabouts"
	"meldung/store"
)

// registry is one register of a day: a class in a slot.
type registry struct {
	Meeting store.Meeting
	Class   store.Class
	Slot    day.Slot
	Roll    []store.Student // those due, by name; there is one at least
	Sent    *store.Register
}

type registryKey struct {
	class int64
	slot  string
}

// Day is everything known about one date, whenever it became known.
type Day struct {
	Date      day.Date
	School    day.SchoolDay
	Index     int // of the open date
	Open      bool
	Registers []*registry
	Evidence  map[int64]*whereabouts.Evidence // by student on the roll
	Roll      []store.Student                 // by name

	byKey       map[registryKey]*registry
	marks       []store.Mark
	versions    map[markKey][]store.Mark
	movements   []store.Movement
	notices     []store.Notice
	activities  []store.Activity
	calls       []store.Call
	searches    []store.Search
	settled     []store.Settled
	messages    []store.Message
	closings    []store.Closing
	standIns    []store.StandIn
	holds       []store.Hold
	fetches     []store.Fetch
	passes      []store.Pass
	answersRead []store.AnswerRead

	answeredBefore map[int64]int64 // by student, the contact who answered in the last call before the date

	messageEvents map[int64][]store.MessageEvent // by message
}

type markKey struct {
	student int64
	slot    string
}

// day returns a date's evidence, from memory when nothing has been written since.
// The caller holds o.mu for reading.
func (v view) day(ctx context.Context, d day.Date) (*Day, error) {
	v.o.cacheMu.Lock()
	defer v.o.cacheMu.Unlock()
	if cached := v.o.days[d]; cached != nil {
		return cached, nil
	}
	made, err := v.readDay(ctx, d)
	if err == nil {
		if len(v.o.days) > 8 {
			clear(v.o.days)
		}
		v.o.days[d] = made
	}
	return made, err
}

func (v view) readDay(ctx context.Context, d day.Date) (*Day, error) {
	x := &Day{Date: d, Evidence: map[int64]*whereabouts.Evidence{}, byKey: map[registryKey]*registry{}, versions: map[markKey][]store.Mark{}}
	x.School, x.Index, x.Open = v.school.SchoolDay(d)
	q := v.o.store.Read()
	var err error
	for _, read := range []func() error{
		func() (err error) { x.marks, err = store.MarksOn(ctx, q, d); return },
		func() (err error) { x.movements, err = store.MovementsOn(ctx, q, d); return },
		func() (err error) { x.notices, err = store.NoticesOn(ctx, q, d); return },
		func() (err error) { x.activities, err = store.ActivitiesOn(ctx, q, d); return },
		func() (err error) { x.calls, err = store.CallsOn(ctx, q, d); return },
		func() (err error) { x.searches, err = store.SearchesOn(ctx, q, d); return },
		func() (err error) { x.settled, err = store.SettledOn(ctx, q, d); return },
		func() (err error) { x.messages, err = store.MessagesOn(ctx, q, d); return },
		func() (err error) { x.closings, err = store.ClosingsOn(ctx, q, d); return },
		func() (err error) { x.standIns, err = store.StandInsOn(ctx, q, d); return },
		func() (err error) { x.holds, err = store.HoldsOn(ctx, q, d); return },
		func() (err error) { x.fetches, err = store.FetchesOn(ctx, q, d); return },
		func() (err error) { x.passes, err = store.PassesOn(ctx, q, d); return },
		func() (err error) { x.answersRead, err = store.AnswersReadOn(ctx, q, d); return },
		func() (err error) { x.answeredBefore, err = store.AnsweredBefore(ctx, q, d); return },
	} {
		if err = read(); err != nil {
			return nil, fmt.Errorf("reading %s: %w", d, err)
		}
	}
	events, err := store.MessageEventsOn(ctx, q, d)
	if err != nil {
		return nil, err
	}
	x.messageEvents = map[int64][]store.MessageEvent{}
	for _, e := range events {
		x.messageEvents[e.MessageID] = append(x.messageEvents[e.MessageID], e)
	}
	sent, err := store.RegistersOn(ctx, q, d)
	if err != nil {
		return nil, err
	}
	for _, s := range v.school.Students {
		if s.EnrolledOn(d) {
			x.Roll = append(x.Roll, s)
			x.Evidence[s.ID] = &whereabouts.Evidence{}
		}
	}
	sortStudents(x.Roll)
	v.addRegisters(x, sent)
	v.addEvidence(x)
	return x, nil
}

func (v view) addRegisters(x *Day, sent []store.Register) {
	if !x.Open {
		return
	}
	for _, m := range v.school.Meetings(x.School) {
		roll := v.school.Roll(m.ClassID, m.Slot, x.Date)
		if len(roll) == 0 {
			continue // nobody is due: there is no register to take
		}
		pos, _ := x.School.Pattern.Position(m.Slot)
		r := &registry{Meeting: m, Class: v.school.Classes[m.ClassID], Slot: x.School.Pattern.Slots[pos], Roll: roll}
		x.byKey[registryKey{m.ClassID, m.Slot}] = r
		x.Registers = append(x.Registers, r)
	}
	for i := range sent {
		if r := x.byKey[registryKey{sent[i].ClassID, sent[i].Slot}]; r != nil {
			r.Sent = &sent[i]
		}
	}
	for _, r := range x.Registers {
		var known *whereabouts.Known
		if r.Sent != nil {
			known = &whereabouts.Known{At: r.Sent.Known, Seq: r.Sent.Journal}
		}
		for _, s := range r.Roll {
			e := x.Evidence[s.ID]
			e.Due = append(e.Due, whereabouts.DueSlot{Slot: r.Slot, Class: r.Class.Title, Sent: known})
		}
	}
}

func knownOf(o store.Origin) whereabouts.Known {
	return whereabouts.Known{At: o.Known, Seq: o.Journal}
}

func undone(by *int64, at *day.Instant) *whereabouts.Known {
	if by == nil || at == nil {
		return nil
	}
	return &whereabouts.Known{At: *at, Seq: *by}
}

func (v view) addEvidence(x *Day) {
	for _, m := range x.marks {
		x.versions[markKey{m.StudentID, m.Slot}] = append(x.versions[markKey{m.StudentID, m.Slot}], m)
		e := x.Evidence[m.StudentID]
		pos, ok := 0, false
		if x.Open {
			pos, ok = x.School.Pattern.Position(m.Slot)
		}
		code, known := v.codes.Find(m.Code)
		if e == nil || !ok || !known {
			continue
		}
		e.Marks = append(e.Marks, whereabouts.Mark{Slot: x.School.Pattern.Slots[pos], Code: code, From: orMissing(m.AwayFrom), To: orMissing(m.AwayTo),
			Made: m.Made, Known: knownOf(m.Origin), Version: m.Version})
	}
	for _, m := range x.movements {
		if e := x.Evidence[m.StudentID]; e != nil {
			kind := map[string]whereabouts.MovementKind{"arrived": whereabouts.Arrived, "departed": whereabouts.Departed, "seen": whereabouts.Seen}[m.Kind]
			e.Movements = append(e.Movements, whereabouts.Movement{ID: m.ID, Kind: kind, At: m.Minute, Return: orMissing(m.Returns), Reason: m.Reason,
				Known: knownOf(m.Origin), Undone: undone(m.UndoneBy, m.UndoneAt)})
		}
	}
	for _, n := range x.notices {
		if e := x.Evidence[n.StudentID]; e != nil {
			w := whereabouts.Notice{ID: n.ID, From: 0, To: day.EndOfDay, Reason: n.Reason, Known: knownOf(n.Origin), Withdrawn: undone(n.WithdrawnBy, n.WithdrawnAt)}
			if n.FromDate == x.Date {
				w.From = n.FromMinute
			}
			if n.ToDate == x.Date {
				w.To, w.Returns = n.ToMinute, n.Returns
			}
			e.Notices = append(e.Notices, w)
		}
	}
	for _, a := range x.activities {
		for _, s := range a.Students {
			if e := x.Evidence[s]; e != nil {
				e.Activities = append(e.Activities, whereabouts.Activity{ID: a.ID, From: a.From, To: a.To, OnSite: a.OnSite, Title: a.Title,
					Known: knownOf(a.Origin), Ended: undone(a.EndedBy, a.EndedAt)})
			}
		}
	}
}

func orMissing(m *day.Minute) day.Minute {
	if m == nil {
		return -1
	}
	return *m
}

func orNil(m day.Minute) *day.Minute {
	if m < 0 {
		return nil
	}
	return &m
}

// Moment is when one looks, and what was known then.
type Moment struct {
	Date   day.Date
	Minute day.Minute
	Known  day.Instant
	Live   bool
}

// moment reads an "as at": empty is now; a date alone is the end of that day, or
// now where that is today. Looking at an earlier minute shows what was known then.
func (o *Office) moment(asAt string) (Moment, error) {
	now := o.clock.Now()
	at := now
	switch {
	case asAt == "":
	case len(asAt) == 10:
		d, err := day.ParseDate(asAt)
		if err != nil {
			return Moment{}, wrong("%v", err)
		}
		at = min(now, day.At(d, 1439))
		if d > now.Date() {
			at = day.At(d, 0)
		}
	default:
		i, err := day.ParseInstant(asAt)
		if err != nil {
			return Moment{}, wrong("%v", err)
		}
		at = i
	}
	if at >= now {
		return Moment{Date: at.Date(), Minute: at.Minute(), Known: now, Live: at == now}, nil
	}
	return Moment{Date: at.Date(), Minute: at.Minute(), Known: at}, nil
}

// lookAt gives f the school and the day of a moment, unchanged while f runs.
func (o *Office) lookAt(ctx context.Context, m Moment, f func(v view, x *Day) error) error {
	return o.look(func(v view) error {
		x, err := v.day(ctx, m.Date)
		if err != nil {
			return err
		}
		return f(v, x)
	})
}

// stateOf returns how a register stands at a moment.
func (r *registry) stateOf(m Moment, within day.Minute) register.State {
	switch {
	case r.sentBy(m):
		return register.Sent
	case m.Known < day.At(m.Date, 0):
		return register.NotDue
	default:
		return register.StateAt(r.Slot, within, nil, m.Minute)
	}
}

func (r *registry) sentBy(m Moment) bool { return r.Sent != nil && r.Sent.Known <= m.Known }
