package main

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"
	"os"
	"path/filepath"
	"time"

	"meldung/outside"
	"meldung/pages/rollcallpage"
	"meldung/work"
)

// gateFile is the list of everyone on the premises, for a printer at the gate.
const gateFile = "roll-call.pdf"

// gateEvery is how often it is written.
const gateEvery = 5 * time.Minute

// keepAtTheGate writes the list of everyone on the premises into a folder, now and every few minutes,
// until the context ends: on paper it helps where program and network are down too.
func keepAtTheGate(ctx context.Context, office *work.Office, folder string, every time.Duration) {
	again := time.NewTicker(every)
	defer again.Stop()
	for {
		if err := writeForTheGate(ctx, office, folder); err != nil && ctx.Err() == nil {
			slog.Error("the list for the gate could not be written", "error", err)
		}
		select {
		case <-again.C:
		case <-ctx.Done():
			return
		}
	}
}

// writeForTheGate puts the list in the place of the one before, whole. Where nobody is on the
// premises none is left: it names students.
func writeForTheGate(ctx context.Context, office *work.Office, folder string) error {
	file := filepath.Join(folder, gateFile)
	list, err := rollcallpage.Paper(ctx, office)
	var nobody *work.Error
	if errors.As(err, &nobody) && nobody.Kind == work.NotFound {
		if err := os.Remove(file); err != nil && !errors.Is(err, fs.ErrNotExist) {
			return fmt.Errorf("removing the list for the gate: %w", err)
		}
		return nil
	}
	if err != nil {
		return err
	}
	if err := outside.PutWhole(folder, gateFile, list.Content); err != nil {
		return fmt.Errorf("writing the list for the gate: %w", err)
	}
	return nil
}
