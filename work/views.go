package work

import (
	"strings"

	"meldung/core/day"
	"meldung/core/followup"
	"meldung/core/whereabouts"
	"meldung/store"
)

// Place is where a student is, for a page.
type Place struct {
	State   string `json:"state" enum:"in,late,left,elsewhere,explained,not-due,not-yet-known,unaccounted"`
	Words   string `json:"words"`
	OnSite  bool   `json:"onSite" doc:"Unaccounted for and seen on site: search first"`
	NotBack bool   `json:"notBack" doc:"An expected return has passed"`
}

// StudentRef is enough of a student to name and find them.
type StudentRef struct {
	ID     int64  `json:"id"`
	Name   string `json:"name"`
	Given  string `json:"given"`
	Sorted string `json:"sorted" doc:"Family, Given"`
	Number string `json:"number"`
	Form   string `json:"form"`
	Year   string `json:"year"`
}

// ContactRef is a contact in a student's call order.
type ContactRef struct {
	ID         int64  `json:"id"`
	Order      int    `json:"order"`
	Name       string `json:"name"`
	Relation   string `json:"relation"`
	Phone      string `json:"phone" doc:"Exactly as given"`
	MayCollect bool   `json:"mayCollect"`
	LivesWith  bool   `json:"livesWith"`
	DoNotCall  bool   `json:"doNotCall"`
}

func contactRefs(list []followup.Contact) []ContactRef {
	out := make([]ContactRef, len(list))
	for i, c := range list {
		out[i] = ContactRef(c)
	}
	return out
}

func (v view) ref(s store.Student, d day.Date) StudentRef {
	return StudentRef{ID: s.ID, Name: s.Name(), Given: s.Given, Sorted: s.Family + ", " + s.Given, Number: s.Number, Form: v.school.Form(s.ID, d), Year: s.Year}
}

// place says in words where a student is.
func placeOf(p whereabouts.Position) Place {
	out := Place{State: p.State.Slug(), OnSite: p.OnSite, NotBack: p.NotBack}
	switch p.State {
	case whereabouts.In:
		out.Words = "in since " + p.Since.String()
	case whereabouts.InLate:
		out.Words = "in, came " + p.Since.String()
	case whereabouts.Left:
		out.Words = join(" · ", "left "+p.Since.String(), p.Reason, back(p.Until))
	case whereabouts.Elsewhere, whereabouts.Explained:
		out.Words = join(" · ", p.Reason, back(p.Until))
	case whereabouts.Unaccounted:
		switch {
		case p.OnSite:
			out.Words = "seen " + p.Since.String() + ", not in " + p.Slot.Words()
		case p.NotBack:
			out.Words = join(" · ", "expected by "+p.Until.String(), p.Reason)
		default:
			out.Words = "not in " + p.Slot.Words()
		}
	default:
		out.Words = p.State.String()
	}
	return out
}

func back(m day.Minute) string {
	if m < 0 {
		return ""
	}
	return "until " + m.String()
}

func join(sep string, parts ...string) string {
	var kept []string
	for _, p := range parts {
		if p != "" {
			kept = append(kept, p)
		}
	}
	return strings.Join(kept, sep)
}

func (v view) position(x *Day, student int64, m Moment) whereabouts.Position {
	e := x.Evidence[student]
	if e == nil {
		return whereabouts.Position{State: whereabouts.NotDue, Since: -1, Until: -1}
	}
	return whereabouts.At(*e, v.rules(), m.Minute, m.Known)
}

func warningWords(list []store.Warning) []string {
	out := make([]string, len(list))
	for i, w := range list {
		out[i] = w.Words
	}
	return out
}
