package e2e

import (
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// anAccount goes from being made over its first password to its end, which signs it out at once.
func anAccount(t *testing.T, s *school) {
	admin := s.open("admin")
	admin.goTo("/school/accounts")
	admin.see("Accounts")
	admin.MustElement(`input[placeholder="user name"]`).MustInput("quist")
	admin.choose("Role", "officer") // a teacher's would need one of the staff
	admin.MustElement(`input[placeholder="name"]`).MustInput("B. Quist")
	admin.click("button", "Make the account")
	admin.see("quist signs in once with")
	first := admin.MustElementX(`//*[@role="status"]//b[2]`).MustText()

	page := s.profile(s.url)
	quist := &window{Page: page.Timeout(time.Minute), t: t, s: s}
	enter := func(password string) {
		quist.field("Name").MustInput("quist")
		quist.field("Password").MustInput(password)
		quist.keys(input.Enter)
	}
	enter(first)
	quist.see("choose a password of your own")
	assert.Equal(t, 403, quist.MustEval(`() => fetch("/api/registers").then((r) => r.status)`).Int(), "a one-time password opens nothing else")
	quist.field("Password").MustInput("petrel at nine")
	quist.keys(input.Enter)
	quist.MustElement(".band nav")
	assert.Equal(t, 200, quist.MustEval(`() => fetch("/api/registers").then((r) => r.status)`).Int())

	admin.goTo("/school/accounts")
	admin.click(`//tr[td[1][text()="quist"]]//button[normalize-space()="End"]`, "")
	admin.click("button", "End the account")
	quist.until(func() (bool, string) {
		return quist.MustEval(`() => fetch("/api/session").then((r) => r.status)`).Int() == 401, "the account's end to sign it out"
	})
	admin.goTo("/school/record")
	admin.see("did: account ended")
}

// twoCalls has two officers log the same call: what the first has stored is told to the second.
func twoCalls(t *testing.T, s *school) {
	first, second := s.open("tolvan"), s.open("ase")
	for _, w := range []*window{first, second} {
		w.see("Call home")
		w.MustElement(".home.chosen")
	}
	name := second.MustElement(".home.chosen").MustAttribute("aria-label")
	require.NotNil(t, name)
	second.typed("1i")
	second.MustElement(`.home.chosen input[aria-label="Note"]`).MustInput("since the night")
	require.Equal(t, *name, *first.MustElement(".home.chosen").MustAttribute("aria-label"))
	first.typed("1i")
	first.click(".home.chosen button", "Save")
	second.see("Nothing of yours is saved yet")
	second.click(".home.chosen button", "Save")
	second.see("R. Tolvan saved at 09:12")
	assert.Equal(t, "since the night", second.MustElement(`.home.chosen input[aria-label="Note"]`).MustProperty("value").Str())
	second.keys(input.Escape)
	second.until(func() (bool, string) {
		return !second.MustHas(`.home[aria-label="` + *name + `"]`), "the home to leave the list"
	})
}

// whoHasLeft has the data of nobody erased that the school has not decided about.
func whoHasLeft(t *testing.T, s *school) {
	admin := s.open("admin")
	admin.goTo("/school/people/left")
	admin.see("Nobody has left whose data are still here.")
	admin.field("Years for which data are kept").MustInput("3")
	admin.keys(input.Enter)
	admin.see("Nothing is erased automatically.")
	size := admin.MustEval(`() => fetch("/api/students/232/everything").then((r) => r.blob()).then((b) => b.size)`).Int()
	assert.Greater(t, size, 5000, "everything about a student as files")
	officer := s.open("tolvan")
	assert.Equal(t, 403, officer.MustEval(`() => fetch("/api/students/232/everything").then((r) => r.status)`).Int())
}
