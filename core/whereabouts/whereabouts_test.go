package whereabouts_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/policy"
	"meldung/core/whereabouts"
)

var (
	registration = day.Slot{Name: "AM", Start: day.MustMinute("08:45"), End: day.MustMinute("09:00"), Kind: day.Registration}
	first        = day.Slot{Name: "1", Start: day.MustMinute("09:05"), End: day.MustMinute("09:55")}
	second       = day.Slot{Name: "2", Start: day.MustMinute("10:00"), End: day.MustMinute("10:50")}
	slots        = []day.Slot{registration, first, second}

	present     = policy.Code{Code: "P", Word: "present", Counts: policy.Attended, OnSite: true}
	late        = policy.Code{Code: "L", Word: "late", Counts: policy.Attended, Late: true, OnSite: true}
	nobodyKnows = policy.Code{Code: "N", Word: "no reason yet", Counts: policy.Unexcused, Unexplained: true}
	ill         = policy.Code{Code: "M", Word: "medical", Counts: policy.Excused, Medical: true}
	unexcused   = policy.Code{Code: "U", Word: "unexcused", Counts: policy.Unexcused}
	offSite     = policy.Code{Code: "V", Word: "off-site activity", Counts: policy.Activity}
	atDistance  = policy.Code{Code: "R", Word: "at a distance", Counts: policy.Attended}
	void        = policy.Code{Code: "Z", Word: "not required", Counts: policy.Void}

	rules = whereabouts.Rules{LateGrace: 5, ReturnGrace: 5, DayMargin: 15}
	date  = day.MustDate("2026-03-10")
)

func known(m day.Minute) whereabouts.Known {
	return whereabouts.Known{At: day.At(date, m), Seq: ids.Entry(m.SinceMidnight())}
}

func mark(s day.Slot, c policy.Code, made day.Minute) whereabouts.Mark {
	return whereabouts.Mark{Slot: s, Code: c, Made: made, Known: known(made.Add(1)), Version: 1}
}

func came(m day.Minute) whereabouts.Movement {
	return whereabouts.Movement{Kind: whereabouts.Arrived, At: m, Known: known(m)}
}

func left(m, back day.Minute) whereabouts.Movement {
	return whereabouts.Movement{Kind: whereabouts.Departed, At: m, Return: back, Known: known(m)}
}

func wholeDay(reason string) whereabouts.Notice {
	return whereabouts.Notice{To: day.EndOfDay, Reason: reason, Known: known(day.MustMinute("08:00"))}
}

// due makes the student due in all slots. The register of each that has a mark is in.
func due(e whereabouts.Evidence) whereabouts.Evidence {
	for _, s := range slots {
		d := whereabouts.DueSlot{Slot: s}
		for _, m := range e.Marks {
			if m.Slot.Name == s.Name && (d.Sent == nil || m.Known.At < d.Sent.At) {
				d.Sent = &whereabouts.Known{At: m.Known.At, Seq: m.Known.Seq}
			}
		}
		e.Due = append(e.Due, d)
	}
	return e
}

