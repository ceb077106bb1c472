package main

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/files/rulesfile"
)

// The command says what each rule means, or the first mistake by its line, and then ends with 2.
func TestRulesCheck(t *testing.T) {
	t.Parallel()
	file := filepath.Join(t.TempDir(), "rules.yaml")
	put := func(text string) { require.NoError(t, os.WriteFile(file, []byte(text), 0o600)) }
	put(string(rulesfile.Shipped()))
	r := program(t, "rules", "check", file)
	assert.Equal(t, 0, r.code)
	assert.Contains(t, r.stdout, "Chronic or severe absence: absent 10 % or more of the time this year (Ten per cent of days)\n")
	put("rules:\n  - id: a\n    title: A\n    on: false\n    all:\n      - failing: {}\n        at_least: 1\n")
	assert.Equal(t, ran{0, "A (off): failing 1 course or more\n", ""}, program(t, "rules", "check", file))
	put("rules:\n  - id: a\n    title: A\n    all:\n      - failing: {}\n        at_least: some\n")
	assert.Equal(t, ran{2, "", "rules: line 6: at_least \"some\" is not a fraction such as 1/10 or 0.1\n"}, program(t, "rules", "check", file))
	assert.Equal(t, 2, program(t, "rules", "check", file+".none").code)
	assert.Equal(t, 2, program(t, "rules", "check", file, "--policy", "nothing").code)
}
