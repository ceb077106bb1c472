package roster_test

import (
	"fmt"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/policy"
	"meldung/demo/demotest"
	"meldung/files/table"
	"meldung/pages"
	"meldung/pages/absencepage"
	"meldung/pages/concernspage"
	"meldung/pages/deskpage"
	"meldung/pages/frame"
	"meldung/pages/paperpage"
	"meldung/pages/registerpage"
	"meldung/pages/schoolpage"
	"meldung/pages/studentpage"
	"meldung/pages/todaypage"
	"meldung/work"
	"meldung/work/plans"
	"meldung/work/registers"
	"meldung/work/roster"
	"meldung/work/school"
)

// Two sites of a school, under one name: Holm with two registrations, and Ness with later
// bells, a lesson and a day less.
const (
	holm = ids.Section(1)
	ness = ids.Section(2)
)

func twoSites() (people, timetable table.Files) {
	return table.Files{
			"orgs.csv":             []byte("sourcedId,name,type,parentSourcedId\no0,Skerry School,local,\no1,Holm,school,o0\no2,Ness,school,o0\n"),
			"academicSessions.csv": []byte("sourcedId,title,type,startDate,endDate,schoolYear\ny1,Year,schoolYear,2025-09-01,2026-07-31,2026\n"),
			"courses.csv":          []byte("sourcedId,title\nc1,Registration\n"),
			"classes.csv":          []byte("sourcedId,title,grades,courseSourcedId,classType,schoolSourcedId\nk1,7 Gannet,7,c1,homeroom,o1\nk2,11 Tern,11,c1,homeroom,o2\n"),
			"users.csv": []byte("sourcedId,role,orgSourcedIds,givenName,familyName,identifier,grades,phone,agentSourcedIds\n" +
				"t1,teacher,o1,Bertil,Ek,,,,\nt2,teacher,\"o1,o2\",Sanna,Vik,,,,\n" +
				"s1,student,o1,Asta,Øye,70001,7,,g1\ns2,student,o1,Bo,Lone,70002,7,,\ns3,student,o2,Cara,Øye,70003,11,,g1\ns4,student,,Dag,Moe,70004,11,,\n" +
				"g1,guardian,o0,Dot,Øye,,,01632 960 001,\n"),
			"enrollments.csv": []byte("sourcedId,classSourcedId,userSourcedId,role\ne0,k1,t1,teacher\ne5,k2,t2,teacher\ne1,k1,s1,student\ne2,k1,s2,student\ne3,k2,s3,student\ne4,k2,s4,student\n"),
		}, table.Files{
			"calendar.csv": []byte("date,day,term,grading_period,section\n2026-03-09,normal,Spring,Q3,\n2026-03-10,normal,Spring,Q3,\n2026-03-11,normal,Spring,Q3,\n" +
				"2026-03-09,normal,Spring,Q3,o2\n2026-03-10,closed,,,Ness\n2026-03-11,normal,Spring,Q3,o2\n"),
			"slots.csv":     []byte("day,slot,start,end,kind,section\nnormal,AM,08:45,09:00,registration,Holm\nnormal,PM,13:00,13:15,registration,Holm\nnormal,AM,09:15,09:30,registration,Ness\nnormal,1,09:40,10:40,lesson,Ness\n"),
			"timetable.csv": []byte("class,pattern,weekday,slot,room\nk1,normal,,AM,room 1\nk1,normal,,PM,room 1\nk2,normal,,AM,pier\nk2,,1,1,pier\nk2,,3,1,pier\n"),
		}
}

func sites(t *testing.T) small {
	t.Helper()
	o, clock, err := demotest.EmptyWithClock(t.Context(), t.TempDir(), day.At(day.MustDate("2026-03-09"), day.MustMinute("08:40")))
	require.NoError(t, err)
	s := small{t, o, clock}
	people, timetable := twoSites()
	a, b := s.takes(people, timetable)
	assert.Equal(t, plans.PlanPart{What: "section", Added: 2}, part(t, a, "section"))
	assert.Contains(t, strings.Join(a.Notes, "\n"), "the section Ness is new")
	assert.Equal(t, 5, part(t, b, "date").Added+part(t, b, "date").Same-1, "three dates of one, three of the other")
	return s
}

