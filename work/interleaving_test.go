package work_test

import (
	"errors"
	"fmt"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/demo"
	"meldung/demo/demotest"
	"meldung/work"
)

// anyWork does something drawn at random, as the office, the desk or a teacher
// might. Refusals are part of the day.
func anyWork(t *testing.T, o *work.Office, r *rand.Rand, key string, undo *[]int64) error {
	ctx := t.Context()
	student := int64(1 + r.IntN(612))
	reason := []string{"ill", "appointment", "ferry", "overslept", "no reason", ""}[r.IntN(6)]
	switch r.IntN(16) {
	case 10:
		today, err := o.Today(ctx, "")
		if err != nil || len(today.Causes) == 0 {
			return err
		}
		_, err = o.Hold(ctx, officer, key, work.NewHold{Students: today.Causes[0].Students, Until: (552 + day.Minute(r.IntN(25))).String(), Reason: "late"})
		return err
	case 11:
		today, err := o.Today(ctx, "")
		if err != nil || len(today.Holds) == 0 {
			return err
		}
		_, err = o.EndHold(ctx, officer, key, today.Holds[0].ID)
		return err
	case 12:
		_, err := o.TextHomes(ctx, officer, key, work.HomeText{Students: []int64{student}})
		return err
	case 13:
		today, err := o.Today(ctx, "")
		if err != nil || len(today.Answers) == 0 {
			return err
		}
		a := today.Answers[r.IntN(len(today.Answers))]
		if a.Reason == "" {
			_, err = o.ReadAnswer(ctx, officer, key, a.Message)
			return err
		}
		got, err := o.Notify(ctx, officer, key, work.Notice{Students: []int64{a.Students[0].ID}, Reason: a.Reason, ToTime: a.Until, Message: a.Message})
		if err == nil && r.IntN(3) == 0 {
			_, err = o.WithdrawNotice(ctx, officer, key+" withdrawn", got.IDs[0])
		}
		return err
	case 14:
		today, err := o.Today(ctx, "")
		if err != nil {
			return err
		}
		if len(today.Fetches) == 0 {
			_, err = o.StartFetch(ctx, officer, key, work.NewFetch{Student: student, Reason: "ill"})
			return err
		}
		f := today.Fetches[0]
		c := work.Call{Students: []int64{f.Student.ID}, Fetch: f.ID, Outcome: []string{"spoke", "no answer"}[r.IntN(2)]}
		if len(f.Contacts) > 0 {
			c.Contact = f.Contacts[max(f.Next, 0)].ID
			if c.Outcome == "spoke" {
				c.Collector, c.Note = c.Contact, "agreed"
			}
		}
		_, err = o.LogCall(ctx, officer, key, c)
		return err
	case 15:
		desk, err := o.Desk(ctx, "")
		if err != nil || len(desk.Movements) == 0 {
			return err
		}
		pass, err := o.MakePass(ctx, officer, key, desk.Movements[r.IntN(len(desk.Movements))].ID)
		if err == nil && r.IntN(2) == 0 {
			_, err = o.ReturnPass(ctx, officer, key+" returned", pass.Number)
		}
		return err
	case 0, 1:
		got, err := o.Move(ctx, officer, key, work.Movement{Students: []int64{student}, Kind: "arrived", Reason: reason})
		*undo = append(*undo, got.IDs...)
		return err
	case 2:
		got, err := o.Move(ctx, officer, key, work.Movement{Students: []int64{student}, Kind: "departed", Reason: reason})
		*undo = append(*undo, got.IDs...)
		return err
	case 3:
		if len(*undo) == 0 {
			return nil
		}
		_, err := o.UndoMovement(ctx, officer, key, (*undo)[r.IntN(len(*undo))])
		return err
	case 4:
		_, err := o.Notify(ctx, officer, key, work.Notice{Students: []int64{student}, Reason: "ill"})
		return err
	case 5:
		code := []string{"P", "N", "U", "M", "L"}[r.IntN(5)]
		_, err := o.Correct(ctx, officer, key, work.Correction{Date: date, Slot: "AM", Student: student, Code: code, Reason: "drawn"})
		return err
	case 6:
		_, err := o.EndSearch(ctx, officer, key, work.SearchEnd{Student: student, Found: r.IntN(2) == 0, Place: "pier"})
		return err
	case 7:
		today, err := o.Today(ctx, "")
		if err != nil || len(today.Households) == 0 {
			return err
		}
		h := today.Households[r.IntN(len(today.Households))]
		c := work.Call{Students: []int64{h.Students[0].Student.ID}, Outcome: []string{"spoke", "no answer", "message"}[r.IntN(3)]}
		if len(h.Contacts) > 0 {
			c.Contact = h.Contacts[0].ID
		}
		if c.Outcome == "spoke" {
			c.Said = "ill"
		}
		_, err = o.LogCall(ctx, officer, key, c)
		return err
	case 8:
		class := []int64{halyard, 179}[r.IntN(2)]
		v, err := o.Register(ctx, officer, class, "AM", "")
		if err != nil {
			return err
		}
		var sent []work.SentMark
		for _, row := range v.Rows {
			sent = append(sent, work.SentMark{Student: row.Student.ID, Code: []string{"P", "P", "P", "N", "M"}[r.IntN(5)]})
		}
		_, err = o.SendRegister(ctx, officer, key, date, class, "AM", sent)
		return err
	default:
		_, err := o.CloseSafeArrival(ctx, officer, key)
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
		today work.TodayView
		desk  work.DeskView
	}
	var history []shown
	done := 0
	for minute := range day.Minute(25) {
		at := day.At(demo.Today, 552+minute)
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
			count(t, o) // adds up to the roll
		}
		require.NoError(t, o.Tick(t.Context(), at))
		clock.Set(at)
		today, err := o.Today(t.Context(), "")
		require.NoError(t, err)
		desk, err := o.Desk(t.Context(), "")
		require.NoError(t, err)
		history = append(history, shown{at.String(), today, desk})
	}
	assert.Greater(t, done, 30, "most of it was done")
	clock.Set(day.At(demo.Today, 600))
	for _, h := range history {
		again, err := o.Today(t.Context(), h.at)
		require.NoError(t, err)
		assert.Equal(t, h.today.Count, again.Count, h.at)
		assert.Equal(t, h.today.Households, again.Households, h.at)
		assert.Equal(t, h.today.OnSite, again.OnSite, h.at)
		assert.Equal(t, h.today.Safe, again.Safe, h.at)
		assert.Equal(t, h.today.Mismatches, again.Mismatches, h.at)
		assert.Equal(t, h.today.Holds, again.Holds, h.at)
		assert.Equal(t, h.today.Answers, again.Answers, h.at)
		assert.Equal(t, h.today.Fetches, again.Fetches, h.at)
		desk, err := o.Desk(t.Context(), h.at)
		require.NoError(t, err)
		assert.Equal(t, h.desk, desk, h.at)
	}
	wrong, err := o.Check(t.Context())
	require.NoError(t, err)
	assert.Empty(t, wrong)
}

