package paper_test

import (
	"os"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/files/paper"
)

// Letters are read back by pdftotext (poppler), each from a page of its own, and their addresses
// stand where a window envelope shows them: 20 to 105 mm from the left, 45 to 90 mm from the top
// (DIN 5008, form B; from memory).
func TestLettersOnPaper(t *testing.T) {
	long := strings.Repeat("A paragraph that goes on for a while, so that the letter needs a second page.\n\n", 40)
	letters := []paper.Letter{
		{Sender: []string{"Fairlead School", "1 Causeway, Holm"}, Recipient: []string{"Marta and Leon Szabłowski", "3 Net Loft Lane", "Holm"}, Date: "Tuesday 10 March 2026",
			Subject: "Bram: 5 days nieobecności", Paragraphs: []string{"Szanowni Państwo,", "opuszczono 131 h 40 min lekcji.\nR. Tolvan"}, Foot: "40113"},
		{Sender: []string{"Fairlead School"}, Recipient: []string{"Ida Merrow"}, Date: "Tuesday 10 March 2026", Subject: "Long", Paragraphs: strings.Split(strings.TrimSpace(long), "\n\n")},
		{Sender: []string{"Fairlead School"}, Recipient: []string{"Tor Quell", "1 Rope Walk"}, Date: "Tuesday 10 March 2026", Subject: "Last", Paragraphs: []string{"Dear Tor Quell,"}},
	}
	content, err := paper.LettersPDF("letters", letters)
	require.NoError(t, err)
	pdf := filepath.Join(t.TempDir(), "letters.pdf")
	require.NoError(t, os.WriteFile(pdf, content, 0o600))
	pages := strings.Split(text(t, pdf), "\f")
	require.Len(t, pages, 5, "four pages, the second letter on two")
	for _, want := range []string{"Marta and Leon Szabłowski", "Bram: 5 days nieobecności", "Szanowni Państwo,", "131 h 40 min lekcji.", "R. Tolvan", "40113"} {
		assert.Contains(t, pages[0], want)
	}
	assert.Contains(t, pages[1], "Ida Merrow")
	assert.NotContains(t, pages[2], "Ida Merrow")
	assert.Contains(t, pages[3], "Dear Tor Quell,")

	const millimetre = 72 / 25.4
	found := 0
	for _, m := range regexp.MustCompile(`xMin="([\d.]+)" yMin="([\d.]+)" xMax="([\d.]+)" yMax="([\d.]+)">(Marta|Szabłowski|Net|Lane)<`).FindAllStringSubmatch(run(t, "pdftotext", "-bbox", "-l", "1", pdf, "-"), -1) {
		var at [4]float64
		for i := range at {
			at[i], err = strconv.ParseFloat(m[i+1], 64)
			require.NoError(t, err)
			at[i] /= millimetre
		}
		assert.Greater(t, at[0], 19.9, m[5])
		assert.Greater(t, at[1], 44.0, m[5])
		assert.Less(t, at[2], 105.0, m[5])
		assert.Less(t, at[3], 90.0, m[5])
		found++
	}
	assert.Equal(t, 4, found)
	_, err = paper.LettersPDF("none", nil)
	assert.ErrorContains(t, err, "no letter")
}