func TestStates(t *testing.T) {
	lateTo := mark(registration, late, day.MustMinute("08:52"))
	lateTo.To = day.MustMinute("08:52")
	corrected := mark(registration, present, day.MustMinute("08:50"))
	corrected.Version, corrected.Known = 2, known(day.MustMinute("09:20"))
	for _, c := range []struct {
		name string
		e    whereabouts.Evidence
		at   day.Minute
		want whereabouts.State
	}{
		{"before the first slot", whereabouts.Evidence{}, day.MustMinute("08:40"), whereabouts.NotDue},
		{"due, and the register is out", whereabouts.Evidence{}, day.MustMinute("08:50"), whereabouts.NotYetKnown},
		{"marked in", whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, present, day.MustMinute("08:50"))}}, day.MustMinute("08:55"), whereabouts.In},
		{"a mark is not known before it came", whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, present, day.MustMinute("08:50"))}}, day.MustMinute("08:50"), whereabouts.NotYetKnown},
		{"marked in late in the register's time", whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, present, day.MustMinute("08:58"))}}, day.MustMinute("09:05"), whereabouts.In},
		{"late by more than the grace", whereabouts.Evidence{Marks: []whereabouts.Mark{lateTo}}, day.MustMinute("09:00"), whereabouts.InLate},
		{"no reason", whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, nobodyKnows, day.MustMinute("08:50"))}}, day.MustMinute("09:00"), whereabouts.Unaccounted},
		{"ill", whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, ill, day.MustMinute("08:50"))}}, day.MustMinute("09:00"), whereabouts.Explained},
		{"unexcused in a register is nobody found", whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, unexcused, day.MustMinute("08:50"))}}, day.MustMinute("09:00"), whereabouts.Unaccounted},
		{"home rang before the register", whereabouts.Evidence{Notices: []whereabouts.Notice{wholeDay("ill")}}, day.MustMinute("08:50"), whereabouts.Explained},
		{"home rang, and it is not time yet", whereabouts.Evidence{Notices: []whereabouts.Notice{wholeDay("ill")}}, day.MustMinute("08:20"), whereabouts.NotDue},
		{"home rang, and the register says no reason", whereabouts.Evidence{Notices: []whereabouts.Notice{wholeDay("ill")}, Marks: []whereabouts.Mark{mark(registration, nobodyKnows, day.MustMinute("08:50"))}}, day.MustMinute("09:00"), whereabouts.Explained},
		{"a notice never overwrites a presence", whereabouts.Evidence{Notices: []whereabouts.Notice{wholeDay("ill")}, Marks: []whereabouts.Mark{mark(registration, present, day.MustMinute("08:50"))}}, day.MustMinute("09:00"), whereabouts.In},
		{"signed in before the slot, then absent", whereabouts.Evidence{Movements: []whereabouts.Movement{came(day.MustMinute("08:41"))}, Marks: []whereabouts.Mark{mark(registration, nobodyKnows, day.MustMinute("08:50"))}}, day.MustMinute("09:00"), whereabouts.Unaccounted},
		{"signed in after the slot began", whereabouts.Evidence{Movements: []whereabouts.Movement{came(day.MustMinute("08:54"))}, Marks: []whereabouts.Mark{mark(registration, nobodyKnows, day.MustMinute("08:50"))}}, day.MustMinute("09:00"), whereabouts.InLate},
		{"a movement outranks a mark of the same minute", whereabouts.Evidence{Movements: []whereabouts.Movement{left(day.MustMinute("08:50"), day.Minute{})}, Marks: []whereabouts.Mark{mark(registration, present, day.MustMinute("08:50"))}}, day.MustMinute("09:00"), whereabouts.Left},
		{"signed out, then absent from a lesson", whereabouts.Evidence{Movements: []whereabouts.Movement{left(day.MustMinute("09:02"), day.Minute{})}, Marks: []whereabouts.Mark{mark(registration, present, day.MustMinute("08:50")), mark(first, nobodyKnows, day.MustMinute("09:10"))}}, day.MustMinute("09:20"), whereabouts.Left},
		{"not back", whereabouts.Evidence{Movements: []whereabouts.Movement{left(day.MustMinute("09:02"), day.MustMinute("09:50"))}}, day.MustMinute("10:01"), whereabouts.Unaccounted},
		{"within the grace of the return", whereabouts.Evidence{Movements: []whereabouts.Movement{left(day.MustMinute("09:02"), day.MustMinute("09:50"))}}, day.MustMinute("09:55"), whereabouts.Left},
		{"expected, and the time has passed", whereabouts.Evidence{Notices: []whereabouts.Notice{{To: day.MustMinute("09:30"), Returns: true, Reason: "on the way", Known: known(day.MustMinute("08:50"))}}, Marks: []whereabouts.Mark{mark(registration, nobodyKnows, day.MustMinute("08:50"))}}, day.MustMinute("09:40"), whereabouts.Unaccounted},
		{"expected, still in time", whereabouts.Evidence{Notices: []whereabouts.Notice{{To: day.MustMinute("09:30"), Returns: true, Reason: "on the way", Known: known(day.MustMinute("08:50"))}}, Marks: []whereabouts.Mark{mark(registration, nobodyKnows, day.MustMinute("08:50"))}}, day.MustMinute("09:25"), whereabouts.Explained},
		{"on a trip", whereabouts.Evidence{Activities: []whereabouts.Activity{{From: day.MustMinute("08:30"), To: day.MustMinute("15:00"), Known: known(day.MustMinute("06:40"))}}}, day.MustMinute("08:50"), whereabouts.Elsewhere},
		{"marked on a trip", whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, offSite, day.MustMinute("08:50"))}}, day.MustMinute("08:55"), whereabouts.Elsewhere},
		{"attending at a distance is not on the premises", whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, atDistance, day.MustMinute("08:50"))}}, day.MustMinute("08:55"), whereabouts.Elsewhere},
		{"present at registration, gone in lesson 1", whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, present, day.MustMinute("08:50")), mark(first, nobodyKnows, day.MustMinute("09:10"))}}, day.MustMinute("09:20"), whereabouts.Unaccounted},
		{"absent at registration, present in lesson 1", whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, nobodyKnows, day.MustMinute("08:50")), mark(first, present, day.MustMinute("09:10"))}}, day.MustMinute("09:20"), whereabouts.InLate},
		{"not required", whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, void, day.MustMinute("08:50"))}}, day.MustMinute("09:00"), whereabouts.NotDue},
		{"gone home", whereabouts.Evidence{Marks: []whereabouts.Mark{mark(second, present, day.MustMinute("10:10"))}}, day.MustMinute("11:05"), whereabouts.Left},
		{"a correction counts from when it was known", whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, nobodyKnows, day.MustMinute("08:50")), corrected}}, day.MustMinute("09:21"), whereabouts.In},
	} {
		t.Run(c.name, func(t *testing.T) {
			got := whereabouts.At(due(c.e), rules, c.at, day.At(date, c.at))
			assert.Equal(t, c.want.String(), got.State.String())
		})
	}
}

