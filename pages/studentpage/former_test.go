package studentpage_test

import (
	"slices"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/ids"
	"meldung/demo/demotest"
	"meldung/files/studentfile"
	"meldung/pages/studentpage"
	"meldung/store"
	"meldung/work"
	"meldung/work/check"
	"meldung/work/contacts"
	"meldung/work/former"
	"meldung/work/leavers"
)

// handedOut is the record of a student as a school hands it out.
func handedOut(t *testing.T, o *work.Office, student ids.Student) ([]byte, studentfile.Record) {
	t.Helper()
	_, archive, err := leavers.Everything(t.Context(), o, demotest.Admin, student)
	require.NoError(t, err)
	r, wrong := studentfile.Read(archive)
	require.Empty(t, wrong)
	return archive, r
}

func studentOf(t *testing.T, o *work.Office, id ids.Student) (out store.Student) {
	t.Helper()
	require.NoError(t, o.Read(t.Context(), func(v work.Snapshot) (err error) {
		out, err = v.Student(id)
		return err
	}))
	return out
}

// What one school hands out the next one brings in: its history is there to be read, row for row, goes on to a third
// school, and changes no figure; contacts and warnings are taken over where somebody says so.
func TestHistoryComesWithAStudent(t *testing.T) {
	t.Parallel()
	ctx := t.Context()
	a, b := demotest.Copy(t), demotest.Copy(t)
	idris := demotest.Find(t, a, "Idris Quell").Student.ID
	_, err := contacts.SetWarning(ctx, a, demotest.Officer, "", contacts.Warning{Student: idris, Text: "epilepsy: do not leave alone", CareFirst: true, Document: &contacts.Document{Name: "plan.pdf", Content: []byte("%PDF-1.7\nplan of care\n%%EOF\n")}})
	require.NoError(t, err)
	archive, sent := handedOut(t, a, idris)
	require.NotEmpty(t, sent.Table("marks").Rows)
	require.NotEmpty(t, sent.Table("absence").Rows, "what the school measured")
	assert.Equal(t, "Fairlead School", sent.About.School)
	codes := map[string]bool{}
	sent.Table("codes").Each(func(get func(string) string) { codes[get("code")] = get("means") != "" })
	sent.Table("marks").Each(func(get func(string) string) { assert.True(t, codes[get("code")], get("code")) })

	const to = ids.Student(300)
	here := studentOf(t, b, to)
	_, before := handedOut(t, b, to)
	in := former.Brought{Student: to, File: former.RecordFile{Name: "idris.zip", Content: archive}}
	look, err := studentpage.LookAtFormer(ctx, b, demotest.Officer, in)
	require.NoError(t, err)
	require.Empty(t, look.Wrong)
	assert.Contains(t, look.Others[0], "The record is of Idris Quell, this is "+here.Name())
	_, err = former.Bring(ctx, b, demotest.Officer, "", in)
	require.ErrorContains(t, err, "nothing was saved")
	assert.Equal(t, work.Conflict, demotest.Kind(t, err), "somebody else's record is not brought in unasked")
	in.Same = true
	for _, p := range look.Parts {
		if p.Kind != former.APhoto && p.May {
			in.Take = append(in.Take, p.ID)
		}
	}
	assert.True(t, slices.ContainsFunc(look.Parts, func(p studentpage.FormerPart) bool {
		return p.Kind == former.AContact && strings.Contains(p.Note, "is a contact of Idris Quell here: the same person")
	}), "a number is put right once for both: %v", look.Parts)
	_, err = former.Bring(ctx, b, demotest.Officer, "", former.Brought{Student: to, File: in.File, Same: true, Take: append(slices.Clone(in.Take), "contact-99")})
	require.Error(t, err, "a part that is not there")
	list, err := studentpage.Formers(ctx, b, demotest.Officer, to)
	require.NoError(t, err)
	require.Empty(t, list, "all or nothing")

	wins := make(chan error, 2)
	var both sync.WaitGroup
	for range 2 { // two officers at once
		both.Go(func() { _, err := former.Bring(ctx, b, demotest.Officer, "", in); wins <- err })
	}
	both.Wait()
	one, other := <-wins, <-wins
	assert.True(t, (one == nil) != (other == nil), "%v, %v", one, other)
	look, err = studentpage.LookAtFormer(ctx, b, demotest.Officer, in)
	require.NoError(t, err)
	assert.NotEmpty(t, look.There)
	for _, p := range look.Parts {
		if p.Kind != former.APhoto {
			assert.False(t, p.May, "%s is here by now", p.Text)
		}
	}

	list, err = studentpage.Formers(ctx, b, demotest.Officer, to)
	require.NoError(t, err)
	require.Len(t, list, 1)
	assert.Regexp(t, `^missed \d+ of 11\d days there, \d+\.\d %, by “.+”, 2025-09-03 to 2026-03-09$`, list[0].Figure)
	read, err := studentpage.Former(ctx, b, demotest.Officer, to, list[0].ID)
	require.NoError(t, err)
	rows := func(name string) [][]string {
		i := slices.IndexFunc(read.Tables, func(t studentpage.FormerTable) bool { return strings.EqualFold(t.Name, name) })
		if i < 0 {
			return nil
		}
		return read.Tables[i].Rows
	}
	for _, x := range sent.Tables {
		assert.Len(t, rows(strings.ReplaceAll(x.Name, "-", " ")), len(x.Rows), x.Name)
	}
	assert.Equal(t, "Absence", read.Tables[0].Name)
	_, after := handedOut(t, b, to)
	for _, same := range []string{"marks", "absence", "incidents", "course-results"} {
		assert.Equal(t, before.Table(same).Rows, after.Table(same).Rows, "marks of another school enter nothing here: "+same)
	}
	assert.Equal(t, len(before.Table("contacts").Rows)+len(sent.Table("contacts").Rows), len(after.Table("contacts").Rows))
	assert.Equal(t, len(before.Table("warnings").Rows)+len(sent.Table("warnings").Rows), len(after.Table("warnings").Rows))
	for _, x := range sent.Tables {
		assert.Equal(t, x.Rows, after.Table("former-1-"+x.Name).Rows, "goes on to the next school: "+x.Name)
	}
	plans := 0
	for name, content := range after.Files {
		if strings.HasPrefix(name, "documents/") && strings.Contains(string(content), "plan of care") {
			plans++
		}
	}
	assert.Equal(t, 1, plans, "the warning has its document")
	wrong, err := check.Check(ctx, b, true)
	require.NoError(t, err)
	assert.Empty(t, wrong)

	// A record is its student's alone, and is forgotten when it is taken off.
	_, err = studentpage.Former(ctx, b, demotest.Officer, to+1, list[0].ID)
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
	_, err = studentpage.FormerFile(ctx, b, to+1, list[0].ID)
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
	_, err = former.End(ctx, b, demotest.Officer, "", former.RecordEnding{Student: to + 1, Record: list[0].ID})
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
	_, err = former.End(ctx, b, demotest.Officer, "", former.RecordEnding{Student: to, Record: list[0].ID})
	require.NoError(t, err)
	_, err = studentpage.Former(ctx, b, demotest.Officer, to, list[0].ID)
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
	var kept int
	require.NoError(t, b.Store().Read().QueryRowxContext(ctx, `SELECT sum(length(archive)) FROM former_record`).Scan(&kept))
	assert.Zero(t, kept)
	_, last := handedOut(t, b, to)
	assert.Len(t, last.Table("contacts").Rows, len(after.Table("contacts").Rows), "what was taken over stays")
}

