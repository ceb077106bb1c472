package work_test

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/demo"
	"meldung/demo/demotest"
	"meldung/work"
)

func today(t *testing.T, o *work.Office, at string) work.TodayView {
	t.Helper()
	v, err := o.Today(t.Context(), at)
	require.NoError(t, err)
	return v
}

// home returns the household of a student on the call list.
func home(t *testing.T, o *work.Office, name string) work.HouseholdView {
	t.Helper()
	for _, h := range today(t, o, "").Households {
		for _, s := range h.Students {
			if s.Student.Name == name {
				return h
			}
		}
	}
	t.Fatalf("%s is not on the call list", name)
	return work.HouseholdView{}
}

func ids(t *testing.T, o *work.Office, names ...string) []int64 {
	t.Helper()
	var out []int64
	for _, n := range names {
		out = append(out, find(t, o, n).Student.ID)
	}
	return out
}

func TestAGroupIsHeldAndComesBackByItself(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	before := today(t, o, "")
	require.NotEmpty(t, before.Causes)
	ferry := before.Causes[0]
	for reason, h := range map[string]work.NewHold{
		"is not a time": {Students: ferry.Students, Until: "soon", Reason: "late"},
		"has passed":    {Students: ferry.Students, Until: "900", Reason: "late"},
		"what they are": {Students: ferry.Students, Until: "940", Reason: " "},
		"on the roll":   {Students: []int64{99999}, Until: "940", Reason: "late"},
	} {
		_, err := o.Hold(ctx, officer, "hold "+reason, h)
		assert.ErrorContains(t, err, reason)
		assert.ErrorContains(t, err, "nobody is held")
	}
	got, err := o.Hold(ctx, officer, "hold key 1", work.NewHold{Students: ferry.Students, Until: "940", Reason: "the Petrel is late"})
	require.NoError(t, err)
	held := today(t, o, "")
	assert.Equal(t, before.Missing, held.Missing, "held is not accounted for")
	assert.Equal(t, len(ferry.Students), held.Held)
	require.Len(t, held.Holds, 1)
	assert.Len(t, held.Holds[0].Waiting, len(ferry.Students))
	asleep := false
	for _, h := range held.Households {
		asleep = asleep || h.Held != ""
		assert.Equal(t, asleep, h.Held != "", "those held come last")
		if h.Held != "" {
			assert.Equal(t, "09:40", h.Again)
			assert.True(t, h.Waits)
		}
	}
	clock.Set(day.At(demo.Today, 580))
	back := today(t, o, "")
	assert.Zero(t, back.Held, "back by itself")
	assert.Empty(t, back.Holds)
	again := today(t, o, "2026-03-10T09:12")
	assert.Equal(t, held.Households, again.Households, "as it was shown then")

	clock.Set(day.At(demo.Today, 570))
	// Held twice for the same reason, a student stands once in each group.
	twice, err := o.Hold(ctx, officer, "hold key 1a", work.NewHold{Students: ferry.Students, Until: "945", Reason: "the Petrel is late"})
	require.NoError(t, err)
	desk, err := o.Desk(ctx, "")
	require.NoError(t, err)
	groups := 0
	for _, g := range desk.Groups {
		if g.Title == "the Petrel is late" {
			groups++
			assert.Len(t, g.Members, len(ferry.Students))
		}
	}
	assert.Equal(t, 2, groups)
	_, err = o.EndHold(ctx, officer, "hold key 1b", twice.IDs[0])
	require.NoError(t, err)
	_, err = o.EndHold(ctx, officer, "hold key 2", got.IDs[0])
	require.NoError(t, err)
	assert.Zero(t, today(t, o, "").Held)
	_, err = o.EndHold(ctx, officer, "hold key 3", got.IDs[0])
	assert.Equal(t, work.Conflict, kind(t, err))
	_, err = o.EndHold(ctx, officer, "hold key 4", 999)
	assert.Equal(t, work.NotFound, kind(t, err))
}

