package policyfile_test

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/policy"
	"meldung/files/policyfile"
)

func TestEveryShippedPolicyReads(t *testing.T) {
	assert.Equal(t, []string{"hours", "lates-example", "letters", "sessions", "ten-percent"}, policyfile.Policies())
	for _, id := range policyfile.Policies() {
		p, err := policyfile.Shipped(id)
		require.NoError(t, err, id)
		assert.Equal(t, id, p.ID)
	}
	for _, name := range policyfile.CodeSets() {
		_, err := policyfile.ShippedCodes(name)
		require.NoError(t, err, name)
	}
}

func TestScalarsStayText(t *testing.T) {
	p, err := policyfile.Parse([]byte(`
id: own
title: 08
unit: day
threshold: 0.1
codes:
  - {code: N, counts: unexcused}
  - {code: Y, counts: attended}
  - {code: 08, counts: void}
  - {code: "null", counts: void}
  - {code: 1.50, counts: void}
  - {code: true, counts: void}
`), policyfile.ShippedCodes)
	require.NoError(t, err)
	var codes []string
	for _, c := range p.Codes.Codes {
		codes = append(codes, c.Code)
	}
	assert.Equal(t, []string{"N", "Y", "08", "null", "1.50", "true"}, codes)
	assert.Equal(t, "08", p.Title)
	assert.Equal(t, "1/10", p.Threshold.String())
}

// Every way in which YAML writes a value comes to the same text.
func TestWaysOfWriting(t *testing.T) {
	p, err := policyfile.Parse([]byte(`%YAML 1.2
---
"id": 'x'
title: >-
  two
  lines
source: |
  a
  b
codes:
  - {code: &first 1_000, counts: !!str attended}
  - {"code": 0x1F, counts: &how excused}
  - code: "L\u00e4"
    counts: *how
  - {code: ~, counts: void}
unit: session
threshold: 0.10 # a tenth
bands: []
triggers: ~
ladders:
`), policyfile.ShippedCodes)
	require.NoError(t, err)
	assert.Equal(t, []string{"x", "two lines", "a\nb\n"}, []string{p.ID, p.Title, p.Source})
	var codes []string
	for _, c := range p.Codes.Codes {
		codes = append(codes, c.Code+" "+c.Counts.String())
	}
	assert.Equal(t, []string{"1_000 attended", "0x1F excused", "Lä excused", "~ void"}, codes)
	assert.Empty(t, p.Triggers)
}

func TestAnotherWordingIsAnotherVersion(t *testing.T) {
	text, err := policyfile.Text("hours")
	require.NoError(t, err)
	first, err := policyfile.Parse(text, policyfile.ShippedCodes)
	require.NoError(t, err)
	edited, err := policyfile.Parse([]byte(strings.Replace(string(text), "reach: 1800", "reach: 1700", 1)), policyfile.ShippedCodes)
	require.NoError(t, err)
	assert.Len(t, first.Version, 8)
	assert.NotEqual(t, first.Version, edited.Version)
}

func TestNumbersMayBeLarge(t *testing.T) {
	p, err := policyfile.Parse([]byte("id: a\ntitle: A\ncodes: plain\nunit: day\nthreshold: 1\nmin_possible: 99999999999999999999\n"+
		"bands: [{name: low, below: 1}, {name: rest}]\n"), policyfile.ShippedCodes)
	require.NoError(t, err)
	_, banded := p.Band(1, 300)
	assert.False(t, banded)
}

