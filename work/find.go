package work

import (
	"sort"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/held/names"
	"meldung/store"
)

// Match is a student whom some words fit.
type Match struct {
	Student store.Student
	Rank    int    // how well; smaller is better, 0 is a number or card
	Through string // the contact by whom the student was found; empty for none
}

// Find finds students by name, number or card, or by a contact's name or phone: those
// whom the person may see, the best first.
func (v Snapshot) Find(p Person, words []string, d day.Date) []Match {
	if len(words) == 0 {
		return nil
	}
	whole := strings.Join(words, "")
	folded := make([]string, len(words))
	for i, w := range words {
		folded[i] = names.Fold(w)
	}
	var out []Match
	for _, s := range v.School.Students {
		if !s.EnrolledOn(d) || v.MaySee(p, s.ID) != nil {
			continue
		}
		if rank, ok := rankOf(s, whole, folded); ok {
			out = append(out, Match{s, rank, ""})
			continue
		}
		if !p.May(MaySeeContacts) {
			continue
		}
		for _, c := range v.School.ContactsOf(s.ID) {
			if names.Fits(folded, c.Name) || (len(names.Digits(whole)) >= 5 && names.Digits(whole) == whole && strings.Contains(names.Digits(c.Phone), names.Digits(whole))) {
				out = append(out, Match{s, 4, c.Name})
				break
			}
		}
	}
	sort.SliceStable(out, func(a, b int) bool {
		if out[a].Rank != out[b].Rank {
			return out[a].Rank < out[b].Rank
		}
		x, y := out[a].Student, out[b].Student
		if x.Family != y.Family {
			return x.Family < y.Family
		}
		return x.Given < y.Given
	})
	return out
}

func rankOf(s store.Student, whole string, folded []string) (int, bool) {
	switch {
	case s.Number == whole || (s.Card != "" && strings.EqualFold(s.Card, whole)):
		return 0, true
	case len(folded) == 1 && names.Fold(s.Family) == folded[0]:
		return 1, true
	case names.Fits(folded, s.Given+" "+s.Family):
		if strings.HasPrefix(names.Fold(s.Family), folded[0]) {
			return 2, true
		}
		return 3, true
	case len(whole) >= 3 && names.Digits(whole) == whole && strings.HasPrefix(s.Number, whole):
		return 3, true
	}
	return 0, false
}

// Student returns the student with this id.
func (v Snapshot) Student(id ids.Student) (store.Student, error) {
	s, ok := v.School.Student(id)
	if !ok {
		return s, NotFoundf("there is no student %d", id)
	}
	return s, nil
}

// Class returns the class with this id.
func (v Snapshot) Class(id ids.Class) (store.Class, error) {
	c, ok := v.School.Class(id)
	if !ok {
		return c, NotFoundf("there is no class %d", id)
	}
	return c, nil
}
