package pages

import (
	"cmp"
	"context"
	"slices"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
	"meldung/work/trips"
)

// TripLine is a trip on a list.
type TripLine struct {
	ID       ids.Activity `json:"id"`
	Title    string       `json:"title"`
	Place    string       `json:"place"`
	Day      string       `json:"day" doc:"The date in words; two where it ends on another"`
	Date     string       `json:"date"`
	Last     string       `json:"last" doc:"The date on which it ends"`
	From     string       `json:"from"`
	To       string       `json:"to"`
	Leader   string       `json:"leader"`
	Phone    string       `json:"phone"`
	State    string       `json:"state" enum:"to come,out,not back,back,cancelled"`
	Text     string       `json:"text" doc:"How it stands, in words"`
	Students int          `json:"students"`
	There    int          `json:"there" doc:"Whom the leader has with them"`
	Missing  []string     `json:"missing" doc:"Who is not with the others, by name"`
	Mine     bool         `json:"mine" doc:"One may take its register"`
}

// Trip returns a trip as lists show it at an instant.
func Trip(v work.Snapshot, a store.Activity, p work.Person, grace day.Minutes, now day.Instant) TripLine {
	out := TripLine{ID: a.ID, Title: a.Title, Place: a.Place, Date: a.Date.String(), Last: a.Last().String(), Day: a.Date.Spoken(), From: a.From.String(), To: a.To.String(), Leader: a.Leader, Phone: a.Phone, Missing: []string{}, Mine: trips.Leads(p, a)}
	if a.Last() != a.Date {
		out.Day += " to " + a.Last().Spoken()
	}
	members := trips.Members(a)
	out.Students = len(members)
	for _, s := range members {
		switch said, _ := trips.StandingOf(a, s); said {
		case trips.Here:
			out.There++
		case trips.Missing:
			out.Missing = append(out.Missing, v.School.StudentOf(s).Name())
		}
	}
	out.State, out.Text = tripState(a, grace, now)
	return out
}

func tripState(a store.Activity, grace day.Minutes, now day.Instant) (state, text string) {
	switch back := a.Back(); {
	case a.EndedBy != nil:
		return "cancelled", "does not take place"
	case back != nil && back.Home:
		return "back", work.Join(", ", "gone home from there "+work.When(day.At(back.Date, back.Minute), now.Date())+work.By(back.By), back.Note)
	case back != nil:
		return "back", work.Join(", ", "back "+work.When(day.At(back.Date, back.Minute), now.Date())+work.By(back.By), back.Note)
	case now < day.At(a.Date, a.From):
		return "to come", "begins " + work.When(day.At(a.Date, a.From), now.Date())
	case a.Returns && now > day.At(a.Last(), a.To.Add(grace)):
		return "not back", "should have been back " + work.When(day.At(a.Last(), a.To), now.Date())
	case !a.Returns && now >= day.At(a.Last(), a.To):
		return "back", "ended " + work.When(day.At(a.Last(), a.To), now.Date()) + ", gone home from there"
	case a.Returns:
		return "out", "back by " + work.When(day.At(a.Last(), a.To), now.Date())
	}
	return "out", "ends " + work.When(day.At(a.Last(), a.To), now.Date())
}

// TripsNow returns the trips of today and to come, and those that should be back: to a teacher those
// that they lead.
func TripsNow(ctx context.Context, v work.Snapshot, p work.Person) ([]TripLine, error) {
	began, ok, err := store.Began(ctx, v.Store())
	if err != nil {
		return nil, err
	}
	if !ok {
		began = v.On
	}
	list, err := store.ActivitiesFrom(ctx, v.Store(), v.On, began)
	if err != nil {
		return nil, err
	}
	x, err := v.Day(ctx, v.On)
	if err != nil {
		return nil, err
	}
	var out []TripLine
	for _, a := range list {
		if !a.OnSite && (p.May(work.MaySeeAnyTrip) || trips.Leads(p, a)) {
			out = append(out, Trip(v, a, p, ReturnGrace(x), v.Now))
		}
	}
	slices.SortStableFunc(out, func(a, b TripLine) int { return cmp.Compare(tripOrder[a.State], tripOrder[b.State]) })
	return out, nil
}

// tripOrder has those that should be back first, and what is over last.
var tripOrder = map[string]int{"not back": 0, "out": 1, "to come": 2, "back": 3, "cancelled": 4}

// ReturnGrace is how many minutes after its end a trip is not back: the first section's.
func ReturnGrace(x *work.Day) day.Minutes { return x.Sections[0].Settings.ReturnGrace }
