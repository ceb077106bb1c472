package registers_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/ids"
	"meldung/demo/demotest"
	"meldung/pages/registerpage"
	"meldung/pages/studentpage"
	"meldung/work"
	"meldung/work/messages"
	"meldung/work/registers"
)

func titles(t *testing.T, o *work.Office, p work.Person, at string) (mine []string) {
	t.Helper()
	v, err := registerpage.ShowAll(t.Context(), o, p, at)
	require.NoError(t, err)
	for _, r := range v.Registers {
		mine = append(mine, r.Title+" "+r.Slot)
	}
	return mine
}

// A stand-in gets exactly the registers of whom they stand in for, on that day and in
// those slots, and loses them when it ends.
func TestAStandInGetsExactlyThoseRegisters(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	own, others := titles(t, o, demotest.Rask, ""), titles(t, o, demotest.Osk, "")
	_, err := registerpage.Show(ctx, o, demotest.Rask, demotest.Halyard, "AM", "")
	assert.Equal(t, work.Refused, demotest.Kind(t, err))

	r, err := registers.NameStandIn(ctx, o, demotest.Officer, "rask for demotest.Osk in the morning", registers.NewStandIn{Date: demotest.Date, Absent: demotest.Osk.Staff, Takes: demotest.Rask.Staff, Slots: []string{"AM"}})
	require.NoError(t, err)
	assert.Contains(t, r.Text, "T. Rask takes the registers of P. Osk on Tue 10 March")
	assert.Contains(t, r.Text, "has 9 Bowline in AM at the same time")
	assert.ElementsMatch(t, append([]string{"8 Halyard AM"}, own...), titles(t, o, demotest.Rask, ""))
	assert.Equal(t, others, titles(t, o, demotest.Osk, ""), "the absent teacher keeps theirs")
	assert.Equal(t, len(titles(t, o, demotest.Rask, "2026-03-11")), len(titles(t, o, demotest.Rask, "2026-03-11")))
	assert.NotContains(t, titles(t, o, demotest.Rask, "2026-03-11"), "8 Halyard AM")

	v, err := registerpage.Show(ctx, o, demotest.Rask, demotest.Halyard, "AM", "")
	require.NoError(t, err)
	assert.Equal(t, "T. Rask for P. Osk", v.Register.Teacher)
	_, err = registerpage.Show(ctx, o, demotest.Rask, demotest.Halyard, "PM", "")
	assert.Equal(t, work.Refused, demotest.Kind(t, err), "only in that slot")
	refused := 0
	for _, row := range v.Rows {
		if _, err := studentpage.Show(ctx, o, demotest.Rask, row.Student.ID, ""); err != nil {
			refused++
		}
	}
	assert.Positive(t, refused, "a register is not a student's file")

	sent, err := messages.Send(ctx, o, demotest.Officer, "remind the stand-in", messages.Message{Kind: "remind", Class: demotest.Halyard, Slot: "AM"})
	require.NoError(t, err)
	assert.Equal(t, "sent to T. Rask for P. Osk", sent.Text)

	all := demotest.Marks(t, o, "P")
	_, err = registers.Send(ctx, o, demotest.Rask, "rask sends it", registers.SentRegister{Date: demotest.Date, Class: demotest.Halyard, Slot: "AM", Marks: all})
	require.NoError(t, err)
	_, err = registers.EndStandIn(ctx, o, demotest.Officer, "end it", ids.StandIn(r.IDs[0]))
	require.NoError(t, err)
	_, err = registerpage.Show(ctx, o, demotest.Rask, demotest.Halyard, "AM", "")
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
	_, err = registers.EndStandIn(ctx, o, demotest.Officer, "end it twice", ids.StandIn(r.IDs[0]))
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
}

func TestStandInsThatCannotBe(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	whole := registers.NewStandIn{Date: demotest.Date, Absent: demotest.Osk.Staff, Takes: demotest.Rask.Staff}
	for words, n := range map[string]registers.NewStandIn{
		"can't stand in for themselves": {Date: demotest.Date, Absent: demotest.Osk.Staff, Takes: demotest.Osk.Staff},
		"no member of staff 9999":       {Date: demotest.Date, Absent: demotest.Osk.Staff, Takes: 9999},
		"is not a school day":           {Date: "2026-03-14", Absent: demotest.Osk.Staff, Takes: demotest.Rask.Staff},
		`has no slot "9"`:               {Date: demotest.Date, Absent: demotest.Osk.Staff, Takes: demotest.Rask.Staff, Slots: []string{"9"}},
		"is not a date":                 {Date: "tomorrow", Absent: demotest.Osk.Staff, Takes: demotest.Rask.Staff},
	} {
		_, err := registers.NameStandIn(ctx, o, demotest.Officer, "no "+words, n)
		assert.ErrorContains(t, err, words)
	}
	_, err := registers.NameStandIn(ctx, o, demotest.Officer, "the whole day", whole)
	require.NoError(t, err)
	_, err = registers.NameStandIn(ctx, o, demotest.Officer, "and once more", registers.NewStandIn{Date: demotest.Date, Absent: demotest.Osk.Staff, Takes: demotest.Rask.Staff, Slots: []string{"2"}})
	assert.ErrorContains(t, err, "T. Rask stands in for P. Osk already, the whole day")
	list, err := registerpage.ShowStandIns(ctx, o, "")
	require.NoError(t, err)
	require.Len(t, list.StandIns, 1)
	assert.Equal(t, "R. Tolvan", list.StandIns[0].By)
	assert.Greater(t, len(list.Staff), 20)
}

