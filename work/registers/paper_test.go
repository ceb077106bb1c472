package registers_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/core/whereabouts"
	"meldung/demo"
	"meldung/demo/demotest"
	"meldung/pages/registerpage"
	"meldung/work"
	"meldung/work/registers"
)

// A register that comes back on paper is taken by one and entered by another; its marks are
// evidence for when it was taken.
func TestARegisterComesBackOnPaper(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	clock.Set(day.At(demo.Today, day.MustMinute("10:30")))
	v, err := registerpage.Show(ctx, o, demotest.Officer, demotest.Halyard, "AM", "")
	require.NoError(t, err)
	sent := registers.SentRegister{Date: demotest.Date, Class: demotest.Halyard, Slot: "AM", TakenBy: "B. Quill", TakenAt: "1015"}
	for _, row := range v.Rows {
		sent.Marks = append(sent.Marks, registers.SentMark{Student: row.Student.ID, Code: "P", Made: "10:30"})
	}
	_, err = registers.Send(ctx, o, demotest.Officer, "outside", sent)
	assert.ErrorContains(t, err, "10:15 is not within AM registration")
	sent.TakenAt = "855"
	_, err = registers.Send(ctx, o, demotest.Officer, "paper", sent)
	require.NoError(t, err)
	v, err = registerpage.Show(ctx, o, demotest.Officer, demotest.Halyard, "AM", "")
	require.NoError(t, err)
	assert.Equal(t, []string{"B. Quill", "10:30", "R. Tolvan"}, []string{v.Register.TakenBy, v.Register.SentAt, v.Register.SentBy})
	require.NoError(t, o.ReadDay(ctx, work.Moment{Date: demo.Today}, func(_ work.Snapshot, x *work.Day) error {
		for _, row := range v.Rows {
			m := x.Versions(row.Student.ID, "AM")
			assert.Equal(t, day.MustMinute("08:55"), m[len(m)-1].Made)
		}
		for _, m := range x.Evidence[v.Rows[0].Student.ID].Marks {
			if m.Slot.Name == "AM" {
				assert.Equal(t, whereabouts.BySight, m.By)
			}
		}
		return nil
	}))
}
