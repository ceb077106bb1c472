package work_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/demo"
	"meldung/demo/demotest"
	"meldung/store"
	"meldung/work"
)

var (
	officer = work.Person{Account: 41, Name: "R. Tolvan", Role: work.Officer}
	osk     = work.Person{Account: 1, Name: "P. Osk", Role: work.Teacher, Staff: 1}
)

const (
	date    = "2026-03-10"
	halyard = int64(48) // 8 Halyard, whose tutor is P. Osk and whose register is out
)

func kind(t *testing.T, err error) work.ErrorKind {
	t.Helper()
	var mistake *work.Error
	require.ErrorAs(t, err, &mistake)
	return mistake.Kind
}

func marks(t *testing.T, o *work.Office, code string) []work.SentMark {
	t.Helper()
	v, err := o.Register(t.Context(), osk, halyard, "AM", "")
	require.NoError(t, err)
	var out []work.SentMark
	for _, r := range v.Rows {
		out = append(out, work.SentMark{Student: r.Student.ID, Code: code})
	}
	return out
}

func count(t *testing.T, o *work.Office) map[string]int {
	t.Helper()
	today, err := o.Today(t.Context(), "")
	require.NoError(t, err)
	out := map[string]int{}
	sum := 0
	for _, c := range today.Count {
		out[c.State] = c.N
		sum += c.N
	}
	require.Equal(t, today.Roll, sum)
	return out
}

func find(t *testing.T, o *work.Office, name string) work.FoundStudent {
	t.Helper()
	list, err := o.FindStudents(t.Context(), officer, name, "", 3)
	require.NoError(t, err)
	require.NotEmpty(t, list, name)
	return list[0]
}

// A class of which nobody is due has no register: none is out, and nobody is reminded.
func TestAClassWithoutStudentsHasNoRegister(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	clock.Set(day.At(demo.Today, 940))
	school, err := store.LoadSchool(t.Context(), o.Store().Read())
	require.NoError(t, err)
	has := map[int64]bool{}
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
	v, err := o.Registers(t.Context(), officer, "")
	require.NoError(t, err)
	for _, r := range v.Registers {
		assert.Positive(t, r.Students, r.Title)
		assert.False(t, meets[r.Title], r.Title)
	}
	for _, r := range today(t, o, "").Registers {
		assert.False(t, meets[r.Title], r.Title)
	}
}

func TestRegister(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	all := marks(t, o, "P")

	_, err := o.SendRegister(ctx, osk, "register key 1", date, halyard, "AM", all[1:])
	assert.ErrorContains(t, err, "1 still to mark")
	_, err = o.SendRegister(ctx, osk, "register key 1", date, halyard, "AM", append(all, work.SentMark{Student: 1, Code: "P"}))
	assert.ErrorContains(t, err, "not on this register")
	bad := append([]work.SentMark(nil), all...)
	bad[3] = work.SentMark{Student: bad[3].Student, Code: "L", Time: "2515"}
	_, err = o.SendRegister(ctx, osk, "register key 1", date, halyard, "AM", bad)
	assert.ErrorContains(t, err, "nothing was sent")
	_, err = o.SendRegister(ctx, osk, "register key 1", date, 90, "AM", all)
	assert.Equal(t, work.Refused, kind(t, err), "another teacher's class")
	_, err = o.SendRegister(ctx, osk, "register key 1", date, halyard, "5", all)
	assert.ErrorContains(t, err, "did not meet", "a form has no lesson")
	_, err = o.SendRegister(ctx, osk, "register key 1", date, halyard, "PM", all)
	assert.Equal(t, work.Refused, kind(t, err), "the afternoon is still to come")
	_, err = o.Register(ctx, osk, halyard, "AM", "2026-03-08")
	assert.ErrorContains(t, err, "not a school day")

	before := count(t, o)
	first, err := o.SendRegister(ctx, osk, "register key 2", date, halyard, "AM", all)
	require.NoError(t, err)
	again, err := o.SendRegister(ctx, osk, "register key 2", date, halyard, "AM", all)
	require.NoError(t, err, "a repeat after a lost line")
	assert.Equal(t, first, again)
	_, err = o.SendRegister(ctx, osk, "register key 3", date, halyard, "AM", all)
	assert.Equal(t, work.Conflict, kind(t, err))
	after := count(t, o)
	assert.Greater(t, after["in"], before["in"])
	assert.Less(t, after["not-yet-known"], before["not-yet-known"])
	wrong, err := o.Check(ctx)
	require.NoError(t, err)
	assert.Empty(t, wrong)
}

