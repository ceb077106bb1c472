package followuppage_test

import (
	"bytes"
	"encoding/json"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/demo/demotest"
	"meldung/files/table"
	"meldung/pages/followuppage"
	"meldung/pages/studentpage"
	"meldung/store"
	"meldung/work"
	"meldung/work/caseload"
	"meldung/work/concerns"
	"meldung/work/contacts"
	"meldung/work/desk"
	"meldung/work/plans"
	"meldung/work/takeback"
)

func next(t *testing.T, o *work.Office, p work.Person) followuppage.NextView {
	t.Helper()
	v, err := followuppage.Next(t.Context(), o, p, "", followuppage.Ask{})
	require.NoError(t, err)
	return v
}

func rowOf(t *testing.T, v followuppage.NextView, id ids.Student) followuppage.NextRow {
	t.Helper()
	i := slices.IndexFunc(v.Rows, func(r followuppage.NextRow) bool { return r.Student.ID == id })
	require.GreaterOrEqual(t, i, 0, "on the list")
	return v.Rows[i]
}

func listed(v followuppage.NextView, id ids.Student) bool {
	return slices.ContainsFunc(v.Rows, func(r followuppage.NextRow) bool { return r.Student.ID == id })
}

func cases(t *testing.T, o *work.Office, p work.Person, ask followuppage.Ask) followuppage.CasesView {
	t.Helper()
	v, err := followuppage.Cases(t.Context(), o, p, "", ask)
	require.NoError(t, err)
	return v
}

func week(t *testing.T, o *work.Office, of string) followuppage.SupportWeek {
	t.Helper()
	v, err := followuppage.Week(t.Context(), o, demotest.Ase, "", of, followuppage.Ask{})
	require.NoError(t, err)
	return v
}

func log(o *work.Office, t *testing.T, p work.Person, f caseload.Followup) error {
	t.Helper()
	_, err := caseload.LogFollowup(t.Context(), o, p, "", f)
	return err
}

func asJSON(t *testing.T, v any) string {
	t.Helper()
	out, err := json.Marshal(v)
	require.NoError(t, err)
	return string(out)
}

func undo(t *testing.T, o *work.Office, p work.Person, r work.Receipt) error {
	t.Helper()
	require.True(t, r.Undo)
	_, err := takeback.Entry(t.Context(), o, p, "", r.Seq)
	return err
}

