// Package whereabouts says where each student is at any minute, from marks,
// movements, notices from home and planned activities, as they were known at
// any minute. It is a pure function of that evidence; it must not know where
// the evidence is kept.
package whereabouts

import (
	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/policy"
)

// State is where a student is. Every enrolled student is in exactly one.
type State uint8

// The states, in the order in which the count is read.
const (
	In State = iota
	InLate
	Left
	Elsewhere
	Explained
	NotDue
	NotYetKnown
	Unaccounted
	States // how many there are
)

// String returns the state's word.
func (s State) String() string {
	return []string{"in", "in, late", "left", "elsewhere", "explained", "not due", "not yet known", "unaccounted for"}[s]
}

// Slug returns the state's name in addresses and files.
func (s State) Slug() string {
	return []string{"in", "late", "left", "elsewhere", "explained", "not-due", "not-yet-known", "unaccounted"}[s]
}

// Settled reports whether somebody knows where a student in this state is, or that they
// need not be anywhere.
func (s State) Settled() bool { return s != Unaccounted && s != NotYetKnown }

// Known is when a piece of evidence reached the school: a minute, and its place
// among what came in the same minute.
type Known struct {
	At  day.Instant
	Seq ids.Entry
}

// Mark is one version of what a register says of the student in one slot.
type Mark struct {
	Slot     day.Slot
	Code     policy.Code
	From, To day.Minute // none where not written
	Made     day.Minute // the minute in which it was made
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
	Known  Known
	Undone *Known // when it was taken back
}

// Notice is what home said: the student is away from From until To that day.
type Notice struct {
	ID        ids.Notice
	From, To  day.Minute // 0 to day.EndOfDay for the whole day
	Returns   bool       // the student is expected at To
	Reason    string
	Known     Known
	Withdrawn *Known
}

// Activity is a planned activity away from the timetable.
type Activity struct {
	ID       ids.Activity
	From, To day.Minute
	OnSite   bool
	Title    string
	Known    Known
	Ended    *Known
}

// DueSlot is a slot in which the student is due, and when its register came in.
type DueSlot struct {
	Slot  day.Slot
	Class string
	Sent  *Known // nil while the register is out
}

// Evidence is all there is about one student on one date.
type Evidence struct {
	Due        []DueSlot // in time order
	Marks      []Mark    // every version
	Movements  []Movement
	Notices    []Notice
	Activities []Activity
}

// EarlierOut reports whether the register of a slot before this one, in which the student
// was marked absent, was still out: it may say where they are, and no home is rung before
// it is in.
func (e Evidence) EarlierOut(slot day.Slot, known day.Instant) bool {
	for _, d := range e.Due {
		if d.Slot.Start.Before(slot.Start) && (d.Sent == nil || d.Sent.At > known) {
			return true
		}
	}
	return false
}

// Rules are the school's margins, in minutes.
type Rules struct {
	LateGrace   day.Minutes // after the student's first due slot began
	ReturnGrace day.Minutes // after an expected return
	DayMargin   day.Minutes // after the last due slot: those in have gone home
}

// Position is a student's state with what it rests on.
type Position struct {
	State   State
	OnSite  bool       // unaccounted, and seen on site: search before ringing home
	NotBack bool       // unaccounted, and an expected return has passed
	Since   day.Minute // the minute of the evidence; none for none
	Until   day.Minute // when a return is expected, or the slot ends; none for none
	Reason  string
	Slot    day.Slot // of the deciding mark; without a name where there is none
}

// OnPremises reports whether the student is somewhere in the building.
func (p Position) OnPremises() bool { return p.State == In || p.State == InLate || p.OnSite }

// Expected reports whether a student who is away is to come back at Until.
func (p Position) Expected() bool {
	return !p.Until.IsZero() && (p.State == Left || p.State == Explained || p.NotBack)
}

// Overdue reports whether a student who is expected has not come by a minute.
func (p Position) Overdue(t day.Minute) bool { return p.Expected() && (p.NotBack || t.After(p.Until)) }

type place uint8

const (
	onSite place = iota
	offSite
	away // elsewhere, until a minute
)

