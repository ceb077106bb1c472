package studentpage

import (
	"context"

	"meldung/core/ids"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
)

// Photo returns a student's photo as PNG.
func Photo(ctx context.Context, o *work.Office, p work.Person, student ids.Student) (pages.File, error) {
	if err := o.Read(ctx, func(v work.Snapshot) error { return v.MaySee(p, student) }); err != nil {
		return pages.File{}, err
	}
	photo, err := store.Photo(ctx, o.Store().Read(), student)
	if err == nil && len(photo) == 0 {
		err = work.NotFoundf("there is no photo")
	}
	return pages.File{Name: "photo.png", Type: "image/png", Content: photo}, err
}