// takesAll sends every register of a slot in a section, everyone present but for those named.
func (s small) takesAll(of ids.Section, slot string, codes map[string]string) {
	s.Helper()
	list, err := registerpage.ShowAll(s.Context(), s.Office, demotest.Admin, "", of)
	require.NoError(s, err)
	for _, r := range list.Registers {
		if r.Slot != slot {
			continue
		}
		v, err := registerpage.Show(s.Context(), s.Office, demotest.Admin, r.Class, r.Slot, "")
		require.NoError(s, err)
		var marks []registers.SentMark
		for _, row := range v.Rows {
			code := codes[row.Student.Given]
			if code == "" {
				code = v.Arriving.In
			}
			marks = append(marks, registers.SentMark{Student: row.Student.ID, Code: code})
		}
		_, err = registers.Send(s.Context(), s.Office, work.Person{Name: "admin", Role: work.Administrator}, "", registers.SentRegister{Date: s.Now().Date().String(), Class: r.Class, Slot: r.Slot, Marks: marks})
		require.NoError(s, err)
	}
}

func names(list []absencepage.AbsenceRow) (out []string) {
	for _, r := range list {
		out = append(out, r.Student.Given)
	}
	return out
}

// A roster brings the sections as organisations, and everyone into theirs: a student without
// one into that of the form. What it exports is what it has.
func TestARosterBringsSections(t *testing.T) {
	t.Parallel()
	s := sites(t)
	v, err := schoolpage.Show(s.Context(), s.Office)
	require.NoError(t, err)
	assert.Equal(t, "Skerry School", v.Name, "the organisation above both")
	assert.Equal(t, []schoolpage.SectionLine{
		{ID: holm, Name: "Holm", Students: 2, Forms: 1, Staff: 2, Codes: "plain", Calendar: "3 school days from Mon 9 March to Wed 11 March"},
		{ID: ness, Name: "Ness", Students: 2, Forms: 1, Staff: 1, Codes: "plain", Calendar: "2 school days from Mon 9 March to Wed 11 March"}}, v.Sections)
	one, err := schoolpage.Show(s.Context(), s.Office, ness)
	require.NoError(t, err)
	assert.Equal(t, []any{2, 1, "Ness"}, []any{one.Students, one.Forms, one.Scope})
	people, err := roster.ExportRoster(s.Context(), s.Office)
	require.NoError(t, err)
	assert.Contains(t, string(people["users.csv"]), "t2,,,true,\"o1,o2\",teacher")
	timetable, err := roster.ExportTimetable(s.Context(), s.Office)
	require.NoError(t, err)
	for what, plan := range map[string]func() (plans.Plan, error){
		"people": func() (plans.Plan, error) {
			return roster.ImportRoster(s.Context(), s.Office, importer, "", people, plans.Options{})
		},
		"timetable": func() (plans.Plan, error) {
			return roster.ImportTimetable(s.Context(), s.Office, importer, "", timetable, plans.Options{})
		},
	} {
		p, err := plan()
		require.NoError(t, err)
		assert.Empty(t, p.Problems, what)
		assert.Zero(t, p.Changes(), "%s: %v", what, p.Parts)
	}
}

