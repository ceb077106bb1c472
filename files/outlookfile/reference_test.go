package outlookfile_test

import (
	"encoding/csv"
	"fmt"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/outlook"
	"meldung/files/outlookfile"
	"meldung/files/table"
)

// What R makes of data of the package MASS: quine (days absent from school of 146 students) and birthwt. The
// history is written as a file; the whole coefficient table, the likelihoods and the rounds are glm's; area,
// Brier score and calibration are worked out in R from the same folds.
const reference = `
suppressMessages(library(MASS))
args <- commandArgs(TRUE)
if (args[1] == "quine") {
  d <- data.frame(outcome = as.integer(quine$Days >= 18), sex = as.character(quine$Sex), age = as.character(quine$Age), eth = as.character(quine$Eth), lrn = as.character(quine$Lrn))
} else {
  d <- data.frame(outcome = birthwt$low, age = birthwt$age, lwt = birthwt$lwt, race = c("white", "black", "other")[birthwt$race], smoke = birthwt$smoke, ptl = birthwt$ptl, ht = birthwt$ht, ui = birthwt$ui, ftv = birthwt$ftv)
}
d$student <- sprintf("s%03d", (seq_len(nrow(d)) * 37) %% 1000)
write.csv(d, args[2], row.names = FALSE, quote = FALSE)
id <- d$student
d$student <- NULL
for (n in names(d)) if (is.character(d[[n]])) d[[n]] <- factor(d[[n]], levels = sort(unique(d[[n]]), method = "radix"))
control <- glm.control(epsilon = 1e-10, maxit = 100)
fit <- glm(outcome ~ ., binomial, d, control = control)
say <- function(name, ...) cat(name, sprintf("%.17g", c(...)), sep = ",", fill = 100000)
# glm's own table has the weights of the last round but one; begun again at the coefficients, those of the coefficients.
table <- summary(suppressWarnings(glm(outcome ~ ., binomial, d, control = control, start = coef(fit))))$coefficients
for (i in seq_len(nrow(table))) say(rownames(table)[i], table[i, ])
say("log_likelihood", logLik(fit))
say("null_log_likelihood", -fit$null.deviance / 2)
say("rounds", fit$iter)
fold <- integer(nrow(d))
for (y in 0:1) {
  rows <- which(d$outcome == y)
  rows <- rows[order(id[rows], method = "radix")]
  fold[rows] <- (seq_along(rows) - 1) %% 10
}
p <- numeric(nrow(d))
for (k in 0:9) {
  m <- suppressWarnings(glm(outcome ~ ., binomial, d[fold != k, ], control = control))
  p[fold == k] <- suppressWarnings(predict(m, d[fold == k, ], type = "response"))
}
r <- rank(signif(p, 10))
n1 <- sum(d$outcome); n0 <- nrow(d) - n1
say("auc", (sum(r[d$outcome == 1]) - n1 * (n1 + 1) / 2) / n1 / n0)
say("brier", mean((p - d$outcome)^2))
by <- order(signif(p, 10), id, method = "radix")
for (g in 1:10) {
  rows <- by[(floor((g - 1) * nrow(d) / 10) + 1):floor(g * nrow(d) / 10)]
  say(paste0("group", g), length(rows), mean(p[rows]), mean(d$outcome[rows]))
}
`

func fromR(t *testing.T, data string) (history []byte, said map[string][]float64) {
	t.Helper()
	file := filepath.Join(t.TempDir(), data+".csv")
	script := filepath.Join(t.TempDir(), "reference.R")
	require.NoError(t, os.WriteFile(script, []byte(reference), 0o600))
	out, err := exec.CommandContext(t.Context(), "Rscript", "--vanilla", script, data, file).Output()
	require.NoError(t, err, "Rscript with the package MASS")
	said = map[string][]float64{}
	for _, line := range strings.Fields(strings.ReplaceAll(string(out), ", ", ",")) {
		name, rest, _ := strings.Cut(line, ",")
		for _, x := range strings.Split(strings.Trim(rest, ","), ",") {
			n, err := strconv.ParseFloat(x, 64)
			require.NoError(t, err, line)
			said[name] = append(said[name], n)
		}
	}
	history, err = os.ReadFile(file)
	require.NoError(t, err)
	return history, said
}

func rowsOf(t *testing.T, content []byte) map[string][]string {
	t.Helper()
	rows, err := csv.NewReader(strings.NewReader(string(content))).ReadAll()
	require.NoError(t, err)
	out := map[string][]string{}
	for _, r := range rows {
		out[r[0]] = r[1:]
	}
	return out
}

// near compares with what R says to six significant digits.
func near(t *testing.T, want float64, got, what string) {
	t.Helper()
	x, err := strconv.ParseFloat(got, 64)
	require.NoError(t, err, what)
	assert.InDelta(t, want, x, 5e-7*math.Pow(10, math.Ceil(math.Log10(math.Abs(want)+1e-300)))+1e-15, what)
}

func measure(t *testing.T, history []byte, ridge float64) table.Files {
	t.Helper()
	past, _, problems := outlookfile.Read("history.csv", history, "", nil)
	require.Empty(t, problems)
	fit, err := outlook.New(past, ridge)
	require.NoError(t, err)
	areas, err := outlookfile.ParseAreas("", past.Inputs)
	require.NoError(t, err)
	return outlookfile.Measure(fit, nil, areas)
}

func TestAgainstR(t *testing.T) {
	for _, data := range []string{"quine", "birthwt"} {
		history, said := fromR(t, data)
		files := measure(t, history, 0)
		coefficients, fit, calibration := rowsOf(t, files[outlookfile.Coefficients]), rowsOf(t, files[outlookfile.FitFile]), rowsOf(t, files[outlookfile.Calibration])
		inFit := 0
		for name, want := range said {
			switch {
			case strings.HasPrefix(name, "group"):
				for i, x := range want {
					near(t, x, calibration[strings.TrimPrefix(name, "group")][i], data+" "+name)
				}
			case len(want) == 4:
				inFit++
				for i, x := range want {
					near(t, x, coefficients[name][i], fmt.Sprint(data, " ", name, " ", i))
				}
			default:
				near(t, want[0], fit[name][0], data+" "+name)
			}
		}
		for name, row := range coefficients {
			if name != "term" && row[0] != "" {
				inFit--
			}
		}
		assert.Zero(t, inFit, "the terms are R's")
	}
	// As a book of the data's own has it: the log-likelihood of the quine fit.
	history, _ := fromR(t, "quine")
	assert.Equal(t, "-81.04841557", rowsOf(t, measure(t, history, 0)[outlookfile.FitFile])["log_likelihood"][0])
}
