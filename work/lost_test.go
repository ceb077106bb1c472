package work_test

import (
	"errors"
	"sync"
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/whereabouts"
	"meldung/demo"
	"meldung/demo/demotest"
	"meldung/held"
	"meldung/held/dated"
	"meldung/pages/registerpage"
	"meldung/pages/todaypage"
	"meldung/work"
	"meldung/work/check"
	"meldung/work/desk"
	"meldung/work/home"
	"meldung/work/morning"
	"meldung/work/registers"
	"meldung/work/takeback"
)

// names are the students of rows.
func names[T any](rows []T, name func(T) string) []string {
	out := []string{}
	for _, r := range rows {
		out = append(out, name(r))
	}
	return out
}

func worriedNames(t *testing.T, o *work.Office) []string {
	t.Helper()
	return names(demotest.Today(t, o, "").Worried, func(w todaypage.WorriedFor) string { return w.Student.Name })
}

func believed(t *testing.T, o *work.Office, key, name string, only ...ids.Student) work.Receipt {
	t.Helper()
	h := demotest.Home(t, o, name)
	var students []ids.Student
	for _, s := range h.Students {
		students = append(students, s.Student.ID)
	}
	got, err := home.LogCall(t.Context(), o, demotest.Officer, key, home.Call{Students: students, Contact: h.Contacts[0].ID, Outcome: "spoke", Said: held.BelievesIn, For: only, Note: "left at eight"})
	require.NoError(t, err)
	return got
}

// sendLesson takes the lesson in which a student should be now: everyone is in, the student by the
// code and the source given.
func sendLesson(t *testing.T, o *work.Office, student ids.Student, code, source string) {
	t.Helper()
	list, err := registerpage.ShowAll(t.Context(), o, demotest.Officer, "")
	require.NoError(t, err)
	for _, r := range list.Registers {
		if r.Slot != "1" {
			continue
		}
		v, err := registerpage.Show(t.Context(), o, demotest.Officer, r.Class, "1", "")
		require.NoError(t, err)
		var sent []registers.SentMark
		on := false
		for _, row := range v.Rows {
			m := registers.SentMark{Student: row.Student.ID, Code: "P", Source: "rest"}
			if row.Student.ID == student {
				on = true
				m.Code, m.Source = code, source
			}
			sent = append(sent, m)
		}
		if on {
			_, err = registers.Send(t.Context(), o, demotest.Officer, "lesson of "+r.Title, registers.SentRegister{Date: demotest.Date, Class: r.Class, Slot: "1", Marks: sent})
			require.NoError(t, err)
			return
		}
	}
	t.Fatal("the student has no lesson 1")
}

func TestAHomeThatBelievesTheChildAtSchool(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	before := demotest.Today(t, o, "")
	idris := demotest.Find(t, o, "Idris Quell").Student.ID
	believed(t, o, "believes", "Idris Quell")
	today := demotest.Today(t, o, "")
	require.Equal(t, []string{"Idris Quell"}, worriedNames(t, o))
	assert.Contains(t, today.Worried[0].Text, "believes Idris is at school: left at eight · not seen today")
	require.NotNil(t, today.Worried[0].Lesson)
	assert.Equal(t, before.Count, today.Count, "nobody was found by it")
	for _, h := range today.Households {
		for _, s := range h.Students {
			assert.NotEqual(t, idris, s.Student.ID, "their home was reached")
		}
	}

	clock.Set(day.At(demo.Today, day.MustMinute("09:20")))
	sendLesson(t, o, idris, "P", "rest")
	today = demotest.Today(t, o, "")
	require.Equal(t, []string{"Idris Quell"}, worriedNames(t, o), "everyone else is in, and nobody has seen him")
	assert.Contains(t, today.Worried[0].Text, "in with everyone else 09:20, lesson 1, not seen")
	_, err := home.Notify(t.Context(), o, demotest.Officer, "by text", home.Notice{Students: []ids.Student{idris}, Reason: "on the way", ToTime: "1000"})
	require.NoError(t, err)
	require.Equal(t, []string{"Idris Quell"}, worriedNames(t, o), "somebody on the way is nobody seen")
	_, err = morning.EndSearch(t.Context(), o, demotest.Officer, "found", morning.SearchEnd{Student: idris, Found: true, Place: "boat shed", FoundBy: "D. Ase"})
	require.NoError(t, err)
	assert.Empty(t, worriedNames(t, o))
	assert.Equal(t, "late", demotest.Place(t, o, "Idris Quell"))
}

