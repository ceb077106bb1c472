package calendar_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/demo/demotest"
	"meldung/pages/schoolpage"
	"meldung/work"
	"meldung/work/calendar"
	"meldung/work/check"
	"meldung/work/plans"
)

// slotsOf writes the slots of a date of the lower school.
func slotsOf(t *testing.T, o *work.Office, date string) (out []string) {
	t.Helper()
	require.NoError(t, o.ReadOn(t.Context(), day.MustDate(date), func(v work.Snapshot) error {
		s, err := v.SectionWith(demotest.Lower)
		require.NoError(t, err)
		if sd, _, open := s.SchoolDay(v.On); open {
			for _, x := range sd.Pattern.Slots {
				out = append(out, x.Name+" "+x.Start.String()+" "+x.End.String())
			}
		}
		return nil
	}))
	return out
}

func yearOf(t *testing.T, o *work.Office) schoolpage.SectionYear {
	t.Helper()
	v, err := schoolpage.ShowCalendar(t.Context(), o, demotest.Lower)
	require.NoError(t, err)
	return v.Years[0]
}

func well(t *testing.T, o *work.Office) {
	t.Helper()
	wrong, err := check.Check(t.Context(), o, true)
	require.NoError(t, err)
	assert.Empty(t, wrong)
}

// Terms are named and dated on the page; setting those that were there again leaves all as before.
func TestTermsOfTheYear(t *testing.T) {
	o := demotest.Copy(t)
	ctx := t.Context()
	before, due := figures(t, o)
	old := yearOf(t, o)
	was := calendar.Terms{Section: demotest.Lower, Year: "2026-03-10", Kind: "grading period", Apply: true}
	for _, x := range old.Periods {
		was.Spans = append(was.Spans, calendar.NamedSpan{Name: x.Name, From: x.First, To: x.Last})
	}
	require.NotEmpty(t, was.Spans)
	same, err := calendar.SetTerms(ctx, o, demotest.Admin, "same", was)
	require.NoError(t, err)
	assert.Zero(t, same.Changes(), "%v", same.Parts)

	first, last := was.Spans[0].From, was.Spans[len(was.Spans)-1].To
	halves := calendar.Terms{Section: demotest.Lower, Year: "2026-03-10", Kind: "grading period",
		Spans: []calendar.NamedSpan{{Name: "Half 1", From: first, To: "2026-01-23"}, {Name: "Half 2", From: "2026-01-26", To: "2026-06-30"}}}
	looked, err := calendar.SetTerms(ctx, o, demotest.Admin, "look", halves)
	require.NoError(t, err)
	assert.Contains(t, strings.Join(looked.Notes, "; "), "in no grading period")
	assert.Equal(t, old, yearOf(t, o), "looking changes nothing")
	halves.Apply, halves.Spans[1].To = true, last
	_, err = calendar.SetTerms(ctx, o, demotest.Admin, "set", halves)
	require.NoError(t, err)
	now := yearOf(t, o)
	assert.Equal(t, []string{"Half 1", "Half 2"}, []string{now.Periods[0].Name, now.Periods[1].Name})
	assert.Equal(t, old.Terms, now.Terms, "terms stay")
	_, again := figures(t, o)
	assert.NotEqual(t, due, again, "lates are counted by the grading period")
	well(t, o)
	_, err = calendar.SetTerms(ctx, o, demotest.Admin, "back", was)
	require.NoError(t, err)
	after, again := figures(t, o)
	assert.Equal(t, before, after)
	assert.Equal(t, due, again)

	for want, change := range map[string]func(x *calendar.Terms){
		"needs a name":        func(x *calendar.Terms) { x.Spans[0].Name = " " },
		"is there twice":      func(x *calendar.Terms) { x.Spans[0].Name = "Half 2" },
		"dates in common":     func(x *calendar.Terms) { x.Spans[1].From = "2026-01-23" },
		"before it begins":    func(x *calendar.Terms) { x.Spans[0].To = "2025-08-01" },
		"outside the school":  func(x *calendar.Terms) { x.Spans[0].From, x.Spans[0].To = "2024-01-01", "2024-02-01" },
		"no school day lies":  func(x *calendar.Terms) { x.Spans[0].From, x.Spans[0].To = "2026-01-24", "2026-01-25" },
		"lies in no school":   func(x *calendar.Terms) { x.Year = "2030-01-01" },
		"there is no section": func(x *calendar.Terms) { x.Section = 99 },
	} {
		x := halves
		x.Spans = append([]calendar.NamedSpan{}, halves.Spans...)
		change(&x)
		_, err := calendar.SetTerms(ctx, o, demotest.Admin, want, x)
		assert.ErrorContains(t, err, want)
	}
}

