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
	slot = day.Slot{Name: "1", Start: 545, End: 595}
	date = day.MustDate("2026-03-10")
)

func TestHowARegisterStands(t *testing.T) {
	sent := day.Minute(552)
	for _, c := range []struct {
		at   day.Minute
		sent *day.Minute
		want register.State
	}{
		{540, nil, register.NotDue}, {545, nil, register.Open}, {560, nil, register.Open}, {561, nil, register.Late},
		{595, nil, register.Missing}, {551, &sent, register.Open}, {552, &sent, register.Sent},
	} {
		assert.Equal(t, c.want, register.StateAt(slot, 15, c.sent, c.at), "at %s", c.at)
	}
	assert.Equal(t, 12, register.Overdue(day.Slot{Start: 525, End: 540}, 15, 552))
	assert.Equal(t, day.Minute(535), register.DueBy(day.Slot{Start: 525, End: 535}, 15), "by the end of a short slot")
	assert.Zero(t, register.Overdue(slot, 15, 550))
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
		return whereabouts.Movement{Kind: whereabouts.Arrived, At: m, Return: -1, Reason: reason, Known: known(m)}
	}
	left := func(m day.Minute) whereabouts.Movement {
		return whereabouts.Movement{Kind: whereabouts.Departed, At: m, Return: 600, Reason: "clinic", Known: known(m)}
	}
	ill := whereabouts.Notice{To: day.EndOfDay, Reason: "ill", Known: known(480)}
	code := func(reason string, absent bool) string {
		if !absent {
			return "LX"
		}
		return map[string]string{"ill": "M", "clinic": "X"}[reason]
	}
	for _, c := range []struct {
		name string
		e    whereabouts.Evidence
		want string // empty: the teacher's eyes decide
		time day.Minute
	}{
		{"nothing known", whereabouts.Evidence{}, "", -1},
		{"home says ill", whereabouts.Evidence{Notices: []whereabouts.Notice{ill}}, "M", -1},
		{"home says ill, and the student came", whereabouts.Evidence{Notices: []whereabouts.Notice{ill}, Movements: []whereabouts.Movement{came(530, "")}}, "", -1},
		{"late at the desk in this slot", whereabouts.Evidence{Movements: []whereabouts.Movement{came(555, "ferry")}}, "LX", 555},
		{"in within the grace", whereabouts.Evidence{Movements: []whereabouts.Movement{came(549, "ferry")}}, "P", -1},
		{"left before", whereabouts.Evidence{Movements: []whereabouts.Movement{left(540)}}, "X", -1},
		{"left in this slot", whereabouts.Evidence{Movements: []whereabouts.Movement{left(557)}}, "D", 557},
		{"left and came back", whereabouts.Evidence{Movements: []whereabouts.Movement{left(530), came(540, "")}}, "", -1},
		{"on a trip", whereabouts.Evidence{Activities: []whereabouts.Activity{{From: 510, To: 900, Known: known(400)}}}, "V", -1},
		{"a trip that ends in the slot", whereabouts.Evidence{Activities: []whereabouts.Activity{{From: 510, To: 550, Known: known(400)}}}, "", -1},
	} {
		got, ok := register.PrefillFor(c.e, slot, 5, 560, day.At(date, 560), code)
		assert.Equal(t, c.want != "", ok, c.name)
		assert.Equal(t, c.want, got.Code, c.name)
		if ok {
			assert.Equal(t, c.time, max(got.From, got.To), c.name)
			assert.NotEmpty(t, got.Words, c.name)
		}
	}
}
