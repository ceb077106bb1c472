// Command load measures a school at its busiest minute, on this machine alone: pages that ask
// exactly as the interface does, registers that come in one after the other, two desks, and with
// --roll-call phones that tick everyone. With
// --kills it kills the server again and again meanwhile and looks whether anything that was
// acknowledged is lost.
package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	"os/signal"
	"path/filepath"
	"syscall"
	"time"

	"github.com/spf13/cobra"

	"meldung/core/day"
	"meldung/demo"
	"meldung/store"
)

// morning is the minute at which the measured morning begins: no register is in yet.
var morning = day.At(day.MustDate("2026-03-10"), day.MustMinute("09:06"))

// options are how hard the school is at work.
type options struct {
	data      string
	students  int
	years     int
	pages     int
	registers int
	desks     int
	minute    time.Duration
	arrivals  time.Duration // between two at a desk
	kills     int
	rollCall  int // phones that tick
}

func main() {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	var o options
	root := &cobra.Command{
		Use: "load", Short: "Measure a school at its busiest minute", Args: cobra.NoArgs, SilenceUsage: true, SilenceErrors: true,
		RunE: func(c *cobra.Command, _ []string) error { return run(c.Context(), o) },
	}
	root.Flags().StringVar(&o.data, "data", "", "folder in which the measured school is built, and kept for the next time")
	root.Flags().IntVar(&o.students, "students", 2040, "how many students it has")
	root.Flags().IntVar(&o.years, "years", 2, "school years, the present one included")
	root.Flags().IntVar(&o.pages, "pages", 40, "pages that are open")
	root.Flags().IntVar(&o.registers, "registers", 90, "registers that come in")
	root.Flags().IntVar(&o.desks, "desks", 2, "desks that sign students in")
	root.Flags().DurationVar(&o.arrivals, "arrivals", 2*time.Second, "between two students at a desk")
	root.Flags().DurationVar(&o.minute, "for", time.Minute, "how long it lasts")
	root.Flags().IntVar(&o.kills, "kills", 0, "how often the server is killed meanwhile; the minute is repeated until it was")
	root.Flags().IntVar(&o.rollCall, "roll-call", 0, "phones that tick in a roll call meanwhile, two of them without a line")
	cobra.CheckErr(root.MarkFlagRequired("data"))
	root.AddCommand(serveCommand())
	if err := root.ExecuteContext(ctx); err != nil {
		fmt.Fprintln(os.Stderr, "load:", err)
		os.Exit(1)
	}
}

// run builds the school where it is not there, measures a copy of it, and says what came of it.
func run(ctx context.Context, o options) (err error) {
	if err := build(ctx, o); err != nil {
		return err
	}
	copied, err := os.MkdirTemp("", "meldung-load-")
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, os.RemoveAll(copied)) }()
	if err := store.Backup(ctx, o.data, filepath.Join(copied, store.File)); err != nil {
		return err
	}
	if o.kills > 0 {
		return killed(ctx, copied, o)
	}
	if o.rollCall > 0 {
		return rollCalled(ctx, copied, o)
	}
	return measured(ctx, copied, o)
}

// build builds the school up to the morning, in a folder where there is none.
func build(ctx context.Context, o options) error {
	if _, err := os.Stat(filepath.Join(o.data, store.File)); err == nil {
		return nil
	}
	fmt.Printf("building a school of %d students with %d years …\n", o.students, o.years)
	db, err := store.Open(ctx, o.data)
	if err != nil {
		return err
	}
	err = demo.NewOf(demo.Options{Students: o.students, Years: o.years, NoReviews: true}).Build(ctx, db, morning.Date(), func(int) {})
	return errors.Join(err, db.Close())
}
