package caseload_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/demo/demotest"
	"meldung/files/supportfile"
	"meldung/files/table"
	"meldung/work"
	"meldung/work/caseload"
	"meldung/work/plans"
)

// What is exported changes nothing when it is brought in again; a line that is changed changes that alone, and what
// was taken off here stays off.
func TestContactsAndSessionsInAndOut(t *testing.T) {
	o := demotest.Copy(t)
	ctx := t.Context()
	for _, one := range []struct {
		file, from, to string
		export         func() (table.Files, error)
		run            func(table.Files, plans.Options) (plans.Plan, error)
	}{
		{supportfile.Contacts, "bad nights since the move", "sleeps again", func() (table.Files, error) { return caseload.ExportContacts(ctx, o) }, func(f table.Files, opt plans.Options) (plans.Plan, error) {
			return caseload.ImportContacts(ctx, o, demotest.Admin, "", f, opt)
		}},
		{supportfile.Sessions, ",12:20,30,Mentoring", ",12:25,35,Boat club", func() (table.Files, error) { return caseload.ExportSessions(ctx, o) }, func(f table.Files, opt plans.Options) (plans.Plan, error) {
			return caseload.ImportSessions(ctx, o, demotest.Admin, "", f, opt)
		}},
	} {
		files, err := one.export()
		require.NoError(t, err)
		text := string(files[one.file])
		rows := strings.Count(text, "\n") - 1
		require.Greater(t, rows, 2)
		same, err := one.run(files, plans.Options{Apply: true})
		require.NoError(t, err)
		assert.Equal(t, []any{0, rows}, []any{same.Changes(), same.Parts[0].Same}, "%v", same.Problems)

		require.Contains(t, text, one.from)
		changed := table.Files{one.file: []byte(strings.Replace(text, one.from, one.to, 1))}
		look, err := one.run(changed, plans.Options{})
		require.NoError(t, err)
		assert.Equal(t, 1, look.Parts[0].Changed)
		after, err := one.export()
		require.NoError(t, err)
		assert.Equal(t, text, string(after[one.file]), "a look changes nothing")
		_, err = one.run(changed, plans.Options{Apply: true, Seen: look.Stamp})
		require.NoError(t, err)
		after, err = one.export()
		require.NoError(t, err)
		assert.Contains(t, string(after[one.file]), one.to)
		assert.Equal(t, rows, strings.Count(string(after[one.file]), "\n")-1, "nothing is there twice")

		wrong := table.Files{one.file: []byte(text + strings.Replace(strings.SplitN(text, "\n", 3)[1], ",", ",nobody-", 1) + "\n")}
		p, err := one.run(wrong, plans.Options{Apply: true})
		if err == nil {
			assert.NotEmpty(t, p.Problems)
			assert.False(t, p.Applied)
		}
		_, err = one.run(changed, plans.Options{})
		require.NoError(t, err)
	}
	_, err := caseload.ImportContacts(ctx, o, demotest.Officer, "", table.Files{}, plans.Options{Apply: true})
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
}

// The lists are the school's own: renamed and retired without losing what used them, and two who change one at once
// lose nothing.
func TestTheSchoolsWords(t *testing.T) {
	o := demotest.Copy(t)
	ctx := t.Context()
	words, err := caseload.Words(ctx, o.Store().Read())
	require.NoError(t, err)
	in := caseload.SupportList{List: caseload.Kinds, Seen: words.Stamp(caseload.Kinds)}
	for _, w := range words.List(caseload.Kinds) {
		in.Words = append(in.Words, caseload.SupportEntry{ID: w.ID, Name: w.Name, Belongs: w.Belongs})
	}
	first, second := in.Words[0].Name, in.Words[1].Name
	in.Words[0].Name, in.Words[1].Name = second, first // each takes the other's
	in.Words[2].Retired = true
	in.Words = append(in.Words, caseload.SupportEntry{Name: "Boat club", Belongs: "outside"})
	set := func(l caseload.SupportList) error {
		_, err := caseload.SetWords(ctx, o, demotest.Ase, "", l)
		return err
	}
	bad := in
	bad.Words = in.Words[1:]
	assert.Equal(t, work.Wrong, demotest.Kind(t, set(bad)), "none goes")
	bad.Words = append(append([]caseload.SupportEntry{}, in.Words...), caseload.SupportEntry{Name: "boat CLUB"})
	assert.Equal(t, work.Wrong, demotest.Kind(t, set(bad)), "twice")
	require.NoError(t, set(in))
	assert.Equal(t, work.Conflict, demotest.Kind(t, set(in)), "it was changed meanwhile")
	now, err := caseload.Words(ctx, o.Store().Read())
	require.NoError(t, err)
	id := words.List(caseload.Kinds)[0].ID
	assert.Equal(t, second, now.Name(&id))
	assert.Len(t, now.List(caseload.Kinds), len(in.Words))
	_, err = caseload.SetWords(ctx, o, demotest.Officer, "", in)
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
}
