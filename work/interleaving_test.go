package work_test

import (
	"errors"
	"fmt"
	"math/rand/v2"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/demo"
	"meldung/demo/demotest"
	"meldung/held"
	"meldung/outside"
	"meldung/pages/deskpage"
	"meldung/pages/registerpage"
	"meldung/pages/rollcallpage"
	"meldung/pages/todaypage"
	"meldung/pages/trippage"
	"meldung/store"
	"meldung/work"
	"meldung/work/check"
	"meldung/work/desk"
	"meldung/work/home"
	"meldung/work/messages"
	"meldung/work/morning"
	"meldung/work/registers"
	"meldung/work/rollcall"
	"meldung/work/takeback"
	"meldung/work/trips"
)

// anyWork does something drawn at random, as the office, the desk or a teacher
// might. Refusals are part of the day.
func anyWork(t *testing.T, o *work.Office, r *rand.Rand, key string, undo *[]int64) error {
	ctx := t.Context()
	student := ids.Student(1 + r.IntN(612))
	reason := []string{"ill", "appointment", "ferry", "overslept", "no reason", ""}[r.IntN(6)]
	switch r.IntN(26) {
	case 23:
		from := day.MustMinute("09:12").Add(day.Minutes(r.IntN(30) - 10))
		_, err := trips.Plan(ctx, o, demotest.Officer, key, trips.Activity{Title: key, Leader: "S. Aune", From: from.String(), To: from.Add(day.Minutes(3 + r.IntN(20))).String(), Students: []ids.Student{student, 1 + student%612}})
		return err
	case 24, 25:
		all, err := trippage.ShowAll(ctx, o, demotest.Officer)
		if err != nil || len(all.Trips) == 0 {
			return err
		}
		trip := all.Trips[r.IntN(len(all.Trips))].ID
		v, err := trippage.Show(ctx, o, demotest.Officer, trip)
		if err != nil || len(v.Members) == 0 {
			return err
		}
		who := v.Members[r.IntN(len(v.Members))].Student.ID
		switch r.IntN(5) {
		case 0:
			_, err = trips.Mark(ctx, o, demotest.Officer, key, trip, trips.Said{Here: []ids.Student{who}, Missing: []ids.Student{}})
		case 1:
			_, err = trips.Mark(ctx, o, demotest.Officer, key, trip, trips.Said{Here: []ids.Student{}, Missing: []ids.Student{who}})
		case 2:
			_, err = trips.Back(ctx, o, demotest.Officer, key, trip, trips.Return{Home: r.IntN(2) == 0})
		case 3:
			_, err = trips.GoesOn(ctx, o, demotest.Officer, key, trip)
		default:
			_, err = trips.Change(ctx, o, demotest.Officer, key, trip, trips.Activity{Title: v.Title, Leader: v.Leader, From: v.From, To: v.To, Students: []ids.Student{who, student}})
		}
		return err
	case 20:
		got, err := rollcall.Begin(ctx, o, demotest.Officer, key, rollcall.Start{Token: key, Kind: "drill"})
		if err == nil && r.IntN(4) == 0 {
			_, err = rollcall.End(ctx, o, demotest.Officer, key+" ended", got.ID, rollcall.RollCallEnding{Note: "drawn"})
		}
		return err
	case 21, 22:
		running, err := rollcallpage.ShowRunning(ctx, o)
		if err != nil || running.ID == 0 {
			return err
		}
		list := []rollcall.NewTick{{Token: key + " tick", Kind: "student", Person: int64(student), Here: r.IntN(3) > 0, Place: "pier", How: "list"}}
		if r.IntN(3) == 0 {
			list = append(list, rollcall.NewTick{Token: list[0].Token, Kind: "student", How: "list", Undo: true})
		}
		_, err = rollcall.AddTicks(ctx, o, demotest.Officer, key, running.ID, rollcall.Ticks{Ticks: list})
		return err
	case 16:
		today, err := todaypage.Show(ctx, o, "")
		if err != nil || len(today.Households) == 0 {
			return err
		}
		h := today.Households[r.IntN(len(today.Households))]
		if len(h.Contacts) == 0 {
			return nil
		}
		_, err = home.LogCall(ctx, o, demotest.Officer, key, home.Call{Students: []ids.Student{h.Students[0].Student.ID}, Contact: h.Contacts[0].ID, Outcome: "spoke", Said: held.BelievesIn})
		return err
	case 17:
		today, err := todaypage.Show(ctx, o, "")
		if err != nil || len(today.Worried) == 0 {
			return err
		}
		who := today.Worried[r.IntN(len(today.Worried))].Student.ID
		if r.IntN(2) == 0 {
			_, err = morning.EndSearch(ctx, o, demotest.Officer, key, morning.SearchEnd{Student: who, Found: true, Place: "pier"})
			return err
		}
		_, err = morning.SettleStudents(ctx, o, demotest.Officer, key, morning.Where{Students: []ids.Student{who}, How: "drawn", Unexcused: r.IntN(2) == 0})
		return err
	case 18:
		_, err := morning.SettleStudents(ctx, o, demotest.Officer, key, morning.Where{Students: []ids.Student{student}, How: "drawn"})
		return err
	case 19:
		today, err := todaypage.Show(ctx, o, "")
		if err != nil || len(today.Just) == 0 {
			return err
		}
		_, err = takeback.Entry(ctx, o, demotest.Officer, key, today.Just[0].Entry)
		return err
	case 10:
		today, err := todaypage.Show(ctx, o, "")
		if err != nil || len(today.Causes) == 0 {
			return err
		}
		_, err = home.Hold(ctx, o, demotest.Officer, key, home.NewHold{Students: today.Causes[0].Students, Until: (day.Midnight.Add(day.Minutes(r.IntN(25))).Add(552)).String(), Reason: "late"})
		return err
	case 11:
		today, err := todaypage.Show(ctx, o, "")
		if err != nil || len(today.Holds) == 0 {
			return err
		}
		_, err = home.EndHold(ctx, o, demotest.Officer, key, today.Holds[0].ID)
		return err
	case 12:
		_, err := home.TextHomes(ctx, o, demotest.Officer, key, home.HomeText{Students: []ids.Student{student}})
		return err
	case 13:
		today, err := todaypage.Show(ctx, o, "")
		if err != nil || len(today.Answers) == 0 {
			return err
		}
		a := today.Answers[r.IntN(len(today.Answers))]
		if a.Reason == "" {
			_, err = home.ReadAnswer(ctx, o, demotest.Officer, key, a.Message)
			return err
		}
		got, err := home.Notify(ctx, o, demotest.Officer, key, home.Notice{Students: []ids.Student{a.Students[0].ID}, Reason: a.Reason, ToTime: a.Until, Message: a.Message})
		if err == nil && r.IntN(3) == 0 {
			_, err = home.WithdrawNotice(ctx, o, demotest.Officer, key+" withdrawn", ids.Notice(got.IDs[0]))
		}
		return err
	case 14:
		today, err := todaypage.Show(ctx, o, "")
		if err != nil {
			return err
		}
		if len(today.Fetches) == 0 {
			_, err = home.StartFetch(ctx, o, demotest.Officer, key, home.NewFetch{Student: student, Reason: "ill"})
			return err
		}
		f := today.Fetches[0]
		c := home.Call{Students: []ids.Student{f.Student.ID}, Fetch: f.ID, Outcome: []string{"spoke", "no answer"}[r.IntN(2)]}
		if len(f.Contacts) > 0 {
			c.Contact = f.Contacts[max(f.Next, 0)].ID
			if c.Outcome == "spoke" {
				c.Collector, c.Note = c.Contact, "agreed"
			}
		}
		_, err = home.LogCall(ctx, o, demotest.Officer, key, c)
		return err
	case 15:
		shown, err := deskpage.Show(ctx, o, "")
		if err != nil || len(shown.Movements) == 0 {
			return err
		}
		pass, err := desk.MakePass(ctx, o, demotest.Officer, key, shown.Movements[r.IntN(len(shown.Movements))].ID)
		if err == nil && r.IntN(2) == 0 {
			_, err = desk.ReturnPass(ctx, o, demotest.Officer, key+" returned", pass.Text)
		}
		return err
	case 0, 1:
		got, err := desk.Move(ctx, o, demotest.Officer, key, desk.Movement{Students: []ids.Student{student}, Kind: "arrived", Reason: reason})
		*undo = append(*undo, got.IDs...)
		return err
	case 2:
		got, err := desk.Move(ctx, o, demotest.Officer, key, desk.Movement{Students: []ids.Student{student}, Kind: "departed", Reason: reason, Note: "drawn"})
		*undo = append(*undo, got.IDs...)
		return err
	case 3:
		if len(*undo) == 0 {
			return nil
		}
		_, err := desk.UndoMovement(ctx, o, demotest.Officer, key, ids.Movement((*undo)[r.IntN(len(*undo))]))
		return err
	case 4:
		_, err := home.Notify(ctx, o, demotest.Officer, key, home.Notice{Students: []ids.Student{student}, Reason: "ill"})
		return err
	case 5:
		code := []string{"P", "N", "U", "M", "L"}[r.IntN(5)]
		_, err := registers.Correct(ctx, o, demotest.Officer, key, registers.Correction{Date: demotest.Date, Slot: "AM", Student: student, Code: code, Reason: "drawn"})
		return err
	case 6:
		_, err := morning.EndSearch(ctx, o, demotest.Officer, key, morning.SearchEnd{Student: student, Found: r.IntN(2) == 0, Place: "pier"})
		return err
	case 7:
		today, err := todaypage.Show(ctx, o, "")
		if err != nil || len(today.Households) == 0 {
			return err
		}
		h := today.Households[r.IntN(len(today.Households))]
		c := home.Call{Students: []ids.Student{h.Students[0].Student.ID}, Outcome: []string{"spoke", "no answer", "message"}[r.IntN(3)]}
		if len(h.Contacts) > 0 {
			c.Contact = h.Contacts[0].ID
		}
		if c.Outcome == "spoke" {
			c.Said = "ill"
		}
		_, err = home.LogCall(ctx, o, demotest.Officer, key, c)
		return err
	case 8:
		class := []ids.Class{demotest.Halyard, 179}[r.IntN(2)]
		v, err := registerpage.Show(ctx, o, demotest.Officer, class, "AM", "")
		if err != nil {
			return err
		}
		var sent []registers.SentMark
		for _, row := range v.Rows {
			sent = append(sent, registers.SentMark{Student: row.Student.ID, Code: []string{"P", "P", "P", "N", "M"}[r.IntN(5)]})
		}
		_, err = registers.Send(ctx, o, demotest.Officer, key, registers.SentRegister{Date: demotest.Date, Class: class, Slot: "AM", Marks: sent})
		return err
	default:
		_, err := morning.Close(ctx, o, demotest.Officer, key, morning.Closing{Section: demotest.Lower})
		return err
	}
}

