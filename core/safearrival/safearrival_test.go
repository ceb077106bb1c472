package safearrival_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"meldung/core/day"
	"meldung/core/safearrival"
)

func TestHowSafeArrivalStands(t *testing.T) {
	settled := safearrival.Standing{Registers: 3, In: 3, Begun: true}
	out := safearrival.Standing{Registers: 3, In: 2, Begun: true}
	missing := safearrival.Standing{Registers: 3, In: 3, Missing: 1, Begun: true}
	closed := &safearrival.Closing{Minute: day.MustMinute("09:20")}
	byHand := &safearrival.Closing{Minute: day.MustMinute("09:30"), Reopened: true}
	for _, c := range []struct {
		name string
		now  safearrival.Standing
		last *safearrival.Closing
		then safearrival.Standing
		want safearrival.State
	}{
		{"a register is out", out, nil, safearrival.Standing{}, safearrival.Open},
		{"somebody is missing", missing, nil, safearrival.Standing{}, safearrival.Open},
		{"nothing is out", settled, nil, safearrival.Standing{}, safearrival.Ready},
		{"everything is in before the slot begins", safearrival.Standing{Registers: 3, In: 3}, nil, safearrival.Standing{}, safearrival.Open},
		{"a slot without registers", safearrival.Standing{Begun: true}, nil, safearrival.Standing{}, safearrival.Open},
		{"closed, and it holds", settled, closed, settled, safearrival.Closed},
		{"closed, and somebody went missing later", missing, closed, settled, safearrival.Closed},
		{"closed, and what is known now would have kept it open", missing, closed, missing, safearrival.Reopened},
		{"closed wrongly, and settled since", settled, closed, missing, safearrival.Ready},
		{"opened by hand", missing, byHand, settled, safearrival.Reopened},
		{"opened by hand, and settled", settled, byHand, settled, safearrival.Ready},
	} {
		assert.Equal(t, c.want, safearrival.StateOf(c.now, c.last, c.then), c.name)
	}
}

// A closing holds by what is known of its minute alone: nothing that happens later opens it.
func TestTimeOpensNothing(t *testing.T) {
	standing := rapid.Custom(func(t *rapid.T) safearrival.Standing {
		n := rapid.IntRange(0, 5).Draw(t, "registers")
		return safearrival.Standing{Registers: n, In: rapid.IntRange(0, n).Draw(t, "in"), Missing: rapid.IntRange(0, 2).Draw(t, "missing"), Begun: rapid.Bool().Draw(t, "begun")}
	})
	rapid.Check(t, func(t *rapid.T) {
		closing := &safearrival.Closing{Minute: day.MustMinute("09:20")}
		then, a, b := standing.Draw(t, "then"), standing.Draw(t, "a"), standing.Draw(t, "b")
		assert.Equal(t, safearrival.StateOf(a, closing, then) == safearrival.Closed, safearrival.StateOf(b, closing, then) == safearrival.Closed)
		assert.Equal(t, then.Settled(), safearrival.StateOf(a, closing, then) == safearrival.Closed)
		if safearrival.StateOf(a, nil, then) == safearrival.Ready {
			assert.True(t, a.Settled() && a.Begun, "only what is settled may be closed")
		}
	})
}
