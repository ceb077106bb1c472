package views_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/ids"
	"meldung/demo/demotest"
	"meldung/work"
	"meldung/work/views"
)

func TestViews(t *testing.T) {
	o := demotest.Copy(t)
	ctx := t.Context()
	of := func(p work.Person) []views.Offered {
		t.Helper()
		list, err := views.Of(ctx, o, p, "absence")
		require.NoError(t, err)
		return list
	}
	own := views.View{Place: "absence", Name: "Year 9, worst first", Address: "/absence?group=year%3A9&sort=rate"}
	first, err := views.Save(ctx, o, demotest.Officer, "own", own)
	require.NoError(t, err)
	_, err = views.Save(ctx, o, demotest.Officer, "shared", views.View{Place: "absence", Name: "Petrel", Address: "/absence/grid?group=travels%3APetrel", Shared: true})
	require.NoError(t, err)
	assert.Len(t, of(demotest.Officer), 2)
	others := of(demotest.Admin)
	require.Len(t, others, 1, "what is not shared is one's own")
	assert.Equal(t, []any{"Petrel", "R. Tolvan", false}, []any{others[0].Name, others[0].By, others[0].Own})
	own.Address = "/absence?group=year%3A9"
	_, err = views.Save(ctx, o, demotest.Officer, "again", own)
	require.NoError(t, err)
	require.Len(t, of(demotest.Officer), 2, "the same name gives way")

	for want, w := range map[string]views.View{
		"no address of the page": {Place: "absence", Name: "x", Address: "https://elsewhere.example/absence"},
		"does not see that page": {Place: "nothing", Name: "x", Address: "/nothing"},
		"needs a name":           {Place: "absence", Name: " ", Address: "/absence"},
	} {
		_, err := views.Save(ctx, o, demotest.Officer, "k "+want, w)
		assert.Error(t, err, want)
	}
	_, err = views.Save(ctx, o, demotest.Osk, "teacher", views.View{Place: "absence", Name: "x", Address: "/absence"})
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
	_, err = views.Of(ctx, o, demotest.Osk, "absence")
	assert.Equal(t, work.Refused, demotest.Kind(t, err))

	for _, x := range of(demotest.Officer) {
		_, err = views.End(ctx, o, demotest.Maud, "not theirs", x.ID)
		assert.Equal(t, work.NotFound, demotest.Kind(t, err), "another's is none")
	}
	_, err = views.End(ctx, o, demotest.Officer, "gone before", ids.SavedView(first.IDs[0]))
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
	_, err = views.End(ctx, o, demotest.Officer, "end", of(demotest.Officer)[0].ID)
	require.NoError(t, err)
	assert.Len(t, of(demotest.Officer), 1)
}