func TestAHomeMayBelieveOneOfTwo(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	elis := demotest.Find(t, o, "Elis Merrow").Student.ID
	believed(t, o, "one of two", "Elis Merrow", elis)
	assert.Equal(t, []string{"Elis Merrow"}, worriedNames(t, o))
	h := demotest.Home(t, o, "Ansa Merrow")
	assert.Len(t, h.Students, 1)
	assert.Len(t, h.Attempts, 1, "her home was rung all the same")

	_, err := home.Notify(t.Context(), o, demotest.Officer, "rang back", home.Notice{Students: []ids.Student{elis}, Reason: "ill", ToldBy: "Ida Merrow", ToldHow: "phone"})
	require.NoError(t, err)
	assert.Empty(t, worriedNames(t, o), "home has said where he is")
	assert.Equal(t, "explained", demotest.Place(t, o, "Elis Merrow"))
}

func TestNoAnswerThatSaysNotWhere(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	h := demotest.Home(t, o, "Idris Quell")
	call := home.Call{Students: []ids.Student{h.Students[0].Student.ID}, Contact: h.Contacts[0].ID, Outcome: "spoke"}
	for _, word := range []string{"truant", "no reason"} {
		call.Said = word
		_, err := home.LogCall(t.Context(), o, demotest.Officer, "said "+word, call)
		assert.ErrorContains(t, err, "does not say where Idris is")
	}
	call.Said, call.Outcome = "ill", "no answer"
	_, err := home.LogCall(t.Context(), o, demotest.Officer, "nobody said it", call)
	assert.ErrorContains(t, err, "nobody was spoken to")
	_, err = home.Notify(t.Context(), o, demotest.Officer, "as a notice", home.Notice{Students: call.Students, Reason: held.BelievesIn})
	assert.Error(t, err)
	assert.Equal(t, "unaccounted", demotest.Place(t, o, "Idris Quell"))
	for _, r := range o.Settings().Offered() {
		assert.False(t, r.Home && r.Unknown, r.Word)
	}
}

func TestSomebodyKnowsWhereTheyAre(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	idris, juno := demotest.Find(t, o, "Idris Quell").Student.ID, demotest.Find(t, o, "Juno Sandal").Student.ID
	_, err := morning.SettleStudents(ctx, o, demotest.Officer, "no word", morning.Where{Students: []ids.Student{idris}, How: " "})
	assert.ErrorContains(t, err, "how you know")
	_, err = morning.SettleStudents(ctx, o, demotest.Maud, "the desk", morning.Where{Students: []ids.Student{idris}, How: "x"})
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
	_, err = morning.SettleStudents(ctx, o, demotest.Officer, "nobody", morning.Where{Students: []ids.Student{99999}, How: "x"})
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
	in := demotest.Find(t, o, "Tora Ulvar").Student.ID
	_, err = morning.SettleStudents(ctx, o, demotest.Officer, "half", morning.Where{Students: []ids.Student{idris, in}, How: "x"})
	assert.Equal(t, work.Conflict, demotest.Kind(t, err))
	assert.Equal(t, "unaccounted", demotest.Place(t, o, "Idris Quell"), "all of it or nothing")
	believed(t, o, "believes", "Juno Sandal")
	got, err := morning.SettleStudents(ctx, o, demotest.Officer, "settled", morning.Where{Students: []ids.Student{idris, juno}, How: "seen by the harbour master", Unexcused: true})
	require.NoError(t, err)
	assert.Len(t, got.IDs, 2)
	assert.Empty(t, worriedNames(t, o))
	for _, name := range []string{"Idris Quell", "Juno Sandal"} {
		assert.Equal(t, "explained", demotest.Place(t, o, name))
	}
	require.NoError(t, o.ReadDay(ctx, work.Moment{Date: demo.Today}, func(v work.Snapshot, x *work.Day) error {
		versions := x.Versions(idris, "AM")
		assert.Equal(t, "U", versions[len(versions)-1].Code)
		return nil
	}))
	_, err = takeback.Entry(ctx, o, demotest.Officer, "back", got.Seq)
	require.NoError(t, err)
	assert.Equal(t, []string{"Juno Sandal"}, worriedNames(t, o))
	assert.Equal(t, "unaccounted", demotest.Place(t, o, "Idris Quell"))
	require.NoError(t, o.ReadDay(ctx, work.Moment{Date: demo.Today}, func(v work.Snapshot, x *work.Day) error {
		versions := x.Versions(idris, "AM")
		assert.Equal(t, "N", versions[len(versions)-1].Code, "and their marks are as before")
		return nil
	}))
}