type event struct {
	at       day.Minute
	rank     int // a movement outranks a mark made in the same minute
	seq      ids.Entry
	place    place
	until    day.Minute
	returns  day.Minute
	movement bool
	reason   string
	slot     *day.Slot
}

// mark returns the slot of the mark behind an event; none for others.
func (e event) mark() day.Slot {
	if e.slot == nil {
		return day.Slot{}
	}
	return *e.slot
}

// At returns where the student is at minute t, by what was known then. Evidence
// after t and evidence not yet known is never read.
func At(e Evidence, rules Rules, t day.Minute, known day.Instant) Position {
	marks := current(e.Marks, t, known)
	events := timeline(e, marks, t, known)
	notice := noticeAt(e.Notices, t, known)

	last, seen := latest(events, t)
	switch {
	case seen && last.place == away:
		return Position{State: Elsewhere, Since: last.at, Until: last.until, Reason: last.reason, Slot: last.mark()}
	case seen && last.place == offSite:
		return departed(e, rules, last, notice, t)
	case seen:
		return present(e, rules, marks, events, last, notice, t)
	default:
		return absent(e, rules, marks, notice, t, known)
	}
}

func departed(e Evidence, rules Rules, last event, notice *Notice, t day.Minute) Position {
	p := Position{State: Left, Since: last.at, Until: last.returns, Reason: last.reason}
	if !last.returns.IsZero() && t.After(last.returns.Add(rules.ReturnGrace)) && dueSince(e.Due, last.returns, t) && !covers(notice, t) {
		p.State, p.NotBack = Unaccounted, true
	}
	return p
}

func present(e Evidence, rules Rules, marks []*Mark, events []event, last event, notice *Notice, t day.Minute) Position {
	if m, ok := absentSince(marks, last.at, t); ok {
		switch {
		case covers(notice, t):
			return Position{State: Explained, Since: notice.From, Until: until(notice), Reason: notice.Reason, Slot: m.Slot}
		case m.Code.Unexplained:
			return Position{State: Unaccounted, OnSite: true, Since: last.at, Slot: m.Slot}
		default:
			return Position{State: Explained, Since: m.Slot.Start, Reason: m.Code.Word, Slot: m.Slot}
		}
	}
	if end, ok := dayEnd(e); ok && !t.Before(end.Add(rules.DayMargin)) && last.at.Before(end.Add(rules.DayMargin)) {
		return Position{State: Left, Since: end, Reason: "end of the day"}
	}
	p := Position{State: In, Since: last.at, Slot: last.mark()}
	if arrival, ok := arrival(marks, events, t); ok && len(e.Due) > 0 && arrival.After(e.Due[0].Slot.Start.Add(rules.LateGrace)) {
		p.State, p.Since = InLate, arrival
	}
	return p
}

func absent(e Evidence, rules Rules, marks []*Mark, notice *Notice, t day.Minute, known day.Instant) Position {
	begun := false
	for _, d := range e.Due {
		begun = begun || !d.Slot.Start.After(t)
	}
	m, marked := lastAbsence(marks, t)
	switch {
	case begun && covers(notice, t):
		return Position{State: Explained, Since: notice.From, Until: until(notice), Reason: notice.Reason}
	case begun && notBack(e, rules, notice, t, marked && !m.Code.Unexplained):
		return Position{State: Unaccounted, NotBack: true, Since: notice.To, Until: notice.To, Reason: notice.Reason}
	case marked && m.Code.Unexplained:
		return Position{State: Unaccounted, Since: m.Made, Slot: m.Slot}
	case marked && m.Code.Counts == policy.Void && !otherDue(e, marks, t):
		return Position{State: NotDue, Slot: m.Slot}
	case marked && m.Code.Counts != policy.Void:
		return Position{State: Explained, Since: m.Slot.Start, Reason: m.Code.Word, Slot: m.Slot}
	case begun:
		return Position{State: NotYetKnown}
	default:
		return Position{State: NotDue}
	}
}

// notBack reports whether a notice with an expected return has run out while
// the student is due, and no later mark gives a reason.
func notBack(e Evidence, rules Rules, notice *Notice, t day.Minute, settled bool) bool {
	return notice != nil && notice.Returns && !settled && t.After(notice.To.Add(rules.ReturnGrace)) && dueSince(e.Due, notice.To, t)
}

