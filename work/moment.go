package work

import (
	"meldung/core/day"
	"meldung/core/ids"
	"meldung/held/dated"
)

// When one looks, and at which sections.
type (
	Scope  = dated.Scope
	Moment = dated.Moment
)

// Moment reads an "as at": empty is now. A date alone is the end of that day as it stands now,
// with what was corrected and settled since, or now where that is today. An earlier minute
// shows what was known then.
// Of which sections one looks is given too: none is every one, and one that there is not is
// refused.
func (o *Office) Moment(asAt string, of ...ids.Section) (Moment, error) {
	m, err := o.moment(asAt)
	if err != nil || len(of) == 0 {
		return m, err
	}
	o.mu.RLock()
	defer o.mu.RUnlock()
	for _, id := range of {
		if _, there := o.records.Section(id); !there {
			return m, NotFoundf("there is no section %d", id)
		}
	}
	m.Scope = of
	return m, nil
}

func (o *Office) moment(asAt string) (Moment, error) {
	now := o.clock.Now()
	at, known := now, now
	switch {
	case asAt == "":
	case dateAlone(asAt):
		d, err := day.ParseDate(asAt)
		if err != nil {
			return Moment{}, Wrongf("%v", err)
		}
		at = min(now, day.At(d, dated.LastMinute))
		if d > now.Date() {
			at = day.At(d, day.Midnight)
		}
	default:
		i, err := day.ParseInstant(asAt)
		if err != nil {
			return Moment{}, Wrongf("%v", err)
		}
		at, known = i, min(i, now)
	}
	return Moment{Date: at.Date(), Minute: at.Minute(), Known: known, Live: at == now}, nil
}

// PastOrToday reads the date that something is about: empty is today, and none is still to come.
func (o *Office) PastOrToday(text string) (day.Date, error) {
	today := o.clock.Now().Date()
	if text == "" {
		return today, nil
	}
	d, err := day.ParseDate(text)
	if err != nil {
		return 0, Wrongf("%v; nothing was saved", err)
	}
	if d > today {
		return 0, Wrongf("%s is still to come; nothing was saved", d.Spoken())
	}
	return d, nil
}

func dateAlone(asAt string) bool { return len(asAt) == len("2006-01-02") }

// Moment returns the present moment.
func (v Snapshot) Moment() Moment {
	return Moment{Date: v.Now.Date(), Minute: v.Now.Minute(), Known: v.Now, Live: true}
}
