package contacts_test

import (
	"bytes"
	"encoding/binary"
	"hash/crc32"
	"image"
	"image/png"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/ids"
	"meldung/demo/demotest"
	"meldung/pages"
	"meldung/pages/studentpage"
	"meldung/work"
	"meldung/work/check"
	"meldung/work/contacts"
	"meldung/work/takeback"
)

var plan = []byte("%PDF-1.7\nwhat to do\n%%EOF\n")

func TestAWarningIsKeptUpWithItsDocument(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	juno := demotest.IDs(t, o, "Juno Sandal")[0]
	before := len(sheet(t, o, demotest.Officer, juno).Warned)
	got, err := contacts.SetWarning(ctx, o, demotest.Officer, "added", contacts.Warning{Student: juno, Text: " epilepsy  since May ", CareFirst: true,
		Document: &contacts.Document{Name: `C:\plans\Juno "1".pdf`, Content: plan}})
	require.NoError(t, err)
	assert.Equal(t, "Juno Sandal, epilepsy since May: added; rung about first; document Juno 1.pdf", got.Text)
	id := ids.Warning(got.IDs[0])
	s := sheet(t, o, demotest.Officer, juno)
	require.Len(t, s.Warned, before+1)
	assert.Equal(t, pages.WarningNow{ID: id, Text: "epilepsy since May", CareFirst: true, Document: "Juno 1.pdf", Changed: "added; rung about first; document Juno 1.pdf, R. Tolvan, Tue 10 March"}, s.Warned[before])
	assert.Contains(t, s.Warnings, "epilepsy since May")
	assert.Empty(t, sheet(t, o, demotest.Maud, juno).Warned, "the desk sees the words")
	assert.Contains(t, sheet(t, o, demotest.Maud, juno).Warnings, "epilepsy since May")
	f, err := studentpage.Document(ctx, o, demotest.Officer, juno, id)
	require.NoError(t, err)
	assert.Equal(t, pages.File{Name: "Juno 1.pdf", Type: "application/pdf", Content: plan}, f)

	// What is changed keeps the document; somebody else's change is told once.
	_, err = contacts.SetWarning(ctx, o, demotest.Officer, "as it stands", contacts.Warning{Student: juno, Warning: id, Text: "epilepsy since May", CareFirst: true})
	assert.ErrorContains(t, err, "that is how it is already")
	change := contacts.Warning{Student: juno, Warning: id, Text: "epilepsy", Since: work.Since{Seen: 1}}
	_, err = contacts.SetWarning(ctx, o, demotest.Officer, "changed", change)
	require.NoError(t, err, "one's own is no news")
	change.Text = "epilepsy, see plan"
	other := demotest.Officer
	other.Account, other.Name = demotest.Maud.Account, "P. Otherwise"
	_, err = contacts.SetWarning(ctx, o, other, "meanwhile", change)
	assert.ErrorContains(t, err, "R. Tolvan saved at 09:12")
	change.Seen = 0
	_, err = contacts.SetWarning(ctx, o, other, "all the same", change)
	require.NoError(t, err)
	assert.Equal(t, "Juno 1.pdf", sheet(t, o, demotest.Officer, juno).Warned[before].Document)

	// It ends with a reason, stays on record, and can be had back.
	_, err = contacts.EndWarning(ctx, o, demotest.Officer, "no reason", contacts.WarningEnd{Student: juno, Warning: id, Why: " "})
	assert.ErrorContains(t, err, "say why")
	ended, err := contacts.EndWarning(ctx, o, demotest.Officer, "ended", contacts.WarningEnd{Student: juno, Warning: id, Why: "grown out of it"})
	require.NoError(t, err)
	s = sheet(t, o, demotest.Officer, juno)
	assert.Len(t, s.Warned, before)
	assert.Equal(t, []string{"warning", "epilepsy, see plan: holds no longer, grown out of it", "R. Tolvan"}, []string{s.Happened[0].Kind, s.Happened[0].Text, s.Happened[0].By})
	_, err = contacts.EndWarning(ctx, o, demotest.Officer, "twice", contacts.WarningEnd{Student: juno, Warning: id, Why: "again"})
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
	_, err = takeback.Entry(ctx, o, demotest.Maud, "the desk's", ended.Seq)
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
	_, err = takeback.Entry(ctx, o, demotest.Officer, "back", ended.Seq)
	require.NoError(t, err)
	s = sheet(t, o, demotest.Officer, juno)
	assert.Equal(t, "Juno 1.pdf", s.Warned[before].Document, "with its document")
	assert.Equal(t, "epilepsy, see plan: holds after all", s.Happened[0].Text)
	assert.Equal(t, "holds after all, R. Tolvan, Tue 10 March", s.Warned[before].Changed)
	_, err = takeback.Entry(ctx, o, demotest.Officer, "back twice", ended.Seq)
	assert.Equal(t, work.Conflict, demotest.Kind(t, err))

	// Somebody has written the same again meanwhile: it does not stand there twice.
	ended, err = contacts.EndWarning(ctx, o, demotest.Officer, "ended again", contacts.WarningEnd{Student: juno, Warning: id, Why: "by mistake"})
	require.NoError(t, err)
	anew, err := contacts.SetWarning(ctx, o, demotest.Officer, "anew", contacts.Warning{Student: juno, Text: "Epilepsy, see plan"})
	require.NoError(t, err)
	_, err = takeback.Entry(ctx, o, demotest.Officer, "back beside the new one", ended.Seq)
	assert.ErrorContains(t, err, "is a warning again already")
	_, err = contacts.EndWarning(ctx, o, demotest.Officer, "the new one", contacts.WarningEnd{Student: juno, Warning: ids.Warning(anew.IDs[0]), Why: "the old one has the plan"})
	require.NoError(t, err)
	_, err = takeback.Entry(ctx, o, demotest.Officer, "back at last", ended.Seq)
	require.NoError(t, err)

	_, err = contacts.SetWarning(ctx, o, demotest.Officer, "without", contacts.Warning{Student: juno, Warning: id, Text: "epilepsy, see plan", NoDocument: true})
	require.NoError(t, err)
	_, err = studentpage.Document(ctx, o, demotest.Officer, juno, id)
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
	require.NoError(t, o.Reload(ctx))
	assert.Empty(t, sheet(t, o, demotest.Officer, juno).Warned[before].Document, "as it is stored")
	wrong, err := check.Check(ctx, o, false)
	require.NoError(t, err)
	assert.Empty(t, wrong)
}