func TestSeenAndThenAbsentIsSearchedForFirst(t *testing.T) {
	e := due(whereabouts.Evidence{Movements: []whereabouts.Movement{came(day.MustMinute("08:41"))}, Marks: []whereabouts.Mark{mark(registration, nobodyKnows, day.MustMinute("08:50"))}})
	assert.True(t, whereabouts.At(e, rules, day.MustMinute("09:00"), day.At(date, day.MustMinute("09:00"))).OnSite)
	e = due(whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, nobodyKnows, day.MustMinute("08:50"))}})
	assert.False(t, whereabouts.At(e, rules, day.MustMinute("09:00"), day.At(date, day.MustMinute("09:00"))).OnSite)
}

func TestUndoneMovementsAreForgottenOnlyFromThenOn(t *testing.T) {
	m := came(day.MustMinute("08:41"))
	undone := known(day.MustMinute("09:00"))
	m.Undone = &undone
	e := due(whereabouts.Evidence{Movements: []whereabouts.Movement{m}})
	assert.Equal(t, whereabouts.In, whereabouts.At(e, rules, day.MustMinute("08:50"), day.At(date, day.MustMinute("08:50"))).State)
	assert.Equal(t, whereabouts.NotYetKnown, whereabouts.At(e, rules, day.MustMinute("08:50"), day.At(date, day.MustMinute("09:01"))).State)
}