// A record that is wrong somewhere brings in nothing, and what is wrong is told; what can't be a contact or a warning here
// is said and stays in the record.
func TestARecordThatIsNotWhole(t *testing.T) {
	t.Parallel()
	ctx := t.Context()
	o := demotest.Copy(t)
	idris := demotest.Find(t, o, "Idris Quell").Student.ID
	about := studentfile.About{School: "Skerry School", Given: "Idris", Family: "Quell", Made: "2026-03-01 10:00"}
	look := func(r studentfile.Record) studentpage.FormerLook {
		archive, err := r.Zip()
		require.NoError(t, err)
		out, err := studentpage.LookAtFormer(ctx, o, demotest.Officer, former.Brought{Student: idris, File: former.RecordFile{Content: archive}})
		require.NoError(t, err)
		return out
	}
	out, err := studentpage.LookAtFormer(ctx, o, demotest.Officer, former.Brought{Student: idris, File: former.RecordFile{Content: []byte("none")}})
	require.NoError(t, err)
	assert.Len(t, out.Wrong, 1)
	_, err = former.Bring(ctx, o, demotest.Officer, "", former.Brought{Student: idris, File: former.RecordFile{Content: []byte("none")}})
	assert.Equal(t, work.Wrong, demotest.Kind(t, err))
	_, err = former.Bring(ctx, o, demotest.Osk, "", former.Brought{Student: idris})
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
	got := look(studentfile.Record{About: about, Tables: []studentfile.Table{
		{Name: "contacts", Header: []string{"given", "family", "phone", "do_not_call"}, Rows: [][]string{{"Ragna", "Lund", "+44 1632 960 777", "1"}, {"", "", "01632 960 778", "0"}, {"Only", "Name", "", ""}}},
		{Name: "warnings", Header: []string{"words", "ended", "document"}, Rows: [][]string{{"asthma, inhaler in the office", "0", "gone.pdf"}, {"no more", "1", ""}, {strings.Repeat("long ", 40), "0", ""}}},
	}, Files: map[string][]byte{"photo.png": []byte("no picture")}})
	require.Len(t, got.Parts, 6)
	assert.True(t, got.Parts[0].May)
	assert.Equal(t, "must not be called", got.Parts[0].Note)
	assert.False(t, got.Parts[1].May)
	assert.False(t, got.Parts[2].May)
	assert.Equal(t, "its document is not in the record", got.Parts[3].Note)
	assert.True(t, got.Parts[3].May)
	assert.False(t, got.Parts[4].May)
	assert.False(t, got.Parts[5].May)
	twice := look(studentfile.Record{About: about, Tables: []studentfile.Table{
		{Name: "contacts", Header: []string{"given", "family", "phone", "address"}, Rows: [][]string{{"Ragna", "Lund", "01632 960 777", strings.Repeat("long ", 90)}, {"ragna", "lund", "01632960777", ""}}},
		{Name: "warnings", Header: []string{"words"}, Rows: [][]string{{"asthma!"}, {"Asthma!"}}}}})
	require.Len(t, twice.Parts, 4)
	for i, may := range []bool{true, false, true, false} {
		assert.Equal(t, may, twice.Parts[i].May, twice.Parts[i].Text)
	}
	assert.Contains(t, twice.Parts[0].Note, "the record has it whole")
	archive, err := studentfile.Record{About: about, Tables: []studentfile.Table{{Name: "contacts", Header: []string{"given", "family", "phone", "do_not_call"}, Rows: [][]string{{"Ragna", "Lund", "+44 1632 960 777", "1"}}}}}.Zip()
	require.NoError(t, err)
	_, err = former.Bring(ctx, o, demotest.Officer, "", former.Brought{Student: idris, File: former.RecordFile{Content: archive}, Take: []string{"contact-1"}})
	require.NoError(t, err)
	require.NoError(t, o.Read(ctx, func(v work.Snapshot) error {
		ties := v.School.TiesOf(idris)
		last := ties[len(ties)-1]
		assert.Equal(t, "Ragna Lund", v.School.ContactOf(last.ContactID).Name())
		assert.True(t, last.DoNotCall, "whom nobody may call stays so")
		return nil
	}))
}