func covers(n *Notice, t day.Minute) bool {
	return n != nil && !n.From.After(t) && (t.Before(n.To) || (n.Returns && !t.After(n.To)))
}

func until(n *Notice) day.Minute {
	if n.Returns {
		return n.To
	}
	return day.Minute{}
}

// dueSince reports whether a due slot has been running since the minute.
func dueSince(due []DueSlot, since, t day.Minute) bool {
	for _, d := range due {
		if d.Slot.End.After(since) && !d.Slot.Start.After(t) {
			return true
		}
	}
	return false
}

func otherDue(e Evidence, marks []*Mark, t day.Minute) bool {
	for _, d := range e.Due {
		if d.Slot.Start.After(t) {
			continue
		}
		void := false
		for _, m := range marks {
			void = void || (m.Slot.Name == d.Slot.Name && m.Code.Counts == policy.Void)
		}
		if !void {
			return true
		}
	}
	return false
}

// dayEnd is when the student's last due slot or on-site activity ends.
func dayEnd(e Evidence) (day.Minute, bool) {
	end := day.Minute{}
	for _, d := range e.Due {
		end = day.Latest(end, d.Slot.End)
	}
	for _, a := range e.Activities {
		if a.OnSite && a.Ended == nil {
			end = day.Latest(end, a.To)
		}
	}
	return end, !end.IsZero()
}

// current returns the version of each mark that was in force: the last one
// known, where it was made by t; in the order of their slots. Few marks a day
// make a linear search quicker than a map.
func current(marks []Mark, t day.Minute, known day.Instant) []*Mark {
	out := make([]*Mark, 0, len(marks))
next:
	for i := range marks {
		m := &marks[i]
		if m.Known.At > known {
			continue
		}
		for k, o := range out {
			if o.Slot.Name == m.Slot.Name {
				if m.Version > o.Version {
					out[k] = m
				}
				continue next
			}
		}
		at := len(out)
		out = append(out, m)
		for ; at > 0 && out[at-1].Slot.Start.After(m.Slot.Start); at-- {
			out[at] = out[at-1]
		}
		out[at] = m
	}
	kept := out[:0]
	for _, m := range out {
		if !m.Made.After(t) {
			kept = append(kept, m)
		}
	}
	return kept
}

func reached(k Known, undone *Known, known day.Instant) bool {
	return k.At <= known && (undone == nil || undone.At > known)
}

// timeline puts what shows where the student was in order.
func timeline(e Evidence, marks []*Mark, t day.Minute, known day.Instant) []event {
	out := make([]event, 0, len(marks)+len(e.Movements)+len(e.Activities))
	for _, m := range marks {
		if m.Code.Counts.Absent() && !m.Code.Late || m.Code.Counts == policy.Void {
			continue
		}
		ev := event{at: m.Made, seq: m.Known.Seq, slot: &m.Slot}
		switch {
		case !m.Code.OnSite:
			ev.place, ev.until, ev.reason = away, m.Slot.End, m.Code.Word
			ev.at = day.Latest(m.Made, m.Slot.Start)
		case m.From.After(m.Slot.Start) && m.To.IsZero() && !m.Code.Late && !m.From.After(t):
			ev.place, ev.at, ev.reason = offSite, day.Latest(m.From, m.Made), m.Code.Word
		}
		out = insert(out, ev)
	}
	for i := range e.Movements {
		m := &e.Movements[i]
		if m.At.After(t) || !reached(m.Known, m.Undone, known) {
			continue
		}
		ev := event{at: m.At, rank: 1, seq: m.Known.Seq, movement: true, reason: m.Reason}
		if m.Kind == Departed {
			ev.place, ev.returns = offSite, m.Return
		}
		out = insert(out, ev)
	}
	for i := range e.Activities {
		a := &e.Activities[i]
		if a.OnSite || a.From.After(t) || !reached(a.Known, a.Ended, known) {
			continue
		}
		out = insert(out, event{at: a.From, seq: a.Known.Seq, place: away, until: a.To, reason: a.Title})
	}
	return out
}