func TestEveryLineThatNamesAWrongSectionIsSaid(t *testing.T) {
	t.Parallel()
	s := sites(t)
	people, timetable := twoSites()
	for _, c := range []struct{ file, old, next, want string }{
		{"classes.csv", "homeroom,o2", "homeroom,o9", `classes.csv:3: schoolSourcedId "o9" of 11 Tern is no school in orgs.csv, which has several`},
		{"users.csv", "s1,student,o1", `s1,student,"o1,o2"`, ""},
		{"calendar.csv", "closed,,,Ness", "closed,,,Voe", `calendar.csv:6: there is no section "Voe"`},
		{"slots.csv", "lesson,Ness", "lesson,Voe", `slots.csv:5: there is no section "Voe"`},
		{"timetable.csv", "k1,normal,,PM", "k1,normal,,1", "timetable.csv:3: Holm has no slot 1 of the pattern normal"},
	} {
		var plan plans.Plan
		var err error
		if _, isTimetable := timetable[c.file]; isTimetable {
			plan, err = roster.ImportTimetable(s.Context(), s.Office, importer, "", with(timetable, c.file, c.old, c.next), plans.Options{Apply: true})
		} else {
			plan, err = roster.ImportRoster(s.Context(), s.Office, importer, "", with(people, c.file, c.old, c.next), plans.Options{Apply: true})
		}
		require.NoError(t, err)
		if c.want == "" {
			assert.Empty(t, plan.Problems, "a student of two is where the form is")
			continue
		}
		assert.Contains(t, strings.Join(plan.Problems, "\n"), c.want)
		assert.False(t, plan.Applied)
	}
	half := with(timetable, "calendar.csv", "2026-03-09,normal,Spring,Q3,\n2026-03-10,normal,Spring,Q3,\n2026-03-11,normal,Spring,Q3,\n", "")
	plan, err := roster.ImportTimetable(s.Context(), s.Office, importer, "", half, plans.Options{})
	require.NoError(t, err)
	assert.Contains(t, strings.Join(plan.Problems, "\n"), "slots.csv:2: Holm has slots and no date in calendar.csv")
	assert.Contains(t, strings.Join(plan.Problems, "\n"), `timetable.csv:2: class "k1" is of Holm, which has no date in calendar.csv`)
}

// A timetable of one section leaves the other as it was.
func TestATimetableOfOneSection(t *testing.T) {
	t.Parallel()
	s := sites(t)
	_, timetable := twoSites()
	own := table.Files{
		"calendar.csv":  []byte("date,day,term,grading_period,section\n2026-03-09,normal,Spring,Q3,Ness\n2026-03-10,normal,Spring,Q3,Ness\n2026-03-11,normal,Spring,Q3,Ness\n"),
		"slots.csv":     []byte("day,slot,start,end,kind,section\nnormal,AM,09:25,09:40,registration,Ness\n"),
		"timetable.csv": []byte("class,pattern,weekday,slot,room\nk2,normal,,AM,pier\n"),
	}
	plan, err := roster.ImportTimetable(s.Context(), s.Office, importer, "", own, plans.Options{Apply: true})
	require.NoError(t, err)
	require.Empty(t, plan.Problems)
	assert.Equal(t, plans.PlanPart{What: "meeting of a class", Ended: 2, Same: 1}, part(t, plan, "meeting of a class"))
	rail, err := frame.ShowRail(s.Context(), s.Office, "")
	require.NoError(t, err)
	assert.Equal(t, []int{2, 1}, []int{len(rail.Strips[0].Slots), len(rail.Strips[1].Slots)})
	assert.Equal(t, []int{3, 3}, []int{rail.Strips[0].Of, rail.Strips[1].Of})
	_ = timetable
}

