package main

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The command writes all four files, or says what is wrong, writes nothing and ends with 2.
func TestOutlook(t *testing.T) {
	t.Parallel()
	in := t.TempDir()
	put := func(name, text string) string {
		require.NoError(t, os.WriteFile(filepath.Join(in, name), []byte(text), 0o600))
		return filepath.Join(in, name)
	}
	var b, apart strings.Builder
	for i := range 90 {
		fmt.Fprintf(&b, "s%02d,%d,%d,%s\n", i, i%3/2, (i*7)%11, []string{"Heron", "Coot"}[i%2])
		fmt.Fprintf(&apart, "s%02d,%d,%d,%s\n", i, i%3/2, i%3, []string{"Heron", "Coot"}[i%2])
	}
	header := "student,outcome,absent,ferry\n"
	history := put("history.csv", header+b.String())
	separated := put("apart.csv", header+apart.String())
	few := put("few.csv", header+strings.Join(strings.SplitAfter(b.String(), "\n")[:50], ""))
	today := put("today.csv", "student,absent,ferry\nn,3,\n")
	wrong := put("wrong.csv", "student,absent,ferry\nn,many,\n")
	out := filepath.Join(t.TempDir(), "new")
	command := func(more ...string) ran { return program(t, append([]string{"outlook", "--out", out}, more...)...) }
	for want, args := range map[string][]string{
		in + "/nothing.csv: the file is missing":                                              {"--history", in + "/nothing.csv"},
		wrong + `:2: absent "many" is not a number`:                                           {"--history", history, "--students", wrong},
		`meldung: --ridge "1e3" is not a decimal such as 0.5`:                                 {"--history", history, "--ridge", "1e3"},
		`meldung: --area: there is no input "late"`:                                           {"--history", history, "--area", "late=x"},
		few + ": 16 rows have outcome 1":                                                      {"--history", few},
		separated + ": the inputs separate the outcomes, so that no coefficients fit; give a": {"--history", separated},
		"meldung: required flag(s) \"history\" not set":                                       {},
	} {
		r := command(args...)
		assert.Equal(t, 2, r.code, want)
		assert.Contains(t, r.stderr, want)
		assert.Empty(t, r.stdout)
	}
	assert.NoDirExists(t, out)
	over := put("coefficients.csv", header+b.String())
	r := program(t, "outlook", "--history", over, "--out", in)
	assert.Equal(t, 2, r.code)
	assert.Contains(t, r.stderr, "would overwrite")

	assert.Equal(t, ran{}, command("--history", history, "--students", today, "--area", "absent=attendance", "--ridge", "0.25"))
	outlooks, err := os.ReadFile(filepath.Join(out, "outlooks.csv"))
	require.NoError(t, err)
	assert.Contains(t, string(outlooks), "student,probability,low,high,missing,share_attendance,share_ferry\nn,0.")
	assert.Equal(t, ran{}, command("--history", separated, "--ridge", "1"))
	entries, err := os.ReadDir(out)
	require.NoError(t, err)
	assert.Len(t, entries, 4)
}
