package punctuality_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"meldung/core/day"
	"meldung/core/punctuality"
)

// morning is 08:45–09:00, 09:05–09:55 and 10:00–10:50.
var morning = []day.Slot{{Name: "AM", Start: 525, End: 540}, {Name: "1", Start: 545, End: 595}, {Name: "2", Start: 600, End: 650}}

func slots(marks string, at ...day.Minute) []punctuality.Slot {
	out := make([]punctuality.Slot, len(morning))
	for i, s := range morning {
		out[i] = punctuality.Slot{Slot: s, At: -1, Presence: map[byte]punctuality.Presence{'-': punctuality.NotMarked, 'N': punctuality.Absent,
			'P': punctuality.Present, 'L': punctuality.Late, 'D': punctuality.Leaving}[marks[i]]}
		if i < len(at) && at[i] > 0 {
			out[i].At = at[i]
		}
	}
	return out
}

func TestLateAndEarly(t *testing.T) {
	in := func(at day.Minute, reason string) punctuality.Pass { return punctuality.Pass{At: at, Reason: reason} }
	out := func(at day.Minute, reason string) punctuality.Pass {
		return punctuality.Pass{At: at, Out: true, Reason: reason}
	}
	for name, c := range map[string]struct {
		day  punctuality.Day
		want []punctuality.Entry
	}{
		"in on time":                    {punctuality.Day{Slots: slots("PPP")}, nil},
		"absent all day":                {punctuality.Day{Slots: slots("NNN")}, nil},
		"nothing due":                   {punctuality.Day{Door: []punctuality.Pass{in(600, "")}}, nil},
		"late by mark":                  {punctuality.Day{Slots: slots("LPP", 533)}, []punctuality.Entry{{Kind: punctuality.LateArrival, At: 533, Slot: "AM", Missed: 8}}},
		"late by mark without a time":   {punctuality.Day{Slots: slots("LPP")}, []punctuality.Entry{{Kind: punctuality.LateArrival, At: -1, Slot: "AM", Missed: -1}}},
		"the door says when and why":    {punctuality.Day{Slots: slots("LPP", 533), Door: []punctuality.Pass{in(531, "ferry")}}, []punctuality.Entry{{Kind: punctuality.LateArrival, At: 531, Slot: "AM", Reason: "ferry", Missed: 6}}},
		"within the grace":              {punctuality.Day{Slots: slots("LPP", 529), Door: []punctuality.Pass{in(530, "")}}, nil},
		"came in the second lesson":     {punctuality.Day{Slots: slots("NNL"), Door: []punctuality.Pass{in(620, "clinic")}}, []punctuality.Entry{{Kind: punctuality.LateArrival, At: 620, Slot: "AM", Reason: "clinic", Missed: 15 + 50 + 20}}},
		"came, and nobody marked":       {punctuality.Day{Slots: slots("---"), Door: []punctuality.Pass{in(560, "")}}, []punctuality.Entry{{Kind: punctuality.LateArrival, At: 560, Slot: "AM", Missed: 30}}},
		"came when all was over":        {punctuality.Day{Slots: slots("NNN"), Door: []punctuality.Pass{in(700, "")}}, nil},
		"absent at first, unseen":       {punctuality.Day{Slots: slots("NPP")}, nil},
		"late for lesson 2":             {punctuality.Day{Slots: slots("PPL", 0, 0, 605)}, []punctuality.Entry{{Kind: punctuality.LateToLesson, At: 605, Slot: "2", Missed: 5}}},
		"out and back is neither":       {punctuality.Day{Slots: slots("PDP", 0, 550), Door: []punctuality.Pass{out(550, "clinic"), in(598, "")}}, nil},
		"left early":                    {punctuality.Day{Slots: slots("PDN", 0, 580), Door: []punctuality.Pass{out(580, "ill")}}, []punctuality.Entry{{Kind: punctuality.EarlyDeparture, At: 580, Slot: "1", Reason: "ill", Missed: 15 + 50}}},
		"left early, by mark alone":     {punctuality.Day{Slots: slots("PDN", 0, 580)}, []punctuality.Entry{{Kind: punctuality.EarlyDeparture, At: 580, Slot: "1", Missed: 65}}},
		"left between two slots":        {punctuality.Day{Slots: slots("PPN"), Door: []punctuality.Pass{out(597, "ill")}}, []punctuality.Entry{{Kind: punctuality.EarlyDeparture, At: 597, Slot: "2", Reason: "ill", Missed: 50}}},
		"left when all was over":        {punctuality.Day{Slots: slots("PPP"), Door: []punctuality.Pass{out(650, "")}}, nil},
		"late, and away again":          {punctuality.Day{Slots: slots("LPN", 535), Door: []punctuality.Pass{in(535, "ferry"), out(596, "ill")}}, []punctuality.Entry{{Kind: punctuality.LateArrival, At: 535, Slot: "AM", Reason: "ferry", Missed: 10}, {Kind: punctuality.EarlyDeparture, At: 596, Slot: "2", Reason: "ill", Missed: 50}}},
		"back from leave is not late":   {punctuality.Day{Slots: slots("PNL", 0, 0, 610), Door: []punctuality.Pass{out(541, "clinic"), in(610, "")}}, []punctuality.Entry{{Kind: punctuality.LateToLesson, At: 610, Slot: "2", Missed: 10}}},
		"left before registration":      {punctuality.Day{Slots: slots("NNN"), Door: []punctuality.Pass{out(520, "ill")}}, []punctuality.Entry{{Kind: punctuality.EarlyDeparture, At: 520, Slot: "AM", Reason: "ill", Missed: 115}}},
		"out, and in class again":       {punctuality.Day{Slots: slots("PPP"), Door: []punctuality.Pass{out(541, "errand")}}, nil},
		"leaving, then present by mark": {punctuality.Day{Slots: slots("DPP", 530)}, nil},
	} {
		assert.Equal(t, c.want, punctuality.Of(c.day, 5), name)
	}
}

// Whatever the day, there is at most one arrival and one departure, nobody misses more
// than was due, and what was missed before and after does not overlap.
func TestAnyDay(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		d := punctuality.Day{Slots: slots(rapid.StringMatching(`[-NPLD]{3}`).Draw(t, "marks"))}
		for i := range d.Slots {
			if p := d.Slots[i].Presence; p >= punctuality.Late && rapid.Bool().Draw(t, "timed") {
				d.Slots[i].At = rapid.Custom(func(t *rapid.T) day.Minute {
					return day.Minute(rapid.IntRange(int(d.Slots[i].Start)+1, int(d.Slots[i].End)).Draw(t, "at"))
				}).Draw(t, "minute")
			}
		}
		at := 500
		for range rapid.IntRange(0, 4).Draw(t, "door") {
			at += rapid.IntRange(1, 60).Draw(t, "later")
			d.Door = append(d.Door, punctuality.Pass{At: day.Minute(at), Out: rapid.Bool().Draw(t, "out")})
		}
		var n [punctuality.Kinds]int
		missed := 0
		for _, e := range punctuality.Of(d, 5) {
			n[e.Kind]++
			assert.LessOrEqual(t, e.Missed, 15+50+50)
			if e.Kind != punctuality.LateToLesson {
				missed += max(e.Missed, 0)
			}
		}
		assert.LessOrEqual(t, n[punctuality.LateArrival], 1)
		assert.LessOrEqual(t, n[punctuality.EarlyDeparture], 1)
		assert.LessOrEqual(t, missed, 15+50+50)
	})
}
