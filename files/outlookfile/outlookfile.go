// Package outlookfile reads a history of past students, and students of today, from CSV files and writes
// what a fit says of them. It knows how the files are written and what can be wrong in them; what they come
// to is core/outlook's.
package outlookfile

import (
	"fmt"
	"slices"
	"strings"

	"meldung/core/outlook"
	"meldung/files/table"
)

// The files that are written.
const (
	Coefficients = "coefficients.csv"
	FitFile      = "fit.csv"
	Calibration  = "calibration.csv"
	Outlooks     = "outlooks.csv"
)

// Written are the names of the files that are written.
var Written = []string{Coefficients, FitFile, Calibration, Outlooks}

// Warning is what fit.csv says where the rarer outcome is rare.
const Warning = "fewer than ten of the rarer outcome per coefficient"

// Student is a student of today with a value of each input.
type Student struct {
	ID     string
	Values []outlook.Value
}

// Areas says to which area each input belongs.
type Areas struct {
	Names []string // in the order of their first inputs
	of    []int    // of each input
}

// ParseAreas reads column=area, separated by commas. An input that is not named is an area by its own name.
func ParseAreas(text string, inputs []outlook.Input) (Areas, error) {
	named := map[string]string{}
	for _, one := range strings.Split(text, ",") {
		if text == "" {
			break
		}
		column, area, ok := strings.Cut(one, "=")
		switch {
		case !ok || area == "":
			return Areas{}, fmt.Errorf("%q is not column=area", one)
		case !slices.ContainsFunc(inputs, func(in outlook.Input) bool { return in.Name == column }):
			return Areas{}, fmt.Errorf("there is no input %q", column)
		case named[column] != "":
			return Areas{}, fmt.Errorf("the input %q is there twice", column)
		}
		named[column] = area
	}
	var out Areas
	for _, in := range inputs {
		area := in.Name
		if named[in.Name] != "" {
			area = named[in.Name]
		}
		i := slices.Index(out.Names, area)
		if i < 0 {
			i = len(out.Names)
			out.Names = append(out.Names, area)
		}
		out.of = append(out.of, i)
	}
	return out, nil
}

// Shares adds up the shares of an outlook by area.
func (a Areas) Shares(o outlook.Outlook) []float64 {
	out := make([]float64, len(a.Names))
	for i, share := range o.Shares {
		out[a.of[i]] += share
	}
	return out
}

// Measure returns the four files of a fit, with the outlooks of some students.
func Measure(f *outlook.Fit, students []Student, areas Areas) table.Files {
	trust := f.Trust()
	var fit [][]string
	add := func(name, value string) { fit = append(fit, []string{name, value}) }
	add("n", fmt.Sprint(len(f.History.Rows)))
	add("left_out", fmt.Sprint(f.History.LeftOut))
	add("log_likelihood", number(f.LogLikelihood))
	add("null_log_likelihood", number(f.NullLogLikelihood))
	add("rounds", fmt.Sprint(f.Rounds))
	add("ridge", number(f.Ridge))
	add("auc", number(trust.AUC))
	add("brier", number(trust.Brier))
	add("mean_log_odds", number(f.MeanLogOdds))
	add("warning", map[bool]string{true: Warning}[f.Few()])

	coefficients := [][]string{coefficient("(Intercept)", f.Intercept)}
	for i, t := range f.Terms {
		if t.Out {
			coefficients = append(coefficients, []string{t.Name, "", "", "", ""})
			continue
		}
		coefficients = append(coefficients, coefficient(t.Name, f.Coefficients[i]))
	}
	var calibration [][]string
	for i, g := range trust.Calibration {
		calibration = append(calibration, []string{fmt.Sprint(i + 1), fmt.Sprint(g.N), number(g.Predicted), number(g.Observed)})
	}
	header := []string{"student", "probability", "low", "high", "missing"}
	for _, name := range areas.Names {
		header = append(header, "share_"+name)
	}
	var outlooks [][]string
	for _, s := range students {
		o := f.Of(s.Values)
		var missing []string
		for _, i := range o.Missing {
			missing = append(missing, f.History.Inputs[i].Name)
		}
		row := []string{s.ID, number(o.Probability), number(o.Low), number(o.High), strings.Join(missing, ";")}
		for _, share := range areas.Shares(o) {
			row = append(row, number(share))
		}
		outlooks = append(outlooks, row)
	}
	return table.Files{
		Coefficients: table.Write([]string{"term", "estimate", "std_error", "z", "p"}, coefficients),
		FitFile:      table.Write([]string{"name", "value"}, fit),
		Calibration:  table.Write([]string{"group", "n", "predicted", "observed"}, calibration),
		Outlooks:     table.Write(header, outlooks),
	}
}

func coefficient(name string, c outlook.Coefficient) []string {
	return []string{name, number(c.Estimate), number(c.StdError), number(c.Z()), number(c.P())}
}

// number writes a number as C's %.10g, never −0.
func number(x float64) string {
	if text := fmt.Sprintf("%.10g", x); text != "-0" {
		return text
	}
	return "0"
}
