package school

import (
	"context"

	"meldung/core/ids"
	"meldung/files/paper"
	"meldung/store"
	"meldung/work"
)

// EmblemSetting names the school's emblem, a PNG, among the settings.
const EmblemSetting = "mark"

// Emblem returns the school's emblem as PNG; empty for none.
func Emblem(ctx context.Context, o *work.Office) ([]byte, error) {
	var emblem []byte
	_, err := store.Setting(ctx, o.Store().Read(), EmblemSetting, &emblem)
	return emblem, err
}

// pictureIn reads a PNG or JPEG and makes it small enough to keep; empty stays empty.
func pictureIn(content []byte) ([]byte, error) {
	if len(content) == 0 {
		return nil, nil
	}
	kept, err := paper.Picture(content)
	if err != nil {
		return nil, work.Wrongf("%v; nothing was kept", err)
	}
	return kept, nil
}

// SetEmblem keeps the school's emblem, which stands on passes; empty takes it away.
func SetEmblem(ctx context.Context, o *work.Office, p work.Person, key string, picture []byte) (work.Receipt, error) {
	var out work.Receipt
	emblem, err := pictureIn(picture)
	if err != nil {
		return out, err
	}
	err = o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MaySetEmblem, Kind: "mark", Of: picture, Out: &out}, func(tx *work.Tx, _ work.Snapshot) error {
		out = tx.Receipt("The mark is taken away")
		if emblem != nil {
			out.Text = "The mark stands on passes from now on"
		}
		return store.SetSetting(ctx, tx.Tx, EmblemSetting, emblem)
	})
	return out, err
}

// SetPhoto keeps a student's photo, which stands on passes; empty takes it away.
func SetPhoto(ctx context.Context, o *work.Office, p work.Person, key string, student ids.Student, picture []byte) (work.Receipt, error) {
	var out work.Receipt
	photo, err := pictureIn(picture)
	if err != nil {
		return out, err
	}
	err = o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MaySetPhoto, Kind: "photo", Of: [2]any{student, picture}, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		s, err := v.Student(student)
		if err != nil {
			return err
		}
		out = tx.Receipt("There is no photo of " + s.Name() + " any more")
		if photo != nil {
			out.Text = "The photo of " + s.Name() + " stands on passes from now on"
		}
		return store.SetPhoto(ctx, tx.Tx, store.StudentPhoto{StudentID: student, Picture: photo, Journal: tx.Entry})
	})
	return out, err
}
