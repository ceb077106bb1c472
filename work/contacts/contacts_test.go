package contacts_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/ids"
	"meldung/demo/demotest"
	"meldung/pages/studentpage"
	"meldung/work"
	"meldung/work/check"
	"meldung/work/contacts"
	"meldung/work/home"
)

func sheet(t *testing.T, o *work.Office, p work.Person, id ids.Student) studentpage.StudentSheet {
	t.Helper()
	s, err := studentpage.Show(t.Context(), o, p, id, "")
	require.NoError(t, err)
	return s
}

// Della had vanished since no contact was on file. The number is stored in the call that finds it.
func TestACallFindsANumber(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	della := demotest.Find(t, o, "Della Fairhurst").Student.ID
	_, err := contacts.Set(ctx, o, demotest.Maud, "no name", contacts.Contact{Student: della, Phone: "07700 900 555"})
	assert.ErrorContains(t, err, "needs a name")
	_, err = contacts.Set(ctx, o, demotest.Maud, "no number", contacts.Contact{Student: della, Given: "Berit", Family: "Fairhurst"})
	assert.ErrorContains(t, err, "needs a number")
	_, err = contacts.Set(ctx, o, demotest.Osk, "a teacher", contacts.Contact{Student: della, Given: "Berit", Phone: "07700 900 555"})
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
	_, err = contacts.Set(ctx, o, demotest.Maud, "nobody's", contacts.Contact{Student: 99999, Given: "Berit", Phone: "07700 900 555"})
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
	got, err := contacts.Set(ctx, o, demotest.Maud, "found", contacts.Contact{Student: della, Given: "Berit", Family: "Fairhurst", Relation: "grandmother", Phone: "07700 900 555", MayCollect: true})
	require.NoError(t, err)
	assert.Equal(t, "Berit Fairhurst, Della Fairhurst: added, 07700 900 555; grandmother; may collect", got.Text)

	h := demotest.Home(t, o, "Della Fairhurst")
	require.Len(t, h.Contacts, 1, "the list has her at once")
	_, err = home.LogCall(ctx, o, demotest.Officer, "rung", home.Call{Students: []ids.Student{della}, Contact: h.Contacts[0].ID, Outcome: "spoke", Said: "ill"})
	require.NoError(t, err)
	assert.Equal(t, "explained", demotest.Place(t, o, "Della Fairhurst"))
	s := sheet(t, o, demotest.Officer, della)
	assert.Equal(t, "07700 900 555", s.Contacts[0].Phone)
	i := slices.IndexFunc(s.Happened, func(h studentpage.HappenedView) bool { return h.Kind == "contact" })
	require.GreaterOrEqual(t, i, 0)
	assert.Equal(t, []string{"Berit Fairhurst: added, 07700 900 555; grandmother; may collect", "M. Kersey"}, []string{s.Happened[i].Text, s.Happened[i].By}, "with who and when")
	wrong, err := check.Check(ctx, o, false)
	require.NoError(t, err)
	assert.Empty(t, wrong)
	require.NoError(t, o.Reload(ctx))
	assert.Equal(t, s.Contacts, sheet(t, o, demotest.Officer, della).Contacts, "what is stored is what was shown")
}

func TestAContactIsChangedForAllOfItsChildren(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	elis, ansa := demotest.Find(t, o, "Elis Merrow").Student.ID, demotest.Find(t, o, "Ansa Merrow").Student.ID
	ida := sheet(t, o, demotest.Officer, elis).Contacts[0]
	now := sheet(t, o, demotest.Officer, elis).Changes[0]
	assert.Equal(t, "Ansa Merrow", now.Shared)
	set := contacts.Contact{Student: elis, Contact: ida.ID, Given: "Ida", Family: "Merrow", Relation: ida.Relation, Phone: "07700 900 777", SMS: now.SMS, EMail: now.EMail, Address: now.Address, Language: now.Language, MayCollect: ida.MayCollect, LivesWith: ida.LivesWith, DoNotCall: ida.DoNotCall}
	got, err := contacts.Set(ctx, o, demotest.Officer, "new number", set)
	require.NoError(t, err)
	assert.Contains(t, got.Text, "phone "+ida.Phone+" → 07700 900 777; texts "+ida.Phone+" → 07700 900 777; for Ansa Merrow too")
	assert.Equal(t, "07700 900 777", sheet(t, o, demotest.Officer, ansa).Contacts[0].Phone)
	set.SMS = set.Phone
	_, err = contacts.Set(ctx, o, demotest.Officer, "the same", set)
	assert.ErrorContains(t, err, "that is how it is already")

	// The order is each child's own.
	set.Place = 2
	_, err = contacts.Set(ctx, o, demotest.Officer, "second", set)
	require.NoError(t, err)
	assert.Equal(t, "Ida Merrow", sheet(t, o, demotest.Officer, elis).Contacts[1].Name)
	assert.Equal(t, 2, sheet(t, o, demotest.Officer, elis).Contacts[1].Order)
	assert.Equal(t, "Ida Merrow", sheet(t, o, demotest.Officer, ansa).Contacts[0].Name)

	// Somebody else has changed the same meanwhile: told once, then it is theirs to decide.
	set.Phone, set.Seen = "07700 900 888", 1
	_, err = contacts.Set(ctx, o, demotest.Maud, "meanwhile", set)
	assert.ErrorContains(t, err, "R. Tolvan saved at 09:12")
	set.Seen = 0
	_, err = contacts.Set(ctx, o, demotest.Maud, "all the same", set)
	require.NoError(t, err)

	_, err = contacts.End(ctx, o, demotest.Officer, "why", contacts.Ending{Student: elis, Contact: ida.ID})
	assert.ErrorContains(t, err, "say why")
	other := sheet(t, o, demotest.Officer, demotest.Find(t, o, "Juno Sandal").Student.ID).Contacts[0].ID
	_, err = contacts.End(ctx, o, demotest.Officer, "another's", contacts.Ending{Student: elis, Contact: other, Why: "x"})
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
	_, err = contacts.End(ctx, o, demotest.Officer, "ended", contacts.Ending{Student: elis, Contact: ida.ID, Why: "moved away"})
	require.NoError(t, err)
	for _, c := range sheet(t, o, demotest.Officer, elis).Contacts {
		assert.NotEqual(t, ida.ID, c.ID)
	}
	assert.Equal(t, ida.ID, sheet(t, o, demotest.Officer, ansa).Contacts[0].ID, "of the other child still")
}