func TestCorrectionsNeedAReasonAndKeepBoth(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	all := marks(t, o, "N")
	_, err := o.Correct(ctx, osk, "correct key 1", work.Correction{Date: date, Slot: "AM", Student: all[0].Student, Code: "P", Reason: "came in"})
	assert.Equal(t, work.NotFound, kind(t, err), "nothing was sent yet")
	_, err = o.SendRegister(ctx, osk, "register key 4", date, halyard, "AM", all)
	require.NoError(t, err)
	_, err = o.Correct(ctx, osk, "correct key 2", work.Correction{Date: date, Slot: "AM", Student: all[0].Student, Code: "P", Reason: " "})
	assert.ErrorContains(t, err, "needs a reason")
	_, err = o.Correct(ctx, osk, "correct key 3", work.Correction{Date: date, Slot: "AM", Student: all[0].Student, Code: "L", Time: "7", Reason: "came in"})
	require.NoError(t, err)
	v, err := o.Register(ctx, osk, halyard, "AM", "")
	require.NoError(t, err)
	require.Len(t, v.Rows[0].Versions, 2)
	assert.Equal(t, []string{"N", "L", "08:52", "came in"}, []string{v.Rows[0].Versions[0].Code, v.Rows[0].Versions[1].Code, v.Rows[0].Versions[1].To, v.Rows[0].Versions[1].Reason})
}

func TestANoticeExplainsAheadAndIsTakenBack(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	idris := find(t, o, "Idris Quell")
	assert.Equal(t, "unaccounted", idris.Place.State)
	before := count(t, o)
	r, err := o.Notify(ctx, officer, "notice key 1", work.Notice{Students: []int64{idris.Student.ID}, Reason: "ill", To: "2026-03-12"})
	require.NoError(t, err)
	after := count(t, o)
	assert.Equal(t, before["unaccounted"]-1, after["unaccounted"])
	assert.Equal(t, before["explained"]+1, after["explained"])
	why, err := o.Sheet(ctx, officer, idris.Student.ID, "")
	require.NoError(t, err)
	assert.Contains(t, why.Happened[0].Words+why.Happened[1].Words, "medical")
	_, err = o.WithdrawNotice(ctx, officer, "notice key 2", r.IDs[0])
	require.NoError(t, err)
	assert.Equal(t, before, count(t, o))
	_, err = o.Notify(ctx, officer, "notice key 3", work.Notice{Students: []int64{idris.Student.ID}, Reason: "ill", To: "2026-03-01"})
	assert.ErrorContains(t, err, "ends before it begins")
}

