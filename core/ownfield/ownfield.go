// Package ownfield says what a school's own fields on a student can hold. It knows nothing of who may
// see them or where they are shown.
package ownfield

import (
	"fmt"
	"slices"
	"strings"
	"unicode/utf8"

	"meldung/core/day"
	"meldung/core/policy"
)

// Kind is what sort of value a field holds.
type Kind string

// The kinds.
const (
	Text   Kind = "text"
	Choice Kind = "choice"
	Date   Kind = "date"
	Span   Kind = "time span"
	Number Kind = "number"
)

// Kinds are all of them, in the order in which they are offered.
var Kinds = []Kind{Text, Choice, Date, Span, Number}

// longest bounds a text, in characters.
const longest = 200

// Read returns a value as it is kept, from what somebody typed: dates as YYYY-MM-DD, spans of the day as
// HH:MM-HH:MM, numbers as they are written without a sign. Nothing typed is no value. The error says what
// is expected.
func (k Kind) Read(typed string, choices []string) (string, error) {
	typed = strings.TrimSpace(typed)
	if typed == "" {
		return "", nil
	}
	switch k {
	case Choice:
		i := slices.IndexFunc(choices, func(c string) bool { return strings.EqualFold(c, typed) })
		if i < 0 {
			return "", fmt.Errorf("%q is none of %s", typed, strings.Join(choices, ", "))
		}
		return choices[i], nil
	case Date:
		d, err := day.ParseDate(typed)
		return d.String(), err
	case Span:
		return readSpan(typed)
	case Number:
		if _, err := policy.ParseDecimal(typed); err != nil {
			return "", fmt.Errorf("%q is not a number such as 12 or 2.5", typed)
		}
		return typed, nil
	case Text:
		switch {
		case utf8.RuneCountInString(typed) > longest:
			return "", fmt.Errorf("a text has at most %d characters, this one %d", longest, utf8.RuneCountInString(typed))
		case strings.ContainsFunc(typed, func(r rune) bool { return r < ' ' }):
			return "", fmt.Errorf("a text is one line")
		}
		return typed, nil
	}
	return "", fmt.Errorf("%q is no kind of field", string(k))
}

// readSpan reads a span of the day: 8:30-10:15, 830–1015.
func readSpan(typed string) (string, error) {
	from, to, found := strings.Cut(strings.ReplaceAll(typed, "–", "-"), "-")
	a, errFrom := day.ParseTyped(strings.TrimSpace(from))
	b, errTo := day.ParseTyped(strings.TrimSpace(to))
	switch {
	case !found || errFrom != nil || errTo != nil:
		return "", fmt.Errorf("%q is not a span such as 8:30-10:15", typed)
	case !b.After(a):
		return "", fmt.Errorf("a span ends after it begins; %q does not", typed)
	}
	return a.String() + "-" + b.String(), nil
}

// Words writes a kept value for people.
func (k Kind) Words(value string) string {
	switch k {
	case Date:
		if d, err := day.ParseDate(value); err == nil {
			return d.Spoken() + d.Time().Format(" 2006")
		}
	case Span:
		return strings.Replace(value, "-", " to ", 1)
	}
	return value
}