func TestAWarningIsRefusedWithAReason(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	juno, finn := demotest.IDs(t, o, "Juno Sandal")[0], demotest.IDs(t, o, "Finn Calloway")[0]
	got, err := contacts.SetWarning(ctx, o, demotest.Officer, "of another", contacts.Warning{Student: finn, Text: "asthma, strong"})
	require.NoError(t, err)
	wide := bytes.Buffer{}
	require.NoError(t, png.Encode(&wide, image.NewGray(image.Rect(0, 0, 1, 1))))
	bomb := bytes.Clone(wide.Bytes()) // says that it is 65,536 dots wide and high
	copy(bomb[16:24], []byte{0, 1, 0, 0, 0, 1, 0, 0})
	binary.BigEndian.PutUint32(bomb[29:], crc32.ChecksumIEEE(bomb[12:29]))
	doc := func(name string, content []byte) *contacts.Document {
		return &contacts.Document{Name: name, Content: content}
	}
	for name, c := range map[string]struct {
		by   work.Person
		w    contacts.Warning
		says string
	}{
		"a teacher":     {demotest.Osk, contacts.Warning{Student: juno, Text: "x"}, "may not"},
		"the desk":      {demotest.Maud, contacts.Warning{Student: juno, Text: "x"}, "may not"},
		"nobody":        {demotest.Officer, contacts.Warning{Student: 99999, Text: "x"}, "there is no student"},
		"nothing":       {demotest.Officer, contacts.Warning{Student: juno, Text: " "}, "say what there is to know"},
		"in files":      {demotest.Officer, contacts.Warning{Student: juno, Text: "a|b"}, "can't hold the sign |"},
		"another's":     {demotest.Officer, contacts.Warning{Student: juno, Warning: ids.Warning(got.IDs[0]), Text: "x"}, "no warning of Juno Sandal"},
		"twice":         {demotest.Officer, contacts.Warning{Student: finn, Text: "Asthma, strong"}, "has that warning already"},
		"a program":     {demotest.Officer, contacts.Warning{Student: juno, Text: "x", Document: doc("plan.pdf", []byte("MZ\x90\x00"))}, "no whole PDF, PNG or JPEG"},
		"half a PDF":    {demotest.Officer, contacts.Warning{Student: juno, Text: "x", Document: doc("plan.pdf", plan[:12])}, "no whole PDF, PNG or JPEG"},
		"a page":        {demotest.Officer, contacts.Warning{Student: juno, Text: "x", Document: doc("plan.png", []byte("<svg onload=alert(1)>"))}, "no whole PDF, PNG or JPEG"},
		"nothing in it": {demotest.Officer, contacts.Warning{Student: juno, Text: "x", Document: doc("plan.pdf", nil)}, "no whole PDF, PNG or JPEG"},
		"too large":     {demotest.Officer, contacts.Warning{Student: juno, Text: "x", Document: doc("plan.pdf", append(bytes.Clone(plan), make([]byte, contacts.MaxDocument)...))}, "at most 5 MB"},
		"a bomb":        {demotest.Officer, contacts.Warning{Student: juno, Text: "x", Document: doc("plan.png", bomb)}, "too many to open"},
	} {
		_, err := contacts.SetWarning(ctx, o, c.by, "refused: "+name, c.w)
		assert.ErrorContains(t, err, c.says, name)
	}
	assert.NotContains(t, strings.Join(sheet(t, o, demotest.Officer, juno).Warnings, " "), "x", "nothing was saved")
	_, err = contacts.SetWarning(ctx, o, demotest.Officer, "a picture", contacts.Warning{Student: juno, Text: "wears a patch", Document: doc("\x00/", wide.Bytes())})
	require.NoError(t, err)
	assert.Contains(t, sheet(t, o, demotest.Officer, juno).Happened[0].Text, "document document.png")
}

// Two people write the same warning at once: it is there once.
func TestAWarningWrittenTwiceAtOnce(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	juno := demotest.IDs(t, o, "Juno Sandal")[0]
	var wg sync.WaitGroup
	stored := make([]error, 8)
	for i := range stored {
		wg.Go(func() {
			_, stored[i] = contacts.SetWarning(t.Context(), o, demotest.Officer, "at once "+string(rune('a'+i)), contacts.Warning{Student: juno, Text: "faints"})
		})
	}
	wg.Wait()
	there := 0
	for _, err := range stored {
		if err == nil {
			there++
		} else {
			assert.ErrorContains(t, err, "has that warning already")
		}
	}
	assert.Equal(t, 1, there)
}
