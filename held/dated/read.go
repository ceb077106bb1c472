package dated

import (
	"context"
	"fmt"
	"slices"
	"sort"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/register"
	"meldung/core/whereabouts"
	"meldung/held"
	"meldung/store"
)

// part is what a day has of some tables of the store.
type part struct {
	tables []string
	read   func(ctx context.Context, q store.Queryer) error
}

// parts are what a day is read from, but for its marks and registers.
func (x *Day) parts() []part {
	return []part{
		{[]string{"movement"}, into(&x.Movements, x.Date, store.MovementsOn)},
		{[]string{"roll_tick"}, into(&x.Ticks, x.Date, store.RollTicksOn)},
		{[]string{"visit"}, into(&x.Visits, x.Date, store.VisitsOn)},
		{[]string{"notice"}, into(&x.Notices, x.Date, store.NoticesOn)},
		{store.ActivityTables, into(&x.Activities, x.Date, store.ActivitiesOn)},
		{[]string{"call", "call_student"}, into(&x.Calls, x.Date, store.CallsOn)},
		{[]string{"search"}, into(&x.Searches, x.Date, store.SearchesOn)},
		{[]string{"settled"}, into(&x.Settled, x.Date, store.SettledOn)},
		{[]string{"settling"}, into(&x.Settlings, x.Date, store.SettlingsOn)},
		{[]string{"message", "message_student"}, into(&x.Messages, x.Date, store.MessagesOn)},
		{[]string{"message_event"}, x.readMessageEvents},
		{[]string{"closing"}, into(&x.Closings, x.Date, store.ClosingsOn)},
		{[]string{"stand_in"}, into(&x.StandIns, x.Date, store.StandInsOn)},
		{[]string{"hold", "hold_student"}, into(&x.Holds, x.Date, store.HoldsOn)},
		{[]string{"fetch"}, into(&x.Fetches, x.Date, store.FetchesOn)},
		{[]string{"pass"}, into(&x.Passes, x.Date, store.PassesOn)},
		{[]string{"answer_read"}, into(&x.AnswersRead, x.Date, store.AnswersReadOn)},
	}
}

func into[T any](to *[]T, d day.Date, read func(context.Context, store.Queryer, day.Date) ([]T, error)) func(context.Context, store.Queryer) error {
	return func(ctx context.Context, q store.Queryer) (err error) {
		*to, err = read(ctx, q, d)
		return err
	}
}

func (x *Day) readMessageEvents(ctx context.Context, q store.Queryer) error {
	events, err := store.MessageEventsOn(ctx, q, x.Date)
	x.messageEvents = map[ids.Message][]store.MessageEvent{}
	for _, e := range events {
		x.messageEvents[e.MessageID] = append(x.messageEvents[e.MessageID], e)
	}
	return err
}

// Read reads what is known of a date, of the school as it held then.
func Read(ctx context.Context, q store.Queryer, school *held.School, d day.Date) (*Day, error) {
	return read(ctx, q, school, d, store.MarksOn)
}

// ReadAbout is Read with the marks of some students alone.
func ReadAbout(ctx context.Context, q store.Queryer, school *held.School, d day.Date, students []ids.Student) (*Day, error) {
	return read(ctx, q, school, d, func(ctx context.Context, q store.Queryer, d day.Date) ([]store.Mark, error) {
		return store.MarksAbout(ctx, q, d, students)
	})
}

