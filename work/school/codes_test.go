package school_test

import (
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/demo/demotest"
	"meldung/files/assess"
	"meldung/files/policyfile"
	"meldung/files/table"
	"meldung/held"
	"meldung/pages"
	"meldung/pages/absencepage"
	"meldung/pages/deskpage"
	"meldung/pages/registerpage"
	"meldung/pages/rollcallpage"
	"meldung/pages/schoolpage"
	"meldung/pages/todaypage"
	"meldung/work"
	"meldung/work/check"
	"meldung/work/desk"
	"meldung/work/home"
	"meldung/work/plans"
	"meldung/work/registers"
	"meldung/work/rollcall"
	"meldung/work/roster"
	"meldung/work/school"
	"meldung/work/trips"
)

const today = "2026-03-10"

// small is a school of six with a registration in each half of the day and a lesson between.
type small struct {
	*testing.T
	*work.Office
	clock *demotest.Clock
	class ids.Class
	who   map[string]ids.Student
}

func newSmall(t *testing.T) *small {
	t.Helper()
	o, clock, err := demotest.EmptyWithClock(t.Context(), t.TempDir(), day.At(day.MustDate("2026-03-09"), day.MustMinute("08:40")))
	require.NoError(t, err)
	users, places := "sourcedId,role,givenName,familyName,identifier,phone,agentSourcedIds\nt1,teacher,Bertil,Ek,,,\n", "sourcedId,classSourcedId,userSourcedId,role\ne0,k1,t1,teacher\n"
	for _, n := range []string{"Ada", "Bo", "Cai", "Dot", "Eir", "Fay"} {
		users += n + ",student," + n + ",Lone,7" + n + ",,g" + n + "\ng" + n + ",guardian,Home," + n + ",,01632 960 001,\n"
		places += "e" + n + ",k1," + n + ",student\n"
	}
	people := table.Files{
		"orgs.csv":             []byte("sourcedId,name,type\no1,Skerry School,school\n"),
		"academicSessions.csv": []byte("sourcedId,title,type,startDate,endDate,schoolYear\ny1,Year,schoolYear,2025-09-01,2026-07-31,2026\n"),
		"courses.csv":          []byte("sourcedId,title\nc1,Registration\n"),
		"classes.csv":          []byte("sourcedId,title,courseSourcedId,classType\nk1,7 Gannet,c1,homeroom\n"),
		"users.csv":            []byte(users), "enrollments.csv": []byte(places),
	}
	timetable := table.Files{
		"calendar.csv":  []byte("date,day,term,grading_period\n2026-03-09,normal,Spring,Q3\n2026-03-10,normal,Spring,Q3\n2026-03-11,normal,Spring,Q3\n2026-03-12,normal,Spring,Q3\n"),
		"slots.csv":     []byte("day,slot,start,end,kind\nnormal,AM,08:45,09:00,registration\nnormal,1,09:05,09:55,lesson\nnormal,PM,13:00,13:15,registration\n"),
		"timetable.csv": []byte("class,pattern,weekday,slot,room\nk1,,,AM,\nk1,,,1,\nk1,,,PM,\n"),
	}
	plan, err := roster.ImportRoster(t.Context(), o, office, "", people, plans.Options{Apply: true})
	require.NoError(t, err)
	require.Empty(t, plan.Problems)
	plan, err = roster.ImportTimetable(t.Context(), o, office, "", timetable, plans.Options{Apply: true})
	require.NoError(t, err)
	require.Empty(t, plan.Problems)
	s := &small{T: t, Office: o, clock: clock, who: map[string]ids.Student{}}
	require.NoError(t, o.Read(t.Context(), func(v work.Snapshot) error {
		s.class = v.School.Classes[0].ID
		for _, x := range v.School.Students {
			s.who[x.Given] = x.ID
		}
		return nil
	}))
	return s
}

var office = work.Person{Name: "office", Role: work.Administrator}

func (s *small) at(instant string) {
	at, err := day.ParseInstant(instant)
	require.NoError(s, err)
	s.clock.Set(at)
}