func TestArrivalsBringTheMarksIntoLine(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	mika := find(t, o, "Mika Ulvar").Student.ID
	before := count(t, o)
	_, err := o.Move(ctx, officer, "move key 1", work.Movement{Students: []int64{mika}, Kind: "arrived", Time: "1030"})
	assert.ErrorContains(t, err, "still to come")
	_, err = o.Move(ctx, officer, "move key 1", work.Movement{Students: []int64{mika}, Kind: "arrived", Time: "9:75"})
	assert.ErrorContains(t, err, "not a time")
	r, err := o.Move(ctx, officer, "move key 2", work.Movement{Students: []int64{mika}, Kind: "arrived", Time: "910", Reason: "appointment"})
	require.NoError(t, err)
	after := count(t, o)
	assert.Equal(t, before["unaccounted"]-1, after["unaccounted"])
	assert.Equal(t, before["late"]+1, after["late"])
	sheet, err := o.Sheet(ctx, officer, mika, "")
	require.NoError(t, err)
	words := ""
	for _, h := range sheet.Happened[:6] {
		words += h.Words + "\n"
	}
	assert.Contains(t, words, "AM registration: excused")
	assert.Contains(t, words, "lesson 1: late, excused, came 09:10")
	_, err = o.UndoMovement(ctx, officer, "move key 3", r.IDs[0])
	require.NoError(t, err)
	assert.Equal(t, before, count(t, o), "undo gives the marks back")
	wrong, err := o.Check(ctx)
	require.NoError(t, err)
	assert.Empty(t, wrong)
}

func TestCallsComeBackAndAreNotOfferedToThoseWhoMustNotBeCalled(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	juno := find(t, o, "Juno Sandal").Student.ID
	sheet, err := o.Sheet(ctx, officer, juno, "")
	require.NoError(t, err)
	require.Len(t, sheet.Contacts, 2)
	require.True(t, sheet.Contacts[1].DoNotCall)
	_, err = o.LogCall(ctx, officer, "call key 1", work.Call{Students: []int64{juno}, Contact: sheet.Contacts[1].ID, Outcome: "no answer"})
	assert.Equal(t, work.Refused, kind(t, err))
	_, err = o.LogCall(ctx, officer, "call key 2", work.Call{Students: []int64{juno}, Contact: sheet.Contacts[0].ID, Outcome: "no answer"})
	require.NoError(t, err)
	today, err := o.Today(ctx, "")
	require.NoError(t, err)
	last := today.Households[len(today.Households)-1]
	assert.Equal(t, juno, last.Students[0].Student.ID, "those just tried come last")
	assert.Equal(t, "09:32", last.Again)
	assert.True(t, last.Waits)
	assert.Equal(t, []string{"Birger Sandal"}, last.NotCalled)
	_, err = o.LogCall(ctx, officer, "call key 3", work.Call{Students: []int64{juno}, Contact: sheet.Contacts[0].ID, Outcome: "spoke", Said: "on the way"})
	assert.ErrorContains(t, err, "needs the time")
	_, err = o.LogCall(ctx, officer, "call key 4", work.Call{Students: []int64{juno}, Contact: sheet.Contacts[0].ID, Outcome: "spoke", Said: "on the way", Until: "940"})
	require.NoError(t, err)
	assert.Equal(t, "explained", find(t, o, "Juno Sandal").Place.State)
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
		v, err := o.ReadQuick(ctx, officer, c.text, nil)
		require.NoError(t, err, c.text)
		assert.Equal(t, c.words, v.Words, c.text)
		if c.failure == "" {
			assert.Empty(t, v.Error, c.text)
		} else {
			assert.Contains(t, v.Error, c.failure, c.text)
			_, err = o.DoQuick(ctx, officer, "quick key "+c.text, c.text, nil)
			assert.Error(t, err)
		}
	}
	_, err := o.DoQuick(ctx, officer, "quick key ok", "quell ill until thu", nil)
	require.NoError(t, err)
	assert.Equal(t, "explained", find(t, o, "Idris Quell").Place.State)
}

// settle brings everybody unaccounted for to an end.
func settle(t *testing.T, o *work.Office) {
	ctx := t.Context()
	for n := range 200 {
		today, err := o.Today(ctx, "")
		require.NoError(t, err)
		key := "settle key " + string(rune('a'+n%26)) + string(rune('a'+n/26))
		switch {
		case len(today.OnSite) > 0:
			_, err = o.EndSearch(ctx, officer, key, work.SearchEnd{Student: today.OnSite[0].Student.ID, Found: true, Place: "canteen"})
		case len(today.Households) > 0:
			h := today.Households[0]
			c := work.Call{Outcome: "spoke", Said: "ill"}
			for _, s := range h.Students {
				c.Students = append(c.Students, s.Student.ID)
			}
			if len(h.Contacts) > 0 {
				c.Contact = h.Contacts[0].ID
			}
			_, err = o.LogCall(ctx, officer, key, c)
		default:
			return
		}
		require.NoError(t, err)
	}
	t.Fatal("the list does not end")
}