// Bell times change from a date on; what was put right for a day stays so, and the past stays as it was.
func TestBellsFromADate(t *testing.T) {
	o := demotest.Copy(t)
	ctx := t.Context()
	before, _ := figures(t, o)
	_, err := calendar.SetDayTimes(ctx, o, demotest.Admin, "right", calendar.DayTimes{Date: "2026-03-18", Section: demotest.Lower, Slots: []calendar.SlotTimes{{Slot: "6", From: "1500", To: "1530"}}, Reason: "play", Apply: true})
	require.NoError(t, err)
	old := slotsOf(t, o, "2026-03-12")
	in := calendar.Bells{Section: demotest.Lower, Pattern: "normal", From: "2026-03-16", Apply: true}
	for _, x := range old {
		f := strings.Fields(x)
		kind := "lesson"
		if f[0] == "AM" || f[0] == "PM" {
			kind = "registration"
		}
		if f[0] == "AM" {
			f[1], f[2] = "08:30", "08:50"
		}
		in.Slots = append(in.Slots, calendar.BellSlot{Slot: f[0], Kind: kind, From: f[1], To: f[2]})
	}
	plan, err := calendar.SetBells(ctx, o, demotest.Admin, "bells", in)
	require.NoError(t, err)
	assert.Equal(t, 1, plan.Parts[0].Changed, "%v", plan.Details)
	assert.Equal(t, old, slotsOf(t, o, "2026-03-13"))
	assert.Equal(t, "AM 08:30 08:50", slotsOf(t, o, "2026-03-16")[0])
	assert.Equal(t, []string{"AM 08:30 08:50", "6 15:00 15:30"}, []string{slotsOf(t, o, "2026-03-18")[0], slotsOf(t, o, "2026-03-18")[7]})
	assert.Equal(t, old[7], slotsOf(t, o, "2026-03-19")[7])
	after, _ := figures(t, o)
	assert.Equal(t, before, after)
	well(t, o)

	short := in
	short.From, short.Slots = "2026-04-20", in.Slots[:6]
	plan, err = calendar.SetBells(ctx, o, demotest.Admin, "short", short)
	require.NoError(t, err)
	assert.Contains(t, strings.Join(plan.Notes, "; "), "nobody meets there")
	assert.Len(t, slotsOf(t, o, "2026-04-21"), 6)
	past := in
	past.From, past.Past, past.Apply = "2026-03-02", true, false
	past.Slots = append([]calendar.BellSlot{}, in.Slots...)
	past.Slots[7].To = "15:30"
	looked, err := calendar.SetBells(ctx, o, demotest.Admin, "past", past)
	require.NoError(t, err)
	assert.NotEmpty(t, looked.Figures, "what a correction of the past would change is said first")
	for want, change := range map[string]func(x *calendar.Bells){
		"registers up to":       func(x *calendar.Bells) { x.From = "2026-03-02" },
		"there is no day":       func(x *calendar.Bells) { x.Pattern = "holiday" },
		"needs a name":          func(x *calendar.Bells) { x.Slots[0].Slot = " " },
		"is there twice":        func(x *calendar.Bells) { x.Slots[0].Slot = "1" },
		"at the same time":      func(x *calendar.Bells) { x.Slots[1].From = "08:40" },
		"can’t end at":          func(x *calendar.Bells) { x.Slots[1].To = "08:00" },
		"is not a time":         func(x *calendar.Bells) { x.Slots[1].To = "noon" },
		"\"soon\" is not a dat": func(x *calendar.Bells) { x.From = "soon" },
	} {
		x := in
		x.Slots = append([]calendar.BellSlot{}, in.Slots...)
		if change(&x); x.From == "soon" {
			x.From = "soon soon!"
			want = "is not a date"
		}
		_, err := calendar.SetBells(ctx, o, demotest.Admin, want, x)
		assert.ErrorContains(t, err, want)
	}
	_, err = calendar.SetBells(ctx, o, demotest.Officer, "officer", in)
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
}

