package home_test

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
	"meldung/outside"
	"meldung/pages/deskpage"
	"meldung/pages/registerpage"
	"meldung/pages/studentpage"
	"meldung/pages/todaypage"
	"meldung/work"
	"meldung/work/caseload"
	"meldung/work/desk"
	"meldung/work/home"
	"meldung/work/messages"
	"meldung/work/morning"
	"meldung/work/quick"
)

func TestAGroupIsHeldAndComesBackByItself(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	before := demotest.Today(t, o, "")
	require.NotEmpty(t, before.Causes)
	ferry := before.Causes[0]
	for reason, h := range map[string]home.NewHold{
		"is not a time": {Students: ferry.Students, Until: "soon", Reason: "late"},
		"has passed":    {Students: ferry.Students, Until: "900", Reason: "late"},
		"what they are": {Students: ferry.Students, Until: "940", Reason: " "},
		"on the roll":   {Students: []ids.Student{99999}, Until: "940", Reason: "late"},
	} {
		_, err := home.Hold(ctx, o, demotest.Officer, "hold "+reason, h)
		assert.ErrorContains(t, err, reason)
		assert.ErrorContains(t, err, "nobody is held")
	}
	got, err := home.Hold(ctx, o, demotest.Officer, "hold key 1", home.NewHold{Students: ferry.Students, Until: "940", Reason: "the Petrel is late"})
	require.NoError(t, err)
	held := demotest.Today(t, o, "")
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
	clock.Set(day.At(demo.Today, day.MustMinute("09:40")))
	back := demotest.Today(t, o, "")
	assert.Zero(t, back.Held, "back by itself")
	assert.Empty(t, back.Holds)
	again := demotest.Today(t, o, "2026-03-10T09:12")
	assert.Equal(t, held.Households, again.Households, "as it was shown then")

	clock.Set(day.At(demo.Today, day.MustMinute("09:30")))
	// Held twice for the same reason, a student stands once in each group.
	twice, err := home.Hold(ctx, o, demotest.Officer, "hold key 1a", home.NewHold{Students: ferry.Students, Until: "945", Reason: "the Petrel is late"})
	require.NoError(t, err)
	shown, err := deskpage.Show(ctx, o, "")
	require.NoError(t, err)
	groups := 0
	for _, g := range shown.Groups {
		if g.Title == "the Petrel is late" {
			groups++
			assert.Len(t, g.Members, len(ferry.Students))
		}
	}
	assert.Equal(t, 2, groups)
	_, err = home.EndHold(ctx, o, demotest.Officer, "hold key 1b", ids.Hold(twice.IDs[0]))
	require.NoError(t, err)
	_, err = home.EndHold(ctx, o, demotest.Officer, "hold key 2", ids.Hold(got.IDs[0]))
	require.NoError(t, err)
	assert.Zero(t, demotest.Today(t, o, "").Held)
	_, err = home.EndHold(ctx, o, demotest.Officer, "hold key 3", ids.Hold(got.IDs[0]))
	assert.Equal(t, work.Conflict, demotest.Kind(t, err))
	_, err = home.EndHold(ctx, o, demotest.Officer, "hold key 4", 999)
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
}

