package main

import (
	"bytes"
	"context"
	"net/http"
	"os"
	"path/filepath"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/store"
)

// run runs a command and returns what it printed.
func run(t *testing.T, args ...string) (string, error) {
	t.Helper()
	var out bytes.Buffer
	root := rootCommand()
	root.SetOut(&out)
	root.SetErr(&out)
	root.SetArgs(args)
	err := root.ExecuteContext(t.Context())
	return out.String(), err
}

// Beside a program that serves a folder, what reads works and what changes says what to do.
func TestCommandsBesideAServer(t *testing.T) {
	t.Parallel()
	data := filepath.Join(t.TempDir(), "data")
	db, err := store.Open(t.Context(), data)
	require.NoError(t, err)
	defer db.Close()
	release, err := store.Lock(data)
	require.NoError(t, err)

	said, err := run(t, "check", "--data", data)
	require.NoError(t, err)
	assert.Equal(t, "all is well\n", said)
	to := t.TempDir()
	for range 2 {
		_, err = run(t, "backup", "--data", data, "--to", filepath.Join(to, "one.db"))
	}
	require.ErrorContains(t, err, "is there already")
	_, err = run(t, "backup", "--data", data, "--to", to, "--keep", "1")
	require.NoError(t, err)
	_, err = run(t, "export", "oneroster", filepath.Join(t.TempDir(), "out"), "--data", data)
	require.NoError(t, err)
	_, err = run(t, "serve", "--data", data, "--addr", "127.0.0.1:0")
	require.ErrorIs(t, err, store.ErrInUse)
	_, err = run(t, "restore", filepath.Join(to, "one.db"), "--data", data)
	require.ErrorContains(t, err, "Stop it first; nothing was changed")
	files := t.TempDir()
	require.NoError(t, os.WriteFile(filepath.Join(files, "calendar.csv"), []byte("date,pattern\n"), 0o600))
	_, err = run(t, "import", "timetable", files, "--data", data, "--apply")
	require.ErrorContains(t, err, "Import on the School page")

	require.NoError(t, release())
	require.NoError(t, db.Close())
	said, err = run(t, "restore", filepath.Join(to, "one.db"), "--data", data)
	require.NoError(t, err)
	assert.Contains(t, said, "what was there is ")
}

func TestCheckMakesNothing(t *testing.T) {
	t.Parallel()
	data := filepath.Join(t.TempDir(), "none")
	_, err := run(t, "check", "--data", data)
	require.ErrorContains(t, err, "there is no school")
	_, err = os.Stat(data)
	assert.ErrorIs(t, err, os.ErrNotExist)
}

func TestTheLatestBackupsAreLeft(t *testing.T) {
	t.Parallel()
	folder := t.TempDir()
	for _, day := range []int{1, 2, 3, 4} {
		require.NoError(t, os.WriteFile(filepath.Join(folder, backupName(time.Date(2026, 3, day, 2, 0, 0, 0, time.UTC))), nil, 0o600))
	}
	require.NoError(t, os.WriteFile(filepath.Join(folder, "meldung-notes.db"), nil, 0o600))
	require.NoError(t, leaveLatest(folder, 2))
	left, err := filepath.Glob(filepath.Join(folder, "*"))
	require.NoError(t, err)
	assert.Equal(t, []string{filepath.Join(folder, "meldung-2026-03-03T020000Z.db"), filepath.Join(folder, "meldung-2026-03-04T020000Z.db"), filepath.Join(folder, "meldung-notes.db")}, left)
}

// Who is asked to end answers those who have asked already, and nobody else.
func TestRequestsUnderWayFinish(t *testing.T) {
	t.Parallel()
	ctx, stop := context.WithCancel(t.Context())
	ready, done := make(chan string, 1), make(chan error, 1)
	var under sync.WaitGroup
	under.Add(7)
	goOn := make(chan struct{})
	handler := http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		under.Done()
		<-goOn
		assert.NoError(t, r.Context().Err(), "what is under way is not called off")
		w.WriteHeader(http.StatusTeapot)
	})
	go func() { done <- listen(ctx, "127.0.0.1:0", handler, nil, func(url string) { ready <- url }) }()
	url := <-ready
	var asked sync.WaitGroup
	for range 7 {
		asked.Go(func() {
			a, err := http.Get(url)
			if assert.NoError(t, err) {
				assert.Equal(t, http.StatusTeapot, a.StatusCode)
				assert.NoError(t, a.Body.Close())
			}
		})
	}
	under.Wait()
	stop()
	assert.Eventually(t, func() bool { _, err := http.Get(url); return err != nil }, 10*time.Second, 10*time.Millisecond, "nobody new is let in")
	close(goOn)
	asked.Wait()
	assert.NoError(t, <-done)
}
