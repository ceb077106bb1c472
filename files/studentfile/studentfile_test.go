package studentfile

import (
	"archive/zip"
	"bytes"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// Whatever a record holds is read back as it was.
func TestARecordIsReadBack(t *testing.T) {
	t.Parallel()
	text := rapid.StringMatching(`[ -~æøåÄßłž\n"',;=+-]{0,12}`).Filter(func(s string) bool { return !strings.Contains(s, "\r") })
	rapid.Check(t, func(r *rapid.T) {
		in := Record{About: About{School: "Skerry School", Given: "Dot", Family: text.Draw(r, "family"), Number: "0042", Made: "2026-01-09 10:20"}, Files: map[string][]byte{"photo.png": rapid.SliceOf(rapid.Byte()).Draw(r, "photo"), "documents/3-plan.pdf": []byte("%PDF")}}
		for _, name := range rapid.SliceOfNDistinct(rapid.SampledFrom([]string{"marks", "contacts", "support-sessions", "x"}), 0, 4, rapid.ID[string]).Draw(r, "tables") {
			columns := rapid.IntRange(2, 5).Draw(r, "columns") // of one an empty row would be an empty line
			one := Table{Name: name, Rows: [][]string(nil)}
			for c := range columns {
				one.Header = append(one.Header, strings.Repeat("h", c+1))
			}
			for range rapid.IntRange(0, 4).Draw(r, "rows") {
				one.Rows = append(one.Rows, rapid.SliceOfN(text, columns, columns).Draw(r, "row"))
			}
			in.Tables = append(in.Tables, one)
		}
		archive, err := in.Zip()
		require.NoError(r, err)
		out, wrong := Read(archive)
		require.Empty(r, wrong)
		assert.Equal(r, in.About, out.About)
		slices.SortFunc(in.Tables, func(a, b Table) int { return strings.Compare(a.Name, b.Name) })
		assert.Equal(r, append([]Table{}, in.Tables...), out.Tables)
		assert.Len(r, out.Files, 2)
		assert.True(r, bytes.Equal(in.Files["photo.png"], out.Files["photo.png"]))
	})
}

func archiveOf(t *testing.T, files ...string) []byte {
	t.Helper()
	var out bytes.Buffer
	w := zip.NewWriter(&out)
	for i := 0; i < len(files); i += 2 {
		f, err := w.Create(files[i])
		require.NoError(t, err)
		_, err = f.Write([]byte(files[i+1]))
		require.NoError(t, err)
	}
	require.NoError(t, w.Close())
	return out.Bytes()
}

// What is wrong is told by file and line.
func TestWhatIsNoRecord(t *testing.T) {
	t.Parallel()
	const about = "school,given,family\nSkerry School,Dot,Vane\n"
	for want, archive := range map[string][]byte{
		"the file: zip: not a valid zip file":                                                      []byte("no zip"),
		"about.csv: is missing: this is no record of a student that a school has handed out":       archiveOf(t, "marks.csv", "date,code\n"),
		"about.csv: must have one line, with school, given and family name":                        archiveOf(t, "about.csv", "school\nSkerry School\n"),
		"marks.csv:3: has not the 2 fields of the header":                                          archiveOf(t, "about.csv", about, "marks.csv", "date,code\n2026-01-09,P\n2026-01-10\n"),
		"marks.csv:2: extraneous or missing \" in quoted-field":                                    archiveOf(t, "about.csv", about, "marks.csv", "date,code\n\"2026-01-09,P\n"),
		"marks.csv: is not UTF-8":                                                                  archiveOf(t, "about.csv", about, "marks.csv", "date,code\n\xff,P\n"),
		"marks.csv: is empty: there is no header":                                                  archiveOf(t, "about.csv", about, "marks.csv", ""),
		"marks.csv:1: has the column \"date\" twice":                                               archiveOf(t, "about.csv", about, "marks.csv", "date, date\n"),
		"b/marks.csv: is there twice, in two folders":                                              archiveOf(t, "about.csv", about, "a/marks.csv", "date\n", "b/marks.csv", "date\n"),
		"about.csv: must have one line, with school, given and family name (of two who are there)": archiveOf(t, "about.csv", about+"Skerry School,Asta,Vane\n"),
	} {
		_, wrong := Read(archive)
		require.Len(t, wrong, 1, want)
		assert.Equal(t, strings.TrimSuffix(want, " (of two who are there)"), wrong[0].String())
	}
	// Nothing leaves its folder, whatever an archive calls it.
	r, wrong := Read(archiveOf(t, "about.csv", about, "../../etc/documents/1-x.pdf", "x"))
	require.Empty(t, wrong)
	assert.Contains(t, r.Files, "etc/documents/1-x.pdf")
}

func FuzzRead(f *testing.F) {
	archive, err := Record{About: About{School: "S", Given: "D", Family: "V"}, Tables: []Table{{Name: "marks", Header: []string{"date"}}}}.Zip()
	require.NoError(f, err)
	f.Add(archive)
	f.Fuzz(func(t *testing.T, content []byte) {
		if r, wrong := Read(content); len(wrong) == 0 && r.About.School == "" {
			t.Error("a record of no school")
		}
	})
}
