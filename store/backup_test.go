package store_test

import (
	"os"
	"path/filepath"
	"sync"
	"testing"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/store"
)

// entries counts the entries of the journal.
func entries(t *testing.T, s *store.Store) (n int) {
	t.Helper()
	require.NoError(t, sqlx.GetContext(t.Context(), s.Read(), &n, "SELECT count(*) FROM journal"))
	return n
}

// enter writes an entry into the journal.
func enter(t *testing.T, s *store.Store) {
	err := s.Write(t.Context(), func(tx *sqlx.Tx) error {
		_, err := store.AddJournal(t.Context(), tx, store.Journal{Known: day.At(day.MustDate("2026-03-10"), day.Midnight), Kind: "test"})
		return err
	})
	assert.NoError(t, err)
}

func TestABackupIsOfOneMomentBesideWriters(t *testing.T) {
	t.Parallel()
	folder := t.TempDir()
	s, err := store.Open(t.Context(), folder)
	require.NoError(t, err)
	defer s.Close()
	stop := make(chan struct{})
	var writing sync.WaitGroup
	writing.Go(func() {
		for {
			select {
			case <-stop:
				return
			default:
				enter(t, s)
			}
		}
	})
	for entries(t, s) == 0 {
	}
	to := filepath.Join(t.TempDir(), "school.db")
	require.NoError(t, store.Backup(t.Context(), folder, to))
	before := entries(t, s)
	close(stop)
	writing.Wait()
	info, err := os.Stat(to)
	require.NoError(t, err)
	assert.Equal(t, os.FileMode(0o600), info.Mode().Perm())
	assert.ErrorContains(t, store.Backup(t.Context(), folder, to), "is there already")

	// The backup becomes a school of its own; what was there is kept.
	other := t.TempDir()
	there, err := store.Open(t.Context(), other)
	require.NoError(t, err)
	enter(t, there)
	require.NoError(t, there.Close())
	kept, err := store.Restore(t.Context(), to, other)
	require.NoError(t, err)
	restored, err := store.Open(t.Context(), other)
	require.NoError(t, err)
	defer restored.Close()
	n := entries(t, restored)
	assert.Positive(t, n)
	assert.LessOrEqual(t, n, before)
	require.NoError(t, store.Verify(t.Context(), kept))
	_, err = os.Stat(to)
	assert.NoError(t, err, "the backup stays")
	enter(t, restored)
}

func TestADamagedBackupIsNotRestored(t *testing.T) {
	t.Parallel()
	folder := t.TempDir()
	s, err := store.Open(t.Context(), folder)
	require.NoError(t, err)
	for range 200 {
		enter(t, s)
	}
	require.NoError(t, s.Close())
	to := filepath.Join(t.TempDir(), "school.db")
	require.NoError(t, store.Backup(t.Context(), folder, to))
	content, err := os.ReadFile(to)
	require.NoError(t, err)
	for i := len(content) / 2; i < len(content)/2+8192 && i < len(content); i++ {
		content[i] ^= 0x5a
	}
	require.NoError(t, os.WriteFile(to, content, 0o600))
	_, err = store.Restore(t.Context(), to, folder)
	require.ErrorContains(t, err, "nothing was changed")
	require.NoError(t, os.WriteFile(to, []byte("no database"), 0o600))
	_, err = store.Restore(t.Context(), to, folder)
	require.ErrorContains(t, err, "nothing was changed")
	same, err := store.Open(t.Context(), folder)
	require.NoError(t, err)
	defer same.Close()
	assert.Equal(t, 200, entries(t, same))
	left, err := filepath.Glob(filepath.Join(folder, ".*"))
	require.NoError(t, err)
	assert.Empty(t, left, "nothing half done stays behind")
}

func TestReadingIsOfOneMoment(t *testing.T) {
	t.Parallel()
	folder := t.TempDir()
	s, err := store.Open(t.Context(), folder)
	require.NoError(t, err)
	defer s.Close()
	enter(t, s)
	look, err := store.OpenToRead(t.Context(), folder)
	require.NoError(t, err)
	enter(t, s)
	assert.Equal(t, 1, entries(t, look), "what others write meanwhile is not seen")
	assert.ErrorContains(t, look.Write(t.Context(), func(*sqlx.Tx) error { return nil }), "to read only")
	require.NoError(t, look.Close())
	look, err = store.OpenToRead(t.Context(), folder)
	require.NoError(t, err)
	assert.Equal(t, 2, entries(t, look))
	require.NoError(t, look.Close())
}

func TestToReadNothingIsMade(t *testing.T) {
	t.Parallel()
	folder := t.TempDir()
	_, err := store.OpenToRead(t.Context(), folder)
	require.ErrorContains(t, err, "there is no school")
	left, err := os.ReadDir(folder)
	require.NoError(t, err)
	assert.Empty(t, left)

	// A copy on a medium that can't be written to.
	s, err := store.Open(t.Context(), folder)
	require.NoError(t, err)
	enter(t, s)
	require.NoError(t, s.Close())
	copied := t.TempDir()
	content, err := os.ReadFile(filepath.Join(folder, store.File))
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(filepath.Join(copied, store.File), content, 0o400))
	require.NoError(t, os.Chmod(copied, 0o500))
	look, err := store.OpenToRead(t.Context(), copied)
	require.NoError(t, err)
	assert.Equal(t, 1, entries(t, look))
	require.NoError(t, look.Close())
	to := filepath.Join(t.TempDir(), "school.db")
	assert.NoError(t, store.Backup(t.Context(), copied, to))
}

func TestAFolderIsChangedByOne(t *testing.T) {
	t.Parallel()
	folder := filepath.Join(t.TempDir(), "data")
	release, err := store.Lock(folder)
	require.NoError(t, err)
	_, err = store.Lock(folder)
	require.ErrorIs(t, err, store.ErrInUse)
	require.NoError(t, release())
	release, err = store.Lock(folder)
	require.NoError(t, err)
	require.NoError(t, release())
}

func TestOnlyTheOwnerReadsTheFiles(t *testing.T) {
	t.Parallel()
	folder := filepath.Join(t.TempDir(), "data")
	s, err := store.Open(t.Context(), folder)
	require.NoError(t, err)
	defer s.Close()
	enter(t, s)
	files, err := os.ReadDir(folder)
	require.NoError(t, err)
	assert.Len(t, files, 3)
	for _, f := range files {
		info, err := f.Info()
		require.NoError(t, err)
		assert.Equal(t, os.FileMode(0o600), info.Mode().Perm(), f.Name())
	}
	info, err := os.Stat(folder)
	require.NoError(t, err)
	assert.Equal(t, os.FileMode(0o700), info.Mode().Perm())
}

func TestTablesOfANewerProgramAreLeftAlone(t *testing.T) {
	t.Parallel()
	folder := t.TempDir()
	s, err := store.Open(t.Context(), folder)
	require.NoError(t, err)
	require.NoError(t, s.Write(t.Context(), func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(t.Context(), "INSERT INTO goose_db_version (version_id, is_applied) VALUES (9999, 1)")
		return err
	}))
	require.NoError(t, s.Close())
	_, err = store.Open(t.Context(), folder)
	require.ErrorContains(t, err, "newer meldung")
	_, err = store.OpenToRead(t.Context(), folder)
	require.ErrorContains(t, err, "newer meldung")
}
