package pages

import (
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
	"meldung/work/concerns"
	"meldung/work/lists"
	"meldung/work/trips"
)

// ListView is students under a name.
type ListView struct {
	ID       ids.StudentList `json:"id"`
	Name     string          `json:"name"`
	Own      bool            `json:"own" doc:"Of whoever looks, who may change it"`
	Shared   bool            `json:"shared" doc:"Others may use it too"`
	By       string          `json:"by" doc:"Whose it is"`
	Students []StudentRef    `json:"students" doc:"Those on the roll today, in the order in which they came on"`
	Gone     []StudentRef    `json:"gone" doc:"Those who are not on the roll today"`
}

// Group returns a group as GroupOf takes it, for somebody who may ask for it: a list and a choice of an
// own field as their students with their name, and every other as it is.
func Group(ctx context.Context, o *work.Office, p work.Person, group string) (string, error) {
	if trip, is := strings.CutPrefix(group, "trip:"); is {
		return tripGroup(ctx, o.Store().Read(), p, trip)
	}
	if rule, is := strings.CutPrefix(group, "concern:"); is {
		return concernGroup(ctx, o, p, rule)
	}
	if own, is := strings.CutPrefix(group, "own:"); is {
		return ownGroup(ctx, o.Store().Read(), p, own)
	}
	return lists.Group(ctx, o.Store().Read(), p, group)
}

// tripGroup returns those on a trip as a group, for who sees every trip.
func tripGroup(ctx context.Context, q store.Queryer, p work.Person, number string) (string, error) {
	id, err := strconv.ParseInt(number, 10, 64)
	if err != nil || !p.May(work.MaySeeAnyTrip) {
		return "", work.NotFoundf("there is no such trip")
	}
	a, err := store.ActivityWith(ctx, q, ids.Activity(id))
	if err != nil {
		return "", err
	}
	if a == nil {
		return "", work.NotFoundf("there is no such trip")
	}
	var students []string
	for _, s := range trips.Members(*a) {
		students = append(students, fmt.Sprint(s))
	}
	return "students:" + strings.Join(students, ",") + " " + a.Title, nil
}

// TripGroups offers the trips of a date and after it to who sees every trip.
func TripGroups(ctx context.Context, v work.Snapshot, p work.Person, d day.Date) ([]Choice, error) {
	out := []Choice{}
	if !p.May(work.MaySeeAnyTrip) {
		return out, nil
	}
	all, err := store.ActivitiesFrom(ctx, v.Store(), d, d)
	for _, a := range all {
		if len(trips.Members(a)) > 0 && a.EndedBy == nil {
			out = append(out, Choice{Value: fmt.Sprintf("trip:%d", a.ID), Label: a.Title + ", " + a.Date.Spoken(), Kind: "trip"})
		}
	}
	return out, err
}

// mayList reports whether somebody may have those whom a rule finds as a group.
func mayList(p work.Person, h concerns.HeldRule) bool {
	return p.May(work.MaySeeRule) && (p.May(work.MaySeeOutlook) || !concerns.GoesByOutlook(&h.Rule.Rule))
}

// heldRules are the rules that are on.
func heldRules(ctx context.Context, v work.Snapshot) ([]concerns.HeldRule, error) {
	policies, err := concerns.Policies(v)
	if err != nil {
		return nil, err
	}
	held, err := concerns.Rules(ctx, v.Store(), policies)
	return concerns.On(held), err
}

// concernGroup returns those whom a rule finds now as a group.
func concernGroup(ctx context.Context, o *work.Office, p work.Person, id string) (string, error) {
	var rule *concerns.HeldRule
	err := o.Read(ctx, func(v work.Snapshot) error {
		held, err := heldRules(ctx, v)
		for i := range held {
			if held[i].ID == id && mayList(p, held[i]) {
				rule = &held[i]
			}
		}
		return err
	})
	if err != nil {
		return "", err
	}
	if rule == nil {
		return "", work.NotFoundf("there is no rule %q that is on", id)
	}
	looks, err := concerns.LookNow(ctx, o)
	if err != nil {
		return "", err
	}
	var students []string
	for _, look := range looks {
		for student, f := range look.Found {
			if slices.ContainsFunc(f.Rules, func(r concerns.FoundRule) bool { return r.Rule == id }) {
				students = append(students, fmt.Sprint(student))
			}
		}
	}
	slices.Sort(students)
	return "students:" + strings.Join(students, ",") + " Found by " + rule.Title + " at " + o.Now().Minute().String() + ", " + o.Now().Date().Spoken(), nil
}

// ConcernGroups offers those whom each rule finds.
func ConcernGroups(ctx context.Context, v work.Snapshot, p work.Person) ([]Choice, error) {
	out := []Choice{}
	if !p.May(work.MaySeeRule) {
		return out, nil
	}
	held, err := heldRules(ctx, v)
	for _, h := range held {
		if mayList(p, h) {
			out = append(out, Choice{Value: "concern:" + h.ID, Label: h.Title, Kind: "concern"})
		}
	}
	return out, err
}

// Lists returns the lists that a person may use: the own, then those that others share.
func Lists(ctx context.Context, o *work.Office, p work.Person) ([]ListView, error) {
	out := []ListView{}
	err := o.Read(ctx, func(v work.Snapshot) error {
		all, err := lists.Of(ctx, v.Store(), p)
		if err != nil {
			return err
		}
		for _, l := range all {
			one := ListView{ID: l.List.ID, Name: l.List.Name, Own: l.Own, Shared: l.List.Shared, By: l.List.By, Students: []StudentRef{}, Gone: []StudentRef{}}
			for _, id := range l.Students {
				s := v.School.StudentOf(id)
				if ref := Student(v, s, v.On); s.EnrolledOn(v.On) {
					one.Students = append(one.Students, ref)
				} else {
					one.Gone = append(one.Gone, ref)
				}
			}
			out = append(out, one)
		}
		return nil
	})
	return out, err
}
