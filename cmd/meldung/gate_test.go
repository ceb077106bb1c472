package main

import (
	"context"
	"os"
	"os/exec"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/demo"
	"meldung/demo/demotest"
)

// The list lies at the gate, whole, is written anew, and is taken away when everybody has gone.
func TestTheListForTheGate(t *testing.T) {
	t.Parallel()
	office, clock := demotest.CopyWithClock(t)
	folder := filepath.Join(t.TempDir(), "gate")
	ctx, stop := context.WithCancel(t.Context())
	defer stop()
	ended := make(chan struct{})
	go func() { keepAtTheGate(ctx, office, folder, 20*time.Millisecond); close(ended) }()
	file := filepath.Join(folder, gateFile)
	require.Eventually(t, func() bool { _, err := os.Stat(file); return err == nil }, 20*time.Second, 10*time.Millisecond)
	text, err := exec.CommandContext(t.Context(), "pdftotext", "-layout", file, "-").CombinedOutput()
	require.NoError(t, err, string(text))
	assert.Contains(t, string(text), "Everyone on the premises")
	assert.Contains(t, string(text), "as at 09:12, Tue 10 March")
	assert.Contains(t, string(text), "Sandal, Juno")
	info, err := os.Stat(file)
	require.NoError(t, err)
	assert.Equal(t, os.FileMode(0o600), info.Mode().Perm())
	clock.Set(day.At(demo.Today, day.MustMinute("22:00")) + 4*24*60) // a Saturday
	require.Eventually(t, func() bool { _, err := os.Stat(file); return os.IsNotExist(err) }, 20*time.Second, 10*time.Millisecond)
	stop()
	<-ended
	left, err := os.ReadDir(folder)
	require.NoError(t, err)
	assert.Empty(t, left, "nothing half-written")
}
