package todaypage

import (
	"fmt"

	"meldung/core/followup"
	"meldung/core/whereabouts"
	"meldung/work"
)

// calm says what it means that nobody is on the call list. It calms only where that is true.
func calm(t TodayView, count whereabouts.Count) string {
	at := t.AsAt[len(t.AsAt)-len("15:04"):]
	missing, unknown := count[whereabouts.Unaccounted], count[whereabouts.NotYetKnown]
	switch {
	case t.Due == 0 && missing == 0 && !t.Past:
		return fmt.Sprintf("No register is due yet; nothing is known of %s at %s.", work.Count(unknown+count[whereabouts.NotDue], "student"), at)
	case unknown > 0 && missing > 0:
		return fmt.Sprintf("Nobody to ring yet: %d unaccounted for, and %d not yet known while %s out.", missing, unknown, registersAre(t))
	case unknown > 0:
		return fmt.Sprintf("Nobody to ring yet: %d not yet known while %s out.", unknown, registersAre(t))
	case missing > 0:
		return fmt.Sprintf("Nobody to ring; %d unaccounted for, above.", missing)
	case len(t.Registers) > 0:
		return fmt.Sprintf("Nobody is unaccounted for so far; %s out at %s.", registersAre(t), at)
	default:
		return fmt.Sprintf("Nobody is unaccounted for at %s.", at)
	}
}

// registersAre says how many registers are out: "2 registers are".
func registersAre(t TodayView) string {
	if len(t.Registers) == 0 {
		return "registers are"
	}
	if len(t.Registers) == 1 {
		return "1 register is"
	}
	return work.Count(len(t.Registers), "register") + " are"
}

// suggestText are the words to hold those by who share something.
func suggestText(t followup.Trait) string {
	if t.Kind == "ferry" {
		return "the " + t.Name + " is late"
	}
	return t.Name
}

// causeText say what some students share.
func causeText(t followup.Trait) string {
	switch t.Kind {
	case "ferry":
		return "come by the " + t.Name
	case "class":
		return "were last in " + t.Name
	case "home":
		return "are of the home of " + t.Name
	default:
		return "are in " + t.Name
	}
}
