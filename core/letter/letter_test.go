package letter

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// Hand-worked.
func TestFill(t *testing.T) {
	values := map[string]string{"given name": "Bram", "count": "5 days", "missed": "22 of 113 days", "dates": "4, 11, 12 and 25 February and 9 March"}
	for _, c := range []struct{ text, want string }{
		{"{given name} has missed {missed}.", "Bram has missed 22 of 113 days."},
		{"{ given name } was away for {count}: {dates}.", "Bram was away for 5 days: 4, 11, 12 and 25 February and 9 March."},
		{"In all {count} {timetable}.", "In all 5 days."},
		{"Call\n{phone}\nsoon.", "Call\nsoon."},
		{"One.\n\n{timetable}\n\nTwo.", "One.\n\n\nTwo."},
		{"{{given name}} stays.", "{given name} stays."},
		{"", ""},
	} {
		got, err := Fill(c.text, values)
		require.NoError(t, err, c.text)
		assert.Equal(t, c.want, got)
	}
	assert.Equal(t, []string{"One.", "Two,\nthree."}, Paragraphs("One.\n\n\nTwo,\nthree.\n"))
}

func TestWhatIsWrongWithALetter(t *testing.T) {
	for text, want := range map[string]string{
		"Dear\n{adressees},": "line 2: there is no field {adressees}",
		"{student":           "line 1: { has no } after it",
		"{student\n}":        "line 1: { has no } after it",
		"a\nb }":             "line 2: } has no { before it",
		"{}":                 "line 1: there is no field {}",
	} {
		assert.EqualError(t, Check(text), want)
		_, err := Fill(text, nil)
		assert.EqualError(t, err, want)
	}
}

// A value goes in as it is, whatever it holds: nothing in it is read as a field.
func TestValuesAreNotRead(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		value := rapid.StringMatching(`[a-z{}][a-z{} ]{0,20}[a-z{}]`).Draw(t, "value")
		f := rapid.SampledFrom(Fields).Draw(t, "field")
		got, err := Fill("<{"+f.Name+"}>", map[string]string{f.Name: value})
		require.NoError(t, err)
		assert.Equal(t, "<"+value+">", got)
	})
}

func FuzzFill(f *testing.F) {
	f.Add("Dear {addressees},\n\n{given name} {{}} {count}", "five")
	f.Fuzz(func(t *testing.T, text, value string) {
		got, err := Fill(text, map[string]string{"count": value})
		if (err == nil) != (Check(text) == nil) {
			t.Fatalf("%q: filled %q with %v, checked %v", text, got, err, Check(text))
		}
		if err == nil && !strings.ContainsAny(text, "{}") && !strings.Contains(text, "\x00") && strings.TrimSpace(text) != "" && strings.TrimSpace(got) == "" {
			t.Fatalf("%q is gone", text)
		}
	})
}
