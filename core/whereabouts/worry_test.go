package whereabouts_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"meldung/core/day"
	"meldung/core/policy"
	"meldung/core/whereabouts"
)

func at(m string) day.Minute { return day.MustMinute(m) }

func position(e whereabouts.Evidence, t string) whereabouts.Position {
	return whereabouts.At(due(e), rules, at(t), day.At(date, at(t)))
}

// believes is a home saying that the student is at school.
func believes(t string) whereabouts.Worry {
	return whereabouts.Worry{At: at(t), Known: known(at(t))}
}

func settledAt(t string) whereabouts.Settling {
	return whereabouts.Settling{At: at(t), How: "with her aunt", Known: known(at(t))}
}

func markBy(s day.Slot, c policy.Code, made string, by whereabouts.Hand) whereabouts.Mark {
	m := mark(s, c, at(made))
	m.By = by
	return m
}

func TestWorriedFor(t *testing.T) {
	missing := mark(registration, nobodyKnows, at("08:50"))
	station := came(at("09:20"))
	station.By = whereabouts.ByStation
	out := left(at("09:02"), day.Minute{})
	withdrawn := believes("09:15")
	k := known(at("09:18"))
	withdrawn.Undone = &k
	notice := wholeDay("ill")
	for _, c := range []struct {
		name    string
		e       whereabouts.Evidence
		at      string
		want    whereabouts.State
		worried bool
	}{
		{"the home believes her at school", whereabouts.Evidence{Marks: []whereabouts.Mark{missing}, Worries: []whereabouts.Worry{believes("09:15")}}, "09:16", whereabouts.Unaccounted, true},
		{"not before it said so", whereabouts.Evidence{Marks: []whereabouts.Mark{missing}, Worries: []whereabouts.Worry{believes("09:15")}}, "09:14", whereabouts.Unaccounted, false},
		{"though the register is out", whereabouts.Evidence{Worries: []whereabouts.Worry{believes("09:15")}}, "09:16", whereabouts.Unaccounted, true},
		{"it overrides a notice", whereabouts.Evidence{Notices: []whereabouts.Notice{notice}, Worries: []whereabouts.Worry{believes("09:15")}}, "09:16", whereabouts.Unaccounted, true},
		{"and one that comes afterwards", whereabouts.Evidence{Notices: []whereabouts.Notice{{To: day.EndOfDay, Reason: "ill", Known: known(at("09:17"))}}, Worries: []whereabouts.Worry{believes("09:15")}}, "09:18", whereabouts.Unaccounted, true},
		{"a code that explains is nobody seen", whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, ill, at("08:50"))}, Worries: []whereabouts.Worry{believes("09:15")}}, "09:16", whereabouts.Unaccounted, true},
		{"a plan is nobody seen", whereabouts.Evidence{Activities: []whereabouts.Activity{{From: at("08:30"), To: at("15:00"), Known: known(at("06:40"))}}, Worries: []whereabouts.Worry{believes("09:15")}}, "09:16", whereabouts.Unaccounted, true},
		{"a card is nobody seen", whereabouts.Evidence{Marks: []whereabouts.Mark{missing, markBy(first, present, "09:18", whereabouts.ByCard)}, Worries: []whereabouts.Worry{believes("09:15")}}, "09:20", whereabouts.Unaccounted, true},
		{"everyone else is in", whereabouts.Evidence{Marks: []whereabouts.Mark{missing, markBy(first, present, "09:18", whereabouts.ByRest)}, Worries: []whereabouts.Worry{believes("09:15")}}, "09:20", whereabouts.Unaccounted, true},
		{"a check-in by phone", whereabouts.Evidence{Marks: []whereabouts.Mark{missing, markBy(first, present, "09:18", whereabouts.ByPhone)}, Worries: []whereabouts.Worry{believes("09:15")}}, "09:20", whereabouts.Unaccounted, true},
		{"a station that nobody attends", whereabouts.Evidence{Marks: []whereabouts.Mark{missing}, Movements: []whereabouts.Movement{station}, Worries: []whereabouts.Worry{believes("09:15")}}, "09:21", whereabouts.Unaccounted, true},
		{"seen by a teacher", whereabouts.Evidence{Marks: []whereabouts.Mark{missing, mark(first, present, at("09:18"))}, Worries: []whereabouts.Worry{believes("09:15")}}, "09:20", whereabouts.InLate, false},
		{"seen at the desk", whereabouts.Evidence{Marks: []whereabouts.Mark{missing}, Movements: []whereabouts.Movement{came(at("09:18"))}, Worries: []whereabouts.Worry{believes("09:15")}}, "09:20", whereabouts.InLate, false},
		{"seen before, and it became known afterwards", whereabouts.Evidence{Marks: []whereabouts.Mark{missing, {Slot: first, Code: present, Made: at("09:10"), Known: known(at("09:20")), Version: 1}}, Worries: []whereabouts.Worry{believes("09:15")}}, "09:21", whereabouts.InLate, false},
		{"seen before, and missed since", whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, present, at("08:50")), mark(first, nobodyKnows, at("09:10"))}, Worries: []whereabouts.Worry{believes("09:15")}}, "09:21", whereabouts.Unaccounted, true},
		{"signed in, and then missed", whereabouts.Evidence{Marks: []whereabouts.Mark{missing}, Movements: []whereabouts.Movement{came(at("08:41"))}, Worries: []whereabouts.Worry{believes("09:15")}}, "09:21", whereabouts.Unaccounted, true},
		{"in class all the time", whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, present, at("08:50")), mark(first, present, at("09:10"))}, Worries: []whereabouts.Worry{believes("09:15")}}, "09:21", whereabouts.In, false},
		{"a teacher sees her at a distance", whereabouts.Evidence{Marks: []whereabouts.Mark{missing, mark(first, atDistance, at("09:18"))}, Worries: []whereabouts.Worry{believes("09:15")}}, "09:20", whereabouts.Elsewhere, false},
		{"a sign-out of before contradicts", whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, present, at("08:50"))}, Movements: []whereabouts.Movement{out}, Worries: []whereabouts.Worry{believes("09:15")}}, "09:20", whereabouts.Left, true},
		{"signed out at the desk afterwards", whereabouts.Evidence{Marks: []whereabouts.Mark{missing}, Movements: []whereabouts.Movement{left(at("09:17"), day.Minute{})}, Worries: []whereabouts.Worry{believes("09:15")}}, "09:20", whereabouts.Left, false},
		{"somebody knows where she is", whereabouts.Evidence{Marks: []whereabouts.Mark{missing}, Worries: []whereabouts.Worry{believes("09:15")}, Settlings: []whereabouts.Settling{settledAt("09:17")}}, "09:20", whereabouts.Explained, false},
		{"a settling of before the worry", whereabouts.Evidence{Marks: []whereabouts.Mark{missing}, Worries: []whereabouts.Worry{believes("09:15")}, Settlings: []whereabouts.Settling{settledAt("09:12")}}, "09:20", whereabouts.Unaccounted, true},
		{"the call was written down by mistake", whereabouts.Evidence{Marks: []whereabouts.Mark{missing}, Worries: []whereabouts.Worry{withdrawn}}, "09:20", whereabouts.Unaccounted, false},
		{"at the day's end nobody has gone home whom nobody saw", whereabouts.Evidence{Marks: []whereabouts.Mark{missing, markBy(second, present, "10:05", whereabouts.ByCard)}, Worries: []whereabouts.Worry{believes("09:15")}}, "15:00", whereabouts.Unaccounted, true},
	} {
		t.Run(c.name, func(t *testing.T) {
			got := position(c.e, c.at)
			assert.Equal(t, c.want.String(), got.State.String())
			assert.Equal(t, c.worried, !got.Worried.IsZero())
			if c.worried {
				assert.Equal(t, at("09:15"), got.Worried, "since when")
			}
		})
	}
	card := position(whereabouts.Evidence{Marks: []whereabouts.Mark{missing, markBy(first, present, "09:18", whereabouts.ByCard)}, Worries: []whereabouts.Worry{believes("09:15")}}, "09:20")
	assert.Equal(t, whereabouts.Sighting{At: at("09:18"), By: whereabouts.ByCard, Slot: first}, card.Last, "it says what there is")
}