// The list is in the order of the work, and what is logged moves the student in it: one next date, whatever has set it.
func TestTheWorkList(t *testing.T) {
	o := demotest.Copy(t)
	v := next(t, o, demotest.Ase)
	parts := []string{}
	for _, r := range v.Rows {
		parts = append(parts, r.Part)
		assert.NotEmpty(t, r.Why, r.Student.Name)
	}
	assert.Equal(t, []string{"due", "unmet", "ahead"}, slices.Compact(slices.Clone(parts)))
	due := 0
	for _, r := range v.Rows[:v.Due] {
		assert.LessOrEqual(t, r.NextDay, "2026-03-10")
		assert.Equal(t, r.NextDay < "2026-03-10", r.Overdue)
		due++
	}
	assert.Equal(t, v.Due, due)
	assert.Positive(t, v.Unmet)

	r := v.Rows[slices.IndexFunc(v.Rows, func(r followuppage.NextRow) bool {
		return r.Case != 0 && r.Part == "due" && len(r.Planned) == 0 && len(r.Contacts) > 0
	})]
	assert.Equal(t, work.Wrong, demotest.Kind(t, log(o, t, demotest.Ase, caseload.Followup{Student: r.Student.ID, Contact: r.Contacts[0].ID, Outcome: "spoke", Note: "x"})), "a case needs a next date")
	require.NoError(t, log(o, t, demotest.Ase, caseload.Followup{Student: r.Student.ID, Contact: r.Contacts[0].ID, Outcome: "no answer"}))
	tried := rowOf(t, next(t, o, demotest.Ase), r.Student.ID)
	assert.Equal(t, "due", tried.Part, "who did not answer is still to be rung")
	assert.Contains(t, tried.Tried, "unanswered")

	receipt, err := caseload.LogFollowup(t.Context(), o, demotest.Ase, "", caseload.Followup{Student: r.Student.ID, Contact: r.Contacts[0].ID, Outcome: "spoke", Note: "asks about the early boat", Next: "2026-03-12"})
	require.NoError(t, err)
	spoke := rowOf(t, next(t, o, demotest.Ase), r.Student.ID)
	assert.NotEqual(t, "due", spoke.Part)
	assert.Equal(t, []any{"2026-03-12", 0, "", "asks about the early boat"}, []any{spoke.NextDay, spoke.LastDays, spoke.Tried, spoke.Agreed})
	list := cases(t, o, demotest.Ase, followuppage.Ask{})
	i := slices.IndexFunc(list.Cases, func(c followuppage.CaseView) bool { return c.ID == r.Case })
	assert.Equal(t, "2026-03-12", list.Cases[i].NextDay, "the case has the same date")
	require.NoError(t, undo(t, o, demotest.Ase, receipt))
	assert.Equal(t, tried.NextDay, rowOf(t, next(t, o, demotest.Ase), r.Student.ID).NextDay, "taken back, with the case’s date")

	// A call of the morning shows here, and nothing is entered twice.
	var merrow followuppage.NextRow
	for _, id := range demotest.IDs(t, o, "Ansa Merrow") {
		if !listed(next(t, o, demotest.Ase), id) {
			_, err := concerns.ChangeCase(t.Context(), o, demotest.Ase, "", caseload.CaseChange{Kind: caseload.CaseOpened, Student: id, Owner: demotest.Ase.Account, Next: "2026-03-10", Text: "four calls, nobody"})
			require.NoError(t, err)
		}
		merrow = rowOf(t, next(t, o, demotest.Ase), id)
	}
	assert.Empty(t, merrow.Last, "never reached")
	assert.Equal(t, -1, merrow.LastDays)
	assert.Contains(t, merrow.Tried, "2 calls unanswered, message left since")

	// A number that is wrong is on the list of those to correct, as one of the morning is.
	wrong, err := store.WrongNumbers(t.Context(), o.Store().Read())
	require.NoError(t, err)
	require.NoError(t, log(o, t, demotest.Ase, caseload.Followup{Student: merrow.Student.ID, Contact: merrow.Contacts[0].ID, Outcome: "wrong number"}))
	after, err := store.WrongNumbers(t.Context(), o.Store().Read())
	require.NoError(t, err)
	assert.Len(t, after, len(wrong)+1)

	err = log(o, t, demotest.Ase, caseload.Followup{Student: merrow.Student.ID, Contact: merrow.Contacts[0].ID, Outcome: "wrong number", Note: "at home", Kept: caseload.ForLeads})
	assert.Equal(t, work.Wrong, demotest.Kind(t, err), "a call of the morning has no confidential note")

	// What is wrong is said, and another's contact, or one who never was, is none.
	for _, bad := range []caseload.Followup{
		{Student: merrow.Student.ID, Outcome: "shouted"},
		{Student: merrow.Student.ID, Outcome: "spoke", Next: "2026-03-09"},
		{Student: merrow.Student.ID, Outcome: "spoke", Next: "2026-03-12", Date: "2026-03-11"},
		{Student: merrow.Student.ID, Outcome: "spoke", Next: "soon"},
	} {
		assert.Equal(t, work.Wrong, demotest.Kind(t, log(o, t, demotest.Ase, bad)), "%v", bad)
	}
	assert.Equal(t, work.NotFound, demotest.Kind(t, log(o, t, demotest.Ase, caseload.Followup{Student: merrow.Student.ID, Contact: r.Contacts[0].ID, Outcome: "spoke", Next: "2026-03-12"})))
	assert.Equal(t, work.NotFound, demotest.Kind(t, log(o, t, demotest.Ase, caseload.Followup{Student: 99999, Outcome: "spoke"})))
	assert.Equal(t, work.Refused, demotest.Kind(t, log(o, t, demotest.Osk, caseload.Followup{Student: merrow.Student.ID, Outcome: "spoke", Next: "2026-03-12"})))
}

// Who was not at school, and has come this morning, is not said to be away.
func TestWhoHasComeTodayIsNotAway(t *testing.T) {
	o := demotest.Copy(t)
	v := next(t, o, demotest.Ase)
	i := slices.IndexFunc(v.Rows, func(r followuppage.NextRow) bool { return r.Away != "" })
	require.GreaterOrEqual(t, i, 0)
	id := v.Rows[i].Student.ID
	assert.Contains(t, v.Rows[i].Away, "not at school since ")
	_, err := desk.Move(t.Context(), o, demotest.Maud, "", desk.Movement{Students: []ids.Student{id}, Kind: "arrived"})
	require.NoError(t, err)
	assert.Empty(t, rowOf(t, next(t, o, demotest.Ase), id).Away)
}

