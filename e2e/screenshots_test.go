//go:build screenshots

package e2e

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"
)

// folder is where the pictures of the main views stand.
const folder = "../docs/screenshots"

// TestScreenshots renews the pictures of the main views.
func TestScreenshots(t *testing.T) {
	s := startDemo(t, "09:12")
	w := s.open("tolvan")
	for _, view := range []struct{ name, path, wait string }{
		{"today", "/today", "Call home"},
		{"registers", "/registers", "8 Halyard"},
		{"absence", "/absence", "Why"},
		{"signals", "/signals", "Calls due"},
		{"student", "/absence?student=232", "What happened"},
	} {
		w.goTo(view.path)
		w.see(view.wait)
		w.shot(folder + "/" + view.name + ".png")
	}
	w.goTo("/desk")
	w.field("Name, number or card").MustInput("garrow")
	w.see("Pip Garrow")
	w.keys('\r')
	w.see("because")
	w.shot(folder + "/desk.png")

	admin := s.open("admin")
	admin.goTo("/school")
	admin.see("students on the roll")
	admin.shot(folder + "/school.png")

	teacher := s.open("osk")
	teacher.goTo("/registers/48/AM")
	teacher.see("still to mark")
	teacher.typed("ppppnp")
	teacher.shot(folder + "/register.png")
}

// shot writes a picture.
func (w *window) shot(path string) {
	w.t.Helper()
	w.MustWaitDOMStable()
	data, err := w.Screenshot(false, nil)
	require.NoError(w.t, err)
	require.NoError(w.t, os.MkdirAll(filepath.Dir(path), 0o755))
	require.NoError(w.t, os.WriteFile(path, data, 0o644))
}
