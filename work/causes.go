package work

import (
	"fmt"
	"strconv"

	"meldung/core/followup"
	"meldung/core/whereabouts"
)

// CauseView is something that many of the missing share and few of those expected.
type CauseView struct {
	Key      string  `json:"key"`
	Words    string  `json:"words"`
	Shares   string  `json:"shares" doc:"The figures behind it"`
	Students []int64 `json:"students"`
	Suggest  string  `json:"suggest" doc:"The words to hold them by"`
}

// causes looks for what the students on the call list have in common. Those expected are
// all who are due and not known to be away.
func (v view) causes(x *Day, missing []followup.Missing, positions map[int64]whereabouts.Position) []CauseView {
	onList := map[string]bool{}
	for _, m := range missing {
		onList[m.Student] = true
	}
	var expected []followup.Expected
	for _, s := range x.Roll {
		switch positions[s.ID].State {
		case whereabouts.NotDue, whereabouts.Explained, whereabouts.Elsewhere:
			continue
		}
		id := strconv.FormatInt(s.ID, 10)
		traits := []followup.Trait{{Kind: "ferry", Name: s.Travels}, {Kind: "form", Name: v.school.Form(s.ID, x.Date)}, {Kind: "class", Name: v.lastClassBefore(x, s.ID)}}
		if contacts := v.school.ContactsOf(s.ID); len(contacts) > 0 {
			traits = append(traits, followup.Trait{Kind: "home", Name: contacts[0].Name})
		}
		expected = append(expected, followup.Expected{Student: id, Missing: onList[id], Traits: traits})
	}
	out := []CauseView{}
	for _, c := range followup.SharedCauses(expected) {
		cause := CauseView{Key: c.Kind + " " + c.Name, Words: fmt.Sprintf("%d of these %s", len(c.Missing), causeWords(c.Trait)),
			Shares: fmt.Sprintf("%d of %d on this list, %d of %d expected", len(c.Missing), len(missing), c.Expected, len(expected)), Suggest: suggestWords(c.Trait)}
		for _, s := range c.Missing {
			id, _ := strconv.ParseInt(s, 10, 64)
			cause.Students = append(cause.Students, id)
		}
		out = append(out, cause)
	}
	return out
}

func suggestWords(t followup.Trait) string {
	if t.Kind == "ferry" {
		return "the " + t.Name + " is late"
	}
	return t.Name
}

func causeWords(t followup.Trait) string {
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

// lastClassBefore names the class in which a student was last marked on the school day
// before; empty for none.
func (v view) lastClassBefore(x *Day, student int64) string {
	d := x.Index - 1
	if !x.Open || v.o.ledger == nil || d < 0 {
		return ""
	}
	slots := v.school.Calendar.Day(d).Pattern.Slots
	for pos := len(slots) - 1; pos >= 0; pos-- {
		if mark, marked := v.o.ledger.Mark(v.school.placeOf[student], d, pos); marked && v.codes.Codes[mark.Code].OnSite {
			return mark.Class
		}
	}
	return ""
}
