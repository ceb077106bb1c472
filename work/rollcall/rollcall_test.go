package rollcall_test

import (
	"fmt"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/demo"
	"meldung/demo/demotest"
	"meldung/held"
	"meldung/pages/registerpage"
	"meldung/pages/rollcallpage"
	"meldung/pages/studentpage"
	"meldung/work"
	"meldung/work/desk"
	"meldung/work/home"
	"meldung/work/rollcall"
	"meldung/work/school"
	"meldung/work/station"
)

func begin(t *testing.T, o *work.Office, token string) ids.RollCall {
	t.Helper()
	got, err := rollcall.Begin(t.Context(), o, demotest.Officer, "key of "+token, rollcall.Start{Token: token, Kind: "drill"})
	require.NoError(t, err)
	return got.ID
}

func list(t *testing.T, o *work.Office, p work.Person) rollcallpage.RollCallView {
	t.Helper()
	v, err := rollcallpage.Show(t.Context(), o, p)
	require.NoError(t, err)
	return v
}

func tick(student ids.Student, token string) rollcall.NewTick {
	return rollcall.NewTick{Token: "token " + token, Kind: "student", Person: int64(student), Here: true, How: "list"}
}

func send(t *testing.T, o *work.Office, p work.Person, id ids.RollCall, key string, list ...rollcall.NewTick) rollcall.Taken {
	t.Helper()
	taken, err := rollcall.AddTicks(t.Context(), o, p, "ticks under "+key, id, rollcall.Ticks{Ticks: list})
	require.NoError(t, err)
	return taken
}

func named(v []rollcallpage.PersonView, name string) *rollcallpage.PersonView {
	for i := range v {
		if v[i].Name == name {
			return &v[i]
		}
	}
	return nil
}

// withID finds a student by id: there are two of some names.
func withID(v []rollcallpage.PersonView, id ids.Student) *rollcallpage.PersonView {
	for i := range v {
		if v[i].Kind == "student" && v[i].Person == int64(id) {
			return &v[i]
		}
	}
	return nil
}

// The list is everyone of whom nothing says that they are not there: late comers too, those who
// left not, those unaccounted for and not yet known each with what is known; staff with a lesson,
// and who signed in.
func TestWhoIsOnTheList(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	finn := demotest.IDs(t, o, "Finn Calloway")
	_, err := desk.Move(ctx, o, demotest.Maud, "a move at the desk", desk.Movement{Students: finn, Kind: "departed", Reason: "appointment", Note: "x"})
	require.NoError(t, err)
	visit, err := rollcall.SignIn(ctx, o, demotest.Maud, "a visit of today", rollcall.Visit{Name: "H. Lorne", Firm: "Harbour Works", Host: "M. Jahn"})
	require.NoError(t, err)
	assert.Equal(t, "H. Lorne signed in at 09:12, badge 1", visit.Text)
	_, err = rollcall.SignIn(ctx, o, demotest.Maud, "a visit of the head", rollcall.Visit{Staff: demotest.StaffRask})
	require.NoError(t, err)
	_, err = rollcall.SignIn(ctx, o, demotest.Maud, "a second visit", rollcall.Visit{Staff: demotest.StaffRask})
	assert.Equal(t, work.Conflict, demotest.Kind(t, err))
	_, err = rollcall.SignIn(ctx, o, demotest.Maud, "another with the badge", rollcall.Visit{Name: "B. Olin", Badge: "1"})
	assert.ErrorContains(t, err, "worn by H. Lorne")

	count := demotest.Count(t, o)
	v := list(t, o, demotest.Officer)
	why := map[string]int{}
	for _, p := range v.People {
		why[p.Why]++
		assert.NotEmpty(t, p.Name)
	}
	assert.Equal(t, count["in"]+count["late"], why["on-site"])
	assert.Equal(t, count["unaccounted"], why["missing"])
	assert.Equal(t, count["not-yet-known"], why["unknown"])
	assert.Equal(t, 2, why["signed-in"])
	assert.Positive(t, why["expected"])
	assert.Nil(t, withID(v.People, finn[0]))
	require.NotNil(t, withID(v.Others, finn[0]))
	assert.Contains(t, withID(v.Others, finn[0]).Seen, "left 09:12")
	lorne := named(v.People, "H. Lorne")
	require.NotNil(t, lorne)
	assert.Equal(t, "Harbour Works · host M. Jahn · badge 1", lorne.Place)
	juno := named(v.People, "Juno Sandal")
	require.NotNil(t, juno)
	assert.Equal(t, "missing", juno.Why)
	assert.Contains(t, juno.Seen, "not seen today")

	_, err = rollcall.SignOut(ctx, o, demotest.Maud, "he has left again", ids.Visit(visit.IDs[0]))
	require.NoError(t, err)
	assert.Nil(t, named(list(t, o, demotest.Officer).People, "H. Lorne"))
	_, err = rollcall.BackIn(ctx, o, demotest.Maud, "he is in after all", ids.Visit(visit.IDs[0]))
	require.NoError(t, err)
	assert.NotNil(t, named(list(t, o, demotest.Officer).People, "H. Lorne"))
	assert.Empty(t, list(t, o, demotest.Rask).People, "nothing for a teacher while none runs")
	id := begin(t, o, "token for teachers")
	assert.Len(t, list(t, o, demotest.Rask).People, len(v.People), "everything while one does")
	_, err = rollcall.Begin(ctx, o, demotest.Rask, "a teacher begins", rollcall.Start{Token: "of a teacher", Kind: "drill"})
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
	_, err = rollcall.End(ctx, o, demotest.Officer, "it is at an end", id, rollcall.RollCallEnding{Note: "drill broken off"})
	require.NoError(t, err)
	_, err = rollcallpage.ShowTicks(ctx, o, demotest.Rask, id, 0)
	assert.Equal(t, work.Conflict, demotest.Kind(t, err), "and nothing again when it is over")
}

