package checkin_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/demo"
	"meldung/demo/demotest"
	"meldung/pages/registerpage"
	"meldung/work"
	"meldung/work/checkin"
	"meldung/work/registers"
)

// class is 8 Halyard in its afternoon registration, with a check-in.
type class struct {
	t     *testing.T
	o     *work.Office
	clock *demotest.Clock
	id    ids.CheckIn
}

// opened opens a check-in on 8 Halyard's afternoon registration at 13:46.
func opened(t *testing.T, n checkin.NewCheckIn) class {
	t.Helper()
	o, clock := demotest.CopyWithClock(t)
	clock.Set(day.At(day.MustDate(demotest.Date), day.MustMinute("13:46")))
	n.Class, n.Slot = demotest.Halyard, "PM"
	r, err := checkin.Open(t.Context(), o, demotest.Osk, "open the check-in", n)
	require.NoError(t, err)
	return class{t, o, clock, ids.CheckIn(r.IDs[0])}
}

func (c class) view() registerpage.RegisterView {
	c.t.Helper()
	v, err := registerpage.Show(c.t.Context(), c.o, demotest.Osk, demotest.Halyard, "PM", "")
	require.NoError(c.t, err)
	return v
}

// marks is the register as it is sent: the shared draft, and a code for the rest.
func (c class) marks(code string) []registers.SentMark {
	c.t.Helper()
	var out []registers.SentMark
	for _, r := range c.view().Rows {
		m := registers.SentMark{Student: r.Student.ID, Code: code}
		if r.Draft != nil && r.Draft.Code != "" {
			m.Code, m.Time, m.Source, m.Seen = r.Draft.Code, r.Draft.Time, r.Draft.Source, r.Draft.Version
		}
		out = append(out, m)
	}
	return out
}

func (c class) code() string {
	c.t.Helper()
	code, err := registerpage.ShowCode(c.t.Context(), c.o, demotest.Osk, c.id, "http://school.example")
	require.NoError(c.t, err)
	return code.Code
}

func (c class) enter(phone, number string, change func(*checkin.PhoneEntry)) (checkin.PhoneReceipt, error) {
	c.t.Helper()
	start, err := checkin.StartOnPhone(c.t.Context(), c.o, phone, c.code())
	require.NoError(c.t, err)
	in := checkin.PhoneEntry{Ticket: start.Ticket, Number: number}
	if change != nil {
		change(&in)
	}
	return checkin.CheckInOnPhone(c.t.Context(), c.o, phone, in)
}

