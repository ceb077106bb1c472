package e2e

import (
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
)

// A teacher notes an incident with three people in three parts by keys, and another on a phone; the office
// completes it; the pier is found from the grid, and before and after its queue; a teacher does not open
// what is not theirs.
func TestConduct(t *testing.T) {
	t.Parallel()
	s := startDemo(t, "09:12")
	w := s.open("osk")
	w.goTo("/registers")
	w.see("8 Halyard")
	who := func(w *window, typed, name string) {
		w.typed(typed)
		w.see(name)
		w.until(func() (bool, string) {
			return strings.Contains(w.MustEval(`() => document.querySelector(".find-student [aria-selected=true]")?.innerText ?? ""`).Str(), name), name + " to be offered"
		})
		w.keys(input.Enter)
	}
	w.typed("!")
	w.see("Note an incident")
	who(w, "finn c", "Finn Calloway")
	who(w, "h juno f", "Juno Fenn")
	who(w, "s mika", "Mika Ulvar")
	w.keys(input.Tab)
	w.typed("ro")
	w.see("rough play")
	w.keys(input.Enter)
	w.KeyActions().Press(input.ControlLeft).Type(input.Enter).MustDo()
	w.see("Rough play noted; still open: where")

	phone := s.openSized("rask", 390, 844)
	phone.goTo("/registers")
	phone.click("button", "^Incident$")
	phone.see("Note an incident")
	who(phone, "odd p", "Odd Pell")
	phone.choose("Kind", "damage")
	phone.choose("Place", "boat shed")
	phone.click("button", "^Save")
	phone.see("Damage noted")

	office := s.open("ase")
	office.goTo("/conduct")
	office.see("Where and when")
	office.click("button", "Tue 10 March rough play")
	office.see("Finn Calloway")
	office.choose("Place", "pier")
	office.click(".incident-form button", "^Save")
	office.see("Rough play corrected")
	office.click("button", `^Fri 6 March rough play$|^rough play, pier$`)
	office.see("Action taken")
	office.keys(input.Escape)
	pier := `//tr[th[normalize-space()="pier"]]/td[1]/button`
	office.click(pier, "")
	office.see("Pier, before school")
	office.see("Supervised ferry queue")
	assert.Contains(t, office.text(), "fewer")

	// The quick line names whose incident it is.
	office.typed("/")
	office.typed("maren holt incident")
	office.see("Maren Holt: note an incident")
	office.keys(input.Enter)
	office.see("Note an incident")
	office.see("Maren Holt")
	office.keys(input.Escape)

	// What is not theirs is not to be had by counting.
	seen := w.MustEval(`async () => {
		const all = (await (await fetch("/api/conduct")).json()).found.map((i) => i.id);
		const answers = [];
		for (let id = 1; id <= 60; id++) {
			const status = (await fetch("/api/incidents/" + id)).status;
			if (status !== 404 && !all.includes(id)) answers.push(id + ": " + status);
		}
		return answers.join(" ");
	}`).Str()
	assert.NotContains(t, seen, ": 5", "no failure")
	desk := s.open("kersey")
	assert.Equal(t, 403, desk.MustEval(`() => fetch("/api/conduct").then((r) => r.status)`).Int())
}
