package e2e

import (
	"fmt"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What policies say is due is worked by keys: done with its outcome and taken back, put off, handed
// to a teacher who sees it, printed as letters that stay on the record; a correction takes one away
// and the list says so. A day is closed and opened again, and the grid of a form goes on paper.
func TestWhatIsDue(t *testing.T) {
	t.Parallel()
	s := startDemo(t, "09:12")
	w := s.open("tolvan")
	w.goTo("/absence/steps")
	w.see("34 steps due")
	chosen := func() string {
		return w.MustEval(`() => document.querySelector(".lines .chosen .who")?.innerText ?? ""`).Str()
	}
	w.until(func() (bool, string) { return strings.Contains(chosen(), "Della Fairhurst"), "the first to be chosen" })
	w.see("nobody is on file to whom a letter may go")
	w.keys(input.ArrowDown)
	w.until(func() (bool, string) { return strings.Contains(chosen(), "Corin Vale"), "the next to be chosen" })
	w.see("Tora and Senna Vale") // whom the letter would go to
	w.typed("d")
	w.see("What came of it")
	w.typed("rang the mother")
	w.keys(input.Enter)
	w.see("33 steps due")
	w.see("Done in the last seven days")
	w.click("button", "^Undo")
	w.see("34 steps due")

	w.typed("h")
	w.see("What they should know")
	w.choose("To", "P. Osk · teacher")
	w.click("button", "Hand over")
	w.see("handed to P. Osk")
	teacher := s.open("osk")
	teacher.goTo("/absence/steps")
	teacher.see("1 step handed to you")
	teacher.goTo("/absence")
	teacher.see("lessons of this class alone")

	// Letters: those of a group are ticked at once; none goes while one of them can't.
	w.click(`//section[.//h2[normalize-space()="Letter at 5 days"]]//button[normalize-space()="tick all"]`, "")
	w.see("Print 5 letters")
	w.MustEval(`() => { window.opened = ""; window.open = (url) => { window.opened = url; return null; } }`)
	w.typed("p")
	w.see("letters written")
	w.until(func() (bool, string) {
		return strings.HasPrefix(w.MustEval(`() => window.opened`).Str(), "/api/letters/sheet?letters="), "the letters to open"
	})
	head := w.MustEval(`() => fetch(window.opened).then((r) => r.arrayBuffer()).then((b) => new TextDecoder().decode(b.slice(0, 5)))`).Str()
	assert.Equal(t, "%PDF-", head)
	bram := w.MustEval(`() => fetch("/api/find?q=bram+szab").then((r) => r.json()).then((l) => l[0].student.id)`).Int()
	w.goTo(fmt.Sprintf("/absence/steps?student=%d", bram))
	w.see("Letter: Bram")

	// A correction takes a step away.
	fixed := w.MustEval(`async () => {
		const steps = (await (await fetch("/api/steps")).json()).groups.flatMap((g) => g.steps);
		const odd = steps.find((s) => s.student.name === "Odd Pell");
		for (const slot of ["AM", "1", "2", "3", "4", "PM", "5", "6"])
			await fetch("/api/corrections", { method: "POST", headers: { "Content-Type": "application/json", "Idempotency-Key": "the note came " + slot },
				body: JSON.stringify({ date: odd.ref.reached, slot, student: odd.student.id, code: "M", reason: "the doctor's note came" }) });
		return odd.student.name;
	}`).Str()
	assert.Equal(t, "Odd Pell", fixed)
	w.goTo("/absence/steps")
	w.see("Taken back")
	w.see("Mon 2 March is now medical, R. Tolvan 09:1")

	// A day that was closed after the fact.
	admin := s.open("admin")
	admin.goTo("/school/calendar")
	admin.see("114 of them up to today")
	admin.click("button", "Close dates")
	admin.field("Date").MustInput("2026-03-06")
	admin.keys(input.Enter)
	admin.field("Reason").MustInput("storm")
	admin.click("button", "See what it would change")
	admin.see("are set aside")
	admin.click("button", "Close them")
	admin.see("113 of them up to today")
	admin.see("Fri 6 March: storm")
	admin.click("button", "Take back") // of the first section
	admin.see("1 school day more")
	admin.click("button", "Take it back")
	admin.see("114 of them up to today")

	policyIsEdited(t, admin, w)
	dueInPart(t, w)

	w.goTo("/absence/grid?group=class:48")
	w.see("Bram Brightwater")
	pages := w.MustEval(`() => fetch(document.querySelector("a[href*='format=pdf']").href).then((r) => r.headers.get("Content-Type"))`).Str()
	require.Equal(t, "application/pdf", pages)
}

// policyIsEdited sets a line of a policy lower on the page: a wrong word is told by its line, whom it
// touches is seen first, and once it is taken it is what is read beside every figure.
func policyIsEdited(t *testing.T, admin, w *window) {
	admin.goTo("/school/policies")
	admin.see("Letters at three, five and ten days")
	admin.goTo("/school/policies/edit?policy=letters")
	admin.see("Nothing is changed yet")
	reach := admin.field("Letter at 3 unexcused days: reached at")
	reach.MustSelectAllText().MustInput("some")
	admin.see(`reach is "some"; expected is a whole number from 1 on`)
	reach.MustSelectAllText().MustInput("2")
	admin.see("reached at 2 days unexcused in the year.")
	admin.see("only under this one")
	admin.see("0 students in another band")
	admin.click("button", "^Take it from Tue 10 March on")
	admin.see("Letters at three, five and ten days holds from Tue 10 March on")
	w.goTo("/absence/policy?policy=letters")
	w.see("Letter at 3 unexcused days: reached at 2 days unexcused in the year.")
	w.see("as it comes with the program")
	w.goTo("/absence/steps")
	w.see("Letter at 3 days, 2 unexcused days")
}

// dueInPart gives a student an own timetable on the sheet, for what is over too: refused until it is said
// that the past is corrected, and then the figures follow.
func dueInPart(t *testing.T, w *window) {
	missed := func() int {
		return w.MustEval(`() => fetch("/api/absence/358?policy=hours").then((r) => r.json()).then((f) => f.figures.absent)`).Int()
	}
	before := missed()
	w.goTo("/absence?student=358")
	w.see("Timetable and shares")
	w.click("button", "^Part-time")
	w.see("Share here")
	w.field("Holds from").MustInput("2025-09-03")
	w.keys(input.Enter)
	for _, slot := range []string{"4", "PM registration", "5", "6"} {
		w.click(fmt.Sprintf(`.week input[aria-label="%s, every day"]`, slot), "")
	}
	w.click(".ant-modal button", "See what it would change")
	w.see("registers up to")
	w.click(".ant-modal label", "correct the past")
	w.click(".ant-modal button", "See what it would change")
	w.see("the figures of 1 student change")
	w.click(".ant-modal button", "Save")
	w.see("every day AM, 1, 2, 3")
	assert.Less(t, missed(), before)
}