func TestStudentsCheckInOnceEachAndTheTeacherConfirms(t *testing.T) {
	t.Parallel()
	c := opened(t, checkin.NewCheckIn{Minutes: 5, Question: "One word for today?", Distance: true})
	ctx := t.Context()
	v := c.view()
	require.True(t, v.CheckIn.Open)
	assert.Equal(t, []string{"13:46", "13:51"}, []string{v.CheckIn.Opens, v.CheckIn.Closes})
	due := len(v.CheckIn.NotYet)
	free := v.CheckIn.NotYet
	a, b, far, late := free[0], free[1], free[2], free[3]

	answer := func(word string) func(*checkin.PhoneEntry) { return func(e *checkin.PhoneEntry) { e.Answer = word } }
	_, err := c.enter("phone a", a.Number, nil)
	assert.ErrorContains(t, err, "answer the question too")
	in, err := c.enter("phone a", a.Number, answer("windy"))
	require.NoError(t, err)
	assert.Equal(t, []string{a.Given, "8 Halyard", "13:46", "present; your teacher confirms it"}, []string{in.Given, in.Class, in.At, in.Text})
	again, err := c.enter("phone a", a.Number, answer("really"))
	require.NoError(t, err)
	assert.Equal(t, in, again, "a second time changes nothing")
	_, err = c.enter("phone x", a.Number, answer("me"))
	assert.ErrorContains(t, err, "in already, from another phone")
	_, err = c.enter("phone a", b.Number, answer("for a friend"))
	require.NoError(t, err, "told to the teacher, not to the phone")
	_, err = c.enter("phone far", far.Number, func(e *checkin.PhoneEntry) { e.Answer, e.Distance = "at home", true })
	require.NoError(t, err)
	_, err = c.enter("phone y", "40001", answer("not of this class"))
	assert.ErrorContains(t, err, "no student of 8 Halyard has that number")
	c.clock.Set(c.o.Now() + 4) // 13:50 is the last minute on time for 13:45
	_, err = c.enter("phone late", late.Number, answer("sorry"))
	require.NoError(t, err)

	v = c.view()
	entries := map[string]registerpage.CheckInEntryView{}
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
	_, err = registers.Draft(ctx, c.o, demotest.Officer, "the office marks the late one", registers.Drafts{Date: demotest.Date, Class: demotest.Halyard, Slot: "PM", Marks: []work.DraftMark{{Student: late.ID, Code: "N"}}})
	require.NoError(t, err)
	done, err := checkin.Confirm(ctx, c.o, demotest.Osk, "confirm", c.id, checkin.Confirmation{Students: []checkin.Confirmed{{Student: far.ID}, {Student: late.ID}, {Student: a.ID}}})
	require.NoError(t, err)
	assert.Len(t, done.Taken, 2)
	require.Len(t, done.Conflicts, 1)
	assert.Equal(t, "N", done.Conflicts[0].Code)
	for _, e := range c.view().CheckIn.Entries {
		assert.Equal(t, e.Student.ID == far.ID || e.Student.ID == a.ID, e.Confirmed, e.Student.Name)
	}
	_, err = checkin.Confirm(ctx, c.o, demotest.Osk, "confirm whom nobody saw", c.id, checkin.Confirmation{Students: []checkin.Confirmed{{Student: free[5].ID}}})
	assert.ErrorContains(t, err, "has not checked in")

	// A phone that was confirmed for one student shows that one's record; a doubtful one none.
	own, err := registerpage.RecordOfPhone(ctx, c.o, "phone far")
	require.NoError(t, err)
	assert.Equal(t, far.Given, own.Given)
	assert.Len(t, own.Days, 10)
	assert.NotEmpty(t, own.Counts)
	for _, phone := range []string{"phone a", "phone late", "", "phone nobody has"} {
		none, err := registerpage.RecordOfPhone(ctx, c.o, phone)
		require.NoError(t, err)
		assert.Equal(t, registerpage.OwnRecord{Days: []registerpage.OwnDay{}, Counts: []registerpage.CodeCount{}}, none, phone)
	}
	_, err = registers.Send(ctx, c.o, demotest.Osk, "and sends it", registers.SentRegister{Date: demotest.Date, Class: demotest.Halyard, Slot: "PM", Marks: c.marks("P")})
	require.NoError(t, err)
	assert.Equal(t, "elsewhere", demotest.Place(t, c.o, far.Number), "attended, not on the premises")
}

