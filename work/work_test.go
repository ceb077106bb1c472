package work_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/demo"
	"meldung/demo/demotest"
	"meldung/pages/frame"
	"meldung/pages/registerpage"
	"meldung/pages/studentpage"
	"meldung/pages/todaypage"
	"meldung/store"
	"meldung/work"
	"meldung/work/accounts"
	"meldung/work/check"
	"meldung/work/desk"
	"meldung/work/home"
	"meldung/work/morning"
	"meldung/work/quick"
	"meldung/work/registers"
)

func TestAClassWithoutStudentsHasNoRegister(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	clock.Set(day.At(demo.Today, day.MustMinute("15:40")))
	school, err := store.LoadSchool(t.Context(), o.Store().Read())
	require.NoError(t, err)
	has := map[ids.Class]bool{}
	for _, e := range school.Enrollments {
		has[e.ClassID] = true
	}
	meets := map[string]bool{}
	for _, m := range school.Timetable {
		for _, c := range school.Classes {
			if c.ID == m.ClassID && !has[c.ID] {
				meets[c.Title] = true
			}
		}
	}
	require.NotEmpty(t, meets, "some class of the demonstration is empty and meets")
	v, err := registerpage.ShowAll(t.Context(), o, demotest.Officer, "")
	require.NoError(t, err)
	for _, r := range v.Registers {
		assert.Positive(t, r.Students, r.Title)
		assert.False(t, meets[r.Title], r.Title)
	}
	for _, r := range demotest.Today(t, o, "").Registers {
		assert.False(t, meets[r.Title], r.Title)
	}
}

func TestRegister(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	all := demotest.Marks(t, o, "P")

	_, err := registers.Send(ctx, o, demotest.Osk, "register key 1", registers.SentRegister{Date: demotest.Date, Class: demotest.Halyard, Slot: "AM", Marks: all[1:]})
	assert.ErrorContains(t, err, "1 still to mark")
	_, err = registers.Send(ctx, o, demotest.Osk, "register key 1", registers.SentRegister{Date: demotest.Date, Class: demotest.Halyard, Slot: "AM", Marks: append(all, registers.SentMark{Student: 1, Code: "P"})})
	assert.ErrorContains(t, err, "not on this register")
	bad := append([]registers.SentMark(nil), all...)
	bad[3] = registers.SentMark{Student: bad[3].Student, Code: "L", Time: "2515"}
	_, err = registers.Send(ctx, o, demotest.Osk, "register key 1", registers.SentRegister{Date: demotest.Date, Class: demotest.Halyard, Slot: "AM", Marks: bad})
	assert.ErrorContains(t, err, "nothing was sent")
	_, err = registers.Send(ctx, o, demotest.Osk, "register key 1", registers.SentRegister{Date: demotest.Date, Class: 90, Slot: "AM", Marks: all})
	assert.Equal(t, work.Refused, demotest.Kind(t, err), "another teacher's class")
	_, err = registers.Send(ctx, o, demotest.Osk, "register key 1", registers.SentRegister{Date: demotest.Date, Class: demotest.Halyard, Slot: "5", Marks: all})
	assert.ErrorContains(t, err, "did not meet", "a form has no lesson")
	_, err = registers.Send(ctx, o, demotest.Osk, "register key 1", registers.SentRegister{Date: demotest.Date, Class: demotest.Halyard, Slot: "PM", Marks: all})
	assert.Equal(t, work.Refused, demotest.Kind(t, err), "the afternoon is still to come")
	_, err = registerpage.Show(ctx, o, demotest.Osk, demotest.Halyard, "AM", "2026-03-08")
	assert.ErrorContains(t, err, "not a school day")

	before := demotest.Count(t, o)
	first, err := registers.Send(ctx, o, demotest.Osk, "register key 2", registers.SentRegister{Date: demotest.Date, Class: demotest.Halyard, Slot: "AM", Marks: all})
	require.NoError(t, err)
	again, err := registers.Send(ctx, o, demotest.Osk, "register key 2", registers.SentRegister{Date: demotest.Date, Class: demotest.Halyard, Slot: "AM", Marks: all})
	require.NoError(t, err, "a repeat after a lost line")
	assert.Equal(t, first, again)
	_, err = registers.Send(ctx, o, demotest.Osk, "register key 3", registers.SentRegister{Date: demotest.Date, Class: demotest.Halyard, Slot: "AM", Marks: all})
	assert.Equal(t, work.Conflict, demotest.Kind(t, err))
	after := demotest.Count(t, o)
	assert.Greater(t, after["in"], before["in"])
	assert.Less(t, after["not-yet-known"], before["not-yet-known"])
	wrong, err := check.Check(ctx, o, false)
	require.NoError(t, err)
	assert.Empty(t, wrong)
}

