package pages

import (
	"fmt"
	"strings"
	"unicode/utf8"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/policy"
)

// TitleOr returns a title; the id where there is none.
func TitleOr(title, id string) string {
	if title != "" {
		return title
	}
	return id
}

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

// Amount says a count of a trigger: "31 h 15 min", "3 days", "1 late".
func Amount(c policy.Count, n int) string {
	switch {
	case c == policy.CountMinutes:
		return BareAmount(c, n)
	case n == 1:
		return "1 " + strings.TrimSuffix(c.String(), "s")
	default:
		return BareAmount(c, n) + " " + c.String()
	}
}

// BareAmount says a count without its unit, unless that is time.
func BareAmount(c policy.Count, n int) string {
	if c == policy.CountMinutes {
		return day.Duration(n)
	}
	return fmt.Sprint(n)
}

// Window says over what a trigger counts.
func Window(w policy.Window) string {
	switch w.Kind {
	case policy.Term:
		return "in the term"
	case policy.GradingPeriod:
		return "in the grading period"
	case policy.Month:
		return "in the month"
	case policy.FourWeeks:
		return "in the school month of four weeks"
	case policy.RollingWeeks:
		return fmt.Sprintf("in %d school weeks", w.N)
	case policy.RollingDays:
		return fmt.Sprintf("in %d school days", w.N)
	case policy.Run:
		return "in a run"
	default:
		return "in the year"
	}
}

// lateText says which late makes a step due: "4th late in geography, Quarter 3".
func lateText(s absence.StepDue) string {
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

func actionText(do []string) string {
	words := strings.ReplaceAll(strings.Join(do, ", "), "-", " ")
	_, size := utf8.DecodeRuneInString(words)
	return strings.ToUpper(words[:size]) + words[size:]
}
