package paper_test

import (
	"fmt"
	"os/exec"
	"regexp"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"meldung/files/paper"
)

func list(rows ...[]string) paper.List {
	return paper.List{School: "Fairlead School", Title: "Emergency call sheet", Points: 9, Covers: "612 students, as at 09:12, Tue 10 March 2026", Foot: "Student data of Fairlead School",
		Columns: []paper.ListColumn{{Heading: "Name", Width: 50}, {Heading: "Number", Width: 18}, {Heading: "Contacts", Width: 90}, {Heading: "Days", Width: 14, Right: true}, {Heading: "Seen", Width: 12, Tick: true}},
		Groups:  []paper.ListGroup{{Name: "9 Reef", Rows: rows}}, Empty: "Nobody is on this list."}
}

// Every row, every digit and every letter of Europe's alphabets is on the paper, read back by another program.
func TestAListReadBack(t *testing.T) {
	names := []string{"Łucja Żółć", "Åse Øye-Æther", "Ğülşah Işık", "Đorđe Čapljić", "Ħal Għar", "Þóra Ðís", "Ņina Ķēniņš", "Ŵyn Ŷnys", "Ελένη Ψαρρού", "Щука Їжак", "Straße Groß"}
	var rows [][]string
	for n, name := range names {
		rows = append(rows, []string{name, fmt.Sprint(40000 + n), fmt.Sprintf("1 Runa Ulvar, mother, 07700 900 %03d\n2 Ida Ulvar, +44 1632 960%03d", n, n), fmt.Sprint(n), ""})
	}
	l := list(rows...)
	l.Above, l.Below, l.Sign = "Bring **inhalers** and water.", "Back at **15:40**.", []string{"Leader", "Date"}
	pdf, err := l.PDF()
	name := kept(t, pdf, err)
	said := text(t, name)
	for n, r := range rows {
		for _, words := range []string{r[0], r[1], fmt.Sprintf("07700 900 %03d", n), fmt.Sprintf("+44 1632 960%03d", n)} {
			assert.Contains(t, said, words)
		}
	}
	for _, words := range []string{"inhalers", "15:40", "Leader", "as at 09:12, Tue 10 March 2026", "Student data of Fairlead School", "1 of 1", "9 Reef"} {
		assert.Contains(t, said, words)
	}
	assert.NotContains(t, said, "**")
}

func TestAListWithoutAnybodyIsOnePage(t *testing.T) {
	l := list()
	l.Groups = nil
	pdf, err := l.PDF()
	name := kept(t, pdf, err)
	assert.Equal(t, "1", pages(t, name))
	assert.Contains(t, text(t, name), "Nobody is on this list.")
	l.Columns = nil
	_, err = l.PDF()
	assert.ErrorContains(t, err, "no column")
}

// Two thousand students with their contacts are set in under three seconds, each on the paper once.
func TestTwoThousand(t *testing.T) {
	var rows [][]string
	for n := range 2000 {
		rows = append(rows, []string{fmt.Sprintf("Given%d Family%d", n, n), fmt.Sprint(40000 + n), fmt.Sprintf("1 Runa Ulvar, mother, 07700 9%05d\n2 Ida Ulvar, aunt, 01632 9%05d", n, n), "3", ""})
	}
	began := time.Now()
	pdf, err := list(rows...).PDF()
	assert.Less(t, time.Since(began), 3*time.Second)
	said := text(t, kept(t, pdf, err))
	assert.Len(t, regexp.MustCompile(`Given\d+ Family\d+`).FindAllString(said, -1), 2000)
	assert.Len(t, regexp.MustCompile(`07700 9\d{5}`).FindAllString(said, -1), 2000)
}

// However long a text is and however narrow its column, no letter of it is lost, none stands beyond its page, and no
// page is empty.
func TestNothingVanishes(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		word := rapid.StringMatching(`[A-Za-zÄØłß*]{1,40}`)
		words := func(name string) string { return strings.Join(rapid.SliceOfN(word, 0, 60).Draw(t, name), " ") }
		l := list()
		l.A5, l.Across = rapid.Bool().Draw(t, "A5"), rapid.Bool().Draw(t, "across")
		l.Points, l.NewPage, l.Shade = float64(rapid.IntRange(6, 14).Draw(t, "points")), rapid.Bool().Draw(t, "new page"), true
		for i := range l.Columns {
			l.Columns[i].Width = float64(rapid.IntRange(5, 120).Draw(t, "width"))
		}
		l.Groups, l.Title, l.School, l.Covers, l.Foot = nil, "§", "", "", ""
		want := ""
		for range rapid.IntRange(1, 3).Draw(t, "groups") {
			g := paper.ListGroup{}
			for range rapid.IntRange(1, 25).Draw(t, "rows") {
				r := []string{words("name"), "40001", words("contacts"), "1", ""}
				g.Rows, want = append(g.Rows, r), want+strings.Join(r, "")
			}
			l.Groups = append(l.Groups, g)
		}
		set, err := l.Pages()
		require.NoError(t, err)
		got := map[string]int{}
		for n, p := range set {
			row := false
			for _, m := range p.Marks {
				assert.True(t, m.Y <= p.Height && m.Y > 0, "on the page")
				if m.Kind == "text" && !m.Bold && m.Text != fmt.Sprintf("%d of %d", n+1, len(set)) {
					row = true
					for k, v := range letters(m.Text) {
						got[k] += v
					}
				}
			}
			assert.True(t, row, "a page without a row")
		}
		assert.Equal(t, letters(want), got)
	})
}

