package roster_test

import (
	"context"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/demo/demotest"
	"meldung/files/table"
	"meldung/pages"
	"meldung/pages/absencepage"
	"meldung/pages/concernspage"
	"meldung/pages/frame"
	"meldung/pages/registerpage"
	"meldung/pages/schoolpage"
	"meldung/pages/todaypage"
	"meldung/work"
	"meldung/work/check"
	"meldung/work/contacts"
	"meldung/work/plans"
	"meldung/work/registers"
	"meldung/work/roster"
)

var importer = work.Person{Name: "import"}

// smallRoster is one form with two students, a teacher and a guardian.
func smallRoster() table.Files {
	return table.Files{
		"orgs.csv":             []byte("sourcedId,name,type\no1,Skerry School,school\n"),
		"academicSessions.csv": []byte("sourcedId,title,type,startDate,endDate,schoolYear\ny1,Year,schoolYear,2025-09-01,2026-07-31,2026\n"),
		"courses.csv":          []byte("sourcedId,title\nc1,Registration\n"),
		"classes.csv":          []byte("sourcedId,title,courseSourcedId,classType\nk1,7 Gannet,c1,homeroom\n"),
		"users.csv": []byte("sourcedId,role,givenName,familyName,identifier,phone,agentSourcedIds\n" +
			"t1,teacher,Bertil,Ek,,,\ns1,student,Asta,Øye,70001,,g1\ns2,student,Bo,Lone,70002,,\ng1,guardian,Dot,Øye,,01632 960 001,\n"),
		"enrollments.csv": []byte("sourcedId,classSourcedId,userSourcedId,role,beginDate,endDate\ne0,k1,t1,teacher,,\ne1,k1,s1,student,2025-09-01,\ne2,k1,s2,student,2025-09-08,\n"),
	}
}

func with(files table.Files, name, old, next string) table.Files {
	out := table.Files{}
	for n, c := range files {
		out[n] = c
	}
	out[name] = []byte(strings.Replace(string(files[name]), old, next, 1))
	return out
}

func imported(t *testing.T) *work.Office {
	t.Helper()
	o, err := demotest.Empty(t.Context(), t.TempDir(), day.At(day.MustDate(demotest.Date), day.MustMinute("09:12")))
	require.NoError(t, err)
	plan, err := roster.ImportRoster(t.Context(), o, importer, "", smallRoster(), plans.Options{Apply: true})
	require.NoError(t, err)
	require.Empty(t, plan.Problems)
	require.True(t, plan.Applied)
	return o
}

func part(t *testing.T, p plans.Plan, what string) plans.PlanPart {
	t.Helper()
	for _, x := range p.Parts {
		if x.What == what {
			return x
		}
	}
	t.Fatalf("the plan has no part %q", what)
	return plans.PlanPart{}
}

func TestAnImportNamesTheSchool(t *testing.T) {
	t.Parallel()
	v, err := schoolpage.Show(t.Context(), imported(t))
	require.NoError(t, err)
	assert.Equal(t, "Skerry School", v.Name)
	assert.Equal(t, []int{2, 1, 1, 1}, []int{v.Students, v.Forms, v.Staff, v.Contacts})
	assert.Equal(t, "Bo Lone", v.NoContact[0].Name)
	assert.Empty(t, v.Sections[0].Calendar)
}

func TestAChangedPhoneIsAChange(t *testing.T) {
	t.Parallel()
	o := imported(t)
	files := with(smallRoster(), "users.csv", "01632 960 001", "01632 960 002 (evenings)")
	look, err := roster.ImportRoster(t.Context(), o, importer, "", files, plans.Options{})
	require.NoError(t, err)
	assert.Equal(t, plans.PlanPart{What: "contact", Changed: 1}, part(t, look, "contact"))
	assert.Equal(t, 2, part(t, look, "student").Same)
	assert.Equal(t, []string{"change contact Dot Øye: phone from 01632 960 001 to 01632 960 002 (evenings)"}, look.Details)
	_, err = roster.ImportRoster(t.Context(), o, importer, "", files, plans.Options{Apply: true})
	require.NoError(t, err)
	again, err := roster.ImportRoster(t.Context(), o, importer, "", files, plans.Options{Apply: true})
	require.NoError(t, err)
	assert.Zero(t, again.Changes())
}

