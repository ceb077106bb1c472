package gradebook

import (
	"slices"

	"github.com/goccy/go-yaml/ast"

	"meldung/core/policy"
	"meldung/core/results"
	"meldung/files/yamlfile"
)

const in = yamlfile.Kind("rule")

// ParseRule reads how a school turns grades into credits. A key that is missing is as in the default.
// The first mistake is returned as a *yamlfile.Problem.
func ParseRule(text []byte) (*results.Rule, error) {
	top, err := in.Top(text)
	if err != nil {
		return nil, err
	}
	f, err := in.Fields(top, "title", "source", "scale", "line", "withdrawn", "expected")
	if err != nil {
		return nil, err
	}
	rule := results.DefaultRule()
	r := in.Reader(f, top)
	if r.Has("title") {
		rule.Title = r.Text("title")
	}
	rule.Source = r.Text("source")
	if r.Has("line") {
		rule.Line = number(r, "line", policy.ParseFraction)
	}
	if r.Err != nil {
		return nil, r.Err
	}
	if r.Has("scale") {
		if rule.Scale, err = scaleOf(f["scale"]); err != nil {
			return nil, err
		}
	}
	if r.Has("withdrawn") {
		if rule.Withdrawn, err = withdrawnOf(f["withdrawn"], rule); err != nil {
			return nil, err
		}
	} else if _, clash := rule.Place(rule.Withdrawn[0]); clash {
		return nil, in.Wrong(f["scale"], "%q is a grade, and the mark of who has withdrawn: say another under withdrawn", rule.Withdrawn[0])
	}
	if r.Has("expected") {
		if rule.Expected, err = expectedOf(f["expected"]); err != nil {
			return nil, err
		}
	}
	return rule, nil
}

// number reads an exact number that must be there.
func number(r *yamlfile.Reader, key string, parse func(string) (policy.Fraction, error)) policy.Fraction {
	text := r.Need(key)
	f, err := parse(text)
	if err != nil {
		r.Fail(in.Wrong(r.F[key], "%s %v", key, err))
	}
	return f
}

func scaleOf(n ast.Node) ([]results.Grade, error) {
	list, err := in.Items(n)
	if err != nil {
		return nil, err
	}
	var out []results.Grade
	for i, item := range list {
		f, err := in.Fields(item, "grade", "points", "failing", "nearly", "from")
		if err != nil {
			return nil, err
		}
		r := in.Reader(f, item)
		g := results.Grade{Name: r.Need("grade"), Points: number(r, "points", policy.ParseFraction), Failing: r.Flag("failing"), Nearly: r.Flag("nearly")}
		if r.Has("from") {
			from := number(r, "from", policy.ParseDecimal)
			g.From, g.Written = &from, r.Text("from")
		}
		if r.Err != nil {
			return nil, r.Err
		}
		switch {
		case g.Failing && g.Nearly:
			return nil, in.Wrong(item, "the grade %s is both failing and nearly failing", g.Name)
		case slices.ContainsFunc(out, func(o results.Grade) bool { return o.Name == g.Name }):
			return nil, in.Wrong(item, "the grade %s is there twice", g.Name)
		case i > 0 && g.Points.Compare(out[i-1].Points) > 0:
			return nil, in.Wrong(item, "the scale goes from the best to the worst; the points of %s are above those of %s", g.Name, out[i-1].Name)
		case i > 0 && (g.From == nil) != (out[i-1].From == nil):
			return nil, in.Wrong(item, "every grade has a from, or none has")
		case i > 0 && g.From != nil && g.From.Compare(*out[i-1].From) >= 0:
			return nil, in.Wrong(item, "the scale goes from the best to the worst; from of %s is not below that of %s", g.Name, out[i-1].Name)
		}
		out = append(out, g)
	}
	if len(out) == 0 {
		return nil, in.Wrong(n, "the scale has no grades")
	}
	return out, nil
}

func withdrawnOf(n ast.Node, rule *results.Rule) ([]string, error) {
	list, err := in.Items(n)
	if err != nil {
		return nil, err
	}
	out := []string{}
	for _, item := range list {
		mark, err := in.Scalar(item)
		if err != nil {
			return nil, err
		}
		_, grade := rule.Place(mark)
		switch {
		case mark == "":
			return nil, in.Wrong(item, "a mark of who has withdrawn is empty")
		case slices.Contains(out, mark):
			return nil, in.Wrong(item, "the mark %s is there twice", mark)
		case grade || slices.ContainsFunc(rule.Scale, func(g results.Grade) bool { return g.Name == mark }):
			return nil, in.Wrong(item, "%s is a grade of the scale: it can't be a mark of who has withdrawn", mark)
		}
		out = append(out, mark)
	}
	return out, nil
}

func expectedOf(n ast.Node) ([]results.YearCredits, error) {
	list, err := in.Items(n)
	if err != nil {
		return nil, err
	}
	var out []results.YearCredits
	for _, item := range list {
		f, err := in.Fields(item, "year", "credits")
		if err != nil {
			return nil, err
		}
		r := in.Reader(f, item)
		y := results.YearCredits{Year: r.Need("year")}
		if !r.Has("credits") {
			r.Fail(in.Wrong(item, "credits is missing"))
		}
		if r.Err != nil {
			return nil, r.Err
		}
		if slices.ContainsFunc(out, func(o results.YearCredits) bool { return o.Year == y.Year }) {
			return nil, in.Wrong(item, "the year %s is there twice", y.Year)
		}
		figures, err := in.Items(f["credits"])
		if err != nil {
			return nil, err
		}
		if len(figures) != len(y.By) {
			return nil, in.Wrong(f["credits"], "the year %s has %d figures; two are expected, by the end of each half-year", y.Year, len(figures))
		}
		for i, figure := range figures {
			text, err := in.Scalar(figure)
			if err != nil {
				return nil, err
			}
			if y.By[i], err = policy.ParseDecimal(text); err != nil {
				return nil, in.Wrong(figure, "credits %v", err)
			}
		}
		out = append(out, y)
	}
	return out, nil
}