func TestAHomeRingsInForSiblings(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	merrows := demotest.IDs(t, o, "Elis Merrow", "Ansa Merrow")
	n := home.Notice{Students: merrows, Reason: "ill", To: "2026-03-12", ToldBy: "Their mother", ToldHow: "phone"}
	preview, err := todaypage.PreviewNotice(ctx, o, n)
	require.NoError(t, err)
	assert.Equal(t, todaypage.NoticePreview{Text: "ill until Thu 12 March", Code: "M", CodeWord: "medical", Explains: preview.Explains}, preview)
	assert.NotZero(t, preview.Explains)
	got, err := home.Notify(ctx, o, demotest.Maud, "both ill", n)
	require.NoError(t, err)
	assert.Equal(t, "Elis Merrow, Ansa Merrow: ill until Thu 12 March", got.Text)
	assert.Equal(t, "explained", demotest.Place(t, o, "Elis Merrow"))
	list, err := todaypage.ShowNotices(ctx, o, "")
	require.NoError(t, err)
	assert.Equal(t, "Their mother · phone", list[0].Told)
	assert.Equal(t, "09:12 by M. Kersey", list[0].Noted)
	after, err := todaypage.PreviewNotice(ctx, o, n)
	require.NoError(t, err)
	assert.Equal(t, preview.Explains, after.Stand, "what has a reason already stays")
	assert.Zero(t, after.Explains)

	// It holds on the days to come, and can be taken back on any of them.
	clock.Set(day.At(demo.Today+1, day.MustMinute("09:20")))
	list, err = todaypage.ShowNotices(ctx, o, "")
	require.NoError(t, err)
	require.Len(t, list, 2)
	assert.Equal(t, "Tue 10 March 09:12 by M. Kersey", list[0].Noted)
	_, err = home.WithdrawNotice(ctx, o, demotest.Maud, "not Ansa", list[0].ID)
	require.NoError(t, err)
	_, err = home.WithdrawNotice(ctx, o, demotest.Maud, "not Ansa again", list[0].ID)
	assert.Equal(t, work.Conflict, demotest.Kind(t, err))
	v, err := todaypage.ShowUnexplained(ctx, o, "")
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
	register := func() []registerpage.RegisterRow {
		r, err := registerpage.Show(ctx, o, demotest.Rask, 90, "AM", "")
		require.NoError(t, err)
		return r.Rows
	}
	before := register()
	var present []ids.Student
	for _, row := range before {
		if last := row.Versions[len(row.Versions)-1]; last.Code == "P" {
			present = append(present, row.Student.ID)
		}
	}
	require.Greater(t, len(present), 10)
	_, err := home.Notify(ctx, o, demotest.Officer, "late notice", home.Notice{Students: present, Reason: "ill"})
	require.NoError(t, err)
	for i, row := range register() {
		assert.Equal(t, before[i].Versions, row.Versions, row.Student.Name)
	}
	p, err := todaypage.PreviewNotice(ctx, o, home.Notice{Students: demotest.IDs(t, o, "Corin Vale"), Reason: "on the way"})
	require.NoError(t, err)
	assert.Equal(t, "on the way needs the time they are expected", p.Error)
}

func TestEveryOutcomeOfACall(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	juno := demotest.Find(t, o, "Juno Sandal").Student.ID
	ring := func(key string, c home.Call) error {
		h := demotest.Home(t, o, "Juno Sandal")
		c.Students = []ids.Student{juno}
		if c.Contact == 0 {
			c.Contact = h.Contacts[max(h.Next, 0)].ID
		}
		_, err := home.LogCall(ctx, o, demotest.Officer, key, c)
		return err
	}
	first := demotest.Home(t, o, "Juno Sandal").Contacts[0]
	require.NoError(t, ring("call key 1", home.Call{Outcome: "no answer"}))
	h := demotest.Home(t, o, "Juno Sandal")
	assert.Equal(t, "09:32", h.Again)
	assert.True(t, h.Waits)
	if len(h.Contacts) > 1 {
		assert.Equal(t, 1, h.Next)
	}
	assert.ErrorContains(t, ring("call key 2", home.Call{Outcome: "message", Again: "900"}), "has passed")
	require.NoError(t, ring("call key 3", home.Call{Outcome: "message", Again: "955"}))
	assert.Equal(t, "09:55", demotest.Home(t, o, "Juno Sandal").Again, "a time of one's own")
	clock.Set(day.At(demo.Today, day.MustMinute("09:14")))
	require.NoError(t, ring("call key 4", home.Call{Contact: first.ID, Outcome: "wrong number"}))
	assert.False(t, demotest.Home(t, o, "Juno Sandal").Waits, "the next contact can be rung at once")
	tasks, err := todaypage.ShowTasks(ctx, o)
	require.NoError(t, err)
	i := slices.IndexFunc(tasks, func(x todaypage.Task) bool { return x.Kind == "wrong number" })
	require.GreaterOrEqual(t, i, 0)
	assert.Contains(t, tasks[i].Text, first.Phone)
	assert.True(t, tasks[i].Missing)
	_, err = home.ResolveNumber(ctx, o, demotest.Officer, "resolve key", tasks[i].Call, home.Resolution{Note: "the file has the old number; asked the form"})
	require.NoError(t, err)
	_, err = home.ResolveNumber(ctx, o, demotest.Officer, "resolve key 2", tasks[i].Call, home.Resolution{})
	assert.Equal(t, work.Conflict, demotest.Kind(t, err))
	left, err := todaypage.ShowTasks(ctx, o)
	require.NoError(t, err)
	assert.Len(t, left, len(tasks)-1)

	clock.Set(day.At(demo.Today, day.MustMinute("09:16")))
	assert.ErrorContains(t, ring("call key 5", home.Call{Outcome: "spoke", Said: "on the way"}), "needs the time")
	require.NoError(t, ring("call key 6", home.Call{Outcome: "spoke", Said: "ill", Note: "a cold"}))
	assert.Equal(t, "explained", demotest.Place(t, o, "Juno Sandal"))
	p, err := todaypage.ShowProtocol(ctx, o, "")
	require.NoError(t, err)
	var calls []string
	for _, l := range p.Lines {
		if l.Kind == "call" {
			calls = append(calls, l.At+" "+l.Text[strings.LastIndex(l.Text, ": ")+2:])
		}
	}
	assert.Equal(t, []string{"09:12 no answer", "09:12 message", "09:14 wrong number", "09:16 spoke · ill · a cold"}, calls)
}

