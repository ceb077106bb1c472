package main

import (
	"context"
	"log/slog"
	"time"

	"meldung/outside"
	"meldung/pages/paperpage"
	"meldung/work"
	"meldung/work/access"
)

const (
	printEvery = 3 * time.Second
	clearEvery = time.Hour
	printKept  = 24 * time.Hour // for how long a page that nobody comes for lies in the folder
)

// printerIn is the printer whose folder it is; nil for none.
func printerIn(folder string) paperpage.Printer {
	if folder == "" {
		return nil
	}
	return outside.Printer{Folder: folder}
}

// keepPrinting gives the printer what waits for it, until the context ends. Without a folder what waits is told that
// there is none.
func keepPrinting(ctx context.Context, office *work.Office, looks *access.Record, folder string) {
	again, old := time.NewTicker(printEvery), time.NewTicker(clearEvery)
	defer again.Stop()
	defer old.Stop()
	for {
		if err := paperpage.PrintWaiting(ctx, office, looks, printerIn(folder)); err != nil && ctx.Err() == nil {
			slog.Error("lists for the printer are held up", "error", err)
		}
		select {
		case <-again.C:
		case <-old.C:
			if folder == "" {
				continue
			}
			if err := (outside.Printer{Folder: folder}).Clear(time.Now().Add(-printKept)); err != nil {
				slog.Error("clearing the printer's folder", "error", err)
			}
		case <-ctx.Done():
			return
		}
	}
}