func seats(t *testing.T, o *work.Office) map[ids.Student]int {
	t.Helper()
	v, err := registerpage.Show(t.Context(), o, demotest.Osk, demotest.Halyard, "AM", "")
	require.NoError(t, err)
	out := map[ids.Student]int{}
	for _, r := range v.Rows {
		if r.Seat >= 0 {
			out[r.Student.ID] = r.Seat
		}
	}
	return out
}

func TestASeatingPlanIsKeptForClassAndRoom(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	v, err := registerpage.Show(ctx, o, demotest.Osk, demotest.Halyard, "AM", "")
	require.NoError(t, err)
	a, b := v.Rows[0].Student.ID, v.Rows[1].Student.ID
	move := func(key string, student ids.Student, place int) error {
		_, err := registers.SeatStudent(ctx, o, demotest.Osk, key, registers.Seat{Date: demotest.Date, Class: demotest.Halyard, Slot: "AM", Student: student, Place: place})
		return err
	}
	require.NoError(t, move("a to the front", a, 2))
	require.NoError(t, move("b beside them", b, 3))
	require.NoError(t, move("they swap", a, 3))
	assert.Equal(t, map[ids.Student]int{a: 3, b: 2}, seats(t, o))
	assert.ErrorContains(t, move("beyond the room", a, 40), "no seat 40")
	assert.ErrorContains(t, move("another's student", 9999, 5), "not on this register")
	_, err = registers.SeatStudent(ctx, o, demotest.Rask, "another's class", registers.Seat{Date: demotest.Date, Class: demotest.Halyard, Slot: "AM", Student: a, Place: 1})
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
	_, err = registers.SeatStudent(ctx, o, demotest.Osk, "everyone else", registers.Seat{Date: demotest.Date, Class: demotest.Halyard, Slot: "AM", Fill: true})
	require.NoError(t, err)
	all := seats(t, o)
	assert.Len(t, all, len(v.Rows))
	assert.Equal(t, 3, all[a])
	require.NoError(t, move("into the tray", b, -1))
	later, err := registerpage.Show(ctx, o, demotest.Osk, demotest.Halyard, "AM", "2026-03-11")
	require.NoError(t, err)
	assert.Equal(t, 3, later.Rows[0].Seat, "the plan is not the day's")
}

func TestWhoseCardItIs(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	v, err := registerpage.Show(t.Context(), o, demotest.Officer, 179, "AM", "")
	require.NoError(t, err)
	s := v.Rows[0]
	require.NotEmpty(t, s.Card)
	whose, err := registerpage.WhoseCard(t.Context(), o, demotest.Officer, s.Card, "2026-03-10T08:58")
	require.NoError(t, err)
	assert.Equal(t, s.Student.Name+", 11 Cleat, due in 11 Cleat, "+v.Register.Room, whose.Text)
	assert.True(t, whose.Known)
	whose, err = registerpage.WhoseCard(t.Context(), o, demotest.Officer, "FL000000", "")
	require.NoError(t, err)
	assert.Equal(t, registerpage.CardView{Text: "no student has the card FL000000"}, whose)
}

// An earlier day's register shows what was corrected since, with the day; an earlier
// minute shows what was known then.
func TestAnEarlierDayIsShownWithItsCorrections(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	v, err := registerpage.Show(ctx, o, demotest.Osk, demotest.Halyard, "AM", "2026-03-09")
	require.NoError(t, err)
	s := v.Rows[0].Student
	_, err = registers.Correct(ctx, o, demotest.Osk, "a note came", registers.Correction{Date: "2026-03-09", Slot: "AM", Student: s.ID, Code: "M", Reason: "a note came"})
	require.NoError(t, err)
	v, err = registerpage.Show(ctx, o, demotest.Osk, demotest.Halyard, "AM", "2026-03-09")
	require.NoError(t, err)
	require.Len(t, v.Rows[0].Versions, 2)
	assert.Equal(t, []string{"M", "Tue 10 March 09:12"}, []string{v.Rows[0].Versions[1].Code, v.Rows[0].Versions[1].At})
	v, err = registerpage.Show(ctx, o, demotest.Osk, demotest.Halyard, "AM", "2026-03-09T15:00")
	require.NoError(t, err)
	assert.Len(t, v.Rows[0].Versions, 1)
	_, err = registerpage.Show(ctx, o, demotest.Osk, demotest.Halyard, "AM", "2026-03-14")
	assert.ErrorContains(t, err, "is not a school day")
}
