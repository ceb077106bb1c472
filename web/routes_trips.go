package web

import (
	"context"

	"meldung/core/ids"
	"meldung/pages"
	"meldung/pages/trippage"
	"meldung/work"
	"meldung/work/trips"
)

// KeyedByTrip is a write to a trip.
type KeyedByTrip[T any] struct {
	Trip ids.Activity `path:"trip"`
	Keyed[T]
}

// tripRoutes are trips and visits: planning them, changing them on the day, their register, and that
// they are back.
func (s *server) tripRoutes() {
	get(s, work.MaySeeTrips, "/trips", "Trips of today and to come", func(ctx context.Context, _ *struct{}) (*body[trippage.TripsView], error) {
		return answer(trippage.ShowAll(ctx, s.office, person(ctx)))
	})
	get(s, work.MaySeeTrip, "/trips/{trip}", "A trip, and who is on it", func(ctx context.Context, in *struct {
		Trip ids.Activity `path:"trip"`
	}) (*body[trippage.TripView], error) {
		return answer(trippage.Show(ctx, s.office, person(ctx), in.Trip))
	})
	get(s, work.MaySeeTripGroup, "/trips/group", "The students of a group, to be put on a trip", func(ctx context.Context, in *struct {
		Grouped
	}) (*body[[]pages.StudentRef], error) {
		return answer(trippage.Group(ctx, s.office, in.Group))
	})
	post(s, work.MayPlanTrip, "/trips", "Plan a trip", func(ctx context.Context, in *Keyed[trips.Activity]) (*body[work.Receipt], error) {
		return answer(trips.Plan(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayChangeTrip, "/trips/{trip}", "Change a trip", func(ctx context.Context, in *KeyedByTrip[trips.Activity]) (*body[work.Receipt], error) {
		return answer(trips.Change(ctx, s.office, person(ctx), in.Key, in.Trip, in.Body))
	})
	post(s, work.MayCancelTrip, "/trips/{trip}/cancel", "A trip does not take place", func(ctx context.Context, in *KeyedByTrip[nothing]) (*body[work.Receipt], error) {
		return answer(trips.Cancel(ctx, s.office, person(ctx), in.Key, in.Trip))
	})
	post(s, work.MayMarkTrip, "/trips/{trip}/marks", "Who is with the others, and who is not", func(ctx context.Context, in *KeyedByTrip[trips.Said]) (*body[work.Receipt], error) {
		return answer(trips.Mark(ctx, s.office, person(ctx), in.Key, in.Trip, in.Body))
	})
	post(s, work.MayEndTrip, "/trips/{trip}/back", "A trip is back", func(ctx context.Context, in *KeyedByTrip[trips.Return]) (*body[work.Receipt], error) {
		return answer(trips.Back(ctx, s.office, person(ctx), in.Key, in.Trip, in.Body))
	})
	post(s, work.MayReopenTrip, "/trips/{trip}/on", "A trip is not back yet", func(ctx context.Context, in *KeyedByTrip[nothing]) (*body[work.Receipt], error) {
		return answer(trips.GoesOn(ctx, s.office, person(ctx), in.Key, in.Trip))
	})
}
