package rollcall_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"meldung/core/day"
	"meldung/core/rollcall"
	"meldung/core/whereabouts"
)

var began = day.At(day.MustDate("2026-03-10"), day.MustMinute("10:42"))

func student(id int64) rollcall.Key { return rollcall.Key{Kind: rollcall.Student, ID: id} }

// Who is to be found is in, or nothing says that they are not; a worry outranks a sign-out.
func TestWhoIsToBeFound(t *testing.T) {
	for state, want := range map[whereabouts.State]rollcall.Why{
		whereabouts.In: rollcall.OnSite, whereabouts.InLate: rollcall.OnSite, whereabouts.Unaccounted: rollcall.Missing, whereabouts.NotYetKnown: rollcall.Unknown,
		whereabouts.Elsewhere: "", whereabouts.Left: "", whereabouts.Explained: "", whereabouts.NotDue: "",
	} {
		why, on := rollcall.Expects(whereabouts.Position{State: state})
		assert.Equal(t, want, why, state)
		assert.Equal(t, want != "", on, state)
	}
	why, on := rollcall.Expects(whereabouts.Position{State: whereabouts.Left, Worried: day.MustMinute("09:30")})
	assert.True(t, on)
	assert.Equal(t, rollcall.Missing, why)
}

func TestAPersonWhoWasMetIsMet(t *testing.T) {
	ticks := []rollcall.Tick{
		{Key: student(1), ID: "a", At: began + 3, By: "M. Jahn"},
		{Key: student(1), ID: "b", At: began + 5, Here: true, By: "T. Rask"},
		{Key: student(1), ID: "c", At: began + 4, Second: 30, Here: true, By: "D. Ase"},
	}
	assert.Equal(t, "c", rollcall.Standing(ticks)[student(1)].ID, "the first who met them")
	ticks[2].Undone = true
	assert.Equal(t, "b", rollcall.Standing(ticks)[student(1)].ID)
	ticks[1].Undone = true
	assert.Equal(t, "a", rollcall.Standing(ticks)[student(1)].ID, "known to be elsewhere")
	assert.Equal(t, rollcall.Count{Of: 2, Elsewhere: 1, Open: 1}, rollcall.Counted([]rollcall.Key{student(1), student(2)}, ticks))
}

func TestHowLongItTook(t *testing.T) {
	var list []rollcall.Key
	var ticks []rollcall.Tick
	for n := range int64(10) {
		list = append(list, student(n))
		ticks = append(ticks, rollcall.Tick{Key: student(n), ID: fmt.Sprint(n), At: began + day.Instant(n), Here: true})
	}
	for percent, want := range map[int]day.Minutes{50: 4, 90: 8, 91: 9, 100: 9} {
		after, ok := rollcall.Reached(began, list, ticks, percent)
		assert.True(t, ok)
		assert.Equal(t, want, after, percent)
	}
	ticks[9].Undone = true
	_, ok := rollcall.Reached(began, list, ticks, 100)
	assert.False(t, ok, "one was not found")
	_, ok = rollcall.Reached(began, nil, nil, 50)
	assert.False(t, ok)
}

// In whatever order the ticks of several phones come in, and however often, the same stands; the
// counts add up to the list; one more tick takes nobody's away.
func TestTicksJoinInAnyOrder(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		people := rapid.IntRange(1, 12).Draw(t, "people")
		var list []rollcall.Key
		for n := range people {
			list = append(list, student(int64(n)))
		}
		ticks := rapid.SliceOfN(rapid.Custom(func(t *rapid.T) rollcall.Tick {
			return rollcall.Tick{Key: student(int64(rapid.IntRange(0, people-1).Draw(t, "who"))), ID: fmt.Sprint(rapid.IntRange(0, 30).Draw(t, "token")),
				At: began + day.Instant(rapid.IntRange(0, 5).Draw(t, "at")), Second: rapid.IntRange(0, 59).Draw(t, "second"), Here: rapid.Bool().Draw(t, "here"), Undone: rapid.IntRange(0, 4).Draw(t, "undone") == 0}
		}), 0, 30).Draw(t, "ticks")
		byToken := map[string]rollcall.Tick{}
		for _, one := range ticks {
			if before, twice := byToken[one.ID]; twice {
				one = rollcall.Tick{Key: before.Key, ID: one.ID, At: before.At, Second: before.Second, Here: before.Here, Undone: one.Undone || before.Undone}
			}
			byToken[one.ID] = one
		}
		var once []rollcall.Tick
		for _, one := range byToken {
			once = append(once, one)
		}
		joined := rapid.Permutation(append(once, once...)).Draw(t, "as they come in")
		require.Equal(t, rollcall.Standing(once), rollcall.Standing(joined))
		c := rollcall.Counted(list, joined)
		require.Equal(t, c.Of, c.Met+c.Elsewhere+c.Open)
		require.Equal(t, people, c.Of)
		more := rollcall.Counted(list, append(joined, rollcall.Tick{Key: student(0), ID: "one more", At: began + 99, Here: true}))
		require.LessOrEqual(t, more.Open, c.Open)
		require.GreaterOrEqual(t, more.Met, c.Met)
	})
}