// A case is opened, planned, handed over, waits, is closed with how it ended, and opened again.
func TestACase(t *testing.T) {
	o := demotest.Copy(t)
	all := cases(t, o, demotest.Ase, followuppage.Ask{Closed: true})
	assert.GreaterOrEqual(t, len(all.Cases), 40)
	c := all.Cases[0]
	ctx := t.Context()
	change := func(x caseload.CaseChange) error {
		x.Case = c.ID
		_, err := concerns.ChangeCase(ctx, o, demotest.Ase, "", x)
		return err
	}
	page := func() followuppage.CasePage {
		p, err := followuppage.OneCase(ctx, o, demotest.Ase, c.Student.ID, c.ID, "")
		require.NoError(t, err)
		return p
	}
	assert.Equal(t, work.Wrong, demotest.Kind(t, change(caseload.CaseChange{Kind: caseload.CaseClosed, Text: "well"})), "how did it end?")
	assert.Equal(t, work.Wrong, demotest.Kind(t, change(caseload.CaseChange{Kind: caseload.CaseClosed, End: all.Ends[0].ID})), "what came of it?")
	assert.Equal(t, work.Conflict, demotest.Kind(t, change(caseload.CaseChange{Kind: caseload.CaseReopened, Next: "2026-03-19"})), "it is open")
	assert.Equal(t, work.Wrong, demotest.Kind(t, change(caseload.CaseChange{Kind: caseload.CaseChanged, Next: "2026-03-10", Waits: true})), "waiting until today is none")

	r, err := caseload.Plan(ctx, o, demotest.Ase, "", caseload.PlanStep{Case: c.ID, Text: "see the tutor", Due: "2026-03-10", Owner: demotest.Officer.Account})
	require.NoError(t, err)
	planned := rowOf(t, next(t, o, demotest.Ase), c.Student.ID)
	assert.Contains(t, planned.Why, "planned: see the tutor, R. Tolvan")
	step := ids.CaseStep(r.IDs[0])
	_, err = caseload.EndPlanned(ctx, o, demotest.Ase, "", caseload.PlanStepEnd{Case: all.Cases[1].ID, Step: step, Done: true})
	assert.Equal(t, work.NotFound, demotest.Kind(t, err), "of another case")
	_, err = caseload.EndPlanned(ctx, o, demotest.Ase, "", caseload.PlanStepEnd{Case: c.ID, Step: step})
	assert.Equal(t, work.Wrong, demotest.Kind(t, err), "why is it dropped?")
	done, err := caseload.EndPlanned(ctx, o, demotest.Officer, "", caseload.PlanStepEnd{Case: c.ID, Step: step, Done: true, Text: "will watch Mondays"})
	require.NoError(t, err)
	_, err = caseload.EndPlanned(ctx, o, demotest.Ase, "", caseload.PlanStepEnd{Case: c.ID, Step: step, Done: true})
	assert.Equal(t, work.Conflict, demotest.Kind(t, err), "said already")
	require.NoError(t, undo(t, o, demotest.Officer, done))
	assert.Empty(t, page().Plan[0].Ended)

	require.NoError(t, change(caseload.CaseChange{Kind: caseload.CaseChanged, Owner: demotest.Officer.Account, Next: "2026-03-19", Text: "you know the home"}))
	assert.Equal(t, "R. Tolvan", page().Case.Owner)
	require.NoError(t, change(caseload.CaseChange{Kind: caseload.CaseChanged, Next: "2026-03-24", Waits: true, Weekly: "no", Text: "until they are back"}))
	assert.False(t, listed(next(t, o, demotest.Ase), c.Student.ID), "who waits is on no list until then")
	err = change(caseload.CaseChange{Kind: caseload.CaseChanged, Next: "2026-03-20", Text: "mine", Seen: c.Seen})
	assert.Equal(t, work.Conflict, demotest.Kind(t, err))
	assert.Contains(t, err.Error(), "until they are back")
	require.NoError(t, change(caseload.CaseChange{Kind: caseload.CaseClosed, Text: "in every lesson", End: all.Ends[0].ID}))
	assert.Equal(t, []any{false, all.Ends[0].Name, "in every lesson"}, []any{page().Case.Open, page().Case.End, page().Case.Said.Text})
	_, err = caseload.Plan(ctx, o, demotest.Ase, "", caseload.PlanStep{Case: c.ID, Text: "too late"})
	assert.Equal(t, work.Conflict, demotest.Kind(t, err))
	_, err = concerns.ChangeCase(ctx, o, demotest.Ase, "", caseload.CaseChange{Kind: caseload.CaseOpened, Student: c.Student.ID, Owner: demotest.Officer.Account, Next: "2026-03-19", Text: "by hand"})
	require.NoError(t, err)
	assert.Equal(t, work.Conflict, demotest.Kind(t, change(caseload.CaseChange{Kind: caseload.CaseReopened, Next: "2026-03-19"})), "another is open")
	assert.Equal(t, work.NotFound, demotest.Kind(t, func() error {
		_, err := concerns.ChangeCase(ctx, o, demotest.Ase, "", caseload.CaseChange{Case: 99999, Kind: caseload.CaseChanged, Next: "2026-03-19"})
		return err
	}()))
	_, err = followuppage.OneCase(ctx, o, demotest.Ase, all.Cases[1].Student.ID, c.ID, "")
	assert.Equal(t, work.NotFound, demotest.Kind(t, err), "under another student’s name the look would be on record wrongly")

	of, err := followuppage.CasesOf(ctx, o, demotest.Ase, c.Student.ID, "")
	require.NoError(t, err)
	require.Len(t, of.Cases, 2)
	assert.Equal(t, "in the hands of R. Tolvan, next Thu 19 March", of.Cases[0].Text)
	assert.Contains(t, of.Cases[1].Text, all.Ends[0].Name)
	assert.True(t, of.MayChange)
	before, err := followuppage.CasesOf(ctx, o, demotest.Ase, c.Student.ID, "2026-03-06T12:00")
	require.NoError(t, err)
	assert.Len(t, before.Cases, 1)
	assert.False(t, before.MayChange)
	_, err = followuppage.CasesOf(ctx, o, demotest.Ase, 99999, "")
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
}

