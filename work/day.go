package work

import (
	"context"
	"fmt"
	"slices"
	"sort"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/policy"
	"meldung/core/whereabouts"
	"meldung/held"
	"meldung/store"
)

// Register is one register of a day: a class in a slot.
type Register struct {
	Meeting store.Meeting
	Class   store.Class
	Slot    day.Slot
	Roll    []store.Student // those due, by name; there is one at least
	Sent    *store.Register // nil while it is out
}

// RegisterScope names a register to those who follow it.
func RegisterScope(d day.Date, class ids.Class, slot string) string {
	return fmt.Sprintf("%s %d %s", d, class, slot)
}

type registerKey struct {
	class ids.Class
	slot  string
}

type markKey struct {
	student ids.Student
	slot    string
}

// SectionDay is a date in one section: its bells, and the codes and settings that hold.
type SectionDay struct {
	ID       ids.Section
	Name     string
	Codes    *policy.CodeSet
	Settings held.Settings
	School   day.SchoolDay
	Index    int // of the open date
	Open     bool
}

// Slot returns a slot of the section's day; ok is false where it has none of this name.
func (s *SectionDay) Slot(name string) (day.Slot, bool) {
	if !s.Open {
		return day.Slot{}, false
	}
	pos, ok := s.School.Pattern.Position(name)
	if !ok {
		return day.Slot{}, false
	}
	return s.School.Pattern.Slots[pos], true
}

// Day is everything known about one date, whenever it became known. It does not change:
// a write has the next who looks read it afresh.
type Day struct {
	Date      day.Date
	Sections  []*SectionDay // those in scope, in their order; there is one at least
	Registers []*Register
	Evidence  map[ids.Student]*whereabouts.Evidence // by student on the roll
	Roll      []store.Student                       // by name

	Movements      []store.Movement
	Notices        []store.Notice
	Activities     []store.Activity
	Calls          []store.Call
	Searches       []store.Search
	Settled        []store.Settled
	Messages       []store.Message
	Closings       []store.Closing
	StandIns       []store.StandIn
	Holds          []store.Hold
	Fetches        []store.Fetch
	Passes         []store.Pass
	AnswersRead    []store.AnswerRead
	AnsweredBefore map[ids.Student]ids.Contact // by student, the contact who answered in the last call before the date

	school        *held.School
	sections      []*SectionDay // every one
	registers     map[registerKey]*Register
	marks         []store.Mark
	versions      map[markKey][]store.Mark
	messageEvents map[ids.Message][]store.MessageEvent // by message
}

// Register returns a class's register in a slot; nil where the class does not meet.
func (x *Day) Register(class ids.Class, slot string) *Register {
	return x.registers[registerKey{class, slot}]
}

// Versions returns every version of a student's mark in a slot, oldest first.
func (x *Day) Versions(student ids.Student, slot string) []store.Mark {
	return x.versions[markKey{student, slot}]
}

// MessageEvents returns what became of a message, oldest first.
func (x *Day) MessageEvents(message ids.Message) []store.MessageEvent {
	return x.messageEvents[message]
}

// SlotLabel names a slot of the day in a sentence: the whole day where it is empty, the
// slot's name where the day lacks it.
func (x *Day) SlotLabel(slot string) string {
	if slot == "" {
		return "the whole day"
	}
	if s, ok := x.SlotNamed(slot); ok {
		return s.Label()
	}
	return slot
}

// Open reports whether any of the sections has school.
func (x *Day) Open() bool {
	return slices.ContainsFunc(x.Sections, func(s *SectionDay) bool { return s.Open })
}

// Of returns the day in the section that a student belongs to.
func (x *Day) Of(student ids.Student) *SectionDay { return x.Section(x.school.SectionOf(student).ID) }

// OfClass returns the day in the section that a class belongs to.
func (x *Day) OfClass(class ids.Class) *SectionDay {
	return x.Section(x.school.SectionOfClass(class).ID)
}

// Section returns the day in the section with this id, or else in the first.
func (x *Day) Section(id ids.Section) *SectionDay {
	for _, s := range x.sections {
		if s.ID == id {
			return s
		}
	}
	return x.sections[0]
}