func TestCorrectionsNeedAReasonAndKeepBoth(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	all := demotest.Marks(t, o, "N")
	_, err := registers.Correct(ctx, o, demotest.Osk, "correct key 1", registers.Correction{Date: demotest.Date, Slot: "AM", Student: all[0].Student, Code: "P", Reason: "came in"})
	assert.Equal(t, work.NotFound, demotest.Kind(t, err), "nothing was sent yet")
	_, err = registers.Send(ctx, o, demotest.Osk, "register key 4", registers.SentRegister{Date: demotest.Date, Class: demotest.Halyard, Slot: "AM", Marks: all})
	require.NoError(t, err)
	_, err = registers.Correct(ctx, o, demotest.Osk, "correct key 2", registers.Correction{Date: demotest.Date, Slot: "AM", Student: all[0].Student, Code: "P", Reason: " "})
	assert.ErrorContains(t, err, "needs a reason")
	_, err = registers.Correct(ctx, o, demotest.Osk, "correct key 3", registers.Correction{Date: demotest.Date, Slot: "AM", Student: all[0].Student, Code: "L", Time: "7", Reason: "came in"})
	require.NoError(t, err)
	v, err := registerpage.Show(ctx, o, demotest.Osk, demotest.Halyard, "AM", "")
	require.NoError(t, err)
	require.Len(t, v.Rows[0].Versions, 2)
	assert.Equal(t, []string{"N", "L", "08:52", "came in"}, []string{v.Rows[0].Versions[0].Code, v.Rows[0].Versions[1].Code, v.Rows[0].Versions[1].To, v.Rows[0].Versions[1].Reason})
}

func TestANoticeExplainsAheadAndIsTakenBack(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	idris := demotest.Find(t, o, "Idris Quell")
	assert.Equal(t, "unaccounted", idris.Place.State)
	before := demotest.Count(t, o)
	r, err := home.Notify(ctx, o, demotest.Officer, "notice key 1", home.Notice{Students: []ids.Student{idris.Student.ID}, Reason: "ill", To: "2026-03-12"})
	require.NoError(t, err)
	after := demotest.Count(t, o)
	assert.Equal(t, before["unaccounted"]-1, after["unaccounted"])
	assert.Equal(t, before["explained"]+1, after["explained"])
	why, err := studentpage.Show(ctx, o, demotest.Officer, idris.Student.ID, "")
	require.NoError(t, err)
	assert.Contains(t, why.Happened[0].Text+why.Happened[1].Text, "medical")
	_, err = home.WithdrawNotice(ctx, o, demotest.Officer, "notice key 2", ids.Notice(r.IDs[0]))
	require.NoError(t, err)
	assert.Equal(t, before, demotest.Count(t, o))
	_, err = home.Notify(ctx, o, demotest.Officer, "notice key 3", home.Notice{Students: []ids.Student{idris.Student.ID}, Reason: "ill", To: "2026-03-01"})
	assert.ErrorContains(t, err, "ends before it begins")
}

