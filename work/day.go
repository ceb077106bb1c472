package work

import (
	"context"
	"maps"
	"slices"
	"sort"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/whereabouts"
	"meldung/held/dated"
	"meldung/store"
)

// What is known of a date, for those who work on it.
type (
	Day        = dated.Day
	Register   = dated.Register
	SectionDay = dated.SectionDay
)

// The kinds of movement, as they are stored.
const (
	Arrived  = dated.Arrived
	Departed = dated.Departed
	Seen     = dated.Seen // found in the building
)

// RegisterScope names a register to those who follow it.
func RegisterScope(d day.Date, class ids.Class, slot string) string {
	return dated.RegisterScope(d, class, slot)
}

// SpanOf returns when a stored notice has its student away.
func SpanOf(n store.Notice) whereabouts.Span { return dated.SpanOf(n) }

// mostDays bounds how many dates are kept in memory.
const mostDays = 8

// Day returns what is known of a date, from memory where somebody has asked for it.
func (v Snapshot) Day(ctx context.Context, d day.Date) (*Day, error) {
	o := v.office
	if v.tx != nil {
		v.tx.looked = append(v.tx.looked, d)
	}
	o.cacheMu.Lock()
	defer o.cacheMu.Unlock()
	if cached := o.days[d]; cached != nil {
		return cached, nil
	}
	if o.answers == nil {
		calls, err := store.SpokenSince(ctx, v.Store(), 0)
		if err != nil {
			return nil, err
		}
		o.answers = answers{}
		o.answers.add(calls)
	}
	made, err := dated.Read(ctx, v.Store(), v.School.Records().On(d), d)
	if err == nil {
		if len(o.days) > mostDays {
			clear(o.days)
		}
		o.days[d] = made
	}
	return made, err
}

// KeptDays returns the days that are in memory.
func (v Snapshot) KeptDays() []*Day {
	v.office.cacheMu.Lock()
	defer v.office.cacheMu.Unlock()
	return slices.Collect(maps.Values(v.office.days))
}

// Position returns where a student was at a moment.
func (v Snapshot) Position(x *Day, student ids.Student, m Moment) whereabouts.Position {
	e := x.Evidence[student]
	if e == nil {
		return whereabouts.Position{State: whereabouts.NotDue}
	}
	return whereabouts.At(*e, x.Rules(student), m.Minute, m.Known)
}

// answers are the contacts who were spoken to about each student, oldest first.
type answers map[ids.Student][]store.Spoken

// Answered returns the contact who answered in the last call about a student before the date
// of a day; 0 for none.
func (v Snapshot) Answered(x *Day, student ids.Student) ids.Contact {
	o := v.office
	o.cacheMu.Lock()
	defer o.cacheMu.Unlock()
	calls := o.answers[student]
	i := sort.Search(len(calls), func(i int) bool { return calls[i].Date >= x.Date })
	if i == 0 {
		return 0
	}
	return calls[i-1].ContactID
}

func (a answers) add(calls []store.Spoken) {
	for _, c := range calls {
		list := a[c.StudentID]
		i := len(list)
		for i > 0 && (list[i-1].Date > c.Date || (list[i-1].Date == c.Date && list[i-1].Minute.After(c.Minute))) {
			i--
		}
		a[c.StudentID] = slices.Insert(list, i, c)
	}
}
