package policy

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func TestAPolicyInPlainWords(t *testing.T) {
	line := func(p, q int64) *Fraction { f := NewFraction(p, q); return &f }
	p := &Policy{Unit: Day, DayAbsentAt: NewFraction(1, 2), MinPossible: 10, Threshold: NewFraction(1, 8), UnexplainedAfter: 1, Codes: &CodeSet{ID: "plain"},
		Bands:    []Band{{"on course", line(1, 20)}, {"at risk", line(1, 3)}, {"severe", nil}},
		Triggers: []Trigger{{ID: "three", Count: CountDays, Of: SideUnexcused, Reach: 3, Window: Window{Kind: Month}}, {ID: "l", Title: "Late often", Count: CountLates, Reach: 1, Window: Window{RollingDays, 5}}},
		Ladders:  []Ladder{{ID: "late", Title: "Lateness", Per: PerClass, Within: GradingPeriod, Steps: []Step{{2, 2, []string{"word"}}, {3, 5, []string{"call", "detention"}}, {6, 0, []string{"meeting"}}}}}}
	assert.Equal(t, []Matter{
		{"What is counted", []string{
			"Days are counted. A day is missed when at least 50 % of what was due on it was missed.",
			"Registrations and lessons enter the figures.",
			"In lines that count time, a day missed wholly is charged with what was due of the student here.",
			"Nobody is placed in a band before 10 days were possible.",
			"Whoever missed 12.5 % or more is over the line that the pages show room to.",
			"An absence without a reason is to be settled within 1 school day.",
			"Marks count by their codes: those of the set plain."}},
		{"Bands", []string{"on course: missed less than 5 %.", "at risk: missed 5 % or more, less than 1/3.", "severe: missed 1/3 or more."}},
		{"Lines", []string{"three: reached at 3 days unexcused in the month.", "Late often: reached at 1 late in 5 school days."}},
		{"Lates", []string{"Lateness: lates are counted for each class apart, in the grading period.", "At late 2: word.", "At each of lates 3 to 5: call, detention.", "At late 6 and each one after: meeting."}},
	}, p.Plainly())

	hours := &Policy{Unit: Minutes, Basis: FullDay, DayAbsentAt: NewFraction(1, 1), RegistrationOnly: true, MinPossible: 720, Threshold: NewFraction(1, 10), Bands: []Band{{"all", nil}}}
	assert.Equal(t, []Matter{{"What is counted", []string{
		"Minutes are counted: of each slot those that were missed.",
		"Where lines count days, a day is missed when all that was due on it was missed.",
		"Registrations alone enter the figures; lessons do not.",
		"In lines that count time, a day missed wholly is charged as a full school day, by the student's share of full time.",
		"Nobody is placed in a band before 12 h were possible.",
		"Whoever missed 10 % or more is over the line that the pages show room to."}},
		{"Bands", []string{"all: everyone."}}}, hours.Plainly())
}

// What is written as a share is read as the same share; so is what a file says.
func TestSharesAreReadAsWritten(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		f := NewFraction(rapid.Int64Range(0, 5000).Draw(t, "p"), rapid.Int64Range(1, 5000).Draw(t, "q"))
		for _, text := range []string{Share(f), f.String(), " " + Share(f) + " "} {
			again, err := ParseShare(text)
			require.NoError(t, err, text)
			assert.Zero(t, again.Rat().Cmp(f.Rat()), text)
		}
	})
	for _, wrong := range []string{"", "%", "1/3 %", "ten", "-5 %", "1/0", "5 %%"} {
		_, err := ParseShare(wrong)
		assert.Error(t, err, wrong)
	}
}
