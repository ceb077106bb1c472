package pages

import (
	"strings"
	"unicode/utf8"
)

// TitleOr returns a title; the id where there is none.
func TitleOr(title, id string) string {
	if title != "" {
		return title
	}
	return id
}

func actionText(do []string) string {
	words := strings.ReplaceAll(strings.Join(do, ", "), "-", " ")
	_, size := utf8.DecodeRuneInString(words)
	return strings.ToUpper(words[:size]) + words[size:]
}
