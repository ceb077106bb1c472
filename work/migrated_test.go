package work_test

import (
	"compress/gzip"
	"io"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/demo/demotest"
	"meldung/files/assess"
	"meldung/files/policyfile"
	"meldung/store"
	"meldung/work"
	"meldung/work/check"
)

// unpacked puts the packed data folder of an earlier version into a new folder.
func unpacked(t *testing.T, folder string) string {
	t.Helper()
	packed, err := os.Open(filepath.Join("testdata", folder, store.File+".gz"))
	require.NoError(t, err)
	defer packed.Close()
	in, err := gzip.NewReader(packed)
	require.NoError(t, err)
	to := t.TempDir()
	out, err := os.Create(filepath.Join(to, store.File))
	require.NoError(t, err)
	_, err = io.Copy(out, in)
	require.NoError(t, err)
	require.NoError(t, out.Close())
	return to
}

// A data folder of the version before anything held from a date: 24 students, of whom one
// came late, one left and two are part-time, six weeks of registers, corrections and people
// who left early. It opens, and its figures are those that that version gave.
func TestADataFolderOfTheVersionBefore(t *testing.T) {
	t.Parallel()
	last := day.MustDate("2026-02-12")
	db, err := store.Open(t.Context(), unpacked(t, "before-dates"))
	require.NoError(t, err)
	o, err := work.Open(t.Context(), db, demotest.NewClock(day.At(last, day.MustMinute("16:00"))))
	require.NoError(t, err)
	wrong, err := check.Check(t.Context(), o, false)
	require.NoError(t, err)
	assert.Empty(t, wrong)
	require.NoError(t, o.Read(t.Context(), func(v work.Snapshot) error {
		for _, id := range policyfile.Policies() {
			require.Len(t, v.Sections(), 1)
			s := v.Sections()[0]
			m, err := s.Measure(id)
			require.NoError(t, err)
			for name, got := range assess.Measure(s.Ledger, m.Policy(), last) {
				want, err := os.ReadFile(filepath.Join("testdata", "before-dates", id+"-"+name))
				require.NoError(t, err)
				assert.Equal(t, string(want), string(got), "%s by %s", name, id)
			}
		}
		return nil
	}))
	x := dayOf(t, o, day.MustDate("2026-01-08"))
	for _, r := range x.Registers {
		require.NotNil(t, r.Sent)
		assert.False(t, r.Sent.Start.IsZero(), "it has the times of its slot")
		assert.Equal(t, r.Slot.Start, r.Sent.Start)
	}
}

func dayOf(t *testing.T, o *work.Office, d day.Date) (x *work.Day) {
	t.Helper()
	require.NoError(t, o.ReadOn(t.Context(), d, func(v work.Snapshot) (err error) {
		x, err = v.Day(t.Context(), d)
		return err
	}))
	return x
}