func TestAStudentWhoIsNoLongerThereHasEndedAndIsKept(t *testing.T) {
	t.Parallel()
	o := imported(t)
	files := with(smallRoster(), "users.csv", "s2,student,Bo,Lone,70002,,\n", "")
	files = with(files, "enrollments.csv", "e2,k1,s2,student,2025-09-08,\n", "")
	plan, err := roster.ImportRoster(t.Context(), o, importer, "", files, plans.Options{Apply: true})
	require.NoError(t, err)
	assert.Equal(t, 1, part(t, plan, "stay on the roll").Ended)
	assert.Equal(t, 1, part(t, plan, "place in a class").Ended)
	v, err := schoolpage.Show(t.Context(), o)
	require.NoError(t, err)
	assert.Equal(t, 1, v.Students)
	then, err := frame.FindStudents(t.Context(), o, demotest.Officer, "lone", "2026-03-06", 3)
	require.NoError(t, err)
	assert.Len(t, then, 1, "looking at last week the student is on the roll")
	again, err := roster.ImportRoster(t.Context(), o, importer, "", files, plans.Options{Apply: true})
	require.NoError(t, err)
	assert.Zero(t, again.Changes(), "ended once")
	back, err := roster.ImportRoster(t.Context(), o, importer, "", smallRoster(), plans.Options{Apply: true})
	require.NoError(t, err)
	assert.Equal(t, 1, part(t, back, "stay on the roll").Changed, "and comes back as the same student")
}

func TestAWrongLineChangesNothing(t *testing.T) {
	t.Parallel()
	o := imported(t)
	files := with(smallRoster(), "users.csv", "Asta", "Astrid")
	files = with(files, "enrollments.csv", "e2,k1", "e2,k9")
	plan, err := roster.ImportRoster(t.Context(), o, importer, "", files, plans.Options{Apply: true})
	require.NoError(t, err)
	assert.False(t, plan.Applied)
	assert.Equal(t, []string{`enrollments.csv:4: classSourcedId "k9" is not in classes.csv`}, plan.Problems)
	found, err := frame.FindStudents(t.Context(), o, demotest.Officer, "asta", "", 3)
	require.NoError(t, err)
	assert.Len(t, found, 1)
}

func TestATeacherWhoLeavesAClass(t *testing.T) {
	t.Parallel()
	o := imported(t)
	plan, err := roster.ImportRoster(t.Context(), o, importer, "", with(smallRoster(), "enrollments.csv", "e0,k1,t1,teacher,,\n", ""), plans.Options{Apply: true})
	require.NoError(t, err)
	assert.Equal(t, 1, part(t, plan, "teacher of a class").Ended)
	files, err := roster.ExportRoster(t.Context(), o)
	require.NoError(t, err)
	assert.NotContains(t, string(files["enrollments.csv"]), "teacher")
}

func smallTimetable() table.Files {
	return table.Files{
		"calendar.csv":  []byte("date,day,term,grading_period\n2026-03-09,normal,Spring,Q3\n2026-03-10,normal,Spring,Q3\n2026-03-11,closed,,\n"),
		"slots.csv":     []byte("day,slot,start,end,kind\nnormal,AM,08:45,09:00,registration\nnormal,1,09:05,09:55,lesson\n"),
		"timetable.csv": []byte("class,pattern,weekday,slot,room\n7 Gannet,normal,,AM,room 1\nk1,,2,1,room 2\n"),
	}
}

