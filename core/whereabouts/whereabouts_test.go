package whereabouts_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"meldung/core/day"
	"meldung/core/policy"
	"meldung/core/whereabouts"
)

var (
	registration = day.Slot{Name: "AM", Start: 525, End: 540, Kind: day.Registration}
	first        = day.Slot{Name: "1", Start: 545, End: 595}
	second       = day.Slot{Name: "2", Start: 600, End: 650}
	slots        = []day.Slot{registration, first, second}

	present     = policy.Code{Code: "P", Word: "present", Counts: policy.Attended, OnSite: true}
	late        = policy.Code{Code: "L", Word: "late", Counts: policy.Attended, Late: true, OnSite: true}
	nobodyKnows = policy.Code{Code: "N", Word: "no reason yet", Counts: policy.Unexcused, Unexplained: true}
	ill         = policy.Code{Code: "M", Word: "medical", Counts: policy.Excused, Medical: true}
	unexcused   = policy.Code{Code: "U", Word: "unexcused", Counts: policy.Unexcused}
	trip        = policy.Code{Code: "V", Word: "off-site activity", Counts: policy.Activity}
	atDistance  = policy.Code{Code: "R", Word: "at a distance", Counts: policy.Attended}
	void        = policy.Code{Code: "Z", Word: "not required", Counts: policy.Void}

	rules = whereabouts.Rules{LateGrace: 5, ReturnGrace: 5, DayMargin: 15}
	date  = day.MustDate("2026-03-10")
)

func known(m day.Minute) whereabouts.Known {
	return whereabouts.Known{At: day.At(date, m), Seq: int64(m)}
}

func mark(s day.Slot, c policy.Code, made day.Minute) whereabouts.Mark {
	return whereabouts.Mark{Slot: s, Code: c, From: -1, To: -1, Made: made, Known: known(made + 1), Version: 1}
}

func came(m day.Minute) whereabouts.Movement {
	return whereabouts.Movement{Kind: whereabouts.Arrived, At: m, Return: -1, Known: known(m)}
}

func left(m, back day.Minute) whereabouts.Movement {
	return whereabouts.Movement{Kind: whereabouts.Departed, At: m, Return: back, Known: known(m)}
}

func wholeDay(reason string) whereabouts.Notice {
	return whereabouts.Notice{To: day.EndOfDay, Reason: reason, Known: known(480)}
}

func due(e whereabouts.Evidence) whereabouts.Evidence {
	for _, s := range slots {
		e.Due = append(e.Due, whereabouts.DueSlot{Slot: s})
	}
	return e
}