func TestArrivalsBringTheMarksIntoLine(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	mika := demotest.Find(t, o, "Mika Ulvar").Student.ID
	before := demotest.Count(t, o)
	_, err := desk.Move(ctx, o, demotest.Officer, "move key 1", desk.Movement{Students: []ids.Student{mika}, Kind: "arrived", Time: "1030"})
	assert.ErrorContains(t, err, "still to come")
	_, err = desk.Move(ctx, o, demotest.Officer, "move key 1", desk.Movement{Students: []ids.Student{mika}, Kind: "arrived", Time: "9:75"})
	assert.ErrorContains(t, err, "not a time")
	r, err := desk.Move(ctx, o, demotest.Officer, "move key 2", desk.Movement{Students: []ids.Student{mika}, Kind: "arrived", Time: "910", Reason: "appointment"})
	require.NoError(t, err)
	after := demotest.Count(t, o)
	assert.Equal(t, before["unaccounted"]-1, after["unaccounted"])
	assert.Equal(t, before["late"]+1, after["late"])
	sheet, err := studentpage.Show(ctx, o, demotest.Officer, mika, "")
	require.NoError(t, err)
	words := ""
	for _, h := range sheet.Happened[:6] {
		words += h.Text + "\n"
	}
	assert.Contains(t, words, "AM registration: excused")
	assert.Contains(t, words, "lesson 1: late, excused, came 09:10")
	_, err = desk.UndoMovement(ctx, o, demotest.Officer, "move key 3", ids.Movement(r.IDs[0]))
	require.NoError(t, err)
	assert.Equal(t, before, demotest.Count(t, o), "undo gives the marks back")
	wrong, err := check.Check(ctx, o, false)
	require.NoError(t, err)
	assert.Empty(t, wrong)
}

func TestCallsComeBackAndAreNotOfferedToThoseWhoMustNotBeCalled(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	juno := demotest.Find(t, o, "Juno Sandal").Student.ID
	sheet, err := studentpage.Show(ctx, o, demotest.Officer, juno, "")
	require.NoError(t, err)
	require.Len(t, sheet.Contacts, 2)
	require.True(t, sheet.Contacts[1].DoNotCall)
	_, err = home.LogCall(ctx, o, demotest.Officer, "call key 1", home.Call{Students: []ids.Student{juno}, Contact: sheet.Contacts[1].ID, Outcome: "no answer"})
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
	_, err = home.LogCall(ctx, o, demotest.Officer, "call key 2", home.Call{Students: []ids.Student{juno}, Contact: sheet.Contacts[0].ID, Outcome: "no answer"})
	require.NoError(t, err)
	today, err := todaypage.Show(ctx, o, "")
	require.NoError(t, err)
	last := today.Households[len(today.Households)-1]
	assert.Equal(t, juno, last.Students[0].Student.ID, "those just tried come last")
	assert.Equal(t, "09:32", last.Again)
	assert.True(t, last.Waits)
	assert.Equal(t, []string{"Birger Sandal"}, last.NotCalled)
	_, err = home.LogCall(ctx, o, demotest.Officer, "call key 3", home.Call{Students: []ids.Student{juno}, Contact: sheet.Contacts[0].ID, Outcome: "spoke", Said: "on the way"})
	assert.ErrorContains(t, err, "needs the time")
	_, err = home.LogCall(ctx, o, demotest.Officer, "call key 4", home.Call{Students: []ids.Student{juno}, Contact: sheet.Contacts[0].ID, Outcome: "spoke", Said: "on the way", Until: "940"})
	require.NoError(t, err)
	assert.Equal(t, "explained", demotest.Find(t, o, "Juno Sandal").Place.State)
}

