package work

import (
	"context"

	"meldung/core/day"
	"meldung/store"
)

// Activity is something planned away from the timetable, off the premises.
type Activity struct {
	Title    string
	From, To string // as typed
	Students []int64
}

// Plan stores a planned activity of today.
func (o *Office) Plan(ctx context.Context, p Person, key string, a Activity) (Receipt, error) {
	var out Receipt
	from, err := day.ParseTyped(a.From)
	if err != nil {
		return out, wrong("%v", err)
	}
	to, err := day.ParseTyped(a.To)
	if err != nil {
		return out, wrong("%v", err)
	}
	err = o.write(ctx, p, key, "activity", &out, func(w *writing) error {
		id, err := store.AddActivity(ctx, w.tx, store.Activity{Title: a.Title, Date: w.now.Date(), From: from, To: to, Students: a.Students, Origin: store.Origin{Journal: w.journal.ID}})
		out = Receipt{Seq: w.journal.ID, Words: a.Title, IDs: []int64{id}}
		return err
	})
	return out, err
}
