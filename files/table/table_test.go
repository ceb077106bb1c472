package table_test

import (
	"archive/zip"
	"bytes"
	"fmt"
	"io/fs"
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

// everything lists a folder with all below it, and what its files hold.
func everything(t *testing.T, folder string) map[string]string {
	out := map[string]string{}
	require.NoError(t, filepath.WalkDir(folder, func(path string, d fs.DirEntry, err error) error {
		require.NoError(t, err)
		content := d.Type().String()
		if d.Type().IsRegular() {
			text, err := os.ReadFile(path)
			require.NoError(t, err)
			content = string(text)
		}
		out[strings.TrimPrefix(path, folder)] = content
		return nil
	}))
	return out
}

// Whatever hinders the writing, the folder is left as it was.
func TestWriteFolderLeavesNothingBehindWhenItFails(t *testing.T) {
	files := table.Files{"a.csv": []byte("new"), "b.csv": []byte("new")}
	for name, c := range map[string]struct {
		files  table.Files
		hinder func(folder string) error
	}{
		"a name that no folder holds": {table.Files{"a.csv": []byte("new"), "b" + strings.Repeat("b", 240) + ".csv": nil}, func(string) error { return nil }},
		"a folder of that name":       {files, func(f string) error { return os.Mkdir(filepath.Join(f, "b.csv"), 0o755) }},
		"a folder with something in it": {files, func(f string) error {
			return os.MkdirAll(filepath.Join(f, "b.csv", "within"), 0o755)
		}},
	} {
		for _, before := range []string{"", "old"} {
			folder := t.TempDir()
			require.NoError(t, c.hinder(folder))
			require.NoError(t, os.WriteFile(filepath.Join(folder, "other.txt"), []byte("stays"), 0o644))
			if before != "" {
				require.NoError(t, os.WriteFile(filepath.Join(folder, "a.csv"), []byte(before), 0o644))
			}
			was := everything(t, folder)
			assert.Error(t, table.WriteFolder(folder, c.files), name)
			assert.Equal(t, was, everything(t, folder), name)
		}
	}
}

// Where the folder can't be made, or nothing be written into a new one, what was there
// stays, links that lead nowhere too, and no folder is left behind.
func TestWriteFolderThatCannotBeMade(t *testing.T) {
	root := t.TempDir()
	require.NoError(t, os.WriteFile(filepath.Join(root, "file"), []byte("stays"), 0o644))
	require.NoError(t, os.Symlink(filepath.Join(root, "nowhere"), filepath.Join(root, "link")))
	require.NoError(t, os.Mkdir(filepath.Join(root, "there"), 0o755))
	was := everything(t, root)
	for _, out := range []string{"file", "file/out", "file/out/deep", "link", "link/out", "there/" + strings.Repeat("x", 300), "there/new/" + strings.Repeat("x", 300)} {
		assert.Error(t, table.WriteFolder(filepath.Join(root, out), table.Files{"a.csv": []byte("new")}), out)
		assert.Equal(t, was, everything(t, root), out)
	}
	long := table.Files{"a.csv": []byte("new"), "b" + strings.Repeat("b", 240) + ".csv": nil}
	assert.Error(t, table.WriteFolder(filepath.Join(root, "new", "out"), long))
	assert.Equal(t, was, everything(t, root), "folders made for nothing are taken away")
}

// Names that an earlier run may have left are nobody's to overwrite.
func TestWriteFolderUsesNewNames(t *testing.T) {
	folder := t.TempDir()
	for _, name := range []string{".a.csv.part", ".a.csv.before", ".a.csv", "a.csv.part"} {
		require.NoError(t, os.WriteFile(filepath.Join(folder, name), []byte("somebody's"), 0o644))
	}
	require.NoError(t, os.WriteFile(filepath.Join(folder, "a.csv"), []byte("old"), 0o644))
	was := everything(t, folder)
	require.NoError(t, table.WriteFolder(folder, table.Files{"a.csv": []byte("new")}))
	was["/a.csv"] = "new"
	assert.Equal(t, was, everything(t, folder))
}

// A file that is a link is replaced, never written through.
func TestWriteFolderReplacesLinks(t *testing.T) {
	folder := t.TempDir()
	target := filepath.Join(t.TempDir(), "elsewhere.csv")
	require.NoError(t, os.WriteFile(target, []byte("stays"), 0o644))
	require.NoError(t, os.Symlink(target, filepath.Join(folder, "a.csv")))
	require.NoError(t, table.WriteFolder(folder, table.Files{"a.csv": []byte("new")}))
	assert.Equal(t, "new", everything(t, folder)["/a.csv"])
	text, err := os.ReadFile(target)
	require.NoError(t, err)
	assert.Equal(t, "stays", string(text))
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

func archive(t *testing.T, files ...string) []byte {
	t.Helper()
	var b bytes.Buffer
	w := zip.NewWriter(&b)
	for _, name := range files {
		f, err := w.Create(name)
		require.NoError(t, err)
		_, err = f.Write(bytes.Repeat([]byte("a,b\n"), 1<<20))
		require.NoError(t, err)
	}
	require.NoError(t, w.Close())
	return b.Bytes()
}

func TestWhatAnArchiveHoldsIsBounded(t *testing.T) {
	files, err := table.Unzip(archive(t, "roster/users.csv", "readme.txt"))
	require.NoError(t, err)
	assert.Equal(t, []string{"users.csv"}, files.Names())
	_, err = table.Unzip(archive(t, "a/users.csv", "b/users.csv"))
	assert.ErrorContains(t, err, "users.csv is in the archive twice")
	var many, large []string
	for n := range 201 {
		many = append(many, fmt.Sprint(n, ".csv"))
	}
	for n := range 65 {
		large = append(large, fmt.Sprint(n, ".csv"))
	}
	_, err = table.Unzip(archive(t, large...))
	assert.ErrorContains(t, err, "larger than 256 MB together")
	var b bytes.Buffer
	w := zip.NewWriter(&b)
	for _, name := range many {
		_, err := w.Create(name)
		require.NoError(t, err)
	}
	require.NoError(t, w.Close())
	_, err = table.Unzip(b.Bytes())
	assert.ErrorContains(t, err, "more than 200 files")
}
