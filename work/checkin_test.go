package work_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/demo/demotest"
	"meldung/outside"
	"meldung/work"
)

// class is 8 Halyard in its afternoon registration, with a check-in.
type class struct {
	t     *testing.T
	o     *work.Office
	clock *outside.DemoClock
	id    int64
}

// opened opens a check-in on 8 Halyard's afternoon registration at 13:46.
func opened(t *testing.T, n work.NewCheckIn) class {
	t.Helper()
	o, clock := demotest.CopyWithClock(t)
	clock.Set(day.At(day.MustDate(date), 13*60+46))
	n.Class, n.Slot = halyard, "PM"
	r, err := o.OpenCheckIn(t.Context(), osk, "open the check-in", n)
	require.NoError(t, err)
	return class{t, o, clock, r.IDs[0]}
}

func (c class) view() work.RegisterView {
	c.t.Helper()
	v, err := c.o.Register(c.t.Context(), osk, halyard, "PM", "")
	require.NoError(c.t, err)
	return v
}

// marks is the register as it is sent: the shared draft, and a code for the rest.
func (c class) marks(code string) []work.SentMark {
	c.t.Helper()
	var out []work.SentMark
	for _, r := range c.view().Rows {
		m := work.SentMark{Student: r.Student.ID, Code: code}
		if r.Draft != nil && r.Draft.Code != "" {
			m.Code, m.Time, m.Source, m.Seen = r.Draft.Code, r.Draft.Time, r.Draft.Source, r.Draft.Version
		}
		out = append(out, m)
	}
	return out
}

func (c class) code() string {
	c.t.Helper()
	code, err := c.o.CheckInCode(c.t.Context(), osk, c.id, "http://school.example")
	require.NoError(c.t, err)
	return code.Code
}

func (c class) enter(phone, number string, change func(*work.PhoneEntry)) (work.PhoneReceipt, error) {
	c.t.Helper()
	start, err := c.o.StartOnPhone(c.t.Context(), phone, c.code())
	require.NoError(c.t, err)
	in := work.PhoneEntry{Ticket: start.Ticket, Number: number}
	if change != nil {
		change(&in)
	}
	return c.o.CheckInOnPhone(c.t.Context(), phone, in)
}

