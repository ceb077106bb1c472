package studentpage

import (
	"context"

	"meldung/core/ids"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
)

// Photo returns a student's photo as PNG. While a roll call runs it helps everybody to find them.
func Photo(ctx context.Context, o *work.Office, p work.Person, student ids.Student) (pages.File, error) {
	err := o.Read(ctx, func(v work.Snapshot) error {
		refused := v.MaySee(p, student)
		if refused == nil {
			return nil
		}
		running, err := store.RollCallRunning(ctx, v.Store())
		if err != nil || running != nil {
			return err
		}
		return refused
	})
	if err != nil {
		return pages.File{}, err
	}
	photo, err := store.Photo(ctx, o.Store().Read(), student)
	if err == nil && len(photo) == 0 {
		err = work.NotFoundf("there is no photo")
	}
	return pages.File{Name: "photo.png", Type: "image/png", Content: photo}, err
}

// Document returns what a warning of a student goes by, as it was kept.
func Document(ctx context.Context, o *work.Office, p work.Person, student ids.Student, warning ids.Warning) (pages.File, error) {
	if err := o.Read(ctx, func(v work.Snapshot) error { return v.MaySee(p, student) }); err != nil {
		return pages.File{}, err
	}
	found, err := store.DocumentOf(ctx, o.Store().Read(), student, warning)
	if err == nil && found == nil {
		err = work.NotFoundf("there is no such document")
	}
	if err != nil {
		return pages.File{}, err
	}
	return pages.File{Name: found.Name, Type: found.Type, Content: found.Content}, nil
}