// Papers are PDFs and pictures of a size, and only of the case; a meeting is a file for a calendar.
func TestPapersAndMeetings(t *testing.T) {
	o := demotest.Copy(t)
	ctx := t.Context()
	all := cases(t, o, demotest.Ase, followuppage.Ask{})
	c, other := all.Cases[0], all.Cases[1]
	pdf := []byte("%PDF-1.4\n%%EOF\n")
	add := func(content []byte) (work.Receipt, error) {
		return caseload.AddPaper(ctx, o, demotest.Ase, "", caseload.Paper{Case: c.ID, Document: contacts.Document{Name: "plan.pdf", Content: content}})
	}
	for _, bad := range [][]byte{nil, []byte("<html>"), bytes.Repeat([]byte("x"), contacts.MaxDocument+1)} {
		_, err := add(bad)
		assert.Equal(t, work.Wrong, demotest.Kind(t, err))
	}
	r, err := add(pdf)
	require.NoError(t, err)
	id := ids.CaseDocument(r.IDs[0])
	f, err := followuppage.PaperOf(ctx, o, demotest.Ase, c.Student.ID, c.ID, id)
	require.NoError(t, err)
	assert.Equal(t, pdf, f.Content)
	_, err = followuppage.PaperOf(ctx, o, demotest.Ase, other.Student.ID, other.ID, id)
	assert.Equal(t, work.NotFound, demotest.Kind(t, err), "of another case")
	off, err := caseload.TakePaperOff(ctx, o, demotest.Ase, "", c.ID, id)
	require.NoError(t, err)
	_, err = followuppage.PaperOf(ctx, o, demotest.Ase, c.Student.ID, c.ID, id)
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
	require.NoError(t, undo(t, o, demotest.Ase, off))
	_, err = followuppage.PaperOf(ctx, o, demotest.Ase, c.Student.ID, c.ID, id)
	require.NoError(t, err)

	m := caseload.Meeting{Student: c.Student.ID, Date: "2026-03-12", From: "15:30", Until: "16:00", Title: "Home, tutor; and student, at last", Room: "Room 4", People: []string{"Disa Ase", " Disa  Ase", ""}}
	for _, change := range []func(m *caseload.Meeting){func(m *caseload.Meeting) { m.Until = "15:30" }, func(m *caseload.Meeting) { m.Date = "soon" }, func(m *caseload.Meeting) { m.From = "half past" }} {
		bad := m
		change(&bad)
		_, err := caseload.Meet(ctx, o, demotest.Ase, "", bad)
		assert.Equal(t, work.Wrong, demotest.Kind(t, err))
	}
	met, err := caseload.Meet(ctx, o, demotest.Ase, "", m)
	require.NoError(t, err)
	file, err := followuppage.MeetingFile(ctx, o, c.Student.ID, ids.Meeting(met.IDs[0]))
	require.NoError(t, err)
	text := strings.ReplaceAll(string(file.Content), "\r\n ", "")
	for _, want := range []string{"BEGIN:VCALENDAR", "VERSION:2.0", "DTSTART:20260312T153000\r\n", "DTEND:20260312T160000\r\n", `SUMMARY:Home\, tutor\; and student\, at last`, "LOCATION:Room 4", "DESCRIPTION:With Disa Ase\r\n", "UID:", "DTSTAMP:"} { // RFC 5545, 3.3.11, 3.6.1
		assert.Contains(t, text, want)
	}
	_, err = followuppage.MeetingFile(ctx, o, other.Student.ID, ids.Meeting(met.IDs[0]))
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
}

