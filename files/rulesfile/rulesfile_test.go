package rulesfile_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/attention"
	"meldung/core/policy"
	"meldung/files/rulesfile"
)

func policies(t testing.TB) map[string]*policy.Policy {
	t.Helper()
	out, err := rulesfile.Policies()
	require.NoError(t, err)
	return out
}

var names = attention.Names{Policy: func(id string) string { return id }}

// What ships reads, reads the same when it is written anew, and says what it means.
func TestShippedRules(t *testing.T) {
	rules, err := rulesfile.Parse(rulesfile.Shipped(), policies(t))
	require.NoError(t, err)
	again, err := rulesfile.Parse(rulesfile.Format(rules), policies(t))
	require.NoError(t, err)
	assert.Equal(t, rules, again)
	var said []string
	for _, r := range rules {
		assert.True(t, r.On)
		assert.Equal(t, "common practice", r.Source)
		said = append(said, r.Sentence(names))
	}
	assert.Equal(t, []string{
		"absent 10 % or more of the time this year (ten-percent)",
		"absent unexcused on 3 or more of the last 10 school days",
		"2 incidents or more within 30 days in which the student did it",
		"failing 1 course or more",
		"not seen for 3 school days or more, or never, and absent unexcused on 1 or more of the last 3 school days",
		"late 5 times or more in one class this grading period",
		"mean of the grades’ points fallen by 0.5 or more",
		"both absent 10 % or more of the time this year (ten-percent) and 2 incidents or more within 30 days in which the student did it, " +
			"or both absent 10 % or more of the time this year (ten-percent) and failing 1 course or more, " +
			"or both 2 incidents or more within 30 days in which the student did it and failing 1 course or more",
	}, said)
}

const full = `rules:
  - id: all-of-it
    title: "All: of it"
    on: false
    for: {years: ["9", "10"], forms: [9 Reef], classes: [9En2], lists: [Petrel], on_plan: true}
    any:
      - absence: {policy: letters, count: minutes, of: [unexcused, medical], window: term, weekday: monday, slot: "3"}
        above: 90
      - lates: {per: class, window: {rolling_weeks: 2}}
        at_least: 3
      - all:
          - last_contact: {with: home}
            at_least: 14
            never: left_out
          - last_session: {kinds: [lunch group]}
            is: never
          - item_score: {class: 9En2, item: Essay}
            below: 0.5
      - field: {field: "House: colour"}
        is_not: red
      - absence: {count: on_site, window: month}
        at_least: 2
      - activity_count: {source: library, days: 14}
        equal: 0
      - incidents: {kinds: [rough play], roles: [did it, saw it], places: [pier], days: 30}
        at_least: 2
      - mean_points: {period: Quarter 3}
        below: 1.5
`

func TestEveryPieceRoundTrips(t *testing.T) {
	rules, err := rulesfile.Parse([]byte(full), policies(t))
	require.NoError(t, err)
	again, err := rulesfile.Parse(rulesfile.Format(rules), policies(t))
	require.NoError(t, err)
	assert.Equal(t, rules, again)
	assert.False(t, rules[0].On)
	assert.Equal(t, "for more than 90 minutes in 3 this term on Mondays", rules[0].If.Entries[0].Condition.Words(names)[len("absent "):])
	assert.Contains(t, rules[0].Sentence(names), "spoken with the home 14 days or more ago (never left out) and supported (lunch group) never and “Essay” of 9En2 less than 50 %")
	assert.Contains(t, rules[0].Sentence(names), ", in years 9 and 10, in 9 Reef, in 9En2, on the list Petrel, part-time")
}

// The first mistake is told by its line.
func TestWhatIsWrongInARulesFile(t *testing.T) {
	head := "rules:\n  - id: a\n    title: A\n"
	for want, text := range map[string]string{
		`rules: line 1: there is no rule`:                                             "rules: []\n",
		`rules: line 1: "rule" is not a key here; known are rules`:                    "rule: []\n",
		"rules: line 2: it says nothing: one condition is needed, under all or under": head,
		"rules: line 2: id is missing":                                                "rules:\n  - title: A\n    all: []\n",
		`rules: line 7: the id "a" is there twice`:                                    head + "    all:\n      - failing: {}\n        at_least: 1\n" + head[7:] + "    all:\n      - failing: {}\n        at_least: 1\n",
		"rules: line 5: the comparison is missing":                                    head + "    all:\n      - failing: {}\n",
		"rules: line 5: at_least and below: one comparison is needed":                 head + "    all:\n      - failing: {}\n        at_least: 1\n        below: 3\n",
		`rules: line 5: "fails" is not a key here`:                                    head + "    all:\n      - fails: {}\n        at_least: 1\n",
		`rules: line 6: at_least "many" is not a fraction`:                            head + "    all:\n      - failing: {}\n        at_least: many\n",
		"failing counts whole things, and 0.5 is none":                                head + "    all:\n      - failing: {}\n        at_least: 0.5\n",
		"absence_rate is a share, from 0 to 1":                                        head + "    all:\n      - absence_rate: {}\n        at_least: 10\n",
		`there is no policy "own"`:                                                    head + "    all:\n      - absence_rate: {policy: own}\n        at_least: 1/10\n",
		"conditions within conditions go 2 levels deep":                               head + "    all:\n      - any:\n          - all:\n              - failing: {}\n                at_least: 1\n",
		"stand under all or under any, not both":                                      head + "    all:\n      - failing: {}\n        at_least: 1\n    any:\n      - failing: {}\n        at_least: 1\n",
		"failing is a number; of words it may only be never":                          head + "    all:\n      - failing: {}\n        is: many\n",
		"no number of days ago, so that never can't be left out":                      head + "    all:\n      - failing: {}\n        at_least: 1\n        never: left_out\n",
		"of whom is counted, excused or unexcused, is not said":                       head + "    all:\n      - absence: {}\n        at_least: 1\n",
		`"window" is not a key here`:                                                  head + "    all:\n      - failing: {window: year}\n        at_least: 1\n",
		"a run is one of absence":                                                     head + "    all:\n      - absence_rate: {window: run}\n        at_least: 1/10\n",
	} {
		_, err := rulesfile.Parse([]byte(text), policies(t))
		assert.ErrorContains(t, err, want, text)
	}
}

func FuzzRules(f *testing.F) {
	f.Add(full)
	f.Add(string(rulesfile.Shipped()))
	known := policies(f)
	f.Fuzz(func(t *testing.T, text string) {
		rules, err := rulesfile.Parse([]byte(text), known)
		if err != nil {
			return
		}
		again, err := rulesfile.Parse(rulesfile.Format(rules), known)
		require.NoError(t, err)
		assert.Equal(t, rules, again)
		for _, r := range rules {
			assert.NoError(t, r.Check(known))
			assert.NotEmpty(t, r.Sentence(names))
		}
	})
}
