// Package whereabouts says where each student is at any minute, from marks,
// movements, notices from home and planned activities, as they were known at
// any minute. It is a pure function of that evidence; it must not know where
// the evidence is kept.
package whereabouts

import (
	"meldung/core/day"
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

// Rules are the school's margins, in minutes.
type Rules struct {
	LateGrace   day.Minutes // after the student's first due slot began
	ReturnGrace day.Minutes // after an expected return
	DayMargin   day.Minutes // after the last due slot: those in have gone home
}

// Sighting is the last that shows where a student was.
type Sighting struct {
	At    day.Minute // none for nothing
	By    Hand
	Slot  day.Slot // of the mark; without a name for a movement
	Moved bool     // it is a movement, of this kind
	Kind  MovementKind
}

// Position is a student's state with what it rests on.
type Position struct {
	State   State
	OnSite  bool       // unaccounted, and seen on site: search before ringing home
	NotBack bool       // unaccounted, and an expected return has passed
	Missed  bool       // unaccounted, and not with the others of an activity
	Settled bool       // explained, by a named person who knows
	Since   day.Minute // the first evidence of the present stay, or that of the state; none for none
	Until   day.Minute // when a return is expected, or the slot ends; none for none
	Reason  string
	Slot    day.Slot // of the deciding mark; without a name where there is none
	Last    Sighting // the last evidence of where the student was
	NotSent day.Slot // of who is in: an earlier slot whose register is not in, without other evidence

	// Worried is since when a home that believes the student to be at school has been
	// waiting for word; none for not. Who is worried for is unaccounted, but for those who
	// were signed out before.
	Worried day.Minute
}

// OnPremises reports whether the student is somewhere in the building.
func (p Position) OnPremises() bool { return p.State == In || p.State == InLate || p.OnSite }

// Expected reports whether a student who is away is to come back at Until.
func (p Position) Expected() bool {
	return !p.Until.IsZero() && (p.State == Left || p.State == Explained || p.NotBack)
}

// Overdue reports whether a student who is expected has not come by a minute.
func (p Position) Overdue(t day.Minute) bool { return p.Expected() && (p.NotBack || t.After(p.Until)) }

// view is one student's evidence as it was known, looked at for one minute.
type view struct {
	Evidence
	rules  Rules
	t      day.Minute
	known  Known
	marks  []*Mark // in force, in the order of their slots
	events []event // in time order, none after t
	last   int     // place of the deciding event; −1 for none
	notice *Notice
}

// At returns where the student is at minute t, by what was known then. Evidence
// after t and evidence not yet known is never read.
func At(e Evidence, rules Rules, t day.Minute, known day.Instant) Position {
	return AsKnown(e, rules, t, lastOf(known))
}

// AsKnown is At by what was known when something became known, that included.
func AsKnown(e Evidence, rules Rules, t day.Minute, known Known) Position {
	v := view{Evidence: e, rules: rules, t: t, known: known, notice: noticeAt(e.Notices, t, known)}
	v.marks = current(e.Marks, t, known)
	v.events = timeline(e, v.marks, t, known)
	v.last = latest(v.events, t)
	p := v.withoutTheOthers(v.base())
	if v.last >= 0 && !v.events[v.last].planned {
		p.Last = v.events[v.last].seen()
	}
	if s := v.settling(); s != nil && (s.Gone || !p.State.Settled()) {
		p = v.settled(p, s)
	}
	return v.worried(p)
}

// base is where the student is by marks, movements, notices and activities.
func (v *view) base() Position {
	if v.last < 0 {
		return v.absent()
	}
	switch last := v.events[v.last]; last.place {
	case away:
		return v.elsewhere(last)
	case offSite:
		return v.departed(last)
	default:
		return v.present(last)
	}
}

// withoutTheOthers makes a student unaccounted for who should be on an activity and whom its leader has
// not got there, while nothing later says where they are or why they stay away.
func (v *view) withoutTheOthers(p Position) Position {
	var of *Activity
	var last *Told
	for i := range v.Activities {
		a := &v.Activities[i]
		if a.OnSite || a.From.After(v.t) || !reached(a.Known, a.Ended, v.known) || !a.missed(v.t, v.known) {
			continue
		}
		if s := a.said(v.t, v.known); last == nil || s.At.After(last.At) {
			of, last = a, s
		}
	}
	if last == nil || v.resolved(p, last.At) {
		return p
	}
	if covers(v.notice, v.t) {
		return v.explained(Position{}) // home said why, be a lesson due already or not
	}
	here := len(v.events) > 0 && v.events[len(v.events)-1].place == onSite
	return Position{State: Unaccounted, OnSite: here, Missed: true, Since: last.At, Reason: of.Title}
}

// resolved reports whether something says where a student is who was missed at a minute: seen or signed
// out since, signed out before, or marked with a reason. That a lesson ends, or the day, says nothing,
// nor that one which they were to attend elsewhere is over.
func (v *view) resolved(p Position, missed day.Minute) bool {
	if len(v.events) == 0 {
		return p.State == Explained || p.State == Unaccounted
	}
	last := v.events[len(v.events)-1]
	return last.at.After(missed) || last.place == offSite || (last.place == onSite && p.State == Explained)
}

// elsewhere is where somebody is who is on an activity off the premises, or was.
func (v *view) elsewhere(last event) Position {
	p := Position{State: Elsewhere, Since: last.at, Until: last.until, Reason: last.reason, Slot: last.slot()}
	switch {
	case v.t.Before(last.until) || !v.t.After(last.until.Add(v.rules.ReturnGrace)):
	case !v.dueSince(last.until):
		p.State, p.Since, p.Until = Left, last.until, day.Minute{}
	case !covers(v.notice, v.t):
		p.State, p.NotBack = Unaccounted, true
	default:
		return v.explained(Position{})
	}
	return p
}

func (v *view) departed(last event) Position {
	p := Position{State: Left, Since: last.at, Until: last.returns, Reason: last.reason}
	if !last.returns.IsZero() && v.t.After(last.returns.Add(v.rules.ReturnGrace)) && v.dueSince(last.returns) && !covers(v.notice, v.t) {
		p.State, p.NotBack = Unaccounted, true
	}
	return p
}

func (v *view) present(last event) Position {
	if m, ok := absentSince(v.marks, last.at, v.t); ok {
		switch {
		case covers(v.notice, v.t):
			return v.explained(Position{Slot: m.Slot})
		case m.Code.Unfound():
			return Position{State: Unaccounted, OnSite: true, Since: last.at, Slot: m.Slot}
		default:
			return Position{State: Explained, Since: m.Slot.Start, Reason: m.Code.Word, Slot: m.Slot}
		}
	}
	if end, ok := v.dayEnd(); ok && !v.t.Before(end.Add(v.rules.DayMargin)) && last.at.Before(end.Add(v.rules.DayMargin)) {
		return Position{State: Left, Since: end, Reason: "end of the day"}
	}
	p := Position{State: In, Since: stay(v.events, v.marks, v.last, v.t), Slot: last.slot()}
	if v.cameLate() {
		p.State = InLate
	}
	p.NotSent = v.notSent()
	return p
}

func (v *view) absent() Position {
	begun := false
	for _, d := range v.Due {
		begun = begun || !d.Slot.Start.After(v.t)
	}
	m, marked := lastAbsence(v.marks, v.t)
	switch {
	case begun && covers(v.notice, v.t):
		return v.explained(Position{})
	case begun && v.overdue(marked && !m.Code.Unfound()):
		return Position{State: Unaccounted, NotBack: true, Since: v.notice.To, Until: v.notice.To, Reason: v.notice.Reason}
	case marked && m.Code.Unfound():
		return Position{State: Unaccounted, Since: m.Made, Slot: m.Slot}
	case marked && m.Code.Counts == policy.Void && !v.otherDue():
		return Position{State: NotDue, Slot: m.Slot}
	case marked && m.Code.Counts != policy.Void:
		return Position{State: Explained, Since: m.Slot.Start, Reason: m.Code.Word, Slot: m.Slot}
	case begun:
		return Position{State: NotYetKnown}
	default:
		return Position{State: NotDue}
	}
}

// explained is a position explained by what home said.
func (v *view) explained(p Position) Position {
	p.State, p.Since, p.Until, p.Reason = Explained, v.notice.From, until(v.notice), v.notice.Reason
	return p
}

// overdue reports whether a notice with an expected return has run out while
// the student is due, and no later mark gives a reason.
func (v *view) overdue(settled bool) bool {
	n := v.notice
	return n != nil && n.Returns && !settled && v.t.After(n.To.Add(v.rules.ReturnGrace)) && v.dueSince(n.To)
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
func (v *view) dueSince(since day.Minute) bool {
	for _, d := range v.Due {
		if d.Slot.End.After(since) && !d.Slot.Start.After(v.t) {
			return true
		}
	}
	return false
}

// otherDue reports whether the student was due in a slot that is not marked as not required.
func (v *view) otherDue() bool {
	for _, d := range v.Due {
		if d.Slot.Start.After(v.t) {
			continue
		}
		void := false
		for _, m := range v.marks {
			void = void || (m.Slot.Name == d.Slot.Name && m.Code.Counts == policy.Void)
		}
		if !void {
			return true
		}
	}
	return false
}

// dayEnd is when the student's last due slot or on-site activity ends.
func (v *view) dayEnd() (day.Minute, bool) {
	end := day.Minute{}
	for _, d := range v.Due {
		end = day.Latest(end, d.Slot.End)
	}
	for _, a := range v.Activities {
		if a.OnSite && a.Ended == nil {
			end = day.Latest(end, a.To)
		}
	}
	return end, !end.IsZero()
}

func noticeAt(notices []Notice, t day.Minute, known Known) *Notice {
	var best *Notice
	for i := range notices {
		n := &notices[i]
		if !reached(n.Known, n.Withdrawn, known) || n.From.After(t) {
			continue
		}
		better := best == nil || (covers(n, t) && !covers(best, t)) || (covers(n, t) == covers(best, t) && n.Known.After(best.Known))
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
