package oneroster_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/files/oneroster"
	"meldung/files/table"
)

const itemHeader = "sourcedId,status,dateLastModified,title,description,assignDate,dueDate,classSourcedId,categorySourcedId,gradingPeriodSourcedId,resultValueMin,resultValueMax\n"
const scoreHeader = "sourcedId,status,dateLastModified,lineItemSourcedId,studentSourcedId,scoreStatus,score,scoreDate,comment\n"

func none(string) bool { return false }

func TestItemsAndScores(t *testing.T) {
	got := oneroster.ReadGradebook(table.Files{
		"categories.csv": []byte("sourcedId,status,dateLastModified,title\nk1,active,,Written work\n"),
		"lineItems.csv":  []byte(itemHeader + "i1,active,,Essay,,2026-02-23,2026-03-06,c1,k1,,0,20\ni2,tobedeleted,,,,,,,,,,\n"),
		"results.csv":    []byte(scoreHeader + "r1,active,,i1,s1,fully graded,7.5,2026-03-08,late but good\nr2,active,,i9,s1,not submitted,,,\nr3,tobedeleted,,,,,,,\n"),
	}, func(item string) bool { return item == "i9" })
	require.Empty(t, got.Problems)
	assigned, due, scored := day.MustDate("2026-02-23"), day.MustDate("2026-03-06"), day.MustDate("2026-03-08")
	require.Len(t, got.Items, 2)
	essay := got.Items[0]
	assert.Equal(t, "Written work", essay.Category)
	assert.Equal(t, []*day.Date{&assigned, &due}, []*day.Date{essay.Assigned, essay.Due})
	assert.Equal(t, "20", essay.Max)
	assert.Equal(t, oneroster.LineItem{ID: "i2", Gone: true}, got.Items[1])
	assert.Equal(t, []oneroster.Score{
		{ID: "r1", Item: "i1", Student: "s1", Status: "fully graded", Score: "7.5", Comment: "late but good", Date: &scored, Line: 2},
		{ID: "r2", Item: "i9", Student: "s1", Status: "not submitted", Line: 3},
		{ID: "r3", Gone: true},
	}, got.Scores)
}

// Every wrong row is said, by file and line.
func TestWhatIsWrongInAGradebook(t *testing.T) {
	got := oneroster.ReadGradebook(table.Files{
		"categories.csv": []byte("sourcedId,title\nk1,Written work\nk1,Again\n"),
		"lineItems.csv":  []byte(itemHeader + "i1,,,Essay,,,,c1,k7,,0,20\ni2,,,,,2026-02-30,,c1,k1,,0,many\n,,,Nameless,,,,c1,,,,\n"),
		"results.csv": []byte(scoreHeader + "r1,,,i1,s1,graded,7,,\nr2,,,i1,s1,fully graded,,,\nr3,,,i3,s1,submitted,-2,,\nr4,,,i1,s2,not submitted,4,,\n" +
			"r5,,,i1,s3,submitted,,,\nr6,,,i1,s3,submitted,,,\nr7,,,i1,s4,exempt,,2026-3-1,\n"),
	}, none)
	var lines []string
	for _, p := range got.Problems {
		lines = append(lines, p.String())
	}
	assert.Equal(t, []string{
		`categories.csv:3: sourcedId "k1" is there twice`,
		`lineItems.csv:2: there is no category "k7" in categories.csv`,
		`lineItems.csv:3: title is empty`,
		`lineItems.csv:3: resultValueMax "many" is not a number such as 12 or 7.5`,
		`lineItems.csv:3: assignDate "2026-02-30" is not a date`,
		`lineItems.csv:4: sourcedId is empty`,
		`results.csv:2: scoreStatus "graded" is none of exempt, fully graded, not submitted, partially graded, submitted`,
		`results.csv:3: score is empty, and scoreStatus is fully graded`,
		`results.csv:4: there is no item "i3"`,
		`results.csv:4: score "-2" is not a number such as 12 or 7.5`,
		`results.csv:5: score 4 of what was not submitted`,
		`results.csv:7: student s3 has a score of i1 twice`,
		`results.csv:8: scoreDate "2026-3-1" is not a date`,
	}, lines)

	alone := oneroster.ReadGradebook(table.Files{"lineItems.csv": []byte(itemHeader + "i1,,,Essay,,,,c1,k1,,0,20\n")}, none)
	assert.Empty(t, alone.Problems)
	assert.Equal(t, []string{"lineItems.csv names categories and there is no categories.csv: their titles stay empty"}, alone.Notes)
	orphans := oneroster.ReadGradebook(table.Files{"results.csv": []byte(scoreHeader + "r1,,,i1,s1,submitted,,,\n")}, none)
	require.Len(t, orphans.Problems, 1)
	assert.Contains(t, orphans.Problems[0].String(), "no lineItems.csv that can be read")
}

func FuzzReadGradebook(f *testing.F) {
	f.Add(itemHeader+"i1,,,Essay,,,,c1,k1,,0,20\n", scoreHeader+"r1,,,i1,s1,submitted,,,\n")
	f.Fuzz(func(t *testing.T, items, scores string) {
		got := oneroster.ReadGradebook(table.Files{"lineItems.csv": []byte(items), "results.csv": []byte(scores)}, none)
		for _, s := range got.Scores {
			assert.True(t, s.Gone || s.Status != "", "%+v", s)
		}
	})
}