func read(ctx context.Context, q store.Queryer, school *held.School, d day.Date, marksOf func(context.Context, store.Queryer, day.Date) ([]store.Mark, error)) (*Day, error) {
	x := &Day{Date: d, school: school, Evidence: map[ids.Student]*whereabouts.Evidence{}, registers: map[registerKey]*Register{}, versions: map[markKey][]store.Mark{}}
	for _, s := range school.Sections() {
		settings := s.SettingsOn(d)
		on := &SectionDay{ID: s.ID, Name: s.Name, Codes: settings.Codes, Settings: settings.Settings}
		on.School, on.Index, on.Open = s.SchoolDay(d)
		x.sections = append(x.sections, on)
	}
	x.Sections = x.sections
	var marks []store.Mark
	var sent []store.Register
	for _, p := range append(x.parts(), part{read: into(&marks, d, marksOf)}, part{read: into(&sent, d, store.RegistersOn)}) {
		if err := p.read(ctx, q); err != nil {
			return nil, fmt.Errorf("reading %s: %w", d, err)
		}
	}
	for _, s := range school.Students {
		if s.EnrolledOn(d) {
			x.Roll = append(x.Roll, s)
			x.Evidence[s.ID] = &whereabouts.Evidence{}
		}
	}
	held.SortStudents(x.Roll)
	x.addRegisters(marks, sent)
	x.addMarks(marks)
	x.addMovements(func(ids.Student) bool { return true })
	x.addNotices()
	x.addActivities()
	x.addWorries()
	x.addSettlings()
	return x, nil
}

func (x *Day) addRegisters(marks []store.Mark, sent []store.Register) {
	if !x.Open() {
		return
	}
	for i, s := range x.school.Sections() {
		on := x.Sections[i]
		if !on.Open {
			continue
		}
		for _, m := range s.MeetingsOn(on.School) {
			roll := x.school.Roll(m.ClassID, m.Slot, x.Date)
			if len(roll) == 0 {
				continue // nobody is due: there is no register to take
			}
			slot, _ := on.Slot(m.Slot)
			r := &Register{Meeting: m, Class: x.school.ClassOf(m.ClassID), Slot: slot, Roll: roll}
			x.registers[registerKey{m.ClassID, m.Slot}] = r
			x.Registers = append(x.Registers, r)
		}
	}
	x.addSent(marks, sent)
	for _, r := range x.Registers {
		var known *whereabouts.Known
		if r.Sent != nil {
			known = &whereabouts.Known{At: r.Sent.Known, Seq: r.Sent.Journal}
		}
		for _, s := range r.Roll {
			e := x.Evidence[s.ID]
			if e == nil {
				continue // was taken off the roll since
			}
			e.Due = append(e.Due, whereabouts.DueSlot{Slot: r.Slot, Class: r.Class.Title, Sent: known})
		}
	}
}

// addSent says which registers are in. Each keeps the times that its slot had and the
// students whom it marked, whatever was said of that day afterwards; who is due in it by now
// stands on it too, unless another register of the slot has marked them.
func (x *Day) addSent(marks []store.Mark, sent []store.Register) {
	taken := map[markKey]ids.Class{} // by which register, of those that are in
	for i := range sent {
		k := registerKey{sent[i].ClassID, sent[i].Slot}
		r := x.registers[k]
		if r == nil {
			r = &Register{Meeting: store.Meeting{ClassID: k.class, Slot: k.slot}, Class: x.school.ClassOf(k.class)}
			x.registers[k] = r
			x.Registers = append(x.Registers, r)
		}
		r.Sent = &sent[i]
		if slot, err := held.SlotOf(k.slot, sent[i].Start, sent[i].End, sent[i].Kind); err == nil && slot.End.After(slot.Start) {
			r.Slot = slot
		}
	}
	for _, m := range marks {
		if r := x.Register(m.ClassID, m.Slot); r != nil && r.Sent != nil {
			taken[markKey{m.StudentID, m.Slot}] = m.ClassID
			if !slices.ContainsFunc(r.Roll, func(s store.Student) bool { return s.ID == m.StudentID }) {
				r.Roll = append(r.Roll, x.school.StudentOf(m.StudentID))
				held.SortStudents(r.Roll)
			}
		}
	}
	x.Registers = slices.DeleteFunc(x.Registers, func(r *Register) bool {
		r.Roll = slices.DeleteFunc(r.Roll, func(s store.Student) bool {
			class, marked := taken[markKey{s.ID, r.Slot.Name}]
			return marked && class != r.Class.ID
		})
		return len(r.Roll) == 0 && r.Sent == nil
	})
	sort.SliceStable(x.Registers, func(a, b int) bool { return x.Registers[a].Slot.Start.Before(x.Registers[b].Slot.Start) })
}

