package day_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"meldung/core/day"
)

func TestDatesAndWhatTheyHaveInCommon(t *testing.T) {
	march := day.Dates{From: day.MustDate("2026-03-01"), To: day.MustDate("2026-03-31")}
	assert.True(t, march.Has(day.MustDate("2026-03-31")))
	assert.False(t, march.Has(day.MustDate("2026-04-01")))
	assert.Equal(t, march, day.Always.Common(march))
	assert.True(t, march.Common(day.Since(day.MustDate("2026-04-01"))).Empty())
	rapid.Check(t, func(t *rapid.T) {
		date := func(name string) day.Date { return day.Date(rapid.IntRange(0, 9).Draw(t, name)) }
		a, b, d := day.Dates{From: date("a"), To: date("b")}, day.Dates{From: date("c"), To: date("d")}, date("on")
		assert.Equal(t, a.Has(d) && b.Has(d), a.Common(b).Has(d))
	})
}

// A pattern that has changed is several of one name; each date has the one that held.
func TestADateHasThePatternThatHeldOnIt(t *testing.T) {
	slot := func(name, from, to string) day.Slot {
		return day.Slot{Name: name, Start: day.MustMinute(from), End: day.MustMinute(to)}
	}
	tuesday := day.MustDate("2026-03-10")
	patterns := []day.Pattern{
		{Name: "normal", Since: tuesday, Slots: []day.Slot{slot("reg", "08:50", "09:05")}},
		{Name: "normal", Slots: []day.Slot{slot("AM", "08:45", "09:00")}},
		{Name: "trial", Since: tuesday, Slots: []day.Slot{slot("1", "09:00", "10:00")}},
	}
	c, err := day.NewCalendar(patterns, []day.Row{{Date: tuesday - 1, Pattern: "normal"}, {Date: tuesday, Pattern: "normal"}, {Date: tuesday + 1, Pattern: "trial"}})
	require.NoError(t, err)
	for i, want := range []string{"AM normal", "reg normal from 2026-03-10", "1 trial from 2026-03-10"} {
		p := c.Day(i).Pattern
		assert.Equal(t, want, p.Slots[0].Name+" "+p.Version())
	}
	_, err = day.NewCalendar(patterns, []day.Row{{Date: tuesday - 1, Pattern: "trial"}})
	assert.ErrorContains(t, err, `2026-03-09 has the day pattern "trial", which does not exist`)
	_, err = day.NewCalendar(append(patterns, patterns[0]), []day.Row{{Date: tuesday, Pattern: "normal"}})
	assert.ErrorContains(t, err, `"normal from 2026-03-10" can't be named so, or is there twice`)
}

func TestWhatIsSaidFromADateOn(t *testing.T) {
	nine, ten := "9", "10"
	september := day.MustDate("2026-09-01")
	now := day.Supersede([]day.Dated[string]{{What: nine, On: day.Always}}, &ten, day.Since(september))
	assert.Equal(t, []day.Dated[string]{{What: nine, On: day.Dates{From: day.NoStart, To: september - 1}}, {What: ten, On: day.Since(september)}}, now)
	assert.Equal(t, now, day.Supersede(now, &ten, day.Since(september+7)), "said again it changes nothing")
	assert.Equal(t, now[:1], day.Supersede(now, nil, day.Since(september)))
}

// On the dates that are spoken of holds what is said now, on others what held before; and
// saying it twice is saying it once.
func TestSupersedingTouchesNoOtherDate(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var held []day.Dated[string]
		said := map[day.Date]string{}
		for range rapid.IntRange(1, 5).Draw(t, "times") {
			over := day.Dates{From: day.Date(rapid.IntRange(0, 9).Draw(t, "from")), To: day.Date(rapid.IntRange(0, 9).Draw(t, "to"))}
			if rapid.Bool().Draw(t, "open") {
				over.To = day.NoEnd
			}
			if rapid.Bool().Draw(t, "always") {
				over.From = day.NoStart
			}
			var now *string
			if what := rapid.SampledFrom([]string{"", "a", "b"}).Draw(t, "what"); what != "" {
				now = &what
			}
			for d := day.Date(-1); d < 12; d++ {
				switch {
				case !over.Has(d):
				case now == nil:
					delete(said, d)
				default:
					said[d] = *now
				}
			}
			held = day.Supersede(held, now, over)
			assert.Equal(t, held, day.Supersede(held, now, over))
		}
		for d := day.Date(-1); d < 12; d++ {
			what, ok := day.HeldOn(held, d)
			want, there := said[d]
			assert.Equal(t, []any{want, there}, []any{what, ok}, "%d", d)
		}
		for i := 1; i < len(held); i++ {
			assert.Less(t, held[i-1].On.To, held[i].On.From)
		}
	})
}
