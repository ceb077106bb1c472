package pages

import (
	"meldung/core/day"
	"meldung/work"
	"meldung/work/home"
)

// AttemptView is a call or a text already made.
type AttemptView struct {
	At      string `json:"at"`
	Contact string `json:"contact"`
	Outcome string `json:"outcome" enum:"spoke,message,no answer,wrong number,text"`
	Said    string `json:"said" doc:"The reason they gave, or what became of the text"`
	Note    string `json:"note"`
	By      string `json:"by"`
}

// Attempt returns a call or text as pages show it.
func Attempt(v work.Snapshot, a home.Attempt) AttemptView {
	out := AttemptView{At: work.When(day.At(a.On, a.At), v.Now.Date()), Outcome: string(a.Outcome), Said: a.Said, Note: a.Note, By: a.By}
	if a.Contact != 0 {
		out.Contact = v.School.ContactOf(a.Contact).Name()
	}
	return out
}