// Each page covers one section, several or all, says which, and adds up.
func TestEveryPageSaysWhichSectionsItCovers(t *testing.T) {
	t.Parallel()
	s := sites(t)
	ctx := s.Context()
	s.at("2026-03-09T09:02")
	s.takesAll(holm, "AM", map[string]string{"Asta": "N"})
	s.at("2026-03-09T09:32")
	s.takesAll(ness, "AM", map[string]string{"Cara": "N", "Dag": "L"})
	roll := func(of ...ids.Section) (int, int, string, []string) {
		v, err := todaypage.Show(ctx, s.Office, "", of...)
		require.NoError(t, err)
		sum := 0
		for _, c := range v.Count {
			sum += c.N
		}
		require.Equal(t, v.Roll, sum, "it adds up")
		var missing []string
		for _, h := range v.Households {
			for _, one := range h.Students {
				missing = append(missing, one.Student.Given)
			}
		}
		return v.Roll, v.Missing, v.Scope, missing
	}
	n, missing, scope, called := roll()
	assert.Equal(t, []any{4, 2, "Skerry School, all sections"}, []any{n, missing, scope})
	assert.ElementsMatch(t, []string{"Asta", "Cara"}, called)
	n, missing, scope, called = roll(holm)
	assert.Equal(t, []any{2, 1, "Skerry School, Holm"}, []any{n, missing, scope})
	assert.ElementsMatch(t, []string{"Asta", "Cara"}, called, "one home: it is rung about both, whichever section is looked at")
	n, missing, scope, _ = roll(ness, holm)
	assert.Equal(t, []any{4, 2, "Skerry School, all sections"}, []any{n, missing, scope})

	list, err := registerpage.ShowAll(ctx, s.Office, demotest.Admin, "", ness)
	require.NoError(t, err)
	assert.Equal(t, []any{"Ness", 2, "Ness"}, []any{list.Scope, len(list.Registers), list.Registers[0].Section})
	lates, err := paperpage.ShowLates(ctx, s.Office, "", paperpage.LatesAsk{}, ness)
	require.NoError(t, err)
	require.Len(t, lates.Rows, 1)
	assert.Equal(t, "Dag", lates.Rows[0].Student.Given)
	lates, err = paperpage.ShowLates(ctx, s.Office, "", paperpage.LatesAsk{}, holm)
	require.NoError(t, err)
	assert.Empty(t, lates.Rows)
	assert.Equal(t, "Holm", lates.Scope)
	desk, err := deskpage.Show(ctx, s.Office, "", holm)
	require.NoError(t, err)
	assert.Equal(t, "Holm", desk.Scope)

	s.at("2026-03-10T16:00")
	closed, err := todaypage.Show(ctx, s.Office, "", ness)
	require.NoError(t, err)
	assert.False(t, closed.Open, "Ness is closed")
	both, err := todaypage.Show(ctx, s.Office, "")
	require.NoError(t, err)
	assert.True(t, both.Open)
	assert.Equal(t, []string{"open", "none"}, []string{both.Safe[0].State, both.Safe[1].State})
	look, err := concernspage.Show(ctx, s.Office, demotest.Officer, "", concernspage.Ask{}, ness)
	require.NoError(t, err)
	assert.Equal(t, []any{"Ness", 2, "2026-03-09"}, []any{look.Scope, look.Students, look.AsAt})
	for what, ask := range map[string]func(of ...ids.Section) error{
		"today": func(of ...ids.Section) error { _, err := todaypage.Show(ctx, s.Office, "", of...); return err },
		"registers": func(of ...ids.Section) error {
			_, err := registerpage.ShowAll(ctx, s.Office, demotest.Admin, "", of...)
			return err
		},
		"desk": func(of ...ids.Section) error { _, err := deskpage.Show(ctx, s.Office, "", of...); return err },
		"rail": func(of ...ids.Section) error { _, err := frame.ShowRail(ctx, s.Office, "", of...); return err },
		"lates": func(of ...ids.Section) error {
			_, err := paperpage.ShowLates(ctx, s.Office, "", paperpage.LatesAsk{}, of...)
			return err
		},
		"cards": func(of ...ids.Section) error {
			_, err := paperpage.CardSheets(ctx, s.Office, paperpage.CardsAsk{}, of...)
			return err
		},
		"absence": func(of ...ids.Section) error {
			_, err := absencepage.Show(ctx, s.Office, "", pages.AbsenceAsk{}, of...)
			return err
		},
		"concerns": func(of ...ids.Section) error {
			_, err := concernspage.Show(ctx, s.Office, demotest.Admin, "", concernspage.Ask{}, of...)
			return err
		},
		"notices": func(of ...ids.Section) error { _, err := todaypage.ShowNotices(ctx, s.Office, "", of...); return err },
		"unexplained": func(of ...ids.Section) error {
			_, err := todaypage.ShowUnexplained(ctx, s.Office, "", of...)
			return err
		},
		"protocol": func(of ...ids.Section) error { _, err := todaypage.ShowProtocol(ctx, s.Office, "", of...); return err },
		"outbox": func(of ...ids.Section) error {
			_, err := todaypage.ShowOutbox(ctx, s.Office, demotest.Admin, "", of...)
			return err
		},
		"tasks":  func(of ...ids.Section) error { _, err := todaypage.ShowTasks(ctx, s.Office, of...); return err },
		"school": func(of ...ids.Section) error { _, err := schoolpage.Show(ctx, s.Office, of...); return err },
	} {
		assert.NoError(t, ask(holm, ness), what)
		assert.ErrorContains(t, ask(3), "there is no section 3", what)
	}
	s.well()
}

