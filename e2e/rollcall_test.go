package e2e

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
)

// open is how many of a roll call a phone shows as not ticked.
func open(w *window) int {
	w.t.Helper()
	found := regexp.MustCompile(`(\d+)\s+not ticked of`).FindStringSubmatch(w.text())
	if found == nil {
		return -1
	}
	n, err := strconv.Atoi(found[1])
	assert.NoError(w.t, err)
	return n
}

func (w *window) stillOpen(n int) {
	w.t.Helper()
	w.until(func() (bool, string) { return open(w) == n, fmt.Sprintf("%d to be not ticked", n) })
}

// here touches the first "here" of the list.
func (w *window) here() {
	w.t.Helper()
	before := open(w)
	w.click(".person .here", "")
	w.stillOpen(before - 1)
}

// kept is what of roll calls a browser keeps.
func kept(w *window) int {
	return w.MustEval(`() => Object.keys(localStorage).filter((n) => n.startsWith("meldung roll|")).length`).Int()
}

// A drill on two phones, one of them without a line for a while and closed and opened again
// meanwhile; then a real one that is begun without a line.
func TestARollCallOnPhones(t *testing.T) {
	t.Parallel()
	s := startDemo(t, "10:42")
	desk := s.open("kersey")
	desk.goTo("/desk")
	desk.click("button", "Sign a visitor in")
	desk.field("Visitor: name").MustInput("H. Lorne")
	desk.field("Visitor: firm").MustInput("Harbour Works")
	desk.keys(input.Enter)
	desk.see("H. Lorne signed in at 10:4")

	overB, lineB := throughLine(t, s)
	b := overB.openSized("rask", 390, 844)
	overA, lineA := throughLine(t, s)
	a := overA.openSized("tolvan", 390, 844)
	a.goTo("/roll-call")
	a.see("people would be on the list at 10:4")
	a.click("button", "Begin a drill")
	a.see("1 visitor")
	desk.see("Roll call, a drill, since 10:4")
	width := a.MustEval(`() => document.documentElement.scrollWidth`).Int()
	assert.LessOrEqual(t, width, 390, "nothing is cut off on a phone")

	b.see("drill · began 10:4") // by itself, on a phone
	all := open(a)
	b.stillOpen(all)
	b.MustEval(`() => navigator.serviceWorker.ready.then(() => caches.keys())`)
	b.here()
	a.stillOpen(all - 1)

	// One without a line goes on, closed and opened again too.
	lineB.set(true)
	b.here()
	b.here()
	b.see("No line since")
	b.see("Your 2 ticks are kept here")
	b.MustReload()
	b.see("Your 2 ticks are kept here")
	b.here()
	field := b.field("Name, number or card")
	field.MustInput("h. lorne")
	b.see("Harbour Works · badge 1")
	b.keys(input.Enter)
	b.see("Your 4 ticks are kept here")
	a.here() // somebody whom the other has ticked too
	lineB.set(false)
	b.gone("No line since")
	b.until(func() (bool, string) {
		return open(a) == open(b) && open(b) >= 0 && open(b) <= all-5, "both phones to show the same"
	})

	// Everyone but one is met, and it ends with a word of that one.
	a.MustEval(`async () => {
		const list = await fetch("/api/roll-call").then((r) => r.json());
		const ticks = await fetch("/api/roll-calls/" + list.running.id + "/ticks").then((r) => r.json());
		const done = new Set(ticks.ticks.map((t) => t.kind + t.person));
		const left = list.people.filter((p) => !done.has(p.kind + p.person)).slice(1);
		for (let n = 0; n < left.length; n += 200)
			await fetch("/api/roll-calls/" + list.running.id + "/ticks", { method: "POST", headers: { "Content-Type": "application/json", "Idempotency-Key": "a batch of the test " + n },
				body: JSON.stringify({ ticks: left.slice(n, n + 200).map((p) => ({ token: "batch " + p.kind + p.person, kind: p.kind, person: p.person, here: true, how: "list", ago: 0 })) }) });
	}`)
	a.stillOpen(1)
	b.stillOpen(1)
	a.click("button.end", "End")
	a.see("1 person not found")
	a.MustElement("textarea").MustInput("at home, the father rang")
	a.click("button", "End with 1 not found")
	for _, phone := range []*window{a, b} {
		phone.see("The roll call")
		phone.see("no longer on this device")
		assert.Zero(t, kept(phone), "nothing is left on a phone")
	}
	desk.gone("Roll call, a drill")
	desk.goTo("/roll-calls")
	desk.see("at home, the father rang")
	desk.click("td a", "Tue 10 March")
	desk.see("not found")
	desk.see("T. Rask")

	// The building is left while there is no line: the list that was last loaded serves.
	a.goTo("/roll-call")
	a.see("people would be on the list")
	lineA.set(true)
	a.click("button", "This is real")
	a.see("No line since")
	a.here()
	a.see("Your 1 tick is kept here")
	assert.NotContains(t, desk.text(), "this is real")
	lineA.set(false)
	desk.see("Roll call, this is real, since 10:4")
	a.gone("No line since")
	assert.Equal(t, 1, a.MustEval(`async () => {
		const { running } = await fetch("/api/roll-call").then((r) => r.json());
		const { ticks } = await fetch("/api/roll-calls/" + running.id + "/ticks").then((r) => r.json());
		return ticks.length;
	}`).Int())
	began := time.Now()
	assert.True(t, strings.HasPrefix(desk.MustEval(`() => fetch("/api/roll-call/paper").then((r) => r.text())`).Str(), "%PDF"))
	assert.Less(t, time.Since(began), 5*time.Second)
}