func TestStudentsCheckInOnceEachAndTheTeacherConfirms(t *testing.T) {
	t.Parallel()
	c := opened(t, work.NewCheckIn{Minutes: 5, Question: "One word for today?", Distance: true})
	ctx := t.Context()
	v := c.view()
	require.True(t, v.CheckIn.Open)
	assert.Equal(t, []string{"13:46", "13:51"}, []string{v.CheckIn.Opens, v.CheckIn.Closes})
	due := len(v.CheckIn.NotYet)
	free := v.CheckIn.NotYet
	a, b, far, late := free[0], free[1], free[2], free[3]

	answer := func(word string) func(*work.PhoneEntry) { return func(e *work.PhoneEntry) { e.Answer = word } }
	_, err := c.enter("phone a", a.Number, nil)
	assert.ErrorContains(t, err, "answer the question too")
	in, err := c.enter("phone a", a.Number, answer("windy"))
	require.NoError(t, err)
	assert.Equal(t, []string{a.Given, "8 Halyard", "13:46", "present; your teacher confirms it"}, []string{in.Given, in.Class, in.At, in.Words})
	again, err := c.enter("phone a", a.Number, answer("really"))
	require.NoError(t, err)
	assert.Equal(t, in, again, "a second time changes nothing")
	_, err = c.enter("phone x", a.Number, answer("me"))
	assert.ErrorContains(t, err, "in already, from another phone")
	_, err = c.enter("phone a", b.Number, answer("for a friend"))
	require.NoError(t, err, "told to the teacher, not to the phone")
	_, err = c.enter("phone far", far.Number, func(e *work.PhoneEntry) { e.Answer, e.Distance = "at home", true })
	require.NoError(t, err)
	_, err = c.enter("phone y", "40001", answer("not of this class"))
	assert.ErrorContains(t, err, "no student of 8 Halyard has that number")
	c.clock.Set(c.o.Now() + 4) // 13:50 is the last minute on time for 13:45
	_, err = c.enter("phone late", late.Number, answer("sorry"))
	require.NoError(t, err)

	v = c.view()
	entries := map[string]work.CheckInEntryView{}
	for _, e := range v.CheckIn.Entries {
		entries[e.Student.Name] = e
	}
	assert.Len(t, entries, 4)
	assert.Len(t, v.CheckIn.NotYet, due-4)
	assert.Equal(t, 1, v.CheckIn.Wrong)
	assert.Equal(t, "windy", entries[a.Name].Answer, "the first answer stands")
	assert.Equal(t, "the same phone as "+b.Name, entries[a.Name].Doubt)
	assert.Equal(t, "the same phone as "+a.Name, entries[b.Name].Doubt)
	assert.Equal(t, []string{"R", ""}, []string{entries[far.Name].Code, entries[far.Name].Doubt})
	assert.Equal(t, []string{"P", ""}, []string{entries[late.Name].Code, entries[late.Name].Time})

	// The teacher has marked one otherwise in between, and confirms two.
	_, err = c.o.DraftRegister(ctx, officer, "the office marks the late one", work.Drafts{Date: date, Class: halyard, Slot: "PM", Marks: []work.DraftMark{{Student: late.ID, Code: "N"}}})
	require.NoError(t, err)
	done, err := c.o.ConfirmCheckIns(ctx, osk, "confirm", c.id, []work.Confirmed{{Student: far.ID}, {Student: late.ID}, {Student: a.ID}})
	require.NoError(t, err)
	assert.Len(t, done.Taken, 2)
	require.Len(t, done.Conflicts, 1)
	assert.Equal(t, "N", done.Conflicts[0].Code)
	for _, e := range c.view().CheckIn.Entries {
		assert.Equal(t, e.Student.ID == far.ID || e.Student.ID == a.ID, e.Confirmed, e.Student.Name)
	}
	_, err = c.o.ConfirmCheckIns(ctx, osk, "confirm whom nobody saw", c.id, []work.Confirmed{{Student: free[5].ID}})
	assert.ErrorContains(t, err, "has not checked in")

	// A phone that was confirmed for one student shows that one's record; a doubtful one none.
	own, err := c.o.RecordOfPhone(ctx, "phone far")
	require.NoError(t, err)
	assert.Equal(t, far.Given, own.Given)
	assert.Len(t, own.Days, 10)
	assert.NotEmpty(t, own.Counts)
	for _, phone := range []string{"phone a", "phone late", "", "phone nobody has"} {
		none, err := c.o.RecordOfPhone(ctx, phone)
		require.NoError(t, err)
		assert.Equal(t, work.OwnRecord{Days: []work.OwnDay{}, Counts: []work.CodeCount{}}, none, phone)
	}
	_, err = c.o.SendRegister(ctx, osk, "and sends it", date, halyard, "PM", c.marks("P"))
	require.NoError(t, err)
	assert.Equal(t, "elsewhere", place(t, c.o, far.Number), "attended, not on the premises")
}

