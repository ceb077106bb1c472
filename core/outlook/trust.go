package outlook

import (
	"cmp"
	"slices"
	"sort"
	"strconv"
)

// folds is into how many parts the history is taken apart to see how well it predicts; groups is into how
// many its calibration is.
const (
	folds  = 10
	groups = 10
)

// Group is a tenth of the history by its predicted probability.
type Group struct {
	N                   int
	Predicted, Observed float64 // means
}

// Trust is how well past students were predicted by the others.
type Trust struct {
	Predicted   []float64 // of each row of the history, by a fit to the other nine folds
	AUC, Brier  float64
	Calibration []Group // the lowest first
}

// Always is the Brier score of always saying the average.
func (f *Fit) Always() float64 {
	p := 0.0
	for _, y := range f.design.y {
		p += y
	}
	p /= float64(len(f.design.y))
	return p * (1 - p)
}

// Trust predicts each past student by a fit to those of the other nine folds, which are stratified by
// outcome.
func (f *Fit) Trust() Trust {
	t := Trust{Predicted: make([]float64, len(f.History.Rows))}
	fold := f.folds()
	var keep []int
	for i, x := range f.Terms {
		if !x.Out {
			keep = append(keep, i)
		}
	}
	for k := range folds {
		var others []int
		for row, its := range fold {
			if its != k {
				others = append(others, row)
			}
		}
		m := f.design.fit(others, f.design.independent(others, keep), f.Ridge)
		for row, its := range fold {
			if its == k {
				t.Predicted[row] = chance(f.design.logOdds(m, row))
			}
		}
	}
	for row, p := range t.Predicted {
		t.Brier += (p - f.design.y[row]) * (p - f.design.y[row]) / float64(len(fold))
	}
	t.AUC = f.auc(t.Predicted)
	t.Calibration = f.calibrate(t.Predicted, func(int) bool { return true })
	return t
}

// folds returns the fold of each row: of the rows of each outcome, in byte order of the student, by turns.
func (f *Fit) folds() []int {
	out := make([]int, len(f.History.Rows))
	for _, outcome := range []bool{false, true} {
		var rows []int
		for i, r := range f.History.Rows {
			if r.Outcome == outcome {
				rows = append(rows, i)
			}
		}
		slices.SortFunc(rows, func(a, b int) int { return cmp.Compare(f.History.Rows[a].Student, f.History.Rows[b].Student) })
		for n, row := range rows {
			out[row] = n % folds
		}
	}
	return out
}

// ranked is a probability as it is compared with others: to ten significant digits.
func ranked(p float64) float64 {
	out, _ := strconv.ParseFloat(strconv.FormatFloat(p, 'e', 9, 64), 64) // what was written is a number
	return out
}

// auc is the area under the ROC curve: how often one with the outcome stands above one without; ties count half.
func (f *Fit) auc(predicted []float64) float64 {
	var with, without []float64
	for row, p := range predicted {
		if f.design.y[row] == 1 {
			with = append(with, ranked(p))
		} else {
			without = append(without, ranked(p))
		}
	}
	slices.Sort(without)
	won := 0.0
	for _, p := range with {
		below := sort.SearchFloat64s(without, p)
		upTo := sort.Search(len(without), func(i int) bool { return without[i] > p })
		won += float64(below) + float64(upTo-below)/2
	}
	return won / float64(len(with)) / float64(len(without))
}

// CalibrationOf is the calibration of a part of the history, in as many groups as it has rows for.
func (f *Fit) CalibrationOf(t Trust, of func(row int) bool) []Group {
	return f.calibrate(t.Predicted, of)
}

func (f *Fit) calibrate(predicted []float64, of func(row int) bool) []Group {
	var rows []int
	for row := range predicted {
		if of(row) {
			rows = append(rows, row)
		}
	}
	slices.SortFunc(rows, func(a, b int) int {
		return cmp.Or(cmp.Compare(ranked(predicted[a]), ranked(predicted[b])), cmp.Compare(f.History.Rows[a].Student, f.History.Rows[b].Student))
	})
	var out []Group
	for g := range groups {
		var one Group
		for _, row := range rows[g*len(rows)/groups : (g+1)*len(rows)/groups] {
			one.N++
			one.Predicted += predicted[row]
			one.Observed += f.design.y[row]
		}
		if one.N > 0 {
			one.Predicted /= float64(one.N)
			one.Observed /= float64(one.N)
			out = append(out, one)
		}
	}
	return out
}
