package steps_test

import (
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/core/ids"
	core "meldung/core/steps"
	"meldung/demo/demotest"
	"meldung/held"
	"meldung/pages/stepspage"
	"meldung/pages/todaypage"
	"meldung/store"
	"meldung/work"
	"meldung/work/registers"
	"meldung/work/steps"
	"meldung/work/takeback"
)

func list(t *testing.T, o *work.Office, p work.Person) stepspage.StepsView {
	t.Helper()
	v, err := stepspage.Show(t.Context(), o, p, "")
	require.NoError(t, err)
	return v
}

// due returns the steps of one action.
func due(t *testing.T, v stepspage.StepsView, action string) []stepspage.StepView {
	t.Helper()
	for _, g := range v.Groups {
		if g.Action == action {
			return g.Steps
		}
	}
	return nil
}

// of returns a student's step of an action.
func of(t *testing.T, v stepspage.StepsView, action, name string) stepspage.StepView {
	t.Helper()
	lines := due(t, v, action)
	i := slices.IndexFunc(lines, func(s stepspage.StepView) bool { return s.Student.Name == name })
	require.GreaterOrEqual(t, i, 0, "%s: %s is not due", name, action)
	return lines[i]
}

func has(lines []stepspage.StepView, name string) bool {
	return slices.ContainsFunc(lines, func(s stepspage.StepView) bool { return s.Student.Name == name })
}

var keys int

func do(t *testing.T, o *work.Office, p work.Person, a steps.Act) (work.Receipt, error) {
	t.Helper()
	keys++
	return steps.Do(t.Context(), o, p, fmt.Sprint("act ", keys), a)
}

func refs(lines ...stepspage.StepView) []steps.Ref {
	var out []steps.Ref
	for _, l := range lines {
		out = append(out, l.Ref)
	}
	return out
}

// What is due is done, put off, handed on and taken back, once by whoever is first.
func TestWhatIsDueIsDone(t *testing.T) {
	o := demotest.Copy(t)
	v := list(t, o, demotest.Officer)
	require.Greater(t, v.Due, 20)
	assert.Empty(t, v.Gone)
	szab := of(t, v, "Letter at 5 days", "Bram Szabłowski")
	assert.Equal(t, []string{"5 unexcused days", "5 days"}, []string{szab.Title, szab.Count})
	warned := of(t, v, "Verbal warning", "Greta Mackrill")

	r, err := do(t, o, demotest.Officer, steps.Act{Steps: refs(warned), Kind: core.Done, Text: "spoke to her at break"})
	require.NoError(t, err)
	assert.True(t, r.Undo)
	v = list(t, o, demotest.Officer)
	assert.False(t, has(due(t, v, "Verbal warning"), "Greta Mackrill"))
	require.Len(t, v.Closed, 1)
	assert.Equal(t, []string{"spoke to her at break", "R. Tolvan Tue 10 March"}, []string{v.Closed[0].Said, v.Closed[0].By})
	_, err = do(t, o, demotest.Admin, steps.Act{Steps: refs(warned), Kind: core.Done})
	assert.ErrorContains(t, err, `R. Tolvan said "done" at 09:12`, "whoever comes second is told")
	_, err = do(t, o, demotest.Admin, steps.Act{Steps: refs(szab, warned), Kind: core.Done})
	require.Error(t, err)
	assert.Equal(t, v.Due, list(t, o, demotest.Officer).Due, "about all of them, or about none")
	_, err = takeback.Entry(t.Context(), o, demotest.Officer, "undo warned", r.Seq)
	require.NoError(t, err)
	assert.True(t, has(due(t, list(t, o, demotest.Officer), "Verbal warning"), "Greta Mackrill"))

	for want, a := range map[string]steps.Act{
		"until when":         {Kind: core.PutOff, Text: "ill"},
		"not later":          {Kind: core.PutOff, Text: "ill", Until: "2026-03-10"},
		"needs a reason":     {Kind: core.PutOff, Until: "2026-03-12"},
		"aside needs a reas": {Kind: core.SetAside},
		"no such account":    {Kind: core.Handed, To: 9999},
		"can't see steps":    {Kind: core.Handed, To: demotest.Maud.Account},
		"is not closed":      {Kind: core.Reopened},
	} {
		a.Steps = refs(warned)
		_, err := do(t, o, demotest.Officer, a)
		assert.ErrorContains(t, err, want)
		assert.ErrorContains(t, err, "nothing was saved")
	}
	_, err = do(t, o, demotest.Officer, steps.Act{Steps: refs(warned), Kind: core.PutOff, Text: "away this week", Until: "2026-03-16"})
	require.NoError(t, err)
	v = list(t, o, demotest.Officer)
	require.Len(t, v.Waiting, 1)
	assert.Equal(t, []string{"Mon 16 March", "away this week"}, []string{v.Waiting[0].Until, v.Waiting[0].Said})

	_, err = do(t, o, demotest.Osk, steps.Act{Steps: refs(szab), Kind: core.Done})
	assert.Equal(t, work.Refused, demotest.Kind(t, err), "a step that is not theirs")
	assert.Zero(t, list(t, o, demotest.Osk).Due, "nor do they see it")
	_, err = do(t, o, demotest.Officer, steps.Act{Steps: refs(szab), Kind: core.Handed, To: demotest.Osk.Account})
	require.NoError(t, err)
	mine := list(t, o, demotest.Osk)
	require.Equal(t, 1, mine.Due)
	assert.True(t, mine.Groups[0].Steps[0].Mine)
	_, err = do(t, o, demotest.Osk, steps.Act{Steps: refs(szab), Kind: core.Done, Text: "met the mother"})
	require.NoError(t, err)
	assert.Zero(t, list(t, o, demotest.Osk).Due)
}