// A lunch group is written at once, repeated, changed for one and taken off for all; a student who is not chosen is
// never touched, and undo restores exactly.
func TestAGroup(t *testing.T) {
	o := demotest.Copy(t)
	ctx := t.Context()
	v := week(t, o, "")
	sessions := func() []store.SupportSession {
		all, err := store.SupportSessions(ctx, o.Store().Read(), day.NoStart, o.Now())
		require.NoError(t, err)
		for i := range all {
			all[i].Version, all[i].Journal, all[i].Known, all[i].By, all[i].AccountID = 0, 0, 0, "", 0
		}
		return all
	}
	before := sessions()
	students := demotest.IDs(t, o, "Cato Vane", "Mika Ulvar", "Juno Sandal", "Pip Garrow", "Oona Harle")
	s := caseload.NewSession{Date: "2026-03-10", From: "12:20", Minutes: 30, Kind: v.Kinds[0].ID, Note: "for all"}
	for _, id := range students {
		s.Students = append(s.Students, caseload.SessionPart{Student: id})
	}
	s.Students[0].Note = "for Cato"
	made, err := caseload.AddSession(ctx, o, demotest.Ase, "", s)
	require.NoError(t, err)
	parts := make([]ids.SupportSession, len(made.IDs))
	for i, id := range made.IDs {
		parts[i] = ids.SupportSession(id)
	}
	assert.Equal(t, "Cato Vane and 4 more: Mentoring, Tue 10 March, 12:20", made.Text)
	written := sessions()
	require.Len(t, written, len(before)+5)

	_, err = caseload.AddSession(ctx, o, demotest.Ase, "", s)
	assert.Equal(t, work.Conflict, demotest.Kind(t, err), "they are there already")
	at := s
	at.From, at.Students = "15:50", s.Students[:1]
	_, err = caseload.AddSession(ctx, o, demotest.Ase, "", at)
	require.Equal(t, work.Conflict, demotest.Kind(t, err))
	assert.Contains(t, err.Error(), "Mentoring belongs in school time, and it is not wholly in school time")
	at.Sure = true
	odd, err := caseload.AddSession(ctx, o, demotest.Ase, "", at)
	require.NoError(t, err, "questioned, not refused")
	require.NoError(t, undo(t, o, demotest.Ase, odd))
	assert.Equal(t, written, sessions())

	// Changed for one: that one, and no other.
	change := caseload.SessionChange{OfSession: caseload.OfSession{Parts: parts[:1]}, Date: "2026-03-09", From: "12:20", Minutes: 20, Kind: v.Kinds[0].ID, Sure: true}
	one, err := caseload.ChangeSession(ctx, o, demotest.Ase, "", change)
	require.NoError(t, err)
	for i, x := range sessions() {
		was := written[slices.IndexFunc(written, func(o store.SupportSession) bool { return o.ID == x.ID })]
		if x.ID == parts[0] {
			assert.Equal(t, []any{day.MustDate("2026-03-09"), 20, "for Cato", "for all"}, []any{x.Date, x.Minutes, x.OwnNote, x.Note})
			assert.NotEqual(t, was.Group, x.Group)
			continue
		}
		assert.Equal(t, was, x, i)
	}
	_, err = caseload.TakeSessionOff(ctx, o, demotest.Ase, "", caseload.OfSession{Parts: parts})
	assert.Equal(t, work.Wrong, demotest.Kind(t, err), "Cato’s is a session of its own now")
	require.NoError(t, undo(t, o, demotest.Ase, one))
	assert.Equal(t, written, sessions())

	// For all; what somebody else has changed meanwhile is told first, and what was changed since is not taken back.
	off, err := caseload.TakeSessionOff(ctx, o, demotest.Ase, "", caseload.OfSession{Parts: parts})
	require.NoError(t, err)
	assert.Equal(t, before, sessions())
	require.NoError(t, undo(t, o, demotest.Ase, off))
	assert.Equal(t, written, sessions())
	two, err := caseload.TakeSessionOff(ctx, o, demotest.Ase, "", caseload.OfSession{Parts: parts[1:3]})
	require.NoError(t, err)
	assert.Contains(t, two.Text, "3 others keep theirs")
	_, err = caseload.ChangeSession(ctx, o, demotest.Officer, "", caseload.SessionChange{OfSession: caseload.OfSession{Parts: parts[3:], Since: work.Since{Seen: made.Seq - 1}}, Date: "2026-03-10", From: "12:30", Minutes: 30, Kind: v.Kinds[0].ID, Sure: true})
	assert.Equal(t, work.Conflict, demotest.Kind(t, err), "written by somebody else since")
	later := change
	later.Parts, later.Date = parts[3:], "2026-03-10"
	_, err = caseload.ChangeSession(ctx, o, demotest.Officer, "", later)
	require.NoError(t, err)
	_, err = takeback.Entry(ctx, o, demotest.Ase, "", made.Seq)
	assert.Equal(t, work.Conflict, demotest.Kind(t, err), "others have changed it since")

	// Repeated on three dates, of which one is twice.
	n := len(sessions())
	again, err := caseload.RepeatSession(ctx, o, demotest.Ase, "", caseload.SessionRepeat{OfSession: caseload.OfSession{Parts: parts[3:]}, Dates: []string{"2026-03-03", "2026-03-05", "2026-03-03", "2026-03-17"}, Sure: true})
	require.NoError(t, err)
	assert.Len(t, again.IDs, 6)
	assert.Len(t, sessions(), n+6)
	ahead := week(t, o, "2026-03-17")
	require.Len(t, ahead.Sessions, 1)
	assert.True(t, ahead.Sessions[0].Ahead)
	assert.Zero(t, ahead.Weeks[len(ahead.Weeks)-1].Met, "what is planned has met nobody")

	for _, bad := range []caseload.NewSession{
		{Date: "soon", Minutes: 30, Kind: s.Kind, Students: s.Students}, {Date: s.Date, Minutes: 30, Kind: 999, Students: s.Students}, {Date: s.Date, From: "23:50", Minutes: 30, Kind: s.Kind, Students: s.Students},
		{Date: s.Date, Minutes: 30, Kind: v.Kinds[0].ID + 100, Students: s.Students}, {Date: s.Date, Minutes: 30, Kind: s.Kind, Leader: demotest.Osk.Account, Students: s.Students},
	} {
		_, err := caseload.AddSession(ctx, o, demotest.Ase, "", bad)
		assert.Equal(t, work.Wrong, demotest.Kind(t, err), "%v", bad)
	}
	_, err = caseload.TakeSessionOff(ctx, o, demotest.Ase, "", caseload.OfSession{Parts: []ids.SupportSession{99999}})
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
}

