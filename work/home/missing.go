package home

import (
	"cmp"
	"fmt"
	"slices"
	"strconv"

	"meldung/core/day"
	"meldung/core/followup"
	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
)

// Missing returns a student with what orders the calls about them, as known at a moment.
func Missing(v work.Snapshot, x *work.Day, s store.Student, m work.Moment) followup.Missing {
	year, _ := strconv.Atoi(s.Year) // one that is no number comes first, as the youngest
	out := followup.Missing{Student: s.ID, Name: s.Family + " " + s.Given, Year: year, Contacts: v.School.ContactsOf(s.ID), Answered: v.Answered(x, s.ID)}
	for _, w := range v.School.WarningsOf(s.ID) {
		out.Care = out.Care || w.CareFirst
	}
	for _, a := range Attempts(v, x, s.ID, m) {
		out.Attempts = append(out.Attempts, a.Attempt)
		if a.Outcome == followup.Spoke && a.Contact != 0 {
			out.Answered = a.Contact
		}
	}
	for _, h := range x.Holds {
		if Runs(h, m) && slices.Contains(h.Students, s.ID) {
			out.Holds = append(out.Holds, followup.Hold{Until: h.Until, Reason: h.Reason})
		}
	}
	return out
}

// Attempt is a call or text about a student, with what its list shows. Its id sets calls
// and texts apart: one call about siblings is shown once.
type Attempt struct {
	followup.Attempt
	ID   string
	Said string // the reason they gave, or what became of the text
	Note string
	By   string
	On   day.Date // on which it was made
}

// Attempts returns the calls and texts about a student that had been made by a moment, in
// time order; those about being fetched are not among them.
func Attempts(v work.Snapshot, x *work.Day, student ids.Student, m work.Moment) []Attempt {
	var out []Attempt
	for _, c := range x.Calls {
		if c.StudentID != student || c.FetchID != nil || !c.Stands(m.Known) || (c.Date == x.Date && c.Minute.After(m.Minute)) {
			continue
		}
		a := AttemptOf(c)
		a.On = c.Date
		if c.Date != v.Now.Date() {
			a.Next = day.Minute{} // it was for that day
		}
		out = append(out, a)
	}
	for _, msg := range x.Messages {
		if msg.Kind != work.ToHome || msg.ContactID == nil || !slices.Contains(msg.Students, student) || msg.Known > m.Known || msg.Minute.After(m.Minute) {
			continue
		}
		a := Attempt{Attempt: followup.Attempt{Contact: *msg.ContactID, Outcome: followup.Texted, At: msg.Minute, Next: msg.Minute.Add(x.Of(student).Settings.TryAgain)},
			ID: fmt.Sprint("text ", msg.ID), On: x.Date, Said: x.StateOfMessage(msg, m.Known), By: msg.By}
		if a.Said == work.Back {
			continue
		}
		if a.Said == work.Failed {
			a.Next = day.Minute{}
		}
		out = append(out, a)
	}
	slices.SortStableFunc(out, func(a, b Attempt) int { return cmp.Compare(day.At(a.On, a.At), day.At(b.On, b.At)) })
	return out
}

// AttemptOf is what a call comes to for the order of calls.
func AttemptOf(c store.Call) Attempt {
	a := Attempt{Attempt: followup.Attempt{Outcome: followup.Outcome(c.Outcome), At: c.Minute, Next: c.Next}, ID: fmt.Sprint("call ", c.ID), Said: c.Said, Note: c.Note, By: c.By}
	if c.ContactID != nil {
		a.Contact = *c.ContactID
	}
	return a
}
