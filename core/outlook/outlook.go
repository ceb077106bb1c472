// Package outlook fits a logistic regression to a school's own past students and says, for one of today, how
// likely it is that the outcome comes, how far that can be trusted, and what it is made of. It must not know
// where the history comes from. The computation is that of R's glm (binomial family, logit link), with an
// optional ridge penalty.
package outlook

import (
	"fmt"
	"math"
	"slices"
	"strings"
)

// Input is a column of the history: a number, or a category of words.
type Input struct {
	Name   string
	Number bool
}

// Value is what is known of one input of a student.
type Value struct {
	Known  bool
	Number float64
	Word   string
}

// Row is a past student.
type Row struct {
	Student string
	Outcome bool // the student left without finishing
	Values  []Value
}

// History is the past students of whom every input is known.
type History struct {
	Inputs  []Input
	Rows    []Row
	LeftOut int // rows with a missing input
}

// NewHistory returns the history of some rows: those with a missing input are left out and counted.
func NewHistory(inputs []Input, rows []Row) *History {
	h := &History{Inputs: inputs}
	for _, r := range rows {
		if slices.ContainsFunc(r.Values, func(v Value) bool { return !v.Known }) {
			h.LeftOut++
			continue
		}
		h.Rows = append(h.Rows, r)
	}
	return h
}

// words are the values of a category in the history with how often each is there, in byte order.
func (h *History) words(input int) (list []string, count map[string]int) {
	count = map[string]int{}
	for _, r := range h.Rows {
		count[r.Values[input].Word]++
	}
	for w := range count {
		list = append(list, w)
	}
	slices.Sort(list)
	return list, count
}

// Term is a column of the design: a number, or whether a category has a value.
type Term struct {
	Input int
	Name  string // the input's, and after it the value
	Value string // of a category
	Out   bool   // left out: nothing of it remains beside the columns before, or a category has one value
}

// of returns what a value gives in the term's column.
func (t Term) of(v Value, number bool) float64 {
	switch {
	case number:
		return v.Number
	case v.Word == t.Value:
		return 1
	}
	return 0
}

// Coefficient is an estimate on the scale of the input.
type Coefficient struct {
	Estimate, StdError float64
}

// Z returns the estimate in standard errors.
func (c Coefficient) Z() float64 { return c.Estimate / c.StdError }

// P returns how likely so large a |z| is by chance, two-sided and normal.
func (c Coefficient) P() float64 { return math.Erfc(math.Abs(c.Z()) / math.Sqrt2) }

// Fit is a fitted regression.
type Fit struct {
	History      *History
	Ridge        float64
	Terms        []Term        // in the order of the inputs, a category's by value
	Intercept    Coefficient   // of the log-odds where every column is 0
	Coefficients []Coefficient // of each term; 0 where it is left out
	Means        []float64     // of each term's column over the history

	LogLikelihood, NullLogLikelihood float64 // without penalty
	Rounds                           int
	MeanLogOdds                      float64 // of the mean student

	design *design
	model  model
}

// fewest is how many of either outcome a history needs; perCoefficient how many of the rarer one for each
// coefficient, or there is a warning.
const (
	fewest         = 20
	perCoefficient = 10
)

// TooFew refuses a history with too few of an outcome.
type TooFew struct{ Without, With int }

func (e *TooFew) Error() string {
	return fmt.Sprintf("%d rows have outcome 1 and %d outcome 0, of those with every input; %d of each are needed", e.With, e.Without, fewest)
}

// Separated refuses a fit without an end: the inputs tell the outcomes apart without fail.
type Separated struct {
	Alone []string // inputs that do it alone
	Ridge bool     // there was a ridge: the rounds did not end
}

func (e *Separated) Error() string {
	switch {
	case e.Ridge:
		return "the rounds of the fit do not end; try a larger ridge"
	case len(e.Alone) > 0:
		return "the inputs separate the outcomes, so that no coefficients fit; give a ridge (--ridge 1), or leave out what separates alone: " + strings.Join(e.Alone, ", ")
	}
	return "the inputs separate the outcomes, so that no coefficients fit; give a ridge (--ridge 1)"
}

// New fits a regression to a history, with a ridge λ ≥ 0. The error is *TooFew or *Separated.
func New(h *History, ridge float64) (*Fit, error) {
	with := 0
	for _, r := range h.Rows {
		if r.Outcome {
			with++
		}
	}
	if without := len(h.Rows) - with; with < fewest || without < fewest {
		return nil, &TooFew{Without: without, With: with}
	}
	f := &Fit{History: h, Ridge: ridge}
	f.design = newDesign(h)
	f.Terms = f.design.terms
	all := f.design.everyone()
	keep := f.design.independent(all, f.design.columns())
	for i := range f.Terms {
		f.Terms[i].Out = !slices.Contains(keep, i)
	}
	f.model = f.design.fit(all, keep, ridge)
	f.Rounds = f.model.rounds
	if !f.model.converged || ridge == 0 && f.model.moved > mostMoved {
		return nil, &Separated{Alone: h.separating(), Ridge: ridge > 0}
	}
	f.Intercept, f.Coefficients = f.design.coefficients(all, keep, ridge, f.model)
	f.LogLikelihood = -f.design.deviance(all, f.model) / 2
	p := float64(with) / float64(len(h.Rows))
	f.NullLogLikelihood = float64(with)*math.Log(p) + float64(len(h.Rows)-with)*math.Log(1-p)
	for t := range f.Terms {
		mean := 0.0
		for _, x := range f.design.cols[t] {
			mean += x
		}
		mean /= float64(len(h.Rows))
		f.Means = append(f.Means, mean)
	}
	f.MeanLogOdds = f.meanLogOdds()
	return f, nil
}

// meanLogOdds is the log-odds at the means of the columns.
func (f *Fit) meanLogOdds() float64 {
	out := f.model.intercept
	for t, b := range f.model.beta {
		out += b * f.Means[t]
	}
	return out
}

// Few reports whether there are fewer than ten of the rarer outcome for each coefficient.
func (f *Fit) Few() bool {
	with, stay := 0, 0
	for _, r := range f.History.Rows {
		if r.Outcome {
			with++
		}
	}
	for _, t := range f.Terms {
		if !t.Out {
			stay++
		}
	}
	return min(with, len(f.History.Rows)-with) < perCoefficient*stay
}

// separating names the inputs that separate the outcomes alone: a number whose values for one outcome all
// lie at or below those for the other and which is no constant, a category with a value of one outcome only.
func (h *History) separating() []string {
	var out []string
	for i, in := range h.Inputs {
		if in.Number && h.numberSeparates(i) || !in.Number && h.wordSeparates(i) {
			out = append(out, in.Name)
		}
	}
	return out
}

func (h *History) numberSeparates(input int) bool {
	least, most := [2]float64{math.Inf(1), math.Inf(1)}, [2]float64{math.Inf(-1), math.Inf(-1)}
	for _, r := range h.Rows {
		o := 0
		if r.Outcome {
			o = 1
		}
		x := r.Values[input].Number
		least[o], most[o] = min(least[o], x), max(most[o], x)
	}
	constant := min(least[0], least[1]) == max(most[0], most[1])
	return !constant && (most[0] <= least[1] || most[1] <= least[0])
}

func (h *History) wordSeparates(input int) bool {
	words, all := h.words(input)
	with := map[string]int{}
	for _, r := range h.Rows {
		if r.Outcome {
			with[r.Values[input].Word]++
		}
	}
	return slices.ContainsFunc(words, func(w string) bool { return with[w] == 0 || with[w] == all[w] })
}