// A correction takes away what is due, and the list says so: also of what was done already.
func TestACorrectionTakesAStepBack(t *testing.T) {
	o := demotest.Copy(t)
	before := list(t, o, demotest.Officer)
	correct := func(s stepspage.StepView, date string) {
		t.Helper()
		for _, slot := range slotsOf(t, o, s.Student.ID, date) {
			keys++
			_, err := registers.Correct(t.Context(), o, demotest.Officer, fmt.Sprint("correct ", keys), registers.Correction{Date: date, Slot: slot, Student: s.Student.ID, Code: "M", Reason: "the doctor's note came"})
			require.NoError(t, err)
		}
	}
	pending, done := of(t, before, "Letter at 5 days", "Zuri Aune"), of(t, before, "Letter at 5 days", "Otis Jarrow")
	_, err := do(t, o, demotest.Officer, steps.Act{Steps: refs(done), Kind: core.Done, Text: "letter went"})
	require.NoError(t, err)
	correct(pending, "2026-03-03")
	correct(done, "2026-03-09")
	after := list(t, o, demotest.Officer)
	assert.False(t, has(due(t, after, "Letter at 5 days"), "Zuri Aune"))
	require.Len(t, after.TakenBack, 2)
	said := map[string]string{}
	for _, x := range after.TakenBack {
		said[x.Student.Name] = x.Said + "|" + x.By
	}
	assert.Equal(t, "Tue 3 March is now medical, R. Tolvan 09:12|", said["Zuri Aune"], "nobody had done anything")
	assert.Equal(t, "letter went|R. Tolvan Tue 10 March", said["Otis Jarrow"], "that was done already")
	_, err = do(t, o, demotest.Officer, steps.Act{Steps: refs(pending), Kind: core.Done})
	assert.ErrorContains(t, err, "is not due any more")
	i := slices.IndexFunc(after.TakenBack, func(s stepspage.StepView) bool { return s.Student.Name == "Otis Jarrow" })
	noted, err := do(t, o, demotest.Officer, steps.Act{Steps: refs(after.TakenBack[i]), Kind: core.Noted})
	require.NoError(t, err)
	assert.Len(t, list(t, o, demotest.Officer).TakenBack, 1, "what was noted is off the list")
	_, err = takeback.Entry(t.Context(), o, demotest.Officer, "noted no more", noted.Seq)
	require.NoError(t, err)

	for _, slot := range slotsOf(t, o, done.Student.ID, "2026-03-06") {
		keys++
		_, err := registers.Correct(t.Context(), o, demotest.Officer, fmt.Sprint("correct ", keys), registers.Correction{Date: "2026-03-06", Slot: slot, Student: done.Student.ID, Code: "U", Reason: "was seen in town"})
		require.NoError(t, err)
	}
	again := list(t, o, demotest.Officer)
	assert.False(t, has(due(t, again, "Letter at 5 days"), "Otis Jarrow"), "the line is reached on another day: that is the same step, and it was done")
	assert.True(t, has(again.Closed, "Otis Jarrow"))
}

