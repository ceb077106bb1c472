package absence_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/policy"
)

// dayOf is a day of three lessons with a code in each: P, N, M, L (came at 08:20), D (left at 09:30)
// or a blank.
func dayOf(date string, codes string) absence.DayEvidence {
	known := map[rune]policy.Code{
		'P': {Code: "P", Counts: policy.Attended, OnSite: true}, 'L': {Code: "L", Counts: policy.Attended, OnSite: true, Late: true},
		'D': {Code: "D", Counts: policy.Attended, OnSite: true}, 'N': {Code: "N", Counts: policy.Unexcused}, 'M': {Code: "M", Counts: policy.Excused},
	}
	out := absence.DayEvidence{Date: day.MustDate(date)}
	for i, c := range codes {
		if c == ' ' {
			continue
		}
		start, err := day.AtMinute(480 + 60*i)
		if err != nil {
			panic(err)
		}
		e := absence.SlotEvidence{Slot: day.Slot{Name: string(rune('1' + i)), Start: start, End: start.Add(50)}, Code: known[c], Due: 50}
		switch c {
		case 'N':
			e.Missed, e.Side = 50, policy.SideUnexcused
		case 'M':
			e.Missed, e.Side = 50, policy.SideExcused
		case 'L':
			e.To, e.Missed = start.Add(20), 20
		case 'D':
			e.From, e.Missed = start.Add(30), 20
		}
		out.Marks = append(out.Marks, e)
	}
	return out
}

func TestWhereLessonsAreMissed(t *testing.T) {
	tuesday := func(codes string) []absence.DayEvidence { return []absence.DayEvidence{dayOf("2026-03-10", codes)} }
	for codes, onSite := range map[string]int{
		"PNP": 1, "PNN": 2, "NPP": 0, "NNP": 0, "LNP": 1, "PMP": 0, "DNN": 0, "DNP": 0, "PDN": 0, "NNN": 0, "P N": 1, "DPN": 1,
	} {
		n := 0
		for _, one := range absence.Where(tuesday(codes)) {
			n += one.OnSite
		}
		assert.Equal(t, onSite, n, codes)
	}
	days := append(tuesday("PPN"), dayOf("2026-03-17", "PMN"), dayOf("2026-03-09", "LPP"))
	assert.Equal(t, []absence.SlotMissed{
		{Weekday: 1, Slot: "1", Marked: 1}, {Weekday: 1, Slot: "2", Marked: 1}, {Weekday: 1, Slot: "3", Marked: 1},
		{Weekday: 2, Slot: "1", Marked: 2}, {Weekday: 2, Slot: "2", Marked: 2, Missed: 1}, {Weekday: 2, Slot: "3", Marked: 2, Missed: 2, OnSite: 2},
	}, absence.Where(days))
	assert.Empty(t, absence.Where(nil))
}

func TestWhatStandsOut(t *testing.T) {
	var afternoons, mondays, whole []absence.DayEvidence
	for i := range 8 {
		d := (day.MustDate("2026-01-05") + day.Date(i)).String()
		afternoons = append(afternoons, dayOf(d, "PPN"))
		mondays = append(mondays, dayOf((day.MustDate("2026-01-05")+day.Date(7*i)).String(), "NPN"), dayOf((day.MustDate("2026-01-06")+day.Date(7*i)).String(), "PPP"))
		whole = append(whole, dayOf(d, "MMM"))
	}
	assert.Equal(t, absence.Habit{Missed: 8, OnSite: 8, Slot: "3", Of: 8, Days: 8, InFirst: true}, absence.HabitOf(afternoons))
	assert.Equal(t, absence.Habit{Missed: 16, OnSite: 8, Weekday: 1, Of: 16, Days: 8}, absence.HabitOf(mondays))
	assert.Equal(t, absence.Habit{Missed: 24, Whole: 8, Days: 8}, absence.HabitOf(whole), "a third in each lesson is no habit; nor are eight days in a row")
	assert.Equal(t, absence.Habit{Missed: 5, OnSite: 5, Days: 5, InFirst: true}, absence.HabitOf(afternoons[:5]), "too few to tell")
	assert.Equal(t, absence.Habit{InFirst: true}, absence.HabitOf(nil))
}

// Counting alone says what taking apart says, whatever a student did.
func TestMissedOnSiteIsWhatWhereSays(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		l := randomSchool(t)
		withTimes(t, l)
		m := absence.NewMeasure(l, base(policy.Day))
		span := absence.Span{From: rapid.IntRange(0, 5).Draw(t, "from"), To: rapid.IntRange(-1, 14).Draw(t, "to")}
		want := 0
		for _, one := range absence.Where(m.Days(1, span)) {
			want += one.OnSite
		}
		assert.Equal(t, want, m.MissedOnSite(1, span, nil))
		assert.Zero(t, m.MissedOnSite(1, span, func(int, int) bool { return false }))
	})
}
