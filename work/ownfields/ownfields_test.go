package ownfields_test

import (
	"strings"
	"testing"

	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/ids"
	"meldung/core/ownfield"
	"meldung/demo/demotest"
	"meldung/pages"
	"meldung/pages/absencepage"
	"meldung/work"
	"meldung/work/check"
	"meldung/work/ownfields"
)

// bare is a copy of the school without fields of its own.
func bare(t *testing.T) *work.Office {
	t.Helper()
	o := demotest.Copy(t)
	require.NoError(t, o.Store().Write(t.Context(), func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(t.Context(), `DELETE FROM own_value; DELETE FROM own_field`)
		return err
	}))
	require.NoError(t, o.Reload(t.Context()))
	return o
}

// fields are a text that teachers see on the roll, and a choice of the office's own.
func fields(t *testing.T, o *work.Office) (seat, bus ids.OwnField) {
	t.Helper()
	_, err := ownfields.SetFields(t.Context(), o, demotest.Admin, "fields", ownfields.OwnFieldSet{Seen: ownfields.Stamp([]ownfields.OwnField{}), Fields: []ownfields.OwnField{
		{Name: "Seat", Kind: ownfield.Text, Icon: "flag", Sees: []work.Role{work.Teacher, work.Officer}, Changes: []work.Role{work.Teacher}, Shown: []string{"roll", "call"}},
		{Name: "Bus", Kind: ownfield.Choice, Choices: []string{"Bus 4", "on foot"}, Sees: []work.Role{work.Officer}, Changes: []work.Role{work.Officer}, Shown: []string{"desk"}},
	}})
	require.NoError(t, err)
	v, err := pages.OwnFields(t.Context(), o)
	require.NoError(t, err)
	return v.Fields[0].ID, v.Fields[1].ID
}

// taught are a student of Osk's and one who is not.
func taught(t *testing.T, o *work.Office) (own, other ids.Student) {
	t.Helper()
	require.NoError(t, o.Read(t.Context(), func(v work.Snapshot) error {
		for _, s := range v.School.Students {
			if !s.EnrolledOn(v.On) {
				continue
			}
			if v.MaySee(demotest.Osk, s.ID) == nil {
				own = s.ID
			} else {
				other = s.ID
			}
		}
		return nil
	}))
	return own, other
}

