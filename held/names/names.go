// Package names compares names as people type them: without regard to case, to marks over
// letters, or to where a part of a name stands. It knows nothing of whose names they are.
package names

import (
	"strings"
	"unicode"

	"golang.org/x/text/unicode/norm"
)

// plain are the letters that no decomposition takes apart, as people type them who lack the
// key.
var plain = strings.NewReplacer("ł", "l", "ø", "o", "æ", "ae", "œ", "oe", "đ", "d", "ð", "d", "þ", "th", "ß", "ss", "ı", "i", "ħ", "h", "ŋ", "n", "’", "'")

// Fold writes a text for comparing: lower case, without marks over or through letters.
func Fold(s string) string {
	var b strings.Builder
	for _, r := range norm.NFD.String(strings.ToLower(s)) {
		if !unicode.Is(unicode.Mn, r) {
			b.WriteRune(r)
		}
	}
	return plain.Replace(b.String()) // an ǿ is an ø once its mark is off
}

// Digits returns the digits of a text.
func Digits(s string) string {
	var b strings.Builder
	for _, r := range s {
		if r >= '0' && r <= '9' {
			b.WriteRune(r)
		}
	}
	return b.String()
}

// Fits reports whether each of some folded words begins a part of the name.
func Fits(folded []string, name string) bool {
	parts := strings.FieldsFunc(Fold(name), func(r rune) bool { return r == ' ' || r == '-' })
	for _, w := range folded {
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
