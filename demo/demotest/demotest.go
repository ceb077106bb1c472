// Package demotest opens the invented school, or an empty one, for tests.
package demotest

import (
	"context"
	"os"
	"path/filepath"
	"sync"
	"testing"

	"meldung/core/day"
	"meldung/demo"
	"meldung/store"
	"meldung/work"
)

// Open builds the school in a folder and plays its day up to a minute.
func Open(ctx context.Context, folder, at string) (*work.Office, error) {
	instant, err := day.ParseInstant(at)
	if err != nil {
		return nil, err
	}
	db, err := store.Open(ctx, folder)
	if err != nil {
		return nil, err
	}
	school := demo.New()
	if err := school.Build(ctx, db, instant.Date(), func(int) {}); err != nil {
		return nil, err
	}
	office, _, err := play(ctx, db, school, instant)
	return office, err
}

func play(ctx context.Context, db *store.Store, school *demo.School, at day.Instant) (*work.Office, *demo.Player, error) {
	clock := NewClock(at)
	office, err := work.Open(ctx, db, clock)
	if err != nil {
		return nil, nil, err
	}
	player, err := demo.NewPlayer(ctx, school, office, clock)
	if err != nil {
		return nil, nil, err
	}
	return office, player, player.Advance(ctx)
}

// Played opens a copy of the school with its people at work, and the player that
// moves its clock.
func Played(t testing.TB) (*work.Office, *demo.Player) {
	t.Helper()
	instant, err := day.ParseInstant(at)
	if err != nil {
		t.Fatal(err)
	}
	office, player, err := play(t.Context(), copied(t), demo.New(), instant)
	if err != nil {
		t.Fatal(err)
	}
	return office, player
}

// at is the minute at which the demonstration begins.
const at = "2026-03-10T09:12"

// Folder names a folder with the built school for all tests of a run; where it is not set,
// each test program builds its own.
const Folder = "MELDUNG_TEST_SCHOOL"

// Build builds the school with its morning in a folder, in place of one that is there.
func Build(ctx context.Context, folder string) error {
	if err := os.RemoveAll(folder); err != nil {
		return err
	}
	office, err := Open(ctx, folder, at)
	if err != nil {
		return err
	}
	return office.Store().Close()
}

// built is a folder with the school and its morning.
var built = sync.OnceValues(func() (string, error) {
	if folder := os.Getenv(Folder); folder != "" {
		return folder, nil
	}
	folder, err := os.MkdirTemp("", "meldung-built-")
	if err != nil {
		return "", err
	}
	return folder, Build(context.Background(), folder)
})

// Data is a data folder with a copy of the built school, of the test's own.
func Data(t testing.TB) string {
	t.Helper()
	from, err := built()
	if err != nil {
		t.Fatal(err)
	}
	content, err := os.ReadFile(filepath.Join(from, store.File))
	if err != nil {
		t.Fatal(err)
	}
	to := t.TempDir()
	if err := os.WriteFile(filepath.Join(to, store.File), content, 0o600); err != nil {
		t.Fatal(err)
	}
	return to
}

// copied opens a copy of the built school's store, of the test's own.
func copied(t testing.TB) *store.Store {
	t.Helper()
	db, err := store.Open(t.Context(), Data(t))
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = db.Close() })
	return db
}

// Copy opens a copy of the school, of the test's own, at 09:12 of its day; nobody
// does anything in it but the test.
func Copy(t testing.TB) *work.Office {
	t.Helper()
	office, _ := CopyWithClock(t)
	return office
}

// CopyWithClock is Copy with the clock, which the test may move.
func CopyWithClock(t testing.TB) (*work.Office, *Clock) {
	t.Helper()
	instant, err := day.ParseInstant(at)
	if err != nil {
		t.Fatal(err)
	}
	clock, db := NewClock(instant), copied(t)
	read.Do(func() {
		office, err := work.Open(t.Context(), db, clock)
		if err != nil {
			t.Fatal(err)
		}
		if err := office.Read(t.Context(), func(work.Snapshot) error { return nil }); err != nil {
			t.Fatal(err)
		}
		first = office.Beside(nil, nil)
	})
	return first.Beside(db, clock), clock
}

// first is the school as the first test of a program has read it.
var (
	read  sync.Once
	first *work.Office
)

// Empty opens a school without anyone in it.
func Empty(ctx context.Context, folder string, at day.Instant) (*work.Office, error) {
	office, _, err := EmptyWithClock(ctx, folder, at)
	return office, err
}

// EmptyWithClock is Empty with the clock, which the test may move.
func EmptyWithClock(ctx context.Context, folder string, at day.Instant) (*work.Office, *Clock, error) {
	db, err := store.Open(ctx, folder)
	if err != nil {
		return nil, nil, err
	}
	clock := NewClock(at)
	office, err := work.Open(ctx, db, clock)
	return office, clock, err
}