func TestAHomeRingsInForSiblings(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	merrows := ids(t, o, "Elis Merrow", "Ansa Merrow")
	n := work.Notice{Students: merrows, Reason: "ill", To: "2026-03-12", ToldBy: "Their mother", ToldHow: "phone"}
	preview, err := o.ReadNotice(ctx, n)
	require.NoError(t, err)
	assert.Equal(t, work.NoticePreview{Words: "ill until Thu 12 March", Code: "M", CodeWord: "medical", Explains: preview.Explains}, preview)
	assert.NotZero(t, preview.Explains)
	got, err := o.Notify(ctx, maud, "both ill", n)
	require.NoError(t, err)
	assert.Equal(t, "Elis Merrow, Ansa Merrow: ill until Thu 12 March", got.Words)
	assert.Equal(t, "explained", place(t, o, "Elis Merrow"))
	list, err := o.Notices(ctx, "")
	require.NoError(t, err)
	assert.Equal(t, "Their mother · phone", list[0].Told)
	assert.Equal(t, "09:12 by M. Kersey", list[0].Noted)
	after, err := o.ReadNotice(ctx, n)
	require.NoError(t, err)
	assert.Equal(t, preview.Explains, after.Stand, "what has a reason already stays")
	assert.Zero(t, after.Explains)

	// It holds on the days to come, and can be taken back on any of them.
	clock.Set(day.At(demo.Today+1, 560))
	list, err = o.Notices(ctx, "")
	require.NoError(t, err)
	require.Len(t, list, 2)
	assert.Equal(t, "Tue 10 March 09:12 by M. Kersey", list[0].Noted)
	_, err = o.WithdrawNotice(ctx, maud, "not Ansa", list[0].ID)
	require.NoError(t, err)
	_, err = o.WithdrawNotice(ctx, maud, "not Ansa again", list[0].ID)
	assert.Equal(t, work.Conflict, kind(t, err))
	v, err := o.Unexplained(ctx, "")
	require.NoError(t, err)
	var again []string
	for _, s := range v.Students {
		if s.Student.Name == "Ansa Merrow" || s.Student.Name == "Elis Merrow" {
			again = append(again, s.Student.Name)
		}
	}
	assert.Equal(t, []string{list[0].Student.Name}, again, "what it explained on the day before is without a reason again")
}

// A notice after the fact explains what had no reason, and nothing else.
func TestANoticeNeverOverwritesAPresence(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	register := func() []work.RegisterRow {
		r, err := o.Register(ctx, rask, 90, "AM", "")
		require.NoError(t, err)
		return r.Rows
	}
	before := register()
	var present []int64
	for _, row := range before {
		if last := row.Versions[len(row.Versions)-1]; last.Code == "P" {
			present = append(present, row.Student.ID)
		}
	}
	require.Greater(t, len(present), 10)
	_, err := o.Notify(ctx, officer, "late notice", work.Notice{Students: present, Reason: "ill"})
	require.NoError(t, err)
	for i, row := range register() {
		assert.Equal(t, before[i].Versions, row.Versions, row.Student.Name)
	}
	p, err := o.ReadNotice(ctx, work.Notice{Students: ids(t, o, "Corin Vale"), Reason: "on the way"})
	require.NoError(t, err)
	assert.Equal(t, "on the way needs the time they are expected", p.Error)
}