func TestAWindowOpensAndClosesAndItsCodeChanges(t *testing.T) {
	t.Parallel()
	c := opened(t, checkin.NewCheckIn{Minutes: 5})
	ctx := t.Context()
	_, err := checkin.Open(ctx, c.o, demotest.Osk, "twice", checkin.NewCheckIn{Class: demotest.Halyard, Slot: "PM", Minutes: 5})
	assert.ErrorContains(t, err, "open until 13:51")
	_, err = registerpage.ShowCode(ctx, c.o, demotest.Rask, c.id, "")
	assert.Equal(t, work.Refused, demotest.Kind(t, err), "another's class")
	code := c.code()
	first := c.view().CheckIn.NotYet[0]
	start, err := checkin.StartOnPhone(ctx, c.o, "a phone", code[:3]+" "+code[3:])
	require.NoError(t, err)
	_, err = checkin.CheckInOnPhone(ctx, c.o, "another phone", checkin.PhoneEntry{Ticket: start.Ticket, Number: first.Number})
	assert.ErrorContains(t, err, "enter the code again", "a ticket is of use to its own phone only")
	c.clock.Set(c.o.Now() + 1)
	assert.NotEqual(t, code, c.code())
	_, err = checkin.StartOnPhone(ctx, c.o, "a phone", code)
	assert.ErrorContains(t, err, "not on show now")
	_, err = checkin.CheckInOnPhone(ctx, c.o, "a phone", checkin.PhoneEntry{Ticket: start.Ticket, Number: first.Number})
	require.NoError(t, err, "three minutes are enough to find one's number")
	second := c.view().CheckIn.NotYet[0]
	c.clock.Set(c.o.Now() + 3)
	_, err = checkin.CheckInOnPhone(ctx, c.o, "a phone", checkin.PhoneEntry{Ticket: start.Ticket, Number: second.Number})
	assert.ErrorContains(t, err, "longer than 3 minutes")
	_, err = checkin.CheckInOnPhone(ctx, c.o, "a phone", checkin.PhoneEntry{Ticket: "made up", Number: second.Number})
	assert.ErrorContains(t, err, "check-in is closed")

	fresh, err := checkin.StartOnPhone(ctx, c.o, "a phone", c.code())
	require.NoError(t, err)
	_, err = checkin.End(ctx, c.o, demotest.Osk, "close", c.id)
	require.NoError(t, err)
	_, err = checkin.CheckInOnPhone(ctx, c.o, "a phone", checkin.PhoneEntry{Ticket: fresh.Ticket, Number: second.Number})
	assert.ErrorContains(t, err, "check-in is closed")
	assert.False(t, c.view().CheckIn.Open)
	again, err := checkin.Open(ctx, c.o, demotest.Osk, "again", checkin.NewCheckIn{Class: demotest.Halyard, Slot: "PM", Minutes: 2})
	require.NoError(t, err)
	v := c.view()
	assert.EqualValues(t, again.IDs[0], v.CheckIn.ID)
	require.Len(t, v.CheckInsBefore, 1, "who checked in before and is not confirmed yet is not lost")
	assert.Equal(t, c.id, v.CheckInsBefore[0].ID)
	assert.Equal(t, first.ID, v.CheckInsBefore[0].Entries[0].Student.ID)
	assert.Empty(t, v.NoCheckIn)
	_, err = checkin.Confirm(ctx, c.o, demotest.Osk, "confirm the first", c.id, checkin.Confirmation{Students: []checkin.Confirmed{{Student: first.ID}}})
	require.NoError(t, err)
	assert.Empty(t, c.view().CheckInsBefore)
	c.clock.Set(day.At(demo.Today, day.MustMinute("13:55")))
	assert.Equal(t, "PM registration was over at 13:55", c.view().NoCheckIn)
	_, err = checkin.Open(ctx, c.o, demotest.Osk, "too early", checkin.NewCheckIn{Class: demotest.Halyard, Slot: "9", Minutes: 5})
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
}

func TestACheckInIsRepeatedOnLaterDays(t *testing.T) {
	t.Parallel()
	c := opened(t, checkin.NewCheckIn{Minutes: 4, Question: "One word?"})
	ctx := t.Context()
	days := c.view().CheckInDays
	require.Len(t, days, 10)
	assert.Equal(t, "2026-03-11", days[0].Date)
	r, err := checkin.Repeat(ctx, c.o, demotest.Osk, "for two days", c.id, checkin.CheckInDays{Dates: []string{days[0].Date, days[2].Date, days[0].Date}})
	require.NoError(t, err)
	assert.Len(t, r.IDs, 2)
	again, err := checkin.Repeat(ctx, c.o, demotest.Osk, "the same again", c.id, checkin.CheckInDays{Dates: []string{days[0].Date}})
	require.NoError(t, err)
	assert.Empty(t, again.IDs, "a day that has one gets no second")
	for _, bad := range []string{"2026-03-14", demotest.Date, "soon"} {
		_, err = checkin.Repeat(ctx, c.o, demotest.Osk, "not on "+bad, c.id, checkin.CheckInDays{Dates: []string{days[4].Date, bad}})
		assert.ErrorContains(t, err, "nothing was planned", bad)
	}
	planned := c.view().CheckInDays
	assert.Equal(t, []bool{true, false, true, false, false}, []bool{planned[0].Planned, planned[1].Planned, planned[2].Planned, planned[3].Planned, planned[4].Planned})

	c.clock.Set(day.At(day.MustDate(days[0].Date), day.MustMinute("13:44")))
	assert.False(t, c.view().CheckIn.Open)
	c.clock.Set(c.o.Now() + 1)
	v := c.view()
	assert.True(t, v.CheckIn.Open, "it opens with its slot")
	assert.Equal(t, []string{"13:45", "13:49", "One word?"}, []string{v.CheckIn.Opens, v.CheckIn.Closes, v.CheckIn.Question})
}

