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
		w := "in since " + p.Since.String()
		if p.NotSent.Name != "" {
			w += " · " + p.NotSent.Label() + " not sent"
		}
		return w
	case whereabouts.InLate:
		return "in, came " + p.Since.String()
	case whereabouts.Left:
		return Join(" · ", "left "+p.Since.String(), p.Reason, Until(p.Until))
	case whereabouts.Elsewhere, whereabouts.Explained:
		return Join(" · ", p.Reason, Until(p.Until))
	case whereabouts.Unaccounted:
		return missing(p)
	default:
		return p.State.String()
	}
}

// missing says what is known of a student who is unaccounted for.
func missing(p whereabouts.Position) string {
	switch {
	case p.Missed:
		return "not with " + p.Reason + " at " + p.Since.String()
	case p.OnSite && p.Slot.Name != "":
		return LastSeen(p.Last) + ", not in " + p.Slot.Label()
	case p.NotBack:
		return Join(" · ", "expected by "+p.Until.String(), p.Reason)
	case !p.Worried.IsZero():
		return Join(" · ", "worried for since "+p.Worried.String(), notSeen(p.Last))
	default:
		return "not in " + p.Slot.Label()
	}
}

// LastSeen says the last that shows where a student was: "seen 09:17, lesson 1".
func LastSeen(s whereabouts.Sighting) string {
	switch {
	case s.At.IsZero():
		return "not seen today"
	case s.Moved && s.Kind == whereabouts.Departed:
		return "signed out " + s.At.String()
	case s.Moved && s.Kind == whereabouts.Arrived && s.By == whereabouts.BySight:
		return "signed in " + s.At.String()
	default:
		return Join(", ", s.By.String()+" "+s.At.String(), slotLabel(s))
	}
}

func slotLabel(s whereabouts.Sighting) string {
	if s.Slot.Name == "" {
		return ""
	}
	return s.Slot.Label()
}

// notSeen says what there is of a student whom nobody has seen: "card used 09:10, not seen".
func notSeen(s whereabouts.Sighting) string {
	if s.At.IsZero() || s.By == whereabouts.BySight {
		return ""
	}
	return LastSeen(s) + ", not seen"
}

// Until says until when: "until 11:30"; empty where it is missing.
func Until(m day.Minute) string {
	if m.IsZero() {
		return ""
	}
	return "until " + m.String()
}
