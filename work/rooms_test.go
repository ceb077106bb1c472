package work_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/demo/demotest"
	"meldung/work"
)

var rask = work.Person{Account: 3, Name: "T. Rask", Role: work.Teacher, Staff: staffRask}

const staffRask = 3

func titles(t *testing.T, o *work.Office, p work.Person, at string) (mine []string) {
	t.Helper()
	v, err := o.Registers(t.Context(), p, at)
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
	own, others := titles(t, o, rask, ""), titles(t, o, osk, "")
	_, err := o.Register(ctx, rask, halyard, "AM", "")
	assert.Equal(t, work.Refused, kind(t, err))

	r, err := o.NameStandIn(ctx, officer, "rask for osk in the morning", work.NewStandIn{Date: date, Absent: osk.Staff, Takes: rask.Staff, Slots: []string{"AM"}})
	require.NoError(t, err)
	assert.Contains(t, r.Words, "T. Rask takes the registers of P. Osk on Tue 10 March")
	assert.Contains(t, r.Words, "has 9 Bowline in AM at the same time")
	assert.ElementsMatch(t, append([]string{"8 Halyard AM"}, own...), titles(t, o, rask, ""))
	assert.Equal(t, others, titles(t, o, osk, ""), "the absent teacher keeps theirs")
	assert.Equal(t, len(titles(t, o, rask, "2026-03-11")), len(titles(t, o, rask, "2026-03-11")))
	assert.NotContains(t, titles(t, o, rask, "2026-03-11"), "8 Halyard AM")

	v, err := o.Register(ctx, rask, halyard, "AM", "")
	require.NoError(t, err)
	assert.Equal(t, "T. Rask for P. Osk", v.Register.Teacher)
	_, err = o.Register(ctx, rask, halyard, "PM", "")
	assert.Equal(t, work.Refused, kind(t, err), "only in that slot")
	refused := 0
	for _, row := range v.Rows {
		if _, err := o.Sheet(ctx, rask, row.Student.ID, ""); err != nil {
			refused++
		}
	}
	assert.Positive(t, refused, "a register is not a student's file")

	sent, err := o.Send(ctx, officer, "remind the stand-in", work.Message{Kind: "remind", Class: halyard, Slot: "AM"})
	require.NoError(t, err)
	assert.Equal(t, "sent to T. Rask for P. Osk", sent.Words)

	all := marks(t, o, "P")
	_, err = o.SendRegister(ctx, rask, "rask sends it", date, halyard, "AM", all)
	require.NoError(t, err)
	_, err = o.EndStandIn(ctx, officer, "end it", r.IDs[0])
	require.NoError(t, err)
	_, err = o.Register(ctx, rask, halyard, "AM", "")
	assert.Equal(t, work.Refused, kind(t, err))
	_, err = o.EndStandIn(ctx, officer, "end it twice", r.IDs[0])
	assert.Equal(t, work.NotFound, kind(t, err))
}

func TestStandInsThatCannotBe(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	whole := work.NewStandIn{Date: date, Absent: osk.Staff, Takes: rask.Staff}
	for words, n := range map[string]work.NewStandIn{
		"can't stand in for themselves": {Date: date, Absent: osk.Staff, Takes: osk.Staff},
		"no member of staff 9999":       {Date: date, Absent: osk.Staff, Takes: 9999},
		"is not a school day":           {Date: "2026-03-14", Absent: osk.Staff, Takes: rask.Staff},
		`has no slot "9"`:               {Date: date, Absent: osk.Staff, Takes: rask.Staff, Slots: []string{"9"}},
		"is not a date":                 {Date: "tomorrow", Absent: osk.Staff, Takes: rask.Staff},
	} {
		_, err := o.NameStandIn(ctx, officer, "no "+words, n)
		assert.ErrorContains(t, err, words)
	}
	_, err := o.NameStandIn(ctx, officer, "the whole day", whole)
	require.NoError(t, err)
	_, err = o.NameStandIn(ctx, officer, "and once more", work.NewStandIn{Date: date, Absent: osk.Staff, Takes: rask.Staff, Slots: []string{"2"}})
	assert.ErrorContains(t, err, "T. Rask stands in for P. Osk already, the whole day")
	list, err := o.StandIns(ctx, "")
	require.NoError(t, err)
	require.Len(t, list.StandIns, 1)
	assert.Equal(t, "R. Tolvan", list.StandIns[0].By)
	assert.Greater(t, len(list.Staff), 20)
}