// A tick is evidence: who was missing is in, a worry ends, and taking it back brings both back.
func TestATickIsEvidence(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	juno := demotest.IDs(t, o, "Juno Sandal")[0]
	h := demotest.Home(t, o, "Juno Sandal")
	_, err := home.LogCall(ctx, o, demotest.Officer, "home believes her in", home.Call{Students: []ids.Student{juno}, Contact: h.Contacts[0].ID, Outcome: "spoke", Said: held.BelievesIn})
	require.NoError(t, err)
	require.Len(t, demotest.Today(t, o, "").Worried, 1)
	id := begin(t, o, "token of evidence")
	send(t, o, demotest.Rask, id, "first", tick(juno, "juno"))
	assert.Equal(t, "late", demotest.Place(t, o, "Juno Sandal"), "the registration had her absent")
	assert.Empty(t, demotest.Today(t, o, "").Worried)
	assert.NotContains(t, fmt.Sprint(demotest.Desk(t, o).Movements), "roll call", "the desk's list is not flooded")
	sheet, err := studentpage.Show(ctx, o, demotest.Officer, juno, "")
	require.NoError(t, err)
	assert.Equal(t, []string{"Met at the roll call", "T. Rask"}, []string{sheet.Happened[0].Text, sheet.Happened[0].By})
	send(t, o, demotest.Rask, id, "undo", rollcall.NewTick{Token: "token juno", Kind: "student", How: "list", Undo: true})
	assert.Equal(t, "unaccounted", demotest.Place(t, o, "Juno Sandal"))
	assert.Len(t, demotest.Today(t, o, "").Worried, 1)

	finn := demotest.IDs(t, o, "Finn Calloway")[0]
	elsewhere := tick(finn, "finn")
	elsewhere.Here = false
	assert.Equal(t, "say how it is known where they are", send(t, o, demotest.Rask, id, "no how", elsewhere).Refused[0].Text)
	elsewhere.Place = "in the harbour office, seen by the harbour master"
	assert.Empty(t, send(t, o, demotest.Rask, id, "with how", elsewhere).Refused)
	assert.Equal(t, "explained", demotest.Place(t, o, "Finn Calloway"))
}