// sends sends a register of the day: everyone as filled in or present, but for those named.
func (s *small) sends(slot string, codes map[string]registers.SentMark) {
	s.Helper()
	v, err := registerpage.Show(s.Context(), s.Office, office, s.class, slot, "")
	require.NoError(s, err)
	var marks []registers.SentMark
	for _, row := range v.Rows {
		m, named := codes[row.Student.Given]
		switch {
		case named:
		case row.Known != nil:
			m = registers.SentMark{Code: row.Known.Code, Time: row.Known.From + row.Known.To}
		default:
			m.Code = v.Arriving.In
		}
		m.Student = row.Student.ID
		marks = append(marks, m)
	}
	_, err = registers.Send(s.Context(), s.Office, office, "", registers.SentRegister{Date: s.Now().Date().String(), Class: s.class, Slot: slot, Marks: marks})
	require.NoError(s, err)
}

// marks are the codes in force of a day's slot, by given name.
func (s *small) marks(date, slot string) map[string]string {
	s.Helper()
	v, err := registerpage.Show(s.Context(), s.Office, office, s.class, slot, date)
	require.NoError(s, err)
	out := map[string]string{}
	for _, row := range v.Rows {
		if n := len(row.Versions); n > 0 {
			last := row.Versions[n-1]
			out[row.Student.Given] = last.Code + " " + last.From + last.To
		}
	}
	return out
}

func (s *small) well() {
	s.Helper()
	wrong, err := check.Check(s.Context(), s.Office, false)
	require.NoError(s, err)
	assert.Empty(s, wrong)
}

func (s *small) chooses(c school.CodesChoice) school.CodesPlan {
	s.Helper()
	c.Apply = true
	plan, err := school.ChooseCodes(s.Context(), s.Office, office, "", c)
	require.NoError(s, err)
	require.True(s, plan.Applied)
	return plan
}

