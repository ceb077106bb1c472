package table_test

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/files/table"
)

func lines(t *table.Table) []string {
	out := []string{}
	for _, p := range t.Problems {
		out = append(out, p.String())
	}
	return out
}

func TestReading(t *testing.T) {
	got := table.Read("a.csv", []byte("\ufeffb,a,more\r\n1,\"x, \"\"y\"\"\nz\",q\r\n\r\n2,w,\n"), []string{"a", "b"}, nil)
	require.Empty(t, got.Problems)
	require.Len(t, got.Rows, 2)
	assert.Equal(t, "x, \"y\"\nz", got.Rows[0].Get("a"))
	assert.Equal(t, []int{2, 5}, []int{got.Rows[0].Line, got.Rows[1].Line}, "the physical line on which a record starts")
	assert.Equal(t, []string{"more"}, got.Unknown)
	assert.Equal(t, "", got.Rows[0].Get("more"), "a column nobody asked for is left out")
}

func TestWhatIsWrongIsSaidByLine(t *testing.T) {
	for _, c := range []struct {
		name, text string
		want       []string
	}{
		{"empty", "", []string{"a.csv:1: the file is empty; a header row is expected"}},
		{"missing column", "a\n1\n", []string{`a.csv:1: the column "b" is missing`}},
		{"column twice", "a,b,a\n1,2,3\n", []string{`a.csv:1: the column "a" is there twice`}},
		{"fewer fields", "a,b\n1\n1,2\n", []string{"a.csv:2: 1 fields where the header has 2"}},
		{"more fields", "a,b\n1,2\n1,2,3\n", []string{"a.csv:3: 3 fields where the header has 2"}},
		{"not UTF-8", "a,b\n\xff,2\n", []string{"a.csv:2: this line is not valid UTF-8"}},
		{"stray quote", "a,b\nx\"y,2\n3,4\n", []string{"a.csv:2: a stray quote in an unquoted field"}},
		{"unfinished quote", "a,b\n1,2\n\"x,2\n", []string{"a.csv:3: a stray or unfinished quote"}},
	} {
		assert.Equal(t, c.want, lines(table.Read("a.csv", []byte(c.text), []string{"a", "b"}, nil)), c.name)
	}
}

// Whatever hinders the writing, the folder is left as it was.
func TestWriteFolderLeavesNothingBehindWhenItFails(t *testing.T) {
	files := table.Files{"a.csv": []byte("new"), "b.csv": []byte("new")}
	for name, hinder := range map[string]func(folder string) error{
		"no place for the new file": func(f string) error { return os.Mkdir(filepath.Join(f, ".b.csv.part"), 0o755) },
		"a full disk":               func(f string) error { return os.Symlink("/dev/full", filepath.Join(f, ".b.csv.part")) },
		"a folder of that name":     func(f string) error { return os.Mkdir(filepath.Join(f, "b.csv"), 0o755) },
	} {
		for _, before := range []string{"", "old"} {
			folder := t.TempDir()
			require.NoError(t, hinder(folder))
			require.NoError(t, os.WriteFile(filepath.Join(folder, "other.txt"), []byte("stays"), 0o644))
			if before != "" {
				require.NoError(t, os.WriteFile(filepath.Join(folder, "a.csv"), []byte(before), 0o644))
			}
			assert.Error(t, table.WriteFolder(folder, files), name)
			got, _ := os.ReadFile(filepath.Join(folder, "a.csv"))
			assert.Equal(t, before, string(got), name)
			for _, left := range []string{".a.csv.part", ".a.csv.before"} {
				_, err := os.Lstat(filepath.Join(folder, left))
				assert.ErrorIs(t, err, os.ErrNotExist, "%s: %s", name, left)
			}
			_, err := os.Stat(filepath.Join(folder, "other.txt"))
			assert.NoError(t, err)
		}
	}
}

func TestWriteFolderReplacesFilesAndKeepsOthers(t *testing.T) {
	folder := filepath.Join(t.TempDir(), "made", "here")
	require.NoError(t, table.WriteFolder(folder, table.Files{"a.csv": []byte("1"), "b.csv": []byte("1")}))
	require.NoError(t, table.WriteFolder(folder, table.Files{"a.csv": []byte("2")}))
	for name, want := range map[string]string{"a.csv": "2", "b.csv": "1"} {
		got, err := os.ReadFile(filepath.Join(folder, name))
		require.NoError(t, err)
		assert.Equal(t, want, string(got))
	}
	entries, err := os.ReadDir(folder)
	require.NoError(t, err)
	assert.Len(t, entries, 2, "no temporary names stay")
}

func TestScanHandsOnWhatIsNotUTF8(t *testing.T) {
	var got []string
	tab := table.Scan("a.csv", strings.NewReader("a,b\n1,\xff\n2,x,\xff\n3,y\n"), []string{"a", "b"}, nil, func(_ *table.Table, r table.Row) {
		got = append(got, fmt.Sprintf("%d %s %t %t", r.Line, r.Get("a"), r.Readable("a"), r.Readable("b")))
	})
	assert.Equal(t, []string{"2 1 true false", "4 3 true true"}, got)
	assert.Equal(t, []string{"a.csv:2: this line is not valid UTF-8", "a.csv:3: this line is not valid UTF-8", "a.csv:3: 3 fields where the header has 2"}, lines(tab))
	assert.Equal(t, []int{3, 1}, []int{tab.Records, tab.Lost})
}

func TestManyRecordsComeInOrder(t *testing.T) {
	var text strings.Builder
	text.WriteString("n\n")
	for n := range 3000 {
		fmt.Fprintln(&text, n)
	}
	got := table.Read("a.csv", []byte(text.String()), []string{"n"}, nil)
	require.Len(t, got.Rows, 3000)
	for n, r := range got.Rows {
		require.Equal(t, fmt.Sprint(n), r.Get("n"))
		require.Equal(t, n+2, r.Line)
	}
}

func FuzzRead(f *testing.F) {
	f.Add([]byte("a,b\n1,2\n"))
	f.Add([]byte("a,b\n\"1,2\n"))
	f.Fuzz(func(t *testing.T, content []byte) {
		got := table.Read("a.csv", content, []string{"a"}, []string{"b"})
		for _, r := range got.Rows {
			if r.Line < 2 {
				t.Fatalf("a row on line %d", r.Line)
			}
		}
	})
}
