package held

import (
	"slices"
	"strings"

	"meldung/core/ids"
	"meldung/core/policy"
)

// ActionKind is what sort of thing an action is: by these a list of what is due is ordered.
type ActionKind string

// The kinds of action, in the order of a list.
var ActionKinds = []ActionKind{"letter", "call", "conversation", "referral", "detention", "placement", "conference", "other"}

// Action is something that a school does where a policy says that something is due.
type Action struct {
	Key     string       `json:"key" minLength:"1" maxLength:"40" doc:"By which a ladder names it"`
	Name    string       `json:"name" minLength:"1" maxLength:"60"`
	Kind    ActionKind   `json:"kind" enum:"letter,call,conversation,referral,detention,placement,conference,other"`
	Letter  ids.Template `json:"letter,omitempty" doc:"Of a letter: which; 0 for none yet"`
	Retired bool         `json:"retired,omitempty" doc:"Offered no more"`
}

// Followed is a policy whose lines and ladders a school acts on.
type Followed struct {
	Policy string `json:"policy" minLength:"1" maxLength:"60"`
	From   string `json:"from" minLength:"10" maxLength:"10" doc:"The date from which what falls due is to be done; what fell due before stands apart"`
}

// LineAction says which action a line of a policy asks for.
type LineAction struct {
	Policy string `json:"policy" maxLength:"60"`
	Line   string `json:"line" maxLength:"60" doc:"The id of the policy's trigger"`
	Action string `json:"action" maxLength:"40" doc:"The key of an action; empty for none: nothing is due there"`
}

// StepRules are what a school does about what its policies say is due.
type StepRules struct {
	Follows []Followed   `json:"follows,omitempty" maxItems:"20"`
	Actions []Action     `json:"actions,omitempty" maxItems:"60" doc:"None where they are the usual ones"`
	Lines   []LineAction `json:"lines,omitempty" maxItems:"200" doc:"Where a line asks for another action than a letter"`
	Address string       `json:"address,omitempty" maxLength:"300" doc:"The school's, in lines, on its letters"`
	Phone   string       `json:"phone,omitempty" maxLength:"40" doc:"To be called about a letter"`
}

// usualActions are what a school starts with (common practice, no source).
var usualActions = []Action{
	{Key: "letter", Name: "Letter home", Kind: "letter"},
	{Key: "contact-home", Name: "Call home", Kind: "call"},
	{Key: "word", Name: "Verbal warning", Kind: "conversation"},
	{Key: "year-lead", Name: "Meeting with the year lead", Kind: "referral"},
	{Key: "detention", Name: "Detention", Kind: "detention"},
	{Key: "placement", Name: "Placement", Kind: "placement"},
	{Key: "family-meeting", Name: "Meeting with the family", Kind: "conference"},
}

// lineAction is what a line asks for where the school says nothing else.
const lineAction = "letter"

// All returns the school's actions, or the usual ones.
func (r StepRules) All() []Action {
	if len(r.Actions) == 0 {
		return usualActions
	}
	return r.Actions
}

// Action returns the action with a key; one that the school does not know is of its own kind and
// named by the key.
func (r StepRules) Action(key string) Action {
	for _, list := range [][]Action{r.All(), usualActions} {
		if i := slices.IndexFunc(list, func(a Action) bool { return a.Key == key }); i >= 0 {
			return list[i]
		}
	}
	return Action{Key: key, Name: strings.ReplaceAll(key, "-", " "), Kind: "other"}
}

// OfLine returns the action that a policy's line asks for; ok is false where nothing is done there.
func (r StepRules) OfLine(policyID string, t *policy.Trigger) (a Action, ok bool) {
	for _, l := range r.Lines {
		if l.Policy == policyID && l.Line == t.ID {
			return r.Action(l.Action), l.Action != ""
		}
	}
	return r.Action(lineAction), true
}