// What one entry has stored is taken back as a whole, once, and by those who may.
func TestTakingBack(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	idris := []ids.Student{demotest.Find(t, o, "Idris Quell").Student.ID}
	h := demotest.Home(t, o, "Idris Quell")
	before := demotest.Today(t, o, "")
	for kind, do := range map[string]func(key string) (work.Receipt, error){
		"movement": func(key string) (work.Receipt, error) {
			return desk.Move(ctx, o, demotest.Officer, key, desk.Movement{Students: idris, Kind: "arrived", Reason: "overslept"})
		},
		"notice": func(key string) (work.Receipt, error) {
			return home.Notify(ctx, o, demotest.Officer, key, home.Notice{Students: idris, Reason: "ill", To: "2026-03-12"})
		},
		"call that explains": func(key string) (work.Receipt, error) {
			return home.LogCall(ctx, o, demotest.Officer, key, home.Call{Students: idris, Contact: h.Contacts[0].ID, Outcome: "spoke", Said: "ill"})
		},
		"call without an answer": func(key string) (work.Receipt, error) {
			return home.LogCall(ctx, o, demotest.Officer, key, home.Call{Students: idris, Contact: h.Contacts[0].ID, Outcome: "no answer"})
		},
		"call that worries": func(key string) (work.Receipt, error) {
			return home.LogCall(ctx, o, demotest.Officer, key, home.Call{Students: idris, Contact: h.Contacts[0].ID, Outcome: "spoke", Said: held.BelievesIn})
		},
		"correction": func(key string) (work.Receipt, error) {
			return registers.Correct(ctx, o, demotest.Officer, key, registers.Correction{Date: demotest.Date, Slot: "AM", Student: idris[0], Code: "M", Reason: "said so"})
		},
		"hold": func(key string) (work.Receipt, error) {
			return home.Hold(ctx, o, demotest.Officer, key, home.NewHold{Students: idris, Until: "940", Reason: "late"})
		},
	} {
		got, err := do("do " + kind)
		require.NoError(t, err, kind)
		assert.NotEqual(t, before.Households, demotest.Today(t, o, "").Households, kind)
		_, err = takeback.Entry(ctx, o, demotest.Osk, "teacher "+kind, got.Seq)
		assert.Equal(t, work.Refused, demotest.Kind(t, err), kind)
		_, err = takeback.Entry(ctx, o, demotest.Officer, "back "+kind, got.Seq)
		require.NoError(t, err, kind)
		after := demotest.Today(t, o, "")
		assert.Equal(t, before.Households, after.Households, kind)
		assert.Equal(t, before.Worried, after.Worried, kind)
		assert.Equal(t, before.Count, after.Count, kind)
		_, err = takeback.Entry(ctx, o, demotest.Officer, "again "+kind, got.Seq)
		assert.Equal(t, work.Conflict, demotest.Kind(t, err), kind)
	}
	closed, err := desk.Move(ctx, o, demotest.Officer, "yesterday's", desk.Movement{Students: idris, Kind: "arrived"})
	require.NoError(t, err)
	clock.Set(day.At(demo.Today+1, day.MustMinute("08:30")))
	for _, id := range []ids.Entry{closed.Seq, 1, 99999999} {
		_, err = takeback.Entry(ctx, o, demotest.Officer, "not today's", id)
		assert.Equal(t, work.NotFound, demotest.Kind(t, err))
	}
	wrong, err := check.Check(ctx, o, false)
	require.NoError(t, err)
	assert.Empty(t, wrong)
}

func TestTextsCanBeTakenBackUntilTheyLeave(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	students := []ids.Student{demotest.Find(t, o, "Idris Quell").Student.ID, demotest.Find(t, o, "Della Fairhurst").Student.ID}
	shown, err := todaypage.PreviewTexts(ctx, o, demotest.Officer, home.HomeText{Students: students})
	require.NoError(t, err)
	assert.Equal(t, 1, shown.Homes)
	assert.Equal(t, []string{"Della Fairhurst"}, shown.Without)
	assert.Equal(t, "Fairlead School: Idris is not in at 09:12, and we do not know why. Please answer with the reason, or when we may expect them.", shown.Example)
	_, err = todaypage.PreviewTexts(ctx, o, demotest.Maud, home.HomeText{Students: students})
	assert.Equal(t, work.Refused, demotest.Kind(t, err))

	got, err := home.TextHomes(ctx, o, demotest.Officer, "texts", home.HomeText{Students: students})
	require.NoError(t, err)
	assert.Len(t, demotest.Home(t, o, "Idris Quell").Attempts, 1)
	_, err = takeback.Entry(ctx, o, demotest.Officer, "texts back", got.Seq)
	require.NoError(t, err)
	assert.Empty(t, demotest.Home(t, o, "Idris Quell").Attempts, "nobody was written to")
	got, err = home.TextHomes(ctx, o, demotest.Officer, "texts again", home.HomeText{Students: students})
	require.NoError(t, err)
	clock.Set(day.At(demo.Today, day.MustMinute("09:13")))
	_, err = takeback.Entry(ctx, o, demotest.Officer, "too late", got.Seq)
	assert.ErrorContains(t, err, "they have left already")
}

