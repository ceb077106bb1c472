package paper_test

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/files/barcode"
	"meldung/files/paper"
)

// alphabets are the letters of European languages beyond a to z, small and capital, as
// their orthographies have them (from memory), with names in Greek and Cyrillic.
var alphabets = map[string]string{
	"Icelandic and Danish": "ÁáÐðÉéÍíÓóÚúÝýÞþÆæÖöØøÅå",
	"Polish":               "ĄąĆćĘęŁłŃńÓóŚśŹźŻż",
	"Czech and Slovak":     "ÁáÄäČčĎďÉéĚěÍíĹĺĽľŇňÓóÔôŔŕŘřŠšŤťÚúŮůÝýŽž",
	"Hungarian":            "ÁáÉéÍíÓóÖöŐőÚúÜüŰű",
	"Romanian":             "ĂăÂâÎîȘșȚț",
	"Turkish":              "ÇçĞğİıÖöŞşÜü",
	"Latvian, Lithuanian":  "ĀāČčĒēĢģĪīĶķĻļŅņŠšŪūŽžĄąĘęĖėĮįŲų",
	"Maltese, Welsh":       "ĊċĠġĦħŻżŴŵŶŷÂâÊê",
	"Sami":                 "ÁáČčĐđŊŋŠšŦŧŽžǦǧǨǩǮǯ",
	"French, Spanish":      "ÀàÂâÇçÉéÈèÊêËëÎîÏïÔôŒœÙùÛûÜüŸÿÑñ",
	"Croatian, Albanian":   "ČčĆćĐđŠšŽžËëÇç",
	"German":               "ÄäÖöÜüẞß",
	"Esperanto":            "ĈĉĜĝĤĥĴĵŜŝŬŭ",
	"Greek":                "Θεοδώρα Παπαδοπούλου ΐΰϊϋ",
	"Ukrainian, Bulgarian": "Ґґ Єє Її Щорс Ъъ Юля Жюстін",
	"Serbian, Macedonian":  "Ђђ Љљ Њњ Ћћ Џџ Ѓѓ Ќќ Ѕѕ",
}

func example(name string, lessons int) paper.Pass {
	p := paper.Pass{School: "Fairlead School", Title: "Late pass", Name: name, Form: "8 Halyard · 40217", Number: "000018", Code: "P-000018",
		Facts: []paper.Fact{{Label: "In at", Text: "09:12, Tue 10 March"}, {Label: "Because", Text: "ferry"}}}
	for i := range lessons {
		p.Lessons = append(p.Lessons, paper.Lesson{At: fmt.Sprintf("%02d:00", 9+i), Text: "lesson", Who: "room"})
	}
	return p
}

func kept(t *testing.T, pdf []byte, err error) string {
	t.Helper()
	require.NoError(t, err)
	name := filepath.Join(t.TempDir(), "paper.pdf")
	require.NoError(t, os.WriteFile(name, pdf, 0o600))
	return name
}

func run(t *testing.T, program string, args ...string) string {
	t.Helper()
	out, err := exec.CommandContext(t.Context(), program, args...).Output()
	require.NoError(t, err, "%s %s: %s", program, strings.Join(args, " "), out)
	return string(out)
}

// text is what pdftotext (poppler) reads.
func text(t *testing.T, pdf string) string { return run(t, "pdftotext", "-layout", pdf, "-") }

// codes are what zbarimg reads from the pages, drawn by pdftoppm at 300 dots to the inch
// as an office printer would.
func codes(t *testing.T, pdf string) []string {
	stem := strings.TrimSuffix(pdf, ".pdf")
	run(t, "pdftoppm", "-r", "300", "-gray", "-png", pdf, stem)
	pages, err := filepath.Glob(stem + "*.png")
	require.NoError(t, err)
	require.NotEmpty(t, pages)
	var out []string
	for _, page := range pages {
		out = append(out, strings.Fields(run(t, "zbarimg", "-q", page))...)
	}
	return out
}

func pages(t *testing.T, pdf string) string {
	for _, l := range strings.Split(run(t, "pdfinfo", pdf), "\n") {
		if n, ok := strings.CutPrefix(l, "Pages:"); ok {
			return strings.TrimSpace(n)
		}
	}
	return ""
}

func TestNamesKeepEveryLetter(t *testing.T) {
	for language, letters := range alphabets {
		pass, err := example(letters, 0).PDF(paper.A6)
		assert.Contains(t, text(t, kept(t, pass, err)), letters, language)
		card, err := paper.Cards([]paper.Card{{School: "Fairlead School", Name: letters, Form: "8 Halyard", Number: "40217", Code: "40217"}}, paper.Code39, false)
		assert.Contains(t, text(t, kept(t, card, err)), letters, language)
	}
}

