package work_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/demo"
	"meldung/demo/demotest"
	"meldung/work"
)

var admin = work.Person{Account: 46, Name: "Administrator", Role: work.Administrator}

// bound is a station with the token of its device.
func bound(t *testing.T, o *work.Office) (token string, id int64) {
	t.Helper()
	code, err := o.AddStation(t.Context(), admin, work.NewStation{Name: "Pier"})
	require.NoError(t, err)
	token, err = o.BindStation(t.Context(), code.Code)
	require.NoError(t, err)
	return token, code.ID
}

func TestAStationIsBoundOnce(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	_, err := o.AddStation(ctx, admin, work.NewStation{Name: " "})
	assert.ErrorContains(t, err, "where the station stands")
	code, err := o.AddStation(ctx, admin, work.NewStation{Name: "Pier"})
	require.NoError(t, err)
	assert.Regexp(t, `^\d{8}$`, code.Code)
	assert.Equal(t, "09:42", code.Until)
	_, err = o.AddStation(ctx, admin, work.NewStation{Name: "pier"})
	assert.Equal(t, work.Conflict, kind(t, err), "a repeat makes no second one")
	_, err = o.BindStation(ctx, "00000000")
	assert.Equal(t, work.Refused, kind(t, err))
	token, err := o.BindStation(ctx, code.Code[:4]+" "+code.Code[4:])
	require.NoError(t, err)
	_, err = o.BindStation(ctx, code.Code)
	assert.Equal(t, work.Refused, kind(t, err), "a code is good once")
	late, err := o.AddStation(ctx, admin, work.NewStation{Name: "Canteen"})
	require.NoError(t, err)
	clock.Set(day.At(demo.Today, 582))
	_, err = o.BindStation(ctx, late.Code)
	assert.Equal(t, work.Refused, kind(t, err), "its time has passed")

	page, err := o.StationPage(ctx, token)
	require.NoError(t, err)
	assert.Equal(t, []string{"Pier", "Fairlead School"}, []string{page.Name, page.School})
	for _, other := range []string{"", "x", code.Code} {
		_, err = o.StationPage(ctx, other)
		assert.Equal(t, work.Refused, kind(t, err))
	}
	list, err := o.Stations(ctx)
	require.NoError(t, err)
	require.Len(t, list, 2)
	assert.Equal(t, []string{"in use", "code passed"}, []string{list[0].State, list[1].State})
	_, err = o.EndStation(ctx, admin, "station key 3", code.ID)
	require.NoError(t, err)
	_, err = o.StationPage(ctx, token)
	assert.Equal(t, work.Refused, kind(t, err), "out of use")
	_, err = o.AtStation(ctx, token, "40217")
	assert.Equal(t, work.Refused, kind(t, err))
	_, err = o.EndStation(ctx, admin, "station key 4", code.ID)
	assert.Equal(t, work.Conflict, kind(t, err))
}

func TestSigningInAndOutAtAStation(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	token, _ := bound(t, o)
	juno := find(t, o, "Juno Sandal").Student
	who, err := o.AtStation(ctx, token, juno.Number)
	require.NoError(t, err)
	assert.Equal(t, work.StationStudent{Given: "Juno", Initial: "S", Kind: "arrived", Late: true}, who, "and nothing else about anyone")
	for _, typed := range []string{"", "Sandal", "Juno Sandal", juno.Number[:4], juno.Number + "0", "' OR 1=1"} {
		_, err = o.AtStation(ctx, token, typed)
		assert.Equal(t, work.NotFound, kind(t, err), "%q", typed)
	}
	_, err = o.MoveAtStation(ctx, token, "touch 0", work.StationMove{Number: juno.Number, Kind: "departed", Reason: "ill"})
	assert.ErrorContains(t, err, "not signed in")
	_, err = o.MoveAtStation(ctx, token, "touch 1", work.StationMove{Number: juno.Number, Kind: "arrived", Reason: "made up"})
	assert.ErrorContains(t, err, "choose a reason")
	in := work.StationMove{Number: juno.Number, Kind: "arrived", Reason: "overslept"}
	got, err := o.MoveAtStation(ctx, token, "touch 2", in)
	require.NoError(t, err)
	assert.Equal(t, work.StationReceipt{Given: "Juno", Initial: "S", Kind: "arrived", At: "09:12"}, got)
	assert.Equal(t, "late", place(t, o, "Juno Sandal"), "the same truth as the desk's")
	again, err := o.MoveAtStation(ctx, token, "touch 2", in)
	require.NoError(t, err)
	assert.Equal(t, got, again, "a lost answer is repeated")
	clock.Set(day.At(demo.Today, 554))
	hurried, err := o.MoveAtStation(ctx, token, "touch 3", in)
	require.NoError(t, err)
	assert.Equal(t, []any{true, "09:12"}, []any{hurried.Already, hurried.At}, "a second touch stores nothing again")
	desk := deskNow(t, o)
	assert.Equal(t, []string{"Juno Sandal", "Pier"}, []string{desk.Movements[0].Student.Name, desk.Movements[0].By})
	assert.NotEqual(t, "Juno Sandal", desk.Movements[1].Student.Name)

	clock.Set(day.At(demo.Today, 600))
	who, err = o.AtStation(ctx, token, juno.Number)
	require.NoError(t, err)
	assert.Equal(t, []string{"departed", "09:12"}, []string{who.Kind, who.Since})
	_, err = o.MoveAtStation(ctx, token, "touch 4", work.StationMove{Number: juno.Number, Kind: "departed"})
	assert.ErrorContains(t, err, "choose a reason")
	_, err = o.MoveAtStation(ctx, token, "touch 5", work.StationMove{Number: juno.Number, Kind: "departed", Reason: "appointment"})
	require.NoError(t, err)
	assert.Equal(t, "left", place(t, o, "Juno Sandal"))
	_, err = o.MoveAtStation(ctx, token, "touch 6", work.StationMove{Number: "00000", Kind: "arrived"})
	assert.Equal(t, work.NotFound, kind(t, err))
	list, err := o.Stations(ctx)
	require.NoError(t, err)
	assert.Equal(t, 7, list[0].Wrong, "wrong numbers are counted for the administrator")
}
