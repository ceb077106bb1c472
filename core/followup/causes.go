package followup

import (
	"cmp"
	"slices"

	"meldung/core/ids"
)

// Trait is something that students can have in common: the ferry they come by, a
// form, a household, the last class of the day before.
type Trait struct{ Kind, Name string }

// Expected is a student who is expected now.
type Expected struct {
	Student ids.Student
	Traits  []Trait
	Missing bool // unaccounted for
}

// Cause is a trait that many of the missing share and few of those expected.
type Cause struct {
	Trait
	Missing  []ids.Student // the missing who have it, in the order given
	Expected int           // of those expected, the missing included
}

const (
	fewestShared = 3 // missing students whom a cause covers at least
	timesUsual   = 3 // as large a share of the missing as of those expected
)

// SharedCauses returns what may be behind several absences at once: each trait that at
// least three of the missing have, whose share among the missing is at least three times
// its share among those expected. Most missing first, then the rarest trait, then by kind
// and name.
func SharedCauses(expected []Expected) []Cause {
	found := map[Trait]*Cause{}
	missing := 0
	for _, e := range expected {
		if e.Missing {
			missing++
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
			c.Expected++
			if e.Missing {
				c.Missing = append(c.Missing, e.Student)
			}
		}
	}
	var out []Cause
	for _, c := range found {
		// Shares are compared as whole numbers: m/M ≥ 3·e/E is m·E ≥ 3·e·M.
		if n := len(c.Missing); n >= fewestShared && n*len(expected) >= timesUsual*c.Expected*missing {
			out = append(out, *c)
		}
	}
	slices.SortFunc(out, func(a, b Cause) int {
		return cmp.Or(cmp.Compare(len(b.Missing), len(a.Missing)), cmp.Compare(a.Expected, b.Expected), cmp.Compare(a.Kind, b.Kind), cmp.Compare(a.Name, b.Name))
	})
	return out
}
