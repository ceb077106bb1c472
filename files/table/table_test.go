package table_test

import (
	"os"
	"path/filepath"
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

func TestWriteFolderLeavesNothingBehindWhenItFails(t *testing.T) {
	folder := t.TempDir()
	require.NoError(t, os.Mkdir(filepath.Join(folder, ".b.csv.part"), 0o755)) // in the way
	assert.Error(t, table.WriteFolder(folder, table.Files{"a.csv": []byte("x"), "b.csv": []byte("y")}))
	_, err := os.Stat(filepath.Join(folder, "a.csv"))
	assert.True(t, os.IsNotExist(err))
	_, err = os.Stat(filepath.Join(folder, ".a.csv.part"))
	assert.True(t, os.IsNotExist(err))
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