// The link of a remote lesson is sent before the lesson, begins nothing until the window opens, stays
// good while it is open, and can't be used from a seat in the room.
func TestALinkForARemoteLesson(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	at := func(minute string) { clock.Set(day.At(day.MustDate(demotest.Date), day.MustMinute(minute))) }
	at("13:20")
	n := checkin.NewCheckIn{Class: demotest.Halyard, Slot: "PM", Minutes: 10}
	_, err := checkin.Open(ctx, o, demotest.Osk, "in the room alone", n)
	assert.ErrorContains(t, err, "is not due before 13:45")
	n.Distance = true
	got, err := checkin.Open(ctx, o, demotest.Osk, "prepared", n)
	require.NoError(t, err)
	assert.Equal(t, "Check-in opens automatically at 13:45, until 13:55", got.Text)
	_, err = checkin.Open(ctx, o, demotest.Osk, "twice", n)
	assert.ErrorContains(t, err, "a check-in opens automatically at 13:45")
	c := class{t, o, clock, ids.CheckIn(got.IDs[0])}
	view := c.view()
	require.NotNil(t, view.CheckIn)
	assert.True(t, view.CheckIn.ToCome && view.MayPrepareCheckIn)
	link, found := strings.CutPrefix(view.CheckIn.Link, "/check-in?l=")
	require.True(t, found)

	_, err = checkin.StartOnPhone(ctx, o, "phone far", link)
	assert.ErrorContains(t, err, "opens on Tue 10 March at 13:45: open this link again then")
	assert.Equal(t, work.Refused, demotest.Kind(t, err), "that is no wrong try")
	at("13:54") // twenty codes later
	start, err := checkin.StartOnPhone(ctx, o, "phone far", link)
	require.NoError(t, err)
	assert.Equal(t, []bool{true, false}, []bool{start.ByLink, start.Distance})
	s := c.view().Rows[0].Student
	_, err = checkin.CheckInOnPhone(ctx, o, "phone near", checkin.PhoneEntry{Ticket: start.Ticket, Number: s.Number})
	assert.ErrorContains(t, err, "enter the code again", "another phone's ticket")
	_, err = checkin.CheckInOnPhone(ctx, o, "phone far", checkin.PhoneEntry{Ticket: start.Ticket, Number: s.Number, Distance: false})
	require.NoError(t, err)
	e := c.view().CheckIn.Entries[0]
	assert.Equal(t, "R", e.Code, "by the link one is somewhere else, whatever the phone says")

	_, err = checkin.StartOnPhone(ctx, o, "phone far", link+"x")
	assert.Equal(t, work.Wrong, demotest.Kind(t, err))
	other, err := checkin.StartOnPhone(ctx, o, "phone far", fmt.Sprint(c.id+1, ".", strings.SplitN(link, ".", 2)[1]))
	assert.Equal(t, work.Wrong, demotest.Kind(t, err), "%v: another window by counting", other)
	at("13:55")
	_, err = checkin.StartOnPhone(ctx, o, "phone far", link)
	assert.ErrorContains(t, err, "check-in is closed")
	assert.Empty(t, c.view().CheckIn.Link)
	_, err = checkin.End(ctx, o, demotest.Osk, "ended", c.id)
	require.NoError(t, err)
}

// The sheet for a class has its own next dates, the link of what is planned for a distance, and what its
// teacher adds; to others it is refused.
func TestTheHandOutOfAClass(t *testing.T) {
	t.Parallel()
	c := opened(t, checkin.NewCheckIn{Minutes: 4, Question: "One word?", Distance: true})
	ctx := t.Context()
	days := c.view().CheckInDays
	_, err := checkin.Repeat(ctx, c.o, demotest.Osk, "for one day more", c.id, checkin.CheckInDays{Dates: []string{days[1].Date}})
	require.NoError(t, err)
	_, err = checkin.SetHandOut(ctx, c.o, demotest.Osk, "the text", demotest.Halyard, checkin.HandOutText{Text: " Bring a pencil. "})
	require.NoError(t, err)
	_, err = checkin.SetHandOut(ctx, c.o, demotest.Rask, "another's text", demotest.Halyard, checkin.HandOutText{Text: "no"})
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
	_, err = registerpage.ShowHandOut(ctx, c.o, demotest.Rask, demotest.Halyard, "https://school.example")
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
	h, err := registerpage.ShowHandOut(ctx, c.o, demotest.Osk, demotest.Halyard, "https://school.example")
	require.NoError(t, err)
	assert.Equal(t, []string{"8 Halyard", "Bring a pencil.", "https://school.example/check-in"}, []string{h.Title, h.Text, h.Address})
	assert.NotEmpty(t, h.Picture)
	require.Len(t, h.Dates, 20)
	planned := map[string]string{}
	for _, d := range h.Dates {
		if d.Opens != "" {
			planned[d.Date] = d.Opens + " " + d.Question
			assert.True(t, strings.HasPrefix(d.Link, "https://school.example/check-in?l="), d.Link)
			assert.NotEmpty(t, d.Picture)
		}
	}
	assert.Equal(t, map[string]string{demotest.Date: "13:46 One word?", days[1].Date: "13:45 One word?"}, planned)
}