// slotsOf returns the slots of a date in which a student has a mark.
func slotsOf(t *testing.T, o *work.Office, student ids.Student, date string) []string {
	t.Helper()
	var out []string
	require.NoError(t, o.Read(t.Context(), func(v work.Snapshot) error {
		s := v.Of(student)
		d, _ := s.Calendar.Index(day.MustDate(date))
		for pos, slot := range s.Calendar.Day(d).Pattern.Slots {
			if _, marked := s.Ledger.Mark(s.Place(student), d, pos); marked {
				out = append(out, slot.Name)
			}
		}
		return nil
	}))
	return out
}

// What fell due before the school began is set aside at once, with a reason, and comes no more.
func TestWhatFellDueBefore(t *testing.T) {
	o := demotest.Copy(t)
	v := list(t, o, demotest.Officer)
	require.Greater(t, len(v.Early), 100)
	r, err := do(t, o, demotest.Officer, steps.Act{Steps: refs(v.Early...), Kind: core.SetAside, Text: "from before we began"})
	require.NoError(t, err)
	after := list(t, o, demotest.Officer)
	assert.Empty(t, after.Early)
	assert.Equal(t, v.Due, after.Due)
	_, err = takeback.Entry(t.Context(), o, demotest.Officer, "undo all", r.Seq)
	require.NoError(t, err)
	assert.Len(t, list(t, o, demotest.Officer).Early, len(v.Early))
}

