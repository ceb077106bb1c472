package todaypage

import (
	"fmt"
	"slices"

	"meldung/core/followup"
	"meldung/core/ids"
	"meldung/core/whereabouts"
	"meldung/work"
)

// CauseView is something that many of the missing share and few of those expected.
type CauseView struct {
	Key      string        `json:"key"`
	Text     string        `json:"text"`
	Shares   string        `json:"shares" doc:"The figures behind it"`
	Students []ids.Student `json:"students"`
	Suggest  string        `json:"suggest" doc:"The words to hold them by"`
}

// causes looks for what the students on the call list have in common. Those expected are
// all who are due and not known to be away.
func causes(v work.Snapshot, x *work.Day, missing []followup.Missing, positions map[ids.Student]whereabouts.Position) []CauseView {
	onList := map[ids.Student]bool{}
	for _, m := range missing {
		onList[m.Student] = true
	}
	var known []followup.Whereabouts
	for _, s := range x.Roll {
		switch positions[s.ID].State {
		case whereabouts.NotDue, whereabouts.Explained, whereabouts.NotYetKnown:
			continue
		}
		traits := []followup.Trait{{Kind: "ferry", Name: s.Travels}, {Kind: "form", Name: v.School.Form(s.ID, x.Date)}, {Kind: "class", Name: lastClassBefore(v.Of(s.ID), x, s.ID)}}
		if contacts := v.School.ContactsOf(s.ID); len(contacts) > 0 {
			traits = append(traits, followup.Trait{Kind: "home", Name: contacts[0].Name})
		}
		known = append(known, followup.Whereabouts{Student: s.ID, Missing: positions[s.ID].State == whereabouts.Unaccounted, Traits: traits})
	}
	out := []CauseView{}
	for _, c := range followup.SharedCauses(known) {
		listed := slices.DeleteFunc(c.Missing, func(s ids.Student) bool { return !onList[s] })
		if len(listed) == 0 {
			continue // none of them is to be rung
		}
		out = append(out, CauseView{Key: c.Kind + " " + c.Name, Text: fmt.Sprintf("%d of these %s", len(listed), causeText(c.Trait)),
			Shares: fmt.Sprintf("%d of %d such are missing, %d of %d others", c.With.Missing, c.With.Known, c.Without.Missing, c.Without.Known), Suggest: suggestText(c.Trait), Students: listed})
	}
	return out
}

// lastClassBefore names the class in which a student was last marked on the school day
// before; empty for none.
func lastClassBefore(v work.Section, x *work.Day, student ids.Student) string {
	on := x.Section(v.ID)
	d := on.Index - 1
	if !on.Open || v.Place(student) < 0 || d < 0 {
		return ""
	}
	slots := v.Calendar.Day(d).Pattern.Slots
	for pos := len(slots) - 1; pos >= 0; pos-- {
		if mark, marked := v.Ledger.Mark(v.Place(student), d, pos); marked && v.Ledger.Codes(d).Codes[mark.Code].OnSite {
			return mark.Class
		}
	}
	return ""
}
