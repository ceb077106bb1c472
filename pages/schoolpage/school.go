// Package schoolpage holds the School page: what there is, and what is missing.
package schoolpage

import (
	"context"
	"fmt"

	"meldung/pages"
	"meldung/store"
	"meldung/work"
)

// SchoolView is the School page: what there is, and what is missing.
type SchoolView struct {
	Name      string             `json:"name"`
	Students  int                `json:"students"`
	Staff     int                `json:"staff"`
	Forms     int                `json:"forms"`
	Classes   int                `json:"classes"`
	Contacts  int                `json:"contacts"`
	Calendar  string             `json:"calendar" doc:"In words; empty while there is none"`
	NoContact []pages.StudentRef `json:"noContact" doc:"Students without a contact"`
	OfNobody  []string           `json:"ofNobody" doc:"Contacts of no student"`
	NoForm    []pages.StudentRef `json:"noForm" doc:"Students in no form today"`
	Accounts  []SchoolAccount    `json:"accounts"`
	People    []pages.StaffRef   `json:"people" doc:"Staff, for whom accounts can be made"`
}

// SchoolAccount is someone who can sign in.
type SchoolAccount struct {
	Username string `json:"username"`
	Name     string `json:"name"`
	Role     string `json:"role"`
}

// Show returns the School page.
func Show(ctx context.Context, o *work.Office) (SchoolView, error) {
	out := SchoolView{NoContact: []pages.StudentRef{}, OfNobody: []string{}, NoForm: []pages.StudentRef{}, Accounts: []SchoolAccount{}, People: []pages.StaffRef{}}
	accounts, err := store.Accounts(ctx, o.Store().Read())
	if err != nil {
		return out, err
	}
	for _, a := range accounts {
		out.Accounts = append(out.Accounts, SchoolAccount{a.Username, a.Name, a.Role})
	}
	today := o.Now().Date()
	return out, o.Read(ctx, func(v work.Snapshot) error {
		s := v.School
		out.Name = v.Settings.Name
		for _, st := range s.Students {
			if !st.EnrolledOn(today) {
				continue
			}
			out.Students++
			if len(s.ContactsOf(st.ID)) == 0 {
				out.NoContact = append(out.NoContact, pages.Student(v, st, today))
			}
			if s.Form(st.ID, today) == "" {
				out.NoForm = append(out.NoForm, pages.Student(v, st, today))
			}
		}
		for _, p := range s.Records().Rows.Staff {
			if !p.Ended {
				out.Staff++
				out.People = append(out.People, pages.StaffRef{ID: p.ID, Name: work.Join(" ", p.Given, p.Family)})
			}
		}
		for _, c := range s.Classes {
			switch {
			case c.Ended:
			case c.Form():
				out.Forms++
			default:
				out.Classes++
			}
		}
		for _, c := range s.Records().Rows.Contacts {
			if c.Ended {
				continue
			}
			out.Contacts++
			if len(s.StudentsOfContact(c.ID)) == 0 {
				out.OfNobody = append(out.OfNobody, work.Join(" · ", c.Name(), c.Phone))
			}
		}
		if s.Calendar != nil && s.Calendar.Days() > 0 {
			out.Calendar = fmt.Sprintf("%d school days from %s to %s", s.Calendar.Days(), s.Calendar.Day(0).Date.Spoken(), s.Calendar.Day(s.Calendar.Days()-1).Date.Spoken())
		}
		return nil
	})
}