// SlotsOf returns the slots of a student's day in time order: those of the own section, and
// those in which a register of another has the student.
func (x *Day) SlotsOf(student ids.Student) []day.Slot {
	on := x.Of(student)
	if !on.Open {
		return nil
	}
	out := slices.Clone(on.School.Pattern.Slots)
	if e := x.Evidence[student]; e != nil {
		for _, d := range e.Due {
			if !slices.ContainsFunc(out, func(s day.Slot) bool { return s.Name == d.Slot.Name }) {
				out = append(out, d.Slot)
			}
		}
	}
	slices.SortStableFunc(out, func(a, b day.Slot) int { return a.Start.Compare(b.Start) })
	return out
}

// SlotNamed returns the first slot of this name of any section's day; ok is false where none
// has it.
func (x *Day) SlotNamed(name string) (slot day.Slot, ok bool) {
	for _, s := range x.Sections {
		if slot, ok = s.Slot(name); ok {
			return slot, ok
		}
	}
	return slot, ok
}

// FirstDue returns when the first slot begins in which a student is due.
func (x *Day) FirstDue(student ids.Student) (day.Minute, bool) {
	e := x.Evidence[student]
	if e == nil || len(e.Due) == 0 {
		return day.Minute{}, false
	}
	return e.Due[0].Slot.Start, true
}

// mostDays bounds how many dates are kept in memory.
const mostDays = 8

// Day returns a date's evidence, from memory when nothing has been written since.
func (v Snapshot) Day(ctx context.Context, d day.Date) (*Day, error) {
	o := v.office
	o.cacheMu.Lock()
	defer o.cacheMu.Unlock()
	if cached := o.days[d]; cached != nil {
		return cached, nil
	}
	made, err := v.readDay(ctx, d)
	if err == nil {
		if len(o.days) > mostDays {
			clear(o.days)
		}
		o.days[d] = made
	}
	return made, err
}

func (v Snapshot) readDay(ctx context.Context, d day.Date) (*Day, error) {
	v.On, v.School = d, v.School.Records().On(d)
	x := &Day{Date: d, school: v.School, Evidence: map[ids.Student]*whereabouts.Evidence{}, registers: map[registerKey]*Register{}, versions: map[markKey][]store.Mark{}}
	for _, s := range v.School.Sections() {
		settings := s.SettingsOn(d)
		on := &SectionDay{ID: s.ID, Name: s.Name, Codes: settings.Codes, Settings: settings.Settings}
		on.School, on.Index, on.Open = s.SchoolDay(d)
		x.sections = append(x.sections, on)
	}
	x.Sections = x.sections
	q := v.Store()
	var events []store.MessageEvent
	var sent []store.Register
	for _, read := range []func() error{
		func() (err error) { x.marks, err = store.MarksOn(ctx, q, d); return },
		func() (err error) { x.Movements, err = store.MovementsOn(ctx, q, d); return },
		func() (err error) { x.Notices, err = store.NoticesOn(ctx, q, d); return },
		func() (err error) { x.Activities, err = store.ActivitiesOn(ctx, q, d); return },
		func() (err error) { x.Calls, err = store.CallsOn(ctx, q, d); return },
		func() (err error) { x.Searches, err = store.SearchesOn(ctx, q, d); return },
		func() (err error) { x.Settled, err = store.SettledOn(ctx, q, d); return },
		func() (err error) { x.Messages, err = store.MessagesOn(ctx, q, d); return },
		func() (err error) { events, err = store.MessageEventsOn(ctx, q, d); return },
		func() (err error) { x.Closings, err = store.ClosingsOn(ctx, q, d); return },
		func() (err error) { x.StandIns, err = store.StandInsOn(ctx, q, d); return },
		func() (err error) { x.Holds, err = store.HoldsOn(ctx, q, d); return },
		func() (err error) { x.Fetches, err = store.FetchesOn(ctx, q, d); return },
		func() (err error) { x.Passes, err = store.PassesOn(ctx, q, d); return },
		func() (err error) { x.AnswersRead, err = store.AnswersReadOn(ctx, q, d); return },
		func() (err error) { x.AnsweredBefore, err = store.AnsweredBefore(ctx, q, d); return },
		func() (err error) { sent, err = store.RegistersOn(ctx, q, d); return },
	} {
		if err := read(); err != nil {
			return nil, fmt.Errorf("reading %s: %w", d, err)
		}
	}
	x.messageEvents = map[ids.Message][]store.MessageEvent{}
	for _, e := range events {
		x.messageEvents[e.MessageID] = append(x.messageEvents[e.MessageID], e)
	}
	for _, s := range v.School.Students {
		if s.EnrolledOn(d) {
			x.Roll = append(x.Roll, s)
			x.Evidence[s.ID] = &whereabouts.Evidence{}
		}
	}
	held.SortStudents(x.Roll)
	v.addRegisters(x, sent)
	v.addMarks(x)
	x.addEvidence()
	return x, nil
}

