// Package e2e drives the real interface against the real binary, as a person would.
package e2e

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/launcher"
	"github.com/go-rod/rod/lib/launcher/flags"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/demo"
	"meldung/store"
)

// binary is the program under test.
var binary string

func TestMain(m *testing.M) {
	os.Exit(run(m))
}

func run(m *testing.M) int {
	dir, err := os.MkdirTemp("", "meldung-e2e-")
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		return 1
	}
	defer os.RemoveAll(dir)
	binary = filepath.Join(dir, "meldung")
	if out, err := exec.Command("go", "build", "-o", binary, "../cmd/meldung").CombinedOutput(); err != nil {
		fmt.Fprintf(os.Stderr, "building the program: %v\n%s", err, out)
		return 1
	}
	return m.Run()
}

// school is one running program with its data folder.
type school struct {
	t    *testing.T
	url  string
	data string
	cmd  *exec.Cmd
	addr string
	args []string

	browser *rod.Browser // of this school alone, started with its first window
}

// as is the same running program, walked by another test in a browser of its own.
func (s *school) as(t *testing.T) *school {
	other := *s
	other.t, other.browser = t, nil
	return &other
}

// profile opens a page in a browser profile of its own. Each school has its own browser, Debian's, so
// that schools are walked beside each other and none stands behind another's windows.
func (s *school) profile(url string) *rod.Page {
	s.t.Helper()
	if s.browser == nil {
		s.browser = launch(s.t)
	}
	profile, err := s.browser.Incognito()
	require.NoError(s.t, err)
	page, err := profile.Page(proto.TargetCreateTarget{URL: url})
	require.NoError(s.t, err)
	s.t.Cleanup(func() { _ = page.Close() })
	return page
}

func launch(t *testing.T) *rod.Browser {
	t.Helper()
	l := launcher.New().Bin("/usr/bin/chromium").Headless(true).NoSandbox(true).UserDataDir(t.TempDir())
	for _, f := range []flags.Flag{"disable-gpu", "disable-quic", "no-first-run", "disable-background-networking", "disable-component-update", "disable-sync"} {
		l = l.Set(f)
	}
	url, err := l.Launch()
	require.NoError(t, err, "starting chromium")
	t.Cleanup(func() {
		l.Kill()
		l.Cleanup()
	})
	b := rod.New().ControlURL(url)
	require.NoError(t, b.Connect())
	return b
}

// startDemo starts the demonstration at a time of its day.
func startDemo(t *testing.T, at string) *school {
	t.Helper()
	from, err := built()
	require.NoError(t, err)
	content, err := os.ReadFile(filepath.Join(from, store.File))
	require.NoError(t, err)
	data := t.TempDir()
	require.NoError(t, os.WriteFile(filepath.Join(data, store.File), content, 0o600))
	return startIn(t, data, "demo", "--years", "1", "--at", "2026-03-10T"+at)
}

// built is a folder with the invented school as it is before the demonstration's day, built once for all tests.
var built = sync.OnceValues(func() (folder string, err error) {
	if folder, err = os.MkdirTemp(filepath.Dir(binary), "built-"); err != nil {
		return "", err
	}
	db, err := store.Open(context.Background(), folder)
	if err != nil {
		return "", err
	}
	defer func() { err = errors.Join(err, db.Close()) }()
	return folder, demo.NewOf(demo.Options{Years: 1}).Build(context.Background(), db, day.MustDate("2026-03-10"), func(int) {})
})

func start(t *testing.T, args ...string) *school {
	t.Helper()
	return startIn(t, t.TempDir(), args...)
}

func startIn(t *testing.T, data string, args ...string) *school {
	t.Helper()
	addr := freeAddress(t)
	s := &school{t: t, addr: addr, url: "http://" + addr, data: data, args: args}
	s.up()
	t.Cleanup(s.kill)
	return s
}

func freeAddress(t *testing.T) string {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	defer l.Close()
	return l.Addr().String()
}

func (s *school) up() {
	s.cmd = exec.Command(binary, append(s.args, "--addr", s.addr, "--data", s.data)...)
	s.cmd.Stderr = os.Stderr
	require.NoError(s.t, s.cmd.Start())
	for range 1200 {
		if r, err := http.Get(s.url + "/healthz"); err == nil {
			r.Body.Close()
			return
		}
		time.Sleep(100 * time.Millisecond)
	}
	s.t.Fatal("the program did not get ready in two minutes")
}

// kill ends the program as a power cut would.
func (s *school) kill() {
	if s.cmd.Process != nil {
		_ = s.cmd.Process.Kill()
		_, _ = s.cmd.Process.Wait()
	}
}

// window is one signed-in browser window.
type window struct {
	*rod.Page
	t *testing.T
	s *school
}

// open signs a person in, in a browser profile of their own.
func (s *school) open(username string) *window {
	s.t.Helper()
	return s.openSized(username, 1280, 800)
}

func (s *school) openSized(username string, width, height int) *window {
	s.t.Helper()
	page := s.profile(s.url)
	require.NoError(s.t, page.SetViewport(&proto.EmulationSetDeviceMetricsOverride{Width: width, Height: height, DeviceScaleFactor: 1}))
	w := &window{Page: page.Timeout(8 * time.Minute), t: s.t, s: s}
	w.field("Name").MustInput(username)
	w.field("Password").MustInput(demo.Password)
	w.keys(input.Enter)
	w.MustElement(".band nav")
	return w
}

