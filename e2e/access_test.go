package e2e

import (
	"encoding/base64"
	"encoding/json"
	"fmt"
	"os"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/files/studentfile"
)

// TestAtNineTwelve shares one demonstration between tests that change little.
func TestAtNineTwelve(t *testing.T) {
	t.Parallel()
	s := startDemo(t, "09:12")
	t.Run("a teacher may not see another class", func(t *testing.T) { otherClass(t, s) })
	t.Run("two windows see each other", func(t *testing.T) { twoWindows(t, s) })
	t.Run("an earlier minute", func(t *testing.T) { earlier(t, s) })
	t.Run("a follow-up from the concerns", func(t *testing.T) { followUp(t, s) })
	t.Run("a figure is taken apart", func(t *testing.T) { why(t, s) })
	t.Run("an account from its making to its end", func(t *testing.T) { anAccount(t, s) })
	t.Run("two officers log the same call", func(t *testing.T) { twoCalls(t, s) })
	t.Run("lists on paper", func(t *testing.T) { listsOnPaper(t, s) })
	t.Run("twenty questions", func(t *testing.T) { asks(t, s) })
	t.Run("a student's record moves", func(t *testing.T) { recordMoves(t, s) })
	t.Run("those who have left", func(t *testing.T) { whoHasLeft(t, s) })
	t.Run("every stop of the focus", func(t *testing.T) { walk(t, s) })
	t.Run("a sheet for cover comes back", func(t *testing.T) { coverSheet(t, s) })
}

// TestNothingAgainstAssistiveTechnology walks every page, at every size.
func TestNothingAgainstAssistiveTechnology(t *testing.T) {
	t.Parallel()
	axe(t, startDemo(t, "09:12"))
}

func otherClass(t *testing.T, s *school) {
	w := s.open("osk")
	w.goTo("/registers")
	w.see("8 Halyard")
	assert.NotContains(t, w.text(), "9 Bowline")
	w.goTo("/registers/90/AM")
	w.see("9 Bowline is not your class")
	status := w.MustEval(`() => fetch("/api/today").then((r) => r.status)`).Int()
	assert.Equal(t, 403, status)
}

func twoWindows(t *testing.T, s *school) {
	a, b := s.open("tolvan"), s.open("kersey")
	b.goTo("/today")
	b.see("Call home")
	a.see("Call home")
	before := b.count()["unaccounted"]
	a.quick("bram ollerton ill", "Bram Ollerton ill")
	b.until(func() (bool, string) {
		return b.count()["unaccounted"] < before, "the other window to follow without reloading"
	})
}

func earlier(t *testing.T, s *school) {
	w := s.open("tolvan")
	w.goTo("/today?at=2026-03-10T08:30")
	w.see("as at 08:30, Tue 10 March")
	assert.Zero(t, w.count()["unaccounted"], "nobody was due yet")
	w.MustElement("[role=slider]").MustFocus()
	for range 20 {
		w.keys(input.ArrowRight)
	}
	w.see("as at 08:50")
	w.until(func() (bool, string) {
		return w.count()["not-yet-known"] > 0, "the count of that minute"
	})
	w.keys(input.Escape)
	w.until(func() (bool, string) {
		return w.MustEval(`() => !location.search.includes("at=")`).Bool(), "the page to be live again"
	})
	w.count()
}

func followUp(t *testing.T, s *school) {
	w := s.open("ase")
	w.goTo("/concerns")
	w.see("Mika Ulvar")
	w.click(`//div[contains(@class,"case")][.//button[text()="Oona Harle"]]//button[normalize-space()="log a call"]`, "")
	w.typed("will come in on Thursday")
	w.MustElement(`.under .date-field input`).MustInput("thu")
	w.MustElementR(".under button", "Save").MustFocus()
	w.keys(input.Enter)
	w.see("spoke Tue 10 March, again Thu 12 March")
	w.click("button.link", "Oona Harle")
	w.see("Follow-up: spoke · will come in on Thursday · again Thu 12 March")
}

func why(t *testing.T, s *school) {
	w := s.open("strom")
	w.goTo("/absence")
	w.see("Why ")
	w.until(func() (bool, string) {
		return w.MustEval(`() => document.querySelector("th[aria-sort=descending]")?.innerText.includes("Share") ?? false`).Bool(), "a leader to see the worst first"
	})
	w.click("th button", "^To 10 %")
	w.click("tbody tr", "Perran Hask")
	w.see("Perran Hask missed 12 of 113 days")
	w.MustElement(".why details summary").MustFocus()
	w.keys(input.Enter)
	w.see("AM registration: M medical · 15 of 15 min")
}

