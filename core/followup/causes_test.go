package followup

import (
	"math/big"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"meldung/core/ids"
)

// group makes students with one trait, the first of them missing.
func group(kind, name string, known, missing int) []Whereabouts {
	out := make([]Whereabouts, known)
	for i := range out {
		out[i] = Whereabouts{Student: ids.Student(i + 1), Traits: []Trait{{kind, name}}, Missing: i < missing}
	}
	return out
}

// Hand-worked.
func TestSharedCauses(t *testing.T) {
	for _, c := range []struct {
		name           string
		known, missing int // with the trait
		others, gone   int // without it
		found          bool
	}{
		{"a ferry that is late: 30 % of its own, 10 % of the others", 30, 9, 200, 20, true},
		{"one fewer: 27 %", 30, 8, 200, 20, false},
		{"nobody else is missing", 30, 3, 200, 0, true},
		{"two are too few", 2, 2, 200, 0, false},
		{"exactly three times the share: 3 of 10, and 1 of 10", 10, 3, 10, 1, true},
		{"3 of 11", 11, 3, 10, 1, false},
		{"all of one, a third of the others", 4, 4, 9, 3, true},
		{"all of one, more than a third of the others", 4, 4, 8, 3, false},
		{"everybody known has it", 9, 3, 0, 0, true},
	} {
		people := append(group("ferry", "Petrel", c.known, c.missing), group("", "", c.others, c.gone)...)
		got := SharedCauses(people)
		assert.Equal(t, c.found, len(got) == 1, "%s: %v", c.name, got)
		for _, cause := range got {
			assert.Equal(t, Trait{"ferry", "Petrel"}, cause.Trait)
			assert.Len(t, cause.Missing, c.missing)
			assert.Equal(t, Share{c.missing, c.known}, cause.With)
			assert.Equal(t, Share{c.gone, c.others}, cause.Without)
		}
	}
	assert.Empty(t, SharedCauses(nil))
	assert.Empty(t, SharedCauses(group("ferry", "", 30, 30)), "having none is nothing in common")
	both := append(group("ferry", "Dunlin", 6, 6), group("ferry", "Skua", 4, 4)...)
	both = append(both, group("", "", 100, 0)...)
	assert.Equal(t, []string{"Dunlin", "Skua"}, []string{SharedCauses(both)[0].Name, SharedCauses(both)[1].Name})
}

// Planted causes are found and nothing else is: every trait is judged again with exact
// fractions, whatever students have in common.
func TestSharedCausesAreThoseThatAreThere(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		people := make([]Whereabouts, rapid.IntRange(1, 80).Draw(t, "known"))
		for i := range people {
			people[i].Student = ids.Student(i + 1)
			people[i].Missing = rapid.IntRange(0, 4).Draw(t, "missing") == 0
			for range rapid.IntRange(0, 3).Draw(t, "traits") {
				people[i].Traits = append(people[i].Traits, Trait{rapid.SampledFrom([]string{"ferry", "form"}).Draw(t, "kind"), rapid.SampledFrom([]string{"a", "b", "c", "d"}).Draw(t, "name")})
			}
		}
		planted := Trait{"ferry", "planted"}
		for i := range rapid.IntRange(0, 6).Draw(t, "planted") {
			people = append(people, Whereabouts{Student: ids.Student(1000 + i), Traits: []Trait{planted}, Missing: true})
		}
		listed := map[Trait]Cause{}
		for _, c := range SharedCauses(people) {
			listed[c.Trait] = c
		}
		traits := map[Trait]bool{}
		for _, p := range people {
			for _, tr := range p.Traits {
				traits[tr] = true
			}
		}
		for tr := range traits {
			var with, without, goneWith, goneWithout int64
			for _, p := range people {
				has := slices.Contains(p.Traits, tr)
				for _, n := range []struct {
					to   *int64
					when bool
				}{{&with, has}, {&without, !has}, {&goneWith, has && p.Missing}, {&goneWithout, !has && p.Missing}} {
					if n.when {
						*n.to++
					}
				}
			}
			is := goneWith >= 3 && (goneWithout == 0 || big.NewRat(goneWith, with).Cmp(new(big.Rat).Mul(big.NewRat(3, 1), big.NewRat(goneWithout, without))) >= 0)
			c, found := listed[tr]
			assert.Equal(t, is, found, "%v", tr)
			if found {
				assert.Len(t, c.Missing, int(goneWith))
				assert.Equal(t, int(with), c.With.Known)
			}
		}
		assert.LessOrEqual(t, len(listed), len(traits))
	})
}
