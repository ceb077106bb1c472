package outside

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"

	"meldung/core/ids"
	"meldung/work/messages"
)

// What the simulation says only grows with time, is the same when it is asked again, and
// holds messages that arrive, fail and are answered.
func TestTheSimulationSaysMoreAsTimePasses(t *testing.T) {
	last := map[string]int{}
	for n := range 200 {
		for _, channel := range []string{"text", "e-mail"} {
			m := messages.Outgoing{ID: ids.Message(n), Channel: channel, Kind: "remind", Address: fmt.Sprintf("07700 900 %03d", n), Sent: 1000}
			assert.Empty(t, Simulated{}.BecameOf(m, 999))
			before := Simulated{}.BecameOf(m, 1000)
			assert.Equal(t, []messages.Report{{At: 1000, State: "sent"}}, before)
			for now := m.Sent; now < m.Sent+10; now++ {
				said := Simulated{}.BecameOf(m, now)
				assert.Equal(t, before, said[:len(before)])
				assert.Equal(t, said, Simulated{}.BecameOf(m, now))
				before = said
			}
			end := before[len(before)-1]
			last[channel+" "+end.State]++
			assert.Equal(t, end.State == "failed", end.State == "failed" && end.Text != "", "a failure says why")
		}
	}
	for _, what := range []string{"text delivered", "text failed", "text replied", "e-mail delivered", "e-mail failed"} {
		assert.Positive(t, last[what], what)
	}
	assert.Zero(t, last["e-mail replied"])
	assert.Equal(t, "failed", Simulated{}.BecameOf(messages.Outgoing{Channel: "e-mail", Sent: 5}, 5)[0].State, "nobody to send it to")
}

func TestADemoClockCountsSeconds(t *testing.T) {
	c := NewDemoClock(1000)
	assert.InDelta(t, 60_000, c.Unix(), 2)
	c.Set(2000)
	assert.InDelta(t, 120_000, c.Unix(), 2)
}
