package e2e

import (
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
)

// A day of following up, by keys: a call logged with its next date; a case opened, planned, handed over, kept to
// fewer and closed; a lunch group written down, repeated, changed for one, taken off for all and had back; whom
// nobody met; and words that others can't reach.
func TestFollowingUp(t *testing.T) {
	t.Parallel()
	s := startDemo(t, "09:12")
	w := s.open("ase")
	callIsLogged(t, w)
	caseIsWorked(t, w)
	groupIsKept(w)
	wordsAreKept(t, s, w)
}

// current is the student whose row is worked.
func (w *window) worked() string {
	return w.MustEval(`() => document.querySelector(".one.chosen")?.dataset.row ?? ""`).Str()
}

func callIsLogged(t *testing.T, w *window) {
	w.goTo("/follow-up")
	w.see("in no session this week")
	w.until(func() (bool, string) {
		if strings.Contains(w.MustEval(`() => document.querySelector(".work")?.innerText ?? ""`).Str(), "planned for") {
			w.keys(input.ArrowDown) // who has something planned as well stays until that is done
			return false, ""
		}
		return w.worked() != "", "somebody with nothing planned"
	})
	first := w.worked()
	began := time.Now()
	w.typed("1")
	w.see("somebody else")
	w.typed("early boat")
	w.keys(input.Enter)
	w.see("is in a case with") // and needs a next date
	w.keys(input.Tab)
	w.typed("thu")
	w.keys(input.Enter)
	w.see("spoke, next Thu 12 March")
	assert.Less(t, time.Since(began), 15*time.Second)
	w.until(func() (bool, string) { return w.worked() != first, "the next row to be chosen" })
	w.until(func() (bool, string) {
		due := w.MustEval(`(id) => fetch("/api/next").then((r) => r.json()).then((v) => v.rows.find((r) => String(r.student.id) === id).part)`, first).Str()
		return due != "due", "the one who was rung not to be due any more"
	})
}

func caseIsWorked(t *testing.T, w *window) {
	w.goTo("/follow-up/cases")
	w.click("button", "^Open a case")
	w.MustElement(`input[aria-label="Who"]`)
	w.typed("porter finch") // a name of nobody: nothing is offered
	w.field("Who").MustSelectAllText().MustInput("")
	w.typed("bram brightwater")
	w.until(func() (bool, string) {
		return w.MustEval(`() => document.querySelectorAll(".find-student [role=option]").length > 0`).Bool(), "somebody to be offered"
	})
	w.keys(input.Enter)
	w.see("somebody else")
	w.field("Why").MustInput("asleep in lesson 1")
	w.field("Looked at next").MustInput("+7")
	w.keys(input.Enter)
	w.click(".ant-modal button", "^Save")
	w.see("next Tue 17 March")

	w.MustElementX(`//article[contains(., "asleep in lesson 1")]//a[normalize-space(text())="Open it"]`).MustClick()
	w.see("Nothing is planned")
	w.field("What is to be done").MustInput("see the tutor")
	w.keys(input.Enter)
	w.see(": planned")
	w.click("button", "^Done$")
	w.see("see the tutor, done")
	w.click("button", "^Meeting")
	w.see("Meeting about")
	w.field("On which day").MustInput("thu")
	w.keys(input.Enter)
	w.field("Where").MustInput("Room 4")
	w.click(".ant-modal button", "^Save")
	w.see("Thu 12 March, 15:30 to 16:00, Room 4")
	assert.Equal(t, "text/calendar; charset=utf-8", w.MustEval(`() => fetch([...document.querySelectorAll("a")].find((a) => a.innerText === "Calendar file").href).then((r) => r.headers.get("Content-Type"))`).Str())

	w.click("button", "^Note, hand over")
	w.see("it waits until then")
	w.choose("In whose hands", "H. Strom")
	w.field("What was said or done").MustInput("you know the home")
	w.click(".ant-modal button", "^Save")
	w.see("case handed to H. Strom")
	w.see("in the hands of H. Strom")
	w.click("button", "^Close")
	w.field("What came of it").MustInput("sleeps again")
	w.choose("How it ended", "back on track")
	w.click(".ant-modal button", "^Save")
	w.see("closed: back on track")
}

