package policy

import (
	"fmt"
	"strings"

	"meldung/core/day"
)

// Use is what a code is used for, or several such: who wants a code asks for the use, never
// for a letter.
type Use uint16

// The uses.
const (
	UsePresent        Use = 1 << iota // there, on time
	UseDistance                       // attends at a distance
	UseLate                           // came late
	UseLateWithReason                 // came late for a reason that counts
	UseNoReason                       // not there, and nobody knows why yet
	UseIll                            // away, ill
	UseAway                           // away for another reason that counts
	UseUnexcused                      // away, and settled as unexcused
	UseOffSite                        // on an approved activity off the premises
	UseLeftWithReason                 // left early for a reason that counts
	UseLeft                           // left early without one
	UseNotRequired                    // need not be there
)

// uses are the words of policy files, what a set that lacks the use can't do, and the codes
// that may have it.
var uses = []struct {
	use   Use
	word  string
	lacks string
	fits  func(c Code) bool
}{
	{UsePresent, "present", "nobody can be marked as there", func(c Code) bool { return c.Counts == Attended && c.OnSite && !c.Late }},
	{UseDistance, "distance", "nobody can attend at a distance", func(c Code) bool { return c.AtADistance() }},
	{UseLate, "late", "nobody can be marked as late", func(c Code) bool { return c.Late }},
	{UseLateWithReason, "late_with_reason", "a reason for coming late makes no difference to the mark", func(c Code) bool { return c.Late }},
	{UseNoReason, "no_reason", "nobody can be marked as away without a reason", func(c Code) bool { return c.Unexplained }},
	{UseIll, "ill", "ill is marked as away for a reason", func(c Code) bool { return c.Counts == Excused }},
	{UseAway, "away", "a reason of home's makes no difference to the mark", func(c Code) bool { return c.Counts == Excused }},
	{UseUnexcused, "unexcused", "an absence can't be settled as unexcused", func(c Code) bool { return c.Counts == Unexcused && !c.Unexplained && !c.Late }},
	{UseOffSite, "off_site", "those on a trip are marked by hand", func(c Code) bool { return c.AtADistance() }},
	{UseLeftWithReason, "left_with_reason", "leaving early for a reason makes no difference to the mark", leftEarly},
	{UseLeft, "left", "leaving early makes no difference to the mark", leftEarly},
	{UseNotRequired, "not_required", "nobody can be marked as not required", func(c Code) bool { return c.Counts == Void }},
}

func leftEarly(c Code) bool { return c.Counts == Attended && c.OnSite && !c.Late }

// UseWords are the words of the uses, in their order.
func UseWords() []string {
	out := make([]string, len(uses))
	for i, u := range uses {
		out[i] = u.word
	}
	return out
}

// ParseUse reads the word of one use.
func ParseUse(s string) (Use, error) {
	for _, u := range uses {
		if u.word == s {
			return u.use, nil
		}
	}
	return 0, fmt.Errorf("%q is not one of %s", s, strings.Join(UseWords(), ", "))
}

// Words returns the words of the uses, in their order.
func (u Use) Words() []string {
	out := []string{}
	for _, x := range uses {
		if u&x.use != 0 {
			out = append(out, x.word)
		}
	}
	return out
}

// Half is the part of the day for which a code is used.
type Half uint8

// The halves: a slot belongs to the one in which it begins.
const (
	WholeDay Half = iota
	Morning
	Afternoon
)

var halfWords = []string{"", "morning", "afternoon"}

// String returns the word of policy files; empty for the whole day.
func (h Half) String() string { return halfWords[h] }

var noon = day.MustMinute("12:00")

// HalfOf returns the half of the day to which a slot belongs.
func HalfOf(slot day.Slot) Half {
	if slot.Start.Before(noon) {
		return Morning
	}
	return Afternoon
}

// usedIn reports whether a code is used in slots of a half of the day.
func (c Code) usedIn(h Half) bool { return c.Half == WholeDay || h == WholeDay || c.Half == h }

// UsedIn reports whether a code is used in a slot.
func (c Code) UsedIn(slot day.Slot) bool { return c.usedIn(HalfOf(slot)) }

// For returns the code that the set uses for something in a slot; ok is false where it lacks
// one.
func (s *CodeSet) For(u Use, slot day.Slot) (Code, bool) {
	for _, c := range s.Codes {
		if c.Uses&u != 0 && c.UsedIn(slot) {
			return c, true
		}
	}
	return Code{}, false
}

// Always returns the code that the set uses for something at any time of the day; ok is false
// where it lacks one.
func (s *CodeSet) Always(u Use) (Code, bool) {
	for _, c := range s.Codes {
		if c.Uses&u != 0 && c.Half == WholeDay {
			return c, true
		}
	}
	return Code{}, false
}

// has reports whether the set has a code for a use in both halves of the day.
func (s *CodeSet) has(u Use) bool {
	there := [3]bool{}
	for _, c := range s.Codes {
		if c.Uses&u != 0 {
			there[c.Half] = true
		}
	}
	return there[WholeDay] || (there[Morning] && there[Afternoon])
}

// Lacks says what can't be done with the set, a sentence for each use that it has no code
// for.
func (s *CodeSet) Lacks() []string {
	out := []string{}
	for _, u := range uses {
		if !s.has(u.use) {
			out = append(out, u.lacks)
		}
	}
	return out
}

// Usable refuses a set with which no register can be taken: one has codes for being there and
// for being away without a reason.
func (s *CodeSet) Usable() error {
	for _, u := range uses {
		if (u.use == UsePresent || u.use == UseNoReason) && !s.has(u.use) {
			return fmt.Errorf("no code of the set is used for %s (used_for), so that no register can be taken with it", u.word)
		}
	}
	return nil
}

// checkUses refuses a use that does not fit what the code counts as, and one that another
// code has at the same time of the day.
func (s *CodeSet) checkUses(c Code, before []Code) error {
	for _, u := range uses {
		if c.Uses&u.use == 0 {
			continue
		}
		if !u.fits(c) {
			return fmt.Errorf("code %q can't be used for %s by what it counts as", c.Code, u.word)
		}
		for _, o := range before {
			if o.Uses&u.use != 0 && o.usedIn(c.Half) {
				return fmt.Errorf("codes %q and %q are both used for %s", o.Code, c.Code, u.word)
			}
		}
	}
	return nil
}

// Counterparts says which code of another set takes the place of each code of this one: the
// one with the same use, or the same letters and counting the same, or the first that counts
// the same; empty where there is none.
func (s *CodeSet) Counterparts(next *CodeSet) map[string]string {
	out := map[string]string{}
	for _, c := range s.Codes {
		out[c.Code] = next.counterpart(c)
	}
	return out
}

func (s *CodeSet) counterpart(of Code) string {
	for _, u := range uses {
		if of.Uses&u.use == 0 {
			continue
		}
		for _, c := range s.Codes {
			if c.Uses&u.use != 0 && (c.Half == of.Half || c.Half == WholeDay) {
				return c.Code
			}
		}
	}
	same := func(c Code) bool {
		return c.Counts == of.Counts && c.Late == of.Late && c.Medical == of.Medical && c.Unexplained == of.Unexplained
	}
	if c, ok := s.Find(of.Code); ok && same(c) {
		return c.Code
	}
	for _, c := range s.Codes {
		if same(c) && c.Half == WholeDay && c.Uses&(UseLeft|UseLeftWithReason) == 0 {
			return c.Code
		}
	}
	return ""
}