func TestEveryOutcomeOfACall(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	juno := find(t, o, "Juno Sandal").Student.ID
	ring := func(key string, c work.Call) error {
		h := home(t, o, "Juno Sandal")
		c.Students = []int64{juno}
		if c.Contact == 0 {
			c.Contact = h.Contacts[max(h.Next, 0)].ID
		}
		_, err := o.LogCall(ctx, officer, key, c)
		return err
	}
	first := home(t, o, "Juno Sandal").Contacts[0]
	require.NoError(t, ring("call key 1", work.Call{Outcome: "no answer"}))
	h := home(t, o, "Juno Sandal")
	assert.Equal(t, "09:32", h.Again)
	assert.True(t, h.Waits)
	if len(h.Contacts) > 1 {
		assert.Equal(t, 1, h.Next)
	}
	assert.ErrorContains(t, ring("call key 2", work.Call{Outcome: "message", Again: "900"}), "has passed")
	require.NoError(t, ring("call key 3", work.Call{Outcome: "message", Again: "955"}))
	assert.Equal(t, "09:55", home(t, o, "Juno Sandal").Again, "a time of one's own")
	clock.Set(day.At(demo.Today, 554))
	require.NoError(t, ring("call key 4", work.Call{Contact: first.ID, Outcome: "wrong number"}))
	assert.False(t, home(t, o, "Juno Sandal").Waits, "the next contact can be rung at once")
	tasks, err := o.Tasks(ctx)
	require.NoError(t, err)
	i := slices.IndexFunc(tasks, func(x work.Task) bool { return x.Kind == "wrong number" })
	require.GreaterOrEqual(t, i, 0)
	assert.Contains(t, tasks[i].Words, first.Phone)
	assert.True(t, tasks[i].Missing)
	_, err = o.Mend(ctx, officer, "mend key", tasks[i].Call, "the file has the old number; asked the form")
	require.NoError(t, err)
	_, err = o.Mend(ctx, officer, "mend key 2", tasks[i].Call, "")
	assert.Equal(t, work.Conflict, kind(t, err))
	left, err := o.Tasks(ctx)
	require.NoError(t, err)
	assert.Len(t, left, len(tasks)-1)

	clock.Set(day.At(demo.Today, 556))
	assert.ErrorContains(t, ring("call key 5", work.Call{Outcome: "spoke", Said: "on the way"}), "needs the time")
	require.NoError(t, ring("call key 6", work.Call{Outcome: "spoke", Said: "ill", Note: "a cold"}))
	assert.Equal(t, "explained", place(t, o, "Juno Sandal"))
	p, err := o.SafeArrivalProtocol(ctx, "")
	require.NoError(t, err)
	var calls []string
	for _, l := range p.Lines {
		if l.Kind == "call" {
			calls = append(calls, l.At+" "+l.Words[strings.LastIndex(l.Words, ": ")+2:])
		}
	}
	assert.Equal(t, []string{"09:12 no answer", "09:12 message", "09:14 wrong number", "09:16 spoke · ill · a cold"}, calls)
}

func TestTheContactWhoAnsweredLastIsMarked(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	h := home(t, o, "Juno Sandal")
	last := h.Contacts[len(h.Contacts)-1].ID
	_, err := o.LogCall(ctx, officer, "answered", work.Call{Students: []int64{h.Students[0].Student.ID}, Contact: last, Outcome: "spoke"})
	require.NoError(t, err)
	assert.Equal(t, last, home(t, o, "Juno Sandal").Answered)
	clock.Set(day.At(demo.Today+1, 552))
	require.NoError(t, o.Reload(ctx))
	for _, h := range today(t, o, "").Households {
		for _, s := range h.Students {
			if s.Student.Name == "Juno Sandal" {
				assert.Equal(t, last, h.Answered, "also on another day")
			}
		}
	}
}

