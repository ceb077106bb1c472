// Package dated holds everything that is known about one date: registers, marks, movements,
// what homes said, calls, messages. It is read from the store once, and follows what is written
// from then on. It must not know who may see it, nor write anything.
package dated

import (
	"fmt"
	"reflect"
	"slices"

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

// Day is everything known about one date, whenever it became known. Whoever has read it may look
// at it until it follows a write, which nobody may look at meanwhile.
type Day struct {
	Date      day.Date
	Sections  []*SectionDay // those in scope, in their order; there is one at least
	Registers []*Register
	Evidence  map[ids.Student]*whereabouts.Evidence // by student on the roll
	Roll      []store.Student                       // by name

	Movements   []store.Movement
	Notices     []store.Notice
	Activities  []store.Activity
	Calls       []store.Call
	Searches    []store.Search
	Settled     []store.Settled
	Settlings   []store.Settling
	Visits      []store.Visit
	Ticks       []store.RollTick // of students, in roll calls
	Messages    []store.Message
	Closings    []store.Closing
	StandIns    []store.StandIn
	Holds       []store.Hold
	Fetches     []store.Fetch
	Passes      []store.Pass
	AnswersRead []store.AnswerRead

	school        *held.School
	sections      []*SectionDay // every one
	registers     map[registerKey]*Register
	versions      map[markKey][]store.Mark
	messageEvents map[ids.Message][]store.MessageEvent // by message
}

// The kinds of movement, as they are stored.
const (
	Arrived  = "arrived"
	Departed = "departed"
	Seen     = "seen" // found in the building
)

// Replied is the state of a message that was answered.
const Replied = "replied"

// SpanOf returns when a stored notice has its student away.
func SpanOf(n store.Notice) whereabouts.Span {
	return whereabouts.Span{From: n.FromDate, To: n.ToDate, FromMinute: n.FromMinute, ToMinute: n.ToMinute, Returns: n.Returns, Reason: n.Reason}
}

// Differs names a part in which another reading of the same date differs from this one; empty
// for none.
func (x *Day) Differs(y *Day) string {
	for _, part := range []struct {
		name string
		a, b any
	}{
		{"registers", x.Registers, y.Registers}, {"evidence", x.Evidence, y.Evidence}, {"roll", x.Roll, y.Roll},
		{"movements", x.Movements, y.Movements}, {"notices", x.Notices, y.Notices}, {"activities", x.Activities, y.Activities},
		{"calls", x.Calls, y.Calls}, {"searches", x.Searches, y.Searches}, {"settled", x.Settled, y.Settled}, {"settlings", x.Settlings, y.Settlings}, {"visits", x.Visits, y.Visits}, {"ticks", x.Ticks, y.Ticks},
		{"messages", x.Messages, y.Messages}, {"message events", x.messageEvents, y.messageEvents}, {"closings", x.Closings, y.Closings},
		{"stand-ins", x.StandIns, y.StandIns}, {"holds", x.Holds, y.Holds}, {"fetches", x.Fetches, y.Fetches}, {"passes", x.Passes, y.Passes},
		{"answers read", x.AnswersRead, y.AnswersRead}, {"versions", x.versions, y.versions}, {"registers by class", x.registers, y.registers},
	} {
		if !reflect.DeepEqual(part.a, part.b) {
			return part.name
		}
	}
	return ""
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

// Rules returns the margins of a student's section for saying where the student is.
func (x *Day) Rules(student ids.Student) whereabouts.Rules {
	s := x.Of(student).Settings
	return whereabouts.Rules{LateGrace: s.LateGrace, ReturnGrace: s.ReturnGrace, DayMargin: s.DayMargin}
}

// In returns as much of the day as concerns some sections: their students, and what is about
// them; the whole day where the scope is empty.
func (x *Day) In(scope []ids.Section) *Day {
	if len(scope) == 0 {
		return x
	}
	out := *x
	within := func(section ids.Section) bool { return held.InScope(scope, section) }
	has := func(student ids.Student) bool { return within(x.Of(student).ID) }
	any := func(students []ids.Student) bool { return slices.ContainsFunc(students, has) }
	out.Sections = kept(x.Sections, func(s *SectionDay) bool { return within(s.ID) })
	out.Registers = kept(x.Registers, func(r *Register) bool { return within(r.Class.Section) })
	out.Roll = kept(x.Roll, func(s store.Student) bool { return has(s.ID) })
	out.Movements = kept(x.Movements, func(m store.Movement) bool { return has(m.StudentID) })
	out.Notices = kept(x.Notices, func(n store.Notice) bool { return has(n.StudentID) })
	out.Activities = kept(x.Activities, func(a store.Activity) bool {
		return slices.ContainsFunc(a.Members, func(m store.ActivityMember) bool { return has(m.StudentID) })
	})
	out.Calls = kept(x.Calls, func(c store.Call) bool { return has(c.StudentID) })
	out.Searches = kept(x.Searches, func(s store.Search) bool { return has(s.StudentID) })
	out.Settlings = kept(x.Settlings, func(s store.Settling) bool {
		if s.StudentID != nil {
			return has(*s.StudentID)
		}
		return within(x.OfClass(*s.ClassID).ID)
	})
	out.Settled = kept(x.Settled, func(s store.Settled) bool { return has(s.StudentID) })
	out.Messages = kept(x.Messages, func(m store.Message) bool {
		switch {
		case m.ClassID != nil:
			return within(x.OfClass(*m.ClassID).ID)
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
	out.Closings = kept(x.Closings, func(c store.Closing) bool { return within(c.SectionID) })
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