// The week says whom nobody met, with a place for a reason; its sums are those of its sessions.
func TestTheWeek(t *testing.T) {
	o := demotest.Copy(t)
	v := week(t, o, "")
	last := v.Weeks[len(v.Weeks)-1]
	assert.Equal(t, []any{"2026-03-09", true, 6}, []any{v.Week, v.Now, len(v.Weeks)})
	assert.NotContains(t, []string{v.Weeks[0].Monday, v.Weeks[1].Monday, v.Weeks[2].Monday, v.Weeks[3].Monday}, "2026-02-16", "a week of holidays is none")
	assert.Equal(t, last.On, last.Met+last.Reasons+last.Unmet)
	unmet, parts, inSessions := 0, 0, 0
	for _, r := range v.Rows {
		c := r.Cells[len(r.Cells)-1]
		if c.Unmet {
			unmet++
		}
		parts += c.Sessions
	}
	for _, s := range v.Sessions {
		if !s.Ahead {
			inSessions += len(s.Parts)
		}
	}
	assert.Equal(t, last.Unmet, unmet)
	assert.Equal(t, inSessions, parts)
	assert.Equal(t, next(t, o, demotest.Ase).Unmet <= unmet, true, "those who are due stand above")
	assert.GreaterOrEqual(t, len(v.Leaders), 2)

	r := v.Rows[0]
	require.True(t, r.Cells[len(r.Cells)-1].Unmet, "whom nobody met is first")
	why, err := caseload.SayWhyNone(t.Context(), o, demotest.Ase, "", caseload.NoSession{Student: r.Student.ID, Week: "2026-03-11", Text: "away with the school’s sailors"})
	require.NoError(t, err)
	after := week(t, o, "").Weeks[len(v.Weeks)-1]
	assert.Equal(t, []int{last.Unmet - 1, last.Reasons + 1}, []int{after.Unmet, after.Reasons})
	require.NoError(t, undo(t, o, demotest.Ase, why))
	assert.Equal(t, last, week(t, o, "").Weeks[len(v.Weeks)-1])
	past := week(t, o, v.Before)
	assert.Equal(t, v.Weeks[len(v.Weeks)-2].Met, past.Weeks[len(past.Weeks)-1].Met)
	assert.Equal(t, v.Week, past.After)

	came, err := followuppage.WhatCame(t.Context(), o, demotest.Ase, "", followuppage.Ask{})
	require.NoError(t, err)
	compared := 0
	for _, r := range came.Rows {
		assert.Equal(t, r.Episodes, r.Compared+r.Early, r.Name)
		assert.Equal(t, r.Compared, r.Less+r.Same+r.More, r.Name)
		compared += r.Compared
	}
	assert.Positive(t, compared)
}

