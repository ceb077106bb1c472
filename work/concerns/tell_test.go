package concerns_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/demo/demotest"
	"meldung/pages/rulespage"
	"meldung/pages/todaypage"
	"meldung/work"
	"meldung/work/concerns"
	"meldung/work/incidents"
	"meldung/work/messages"
)

// Who is named by a rule is told once a day of those newly found, on the page and by e-mail, never twice of one
// stretch, and never of whom the rule had found before it named anybody.
func TestWhoIsToldOfNewConcerns(t *testing.T) {
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	lead := demotest.Ase
	require.NoError(t, o.Read(ctx, func(v work.Snapshot) error {
		for _, s := range v.School.Records().Rows.Staff {
			if s.Family == "Ase" {
				lead.Staff = s.ID
			}
		}
		return nil
	}))
	tick := func(at string) {
		t.Helper()
		i, err := day.ParseInstant(at)
		require.NoError(t, err)
		clock.Set(i)
		require.NoError(t, concerns.TellNew(ctx, o, i))
	}
	notes := func(p work.Person) (out []todaypage.MessageView) {
		t.Helper()
		all, err := todaypage.ShowNotes(ctx, o, p)
		require.NoError(t, err)
		for _, m := range all {
			if m.Kind == work.OfConcern {
				out = append(out, m)
			}
		}
		return out
	}
	one, err := rulespage.One(ctx, o, demotest.Ase, "two-incidents")
	require.NoError(t, err)
	form := one.Form
	form.Tell, form.Send = []string{"head of year"}, true
	_, err = concerns.SaveRule(ctx, o, demotest.Ase, "nobody", concerns.RuleChange{Rule: form, Version: one.Version})
	assert.Equal(t, work.Wrong, demotest.Kind(t, err))
	form.Tell = []string{"pastoral", "tutor"}
	_, err = concerns.SaveRule(ctx, o, demotest.Ase, "told", concerns.RuleChange{Rule: form, Version: one.Version})
	require.NoError(t, err)
	again, err := rulespage.One(ctx, o, demotest.Ase, "two-incidents")
	require.NoError(t, err)
	assert.Equal(t, form.Tell, again.Form.Tell, "a rule keeps who is told")
	assert.True(t, again.Form.Send)

	tick("2026-03-10T09:20")
	assert.Empty(t, notes(lead), "those were found before")
	quiet := demotest.IDs(t, o, "Elis Merrow")[0]
	for _, key := range []string{"one of two", "two of two"} {
		_, err := incidents.SetNote(ctx, o, demotest.Ase, key, incidents.IncidentNote{Text: "left the lesson", People: []incidents.IncidentPart{{Student: quiet, Role: "did it"}}})
		require.NoError(t, err)
	}
	tick("2026-03-10T10:00")
	assert.Empty(t, notes(lead), "once a day")
	require.NoError(t, o.Reload(ctx))
	tick("2026-03-11T06:30")
	assert.Empty(t, notes(lead), "not before seven")
	other := demotest.IDs(t, o, "Ansa Merrow")[0] // noted before school, and counted with the day before until the day is over
	for _, key := range []string{"one of two others", "two of two others"} {
		_, err := incidents.SetNote(ctx, o, demotest.Ase, key, incidents.IncidentNote{Text: "at the pier", People: []incidents.IncidentPart{{Student: other, Role: "did it"}}})
		require.NoError(t, err)
	}
	tick("2026-03-11T07:05")
	told := notes(lead)
	require.Len(t, told, 1)
	assert.Equal(t, "Newly found by the school’s rules. Two incidents in 30 days: 2. Who they are stands under Concerns.", told[0].Text)
	assert.NotContains(t, told[0].Text, "Merrow")
	out, err := todaypage.ShowOutbox(ctx, o, demotest.Officer, "")
	require.NoError(t, err)
	mails := 0
	for _, m := range out {
		if m.Kind == work.OfConcern && m.Channel == work.ByEMail {
			mails++
			assert.NotContains(t, m.Text, "Merrow")
		}
	}
	assert.GreaterOrEqual(t, mails, 2, "the pastoral leads and the tutor")
	_, err = messages.SeeNotes(ctx, o, lead, "put away", messages.SeenNotes{IDs: []ids.Message{told[0].ID}})
	require.NoError(t, err)
	assert.Empty(t, notes(lead))
	require.NoError(t, o.Reload(ctx))
	tick("2026-03-12T07:05")
	assert.Empty(t, notes(lead), "never twice of one stretch")
	assert.Empty(t, notes(demotest.Osk), "none of the own form")
	assert.True(t, strings.HasPrefix(told[0].At, "07:05"))
}
