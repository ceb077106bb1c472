package e2e

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A rule is built by keys until its sentence reads right, tried on the last term, saved and found among the
// concerns; another who changed it meanwhile is told; a broken file of rules, then a good one.
func TestRulesOfAttention(t *testing.T) {
	t.Parallel()
	s := startDemo(t, "09:12")
	w := s.open("ase")
	w.goTo("/concerns")
	w.see("Mika Ulvar")
	w.see("failing 10 courses: ") // and which
	w.goTo("/concerns/rules")
	w.see("Three unexcused days in ten")
	w.MustElementR("button", "New rule").MustFocus()
	w.keys(input.Enter)
	w.see("it says nothing")
	w.field("Called").MustInput("Monday drift")
	w.MustElementR("button", "Add a piece").MustFocus()
	w.keys(input.Enter)
	w.choose("What is looked at, piece 1", "absence")
	w.see("A student absent unexcused on 3 or more of the last 10 school days.")
	w.field("Over how many, piece 1").MustSelectAllText().MustInput("4")
	w.choose("On which weekday, piece 1", "Mondays")
	w.field("How much, piece 1").MustSelectAllText().MustInput("many")
	w.see("is not a fraction")
	w.field("How much, piece 1").MustSelectAllText().MustInput("2")
	w.see("A student absent unexcused for 2 days or more on the last 4 Mondays.")
	w.see("as at Mon 9 March")
	w.click("button", "^Try it$")
	w.see("found, and never came to it")
	w.click("button", "^Save, and it is on$")
	w.see("“Monday drift” saved")
	w.goTo("/concerns")
	w.see("Monday drift")

	// Two change one rule: the second is told.
	w.goTo("/concerns/rules?rule=monday-drift")
	w.see("on the last 4 Mondays")
	admin := s.open("admin")
	admin.goTo("/concerns/rules?rule=monday-drift")
	admin.see("on the last 4 Mondays")
	body := `{"rule":` + admin.MustEval(`() => fetch("/api/rules/one?id=monday-drift").then((r) => r.json()).then((v) => JSON.stringify({ ...v.form, on: false }))`).Str() + `,"off":false,"version":` +
		admin.MustEval(`() => fetch("/api/rules/one?id=monday-drift").then((r) => r.json()).then((v) => String(v.version))`).Str() + `}`
	save := `(body, key) => fetch("/api/rules", { method: "POST", headers: { "Content-Type": "application/json", "Idempotency-Key": key }, body }).then((r) => r.status)`
	assert.Equal(t, 200, admin.MustEval(save, body, "first of two").Int())
	assert.Equal(t, 409, w.MustEval(save, body, "second of two").Int())
	w.goTo("/concerns/rules")
	w.see("Monday drift · off")

	folder := t.TempDir()
	put := func(text string) string {
		name := filepath.Join(folder, "rules.yaml")
		require.NoError(t, os.WriteFile(name, []byte(text), 0o600))
		return name
	}
	w.MustElement("input[type=file]").MustSetFiles(put("rules:\n  - id: late\n    title: Late\n    all:\n      - lates: {}\n"))
	w.see("rules: line 5: the comparison is missing")
	w.MustElement("input[type=file]").MustSetFiles(put("rules:\n  - id: late\n    title: Late\n    all:\n      - lates: {window: term}\n        at_least: 3\n"))
	w.see("Late (new): late 3 times or more this term")
	w.click("button", "^Take these rules$")
	w.see("The rules of the file are the school’s")

	officer := s.open("tolvan")
	officer.goTo("/concerns/rules?rule=late")
	officer.see("A student late 3 times or more this term.")
	officer.gone("Take the rule off")
	teacher := s.open("osk")
	assert.Equal(t, 403, teacher.MustEval(`() => fetch("/api/rules").then((r) => r.status)`).Int())
}
