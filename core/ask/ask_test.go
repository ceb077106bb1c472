package ask_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"meldung/core/ask"
)

var index = ask.New([]ask.Entry{
	{Title: "Calendar", Answer: "Terms and closed days.", Asked: []string{"close the school for a day"}},
	{Title: "Late arrivals", Answer: "Who came late.", Asked: []string{"how often was a student late"}},
	{Title: "Roll call", Answer: "Everyone on the premises.", Asked: []string{"evacuation", "fire drill"}},
}, []string{"student pupil child"})

func first(t require.TestingT, question string) int {
	found := index.Find(question)
	require.NotEmpty(t, found, question)
	return found[0].Entry
}

func TestWhatIsAskedForIsFound(t *testing.T) {
	for question, entry := range map[string]int{
		"closing": 0, "is the school closed": 0, "pupils who were late": 1, "Late?": 1, "evacu": 2, "FIRE DRILLS!": 2, "how often late": 1,
	} {
		assert.Equal(t, entry, first(t, question), question)
	}
	assert.Empty(t, index.Find("the of and"))
	assert.Empty(t, index.Find(""))
	assert.Empty(t, index.Find("zzz"))
}

// However something is asked, the answers are of the index, each once, the best first, and the same each time; a
// question that an entry itself has finds that entry.
func TestAnswersAreSteady(t *testing.T) {
	own := []string{"close the school for a day", "how often was a student late", "evacuation", "fire drill"}
	of := []int{0, 1, 2, 2}
	rapid.Check(t, func(t *rapid.T) {
		question := rapid.StringMatching(`[a-z ?]{0,30}`).Draw(t, "question")
		found := index.Find(question)
		seen := map[int]bool{}
		for i, f := range found {
			assert.False(t, seen[f.Entry])
			seen[f.Entry] = true
			assert.Positive(t, f.Score)
			assert.True(t, i == 0 || found[i-1].Score >= f.Score)
		}
		assert.Equal(t, found, index.Find(question))
		n := rapid.IntRange(0, len(own)-1).Draw(t, "own")
		assert.Equal(t, of[n], first(t, own[n]))
	})
}
