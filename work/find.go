package work

import (
	"context"
	"sort"
	"strings"
	"unicode"

	"golang.org/x/text/unicode/norm"

	"meldung/core/day"
	"meldung/store"
)

// FoundStudent is a student that a search found.
type FoundStudent struct {
	Student  StudentRef `json:"student"`
	Place    Place      `json:"place"`
	Through  string     `json:"through" doc:"The contact by whom the student was found; empty for none"`
	Warnings []string   `json:"warnings"`
}

// plainLetters are those that no decomposition takes apart, as people type them
// who lack the key.
var plainLetters = strings.NewReplacer("ł", "l", "ø", "o", "æ", "ae", "œ", "oe", "đ", "d", "ð", "d", "þ", "th", "ß", "ss", "ı", "i", "ħ", "h", "ŋ", "n", "’", "'")

// fold writes a text for comparing: lower case, without marks over or through
// letters.
func fold(s string) string {
	var b strings.Builder
	for _, r := range norm.NFD.String(plainLetters.Replace(strings.ToLower(s))) {
		if !unicode.Is(unicode.Mn, r) {
			b.WriteRune(r)
		}
	}
	return b.String()
}

func onlyDigits(s string) string {
	var b strings.Builder
	for _, r := range s {
		if r >= '0' && r <= '9' {
			b.WriteRune(r)
		}
	}
	return b.String()
}

// match is a student with how well the words fit; smaller is better.
type match struct {
	student store.Student
	rank    int
	through string
}

// matches finds students by name, number or card, or by a contact's name or phone.
func (v view) matches(p Person, words []string, d day.Date) []match {
	if len(words) == 0 {
		return nil
	}
	whole := strings.Join(words, "")
	folded := make([]string, len(words))
	for i, w := range words {
		folded[i] = fold(w)
	}
	var out []match
	for _, s := range v.school.Students {
		if !s.EnrolledOn(d) || v.school.maySee(p, s.ID) != nil {
			continue
		}
		if rank, ok := rankOf(s, whole, folded); ok {
			out = append(out, match{s, rank, ""})
			continue
		}
		if p.Role == Teacher {
			continue
		}
		for _, c := range v.school.ContactsOf(s.ID) {
			if fits(folded, c.Name) || (len(onlyDigits(whole)) >= 5 && onlyDigits(whole) == whole && strings.Contains(onlyDigits(c.Phone), onlyDigits(whole))) {
				out = append(out, match{s, 4, c.Name})
				break
			}
		}
	}
	sort.SliceStable(out, func(a, b int) bool {
		if out[a].rank != out[b].rank {
			return out[a].rank < out[b].rank
		}
		x, y := out[a].student, out[b].student
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
	case len(folded) == 1 && fold(s.Family) == folded[0]:
		return 1, true
	case fits(folded, s.Given+" "+s.Family):
		if strings.HasPrefix(fold(s.Family), folded[0]) {
			return 2, true
		}
		return 3, true
	case len(whole) >= 3 && onlyDigits(whole) == whole && strings.HasPrefix(s.Number, whole):
		return 3, true
	}
	return 0, false
}

// fits reports whether every word begins a part of the name.
func fits(words []string, name string) bool {
	parts := strings.FieldsFunc(fold(name), func(r rune) bool { return r == ' ' || r == '-' })
	for _, w := range words {
		ok := false
		for _, p := range parts {
			ok = ok || strings.HasPrefix(p, w)
		}
		if !ok {
			return false
		}
	}
	return true
}

// FindStudents returns the best matches for a search, at most limit.
func (o *Office) FindStudents(ctx context.Context, p Person, query, asAt string, limit int) ([]FoundStudent, error) {
	out := []FoundStudent{}
	m, err := o.moment(asAt)
	if err != nil {
		return out, err
	}
	err = o.lookAt(ctx, m, func(v view, x *Day) error {
		for i, f := range v.matches(p, strings.Fields(query), m.Date) {
			if i == limit {
				break
			}
			out = append(out, v.found(x, f, m))
		}
		return nil
	})
	return out, err
}

func (v view) found(x *Day, f match, m Moment) FoundStudent {
	return FoundStudent{Student: v.ref(f.student, m.Date), Place: placeOf(v.position(x, f.student.ID, m)), Through: f.through, Warnings: warningWords(v.school.warnings[f.student.ID])}
}
