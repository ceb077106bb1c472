package todaypage

import "meldung/core/followup"

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
