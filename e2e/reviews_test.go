package e2e

import (
	"fmt"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
)

// row is what a student's row of the review says.
func (w *window) row(id int) string {
	return w.MustEval(`(id) => document.querySelector("[data-row='" + id + "']")?.innerText ?? ""`, id).Str()
}

// current is whose row is chosen.
func (w *window) current() int {
	return w.MustEval(`() => Number(document.querySelector(".case.chosen")?.dataset.row ?? 0)`).Int()
}

// A whole review by keys, with all three decisions, beside somebody else; finished, kept, and the next week's: who
// waits does not ask again, and somebody is new and somebody easing. A teacher sees why, and no chance.
func TestReviewOfConcerns(t *testing.T) {
	t.Parallel()
	s := startDemo(t, "09:12")
	w := s.open("ase")
	w.goTo("/concerns")
	w.see(" decided")
	w.see("New since Tue 3 March")
	due := w.MustEval(`() => Number(document.body.innerText.match(/undecided (\d+)/)[1])`).Int()
	assert.Greater(t, due, 20)
	left := func(done int) { w.see(fmt.Sprintf("undecided %d", due-done)) }

	opened := w.current()
	w.keys(input.KeyO)
	w.typed("see the home")
	w.keys(input.Enter)
	w.see("case with D. Ase, next Tue 17 March")
	left(1)
	w.until(func() (bool, string) { return w.current() != opened, "the next row to have its turn" })

	waits := w.current()
	w.keys(input.KeyW)
	w.typed("+14")
	w.keys(input.Enter)
	w.see("waits until Tue 24 March")
	left(2)

	w.until(func() (bool, string) { return w.current() != waits, "the next row to have its turn" })
	nothing := w.current()
	w.keys(input.KeyN)
	w.typed(" ")
	w.keys(input.Enter)
	w.see("Say why nothing is done; nothing was saved")
	w.typed("ill, and back")
	w.keys(input.Enter)
	w.see("no action")
	left(3)

	// Another decides meanwhile, and is seen; a reload keeps all of it.
	officer := s.open("tolvan")
	officer.goTo("/concerns")
	officer.see(fmt.Sprintf("undecided %d", due-3))
	officer.keys(input.KeyN)
	officer.typed("known to the office")
	officer.keys(input.Enter)
	officer.see(fmt.Sprintf("undecided %d", due-4))
	left(4)
	w.see("R. Tolvan 1")
	w.MustReload()
	left(4)
	assert.Contains(t, w.row(waits), "Waits until Tue 24 March")

	// What was done by mistake is taken back.
	w.goTo("/concerns?kind=two-incidents")
	w.see("Two incidents in 30 days")
	w.click("button", "^Write to them")
	w.see("Who gets it")
	w.field("Subject").MustInput("The quay after school")
	w.field("Text").MustInput("Dear {addressees}, we would like to speak with you about {given name}.")
	w.see("we would like to speak with you about") // as the first of them gets it
	w.click(".write-to-many button", "^Send")
	w.see("on the way by e-mail")
	w.goTo("/concerns?undecided=1")
	w.see(fmt.Sprintf("%d students", due-4))

	// Whose inputs are not all known has a range, and says what is missing.
	w.goTo("/concerns")
	w.until(func() (bool, string) {
		return w.MustEval(`() => [...document.querySelectorAll(".chance-bar")].some((e) => e.ariaLabel.includes("not known: school_changes"))`).Bool(), "a chance that is a range"
	})

	w.click("button", fmt.Sprintf("^Finish it, %d undecided$", due-4))
	w.see("Finished by D. Ase")
	w.goTo("/concerns/reviews")
	w.see("Review of Tue 10 March")
	w.see("In hand from before")
	w.see("not decided")

	teacher := s.open("osk")
	teacher.goTo("/concerns")
	teacher.see("All my students")
	assert.Zero(t, teacher.MustEval(`() => document.querySelectorAll(".chance-bar").length`).Int())
	assert.Equal(t, 403, teacher.MustEval(`() => fetch("/api/outlook").then((r) => r.status)`).Int())
	assert.Equal(t, 403, teacher.MustEval(`() => fetch("/api/reviews/1").then((r) => r.status)`).Int())
	teacher.keys(input.KeyT)
	teacher.typed("asleep by noon since Friday")
	teacher.keys(input.Enter)
	teacher.see("told to those who hold the review")
	w.goTo("/concerns")
	w.see("asleep by noon since Friday")

	admin := s.open("admin")
	// Reviews are on Wednesdays from now on: the next is tomorrow's.
	const post = `(path, body) => fetch(path, { method: "POST", headers: { "Content-Type": "application/json", "Idempotency-Key": "next " + path }, body }).then((r) => r.status)`
	assert.Equal(t, 200, w.MustEval(post, "/api/reviews/rule", `{"weekday":3,"weeks":1}`).Int())
	assert.Equal(t, 204, admin.MustEval(post, "/api/demo/clock", `{"to":"next"}`).Int())
	w.goTo("/concerns")
	w.see("New since Tue 10 March")
	w.see("Easing")
	w.see("nobody has begun")
	// The rows that lie outside the window are not on the page; what it was given has them.
	says := func(id int, what string) string {
		return w.MustEval(`(id, what) => fetch("/api/concerns").then((r) => r.json()).then((v) => v.rows.find((r) => r.student.id === id)).then((r) => String(what.split(".").reduce((x, k) => x?.[k], r)))`, id, what).Str()
	}
	assert.Equal(t, "waits until Tue 24 March", says(waits, "decision.words"))
	assert.Equal(t, "D. Ase", says(opened, "case.owner"))
	assert.Equal(t, "false", says(nothing, "decision.here"), "that held until this review")
}
