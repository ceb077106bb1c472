package pages_test

import (
	"context"
	"fmt"
	"testing"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/demo/demotest"
	"meldung/pages"
	"meldung/pages/absencepage"
	"meldung/pages/concernspage"
	"meldung/pages/deskpage"
	"meldung/pages/followuppage"
	"meldung/pages/frame"
	"meldung/pages/paperpage"
	"meldung/pages/registerpage"
	"meldung/pages/studentpage"
	"meldung/pages/todaypage"
	"meldung/work"
	"meldung/work/desk"
)

// BenchmarkPages measures each page of a grown school as the server makes it: nothing of it is
// kept from the last time but what the office has in memory.
func BenchmarkPages(b *testing.B) {
	o, _ := demotest.Grown(b)
	all, err := registerpage.ShowAll(b.Context(), o, demotest.Officer, "")
	if err != nil {
		b.Fatal(err)
	}
	first := all.Registers[0]
	for _, page := range []struct {
		name string
		show func(ctx context.Context) error
	}{
		{"today", func(ctx context.Context) error { _, err := todaypage.Show(ctx, o, ""); return err }},
		{"rail", func(ctx context.Context) error { _, err := frame.ShowRail(ctx, o, ""); return err }},
		{"registers", func(ctx context.Context) error {
			_, err := registerpage.ShowAll(ctx, o, demotest.Officer, "")
			return err
		}},
		{"register", func(ctx context.Context) error {
			_, err := registerpage.Show(ctx, o, demotest.Officer, first.Class, first.Slot, "")
			return err
		}},
		{"desk", func(ctx context.Context) error { _, err := deskpage.Show(ctx, o, ""); return err }},
		{"student", func(ctx context.Context) error {
			_, err := studentpage.Show(ctx, o, demotest.Officer, 20, "")
			return err
		}},
		{"absence", func(ctx context.Context) error {
			_, err := absencepage.Show(ctx, o, "", pages.AbsenceAsk{})
			return err
		}},
		{"concerns", func(ctx context.Context) error {
			_, err := concernspage.Show(ctx, o, demotest.Officer, "", concernspage.Ask{})
			return err
		}},
		{"concerns of a teacher", func(ctx context.Context) error {
			_, err := concernspage.Show(ctx, o, demotest.Osk, "", concernspage.Ask{})
			return err
		}},
		{"follow-up", func(ctx context.Context) error {
			_, err := followuppage.Next(ctx, o, demotest.Officer, "", followuppage.Ask{})
			return err
		}},
		{"support by week", func(ctx context.Context) error {
			_, err := followuppage.Week(ctx, o, demotest.Officer, "", "", followuppage.Ask{})
			return err
		}},
		{"lates of the year", func(ctx context.Context) error {
			_, err := paperpage.ShowLates(ctx, o, "", paperpage.LatesAsk{From: "2025-08-01"})
			return err
		}},
	} {
		b.Run(page.name, func(b *testing.B) {
			if err := page.show(b.Context()); err != nil { // what is made once is made
				b.Fatal(err)
			}
			for b.Loop() {
				if err := page.show(b.Context()); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}

// BenchmarkAfterAWrite measures a student who signs in, and the Today page that follows.
func BenchmarkAfterAWrite(b *testing.B) {
	o, clock := demotest.Grown(b)
	clock.Set(day.At(day.MustDate("2026-03-10"), day.MustMinute("08:59")))
	n := 0
	move := func(b *testing.B) {
		n++
		r, err := desk.Move(b.Context(), o, demotest.Maud, fmt.Sprint("a key of this run ", b.Name(), n), desk.Movement{Students: []ids.Student{ids.Student(n%600 + 1)}, Kind: "seen"})
		if err != nil {
			b.Fatal(err)
		}
		_ = r
	}
	if _, err := todaypage.Show(b.Context(), o, ""); err != nil {
		b.Fatal(err)
	}
	b.Run("write", func(b *testing.B) {
		for b.Loop() {
			move(b)
		}
	})
	b.Run("write and today", func(b *testing.B) {
		for b.Loop() {
			move(b)
			if _, err := todaypage.Show(b.Context(), o, ""); err != nil {
				b.Fatal(err)
			}
		}
	})
	_ = work.Seen
}
