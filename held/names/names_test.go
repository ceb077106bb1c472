package names_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"meldung/held/names"
)

func TestFold(t *testing.T) {
	for given, want := range map[string]string{"Łucja": "lucja", "Øye": "oye", "NÆRLAND": "naerland", "Strauß": "strauss", "Zoë": "zoe", "D’Arcole": "d'arcole", "İlay": "ilay", "": ""} {
		assert.Equal(t, want, names.Fold(given), given)
	}
	rapid.Check(t, func(t *rapid.T) {
		once := names.Fold(rapid.String().Draw(t, "text"))
		assert.Equal(t, once, names.Fold(once), "folded twice it is the same")
	})
}

func TestFits(t *testing.T) {
	for _, c := range []struct {
		words, name string
		want        bool
	}{
		{"oye", "Asta Øye", true}, {"as oy", "Asta Øye", true}, {"oy as", "Asta Øye", true}, {"ye", "Asta Øye", false},
		{"meer", "Bo Van der Meer, jr", true}, {"ulv-br", "Ulvar-Brenn", false}, {"bren", "Ulvar-Brenn", true}, {"", "Asta Øye", true}, {"asta x", "Asta Øye", false},
	} {
		assert.Equal(t, c.want, names.Fits(strings.Fields(names.Fold(c.words)), c.name), "%q in %q", c.words, c.name)
	}
}

func TestDigits(t *testing.T) {
	assert.Equal(t, "01632960001", names.Digits("01632 960 001 (after ４)"))
}
