package steps_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/ids"
	"meldung/demo/demotest"
	"meldung/pages/stepspage"
	"meldung/store"
	"meldung/work"
	"meldung/work/steps"
)

// A letter to many goes to each home by e-mail or on paper, as the look before said, and stays on each
// student's record; with a word that says nothing, to nobody.
func TestALetterToMany(t *testing.T) {
	o, ctx := demotest.Copy(t), t.Context()
	var some []ids.Student
	require.NoError(t, o.Read(ctx, func(v work.Snapshot) error {
		for _, s := range v.School.Students {
			if s.EnrolledOn(v.On) && len(some) < 45 {
				some = append(some, s.ID)
			}
		}
		return nil
	}))
	letter := steps.ToMany{Students: some, Homes: true, Subject: "{given name} and the harbour course", Text: "Dear {addressees},\n\n{given name} ({form}) is invited.\n\n{sender}"}
	look, err := stepspage.LookAtMany(ctx, o, demotest.Officer, letter)
	require.NoError(t, err)
	require.Empty(t, look.Problem)
	require.Len(t, look.Rows, 45)
	assert.NotContains(t, look.Text, "{")
	assert.NotContains(t, look.Fields, "count")
	require.Positive(t, look.EMails)

	for _, wrong := range []func(*steps.ToMany){
		func(l *steps.ToMany) { l.Text = "{count} days" },
		func(l *steps.ToMany) { l.Text = "Dear {addressees" },
		func(l *steps.ToMany) { l.Subject = " " },
		func(l *steps.ToMany) { l.Students = append(l.Students, l.Students[0]) },
	} {
		bad := letter
		wrong(&bad)
		_, err := steps.WriteToMany(ctx, o, demotest.Officer, "", bad)
		assert.Equal(t, work.Wrong, demotest.Kind(t, err))
	}
	bad := letter
	bad.Text = "{count} days"
	said, err := stepspage.LookAtMany(ctx, o, demotest.Officer, bad)
	require.NoError(t, err)
	assert.Contains(t, said.Problem, "{count}")
	_, err = steps.WriteToMany(ctx, o, demotest.Officer, "", steps.ToMany{Students: []ids.Student{99999}, Subject: "x", Text: "y"})
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
	_, err = steps.WriteToMany(ctx, o, demotest.Maud, "", letter)
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
	assert.Zero(t, mailed(t, o), "nothing of that has gone")

	r, err := steps.WriteToMany(ctx, o, demotest.Officer, "", letter)
	require.NoError(t, err)
	assert.Equal(t, look.EMails, mailed(t, o))
	assert.Len(t, r.IDs, look.Paper)
	sheets := []store.Sheet{}
	require.NoError(t, o.Read(ctx, func(v work.Snapshot) (err error) {
		sheets, err = store.About(ctx, v.Store(), some[0])
		return err
	}))
	for _, s := range sheets {
		if s.Name == "letters" {
			require.NotEmpty(t, s.Rows)
			assert.Contains(t, strings.Join(s.Rows[len(s.Rows)-1], "|"), "harbour course")
		}
	}
	ofSchool(t, o, some)
	paper := letter
	paper.Paper, paper.Homes = true, false
	r, err = steps.WriteToMany(ctx, o, demotest.Officer, "", paper)
	require.NoError(t, err)
	assert.Len(t, r.IDs, 45)
	made := make([]ids.Letter, len(r.IDs))
	for i, id := range r.IDs {
		made[i] = ids.Letter(id)
	}
	file, err := stepspage.LetterSheets(ctx, o, made)
	require.NoError(t, err)
	assert.Greater(t, len(file.Content), 10_000)
}

func mailed(t *testing.T, o *work.Office) int {
	t.Helper()
	n := 0
	for _, m := range demotest.Outbox(t, o, demotest.Officer) {
		if m.Kind == work.AsLetter {
			n++
		}
	}
	return n
}

// ofSchool sends one of the school's letters: in each home's own language, in no words besides, and not one that
// belongs to a step.
func ofSchool(t *testing.T, o *work.Office, some []ids.Student) {
	t.Helper()
	ctx := t.Context()
	look, err := stepspage.LookAtMany(ctx, o, demotest.Officer, steps.ToMany{Students: some, Homes: true, Paper: true})
	require.NoError(t, err)
	require.Len(t, look.Letters, 1, "the school's other letters name what only a step has")
	invitation := steps.ToMany{Homes: true, Paper: true, Letter: look.Letters[0].ID}
	require.NoError(t, o.Read(ctx, func(v work.Snapshot) error {
		for _, s := range v.School.Students {
			for _, r := range steps.RecipientsOf(v, s.ID) {
				if r.Language == "polski" && s.EnrolledOn(v.On) && len(invitation.Students) == 0 {
					invitation.Students = []ids.Student{s.ID, some[0]}
				}
			}
		}
		return nil
	}))
	require.Len(t, invitation.Students, 2)
	look, err = stepspage.LookAtMany(ctx, o, demotest.Officer, invitation)
	require.NoError(t, err)
	assert.Contains(t, look.Text, "Szanowni Państwo")
	r, err := steps.WriteToMany(ctx, o, demotest.Officer, "", invitation)
	require.NoError(t, err)
	file := []store.Letter{}
	require.NoError(t, o.Read(ctx, func(v work.Snapshot) (err error) {
		made := make([]ids.Letter, len(r.IDs))
		for i, id := range r.IDs {
			made[i] = ids.Letter(id)
		}
		file, err = store.Letters(ctx, v.Store(), made)
		return err
	}))
	subjects := map[bool]int{}
	for _, l := range file {
		require.NotNil(t, l.TextID)
		subjects[strings.HasPrefix(l.Subject, "Zaproszenie")]++
	}
	assert.Equal(t, map[bool]int{true: 1, false: len(file) - 1}, subjects)

	with := invitation
	with.Text = "and more"
	_, err = steps.WriteToMany(ctx, o, demotest.Officer, "", with)
	assert.Equal(t, work.Wrong, demotest.Kind(t, err))
	with = invitation
	with.Letter--
	_, err = steps.WriteToMany(ctx, o, demotest.Officer, "", with)
	assert.Equal(t, work.Conflict, demotest.Kind(t, err), "a letter that belongs to a step")
}
