package work

import (
	"slices"

	"meldung/store"
)

// PastMarks stands beside tables for the marks of days before the present one, which change
// seldom, where the present day's change all morning.
const PastMarks = "marks of days before"

// remembered is a value that holds until something that it follows from changes.
type remembered struct {
	follows []string
	value   any
}

// mostRemembered bounds how many values are kept.
const mostRemembered = 200

// Remember returns what a key names, made by f where nothing has changed in the tables that it
// follows from since it was made last. What is read in again, what the school decides, and
// another day change everything. The value is shared: nobody may change it.
func Remember[T any](v Snapshot, key string, follows []string, f func() (T, error)) (T, error) {
	o := v.office
	o.cacheMu.Lock()
	if today := v.Now.Date(); o.rememberedOn != today {
		o.remembered, o.rememberedOn = nil, today
	}
	kept, ok := o.remembered[key]
	o.cacheMu.Unlock()
	if ok {
		if value, same := kept.value.(T); same {
			return value, nil
		}
	}
	value, err := f()
	if err != nil {
		return value, err
	}
	o.cacheMu.Lock()
	defer o.cacheMu.Unlock()
	if o.remembered == nil || len(o.remembered) >= mostRemembered {
		o.remembered = map[string]remembered{}
	}
	o.remembered[key] = remembered{follows, value}
	return value, nil
}

// forget drops what follows from something that a write has changed. The caller holds o.mu, so
// that nobody who looks is making a value meanwhile.
func (o *Office) forget(tx *Tx, tables []string) {
	if len(tx.settings) > 0 {
		o.remembered = nil
		return
	}
	if slices.ContainsFunc(tx.marks, func(m store.Mark) bool { return m.Date < tx.Now.Date() }) {
		tables = append(slices.Clone(tables), PastMarks)
	}
	for key, kept := range o.remembered {
		if slices.ContainsFunc(kept.follows, func(t string) bool { return slices.Contains(tables, t) }) {
			delete(o.remembered, key)
		}
	}
}
