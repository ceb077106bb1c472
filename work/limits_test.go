package work_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/ids"
	"meldung/demo/demotest"
	"meldung/work"
	"meldung/work/check"
	"meldung/work/desk"
	"meldung/work/home"
	"meldung/work/messages"
	"meldung/work/morning"
	"meldung/work/registers"
	"meldung/work/school"
)

// Whoever calls is held to the limits that the API states, and to what their role may do:
// there is no way round by calling from within.
func TestLimitsHoldForEveryCaller(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	anyone := []ids.Student{1}
	for name, do := range map[string]func() error{
		"nobody moves": func() error {
			_, err := desk.Move(ctx, o, demotest.Officer, "limit 1", desk.Movement{Kind: "arrived"})
			return err
		},
		"a movement of no kind": func() error {
			_, err := desk.Move(ctx, o, demotest.Officer, "limit 2", desk.Movement{Students: anyone, Kind: "flown"})
			return err
		},
		"a call with an ending of its own": func() error {
			_, err := home.LogCall(ctx, o, demotest.Officer, "limit 3", home.Call{Students: anyone, Outcome: "shouted"})
			return err
		},
		"a note without end": func() error {
			_, err := home.LogCall(ctx, o, demotest.Officer, "limit 4", home.Call{Students: anyone, Outcome: "no answer", Note: string(make([]byte, 501))})
			return err
		},
		"a notice told in no way that is known": func() error {
			_, err := home.Notify(ctx, o, demotest.Officer, "limit 5", home.Notice{Students: anyone, Reason: "ill", ToldHow: "pigeon"})
			return err
		},
		"a reminder after two days": func() error {
			_, err := school.SetRegisterRules(ctx, o, demotest.Admin, "limit 6", school.RegisterRules{Within: 15, RemindAfter: 1000})
			return err
		},
		"notes of nobody": func() error {
			_, err := messages.SeeNotes(ctx, o, demotest.Osk, "limit 7", messages.SeenNotes{})
			return err
		},
	} {
		err := do()
		require.Error(t, err, name)
		assert.Equal(t, work.Wrong, demotest.Kind(t, err), "%s: %v", name, err)
		assert.Contains(t, err.Error(), "nothing was saved", name)
	}
	for name, do := range map[string]func(p work.Person) error{
		"hold": func(p work.Person) error {
			_, err := home.Hold(ctx, o, p, "role 1", home.NewHold{Students: anyone, Until: "23:00", Reason: "x"})
			return err
		},
		"close": func(p work.Person) error {
			_, err := morning.Close(ctx, o, p, "role 2", morning.Closing{Section: demotest.Lower})
			return err
		},
		"name a stand-in": func(p work.Person) error {
			_, err := registers.NameStandIn(ctx, o, p, "role 3", registers.NewStandIn{Date: demotest.Date, Absent: 1, Takes: 2})
			return err
		},
		"decide about registers": func(p work.Person) error {
			_, err := school.SetRegisterRules(ctx, o, p, "role 4", school.RegisterRules{Within: 15})
			return err
		},
	} {
		for _, p := range []work.Person{demotest.Osk, demotest.Maud, {Account: 45, Role: work.Leader}, {Account: 45, Role: "janitor"}} {
			err := do(p)
			require.Error(t, err, name)
			assert.Equal(t, work.Refused, demotest.Kind(t, err), "%s by %s: %v", name, p.Role, err)
		}
	}
	wrong, err := check.Check(ctx, o, false)
	require.NoError(t, err)
	assert.Empty(t, wrong)
}