func (x *Day) addMarks(marks []store.Mark) {
	for _, m := range marks {
		x.addMark(m)
	}
}

// addMark adds a version of a mark, behind those of its slot and of the slots before it by name.
func (x *Day) addMark(m store.Mark) {
	k := markKey{m.StudentID, m.Slot}
	x.versions[k] = append(x.versions[k], m)
	e := x.Evidence[m.StudentID]
	slot, ok := x.slotOf(m)
	code, known := x.OfClass(m.ClassID).Codes.Find(m.Code)
	if e == nil || !ok || !known {
		return
	}
	i := len(e.Marks)
	for i > 0 && e.Marks[i-1].Slot.Name > m.Slot {
		i--
	}
	e.Marks = slices.Insert(e.Marks, i, whereabouts.Mark{Slot: slot, Code: code, From: m.AwayFrom, To: m.AwayTo,
		Made: m.Made, By: handOf(m.Source), Known: knownOf(m.Origin), Version: m.Version})
}

// handOf is by what the presence of a mark from a source was noted. A source that is none of
// the program's own words is a person's.
func handOf(source string) whereabouts.Hand {
	switch source {
	case register.SourceRest:
		return whereabouts.ByRest
	case register.SourceCard:
		return whereabouts.ByCard
	case register.SourceCheckIn:
		return whereabouts.ByPhone
	case register.SourceDesk, register.SourceHome, register.SourceActivity, register.SourceCall:
		return whereabouts.ByRecord
	default:
		return whereabouts.BySight
	}
}

// slotOf returns the slot that a mark is of: its register's, or the day's.
func (x *Day) slotOf(m store.Mark) (day.Slot, bool) {
	if r := x.Register(m.ClassID, m.Slot); r != nil {
		return r.Slot, true
	}
	return x.Of(m.StudentID).Slot(m.Slot)
}

// kinds are what the stored kinds of movement mean.
var kinds = map[string]whereabouts.MovementKind{Arrived: whereabouts.Arrived, Departed: whereabouts.Departed, Seen: whereabouts.Seen}

// RollCall is the reason of having been seen at a roll call.
const RollCall = "roll call"

// addMovements adds the movements of the students of whom of is true, who have none so far, and
// that they were met at roll calls.
func (x *Day) addMovements(of func(ids.Student) bool) {
	for _, m := range x.Movements {
		if e := x.Evidence[m.StudentID]; e != nil && of(m.StudentID) {
			by := whereabouts.BySight
			if m.StationID != nil {
				by = whereabouts.ByStation
			}
			e.Movements = append(e.Movements, whereabouts.Movement{ID: m.ID, Kind: kinds[m.Kind], At: m.Minute, Return: m.Returns, Reason: m.Reason, By: by,
				Known: knownOf(m.Origin), Undone: undone(m.UndoneBy, m.UndoneAt)})
		}
	}
	for _, t := range x.Ticks {
		s := ids.Student(t.Person)
		if e := x.Evidence[s]; e != nil && t.Here && of(s) {
			e.Movements = append(e.Movements, whereabouts.Movement{Kind: whereabouts.Seen, At: t.At.Minute(), Reason: RollCall, By: whereabouts.BySight,
				Known: knownOf(t.Origin), Undone: undone(t.UndoneBy, t.UndoneAt)})
		}
	}
}

func (x *Day) addNotices() {
	for _, n := range x.Notices {
		said, ok := SpanOf(n).On(x.Date)
		if e := x.Evidence[n.StudentID]; e != nil && ok {
			said.ID, said.Known, said.Withdrawn = n.ID, knownOf(n.Origin), undone(n.WithdrawnBy, n.WithdrawnAt)
			said.OnTheWay = said.Returns && n.Reason == held.OnTheWay
			e.Notices = append(e.Notices, said)
		}
	}
}

// addActivities adds what is planned, for those who are on it: each of its times for as long as it was
// known to hold, with what its leader says of them and that they have come back.
func (x *Day) addActivities() {
	for _, a := range x.Activities {
		for _, m := range a.Members {
			e := x.Evidence[m.StudentID]
			if e == nil {
				continue
			}
			for i := range a.Times {
				if one, ok := x.activity(a, m, i); ok {
					e.Activities = append(e.Activities, one)
				}
			}
		}
	}
}

