package demotest

import (
	"testing"

	"github.com/stretchr/testify/require"

	"meldung/core/ids"
	"meldung/pages/deskpage"
	"meldung/pages/frame"
	"meldung/pages/registerpage"
	"meldung/pages/todaypage"
	"meldung/work"
	"meldung/work/desk"
	"meldung/work/home"
	"meldung/work/morning"
	"meldung/work/registers"
)

// People of the invented school, with the accounts that it gives them.
var (
	Officer = work.Person{Account: 41, Name: "R. Tolvan", Role: work.Officer}
	Ase     = work.Person{Account: 42, Name: "D. Ase", Role: work.Pastoral}
	Maud    = work.Person{Account: 44, Name: "M. Kersey", Role: work.Desk}
	Admin   = work.Person{Account: 46, Name: "Administrator", Role: work.Administrator}
	Osk     = work.Person{Account: 1, Name: "P. Osk", Role: work.Teacher, Staff: 1}
	Rask    = work.Person{Account: 3, Name: "T. Rask", Role: work.Teacher, Staff: StaffRask}
)

// What tests know of the school's day.
const (
	Date      = "2026-03-10"
	Halyard   = ids.Class(48)  // 8 Halyard, whose tutor is P. Osk and whose register is out
	Cleat     = ids.Class(179) // 11 Cleat, of the upper school, whose register is out too
	StaffRask = 3

	// The sections.
	Lower = ids.Section(1)
	Upper = ids.Section(2)
)

// Today returns the Today page as at a moment.
func Today(t testing.TB, o *work.Office, at string) todaypage.TodayView {
	t.Helper()
	v, err := todaypage.Show(t.Context(), o, at)
	require.NoError(t, err)
	return v
}

// Home returns the household of a student on the call list.
func Home(t testing.TB, o *work.Office, name string) todaypage.HouseholdView {
	t.Helper()
	for _, h := range Today(t, o, "").Households {
		for _, s := range h.Students {
			if s.Student.Name == name {
				return h
			}
		}
	}
	t.Fatalf("%s is not on the call list", name)
	return todaypage.HouseholdView{}
}

// IDs returns the ids of students by name.
func IDs(t testing.TB, o *work.Office, names ...string) []ids.Student {
	t.Helper()
	var out []ids.Student
	for _, n := range names {
		out = append(out, Find(t, o, n).Student.ID)
	}
	return out
}

// Place returns the state of a student.
func Place(t testing.TB, o *work.Office, name string) string {
	t.Helper()
	return Find(t, o, name).Place.State
}

// Kind returns what sort of mistake an error is.
func Kind(t testing.TB, err error) work.ErrorKind {
	t.Helper()
	var mistake *work.Error
	require.ErrorAs(t, err, &mistake)
	return mistake.Kind
}

// Marks marks everyone of Halyard's register the same.
func Marks(t testing.TB, o *work.Office, code string) []registers.SentMark {
	t.Helper()
	v, err := registerpage.Show(t.Context(), o, Osk, Halyard, "AM", "")
	require.NoError(t, err)
	var out []registers.SentMark
	for _, r := range v.Rows {
		out = append(out, registers.SentMark{Student: r.Student.ID, Code: code})
	}
	return out
}

// Count returns the count by state, and checks that it adds up.
func Count(t testing.TB, o *work.Office) map[string]int {
	t.Helper()
	today, err := todaypage.Show(t.Context(), o, "")
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

// Find returns a student by name.
func Find(t testing.TB, o *work.Office, name string) frame.FoundStudent {
	t.Helper()
	list, err := frame.FindStudents(t.Context(), o, Officer, name, "", 3)
	require.NoError(t, err)
	require.NotEmpty(t, list, name)
	return list[0]
}

// Settle brings everybody unaccounted for to an end.
func Settle(t testing.TB, o *work.Office) {
	ctx := t.Context()
	for n := range 200 {
		today, err := todaypage.Show(ctx, o, "")
		require.NoError(t, err)
		key := "settle key " + string(rune('a'+n%26)) + string(rune('a'+n/26))
		switch {
		case len(today.OnSite) > 0:
			_, err = morning.EndSearch(ctx, o, Officer, key, morning.SearchEnd{Student: today.OnSite[0].Student.ID, Found: true, Place: "canteen"})
		case len(today.Households) > 0:
			h := today.Households[0]
			c := home.Call{Outcome: "spoke", Said: "ill"}
			for _, s := range h.Students {
				c.Students = append(c.Students, s.Student.ID)
			}
			if len(h.Contacts) > 0 {
				c.Contact = h.Contacts[0].ID
			}
			_, err = home.LogCall(ctx, o, Officer, key, c)
		default:
			return
		}
		require.NoError(t, err)
	}
	t.Fatal("the list does not end")
}

// SettleMorning sends the registers that are out and settles everyone.
func SettleMorning(t testing.TB, o *work.Office) {
	t.Helper()
	for _, r := range []ids.Class{Halyard, Cleat} {
		v, err := registerpage.Show(t.Context(), o, Officer, r, "AM", "")
		require.NoError(t, err)
		var all []registers.SentMark
		for _, row := range v.Rows {
			all = append(all, registers.SentMark{Student: row.Student.ID, Code: "P"})
		}
		_, err = registers.Send(t.Context(), o, Officer, "close register "+string(rune('a'+r%26)), registers.SentRegister{Date: Date, Class: r, Slot: "AM", Marks: all})
		require.NoError(t, err)
	}
	Settle(t, o)
}

// Resolve does what an action of a student's first contradiction says.
func Resolve(t testing.TB, o *work.Office, d todaypage.DiffersView, action string) {
	t.Helper()
	m, who := d.Says[0], d.Student.ID
	key := "resolve " + m.Kind + d.Student.Number + m.Slot + action
	var err error
	switch action {
	case "withdraw":
		_, err = home.WithdrawNotice(t.Context(), o, Officer, key, m.Notice)
	case "seen":
		_, err = desk.Move(t.Context(), o, Officer, key, desk.Movement{Students: []ids.Student{who}, Kind: "arrived", Time: m.At})
	case "stands":
		_, err = morning.Settle(t.Context(), o, Officer, key, morning.Settlement{Student: who, Slot: m.Slot, Kind: m.Kind})
	case "correct":
		_, err = registers.Correct(t.Context(), o, Officer, key, registers.Correction{Date: Date, Slot: m.Slot, Student: who, Code: m.Suggest, Time: m.To, Reason: m.Text})
	}
	require.NoError(t, err)
}

// Outbox returns the day's messages that a person sees.
func Outbox(t testing.TB, o *work.Office, p work.Person) []todaypage.MessageView {
	t.Helper()
	list, err := todaypage.ShowOutbox(t.Context(), o, p, "")
	require.NoError(t, err)
	return list
}

// Desk returns the desk's day as it is now.
func Desk(t testing.TB, o *work.Office) deskpage.DeskView {
	t.Helper()
	v, err := deskpage.Show(t.Context(), o, "")
	require.NoError(t, err)
	return v
}