func TestATextAndItsAnswer(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	var students []int64
	homes := 0
	for _, h := range today(t, o, "").Households {
		for _, s := range h.Students {
			students = append(students, s.Student.ID)
		}
		homes++
	}
	got, err := o.TextHomes(ctx, officer, "text all", work.HomeText{Students: students})
	require.NoError(t, err)
	assert.Less(t, len(got.IDs), homes, "some have no contact")
	assert.Contains(t, got.Words, "no number for texts: ")
	h := home(t, o, "Elis Merrow")
	require.Len(t, h.Attempts, 1, "siblings get one text")
	assert.Equal(t, "text", h.Attempts[0].Outcome)
	assert.True(t, h.Waits)
	for _, m := range outbox(t, o, officer) {
		if m.Kind == "home" && strings.Contains(m.Words, "Elis") {
			assert.Equal(t, "Ida Merrow, about Elis Merrow, Ansa Merrow", m.To)
			assert.Equal(t, "Fairlead School: Ansa and Elis are not in at 09:12, and we do not know why. Please answer with the reason, or when we may expect them.", m.Words)
		}
	}
	assert.Empty(t, today(t, o, "").Answers)
	clock.Set(day.At(demo.Today, 556))
	require.NoError(t, o.Tick(ctx, o.Now()))
	answers := today(t, o, "").Answers
	require.NotEmpty(t, answers)
	reasons := map[string]work.AnswerView{}
	for _, a := range answers {
		reasons[a.Reason] = a
	}
	require.Contains(t, reasons, "ill")
	require.Contains(t, reasons, "on the way")
	require.Contains(t, reasons, "", "not every answer says why")

	ill := reasons["ill"]
	n := work.Notice{Students: []int64{ill.Students[0].ID}, Reason: ill.Reason, Message: ill.Message}
	_, err = o.Notify(ctx, maud, "accept key 0", work.Notice{Students: ids(t, o, "Corin Vale"), Reason: "ill", Message: ill.Message})
	assert.ErrorContains(t, err, "the message was not about Corin Vale")
	_, err = o.Notify(ctx, maud, "accept key 1", n)
	require.NoError(t, err)
	assert.Equal(t, "explained", place(t, o, ill.Students[0].Name))
	_, err = o.Notify(ctx, maud, "accept key 2", n)
	assert.Equal(t, work.Conflict, kind(t, err), "an answer is taken once")
	notices, err := o.Notices(ctx, "")
	require.NoError(t, err)
	assert.Equal(t, ill.Contact+" · text", notices[0].Told)

	way := reasons["on the way"]
	assert.Equal(t, "09:40", way.Until)
	_, err = o.Notify(ctx, maud, "accept key 3", work.Notice{Students: []int64{way.Students[0].ID}, Reason: way.Reason, ToTime: way.Until, Message: way.Message})
	require.NoError(t, err)
	_, err = o.ReadAnswer(ctx, maud, "read key 1", reasons[""].Message)
	require.NoError(t, err)
	_, err = o.ReadAnswer(ctx, maud, "read key 2", reasons[""].Message)
	assert.Equal(t, work.Conflict, kind(t, err))
	assert.Len(t, today(t, o, "").Answers, len(answers)-3)
	clock.Set(day.At(demo.Today, 586))
	assert.Equal(t, "unaccounted", place(t, o, way.Students[0].Name), "who is on the way and does not come is missing again")
	_, err = o.WithdrawNotice(ctx, maud, "not so", notices[0].ID)
	require.NoError(t, err)
	assert.Contains(t, messagesOf(today(t, o, "").Answers), ill.Message, "a notice withdrawn leaves the answer to deal with")
}

func messagesOf(list []work.AnswerView) []int64 {
	var out []int64
	for _, a := range list {
		out = append(out, a.Message)
	}
	return out
}