func TestQuickLine(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	for _, c := range []struct{ text, words, failure string }{
		{"quell ill until thu", "Idris Quell ill until Thu 12 March · code M", ""},
		{"ansa merrow both ill", "Ansa Merrow and Elis Merrow ill · code M", ""},
		{"merrow both ill", "Ansa Merrow and Elis Merrow ill · code M", ""},
		{"ulvar in", "", "2 students fit"},
		{"mika ulv late 8", "Mika Ulvar in at 08:53", ""},
		{"49217 in 910 overslept", "Mika Ulvar in at 09:10, overslept", ""},
		{"perran hask out 912 clinic back 1130", "Perran Hask left at 09:12, clinic, back by 11:30", ""},
		{"perran hask out 1015", "", "still to come"},
		{"quell away tomorrow", "Idris Quell away on Wed 11 March · code X", ""},
		{"rhona quell ill", "Idris Quell ill · code M", ""},
		{"nobodyatall ill", "", "nobody is called"},
		{"quell ill until never", "", "neither a day nor a time"},
	} {
		v, err := frame.PreviewQuick(ctx, o, demotest.Officer, quick.QuickLine{Text: c.text})
		require.NoError(t, err, c.text)
		assert.Equal(t, c.words, v.Text, c.text)
		if c.failure == "" {
			assert.Empty(t, v.Error, c.text)
		} else {
			assert.Contains(t, v.Error, c.failure, c.text)
			_, err = quick.Do(ctx, o, demotest.Officer, "quick key "+c.text, quick.QuickLine{Text: c.text})
			assert.Error(t, err)
		}
	}
	for text, tells := range map[string]string{
		"845-925":             "08:45 to 09:25: 40 min, 0.67 h",
		"oona harle 900-1545": "09:00 to 15:45: 6 h 45 min, 6.75 h. Oona would miss ",
		"tavi lund 1400-1500": "14:00 to 15:00: 1 h, 1.00 h. Tavi has no lesson then",
		"oona harle 845-855":  "08:45 to 08:55: 10 min, 0.17 h. Oona would miss ",
	} {
		v, err := frame.PreviewQuick(ctx, o, demotest.Officer, quick.QuickLine{Text: text})
		require.NoError(t, err)
		assert.Contains(t, v.Tells, tells)
		assert.Empty(t, v.Text, "nothing is done")
	}
	_, err := quick.Do(ctx, o, demotest.Officer, "quick key ok", quick.QuickLine{Text: "quell ill until thu"})
	require.NoError(t, err)
	assert.Equal(t, "explained", demotest.Find(t, o, "Idris Quell").Place.State)
}

func TestSafeArrivalClosesAndReopensOnNewEvidence(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	_, err := morning.Close(ctx, o, demotest.Officer, "close key 1", morning.Closing{Section: demotest.Lower})
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
	demotest.SettleMorning(t, o)
	_, err = morning.Close(ctx, o, demotest.Officer, "close key 2", morning.Closing{Section: demotest.Lower})
	require.NoError(t, err)
	state := func() string {
		today, err := todaypage.Show(ctx, o, "")
		require.NoError(t, err)
		return today.Safe[0].State
	}
	assert.Equal(t, "closed", state())
	perran := demotest.Find(t, o, "Perran Hask").Student.ID
	_, err = desk.Move(ctx, o, demotest.Officer, "close move", desk.Movement{Students: []ids.Student{perran}, Kind: "departed", Reason: "appointment"})
	require.NoError(t, err)
	assert.Equal(t, "closed", state(), "leaving later opens nothing")
	v, err := registerpage.Show(ctx, o, demotest.Osk, demotest.Halyard, "AM", "")
	require.NoError(t, err)
	_, err = registers.Correct(ctx, o, demotest.Osk, "close correct", registers.Correction{Date: demotest.Date, Slot: "AM", Student: v.Rows[0].Student.ID, Code: "N", Reason: "was not there after all"})
	require.NoError(t, err)
	assert.Equal(t, "reopened", state())
}

func TestLookingEarlierShowsWhatWasShown(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := context.Background()
	then, err := todaypage.Show(ctx, o, "2026-03-10T09:05")
	require.NoError(t, err)
	demotest.Settle(t, o)
	again, err := todaypage.Show(ctx, o, "2026-03-10T09:05")
	require.NoError(t, err)
	assert.Equal(t, then, again)
}

func TestTeachersReachTheirOwnStudentsOnly(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	v, err := registerpage.Show(ctx, o, demotest.Osk, demotest.Halyard, "AM", "")
	require.NoError(t, err)
	own, err := studentpage.Show(ctx, o, demotest.Osk, v.Rows[0].Student.ID, "")
	require.NoError(t, err)
	assert.Empty(t, own.Contacts)
	_, err = registerpage.Show(ctx, o, demotest.Osk, 90, "AM", "")
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
	refusedOnce := false
	for id := ids.Student(1); id < 60 && !refusedOnce; id++ {
		if _, err := studentpage.Show(ctx, o, demotest.Osk, id, ""); err != nil {
			refusedOnce = demotest.Kind(t, err) == work.Refused
		}
	}
	assert.True(t, refusedOnce)
	list, err := registerpage.ShowAll(ctx, o, demotest.Osk, "")
	require.NoError(t, err)
	for _, r := range list.Registers {
		assert.True(t, r.Mine, r.Title)
	}
}

