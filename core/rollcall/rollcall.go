// Package rollcall holds who is to be found when everybody leaves the building, what ticks
// on several phones make of that, and how long it took. It must not know of stores or clocks.
package rollcall

import (
	"cmp"
	"slices"

	"meldung/core/day"
	"meldung/core/whereabouts"
)

// Kind is what somebody on a roll call is.
type Kind string

// The kinds.
const (
	Student Kind = "student"
	Staff   Kind = "staff"
	Visitor Kind = "visitor"
)

// Key names one person: ids are of each kind's own.
type Key struct {
	Kind Kind
	ID   int64
}

// Why is for what reason somebody is on the list.
type Why string

// The reasons.
const (
	OnSite   Why = "on-site"   // on the premises by the latest evidence
	Missing  Why = "missing"   // unaccounted for, or worried for
	Unknown  Why = "unknown"   // due, and no register or anything else says where they are
	SignedIn Why = "signed-in" // staff or a visitor who signed in
	Expected Why = "expected"  // staff with a lesson or a duty now
	Found    Why = "found"     // on no list, and met by somebody who ticks
)

// Expects reports whether a student with this position is to be found, and why. Who is known to be
// elsewhere, has left, is explained or is not due is not on the list; a worry outranks a sign-out.
func Expects(p whereabouts.Position) (Why, bool) {
	switch {
	case p.State == whereabouts.Unaccounted || !p.Worried.IsZero():
		return Missing, true
	case p.State == whereabouts.In || p.State == whereabouts.InLate:
		return OnSite, true
	case p.State == whereabouts.NotYetKnown:
		return Unknown, true
	default:
		return "", false
	}
}

// Tick is that somebody met a person, or knows that they are elsewhere.
type Tick struct {
	Key
	ID     string      // given by whoever ticked; a repeat has the same
	At     day.Instant // when it was made, which may be long before it was known
	Second int         // of that minute, 0 to 59
	Here   bool        // met; else known to be elsewhere
	By     string
	Undone bool
}

// earlier orders ticks by when they were made.
func (t Tick) earlier(o Tick) int {
	return cmp.Or(cmp.Compare(t.At, o.At), cmp.Compare(t.Second, o.Second), cmp.Compare(t.ID, o.ID))
}

// Standing returns for every person who has a tick that was not taken back the first one made, in
// whatever order they came in and however often. A person whom anybody met is met, whatever
// somebody else believed.
func Standing(ticks []Tick) map[Key]Tick {
	undone := map[string]bool{}
	for _, t := range ticks {
		undone[t.ID] = undone[t.ID] || t.Undone
	}
	out := map[Key]Tick{}
	for _, t := range ticks {
		if undone[t.ID] {
			continue
		}
		first, ok := out[t.Key]
		if !ok || (t.Here && !first.Here) || (t.Here == first.Here && t.earlier(first) < 0) {
			out[t.Key] = t
		}
	}
	return out
}

// Count is how a roll call stands. Met, Elsewhere and Open add up to Of.
type Count struct {
	Of        int
	Met       int
	Elsewhere int // known to be elsewhere, by a word of somebody
	Open      int // neither: still to be found
}

// Counted returns how a list of persons, each once, stands with the ticks.
func Counted(list []Key, ticks []Tick) Count {
	standing := Standing(ticks)
	out := Count{Of: len(list)}
	for _, k := range list {
		switch t, ok := standing[k]; {
		case !ok:
			out.Open++
		case t.Here:
			out.Met++
		default:
			out.Elsewhere++
		}
	}
	return out
}

// Reached returns how many whole minutes after the beginning so many of a hundred persons were
// ticked, by when the ticks were made; ok is false where they never were, and for an empty list.
func Reached(began day.Instant, list []Key, ticks []Tick, percent int) (after day.Minutes, ok bool) {
	standing := Standing(ticks)
	var made []Tick
	for _, k := range list {
		if t, ok := standing[k]; ok {
			made = append(made, t)
		}
	}
	need := (len(list)*percent + 99) / 100
	if need == 0 || len(made) < need {
		return 0, false
	}
	slices.SortFunc(made, Tick.earlier)
	return max(0, day.Minutes(made[need-1].At-began)), true
}