// Whatever is done in whatever order, everybody is somewhere, each minute can be
// looked at again as it was shown, and memory and store agree.
func TestAnyOrderOfWorkAddsUpAndReplays(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	r := rand.New(rand.NewPCG(7, 11))
	var undo []int64
	type shown struct {
		at    string
		today todaypage.TodayView
		desk  deskpage.DeskView
	}
	var history []shown
	done := 0
	for minute := range day.Minutes(25) {
		at := day.At(demo.Today, day.MustMinute("09:12").Add(minute))
		clock.Set(at)
		for n := range 5 {
			key := fmt.Sprintf("drawn work %d %d", minute, n)
			err := anyWork(t, o, r, key, &undo)
			var mistake *work.Error
			if err != nil && !errors.As(err, &mistake) {
				t.Fatal(err)
			}
			if err == nil {
				done++
			}
			demotest.Count(t, o) // adds up to the roll
		}
		require.NoError(t, messages.Tick(t.Context(), o, outside.Simulated{}, at))
		clock.Set(at)
		today, err := todaypage.Show(t.Context(), o, "")
		require.NoError(t, err)
		desk, err := deskpage.Show(t.Context(), o, "")
		require.NoError(t, err)
		history = append(history, shown{at.String(), today, desk})
	}
	assert.Greater(t, done, 30, "most of it was done")
	clock.Set(day.At(demo.Today, day.MustMinute("10:00")))
	for _, h := range history {
		again, err := todaypage.Show(t.Context(), o, h.at)
		require.NoError(t, err)
		assert.Equal(t, h.today.Count, again.Count, h.at)
		assert.Equal(t, h.today.Households, again.Households, h.at)
		assert.Equal(t, h.today.OnSite, again.OnSite, h.at)
		assert.Equal(t, h.today.Worried, again.Worried, h.at)
		assert.Equal(t, h.today.Unsettled, again.Unsettled, h.at)
		assert.Equal(t, h.today.Safe, again.Safe, h.at)
		assert.Equal(t, h.today.Mismatches, again.Mismatches, h.at)
		assert.Equal(t, h.today.Holds, again.Holds, h.at)
		assert.Equal(t, h.today.Answers, again.Answers, h.at)
		assert.Equal(t, h.today.Fetches, again.Fetches, h.at)
		desk, err := deskpage.Show(t.Context(), o, h.at)
		require.NoError(t, err)
		assert.Equal(t, h.desk, desk, h.at)
	}
	wrong, err := check.Check(t.Context(), o, false)
	require.NoError(t, err)
	assert.Empty(t, wrong)
}

