package web

import (
	"context"
	"errors"
	"net/http"
	"strconv"

	"meldung/work"
)

const stationCookie = "meldung-station"

// OnStation is a request of a station, known by its cookie alone.
type OnStation struct {
	Station string `cookie:"meldung-station" maxLength:"64"`
}

func (s *server) stationRoutes() {
	get(s, "stations", "/stations", "Devices that students sign in and out on", func(ctx context.Context, _ *struct{}) (*body[[]work.StationView], error) {
		return answer(s.office.Stations(ctx))
	})
	post(s, "add-station", "/stations", "Name a station and get its code", func(ctx context.Context, in *Keyed[work.NewStation]) (*body[work.StationCode], error) {
		return answer(s.office.AddStation(ctx, person(ctx), in.Body))
	})
	post(s, "end-station", "/stations/{id}/end", "Take a station out of use", func(ctx context.Context, in *KeyedByID) (*body[work.Receipt], error) {
		return answer(s.office.EndStation(ctx, person(ctx), in.Key, in.ID))
	})
	type bound struct {
		SetCookie http.Cookie `header:"Set-Cookie"`
		Body      work.StationPage
	}
	post(s, "bind-station", "/station/bind", "Make this device a station", func(ctx context.Context, in *struct {
		Body struct {
			Code string `json:"code" maxLength:"20"`
		}
	}) (*bound, error) {
		address := callerOf(ctx).address
		if wait := s.binders.wait(address); wait > 0 {
			return nil, tooMany(wait)
		}
		token, err := s.office.BindStation(ctx, in.Body.Code)
		if err != nil {
			s.binders.wrong(address)
			return nil, problem(err)
		}
		page, err := s.office.StationPage(ctx, token)
		if err != nil {
			return nil, problem(err)
		}
		const year = 365 * 24 * 3600
		return &bound{http.Cookie{Name: stationCookie, Value: token, Path: "/api/station", MaxAge: year, HttpOnly: true, SameSite: http.SameSiteStrictMode, Secure: s.options.Secure}, page}, nil
	})
	get(s, "station", "/station", "What a station shows", func(ctx context.Context, in *OnStation) (*body[work.StationPage], error) {
		return answer(s.office.StationPage(ctx, in.Station))
	})
	post(s, "at-station", "/station/who", "Who stands before a station", func(ctx context.Context, in *struct {
		OnStation
		Body struct {
			Number string `json:"number" maxLength:"60"`
		}
	}) (*body[work.StationStudent], error) {
		return tryAtStation(ctx, s, in.Station, in.Body.Number, func() (work.StationStudent, error) {
			return s.office.AtStation(ctx, in.Station, in.Body.Number)
		})
	})
	post(s, "move-at-station", "/station/moves", "Sign in or out at a station", func(ctx context.Context, in *struct {
		OnStation
		Keyed[work.StationMove]
	}) (*body[work.StationReceipt], error) {
		return tryAtStation(ctx, s, in.Station, in.Body.Number, func() (work.StationReceipt, error) {
			return s.office.MoveAtStation(ctx, in.Station, in.Key, in.Body)
		})
	})
}

// tryAtStation lets a station try a number, and makes it wait after wrong ones. A right
// number ends the waiting, but not the same one twice in a row: nobody guesses on with
// their own card in between.
func tryAtStation[T any](ctx context.Context, s *server, token, number string, try func() (T, error)) (*body[T], error) {
	page, err := s.office.StationPage(ctx, token)
	if err != nil {
		return nil, problem(err)
	}
	name := strconv.FormatInt(page.ID, 10)
	if wait := s.stations.wait(name); wait > 0 {
		return nil, tooMany(wait)
	}
	out, err := try()
	var mistake *work.Error
	switch {
	case errors.As(err, &mistake) && mistake.Kind == work.NotFound:
		s.stations.wrong(name)
	case err == nil:
		if last, _ := s.lastRight.Swap(name, number); last != number {
			s.stations.right(name)
		}
	}
	return answer(out, err)
}
