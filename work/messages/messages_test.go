package messages_test

import (
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/demo/demotest"
	"meldung/outside"
	"meldung/pages/registerpage"
	"meldung/pages/todaypage"
	"meldung/work"
	"meldung/work/messages"
	"meldung/work/registers"
	"meldung/work/school"
)

// Registers that are out too long are reminded of once, by themselves; what became of
// the reminder is traced, also after a restart, and an earlier minute does not know it.
func TestRemindersGoOutByThemselvesOnce(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	first := demotest.Outbox(t, o, demotest.Officer)
	require.NotEmpty(t, first, "a register was out at 09:05, and one of the upper school at 09:10")
	when := map[ids.Class]string{demotest.Halyard: "09:05", demotest.Cleat: "09:10"}
	for _, m := range first {
		if m.Kind == work.AsList { // of the early morning
			continue
		}
		assert.Equal(t, []string{when[m.Class], "remind", ""}, []string{m.At, m.Kind, m.By})
	}
	for range 3 {
		require.NoError(t, messages.Tick(ctx, o, outside.Simulated{}, o.Now()))
	}
	assert.Len(t, demotest.Outbox(t, o, demotest.Officer), len(first))
	today, err := todaypage.Show(ctx, o, "")
	require.NoError(t, err)
	for _, r := range today.Registers {
		assert.Equal(t, []string{when[r.Class] + " automatically"}, r.Reminded, r.Title)
		assert.NotEmpty(t, r.Answer)
	}
	before, err := todaypage.Show(ctx, o, "2026-03-10T09:04")
	require.NoError(t, err)
	for _, r := range before.Registers {
		assert.Empty(t, r.Reminded)
	}

	// The teacher sees it on any page, and the office sees that.
	notes, err := todaypage.ShowNotes(ctx, o, demotest.Osk)
	require.NoError(t, err)
	require.Len(t, notes, 1)
	assert.Equal(t, "The register of 8 Halyard, AM, is still out. Please send it.", notes[0].Text)
	_, err = messages.SeeNotes(ctx, o, demotest.Rask, "not hers", messages.SeenNotes{IDs: []ids.Message{notes[0].ID}})
	require.NoError(t, err)
	_, err = messages.SeeNotes(ctx, o, demotest.Osk, "seen", messages.SeenNotes{IDs: []ids.Message{notes[0].ID}})
	require.NoError(t, err)
	_, err = messages.SeeNotes(ctx, o, demotest.Osk, "seen in another window", messages.SeenNotes{IDs: []ids.Message{notes[0].ID}})
	require.NoError(t, err)
	for _, m := range demotest.Outbox(t, o, demotest.Osk) {
		if m.Channel == "page" {
			assert.Equal(t, []todaypage.MessageStep{{At: "09:12", State: "seen"}}, m.Steps)
		}
	}

	// The afternoon's own, when its time has come.
	clock.Set(day.At(day.MustDate(demotest.Date), day.MustMinute("14:00")))
	require.NoError(t, messages.Tick(ctx, o, outside.Simulated{}, o.Now()))
	after := demotest.Outbox(t, o, demotest.Officer)
	assert.Greater(t, len(after), len(first))
	assert.Equal(t, "14:00", after[0].At)

	_, err = registers.Send(ctx, o, demotest.Osk, "sent at last", registers.SentRegister{Date: demotest.Date, Class: demotest.Halyard, Slot: "AM", Marks: demotest.Marks(t, o, "P")})
	require.NoError(t, err)
	notes, err = todaypage.ShowNotes(ctx, o, demotest.Osk)
	require.NoError(t, err)
	for _, n := range notes {
		assert.NotEqual(t, "AM", n.Slot, "a register that is in needs no note")
	}
}

func TestAMessageThatFailedGoesOutAnotherWay(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	v, err := registerpage.ShowAll(ctx, o, demotest.Officer, "")
	require.NoError(t, err)
	for i, r := range v.Registers[:24] { // every tutor
		_, err := messages.Send(ctx, o, demotest.Officer, "to every tutor "+r.Title, messages.Message{Kind: "ask", Class: r.Class, Slot: r.Slot, Text: "Staff room at break"})
		require.NoError(t, err, i)
	}
	clock.Set(o.Now() + 5)
	require.NoError(t, messages.Tick(ctx, o, outside.Simulated{}, o.Now()))
	var failed *todaypage.MessageView
	states := map[string]int{}
	for _, m := range demotest.Outbox(t, o, demotest.Officer) {
		states[m.Channel+" "+m.State]++
		if m.State == "failed" {
			failed = &m
		}
	}
	require.NotNil(t, failed, "%v", states)
	assert.Positive(t, states["text delivered"], "%v", states)
	r, err := messages.Resend(ctx, o, demotest.Officer, "another way", failed.ID)
	require.NoError(t, err)
	assert.Equal(t, "Sent again by e-mail", r.Text)
	again := demotest.Outbox(t, o, demotest.Officer)[0]
	assert.Equal(t, []string{failed.To, "e-mail", failed.Text}, []string{again.To, again.Channel, again.Text})
	assert.Contains(t, again.Address, "@fairlead.example")
	_, err = messages.Resend(ctx, o, demotest.Officer, "no such message", 1<<40)
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
}

func TestWritingToStudentsOfARegister(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	v, err := registerpage.Show(ctx, o, demotest.Osk, demotest.Halyard, "AM", "")
	require.NoError(t, err)
	who := []ids.Student{v.Rows[0].Student.ID, v.Rows[1].Student.ID}
	r, err := messages.WriteToStudents(ctx, o, demotest.Osk, "where are you", messages.StudentMessage{Class: demotest.Halyard, Slot: "AM", Students: who})
	require.NoError(t, err)
	assert.Equal(t, "Written to 2 of 2", r.Text)
	first := demotest.Outbox(t, o, demotest.Officer)[0]
	assert.Equal(t, []string{"e-mail", v.Rows[1].Student.Name}, []string{first.Channel, first.To})
	assert.Contains(t, first.Text, "Check-in of 8 Halyard, AM registration, is open and you are not in yet")
	_, err = messages.WriteToStudents(ctx, o, demotest.Rask, "not her class", messages.StudentMessage{Class: demotest.Halyard, Slot: "AM", Students: who})
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
	_, err = messages.WriteToStudents(ctx, o, demotest.Osk, "not on it", messages.StudentMessage{Class: demotest.Halyard, Slot: "AM", Students: []ids.Student{1 << 40}})
	assert.ErrorContains(t, err, "nobody was written to")
}

// The school decides after how many minutes a reminder goes out by itself.
func TestTheSchoolDecidesWhenToRemind(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	reminded := func() bool { // of the afternoon registration
		return slices.ContainsFunc(demotest.Outbox(t, o, demotest.Officer), func(m todaypage.MessageView) bool { return m.Slot == "PM" })
	}
	afternoon := day.At(day.MustDate(demotest.Date), day.MustMinute("13:55"))
	for _, step := range []struct {
		remind day.Minutes
		at     day.Instant
		more   bool
	}{{0, afternoon + 60, false}, {10, afternoon + 9, false}, {10, afternoon + 10, true}} {
		_, err := school.SetRegisterRules(ctx, o, demotest.Admin, "rules "+step.at.String()+fmt.Sprint(step.remind), school.RegisterRules{Within: 15, LateGrace: 5, RemindAfter: step.remind})
		require.NoError(t, err)
		clock.Set(step.at)
		require.NoError(t, messages.Tick(ctx, o, outside.Simulated{}, step.at))
		assert.Equal(t, step.more, reminded(), "%v", step)
	}
}