// activity returns an activity as evidence about one of its members, by one of its times; ok is false
// where another time was known before they came to it.
func (x *Day) activity(a store.Activity, m store.ActivityMember, i int) (out whereabouts.Activity, ok bool) {
	t := a.Times[i]
	out = whereabouts.Activity{ID: a.ID, From: t.From, To: t.To, OnSite: a.OnSite, Returns: a.Returns, Title: a.Title, Known: knownOf(t.Origin)}
	if joined := knownOf(m.Origin); joined.After(out.Known) {
		out.Known = joined
	}
	for _, ended := range []*whereabouts.Known{undone(a.EndedBy, a.EndedAt), undone(m.EndedBy, m.EndedAt)} {
		if ended != nil && (out.Ended == nil || out.Ended.After(*ended)) {
			out.Ended = ended
		}
	}
	if i+1 < len(a.Times) {
		next := knownOf(a.Times[i+1].Origin)
		if !next.After(out.Known) {
			return out, false
		}
		if out.Ended == nil || out.Ended.After(next) {
			out.Ended = &next
		}
	}
	if x.Date > a.Date {
		out.From = day.Midnight
	}
	if x.Date < a.Last() {
		out.To, out.Returns = day.EndOfDay, false
	}
	for _, mark := range a.Marks {
		if mark.StudentID != m.StudentID || mark.Date > x.Date || mark.Journal < m.Journal {
			continue
		}
		said := whereabouts.Told{At: mark.Minute, Here: mark.Here, Known: knownOf(mark.Origin)}
		if mark.Date < x.Date {
			said.At = day.Midnight
		}
		out.Said = append(out.Said, said)
	}
	for _, b := range a.Backs {
		switch {
		case b.Date > x.Date:
		case b.Date == x.Date:
			out.Backs = append(out.Backs, whereabouts.Back{At: b.Minute, Home: b.Home, Known: knownOf(b.Origin), Undone: undone(b.UndoneBy, b.UndoneAt)})
		case b.UndoneBy == nil:
			return out, false // it was over by then
		}
	}
	return out, true
}

// addWorries adds that a home which was reached believes its child to be at school. What it says
// of an earlier date holds for the whole of that.
func (x *Day) addWorries() {
	for _, c := range x.Calls {
		e := x.Evidence[c.StudentID]
		if e == nil || c.Said != held.BelievesIn {
			continue
		}
		at := c.Minute
		if c.About != nil {
			at = LastMinute
		}
		e.Worries = append(e.Worries, whereabouts.Worry{Call: c.ID, At: at, Known: knownOf(c.Origin), Undone: undone(c.UndoneBy, c.UndoneAt)})
	}
}

// addSettlings adds where somebody knows students to be, who said so of one or of a list in a
// roll call.
func (x *Day) addSettlings() {
	for _, t := range x.Ticks {
		if e := x.Evidence[ids.Student(t.Person)]; e != nil && !t.Here {
			e.Settlings = append(e.Settlings, whereabouts.Settling{At: t.At.Minute(), Gone: true, How: t.Place, Known: knownOf(t.Origin), Undone: undone(t.UndoneBy, t.UndoneAt)})
		}
	}
	for _, s := range x.Settlings {
		if s.StudentID == nil {
			continue
		}
		if e := x.Evidence[*s.StudentID]; e != nil {
			e.Settlings = append(e.Settlings, whereabouts.Settling{ID: s.ID, At: s.Minute, How: s.How, Known: knownOf(s.Origin), Undone: undone(s.UndoneBy, s.UndoneAt)})
		}
	}
}

func knownOf(o store.Origin) whereabouts.Known {
	return whereabouts.Known{At: o.Known, Seq: o.Journal}
}

func undone(by *ids.Entry, at *day.Instant) *whereabouts.Known {
	if by == nil || at == nil {
		return nil
	}
	return &whereabouts.Known{At: *at, Seq: *by}
}