func TestATimetableMakesTheFirstRegister(t *testing.T) {
	t.Parallel()
	o := imported(t)
	ctx := t.Context()
	_, err := concernspage.Show(ctx, o, demotest.Officer, "", concernspage.Ask{})
	assert.ErrorContains(t, err, "import a timetable first")
	bad, err := roster.ImportTimetable(ctx, o, importer, "", with(smallTimetable(), "timetable.csv", "7 Gannet", "8 Puffin"), plans.Options{Apply: true})
	require.NoError(t, err)
	assert.Equal(t, []string{`timetable.csv:2: class "8 Puffin" is not in the roster, by sourcedId, code or title`}, bad.Problems)
	plan, err := roster.ImportTimetable(ctx, o, importer, "", smallTimetable(), plans.Options{Apply: true})
	require.NoError(t, err)
	require.True(t, plan.Applied)
	list, err := registerpage.ShowAll(ctx, o, demotest.Officer, "")
	require.NoError(t, err)
	require.Len(t, list.Registers, 2, "registration by title, lesson 1 by sourcedId on Tuesdays")
	monday, err := registerpage.ShowAll(ctx, o, demotest.Officer, "2026-03-09")
	require.NoError(t, err)
	assert.Len(t, monday.Registers, 1)
	closed, err := registerpage.ShowAll(ctx, o, demotest.Officer, "2026-03-11")
	require.NoError(t, err)
	assert.False(t, closed.Open)

	class := list.Registers[0].Class
	v, err := registerpage.Show(ctx, o, demotest.Officer, class, "AM", "")
	require.NoError(t, err)
	var all []registers.SentMark
	for _, r := range v.Rows {
		all = append(all, registers.SentMark{Student: r.Student.ID, Code: "N"})
	}
	_, err = registers.Send(ctx, o, work.Person{Name: "nobody yet", Role: work.Administrator}, "first register", registers.SentRegister{Date: demotest.Date, Class: class, Slot: "AM", Marks: all})
	require.NoError(t, err)
	today, err := todaypage.Show(ctx, o, "")
	require.NoError(t, err)
	assert.Equal(t, 2, today.Missing)
	assert.Equal(t, 1, today.NoContact)
	again, err := roster.ImportTimetable(ctx, o, importer, "", smallTimetable(), plans.Options{Apply: true})
	require.NoError(t, err)
	assert.Zero(t, again.Changes())
	wrong, err := check.Check(ctx, o, false)
	require.NoError(t, err)
	assert.Empty(t, wrong)
}

func TestASchoolWithoutAnything(t *testing.T) {
	t.Parallel()
	o, err := demotest.Empty(t.Context(), t.TempDir(), day.At(day.MustDate(demotest.Date), day.MustMinute("09:12")))
	require.NoError(t, err)
	today, err := todaypage.Show(t.Context(), o, "")
	require.NoError(t, err)
	assert.False(t, today.Open)
	assert.Equal(t, "none", today.Safe[0].State)
	rail, err := frame.ShowRail(t.Context(), o, "")
	require.NoError(t, err)
	assert.False(t, rail.Open)
	_, err = absencepage.Show(t.Context(), o, "", pages.AbsenceAsk{Policy: "ten-percent"})
	assert.ErrorContains(t, err, "import a timetable first")
	_, err = todaypage.Show(t.Context(), o, "yesterday")
	assert.Error(t, err)
}

// A slot that no day pattern has would have the student due in nothing.
func TestAScheduleOfNoSlotIsALineOfTheDryRun(t *testing.T) {
	t.Parallel()
	o := imported(t)
	_, err := roster.ImportTimetable(t.Context(), o, importer, "", smallTimetable(), plans.Options{Apply: true})
	require.NoError(t, err)
	files := with(smallRoster(), "users.csv", "phone,agentSourcedIds", "phone,agentSourcedIds,metadata.schedule")
	text := strings.ReplaceAll(string(files["users.csv"]), ",\n", ",,\n")
	text = strings.Replace(text, "70001,,g1", "70001,,g1,AN", 1)
	text = strings.Replace(text, "Ek,,,,", "Ek,,,", 1)
	files["users.csv"] = []byte(text)
	plan, err := roster.ImportRoster(t.Context(), o, importer, "", files, plans.Options{Apply: true})
	require.NoError(t, err)
	assert.False(t, plan.Applied)
	assert.Contains(t, strings.Join(plan.Problems, "\n"), `users.csv:3: metadata.schedule of Asta Øye names the slot "AN", which is in no day pattern`)
}