func TestOnTheWayHoldsAndThenWorries(t *testing.T) {
	way := whereabouts.Notice{To: at("09:30"), Returns: true, OnTheWay: true, Reason: "on the way", Known: known(at("08:50"))}
	e := whereabouts.Evidence{Notices: []whereabouts.Notice{way}, Marks: []whereabouts.Mark{mark(registration, nobodyKnows, at("08:50"))}}
	assert.Equal(t, whereabouts.Explained, position(e, "09:30").State)
	assert.Equal(t, whereabouts.Explained, position(e, "09:30").State)
	overdue := position(e, "09:36")
	assert.True(t, overdue.NotBack)
	assert.Equal(t, at("09:35"), overdue.Worried)
	e.Movements = []whereabouts.Movement{came(at("09:38"))}
	assert.Equal(t, whereabouts.InLate, position(e, "09:40").State)
	assert.True(t, position(e, "09:40").Worried.IsZero())
	dentist := way
	dentist.OnTheWay = false
	late := position(whereabouts.Evidence{Notices: []whereabouts.Notice{dentist}}, "09:36")
	assert.True(t, late.NotBack)
	assert.True(t, late.Worried.IsZero(), "nobody was sent to school")
}

func TestSettlingHoldsUntilSomethingIsKnown(t *testing.T) {
	e := whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, unexcused, at("08:50"))}, Settlings: []whereabouts.Settling{settledAt("09:10")}}
	p := position(e, "09:20")
	assert.Equal(t, whereabouts.Explained, p.State)
	assert.True(t, p.Settled)
	assert.Equal(t, "with her aunt", p.Reason)
	assert.Equal(t, whereabouts.Unaccounted, position(e, "09:09").State)
	e.Marks = append(e.Marks, mark(first, nobodyKnows, at("09:12")))
	assert.Equal(t, whereabouts.Explained, position(e, "09:20").State, "absent still, and settled")
	e.Movements = []whereabouts.Movement{came(at("09:30"))}
	assert.Equal(t, whereabouts.InLate, position(e, "09:40").State)
	e.Marks = append(e.Marks, mark(second, nobodyKnows, at("10:05")))
	gone := position(e, "10:10")
	assert.Equal(t, whereabouts.Unaccounted, gone.State, "it settled what was then")
	assert.True(t, gone.OnSite)
	k := known(at("09:15"))
	e.Settlings[0].Undone = &k
	assert.Equal(t, whereabouts.Unaccounted, position(whereabouts.Evidence{Marks: e.Marks[:1], Settlings: e.Settlings}, "09:20").State)
}