// insert puts an event into its place in time.
func insert(list []event, ev event) []event {
	list = append(list, ev)
	i := len(list) - 1
	for ; i > 0 && ev.before(list[i-1]); i-- {
		list[i] = list[i-1]
	}
	list[i] = ev
	return list
}

func (e event) before(o event) bool {
	if e.at != o.at {
		return e.at.Before(o.at)
	}
	if e.rank != o.rank {
		return e.rank < o.rank
	}
	return e.seq < o.seq
}

// latest returns the last event by t; being elsewhere wears off.
func latest(events []event, t day.Minute) (event, bool) {
	for i := len(events) - 1; i >= 0; i-- {
		if events[i].at.After(t) || (events[i].place == away && !t.Before(events[i].until)) {
			continue
		}
		return events[i], true
	}
	return event{}, false
}

// absentSince returns the latest absence mark for a slot that began at or after
// the student was last seen.
func absentSince(marks []*Mark, seen, t day.Minute) (*Mark, bool) {
	for i := len(marks) - 1; i >= 0; i-- {
		m := marks[i]
		if isAbsence(m, t) && !m.Slot.Start.Before(seen) {
			return m, true
		}
	}
	return nil, false
}

func lastAbsence(marks []*Mark, t day.Minute) (*Mark, bool) {
	for i := len(marks) - 1; i >= 0; i-- {
		if isAbsence(marks[i], t) || (marks[i].Code.Counts == policy.Void && !marks[i].Slot.Start.After(t)) {
			return marks[i], true
		}
	}
	return nil, false
}

func isAbsence(m *Mark, t day.Minute) bool {
	if !m.Code.Counts.Absent() || m.Code.Late || m.Slot.Start.After(t) {
		return false
	}
	return (m.From.IsZero() || !m.From.After(t)) && (m.To.IsZero() || t.Before(m.To))
}

// arrival returns the minute at which the student first came: a movement's own
// minute, a late mark's time, the start of the slot of any other presence mark.
func arrival(marks []*Mark, events []event, t day.Minute) (day.Minute, bool) {
	first, ok := day.EndOfDay, false
	for _, ev := range events {
		if ev.movement && ev.place == onSite && !ev.at.After(t) {
			first, ok = day.Earliest(first, ev.at), true
		}
	}
	for _, m := range marks {
		if !m.Code.OnSite || (m.Code.Counts.Absent() && !m.Code.Late) {
			continue
		}
		at := m.Slot.Start
		if m.Code.Late {
			at = day.Latest(m.Made, m.Slot.Start)
			if !m.To.IsZero() {
				at = m.To
			}
		}
		first, ok = day.Earliest(first, at), true
	}
	return first, ok
}

func noticeAt(notices []Notice, t day.Minute, known day.Instant) *Notice {
	var best *Notice
	for i := range notices {
		n := &notices[i]
		if !reached(n.Known, n.Withdrawn, known) || n.From.After(t) {
			continue
		}
		better := best == nil || (covers(n, t) && !covers(best, t)) ||
			(covers(n, t) == covers(best, t) && (n.Known.At > best.Known.At || n.Known.At == best.Known.At && n.Known.Seq > best.Known.Seq))
		if better {
			best = n
		}
	}
	return best
}

// Count is how many students are in each state. Its parts add up to the roll.
type Count [States]int

// Roll returns the sum of all states.
func (c Count) Roll() int {
	n := 0
	for _, k := range c {
		n += k
	}
	return n
}

// FirstArrival returns the minute at which a student was first seen by t, as it
// was known, and whether that was after the grace of the first due slot. A
// present mark in that slot is seen in the minute in which it was made.
func FirstArrival(e Evidence, rules Rules, t day.Minute, known day.Instant) (at day.Minute, late, ok bool) {
	marks := current(e.Marks, t, known)
	events := timeline(e, marks, t, known)
	came, ok := arrival(marks, events, t)
	if !ok {
		return day.Minute{}, false, false
	}
	late = len(e.Due) > 0 && came.After(e.Due[0].Slot.Start.Add(rules.LateGrace))
	for _, ev := range events {
		if ev.place == onSite && !late {
			return ev.at, false, true
		}
	}
	return came, late, true
}