// A policy in a file names a code set in a file beside it, and says which of the
// two a mistake is in.
func TestPoliciesInFiles(t *testing.T) {
	folder := t.TempDir()
	write := func(name, text string) string {
		path := filepath.Join(folder, name)
		require.NoError(t, os.WriteFile(path, []byte(text), 0o644))
		return path
	}
	path := write("own.yaml", "id: own\ntitle: Own\ncodes: letters.yaml\nunit: day\nthreshold: 1/10\n")
	_, err := policyfile.Load(path)
	assert.ErrorContains(t, err, `policy: line 3: codes: "letters.yaml" is neither a shipped code set (plain, sessions-2024) nor a file`)
	write("letters.yaml", "codes:\n  - {code: A, counts: attended}\n  - {code: A, counts: void}\n")
	_, err = policyfile.Load(path)
	assert.EqualError(t, err, `policy: codes letters.yaml: line 3: code "A" is there twice`)
	write("letters.yaml", "codes:\n  - {code: A, counts: attended}\n")
	p, err := policyfile.Load(path)
	require.NoError(t, err)
	assert.Equal(t, "letters.yaml", p.Codes.ID)

	shipped, err := policyfile.Load("hours")
	require.NoError(t, err)
	assert.Equal(t, "hours", shipped.ID)
	_, err = policyfile.Load(filepath.Join(folder, "none.yaml"))
	assert.ErrorContains(t, err, "is neither a shipped policy (hours, ")
}

func TestMistakesAreRefusedByLine(t *testing.T) {
	good := "id: a\ntitle: A\ncodes: plain\nunit: day\nthreshold: 1/10\n"
	for _, c := range []struct{ name, text, want string }{
		{"missing", strings.Replace(good, "unit: day\n", "", 1), "unit is missing"},
		{"unknown key", good + "colour: red\n", `line 6: "colour" is not a key here`},
		{"unit", strings.Replace(good, "day", "week", 1), "line 4: unit is \"week\""},
		{"zero threshold", strings.Replace(good, "1/10", "0", 1), "line 5: threshold"},
		{"threshold above one", strings.Replace(good, "1/10", "11/10", 1), "line 5: threshold"},
		{"decimal without a digit before the point", strings.Replace(good, "1/10", ".1", 1), "line 5: threshold"},
		{"division by nought", strings.Replace(good, "1/10", "1/0", 1), "line 5: threshold"},
		{"code set", strings.Replace(good, "plain", "fancy", 1), "line 3: codes"},
		{"bands", good + "bands:\n  - {name: a, below: 1/5}\n  - {name: b, below: 1/10}\n  - {name: c}\n", "line 8: bands ascend"},
		{"last band", good + "bands:\n  - {name: a, below: 1/5}\n", "line 7: the last band has no below"},
		{"of on lates", good + "triggers:\n  - {id: t, count: lates, of: [excused], reach: 1, window: year}\n", "line 7: lates have no sides"},
		{"run of lates", good + "triggers:\n  - {id: t, count: lates, reach: 1, window: run}\n", "line 7: lates have no window run"},
		{"reach", good + "triggers:\n  - {id: t, count: days, of: [excused], reach: 0, window: year}\n", "line 7: reach"},
		{"rolling", good + "triggers:\n  - {id: t, count: days, of: [excused], reach: 1, window: {rolling_days: 0}}\n", "line 7: rolling_days"},
		{"id twice", good + "triggers:\n  - {id: t, count: days, of: [excused], reach: 1, window: year}\n  - {id: t, count: days, of: [excused], reach: 1, window: year}\n", "line 8: the id"},
		{"steps overlap", good + "ladders:\n  - {id: l, per: day, within: year, steps: [{from: 2, to: 4, do: [a]}, {from: 4, do: [b]}]}\n", "steps ascend"},
		{"action", good + "ladders:\n  - {id: l, per: day, within: year, steps: [{from: 2, do: [\"a;b\"]}]}\n", "an action"},
		{"not YAML", good + "bands: [\n", "policy: line "},
		{"an alias of nothing", good + "source: *none\n", "line 6: nothing before is anchored"},
		{"not a mapping", "- a\n", "keys and values"},
		{"empty", "", "one YAML document"},
	} {
		_, err := policyfile.Parse([]byte(c.text), policyfile.ShippedCodes)
		assert.ErrorContains(t, err, c.want, c.name)
	}
}

