package roster_test

import (
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/ids"
	"meldung/demo/demotest"
	"meldung/pages"
	"meldung/pages/absencepage"
	"meldung/pages/registerpage"
	"meldung/pages/schoolpage"
	"meldung/store"
	"meldung/work"
	"meldung/work/calendar"
	"meldung/work/plans"
	"meldung/work/roster"
)

// missed are the time that Asta Øye was due and what she missed of it.
func (s small) missed() [2]string {
	s.Helper()
	v, err := absencepage.ShowWhy(s.Context(), s.Office, demotest.Officer, s.student("Asta Øye"), "", pages.AbsenceAsk{Policy: "hours"})
	require.NoError(s, err)
	return [2]string{v.Figures.Due, v.Figures.Missed}
}

// times are when the register of a date was.
func (s small) times(date string) [2]string {
	s.Helper()
	list, err := registerpage.ShowAll(s.Context(), s.Office, demotest.Admin, date)
	require.NoError(s, err)
	return [2]string{list.Registers[0].Start, list.Registers[0].End}
}

func (s small) puts(date, from, to string) (plans.Plan, error) {
	return calendar.SetDayTimes(s.Context(), s.Office, importer, "", calendar.DayTimes{Date: date, Reason: "fire alarm", Slots: []calendar.SlotTimes{{Slot: "AM", From: from, To: to}}, Apply: true})
}

// A day that went otherwise than its pattern is put right, that date alone: its register that is in
// has the times too, the minutes missed follow, and it goes back to what it was.
func TestADayIsPutRight(t *testing.T) {
	t.Parallel()
	s := newSmall(t)
	s.sends("P", "N") // Lone, Øye
	s.at("2026-03-10T08:50")
	s.sends("P", "P")
	s.at("2026-03-10T12:00")
	was := s.missed()
	files, err := roster.ExportTimetable(t.Context(), s.Office)
	require.NoError(t, err)

	looked, err := calendar.SetDayTimes(t.Context(), s.Office, importer, "", calendar.DayTimes{Date: "2026-03-09", Reason: "fire alarm", Slots: []calendar.SlotTimes{{Slot: "AM", From: "845", To: "0855"}}})
	require.NoError(t, err)
	assert.False(t, looked.Applied)
	assert.Equal(t, []string{"change slot AM, 08:45 to 09:00 to AM, 08:45 to 08:55"}, looked.Details)
	assert.Contains(t, looked.Figures[0], "the figures of 2 students change")
	assert.Equal(t, was, s.missed(), "looking changes nothing")

	done, err := s.puts("2026-03-09", "845", "0855")
	require.NoError(t, err)
	assert.Equal(t, "on Mon 9 March 2026 alone, fire alarm", done.When)
	assert.Equal(t, [2]string{"08:45", "08:55"}, s.times("2026-03-09"))
	assert.Equal(t, [2]string{"08:45", "09:00"}, s.times("2026-03-10"))
	assert.Equal(t, [2]string{"30 min", "15 min"}, was)
	assert.Equal(t, [2]string{"25 min", "10 min"}, s.missed())
	s.well()

	view, err := registerpage.ShowTimes(t.Context(), s.Office, "2026-03-09")
	require.NoError(t, err)
	assert.Equal(t, "08:45 to 09:00", view.Sections[0].Slots[0].Usual)

	// Today too; what leaves as the timetable is the pattern, not the day.
	_, err = s.puts("2026-03-10", "0850", "0910")
	require.NoError(t, err)
	assert.Equal(t, [2]string{"08:50", "09:10"}, s.times(""))
	again, err := roster.ExportTimetable(t.Context(), s.Office)
	require.NoError(t, err)
	assert.Equal(t, files, again)
	plan, err := roster.ImportTimetable(t.Context(), s.Office, importer, "", again, plans.Options{Apply: true})
	require.NoError(t, err)
	assert.Zero(t, plan.Changes(), plan.Details)
	assert.Equal(t, [2]string{"08:50", "09:10"}, s.times(""), "the same timetable again leaves the day as it is")

	// Two days in a row with the same times are still no timetable.
	_, err = s.puts("2026-03-09", "0850", "0910")
	require.NoError(t, err)
	view, err = registerpage.ShowTimes(t.Context(), s.Office, "2026-03-10")
	require.NoError(t, err)
	assert.Equal(t, "08:45 to 09:00", view.Sections[0].Slots[0].Usual)
	again, err = roster.ExportTimetable(t.Context(), s.Office)
	require.NoError(t, err)
	assert.Equal(t, files, again)

	for _, d := range []string{"2026-03-09", "2026-03-10"} {
		_, err = s.puts(d, "0845", "0900")
		require.NoError(t, err)
	}
	assert.Equal(t, was, s.missed())
	s.well()
	for _, x := range s.records() {
		assert.False(t, x.Once, "nothing is left of what was put back")
	}
}

// records are the slots as they are stored.
func (s small) records() (out []store.PatternSlot) {
	s.Helper()
	require.NoError(s, s.Read(s.Context(), func(v work.Snapshot) error {
		out = v.School.Records().Rows.PatternSlots
		return nil
	}))
	return out
}