// The size gives way until the longest word fits: what runs off the page is not printed.
func TestALongNameIsNotCutOff(t *testing.T) {
	name := "Wolfeschlegelsteinhausenbergerdorff Kalanianaʻole-Papadiamantopoulou"
	for _, stock := range []paper.Stock{paper.A6, paper.Thermal} {
		pdf, err := example(name, 3).PDF(stock)
		said := text(t, kept(t, pdf, err))
		for _, word := range strings.Fields(name) {
			assert.Contains(t, said, word)
		}
	}
	for _, symbol := range []paper.Symbol{paper.Code39, paper.QR} {
		card := paper.Card{School: "Fairlead School", Name: name, Form: "8 Halyard", Number: "40217", Code: "40217"}
		pdf, err := paper.Cards([]paper.Card{card, card}, symbol, true)
		said := text(t, kept(t, pdf, err))
		assert.Equal(t, 2, strings.Count(said, strings.Fields(name)[0]))
	}
}

func TestAPassIsOnePageWithItsCode(t *testing.T) {
	for _, stock := range []paper.Stock{paper.A6, paper.Thermal} {
		for _, lessons := range []int{0, 1, 5, 8} {
			pdf, err := example("Oona Harle", lessons).PDF(stock)
			name := kept(t, pdf, err)
			assert.Equal(t, "1", pages(t, name), "%d lessons", lessons)
			assert.Equal(t, []string{"CODE-39:P-000018"}, codes(t, name), "%d lessons on %d", lessons, stock)
			said := text(t, name)
			for _, w := range []string{"Fairlead School", "Late pass", "8 Halyard · 40217", "09:12, Tue 10 March", "ferry", "000018"} {
				assert.Contains(t, said, w)
			}
			assert.Equal(t, lessons, strings.Count(said, "lesson ")+strings.Count(said, "lesson\n"), "a line to sign for each")
		}
	}
}

func TestMarkAndPhotoStandOnAPass(t *testing.T) {
	p := example("Oona Harle", 2)
	picture, err := barcode.QR("a picture", 200)
	require.NoError(t, err)
	p.Emblem, p.Photo = picture, picture
	pdf, err := p.PDF(paper.A6)
	images := run(t, "pdfimages", "-list", kept(t, pdf, err))
	assert.Equal(t, 3, strings.Count(images, "  no  "), "mark, photo and code: %s", images)
	p.Emblem, p.Photo = []byte("no picture"), nil
	pdf, err = p.PDF(paper.A6)
	assert.Equal(t, 1, strings.Count(run(t, "pdfimages", "-list", kept(t, pdf, err)), "  no  "), "what is no picture is left out")
}

// A picture's dimensions are looked at before it is decoded: a file of a few kilobytes can hold
// pixels that would fill the memory.
func TestPicturesAreBounded(t *testing.T) {
	plain := func(width, height int) []byte {
		var out bytes.Buffer
		require.NoError(t, png.Encode(&out, image.NewPaletted(image.Rect(0, 0, width, height), color.Palette{color.White})))
		return out.Bytes()
	}
	for _, c := range []struct {
		picture []byte
		want    string
	}{
		{plain(6001, 20), "6001 × 20 pixels"},
		{plain(5000, 5000), "25 million pixels"},
		{plain(15, 15), "16 to 6000"},
		{[]byte("%PDF-1.7"), "no PNG or JPEG"},
		{plain(600, 300)[:60], "damaged"},
	} {
		_, err := paper.Picture(c.picture)
		assert.ErrorContains(t, err, c.want)
	}
	kept, err := paper.Picture(plain(4000, 3000))
	require.NoError(t, err)
	head, _, err := image.DecodeConfig(bytes.NewReader(kept))
	require.NoError(t, err)
	assert.Equal(t, []int{400, 300}, []int{head.Width, head.Height})
}

func TestCards(t *testing.T) {
	cards := make([]paper.Card, 23)
	want := map[paper.Symbol][]string{}
	for i := range cards {
		code := fmt.Sprintf("FL-%05d", 40200+i)
		cards[i] = paper.Card{School: "Fairlead School", Name: fmt.Sprintf("Given Family %d", i), Form: "8 Halyard", Number: fmt.Sprint(40200 + i), Code: code}
		want[paper.Code39] = append(want[paper.Code39], "CODE-39:"+code)
		want[paper.QR] = append(want[paper.QR], "QR-Code:"+code)
	}
	for symbol, codesWanted := range want {
		pdf, err := paper.Cards(cards, symbol, true)
		name := kept(t, pdf, err)
		assert.Equal(t, "3", pages(t, name), "ten on a sheet")
		assert.ElementsMatch(t, codesWanted, codes(t, name))
		assert.Contains(t, text(t, name), "Given Family 22")

		pdf, err = paper.Cards(cards[:4], symbol, false)
		name = kept(t, pdf, err)
		assert.Equal(t, "4", pages(t, name), "one on a page")
		assert.ElementsMatch(t, codesWanted[:4], codes(t, name))
	}
	_, err := paper.Cards(nil, paper.QR, true)
	assert.ErrorContains(t, err, "no card")
	_, err = paper.Cards([]paper.Card{{Name: "a", Code: "ä"}}, paper.Code39, true)
	assert.ErrorContains(t, err, "encoding", "a code that Code 39 can't write is told, not printed empty")
}