// settleMorning sends the registers that are out and settles everyone.
func settleMorning(t *testing.T, o *work.Office) {
	t.Helper()
	for _, r := range []int64{halyard, 179} {
		v, err := o.Register(t.Context(), officer, r, "AM", "")
		require.NoError(t, err)
		var all []work.SentMark
		for _, row := range v.Rows {
			all = append(all, work.SentMark{Student: row.Student.ID, Code: "P"})
		}
		_, err = o.SendRegister(t.Context(), officer, "close register "+string(rune('a'+r%26)), date, r, "AM", all)
		require.NoError(t, err)
	}
	settle(t, o)
}

func TestSafeArrivalClosesAndReopensOnNewEvidence(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	_, err := o.CloseSafeArrival(ctx, officer, "close key 1")
	assert.Equal(t, work.Refused, kind(t, err))
	settleMorning(t, o)
	_, err = o.CloseSafeArrival(ctx, officer, "close key 2")
	require.NoError(t, err)
	state := func() string {
		today, err := o.Today(ctx, "")
		require.NoError(t, err)
		return today.Safe.State
	}
	assert.Equal(t, "closed", state())
	perran := find(t, o, "Perran Hask").Student.ID
	_, err = o.Move(ctx, officer, "close move", work.Movement{Students: []int64{perran}, Kind: "departed", Reason: "appointment"})
	require.NoError(t, err)
	assert.Equal(t, "closed", state(), "leaving later opens nothing")
	v, err := o.Register(ctx, osk, halyard, "AM", "")
	require.NoError(t, err)
	_, err = o.Correct(ctx, osk, "close correct", work.Correction{Date: date, Slot: "AM", Student: v.Rows[0].Student.ID, Code: "N", Reason: "was not there after all"})
	require.NoError(t, err)
	assert.Equal(t, "reopened", state())
}

func TestLookingEarlierShowsWhatWasShown(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := context.Background()
	then, err := o.Today(ctx, "2026-03-10T09:05")
	require.NoError(t, err)
	settle(t, o)
	again, err := o.Today(ctx, "2026-03-10T09:05")
	require.NoError(t, err)
	assert.Equal(t, then, again)
}

func TestTeachersReachTheirOwnStudentsOnly(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	v, err := o.Register(ctx, osk, halyard, "AM", "")
	require.NoError(t, err)
	own, err := o.Sheet(ctx, osk, v.Rows[0].Student.ID, "")
	require.NoError(t, err)
	assert.Empty(t, own.Contacts)
	_, err = o.Register(ctx, osk, 90, "AM", "")
	assert.Equal(t, work.Refused, kind(t, err))
	refusedOnce := false
	for id := int64(1); id < 60 && !refusedOnce; id++ {
		if _, err := o.Sheet(ctx, osk, id, ""); err != nil {
			refusedOnce = kind(t, err) == work.Refused
		}
	}
	assert.True(t, refusedOnce)
	list, err := o.Registers(ctx, osk, "")
	require.NoError(t, err)
	for _, r := range list.Registers {
		assert.True(t, r.Mine, r.Title)
	}
}