func TestActionsResolveContradictions(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	today, err := todaypage.Show(t.Context(), o, "")
	require.NoError(t, err)
	_, err = morning.EndSearch(t.Context(), o, demotest.Officer, "found key", morning.SearchEnd{Student: today.OnSite[0].Student.ID, Found: true, Place: "canteen"})
	require.NoError(t, err)
	seen := map[string]bool{}
	for range 30 {
		today, err := todaypage.Show(t.Context(), o, "")
		require.NoError(t, err)
		if len(today.Mismatches) == 0 {
			assert.Subset(t, seen, map[string]bool{"signed-in-absent": true, "left-present": true, "explained-present": true})
			return
		}
		m := today.Mismatches[0]
		seen[m.Says[0].Kind] = true
		for _, a := range m.Says[0].Actions {
			if a != "ask" {
				demotest.Resolve(t, o, m, a)
				break
			}
		}
	}
	t.Fatal("contradictions do not end")
}

func TestNewAccounts(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	_, err := accounts.Add(ctx, o, demotest.Admin, "account key 1", accounts.NewAccount{Username: "newcomer", Role: "teacher"})
	assert.ErrorContains(t, err, "needs a name")
	_, err = accounts.Add(ctx, o, demotest.Admin, "account key 2", accounts.NewAccount{Username: "newcomer", Name: "New Comer", Role: "teacher"})
	assert.ErrorContains(t, err, "belongs to one of the staff")
	_, err = accounts.Add(ctx, o, demotest.Admin, "account key 3", accounts.NewAccount{Username: "OSK", Role: "teacher", Staff: 1})
	assert.Equal(t, work.Conflict, demotest.Kind(t, err))
	made, err := accounts.Add(ctx, o, demotest.Admin, "account key 4", accounts.NewAccount{Username: "osk2", Role: "teacher", Staff: 1})
	require.NoError(t, err)
	p, oneTime, err := accounts.SignIn(ctx, o, "osk2", made.Password)
	require.NoError(t, err)
	assert.True(t, oneTime)
	assert.Equal(t, "P. Osk", p.Name)
	_, err = registerpage.Show(ctx, o, p, demotest.Halyard, "AM", "")
	assert.NoError(t, err, "the account reaches the classes of its staff")
	_, _, err = accounts.SignIn(ctx, o, "osk2", "something else")
	assert.Error(t, err)
}

func TestNoHomeIsRungBeforeTheEarlierRegisterIsIn(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	all := demotest.Marks(t, o, "N")
	student := all[0].Student
	list, err := registerpage.ShowAll(ctx, o, demotest.Officer, "")
	require.NoError(t, err)
	for _, r := range list.Registers {
		if r.Slot != "1" || r.State == "sent" {
			continue
		}
		v, err := registerpage.Show(ctx, o, demotest.Officer, r.Class, "1", "")
		require.NoError(t, err)
		var sent []registers.SentMark
		for _, row := range v.Rows {
			sent = append(sent, registers.SentMark{Student: row.Student.ID, Code: "N"})
			if row.Student.ID == student {
				student = -1
			}
		}
		if student == -1 {
			_, err = registers.Send(ctx, o, demotest.Officer, "lesson key 1", registers.SentRegister{Date: demotest.Date, Class: r.Class, Slot: "1", Marks: sent})
			require.NoError(t, err)
			break
		}
	}
	require.Equal(t, ids.Student(-1), student, "the student has a lesson 1")
	student = all[0].Student
	called := func() bool {
		today, err := todaypage.Show(ctx, o, "")
		require.NoError(t, err)
		for _, h := range today.Households {
			for _, s := range h.Students {
				if s.Student.ID == student {
					return true
				}
			}
		}
		return false
	}
	assert.False(t, called(), "8 Halyard's registration is still out")
	_, err = registers.Send(ctx, o, demotest.Osk, "register key 9", registers.SentRegister{Date: demotest.Date, Class: demotest.Halyard, Slot: "AM", Marks: all})
	require.NoError(t, err)
	assert.True(t, called())
}