func TestTheContactWhoAnsweredLastIsMarked(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	h := demotest.Home(t, o, "Juno Sandal")
	last := h.Contacts[len(h.Contacts)-1].ID
	_, err := home.LogCall(ctx, o, demotest.Officer, "answered", home.Call{Students: []ids.Student{h.Students[0].Student.ID}, Contact: last, Outcome: "spoke"})
	require.NoError(t, err)
	assert.Equal(t, last, demotest.Home(t, o, "Juno Sandal").Answered)
	clock.Set(day.At(demo.Today+1, day.MustMinute("09:12")))
	require.NoError(t, o.Reload(ctx))
	for _, h := range demotest.Today(t, o, "").Households {
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
	var students []ids.Student
	homes := 0
	for _, h := range demotest.Today(t, o, "").Households {
		for _, s := range h.Students {
			students = append(students, s.Student.ID)
		}
		homes++
	}
	got, err := home.TextHomes(ctx, o, demotest.Officer, "text all", home.HomeText{Students: students})
	require.NoError(t, err)
	assert.Less(t, len(got.IDs), homes, "some have no contact")
	assert.Contains(t, got.Text, "no number for texts: ")
	h := demotest.Home(t, o, "Elis Merrow")
	require.Len(t, h.Attempts, 1, "siblings get one text")
	assert.Equal(t, "text", h.Attempts[0].Outcome)
	assert.True(t, h.Waits)
	for _, m := range demotest.Outbox(t, o, demotest.Officer) {
		if m.Kind == "home" && strings.Contains(m.Text, "Elis") {
			assert.Equal(t, "Ida Merrow, about Elis Merrow, Ansa Merrow", m.To)
			assert.Equal(t, "Fairlead School: Ansa and Elis are not in at 09:12, and we do not know why. Please answer with the reason, or when we may expect them.", m.Text)
		}
	}
	assert.Empty(t, demotest.Today(t, o, "").Answers)
	clock.Set(day.At(demo.Today, day.MustMinute("09:16")))
	require.NoError(t, messages.Tick(ctx, o, outside.Simulated{}, o.Now()))
	answers := demotest.Today(t, o, "").Answers
	require.NotEmpty(t, answers)
	reasons := map[string]todaypage.AnswerView{}
	for _, a := range answers {
		reasons[a.Reason] = a
	}
	require.Contains(t, reasons, "ill")
	require.Contains(t, reasons, "on the way")
	require.Contains(t, reasons, "", "not every answer says why")

	ill := reasons["ill"]
	n := home.Notice{Students: []ids.Student{ill.Students[0].ID}, Reason: ill.Reason, Message: ill.Message}
	_, err = home.Notify(ctx, o, demotest.Maud, "accept key 0", home.Notice{Students: demotest.IDs(t, o, "Corin Vale"), Reason: "ill", Message: ill.Message})
	assert.ErrorContains(t, err, "the message was not about Corin Vale")
	_, err = home.Notify(ctx, o, demotest.Maud, "accept key 1", n)
	require.NoError(t, err)
	assert.Equal(t, "explained", demotest.Place(t, o, ill.Students[0].Name))
	_, err = home.Notify(ctx, o, demotest.Maud, "accept key 2", n)
	assert.Equal(t, work.Conflict, demotest.Kind(t, err), "an answer is taken once")
	notices, err := todaypage.ShowNotices(ctx, o, "")
	require.NoError(t, err)
	assert.Equal(t, ill.Contact+" · text", notices[0].Told)

	way := reasons["on the way"]
	assert.Equal(t, "09:40", way.Until)
	_, err = home.Notify(ctx, o, demotest.Maud, "accept key 3", home.Notice{Students: []ids.Student{way.Students[0].ID}, Reason: way.Reason, ToTime: way.Until, Message: way.Message})
	require.NoError(t, err)
	_, err = home.ReadAnswer(ctx, o, demotest.Maud, "read key 1", reasons[""].Message)
	require.NoError(t, err)
	_, err = home.ReadAnswer(ctx, o, demotest.Maud, "read key 2", reasons[""].Message)
	assert.Equal(t, work.Conflict, demotest.Kind(t, err))
	assert.Len(t, demotest.Today(t, o, "").Answers, len(answers)-3)
	clock.Set(day.At(demo.Today, day.MustMinute("09:46")))
	assert.Equal(t, "unaccounted", demotest.Place(t, o, way.Students[0].Name), "who is on the way and does not come is missing again")
	_, err = home.WithdrawNotice(ctx, o, demotest.Maud, "not so", notices[0].ID)
	require.NoError(t, err)
	assert.Contains(t, messagesOf(demotest.Today(t, o, "").Answers), ill.Message, "a notice withdrawn leaves the answer to deal with")
}

func messagesOf(list []todaypage.AnswerView) []ids.Message {
	var out []ids.Message
	for _, a := range list {
		out = append(out, a.Message)
	}
	return out
}

func TestAChildIsIllAndMustBeFetched(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	_, err := home.StartFetch(ctx, o, demotest.Maud, "fetch key 0", home.NewFetch{Student: demotest.Find(t, o, "Elis Merrow").Student.ID, Reason: "ill"})
	assert.ErrorContains(t, err, "is not on the premises")
	tavi := demotest.Find(t, o, "Tavi Lund").Student.ID
	_, err = home.StartFetch(ctx, o, demotest.Maud, "fetch key 1", home.NewFetch{Student: tavi, Reason: " "})
	assert.ErrorContains(t, err, "why Tavi Lund is to be collected")
	got, err := home.StartFetch(ctx, o, demotest.Maud, "fetch key 2", home.NewFetch{Student: tavi, Reason: "ill", Place: "sick room"})
	require.NoError(t, err)
	_, err = home.StartFetch(ctx, o, demotest.Maud, "fetch key 3", home.NewFetch{Student: tavi, Reason: "ill"})
	assert.Equal(t, work.Conflict, demotest.Kind(t, err))
	f := demotest.Today(t, o, "").Fetches[0]
	assert.Equal(t, []any{"sick room", "", 0}, []any{f.Place, f.Comes, f.Next})
	require.NotEmpty(t, f.Contacts)

	call := home.Call{Students: []ids.Student{tavi}, Fetch: ids.Fetch(got.IDs[0]), Contact: f.Contacts[0].ID, Outcome: "no answer"}
	_, err = home.LogCall(ctx, o, demotest.Maud, "fetch call 1", call)
	require.NoError(t, err, "the desk rings about those to be collected")
	call.Fetch = 0
	_, err = home.LogCall(ctx, o, demotest.Maud, "fetch call 2", call)
	assert.Equal(t, work.Refused, demotest.Kind(t, err), "and about nobody else")
	call.Fetch, call.Outcome, call.Said = ids.Fetch(got.IDs[0]), "spoke", "ill"
	_, err = home.LogCall(ctx, o, demotest.Maud, "fetch call 2a", call)
	assert.Equal(t, work.Wrong, demotest.Kind(t, err), "it makes no notice of whoever is here")
	call.Said, call.Collects = "", "Uncle Brand"
	_, err = home.LogCall(ctx, o, demotest.Maud, "fetch call 3", call)
	assert.ErrorContains(t, err, "not among those who may collect Tavi Lund")
	call.Note, call.Until = "mother agreed on the phone", "905"
	_, err = home.LogCall(ctx, o, demotest.Maud, "fetch call 4", call)
	assert.ErrorContains(t, err, "expected 09:05 has passed")
	call.Until = "930"
	done, err := home.LogCall(ctx, o, demotest.Maud, "fetch call 5", call)
	require.NoError(t, err)
	assert.Contains(t, done.Text, "Uncle Brand comes by 09:30")
	f = demotest.Today(t, o, "").Fetches[0]
	assert.Equal(t, []any{"Uncle Brand", "09:30", false, 2}, []any{f.Comes, f.Expected, f.Overdue, len(f.Attempts)})
	clock.Set(day.At(demo.Today, day.MustMinute("09:31")))
	assert.True(t, demotest.Today(t, o, "").Fetches[0].Overdue)

	// The departure names who came; after it nobody is to be collected, until it is undone.
	move := desk.Movement{Students: []ids.Student{tavi}, Kind: "departed", Reason: "ill", Collects: "Uncle Brand"}
	_, err = desk.Move(ctx, o, demotest.Maud, "fetch move 1", move)
	assert.ErrorContains(t, err, "a note has to say who allowed it")
	move.Note = "mother agreed on the phone"
	left, err := desk.Move(ctx, o, demotest.Maud, "fetch move 2", move)
	require.NoError(t, err)
	assert.Empty(t, demotest.Today(t, o, "").Fetches)
	shown, err := deskpage.Show(ctx, o, "")
	require.NoError(t, err)
	assert.Equal(t, "Uncle Brand", shown.Movements[0].Collector)
	_, err = desk.UndoMovement(ctx, o, demotest.Maud, "fetch move 3", ids.Movement(left.IDs[0]))
	require.NoError(t, err)
	assert.Len(t, demotest.Today(t, o, "").Fetches, 1)
	_, err = home.EndFetch(ctx, o, demotest.Maud, "fetch key 4", ids.Fetch(got.IDs[0]))
	require.NoError(t, err)
	assert.Empty(t, demotest.Today(t, o, "").Fetches)
	_, err = home.EndFetch(ctx, o, demotest.Maud, "fetch key 5", ids.Fetch(got.IDs[0]))
	assert.Equal(t, work.Conflict, demotest.Kind(t, err))
}

func TestOnlyThoseWhoMayCollectNeedNoNote(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	tavi := demotest.Find(t, o, "Tavi Lund").Student.ID
	sheet, err := studentpage.Show(ctx, o, demotest.Officer, tavi, "")
	require.NoError(t, err)
	other, err := studentpage.Show(ctx, o, demotest.Officer, demotest.Find(t, o, "Corin Vale").Student.ID, "")
	require.NoError(t, err)
	move := desk.Movement{Students: []ids.Student{tavi}, Kind: "departed", Reason: "ill"}
	move.Collector = other.Contacts[0].ID
	_, err = desk.Move(ctx, o, demotest.Maud, "collect key 1", move)
	assert.ErrorContains(t, err, "no contact of Tavi Lund")
	for _, c := range sheet.Contacts {
		move.Collector = c.ID
		got, err := desk.Move(ctx, o, demotest.Maud, "collect key "+c.Name, move)
		if !c.MayCollect {
			assert.Equal(t, work.Refused, demotest.Kind(t, err), c.Name)
			continue
		}
		require.NoError(t, err)
		_, err = desk.UndoMovement(ctx, o, demotest.Maud, "undo key "+c.Name, ids.Movement(got.IDs[0]))
		require.NoError(t, err)
	}
	move.Kind = "arrived"
	_, err = desk.Move(ctx, o, demotest.Maud, "collect key 9", move)
	assert.ErrorContains(t, err, "only who leaves is collected")
}

func TestASearchSaysWhoLooksAndWhoFound(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	oona := demotest.Find(t, o, "Oona Harle").Student.ID
	missing := demotest.Today(t, o, "").Missing
	_, err := morning.StartSearch(ctx, o, demotest.Maud, "look key 1", morning.NewSearch{Student: oona, Searcher: "Porter Finch"})
	require.NoError(t, err)
	on := demotest.Today(t, o, "").OnSite[0]
	assert.Equal(t, []string{"Porter Finch", "09:12"}, []string{on.Search.By, on.Search.Since})
	_, err = morning.StartSearch(ctx, o, demotest.Officer, "look key 2", morning.NewSearch{Student: oona})
	assert.ErrorContains(t, err, "Porter Finch is looking for Oona Harle since 09:12")
	assert.Equal(t, missing, demotest.Today(t, o, "").Missing, "home is not rung while someone looks")
	_, err = morning.EndSearch(ctx, o, demotest.Maud, "look key 3", morning.SearchEnd{Student: oona, Found: true, Place: "boat shed"})
	require.NoError(t, err)
	sheet, err := studentpage.Show(ctx, o, demotest.Officer, oona, "")
	require.NoError(t, err)
	assert.Equal(t, "Found · boat shed · found by Porter Finch", sheet.Happened[0].Text)
	p, err := todaypage.ShowProtocol(ctx, o, "")
	require.NoError(t, err)
	i := slices.IndexFunc(p.Lines, func(l todaypage.ProtocolLine) bool { return l.Kind == "search" })
	assert.Equal(t, todaypage.ProtocolLine{At: "09:12", Kind: "search", Text: "Oona Harle · found 09:12 · boat shed · Porter Finch", By: "Porter Finch"}, p.Lines[i])
}

func TestReasonsThatAreOverdue(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	v, err := todaypage.ShowUnexplained(ctx, o, "")
	require.NoError(t, err)
	assert.Equal(t, 5, v.After)
	overdue := 0
	for _, s := range v.Students {
		for _, d := range s.Days {
			assert.Less(t, d.Date, demotest.Date, "today's are on the call list")
			assert.Equal(t, d.Since >= v.After, d.Overdue)
		}
		if s.Overdue > 0 {
			overdue++
		}
	}
	assert.Equal(t, v.Overdue, overdue)
	assert.Equal(t, v.Overdue, demotest.Today(t, o, "").Overdue)
	if len(v.Students) == 0 {
		return
	}
	// A notice after the fact takes the student off the list.
	s := v.Students[0]
	first, last := s.Days[0].Date, s.Days[len(s.Days)-1].Date
	_, err = home.Notify(ctx, o, demotest.Officer, "after the fact", home.Notice{Students: []ids.Student{s.Student.ID}, Reason: "ill", From: first, To: last, ToldHow: "letter"})
	require.NoError(t, err)
	after, err := todaypage.ShowUnexplained(ctx, o, "")
	require.NoError(t, err)
	assert.Len(t, after.Students, len(v.Students)-1)
}

func TestSafeArrivalIsOpenedAgainByHand(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	_, err := morning.Reopen(ctx, o, demotest.Officer, "open key 0", morning.Reopening{Section: demotest.Lower, Reason: "a doubt"})
	assert.Equal(t, work.Conflict, demotest.Kind(t, err), "it is not closed")
	demotest.SettleMorning(t, o)
	_, err = morning.Close(ctx, o, demotest.Officer, "close key 0", morning.Closing{})
	assert.ErrorContains(t, err, "say which section is meant: Lower School, Upper School")
	for n, section := range []ids.Section{demotest.Lower, demotest.Upper} {
		_, err = morning.Close(ctx, o, demotest.Officer, fmt.Sprint("close key 1 ", n), morning.Closing{Section: section})
		require.NoError(t, err)
	}
	clock.Set(day.At(demo.Today, day.MustMinute("09:16")))
	_, err = morning.Reopen(ctx, o, demotest.Officer, "open key 1", morning.Reopening{Section: demotest.Lower, Reason: " "})
	assert.ErrorContains(t, err, "say why")
	_, err = morning.Reopen(ctx, o, demotest.Officer, "open key 2", morning.Reopening{Section: demotest.Lower, Reason: "the boat shed was not looked into"})
	require.NoError(t, err)
	safe := demotest.Today(t, o, "").Safe[0]
	assert.Equal(t, "ready", safe.State, "nothing stands in the way of closing it again")
	clock.Set(day.At(demo.Today, day.MustMinute("09:18")))
	_, err = morning.Close(ctx, o, demotest.Officer, "close key 2", morning.Closing{Section: demotest.Lower})
	require.NoError(t, err)
	p, err := todaypage.ShowProtocol(ctx, o, "")
	require.NoError(t, err)
	var closings []string
	for _, l := range p.Lines {
		if l.Kind == "closed" || l.Kind == "opened again" {
			closings = append(closings, strings.TrimSpace(l.At+" "+l.Kind+" "+l.Text))
		}
	}
	assert.Equal(t, []string{"09:12 closed Lower School", "09:12 closed Upper School", "09:16 opened again Lower School: the boat shed was not looked into", "09:18 closed Lower School"}, closings)
	assert.Equal(t, "09:18", p.CountAt)
	assert.Equal(t, []string{"closed", "closed"}, []string{p.Safe[0].State, p.Safe[1].State}, "opening one leaves the other as it was")
	assert.Empty(t, p.Open)
	sent := 0
	for _, r := range p.Registers {
		if r.Sent != "" && r.By != "" {
			sent++
		}
	}
	assert.Equal(t, p.Safe[0].Registers+p.Safe[1].Registers, sent)
	assert.Equal(t, "closed", demotest.Today(t, o, "2026-03-10T09:13").Safe[0].State, "as known then")
}

// Two who deal with one home at once are told of each other, once: the second may store theirs
// as well.
func TestTwoAtOneHomeAreTold(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	idris := []ids.Student{demotest.Find(t, o, "Idris Quell").Student.ID}
	seen := work.Since{Seen: o.LastEntry()}
	lead := work.Person{Account: 40, Name: "A. Other", Role: work.Officer}
	told := func(err error, what string) {
		t.Helper()
		var refused *work.Error
		require.ErrorAs(t, err, &refused)
		assert.Equal(t, work.Conflict, refused.Kind)
		assert.Contains(t, refused.Message, what)
	}
	_, err := home.LogCall(ctx, o, demotest.Officer, "first rings", home.Call{Students: idris, Outcome: "no answer", Since: seen})
	require.NoError(t, err)
	_, err = home.LogCall(ctx, o, demotest.Officer, "rings again", home.Call{Students: idris, Outcome: "no answer", Since: seen})
	require.NoError(t, err, "one's own call is no news")
	_, err = home.Notify(ctx, o, lead, "no bearing", home.Notice{Students: idris, Reason: "ill", From: "2026-03-12", Since: seen})
	require.NoError(t, err, "a call that reached nobody says nothing of another day")

	second := home.Call{Students: idris, Outcome: "spoke", Said: "ill", Since: seen}
	_, err = home.LogCall(ctx, o, lead, "second rings", second)
	told(err, demotest.Officer.Name+" saved at 09:12")
	second.Seen = 0
	_, err = home.LogCall(ctx, o, lead, "second rings on", second)
	require.NoError(t, err, "whoever has been told decides")

	_, err = home.Notify(ctx, o, demotest.Officer, "first notes", home.Notice{Students: idris, Reason: "appointment", Since: seen})
	told(err, "Idris Quell: ill")
	_, err = home.LogCall(ctx, o, demotest.Officer, "first rings on", home.Call{Students: idris, Outcome: "message", Since: seen})
	told(err, "Idris Quell: ill")
	_, err = quick.Do(ctx, o, demotest.Officer, "first types", quick.QuickLine{Text: "quell ill", Chosen: idris, Since: seen})
	told(err, "Idris Quell: ill")
	_, err = home.Notify(ctx, o, demotest.Officer, "another day", home.Notice{Students: idris, Reason: "ill", From: "2026-03-13", Since: seen})
	require.NoError(t, err, "what was said is of other days")
	follow := caseload.Followup{Student: idris[0], Outcome: "spoke", Note: "on Thursday", Next: "2026-03-12", Since: seen}
	_, err = caseload.LogFollowup(ctx, o, lead, "second follows up", follow)
	require.NoError(t, err)
	_, err = caseload.LogFollowup(ctx, o, demotest.Officer, "first follows up", follow)
	told(err, "Idris Quell: spoke, on Thursday")
	_, err = home.Notify(ctx, o, demotest.Officer, "having looked", home.Notice{Students: idris, Reason: "appointment", Since: work.Since{Seen: o.LastEntry()}})
	require.NoError(t, err)
}