// resolve does what an action of a contradiction says.
func resolve(t *testing.T, o *work.Office, m work.MismatchView, action string) {
	t.Helper()
	key := "resolve " + m.Kind + m.Student.Number + m.Slot + action
	var err error
	switch action {
	case "withdraw":
		_, err = o.WithdrawNotice(t.Context(), officer, key, m.Notice)
	case "seen":
		_, err = o.Move(t.Context(), officer, key, work.Movement{Students: []int64{m.Student.ID}, Kind: "arrived", Time: m.At})
	case "stands":
		_, err = o.Settle(t.Context(), officer, key, m.Student.ID, m.Slot, m.Kind, "")
	case "correct":
		_, err = o.Correct(t.Context(), officer, key, work.Correction{Date: date, Slot: m.Slot, Student: m.Student.ID, Code: m.Suggest, Time: m.To, Reason: m.Words})
	}
	require.NoError(t, err)
}

func TestActionsResolveContradictions(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	today, err := o.Today(t.Context(), "")
	require.NoError(t, err)
	_, err = o.EndSearch(t.Context(), officer, "found key", work.SearchEnd{Student: today.OnSite[0].Student.ID, Found: true, Place: "canteen"})
	require.NoError(t, err)
	seen := map[string]bool{}
	for range 30 {
		today, err := o.Today(t.Context(), "")
		require.NoError(t, err)
		if len(today.Mismatches) == 0 {
			assert.Subset(t, seen, map[string]bool{"signed-in-absent": true, "left-present": true, "explained-present": true})
			return
		}
		m := today.Mismatches[0]
		seen[m.Kind] = true
		for _, a := range m.Actions {
			if a != "ask" {
				resolve(t, o, m, a)
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
	admin := work.Person{Account: 46, Name: "Administrator", Role: work.Administrator}
	_, err := o.AddAccount(ctx, admin, "account key 1", work.NewAccount{Username: "newcomer", Role: "teacher"})
	assert.ErrorContains(t, err, "needs a name")
	_, err = o.AddAccount(ctx, admin, "account key 2", work.NewAccount{Username: "newcomer", Name: "New Comer", Role: "teacher"})
	assert.ErrorContains(t, err, "belongs to one of the staff")
	_, err = o.AddAccount(ctx, admin, "account key 3", work.NewAccount{Username: "OSK", Role: "teacher", Staff: 1})
	assert.Equal(t, work.Conflict, kind(t, err))
	made, err := o.AddAccount(ctx, admin, "account key 4", work.NewAccount{Username: "osk2", Role: "teacher", Staff: 1})
	require.NoError(t, err)
	p, oneTime, err := o.SignIn(ctx, "osk2", made.Password)
	require.NoError(t, err)
	assert.True(t, oneTime)
	assert.Equal(t, "P. Osk", p.Name)
	_, err = o.Register(ctx, p, halyard, "AM", "")
	assert.NoError(t, err, "the account reaches the classes of its staff")
	_, _, err = o.SignIn(ctx, "osk2", "something else")
	assert.Error(t, err)
}

func TestNoHomeIsRungBeforeTheEarlierRegisterIsIn(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	all := marks(t, o, "N")
	student := all[0].Student
	list, err := o.Registers(ctx, officer, "")
	require.NoError(t, err)
	for _, r := range list.Registers {
		if r.Slot != "1" || r.State == "sent" {
			continue
		}
		v, err := o.Register(ctx, officer, r.Class, "1", "")
		require.NoError(t, err)
		var sent []work.SentMark
		for _, row := range v.Rows {
			sent = append(sent, work.SentMark{Student: row.Student.ID, Code: "N"})
			if row.Student.ID == student {
				student = -1
			}
		}
		if student == -1 {
			_, err = o.SendRegister(ctx, officer, "lesson key 1", date, r.Class, "1", sent)
			require.NoError(t, err)
			break
		}
	}
	require.Equal(t, int64(-1), student, "the student has a lesson 1")
	student = all[0].Student
	called := func() bool {
		today, err := o.Today(ctx, "")
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
	_, err = o.SendRegister(ctx, osk, "register key 9", date, halyard, "AM", all)
	require.NoError(t, err)
	assert.True(t, called())
}