func TestOwnFields(t *testing.T) {
	o := bare(t)
	ctx := t.Context()
	seat, bus := fields(t, o)
	own, other := taught(t, o)
	set := func(p work.Person, v ownfields.OwnValue) error {
		_, err := ownfields.SetValue(ctx, o, p, "", v)
		return err
	}
	shown := func(p work.Person, where string) []pages.OwnShown {
		list, err := pages.OwnShownIn(ctx, o, p, where)
		require.NoError(t, err)
		return list
	}
	require.NoError(t, set(demotest.Osk, ownfields.OwnValue{Student: own, Field: seat, Value: " in front "}))
	require.NoError(t, set(demotest.Admin, ownfields.OwnValue{Student: other, Field: seat, Value: "at the back"}))
	require.NoError(t, set(demotest.Officer, ownfields.OwnValue{Student: own, Field: bus, Value: "ON FOOT"}))

	// Who sees what: by field, by place, and a teacher of the own students alone.
	assert.Equal(t, []pages.OwnShown{{Student: own, Marks: []pages.OwnMark{{Name: "Seat", Icon: "flag", Words: "in front"}}}}, shown(demotest.Osk, "roll"))
	assert.Len(t, shown(demotest.Officer, "roll"), 2)
	assert.Empty(t, shown(demotest.Osk, "desk"))
	assert.Len(t, shown(demotest.Officer, "desk"), 1)
	assert.Empty(t, shown(demotest.Maud, "roll"), "the role does not see the field")
	lines, err := pages.OwnOf(ctx, o, demotest.Osk, own)
	require.NoError(t, err)
	require.Len(t, lines, 1, "what one does not see is not there")
	assert.Equal(t, []any{"in front", true}, []any{lines[0].Words, lines[0].MayChange})
	for what, c := range map[string]struct {
		p    work.Person
		v    ownfields.OwnValue
		kind work.ErrorKind
	}{
		"another's student":  {demotest.Osk, ownfields.OwnValue{Student: other, Field: seat, Value: "x"}, work.Refused},
		"a field not seen":   {demotest.Osk, ownfields.OwnValue{Student: own, Field: bus, Value: "Bus 4"}, work.NotFound},
		"a field not theirs": {demotest.Officer, ownfields.OwnValue{Student: own, Field: seat, Value: "x", Seen: "in front"}, work.Refused},
		"no field":           {demotest.Admin, ownfields.OwnValue{Student: own, Field: 99, Value: "x"}, work.NotFound},
		"no student":         {demotest.Admin, ownfields.OwnValue{Student: 99999, Field: seat, Value: "x"}, work.NotFound},
		"no choice":          {demotest.Officer, ownfields.OwnValue{Student: own, Field: bus, Value: "Bus 5", Seen: "on foot"}, work.Wrong},
		"changed meanwhile":  {demotest.Osk, ownfields.OwnValue{Student: own, Field: seat, Value: "x", Seen: "elsewhere"}, work.Conflict},
	} {
		assert.Equal(t, c.kind, demotest.Kind(t, set(c.p, c.v)), what)
	}
	_, err = pages.OwnOf(ctx, o, demotest.Osk, other)
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
	require.NoError(t, set(demotest.Osk, ownfields.OwnValue{Student: own, Field: seat, Seen: "in front"}))
	assert.Empty(t, shown(demotest.Osk, "roll"), "taken away")
	// What is chosen is a group wherever one is, for who sees the field.
	groups, err := pages.OwnGroups(ctx, o, demotest.Officer)
	require.NoError(t, err)
	require.Equal(t, []string{"Bus: on foot"}, []string{groups[0].Label})
	group, err := pages.Group(ctx, o, demotest.Officer, groups[0].Value)
	require.NoError(t, err)
	page, err := absencepage.Show(ctx, o, "", pages.AbsenceAsk{Group: group})
	require.NoError(t, err)
	assert.Equal(t, []any{"Bus: on foot", 1}, []any{page.Group, page.Students})
	_, err = pages.Group(ctx, o, demotest.Maud, groups[0].Value)
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
	theirs, err := pages.OwnGroups(ctx, o, demotest.Maud)
	require.NoError(t, err)
	assert.Empty(t, theirs)
	wrong, err := check.Check(ctx, o, true)
	require.NoError(t, err)
	assert.Empty(t, wrong)
}

