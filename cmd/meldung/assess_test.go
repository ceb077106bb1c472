package main

import (
	"bytes"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestMain lets the test binary stand for the program, so that exit codes and
// streams are those of the real thing.
func TestMain(m *testing.M) {
	if os.Getenv("MELDUNG_AS_PROGRAM") != "" {
		main()
		os.Exit(0)
	}
	os.Exit(m.Run())
}

type ran struct {
	code           int
	stdout, stderr string
}

func program(t *testing.T, args ...string) ran {
	t.Helper()
	var stdout, stderr bytes.Buffer
	c := exec.Command(os.Args[0], args...)
	c.Env = append(os.Environ(), "MELDUNG_AS_PROGRAM=1")
	c.Stdout, c.Stderr = &stdout, &stderr
	if err := c.Run(); err != nil {
		require.IsType(t, &exec.ExitError{}, err)
	}
	return ran{c.ProcessState.ExitCode(), stdout.String(), stderr.String()}
}

// year writes a small school's year and returns its folder.
func year(t *testing.T, marks string) string {
	t.Helper()
	folder := t.TempDir()
	for name, text := range map[string]string{
		"calendar.csv": "date,day,term,grading_period\n2025-09-01,full,autumn,q1\n",
		"slots.csv":    "day,slot,start,end\nfull,1,09:00,09:50\n",
		"students.csv": "student,family_name,given_name,year,form,enrolled_from,enrolled_to,share_here,share_elsewhere\na,Fenn,Odd,7,7 Reef,2025-09-01,,,\n",
		"marks.csv":    "student,date,slot,code,from,to,class\n" + marks,
		"notes.csv":    "is,not,read\n\"",
	} {
		require.NoError(t, os.WriteFile(filepath.Join(folder, name), []byte(text), 0o644))
	}
	return folder
}

func assessing(in, out string) []string {
	return []string{"assess", "--policy", "ten-percent", "--as-at", "2025-09-01", "--in", in, "--out", out}
}

func TestAssessWritesThreeTables(t *testing.T) {
	t.Parallel()
	out := filepath.Join(t.TempDir(), "new", "folder")
	assert.Equal(t, ran{}, program(t, assessing(year(t, "a,2025-09-01,1,U,,,\n"), out)...), "nothing on the standard output")
	students, err := os.ReadFile(filepath.Join(out, "students.csv"))
	require.NoError(t, err)
	assert.Contains(t, string(students), "a,day,1,1,0,1,0,0,0,0,50,50,50,100.0,,none,10\n")
	entries, err := os.ReadDir(out)
	require.NoError(t, err)
	assert.Len(t, entries, 3, "students.csv, triggers.csv and steps.csv")
}

func TestAssessRefusesAndWritesNothing(t *testing.T) {
	t.Parallel()
	good := year(t, "a,2025-09-01,1,U,,,\n")
	file := filepath.Join(good, "marks.csv")
	fresh := func() string { return filepath.Join(t.TempDir(), "out") }
	for _, c := range []struct {
		name, out, want string
		args            []string
	}{
		{name: "a fault in a file", args: assessing(year(t, "a,2025-09-01,1,u,,,\n"), ""), want: "marks.csv:2: the code \"u\" is not in the policy's codes\n"},
		{name: "a date", args: []string{"assess", "--policy", "hours", "--as-at", "1.9.2025", "--in", good}, want: "meldung: --as-at \"1.9.2025\" is not a date\n"},
		{name: "a policy", args: []string{"assess", "--policy", file, "--as-at", "2025-09-01", "--in", good}, want: "policy: line 1: keys and values are expected\n"},
		{name: "no folder to read", args: []string{"assess", "--policy", "hours", "--as-at", "2025-09-01", "--in", good + "/none"}, want: "meldung: --in: stat " + good + "/none: no such file or directory\n"},
		{name: "a file for a folder", args: []string{"assess", "--policy", "hours", "--as-at", "2025-09-01", "--in", file}, want: "meldung: --in " + file + " is not a folder\n"},
		{name: "the folder that is read", out: good + "/.", args: []string{"assess", "--policy", "hours", "--as-at", "2025-09-01", "--in", good}, want: "meldung: --out can't be the folder that is read\n"},
		{name: "a place that can't be written", out: file + "/out", args: []string{"assess", "--policy", "hours", "--as-at", "2025-09-01", "--in", good}, want: "meldung: making " + file + "/out: mkdir " + file + ": not a directory\n"},
		{name: "a missing flag", args: []string{"assess", "--policy", "hours", "--as-at", "2025-09-01"}, want: "meldung: required flag(s) \"in\" not set\n"},
		{name: "an unknown flag", args: []string{"assess", "--polcy", "hours"}, want: "meldung: unknown flag: --polcy\n"},
		{name: "a word too many", args: append(assessing(good, ""), "more"), want: "meldung: unknown command \"more\" for \"meldung assess\"\n"},
	} {
		out := c.out
		if out == "" {
			out = fresh()
		}
		got := program(t, append(c.args, "--out", out)...)
		assert.Equal(t, ran{code: 2, stderr: c.want}, got, c.name)
		_, err := os.Stat(filepath.Join(out, "triggers.csv"))
		assert.Error(t, err, c.name)
	}
}

func TestAHundredFaultsAreToldAndTheRestCounted(t *testing.T) {
	t.Parallel()
	out := filepath.Join(t.TempDir(), "out")
	got := program(t, assessing(year(t, strings.Repeat("nobody,2025-09-01,1,U,,,\n", 107)), out)...)
	lines := strings.Split(strings.TrimSuffix(got.stderr, "\n"), "\n")
	require.Len(t, lines, 101)
	assert.Equal(t, `marks.csv:101: the student "nobody" is not in students.csv`, lines[99])
	assert.Equal(t, "7 more", lines[100])
	_, err := os.Stat(out)
	assert.ErrorIs(t, err, os.ErrNotExist, "the folder is not even made")
}

func TestPoliciesAreListedAndPrintedToEdit(t *testing.T) {
	t.Parallel()
	list := program(t, "policies")
	assert.Contains(t, list.stdout, "lates-example    Lates, an example (codes plain)\n")
	assert.Contains(t, list.stdout, "sessions-2024    34 codes\n")
	for _, id := range []string{"hours", "plain"} {
		shown := program(t, "policies", "show", id)
		assert.Equal(t, 0, shown.code)
		assert.Contains(t, shown.stdout, "codes:")
	}
	assert.Equal(t, ran{code: 1, stderr: "meldung: there is no shipped policy \"none\"; there are hours, lates-example, letters, sessions, ten-percent\n"},
		program(t, "policies", "show", "none"))
}

// An edited copy of a shipped policy is a policy.
func TestAPrintedPolicyCanBeEditedAndUsed(t *testing.T) {
	t.Parallel()
	shown := program(t, "policies", "show", "ten-percent").stdout
	edited := filepath.Join(t.TempDir(), "own.yaml")
	require.NoError(t, os.WriteFile(edited, []byte(strings.Replace(shown, "min_possible: 10", "min_possible: 1", 1)), 0o644))
	out := t.TempDir()
	args := assessing(year(t, "a,2025-09-01,1,U,,,\n"), out)
	args[2] = edited
	assert.Equal(t, ran{}, program(t, args...))
	students, err := os.ReadFile(filepath.Join(out, "students.csv"))
	require.NoError(t, err)
	assert.Contains(t, string(students), fmt.Sprint(",100.0,", "severe,none,10\n"))
}