// Letters go to those who live with the student, in their language, with the figures of the minute;
// a part-time student's are of the own timetable.
func TestLetters(t *testing.T) {
	o := demotest.Copy(t)
	ctx := t.Context()
	v := list(t, o, demotest.Officer)
	five := due(t, v, "Letter at 5 days")
	preview, err := stepspage.Preview(ctx, o, demotest.Officer, of(t, v, "Letter at 5 days", "Bram Szabłowski").Ref)
	require.NoError(t, err)
	require.Len(t, preview, 1)
	assert.Contains(t, preview[0].Recipient[0], "Szabłowski")
	assert.Len(t, preview[0].Recipient, 3)
	assert.Equal(t, "polski", preview[0].Language)
	assert.Equal(t, "Bram: 5 days nieobecności bez znanej nam przyczyny", preview[0].Subject)
	otis, err := stepspage.Preview(ctx, o, demotest.Officer, of(t, v, "Letter at 5 days", "Otis Jarrow").Ref)
	require.NoError(t, err)
	assert.Contains(t, strings.Join(otis[0].Paragraphs, "\n"), "21 October, 20 and 28 January, 6 February and 9 March")

	r, err := steps.Print(ctx, o, demotest.Officer, "print", steps.Printing{Steps: refs(five...)})
	require.NoError(t, err)
	require.GreaterOrEqual(t, len(r.IDs), len(five))
	assert.Empty(t, due(t, list(t, o, demotest.Officer), "Letter at 5 days"))
	var letters []ids.Letter
	for _, id := range r.IDs {
		letters = append(letters, ids.Letter(id))
	}
	rows, err := store.Letters(ctx, o.Store().Read(), letters)
	require.NoError(t, err)
	assert.True(t, slices.IsSortedFunc(rows, func(a, b store.Letter) int { return strings.Compare(place(a), place(b)) }), "in the order of the envelopes")
	file, err := stepspage.LetterSheets(ctx, o, letters)
	require.NoError(t, err)
	assert.True(t, strings.HasPrefix(string(file.Content), "%PDF"))
	_, err = stepspage.LetterSheets(ctx, o, []ids.Letter{letters[0], 99999})
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
	_, err = takeback.Entry(ctx, o, demotest.Officer, "unprint", r.Seq)
	require.NoError(t, err)
	assert.Len(t, due(t, list(t, o, demotest.Officer), "Letter at 5 days"), len(five))

	byMail(t, o, five)

	checked := 0
	require.NoError(t, o.Read(ctx, func(v work.Snapshot) error {
		for _, st := range v.School.Students {
			s := v.Of(st.ID)
			if v.School.ScheduleOf(st.ID, v.Now.Date()) == nil && st.ShareHere == "1" {
				continue
			}
			items, err := steps.Of(ctx, s, v.Moment(), []store.Student{st})
			require.NoError(t, err)
			for _, i := range items {
				if i.Action.Kind != "letter" {
					continue
				}
				got, err := steps.Compose(s, v.Moment(), demotest.Officer, i, []store.LetterText{{TemplateID: i.Action.Letter, Subject: "x", Text: "{time missed} / {time charged} {timetable}"}})
				require.NoError(t, err)
				time := day.Duration(i.Measure.Student(s.Place(st.ID), s.Ledger.YearTo(day.MustDate("2026-03-09"))).MissedMinutes)
				assert.Equal(t, time+" / "+time+" of "+st.Given+"’s own timetable", got[0].Text)
				checked++
			}
		}
		return nil
	}))
	assert.Positive(t, checked, "somebody is here for a part of the day")
}

func place(l store.Letter) string {
	lines := strings.Split(l.Recipient, "\n")
	slices.Reverse(lines)
	return strings.Join(lines, "\n")
}

// A wording is saved beside those before it; what is wrong with it is said.
func TestWordings(t *testing.T) {
	o := demotest.Copy(t)
	ctx := t.Context()
	set := func(l steps.Letter) (work.Receipt, error) {
		keys++
		return steps.SetLetter(ctx, o, demotest.Officer, fmt.Sprint("wording ", keys), l)
	}
	for want, l := range map[string]steps.Letter{
		"there is no field {adressees}": {Name: "New", Subject: "S", Text: "Dear {adressees}"},
		"needs a subject":               {Name: "New", Text: "Dear"},
		"says nothing":                  {Name: "New", Subject: "S", Text: " \n"},
		"already":                       {Name: "Letter at 3 days", Subject: "S", Text: "T"},
		"no such letter":                {ID: 999, Name: "New", Subject: "S", Text: "T"},
	} {
		_, err := set(l)
		assert.ErrorContains(t, err, want)
		assert.ErrorContains(t, err, "nothing was saved")
	}
	three := func() stepspage.TemplateView {
		v, err := stepspage.ShowLetters(ctx, o)
		require.NoError(t, err)
		return v.Letters[0]
	}
	was := three()
	_, err := set(steps.Letter{ID: was.ID, Name: was.Name, Subject: "New subject", Text: was.Wordings[0].Text})
	require.NoError(t, err)
	assert.Equal(t, []any{2, "New subject", "R. Tolvan Tue 10 March"}, []any{three().Wordings[0].Version, three().Wordings[0].Subject, three().Wordings[0].By})
	_, err = set(steps.Letter{ID: was.ID, Name: was.Name, Subject: "Another", Text: "T", Seen: 1})
	assert.ErrorContains(t, err, "R. Tolvan saved version 2 of it meanwhile")
	_, err = set(steps.Letter{ID: was.ID, Name: "Renamed", Subject: "New subject", Text: was.Wordings[0].Text})
	require.NoError(t, err)
	assert.Equal(t, 2, three().Wordings[0].Version, "the same wording is no new one")
	tried, err := stepspage.Try(ctx, o, demotest.Officer, stepspage.Trial{Subject: "{given name}", Text: "{count}: {dates}"})
	require.NoError(t, err)
	assert.NotContains(t, tried[0].Paragraphs[0], "{")
	_, err = stepspage.Try(ctx, o, demotest.Officer, stepspage.Trial{Subject: "x", Text: "{nothing}"})
	assert.ErrorContains(t, err, "there is no field {nothing}")
}

