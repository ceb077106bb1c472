package station_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/demo"
	"meldung/demo/demotest"
	"meldung/pages/deskpage"
	"meldung/work"
	"meldung/work/station"
)

// bound is a station with the token of its device.
func bound(t *testing.T, o *work.Office) (token string, id ids.Station) {
	t.Helper()
	code, err := station.Add(t.Context(), o, demotest.Admin, station.NewStation{Name: "Pier"})
	require.NoError(t, err)
	token, err = station.Bind(t.Context(), o, code.Code)
	require.NoError(t, err)
	return token, code.ID
}

func TestAStationIsBoundOnce(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	_, err := station.Add(ctx, o, demotest.Admin, station.NewStation{Name: " "})
	assert.ErrorContains(t, err, "where the station stands")
	code, err := station.Add(ctx, o, demotest.Admin, station.NewStation{Name: "Pier"})
	require.NoError(t, err)
	assert.Regexp(t, `^\d{8}$`, code.Code)
	assert.Equal(t, "09:42", code.Until)
	_, err = station.Add(ctx, o, demotest.Admin, station.NewStation{Name: "pier"})
	assert.Equal(t, work.Conflict, demotest.Kind(t, err), "a repeat makes no second one")
	_, err = station.Bind(ctx, o, "00000000")
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
	token, err := station.Bind(ctx, o, code.Code[:4]+" "+code.Code[4:])
	require.NoError(t, err)
	_, err = station.Bind(ctx, o, code.Code)
	assert.Equal(t, work.Refused, demotest.Kind(t, err), "a code is good once")
	late, err := station.Add(ctx, o, demotest.Admin, station.NewStation{Name: "Canteen"})
	require.NoError(t, err)
	clock.Set(day.At(demo.Today, day.MustMinute("09:42")))
	_, err = station.Bind(ctx, o, late.Code)
	assert.Equal(t, work.Refused, demotest.Kind(t, err), "its time has passed")

	page, err := deskpage.ShowStation(ctx, o, token)
	require.NoError(t, err)
	assert.Equal(t, []string{"Pier", "Fairlead School"}, []string{page.Name, page.School})
	for _, other := range []string{"", "x", code.Code} {
		_, err = deskpage.ShowStation(ctx, o, other)
		assert.Equal(t, work.Refused, demotest.Kind(t, err))
	}
	list, err := deskpage.ShowStations(ctx, o)
	require.NoError(t, err)
	require.Len(t, list, 2)
	assert.Equal(t, []string{"in use", "code passed"}, []string{list[0].State, list[1].State})
	_, err = station.End(ctx, o, demotest.Admin, "station key 3", code.ID)
	require.NoError(t, err)
	_, err = deskpage.ShowStation(ctx, o, token)
	assert.Equal(t, work.Refused, demotest.Kind(t, err), "out of use")
	_, err = station.Ask(ctx, o, token, "40217")
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
	_, err = station.End(ctx, o, demotest.Admin, "station key 4", code.ID)
	assert.Equal(t, work.Conflict, demotest.Kind(t, err))
}

func TestSigningInAndOutAtAStation(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	token, _ := bound(t, o)
	juno := demotest.Find(t, o, "Juno Sandal").Student
	who, err := station.Ask(ctx, o, token, juno.Number)
	require.NoError(t, err)
	assert.Equal(t, station.StationStudent{Given: "Juno", Initial: "S", Kind: "arrived", Late: true}, who, "and nothing else about anyone")
	for _, typed := range []string{"", "Sandal", "Juno Sandal", juno.Number[:4], juno.Number + "0", "' OR 1=1"} {
		_, err = station.Ask(ctx, o, token, typed)
		assert.Equal(t, work.NotFound, demotest.Kind(t, err), "%q", typed)
	}
	_, err = station.Move(ctx, o, token, "touch 0", station.StationMove{Number: juno.Number, Kind: "departed", Reason: "ill"})
	assert.ErrorContains(t, err, "not signed in")
	_, err = station.Move(ctx, o, token, "touch 1", station.StationMove{Number: juno.Number, Kind: "arrived", Reason: "made up"})
	assert.ErrorContains(t, err, "choose a reason")
	in := station.StationMove{Number: juno.Number, Kind: "arrived", Reason: "overslept"}
	got, err := station.Move(ctx, o, token, "touch 2", in)
	require.NoError(t, err)
	assert.Equal(t, station.StationReceipt{Given: "Juno", Initial: "S", Kind: "arrived", At: "09:12"}, got)
	assert.Equal(t, "late", demotest.Place(t, o, "Juno Sandal"), "the same truth as the desk's")
	again, err := station.Move(ctx, o, token, "touch 2", in)
	require.NoError(t, err)
	assert.Equal(t, got, again, "a lost answer is repeated")
	clock.Set(day.At(demo.Today, day.MustMinute("09:14")))
	hurried, err := station.Move(ctx, o, token, "touch 3", in)
	require.NoError(t, err)
	assert.Equal(t, []any{true, "09:12"}, []any{hurried.Already, hurried.At}, "a second touch stores nothing again")
	shown := demotest.Desk(t, o)
	assert.Equal(t, []string{"Juno Sandal", "Pier"}, []string{shown.Movements[0].Student.Name, shown.Movements[0].By})
	assert.NotEqual(t, "Juno Sandal", shown.Movements[1].Student.Name)

	clock.Set(day.At(demo.Today, day.MustMinute("10:00")))
	who, err = station.Ask(ctx, o, token, juno.Number)
	require.NoError(t, err)
	assert.Equal(t, []string{"departed", "09:12"}, []string{who.Kind, who.Since})
	_, err = station.Move(ctx, o, token, "touch 4", station.StationMove{Number: juno.Number, Kind: "departed"})
	assert.ErrorContains(t, err, "choose a reason")
	_, err = station.Move(ctx, o, token, "touch 5", station.StationMove{Number: juno.Number, Kind: "departed", Reason: "appointment"})
	require.NoError(t, err)
	assert.Equal(t, "left", demotest.Place(t, o, "Juno Sandal"))
	_, err = station.Move(ctx, o, token, "touch 6", station.StationMove{Number: "00000", Kind: "arrived"})
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
	list, err := deskpage.ShowStations(ctx, o)
	require.NoError(t, err)
	assert.Equal(t, 7, list[0].Wrong, "wrong numbers are counted for the administrator")
}
