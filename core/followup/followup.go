// Package followup orders the calls home: which households, whom to ring next,
// and when a household that did not answer comes back. It must not know how a
// call is made or stored.
package followup

import (
	"sort"

	"meldung/core/day"
	"meldung/core/ids"
)

// Contact is a person in a student's call order.
type Contact struct {
	ID         ids.Contact
	Order      int
	Name       string
	Relation   string
	Phone      string // as given
	MayCollect bool
	LivesWith  bool
	DoNotCall  bool
}

// Outcome is how a call ended.
type Outcome string

// The outcomes.
const (
	Spoke       Outcome = "spoke"
	LeftMessage Outcome = "message"
	NoAnswer    Outcome = "no answer"
	WrongNumber Outcome = "wrong number"
	Texted      Outcome = "text"
)

// Attempt is one call or text about a student today.
type Attempt struct {
	Contact ids.Contact
	Outcome Outcome
	At      day.Minute
	Next    day.Minute // when to try again; none for at once
}

// Hold keeps a student's home from being rung until a minute, after which it comes
// back by itself.
type Hold struct {
	Until  day.Minute
	Reason string
}

// Missing is a student who is unaccounted for.
type Missing struct {
	Student  ids.Student
	Name     string
	Year     int
	Care     bool        // a warning that makes this one first
	Contacts []Contact   // in call order
	Attempts []Attempt   // today's, in time order
	Holds    []Hold      // those begun and not ended, the newest last
	Answered ids.Contact // the contact who answered last, on whatever day; 0 for none
}

// held returns the newest hold that still runs at a minute.
func (m Missing) held(now day.Minute) (Hold, bool) {
	for i := len(m.Holds) - 1; i >= 0; i-- {
		if now.Before(m.Holds[i].Until) {
			return m.Holds[i], true
		}
	}
	return Hold{}, false
}

// Household is the students whom one call settles, with whom to ring.
type Household struct {
	Students  []Missing
	Contacts  []Contact // those who may be called, in order
	Next      int       // place in Contacts of the one to ring now; −1 without any
	Care      bool
	Youngest  int
	Tried     int
	Again     day.Minute // not before this minute; none for at once
	Held      string     // why everyone of this home is held until Again; empty for not held
	NoContact bool
	Answered  ids.Contact // the contact who answered last; 0 for none
}

// Households groups the missing by their first contact who may be called and
// puts them in order: who needs care first, then the youngest, then those not
// tried yet; those just tried come back at their time. Whoever must not be
// called is not offered. A student without a contact stands alone and says so. A home
// all of whose missing are held waits until the first of them is not.
func Households(missing []Missing, now day.Minute) []Household {
	groups := map[ids.Contact]*Household{}
	var out []*Household
	for _, m := range missing {
		allowed := Callable(m.Contacts)
		if len(allowed) == 0 {
			out = append(out, &Household{Students: []Missing{m}, Next: -1, NoContact: true})
			continue
		}
		h := groups[allowed[0].ID]
		if h == nil {
			h = &Household{Contacts: allowed}
			groups[allowed[0].ID] = h
			out = append(out, h)
		} else {
			h.Contacts = common(h.Contacts, allowed)
		}
		h.Students = append(h.Students, m)
	}
	result := make([]Household, len(out))
	for i, h := range out {
		h.settle(now)
		result[i] = *h
	}
	sort.SliceStable(result, func(a, b int) bool { return before(result[a], result[b], now) })
	return result
}

// Collectors returns the contacts who may collect a student, in call order.
func Collectors(contacts []Contact) []Contact {
	return inOrder(contacts, func(c Contact) bool { return c.MayCollect })
}

// Callable returns the contacts who may be called, in call order.
func Callable(contacts []Contact) []Contact {
	return inOrder(contacts, func(c Contact) bool { return !c.DoNotCall })
}

func inOrder(contacts []Contact, keep func(Contact) bool) []Contact {
	var out []Contact
	for _, c := range contacts {
		if keep(c) {
			out = append(out, c)
		}
	}
	sort.SliceStable(out, func(a, b int) bool { return out[a].Order < out[b].Order })
	return out
}

func common(a, b []Contact) []Contact {
	var out []Contact
	for _, x := range a {
		for _, y := range b {
			if x.ID == y.ID {
				out = append(out, x)
			}
		}
	}
	return out
}

func (h *Household) settle(now day.Minute) {
	h.Youngest = 99
	seen := map[day.Minute]bool{}
	var last *Attempt
	for i, m := range h.Students {
		if m.Answered != 0 {
			h.Answered = m.Answered
		}
		h.Care = h.Care || m.Care
		h.Youngest = min(h.Youngest, m.Year)
		for j := range m.Attempts {
			a := &h.Students[i].Attempts[j]
			if !seen[a.At] {
				h.Tried++
				seen[a.At] = true
			}
			if last == nil || !a.At.Before(last.At) {
				last = a
			}
		}
	}
	if last != nil && !h.NoContact {
		h.Again = last.Next
		for i, c := range h.Contacts {
			if c.ID == last.Contact && last.Outcome != Spoke && last.Outcome != Texted {
				h.Next = (i + 1) % len(h.Contacts)
			}
		}
	}
	h.hold(now)
}

// hold makes a home wait while all of its missing are held.
func (h *Household) hold(now day.Minute) {
	first := Hold{Until: day.EndOfDay}
	for _, m := range h.Students {
		held, ok := m.held(now)
		if !ok {
			return
		}
		if held.Until.Before(first.Until) {
			first = held
		}
	}
	h.Held, h.Again = first.Reason, day.Latest(h.Again, first.Until)
}

func before(a, b Household, now day.Minute) bool {
	if x, y := a.Again.After(now), b.Again.After(now); x != y {
		return y
	}
	if a.Again.After(now) && a.Again != b.Again {
		return a.Again.Before(b.Again)
	}
	if a.Care != b.Care {
		return a.Care
	}
	if a.Youngest != b.Youngest {
		return a.Youngest < b.Youngest
	}
	if (a.Tried == 0) != (b.Tried == 0) {
		return a.Tried == 0
	}
	return a.Students[0].Name < b.Students[0].Name
}
