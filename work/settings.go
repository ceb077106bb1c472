package work

import (
	"context"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/held"
	"meldung/store"
)

// ChangeSettings changes what a section has decided, within a write. They hold from the
// present day on, and so do those that were decided for later; earlier days stand as they
// stood. The code set is chosen otherwise.
func (tx *Tx) ChangeSettings(ctx context.Context, section ids.Section, next held.Settings) error {
	if tx.settings == nil {
		tx.settings = map[ids.Section]held.Settings{}
	}
	tx.settings[section] = next
	return store.SetSettingFrom(ctx, tx.Tx, section, held.SettingsName, next, tx.Now.Date())
}

// Decide changes what a section has decided from a date on, 0 for at all times, within a
// write that changes the school.
func (tx *Tx) Decide(ctx context.Context, section ids.Section, next held.Settings, from day.Date) error {
	tx.Changed()
	return store.SetSettingFrom(ctx, tx.Tx, section, held.SettingsName, next, from)
}

// ChooseCodes has a section use a code set from a date on, 0 for at all times, within a write
// that changes the school.
func (tx *Tx) ChooseCodes(ctx context.Context, s Section, c held.CodesChosen) error {
	tx.Changed()
	if c.From == 0 { // as if reasons had been tied to it all along
		for from, settings := range s.Retied(c) {
			if err := store.SetSettingFrom(ctx, tx.Tx, s.ID, held.SettingsName, settings, from); err != nil {
				return err
			}
		}
	}
	return store.SetSettingFrom(ctx, tx.Tx, s.ID, held.CodesName, c, c.From)
}
