package e2e

import (
	"os/exec"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// jump moves the demonstration's clock from the person's menu.
func (w *window) jump(to string) {
	w.t.Helper()
	w.click(".me > button", "")
	w.click(".me .jumps button", "^"+to+"$")
	w.until(func() (bool, string) {
		r := w.MustEval(`() => fetch("/api/rail").then((r) => r.json()).then((r) => r.now)`).Str()
		return strings.HasPrefix(r[11:], to) || r[11:] > to, "the clock to show " + to
	})
	w.until(func() (bool, string) {
		return !strings.Contains(w.text(), "The day is being played"), "the day to be played"
	})
}

// TestTheMorning goes from 08:50 to safe arrival closed, by keyboard but for the
// clock, with the equation checked after every step and a power cut at the end.
func TestTheMorning(t *testing.T) {
	t.Parallel()
	s := startDemo(t, "08:50")
	officer := s.open("tolvan")
	officer.see("Call home")
	early := officer.count()
	assert.Positive(t, early["not-yet-known"])

	teacher := s.open("osk")
	takeRegister(t, teacher)
	officer.count()

	// A home rings in before the register of 11 Cleat is taken.
	name := firstOf(teacher, s, "jahn", "11 Cleat")
	officer.quick(name.number+" ill until thu", "ill until Thu 12 March")
	officer.count()
	jahn := name.window
	jahn.goTo("/registers/179/AM")
	jahn.see("ill · home")
	assert.Equal(t, "1 explained", explained(jahn))

	desk := s.open("kersey")
	desk.goTo("/desk")
	desk.see("Today at the desk")
	desk.typed("idris quell")
	desk.see("8 Reef")
	desk.keys(input.Enter)
	desk.see("Idris is in")
	desk.KeyActions().Press(input.AltLeft).Type(input.Digit3).Release(input.AltLeft).MustDo()
	desk.keys(input.Enter)
	desk.see("Idris Quell 8 Reef · overslept")
	officer.count()

	officer.jump("09:12")
	officer.see("Oona Harle")
	parts := officer.count()
	assert.Equal(t, 612, parts["roll"])
	assert.Positive(t, parts["unaccounted"])

	// A reminder, traced in the outbox.
	officer.see("11 Cleat")
	officer.typed("r")
	officer.see("asked 09:1")

	// The search in the building: found.
	officer.typed("s")
	officer.keys(input.Enter)
	officer.see("R. Tolvan is looking since")
	officer.typed("f")
	officer.typed("boat shed")
	officer.keys(input.Enter)
	officer.gone("On site, not where they should be")
	officer.count()

	resolveMismatches(officer)
	officer.count()

	jahn.goTo("/registers/179/AM")
	jahn.see("still to mark")
	jahn.typed("a")
	jahn.control(input.Enter)
	jahn.see("A change is a correction with a reason")
	officer.see("Every register that is due is in.")
	officer.count()

	ringEveryHome(t, officer)
	parts = officer.count()
	assert.Zero(t, parts["unaccounted"])
	assert.Zero(t, parts["not-yet-known"])

	second := officer.second("/today")
	second.see("Close safe arrival")
	officer.typed("c")
	officer.see("Lower School: Safe arrival was closed at")
	second.see("by R. Tolvan.") // without reloading
	officer.until(func() (bool, string) {
		officer.typed("c")
		return strings.Contains(officer.text(), "Upper School: Safe arrival was closed at"), "the other section to be closed"
	})

	// A power cut: nothing acknowledged is lost.
	s.kill()
	s.up()
	officer.goTo("/today")
	officer.see("by R. Tolvan.")
	assert.Equal(t, parts["roll"], officer.count()["roll"])
	officer.goTo("/outbox")
	officer.see("The register of 11 Cleat, AM, is still out.")
	s.kill()
	out, err := exec.Command(binary, "check", "--data", s.data).CombinedOutput()
	require.NoError(t, err, string(out))
}

// takeRegister takes the register of 8 Halyard: three exceptions, a reload in the
// middle, everyone else in, sent.
func takeRegister(t *testing.T, w *window) {
	w.goTo("/registers/48/AM")
	w.see("25 still to mark")
	w.typed("pn")
	w.typed("l5")
	w.keys(input.Enter)
	w.see("5 min late")
	w.MustReload()
	w.see("5 min late")
	assert.Contains(t, tallyOf(w), "1 no reason", "unsent work survives a reload")
	w.control(input.Enter)
	w.see("a blank is never an absence")
	w.typed("a")
	w.until(func() (bool, string) { return strings.Contains(tallyOf(w), "0 to mark"), "every row to be marked" })
	w.control(input.Enter)
	w.see("A change is a correction with a reason")
	w.see("late, came 08:50")
}

func tallyOf(w *window) string {
	return strings.Join(strings.Fields(w.MustElement("[data-testid=tally]").MustText()), " ")
}

func explained(w *window) string {
	text := tallyOf(w)
	i := strings.Index(text, " explained")
	return text[strings.LastIndex(text[:i], " ")+1:i] + " explained"
}

type named struct {
	number string
	window *window
}

// firstOf finds the number of a student on a teacher's register whom nobody has
// spoken for.
func firstOf(_ *window, s *school, username, class string) named {
	w := s.open(username)
	w.goTo("/registers/179/AM")
	w.see(class)
	number := w.MustEval(`() => fetch("/api/registers/179/AM").then((r) => r.json()).then((v) => v.rows.find((r) => !r.known).student.number)`).Str()
	w.goTo("/registers")
	return named{number, w}
}

// resolveMismatches focuses the first action of each contradiction and presses
// Enter, until none is left.
func resolveMismatches(w *window) {
	w.t.Helper()
	for range 40 {
		if strings.Contains(w.text(), "Registers, desk and notices agree.") {
			return
		}
		focused := w.MustEval(`() => {
			const button = [...document.querySelectorAll("section button")].find((b) => /^(Withdraw notice|In since .*|Correct to P, .*)$/.test(b.textContent.trim()));
			button?.focus();
			return Boolean(button);
		}`).Bool()
		if focused {
			w.keys(input.Enter)
		}
		time.Sleep(400 * time.Millisecond)
		w.count()
	}
	w.t.Fatalf("contradictions do not end; the page says:\n%s", w.text())
}

// ringEveryHome works down the call list by keys: the first home does not answer,
// then each says ill. Searches that come up on the way are ended.
func ringEveryHome(t *testing.T, w *window) {
	w.typed("3")
	w.see("no answer")
	for range 120 {
		text := w.text()
		if strings.Contains(text, "Nobody is unaccounted for at") {
			return
		}
		if strings.Contains(text, "On site, not where they should be") {
			w.typed("f")
		} else {
			w.saysIll("M")
			w.keys(input.Enter)
		}
		w.until(func() (bool, string) { return !strings.Contains(w.text(), "Save: code M"), "the call to be stored" })
		time.Sleep(150 * time.Millisecond)
		w.count()
	}
	t.Fatal("the call list does not end")
}

// saysIll presses spoke and ill until the page is about to store it: the list may
// just be changing under the keys, and both do the same however often they are
// pressed.
func (w *window) saysIll(code string) {
	w.t.Helper()
	w.until(func() (bool, string) {
		text := w.text()
		switch {
		case strings.Contains(text, "Save: code "+code):
			return true, ""
		case strings.Contains(text, "Save the call"):
			w.typed("i")
		default:
			w.typed("1")
		}
		time.Sleep(100 * time.Millisecond)
		return false, "the call to be ready to store"
	})
}