// A date goes by another pattern, or has school where the calendar has none, in the term around it.
func TestADateByAnotherPattern(t *testing.T) {
	o := demotest.Copy(t)
	ctx := t.Context()
	require.Empty(t, slotsOf(t, o, "2026-03-21"))
	plan, err := calendar.SetPattern(ctx, o, demotest.Admin, "saturday", calendar.DayPattern{Section: demotest.Lower, From: "2026-03-21", Pattern: "normal", Apply: true})
	require.NoError(t, err)
	assert.Equal(t, []plans.PlanPart{{What: "school day", Added: 1}}, plan.Parts)
	assert.Len(t, slotsOf(t, o, "2026-03-21"), 8)
	assert.Equal(t, yearOf(t, o).Days, 191)
	const other = "short"
	_, err = calendar.SetBells(ctx, o, demotest.Admin, "new", calendar.Bells{Section: demotest.Lower, Pattern: other, From: "2026-03-23", New: true, Apply: true,
		Slots: []calendar.BellSlot{{Slot: "1", Kind: "lesson", From: "930", To: "1010"}, {Slot: "AM", Kind: "registration", From: "915", To: "930"}}})
	require.NoError(t, err)
	plan, err = calendar.SetPattern(ctx, o, demotest.Admin, "short", calendar.DayPattern{Section: demotest.Lower, From: "2026-03-23", To: "2026-03-27", Pattern: other, Apply: true})
	require.NoError(t, err)
	assert.Equal(t, 5, plan.Parts[0].Changed+plan.Parts[0].Same, "%v", plan.Details)
	assert.Equal(t, []string{"AM 09:15 09:30", "1 09:30 10:10"}, slotsOf(t, o, "2026-03-24"))
	well(t, o)
	for want, in := range map[string]calendar.DayPattern{
		"there is no day pattern": {Section: demotest.Lower, From: "2026-03-23", Pattern: "holiday"},
		"name one date":           {Section: demotest.Lower, From: "2026-03-28", To: "2026-03-29", Pattern: "normal"},
		"registers up to":         {Section: demotest.Lower, From: "2026-03-03", Pattern: other},
		"lies in no school year":  {Section: demotest.Lower, From: "2030-03-03", Pattern: other},
	} {
		_, err := calendar.SetPattern(ctx, o, demotest.Admin, want, in)
		assert.ErrorContains(t, err, want)
	}
	_, err = calendar.SetBells(ctx, o, demotest.Admin, "twice", calendar.Bells{Section: demotest.Lower, Pattern: other, From: "2026-03-23", New: true, Slots: []calendar.BellSlot{{Slot: "1", Kind: "lesson", From: "9", To: "10"}}})
	assert.ErrorContains(t, err, "there is a day pattern")
	_, err = calendar.SetPattern(ctx, o, demotest.Admin, "too early", calendar.DayPattern{Section: demotest.Lower, From: "2026-03-03", Pattern: other, Past: true})
	assert.ErrorContains(t, err, `has the day pattern "short", which does not exist`)
}

// Of two who looked at other terms at the same time, the second is told and has to look again; what is
// made is what was looked at.
func TestTermsByTwo(t *testing.T) {
	o := demotest.Copy(t)
	ctx := t.Context()
	year := yearOf(t, o)
	asked := func(name string) calendar.Terms {
		return calendar.Terms{Section: demotest.Lower, Year: "2026-03-10", Kind: "term", Spans: []calendar.NamedSpan{{Name: name, From: year.Terms[0].First, To: year.Terms[0].Last}}}
	}
	ours, theirs := asked("Ours"), asked("Theirs")
	mine, err := calendar.SetTerms(ctx, o, demotest.Admin, "look", ours)
	require.NoError(t, err)
	other, err := calendar.SetTerms(ctx, o, demotest.Admin, "look too", theirs)
	require.NoError(t, err)
	theirs.Apply, theirs.Seen = true, other.Stamp
	_, err = calendar.SetTerms(ctx, o, demotest.Admin, "first", theirs)
	require.NoError(t, err)
	before := yearOf(t, o)
	ours.Apply, ours.Seen = true, mine.Stamp
	_, err = calendar.SetTerms(ctx, o, demotest.Admin, "second", ours)
	assert.Equal(t, work.Conflict, demotest.Kind(t, err))
	assert.ErrorContains(t, err, "look again")
	assert.Equal(t, before, yearOf(t, o))
	ours.Apply, ours.Seen = false, ""
	mine, err = calendar.SetTerms(ctx, o, demotest.Admin, "look again", ours)
	require.NoError(t, err)
	ours.Apply, ours.Seen = true, mine.Stamp
	_, err = calendar.SetTerms(ctx, o, demotest.Admin, "third", ours)
	require.NoError(t, err)
	assert.Equal(t, "Ours", yearOf(t, o).Terms[0].Name)
}
