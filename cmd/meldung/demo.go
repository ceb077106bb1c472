package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"sync"

	"github.com/spf13/cobra"

	"meldung/core/day"
	"meldung/demo"
	"meldung/outside"
	"meldung/store"
	"meldung/web"
	"meldung/work"
	"meldung/work/access"
)

func demoCommand() *cobra.Command {
	var addr, data, at string
	var size demo.Options
	c := &cobra.Command{
		Use: "demo", Short: "Start with the invented Fairlead School", Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			start, err := day.ParseInstant(at)
			if err != nil {
				return err
			}
			if data == "" {
				if data, err = os.MkdirTemp("", "meldung-demo-"); err != nil {
					return err
				}
				defer os.RemoveAll(data)
			}
			return runDemo(c.Context(), addr, data, start, size)
		},
	}
	c.Flags().StringVar(&addr, "addr", "127.0.0.1:8321", "address to listen on")
	c.Flags().StringVar(&data, "data", "", "data folder; empty for a new temporary one")
	c.Flags().IntVar(&size.Students, "students", 0, "a school of about so many students; without, Fairlead's 612")
	c.Flags().IntVar(&size.Years, "years", 2, "school years, the present one included")
	c.Flags().StringVar(&at, "at", "2026-03-10T09:12", "moment at which the demonstration begins")
	return c
}

func runDemo(ctx context.Context, addr, data string, start day.Instant, size demo.Options) (err error) {
	release, err := store.Lock(data)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, release()) }()
	db, err := store.Open(ctx, data)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, db.Close()) }()
	school := demo.NewOf(size)
	accounts, err := store.Accounts(ctx, db.Read())
	if err != nil {
		return err
	}
	if len(accounts) == 0 {
		if err := buildDemo(ctx, db, school, start); err != nil {
			return err
		}
	}
	last, err := store.LastKnown(ctx, db.Read())
	if err != nil {
		return err
	}
	clock := outside.NewDemoClock(max(start, last)) // a demonstration goes on where it stopped
	office, err := work.Open(ctx, db, clock)
	if err != nil {
		return err
	}
	player, err := demo.NewPlayer(ctx, school, office, clock)
	if err != nil {
		return err
	}
	if err := player.Advance(ctx); err != nil {
		return err
	}
	looks := access.New(office)
	printer := filepath.Join(data, "printer")
	options := web.Options{Demo: player, Closing: ctx.Done(), Looks: looks, DemoJumps: demo.Jumps, Lines: web.Lines{Text: web.Simulated, EMail: web.Simulated, Printer: web.Simulated}, Printer: printerIn(printer)}
	for _, s := range demo.SignIns {
		options.DemoSignIns = append(options.DemoSignIns, web.SignInHint{Username: s.Username, Who: s.Who, Password: demo.Password})
	}
	handler, err := web.Handler(office, options)
	if err != nil {
		return err
	}
	beside, end := context.WithCancel(context.WithoutCancel(ctx))
	var running sync.WaitGroup
	defer func() { end(); running.Wait() }()
	running.Go(func() { player.Run(beside) })
	running.Go(func() { looks.Run(beside) })
	running.Go(func() { keepPrinting(beside, office, looks, printer) })
	running.Go(func() { keepAtTheGate(beside, office, filepath.Join(data, "gate"), gateEvery) })
	return listen(ctx, addr, handler, nil, func(url string) {
		fmt.Printf("\nFairlead School is open at %s\n\n", url)
		for _, s := range demo.SignIns {
			fmt.Printf("  %-8s %s\n", s.Username, s.Who)
		}
		fmt.Printf("\nEvery password is %s\n", demo.Password)
	})
}

func buildDemo(ctx context.Context, db *store.Store, school *demo.School, start day.Instant) error {
	shown := -1
	err := school.Build(ctx, db, start.Date(), func(percent int) {
		if percent/5 != shown {
			shown = percent / 5
			fmt.Printf("\rbuilding Fairlead School %3d %%", percent)
		}
	})
	fmt.Println()
	return err
}
