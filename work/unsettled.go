package work

import (
	"context"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/held/dated"
	"meldung/store"
)

// Unsettled returns what the school days before a moment's have left open, by what was known,
// the latest first; days that left nothing are not among them. Days before the school began to
// use the program are left out.
func (v Snapshot) Unsettled(ctx context.Context, m Moment) ([]dated.Unsettled, error) {
	began, ok, err := store.Began(ctx, v.Store())
	if err != nil || !ok {
		return nil, err
	}
	var out []dated.Unsettled
	for d := m.Date - 1; d >= began; d-- {
		u, err := v.unsettledOn(ctx, d, m)
		if err != nil {
			return nil, err
		}
		if u = u.In(m.Scope); !u.Nothing() {
			out = append(out, u)
		}
	}
	return out, nil
}

// unsettledOn returns what one day left open; by what is known now it is kept until a write looks
// at that day.
func (v Snapshot) unsettledOn(ctx context.Context, d day.Date, m Moment) (dated.Unsettled, error) {
	o := v.office
	now := m.Known >= v.Now
	if now {
		o.cacheMu.Lock()
		kept, ok := o.unsettled[d]
		o.cacheMu.Unlock()
		if ok {
			return kept, nil
		}
	}
	u, err := dated.ReadUnsettled(ctx, v.Store(), v.School.Records().On(d), d, m.Known)
	if err == nil && now {
		o.cacheMu.Lock()
		if o.unsettled == nil {
			o.unsettled = map[day.Date]dated.Unsettled{}
		}
		o.unsettled[d] = u
		o.cacheMu.Unlock()
	}
	return u, err
}

// Begin stores that the school uses the program from today, where nobody has said so before.
func (o *Office) Begin(ctx context.Context) error {
	_, ok, err := store.Began(ctx, o.store.Read())
	if err != nil || ok {
		return err
	}
	return o.store.Write(ctx, func(tx *sqlx.Tx) error { return store.SetBegan(ctx, tx, o.clock.Now().Date()) })
}
