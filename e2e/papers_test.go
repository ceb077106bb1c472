package e2e

import (
	"encoding/base64"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// listsOnPaper is an outing built from nothing by keys, handed to a colleague, and made again by the colleague and by
// the command line.
func listsOnPaper(t *testing.T, s *school) {
	w := s.open("tolvan")
	w.goTo("/papers")
	w.see("Start from")
	began := time.Now()
	w.focusOn(`a[href*="from=outing"]`)
	w.keys(input.Enter)
	w.see("612 students")
	w.picks("Which students", "9 Bowline")
	w.see("students: 9 Bowline")
	w.MustElement(`[aria-label="Title"]`).MustFocus()
	w.MustElement(`[aria-label="Title"]`).MustSelectAllText().MustInput("Outing to Skerry Light")
	w.keys(input.Tab)
	w.MustElement(`[aria-label="Note above"]`).MustSelectAllText().MustInput("Leader: **R. Osk**, 01632 960 147")
	w.picks("Add a column", "birth")
	w.see("Date of birth")
	w.MustElement(`[data-heading="7"]`).MustFocus()
	w.KeyActions().Press(input.AltLeft).Type(input.ArrowLeft).Release(input.AltLeft).MustDo()
	w.until(func() (bool, string) {
		return w.MustEval(`() => document.querySelector('[data-heading="6"]')?.value`).Str() == "Born", "the column to be moved"
	})
	wide := func() float64 {
		return w.MustEval(`() => document.querySelector('[data-heading="2"]').getBoundingClientRect().width`).Num()
	}
	before := wide()
	w.drags(`() => document.querySelectorAll(".heading .edge")[2]`, 60)
	w.until(func() (bool, string) { return wide() > before+20, "the column to be wider" })
	w.drags(`() => document.querySelectorAll(".heading .grip")[3]`, -150)
	w.until(func() (bool, string) {
		return w.MustEval(`() => document.querySelector('[data-heading="2"]')?.value`).Str() == "Form", "the column to be dragged before the names"
	})
	w.field("Name of the list").MustSelectAllText().MustInput("Skerry Light")
	w.keys(input.Enter)
	w.see("Skerry Light saved")
	assert.Less(t, time.Since(began), 2*time.Minute)

	w.click("button", "^Share")
	w.MustElementX(`//*[contains(@class, "share-paper")]//label[contains(., "D. Ase")]//input`).MustFocus()
	w.keys(input.Space)
	w.click(".ant-modal button", "^Save")
	w.see("Skerry Light shared with D. Ase")

	w.goTo("/papers")
	w.see("Skerry Light")
	w.see("every school day at 07:40 to the printer")
	w.focusOn(`[aria-label="To the printer, Skerry Light"]`)
	w.keys(input.Enter)
	w.see("Skerry Light is on its way to the printer")
	w.until(func() (bool, string) {
		return w.MustHas(`[aria-label^="Look at Skerry Light"]`), "the page to lie at the printer"
	})
	page := w.MustEval(`() => fetch(document.querySelector('[aria-label^="Look at Skerry Light"]').href).then(async (r) => r.status + " " + r.headers.get("Content-Type"))`).Str()
	assert.Equal(t, "200 application/pdf", page)
	w.focusOn(`[aria-label="At a time …, Skerry Light"]`)
	w.keys(input.Enter)
	w.see("It is made when somebody asks for it.")
	w.field("At").MustSelectAllText().MustInput("815")
	w.focusOn(".ant-modal button[type=submit]")
	w.keys(input.Enter)
	w.see("Skerry Light is printed every school day at 08:15")
	w.keys(input.Escape)

	ase := s.open("ase")
	ase.goTo("/papers")
	ase.see("Skerry Light")
	assert.False(t, ase.MustHas(`[aria-label^="Look at Skerry Light"]`), "another's page")
	pdf := ase.MustEval(`() => fetch([...document.querySelectorAll("a")].find((a) => a.getAttribute("aria-label") === "Print Skerry Light").href).then(async (r) => r.headers.get("Content-Type") + " " + (await r.blob()).size)`).Str()
	assert.True(t, strings.HasPrefix(pdf, "application/pdf "), pdf)
	rows := ase.MustEval(`() => fetch([...document.querySelectorAll("a")].find((a) => a.getAttribute("aria-label") === "CSV of Skerry Light").href).then((r) => r.text())`).Str()
	assert.Contains(t, rows, "Out,Back,Form,Name,Contact,Next contact,Born,To know")
	assert.Contains(t, rows, "9 Bowline")

	out := filepath.Join(t.TempDir(), "skerry.pdf")
	told, err := exec.Command(binary, "export", "list", "Skerry Light", "--data", s.data, "--out", out, "--at", "2026-03-10T09:12").CombinedOutput()
	require.NoError(t, err, string(told))
	read, err := exec.Command("pdftotext", "-layout", out, "-").Output()
	require.NoError(t, err)
	for _, words := range []string{"Outing to Skerry Light", "Leader: R. Osk, 01632 960 147", "9 Bowline, all sections", "Student data of Fairlead School"} {
		assert.Contains(t, string(read), words)
	}
}

// recordMoves is a student's record handed out by an administrator, and brought in to a student by the officer, who is
// told that it is of somebody else.
func recordMoves(t *testing.T, s *school) {
	admin := s.open("admin")
	admin.goTo("/today?student=232")
	admin.see("Everything on record")
	archive := admin.MustEval(`() => fetch("/api/students/232/everything").then((r) => r.blob()).then((b) => new Promise((done) => { const r = new FileReader(); r.onload = () => done(r.result.split(",")[1]); r.readAsDataURL(b); }))`).Str()
	content, err := base64.StdEncoding.DecodeString(archive)
	require.NoError(t, err)
	file := filepath.Join(t.TempDir(), "record.zip")
	require.NoError(t, os.WriteFile(file, content, 0o600))

	w := s.open("tolvan")
	w.goTo("/today?student=300")
	w.see("Record of an earlier school")
	w.click("button", "^Record of an earlier school")
	w.see("not counted in this school’s figures")
	w.MustElement(".ant-modal input[type=file]").MustSetFiles(file)
	w.see("The record is of")
	w.see("Marks: ")
	w.MustElementX(`//label[contains(., "the same student all the same")]//input`).MustFocus()
	w.keys(input.Space)
	w.focusOn(".ant-modal-footer .ant-btn-primary")
	w.keys(input.Enter)
	w.see("The record of Fairlead School is with")
	w.click("a", "^Record of Fairlead School")
	w.see("Nothing here is counted in this school’s figures")
	w.see("Ten per cent of days")
	w.click("button", "^Marks")
	w.see("Show all")
}

// asks types twenty questions into the quick line, as people put them, and goes where Enter leads; a page that is
// needed every day is pinned, and comes first.
func asks(t *testing.T, s *school) {
	w := s.open("tolvan")
	w.goTo("/today")
	w.see("Call home")
	began := time.Now()
	for _, q := range []struct{ question, page string }{
		{"how many times absent", "/absence"}, {"who has not called", "/notices"}, {"evacuation", "/roll-call"}, {"print a list of students", "/papers"}, {"which registers are still out", "/registers"},
		{"did the text message go out", "/outbox"}, {"wrong phone numbers", "/contacts"}, {"who closed safe arrival", "/protocol"}, {"a student comes late", "/desk"}, {"plan a trip", "/trips"},
		{"record of fire drills", "/roll-calls"}, {"table of codes by date", "/absence/grid"}, {"letters to be sent", "/absence/steps"}, {"compare two forms", "/absence/beside"}, {"where do incidents happen", "/conduct"},
		{"who is failing", "/courses"}, {"students at risk", "/concerns"}, {"who was not contacted for longest", "/follow-up"}, {"open cases", "/follow-up/cases"}, {"how often was a student late", "/papers/lates"},
	} {
		w.focusOn(`[aria-label="Quick line"]`) // the desk's own field has the focus there, and takes the stroke
		w.MustInsertText(q.question)
		w.until(func() (bool, string) {
			return w.MustEval(`() => Boolean(document.querySelector("#quick-list [role=option]"))`).Bool(), "an answer to " + q.question
		})
		w.keys(input.Enter)
		w.until(func() (bool, string) {
			at := w.MustEval(`() => location.pathname`).Str()
			return at == q.page, q.question + " to lead to " + q.page + ", not " + at
		})
		if q.page == "/roll-call" { // which stands alone
			w.see("would be on the list")
			w.goTo("/today")
			w.see("Call home")
		}
	}
	assert.Less(t, time.Since(began), time.Minute)

	w.see("By weekday")
	w.typed("?")
	w.see("Pin this page: Late arrivals and early departures")
	w.focusOn(".pin-actions button:last-child")
	w.keys(input.Enter)
	w.see("comes first under / and ?")
	w.keys(input.Escape)
	w.goTo("/today")
	w.see("Call home")
	w.keys('/', input.ArrowDown, input.Enter)
	w.until(func() (bool, string) {
		return w.MustEval(`() => location.pathname`).Str() == "/papers/lates", "the pinned page"
	})
}

// coverSheet is a register for cover that is printed with what is known already, and entered when it comes back.
func coverSheet(t *testing.T, s *school) {
	w := s.open("tolvan")
	w.goTo("/papers/list/new?from=cover")
	w.see("612 students")
	w.picks("Which students", "11 Cleat")
	w.see("students: 11 Cleat")
	for _, words := range []string{"Signature", "Taken by", "Came at", "Known already"} {
		assert.True(t, w.MustEval(`(words) => [...document.querySelectorAll("main *")].some((e) => (e.value ?? e.textContent).trim() === words)`, words).Bool(), words)
	}
	w.goTo("/registers/179/AM")
	w.see("still to mark")
	w.click("button", "^It comes back on paper")
	w.field("Taken on paper by").MustInput("B. Quill")
	w.field("Taken at").MustInput("857")
	w.click("button", "^Everyone else is in")
	w.click("button", "^Send register")
	w.see("taken on paper by B. Quill, entered 09:1")
}

// focusOn brings the focus to an element as Tab would.
func (w *window) focusOn(selector string) { w.MustElement(selector).MustFocus() }

// drags takes hold of what a script finds with the mouse, and lets it go so many pixels to the right.
func (w *window) drags(find string, by float64) {
	at := w.MustEval(`() => { const r = (` + find + `)().getBoundingClientRect(); return [r.x + r.width / 2, r.y + 4]; }`).Arr()
	x, y := at[0].Num(), at[1].Num()
	w.Mouse.MustMoveTo(x, y)
	w.Mouse.MustDown(proto.InputMouseButtonLeft)
	w.Mouse.MustMoveTo(x+by/2, y)
	w.Mouse.MustMoveTo(x+by, y)
	w.Mouse.MustUp(proto.InputMouseButtonLeft)
}

// picks chooses an option by typing, as a person does by keys.
func (w *window) picks(label, words string) {
	w.focusOn(`input[aria-label="` + label + `"]`)
	w.keys(input.ArrowDown)
	w.MustInsertText(words)
	w.until(func() (bool, string) {
		return w.MustEval(`(words) => [...document.querySelectorAll(".ant-select-dropdown:not(.ant-select-dropdown-hidden) .ant-select-item-option-active")].some((o) => o.innerText.toLowerCase().includes(words.toLowerCase()))`, words).Bool(), words + " to be offered"
	})
	w.keys(input.Enter)
}