func TestAChildIsIllAndMustBeFetched(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	_, err := o.StartFetch(ctx, maud, "fetch key 0", work.NewFetch{Student: find(t, o, "Elis Merrow").Student.ID, Reason: "ill"})
	assert.ErrorContains(t, err, "is not on the premises")
	tavi := find(t, o, "Tavi Lund").Student.ID
	_, err = o.StartFetch(ctx, maud, "fetch key 1", work.NewFetch{Student: tavi, Reason: " "})
	assert.ErrorContains(t, err, "why Tavi Lund is to be fetched")
	got, err := o.StartFetch(ctx, maud, "fetch key 2", work.NewFetch{Student: tavi, Reason: "ill", Place: "sick room"})
	require.NoError(t, err)
	_, err = o.StartFetch(ctx, maud, "fetch key 3", work.NewFetch{Student: tavi, Reason: "ill"})
	assert.Equal(t, work.Conflict, kind(t, err))
	f := today(t, o, "").Fetches[0]
	assert.Equal(t, []any{"sick room", "", 0}, []any{f.Place, f.Comes, f.Next})
	require.NotEmpty(t, f.Contacts)

	call := work.Call{Students: []int64{tavi}, Fetch: got.IDs[0], Contact: f.Contacts[0].ID, Outcome: "no answer"}
	_, err = o.LogCall(ctx, maud, "fetch call 1", call)
	require.NoError(t, err, "the desk rings about those to be fetched")
	call.Fetch = 0
	_, err = o.LogCall(ctx, maud, "fetch call 2", call)
	assert.Equal(t, work.Refused, kind(t, err), "and about nobody else")
	call.Fetch, call.Outcome, call.Said = got.IDs[0], "spoke", "ill"
	_, err = o.LogCall(ctx, maud, "fetch call 2a", call)
	assert.Equal(t, work.Wrong, kind(t, err), "it makes no notice of whoever is here")
	call.Said, call.Collects = "", "Uncle Brand"
	_, err = o.LogCall(ctx, maud, "fetch call 3", call)
	assert.ErrorContains(t, err, "not among those who may collect Tavi Lund")
	call.Note, call.Until = "mother agreed on the phone", "905"
	_, err = o.LogCall(ctx, maud, "fetch call 4", call)
	assert.ErrorContains(t, err, "expected 09:05 has passed")
	call.Until = "930"
	done, err := o.LogCall(ctx, maud, "fetch call 5", call)
	require.NoError(t, err)
	assert.Contains(t, done.Words, "Uncle Brand comes by 09:30")
	f = today(t, o, "").Fetches[0]
	assert.Equal(t, []any{"Uncle Brand", "09:30", false, 2}, []any{f.Comes, f.Expected, f.Overdue, len(f.Attempts)})
	clock.Set(day.At(demo.Today, 571))
	assert.True(t, today(t, o, "").Fetches[0].Overdue)

	// The departure names who came; after it nobody is to be fetched, until it is undone.
	move := work.Movement{Students: []int64{tavi}, Kind: "departed", Reason: "ill", Collects: "Uncle Brand"}
	_, err = o.Move(ctx, maud, "fetch move 1", move)
	assert.ErrorContains(t, err, "a note has to say who allowed it")
	move.Note = "mother agreed on the phone"
	left, err := o.Move(ctx, maud, "fetch move 2", move)
	require.NoError(t, err)
	assert.Empty(t, today(t, o, "").Fetches)
	desk, err := o.Desk(ctx, "")
	require.NoError(t, err)
	assert.Equal(t, "Uncle Brand", desk.Movements[0].Collector)
	_, err = o.UndoMovement(ctx, maud, "fetch move 3", left.IDs[0])
	require.NoError(t, err)
	assert.Len(t, today(t, o, "").Fetches, 1)
	_, err = o.EndFetch(ctx, maud, "fetch key 4", got.IDs[0])
	require.NoError(t, err)
	assert.Empty(t, today(t, o, "").Fetches)
	_, err = o.EndFetch(ctx, maud, "fetch key 5", got.IDs[0])
	assert.Equal(t, work.Conflict, kind(t, err))
}

func TestOnlyThoseWhoMayCollectNeedNoNote(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	tavi := find(t, o, "Tavi Lund").Student.ID
	sheet, err := o.Sheet(ctx, officer, tavi, "")
	require.NoError(t, err)
	other, err := o.Sheet(ctx, officer, find(t, o, "Corin Vale").Student.ID, "")
	require.NoError(t, err)
	move := work.Movement{Students: []int64{tavi}, Kind: "departed", Reason: "ill"}
	move.Collector = other.Contacts[0].ID
	_, err = o.Move(ctx, maud, "collect key 1", move)
	assert.ErrorContains(t, err, "no contact of Tavi Lund")
	for _, c := range sheet.Contacts {
		move.Collector = c.ID
		got, err := o.Move(ctx, maud, "collect key "+c.Name, move)
		if !c.MayCollect {
			assert.Equal(t, work.Refused, kind(t, err), c.Name)
			continue
		}
		require.NoError(t, err)
		_, err = o.UndoMovement(ctx, maud, "undo key "+c.Name, got.IDs[0])
		require.NoError(t, err)
	}
	move.Kind = "arrived"
	_, err = o.Move(ctx, maud, "collect key 9", move)
	assert.ErrorContains(t, err, "only who leaves is collected")
}

