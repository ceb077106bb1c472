package studentpage_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/demo/demotest"
	"meldung/pages/studentpage"
)

// Oona Harle is in every morning and then misses lessons: that is what her sheet says first, and the
// grid adds up to it.
func TestASheetSaysFirstWhatStandsOut(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	sheet, err := studentpage.Show(t.Context(), o, demotest.Officer, demotest.IDs(t, o, "Oona Harle")[0], "")
	require.NoError(t, err)
	missed, onSite := 0, 0
	for _, w := range sheet.Where.Weekdays {
		require.Len(t, w.Cells, len(sheet.Where.Slots))
		for _, c := range w.Cells {
			missed += c.Missed
			onSite += c.OnSite
			assert.LessOrEqual(t, c.OnSite, c.Missed)
			assert.LessOrEqual(t, c.Missed, c.Marked)
		}
	}
	assert.Equal(t, sheet.OnSite, onSite)
	assert.Equal(t, "Comes in and misses lessons: 31 of 34 missed lessons while on site.", sheet.Sentence)
	assert.Equal(t, []int{34, 31}, []int{missed, onSite})
	assert.Len(t, sheet.Where.Weekdays, 5)
	for _, h := range sheet.Happened {
		assert.NotEmpty(t, h.Day)
	}
}
