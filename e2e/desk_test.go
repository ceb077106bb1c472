package e2e

import (
	"encoding/base64"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/demo"
)

// TestTheDeskAndTheCalls goes through the office's half hour: a home rings in, a ferry is
// held and arrives, calls, a text and its answer, a search, a child to be collected, passes
// and a station. What a person does by keyboard is done by keyboard.
func TestTheDeskAndTheCalls(t *testing.T) {
	t.Parallel()
	s := startDemo(t, "09:12")
	officer := s.open("tolvan")
	officer.goTo("/today")
	officer.see("Call home")
	homeRingsIn(t, officer)
	ferryIsHeld(t, officer)
	everyOutcome(t, officer)
	searchFinds(officer)
	textIsAnswered(t, officer)

	desk := s.open("kersey")
	ferryIsIn(t, officer, desk)
	number := leavesWithPass(t, desk)
	passIsChecked(t, s, desk, number)
	isOverdue(t, officer, desk)
	isFetched(t, officer, desk)
	station(t, s, officer)

	officer.goTo("/protocol")
	officer.see("What was done")
	for _, w := range []string{"the Petrel is late", "no answer", "wrong number", "boat shed", "homes said of today"} {
		assert.Contains(t, officer.text(), w)
	}
}

// clockTo moves the demonstration's clock to a minute and waits for the day to be played.
func (w *window) clockTo(to string) {
	w.t.Helper()
	w.MustEval(`(to) => fetch("/api/demo/clock", { method: "POST", headers: { "Content-Type": "application/json" }, body: JSON.stringify({ to }) }).then((r) => r.status)`, to)
	w.until(func() (bool, string) {
		r := w.MustEval(`() => fetch("/api/rail").then((r) => r.json()).then((r) => r.now.slice(11))`).Str()
		return r >= to, "the clock to show " + to
	})
	time.Sleep(2 * time.Second) // the pages look again in rounds; the last one shows the day as it was played
}

// gone waits until the page no longer shows a text.
func (w *window) gone(text string) {
	w.t.Helper()
	w.until(func() (bool, string) { return !strings.Contains(w.text(), text), "the page no longer to show " + text })
}

func homeRingsIn(t *testing.T, w *window) {
	before := w.count()["unaccounted"]
	w.typed("n")
	w.MustElement("form.says")
	w.typed("merrow")
	w.see("Ansa Merrow")
	w.keys(input.Enter)
	w.see("all of this home")
	w.typed("bi")
	w.see("explains 3 marks without a reason")
	w.keys(input.Enter)
	w.until(func() (bool, string) { return !w.MustHas("form.says"), "the dialog to close" })
	w.until(func() (bool, string) { return w.count()["unaccounted"] == before-2, "both to be explained" })
	w.goTo("/notices")
	w.see("Elis Merrow")
	w.goTo("/today")
	w.see("Call home")
	assert.NotContains(t, w.MustElement(".today").MustText(), "Elis Merrow")
}

func ferryIsHeld(t *testing.T, w *window) {
	w.see("come by the Petrel")
	w.typed("k")
	w.see("Show everyone")
	w.typed("h")
	w.typed("soon")
	w.keys(input.Enter)
	w.see("nobody is held")
	assert.Contains(t, w.text(), "the Petrel", "what was typed stays")
	w.MustElement(".for-many input").MustSelectAllText()
	w.typed("940")
	w.keys(input.Enter)
	w.see("held until 09:40")
	w.see("11 held")
}

// everyOutcome rings home after home: each key stores one outcome on the record.
func everyOutcome(t *testing.T, w *window) {
	withContact := func() string {
		for strings.Contains(w.MustElement(".home.chosen").MustText(), "no contact") {
			w.keys(input.ArrowDown)
			time.Sleep(100 * time.Millisecond)
		}
		return *w.MustElement(".home.chosen").MustAttribute("data-home")
	}
	for key, outcome := range map[string]string{"3": "no answer", "2": "message", "4": "wrong number"} {
		home := withContact()
		w.typed(key)
		w.until(func() (bool, string) {
			last := w.MustEval(`(key) => fetch("/api/today").then((r) => r.json()).then((t) => t.households.find((h) => h.key === key)?.attempts.at(-1)?.outcome ?? "")`, home).Str()
			return last == outcome, outcome + " to stand at " + home
		})
		time.Sleep(300 * time.Millisecond) // the next home is chosen
	}
	withContact()
	before := w.count()["unaccounted"]
	w.typed("1")
	w.see("Save the call")
	w.typed("a")
	w.keys(input.Enter)
	w.until(func() (bool, string) { return w.count()["unaccounted"] < before, "what they said to settle it" })
}

func searchFinds(w *window) {
	w.see("Oona Harle")
	w.typed("s")
	w.typed("Porter Finch")
	w.keys(input.Enter)
	w.see("Porter Finch is looking since")
	w.typed("f")
	w.typed("boat shed")
	w.keys(input.Enter)
	w.gone("On site, not where they should be")
}