// What a day leaves open stands on every later one until a named person has settled it.
func TestNothingIsLostOverNight(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	date := demo.Today.String()
	idris := demotest.Find(t, o, "Idris Quell").Student.ID
	believed(t, o, "believes", "Juno Sandal")
	_, err := morning.StartSearch(ctx, o, demotest.Officer, "search", morning.NewSearch{Student: demotest.Find(t, o, "Oona Harle").Student.ID, Searcher: "M. Kersey"})
	require.NoError(t, err)
	evening := day.At(demo.Today, day.MustMinute("23:00"))
	clock.Set(evening)
	assert.NotContains(t, names(demotest.Today(t, o, "").Unsettled, func(d todaypage.UnsettledDay) string { return d.Date }), date, "a day is unsettled when it is over")

	left := func() todaypage.UnsettledDay {
		t.Helper()
		for _, d := range demotest.Today(t, o, "").Unsettled {
			if d.Date == date {
				return d
			}
		}
		return todaypage.UnsettledDay{}
	}
	clock.Set(day.At(demo.Today+1, day.MustMinute("08:00")))
	u := left()
	require.Equal(t, "yesterday", u.Label)
	open := names(u.Students, func(s todaypage.UnsettledStudent) string { return s.Student.Name })
	assert.Subset(t, open, []string{"Idris Quell", "Juno Sandal", "Oona Harle", "Della Fairhurst"})
	for _, s := range u.Students {
		if s.Student.Name == "Oona Harle" {
			assert.Contains(t, s.Searched, "M. Kersey")
		}
	}
	never := map[string]int{}
	for _, r := range u.Registers {
		never[r.Title+" "+r.Slot] = r.N
	}
	assert.Contains(t, never, "8 Halyard AM")
	assert.Len(t, u.Unclosed, 2)
	seen := demotest.Today(t, o, "")

	// The home is rung today about yesterday.
	clock.Set(day.At(demo.Today+1, day.MustMinute("08:01")))
	past := demotest.Today(t, o, date)
	assert.True(t, past.Past)
	assert.True(t, past.Worked)
	_, err = home.LogCall(ctx, o, demotest.Officer, "about yesterday", home.Call{Date: date, Students: []ids.Student{idris}, Contact: demotestContact(t, past, idris), Outcome: "spoke", Said: "ill"})
	require.NoError(t, err)
	assert.NotContains(t, names(left().Students, func(s todaypage.UnsettledStudent) string { return s.Student.Name }), "Idris Quell")
	require.NoError(t, o.ReadDay(ctx, work.Moment{Date: demo.Today}, func(v work.Snapshot, x *work.Day) error {
		versions := x.Versions(idris, "AM")
		assert.Equal(t, "M", versions[len(versions)-1].Code, "and the mark follows")
		return nil
	}))
	_, err = home.LogCall(ctx, o, demotest.Officer, "way", home.Call{Date: date, Students: []ids.Student{idris}, Outcome: "spoke", Said: "on the way", Until: "940"})
	assert.ErrorContains(t, err, "nobody is on the way to")
	_, err = home.LogCall(ctx, o, demotest.Officer, "future", home.Call{Date: "2026-03-20", Students: []ids.Student{idris}, Outcome: "spoke"})
	assert.ErrorContains(t, err, "still to come")

	// After a weekend everything else is there still.
	clock.Set(day.At(demo.Today+6, day.MustMinute("08:00")))
	assert.Len(t, left().Students, len(open)-1)
	assert.Equal(t, demo.Today.Spoken(), left().Label)
	_, err = morning.Close(ctx, o, demotest.Officer, "too early", morning.Closing{Section: demotest.Lower, Date: date})
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
	_, err = morning.SettleRegister(ctx, o, demotest.Officer, "today's", morning.NeverSent{Date: "2026-03-16", Class: demotest.Halyard, Slot: "AM", How: "x"})
	assert.Equal(t, work.Refused, demotest.Kind(t, err), "the day is not over")
	for _, r := range left().Registers {
		key := "never " + r.Title + r.Slot
		_, err = morning.SettleRegister(ctx, o, demotest.Officer, key+" x", morning.NeverSent{Date: date, Class: r.Class, Slot: "9", How: "x"})
		assert.Equal(t, work.NotFound, demotest.Kind(t, err))
		_, err = morning.SettleRegister(ctx, o, demotest.Officer, key, morning.NeverSent{Date: date, Class: r.Class, Slot: r.Slot, How: "all were in, " + r.Teacher + " said so"})
		require.NoError(t, err)
	}
	for i, s := range left().Students {
		_, err = morning.SettleStudents(ctx, o, demotest.Officer, "settle "+string(rune('a'+i)), morning.Where{Students: []ids.Student{s.Student.ID}, Date: date, How: "at home, the tutor knows"})
		require.NoError(t, err)
	}
	assert.Empty(t, left().Students)
	assert.Empty(t, left().Registers)
	for _, section := range []ids.Section{demotest.Lower, demotest.Upper} {
		_, err = morning.Close(ctx, o, demotest.Officer, "closed "+string(rune('a'+section)), morning.Closing{Section: section, Date: date})
		require.NoError(t, err)
	}
	assert.Empty(t, left().Unclosed)

	// What was shown the morning after is what is shown of it now.
	again := demotest.Today(t, o, "2026-03-11T08:00")
	assert.Equal(t, seen.Unsettled, again.Unsettled)
	wrong, err := check.Check(ctx, o, false)
	require.NoError(t, err)
	assert.Empty(t, wrong)
}