// Who is known to be gone is not in any more, whatever said so before; who is seen after it is.
func TestGoneByAWordOfSomebodyWhoKnows(t *testing.T) {
	gone := settledAt("09:10")
	e := whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, present, at("08:50"))}, Settlings: []whereabouts.Settling{gone}}
	assert.Equal(t, whereabouts.In, position(e, "09:12").State, "that somebody knows where they are puts nobody out")
	e.Settlings[0].Gone = true
	assert.Equal(t, whereabouts.In, position(e, "09:09").State)
	p := position(e, "09:12")
	assert.Equal(t, whereabouts.Explained, p.State)
	assert.False(t, p.OnPremises())
	assert.Equal(t, "with her aunt", p.Reason)
	e.Movements = []whereabouts.Movement{came(at("09:30"))}
	assert.Equal(t, whereabouts.In, position(e, "09:40").State)
}

// Late needs evidence of its own.
func TestLate(t *testing.T) {
	lesson := mark(first, present, at("09:09"))
	lateInLesson := mark(first, late, at("09:20"))
	lateInLesson.To = at("09:17")
	found := came(at("09:20"))
	found.Kind = whereabouts.Seen
	afterwards := mark(registration, present, at("09:40"))
	for _, c := range []struct {
		name    string
		e       whereabouts.Evidence
		want    whereabouts.State
		since   string
		notSent string
	}{
		{"first seen in a lesson, registration not sent", whereabouts.Evidence{Marks: []whereabouts.Mark{lesson}}, whereabouts.In, "09:09", "AM"},
		{"registration is in and says absent", whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, nobodyKnows, at("08:50")), lesson}}, whereabouts.InLate, "09:09", ""},
		{"marked late in a lesson, registration not sent", whereabouts.Evidence{Marks: []whereabouts.Mark{lateInLesson}}, whereabouts.InLate, "09:17", ""},
		{"an arrival within the grace", whereabouts.Evidence{Movements: []whereabouts.Movement{came(at("08:50"))}}, whereabouts.In, "08:50", ""},
		{"an arrival after it", whereabouts.Evidence{Movements: []whereabouts.Movement{came(at("08:51"))}}, whereabouts.InLate, "08:51", ""},
		{"found in the building, registration not sent", whereabouts.Evidence{Movements: []whereabouts.Movement{found}}, whereabouts.In, "09:20", "AM"},
		{"found in the building, absent at registration", whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, nobodyKnows, at("08:50"))}, Movements: []whereabouts.Movement{found}}, whereabouts.InLate, "09:20", ""},
		{"in, left and back again", whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, present, at("08:50"))}, Movements: []whereabouts.Movement{left(at("09:02"), day.Minute{}), came(at("09:35"))}}, whereabouts.In, "09:35", ""},
		{"in, and late for a lesson", whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, present, at("08:50")), lateInLesson}}, whereabouts.In, "08:50", ""},
		{"signed in early, absent at registration, in the lesson", whereabouts.Evidence{Movements: []whereabouts.Movement{came(at("08:40"))}, Marks: []whereabouts.Mark{mark(registration, nobodyKnows, at("08:50")), lesson}}, whereabouts.In, "09:09", ""},
		{"registration written afterwards, the desk before it", whereabouts.Evidence{Movements: []whereabouts.Movement{came(at("09:20"))}, Marks: []whereabouts.Mark{afterwards}}, whereabouts.In, "09:20", ""},
	} {
		t.Run(c.name, func(t *testing.T) {
			got := position(c.e, "09:45")
			assert.Equal(t, c.want.String(), got.State.String())
			assert.Equal(t, at(c.since), got.Since, "in since")
			assert.Equal(t, c.notSent, got.NotSent.Name)
			came, isLate, ok := whereabouts.FirstArrival(due(c.e), rules, at("09:45"), day.At(date, at("09:45")))
			assert.True(t, ok)
			assert.Equal(t, c.want == whereabouts.InLate, isLate)
			if isLate {
				assert.Equal(t, at(c.since), came)
			}
		})
	}
}