func TestASearchSaysWhoLooksAndWhoFound(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	oona := find(t, o, "Oona Harle").Student.ID
	missing := today(t, o, "").Missing
	_, err := o.StartSearch(ctx, maud, "look key 1", work.NewSearch{Student: oona, Searcher: "Porter Finch"})
	require.NoError(t, err)
	on := today(t, o, "").OnSite[0]
	assert.Equal(t, []string{"Porter Finch", "09:12"}, []string{on.Searcher, on.Since})
	_, err = o.StartSearch(ctx, officer, "look key 2", work.NewSearch{Student: oona})
	assert.ErrorContains(t, err, "Porter Finch is looking for Oona Harle since 09:12")
	assert.Equal(t, missing, today(t, o, "").Missing, "home is not rung while someone looks")
	_, err = o.EndSearch(ctx, maud, "look key 3", work.SearchEnd{Student: oona, Found: true, Place: "boat shed"})
	require.NoError(t, err)
	sheet, err := o.Sheet(ctx, officer, oona, "")
	require.NoError(t, err)
	assert.Equal(t, "Found · boat shed · found by Porter Finch", sheet.Happened[0].Words)
	p, err := o.SafeArrivalProtocol(ctx, "")
	require.NoError(t, err)
	i := slices.IndexFunc(p.Lines, func(l work.ProtocolLine) bool { return l.Kind == "search" })
	assert.Equal(t, work.ProtocolLine{At: "09:12", Kind: "search", Words: "Oona Harle · found 09:12 · boat shed · Porter Finch", By: "Porter Finch"}, p.Lines[i])
}

func TestReasonsThatAreOverdue(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	v, err := o.Unexplained(ctx, "")
	require.NoError(t, err)
	assert.Equal(t, 5, v.After)
	overdue := 0
	for _, s := range v.Students {
		for _, d := range s.Days {
			assert.Less(t, d.Date, date, "today's are on the call list")
			assert.Equal(t, d.Since >= v.After, d.Overdue)
		}
		if s.Overdue > 0 {
			overdue++
		}
	}
	assert.Equal(t, v.Overdue, overdue)
	assert.Equal(t, v.Overdue, today(t, o, "").Overdue)
	if len(v.Students) == 0 {
		return
	}
	// A notice after the fact takes the student off the list.
	s := v.Students[0]
	first, last := s.Days[0].Date, s.Days[len(s.Days)-1].Date
	_, err = o.Notify(ctx, officer, "after the fact", work.Notice{Students: []int64{s.Student.ID}, Reason: "ill", From: first, To: last, ToldHow: "letter"})
	require.NoError(t, err)
	after, err := o.Unexplained(ctx, "")
	require.NoError(t, err)
	assert.Len(t, after.Students, len(v.Students)-1)
}

func TestSafeArrivalIsOpenedAgainByHand(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	_, err := o.ReopenSafeArrival(ctx, officer, "open key 0", "a doubt")
	assert.Equal(t, work.Conflict, kind(t, err), "it is not closed")
	settleMorning(t, o)
	_, err = o.CloseSafeArrival(ctx, officer, "close key 1")
	require.NoError(t, err)
	clock.Set(day.At(demo.Today, 556))
	_, err = o.ReopenSafeArrival(ctx, officer, "open key 1", " ")
	assert.ErrorContains(t, err, "say why")
	_, err = o.ReopenSafeArrival(ctx, officer, "open key 2", "the boat shed was not looked into")
	require.NoError(t, err)
	safe := today(t, o, "").Safe
	assert.Equal(t, "ready", safe.State, "nothing stands in the way of closing it again")
	clock.Set(day.At(demo.Today, 558))
	_, err = o.CloseSafeArrival(ctx, officer, "close key 2")
	require.NoError(t, err)
	p, err := o.SafeArrivalProtocol(ctx, "")
	require.NoError(t, err)
	var closings []string
	for _, l := range p.Lines {
		if l.Kind == "closed" || l.Kind == "opened again" {
			closings = append(closings, strings.TrimSpace(l.At+" "+l.Kind+" "+l.Words))
		}
	}
	assert.Equal(t, []string{"09:12 closed", "09:16 opened again the boat shed was not looked into", "09:18 closed"}, closings)
	assert.Equal(t, "09:18", p.CountAt)
	assert.Equal(t, "closed", p.Safe.State)
	assert.Empty(t, p.Open)
	sent := 0
	for _, r := range p.Registers {
		if r.Sent != "" && r.By != "" {
			sent++
		}
	}
	assert.Equal(t, p.Safe.Registers, sent)
	assert.Equal(t, "closed", today(t, o, "2026-03-10T09:13").Safe.State, "as known then")
}
