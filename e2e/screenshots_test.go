//go:build screenshots

package e2e

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/require"
)

// folder is where the pictures of the main views stand.
const folder = "../docs/screenshots"

// TestScreenshots renews the pictures of the main views.
func TestScreenshots(t *testing.T) {
	s := start(t, "demo", "--at", "2026-03-10T09:12") // with the year before, which pages compare with
	w := s.open("tolvan")
	for _, view := range []struct{ name, path, wait string }{
		{"today", "/today", "Call home"},
		{"registers", "/registers", "8 Halyard"},
		{"absence", "/absence", "Why"},
		{"grid", "/absence/grid?group=class:48", "Bram Brightwater"},
		{"concerns", "/concerns", "undecided"},
		{"follow-up", "/follow-up", "in no session"},
		{"conduct", "/conduct", "Supervised ferry queue"},
		{"courses", "/courses?group=year:9", "One course away"},
		{"student", "/absence?student=232", "What happened"},
	} {
		w.goTo(view.path)
		w.see(view.wait)
		w.shot(folder + "/" + view.name + ".png")
	}
	w.goTo("/absence/steps")
	w.see("steps due")
	w.keys(input.ArrowDown, input.ArrowDown, input.ArrowDown)
	w.see("The figures hold now")
	w.shot(folder + "/steps.png")
	w.goTo("/desk")
	w.field("Name, number or card").MustInput("garrow")
	w.see("Pip Garrow")
	w.keys('\r')
	w.see("because")
	w.shot(folder + "/desk.png")

	rollCall(t, s)

	admin := s.open("admin")
	admin.goTo("/school/calendar")
	admin.see("Terms and grading periods")
	admin.shot(folder + "/school.png")
	teacher := s.open("osk")
	teacher.goTo("/registers/48/AM")
	teacher.see("still to mark")
	teacher.typed("ppppnp")
	teacher.shot(folder + "/register.png")

	jahn := s.open("jahn")
	jahn.goTo("/registers/179/AM?by=seat")
	jahn.see("A tap marks")
	for _, mark := range "ppnlpppm" {
		jahn.typed(string(mark))
		if mark == 'l' {
			jahn.typed("7")
			jahn.keys(input.Escape)
		}
		jahn.keys(input.ArrowRight)
	}
	jahn.click(`[data-place="3"] .seat`, "")
	jahn.shot(folder + "/seats.png")
	for _, view := range []struct{ name, path, wait string }{{"papers", "/papers/list/new?from=emergency", "Aksel"}, {"record", "/protocol", "What was done"}} {
		w.goTo(view.path)
		w.see(view.wait)
		w.shot(folder + "/" + view.name + ".png")
	}
	admin.goTo("/school/devices")
	admin.field("Where the station stands").MustInput("Pier")
	admin.keys(input.Enter)
	device := s.bare(t, "/station", 1024, 768)
	device.see("not set up as a station")
	device.MustElement("input").MustInput(admin.MustElement("[data-testid=station-code]").MustText())
	device.keys(input.Enter)
	device.see("Hold your card")
	device.typed(w.MustEval(`() => fetch("/api/find?q=juno+sandal").then((r) => r.json()).then((l) => l[0].student.number)`).Str())
	device.keys(input.Enter)
	device.see("You are late today")
	device.shot(folder + "/station.png")

	afternoon := startDemo(t, "13:46")
	class := afternoon.open("osk")
	class.goTo("/registers/48/PM")
	class.field("A question for the class").MustInput("One word for the morning?")
	class.click("button", "Let the class check in")
	class.see("It changes every 20 seconds")
	phone := afternoon.phone(t, afternoon.url+"/check-in?c="+strings.ReplaceAll(class.MustElement("[data-testid=code]").MustText(), " ", ""))
	phone.see("Your student number")
	number := class.MustEval(`() => fetch("/api/registers/48/PM").then((r) => r.json()).then((v) => v.checkIn.notYet[4].number)`).Str()
	phone.MustElement("#number").MustInput(number)
	phone.MustElement("#answer").MustInput("windy")
	phone.click("button", "I am here")
	phone.see("your teacher confirms it")
	class.see("1 of 26 are in")
	class.shot(folder + "/check-in.png")
	class.keys(input.Escape)
	class.click("button", "Confirm this one")
	class.see("confirmed")
}

// shot writes a picture.
func (w *window) shot(path string) {
	w.t.Helper()
	w.MustWaitDOMStable()
	data, err := w.Screenshot(false, nil)
	require.NoError(w.t, err)
	require.NoError(w.t, os.MkdirAll(filepath.Dir(path), 0o755))
	require.NoError(w.t, os.WriteFile(path, data, 0o644))
}

// rollCall shows a drill on a phone when most are ticked, and ends it.
func rollCall(t *testing.T, s *school) {
	phone := s.openSized("ase", 390, 844)
	phone.goTo("/roll-call") // which would open by itself in the midst of what follows
	phone.see("would be on the list")
	phone.MustEval(`async () => {
		const post = (path, body) => fetch(path, { method: "POST", headers: { "Content-Type": "application/json", "Idempotency-Key": "picture " + path + Math.random() }, body: JSON.stringify(body) }).then((r) => r.json());
		await post("/api/visits", { name: "H. Lorne", firm: "Harbour Works", host: "M. Jahn" });
		const { id } = await post("/api/roll-calls", { token: "a drill for a picture", kind: "drill" });
		const { people } = await fetch("/api/roll-call").then((r) => r.json());
		const met = people.filter((p) => !["missing", "unknown"].includes(p.why) && p.kind !== "visitor" && p.person % 97 !== 5);
		for (let n = 0; n < met.length; n += 400)
			await post("/api/roll-calls/" + id + "/ticks", { ticks: met.slice(n, n + 400).map((p) => ({ token: "picture " + p.kind + p.person, kind: p.kind, person: p.person, here: true, how: "list", ago: 0 })) });
	}`)
	phone.goTo("/roll-call")
	phone.see("not ticked of")
	phone.stillOpen(open(phone))
	phone.shot(folder + "/roll-call.png")
	phone.MustEval(`() => fetch("/api/roll-call/running").then((r) => r.json()).then((r) => fetch("/api/roll-calls/" + r.id + "/end", { method: "POST", headers: { "Content-Type": "application/json", "Idempotency-Key": "the end of a picture" }, body: '{"note":"the drill was for a picture"}' }))`)
}
