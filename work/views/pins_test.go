package views_test

import (
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/ids"
	"meldung/demo/demotest"
	"meldung/work"
	"meldung/work/takeback"
	"meldung/work/views"
)

// Pages come first in the order in which they were pinned, for who pinned them alone, each once.
func TestPins(t *testing.T) {
	t.Parallel()
	ctx := t.Context()
	o := demotest.Copy(t)
	titles := func(p work.Person) (out []string) {
		pins, err := views.Pins(ctx, o, p)
		require.NoError(t, err)
		for _, x := range pins {
			out = append(out, x.Title)
		}
		return out
	}
	pin := func(path, title string) (work.Receipt, error) {
		return views.Pin(ctx, o, demotest.Officer, "", views.Pinned{Path: path, Title: title})
	}
	grid, err := pin("/absence/grid?group=class:48", "Grid of 8 Halyard")
	require.NoError(t, err)
	_, err = pin("/outbox", "Outbox")
	require.NoError(t, err)
	assert.Equal(t, []string{"Grid of 8 Halyard", "Outbox"}, titles(demotest.Officer))
	assert.Empty(t, titles(demotest.Ase))
	_, err = views.Unpin(ctx, o, demotest.Ase, "", ids.Pin(grid.IDs[0]))
	assert.Equal(t, work.NotFound, demotest.Kind(t, err), "another's pin")
	off, err := views.Unpin(ctx, o, demotest.Officer, "", ids.Pin(grid.IDs[0]))
	require.NoError(t, err)
	_, err = takeback.Entry(ctx, o, demotest.Officer, "", off.Seq)
	require.NoError(t, err)
	assert.Equal(t, []string{"Grid of 8 Halyard", "Outbox"}, titles(demotest.Officer))
	for _, path := range []string{"//elsewhere.example", "https://elsewhere.example", "javascript:1", "/\\elsewhere.example", "outbox", ""} {
		_, err := pin(path, "Elsewhere")
		assert.Equal(t, work.Wrong, demotest.Kind(t, err), path)
	}
	_, err = pin("/desk", "  ")
	assert.Equal(t, work.Wrong, demotest.Kind(t, err))
	won := make(chan error, 2)
	var both sync.WaitGroup
	for range 2 { // in two windows
		both.Go(func() { _, err := pin("/desk", "Desk"); won <- err })
	}
	both.Wait()
	one, other := <-won, <-won
	assert.True(t, (one == nil) != (other == nil), "%v, %v", one, other)
	for _, path := range []string{"/a", "/b", "/c", "/d", "/e", "/f"} {
		_, err := pin(path, path)
		require.NoError(t, err)
	}
	_, err = pin("/g", "one too many")
	assert.Equal(t, work.Conflict, demotest.Kind(t, err))
}
