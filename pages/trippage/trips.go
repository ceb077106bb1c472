// Package trippage holds what is shown of trips: those of today and to come, and one with who is on it,
// who is with the others and who is not.
package trippage

import (
	"cmp"
	"context"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
	"meldung/work/trips"
)

// TripsView is the trips that concern today, and those to come.
type TripsView struct {
	Today  string           `json:"today" doc:"The date: YYYY-MM-DD"`
	Trips  []pages.TripLine `json:"trips" doc:"Those that should be back first, then by when they begin"`
	Groups []pages.Choice   `json:"groups" doc:"Years, forms and classes whose students can be put on a trip; none for who may plan none"`
	Staff  []pages.StaffRef `json:"staff" doc:"Who may lead one"`
}

// ShowAll lists trips: to a teacher those that they lead.
func ShowAll(ctx context.Context, o *work.Office, p work.Person) (TripsView, error) {
	out := TripsView{Trips: []pages.TripLine{}, Groups: []pages.Choice{}, Staff: []pages.StaffRef{}}
	err := o.Read(ctx, func(v work.Snapshot) error {
		out.Today = v.On.String()
		list, err := pages.TripsNow(ctx, v, p)
		if err != nil {
			return err
		}
		out.Trips = append(out.Trips, list...)
		if !p.May(work.MayPlanTrip) {
			return nil
		}
		out.Groups = pages.GroupChoices(v, nil)
		for _, s := range v.School.Records().Rows.Staff {
			if !s.Ended {
				out.Staff = append(out.Staff, pages.StaffRef{ID: s.ID, Name: s.Family + ", " + s.Given})
			}
		}
		slices.SortFunc(out.Staff, func(a, b pages.StaffRef) int { return strings.Compare(a.Name, b.Name) })
		return nil
	})
	return out, err
}

// MemberView is a student on a trip.
type MemberView struct {
	Student  pages.StudentRef `json:"student"`
	Said     string           `json:"said" enum:",here,missing" doc:"What the leader says; empty for nothing"`
	At       string           `json:"at" doc:"When that was said"`
	By       string           `json:"by"`
	Place    pages.Place      `json:"place" doc:"Where the student is now"`
	Warnings []string         `json:"warnings"`
}

// TripView is one trip.
type TripView struct {
	pages.TripLine
	ToDate   string        `json:"toDate"`
	Home     bool          `json:"home" doc:"They go home from where it is"`
	LeaderID ids.Staff     `json:"leaderId" doc:"0 for nobody of the staff"`
	Members  []MemberView  `json:"members" doc:"By form and name"`
	MayEdit  bool          `json:"mayEdit"`
	Marking  bool          `json:"marking" doc:"Its register can be taken now"`
	Phones   []MemberPhone `json:"phones" doc:"Whom to ring of each student: for who may see contacts, and for the leader while they are away"`
}

// MemberPhone is the first contact of a student on a trip.
type MemberPhone struct {
	Student ids.Student `json:"student"`
	Name    string      `json:"name"`
	Phone   string      `json:"phone"`
}

// Show returns one trip: to a teacher one that they lead.
func Show(ctx context.Context, o *work.Office, p work.Person, id ids.Activity) (TripView, error) {
	out := TripView{Members: []MemberView{}, Phones: []MemberPhone{}}
	m, err := o.Moment("")
	if err != nil {
		return out, err
	}
	err = o.ReadDay(ctx, m, func(v work.Snapshot, x *work.Day) error {
		a, err := store.ActivityWith(ctx, v.Store(), id)
		if err != nil {
			return err
		}
		if a == nil || a.OnSite || (!p.May(work.MaySeeAnyTrip) && !trips.Leads(p, *a)) {
			return work.NotFoundf("there is no such trip among yours")
		}
		out.TripLine = pages.Trip(v, *a, p, pages.ReturnGrace(x), v.Now)
		out.ToDate, out.Home, out.MayEdit = "", !a.Returns, p.May(work.MayChangeTrip) && (out.State == "to come" || out.State == "out" || out.State == "not back")
		out.Marking = out.Mine && out.MayMark(*a, v.Now)
		if a.ToDate != nil {
			out.ToDate = a.ToDate.String()
		}
		if a.LeaderID != nil {
			out.LeaderID = *a.LeaderID
		}
		for _, s := range trips.Members(*a) {
			student := v.School.StudentOf(s)
			one := MemberView{Student: pages.Student(v, student, m.Date), Place: pages.PlaceOf(v.Position(x, s, m)), Warnings: pages.Warnings(v.School.WarningsOf(s))}
			if said, mark := trips.StandingOf(*a, s); mark != nil {
				one.Said, one.At, one.By = said, work.When(day.At(mark.Date, mark.Minute), m.Date), mark.By
			}
			out.Members = append(out.Members, one)
			if away := out.State == "out" || out.State == "not back"; !p.May(work.MaySeeContacts) && !(out.Mine && away) {
				continue
			}
			for _, c := range v.School.ContactsOf(s) {
				if !c.DoNotCall {
					out.Phones = append(out.Phones, MemberPhone{s, work.Join(", ", c.Name, c.Relation), c.Phone})
					break
				}
			}
		}
		slices.SortStableFunc(out.Members, func(a, b MemberView) int {
			return cmp.Or(pages.ByNumber(a.Student.Form, b.Student.Form), strings.Compare(a.Student.Sorted, b.Student.Sorted))
		})
		return nil
	})
	return out, err
}

// MayMark reports whether the register of a trip can be taken at an instant.
func (t TripView) MayMark(a store.Activity, now day.Instant) bool {
	return t.State != "cancelled" && t.State != "back" && now >= day.At(a.Date, a.From.Add(-trips.Earliest))
}

// Group returns the students of a year, a class or a list today, to be put on a trip.
func Group(ctx context.Context, o *work.Office, group string) ([]pages.StudentRef, error) {
	out := []pages.StudentRef{}
	if group == "" {
		return out, work.Wrongf("say which group goes")
	}
	err := o.Read(ctx, func(v work.Snapshot) error {
		students, _, err := pages.GroupOf(v, nil, v.On, group)
		for _, s := range students {
			out = append(out, pages.Student(v, s, v.On))
		}
		return err
	})
	return out, err
}
