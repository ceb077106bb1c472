package whereabouts

import (
	"fmt"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/policy"
)

// MismatchKind is a kind of contradiction in the evidence.
type MismatchKind string

// The kinds of contradiction.
const (
	SignedInAbsent    MismatchKind = "signed-in-absent"
	LeftPresent       MismatchKind = "left-present"
	AbsentThenPresent MismatchKind = "absent-then-present"
	ExplainedPresent  MismatchKind = "explained-present"
	MissingBetween    MismatchKind = "missing-between"
	BelievedIn        MismatchKind = "believed-in"
)

// Action is something that resolves a contradiction.
type Action string

// The actions.
const (
	ActSeen     Action = "seen"     // the student is in: record it
	ActCorrect  Action = "correct"  // correct the mark
	ActAsk      Action = "ask"      // ask the teacher
	ActWithdraw Action = "withdraw" // withdraw the notice
	ActStands   Action = "stands"   // looked at; it is as it is
	ActSettle   Action = "settle"   // say where the student is, and how one knows
)

// Mismatch is two pieces of evidence that can't both be right.
type Mismatch struct {
	Kind    MismatchKind
	Slot    string     // of the mark that contradicts
	Suggest policy.Use // what a code that would agree is used for, for ActCorrect
	Reason  string     // with Suggest: why the student is away, where somebody said so
	To      day.Minute // with Suggest: the time of arriving; none for none
	From    day.Minute // with Suggest: the time of leaving; none for none
	At      day.Minute // for ActSeen: when
	Notice  ids.Notice
	Text    string
	Actions []Action
}

// Mismatches returns the contradictions in what was known at t: a sign-out that the home
// does not know of first, then those of marks in the order of their slots, at most one for a
// slot.
func Mismatches(e Evidence, rules Rules, t day.Minute, known day.Instant) []Mismatch {
	by := lastOf(known)
	marks := current(e.Marks, t, by)
	var moves []Movement
	for _, m := range e.Movements {
		if !m.At.After(t) && reached(m.Known, m.Undone, by) {
			moves = append(moves, m)
		}
	}
	var out []Mismatch
	if m, ok := believedIn(e, rules, t, known); ok {
		out = append(out, m)
	}
	for i, m := range marks {
		if m.Slot.Start.After(t) {
			continue
		}
		if x, ok := mismatchOf(e, marks, i, moves, t, known); ok {
			out = append(out, x)
		}
	}
	return out
}

func mismatchOf(e Evidence, marks []*Mark, i int, moves []Movement, t day.Minute, known day.Instant) (Mismatch, bool) {
	m := marks[i]
	before, moved := lastMove(moves, m.Slot.Start)
	when, movedBy := lastMove(moves, day.Latest(m.Slot.Start, m.Made))
	switch {
	case isAbsence(m, t) && m.Code.Unfound() && moved && before.Kind != Departed:
		return Mismatch{Kind: SignedInAbsent, Slot: m.Slot.Name, Suggest: policy.UsePresent, At: t,
			Text:    fmt.Sprintf("signed in %s, marked absent %s", before.At, m.Slot.Label()),
			Actions: []Action{ActCorrect, ActAsk, ActStands}}, true
	case isPresence(m) && movedBy && when.Kind == Departed && (m.From.IsZero() || m.From.After(when.At)):
		return Mismatch{Kind: LeftPresent, Slot: m.Slot.Name, Suggest: policy.UseAway, Reason: when.Reason, At: m.Made,
			Text:    fmt.Sprintf("signed out %s, marked in %s at %s", when.At, m.Slot.Label(), m.Made),
			Actions: []Action{ActSeen, ActCorrect, ActAsk}}, true
	case isPresence(m) && noticeCovers(e.Notices, m, known) != nil:
		n := noticeCovers(e.Notices, m, known)
		return Mismatch{Kind: ExplainedPresent, Slot: m.Slot.Name, Suggest: policy.UseAway, Reason: n.Reason, At: m.Made, Notice: n.ID,
			Text:    fmt.Sprintf("home said %s, marked in %s", n.Reason, m.Slot.Label()),
			Actions: []Action{ActWithdraw, ActCorrect, ActAsk}}, true
	case isAbsence(m, t) && m.Code.Unfound() && m.Slot.Kind == day.Registration && len(arrivals(moves, m.Slot.Start)) == 0 && presentAfter(marks[i+1:]) != nil:
		p := presentAfter(marks[i+1:])
		return Mismatch{Kind: AbsentThenPresent, Slot: m.Slot.Name, Suggest: policy.UseLate, To: day.Earliest(p.Slot.Start, m.Slot.End), At: p.Slot.Start,
			Text:    fmt.Sprintf("absent %s, in at %s without an arrival", m.Slot.Label(), p.Slot.Label()),
			Actions: []Action{ActSeen, ActCorrect, ActAsk}}, true
	case isAbsence(m, t) && m.Code.Unfound() && i > 0 && presentRound(marks, i):
		return Mismatch{Kind: MissingBetween, Slot: m.Slot.Name, Suggest: policy.UsePresent, At: m.Made,
			Text:    fmt.Sprintf("absent %s alone, in before and after", m.Slot.Label()),
			Actions: []Action{ActAsk, ActCorrect, ActStands}}, true
	}
	return Mismatch{}, false
}

// believedIn returns that a home believes a student to be at school who was signed out.
func believedIn(e Evidence, rules Rules, t day.Minute, known day.Instant) (Mismatch, bool) {
	if len(e.Worries) == 0 {
		return Mismatch{}, false
	}
	p := At(e, rules, t, known)
	if p.Worried.IsZero() || p.State != Left {
		return Mismatch{}, false
	}
	return Mismatch{Kind: BelievedIn, At: t,
		Text:    fmt.Sprintf("signed out %s, home believes at school %s", p.Since, p.Worried),
		Actions: []Action{ActSettle, ActSeen}}, true
}

func lastMove(moves []Movement, by day.Minute) (Movement, bool) {
	var best Movement
	found := false
	for _, m := range moves {
		if !m.At.After(by) && (!found || m.At.After(best.At) || m.At == best.At && m.Known.Seq > best.Known.Seq) {
			best, found = m, true
		}
	}
	return best, found
}

func arrivals(moves []Movement, from day.Minute) []Movement {
	var out []Movement
	for _, m := range moves {
		if m.Kind != Departed && !m.At.Before(from) {
			out = append(out, m)
		}
	}
	return out
}

func presentAfter(marks []*Mark) *Mark {
	for i := range marks {
		if isPresence(marks[i]) {
			return marks[i]
		}
	}
	return nil
}

func presentRound(marks []*Mark, i int) bool {
	return isPresence(marks[i-1]) && presentAfter(marks[i+1:]) != nil
}

// noticeCovers returns a notice that has the student away for the whole slot.
func noticeCovers(notices []Notice, m *Mark, known day.Instant) *Notice {
	for i := range notices {
		n := &notices[i]
		if reached(n.Known, n.Withdrawn, lastOf(known)) && !n.From.After(m.Slot.Start) && !n.To.Before(m.Slot.End) && m.Code.Counts != policy.Void {
			return n
		}
	}
	return nil
}