func textIsAnswered(t *testing.T, w *window) {
	w.typed("x")
	w.see("Goes to") // before that is seen, Enter sends nothing
	w.keys(input.Enter)
	w.see("Written to")
	w.clockTo("09:17")
	w.see("Homes have answered")
	answers := w.MustEval(`() => fetch("/api/today").then((r) => r.json()).then((t) => t.answers.length)`).Int()
	before := w.count()["unaccounted"]
	w.until(func() (bool, string) {
		if strings.Contains(w.MustElement(".answers .look-line .ant-select").MustText(), "which reason?") {
			w.click(".answers .look-line button", "No reason")
		} else {
			w.typed("e")
		}
		time.Sleep(400 * time.Millisecond)
		now := w.MustEval(`() => fetch("/api/today").then((r) => r.json()).then((t) => t.answers.length)`).Int()
		return now < answers && w.count()["unaccounted"] < before, "the answer to be a notice"
	})
	w.goTo("/notices")
	w.see("· text")
	w.goTo("/outbox")
	w.see("replied")
	w.goTo("/today")
	w.see("Call home")
	assert.Contains(t, w.text(), "11 held")
}

// ferryIsIn: the hold ends by itself, and then all are in at once.
func ferryIsIn(t *testing.T, officer, desk *window) {
	officer.clockTo("09:40")
	officer.gone("held until 09:40")
	missing := officer.count()["unaccounted"]
	desk.goTo("/desk")
	desk.see("A group is in")
	desk.MustElementR("button", "the Petrel").MustFocus()
	desk.keys(input.Enter)
	desk.see("Tick none")
	desk.typed("940")
	desk.keys(input.Enter)
	desk.see("students in at 09:40, ferry")
	desk.gone("Tick none")
	officer.until(func() (bool, string) {
		return officer.count()["unaccounted"] <= missing-11, "the Petrel's to be in, without reloading"
	})
}

var passNumber = regexp.MustCompile(`Pass (\d{6,}) for`)

// leavesWithPass signs a student out with a pass and returns its number.
func leavesWithPass(t *testing.T, w *window) string {
	w.chooses("perran hask", "Perran leaves")
	w.keys(input.Tab) // from the time over the reasons: the second is an appointment
	w.KeyActions().Press(input.AltLeft).Type(input.Digit2).Release(input.AltLeft).MustDo()
	w.MustElement("#desk-back").MustFocus()
	w.typed("950")
	w.control(input.Enter)
	number := ""
	w.until(func() (bool, string) {
		if m := passNumber.FindStringSubmatch(w.text()); m != nil {
			number = m[1]
		}
		return number != "", "the pass to be made"
	})
	w.see("Passes not returned")

	for _, stock := range []string{"leaf", "thermal"} {
		content := w.MustEval(`(n, s) => fetch("/api/passes/" + n + "/sheet?stock=" + s).then((r) => r.arrayBuffer()).then((b) => btoa(String.fromCharCode(...new Uint8Array(b))))`, number, stock).Str()
		pdf, err := base64.StdEncoding.DecodeString(content)
		require.NoError(t, err)
		file := filepath.Join(t.TempDir(), "pass.pdf")
		require.NoError(t, os.WriteFile(file, pdf, 0o600))
		said, err := exec.Command("pdftotext", "-layout", file, "-").Output() // poppler
		require.NoError(t, err)
		for _, words := range []string{"Leave pass", "Perran Hask", "appointment", "09:50", number} {
			assert.Contains(t, string(said), words)
		}
		require.NoError(t, exec.Command("pdftoppm", "-r", "300", "-gray", "-png", "-singlefile", file, strings.TrimSuffix(file, ".pdf")).Run())
		code, err := exec.Command("zbarimg", "-q", strings.TrimSuffix(file, ".pdf")+".png").Output()
		require.NoError(t, err)
		assert.Equal(t, "CODE-39:P-"+number, strings.TrimSpace(string(code)), "read back by zbar from the paper")
	}
	return number
}

func passIsChecked(t *testing.T, s *school, desk *window, number string) {
	phone := s.bare(t, "/pass", 390, 844)
	phone.field("Name").MustInput("osk")
	phone.field("Password").MustInput(demo.Password)
	phone.keys(input.Enter)
	phone.see("Check a pass")
	phone.typed(number)
	phone.keys(input.Enter)
	phone.see("Perran Hask")
	phone.see("Good")
	width := phone.MustEval(`() => document.documentElement.scrollWidth`).Int()
	assert.LessOrEqual(t, width, 390, "nothing is cut off on a phone")
	phone.MustElement("input").MustSelectAllText().MustInput(number[:len(number)-1] + string('0'+(number[len(number)-1]-'0'+1)%10))
	phone.keys(input.Enter)
	phone.see("a digit is wrong")

	desk.scan("P-" + number)
	desk.see("Pass " + number + " is back")
	desk.scan("P-" + number)
	desk.see("had come back already")
	phone.MustElement("input").MustSelectAllText().MustInput(number)
	phone.keys(input.Enter)
	phone.see("Not good")
}

// scan types a code as a reader does: all at once, with Enter.
func (w *window) scan(code string) {
	w.t.Helper()
	w.MustEval(`(code) => {
		for (const key of [...code, "Enter"])
			(document.activeElement ?? document.body).dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true, cancelable: true }));
	}`, code)
}

