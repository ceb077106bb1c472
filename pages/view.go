// Package pages holds what several pages show: students, contacts, figures and what is due,
// made from a snapshot of the school, and their sentences. The packages below it hold a page
// or a place each. They must not write.
package pages

import (
	"context"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/followup"
	"meldung/core/ids"
	"meldung/core/whereabouts"
	"meldung/store"
	"meldung/work"
)

// Place is where a student is, for a page.
type Place struct {
	State   string `json:"state" enum:"in,late,left,elsewhere,explained,not-due,not-yet-known,unaccounted"`
	Text    string `json:"text"`
	OnSite  bool   `json:"onSite" doc:"Unaccounted for and seen on site: search first"`
	NotBack bool   `json:"notBack" doc:"An expected return has passed"`
	Worried string `json:"worried" doc:"Since when a home believes them to be at school and nobody has seen them; empty for not"`
	Last    string `json:"last" doc:"The last that shows where they were; empty where the text says it"`
}

// StudentRef is enough of a student to name and find them.
type StudentRef struct {
	ID      ids.Student `json:"id"`
	Name    string      `json:"name"`
	Given   string      `json:"given"`
	Sorted  string      `json:"sorted" doc:"Family, Given"`
	Number  string      `json:"number"`
	Form    string      `json:"form"`
	Year    string      `json:"year"`
	Section string      `json:"section" doc:"The section by name; empty where the school has one"`
}

// ContactRef is a contact in a student's call order.
type ContactRef struct {
	ID         ids.Contact `json:"id"`
	Order      int         `json:"order"`
	Name       string      `json:"name"`
	Relation   string      `json:"relation"`
	Phone      string      `json:"phone" doc:"Exactly as given"`
	MayCollect bool        `json:"mayCollect"`
	LivesWith  bool        `json:"livesWith"`
	DoNotCall  bool        `json:"doNotCall"`
}

// ContactNow is a contact's name and numbers apart, for changing them.
type ContactNow struct {
	ID       ids.Contact `json:"id"`
	Given    string      `json:"given"`
	Family   string      `json:"family"`
	SMS      string      `json:"sms" doc:"Number for texts, where it is another"`
	EMail    string      `json:"email"`
	Address  string      `json:"address" doc:"Where letters go, in lines"`
	Language string      `json:"language" doc:"Of letters; empty for the school's own"`
	Shared   string      `json:"shared" doc:"The other students whose contact they are; empty for none"`
}

// ContactsNow returns a student's contacts as they can be changed.
func ContactsNow(v work.Snapshot, student ids.Student) []ContactNow {
	out := []ContactNow{}
	for _, c := range v.School.ContactsOf(student) {
		x := v.School.ContactOf(c.ID)
		one := ContactNow{ID: c.ID, Given: x.Given, Family: x.Family, SMS: x.SMS, EMail: x.Email, Address: x.Address, Language: x.Language}
		var others []ids.Student
		for _, s := range v.School.StudentsOfContact(c.ID) {
			if s != student {
				others = append(others, s)
			}
		}
		if len(others) > 0 {
			one.Shared = v.School.Names(others)
		}
		out = append(out, one)
	}
	return out
}

// WarningNow is a warning as it can be changed.
type WarningNow struct {
	ID        ids.Warning `json:"id"`
	Text      string      `json:"text"`
	CareFirst bool        `json:"careFirst" doc:"The student is rung about first"`
	Document  string      `json:"document" doc:"The name of what it goes by; empty for none"`
	Changed   string      `json:"changed" doc:"What was last changed here, by whom and when; empty where it is as the roster brought it"`
}

// WarningsNow returns a student's warnings as they can be changed.
func WarningsNow(ctx context.Context, v work.Snapshot, student ids.Student) ([]WarningNow, error) {
	changed, err := store.WarningChangesOf(ctx, v.Store(), student)
	if err != nil {
		return nil, err
	}
	out := []WarningNow{}
	for _, w := range v.School.WarningsOf(student) {
		one := WarningNow{ID: w.ID, Text: w.Text, CareFirst: w.CareFirst, Document: w.Document}
		if i := slices.IndexFunc(changed, func(x store.WarningChange) bool { return x.WarningID == w.ID && x.TakenBy == nil }); i >= 0 {
			one.Changed = work.Join(", ", strings.TrimPrefix(changed[i].Text, w.Text+": "), changed[i].By, changed[i].Known.Date().Spoken())
		}
		out = append(out, one)
	}
	return out, nil
}

// Contacts returns contacts as pages show them.
func Contacts(list []followup.Contact) []ContactRef {
	out := make([]ContactRef, len(list))
	for i, c := range list {
		out[i] = ContactRef(c)
	}
	return out
}

// Student returns a student as pages name them on a date.
func Student(v work.Snapshot, s store.Student, d day.Date) StudentRef {
	return StudentRef{ID: s.ID, Name: s.Name(), Given: s.Given, Sorted: s.Family + ", " + s.Given, Number: s.Number, Form: v.School.Form(s.ID, d), Year: s.Year, Section: v.Among(s.Section)}
}

// PlaceOf returns where a student is as pages show it.
func PlaceOf(p whereabouts.Position) Place {
	out := Place{State: p.State.Slug(), Text: work.Whereabouts(p), OnSite: p.OnSite, NotBack: p.NotBack}
	if !p.Worried.IsZero() {
		out.Worried = p.Worried.String()
	}
	if p.OnPremises() && !p.OnSite && p.Last.At != p.Since {
		out.Last = "last " + work.LastSeen(p.Last)
	}
	return out
}

// Warnings returns what to know when dealing with a student.
func Warnings(list []store.Warning) []string {
	out := make([]string, len(list))
	for i, w := range list {
		out[i] = w.Text
	}
	return out
}

// Choice is something that a list offers.
type Choice struct {
	Value string `json:"value"`
	Label string `json:"label"`
	Kind  string `json:"kind"`
}

// StaffRef is a member of staff.
type StaffRef struct {
	ID   ids.Staff `json:"id"`
	Name string    `json:"name"`
}

// SlotRef is a slot on a list.
type SlotRef struct {
	Name  string `json:"name"`
	Label string `json:"label"`
}

// RecentMark is how a student's earlier slot went, for the strip of shapes.
type RecentMark struct {
	Date  string `json:"date"`
	Slot  string `json:"slot"`
	Code  string `json:"code"`
	State string `json:"state"`
}