// A student who goes to the other section in mid-year is measured there from then on, by its
// calendar; what was before stays in the section where it was.
func TestAStudentChangesSection(t *testing.T) {
	t.Parallel()
	s := sites(t)
	ctx := s.Context()
	s.at("2026-03-09T09:02")
	s.takesAll(holm, "AM", map[string]string{"Bo": "U"})
	s.at("2026-03-09T13:16")
	s.takesAll(holm, "PM", map[string]string{"Bo": "U"})
	people, _ := twoSites()
	people = with(people, "users.csv", "s2,student,o1,Bo,Lone,70002,7", "s2,student,o2,Bo,Lone,70002,11")
	people = with(people, "enrollments.csv", "e2,k1,s2", "e2,k2,s2")
	s.at("2026-03-10T07:00")
	plan, err := roster.ImportRoster(ctx, s.Office, importer, "", people, plans.Options{Apply: true})
	require.NoError(t, err)
	require.True(t, plan.Applied)
	assert.Contains(t, plan.Notes, "1 student from Holm to Ness")
	assert.Contains(t, strings.Join(plan.Details, "\n"), "Bo Lone 70002: year 7, 7 Gannet, Holm to year 11, 11 Tern, Ness")
	s.at("2026-03-11T09:32")
	s.takesAll(ness, "AM", nil)
	s.at("2026-03-11T10:42")
	s.takesAll(ness, "1", nil)
	s.at("2026-03-11T16:00")
	show := func(at string, of ids.Section) absencepage.AbsenceView {
		v, err := absencepage.Show(ctx, s.Office, at, pages.AbsenceAsk{Policy: "sessions"}, of)
		require.NoError(t, err)
		return v
	}
	assert.ElementsMatch(t, []string{"Asta", "Bo"}, names(show("2026-03-09", holm).Rows))
	assert.Equal(t, "50.0", show("2026-03-09", holm).School)
	assert.ElementsMatch(t, []string{"Asta"}, names(show("", holm).Rows))
	after := show("", ness)
	assert.ElementsMatch(t, []string{"Bo", "Cara", "Dag"}, names(after.Rows))
	assert.Equal(t, "0.0", after.School)
	bo := demotest.Find(t, s.Office, "Bo Lone").Student.ID
	sheet, err := studentpage.Show(ctx, s.Office, demotest.Admin, bo, "")
	require.NoError(t, err)
	assert.Equal(t, "Ness", sheet.Student.Section)
	assert.Equal(t, "Tue 10 March", sheet.Since)
	require.Len(t, sheet.Stays, 1)
	assert.Equal(t, studentpage.StayView{Section: "Holm", Label: "Mon 9 March to Mon 9 March", Rate: "100.0", Absent: 1, Possible: 1}, sheet.Stays[0])
	s.well()
}

