package work_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/demo/demotest"
	"meldung/work"
)

func outbox(t *testing.T, o *work.Office, p work.Person) []work.MessageView {
	t.Helper()
	list, err := o.Outbox(t.Context(), p, "")
	require.NoError(t, err)
	return list
}

// Registers that are out too long are reminded of once, by themselves; what became of
// the reminder is traced, also after a restart, and an earlier minute does not know it.
func TestRemindersGoOutByThemselvesOnce(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	first := outbox(t, o, officer)
	require.NotEmpty(t, first, "two registers were out at 09:05")
	for _, m := range first {
		assert.Equal(t, []string{"09:05", "remind", ""}, []string{m.At, m.Kind, m.By})
	}
	for range 3 {
		require.NoError(t, o.Tick(ctx, o.Now()))
	}
	assert.Len(t, outbox(t, o, officer), len(first))
	today, err := o.Today(ctx, "")
	require.NoError(t, err)
	for _, r := range today.Registers {
		assert.Equal(t, []string{"09:05 automatically"}, r.Reminded, r.Title)
		assert.NotEmpty(t, r.Answer)
	}
	before, err := o.Today(ctx, "2026-03-10T09:04")
	require.NoError(t, err)
	for _, r := range before.Registers {
		assert.Empty(t, r.Reminded)
	}

	// The teacher sees it on any page, and the office sees that.
	notes, err := o.Notes(ctx, osk)
	require.NoError(t, err)
	require.Len(t, notes, 1)
	assert.Equal(t, "The register of 8 Halyard, AM, is still out. Please send it.", notes[0].Words)
	_, err = o.SeeNotes(ctx, rask, "not hers", []int64{notes[0].ID})
	require.NoError(t, err)
	_, err = o.SeeNotes(ctx, osk, "seen", []int64{notes[0].ID})
	require.NoError(t, err)
	_, err = o.SeeNotes(ctx, osk, "seen in another window", []int64{notes[0].ID})
	require.NoError(t, err)
	for _, m := range outbox(t, o, osk) {
		if m.Channel == "page" {
			assert.Equal(t, []work.MessageStep{{At: "09:12", State: "seen"}}, m.Steps)
		}
	}

	// The afternoon's own, when its time has come.
	clock.Set(day.At(day.MustDate(date), 13*60+45+10+5))
	require.NoError(t, o.Tick(ctx, o.Now()))
	after := outbox(t, o, officer)
	assert.Greater(t, len(after), len(first))
	assert.Equal(t, "14:00", after[0].At)

	_, err = o.SendRegister(ctx, osk, "sent at last", date, halyard, "AM", marks(t, o, "P"))
	require.NoError(t, err)
	notes, err = o.Notes(ctx, osk)
	require.NoError(t, err)
	for _, n := range notes {
		assert.NotEqual(t, "AM", n.Slot, "a register that is in needs no note")
	}
}

func TestAMessageThatFailedGoesOutAnotherWay(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	v, err := o.Registers(ctx, officer, "")
	require.NoError(t, err)
	for i, r := range v.Registers[:24] { // every tutor
		_, err := o.Send(ctx, officer, "to every tutor "+r.Title, work.Message{Kind: "ask", Class: r.Class, Slot: r.Slot, Words: "Staff room at break"})
		require.NoError(t, err, i)
	}
	clock.Set(o.Now() + 5)
	require.NoError(t, o.Tick(ctx, o.Now()))
	var failed *work.MessageView
	states := map[string]int{}
	for _, m := range outbox(t, o, officer) {
		states[m.Channel+" "+m.State]++
		if m.State == "failed" {
			failed = &m
		}
	}
	require.NotNil(t, failed, "%v", states)
	assert.Positive(t, states["text delivered"], "%v", states)
	r, err := o.Resend(ctx, officer, "another way", failed.ID)
	require.NoError(t, err)
	assert.Equal(t, "Sent again by e-mail", r.Words)
	again := outbox(t, o, officer)[0]
	assert.Equal(t, []string{failed.To, "e-mail", failed.Words}, []string{again.To, again.Channel, again.Words})
	assert.Contains(t, again.Address, "@fairlead.example")
	_, err = o.Resend(ctx, officer, "no such message", 1<<40)
	assert.Equal(t, work.NotFound, kind(t, err))
}

func TestWritingToStudentsOfARegister(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	v, err := o.Register(ctx, osk, halyard, "AM", "")
	require.NoError(t, err)
	ids := []int64{v.Rows[0].Student.ID, v.Rows[1].Student.ID}
	r, err := o.WriteToStudents(ctx, osk, "where are you", work.StudentMessage{Class: halyard, Slot: "AM", Students: ids})
	require.NoError(t, err)
	assert.Equal(t, "Written to 2 of 2", r.Words)
	first := outbox(t, o, officer)[0]
	assert.Equal(t, []string{"e-mail", v.Rows[1].Student.Name}, []string{first.Channel, first.To})
	assert.Contains(t, first.Words, "Check-in of 8 Halyard, AM registration, is open and you are not in yet")
	_, err = o.WriteToStudents(ctx, rask, "not her class", work.StudentMessage{Class: halyard, Slot: "AM", Students: ids})
	assert.Equal(t, work.Refused, kind(t, err))
	_, err = o.WriteToStudents(ctx, osk, "not on it", work.StudentMessage{Class: halyard, Slot: "AM", Students: []int64{1 << 40}})
	assert.ErrorContains(t, err, "nobody was written to")
}

// The school decides after how many minutes a reminder goes out by itself.
func TestTheSchoolDecidesWhenToRemind(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	reminded := func() bool { // of the afternoon registration
		return slices.ContainsFunc(outbox(t, o, officer), func(m work.MessageView) bool { return m.Slot == "PM" })
	}
	afternoon := day.At(day.MustDate(date), 13*60+55)
	for _, step := range []struct {
		remind day.Minute
		at     day.Instant
		more   bool
	}{{0, afternoon + 60, false}, {10, afternoon + 9, false}, {10, afternoon + 10, true}} {
		_, err := o.SetRegisterRules(ctx, officer, "rules "+step.at.String()+step.remind.String(), work.RegisterRules{Within: 15, LateGrace: 5, RemindAfter: step.remind})
		require.NoError(t, err)
		clock.Set(step.at)
		require.NoError(t, o.Tick(ctx, step.at))
		assert.Equal(t, step.more, reminded(), "%v", step)
	}
}