func TestWhichFieldsThereAre(t *testing.T) {
	o := bare(t)
	ctx := t.Context()
	seat, bus := fields(t, o)
	v, err := pages.OwnFields(ctx, o)
	require.NoError(t, err)
	for want, change := range map[string]func(f []ownfields.OwnField){
		"needs a name":        func(f []ownfields.OwnField) { f[0].Name = " " },
		"two fields called":   func(f []ownfields.OwnField) { f[0].Name = "bus" },
		"column of its own":   func(f []ownfields.OwnField) { f[0].Name = "Form" },
		"holds a text":        func(f []ownfields.OwnField) { f[0].Kind = ownfield.Date },
		"at most 60 letters":  func(f []ownfields.OwnField) { f[1].Choices = []string{strings.Repeat("x", 61)} },
		"nothing to choose":   func(f []ownfields.OwnField) { f[1].Choices = nil },
		"is no role":          func(f []ownfields.OwnField) { f[0].Sees = []work.Role{"owner"} },
		"no place to show":    func(f []ownfields.OwnField) { f[0].Shown = []string{"door"} },
		"has to see it":       func(f []ownfields.OwnField) { f[0].Sees = []work.Role{} },
		"there is no field 9": func(f []ownfields.OwnField) { f[0].ID = 99 },
	} {
		next := append([]ownfields.OwnField{}, v.Fields...)
		change(next)
		_, err := ownfields.SetFields(ctx, o, demotest.Admin, want, ownfields.OwnFieldSet{Seen: v.Seen, Fields: next})
		assert.ErrorContains(t, err, want)
	}
	_, err = ownfields.SetFields(ctx, o, demotest.Admin, "stale", ownfields.OwnFieldSet{Seen: "0", Fields: v.Fields})
	assert.Equal(t, work.Conflict, demotest.Kind(t, err))
	_, err = ownfields.SetFields(ctx, o, demotest.Officer, "officer", ownfields.OwnFieldSet{Seen: v.Seen})
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
	_, err = ownfields.SetFields(ctx, o, demotest.Admin, "order", ownfields.OwnFieldSet{Seen: v.Seen, Fields: []ownfields.OwnField{v.Fields[1]}})
	require.NoError(t, err)
	v, err = pages.OwnFields(ctx, o)
	require.NoError(t, err)
	assert.Equal(t, []any{bus, false, seat, true}, []any{v.Fields[0].ID, v.Fields[0].Retired, v.Fields[1].ID, v.Fields[1].Retired}, "left out is retired")
}

// What is exported is imported again without a change; a file is taken whole or not at all.
func TestOwnFieldsInFiles(t *testing.T) {
	o := bare(t)
	ctx := t.Context()
	seat, _ := fields(t, o)
	own, _ := taught(t, o)
	_, err := ownfields.SetValue(ctx, o, demotest.Osk, "", ownfields.OwnValue{Student: own, Field: seat, Value: "=in, front"})
	require.NoError(t, err)
	kept := func(p work.Person) string {
		f, err := pages.KeepOwn(ctx, o, p, "", "csv")
		require.NoError(t, err)
		return string(f.Content)
	}
	text := kept(demotest.Admin)
	assert.True(t, strings.HasPrefix(text, "number,student,form,Seat,Bus\n"))
	assert.True(t, strings.HasPrefix(kept(demotest.Maud), "number,student,form\n"), "only what one sees")
	look := func(text string, apply bool) (ownfields.OwnImportPlan, error) {
		return ownfields.ImportValues(ctx, o, demotest.Admin, "", ownfields.OwnImport{Text: text, Apply: apply})
	}
	plan, err := look(text, true)
	require.NoError(t, err)
	assert.Equal(t, []int{0, 0}, []int{plan.Set, plan.Taken})
	lines := strings.Split(text, "\n")
	number := strings.Split(lines[1], ",")[0]
	plan, err = look("number,Bus\n"+number+",bus 4\n", true)
	require.NoError(t, err)
	assert.Equal(t, []any{1, 0, true}, []any{plan.Set, plan.Taken, plan.Applied})
	plan, err = look(text, false)
	require.NoError(t, err)
	assert.Equal(t, []int{0, 1}, []int{plan.Set, plan.Taken}, "the file has nothing there")
	before := kept(demotest.Admin)
	bad := "number,Bus,Colour\n" + number + ",Bus 9,red\n" + number + ",on foot,\n0,Bus 4,\n"
	plan, err = look(bad, false)
	require.NoError(t, err)
	all := strings.Join(plan.Problems, "\n")
	for _, want := range []string{`own-fields.csv:2: Bus: "Bus 9" is none of Bus 4, on foot`, "own-fields.csv:3: the number", `own-fields.csv:4: there is no student with the number "0"`, `the column "Colour" is no field`} {
		assert.Contains(t, all, want)
	}
	_, err = look(bad, true)
	assert.Equal(t, work.Wrong, demotest.Kind(t, err))
	assert.Equal(t, before, kept(demotest.Admin), "all or nothing")
	_, err = ownfields.ImportValues(ctx, o, demotest.Officer, "", ownfields.OwnImport{Text: text})
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
}
