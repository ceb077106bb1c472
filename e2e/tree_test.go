package e2e

import (
	"regexp"
	"strings"
	"testing"

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
	s := startDemo(t, "08:50")
	teacher := s.open("osk")
	teacher.press("link", "^Registers$")
	teacher.press("link", "^8 Halyard$")
	teacher.says(`^1 of \d+, .+, not marked`)
	teacher.on("grid", "^Register of 8 Halyard$").MustEval(`function () { this.focus() }`)
	teacher.typed("p")
	teacher.says(`2 of \d+`)
	teacher.typed("n")
	teacher.says(`3 of \d+`)
	teacher.keys(input.ArrowUp)
	teacher.says(`2 of \d+, .+, no reason`)
	teacher.press("button", "^Everyone else is in")
	teacher.press("button", "^Send")
	teacher.on("button", "^Correct ")

	officer := s.open("tolvan")
	officer.clockTo("09:41")
	officer.on("heading", "^Call home")
	jahn := s.open("jahn")
	jahn.press("link", "^11 Cleat$")
	jahn.press("button", "^Everyone else is in")
	jahn.press("button", "^Send")
	jahn.on("button", "^Correct ")
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
	t.Log(officer.text())
	assert.Zero(t, officer.count()["unaccounted"])
}