// A whole morning and the desk's day on a set with other letters, a code for each half of
// the day, and none for leaving early: D there is dual registration, X not required.
func TestAMorningOnSessions(t *testing.T) {
	t.Parallel()
	s := newSmall(t)
	ctx := t.Context()
	plan := s.chooses(school.CodesChoice{Set: "sessions-2024"})
	assert.Equal(t, "at all times", plan.When, "there is no mark yet")
	assert.Equal(t, []string{"nobody can attend at a distance", "leaving early for a reason makes no difference to the mark", "leaving early makes no difference to the mark"}, plan.Lacks)

	s.at(today + "T08:41")
	_, err := home.Notify(ctx, s.Office, office, "", home.Notice{Students: []ids.Student{s.who["Bo"]}, Reason: "ill"})
	require.NoError(t, err)
	_, err = trips.Plan(ctx, s.Office, office, "", trips.Activity{Title: "Choir", Leader: "S. Aune", From: "0830", To: "1100", Students: []ids.Student{s.who["Eir"]}})
	require.NoError(t, err)
	s.at(today + "T08:48")
	v, err := registerpage.Show(ctx, s.Office, office, s.class, "AM", "")
	require.NoError(t, err)
	keys, buttons := map[string]string{}, map[int]string{}
	for _, c := range v.Codes {
		keys[c.Code] = c.Key
		buttons[c.Button] = c.Code
		assert.NotEqual(t, `\`, c.Code, "that is for the afternoon")
	}
	assert.Equal(t, ".", keys["/"], "the stroke goes to the quick line")
	assert.Equal(t, []string{"/", "L", "N", "C", "I", "V"}, []string{buttons[1], buttons[2], buttons[3], buttons[4], buttons[5], buttons[6]})
	assert.Equal(t, registerpage.Arriving{In: "/", Late: "L", InUntil: "08:50"}, v.Arriving)
	s.sends("AM", map[string]registers.SentMark{"Cai": {Code: "N"}, "Dot": {Code: "N"}, "Fay": {Code: "N"}})
	assert.Equal(t, map[string]string{"Ada": "/ ", "Bo": "I ", "Cai": "N ", "Dot": "N ", "Eir": "V ", "Fay": "N "}, s.marks(today, "AM"))

	// Cai comes late at the desk, Dot's home says appointment, Fay is seen in a lesson.
	s.at(today + "T08:55")
	_, err = desk.Move(ctx, s.Office, office, "", desk.Movement{Students: []ids.Student{s.who["Cai"]}, Kind: "arrived", Reason: "overslept"})
	require.NoError(t, err)
	preview, err := todaypage.PreviewNotice(ctx, s.Office, home.Notice{Students: []ids.Student{s.who["Dot"]}, Reason: "appointment", ToTime: "0930"})
	require.NoError(t, err)
	assert.Equal(t, "C", preview.Code)
	_, err = home.Notify(ctx, s.Office, office, "", home.Notice{Students: []ids.Student{s.who["Dot"]}, Reason: "appointment", ToTime: "0930"})
	require.NoError(t, err)
	assert.Equal(t, "L 08:55", s.marks(today, "AM")["Cai"])
	assert.Equal(t, "C ", s.marks(today, "AM")["Dot"])
	s.at(today + "T09:10")
	s.sends("1", nil)
	s.at(today + "T09:20")
	now, err := todaypage.Show(ctx, s.Office, "")
	require.NoError(t, err)
	require.Len(t, now.Mismatches, 1)
	assert.Equal(t, []string{"Fay Lone", "L"}, []string{now.Mismatches[0].Student.Name, now.Mismatches[0].Says[0].Suggest})

	// Who leaves in a lesson keeps the mark, since the set has no code for it; and is left.
	s.at(today + "T09:40")
	_, err = desk.Move(ctx, s.Office, office, "", desk.Movement{Students: []ids.Student{s.who["Ada"]}, Kind: "departed", Reason: "appointment"})
	require.NoError(t, err)
	assert.Equal(t, "/ ", s.marks(today, "1")["Ada"])
	now, err = todaypage.Show(ctx, s.Office, "")
	require.NoError(t, err)
	states := map[string]int{}
	for _, c := range now.Count {
		states[c.State] = c.N
	}
	assert.Equal(t, 1, states["left"])
	list, err := deskpage.Show(ctx, s.Office, "")
	require.NoError(t, err)
	assert.Len(t, list.Movements, 2)

	// In a roll call: who came late and who was seen in the lesson; not who left, is ill, or sings elsewhere.
	begun, err := rollcall.Begin(ctx, s.Office, office, "", rollcall.Start{Token: "a fire at Skerry", Kind: "real"})
	require.NoError(t, err)
	everyone, err := rollcallpage.Show(ctx, s.Office, office)
	require.NoError(t, err)
	why := map[string]string{}
	for _, p := range everyone.People {
		if p.Kind == "student" {
			why[strings.Fields(p.Name)[0]] = p.Why
		}
	}
	assert.Equal(t, map[string]string{"Cai": "on-site", "Fay": "on-site"}, map[string]string{"Cai": why["Cai"], "Fay": why["Fay"]})
	for _, away := range []string{"Ada", "Bo", "Eir"} {
		assert.NotContains(t, why, away)
	}
	_, err = rollcall.AddTicks(ctx, s.Office, office, "", begun.ID, rollcall.Ticks{Ticks: []rollcall.NewTick{{Token: "Cai at the pier", Kind: "student", Person: int64(s.who["Cai"]), Here: true, How: "list"}}})
	require.NoError(t, err)
	_, err = rollcall.End(ctx, s.Office, office, "", begun.ID, rollcall.RollCallEnding{Note: "the others are with the fire service"})
	require.NoError(t, err)

	s.at(today + "T13:05")
	v, err = registerpage.Show(ctx, s.Office, office, s.class, "PM", "")
	require.NoError(t, err)
	assert.Equal(t, `\`, v.Arriving.In)
	s.sends("PM", nil)
	assert.Equal(t, map[string]string{"Ada": "C ", "Bo": "I ", "Cai": `\ `, "Dot": `\ `, "Eir": `\ `, "Fay": `\ `}, s.marks(today, "PM"), "Ada's appointment goes on")
	_, err = registers.Correct(ctx, s.Office, office, "", registers.Correction{Date: today, Slot: "AM", Student: s.who["Fay"], Code: "O", Reason: "home knew of nothing"})
	require.NoError(t, err)
	s.at(today + "T23:00")
	page, err := absencepage.Show(ctx, s.Office, "", pages.AbsenceAsk{Policy: "sessions"})
	require.NoError(t, err)
	figures := map[string][3]int{}
	for _, r := range page.Rows {
		figures[r.Student.Given] = [3]int{r.Figures.Possible, r.Figures.Excused, r.Figures.Unexcused}
	}
	assert.Equal(t, map[string][3]int{"Ada": {2, 1, 0}, "Bo": {2, 2, 0}, "Cai": {2, 0, 0}, "Dot": {2, 1, 0}, "Eir": {2, 0, 0}, "Fay": {2, 0, 1}}, figures)
	s.well()
}

// A school that has marks changes its set from a date on: what is before it stays as it was
// marked and measured, what comes after is by the new, and reasons follow a table.
func TestAnotherSetFromADateOn(t *testing.T) {
	t.Parallel()
	s := newSmall(t)
	ctx := t.Context()
	s.at("2026-03-09T08:47")
	s.sends("AM", map[string]registers.SentMark{"Bo": {Code: "M"}, "Cai": {Code: "L", Time: "3"}, "Dot": {Code: "D", Time: "0850"}, "Eir": {Code: "U"}})
	s.at("2026-03-09T23:00")
	before, err := absencepage.Show(ctx, s.Office, "", pages.AbsenceAsk{Policy: "hours"})
	require.NoError(t, err)
	look, err := school.ChooseCodes(ctx, s.Office, office, "", school.CodesChoice{Set: "sessions-2024"})
	require.NoError(t, err)
	assert.Equal(t, []any{false, "2026-03-10"}, []any{look.Applied, look.From})
	table := map[string]string{}
	for _, c := range look.Table {
		table[c.Old] = c.New
	}
	assert.Equal(t, []string{"I", "L", "L", "C", "O", "N", "V"}, []string{table["M"], table["L"], table["LX"], table["X"], table["U"], table["N"], table["V"]})
	_, err = school.ChooseCodes(ctx, s.Office, office, "", school.CodesChoice{Set: "sessions-2024", From: "2026-03-09", Apply: true})
	assert.ErrorContains(t, err, "there are marks up to Mon 9 March")
	_, err = school.ChooseCodes(ctx, s.Office, office, "", school.CodesChoice{Set: "sessions-2024", Table: []school.CodeChange{{Old: "X", New: "Ä"}}, Apply: true})
	assert.ErrorContains(t, err, `no code "Ä"`)
	s.chooses(school.CodesChoice{Set: "sessions-2024", Table: []school.CodeChange{{Old: "X", New: "J1"}}})

	s.at(today + "T08:47")
	s.sends("AM", map[string]registers.SentMark{"Bo": {Code: "N"}, "Cai": {Code: "D"}})
	_, err = home.Notify(ctx, s.Office, office, "", home.Notice{Students: []ids.Student{s.who["Bo"]}, Reason: "away"})
	require.NoError(t, err)
	assert.Equal(t, "J1 ", s.marks(today, "AM")["Bo"], "away is what the table says")
	assert.Equal(t, "D 08:50", s.marks("2026-03-09", "AM")["Dot"])
	_, err = registers.Correct(ctx, s.Office, office, "", registers.Correction{Date: "2026-03-09", Slot: "AM", Student: s.who["Eir"], Code: "O", Reason: "x"})
	assert.Error(t, err, "that day had no O")
	s.at(today + "T23:00")
	after, err := absencepage.Show(ctx, s.Office, "2026-03-09", pages.AbsenceAsk{Policy: "hours"})
	require.NoError(t, err)
	for i := range before.Rows {
		assert.Equal(t, before.Rows[i].Figures, after.Rows[i].Figures, before.Rows[i].Student.Name)
	}
	assert.Equal(t, before.Reasons, after.Reasons)
	page, err := absencepage.Show(ctx, s.Office, "", pages.AbsenceAsk{Policy: "sessions"})
	require.NoError(t, err)
	for _, r := range page.Rows {
		if r.Student.Given == "Cai" {
			assert.Equal(t, 1, r.Figures.Possible, "late yesterday, and dual registered today")
		}
	}
	s.well()
	s.exportsBoth()
}

// exportsBoth holds a folder for each stretch with one code set against the page.
func (s *small) exportsBoth() {
	files, err := roster.ExportAssess(s.Context(), s.Office, day.MustDate(today), "")
	require.NoError(s, err)
	sum := 0
	for _, stretch := range []string{"2026-03-09", "2026-03-10"} {
		folder := s.TempDir()
		for name, content := range files {
			if filepath.Dir(name) == stretch {
				require.NoError(s, os.WriteFile(filepath.Join(folder, filepath.Base(name)), content, 0o600))
			}
		}
		p, err := policyfile.Load(filepath.Join(folder, "policy-sessions.yaml"))
		require.NoError(s, err)
		ledger, problems := assess.Read(os.DirFS(folder), p)
		require.Empty(s, problems, stretch)
		for i := range ledger.Len() {
			for d := range ledger.Calendar().Days() {
				if _, marked := ledger.Mark(i, d, 0); marked {
					sum++
				}
			}
		}
	}
	assert.Equal(s, 12, sum, "every mark is in one of the folders")
}

func TestAnOwnSet(t *testing.T) {
	t.Parallel()
	s := newSmall(t)
	ctx := t.Context()
	own := "codes:\n  - {code: H, word: here, counts: attended, on_site: true, used_for: [present]}\n  - {code: A, word: absent, counts: unexcused, unexplained: true, used_for: [no_reason]}\n"
	for _, c := range []struct {
		choice school.CodesChoice
		want   string
	}{
		{school.CodesChoice{Set: "plain", Text: own}, "a set is never changed"},
		{school.CodesChoice{Set: "Our Set", Text: own}, "small letters, digits and hyphens"},
		{school.CodesChoice{Set: "ours", Text: "codes:\n  - {code: H, counts: attended}\n"}, "no code of the set is used for present"},
		{school.CodesChoice{Set: "ours", Text: "codes:\n  - {code: H, counts: gone}\n"}, `counts is "gone"`},
		{school.CodesChoice{Set: "nowhere"}, `there is no code set "nowhere"`},
		{school.CodesChoice{Set: "plain"}, "is in use already"},
	} {
		c.choice.Apply = true
		_, err := school.ChooseCodes(ctx, s.Office, office, "", c.choice)
		assert.ErrorContains(t, err, c.want)
	}
	oneIsTold(t, func() error {
		_, err := school.ChooseCodes(ctx, s.Office, office, "", school.CodesChoice{Set: "ours", Text: own, Apply: true})
		return err
	})
	s.at(today + "T08:47")
	s.sends("AM", map[string]registers.SentMark{"Bo": {Code: "A"}})
	_, err := home.Notify(ctx, s.Office, office, "", home.Notice{Students: []ids.Student{s.who["Bo"]}, Reason: "ill"})
	require.NoError(t, err, "a notice is kept, though the set has no code for it")
	assert.Equal(t, "A ", s.marks(today, "AM")["Bo"])
	v, err := schoolpage.Show(ctx, s.Office)
	require.NoError(t, err)
	assert.Equal(t, "ours", v.Codes.Set)
	assert.Equal(t, []string{"ours", "plain", "sessions-2024"}, v.Codes.Sets)
	assert.Contains(t, v.Codes.Lacks, "ill is marked as away for a reason")
	assert.Contains(t, v.Imports[0].Text, "code set ours")
	s.well()
}

// oneIsTold does something twice at once: it is done, and whoever came second hears so.
func oneIsTold(t *testing.T, do func() error) {
	t.Helper()
	errs := make(chan error, 2)
	for range 2 {
		go func() { errs <- do() }()
	}
	a, b := <-errs, <-errs
	assert.True(t, (a == nil) != (b == nil), "%v, %v", a, b)
}

// Settings change under the lock that writes them: of what many add at once, nothing is lost.
func TestWhatTwoAddAtOnceIsKept(t *testing.T) {
	t.Parallel()
	s := newSmall(t)
	ctx := t.Context()
	before := s.Settings().Reasons
	const each = 20
	errs := make(chan error, 3*each)
	for n := range each {
		for _, who := range []string{"one", "two"} {
			go func() {
				_, err := school.AddReason(ctx, s.Office, office, "", held.Reason{Word: fmt.Sprintf("%s %d", who, n), Absent: before[0].Absent, Late: before[0].Late})
				errs <- err
			}()
		}
		go func() { // and a third changes other settings meanwhile
			_, err := school.SetRegisterRules(ctx, s.Office, office, "", school.RegisterRules{Within: day.Minutes(10 + n), LateGrace: 5, RemindAfter: 5})
			errs <- err
		}()
	}
	for range 3 * each {
		require.NoError(t, <-errs)
	}
	assert.Len(t, s.Settings().Reasons, len(before)+2*each)
	require.NoError(t, s.Reload(ctx))
	assert.Len(t, s.Settings().Reasons, len(before)+2*each, "as it is stored")
}

func TestReasonsAreRenamedOrderedAndRetired(t *testing.T) {
	t.Parallel()
	s := newSmall(t)
	ctx := t.Context()
	reasons := s.Settings().Reasons
	s.at("2026-03-09T08:47")
	_, err := home.Notify(ctx, s.Office, office, "", home.Notice{Students: []ids.Student{s.who["Bo"]}, Reason: "family"})
	require.NoError(t, err)

	next := append([]held.Reason{}, reasons...)
	next[0], next[1] = next[1], next[0]
	for i := range next {
		if next[i].Word == "family" {
			next[i].Word = "family matters"
		}
	}
	ask := school.Reasons{Seen: reasons, Reasons: next}
	oneIsTold(t, func() error {
		_, err := school.SetReasons(ctx, s.Office, office, "", ask)
		return err
	})
	now := s.Settings()
	other := slices.Clone(now.Reasons)
	other[2].Home = !other[2].Home
	_, err = school.SetReasons(ctx, s.Office, office, "", school.Reasons{Seen: other, Reasons: now.Reasons})
	assert.ErrorContains(t, err, "somebody else has changed", "what a reason gives counts, not its word alone")
	assert.Equal(t, "appointment", now.Reasons[0].Word)
	assert.Equal(t, "X", now.Reason("family").Absent, "what was said with it stands")
	for _, r := range now.Offered() {
		assert.NotEqual(t, "family", r.Word)
	}
	for _, c := range []struct {
		change func(r []held.Reason) []held.Reason
		want   string
	}{
		{func(r []held.Reason) []held.Reason { r[0].Word = ""; return r }, "needs a word"},
		{func(r []held.Reason) []held.Reason { r[0].Word = r[1].Word; return r }, "is there twice"},
		{func(r []held.Reason) []held.Reason { r[0].Key, r[1].Key = "q", "q"; return r }, "the key q picks both"},
		{func(r []held.Reason) []held.Reason { r[0].Absent = "QQ"; return r }, "names the code"},
		{func(r []held.Reason) []held.Reason { return r[:1] }, "a reason that the program itself gives"},
	} {
		_, err := school.SetReasons(ctx, s.Office, office, "", school.Reasons{Seen: now.Reasons, Reasons: c.change(append([]held.Reason{}, now.Reasons...))})
		assert.ErrorContains(t, err, c.want)
	}
}

// A policy of the school's own measures from its day on; looked at as of the day before, its
// predecessor does.
func TestAPolicyOfTheSchoolsOwn(t *testing.T) {
	t.Parallel()
	s := newSmall(t)
	ctx := t.Context()
	s.at("2026-03-09T08:47")
	s.sends("AM", map[string]registers.SentMark{"Bo": {Code: "U"}})
	s.at(today + "T07:00")
	shipped, err := policyfile.Text("ten-percent")
	require.NoError(t, err)
	strict := strings.Replace(strings.Replace(string(shipped), "title: ", "title: Strict, ", 1), "min_possible: 10", "min_possible: 0", 1)
	for _, c := range []struct {
		choice school.PolicyChoice
		want   string
	}{
		{school.PolicyChoice{Text: "id: x\n"}, "is missing"},
		{school.PolicyChoice{Text: string(shipped)}, "holds already"},
		{school.PolicyChoice{Text: strict, From: "2026-03-09"}, "from today on"},
		{school.PolicyChoice{ID: "ten-percent"}, "no policy of its own"},
	} {
		c.choice.Apply = true
		_, err := school.TakePolicy(ctx, s.Office, office, "", c.choice)
		assert.ErrorContains(t, err, c.want)
	}
	look, err := school.TakePolicy(ctx, s.Office, office, "", school.PolicyChoice{Text: strict})
	require.NoError(t, err)
	assert.Equal(t, "Ten per cent of days", look.Instead)
	assert.Equal(t, "now, Ten per cent of days: absence 16.7 %, 0 on course, 0 at risk, 0 chronic, 0 severe", look.Under[0])
	assert.Equal(t, "under this one, Strict, Ten per cent of days: absence 16.7 %, 5 on course, 0 at risk, 0 chronic, 1 severe", look.Under[1])
	assert.ElementsMatch(t, []string{" → on course: 5", " → severe: 1"}, moves(look))
	assert.Equal(t, []int{6, 0}, []int{look.Moved, look.Stay})
	assert.Equal(t, "Bo Lone", look.Moves[slices.IndexFunc(look.Moves, func(m school.BandMove) bool { return m.To == "severe" })].Who.Students[0].Name)
	band := func(at string) string {
		v, err := absencepage.Show(ctx, s.Office, at, pages.AbsenceAsk{})
		require.NoError(t, err)
		for _, r := range v.Rows {
			if r.Student.Given == "Bo" {
				return v.Title + ": " + r.Figures.Band
			}
		}
		return ""
	}
	assert.Equal(t, "Ten per cent of days: ", band(""))
	oneIsTold(t, func() error {
		plan, err := school.TakePolicy(ctx, s.Office, office, "", school.PolicyChoice{Text: strict, Apply: true})
		assert.Equal(t, err == nil, plan.Applied)
		return err
	})
	assert.Equal(t, "Strict, Ten per cent of days: severe", band(""))
	page, err := absencepage.Show(ctx, s.Office, "", pages.AbsenceAsk{})
	require.NoError(t, err)
	for _, b := range page.Bands {
		assert.Contains(t, append(moves(look), " → at risk: 0", " → chronic: 0"), fmt.Sprintf(" → %s: %d", b.Name, b.Count), "as the look said")
	}
	_, err = school.TakePolicy(ctx, s.Office, office, "", school.PolicyChoice{Text: strings.Replace(strict, "Strict", "Another", 1), Seen: "none", Apply: true})
	assert.ErrorContains(t, err, "somebody else has changed that policy", "it was to be a policy more")
	shown, err := schoolpage.ShowPolicy(ctx, s.Office, "ten-percent", "")
	require.NoError(t, err)
	assert.Equal(t, strict, shown.Text)
	require.Len(t, shown.Versions, 2)
	assert.Equal(t, shown.Version, shown.Versions[1].Version)
	before, err := schoolpage.ShowPolicy(ctx, s.Office, "ten-percent", shown.Versions[0].Date)
	require.NoError(t, err)
	assert.Equal(t, string(shipped), before.Text)
	_, err = schoolpage.ShowPolicy(ctx, s.Office, "nowhere", "")
	assert.ErrorContains(t, err, "measures by no policy")
	_, err = school.TakePolicy(ctx, s.Office, office, "", school.PolicyChoice{Text: strings.Replace(strict, "Strict", "Stricter", 1), Seen: look.Version, Apply: true})
	assert.ErrorContains(t, err, "somebody else has changed that policy")
	assert.Equal(t, "Ten per cent of days: ", band("2026-03-09"), "as it was measured then")
	files, err := roster.ExportAssess(ctx, s.Office, day.MustDate(today), "")
	require.NoError(t, err)
	assert.Contains(t, string(files["policy-ten-percent.yaml"]), "title: Strict, ")
	_, err = school.TakePolicy(ctx, s.Office, office, "", school.PolicyChoice{ID: "ten-percent", From: "2026-03-11", Apply: true})
	require.NoError(t, err)
	s.at("2026-03-11T07:00")
	assert.Equal(t, "Ten per cent of days: ", band(""))
	assert.Equal(t, "Strict, Ten per cent of days: severe", band(today))
}

func moves(p school.PolicyPlan) (out []string) {
	for _, m := range p.Moves {
		out = append(out, fmt.Sprintf("%s → %s: %d", m.From, m.To, m.Who.Count))
	}
	return out
}

// A policy that is filled in on the page is checked as its file: right, in plain words; wrong, by
// its line. A look names who comes to a new line and who to one that is gone.
func TestAPolicyIsWrittenOnThePage(t *testing.T) {
	t.Parallel()
	s := newSmall(t)
	ctx := t.Context()
	s.at("2026-03-09T08:47")
	s.sends("AM", map[string]registers.SentMark{"Bo": {Code: "U"}})
	s.at(today + "T07:00")
	shown, err := schoolpage.ShowPolicy(ctx, s.Office, "letters", "")
	require.NoError(t, err)
	form := shown.Form
	form.Triggers = append([]policyfile.TriggerForm{{ID: "one", Title: "One session", Count: "sessions", Of: []string{"unexcused"}, Reach: "1", Window: "rolling_days", N: "5"}}, form.Triggers[1:]...)
	drafted, err := schoolpage.DraftPolicy(ctx, s.Office, schoolpage.PolicyDraft{Form: &form})
	require.NoError(t, err)
	require.Empty(t, drafted.Problem)
	assert.Equal(t, form, *drafted.Form)
	assert.Contains(t, fmt.Sprint(drafted.Plain), "One session: reached at 1 session unexcused in 5 school days.")
	plan, err := school.TakePolicy(ctx, s.Office, office, "", school.PolicyChoice{Text: drafted.Text})
	require.NoError(t, err)
	assert.Equal(t, []any{"One session", false, true, 0, 1}, []any{plan.Lines[0].Title, plan.Lines[0].Had, plan.Lines[0].Has, plan.Lines[0].Before, plan.Lines[0].After})
	assert.Equal(t, []school.Touched{{ID: s.who["Bo"], Name: "Bo Lone", Form: plan.Lines[0].Only.Students[0].Form, When: "Mon 9 March"}}, plan.Lines[0].Only.Students)
	gone := plan.Lines[len(plan.Lines)-1]
	assert.Equal(t, []bool{true, false}, []bool{gone.Had, gone.Has}, "the line taken out")

	form.Triggers[0].Reach = "often"
	drafted, err = schoolpage.DraftPolicy(ctx, s.Office, schoolpage.PolicyDraft{Form: &form})
	require.NoError(t, err)
	require.NotZero(t, drafted.Line)
	assert.Contains(t, strings.Split(drafted.Text, "\n")[drafted.Line-1], "often")
	assert.Contains(t, drafted.Problem, `reach is "often"`)
	assert.Nil(t, drafted.Form)
}
