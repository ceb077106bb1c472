package work

import (
	"context"

	"meldung/core/day"
	"meldung/held"
	"meldung/store"
)

// ChangeSettings changes what the school has decided, within a write. They hold from the
// present day on, and so do those that were decided for later; earlier days stand as they
// stood. The code set is chosen otherwise.
func (tx *Tx) ChangeSettings(ctx context.Context, next held.Settings) error {
	tx.settings = &next
	return store.SetSettingFrom(ctx, tx.Tx, held.SettingsName, next, tx.Now.Date())
}

// Decide changes what the school has decided from a date on, 0 for at all times, within a
// write that changes the school.
func (tx *Tx) Decide(ctx context.Context, next held.Settings, from day.Date) error {
	tx.Changed()
	return store.SetSettingFrom(ctx, tx.Tx, held.SettingsName, next, from)
}

// ChooseCodes has the school use a code set from a date on, 0 for at all times, within a write
// that changes the school.
func (tx *Tx) ChooseCodes(ctx context.Context, v Snapshot, c held.CodesChosen) error {
	tx.Changed()
	if c.From == 0 { // as if reasons had been tied to it all along
		for from, settings := range v.School.Records().Retied(c) {
			if err := store.SetSettingFrom(ctx, tx.Tx, held.SettingsName, settings, from); err != nil {
				return err
			}
		}
	}
	return store.SetSettingFrom(ctx, tx.Tx, held.CodesName, c, c.From)
}