// A school that follows no policy has nothing due, and says so; what it follows must be there.
func TestRules(t *testing.T) {
	o := demotest.Copy(t)
	set := func(r held.StepRules) error {
		keys++
		_, err := steps.SetRules(t.Context(), o, demotest.Admin, fmt.Sprint("rules ", keys), steps.Rules{Rules: r})
		return err
	}
	for want, r := range map[string]held.StepRules{
		"does not measure by a policy": {Follows: []held.Followed{{Policy: "nothing", From: "2026-01-01"}}},
		"is there twice":               {Follows: []held.Followed{{Policy: "letters", From: "2026-01-01"}, {Policy: "letters", From: "2026-01-01"}}},
		"not a date":                   {Follows: []held.Followed{{Policy: "letters", From: "2026-13-01"}}},
		"no such letter":               {Actions: []held.Action{{Key: "a", Name: "A", Kind: "letter", Letter: 999}}},
		"no action":                    {Lines: []held.LineAction{{Policy: "letters", Line: "letter-3", Action: "nothing"}}},
	} {
		err := set(r)
		assert.ErrorContains(t, err, want)
	}
	_, err := steps.SetRules(t.Context(), o, demotest.Admin, "seen", steps.Rules{Seen: "another"})
	assert.ErrorContains(t, err, "somebody else has changed")
	require.NoError(t, set(held.StepRules{}))
	v := list(t, o, demotest.Officer)
	assert.Empty(t, v.Follows)
	assert.Zero(t, v.Due+len(v.Early))
	require.NoError(t, set(held.StepRules{Follows: []held.Followed{{Policy: "letters", From: "2026-03-01"}}, Lines: []held.LineAction{{Policy: "letters", Line: "letter-3"}}}))
	v = list(t, o, demotest.Officer)
	assert.NotEmpty(t, due(t, v, "Letter home"))
	for _, x := range append(due(t, v, "Letter home"), v.Early...) {
		assert.NotEqual(t, "3 unexcused days", x.Title, "nothing is done at that line")
	}
	_, err = stepspage.Preview(t.Context(), o, demotest.Officer, due(t, v, "Letter home")[0].Ref)
	assert.ErrorContains(t, err, "no letter is chosen yet")

	require.NoError(t, set(held.StepRules{Follows: []held.Followed{{Policy: "sessions", From: "2025-09-01"}}}))
	sessions := list(t, o, demotest.Officer)
	require.NotEmpty(t, sessions.Groups, "a policy of half-day sessions, over rolling weeks")
	assert.Equal(t, "10 unexcused sessions in 10 school weeks", sessions.Groups[0].Steps[0].Title)
	seen := map[string]int{}
	for _, s := range sessions.Groups[0].Steps {
		seen[s.Student.Name]++
	}
	assert.Len(t, sessions.Groups, 1)
	then, err := stepspage.Show(t.Context(), o, demotest.Officer, "2025-12-01T12:00")
	require.NoError(t, err)
	assert.Less(t, then.Due, sessions.Due, "as at an earlier day there was less")
}