// Twelve phones tick at once, each everything it sees, with lost answers and repeats: every person
// is ticked, every tick stored once, and each phone learns of all of them.
func TestManyTickAtOnce(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	id := begin(t, o, "token of many")
	people := list(t, o, demotest.Officer).People
	var phones sync.WaitGroup
	for phone := range 12 {
		phones.Go(func() {
			for n := phone; n < len(people); n += 11 { // so that some are ticked by two
				p := people[n]
				one := rollcall.NewTick{Token: fmt.Sprintf("token %d of %d", n, phone), Kind: p.Kind, Person: p.Person, Here: true, How: "list"}
				for try := range 2 {
					if _, err := rollcall.AddTicks(ctx, o, demotest.Rask, fmt.Sprintf("phone %d %d try %d", phone, n, try), id, rollcall.Ticks{Ticks: []rollcall.NewTick{one}}); err != nil {
						t.Error(err)
					}
				}
			}
		})
	}
	phones.Wait()
	ticks, err := rollcallpage.ShowTicks(ctx, o, demotest.Rask, id, 0)
	require.NoError(t, err)
	met := map[string]bool{}
	tokens := map[string]bool{}
	for _, one := range ticks.Ticks {
		met[fmt.Sprint(one.Kind, one.Person)] = true
		assert.False(t, tokens[one.Token], "stored once")
		tokens[one.Token] = true
	}
	assert.Len(t, met, len(people))
	later, err := rollcallpage.ShowTicks(ctx, o, demotest.Rask, id, ticks.Seq)
	require.NoError(t, err)
	assert.Empty(t, later.Ticks, "nothing twice")
	_, err = rollcall.End(ctx, o, demotest.Officer, "all are found", id, rollcall.RollCallEnding{})
	require.NoError(t, err)
	record, err := rollcallpage.ShowRecord(ctx, o, id)
	require.NoError(t, err)
	assert.Equal(t, []int{len(people), 0}, []int{record.Call.People, record.Call.Open})
	assert.Equal(t, "0 min", record.Call.Whole)
	assert.Equal(t, "T. Rask", record.Rows[0].Tick.By)
}

// A roll call that two begin at once, or one without a line, is one; what was ticked before its end
// counts when it comes after, and what was ticked later is named and not stored.
func TestThereIsOneRollCallOfAFire(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	at := func(minute string) { clock.Set(day.At(demo.Today, day.MustMinute(minute))) }
	var both sync.WaitGroup
	got := make([]rollcall.Begun, 2)
	for n := range got {
		both.Go(func() {
			var err error
			got[n], err = rollcall.Begin(ctx, o, demotest.Officer, fmt.Sprint("key of one of two ", n), rollcall.Start{Token: fmt.Sprint("one of two ", n), Kind: "real"})
			assert.NoError(t, err)
		})
	}
	both.Wait()
	assert.Equal(t, got[0].ID, got[1].ID)
	id := got[0].ID
	people := list(t, o, demotest.Officer).People
	at("09:20")
	_, err := rollcall.End(ctx, o, demotest.Officer, "end without a note", id, rollcall.RollCallEnding{})
	assert.ErrorContains(t, err, "say what is known of them")
	_, err = rollcall.End(ctx, o, demotest.Officer, "end with a note", id, rollcall.RollCallEnding{Note: "the fire service has the list"})
	require.NoError(t, err)
	_, err = rollcall.End(ctx, o, demotest.Officer, "end it once more", id, rollcall.RollCallEnding{Note: "x"})
	assert.Equal(t, work.Conflict, demotest.Kind(t, err))

	at("09:30")
	late, err := rollcall.Begin(ctx, o, demotest.Maud, "begun without a line", rollcall.Start{Token: "of a phone without a line", Kind: "real", Ago: 16 * 60})
	require.NoError(t, err)
	assert.Equal(t, id, late.ID, "it ran when that was begun")
	first := rollcall.NewTick{Token: "before the end", Kind: people[0].Kind, Person: people[0].Person, Here: true, How: "list", Ago: 12 * 60}
	after := rollcall.NewTick{Token: "after the end", Kind: people[1].Kind, Person: people[1].Person, Here: true, How: "list", Ago: 60}
	taken := send(t, o, demotest.Maud, id, "joined after", first, after)
	require.Len(t, taken.Refused, 1)
	assert.Equal(t, rollcall.Refused{Token: "after the end", Text: "the roll call ended at 09:20"}, taken.Refused[0])
	record, err := rollcallpage.ShowRecord(ctx, o, id)
	require.NoError(t, err)
	assert.Equal(t, len(people)-1, record.Call.Open)
	assert.Equal(t, "the fire service has the list", record.Call.Note)
	running, err := rollcallpage.ShowRunning(ctx, o)
	require.NoError(t, err)
	assert.Zero(t, running.ID, "nobody is alarmed again")

	// A drill that turns out to be none, and a fire in the minute in which a drill ends.
	drill := begin(t, o, "token of a drill")
	real, err := rollcall.Begin(ctx, o, demotest.Maud, "it burns", rollcall.Start{Token: "it burns by now", Kind: "real"})
	require.NoError(t, err)
	assert.Equal(t, rollcall.Begun{ID: drill, Text: "the drill is real now"}, real)
	ticks, err := rollcallpage.ShowTicks(ctx, o, demotest.Rask, drill, 0)
	require.NoError(t, err)
	assert.Equal(t, "real", ticks.Kind)
	_, err = rollcall.End(ctx, o, demotest.Officer, "the fire is out", drill, rollcall.RollCallEnding{Note: "all with the fire service"})
	require.NoError(t, err)
	again, err := rollcall.Begin(ctx, o, demotest.Maud, "it burns again", rollcall.Start{Token: "it burns once more", Kind: "real"})
	require.NoError(t, err)
	assert.NotEqual(t, drill, again.ID)
}

