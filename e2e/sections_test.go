package e2e

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// Two strips of the day stand one over the other. Whoever looks at one section sees it alone on
// every page of the tab, also after a reload, and each place says so; the door back is "All".
func TestOneSectionOrAll(t *testing.T) {
	t.Parallel()
	s := startDemo(t, "09:12")
	w := s.open("tolvan")
	part := func(state string) string {
		return w.MustElement(`[data-testid=count] [data-state=` + state + `]`).MustText()
	}
	w.goTo("/today")
	w.see("Upper School")
	assert.Len(t, w.MustElements(".rail .strip"), 2)
	assert.Equal(t, "612", part("roll"))
	w.click(".rail .sections button", "Upper School")
	w.until(func() (bool, string) { return part("roll") == "204", "the upper school's roll" })
	assert.Len(t, w.MustElements(".rail .strip"), 1)
	w.see("day 113 of 189")
	w.see("11 Cleat")
	w.gone("8 Halyard")
	w.click(".band nav a", "Registers")
	w.see("AM registration, Upper School")
	w.gone("AM registration, Lower School")
	w.click(".band nav a", "Absence")
	w.see("204 students in Upper School by share")
	w.MustReload()
	w.see("204 students in Upper School by share")
	w.goTo("/reasons")
	w.see("Half-day sessions · Upper School")
	w.goTo("/outbox")
	w.see("Outbox, Upper School")
	other := s.open("ase")
	other.goTo("/today")
	other.see("612")
	w.click(".rail .sections button", "All")
	w.goTo("/today")
	w.until(func() (bool, string) { return part("roll") == "612", "everyone again" })
	w.see("8 Halyard")
}