// A look sees all of a write or nothing of it, in the file as in memory, however long it takes.
func TestALookIsOfOneMoment(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	now, err := o.Moment("")
	require.NoError(t, err)
	var writing sync.WaitGroup
	done := make(chan struct{})
	writing.Go(func() {
		defer close(done)
		for n := range 60 {
			_, err := desk.Move(ctx, o, demotest.Officer, "", desk.Movement{Students: []ids.Student{ids.Student(n + 1)}, Kind: "departed", Time: "0910", Reason: "appointment", Note: "mother waits"})
			assert.NoError(t, err)
		}
	})
	looks := 0
	for over := false; !over; looks++ {
		select {
		case <-done:
			over = true
		default:
		}
		require.NoError(t, o.ReadDay(ctx, now, func(v work.Snapshot, x *work.Day) error {
			for range 3 {
				stored, err := store.MovementsOn(ctx, v.Store(), x.Date)
				if err != nil {
					return err
				}
				require.Len(t, stored, len(x.Movements), "file and memory")
				time.Sleep(time.Millisecond)
			}
			return nil
		}))
	}
	writing.Wait()
	assert.Greater(t, looks, 5)
}

// A key belongs to one piece of work of one account: with anything else it is no repeat.
func TestAKeyIsOfOnePieceOfWork(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	idris := demotest.Find(t, o, "Idris Quell").Student.ID
	officer2 := work.Person{Account: 42, Name: "another officer", Role: work.Officer}
	call := home.Call{Students: []ids.Student{idris}, Outcome: "spoke"}
	_, err := home.LogCall(ctx, o, demotest.Officer, "one call", call)
	require.NoError(t, err)
	other := call
	other.Note = "rang again at ten"
	_, err = home.LogCall(ctx, o, demotest.Officer, "one call", other)
	conflict(t, err, "another note is another call")
	_, err = home.LogCall(ctx, o, officer2, "one call", call)
	conflict(t, err, "an answer is not handed to another account")
	_, err = home.Notify(ctx, o, demotest.Officer, "one call", home.Notice{Students: []ids.Student{idris}, Reason: "ill"})
	conflict(t, err)

	in, err := desk.Move(ctx, o, demotest.Officer, "in", desk.Movement{Students: []ids.Student{idris}, Kind: "arrived"})
	require.NoError(t, err)
	_, err = desk.UndoMovement(ctx, o, demotest.Officer, "back", ids.Movement(in.IDs[0]))
	require.NoError(t, err)
	_, err = desk.UndoMovement(ctx, o, demotest.Officer, "back", ids.Movement(in.IDs[0])+1)
	conflict(t, err, "what stands in the address counts as well")
}