// A repeat of any write after a lost line does nothing twice and gets the same answer.
func TestRepeatsDoNothingTwice(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	idris := find(t, o, "Idris Quell").Student.ID
	for name, do := range map[string]func() (work.Receipt, error){
		"move": func() (work.Receipt, error) {
			return o.Move(ctx, officer, "repeat move", work.Movement{Students: []int64{idris}, Kind: "arrived"})
		},
		"notice": func() (work.Receipt, error) {
			return o.Notify(ctx, officer, "repeat notice", work.Notice{Students: []int64{idris}, Reason: "ill"})
		},
		"call": func() (work.Receipt, error) {
			return o.LogCall(ctx, officer, "repeat call", work.Call{Students: []int64{idris}, Outcome: "spoke"})
		},
		"remind": func() (work.Receipt, error) {
			return o.Send(ctx, officer, "repeat remind", work.Message{Kind: "remind", Class: halyard, Slot: "AM"})
		},
		"search": func() (work.Receipt, error) {
			return o.StartSearch(ctx, officer, "repeat search", work.NewSearch{Student: idris})
		},
	} {
		first, err := do()
		require.NoError(t, err, name)
		again, err := do()
		require.NoError(t, err, name)
		assert.Equal(t, first, again, name)
	}
	out, err := o.Outbox(ctx, officer, "")
	require.NoError(t, err)
	sent := 0
	for _, m := range out {
		if m.By == officer.Name {
			sent++
		}
	}
	assert.Equal(t, 2, sent, "on the page and by text")
	desk, err := o.Desk(ctx, "")
	require.NoError(t, err)
	mine := 0
	for _, m := range desk.Movements {
		if m.Student.ID == idris {
			mine++
		}
	}
	assert.Equal(t, 1, mine)
	_, err = o.Notify(ctx, officer, "repeat move", work.Notice{Students: []int64{idris}, Reason: "ill"})
	assert.Equal(t, work.Conflict, kind(t, err), "a key belongs to one piece of work")
}