// What is needed is not empty, however nothing is written; where a word or a number is due,
// the message says that it is empty.
func TestNothingIsSaidToBeEmpty(t *testing.T) {
	const good = "id: a\ntitle: A\ncodes: plain\nunit: day\nbasis: scheduled\nday_absent_at: 1/2\nslots: all\nmin_possible: 1\nthreshold: 1/10\n"
	for _, line := range []string{"id: a", "title: A", "codes: plain", "unit: day", "basis: scheduled", "day_absent_at: 1/2", "slots: all", "min_possible: 1", "threshold: 1/10"} {
		key, _, _ := strings.Cut(line, ":")
		for _, empty := range []string{key + ":", key + `: ""`, key + ": # nothing"} {
			if key == "codes" && strings.Contains(empty, `"`) {
				continue // names no file
			}
			_, err := policyfile.Parse([]byte(strings.Replace(good, line, empty, 1)), policyfile.ShippedCodes)
			assert.ErrorContains(t, err, key+" is empty", empty)
		}
	}
	for text, want := range map[string]string{
		"codes:\n  - code:\n    counts: void\n":                                                                        "line 4: code is empty",
		"codes:\n  - {code: A, counts: }\n":                                                                            "counts is empty",
		"codes:\n  - {code: A, counts: void, late: }\n":                                                                "late is empty",
		"bands:\n  - name:\n    below: 1/5\n  - {name: rest}\n":                                                        "name is empty",
		"bands:\n  - {name: low, below: }\n  - {name: rest}\n":                                                         "below is empty",
		"triggers:\n  - {id: , count: days, of: [excused], reach: 1, window: year}\n":                                  "id is empty",
		"triggers:\n  - {id: t, count: , of: [excused], reach: 1, window: year}\n":                                     "count is empty",
		"triggers:\n  - {id: t, count: days, of: [excused], reach: , window: year}\n":                                  "reach is empty",
		"triggers:\n  - {id: t, count: days, of: [excused], reach: 1, window: }\n":                                     "window is empty",
		"triggers:\n  - {id: t, count: days, of: , reach: 1, window: year}\n":                                          "of is empty",
		"triggers:\n  - {id: t, count: days, of: [\"\"], reach: 1, window: year}\n":                                    "a side is empty",
		"triggers:\n  - {id: t, count: days, of: [excused], reach: 1, window: {rolling_days: }}\n":                     "rolling_days is empty",
		"ladders:\n  - {id: , per: day, within: year, steps: []}\n":                                                    "id is empty",
		"ladders:\n  - {id: l, per: , within: year, steps: []}\n":                                                      "per is empty",
		"ladders:\n  - {id: l, per: day, within: year, steps: [{from: , do: [a]}]}\n":                                  "from is empty",
		"ladders:\n  - {id: l, per: day, within: year, steps: [{from: 1, do: }]}\n":                                    "do is missing or empty",
		"ladders:\n  - id: l\n    per: day\n    within: year\n    steps:\n      - from: 1\n        do:\n          -\n": "it can't be empty",
	} {
		base := "id: a\ntitle: A\ncodes: plain\nunit: day\nthreshold: 1/10\n"
		if strings.HasPrefix(text, "codes") {
			base = strings.Replace(base, "codes: plain\n", "", 1)
			text = strings.Replace(text, "codes:", "unit: day\ncodes:", 1)
			base = strings.Replace(base, "unit: day\n", "", 1)
		}
		_, err := policyfile.Parse([]byte(base+text), policyfile.ShippedCodes)
		assert.ErrorContains(t, err, strings.TrimPrefix(want, "line 4: "), text)
	}
	// What may be empty is.
	p, err := policyfile.Parse([]byte("id: a\ntitle: A\nsource:\ncodes:\n  - {code: A, word: , counts: void}\nunit: day\nthreshold: 1/10\nbands:\ntriggers:\nladders:\n  - {id: l, title: , per: day, within: year, steps: }\n"), policyfile.ShippedCodes)
	require.NoError(t, err)
	assert.Empty(t, p.Source+p.Codes.Codes[0].Word+p.Ladders[0].Title)
	// Written out, null and ~ are text.
	p, err = policyfile.Parse([]byte("id: null\ntitle: ~\ncodes: plain\nunit: day\nthreshold: 1/10\n"), policyfile.ShippedCodes)
	require.NoError(t, err)
	assert.Equal(t, []string{"null", "~"}, []string{p.ID, p.Title})
}