// All check-ins of a class are found again, with what was answered: by those whose class it is.
func TestCheckInsOfAClassAreFoundAgain(t *testing.T) {
	t.Parallel()
	c := opened(t, checkin.NewCheckIn{Minutes: 5, Question: "One word for today?", Distance: true})
	ctx := t.Context()
	rows := c.view().Rows
	answer := func(text string, far bool) func(*checkin.PhoneEntry) {
		return func(e *checkin.PhoneEntry) { e.Answer, e.Distance = text, far }
	}
	_, err := c.enter("phone a", rows[0].Student.Number, answer("windy", false))
	require.NoError(t, err)
	_, err = c.enter("phone b", rows[2].Student.Number, answer("=far()", true))
	require.NoError(t, err)
	show := func() registerpage.CheckInSessions {
		s, err := registerpage.ShowSessions(ctx, c.o, demotest.Osk, demotest.Halyard)
		require.NoError(t, err)
		return s
	}
	s := show()
	require.NotEmpty(t, s.Sessions)
	require.NotEmpty(t, s.Terms)
	open := s.Sessions[slices.IndexFunc(s.Sessions, func(x registerpage.CheckInSession) bool { return x.ID == c.id })]
	assert.Equal(t, registerpage.CheckInSession{ID: c.id, Date: "2026-03-10", Label: "Tue 10 March", Term: s.Term, Slot: "PM", From: "13:46", To: "13:51", State: "open", Link: c.view().CheckIn.Link, Question: "One word for today?", In: 2, Far: 1, Of: len(rows)}, open)
	var given []string
	for _, a := range s.Answers {
		if a.CheckIn == c.id {
			given = append(given, fmt.Sprint(a.Student, " ", a.At, " ", a.Answer, " ", a.Far))
		}
	}
	assert.Equal(t, []string{fmt.Sprint(rows[0].Student.ID, " 13:46 windy false"), fmt.Sprint(rows[2].Student.ID, " 13:46 =far() true")}, given)
	assert.GreaterOrEqual(t, len(s.Students), len(rows))

	_, err = checkin.Repeat(ctx, c.o, demotest.Osk, "again", c.id, checkin.CheckInDays{Dates: []string{"2026-03-11", "2026-03-12"}})
	require.NoError(t, err)
	assert.Equal(t, []string{"to come", "to come", "open"}, []string{show().Sessions[0].State, show().Sessions[1].State, show().Sessions[2].State})
	tomorrow, found := strings.CutPrefix(show().Sessions[1].Link, "/check-in?l=")
	require.True(t, found)
	_, err = checkin.StartOnPhone(ctx, c.o, "phone b", tomorrow)
	assert.ErrorContains(t, err, "opens on Wed 11 March at 13:45", "the link of a day to come is good on that day")
	c.clock.Set(c.o.Now() + 2)
	_, err = checkin.End(ctx, c.o, demotest.Osk, "ended", c.id)
	require.NoError(t, err)
	assert.Empty(t, show().Sessions[2].Link)
	assert.Equal(t, "13:48", c.view().CheckIn.Closes, "not when it would have closed")
	assert.Equal(t, []string{"held", "13:48"}, []string{show().Sessions[2].State, show().Sessions[2].To})

	f, err := registerpage.SessionsFile(ctx, c.o, demotest.Osk, demotest.Halyard, "csv")
	require.NoError(t, err)
	assert.Contains(t, string(f.Content), "One word for today?,"+rows[0].Student.Number)
	assert.NotContains(t, string(f.Content), ",=far()", "no cell of a file is a formula")
	assert.Contains(t, string(f.Content), "far()")

	// A class by counting: another teacher's is refused, a number that is none is not found.
	_, err = registerpage.ShowSessions(ctx, c.o, demotest.Rask, demotest.Halyard)
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
	_, err = registerpage.SessionsFile(ctx, c.o, demotest.Rask, demotest.Halyard, "csv")
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
	_, err = registerpage.ShowSessions(ctx, c.o, demotest.Officer, 99999)
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
	_, err = registerpage.ShowSessions(ctx, c.o, demotest.Officer, demotest.Halyard)
	require.NoError(t, err)
}
