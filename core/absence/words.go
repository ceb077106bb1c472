package absence

import (
	"fmt"

	"meldung/core/policy"
)

// Ordinal says a number in its place: "4th".
func Ordinal(n int) string {
	suffix := "th"
	if n%100 < 11 || n%100 > 13 {
		switch n % 10 {
		case 1:
			suffix = "st"
		case 2:
			suffix = "nd"
		case 3:
			suffix = "rd"
		}
	}
	return fmt.Sprint(n, suffix)
}

// Words says which late makes the step due: "4th late in geography, Quarter 3".
func (s StepDue) Words() string {
	words := Ordinal(s.Count) + " late"
	switch s.Ladder.Per {
	case policy.PerClass, policy.PerSlot:
		words += " in " + s.Scope
	case policy.PerDay:
		words = Ordinal(s.Count) + " day with a late"
	}
	if s.Ladder.Within != policy.Year {
		words += ", " + s.Period
	}
	return words
}
