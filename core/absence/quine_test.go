package absence_test

import (
	"encoding/csv"
	"fmt"
	"os/exec"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/absence"
	"meldung/core/policy"
)

// The data set quine of the R package MASS (Venables and Ripley, Modern Applied
// Statistics with S, 2002): 146 students, the days each was absent in a year, with
// groups. R works out the shares and quantiles; a ledger with the same absences
// must come to the same. The year is given 200 days, since quine does not say.
const quineInR = `
library(MASS)
days <- 200
write.csv(data.frame(group = paste(quine$Eth, quine$Sex, quine$Age, sep = "-"), days = quine$Days), row.names = FALSE, quote = FALSE)
cat("--\n")
cat("rate", sprintf("%.6f", 100 * sum(quine$Days) / (days * nrow(quine))), "\n")
cat("bands", table(cut(quine$Days / days, c(0, 1/20, 1/10, 1/5, Inf), right = FALSE)), "\n")
cat("quantiles", sprintf("%.6f", 100 * quantile(quine$Days / days, c(0, 0.25, 0.5, 0.9, 1))), "\n")
for (g in sort(unique(quine$Age))) cat("age", g, sprintf("%.6f", 100 * mean(quine$Days[quine$Age == g]) / days), "\n")
`

func TestSharesAndQuantilesOfQuineByR(t *testing.T) {
	out, err := exec.Command("Rscript", "--vanilla", "-e", quineInR).Output()
	require.NoError(t, err, "Rscript with the package MASS")
	data, results, ok := strings.Cut(string(out), "--\n")
	require.True(t, ok)
	rows, err := csv.NewReader(strings.NewReader(data)).ReadAll()
	require.NoError(t, err)
	require.Len(t, rows, 147, "a header and 146 students")

	const days = 200
	l := absence.NewLedger(calendar(t, days, twoLessons), plain)
	byAge := map[string][]int{}
	var everyone []int
	for n, row := range rows[1:] {
		absent, err := strconv.Atoi(row[1])
		require.NoError(t, err)
		i := l.AddStudent(student(fmt.Sprint(n)))
		for d := range days {
			code := "P"
			if d < absent {
				code = "U"
			}
			put(t, l, i, d, code, code, code)
		}
		age := row[0][strings.LastIndex(row[0], "-")+1:]
		byAge[age] = append(byAge[age], i)
		everyone = append(everyone, i)
	}
	m := absence.NewMeasure(l, base(policy.Day))
	span := absence.Span{From: 0, To: days - 1}
	whole := m.Group(everyone, span)
	figures := make([]absence.Figures, l.Len())
	for i := range figures {
		figures[i] = m.Student(i, span)
	}
	var got []string
	percent := func(f policy.Fraction) string { return f.Rat().Mul(f.Rat(), f100.Rat()).FloatString(6) }
	got = append(got, "rate "+percent(policy.NewFraction(int64(whole.Absent), int64(whole.Possible))))
	got = append(got, "bands "+strings.Trim(fmt.Sprint(whole.Bands), "[]"))
	q := "quantiles"
	for _, f := range absence.Quantiles(figures, policy.NewFraction(0, 1), policy.NewFraction(1, 4), policy.NewFraction(1, 2), policy.NewFraction(9, 10), policy.NewFraction(1, 1)) {
		q += " " + percent(f)
	}
	got = append(got, q)
	for _, age := range []string{"F0", "F1", "F2", "F3"} {
		g := m.Group(byAge[age], span)
		got = append(got, "age "+age+" "+percent(policy.NewFraction(int64(g.Absent), int64(g.Possible))))
	}
	var want []string
	for _, line := range strings.Split(strings.TrimSpace(results), "\n") {
		want = append(want, strings.TrimSpace(line))
	}
	assert.Equal(t, want, got)
}

var f100 = policy.NewFraction(100, 1)

func TestQuantilesOfFew(t *testing.T) {
	half := policy.NewFraction(1, 2)
	assert.Nil(t, absence.Quantiles([]absence.Figures{{}}, half), "nobody has a rate")
	one := []absence.Figures{{Absent: 1, Possible: 4}, {}}
	assert.Equal(t, "25.0", absence.Quantiles(one, half)[0].Percent())
	two := append(one, absence.Figures{Absent: 1, Possible: 2})
	assert.Equal(t, "37.5", absence.Quantiles(two, half)[0].Percent())
}