func TestInSinceIsThePresentStay(t *testing.T) {
	e := whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, present, at("08:50")), mark(first, present, at("09:17"))}}
	p := position(e, "09:45")
	assert.Equal(t, at("08:50"), p.Since)
	assert.Equal(t, whereabouts.Sighting{At: at("09:17"), Slot: first}, p.Last)
	e.Movements = []whereabouts.Movement{left(at("09:30"), day.Minute{}), came(at("09:40"))}
	p = position(e, "09:45")
	assert.Equal(t, at("09:40"), p.Since, "a new stay")
	assert.Equal(t, whereabouts.Sighting{At: at("09:40"), Moved: true}, p.Last)
	missed := whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, present, at("08:50")), mark(first, nobodyKnows, at("09:10")), mark(second, present, at("10:05"))}}
	assert.Equal(t, at("10:05"), position(missed, "10:10").Since, "missed in between")
}

func TestLateBackIsNotBack(t *testing.T) {
	trip := whereabouts.Activity{From: at("09:00"), To: at("09:40"), Returns: true, Title: "harbour", Known: known(at("08:00"))}
	e := whereabouts.Evidence{Activities: []whereabouts.Activity{trip}, Marks: []whereabouts.Mark{mark(registration, present, at("08:50"))}}
	assert.Equal(t, whereabouts.Elsewhere, position(e, "09:45").State, "within the grace")
	late := position(e, "09:46")
	assert.Equal(t, whereabouts.Unaccounted, late.State)
	assert.True(t, late.NotBack)
	assert.Equal(t, at("09:40"), late.Until)
	e.Movements = []whereabouts.Movement{came(at("09:50"))}
	assert.Equal(t, whereabouts.In, position(e, "09:55").State)
	stayed := whereabouts.Evidence{Activities: []whereabouts.Activity{trip}, Marks: []whereabouts.Mark{mark(first, present, at("09:10"))}}
	assert.Equal(t, whereabouts.In, position(stayed, "09:50").State, "one stayed back")
	last := trip
	last.To = at("12:00")
	over := position(whereabouts.Evidence{Activities: []whereabouts.Activity{last}}, "12:06")
	assert.Equal(t, whereabouts.Left, over.State, "nobody is due by then")
}

