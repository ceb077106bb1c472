package punctuality_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"meldung/core/day"
	"meldung/core/punctuality"
)

// morning is 08:45–09:00, 09:05–09:55 and 10:00–10:50.
var morning = []day.Slot{{Name: "AM", Start: day.MustMinute("08:45"), End: day.MustMinute("09:00")}, {Name: "1", Start: day.MustMinute("09:05"), End: day.MustMinute("09:55")}, {Name: "2", Start: day.MustMinute("10:00"), End: day.MustMinute("10:50")}}

func slots(marks string, at ...day.Minute) []punctuality.Slot {
	out := make([]punctuality.Slot, len(morning))
	for i, s := range morning {
		out[i] = punctuality.Slot{Slot: s, Presence: map[byte]punctuality.Presence{'-': punctuality.NotMarked, 'N': punctuality.Absent,
			'P': punctuality.Present, 'L': punctuality.Late, 'D': punctuality.Leaving}[marks[i]]}
		if i < len(at) && at[i].After(day.Midnight) {
			out[i].At = at[i]
		}
	}
	return out
}

func TestLateAndEarly(t *testing.T) {
	in := func(at day.Minute, reason string) punctuality.Crossing {
		return punctuality.Crossing{At: at, Reason: reason}
	}
	out := func(at day.Minute, reason string) punctuality.Crossing {
		return punctuality.Crossing{At: at, Out: true, Reason: reason}
	}
	for name, c := range map[string]struct {
		day  punctuality.Day
		want []punctuality.Entry
	}{
		"in on time":                    {punctuality.Day{Slots: slots("PPP")}, nil},
		"absent all day":                {punctuality.Day{Slots: slots("NNN")}, nil},
		"nothing due":                   {punctuality.Day{Door: []punctuality.Crossing{in(day.MustMinute("10:00"), "")}}, nil},
		"late by mark":                  {punctuality.Day{Slots: slots("LPP", day.MustMinute("08:53"))}, []punctuality.Entry{{Kind: punctuality.LateArrival, At: day.MustMinute("08:53"), Slot: "AM", Missed: 8}}},
		"late by mark without a time":   {punctuality.Day{Slots: slots("LPP")}, []punctuality.Entry{{Kind: punctuality.LateArrival, Slot: "AM", Missed: -1}}},
		"the door says when and why":    {punctuality.Day{Slots: slots("LPP", day.MustMinute("08:53")), Door: []punctuality.Crossing{in(day.MustMinute("08:51"), "ferry")}}, []punctuality.Entry{{Kind: punctuality.LateArrival, At: day.MustMinute("08:51"), Slot: "AM", Reason: "ferry", Missed: 6}}},
		"within the grace":              {punctuality.Day{Slots: slots("LPP", day.MustMinute("08:49")), Door: []punctuality.Crossing{in(day.MustMinute("08:50"), "")}}, nil},
		"came in the second lesson":     {punctuality.Day{Slots: slots("NNL"), Door: []punctuality.Crossing{in(day.MustMinute("10:20"), "clinic")}}, []punctuality.Entry{{Kind: punctuality.LateArrival, At: day.MustMinute("10:20"), Slot: "AM", Reason: "clinic", Missed: 15 + 50 + 20}}},
		"came, and nobody marked":       {punctuality.Day{Slots: slots("---"), Door: []punctuality.Crossing{in(day.MustMinute("09:20"), "")}}, []punctuality.Entry{{Kind: punctuality.LateArrival, At: day.MustMinute("09:20"), Slot: "AM", Missed: 30}}},
		"came when all was over":        {punctuality.Day{Slots: slots("NNN"), Door: []punctuality.Crossing{in(day.MustMinute("11:40"), "")}}, nil},
		"absent at first, unseen":       {punctuality.Day{Slots: slots("NPP")}, nil},
		"late for lesson 2":             {punctuality.Day{Slots: slots("PPL", day.Midnight, day.Midnight, day.MustMinute("10:05"))}, []punctuality.Entry{{Kind: punctuality.LateToLesson, At: day.MustMinute("10:05"), Slot: "2", Missed: 5}}},
		"out and back is neither":       {punctuality.Day{Slots: slots("PDP", day.Midnight, day.MustMinute("09:10")), Door: []punctuality.Crossing{out(day.MustMinute("09:10"), "clinic"), in(day.MustMinute("09:58"), "")}}, nil},
		"left early":                    {punctuality.Day{Slots: slots("PDN", day.Midnight, day.MustMinute("09:40")), Door: []punctuality.Crossing{out(day.MustMinute("09:40"), "ill")}}, []punctuality.Entry{{Kind: punctuality.EarlyDeparture, At: day.MustMinute("09:40"), Slot: "1", Reason: "ill", Missed: 15 + 50}}},
		"left early, by mark alone":     {punctuality.Day{Slots: slots("PDN", day.Midnight, day.MustMinute("09:40"))}, []punctuality.Entry{{Kind: punctuality.EarlyDeparture, At: day.MustMinute("09:40"), Slot: "1", Missed: 65}}},
		"left between two slots":        {punctuality.Day{Slots: slots("PPN"), Door: []punctuality.Crossing{out(day.MustMinute("09:57"), "ill")}}, []punctuality.Entry{{Kind: punctuality.EarlyDeparture, At: day.MustMinute("09:57"), Slot: "2", Reason: "ill", Missed: 50}}},
		"left when all was over":        {punctuality.Day{Slots: slots("PPP"), Door: []punctuality.Crossing{out(day.MustMinute("10:50"), "")}}, nil},
		"late, and away again":          {punctuality.Day{Slots: slots("LPN", day.MustMinute("08:55")), Door: []punctuality.Crossing{in(day.MustMinute("08:55"), "ferry"), out(day.MustMinute("09:56"), "ill")}}, []punctuality.Entry{{Kind: punctuality.LateArrival, At: day.MustMinute("08:55"), Slot: "AM", Reason: "ferry", Missed: 10}, {Kind: punctuality.EarlyDeparture, At: day.MustMinute("09:56"), Slot: "2", Reason: "ill", Missed: 50}}},
		"back from leave is not late":   {punctuality.Day{Slots: slots("PNL", day.Midnight, day.Midnight, day.MustMinute("10:10")), Door: []punctuality.Crossing{out(day.MustMinute("09:01"), "clinic"), in(day.MustMinute("10:10"), "")}}, []punctuality.Entry{{Kind: punctuality.LateToLesson, At: day.MustMinute("10:10"), Slot: "2", Missed: 10}}},
		"left before registration":      {punctuality.Day{Slots: slots("NNN"), Door: []punctuality.Crossing{out(day.MustMinute("08:40"), "ill")}}, []punctuality.Entry{{Kind: punctuality.EarlyDeparture, At: day.MustMinute("08:40"), Slot: "AM", Reason: "ill", Missed: 115}}},
		"out, and in class again":       {punctuality.Day{Slots: slots("PPP"), Door: []punctuality.Crossing{out(day.MustMinute("09:01"), "errand")}}, nil},
		"leaving, then present by mark": {punctuality.Day{Slots: slots("DPP", day.MustMinute("08:50"))}, nil},
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
					return day.Midnight.Add(day.Minutes(rapid.IntRange(d.Slots[i].Start.SinceMidnight()+1, d.Slots[i].End.SinceMidnight()).Draw(t, "at")))
				}).Draw(t, "minute")
			}
		}
		at := 500
		for range rapid.IntRange(0, 4).Draw(t, "door") {
			at += rapid.IntRange(1, 60).Draw(t, "later")
			d.Door = append(d.Door, punctuality.Crossing{At: day.Midnight.Add(day.Minutes(at)), Out: rapid.Bool().Draw(t, "out")})
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