func TestStates(t *testing.T) {
	lateTo := mark(registration, late, 532)
	lateTo.To = 532
	corrected := mark(registration, present, 530)
	corrected.Version, corrected.Known = 2, known(560)
	for _, c := range []struct {
		name string
		e    whereabouts.Evidence
		at   day.Minute
		want whereabouts.State
	}{
		{"before the first slot", whereabouts.Evidence{}, 520, whereabouts.NotDue},
		{"due, and the register is out", whereabouts.Evidence{}, 530, whereabouts.NotYetKnown},
		{"marked in", whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, present, 530)}}, 535, whereabouts.In},
		{"a mark is not known before it came", whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, present, 530)}}, 530, whereabouts.NotYetKnown},
		{"marked in late in the register's time", whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, present, 538)}}, 545, whereabouts.In},
		{"late by more than the grace", whereabouts.Evidence{Marks: []whereabouts.Mark{lateTo}}, 540, whereabouts.InLate},
		{"no reason", whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, nobodyKnows, 530)}}, 540, whereabouts.Unaccounted},
		{"ill", whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, ill, 530)}}, 540, whereabouts.Explained},
		{"settled as unexcused", whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, unexcused, 530)}}, 540, whereabouts.Explained},
		{"home rang before the register", whereabouts.Evidence{Notices: []whereabouts.Notice{wholeDay("ill")}}, 530, whereabouts.Explained},
		{"home rang, and it is not time yet", whereabouts.Evidence{Notices: []whereabouts.Notice{wholeDay("ill")}}, 500, whereabouts.NotDue},
		{"home rang, and the register says no reason", whereabouts.Evidence{Notices: []whereabouts.Notice{wholeDay("ill")}, Marks: []whereabouts.Mark{mark(registration, nobodyKnows, 530)}}, 540, whereabouts.Explained},
		{"a notice never overwrites a presence", whereabouts.Evidence{Notices: []whereabouts.Notice{wholeDay("ill")}, Marks: []whereabouts.Mark{mark(registration, present, 530)}}, 540, whereabouts.In},
		{"signed in before the slot, then absent", whereabouts.Evidence{Movements: []whereabouts.Movement{came(521)}, Marks: []whereabouts.Mark{mark(registration, nobodyKnows, 530)}}, 540, whereabouts.Unaccounted},
		{"signed in after the slot began", whereabouts.Evidence{Movements: []whereabouts.Movement{came(534)}, Marks: []whereabouts.Mark{mark(registration, nobodyKnows, 530)}}, 540, whereabouts.InLate},
		{"a movement outranks a mark of the same minute", whereabouts.Evidence{Movements: []whereabouts.Movement{left(530, -1)}, Marks: []whereabouts.Mark{mark(registration, present, 530)}}, 540, whereabouts.Left},
		{"signed out, then absent from a lesson", whereabouts.Evidence{Movements: []whereabouts.Movement{left(542, -1)}, Marks: []whereabouts.Mark{mark(registration, present, 530), mark(first, nobodyKnows, 550)}}, 560, whereabouts.Left},
		{"not back", whereabouts.Evidence{Movements: []whereabouts.Movement{left(542, 590)}}, 601, whereabouts.Unaccounted},
		{"within the grace of the return", whereabouts.Evidence{Movements: []whereabouts.Movement{left(542, 590)}}, 595, whereabouts.Left},
		{"expected, and the time has passed", whereabouts.Evidence{Notices: []whereabouts.Notice{{To: 570, Returns: true, Reason: "on the way", Known: known(530)}}, Marks: []whereabouts.Mark{mark(registration, nobodyKnows, 530)}}, 580, whereabouts.Unaccounted},
		{"expected, still in time", whereabouts.Evidence{Notices: []whereabouts.Notice{{To: 570, Returns: true, Reason: "on the way", Known: known(530)}}, Marks: []whereabouts.Mark{mark(registration, nobodyKnows, 530)}}, 565, whereabouts.Explained},
		{"on a trip", whereabouts.Evidence{Activities: []whereabouts.Activity{{From: 510, To: 900, Known: known(400)}}}, 530, whereabouts.Elsewhere},
		{"marked on a trip", whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, trip, 530)}}, 535, whereabouts.Elsewhere},
		{"attending at a distance is not on the premises", whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, atDistance, 530)}}, 535, whereabouts.Elsewhere},
		{"present at registration, gone in lesson 1", whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, present, 530), mark(first, nobodyKnows, 550)}}, 560, whereabouts.Unaccounted},
		{"absent at registration, present in lesson 1", whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, nobodyKnows, 530), mark(first, present, 550)}}, 560, whereabouts.InLate},
		{"not required", whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, void, 530)}}, 540, whereabouts.NotDue},
		{"gone home", whereabouts.Evidence{Marks: []whereabouts.Mark{mark(second, present, 610)}}, 665, whereabouts.Left},
		{"a correction counts from when it was known", whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, nobodyKnows, 530), corrected}}, 561, whereabouts.In},
	} {
		t.Run(c.name, func(t *testing.T) {
			got := whereabouts.At(due(c.e), rules, c.at, day.At(date, c.at))
			assert.Equal(t, c.want.String(), got.State.String())
		})
	}
}

func TestSeenAndThenAbsentIsSearchedForFirst(t *testing.T) {
	e := due(whereabouts.Evidence{Movements: []whereabouts.Movement{came(521)}, Marks: []whereabouts.Mark{mark(registration, nobodyKnows, 530)}})
	assert.True(t, whereabouts.At(e, rules, 540, day.At(date, 540)).OnSite)
	e = due(whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, nobodyKnows, 530)}})
	assert.False(t, whereabouts.At(e, rules, 540, day.At(date, 540)).OnSite)
}

func TestUndoneMovementsAreForgottenOnlyFromThenOn(t *testing.T) {
	m := came(521)
	undone := known(540)
	m.Undone = &undone
	e := due(whereabouts.Evidence{Movements: []whereabouts.Movement{m}})
	assert.Equal(t, whereabouts.In, whereabouts.At(e, rules, 530, day.At(date, 530)).State)
	assert.Equal(t, whereabouts.NotYetKnown, whereabouts.At(e, rules, 530, day.At(date, 541)).State)
}

func TestMismatches(t *testing.T) {
	for _, c := range []struct {
		name string
		e    whereabouts.Evidence
		want []whereabouts.MismatchKind
	}{
		{"signed in but absent", whereabouts.Evidence{Movements: []whereabouts.Movement{came(521)}, Marks: []whereabouts.Mark{mark(registration, nobodyKnows, 530)}}, []whereabouts.MismatchKind{whereabouts.SignedInAbsent}},
		{"left but marked in", whereabouts.Evidence{Movements: []whereabouts.Movement{left(542, -1)}, Marks: []whereabouts.Mark{mark(registration, present, 530), mark(first, present, 550)}}, []whereabouts.MismatchKind{whereabouts.LeftPresent}},
		{"left and came back", whereabouts.Evidence{Movements: []whereabouts.Movement{left(542, -1), came(544)}, Marks: []whereabouts.Mark{mark(first, present, 550)}}, nil},
		{"left, marked in, and then seen", whereabouts.Evidence{Movements: []whereabouts.Movement{left(542, -1), came(550)}, Marks: []whereabouts.Mark{mark(first, present, 550)}}, nil},
		{"left in the lesson after the mark", whereabouts.Evidence{Movements: []whereabouts.Movement{left(570, -1)}, Marks: []whereabouts.Mark{mark(first, present, 550)}}, nil},
		{"explained but marked in", whereabouts.Evidence{Notices: []whereabouts.Notice{wholeDay("ill")}, Marks: []whereabouts.Mark{mark(registration, present, 530)}}, []whereabouts.MismatchKind{whereabouts.ExplainedPresent}},
		{"absent, then present without an arrival", whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, nobodyKnows, 530), mark(first, present, 550)}}, []whereabouts.MismatchKind{whereabouts.AbsentThenPresent}},
		{"absent, arrived, present", whereabouts.Evidence{Movements: []whereabouts.Movement{came(543)}, Marks: []whereabouts.Mark{mark(registration, nobodyKnows, 530), mark(first, present, 550)}}, nil},
		{"one lesson missing between two", whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, present, 530), mark(first, nobodyKnows, 550), mark(second, present, 605)}}, []whereabouts.MismatchKind{whereabouts.MissingBetween}},
		{"all in agreement", whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, present, 530), mark(first, present, 550)}}, nil},
	} {
		t.Run(c.name, func(t *testing.T) {
			var got []whereabouts.MismatchKind
			for _, m := range whereabouts.Mismatches(due(c.e), 640, day.At(date, 640)) {
				got = append(got, m.Kind)
				assert.NotEmpty(t, m.Actions)
				assert.NotEmpty(t, m.Words)
			}
			assert.Equal(t, c.want, got)
		})
	}
}