// second opens another tab in the same browser.
func (w *window) second(path string) *window {
	w.t.Helper()
	if strings.HasPrefix(path, "/") {
		path = w.s.url + path
	}
	page, err := w.Browser().Page(proto.TargetCreateTarget{URL: path})
	require.NoError(w.t, err)
	w.t.Cleanup(func() { _ = page.Close() })
	return &window{Page: page.Timeout(5 * time.Minute), t: w.t, s: w.s}
}

func (w *window) goTo(path string) {
	w.t.Helper()
	w.MustNavigate(w.s.url + path)
	w.MustElement("main")
}

// field finds an input by its label.
func (w *window) field(label string) *rod.Element {
	w.t.Helper()
	return w.Timeout(time.Minute).MustElementX(fmt.Sprintf(`//label[normalize-space(text())=%[1]q]//*[self::input or self::textarea] | //*[self::input or self::textarea][@aria-label=%[1]q]`, label)).CancelTimeout()
}

// click clicks on what a selector, or a path from //, and a pattern of its text find. What is made
// anew while it is clicked is found again, and a page that stands behind another one, where nothing
// is drawn, comes to the front.
func (w *window) click(selector, text string) {
	w.t.Helper()
	var err error
	for range 10 {
		if err = w.clickOnce(selector, text); err == nil {
			return
		}
		_, _ = w.Activate()
	}
	w.t.Fatalf("%s %s can't be clicked on: %v; the page says:\n%s", selector, text, err, w.text())
}

func (w *window) clickOnce(selector, text string) error {
	page := w.Timeout(4 * time.Second)
	defer page.CancelTimeout()
	var el *rod.Element
	var err error
	switch {
	case strings.HasPrefix(selector, "//"):
		el, err = page.ElementX(selector)
	case text != "":
		el, err = page.ElementR(selector, text)
	default:
		el, err = page.Element(selector)
	}
	if err != nil {
		return err
	}
	return el.Click(proto.InputMouseButtonLeft, 1)
}

// choose takes an option of a control that opens a list, by keys alone.
func (w *window) choose(label, option string) {
	w.t.Helper()
	w.MustElement(fmt.Sprintf(`input[role="combobox"][aria-label=%q]`, label)).MustFocus()
	w.keys(input.ArrowDown)
	active := func() string {
		if has, el, _ := w.Has(".ant-select-dropdown:not(.ant-select-dropdown-hidden) .ant-select-item-option-active"); has {
			return el.MustText()
		}
		return ""
	}
	for range 60 {
		w.until(func() (bool, string) { return active() != "", option + " to be offered" })
		if active() == option {
			break
		}
		w.keys(input.ArrowDown)
	}
	w.keys(input.Enter)
}

// see waits until the page shows a text.
func (w *window) see(text string) {
	w.t.Helper()
	w.until(func() (bool, string) {
		return strings.Contains(w.text(), text), "the page to show " + strconv.Quote(text)
	})
}

func (w *window) text() string {
	r, err := w.Eval(`() => document.body.innerText`)
	if err != nil {
		return ""
	}
	return r.Value.Str()
}

// until waits for something to become true.
func (w *window) until(ready func() (bool, string)) {
	w.t.Helper()
	what := ""
	for range 400 {
		ok, words := ready()
		if ok {
			return
		}
		what = words
		time.Sleep(75 * time.Millisecond)
	}
	w.t.Fatalf("waited in vain for %s; the page says:\n%s", what, w.text())
}

func (w *window) keys(keys ...input.Key) { w.Keyboard.MustType(keys...) }

// typed types a text as keys, one by one, with the pauses of a quick hand: faster, and
// they would be a card reader's.
func (w *window) typed(text string) {
	for _, r := range text {
		w.keys(input.Key(r))
		time.Sleep(50 * time.Millisecond)
	}
}

func (w *window) control(key input.Key) {
	w.KeyActions().Press(input.ControlLeft).Type(key).Release(input.ControlLeft).MustDo()
}

// quick types a quick line and waits until it says what it will do.
func (w *window) quick(line, will string) {
	w.t.Helper()
	w.typed("/")
	w.typed(line)
	w.see(will)
	w.keys(input.Enter)
	w.until(func() (bool, string) {
		left := w.MustEval(`() => document.querySelector(".quick input").value`).Str()
		return left == "", "the quick line to be done"
	})
}

// count reads the equation and checks that it adds up.
func (w *window) count() map[string]int {
	w.t.Helper()
	var parts map[string]int
	w.until(func() (bool, string) {
		r, err := w.Eval(`() => JSON.stringify(Object.fromEntries([...document.querySelectorAll("[data-testid=count] b[data-state]")].map((b) => [b.dataset.state, Number(b.textContent)])))`)
		if err != nil {
			return false, err.Error()
		}
		parts = map[string]int{}
		require.NoError(w.t, json.Unmarshal([]byte(r.Value.Str()), &parts))
		return parts["roll"] > 0, "the count"
	})
	sum := 0
	for state, n := range parts {
		if state != "roll" {
			sum += n
		}
	}
	require.Equal(w.t, parts["roll"], sum, "the equation adds up: %v", parts)
	return parts
}
