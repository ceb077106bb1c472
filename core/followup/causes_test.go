package followup

import (
	"math/big"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"meldung/core/ids"
)

// group makes students with one trait, the first of them missing.
func group(kind, name string, expected, missing int) []Expected {
	out := make([]Expected, expected)
	for i := range out {
		out[i] = Expected{Student: ids.Student(i + 1), Traits: []Trait{{kind, name}}, Missing: i < missing}
	}
	return out
}

// Hand-worked: 20 of 200 are missing, a tenth.
func TestSharedCauses(t *testing.T) {
	rest := func(missing int) []Expected { return group("form", "the others", 200-30, missing) }
	for _, c := range []struct {
		name              string
		expected, missing int
		found             bool
	}{
		{"a ferry that is late: 9 of its 30, 45 % of the missing and 15 % of those expected", 30, 9, true},
		{"one fewer is 40 %, less than three times 15 %", 30, 8, false},
		{"three of three", 3, 3, true},
		{"two of two are too few", 2, 2, false},
		{"exactly three times the share: 3 of 10, 15 % and 5 %", 10, 3, true},
		{"3 of 11", 11, 3, false},
	} {
		people := append(group("ferry", "Petrel", c.expected, c.missing), group("form", "the others", 200-c.expected, 20-c.missing)...)
		var names []string
		for _, cause := range SharedCauses(people) {
			names = append(names, cause.Name)
			assert.Len(t, cause.Missing, c.missing)
			assert.Equal(t, c.expected, cause.Expected)
		}
		assert.Equal(t, c.found, len(names) == 1 && names[0] == "Petrel", "%s: %v", c.name, names)
	}
	assert.Empty(t, SharedCauses(rest(0)), "nobody is missing")
	assert.Empty(t, SharedCauses(nil))
	twice := group("ferry", "", 30, 30)
	assert.Empty(t, SharedCauses(twice), "having none is nothing in common")
	both := append(group("ferry", "Dunlin", 6, 6), group("ferry", "Skua", 4, 4)...)
	assert.Equal(t, []string{"Dunlin", "Skua"}, []string{SharedCauses(append(both, rest(0)...))[0].Name, SharedCauses(append(both, rest(0)...))[1].Name})
}

// Planted causes are found and nothing else is: every trait is judged again with exact
// fractions, whatever students have in common.
func TestSharedCausesAreThoseThatAreThere(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		people := make([]Expected, rapid.IntRange(1, 80).Draw(t, "expected"))
		for i := range people {
			people[i].Student = ids.Student(i + 1)
			people[i].Missing = rapid.IntRange(0, 4).Draw(t, "missing") == 0
			for range rapid.IntRange(0, 3).Draw(t, "traits") {
				people[i].Traits = append(people[i].Traits, Trait{rapid.SampledFrom([]string{"ferry", "form"}).Draw(t, "kind"), rapid.SampledFrom([]string{"a", "b", "c", "d"}).Draw(t, "name")})
			}
		}
		planted := Trait{"ferry", "planted"}
		for i := range rapid.IntRange(0, 6).Draw(t, "planted") {
			people = append(people, Expected{Student: ids.Student(1000 + i), Traits: []Trait{planted}, Missing: true})
		}
		listed := map[Trait]Cause{}
		for _, c := range SharedCauses(people) {
			listed[c.Trait] = c
		}
		missing, has, gone := 0, map[Trait]map[ids.Student]bool{}, map[Trait]map[ids.Student]bool{}
		for _, p := range people {
			if p.Missing {
				missing++
			}
			for _, tr := range p.Traits {
				if has[tr] == nil {
					has[tr], gone[tr] = map[ids.Student]bool{}, map[ids.Student]bool{}
				}
				has[tr][p.Student] = true
				if p.Missing {
					gone[tr][p.Student] = true
				}
			}
		}
		for tr, who := range has {
			is := len(gone[tr]) >= 3 && big.NewRat(int64(len(gone[tr])), int64(missing)).Cmp(new(big.Rat).Mul(big.NewRat(3, 1), big.NewRat(int64(len(who)), int64(len(people))))) >= 0
			c, found := listed[tr]
			assert.Equal(t, is, found, "%v", tr)
			if found {
				assert.Len(t, c.Missing, len(gone[tr]))
				assert.Equal(t, len(who), c.Expected)
			}
		}
		assert.LessOrEqual(t, len(listed), len(has))
	})
}
