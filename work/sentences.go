package work

import (
	"fmt"
	"strings"

	"meldung/core/day"
	"meldung/core/whereabouts"
)

// Join joins the parts that say something.
func Join(sep string, parts ...string) string {
	var kept []string
	for _, p := range parts {
		if p != "" {
			kept = append(kept, p)
		}
	}
	return strings.Join(kept, sep)
}

// Count says a number of things: "1 student", "13 students".
func Count(n int, thing string) string {
	if n != 1 {
		thing += "s"
	}
	return fmt.Sprint(n, " ", thing)
}

// When says when something was written, with the date where that is another.
func When(at day.Instant, today day.Date) string {
	if at.Date() == today {
		return at.Minute().String()
	}
	return at.Date().Spoken() + " " + at.Minute().String()
}

// By says who wrote something, after when: " by A. Holm"; empty for nobody.
func By(name string) string {
	if name == "" {
		return ""
	}
	return " by " + name
}

// Whereabouts says where a student is.
func Whereabouts(p whereabouts.Position) string {
	switch p.State {
	case whereabouts.In:
		return "in since " + p.Since.String()
	case whereabouts.InLate:
		return "in, came " + p.Since.String()
	case whereabouts.Left:
		return Join(" · ", "left "+p.Since.String(), p.Reason, Until(p.Until))
	case whereabouts.Elsewhere, whereabouts.Explained:
		return Join(" · ", p.Reason, Until(p.Until))
	case whereabouts.Unaccounted:
		switch {
		case p.OnSite:
			return "seen " + p.Since.String() + ", not in " + p.Slot.Label()
		case p.NotBack:
			return Join(" · ", "expected by "+p.Until.String(), p.Reason)
		default:
			return "not in " + p.Slot.Label()
		}
	default:
		return p.State.String()
	}
}

// Until says until when: "until 11:30"; empty where it is missing.
func Until(m day.Minute) string {
	if m.IsZero() {
		return ""
	}
	return "until " + m.String()
}
