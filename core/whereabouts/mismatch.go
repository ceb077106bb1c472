package whereabouts

import (
	"fmt"

	"meldung/core/day"
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
)

// Mismatch is two pieces of evidence that can't both be right.
type Mismatch struct {
	Kind    MismatchKind
	Slot    string     // of the mark that contradicts
	Suggest string     // code that would agree, for ActCorrect
	To      day.Minute // with Suggest: the time of arriving; −1 for none
	From    day.Minute // with Suggest: the time of leaving; −1 for none
	At      day.Minute // for ActSeen: when
	Notice  int64
	Words   string
	Actions []Action
}

// Mismatches returns the contradictions in what was known at t, in the order of
// their slots, at most one for a slot.
func Mismatches(e Evidence, t day.Minute, known day.Instant) []Mismatch {
	marks := current(e.Marks, t, known)
	var moves []Movement
	for _, m := range e.Movements {
		if m.At <= t && reached(m.Known, m.Undone, known) {
			moves = append(moves, m)
		}
	}
	var out []Mismatch
	for i, m := range marks {
		if m.Slot.Start > t {
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
	when, movedBy := lastMove(moves, max(m.Slot.Start, m.Made))
	switch {
	case isAbsence(m, t) && m.Code.Unexplained && moved && before.Kind != Departed:
		return Mismatch{Kind: SignedInAbsent, Slot: m.Slot.Name, Suggest: "P", To: -1, From: -1, At: t,
			Words:   fmt.Sprintf("signed in %s, marked absent %s", before.At, m.Slot.Words()),
			Actions: []Action{ActCorrect, ActAsk, ActStands}}, true
	case isPresence(m) && movedBy && when.Kind == Departed && (m.From < 0 || m.From > when.At):
		return Mismatch{Kind: LeftPresent, Slot: m.Slot.Name, Suggest: "X", To: -1, From: -1, At: m.Made,
			Words:   fmt.Sprintf("signed out %s, marked in %s at %s", when.At, m.Slot.Words(), m.Made),
			Actions: []Action{ActSeen, ActCorrect, ActAsk}}, true
	case isPresence(m) && noticeCovers(e.Notices, m, known) != nil:
		n := noticeCovers(e.Notices, m, known)
		return Mismatch{Kind: ExplainedPresent, Slot: m.Slot.Name, Suggest: "X", To: -1, From: -1, At: m.Made, Notice: n.ID,
			Words:   fmt.Sprintf("home said %s, marked in %s", n.Reason, m.Slot.Words()),
			Actions: []Action{ActWithdraw, ActCorrect, ActAsk}}, true
	case isAbsence(m, t) && m.Code.Unexplained && m.Slot.Kind == day.Registration && len(arrivals(moves, m.Slot.Start)) == 0 && presentAfter(marks[i+1:]) != nil:
		p := presentAfter(marks[i+1:])
		return Mismatch{Kind: AbsentThenPresent, Slot: m.Slot.Name, Suggest: "L", To: min(p.Slot.Start, m.Slot.End), From: -1, At: p.Slot.Start,
			Words:   fmt.Sprintf("absent %s, in at %s without an arrival", m.Slot.Words(), p.Slot.Words()),
			Actions: []Action{ActSeen, ActCorrect, ActAsk}}, true
	case isAbsence(m, t) && m.Code.Unexplained && i > 0 && presentRound(marks, i):
		return Mismatch{Kind: MissingBetween, Slot: m.Slot.Name, Suggest: "P", To: -1, From: -1, At: m.Made,
			Words:   fmt.Sprintf("absent %s alone, in before and after", m.Slot.Words()),
			Actions: []Action{ActAsk, ActCorrect, ActStands}}, true
	}
	return Mismatch{}, false
}

func isPresence(m *Mark) bool {
	return m.Code.OnSite && (!m.Code.Counts.Absent() || m.Code.Late)
}

func lastMove(moves []Movement, by day.Minute) (Movement, bool) {
	var best Movement
	found := false
	for _, m := range moves {
		if m.At <= by && (!found || m.At > best.At || m.At == best.At && m.Known.Seq > best.Known.Seq) {
			best, found = m, true
		}
	}
	return best, found
}

func arrivals(moves []Movement, from day.Minute) []Movement {
	var out []Movement
	for _, m := range moves {
		if m.Kind != Departed && m.At >= from {
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
		if reached(n.Known, n.Withdrawn, known) && n.From <= m.Slot.Start && n.To >= m.Slot.End && m.Code.Counts != policy.Void {
			return n
		}
	}
	return nil
}