// A repeat of any write after a lost line does nothing twice and gets the same answer.
func TestRepeatsDoNothingTwice(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	idris := demotest.Find(t, o, "Idris Quell").Student.ID
	for name, do := range map[string]func() (work.Receipt, error){
		"move": func() (work.Receipt, error) {
			return desk.Move(ctx, o, demotest.Officer, "repeat move", desk.Movement{Students: []ids.Student{idris}, Kind: "arrived"})
		},
		"notice": func() (work.Receipt, error) {
			return home.Notify(ctx, o, demotest.Officer, "repeat notice", home.Notice{Students: []ids.Student{idris}, Reason: "ill"})
		},
		"call": func() (work.Receipt, error) {
			return home.LogCall(ctx, o, demotest.Officer, "repeat call", home.Call{Students: []ids.Student{idris}, Outcome: "spoke"})
		},
		"remind": func() (work.Receipt, error) {
			return messages.Send(ctx, o, demotest.Officer, "repeat remind", messages.Message{Kind: "remind", Class: demotest.Halyard, Slot: "AM"})
		},
		"search": func() (work.Receipt, error) {
			return morning.StartSearch(ctx, o, demotest.Officer, "repeat search", morning.NewSearch{Student: idris})
		},
	} {
		first, err := do()
		require.NoError(t, err, name)
		again, err := do()
		require.NoError(t, err, name)
		assert.Equal(t, first, again, name)
	}
	out, err := todaypage.ShowOutbox(ctx, o, demotest.Officer, "")
	require.NoError(t, err)
	sent := 0
	for _, m := range out {
		if m.By == demotest.Officer.Name {
			sent++
		}
	}
	assert.Equal(t, 2, sent, "on the page and by text")
	shown, err := deskpage.Show(ctx, o, "")
	require.NoError(t, err)
	mine := 0
	for _, m := range shown.Movements {
		if m.Student.ID == idris {
			mine++
		}
	}
	assert.Equal(t, 1, mine)
	_, err = home.Notify(ctx, o, demotest.Officer, "repeat move", home.Notice{Students: []ids.Student{idris}, Reason: "ill"})
	assert.Equal(t, work.Conflict, demotest.Kind(t, err), "a key belongs to one piece of work")
}

func conflict(t *testing.T, err error, why ...any) {
	t.Helper()
	var refused *work.Error
	require.ErrorAs(t, err, &refused, why...)
	require.Equal(t, work.Conflict, refused.Kind, why...)
}