func TestAWindowOpensAndClosesAndItsCodeChanges(t *testing.T) {
	t.Parallel()
	c := opened(t, work.NewCheckIn{Minutes: 5})
	ctx := t.Context()
	_, err := c.o.OpenCheckIn(ctx, osk, "twice", work.NewCheckIn{Class: halyard, Slot: "PM", Minutes: 5})
	assert.ErrorContains(t, err, "open until 13:51")
	_, err = c.o.CheckInCode(ctx, rask, c.id, "")
	assert.Equal(t, work.Refused, kind(t, err), "another's class")
	code := c.code()
	first := c.view().CheckIn.NotYet[0]
	start, err := c.o.StartOnPhone(ctx, "a phone", code[:3]+" "+code[3:])
	require.NoError(t, err)
	_, err = c.o.CheckInOnPhone(ctx, "another phone", work.PhoneEntry{Ticket: start.Ticket, Number: first.Number})
	assert.ErrorContains(t, err, "enter the code again", "a ticket is of use to its own phone only")
	c.clock.Set(c.o.Now() + 1)
	assert.NotEqual(t, code, c.code())
	_, err = c.o.StartOnPhone(ctx, "a phone", code)
	assert.ErrorContains(t, err, "not on show now")
	_, err = c.o.CheckInOnPhone(ctx, "a phone", work.PhoneEntry{Ticket: start.Ticket, Number: first.Number})
	require.NoError(t, err, "three minutes are enough to find one's number")
	second := c.view().CheckIn.NotYet[0]
	c.clock.Set(c.o.Now() + 3)
	_, err = c.o.CheckInOnPhone(ctx, "a phone", work.PhoneEntry{Ticket: start.Ticket, Number: second.Number})
	assert.ErrorContains(t, err, "longer than 3 minutes")
	_, err = c.o.CheckInOnPhone(ctx, "a phone", work.PhoneEntry{Ticket: "made up", Number: second.Number})
	assert.ErrorContains(t, err, "check-in is closed")

	fresh, err := c.o.StartOnPhone(ctx, "a phone", c.code())
	require.NoError(t, err)
	_, err = c.o.EndCheckIn(ctx, osk, "close", c.id)
	require.NoError(t, err)
	_, err = c.o.CheckInOnPhone(ctx, "a phone", work.PhoneEntry{Ticket: fresh.Ticket, Number: second.Number})
	assert.ErrorContains(t, err, "check-in is closed")
	assert.False(t, c.view().CheckIn.Open)
	_, err = c.o.OpenCheckIn(ctx, osk, "too early", work.NewCheckIn{Class: halyard, Slot: "9", Minutes: 5})
	assert.Equal(t, work.NotFound, kind(t, err))
}

func TestACheckInIsRepeatedOnLaterDays(t *testing.T) {
	t.Parallel()
	c := opened(t, work.NewCheckIn{Minutes: 4, Question: "One word?"})
	ctx := t.Context()
	days := c.view().CheckInDays
	require.Len(t, days, 10)
	assert.Equal(t, "2026-03-11", days[0].Date)
	r, err := c.o.RepeatCheckIn(ctx, osk, "for two days", c.id, work.CheckInDays{Dates: []string{days[0].Date, days[2].Date, days[0].Date}})
	require.NoError(t, err)
	assert.Len(t, r.IDs, 2)
	again, err := c.o.RepeatCheckIn(ctx, osk, "the same again", c.id, work.CheckInDays{Dates: []string{days[0].Date}})
	require.NoError(t, err)
	assert.Empty(t, again.IDs, "a day that has one gets no second")
	for _, bad := range []string{"2026-03-14", date, "soon"} {
		_, err = c.o.RepeatCheckIn(ctx, osk, "not on "+bad, c.id, work.CheckInDays{Dates: []string{days[4].Date, bad}})
		assert.ErrorContains(t, err, "nothing was planned", bad)
	}
	planned := c.view().CheckInDays
	assert.Equal(t, []bool{true, false, true, false, false}, []bool{planned[0].Planned, planned[1].Planned, planned[2].Planned, planned[3].Planned, planned[4].Planned})

	c.clock.Set(day.At(day.MustDate(days[0].Date), 13*60+44))
	assert.False(t, c.view().CheckIn.Open)
	c.clock.Set(c.o.Now() + 1)
	v := c.view()
	assert.True(t, v.CheckIn.Open, "it opens with its slot")
	assert.Equal(t, []string{"13:45", "13:49", "One word?"}, []string{v.CheckIn.Opens, v.CheckIn.Closes, v.CheckIn.Question})
}
