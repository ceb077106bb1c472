package work

import (
	"context"
	"fmt"

	"meldung/core/day"
	"meldung/store"
)

func dayRow(d store.CalendarDay) day.Row {
	return day.Row{Date: d.Date, Pattern: d.Pattern, Term: d.Term, GradingPeriod: d.GradingPeriod}
}

// SchoolView is the School page: what there is, and what is missing.
type SchoolView struct {
	Name      string          `json:"name"`
	Students  int             `json:"students"`
	Staff     int             `json:"staff"`
	Forms     int             `json:"forms"`
	Classes   int             `json:"classes"`
	Contacts  int             `json:"contacts"`
	Calendar  string          `json:"calendar" doc:"In words; empty while there is none"`
	NoContact []StudentRef    `json:"noContact" doc:"Students without a contact"`
	OfNobody  []string        `json:"ofNobody" doc:"Contacts of no student"`
	NoForm    []StudentRef    `json:"noForm" doc:"Students in no form today"`
	Accounts  []SchoolAccount `json:"accounts"`
	People    []StaffRef      `json:"people" doc:"Staff, for whom accounts can be made"`
}

// StaffRef is a member of staff.
type StaffRef struct {
	ID   int64  `json:"id"`
	Name string `json:"name"`
}

// SchoolAccount is someone who can sign in.
type SchoolAccount struct {
	Username string `json:"username"`
	Name     string `json:"name"`
	Role     string `json:"role"`
}

// Overview returns the School page.
func (o *Office) Overview(ctx context.Context) (SchoolView, error) {
	out := SchoolView{NoContact: []StudentRef{}, OfNobody: []string{}, NoForm: []StudentRef{}, Accounts: []SchoolAccount{}, People: []StaffRef{}}
	accounts, err := store.Accounts(ctx, o.store.Read())
	if err != nil {
		return out, err
	}
	for _, a := range accounts {
		out.Accounts = append(out.Accounts, SchoolAccount{a.Username, a.Name, a.Role})
	}
	today := o.clock.Now().Date()
	return out, o.look(func(v view) error {
		s := v.school
		out.Name = v.settings.Name
		for _, st := range s.Students {
			if !st.EnrolledOn(today) {
				continue
			}
			out.Students++
			if len(s.ContactsOf(st.ID)) == 0 {
				out.NoContact = append(out.NoContact, v.ref(st, today))
			}
			if s.Form(st.ID, today) == "" {
				out.NoForm = append(out.NoForm, v.ref(st, today))
			}
		}
		for _, p := range s.raw.Staff {
			if !p.Ended {
				out.Staff++
				out.People = append(out.People, StaffRef{p.ID, join(" ", p.Given, p.Family)})
			}
		}
		for _, c := range s.raw.Classes {
			switch {
			case c.Ended:
			case c.Form():
				out.Forms++
			default:
				out.Classes++
			}
		}
		for _, c := range s.raw.Contacts {
			if c.Ended {
				continue
			}
			out.Contacts++
			if len(s.ofContact[c.ID]) == 0 {
				out.OfNobody = append(out.OfNobody, join(" · ", c.Name(), c.Phone))
			}
		}
		if s.Calendar != nil && s.Calendar.Days() > 0 {
			out.Calendar = fmt.Sprintf("%d school days from %s to %s", s.Calendar.Days(), s.Calendar.Day(0).Date.Words(), s.Calendar.Day(s.Calendar.Days()-1).Date.Words())
		}
		return nil
	})
}