func (v Snapshot) addRegisters(x *Day, sent []store.Register) {
	if !x.Open() {
		return
	}
	for i, s := range v.School.Sections() {
		on := x.Sections[i]
		if !on.Open {
			continue
		}
		for _, m := range s.MeetingsOn(on.School) {
			roll := v.School.Roll(m.ClassID, m.Slot, x.Date)
			if len(roll) == 0 {
				continue // nobody is due: there is no register to take
			}
			slot, _ := on.Slot(m.Slot)
			r := &Register{Meeting: m, Class: v.School.ClassOf(m.ClassID), Slot: slot, Roll: roll}
			x.registers[registerKey{m.ClassID, m.Slot}] = r
			x.Registers = append(x.Registers, r)
		}
	}
	v.addSent(x, sent)
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
func (v Snapshot) addSent(x *Day, sent []store.Register) {
	taken := map[markKey]ids.Class{} // by which register, of those that are in
	for i := range sent {
		k := registerKey{sent[i].ClassID, sent[i].Slot}
		r := x.registers[k]
		if r == nil {
			r = &Register{Meeting: store.Meeting{ClassID: k.class, Slot: k.slot}, Class: v.School.ClassOf(k.class)}
			x.registers[k] = r
			x.Registers = append(x.Registers, r)
		}
		r.Sent = &sent[i]
		if slot, err := held.SlotOf(k.slot, sent[i].Start, sent[i].End, sent[i].Kind); err == nil && slot.End.After(slot.Start) {
			r.Slot = slot
		}
	}
	for _, m := range x.marks {
		if r := x.Register(m.ClassID, m.Slot); r != nil && r.Sent != nil {
			taken[markKey{m.StudentID, m.Slot}] = m.ClassID
			if !slices.ContainsFunc(r.Roll, func(s store.Student) bool { return s.ID == m.StudentID }) {
				r.Roll = append(r.Roll, v.School.StudentOf(m.StudentID))
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

func (v Snapshot) addMarks(x *Day) {
	for _, m := range x.marks {
		k := markKey{m.StudentID, m.Slot}
		x.versions[k] = append(x.versions[k], m)
		e := x.Evidence[m.StudentID]
		slot, ok := x.slotOf(m)
		code, known := x.OfClass(m.ClassID).Codes.Find(m.Code)
		if e == nil || !ok || !known {
			continue
		}
		e.Marks = append(e.Marks, whereabouts.Mark{Slot: slot, Code: code, From: m.AwayFrom, To: m.AwayTo,
			Made: m.Made, Known: knownOf(m.Origin), Version: m.Version})
	}
}

// slotOf returns the slot that a mark is of: its register's, or the day's.
func (x *Day) slotOf(m store.Mark) (day.Slot, bool) {
	if r := x.Register(m.ClassID, m.Slot); r != nil {
		return r.Slot, true
	}
	return x.Of(m.StudentID).Slot(m.Slot)
}

func (x *Day) addEvidence() {
	for _, m := range x.Movements {
		if e := x.Evidence[m.StudentID]; e != nil {
			kind := map[string]whereabouts.MovementKind{Arrived: whereabouts.Arrived, Departed: whereabouts.Departed, Seen: whereabouts.Seen}[m.Kind]
			e.Movements = append(e.Movements, whereabouts.Movement{ID: m.ID, Kind: kind, At: m.Minute, Return: m.Returns, Reason: m.Reason,
				Known: knownOf(m.Origin), Undone: undone(m.UndoneBy, m.UndoneAt)})
		}
	}
	for _, n := range x.Notices {
		said, ok := SpanOf(n).On(x.Date)
		if e := x.Evidence[n.StudentID]; e != nil && ok {
			said.ID, said.Known, said.Withdrawn = n.ID, knownOf(n.Origin), undone(n.WithdrawnBy, n.WithdrawnAt)
			e.Notices = append(e.Notices, said)
		}
	}
	for _, a := range x.Activities {
		for _, s := range a.Students {
			if e := x.Evidence[s]; e != nil {
				e.Activities = append(e.Activities, whereabouts.Activity{ID: a.ID, From: a.From, To: a.To, OnSite: a.OnSite, Title: a.Title,
					Known: knownOf(a.Origin), Ended: undone(a.EndedBy, a.EndedAt)})
			}
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

// Position returns where a student was at a moment.
func (v Snapshot) Position(x *Day, student ids.Student, m Moment) whereabouts.Position {
	e := x.Evidence[student]
	if e == nil {
		return whereabouts.Position{State: whereabouts.NotDue}
	}
	return whereabouts.At(*e, x.Rules(student), m.Minute, m.Known)
}

// Rules returns the margins of a student's section for saying where the student is.
func (x *Day) Rules(student ids.Student) whereabouts.Rules {
	s := x.Of(student).Settings
	return whereabouts.Rules{LateGrace: s.LateGrace, ReturnGrace: s.ReturnGrace, DayMargin: s.DayMargin}
}

// In returns as much of the day as concerns some sections: their students, and what is about
// them; the whole day where the scope is empty.
func (x *Day) In(scope Scope) *Day {
	if len(scope) == 0 {
		return x
	}
	out := *x
	has := func(student ids.Student) bool { return scope.Has(x.Of(student).ID) }
	any := func(students []ids.Student) bool { return slices.ContainsFunc(students, has) }
	out.Sections = kept(x.Sections, func(s *SectionDay) bool { return scope.Has(s.ID) })
	out.Registers = kept(x.Registers, func(r *Register) bool { return scope.Has(r.Class.Section) })
	out.Roll = kept(x.Roll, func(s store.Student) bool { return has(s.ID) })
	out.Movements = kept(x.Movements, func(m store.Movement) bool { return has(m.StudentID) })
	out.Notices = kept(x.Notices, func(n store.Notice) bool { return has(n.StudentID) })
	out.Activities = kept(x.Activities, func(a store.Activity) bool { return any(a.Students) })
	out.Calls = kept(x.Calls, func(c store.Call) bool { return has(c.StudentID) })
	out.Searches = kept(x.Searches, func(s store.Search) bool { return has(s.StudentID) })
	out.Settled = kept(x.Settled, func(s store.Settled) bool { return has(s.StudentID) })
	out.Messages = kept(x.Messages, func(m store.Message) bool {
		switch {
		case m.ClassID != nil:
			return scope.Has(x.OfClass(*m.ClassID).ID)
		case m.StudentID != nil:
			return has(*m.StudentID)
		default:
			return len(m.Students) == 0 || any(m.Students)
		}
	})
	moved := map[ids.Movement]bool{}
	for _, m := range out.Movements {
		moved[m.ID] = true
	}
	out.Passes = kept(x.Passes, func(p store.Pass) bool { return moved[p.MovementID] })
	out.Closings = kept(x.Closings, func(c store.Closing) bool { return scope.Has(c.SectionID) })
	out.Holds = kept(x.Holds, func(h store.Hold) bool { return any(h.Students) })
	out.Fetches = kept(x.Fetches, func(f store.Fetch) bool { return has(f.StudentID) })
	return &out
}

// kept returns those of a list that fulfil a condition; the list itself stays as it is.
func kept[T any](list []T, keep func(T) bool) []T {
	var out []T
	for _, one := range list {
		if keep(one) {
			out = append(out, one)
		}
	}
	return out
}
