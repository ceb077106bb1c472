package todaypage_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/ids"
	"meldung/demo/demotest"
	"meldung/pages/todaypage"
)

// The Petrel is late on the demonstration's morning: the call list says so, with the
// figures, and names exactly those aboard. Once they have come in, nothing is shared.
func TestALateFerryIsFoundAmongTheMissing(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	today, err := todaypage.Show(t.Context(), o, "")
	require.NoError(t, err)
	require.NotEmpty(t, today.Causes)
	ferry := today.Causes[0]
	assert.Equal(t, "ferry Petrel", ferry.Key)
	assert.Contains(t, ferry.Text, "come by the Petrel")
	assert.Regexp(t, `^\d+ of \d+ such are missing, \d+ of \d+ others$`, ferry.Shares)
	onList := map[ids.Student]bool{}
	for _, h := range today.Households {
		for _, s := range h.Students {
			onList[s.Student.ID] = true
		}
	}
	assert.Len(t, onList, today.Missing)
	for _, id := range ferry.Students {
		assert.True(t, onList[id], "whoever is named is on the list")
	}
	later, err := todaypage.Show(t.Context(), o, "2026-03-10T08:40")
	require.NoError(t, err)
	assert.Empty(t, later.Causes, "nobody is missing yet")
}
