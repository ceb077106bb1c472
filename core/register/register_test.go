package register_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/core/register"
	"meldung/core/whereabouts"
)

var (
	slot = day.Slot{Name: "1", Start: day.MustMinute("09:05"), End: day.MustMinute("09:55")}
	date = day.MustDate("2026-03-10")
)

func TestHowARegisterStands(t *testing.T) {
	sent := day.MustMinute("09:12")
	for _, c := range []struct {
		at   day.Minute
		sent day.Minute
		want register.State
	}{
		{day.MustMinute("09:00"), day.Minute{}, register.NotDue}, {day.MustMinute("09:05"), day.Minute{}, register.Open}, {day.MustMinute("09:20"), day.Minute{}, register.Open}, {day.MustMinute("09:21"), day.Minute{}, register.Late},
		{day.MustMinute("09:55"), day.Minute{}, register.Missing}, {day.MustMinute("09:11"), sent, register.Open}, {day.MustMinute("09:12"), sent, register.Sent},
	} {
		assert.Equal(t, c.want, register.StateAt(slot, 15, c.sent, c.at), "at %s", c.at)
	}
	assert.Equal(t, 12, register.Overdue(day.Slot{Start: day.MustMinute("08:45"), End: day.MustMinute("09:00")}, 15, day.MustMinute("09:12")))
	assert.Equal(t, day.MustMinute("08:55"), register.DueBy(day.Slot{Start: day.MustMinute("08:45"), End: day.MustMinute("08:55")}, 15), "by the end of a short slot")
	assert.Zero(t, register.Overdue(slot, 15, day.MustMinute("09:10")))
}

func TestTypedAfterLate(t *testing.T) {
	for typed, want := range map[string]string{"5": "09:10", "08": "09:13", "912": "09:12", "9:12": "09:12", " 0912": "09:12", "50": "09:55"} {
		got, err := register.ParseLate(slot, typed)
		require.NoError(t, err, typed)
		assert.Equal(t, want, got.String(), typed)
	}
	for _, typed := range []string{"", "0", "51", "850", "1030", "x", "9:75"} {
		_, err := register.ParseLate(slot, typed)
		assert.Error(t, err, typed)
	}
}

func known(m day.Minute) whereabouts.Known { return whereabouts.Known{At: day.At(date, m)} }

func TestWhatIsKnownFillsTheRow(t *testing.T) {
	came := func(m day.Minute, reason string) whereabouts.Movement {
		return whereabouts.Movement{Kind: whereabouts.Arrived, At: m, Reason: reason, Known: known(m)}
	}
	met := func(m day.Minute) whereabouts.Movement {
		return whereabouts.Movement{Kind: whereabouts.Seen, At: m, Known: known(m)}
	}
	left := func(m day.Minute) whereabouts.Movement {
		return whereabouts.Movement{Kind: whereabouts.Departed, At: m, Return: day.MustMinute("10:00"), Reason: "clinic", Known: known(m)}
	}
	ill := whereabouts.Notice{To: day.EndOfDay, Reason: "ill", Known: known(day.MustMinute("08:00"))}
	codes := register.Codes{Set: letters, Reason: func(word string) register.Reason {
		return register.Reason{Absent: map[string]string{"ill": "M", "clinic": "X"}[word], Late: "LX", Excused: word == "clinic"}
	}}
	for _, c := range []struct {
		name string
		e    whereabouts.Evidence
		want string // empty: the teacher's eyes decide
		time day.Minute
	}{
		{"nothing known", whereabouts.Evidence{}, "", day.Minute{}},
		{"home says ill", whereabouts.Evidence{Notices: []whereabouts.Notice{ill}}, "M", day.Minute{}},
		{"home says ill, and the student came", whereabouts.Evidence{Notices: []whereabouts.Notice{ill}, Movements: []whereabouts.Movement{came(day.MustMinute("08:50"), "")}}, "", day.Minute{}},
		{"late at the desk in this slot", whereabouts.Evidence{Movements: []whereabouts.Movement{came(day.MustMinute("09:15"), "ferry")}}, "LX", day.MustMinute("09:15")},
		{"in within the grace", whereabouts.Evidence{Movements: []whereabouts.Movement{came(day.MustMinute("09:09"), "ferry")}}, "P", day.Minute{}},
		{"left before", whereabouts.Evidence{Movements: []whereabouts.Movement{left(day.MustMinute("09:00"))}}, "X", day.Minute{}},
		{"left in this slot", whereabouts.Evidence{Movements: []whereabouts.Movement{left(day.MustMinute("09:17"))}}, "D", day.MustMinute("09:17")},
		{"left and came back", whereabouts.Evidence{Movements: []whereabouts.Movement{left(day.MustMinute("08:50")), came(day.MustMinute("09:00"), "")}}, "", day.Minute{}},
		{"met at a roll call in this slot", whereabouts.Evidence{Movements: []whereabouts.Movement{met(day.MustMinute("09:17"))}}, "", day.Minute{}},
		{"late at the desk, then met", whereabouts.Evidence{Movements: []whereabouts.Movement{came(day.MustMinute("09:15"), "ferry"), met(day.MustMinute("09:17"))}}, "LX", day.MustMinute("09:15")},
		{"left, and found again", whereabouts.Evidence{Movements: []whereabouts.Movement{left(day.MustMinute("09:00")), met(day.MustMinute("09:17"))}}, "", day.Minute{}},
		{"found, and left", whereabouts.Evidence{Movements: []whereabouts.Movement{met(day.MustMinute("09:07")), left(day.MustMinute("09:17"))}}, "D", day.MustMinute("09:17")},
		{"on a trip", whereabouts.Evidence{Activities: []whereabouts.Activity{{From: day.MustMinute("08:30"), To: day.MustMinute("15:00"), Known: known(day.MustMinute("06:40"))}}}, "V", day.Minute{}},
		{"a trip that ends in the slot", whereabouts.Evidence{Activities: []whereabouts.Activity{{From: day.MustMinute("08:30"), To: day.MustMinute("09:10"), Known: known(day.MustMinute("06:40"))}}}, "", day.Minute{}},
	} {
		got, ok := register.PrefillFor(c.e, slot, 5, day.MustMinute("09:20"), day.At(date, day.MustMinute("09:20")), codes)
		assert.Equal(t, c.want != "", ok, c.name)
		assert.Equal(t, c.want, got.Code, c.name)
		if ok {
			assert.Equal(t, c.time, day.Latest(got.From, got.To), c.name)
			assert.NotEmpty(t, got.Text, c.name)
		}
	}
}
