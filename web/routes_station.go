package web

import (
	"context"
	"fmt"
	"net/http"

	"meldung/core/ids"
	"meldung/pages/deskpage"
	"meldung/work"
	"meldung/work/station"
)

const stationCookie = "meldung-station"

// OnStation is a request of a station, known by its cookie alone.
type OnStation struct {
	Station string `cookie:"meldung-station" maxLength:"64"`
}

func (s *server) stationRoutes() {
	get(s, work.MaySeeStations, "/stations", "Devices that students sign in and out on", func(ctx context.Context, _ *struct{}) (*body[[]deskpage.StationView], error) {
		return answer(deskpage.ShowStations(ctx, s.office))
	})
	post(s, work.MayAddStation, "/stations", "Name a station and get its code", func(ctx context.Context, in *Keyed[station.NewStation]) (*body[station.StationCode], error) {
		return answer(station.Add(ctx, s.office, person(ctx), in.Body))
	})
	post(s, work.MayEndStation, "/stations/{id}/end", "Take a station out of use", func(ctx context.Context, in *KeyedByID[ids.Station]) (*body[work.Receipt], error) {
		return answer(station.End(ctx, s.office, person(ctx), in.Key, in.ID))
	})
	type bound struct {
		SetCookie http.Cookie `header:"Set-Cookie"`
		Body      deskpage.StationPage
	}
	post(s, work.MayBindStation, "/station/bind", "Make this device a station", func(ctx context.Context, in *struct {
		Body struct {
			Code string `json:"code" maxLength:"20"`
		}
	}) (*bound, error) {
		token, err := limited(ctx, work.Refused, func() (string, error) { return station.Bind(ctx, s.office, in.Body.Code) },
			reservation{s.binders, callerOf(ctx).address, false})
		if err != nil {
			return nil, err
		}
		page, err := deskpage.ShowStation(ctx, s.office, token)
		if err != nil {
			return nil, problem(err)
		}
		const year = 365 * 24 * 3600
		return &bound{http.Cookie{Name: stationCookie, Value: token, Path: "/api/station", MaxAge: year, HttpOnly: true, SameSite: http.SameSiteStrictMode, Secure: s.options.Secure}, page}, nil
	})
	get(s, work.MaySeeStation, "/station", "What a station shows", func(ctx context.Context, in *OnStation) (*body[deskpage.StationPage], error) {
		return answer(deskpage.ShowStation(ctx, s.office, in.Station))
	})
	post(s, work.MayAskStation, "/station/who", "Who stands before a station", func(ctx context.Context, in *struct {
		OnStation
		Body struct {
			Number string `json:"number" maxLength:"60"`
		}
	}) (*body[station.StationStudent], error) {
		return tryAtStation(ctx, s, in.Station, in.Body.Number, func() (station.StationStudent, error) {
			return station.Ask(ctx, s.office, in.Station, in.Body.Number)
		})
	})
	post(s, work.MayMoveAtStation, "/station/moves", "Sign in or out at a station", func(ctx context.Context, in *struct {
		OnStation
		Keyed[station.StationMove]
	}) (*body[station.StationReceipt], error) {
		return tryAtStation(ctx, s, in.Station, in.Body.Number, func() (station.StationReceipt, error) {
			return station.Move(ctx, s.office, in.Station, in.Key, in.Body)
		})
	})
}

// tryAtStation lets a station try a number, and makes it wait after wrong ones. A right
// number ends the waiting, but not the same one twice in a row: nobody guesses on with
// their own card in between.
func tryAtStation[T any](ctx context.Context, s *server, token, number string, try func() (T, error)) (*body[T], error) {
	page, err := deskpage.ShowStation(ctx, s.office, token)
	if err != nil {
		return nil, problem(err)
	}
	name := fmt.Sprint(page.ID)
	last, _ := s.lastRight.Load(name)
	out, err := limited(ctx, work.NotFound, try, reservation{s.stations, name, last != number})
	if err != nil {
		return nil, err
	}
	s.lastRight.Store(name, number)
	return &body[T]{out}, nil
}