// sizes are those at which every page is looked at: a desk, a phone, the narrowest that WCAG asks for,
// and a desk at 200 %. Everything must fit at each; the rules are asked at the widest and the narrowest,
// between which no other arrangement comes.
var sizes = []struct {
	name          string
	width, height int
	rules         bool
}{{"1280 × 800", 1280, 800, true}, {"200 %", 640, 400, false}, {"390 × 844", 390, 844, false}, {"320 wide", 320, 640, true}}

// sight is a page, what it shows when it is there, and what is pressed to open something over it.
type sight struct{ path, wait, press string }

// looks opens a page and holds it against the rules of axe-core, of any weight; and at every size
// nothing of it may need scrolling in two directions, but for tables within their panels.
func (w *window) looks(script string, at sight) {
	w.t.Helper()
	w.MustSetViewport(1280, 800, 1, false)
	w.goTo(at.path)
	w.see(at.wait)
	switch {
	case at.press == "?":
		w.typed("?")
	case at.press != "":
		w.click("button", at.press)
	}
	path := strings.TrimSpace(at.path + " " + at.press)
	time.Sleep(300 * time.Millisecond) // the drawer has come in
	_, err := proto.RuntimeEvaluate{Expression: script}.Call(w.Page)
	require.NoError(w.t, err)
	for _, size := range sizes {
		w.MustSetViewport(size.width, size.height, 1, false)
		time.Sleep(150 * time.Millisecond) // what follows the width has followed
		if size.rules {
			w.breaks(path, size.name)
		}
		wide := w.MustEval(`() => document.documentElement.scrollWidth - document.documentElement.clientWidth`).Int()
		if wide <= 0 {
			continue
		}
		assert.Fail(w.t, fmt.Sprintf("%s is too wide, %s: %s", path, size.name, w.MustEval(`() => [...document.querySelectorAll("body *")].filter((e) => e.getBoundingClientRect().right > document.documentElement.clientWidth + 1 && !e.closest(".panel, .scrolls, .rail, .band nav")).slice(0, 4).map((e) => e.outerHTML.slice(0, 90)).join(" | ")`).Str()))
	}
}

// breaks asks axe-core what of the page breaks a rule. Colours are the same at every width, and asked for once: they
// take the most time by far.
func (w *window) breaks(path, size string) {
	w.t.Helper()
	found := w.MustEval(`(colours) => axe.run(document, { resultTypes: ["violations"], rules: { "target-size": { enabled: true }, "color-contrast": { enabled: colours } } }).then((r) => JSON.stringify(r.violations.map((v) => v.id + ": " + v.nodes.map((n) => n.html.slice(0, 160) + " " + n.failureSummary).slice(0, 3).join(" | "))))`, size == sizes[0].name).Str()
	var violations []string
	require.NoError(w.t, json.Unmarshal([]byte(found), &violations))
	assert.Empty(w.t, violations, fmt.Sprintf("axe on %s, %s", path, size))
}

// hasRecord brings in what an earlier school has handed on about a student.
func (s *school) hasRecord(t *testing.T) {
	archive, err := studentfile.Record{About: studentfile.About{School: "Skerry School", Given: "Dot", Family: "Vane", Made: "2025-07-01 10:00"}, Tables: []studentfile.Table{
		{Name: "absence", Header: []string{"policy", "missed"}, Rows: [][]string{{"Ten per cent of days", "14"}}}, {Name: "marks", Header: []string{"date", "slot", "code"}, Rows: [][]string{{"2025-06-30", "AM", "P"}}}}}.Zip()
	require.NoError(t, err)
	w := s.as(t).open("ase")
	status := w.MustEval(`(content) => fetch("/api/former", { method: "POST", headers: { "Content-Type": "application/json", "Idempotency-Key": "brought in once" }, body: JSON.stringify({ student: 300, same: true, file: { name: "r.zip", content } }) }).then((r) => r.status)`, base64.StdEncoding.EncodeToString(archive)).Int()
	require.Equal(t, 200, status)
}

