package whereabouts

import (
	"math"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/policy"
)

// Known is when a piece of evidence reached the school: a minute, and its place
// among what came in the same minute.
type Known struct {
	At  day.Instant
	Seq ids.Entry
}

// After reports whether something became known later than something else.
func (k Known) After(o Known) bool { return k.At > o.At || k.At == o.At && k.Seq > o.Seq }

// lastOf is what was known at the end of a minute.
func lastOf(at day.Instant) Known { return Known{At: at, Seq: math.MaxInt64} }

// Hand is by what a presence was noted. Only a person who saw the student ends a worry.
type Hand uint8

// The ways in which a presence comes to be noted.
const (
	BySight   Hand = iota // a person saw this student
	ByRest                // "everyone else is in"
	ByCard                // a card was read
	ByPhone               // the student checked in
	ByStation             // the student used a station that nobody attends
	ByRecord              // taken over from what was known elsewhere
)

// String says how the presence was noted.
func (h Hand) String() string {
	return []string{"seen", "in with everyone else", "card used", "checked in by phone", "station used", "noted elsewhere"}[h]
}

// Mark is one version of what a register says of the student in one slot.
type Mark struct {
	Slot     day.Slot
	Code     policy.Code
	From, To day.Minute // none where not written
	Made     day.Minute // the minute in which it was made
	By       Hand
	Known    Known
	Version  int
}

// MovementKind is what was seen at the door or in the building.
type MovementKind uint8

// The kinds of movement.
const (
	Arrived MovementKind = iota
	Departed
	Seen // found in the building
)

// Movement is a student seen arriving, leaving or in the building.
type Movement struct {
	ID     ids.Movement
	Kind   MovementKind
	At     day.Minute
	Return day.Minute // when the student is expected back; none for not
	Reason string
	By     Hand
	Known  Known
	Undone *Known // when it was taken back
}

// Notice is what home said: the student is away from From until To that day.
type Notice struct {
	ID        ids.Notice
	From, To  day.Minute // 0 to day.EndOfDay for the whole day
	Returns   bool       // the student is expected at To
	OnTheWay  bool       // home has sent the student, who is expected at To
	Reason    string
	Known     Known
	Withdrawn *Known
}

// Activity is a planned activity away from the timetable.
type Activity struct {
	ID       ids.Activity
	From, To day.Minute
	OnSite   bool
	Returns  bool // those who are on it are expected back at To
	Title    string
	Known    Known
	Ended    *Known
	Said     []Told // what whoever leads it says of the student
	Backs    []Back // that those who are with it have come back
}

// Told is whether whoever leads an activity has a student with them.
type Told struct {
	At    day.Minute
	Here  bool
	Known Known
}

// Back is that those on an activity have come back, or went home from where it was.
type Back struct {
	At     day.Minute
	Home   bool
	Known  Known
	Undone *Known
}

// said returns what was said last of the student by t; nil for nothing.
func (a *Activity) said(t day.Minute, known Known) *Told {
	var last *Told
	for i := range a.Said {
		if s := &a.Said[i]; !s.At.After(t) && !s.Known.After(known) && (last == nil || s.Known.After(last.Known)) {
			last = s
		}
	}
	return last
}

// missed reports whether the student is known by t not to be with the others.
func (a *Activity) missed(t day.Minute, known Known) bool {
	s := a.said(t, known)
	return s != nil && !s.Here
}

// Worry is that a home which was reached believes the student to be at school.
type Worry struct {
	Call   ids.Call
	At     day.Minute
	Known  Known
	Undone *Known
}

// Settling is that a named person knows where the student is, and how.
type Settling struct {
	ID     ids.Settling
	At     day.Minute
	Gone   bool // not on the premises, whatever says so up to then
	How    string
	Known  Known
	Undone *Known
}

// DueSlot is a slot in which the student is due, and when its register came in.
type DueSlot struct {
	Slot  day.Slot
	Class string
	Sent  *Known // nil while the register is out
}

// sentBy reports whether the register was in by what was known.
func (d DueSlot) sentBy(known Known) bool { return d.Sent != nil && !d.Sent.After(known) }

// Evidence is all there is about one student on one date.
type Evidence struct {
	Due        []DueSlot // in time order
	Marks      []Mark    // every version
	Movements  []Movement
	Notices    []Notice
	Activities []Activity
	Worries    []Worry
	Settlings  []Settling
}

// EarlierOut reports whether the register of a slot before this one, in which the student
// was marked absent, was still out: it may say where they are, and no home is rung before
// it is in.
func (e Evidence) EarlierOut(slot day.Slot, known day.Instant) bool {
	for _, d := range e.Due {
		if d.Slot.Start.Before(slot.Start) && !d.sentBy(lastOf(known)) {
			return true
		}
	}
	return false
}

// reached reports whether something was known and had not been taken back.
func reached(k Known, undone *Known, known Known) bool {
	return !k.After(known) && (undone == nil || undone.After(known))
}
