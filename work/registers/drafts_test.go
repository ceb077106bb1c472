package registers_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/ids"
	"meldung/core/register"
	"meldung/demo/demotest"
	"meldung/pages/registerpage"
	"meldung/work"
	"meldung/work/registers"
)

func draft(t *testing.T, o *work.Office, p work.Person, key string, marks ...work.DraftMark) work.DraftReceipt {
	t.Helper()
	r, err := registers.Draft(t.Context(), o, p, key, registers.Drafts{Date: demotest.Date, Class: demotest.Halyard, Slot: "AM", Marks: marks})
	require.NoError(t, err)
	return r
}

// Two people have one register open: each sees the other's marks, a mark that was
// made without knowing the other's is told and overwrites nothing.
func TestTwoPeopleOnOneRegister(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	v, err := registerpage.Show(ctx, o, demotest.Osk, demotest.Halyard, "AM", "")
	require.NoError(t, err)
	a, b := v.Rows[0].Student.ID, v.Rows[1].Student.ID
	evidence := demotest.Count(t, o)

	events, stop := o.Listen()
	defer stop()
	first := draft(t, o, demotest.Osk, "osk marks two", work.DraftMark{Student: a, Code: "P"}, work.DraftMark{Student: b, Code: "N"})
	assert.Len(t, first.Taken, 2)
	e := <-events
	assert.Equal(t, "draft", e.Kind)
	assert.Equal(t, "2026-03-10 48 AM", e.Scope, "only this register's page has to look again")
	assert.Equal(t, evidence, demotest.Count(t, o), "work in hand is no evidence")

	v, err = registerpage.Show(ctx, o, demotest.Officer, demotest.Halyard, "AM", "")
	require.NoError(t, err)
	require.NotNil(t, v.Rows[1].Draft, "the office sees it")
	assert.Equal(t, []string{"N", "P. Osk"}, []string{v.Rows[1].Draft.Code, v.Rows[1].Draft.By})

	clash := draft(t, o, demotest.Officer, "tolvan had not looked", work.DraftMark{Student: b, Code: "L", Time: "5"}, work.DraftMark{Student: a, Code: "P"})
	require.Len(t, clash.Conflicts, 1)
	assert.Equal(t, "N", clash.Conflicts[0].Code)
	assert.Len(t, clash.Taken, 1, "marking the same is no conflict")
	assert.Equal(t, clash, draft(t, o, demotest.Officer, "tolvan had not looked", work.DraftMark{Student: b, Code: "L", Time: "5"}, work.DraftMark{Student: a, Code: "P"}), "a repeat gets the same answer")

	changed := draft(t, o, demotest.Officer, "tolvan has looked", work.DraftMark{Student: b, Code: "L", Time: "5", Seen: clash.Conflicts[0].Version})
	assert.Equal(t, 2, changed.Taken[0].Version)

	all := demotest.Marks(t, o, "P")
	all[1].Code = "N"
	all[1].Seen = 1
	_, err = registers.Send(ctx, o, demotest.Osk, "osk sends what she saw", registers.SentRegister{Date: demotest.Date, Class: demotest.Halyard, Slot: "AM", Marks: all})
	require.Error(t, err)
	assert.Equal(t, work.Conflict, demotest.Kind(t, err))
	assert.Contains(t, err.Error(), "R. Tolvan marked "+v.Rows[1].Student.Name+" otherwise in between")

	all[1].Seen = 2
	_, err = registers.Send(ctx, o, demotest.Osk, "osk sends, having looked", registers.SentRegister{Date: demotest.Date, Class: demotest.Halyard, Slot: "AM", Marks: all})
	require.NoError(t, err)
	_, err = registers.Draft(ctx, o, demotest.Officer, "after it was sent", registers.Drafts{Date: demotest.Date, Class: demotest.Halyard, Slot: "AM", Marks: []work.DraftMark{{Student: a, Code: "N"}}})
	require.Error(t, err)
	assert.Equal(t, work.Conflict, demotest.Kind(t, err))
}

func TestDraftsAreRefused(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	v, err := registerpage.Show(t.Context(), o, demotest.Osk, demotest.Halyard, "AM", "")
	require.NoError(t, err)
	a := v.Rows[0].Student.ID
	for _, c := range []struct {
		name string
		p    work.Person
		d    registers.Drafts
		kind work.ErrorKind
	}{
		{"another's class", work.Person{Account: 2, Role: work.Teacher, Staff: 9}, registers.Drafts{Date: demotest.Date, Class: demotest.Halyard, Slot: "AM", Marks: []work.DraftMark{{Student: a, Code: "P"}}}, work.Refused},
		{"a student of another class", demotest.Osk, registers.Drafts{Date: demotest.Date, Class: demotest.Halyard, Slot: "AM", Marks: []work.DraftMark{{Student: a, Code: "P"}, {Student: 1, Code: "P"}}}, work.Wrong},
		{"a code that is none", demotest.Osk, registers.Drafts{Date: demotest.Date, Class: demotest.Halyard, Slot: "AM", Marks: []work.DraftMark{{Student: a, Code: "?"}}}, work.Wrong},
		{"a day without school", demotest.Osk, registers.Drafts{Date: "2026-03-08", Class: demotest.Halyard, Slot: "AM", Marks: []work.DraftMark{{Student: a, Code: "P"}}}, work.NotFound},
		{"a demotest.Date that is none", demotest.Osk, registers.Drafts{Date: "8.3.2026", Class: demotest.Halyard, Slot: "AM"}, work.Wrong},
	} {
		_, err := registers.Draft(t.Context(), o, c.p, "refused: "+c.name, c.d)
		require.Error(t, err, c.name)
		assert.Equal(t, c.kind, demotest.Kind(t, err), c.name)
	}
	v, err = registerpage.Show(t.Context(), o, demotest.Osk, demotest.Halyard, "AM", "")
	require.NoError(t, err)
	assert.Nil(t, v.Rows[0].Draft, "nothing of what was refused was stored")
}

// Where a mark comes from is what the office knows, not what its sender says: nobody writes a
// mark in the desk's name, or in a home's.
func TestAMarksSourceIsNotItsSendersToChoose(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	v, err := registerpage.Show(ctx, o, demotest.Osk, demotest.Halyard, "AM", "")
	require.NoError(t, err)
	all := demotest.Marks(t, o, "P")
	claims := []string{"desk", "home", "activity", "check-in", "card", "the head"}
	want := map[ids.Student]string{}
	for i, r := range v.Rows {
		all[i].Source = claims[i%len(claims)]
		want[r.Student.ID] = register.SourceRegister
		switch {
		case r.Known != nil:
			all[i].Code, all[i].Source, want[r.Student.ID] = r.Known.Code, r.Known.Source, r.Known.Source
			if r.Known.To != "" {
				all[i].Time = r.Known.To
			}
		case all[i].Source == "card" && r.Card != "":
			want[r.Student.ID] = register.SourceCard
		}
	}
	_, err = registers.Send(ctx, o, demotest.Osk, "sources as they are", registers.SentRegister{Date: demotest.Date, Class: demotest.Halyard, Slot: "AM", Marks: all})
	require.NoError(t, err)
	v, err = registerpage.Show(ctx, o, demotest.Osk, demotest.Halyard, "AM", "")
	require.NoError(t, err)
	kinds := map[string]int{}
	for _, r := range v.Rows {
		last := r.Versions[len(r.Versions)-1]
		assert.Equal(t, want[r.Student.ID], last.Source, r.Student.Name)
		kinds[last.Source]++
	}
	assert.Greater(t, len(kinds), 2, "the demonstration's class has something of each: %v", kinds)
}