// chooses types a name at the desk and waits for what is likely to happen.
func (w *window) chooses(name, likely string) {
	w.t.Helper()
	w.see("A group is in")
	w.typed(name)
	w.keys(input.Enter)
	w.see(likely)
}

// isOverdue: who is not back in time is missing again, until the desk has them in.
func isOverdue(t *testing.T, officer, desk *window) {
	officer.clockTo("09:56")
	officer.goTo("/today")
	officer.see("expected 09:50")
	row := officer.MustElementX(`//section[.//h2[text()="Not back"]]`).MustText()
	assert.Contains(t, row, "Perran Hask")
	desk.goTo("/desk")
	desk.chooses("perran hask", "Perran is in")
	desk.keys(input.Enter)
	desk.see("Perran Hask in at 09:5")
	officer.gone("expected 09:50")
}

// isFetched: from the sheet whom to ring, and the departure is prepared at the desk.
func isFetched(t *testing.T, officer, desk *window) {
	officer.typed("/")
	officer.typed("tavi lund")
	officer.see("9 Bowline")
	officer.keys(input.Enter)
	officer.see("Tavi must be collected")
	officer.MustElementR("button", "Tavi must be collected").MustFocus()
	officer.keys(input.Enter)
	officer.see("waits in")
	officer.typed("sick room")
	officer.keys(input.Enter)
	officer.see("To be collected: ill, sick room")
	officer.MustElementR(".sheet button", "Spoke").MustFocus()
	officer.keys(input.Enter)
	officer.see("comes")
	officer.typed("1030")
	officer.keys(input.Enter)
	officer.see("comes by 10:30")
	desk.goTo("/desk")
	desk.see("To be collected")
	desk.chooses("tavi lund", "Tavi leaves")
	assert.Equal(t, "true", *desk.MustElementR("form dl button", "Mats Lund").MustAttribute("aria-pressed"), "who comes is chosen already")
	desk.keys(input.Enter)
	desk.see("collected by Mats Lund")
	officer.gone("To be collected")
}

// bare opens a page of the school in a browser that nobody has signed in on.
func (s *school) bare(t *testing.T, path string, width, height int) *window {
	t.Helper()
	page := s.profile(s.url + path)
	require.NoError(t, page.SetViewport(&proto.EmulationSetDeviceMetricsOverride{Width: width, Height: height, DeviceScaleFactor: 1}))
	return &window{Page: page.Timeout(5 * time.Minute), t: t, s: s}
}

// station binds a device and signs students in on it: right, wrong and in a hurry.
func station(t *testing.T, s *school, officer *window) {
	admin := s.open("admin")
	admin.goTo("/school/devices")
	admin.see("Stations")
	admin.field("Where the station stands").MustInput("Pier")
	admin.keys(input.Enter)
	code := admin.MustElement("[data-testid=station-code]").MustText()
	device := s.bare(t, "/station", 1024, 768)
	device.see("not set up as a station")
	device.typed("12345678")
	device.keys(input.Enter)
	device.see("that code is wrong")
	device.MustElement("input").MustSelectAllText().MustInput(code)
	device.keys(input.Enter)
	device.see("Hold your card to the reader")

	number := officer.MustEval(`() => fetch("/api/find?q=juno+sandal").then((r) => r.json()).then((l) => l[0].student.number)`).Str()
	for _, digit := range number { // by touch
		device.click(".pad button", "^"+string(digit)+"$")
	}
	device.click(".pad button", "Continue")
	device.see("Hello Juno S.")
	assert.NotContains(t, device.text(), "Sandal", "first name and initial alone")
	overslept := device.MustElementR(".reasons button", "overslept")
	// In a hurry: two touches on the same reason before the first is answered.
	overslept.MustEval(`function () { this.click(); this.click(); }`)
	device.see("Thank you, Juno S.")
	mine := func() int {
		return officer.MustEval(`() => fetch("/api/desk").then((r) => r.json()).then((d) => d.movements.filter((m) => m.student.name === "Juno Sandal").length)`).Int()
	}
	assert.Equal(t, 1, mine())
	device.keys(input.Escape)
	device.see("Hold your card")
	card := officer.MustEval(`() => fetch("/api/find?q=juno+sandal").then((r) => r.json()).then((l) => fetch("/api/registers/90/AM").then((r) => r.json()).then((v) => v.rows.find((r) => r.student.id === l[0].student.id).card))`).Str()
	device.scan(card)
	device.see("You are in since")
	device.keys(input.Escape)
	device.see("Hold your card")

	for range 3 {
		device.typed("00000")
		device.keys(input.Enter)
		device.see("Nobody here has that number")
		device.keys(input.Escape)
		device.see("Hold your card")
	}
	device.typed("00000")
	device.keys(input.Enter)
	device.see("Too many tries")
	assert.NotContains(t, device.text(), "Juno", "nothing of whoever stood there before")

	admin.click(`[aria-label="Take the station Pier out of use"]`, "")
	admin.see("out of use")
	device.MustReload()
	device.see("not set up as a station")
}