// Whom the leader of an activity has not got there is missing until something later says where they are;
// whom the leader has is seen; and those who come back are in, and not late.
func TestWithTheOthersOrNot(t *testing.T) {
	trip := whereabouts.Activity{From: at("09:00"), To: at("10:40"), Returns: true, Title: "harbour", Known: known(at("08:00"))}
	told := func(m string, here bool) whereabouts.Told {
		return whereabouts.Told{At: at(m), Here: here, Known: known(at(m))}
	}
	on := func(a whereabouts.Activity, m string, marks ...whereabouts.Mark) whereabouts.Position {
		return position(whereabouts.Evidence{Activities: []whereabouts.Activity{a}, Marks: marks}, m)
	}
	missed := trip
	missed.Said = []whereabouts.Told{told("09:05", false)}
	assert.Equal(t, whereabouts.Elsewhere, on(missed, "09:04").State)
	p := on(missed, "09:20")
	assert.Equal(t, whereabouts.Unaccounted, p.State)
	assert.True(t, p.Missed)
	assert.False(t, p.OnSite)
	p = on(missed, "09:20", mark(registration, present, at("08:50")))
	assert.True(t, p.OnSite, "seen this morning: somewhere in the building")
	assert.Equal(t, whereabouts.Unaccounted, p.State)
	assert.Equal(t, whereabouts.In, on(missed, "09:20", mark(first, present, at("09:15"))).State, "in the lesson instead")
	assert.Equal(t, whereabouts.Explained, position(whereabouts.Evidence{Activities: []whereabouts.Activity{missed}, Notices: []whereabouts.Notice{{From: at("08:00"), To: day.EndOfDay, Reason: "ill", Known: known(at("08:10"))}}}, "09:20").State)

	assert.Equal(t, whereabouts.Unaccounted, on(missed, "16:00", mark(registration, present, at("08:50"))).State, "the day's end finds nobody")
	assert.Equal(t, whereabouts.Unaccounted, on(missed, "10:30", mark(first, offSite, at("09:01"))).State, "nor does a mark for the trip of before")
	found := missed
	found.Said = []whereabouts.Told{told("09:05", false), told("09:25", true)}
	assert.Equal(t, whereabouts.Unaccounted, on(found, "09:24").State)
	assert.Equal(t, whereabouts.Elsewhere, on(found, "09:26").State, "the leader has them after all")

	with := trip
	with.Said = []whereabouts.Told{told("09:02", true)}
	worried := whereabouts.Evidence{Activities: []whereabouts.Activity{trip}, Worries: []whereabouts.Worry{believes("09:01")}}
	assert.Equal(t, whereabouts.Unaccounted, position(worried, "09:03").State, "a plan is nobody seen")
	worried.Activities[0] = with
	assert.Equal(t, whereabouts.Elsewhere, position(worried, "09:03").State, "the leader has them")

	back := with
	back.Backs = []whereabouts.Back{{At: at("10:30"), Known: known(at("10:31"))}}
	assert.Equal(t, whereabouts.Elsewhere, on(back, "10:29").State)
	assert.Equal(t, whereabouts.In, on(back, "10:35").State, "back, and not late")
	assert.Equal(t, whereabouts.In, on(back, "10:50").State)
	group := whereabouts.Evidence{Activities: []whereabouts.Activity{back}, Worries: []whereabouts.Worry{believes("10:00")}}
	assert.Equal(t, whereabouts.Unaccounted, position(group, "10:35").State, "a whole group that is back is not this one seen")
	back.Backs[0].Home = true
	assert.Equal(t, whereabouts.Left, on(back, "10:35").State)
	missed.Backs = back.Backs
	assert.Equal(t, whereabouts.Unaccounted, on(missed, "10:35").State, "who was never there does not come back")
}