func TestADayThatCannotBeSo(t *testing.T) {
	t.Parallel()
	s := newSmall(t)
	s.sends("P", "N")
	for _, x := range []struct{ date, from, to, says string }{
		{"2026-03-09", "0900", "0845", "can’t end at 08:45"},
		{"2026-03-09", "9x", "0900", "9x"},
		{"2026-03-12", "0845", "0900", "no school on Thu 12 March"},
		{"not a date", "0845", "0900", "date"},
	} {
		_, err := s.puts(x.date, x.from, x.to)
		assert.ErrorContains(t, err, x.says)
	}
	ask := calendar.DayTimes{Date: "2026-03-09", Reason: "alarm", Apply: true, Slots: []calendar.SlotTimes{{Slot: "7", From: "0845", To: "0900"}}}
	_, err := calendar.SetDayTimes(t.Context(), s.Office, importer, "", ask)
	assert.ErrorContains(t, err, `no slot "7"`)
	ask.Section, ask.Slots[0].Slot = 9, "AM"
	_, err = calendar.SetDayTimes(t.Context(), s.Office, importer, "", ask)
	assert.Equal(t, work.NotFound, demotest.Kind(t, err), "a section that is not there")
	ask.Section, ask.Reason = 0, "  "
	_, err = calendar.SetDayTimes(t.Context(), s.Office, importer, "", ask)
	assert.ErrorContains(t, err, "say why")
	ask.Reason = "alarm"
	_, err = calendar.SetDayTimes(t.Context(), s.Office, demotest.Osk, "", ask)
	assert.Equal(t, work.Refused, demotest.Kind(t, err), "a teacher")
	assert.Equal(t, [2]string{"08:45", "09:00"}, s.times(""))
}

// Slots that would be at the same time are refused; the other section's day stays as it is.
func TestTheDayOfOneSection(t *testing.T) {
	t.Parallel()
	s := sites(t)
	put := func(of calendar.DayTimes) error {
		of.Date, of.Reason, of.Apply = "2026-03-09", "storm", true
		_, err := calendar.SetDayTimes(t.Context(), s.Office, importer, "", of)
		return err
	}
	assert.ErrorContains(t, put(calendar.DayTimes{Section: ness, Slots: []calendar.SlotTimes{{Slot: "AM", From: "0915", To: "0945"}}}), "at the same time")
	assert.ErrorContains(t, put(calendar.DayTimes{Slots: []calendar.SlotTimes{{Slot: "AM", From: "0915", To: "0920"}}}), "which section")
	var both sync.WaitGroup
	for _, section := range []struct {
		id       ids.Section
		from, to string
	}{{holm, "0850", "0905"}, {ness, "0915", "0935"}} {
		both.Go(func() {
			assert.NoError(t, put(calendar.DayTimes{Section: section.id, Slots: []calendar.SlotTimes{{Slot: "AM", From: section.from, To: section.to}}}))
		})
	}
	both.Wait()
	view, err := registerpage.ShowTimes(t.Context(), s.Office, "2026-03-09")
	require.NoError(t, err)
	got := map[string]string{}
	for _, section := range view.Sections {
		for _, slot := range section.Slots {
			got[section.Name+" "+slot.Name] = slot.From + " to " + slot.To
		}
	}
	assert.Equal(t, map[string]string{"Holm AM": "08:50 to 09:05", "Holm PM": "13:00 to 13:15", "Ness AM": "09:15 to 09:35", "Ness 1": "09:40 to 10:40"}, got)
	s.well()
}

// The School page shows the year day by day, a day that was put right apart, and of a class when it meets.
func TestTheCalendarShowsWhatWasPutRight(t *testing.T) {
	t.Parallel()
	s := newSmall(t)
	_, err := s.puts("2026-03-10", "0850", "0910")
	require.NoError(t, err)
	view, err := schoolpage.ShowCalendar(t.Context(), s.Office)
	require.NoError(t, err)
	require.Len(t, view.Years, 1)
	y := view.Years[0]
	assert.Equal(t, []any{"2026", 4, 1}, []any{y.Title, y.Days, y.Number})
	assert.Equal(t, []schoolpage.DayKind{{Name: "normal", Days: 4}}, y.Kinds)
	require.Equal(t, "March", y.Months[0].Title)
	kinds := map[string]string{}
	for _, m := range y.Months {
		for _, d := range m.Days {
			kinds[d.Date] = d.Kind
		}
	}
	assert.Equal(t, "usual", kinds["2026-03-09"])
	assert.Equal(t, "changed", kinds["2026-03-10"])
	assert.Equal(t, "closed", kinds["2026-03-11"])
	assert.Empty(t, kinds["2026-03-14"], "a Saturday without school is no date")

	table, err := schoolpage.ShowTimetable(t.Context(), s.Office, "class:1")
	require.NoError(t, err)
	assert.Equal(t, []schoolpage.MeetingLine{{When: "normal", Slot: "AM", Room: "room 1"}}, table.Meetings)
	for _, x := range table.Slots {
		assert.Equal(t, []string{"08:45", "09:00"}, []string{x.From, x.To}, "one day's times are no slot of the pattern")
	}
	_, err = schoolpage.ShowTimetable(t.Context(), s.Office, "class:99")
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
}