// Somebody who is on no list is added once: a student who had left, and a name.
func TestWhoWasOnNoListIsAdded(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	finn := demotest.IDs(t, o, "Finn Calloway")
	_, err := desk.Move(ctx, o, demotest.Maud, "a move at the desk", desk.Movement{Students: finn, Kind: "departed", Reason: "appointment", Note: "x"})
	require.NoError(t, err)
	id := begin(t, o, "token of strangers")
	before := len(list(t, o, demotest.Officer).People)
	stranger := rollcall.NewTick{Token: "of a stranger", Kind: "visitor", Name: "A. Piper", Here: true, How: "name"}
	for n := range 2 {
		send(t, o, demotest.Rask, id, fmt.Sprint("met ", n), tick(finn[0], "finn"), stranger)
	}
	v := list(t, o, demotest.Officer)
	assert.Len(t, v.People, before+2)
	assert.Equal(t, "found", withID(v.People, finn[0]).Why)
	assert.Contains(t, withID(v.People, finn[0]).Seen, "left")
	assert.NotNil(t, named(v.People, "A. Piper"))
	assert.Equal(t, "in", demotest.Place(t, o, "Finn Calloway"))
	for _, wrong := range []rollcall.NewTick{
		{Token: "a student of none", Kind: "student", Person: 999_999, Here: true, How: "list"}, {Token: "nobody of staff", Kind: "staff", Person: 999_999, Here: true, How: "list"},
		{Token: "a visit of none", Kind: "visitor", Person: 999_999, Name: "X", Here: true, How: "list"}, {Token: "without a name", Kind: "visitor", Here: true, How: "name"},
		{Token: "taken back of none", Kind: "student", Person: 1, How: "list", Undo: true},
	} {
		assert.Len(t, send(t, o, demotest.Rask, id, wrong.Token, wrong).Refused, 1, wrong.Token)
	}
	_, err = rollcall.AddTicks(ctx, o, demotest.Rask, "ticks of no roll call", id+1, rollcall.Ticks{Ticks: []rollcall.NewTick{stranger}})
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
}

// The school's own meeting points divide the list, and the paper; two who change them at once lose
// nothing in silence.
func TestMeetingPoints(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	points := []held.MeetingPoint{{Name: "Pier", Who: []string{"8 Halyard", "8 Reef", rollcall.Visitors}}, {Name: "Field", Who: []string{"9 Bowline", rollcall.Staff}}}
	_, err := school.SetMeetingPoints(ctx, o, demotest.Admin, "points are set", school.MeetingPoints{Points: points, Was: []held.MeetingPoint{}})
	require.NoError(t, err)
	_, err = school.SetMeetingPoints(ctx, o, demotest.Admin, "by somebody else", school.MeetingPoints{Points: points[:1], Was: []held.MeetingPoint{}})
	assert.Equal(t, work.Conflict, demotest.Kind(t, err))
	_, err = school.SetMeetingPoints(ctx, o, demotest.Admin, "a form at two", school.MeetingPoints{Points: []held.MeetingPoint{points[0], {Name: "Yard", Who: []string{"8 reef"}}}, Was: points})
	assert.ErrorContains(t, err, "8 reef goes to Pier and to Yard")
	where := map[string]map[string]bool{}
	for _, p := range list(t, o, demotest.Officer).People {
		if where[p.Point] == nil {
			where[p.Point] = map[string]bool{}
		}
		where[p.Point][p.Form] = true
	}
	assert.Equal(t, map[string]bool{"8 Halyard": true, "8 Reef": true}, where["Pier"])
	assert.Equal(t, map[string]bool{"9 Bowline": true, "staff": true}, where["Field"])
	assert.Equal(t, map[string]bool{"7 Reef": true}, where["7 Reef"], "a form at no point is one of its own")
	f, err := rollcallpage.Paper(ctx, o)
	require.NoError(t, err)
	assert.True(t, strings.HasPrefix(string(f.Content), "%PDF"))
}

