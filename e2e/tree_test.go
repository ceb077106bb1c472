package e2e

import (
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// node is a part of a page as assistive technology gets it: what it is, what it is called.
type node struct {
	role, name string
	id         proto.DOMBackendNodeID
}

// tree returns the page's accessible tree, what is ignored left out.
func (w *window) tree() []node {
	w.t.Helper()
	got, err := proto.AccessibilityGetFullAXTree{}.Call(w.Page)
	require.NoError(w.t, err)
	var out []node
	for _, n := range got.Nodes {
		if n.Ignored || n.Role == nil || n.Name == nil {
			continue
		}
		out = append(out, node{n.Role.Value.Str(), strings.Join(strings.Fields(n.Name.Value.Str()), " "), n.BackendDOMNodeID})
	}
	return out
}

// finds returns the first part of a role whose name fits; nil for none.
func (w *window) finds(role, name string) *node {
	w.t.Helper()
	fits := regexp.MustCompile(name)
	for _, n := range w.tree() {
		if n.role == role && fits.MatchString(n.name) {
			return &n
		}
	}
	return nil
}

// on waits for a part of a role whose name fits, and returns it.
func (w *window) on(role, name string) *rod.Element {
	w.t.Helper()
	var found *node
	w.until(func() (bool, string) {
		found = w.finds(role, name)
		return found != nil, "a " + role + " named " + name
	})
	e, err := w.ElementFromNode(&proto.DOMNode{BackendNodeID: found.id})
	require.NoError(w.t, err)
	return e
}

// press goes to a part and presses Enter, as whoever hears the page does.
func (w *window) press(role, name string) {
	w.t.Helper()
	w.on(role, name).MustEval(`function () { this.focus() }`)
	w.keys(input.Enter)
}

// says waits until a text that is read out fits.
func (w *window) says(words string) {
	w.t.Helper()
	fits := regexp.MustCompile(words)
	w.until(func() (bool, string) {
		heard := w.MustEval(`() => [...document.querySelectorAll("[role=status], [role=alert], [aria-live=polite]")].map((e) => e.textContent).join("\n")`).Str()
		return fits.MatchString(heard), "to be told " + words
	})
}

// The morning as whoever can't see the screen runs it: by what parts are, what they are called and
// what is read out, and by nothing else.
func TestTheMorningByNamesAndRoles(t *testing.T) {
	t.Parallel()
	s := startDemo(t, "08:50")
	teacher := s.open("osk")
	teacher.press("link", "^Registers$")
	teacher.press("link", "^8 Halyard$")
	teacher.says(`(?m)^1 of \d+, .+, not marked`)
	teacher.on("grid", "^Register of 8 Halyard$").MustEval(`function () { this.focus() }`)
	teacher.typed("p")
	teacher.says(`3 of \d+, .+, not marked`) // the second is ill already
	teacher.typed("n")
	teacher.says(`4 of \d+, .+, not marked`)
	teacher.keys(input.ArrowUp)
	teacher.says(`3 of \d+, .+, no reason`)
	teacher.press("button", "^Everyone else is in")
	teacher.press("button", "^Send")
	teacher.on("button", "^Correct ")

	officer := s.open("tolvan")
	officer.clockTo("09:41")
	officer.on("heading", "^Call home")
	action := regexp.MustCompile(`^(Withdraw notice|In since .*|Correct to .*|Settle|Found F?|Spoke 1?|ill i|Save: code M Enter)$`)
	for range 400 {
		parts := officer.tree()
		var next *node
		// What does not add up first, then the save that is ready, the reason, the call.
		for _, want := range []string{"Withdraw notice", "In since", "Correct to", "Save: code M", "ill", "Found", "Spoke"} {
			for i, n := range parts {
				if next == nil && n.role == "button" && action.MatchString(n.name) && strings.HasPrefix(n.name, want) {
					next = &parts[i]
				}
			}
		}
		if next == nil {
			break
		}
		e, err := officer.ElementFromNode(&proto.DOMNode{BackendNodeID: next.id})
		if err != nil {
			continue // the page has gone on
		}
		if _, err := e.Eval(`function () { this.focus() }`); err != nil {
			continue
		}
		officer.keys(input.Enter)
		if strings.HasPrefix(next.name, "Found") {
			officer.typed("boat shed")
			officer.keys(input.Enter)
		}
	}
	officer.says("^0 students unaccounted for|\\n0 students unaccounted for")
	officer.press("button", "^Close safe arrival")
	officer.says("Lower School: Safe arrival was closed at")
	officer.press("button", "^Close safe arrival")
	officer.says("Upper School: Safe arrival was closed at")
	assert.Zero(t, officer.count()["unaccounted"])
}

// stop is where the focus is: its tag and name, whether it can be seen, and whether a ring is around it.
type stop struct {
	what          string
	named, in, on bool
}

func (w *window) focus() stop {
	got := w.MustEval(`() => {
		const e = document.activeElement;
		if (!e || e === document.body) return ["body", false, false, false];
		const name = e.getAttribute("aria-label") || e.getAttribute("title") || e.labels?.[0]?.textContent || e.textContent || e.placeholder || (e.getAttribute("aria-labelledby") ? document.getElementById(e.getAttribute("aria-labelledby"))?.textContent : "");
		const box = (e.closest("label") ?? e).getBoundingClientRect();
		let ring = false;
		for (let o = e, n = 0; o && n < 5; o = o.parentElement, n++) {
			const c = getComputedStyle(o);
			ring ||= c.outlineStyle !== "none" && parseFloat(c.outlineWidth) >= 2;
		}
		return [e.tagName + " " + (name || "").trim().slice(0, 40), Boolean((name || "").trim()), box.bottom > 0 && box.top < innerHeight && box.width > 0, ring];
	}`)
	return stop{got.Get("0").Str(), got.Get("1").Bool(), got.Get("2").Bool(), got.Get("3").Bool()}
}

// walk goes through a page by Tab and holds every stop: it is named, in sight and ringed, and the
// next one is another.
func walk(t *testing.T, s *school) {
	const most = 45 // stops; lists go on alike
	w := s.open("admin")
	for _, page := range []struct{ path, wait string }{
		{"/today", "Call home"}, {"/registers", "8 Halyard"}, {"/registers/48/AM", "still to mark"}, {"/desk", "Today at the desk"}, {"/absence", "Why "}, {"/concerns", "undecided"}, {"/papers/lates", "By weekday"},
		{"/school/people", "students on the roll"}, {"/school/codes", "Registers and doors"}, {"/school/calendar", "Terms and grading periods"}, {"/trips/1", "Who is with the others"}, {"/controls", "FileField"}, {"/roll-call", "would be on the list"},
	} {
		w.goTo(page.path)
		w.see(page.wait)
		before := ""
		for n := range most {
			w.keys(input.Tab)
			at := w.focus()
			for range 10 { // the ring comes in
				if at.on || at.what == "body" {
					break
				}
				time.Sleep(50 * time.Millisecond)
				at = w.focus()
			}
			if at.what == "body" {
				assert.Greater(t, n, 2, "%s has hardly a stop", page.path)
				break // the browser's own
			}
			assert.Truef(t, at.named && at.in && at.on, "%s, stop %d: %s, named %v, in sight %v, ringed %v", page.path, n+1, at.what, at.named, at.in, at.on)
			here := w.MustEval(`() => { const e = document.activeElement; e.dataset.stop ??= String(Math.random()); return e.dataset.stop; }`).Str()
			assert.NotEqual(t, before, here, "%s: the focus is caught on %s", page.path, at.what)
			before = here
		}
	}

	// What was opened gives the focus back to where it came from.
	w.goTo("/concerns")
	w.see("Oona Harle")
	name := w.MustElementR("button.link", "Oona Harle")
	name.MustFocus()
	w.keys(input.Enter)
	w.see("What happened")
	w.keys(input.Escape)
	w.until(func() (bool, string) {
		return w.focus().what == "BUTTON Oona Harle", "the focus to be back on the name"
	})
	w.goTo("/registers")
	w.see("Times of the day")
	w.MustElementR("button", "Times of the day").MustFocus()
	w.keys(input.Enter)
	w.see("They hold on this date alone")
	w.keys(input.Escape)
	w.until(func() (bool, string) {
		return w.focus().what == "BUTTON Times of the day", "the focus to be back on its button"
	})
}