// byMail sends letters as e-mails: all of them or, where a home has no address, none; each is in the outbox
// and on the record, its step is done, and what has left is not taken back.
func byMail(t *testing.T, o *work.Office, five []stepspage.StepView) {
	t.Helper()
	ctx := t.Context()
	var can, cannot []stepspage.StepView
	require.NoError(t, o.Read(ctx, func(v work.Snapshot) error {
		for _, s := range five {
			with := true
			for _, r := range steps.RecipientsOf(v, s.Student.ID) {
				with = with && r.EMail != ""
			}
			if with {
				can = append(can, s)
			} else {
				cannot = append(cannot, s)
			}
		}
		return nil
	}))
	require.NotEmpty(t, can)
	before, err := todaypage.ShowOutbox(ctx, o, demotest.Officer, "")
	require.NoError(t, err)
	if len(cannot) > 0 {
		_, err = steps.Print(ctx, o, demotest.Officer, "mail all", steps.Printing{Steps: refs(five...), EMail: true})
		assert.ErrorContains(t, err, "no e-mail address of")
	}
	r, err := steps.Print(ctx, o, demotest.Officer, "mail", steps.Printing{Steps: refs(can...), EMail: true})
	require.NoError(t, err)
	assert.False(t, r.Undo)
	out, err := todaypage.ShowOutbox(ctx, o, demotest.Officer, "")
	require.NoError(t, err)
	require.Len(t, out, len(before)+len(r.IDs))
	assert.Equal(t, []string{"letter", "e-mail"}, []string{out[0].Kind, out[0].Channel})
	assert.Contains(t, out[0].Address, "@")
	assert.Contains(t, out[0].Text, "\n\n")
	rows, err := store.Letters(ctx, o.Store().Read(), []ids.Letter{ids.Letter(r.IDs[0])})
	require.NoError(t, err)
	assert.Contains(t, rows[0].Recipient, "@")
	assert.Len(t, due(t, list(t, o, demotest.Officer), "Letter at 5 days"), len(cannot))
	_, err = takeback.Entry(ctx, o, demotest.Officer, "unsend", r.Seq)
	assert.Equal(t, work.Conflict, demotest.Kind(t, err))
}

// Forty letters and more are written at once, each with its address, and set as one file with a page each.
func TestFortyLettersAtOnce(t *testing.T) {
	o := demotest.Copy(t)
	ctx := t.Context()
	var rules held.StepRules
	require.NoError(t, o.Read(ctx, func(v work.Snapshot) error {
		rules = v.Sections()[0].Settings.Steps
		return nil
	}))
	rules.Follows = []held.Followed{{Policy: "letters", From: "2025-09-01"}}
	_, err := steps.SetRules(ctx, o, demotest.Admin, "from the first day", steps.Rules{Rules: rules})
	require.NoError(t, err)
	var letters []stepspage.StepView
	for _, g := range list(t, o, demotest.Officer).Groups {
		for _, s := range g.Steps {
			if s.Kind == "letter" && s.Blocked == "" && len(letters) < 45 {
				letters = append(letters, s)
			}
		}
	}
	require.GreaterOrEqual(t, len(letters), 40)
	r, err := steps.Print(ctx, o, demotest.Officer, "forty", steps.Printing{Steps: refs(letters...)})
	require.NoError(t, err)
	require.GreaterOrEqual(t, len(r.IDs), len(letters))
	var made []ids.Letter
	for _, id := range r.IDs {
		made = append(made, ids.Letter(id))
	}
	file, err := stepspage.LetterSheets(ctx, o, made)
	require.NoError(t, err)
	path := filepath.Join(t.TempDir(), "letters.pdf")
	require.NoError(t, os.WriteFile(path, file.Content, 0o600))
	info, err := exec.Command("pdfinfo", path).Output()
	require.NoError(t, err)
	assert.Regexp(t, fmt.Sprintf(`Pages:\s+%d\n`, len(made)), string(info))
}