// What came of it is kept, side by side with the others of the year, and as a file.
func TestTheRecordOfARollCall(t *testing.T) {
	t.Parallel()
	o, clock := demotest.CopyWithClock(t)
	ctx := t.Context()
	id := begin(t, o, "token of a record")
	people := list(t, o, demotest.Officer).People
	for minute := range 6 {
		clock.Set(day.At(demo.Today, day.MustMinute("09:12").Add(day.Minutes(minute))))
		var met []rollcall.NewTick
		for n, p := range people[:len(people)-1] {
			if n*6/len(people) == minute {
				met = append(met, rollcall.NewTick{Token: fmt.Sprint("record ", n, " "), Kind: p.Kind, Person: p.Person, Here: true, How: "list", Place: "pier"})
			}
		}
		send(t, o, demotest.Rask, id, fmt.Sprint("record ", minute), met...)
	}
	_, err := rollcall.End(ctx, o, demotest.Officer, "the end of it", id, rollcall.RollCallEnding{Note: "one was not found"})
	require.NoError(t, err)
	all, err := rollcallpage.ShowAll(ctx, o)
	require.NoError(t, err)
	require.Len(t, all.Calls, 1)
	c := all.Calls[0]
	assert.Equal(t, []any{len(people), 1, "2 min", "5 min", ""}, []any{c.People, c.Open, c.Half, c.Most, c.Whole})
	record, err := rollcallpage.ShowRecord(ctx, o, id)
	require.NoError(t, err)
	assert.Nil(t, record.Rows[0].Tick, "who was not found stands first")
	for _, format := range []string{"csv", "xlsx"} {
		f, err := rollcallpage.RecordFile(ctx, o, id, format)
		require.NoError(t, err)
		assert.NotEmpty(t, f.Content)
	}
	f, err := rollcallpage.RecordFile(ctx, o, id, "csv")
	require.NoError(t, err)
	assert.Equal(t, len(people)-1, strings.Count(string(f.Content), "T. Rask,yes,pier"))
	_, err = rollcallpage.ShowRecord(ctx, o, id+1)
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
}

// A visitor signs in at a station and leaves with badge and name; a badge alone opens nothing.
func TestAVisitorAtAStation(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	ctx := t.Context()
	made, err := station.Add(ctx, o, demotest.Admin, station.NewStation{Name: "Gate"})
	require.NoError(t, err)
	station := made.ID
	at := func(key string, a rollcall.AtStation) (rollcall.VisitorReceipt, error) {
		return rollcall.MoveAtStation(ctx, o, station, key, a)
	}
	in, err := at("a visitor comes", rollcall.AtStation{Visit: rollcall.Visit{Name: "Hedda Lorne", Firm: "Harbour Works", Badge: "77"}})
	require.NoError(t, err)
	assert.Equal(t, "1", in.Badge, "the next that is free, not one that was typed")
	_, err = at("another's name", rollcall.AtStation{Visit: rollcall.Visit{Name: "Olin", Badge: "1"}, Leave: true})
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
	_, err = at("staff at a station", rollcall.AtStation{Visit: rollcall.Visit{Staff: 3}})
	assert.Equal(t, work.Refused, demotest.Kind(t, err))
	out, err := at("the visitor leaves", rollcall.AtStation{Visit: rollcall.Visit{Name: "lorne", Badge: " 1 "}, Leave: true})
	require.NoError(t, err)
	assert.Equal(t, "Hedda Lorne", out.Name)
	v, err := rollcallpage.ShowVisits(ctx, o)
	require.NoError(t, err)
	assert.Empty(t, v.In)
	assert.Len(t, v.Left, 1)
}

// A drill in the midst of a lesson makes nobody late for it: a register that is taken after it says
// nothing of who was met, and so does the list of lates.
func TestADrillMakesNobodyLate(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	open := func() registerpage.RegisterView {
		all, err := registerpage.ShowAll(t.Context(), o, demotest.Officer, "")
		require.NoError(t, err)
		for _, r := range all.Registers {
			if r.Slot == "1" && r.State == "open" {
				v, err := registerpage.Show(t.Context(), o, demotest.Officer, r.Class, r.Slot, "")
				require.NoError(t, err)
				return v
			}
		}
		t.Fatal("no register of lesson 1 is open")
		return registerpage.RegisterView{}
	}
	before := open()
	id := begin(t, o, "a drill in lesson 1")
	for n, row := range before.Rows {
		send(t, o, demotest.Rask, id, fmt.Sprint("of the class ", n), tick(row.Student.ID, fmt.Sprint("of the class ", n)))
	}
	for i, row := range open().Rows {
		assert.Equal(t, before.Rows[i].Known, row.Known, row.Student.Name)
	}
}