// demotestContact is whom the call list of a day has for a student.
func demotestContact(t *testing.T, v todaypage.TodayView, student ids.Student) ids.Contact {
	t.Helper()
	for _, h := range v.Households {
		for _, s := range h.Students {
			if s.Student.ID == student {
				return h.Contacts[0].ID
			}
		}
	}
	t.Fatal("the student is not on that day's list")
	return 0
}

// Two who settle the same student at once: one does, the other is told.
func TestTwoSettleAtOnce(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	idris := demotest.Find(t, o, "Idris Quell").Student.ID
	var done, told atomic.Int32
	var both sync.WaitGroup
	for _, key := range []string{"one", "two", "three", "four"} {
		both.Go(func() {
			_, err := morning.SettleStudents(t.Context(), o, demotest.Officer, key, morning.Where{Students: []ids.Student{idris}, How: key})
			var mistake *work.Error
			switch {
			case err == nil:
				done.Add(1)
			case errors.As(err, &mistake) && mistake.Kind == work.Conflict:
				told.Add(1)
			default:
				t.Error(err)
			}
		})
	}
	both.Wait()
	assert.EqualValues(t, 1, done.Load())
	assert.EqualValues(t, 3, told.Load())
}

// What is read of a past day for those in doubt is what reading all of it says, also on a day on
// which one section has school and the other has none.
func TestWhoIsInDoubtIsEverybodyWhoIsUnsettled(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	open := 0
	for d := day.MustDate("2026-01-06"); d < demo.Today; d += 3 { // on the first of them the Upper School has none
		require.NoError(t, o.ReadDay(ctx, work.Moment{Date: d}, func(v work.Snapshot, x *work.Day) error {
			left, err := dated.ReadUnsettled(ctx, v.Store(), v.School, d, v.Now)
			require.NoError(t, err)
			var want []string
			differ := map[ids.Section]int{}
			for _, s := range x.Roll {
				p := whereabouts.At(*x.Evidence[s.ID], x.Rules(s.ID), dated.LastMinute, v.Now)
				if p.State == whereabouts.Unaccounted || !p.Worried.IsZero() {
					want = append(want, s.Name())
				}
				if len(x.Contradictions(s.ID, dated.LastMinute, v.Now)) > 0 {
					differ[s.Section]++
				}
			}
			var got []string
			for _, s := range left.Students {
				if s.Position.State == whereabouts.Unaccounted || !s.Position.Worried.IsZero() {
					got = append(got, s.Student.Name())
				}
			}
			if x.Open() {
				open++
				assert.Equal(t, want, got, d)
				assert.Equal(t, differ, left.Differing, d)
			} else {
				assert.True(t, left.Nothing(), d)
			}
			return nil
		}))
	}
	assert.Greater(t, open, 10)
}
