package demotest

import (
	"os"
	"testing"

	"meldung/core/day"
	"meldung/store"
	"meldung/work"
)

// GrownFolder names a folder with a school to measure, as `meldung demo --students N --data`
// has built it.
const GrownFolder = "MELDUNG_GROWN_SCHOOL"

// Grown opens the grown school, to be looked at at a minute of its day, with its ledgers filled.
// A benchmark without one is skipped.
func Grown(b *testing.B) (*work.Office, *Clock) {
	b.Helper()
	folder := os.Getenv(GrownFolder)
	if folder == "" {
		b.Skip(GrownFolder + " names no school to measure")
	}
	db, err := store.Open(b.Context(), folder)
	if err != nil {
		b.Fatal(err)
	}
	b.Cleanup(func() { _ = db.Close() })
	clock := NewClock(day.At(day.MustDate("2026-03-10"), day.MustMinute("08:58")))
	office, err := work.Open(b.Context(), db, clock)
	if err != nil {
		b.Fatal(err)
	}
	if err := office.Warm(b.Context()); err != nil {
		b.Fatal(err)
	}
	return office, clock
}
