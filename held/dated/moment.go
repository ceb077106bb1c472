package dated

import (
	"meldung/core/day"
	"meldung/core/ids"
	"meldung/held"
)

// Scope is which sections one looks at; empty is every one.
type Scope []ids.Section

// Has reports whether a section is in scope.
func (s Scope) Has(section ids.Section) bool { return held.InScope(s, section) }

// LastMinute is the minute at which an earlier day is looked at that is over.
var LastMinute = day.MustMinute("23:59")

// Moment is when one looks, what was known then, and of which sections.
type Moment struct {
	Scope Scope

	Date   day.Date
	Minute day.Minute
	Known  day.Instant
	Live   bool
}

// At returns the moment's minute of its date.
func (m Moment) At() day.Instant { return day.At(m.Date, m.Minute) }