func TestMismatches(t *testing.T) {
	for _, c := range []struct {
		name string
		e    whereabouts.Evidence
		want []whereabouts.MismatchKind
	}{
		{"signed in but absent", whereabouts.Evidence{Movements: []whereabouts.Movement{came(day.MustMinute("08:41"))}, Marks: []whereabouts.Mark{mark(registration, nobodyKnows, day.MustMinute("08:50"))}}, []whereabouts.MismatchKind{whereabouts.SignedInAbsent}},
		{"left but marked in", whereabouts.Evidence{Movements: []whereabouts.Movement{left(day.MustMinute("09:02"), day.Minute{})}, Marks: []whereabouts.Mark{mark(registration, present, day.MustMinute("08:50")), mark(first, present, day.MustMinute("09:10"))}}, []whereabouts.MismatchKind{whereabouts.LeftPresent}},
		{"left and came back", whereabouts.Evidence{Movements: []whereabouts.Movement{left(day.MustMinute("09:02"), day.Minute{}), came(day.MustMinute("09:04"))}, Marks: []whereabouts.Mark{mark(first, present, day.MustMinute("09:10"))}}, nil},
		{"left, marked in, and then seen", whereabouts.Evidence{Movements: []whereabouts.Movement{left(day.MustMinute("09:02"), day.Minute{}), came(day.MustMinute("09:10"))}, Marks: []whereabouts.Mark{mark(first, present, day.MustMinute("09:10"))}}, nil},
		{"left in the lesson after the mark", whereabouts.Evidence{Movements: []whereabouts.Movement{left(day.MustMinute("09:30"), day.Minute{})}, Marks: []whereabouts.Mark{mark(first, present, day.MustMinute("09:10"))}}, nil},
		{"explained but marked in", whereabouts.Evidence{Notices: []whereabouts.Notice{wholeDay("ill")}, Marks: []whereabouts.Mark{mark(registration, present, day.MustMinute("08:50"))}}, []whereabouts.MismatchKind{whereabouts.ExplainedPresent}},
		{"absent, then present without an arrival", whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, nobodyKnows, day.MustMinute("08:50")), mark(first, present, day.MustMinute("09:10"))}}, []whereabouts.MismatchKind{whereabouts.AbsentThenPresent}},
		{"absent, arrived, present", whereabouts.Evidence{Movements: []whereabouts.Movement{came(day.MustMinute("09:03"))}, Marks: []whereabouts.Mark{mark(registration, nobodyKnows, day.MustMinute("08:50")), mark(first, present, day.MustMinute("09:10"))}}, nil},
		{"one lesson missing between two", whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, present, day.MustMinute("08:50")), mark(first, nobodyKnows, day.MustMinute("09:10")), mark(second, present, day.MustMinute("10:05"))}}, []whereabouts.MismatchKind{whereabouts.MissingBetween}},
		{"all in agreement", whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, present, day.MustMinute("08:50")), mark(first, present, day.MustMinute("09:10"))}}, nil},
	} {
		t.Run(c.name, func(t *testing.T) {
			var got []whereabouts.MismatchKind
			for _, m := range whereabouts.Mismatches(due(c.e), rules, day.MustMinute("10:40"), day.At(date, day.MustMinute("10:40"))) {
				got = append(got, m.Kind)
				assert.NotEmpty(t, m.Actions)
				assert.NotEmpty(t, m.Text)
			}
			assert.Equal(t, c.want, got)
		})
	}
}

func undone(t *rapid.T, minute func(string) day.Minute) *whereabouts.Known {
	if rapid.IntRange(0, 3).Draw(t, "undone") > 0 {
		return nil
	}
	k := known(minute("taken back"))
	return &k
}