// axe runs axe-core on every page.
func axe(t *testing.T, s *school) {
	text, err := os.ReadFile("../ui/node_modules/axe-core/axe.min.js")
	require.NoError(t, err)
	script := string(text)
	s.hasRecord(t)
	for username, pages := range map[string][]sight{
		"admin": {
			{"/today", "Call home", ""}, {"/registers", "8 Halyard", ""}, {"/registers/48/AM", "still to mark", ""}, {"/registers/48/AM?by=seat", "A tap marks", ""}, {"/registers/90/AM", "sent 08:5", ""}, {"/desk", "Today at the desk", ""},
			{"/absence", "Why ", ""}, {"/absence/steps", "steps due", "^Put off"}, {"/absence/grid?group=class:48&from=2026-03-02", "by code", ""}, {"/absence/letters", "As a student", ""}, {"/absence/policy?policy=hours", "In plain words", ""}, {"/absence/lists", "name", ""}, {"/absence/beside?group2=year:9", "Attended on an average day", ""}, {"/absence", "Why ", "^Keep as a list"}, {"/school/policies/edit?policy=letters", "Nothing is changed yet", ""}, {"/school/codes", "Registers and doors", "^Edit a copy of"}, {"/school/timetable", "Slots of the day patterns", "^A new pattern"}, {"/school/calendar", "Closed against", "^Terms"}, {"/today?student=232", "What happened", "^Part-time"}, {"/school/people", "students on the roll", "^Add a field"}, {"/school/calendar", "Closed against", "^Close dates"}, {"/concerns", "undecided", ""}, {"/concerns/rules?rule=two-areas", "since ", ""}, {"/concerns/rules?rule=new", "it says nothing", "^Add several"}, {"/conduct?rows=weekday", "On which day", "^Mark a change"}, {"/conduct?incident=new:20", "Time, empty where", ""}, {"/conduct", "Where and when", "^Kinds, places"}, {"/courses", "One course away", "^What it says"}, {"/courses?view=tables&by=year", "In all", ""}, {"/courses?view=tables&by=leaving", "In all", "^\\d+ of 61"}, {"/courses?view=credits", "behind in credits", ""}, {"/outbox", "Outbox", ""}, {"/today?student=232", "What happened", ""}, {"/today?notice=232", "told by", ""},
			{"/notices", "hold on this day", ""}, {"/reasons", "School days since", ""}, {"/contacts", "no contact on file", ""}, {"/protocol", "What was done", ""}, {"/papers", "Start from", ""}, {"/papers/list/new?from=outing", "612 students", ""}, {"/papers/lates", "By weekday", ""},
			{"/school/people", "students on the roll", ""}, {"/school/calendar", "Terms and grading periods", ""}, {"/school/timetable", "Slots of the day patterns", ""}, {"/school/codes", "Registers and doors", ""}, {"/school/policies", "A policy of your own", ""},
			{"/school/accounts", "Make the account", ""}, {"/school/devices", "School logo", ""}, {"/school/import", "Taken from files", ""}, {"/school/record", "looks are kept", ""}, {"/school/people/left", "have left", ""}, {"/controls", "FileField", ""},
			{"/trips", "harbour survey", ""}, {"/trips/1", "Who is with the others", ""}, {"/roll-calls", "No roll call was held", ""}, {"/roll-call", "would be on the list", ""}, {"/password", "Present password", ""}, {"/calls", "Call", ""},
			{"/registers", "8 Halyard", "Times of the day"}, {"/registers/90/AM", "sent 08:5", "^correct$"}, {"/today", "Call home", "?"}, {"/today", "Call home", "^R. Tolvan|^Administrator"}, {"/today", "Call home", "^Spoke"}, {"/today", "Call home", "^Text"},
			{"/desk", "Today at the desk", "Sign a visitor in"}, {"/trips", "harbour survey", "Plan a trip"}, {"/desk?group=travels+Petrel", "Tick none", ""}, {"/pass", "Check a pass", ""}, {"/station", "no", ""}, {"/check-in", "The code your teacher shows", ""}, {"/reader?class=48&slot=AM", "Not connected", ""},
		},
		"osk":    {{"/registers", "8 Halyard", ""}, {"/registers/48/AM", "still to mark", ""}, {"/trips", "Trips and visits", ""}, {"/absence", "lessons of this class", ""}},
		"ase":    {{"/today", "Call home", ""}, {"/concerns", "undecided", "^log a call"}, {"/concerns", "undecided", "^Open"}, {"/concerns", "undecided", "^Write to them"}, {"/concerns/reviews", "as they were then", ""}, {"/papers", "Start from", "^At a time"}, {"/follow-up/cases", "open case", "^Close"}, {"/follow-up/cases", "open case", "^Open a case"}, {"/follow-up/cases/23/1", "What became of it", "^Note"}, {"/follow-up/cases/23/1", "What became of it", "^Meeting"}, {"/follow-up", "in no session", "^Spoke"}, {"/follow-up", "in no session", "^Session"}, {"/follow-up/support", "not met", "^Change"}, {"/follow-up/support", "not met", "^Kinds"}, {"/follow-up/came", "This shows no cause", ""}, {"/concerns/outlook", "When not to trust it", "^Its coefficients"}, {"/concerns?student=358", "What happened", "^called$"}, {"/today?student=301", "What happened", "^Record of an earlier"}},
		"kersey": {{"/desk", "Today at the desk", ""}, {"/today", "Call home", ""}},
		"strom":  {{"/absence", "Why ", ""}, {"/concerns", "undecided", ""}, {"/former/300/1", "Nothing here is counted", ""}},
	} {
		const most = 20 // pages that are walked one after the other
		for part := range slices.Chunk(pages, most) {
			t.Run(username+" "+part[0].path, func(t *testing.T) {
				t.Parallel()
				w := s.as(t).open(username)
				for _, page := range part {
					w.looks(script, page)
				}
			})
		}
	}
}