func seats(t *testing.T, o *work.Office) map[int64]int {
	t.Helper()
	v, err := o.Register(t.Context(), osk, halyard, "AM", "")
	require.NoError(t, err)
	out := map[int64]int{}
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
	v, err := o.Register(ctx, osk, halyard, "AM", "")
	require.NoError(t, err)
	a, b := v.Rows[0].Student.ID, v.Rows[1].Student.ID
	move := func(key string, student int64, place int) error {
		_, err := o.SeatStudent(ctx, osk, key, work.Seat{Date: date, Class: halyard, Slot: "AM", Student: student, Place: place})
		return err
	}
	require.NoError(t, move("a to the front", a, 2))
	require.NoError(t, move("b beside them", b, 3))
	require.NoError(t, move("they swap", a, 3))
	assert.Equal(t, map[int64]int{a: 3, b: 2}, seats(t, o))
	assert.ErrorContains(t, move("beyond the room", a, 40), "no seat 40")
	assert.ErrorContains(t, move("another's student", 9999, 5), "not on this register")
	_, err = o.SeatStudent(ctx, rask, "another's class", work.Seat{Date: date, Class: halyard, Slot: "AM", Student: a, Place: 1})
	assert.Equal(t, work.Refused, kind(t, err))
	_, err = o.SeatStudent(ctx, osk, "everyone else", work.Seat{Date: date, Class: halyard, Slot: "AM", Fill: true})
	require.NoError(t, err)
	all := seats(t, o)
	assert.Len(t, all, len(v.Rows))
	assert.Equal(t, 3, all[a])
	require.NoError(t, move("into the tray", b, -1))
	later, err := o.Register(ctx, osk, halyard, "AM", "2026-03-11")
	require.NoError(t, err)
	assert.Equal(t, 3, later.Rows[0].Seat, "the plan is not the day's")
}

func TestWhoseCardItIs(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	v, err := o.Register(t.Context(), officer, 179, "AM", "")
	require.NoError(t, err)
	s := v.Rows[0]
	require.NotEmpty(t, s.Card)
	whose, err := o.WhoseCard(t.Context(), s.Card, "2026-03-10T08:50")
	require.NoError(t, err)
	assert.Equal(t, s.Student.Name+", 11 Cleat, due in 11 Cleat, "+v.Register.Room, whose.Words)
	assert.True(t, whose.Known)
	whose, err = o.WhoseCard(t.Context(), "FL000000", "")
	require.NoError(t, err)
	assert.Equal(t, work.CardView{Words: "no student has the card FL000000"}, whose)
}

// An earlier day's register shows what was corrected since, with the day; an earlier
// minute shows what was known then.
func TestAnEarlierDayIsShownWithItsCorrections(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	v, err := o.Register(ctx, osk, halyard, "AM", "2026-03-09")
	require.NoError(t, err)
	s := v.Rows[0].Student
	_, err = o.Correct(ctx, osk, "a note came", work.Correction{Date: "2026-03-09", Slot: "AM", Student: s.ID, Code: "M", Reason: "a note came"})
	require.NoError(t, err)
	v, err = o.Register(ctx, osk, halyard, "AM", "2026-03-09")
	require.NoError(t, err)
	require.Len(t, v.Rows[0].Versions, 2)
	assert.Equal(t, []string{"M", "Tue 10 March 09:12"}, []string{v.Rows[0].Versions[1].Code, v.Rows[0].Versions[1].At})
	v, err = o.Register(ctx, osk, halyard, "AM", "2026-03-09T15:00")
	require.NoError(t, err)
	assert.Len(t, v.Rows[0].Versions, 1)
	_, err = o.Register(ctx, osk, halyard, "AM", "2026-03-14")
	assert.ErrorContains(t, err, "is not a school day")
}