// randomDay draws evidence of one student on one date.
func randomDay(t *rapid.T) whereabouts.Evidence {
	e := due(whereabouts.Evidence{})
	minute := func(name string) day.Minute {
		return day.Midnight.Add(day.Minutes(rapid.IntRange(480, 660).Draw(t, name)))
	}
	codes := []policy.Code{present, late, nobodyKnows, ill, unexcused, offSite, atDistance, void}
	for n, s := range slots {
		for v := range rapid.IntRange(0, 2).Draw(t, fmt.Sprint("versions", n)) {
			m := mark(s, codes[rapid.IntRange(0, len(codes)-1).Draw(t, "code")], minute("made"))
			m.Version = v + 1
			m.By = whereabouts.Hand(rapid.IntRange(0, 5).Draw(t, "by"))
			e.Marks = append(e.Marks, m)
		}
	}
	for range rapid.IntRange(0, 3).Draw(t, "movements") {
		m := came(minute("moved"))
		if rapid.Bool().Draw(t, "out") {
			m = left(m.At, m.At.Add(20))
		}
		if rapid.Bool().Draw(t, "at a station") {
			m.By = whereabouts.ByStation
		}
		e.Movements = append(e.Movements, m)
	}
	for range rapid.IntRange(0, 2).Draw(t, "notices") {
		from := minute("from")
		n := whereabouts.Notice{From: from, To: from.Add(60), Returns: rapid.Bool().Draw(t, "returns"), Reason: "r", Known: known(minute("told"))}
		n.OnTheWay = n.Returns && rapid.Bool().Draw(t, "on the way")
		e.Notices = append(e.Notices, n)
	}
	for range rapid.IntRange(0, 1).Draw(t, "activities") {
		from := minute("begins")
		e.Activities = append(e.Activities, whereabouts.Activity{From: from, To: from.Add(40), Returns: rapid.Bool().Draw(t, "back"), OnSite: rapid.Bool().Draw(t, "here"), Known: known(minute("planned"))})
		a := &e.Activities[0]
		// Nothing is said of what nobody has planned, and nobody is back before it begins.
		knownOf := func(at day.Minute) whereabouts.Known {
			if k := known(at); k.After(a.Known) {
				return k
			}
			return a.Known
		}
		for range rapid.IntRange(0, 3).Draw(t, "said") {
			at := minute("said at")
			a.Said = append(a.Said, whereabouts.Told{At: at, Here: rapid.Bool().Draw(t, "with them"), Known: knownOf(at)})
		}
		for range rapid.IntRange(0, 1).Draw(t, "backs") {
			at := from.Add(day.Minutes(rapid.IntRange(1, 50).Draw(t, "come back")))
			a.Backs = append(a.Backs, whereabouts.Back{At: at, Home: rapid.Bool().Draw(t, "home"), Known: knownOf(at), Undone: undone(t, minute)})
		}
	}
	for range rapid.IntRange(0, 2).Draw(t, "worries") {
		at := minute("worried")
		e.Worries = append(e.Worries, whereabouts.Worry{At: at, Known: known(at), Undone: undone(t, minute)})
	}
	for range rapid.IntRange(0, 1).Draw(t, "settlings") {
		at := minute("settled")
		e.Settlings = append(e.Settlings, whereabouts.Settling{At: at, How: "h", Known: known(at), Undone: undone(t, minute)})
	}
	return e
}

func TestTheCountAddsUpToTheRoll(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var count whereabouts.Count
		at := day.Midnight.Add(day.Minutes(rapid.IntRange(470, 700).Draw(t, "at")))
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
		at := day.Midnight.Add(day.Minutes(rapid.IntRange(470, 660).Draw(t, "at")))
		before := whereabouts.At(e, rules, at, day.At(date, at))
		later := at.Add(1)
		n := mark(slots[rapid.IntRange(0, 2).Draw(t, "slot")], nobodyKnows, later)
		n.Version, n.Known = 9, known(later)
		e.Marks = append(e.Marks, n)
		e.Movements = append(e.Movements, left(later, day.Minute{}))
		e.Notices = append(e.Notices, whereabouts.Notice{To: day.EndOfDay, Reason: "later", Known: known(later)})
		assert.Equal(t, before, whereabouts.At(e, rules, at, day.At(date, at)))
	})
}

// What was shown at a minute is what replaying the evidence known by then shows,
// however the rest of the day went.
func TestReplayShowsWhatWasShown(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		e := randomDay(t)
		at := day.Midnight.Add(day.Minutes(rapid.IntRange(470, 660).Draw(t, "at")))
		limit := day.At(date, at)
		replay := whereabouts.Evidence{Due: e.Due}
		for _, w := range e.Worries {
			if w.Known.At <= limit {
				replay.Worries = append(replay.Worries, w)
			}
		}
		for _, w := range e.Settlings {
			if w.Known.At <= limit {
				replay.Settlings = append(replay.Settlings, w)
			}
		}
		for _, a := range e.Activities {
			if a.Known.At <= limit || a.OnSite {
				replay.Activities = append(replay.Activities, a)
			}
		}
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
	e := due(whereabouts.Evidence{Movements: []whereabouts.Movement{came(day.MustMinute("08:41"))}, Notices: []whereabouts.Notice{wholeDay("ill")},
		Marks: []whereabouts.Mark{mark(registration, present, day.MustMinute("08:50")), mark(first, present, day.MustMinute("09:10")), mark(second, nobodyKnows, day.MustMinute("10:05"))}})
	for b.Loop() {
		for range 2000 {
			whereabouts.At(e, rules, day.MustMinute("10:40"), day.At(date, day.MustMinute("10:40")))
		}
	}
}
