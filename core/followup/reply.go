package followup

import (
	"strings"
	"unicode"

	"meldung/core/day"
)

// Reply is what an answer to a message seems to say.
type Reply struct {
	Reason string     // one of the reasons asked for; empty where none stands in it
	By     day.Minute // the first time in it; none for none
}

// ReadReply looks for a reason and a time in what someone answered. A reason stands in
// it when all its words follow one another there, in either case; the longest counts,
// and of equals the first. It is a suggestion for whoever reads the answer, no more.
func ReadReply(words string, reasons []string) Reply {
	said := wordsOf(words)
	out := Reply{}
	longest := 0
	for _, r := range reasons {
		if w := wordsOf(r); len(w) > 0 && stands(w, said) && len(r) > longest {
			out.Reason, longest = r, len(r)
		}
	}
	for _, w := range said {
		if len(w) < 3 {
			continue // a number alone is no time
		}
		if at, err := day.ParseTyped(w); err == nil {
			out.By = at
			break
		}
	}
	return out
}

// wordsOf splits a text into lower-case words; a time stays one word.
func wordsOf(s string) []string {
	fields := strings.FieldsFunc(strings.ToLower(s), func(r rune) bool {
		return !unicode.IsLetter(r) && !unicode.IsDigit(r) && r != ':' && r != '.'
	})
	out := fields[:0]
	for _, f := range fields {
		if f = strings.Trim(f, ":."); f != "" {
			out = append(out, f)
		}
	}
	return out
}

func stands(words, in []string) bool {
	for i := 0; i+len(words) <= len(in); i++ {
		same := true
		for k, w := range words {
			same = same && in[i+k] == w
		}
		if same {
			return true
		}
	}
	return false
}
