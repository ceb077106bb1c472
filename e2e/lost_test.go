package e2e

import (
	"fmt"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
)

// The morning in which a home believes its child at school, and the one after: nothing is lost,
// and what was done by mistake goes back by one key.
func TestNoChildIsLost(t *testing.T) {
	t.Parallel()
	s := startDemo(t, "09:12")
	w := s.open("tolvan")
	w.see("Call home")
	before := w.count()

	// Two of a home are believed at school. Nobody has found them by that.
	w.typed("5")
	w.see("to be worried for")
	w.typed("left at eight")
	w.keys(input.Enter)
	w.see("Worried for")
	w.see("Ida Merrow believes Ansa is at school: left at eight")
	assert.Equal(t, before, w.count())
	w.typed("z")
	w.gone("Worried for")
	w.see("taken back")
	w.typed("5")
	w.see("to be worried for")
	w.keys(input.Enter)
	w.see("2 worried for")

	// One is seen in the boat shed; of the other somebody knows where she is.
	w.typed("f")
	w.typed("boat shed")
	w.keys(input.Enter)
	w.until(func() (bool, string) { return w.count()["unaccounted"] == before["unaccounted"]-1, "one to be found" })
	w.MustElementR(".worry button", "Settle").MustFocus()
	w.keys(input.Enter)
	w.see("unexcused")
	w.typed("with her aunt, who rang back")
	w.keys(input.Enter)
	w.gone("Worried for")
	w.until(func() (bool, string) {
		return w.count()["unaccounted"] == before["unaccounted"]-2, "both to be accounted for"
	})

	// A text to the list is looked at, sent, and taken back before it leaves.
	w.typed("x")
	w.see("No number for texts: Della Fairhurst")
	w.see("and we do not know why")
	w.keys(input.Enter)
	w.see("They leave in ten seconds")
	w.typed("z")
	w.gone("They leave in ten seconds")
	w.goTo("/outbox")
	w.see("taken back")

	// A part of the count says who is in it, and why.
	w.goTo("/today?part=not-yet-known")
	w.see("8 Halyard, AM registration is not in")
	w.keys(input.Escape)
	w.gone("Not yet known at")

	// The next morning begins with what this one left open.
	w.MustEval(`() => fetch("/api/demo/clock", {method: "POST", headers: {"Content-Type": "application/json"}, body: '{"to":"next"}'}).then((r) => r.status)`)
	w.goTo("/today")
	w.see("From yesterday")
	w.see("No register is due yet")
	w.MustElementR(".left-open button", "Settle").MustFocus()
	w.keys(input.Enter)
	w.typed("at home, the tutor rang")
	w.keys(input.Enter)
	w.see("at home, the tutor rang")
	left := w.MustEval(`() => fetch("/api/today").then((r) => r.json()).then((t) => t.unsettled[0].students.length)`).Int()
	assert.Positive(t, left)

	// Yesterday's list is rung today.
	w.click(`button[aria-label="School day before"]`, "")
	w.see("as it is known now")
	w.see("Call home")
	w.saysIll("M")
	w.keys(input.Enter)
	w.until(func() (bool, string) {
		now := w.MustEval(`() => fetch("/api/today").then((r) => r.json()).then((t) => t.unsettled[0].students.length)`).Int()
		return now < left, "the day to have less left open"
	})
}

// A Friday that nobody closed stands at the top of Monday, until each child and each register of
// it is settled.
func TestAfterAWeekend(t *testing.T) {
	t.Parallel()
	s := start(t, "demo", "--years", "1", "--at", "2026-03-13T09:20")
	w := s.open("tolvan")
	w.see("Call home")
	friday := w.count()["unaccounted"]
	assert.Positive(t, friday)
	w.MustEval(`() => fetch("/api/demo/clock", {method: "POST", headers: {"Content-Type": "application/json"}, body: '{"to":"next"}'}).then((r) => r.status)`)
	w.goTo("/today")
	w.see("Mon 16 March")
	w.see("From Fri 13 March")
	left := func() int { return len(w.MustElements("[data-unsettled]")) }
	assert.Positive(t, left())
	for students := left(); students > 0; students-- {
		w.MustElementR(".left-open button", "Settle").MustFocus()
		w.keys(input.Enter)
		w.typed("at home, a parent rang")
		w.keys(input.Enter)
		w.until(func() (bool, string) { return left() == students-1, "one student of Friday fewer" })
	}
	w.click(`button[aria-label="School day before"]`, "")
	w.see("as it is known now")
	assert.Zero(t, w.count()["unaccounted"])
}

// A trip that is late back is asked for as a whole: its leader first, and no home for it.
func TestATripLateBack(t *testing.T) {
	t.Parallel()
	s := startDemo(t, "09:12")
	w := s.open("tolvan")
	w.goTo("/registers")
	w.click("a", "Trips and visits")
	w.see("harbour survey")
	w.click("button", "Plan a trip")
	w.field("What").MustInput("light house")
	w.field("From").MustInput("913")
	w.field("To").MustInput("920")
	w.field("or somebody else").MustInput("S. Aune")
	w.field("Phone of the leader").MustInput("01632 960 417")
	for _, name := range []string{"tora ulv", "maren hol"} {
		w.field("Add a student").MustInput(name)
		w.click(".hits button", "")
	}
	w.see("2 on it")
	w.click("button", "Save")
	w.see("Who is with the others")
	w.clockTo("09:41")
	w.see("Should have been back 09:20")
	w.goTo("/today")
	w.see("S. Aune 01632 960 417")
	w.see("should have been back 09:20")
	assert.NotContains(t, w.MustElement(".columns .stack:last-child").MustText(), "Maren Holt", "no home is rung for it")
	w.count()
	w.click("button", "All are back")
	w.gone("should have been back 09:20")
	w.see("light house is back")

	// Another's leader is on a boat: the page opens again without a line, and what is said joins up.
	trip := w.MustEval(`() => Promise.all(["/api/trips", "/api/find?q=maren%20hol"].map((p) => fetch(p).then((r) => r.json()))).then(([t, [maren]]) =>
		fetch("/api/trips", { method: "POST", headers: { "Content-Type": "application/json", "Idempotency-Key": "a trip by boat" }, body: JSON.stringify({ title: "seal count", from: "942", to: "1100", leaderId: t.staff.find((s) => s.name.startsWith("Rask")).id, students: [maren.student.id] }) })).then((r) => r.json()).then((r) => r.ids[0])`).Int()
	over, cut := throughLine(t, s)
	boat := over.openSized("rask", 390, 844)
	boat.goTo(fmt.Sprintf("/trips/%d", trip))
	boat.see("seal count")
	boat.MustEval(`() => navigator.serviceWorker.ready.then(() => caches.keys())`)
	cut.set(true)
	boat.MustReload()
	boat.see("No line to the server")
	boat.click(`button[aria-label="Maren Holt is there"]`, "")
	boat.see("there · kept here")
	cut.set(false)
	boat.see("T. Rask") // said, and by whom
	boat.gone("No line to the server")
	boat.gone("kept here")
}