func TestByteOrderMarksAndOtherEncodings(t *testing.T) {
	const text = "id: a\ntitle: Künftig\ncodes: plain\nunit: day\nthreshold: 1/10\n"
	p, err := policyfile.Parse([]byte("\ufeff"+text), policyfile.ShippedCodes)
	require.NoError(t, err)
	assert.Equal(t, "Künftig", p.Title)
	set, err := policyfile.ParseCodes("own", []byte("\ufeffcodes: [{code: A, counts: void}]"))
	require.NoError(t, err)
	assert.Len(t, set.Codes, 1)
	latin1 := strings.Replace(text, "ü", "\xfc", 1)
	_, err = policyfile.Parse([]byte(latin1), policyfile.ShippedCodes)
	assert.EqualError(t, err, "policy: line 2: this is not valid UTF-8")
	_, err = policyfile.ParseCodes("own", []byte("codes: [{code: A, word: caf\xe9, counts: void}]"))
	assert.EqualError(t, err, "policy: line 1: this is not valid UTF-8")
}

func TestBandsBeginAboveNothingAndEndAtAll(t *testing.T) {
	for below, ok := range map[string]bool{"0": false, "0/3": false, "1/1000": true, "1": true, "1.0": true, "1001/1000": false, "3/2": false} {
		_, err := policyfile.Parse([]byte("id: a\ntitle: A\ncodes: plain\nunit: day\nthreshold: 1/10\nbands: [{name: low, below: "+below+"}, {name: rest}]\n"), policyfile.ShippedCodes)
		if ok {
			assert.NoError(t, err, below)
		} else {
			assert.ErrorContains(t, err, "above 0 and at most 1", below)
		}
	}
}

func TestACodeSetHasAtLeastOneCodeAndAtMost250(t *testing.T) {
	list := func(n int) []byte {
		var b strings.Builder
		b.WriteString("codes:\n")
		for i := range n {
			fmt.Fprintf(&b, "  - {code: C%d, counts: void}\n", i)
		}
		return []byte(b.String())
	}
	for n, want := range map[int]string{0: "codes is empty", 1: "", 250: "", 251: "at most 250 codes"} {
		_, err := policyfile.ParseCodes("own", list(n))
		if want == "" {
			assert.NoError(t, err)
		} else {
			assert.ErrorContains(t, err, want)
		}
	}
	_, err := policyfile.ParseCodes("own", []byte("codes: []"))
	assert.ErrorContains(t, err, "at least one code")
	_, err = policyfile.Parse([]byte("id: a\ntitle: A\ncodes: []\nunit: day\nthreshold: 1/10\n"), policyfile.ShippedCodes)
	assert.ErrorContains(t, err, "at least one code")
}

func TestCodeSetMistakes(t *testing.T) {
	for _, c := range []struct{ text, want string }{
		{"codes: [{code: L, counts: void, late: true}]", "late and void"},
		{"codes: [{code: N, counts: excused, unexplained: true}]", "unexplained"},
		{"codes: [{code: N, counts: excused}, {code: N, counts: void}]", "there twice"},
		{"codes: [{code: N, counts: absent}]", "counts is"},
		{"codes: [{code: N, counts: void, late: yes}]", "late is"},
	} {
		_, err := policyfile.ParseCodes("x", []byte(c.text))
		assert.ErrorContains(t, err, c.want)
	}
}

func TestShippedCodesCountAsPublished(t *testing.T) {
	set, err := policyfile.ShippedCodes("sessions-2024")
	require.NoError(t, err)
	count := map[policy.Counts]int{}
	for _, c := range set.Codes {
		count[c.Counts]++
	}
	// From memory of the national codes in force from August 2024.
	assert.Equal(t, map[policy.Counts]int{policy.Attended: 3, policy.Activity: 5, policy.Excused: 10, policy.Unexcused: 4, policy.Void: 12}, count)
}

func FuzzParse(f *testing.F) {
	for _, id := range policyfile.Policies() {
		text, _ := policyfile.Text(id)
		f.Add(text)
	}
	f.Fuzz(func(t *testing.T, text []byte) {
		p, err := policyfile.Parse(text, policyfile.ShippedCodes)
		if err == nil && (p.ID == "" || p.Codes == nil || p.Threshold.Sign() <= 0) {
			t.Fatal("accepted without what is needed")
		}
	})
}
