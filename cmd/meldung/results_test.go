package main

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The command writes both tables, or says what is wrong, writes nothing and ends with 2.
func TestResults(t *testing.T) {
	t.Parallel()
	in := t.TempDir()
	put := func(name, text string) string {
		require.NoError(t, os.WriteFile(filepath.Join(in, name), []byte(text), 0o600))
		return filepath.Join(in, name)
	}
	put("courses.csv", "course,title,area,credits,core\nma,Maths,Sciences,0.5,true\n")
	put("students.csv", "student,year\ns1,9\n")
	put("grades.csv", "student,class,course,period,grade\ns1,,ma,Q1,F\n")
	rule := put("rule.yaml", "expected:\n  - {year: 9, credits: [0.5, 1]}\n")
	wrongRule := put("wrong.yaml", "line: -1\n")
	out := filepath.Join(t.TempDir(), "new")
	command := func(more ...string) ran { return program(t, append([]string{"results", "--in", in}, more...)...) }

	assert.Equal(t, 2, command("--as-at", "Q1", "--out", in).code)
	assert.Equal(t, ran{2, "", "rule: line 1: line \"-1\" is not a fraction such as 1/10 or 0.1\n"}, command("--as-at", "Q1", "--out", out, "--rule", wrongRule))
	assert.Equal(t, ran{2, "", "meldung: --as-at \"Q9\" is no period\n"}, command("--as-at", "Q9", "--out", out))
	put("exams.csv", "student,course,half_year,grade\ns1,ma,H1,A\n")
	assert.Equal(t, ran{2, "", "exams.csv:2: the course \"ma\" has no examination\n"}, command("--as-at", "Q1", "--out", out))
	assert.NoDirExists(t, out)
	require.NoError(t, os.Remove(filepath.Join(in, "exams.csv")))

	assert.Equal(t, ran{}, command("--as-at", "Q2", "--out", out, "--rule", rule))
	students, err := os.ReadFile(filepath.Join(out, "students.csv"))
	require.NoError(t, err)
	assert.Contains(t, string(students), "\ns1,1,0,0,0,1,0,0.5,0.5\n")
	courses, err := os.ReadFile(filepath.Join(out, "courses.csv"))
	require.NoError(t, err)
	assert.Contains(t, string(courses), "\ns1,ma,H1,F,,,,stands_lost,D\n")
	entries, err := os.ReadDir(out)
	require.NoError(t, err)
	assert.Len(t, entries, 2)
}
