package e2e

import (
	"bytes"
	"image/png"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/makiuchi-d/gozxing"
	"github.com/makiuchi-d/gozxing/qrcode"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestRegistersByEveryMeans takes the two registers that are out at 08:52 as people
// would: one by phones and by seat, the other by two people, by cards, and over a line
// that breaks.
func TestRegistersByEveryMeans(t *testing.T) {
	t.Parallel()
	s := startDemo(t, "08:52")
	osk := s.open("osk")
	byPhones(t, s, osk)
	bySeat(t, osk)
	byTwoPeople(t, s)
	earlierDay(t, osk)
}

// byPhones lets two students check themselves in, one of them for a friend as well.
func byPhones(t *testing.T, s *school, teacher *window) {
	teacher.goTo("/registers/48/AM")
	teacher.field("A question for the class").MustInput("One word for today?")
	teacher.click("button", "Let the class check in")
	teacher.see("It changes every 20 seconds")
	address := readCode(t, teacher)
	require.Contains(t, address, s.url+"/check-in?c=")
	numbers := teacher.MustEval(`() => fetch("/api/registers/48/AM").then((r) => r.json()).then((v) => v.checkIn.notYet.slice(0, 3).map((s) => s.number))`).Arr()

	scanned := s.phone(t, address)
	scanned.see("Your student number")
	scanned.MustElement("#number").MustInput("99999")
	scanned.MustElement("#answer").MustInput("windy")
	scanned.click("button", "I am here")
	scanned.see("no student of 8 Halyard has that number")
	scanned.MustElement("#number").MustSelectAllText().MustInput(numbers[0].Str())
	scanned.click("button", "I am here")
	scanned.see("your teacher confirms it")

	typed := s.phone(t, s.url+"/check-in")
	code := func() string { return teacher.MustElement("[data-testid=code]").MustText() }
	enter := func(number string) {
		typed.MustElement("#code").MustInput(code())
		typed.click("button", "Continue")
		typed.see("Your student number")
		typed.MustElement("#number").MustInput(number)
		typed.MustElement("#answer").MustInput("wet")
		typed.click("button", "I am here")
		typed.see("your teacher confirms it")
	}
	enter(numbers[1].Str())
	typed.MustNavigate(s.url + "/check-in")
	enter(numbers[2].Str())

	teacher.keys(input.Escape)
	teacher.see("3 in · open until 08:57")
	teacher.see("the same phone as")
	teacher.see("1 wrong code or number")
	teacher.click("button", "Confirm this one")
	teacher.see("confirmed")
	teacher.until(func() (bool, string) { return strings.Contains(tallyOf(teacher), "1 late"), "the mark, late at 08:52" })
	scanned.MustReload()
	scanned.see("your last days")
	typed.MustNavigate(s.url + "/check-in")
	typed.see("The code your teacher shows")
	assert.NotContains(t, typed.text(), "your last days", "a doubtful phone shows nobody's record")
}

// phone opens a page on a phone of its own.
func (s *school) phone(t *testing.T, url string) *window {
	t.Helper()
	page := s.profile(url)
	require.NoError(t, page.SetViewport(&proto.EmulationSetDeviceMetricsOverride{Width: 390, Height: 844, DeviceScaleFactor: 2, Mobile: true}))
	return &window{Page: page, t: t, s: s}
}

// readCode reads the QR code off the screen, with a reader in Go and with zbar.
func readCode(t *testing.T, w *window) string {
	t.Helper()
	picture := w.MustElement(".showcode img").MustWaitLoad().MustScreenshot()
	decoded, err := png.Decode(bytes.NewReader(picture))
	require.NoError(t, err)
	bitmap, err := gozxing.NewBinaryBitmapFromImage(decoded)
	require.NoError(t, err)
	read, err := qrcode.NewQRCodeReader().Decode(bitmap, nil)
	require.NoError(t, err)
	file := filepath.Join(t.TempDir(), "screen.png")
	require.NoError(t, os.WriteFile(file, picture, 0o600))
	zbar, err := exec.Command("zbarimg", "--quiet", "--raw", "-S*.disable", "-Sqrcode.enable", file).Output()
	require.NoError(t, err)
	assert.Equal(t, read.GetText(), strings.TrimSpace(string(zbar)))
	return read.GetText()
}

// bySeat draws the plan with the mouse and by keys, takes marks on it, and sends.
func bySeat(t *testing.T, w *window) {
	w.typed("s")
	w.see("No seats are arranged")
	w.typed("t")
	w.see("Space, arrows, Space")
	first := w.MustElement(".trayplace .seat")
	name := first.MustElement("b").MustText()
	drag(w, ".trayplace .seat", `[data-place="3"]`)
	w.until(func() (bool, string) {
		return w.MustHas(`[data-place="3"] .seat`) && w.MustElement(`[data-place="3"] .seat b`).MustText() == name, name + " to sit where they were dragged"
	})
	w.MustElement(`[data-place="3"] .seat`).MustFocus()
	for _, k := range []input.Key{input.Space, input.ArrowRight, input.ArrowRight, input.Space} {
		w.keys(k)
		w.MustWaitStable()
	}
	w.until(func() (bool, string) {
		return w.MustHas(`[data-place="5"] .seat`), name + " to sit two places to the right"
	})
	w.click("button", "Seat the other 25 by name")
	w.until(func() (bool, string) { return !w.MustHas(".trayplace .seat"), "everyone to have a seat" })
	w.typed("t")
	w.see("A tap marks")
	before := tallyOf(w)
	w.click(`[data-place="0"] .seat`, "")
	w.until(func() (bool, string) {
		return tallyOf(w) != before && strings.Contains(tallyOf(w), "1 no reason"), "the tap to mark"
	})
	w.typed("a")
	w.until(func() (bool, string) { return strings.Contains(tallyOf(w), "0 to mark"), "everyone else to be in" })
	w.typed("s") // one state for both views
	w.until(func() (bool, string) {
		return w.MustHas(".roll tbody tr") && strings.Contains(tallyOf(w), "1 no reason"), "the list to say the same"
	})
	w.control(input.Enter)
	w.see("A change is a correction with a reason")
}

func drag(w *window, from, to string) {
	w.t.Helper()
	w.MustWaitStable()
	a, b := w.MustElement(from).MustShape().Box(), w.MustElement(to).MustShape().Box()
	mouse := w.Mouse
	require.NoError(w.t, mouse.MoveTo(proto.NewPoint(a.X+a.Width/2, a.Y+a.Height/2)))
	mouse.MustDown(proto.InputMouseButtonLeft)
	require.NoError(w.t, mouse.MoveLinear(proto.NewPoint(b.X+b.Width/2, b.Y+b.Height/2), 12))
	w.MustWaitStable()
	mouse.MustUp(proto.InputMouseButtonLeft)
}

// byTwoPeople has a cover and the teacher on one register at once; then cards, a
// broken line, a closed tab, and the register goes out by itself.
func byTwoPeople(t *testing.T, s *school) {
	officer := s.open("tolvan")
	officer.goTo("/registers")
	officer.click("button", "Name a cover")
	officer.pick("Who is away", "jahn")
	officer.pick("Who takes the registers", "rask")
	officer.click("button", "Name for Tue 10 March")
	officer.see("T. Rask for M. Jahn")

	officer.clockTo("09:02") // the bells of the upper school are later
	over, broken := throughLine(t, s)
	rask := over.open("rask")
	rask.goTo("/registers")
	rask.see("T. Rask for M. Jahn")
	rask.click("a", "^11 Cleat$")
	rask.see("due by 09:05")
	jahn := s.open("jahn")
	jahn.goTo("/registers/179/AM")
	jahn.see("due by 09:05")

	jahn.typed("p")
	rask.see("M. Jahn 0") // without reloading
	rask.until(func() (bool, string) { return strings.HasPrefix(tallyOf(rask), "1 in"), "the other's mark" })

	// The line breaks; both mark the second row, differently.
	broken.set(true)
	rask.see("The line to the server is down")
	rask.keys(input.ArrowDown)
	rask.typed("l4")
	rask.keys(input.Enter)
	rask.see("1 mark is kept on this machine")
	jahn.typed("n")
	jahn.until(func() (bool, string) { return strings.Contains(tallyOf(jahn), "1 no reason"), "the mark" })
	broken.set(false)
	rask.see("M. Jahn 0")
	rask.see("N no reason yet, yours: L late 4")
	jahn.until(func() (bool, string) { return strings.Contains(tallyOf(jahn), "0 late"), "nothing to be overwritten" })
	rask.keys(input.ArrowUp)
	rask.typed("2")
	jahn.see("T. Rask 0")
	jahn.until(func() (bool, string) { return strings.Contains(tallyOf(jahn), "1 late"), "the chosen mark" })

	idris := officer.MustEval(`() => fetch("/api/find?q=idris%20quell").then((r) => r.json()).then((l) => l[0].student.number)`).Str()
	byCards(t, jahn, "FL7"+idris)

	// The line breaks for good; the register is finished, and the tab closed.
	rask.until(func() (bool, string) { return strings.Contains(tallyOf(rask), "2 late"), "the card's mark" })
	broken.set(true)
	rask.see("The line to the server is down")
	rask.typed("a")
	rask.until(func() (bool, string) { return strings.Contains(tallyOf(rask), "0 to mark"), "everyone else to be in" })
	rask.control(input.Enter)
	rask.see("goes out when it is back")
	elsewhere := rask.second("about:blank")
	rask.MustClose()
	broken.set(false)
	elsewhere.goTo("/registers")
	elsewhere.see("11 Cleat AM sent, ")
	jahn.see("A change is a correction with a reason")
	jahn.see("by T. Rask")
	assert.Equal(t, 1, jahn.MustEval(`() => fetch("/api/registers").then((r) => r.json()).then((v) => v.registers.filter((r) => r.title === "11 Cleat" && r.slot === "AM" && r.sentBy === "T. Rask").length)`).Int())
	once := jahn.MustEval(`() => fetch("/api/registers/179/AM").then((r) => r.json()).then((v) => v.rows.every((r) => r.versions.length === 1))`).Bool()
	assert.True(t, once, "each mark is stored once")
}

// pick chooses in a list by typing.
func (w *window) pick(label, text string) {
	w.t.Helper()
	w.field(label).MustInput(text)
	w.see("Name for")
	w.until(func() (bool, string) { return w.MustHas(".ant-select-item-option-active"), text + " to be found" })
	w.keys(input.Enter)
}

// byCards connects the reader's stand-in and holds cards to it while a note is written.
func byCards(t *testing.T, w *window, other string) {
	opened := w.MustWaitOpen()
	w.click("button", "card reader \\(simulated\\)")
	reader := &window{Page: opened(), t: t, s: w.s}
	reader.see("Connected")
	third := reader.MustElements("li button")[2]
	name := third.MustText()
	w.keys(input.ArrowDown)
	w.typed(";")
	w.typed("lost the bus pass")
	third.MustClick()
	w.see("is late, 0")
	note := w.MustEval(`() => [...document.querySelectorAll(".roll input.note")].map((n) => n.value).join()`).Str()
	assert.NotContains(t, note, "FL7", "a card leaves nothing in a field")
	reader.field("Card number").MustInput("FL000000")
	reader.click("button", "Hold this card")
	w.see("Unknown card: no student has the card FL000000")
	reader.field("Card number").MustSelectAllText().MustInput(other)
	reader.click("button", "Hold this card")
	w.see("Not on this register: a student who is in none of your classes") // whose card it is, is nothing to a teacher of others
	assert.Contains(t, w.text(), strings.Fields(strings.ReplaceAll(name, ",", ""))[0])
	reader.MustClose()
}

// earlierDay corrects a mark of the day before, reached by the rail.
func earlierDay(t *testing.T, w *window) {
	w.goTo("/registers/48/AM?at=2026-03-09")
	w.see("Mon 9 March · sent")
	w.click("button", "^correct$")
	w.MustElementR(".ant-modal button", "medical").MustFocus() // a dialog that opens moves under a pointer
	w.keys(input.Space)
	w.field("Why").MustInput("a note came from the surgery")
	w.click(".ant-modal button", "Save the correction")
	w.see("until Tue 10 March 0")
	w.see("a note came from the surgery · P. Osk")
	w.see("with what was corrected since")
	w.goTo("/registers/48/AM?at=2026-03-14")
	w.see("Sat 14 March is not a school day: 8 Halyard has no register")
	assert.Contains(t, w.text(), "All registers")
}