// randomDay draws evidence of one student on one date.
func randomDay(t *rapid.T) whereabouts.Evidence {
	e := due(whereabouts.Evidence{})
	minute := func(name string) day.Minute { return day.Minute(rapid.IntRange(480, 660).Draw(t, name)) }
	codes := []policy.Code{present, late, nobodyKnows, ill, unexcused, trip, atDistance, void}
	for n, s := range slots {
		for v := range rapid.IntRange(0, 2).Draw(t, fmt.Sprint("versions", n)) {
			m := mark(s, codes[rapid.IntRange(0, len(codes)-1).Draw(t, "code")], minute("made"))
			m.Version = v + 1
			e.Marks = append(e.Marks, m)
		}
	}
	for range rapid.IntRange(0, 3).Draw(t, "movements") {
		m := came(minute("moved"))
		if rapid.Bool().Draw(t, "out") {
			m = left(m.At, m.At+20)
		}
		e.Movements = append(e.Movements, m)
	}
	for range rapid.IntRange(0, 2).Draw(t, "notices") {
		from := minute("from")
		e.Notices = append(e.Notices, whereabouts.Notice{From: from, To: from + 60, Returns: rapid.Bool().Draw(t, "returns"), Reason: "r", Known: known(minute("told"))})
	}
	return e
}

func TestTheCountAddsUpToTheRoll(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var count whereabouts.Count
		at := day.Minute(rapid.IntRange(470, 700).Draw(t, "at"))
		n := rapid.IntRange(1, 8).Draw(t, "students")
		for range n {
			p := whereabouts.At(randomDay(t), rules, at, day.At(date, at))
			assert.Less(t, p.State, whereabouts.States)
			count[p.State]++
		}
		assert.Equal(t, n, count.Roll())
	})
}

func TestLookingEarlierNeverReadsLaterEvidence(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		e := randomDay(t)
		at := day.Minute(rapid.IntRange(470, 660).Draw(t, "at"))
		before := whereabouts.At(e, rules, at, day.At(date, at))
		later := at + 1
		n := mark(slots[rapid.IntRange(0, 2).Draw(t, "slot")], nobodyKnows, later)
		n.Version, n.Known = 9, known(later)
		e.Marks = append(e.Marks, n)
		e.Movements = append(e.Movements, left(later, -1))
		e.Notices = append(e.Notices, whereabouts.Notice{To: day.EndOfDay, Reason: "later", Known: known(later)})
		assert.Equal(t, before, whereabouts.At(e, rules, at, day.At(date, at)))
	})
}

// What was shown at a minute is what replaying the evidence known by then shows,
// however the rest of the day went.
func TestReplayShowsWhatWasShown(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		e := randomDay(t)
		at := day.Minute(rapid.IntRange(470, 660).Draw(t, "at"))
		limit := day.At(date, at)
		replay := whereabouts.Evidence{Due: e.Due}
		for _, m := range e.Marks {
			if m.Known.At <= limit {
				replay.Marks = append(replay.Marks, m)
			}
		}
		for _, m := range e.Movements {
			if m.Known.At <= limit {
				replay.Movements = append(replay.Movements, m)
			}
		}
		for _, n := range e.Notices {
			if n.Known.At <= limit {
				replay.Notices = append(replay.Notices, n)
			}
		}
		assert.Equal(t, whereabouts.At(replay, rules, at, limit), whereabouts.At(e, rules, at, limit))
	})
}

func BenchmarkTwoThousandStudents(b *testing.B) {
	e := due(whereabouts.Evidence{Movements: []whereabouts.Movement{came(521)}, Notices: []whereabouts.Notice{wholeDay("ill")},
		Marks: []whereabouts.Mark{mark(registration, present, 530), mark(first, present, 550), mark(second, nobodyKnows, 605)}})
	for b.Loop() {
		for range 2000 {
			whereabouts.At(e, rules, 640, day.At(date, 640))
		}
	}
}
