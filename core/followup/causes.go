package followup

import (
	"cmp"
	"slices"

	"meldung/core/ids"
)

// Trait is something that students can have in common: the ferry they come by, a
// form, a household, the last class of the day before.
type Trait struct{ Kind, Name string }

// Whereabouts is a student of whom it is known whether they are missing.
type Whereabouts struct {
	Student ids.Student
	Traits  []Trait
	Missing bool // unaccounted for
}

// Share is how many of some students are missing.
type Share struct {
	Missing int
	Known   int // the missing included
}

// Cause is a trait that makes it likely to be missing.
type Cause struct {
	Trait
	Missing []ids.Student // who has it and is missing, in the order given
	With    Share         // of those who have it
	Without Share         // of those who do not
}

const (
	fewestShared = 3 // missing students whom a cause covers at least
	timesUsual   = 3 // as large a share of those with it as of those without
)

// SharedCauses returns what may be behind several absences at once: each trait that at
// least three of the missing have, where the share of the missing among those who have it is
// at least three times that among those who do not. Only those are given of whom it is known
// where they are, or that they are missing: who waits for a register counts on neither side.
// Most missing first, then the rarest trait, then by kind and name.
func SharedCauses(known []Whereabouts) []Cause {
	found := map[Trait]*Cause{}
	all := Share{Known: len(known)}
	for _, e := range known {
		if e.Missing {
			all.Missing++
		}
		seen := map[Trait]bool{}
		for _, t := range e.Traits {
			if seen[t] || t.Name == "" {
				continue
			}
			seen[t] = true
			c := found[t]
			if c == nil {
				c = &Cause{Trait: t}
				found[t] = c
			}
			c.With.Known++
			if e.Missing {
				c.With.Missing++
				c.Missing = append(c.Missing, e.Student)
			}
		}
	}
	var out []Cause
	for _, c := range found {
		c.Without = Share{Missing: all.Missing - c.With.Missing, Known: all.Known - c.With.Known}
		if c.With.Missing >= fewestShared && c.With.atLeast(timesUsual, c.Without) {
			out = append(out, *c)
		}
	}
	slices.SortFunc(out, func(a, b Cause) int {
		return cmp.Or(cmp.Compare(len(b.Missing), len(a.Missing)), cmp.Compare(a.With.Known, b.With.Known), cmp.Compare(a.Kind, b.Kind), cmp.Compare(a.Name, b.Name))
	})
	return out
}

// atLeast reports whether a share is at least so many times another, in whole numbers:
// m/k ≥ n·o/p is m·p ≥ n·o·k. Any share is, where nobody of the others is missing.
func (s Share) atLeast(times int, o Share) bool {
	return o.Missing == 0 || s.Missing*o.Known >= times*o.Missing*s.Known
}