func letters(s string) map[string]int {
	out := map[string]int{}
	for _, r := range s {
		if r != ' ' {
			out[string(r)]++
		}
	}
	return out
}

// placed is a word of a page with its place in millimetres.
type placed struct {
	text         string
	x, y, x2, y2 float64
}

// words are those of a PDF, as pdftotext finds them.
func words(t *testing.T, name string) (out []placed) {
	t.Helper()
	html, err := exec.Command("pdftotext", "-bbox", name, "-").Output()
	require.NoError(t, err)
	for _, m := range regexp.MustCompile(`<word xMin="([\d.]+)" yMin="([\d.]+)" xMax="([\d.]+)" yMax="([\d.]+)">(.*)</word>`).FindAllStringSubmatch(string(html), -1) {
		at := func(i int) float64 {
			x, err := strconv.ParseFloat(m[i], 64)
			require.NoError(t, err)
			return x * 25.4 / 72
		}
		out = append(out, placed{m[5], at(1), at(2), at(3), at(4)})
	}
	return out
}

// What is on the screen is what is printed: each mark stands where another program finds it in the PDF.
func TestThePageIsTheOneThatIsPrinted(t *testing.T) {
	l := list([]string{"Vale", "40217", "Ada", "12", ""}, []string{"Østby", "40218", "Ida", "3", ""})
	set, err := l.Pages()
	require.NoError(t, err)
	pdf, err := l.PDF()
	found := words(t, kept(t, pdf, err))
	for _, m := range set[0].Marks {
		if m.Kind != "text" || strings.Contains(m.Text, " ") {
			continue
		}
		ok := false
		for _, w := range found {
			x := map[bool]float64{false: w.x, true: w.x2}[m.End]
			ok = ok || w.text == m.Text && x > m.X-0.5 && x < m.X+0.5 && w.y < m.Y && w.y2 > m.Y-0.5
		}
		assert.True(t, ok, "%s at %.1f, %.1f", m.Text, m.X, m.Y)
	}
}

// A label's text begins within half a millimetre of where the sheet's measures have it, wherever printing begins.
func TestLabelsAreWhereTheSheetHasThem(t *testing.T) {
	for _, sheet := range paper.LabelSheets {
		l := paper.Labels{Sheet: sheet, Points: 10, Skip: 2}
		for n := range sheet.Across*sheet.Down + 3 {
			l.Texts = append(l.Texts, fmt.Sprintf("Label%d\nThe Quay 7\nHolm", n))
		}
		pdf, err := l.PDF("labels")
		name := kept(t, pdf, err)
		assert.Equal(t, "2", pages(t, name))
		seen := 0
		for _, w := range words(t, name) {
			number, is := strings.CutPrefix(w.text, "Label")
			if !is {
				continue
			}
			n, err := strconv.Atoi(number)
			require.NoError(t, err)
			seen++
			place := (n + 2) % (sheet.Across * sheet.Down)
			x := sheet.Left + float64(place%sheet.Across)*sheet.StepX + 4
			y := sheet.Top + float64(place/sheet.Across)*sheet.StepY
			assert.InDelta(t, x, w.x, 0.5, "%s of %s", w.text, sheet.ID)
			assert.True(t, w.y > y && w.y2 < y+sheet.Height, "%s of %s", w.text, sheet.ID)
		}
		assert.Equal(t, len(l.Texts), seen)
		assert.LessOrEqual(t, sheet.Left+float64(sheet.Across-1)*sheet.StepX+sheet.Width, 210.0)
		assert.LessOrEqual(t, sheet.Top+float64(sheet.Down-1)*sheet.StepY+sheet.Height, 297.0)
	}
	_, err := paper.Labels{Sheet: paper.LabelSheets[0], Points: 10, Texts: []string{strings.Repeat("a very long name ", 80)}}.Pages()
	assert.ErrorContains(t, err, "does not fit")
	_, err = paper.Labels{Sheet: paper.LabelSheets[0], Points: 10}.Pages()
	assert.ErrorContains(t, err, "nobody")
}

// A record has each table with every row, and names what nothing is on record of.
func TestARecordReadBack(t *testing.T) {
	var marks [][]string
	for n := range 200 {
		marks = append(marks, []string{fmt.Sprintf("2026-01-%02d", n%28+1), fmt.Sprintf("slot%d", n), "present", strings.Repeat("a long note ", n%9)})
	}
	r := paper.Record{School: "Fairlead School", Title: "Record of Łucja Øye", Covers: "as at 09:12", Foot: "Student data", Tables: []paper.RecordTable{
		{Name: "contacts", Columns: []string{"given", "family", "phone"}, Rows: [][]string{{"Ada", "Øye", "07700 900 111"}}},
		{Name: "marks", Columns: []string{"date", "slot", "code", "note"}, Rows: marks},
		{Name: "letters", Columns: []string{"date"}},
	}}
	pdf, err := r.PDF()
	said := text(t, kept(t, pdf, err))
	for _, words := range []string{"Record of Łucja Øye", "Contacts", "07700 900 111", "Marks", "Nothing is on record of: letters.", "Student data"} {
		assert.Contains(t, said, words)
	}
	assert.Len(t, regexp.MustCompile(`slot\d+`).FindAllString(said, -1), 200)
	notes := 0
	for _, m := range marks {
		notes += strings.Count(m[3], "long")
	}
	assert.Equal(t, notes, strings.Count(said, "long"), "every word of every note")
	_, err = paper.Record{}.PDF()
	assert.ErrorContains(t, err, "nothing on record")
}