// Nobody leaves the unaccounted for, from one minute to the next, but by something that
// became known, by something that was said of the minute before, or by the day's bells.
// Whoever is worried for leaves only by a person.
func TestNobodyIsLost(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		e := randomDay(t)
		before := whereabouts.Position{}
		for m := at("08:00"); m.Before(at("11:00")); m = m.Add(1) {
			now := whereabouts.At(e, rules, m, day.At(date, m))
			if before.State == whereabouts.Unaccounted && now.State != whereabouts.Unaccounted && now.Worried.IsZero() {
				assert.True(t, newAt(e, m, false), "%s: %v to %v", m, before, now)
			}
			if !before.Worried.IsZero() && now.Worried.IsZero() {
				assert.True(t, newAt(e, m, true), "%s: %v to %v", m, before, now)
			}
			if !now.Worried.IsZero() {
				assert.Contains(t, []whereabouts.State{whereabouts.Unaccounted, whereabouts.Left}, now.State)
			}
			before = now
		}
	})
}

// newAt reports whether something about the student is new in a minute: known, begun or taken
// back. By a person leaves out what needs nobody to have seen them.
func newAt(e whereabouts.Evidence, m day.Minute, person bool) bool {
	is := func(k whereabouts.Known) bool { return k.At == day.At(date, m) }
	gone := func(k *whereabouts.Known) bool { return k != nil && is(*k) }
	for _, x := range e.Marks {
		if is(x.Known) || x.Made == m || x.From == m || x.Slot.Start == m {
			return true // a correction too is made by a person
		}
	}
	for _, x := range e.Movements {
		if (is(x.Known) || x.At == m) && (!person || x.By == whereabouts.BySight) {
			return true
		}
	}
	for _, x := range e.Settlings {
		if is(x.Known) || x.At == m || gone(x.Undone) {
			return true
		}
	}
	for _, x := range e.Worries {
		if gone(x.Undone) || is(x.Known) {
			return true
		}
	}
	for _, x := range e.Notices {
		if is(x.Known) || x.From == m {
			return true // the notice in force says when they are on the way
		}
	}
	for _, x := range e.Activities {
		if !person && !x.OnSite && (is(x.Known) || x.From == m) {
			return true
		}
		for _, s := range x.Said {
			if is(s.Known) || is(x.Known) || x.From == m {
				return true
			}
		}
		for _, b := range x.Backs {
			if is(b.Known) || gone(b.Undone) {
				return true // that they were back before somebody was sent off may become known later
			}
		}
	}
	return false
}

func TestAHomeThatDoesNotKnowOfASignOut(t *testing.T) {
	e := due(whereabouts.Evidence{Marks: []whereabouts.Mark{mark(registration, present, at("08:50"))}, Movements: []whereabouts.Movement{left(at("09:02"), day.Minute{})}, Worries: []whereabouts.Worry{believes("09:15")}})
	got := whereabouts.Mismatches(e, rules, at("09:20"), day.At(date, at("09:20")))
	assert.Len(t, got, 1)
	assert.Equal(t, whereabouts.BelievedIn, got[0].Kind)
	assert.Equal(t, "signed out 09:02, home believes at school 09:15", got[0].Text)
	assert.Equal(t, []whereabouts.Action{whereabouts.ActSettle, whereabouts.ActSeen}, got[0].Actions)
	e.Settlings = []whereabouts.Settling{settledAt("09:18")}
	assert.Empty(t, whereabouts.Mismatches(e, rules, at("09:20"), day.At(date, at("09:20"))))
}
