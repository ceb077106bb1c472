package lists_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/ids"
	"meldung/demo/demotest"
	"meldung/pages"
	"meldung/pages/absencepage"
	"meldung/work"
	"meldung/work/lists"
	"meldung/work/takeback"
)

func yes() *bool { y := true; return &y }

func TestLists(t *testing.T) {
	o := demotest.Copy(t)
	ctx := t.Context()
	of := func(p work.Person) []pages.ListView {
		t.Helper()
		list, err := pages.Lists(ctx, o, p)
		require.NoError(t, err)
		return list
	}
	names := func(l pages.ListView) (out []string) {
		for _, s := range l.Students {
			out = append(out, s.Name)
		}
		return out
	}
	made, err := lists.Save(ctx, o, demotest.Officer, "a", lists.ListChange{Name: " Breakfast club ", Add: []ids.Student{358, 232, 358}})
	require.NoError(t, err)
	assert.Equal(t, "Breakfast club saved, 2 put on", made.Text)
	own := ids.StudentList(made.IDs[0])
	require.Len(t, of(demotest.Officer), 1)
	assert.Len(t, names(of(demotest.Officer)[0]), 2)
	assert.Empty(t, of(demotest.Admin), "what is not shared is one's own")

	// Two windows at once lose nothing of each other.
	errs := make(chan error)
	for i, id := range []ids.Student{10, 11} {
		go func() {
			_, err := lists.Save(ctx, o, demotest.Officer, fmt.Sprint("two", i), lists.ListChange{List: own, Add: []ids.Student{id}, Remove: []ids.Student{232}})
			errs <- err
		}()
	}
	require.NoError(t, <-errs)
	require.NoError(t, <-errs)
	assert.Len(t, of(demotest.Officer)[0].Students, 3)

	// What is measured of a list is measured of its students.
	group, err := lists.Group(ctx, o.Store().Read(), demotest.Officer, fmt.Sprint("list:", own))
	require.NoError(t, err)
	page, err := absencepage.Show(ctx, o, "", pages.AbsenceAsk{Group: group})
	require.NoError(t, err)
	assert.Equal(t, []any{"Breakfast club", 3}, []any{page.Group, page.Students})
	assert.Len(t, page.Rows, 3)

	// Another's list is none by any way, until it is shared; then it is used, not changed.
	for _, c := range []struct {
		what string
		do   func() error
	}{
		{"as a group", func() error {
			_, err := lists.Group(ctx, o.Store().Read(), demotest.Maud, fmt.Sprint("list:", own))
			return err
		}},
		{"change", func() error {
			_, err := lists.Save(ctx, o, demotest.Maud, "x", lists.ListChange{List: own, Add: []ids.Student{12}})
			return err
		}},
		{"end", func() error { _, err := lists.End(ctx, o, demotest.Maud, "y", own); return err }},
		{"nowhere", func() error { _, err := lists.End(ctx, o, demotest.Officer, "z", 999); return err }},
		{"a student who is none", func() error {
			_, err := lists.Save(ctx, o, demotest.Officer, "s", lists.ListChange{List: own, Add: []ids.Student{13, 99999}})
			return err
		}},
	} {
		assert.Equal(t, work.NotFound, demotest.Kind(t, c.do()), c.what)
	}
	assert.Len(t, of(demotest.Officer)[0].Students, 3, "nothing is half-applied")
	_, err = lists.Save(ctx, o, demotest.Officer, "share", lists.ListChange{List: own, Name: "Breakfast", Shared: yes()})
	require.NoError(t, err)
	shared := of(demotest.Admin)
	require.Len(t, shared, 1)
	assert.Equal(t, []any{"Breakfast", false, "R. Tolvan"}, []any{shared[0].Name, shared[0].Own, shared[0].By})
	_, err = lists.Group(ctx, o.Store().Read(), demotest.Admin, fmt.Sprint("list:", own))
	require.NoError(t, err)
	_, err = lists.Save(ctx, o, demotest.Admin, "not theirs", lists.ListChange{List: own, Remove: []ids.Student{10}})
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
	for want, c := range map[string]lists.ListChange{"needs a name": {}, "have a list called Breakfast already": {Name: "Breakfast"}} {
		_, err = lists.Save(ctx, o, demotest.Officer, want, c)
		assert.ErrorContains(t, err, want)
	}
	_, err = lists.Save(ctx, o, demotest.Osk, "teacher", lists.ListChange{Name: "x"})
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
	_, err = lists.Group(ctx, o.Store().Read(), demotest.Officer, "list:all")
	assert.Equal(t, work.Wrong, demotest.Kind(t, err))

	// What was done a moment ago is taken back as a whole, by whose list it is.
	off, err := lists.Save(ctx, o, demotest.Officer, "off", lists.ListChange{List: own, Remove: []ids.Student{10, 11}, Add: []ids.Student{20}})
	require.NoError(t, err)
	_, err = takeback.Entry(ctx, o, demotest.Maud, "theirs", off.Seq)
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
	_, err = takeback.Entry(ctx, o, demotest.Officer, "back", off.Seq)
	require.NoError(t, err)
	assert.Len(t, of(demotest.Officer)[0].Students, 3)
	ended, err := lists.End(ctx, o, demotest.Admin, "end", own)
	require.NoError(t, err, "a shared one, by an administrator")
	assert.Empty(t, of(demotest.Officer))
	_, err = takeback.Entry(ctx, o, demotest.Admin, "end back", ended.Seq)
	require.NoError(t, err)
	assert.Len(t, of(demotest.Officer)[0].Students, 3)
}