// Two who apply at once: both are taken, one after the other, each by what is there then.
func TestTwoImportsAtOnce(t *testing.T) {
	t.Parallel()
	o := imported(t)
	done := make(chan error, 2)
	for _, phone := range []string{"01632 960 011", "01632 960 012"} {
		go func() {
			_, err := roster.ImportRoster(t.Context(), o, importer, "", with(smallRoster(), "users.csv", "01632 960 001", phone), plans.Options{Apply: true})
			done <- err
		}()
	}
	require.NoError(t, <-done)
	require.NoError(t, <-done)
	wrong, err := check.Check(t.Context(), o, false)
	require.NoError(t, err)
	assert.Empty(t, wrong)
}

// Who asked may hang up, at any moment: what is stored is what the pages show.
func TestTheBrowserHangsUp(t *testing.T) {
	t.Parallel()
	o := imported(t)
	applied := 0
	for n := range 60 {
		name := fmt.Sprint("Lund", n)
		ctx, cancel := context.WithTimeout(t.Context(), time.Duration(n)*500*time.Microsecond)
		if n == 59 {
			ctx, cancel = context.WithCancel(t.Context()) // stays
		}
		files := with(smallRoster(), "users.csv", "s2,student,Bo,Lone,70002", "s2,student,Bo,"+name+",70002")
		_, _ = roster.ImportRoster(ctx, o, importer, "", files, plans.Options{Apply: true}) // refused, cut off or done
		cancel()
		var stored int
		require.NoError(t, o.Store().Sessions().QueryRowContext(t.Context(), "SELECT count(*) FROM student WHERE family = ?", name).Scan(&stored))
		found, err := frame.FindStudents(t.Context(), o, demotest.Officer, name, "", 3)
		require.NoError(t, err)
		require.Len(t, found, stored, "hung up after %d half milliseconds", n)
		applied += stored
	}
	assert.Positive(t, applied, "some were in time")
}

// What the school itself has changed about contacts stays when a roster comes that has it otherwise,
// and is said; the roster's own takes its place only where that is asked for.
func TestContactsKeptUpHereOutlastAnImport(t *testing.T) {
	t.Parallel()
	o := imported(t)
	ctx := t.Context()
	asta := demotest.IDs(t, o, "Asta Øye")[0]
	phone := func() (out []string) {
		require.NoError(t, o.Read(ctx, func(v work.Snapshot) error {
			for _, c := range v.School.ContactsOf(asta) {
				out = append(out, c.Name+" "+c.Phone)
			}
			return nil
		}))
		return out
	}
	var dot contacts.Contact
	require.NoError(t, o.Read(ctx, func(v work.Snapshot) error {
		dot = contacts.Contact{Student: asta, Contact: v.School.ContactsOf(asta)[0].ID, Given: "Dot", Family: "Øye", Phone: "07700 900 111"}
		return nil
	}))
	office := work.Person{Name: "R. Tolvan", Role: work.Officer}
	_, err := contacts.Set(ctx, o, office, "new number", dot)
	require.NoError(t, err)
	_, err = contacts.Set(ctx, o, office, "one more", contacts.Contact{Student: asta, Given: "Rolf", Family: "Øye", Phone: "07700 900 222"})
	require.NoError(t, err)
	own := []string{"Dot Øye 07700 900 111", "Rolf Øye 07700 900 222"}
	require.Equal(t, own, phone())

	// The same roster again, and one with a number of its own.
	for _, files := range []table.Files{smallRoster(), with(smallRoster(), "users.csv", "01632 960 001", "01632 960 099")} {
		plan, err := roster.ImportRoster(ctx, o, importer, "", files, plans.Options{Apply: true})
		require.NoError(t, err)
		require.Len(t, plan.Kept, 2)
		assert.Contains(t, plan.Kept[0], "Dot Øye: here 07700 900 111")
		assert.Contains(t, plan.Kept[0], "in the files Dot Øye, 01632 960 0")
		assert.Contains(t, plan.Kept[1], "contacts of Asta Øye: here 2")
		assert.Equal(t, own, phone())
	}
	plan, err := roster.ImportRoster(ctx, o, importer, "", smallRoster(), plans.Options{Apply: true, TakeFiles: true})
	require.NoError(t, err)
	assert.Empty(t, plan.Kept)
	assert.True(t, plan.Applied)
	assert.Equal(t, []string{"Dot Øye 01632 960 001"}, phone())
	plan, err = roster.ImportRoster(ctx, o, importer, "", smallRoster(), plans.Options{Apply: true})
	require.NoError(t, err)
	assert.Zero(t, plan.Changes(), "from then on the roster's own is what there is")
	wrong, err := check.Check(ctx, o, false)
	require.NoError(t, err)
	assert.Empty(t, wrong)
}