func groupIsKept(w *window) {
	w.goTo("/follow-up/support")
	w.see("not met")
	w.typed("l")
	w.see("Support session")
	for _, name := range []string{"cato vane", "mika ulvar", "juno sandal", "pip garrow", "oona harle"} {
		w.typed(name)
		w.until(func() (bool, string) {
			return strings.Contains(strings.ToLower(w.MustEval(`() => document.querySelector(".find-student [aria-selected=true]")?.innerText ?? ""`).Str()), name), name + " to be offered"
		})
		w.keys(input.Enter)
	}
	w.see("5 students")
	w.field("From").MustInput("1220")
	w.control(input.Enter)
	w.see("Cato Vane and 4 more: Mentoring, Tue 10 March, 12:20")
	const group = `//article[.//b[contains(., "Tue 10 March, 12:20")]]`
	about := func(button string) { w.click(group+`//button[normalize-space(.)="`+button+`"]`, "") }

	about("Repeat …")
	for _, on := range []string{"2 mar", "3 mar", "4 mar"} {
		w.field("On which day too").MustInput(on)
		w.keys(input.Enter)
		time.Sleep(100 * time.Millisecond)
	}
	about("Repeat for all 5")
	w.see("again on")

	about("Change …")
	about("Cato alone")
	w.field("From").MustSelectAllText().MustInput("1300")
	about("Change for Cato Vane alone")
	w.see("Cato Vane: Mentoring changed, Tue 10 March, 13:00")
	w.see("Tue 10 March, 13:00")

	about("Take off …")
	about("Take off for all 4")
	w.see("and 3 more: Mentoring taken off")
	w.until(func() (bool, string) {
		has, _, _ := w.HasX(group)
		return !has, "the group to be gone"
	})
	w.click(`//div[contains(@class, "receipt")][contains(., "taken off")]//button[.="Undo"]`, "")
	w.until(func() (bool, string) {
		has, _, _ := w.HasX(group)
		return has, "the group to be back"
	})

	w.click("button", "^say why")
	w.see(": no session")
	w.typed("sailing")
	w.keys(input.Enter)
	w.see("week of Mon 9 March: sailing")
}

func wordsAreKept(t *testing.T, s *school, w *window) {
	const secret = "afraid of the way home"
	w.goTo("/follow-up")
	w.see("in no session this week")
	w.typed("m")
	w.see("somebody else")
	student := w.worked()
	w.choose("For whom the note is", "for me and whose case it is")
	w.field("What was said").MustInput(secret)
	w.field("Next contact on").MustInput("+2")
	w.keys(input.Enter)
	w.until(func() (bool, string) {
		return w.MustEval(`() => document.querySelector("form.under") === null`).Bool(), "the contact to be saved"
	})
	note := w.MustEval(`(id) => fetch("/api/next").then((r) => r.json()).then((v) => v.rows.find((r) => String(r.student.id) === id).note)`, student).Int()
	const get = `(paths) => Promise.all(paths.map((p) => fetch(p).then(async (r) => r.status + " " + (await r.text())))).then((all) => all.join("\n"))`
	paths := []any{"/api/students/" + student, "/api/next", "/api/cases?closed=true", "/api/support/files?which=contacts", "/api/next/file?format=csv", "/api/find?q=afraid", "/api/concerns", "/api/students/" + student + "/notes/" + w.MustEval(`(n) => String(n)`, note).Str()}
	assert.Contains(t, w.MustEval(get, paths).Str(), secret, "by the one look that is on record")
	for _, name := range []string{"osk", "kersey", "tolvan", "admin"} {
		other := s.open(name)
		told := other.MustEval(get, paths).Str()
		assert.NotContains(t, told, secret, name)
		assert.Contains(t, told, "403 ", name)
	}
}
