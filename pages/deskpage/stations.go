package deskpage

import (
	"context"

	"meldung/core/ids"
	"meldung/held"
	"meldung/store"
	"meldung/work"
	"meldung/work/station"
)

// StationView is a station on the administrator's list.
type StationView struct {
	ID    ids.Station `json:"id"`
	Name  string      `json:"name"`
	State string      `json:"state" enum:"waiting,in use,code passed"`
	Since string      `json:"since" doc:"When its device was bound, or until when its code is taken"`
	Wrong int         `json:"wrong" doc:"Wrong numbers typed there"`
	By    string      `json:"by"`
}

// ShowStations lists the stations that are not out of use.
func ShowStations(ctx context.Context, o *work.Office) ([]StationView, error) {
	out := []StationView{}
	now := o.Now()
	all, err := store.Stations(ctx, o.Store().Read())
	for _, s := range all {
		if s.EndedBy != nil {
			continue
		}
		row := StationView{ID: s.ID, Name: s.Name, State: "waiting", Since: work.When(s.CodeUntil, now.Date()), Wrong: s.Wrong, By: s.By}
		switch {
		case s.Bound != nil:
			row.State, row.Since = "in use", work.When(*s.Bound, now.Date())
		case s.CodeUntil <= now:
			row.State = "code passed"
		}
		out = append(out, row)
	}
	return out, err
}

// StationPage is what a station shows while nobody stands before it.
type StationPage struct {
	ID     ids.Station `json:"id"`
	Name   string      `json:"name"`
	School string      `json:"school"`
	Arrive []string    `json:"arrive" doc:"Reasons offered to those who arrive"`
	Leave  []string    `json:"leave" doc:"Reasons offered to those who leave"`
	Now    string      `json:"now" doc:"The school's present minute"`
}

// ShowStation returns what a station shows.
func ShowStation(ctx context.Context, o *work.Office, token string) (StationPage, error) {
	s, err := station.InUse(ctx, o, token)
	if err != nil {
		return StationPage{}, err
	}
	settings := o.Settings()
	out := StationPage{ID: s.ID, Name: s.Name, School: settings.Name, Arrive: []string{}, Leave: []string{}, Now: o.Now().String()}
	for _, r := range settings.Offered() {
		if r.Arrive {
			out.Arrive = append(out.Arrive, r.Word)
		}
		if r.Leave && r.Word != held.NoReason {
			out.Leave = append(out.Leave, r.Word)
		}
	}
	return out, nil
}