// What the school itself has changed about warnings stays as well, each with its document, through
// imports and exports; where nothing was changed here, the files have it.
func TestWarningsKeptUpHereOutlastAnImport(t *testing.T) {
	t.Parallel()
	o := imported(t)
	ctx := t.Context()
	files := func(asta, bo string) table.Files {
		out := smallRoster()
		out["users.csv"] = []byte("sourcedId,role,givenName,familyName,identifier,phone,agentSourcedIds,metadata.warnings\n" +
			"t1,teacher,Bertil,Ek,,,,\ns1,student,Asta,Øye,70001,,g1," + asta + "\ns2,student,Bo,Lone,70002,,," + bo + "\ng1,guardian,Dot,Øye,,01632 960 001,,\n")
		return out
	}
	_, err := roster.ImportRoster(ctx, o, importer, "", files("nut allergy|asthma", "hearing aid"), plans.Options{Apply: true})
	require.NoError(t, err)
	asta, bo := demotest.IDs(t, o, "Asta Øye")[0], demotest.IDs(t, o, "Bo Lone")[0]
	warned := func(id ids.Student) (out []string) {
		require.NoError(t, o.Read(ctx, func(v work.Snapshot) error {
			for _, w := range v.School.WarningsOf(id) {
				out = append(out, strings.TrimRight(w.Text+" "+w.Document, " "))
			}
			return nil
		}))
		return out
	}
	first := func() (id ids.Warning) {
		require.NoError(t, o.Read(ctx, func(v work.Snapshot) error { id = v.School.WarningsOf(asta)[0].ID; return nil }))
		return id
	}
	office := work.Person{Name: "R. Tolvan", Role: work.Officer}
	_, err = contacts.SetWarning(ctx, o, office, "with its plan", contacts.Warning{Student: asta, Warning: first(), Text: "nut allergy",
		Document: &contacts.Document{Name: "plan.pdf", Content: []byte("%PDF-1.7\n%%EOF\n")}})
	require.NoError(t, err)
	_, err = contacts.EndWarning(ctx, o, office, "ended", contacts.WarningEnd{Student: asta, Warning: first() + 1, Why: "tested again"})
	require.NoError(t, err)
	own := []string{"nut allergy plan.pdf"}
	require.Equal(t, own, warned(asta))

	for _, bos := range []string{"hearing aid", "hearing aid: sits in front|new glasses", ""} {
		plan, err := roster.ImportRoster(ctx, o, importer, "", files("nut allergy|asthma", bos), plans.Options{Apply: true})
		require.NoError(t, err)
		require.Len(t, plan.Kept, 1)
		assert.Contains(t, plan.Kept[0], "warnings of Asta Øye: here nut allergy, changed by")
		assert.Contains(t, plan.Kept[0], "in the files asthma, nut allergy")
		assert.Equal(t, own, warned(asta), "what has ended here comes back from no file")
		assert.Equal(t, strings.FieldsFunc(bos, func(r rune) bool { return r == '|' }), append([]string{}, warned(bo)...), "the files' own")
	}
	plan, err := roster.ImportRoster(ctx, o, importer, "", files("nut allergy|asthma", ""), plans.Options{Apply: true, TakeFiles: true})
	require.NoError(t, err)
	assert.Empty(t, plan.Kept)
	assert.Equal(t, []string{"nut allergy plan.pdf", "asthma"}, warned(asta), "the same warning keeps its document")
	plan, err = roster.ImportRoster(ctx, o, importer, "", files("nut allergy|asthma", ""), plans.Options{Apply: true})
	require.NoError(t, err)
	assert.Zero(t, plan.Changes())
	wrong, err := check.Check(ctx, o, false)
	require.NoError(t, err)
	assert.Empty(t, wrong)
}
