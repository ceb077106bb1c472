package ownfield_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"meldung/core/ownfield"
)

func TestWhatFieldsHold(t *testing.T) {
	choices := []string{"Bus 4", "on foot"}
	for _, x := range []struct {
		kind        ownfield.Kind
		typed, kept string
		words       string
	}{
		{ownfield.Text, "  likes to sit in front ", "likes to sit in front", "likes to sit in front"},
		{ownfield.Choice, "ON FOOT", "on foot", "on foot"},
		{ownfield.Date, "2026-03-10", "2026-03-10", "Tue 10 March 2026"},
		{ownfield.Span, "830–1015", "08:30-10:15", "08:30 to 10:15"},
		{ownfield.Span, "8:30 - 10:15", "08:30-10:15", "08:30 to 10:15"},
		{ownfield.Number, "2.50", "2.50", "2.50"},
		{ownfield.Number, " ", "", ""},
	} {
		kept, err := x.kind.Read(x.typed, choices)
		require.NoError(t, err, x.typed)
		assert.Equal(t, x.kept, kept)
		assert.Equal(t, x.words, x.kind.Words(kept))
	}
	for _, x := range []struct {
		kind        ownfield.Kind
		typed, want string
	}{
		{ownfield.Text, strings.Repeat("ü", 201), "at most 200 characters, this one 201"},
		{ownfield.Text, "a\nb", "one line"},
		{ownfield.Choice, "Bus 5", "none of Bus 4, on foot"},
		{ownfield.Date, "10 March", "not a date"},
		{ownfield.Span, "8:30", "not a span"},
		{ownfield.Span, "10-9", "ends after it begins"},
		{ownfield.Number, "-3", "not a number"},
		{"colour", "red", "no kind of field"},
	} {
		_, err := x.kind.Read(x.typed, choices)
		assert.ErrorContains(t, err, x.want, x.typed)
	}
}

// What is kept reads as itself again.
func TestKeptValuesReadAgain(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		kind := rapid.SampledFrom(ownfield.Kinds).Draw(t, "kind")
		typed := rapid.OneOf(rapid.String(), rapid.StringMatching(`[0-9]{1,4}-[0-9]{1,4}`), rapid.StringMatching(`20[0-9]{2}-[01][0-9]-[0-3][0-9]`), rapid.StringMatching(`[0-9]{1,3}(\.[0-9]{1,2})?`)).Draw(t, "typed")
		kept, err := kind.Read(typed, []string{"a", "B"})
		if err != nil {
			return
		}
		again, err := kind.Read(kept, []string{"a", "B"})
		require.NoError(t, err)
		assert.Equal(t, kept, again)
	})
}