// Words that are kept to fewer than the office reach nobody else, by list, search, history or file; each look at them
// is one of its own.
func TestConfidentialWords(t *testing.T) {
	o := demotest.Copy(t)
	ctx := t.Context()
	const secret = "afraid of somebody at home"
	c := cases(t, o, demotest.Ase, followuppage.Ask{}).Cases[0]
	_, err := concerns.ChangeCase(ctx, o, demotest.Ase, "", caseload.CaseChange{Case: c.ID, Kind: caseload.CaseChanged, Owner: demotest.Ase.Account, Next: "2026-03-10", Kept: caseload.ForOwner, Text: secret})
	require.NoError(t, err)
	_, err = caseload.Plan(ctx, o, demotest.Ase, "", caseload.PlanStep{Case: c.ID, Text: secret, Due: "2026-03-10"})
	require.NoError(t, err)
	paper, err := caseload.AddPaper(ctx, o, demotest.Ase, "", caseload.Paper{Case: c.ID, Document: contacts.Document{Name: "x.pdf", Content: []byte("%PDF-1.4 %%EOF")}})
	require.NoError(t, err)
	r, err := caseload.LogFollowup(ctx, o, demotest.Ase, "", caseload.Followup{Student: c.Student.ID, With: caseload.WithStudent, Outcome: "met", Note: secret, Kept: caseload.ForOwner, Next: "2026-03-10"})
	require.NoError(t, err)
	note := ids.Followup(r.IDs[0])
	kinds := week(t, o, "").Kinds
	session, err := caseload.AddSession(ctx, o, demotest.Ase, "", caseload.NewSession{Date: "2026-03-10", From: "10:05", Minutes: 20, Kind: kinds[0].ID, Note: secret, Kept: caseload.ForLeads, Students: []caseload.SessionPart{{Student: c.Student.ID, Note: secret}}})
	require.NoError(t, err)

	for _, p := range []work.Person{demotest.Ase, demotest.Officer, demotest.Admin, demotest.Osk, demotest.Maud} {
		var told strings.Builder
		add := func(v any, err error) {
			if err == nil {
				told.WriteString(asJSON(t, v))
			}
		}
		sheet, err := studentpage.Show(ctx, o, p, c.Student.ID, "")
		add(sheet, err)
		if p.May(work.MaySeeCases) {
			add(next(t, o, p), nil)
			add(cases(t, o, p, followuppage.Ask{}), nil)
			w, err := followuppage.Week(ctx, o, p, "", "", followuppage.Ask{})
			add(w, err)
			for _, keep := range []func() ([]byte, error){
				func() ([]byte, error) {
					f, err := followuppage.KeepNext(ctx, o, p, "", followuppage.Ask{}, "csv")
					return f.Content, err
				},
				func() ([]byte, error) {
					f, err := followuppage.KeepCases(ctx, o, p, "", followuppage.Ask{}, "csv")
					return f.Content, err
				},
				func() ([]byte, error) {
					f, err := followuppage.KeepFiles(ctx, o, "contacts")
					return f.Content, err
				},
				func() ([]byte, error) {
					f, err := followuppage.KeepFiles(ctx, o, "sessions")
					return f.Content, err
				},
			} {
				content, err := keep()
				require.NoError(t, err)
				told.Write(content)
			}
		}
		assert.NotContains(t, told.String(), secret, p.Name)
		_, caseErr := followuppage.OneCase(ctx, o, p, c.Student.ID, c.ID, "")
		_, noteErr := followuppage.ReadNote(ctx, o, p, c.Student.ID, note)
		_, paperErr := followuppage.PaperOf(ctx, o, p, c.Student.ID, c.ID, ids.CaseDocument(paper.IDs[0]))
		_, sessionErr := followuppage.ReadSession(ctx, o, p, c.Student.ID, ids.SupportSession(session.IDs[0]))
		for _, err := range []error{caseErr, noteErr, paperErr, sessionErr} {
			if p == demotest.Ase {
				require.NoError(t, err)
				continue
			}
			assert.Equal(t, work.Refused, demotest.Kind(t, err), p.Name)
		}
	}
	page, err := followuppage.OneCase(ctx, o, demotest.Ase, c.Student.ID, c.ID, "")
	require.NoError(t, err)
	assert.True(t, slices.ContainsFunc(page.Contacts, func(l followuppage.ContactLine) bool { return l.Session == ids.SupportSession(session.IDs[0]) }), "who may read the session finds it on the case")
	for _, l := range page.Contacts {
		assert.NotContains(t, l.Text, secret, "and not without a look of its own")
	}
	of, err := followuppage.CasesOf(ctx, o, demotest.Officer, c.Student.ID, "")
	require.NoError(t, err)
	assert.Equal(t, []bool{true, false}, []bool{of.Cases[0].Open, of.Cases[0].MayRead})
	assert.NotContains(t, asJSON(t, of), secret)
	about, err := store.About(ctx, o.Store().Read(), c.Student.ID)
	require.NoError(t, err)
	assert.NotContains(t, asJSON(t, about), secret, "nor what an administrator takes along")
	part := []ids.SupportSession{ids.SupportSession(session.IDs[0])}
	_, err = caseload.ChangeSession(ctx, o, demotest.Officer, "", caseload.SessionChange{OfSession: caseload.OfSession{Parts: part}, Date: "2026-03-10", Minutes: 20, Kind: kinds[0].ID, Kept: caseload.ForOffice, Sure: true})
	assert.Equal(t, work.Refused, demotest.Kind(t, err), "nor opens a session by changing it")
	_, err = takeback.Entry(ctx, o, demotest.Officer, "", paper.Seq)
	assert.Equal(t, work.Refused, demotest.Kind(t, err), "nor takes back what is another’s")
	files, err := caseload.ExportContacts(ctx, o)
	require.NoError(t, err)
	opened := table.Files{"contacts.csv": bytes.ReplaceAll(bytes.ReplaceAll(files["contacts.csv"], []byte(",owner\n"), []byte(",office\n")), []byte(",met,"), []byte(",spoke,"))}
	plan, err := caseload.ImportContacts(ctx, o, demotest.Admin, "", opened, plans.Options{Apply: true})
	require.NoError(t, err)
	assert.Contains(t, plan.Notes[0], "kept to fewer than the office", "nor brings a file that says otherwise")
	_, err = followuppage.ReadNote(ctx, o, demotest.Admin, c.Student.ID, note)
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
	_, err = followuppage.ReadSession(ctx, o, demotest.Ase, c.Student.ID+1, ids.SupportSession(session.IDs[0]))
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
	_, err = followuppage.ReadNote(ctx, o, demotest.Ase, c.Student.ID+1, note)
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
	_, err = caseload.Plan(ctx, o, demotest.Officer, "", caseload.PlanStep{Case: c.ID, Text: "x"})
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
	_, err = concerns.ChangeCase(ctx, o, demotest.Officer, "", caseload.CaseChange{Case: c.ID, Kind: caseload.CaseChanged, Next: "2026-03-20", Kept: caseload.ForOffice})
	assert.Equal(t, work.Refused, demotest.Kind(t, err), "nor opens it by changing it")
}