// Each section has its own codes, rules and policies; a page over both measures each by its own
// and says what it leaves out.
func TestEachSectionDecidesForItself(t *testing.T) {
	t.Parallel()
	s := sites(t)
	ctx := s.Context()
	admin := work.Person{Name: "admin", Role: work.Administrator}
	s.at("2026-03-09T07:00")
	_, err := school.ChooseCodes(ctx, s.Office, admin, "", school.CodesChoice{Section: ness, Set: "sessions-2024", Apply: true})
	require.NoError(t, err)
	_, err = school.ChooseCodes(ctx, s.Office, admin, "", school.CodesChoice{Set: "plain", Apply: true})
	assert.ErrorContains(t, err, "Holm and Ness have codes of their own: choose for one section")
	_, err = school.ChooseCodes(ctx, s.Office, admin, "", school.CodesChoice{Section: 9, Set: "plain", Apply: true})
	assert.ErrorContains(t, err, "there is no section 9")
	_, err = school.SetReasons(ctx, s.Office, admin, "", school.Reasons{Seen: s.Settings(holm).Reasons, Reasons: s.Settings(holm).Reasons})
	assert.ErrorContains(t, err, "Ness has reasons of its own")
	reasons := s.Settings(holm).Reasons
	fresh := reasons[0]
	fresh.Word, fresh.Key = "dentist", ""
	_, err = school.AddReason(ctx, s.Office, admin, "", fresh)
	require.NoError(t, err)
	last := func(of ids.Section) [2]string {
		r := s.Settings(of).Reasons
		return [2]string{r[len(r)-1].Word, r[len(r)-1].Absent}
	}
	assert.Equal(t, [][2]string{{"dentist", "M"}, {"dentist", "I"}}, [][2]string{last(holm), last(ness)}, "each by its own codes")

	own := "id: strict\ntitle: Strict\ncodes: plain\nunit: day\nthreshold: 1/20\n"
	_, err = school.TakePolicy(ctx, s.Office, admin, "", school.PolicyChoice{Section: holm, Text: own, Apply: true})
	require.NoError(t, err)

	// Two people change the rules of a section each at once: neither is lost.
	var both sync.WaitGroup
	for section, within := range map[ids.Section]day.Minutes{holm: 11, ness: 22} {
		both.Go(func() {
			_, err := school.SetRegisterRules(ctx, s.Office, admin, fmt.Sprint("rules of section ", section), school.RegisterRules{Section: section, Within: within, LateGrace: 5, RemindAfter: 5})
			assert.NoError(t, err)
		})
	}
	both.Wait()
	assert.Equal(t, []day.Minutes{11, 22}, []day.Minutes{s.Settings(holm).RegisterWithin, s.Settings(ness).RegisterWithin})
	v, err := schoolpage.Show(ctx, s.Office)
	require.NoError(t, err)
	assert.Equal(t, []string{"codes", "reasons", "rules", "policies"}, v.Apart)
	_, err = school.SetRegisterRules(ctx, s.Office, admin, "", school.RegisterRules{Within: 15, LateGrace: 5, RemindAfter: 5})
	require.NoError(t, err)
	assert.Equal(t, []day.Minutes{15, 15}, []day.Minutes{s.Settings(holm).RegisterWithin, s.Settings(ness).RegisterWithin}, "of every section")

	s.at("2026-03-09T09:02")
	s.takesAll(holm, "AM", map[string]string{"Asta": "M"})
	s.at("2026-03-09T09:32")
	s.takesAll(ness, "AM", map[string]string{"Cara": "I"})
	s.at("2026-03-09T10:42")
	s.takesAll(ness, "1", map[string]string{"Cara": "I"})
	s.at("2026-03-09T13:16")
	s.takesAll(holm, "PM", map[string]string{"Asta": "M"})
	s.at("2026-03-09T16:00")
	page, err := absencepage.Show(ctx, s.Office, "", pages.AbsenceAsk{Policy: "ten-percent"})
	require.NoError(t, err)
	assert.Equal(t, policy.Percent(2, 4), page.School)
	assert.Empty(t, page.Apart)
	assert.Len(t, page.Reasons, 2, "medical by one set, illness by the other")
	strict, err := absencepage.Show(ctx, s.Office, "", pages.AbsenceAsk{Policy: "strict"})
	require.NoError(t, err)
	assert.Equal(t, []any{2, "Without Ness, which measures otherwise: look at it alone."}, []any{strict.Students, strict.Apart})
	_, err = absencepage.Show(ctx, s.Office, "", pages.AbsenceAsk{Policy: "strict"}, ness)
	assert.ErrorContains(t, err, `there is no policy "strict"`)
	files, err := roster.ExportAssess(ctx, s.Office, s.Now().Date(), "")
	require.NoError(t, err)
	assert.Contains(t, string(files["o1/marks.csv"]), "s1,2026-03-09,AM,M")
	assert.Contains(t, string(files["o2/marks.csv"]), "s3,2026-03-09,AM,I")
	assert.Contains(t, files, "o1/policy-strict.yaml")
	assert.NotContains(t, files, "o2/policy-strict.yaml")
	s.well()
}
