package school_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/pages/schoolpage"
	"meldung/work/school"
)

// A code set is edited as a copy: what is filled in is its file, and what is wrong is told by its line.
func TestACodeSetIsEditedAsACopy(t *testing.T) {
	t.Parallel()
	s := newSmall(t)
	ctx := t.Context()
	draft := func(d schoolpage.CodesDraft) schoolpage.CodesDrafted {
		out, err := schoolpage.DraftCodes(ctx, s.Office, d)
		require.NoError(t, err)
		return out
	}
	copied := draft(schoolpage.CodesDraft{Copy: "sessions-2024"})
	require.Empty(t, copied.Problem)
	assert.Contains(t, copied.Taken, "plain")
	again := draft(schoolpage.CodesDraft{Codes: copied.Codes})
	assert.Equal(t, copied.Codes, again.Codes)
	assert.Equal(t, copied.Lacks, again.Lacks)
	codes := append(again.Codes[:0:0], again.Codes...)
	codes[0].Word = "here: and there"
	changed := draft(schoolpage.CodesDraft{Codes: codes})
	require.Empty(t, changed.Problem)
	assert.Equal(t, "here: and there", changed.Codes[0].Word)
	plan, err := school.ChooseCodes(ctx, s.Office, office, "", school.CodesChoice{Set: "ours", Text: changed.Text})
	require.NoError(t, err)
	assert.Equal(t, "here: and there", plan.Choices[0].Word)

	codes[1].Code = codes[0].Code
	wrong := draft(schoolpage.CodesDraft{Codes: codes})
	assert.Equal(t, 3, wrong.Line)
	assert.Contains(t, wrong.Problem, "is there twice")
	unusable := draft(schoolpage.CodesDraft{Text: "codes:\n  - {code: P, counts: attended}\n"})
	assert.Contains(t, unusable.Problem, "no register can be taken")
	assert.Len(t, unusable.Codes, 1, "what it holds is shown all the same")
	_, err = schoolpage.DraftCodes(ctx, s.Office, schoolpage.CodesDraft{Copy: "nowhere"})
	assert.Equal(t, "there is no code set \"nowhere\"", err.Error())
}
