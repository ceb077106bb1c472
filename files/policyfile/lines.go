package policyfile

import (
	"strings"

	"github.com/goccy/go-yaml/ast"

	"meldung/core/policy"
	"meldung/files/yamlfile"
)

func bandsOf(n ast.Node) ([]policy.Band, error) {
	list, err := in.Items(n)
	if err != nil {
		return nil, err
	}
	var out []policy.Band
	for i, item := range list {
		f, err := in.Fields(item, "name", "below")
		if err != nil {
			return nil, err
		}
		r := in.Reader(f, item)
		b := policy.Band{Name: r.Need("name")}
		last := i == len(list)-1
		switch {
		case last && r.Has("below"):
			r.Fail(in.Wrong(item, "the last band has no below"))
		case !last:
			below := r.Share("below", true)
			b.Below = &below
			if i > 0 && r.Err == nil && out[i-1].Below != nil && below.Rat().Cmp(out[i-1].Below.Rat()) <= 0 {
				r.Fail(in.Wrong(item, "bands ascend; %s is not above %s", below, out[i-1].Below))
			}
		}
		if r.Err != nil {
			return nil, r.Err
		}
		out = append(out, b)
	}
	return out, nil
}

var windowWords = []string{"year", "term", "grading_period", "month", "four_weeks", "rolling_weeks", "rolling_days", "run"}

func triggersOf(n ast.Node) ([]policy.Trigger, error) {
	list, err := in.Items(n)
	if err != nil {
		return nil, err
	}
	var out []policy.Trigger
	ids := map[string]bool{}
	for _, item := range list {
		f, err := in.Fields(item, "id", "title", "count", "of", "reach", "window")
		if err != nil {
			return nil, err
		}
		r := in.Reader(f, item)
		t := policy.Trigger{ID: r.Need("id"), Title: r.Text("title"), Count: policy.Count(r.Word("count", true, "minutes", "sessions", "days", "lates"))}
		if !r.Has("reach") {
			r.Fail(in.Wrong(item, "reach is missing"))
		}
		t.Reach = r.Whole("reach", 1, 1)
		if ids[t.ID] {
			r.Fail(in.Wrong(item, "the id %q is there twice", t.ID))
		}
		ids[t.ID] = true
		if r.Err == nil {
			t.Of, r.Err = sidesOf(item, f["of"], t.Count)
		}
		if r.Err == nil {
			t.Window, r.Err = windowOf(item, f["window"], t.Count)
		}
		if r.Err != nil {
			return nil, r.Err
		}
		out = append(out, t)
	}
	return out, nil
}

func sidesOf(item, n ast.Node, count policy.Count) (policy.Side, error) {
	if count == policy.CountLates {
		if n != nil {
			return 0, in.Wrong(n, "lates have no sides: of can't stand here")
		}
		return 0, nil
	}
	if n == nil {
		return 0, in.Wrong(item, "of is missing")
	}
	return Sides(in, n)
}

// Sides reads a list of sides that is not empty, of a kind of file.
func Sides(in yamlfile.Kind, n ast.Node) (policy.Side, error) {
	list, err := in.Items(n)
	if err != nil {
		return 0, err
	}
	if len(list) == 0 {
		return 0, in.Wrong(n, "of is empty; expected are excused, unexcused, medical or excused_nonmedical")
	}
	var out policy.Side
	for _, one := range list {
		s, err := in.Scalar(one)
		if err != nil {
			return 0, err
		}
		if s == "" {
			return 0, in.Wrong(one, "a side is empty; expected are excused, unexcused, medical or excused_nonmedical")
		}
		side := SideOf(s)
		if side == 0 {
			return 0, in.Wrong(one, "%q is no side; expected are excused, unexcused, medical or excused_nonmedical", s)
		}
		out |= side
	}
	return out, nil
}

func windowOf(item, n ast.Node, count policy.Count) (policy.Window, error) {
	if n == nil {
		return policy.Window{}, in.Wrong(item, "window is missing")
	}
	w, err := Window(in, n)
	if err == nil && w.Kind == policy.Run && count == policy.CountLates {
		return policy.Window{}, in.Wrong(n, "lates have no window run")
	}
	return w, err
}

// Window reads a window, of a kind of file.
func Window(in yamlfile.Kind, n ast.Node) (policy.Window, error) {
	switch n.(type) {
	case *ast.MappingNode, *ast.MappingValueNode:
		f, err := in.Fields(n, "rolling_weeks", "rolling_days")
		if err != nil {
			return policy.Window{}, err
		}
		if len(f) != 1 {
			return policy.Window{}, in.Wrong(n, "a window rolls over weeks or over days, not both")
		}
		r := in.Reader(f, n)
		if r.Has("rolling_weeks") {
			return policy.Window{Kind: policy.RollingWeeks, N: r.Whole("rolling_weeks", 1, 1)}, r.Err
		}
		return policy.Window{Kind: policy.RollingDays, N: r.Whole("rolling_days", 1, 1)}, r.Err
	}
	s, err := in.Scalar(n)
	switch {
	case err != nil:
		return policy.Window{}, err
	case s == "":
		return policy.Window{}, in.Wrong(n, "window is empty")
	}
	for i, w := range windowWords {
		kind := policy.WindowKind(i)
		if w != s || kind == policy.RollingDays || kind == policy.RollingWeeks {
			continue
		}
		return policy.Window{Kind: kind}, nil
	}
	return policy.Window{}, in.Wrong(n, "%q is no window; expected are year, term, grading_period, month, four_weeks, run, {rolling_weeks: n} or {rolling_days: n}", s)
}

func laddersOf(n ast.Node) ([]policy.Ladder, error) {
	list, err := in.Items(n)
	if err != nil {
		return nil, err
	}
	var out []policy.Ladder
	ids := map[string]bool{}
	for _, item := range list {
		f, err := in.Fields(item, "id", "title", "per", "within", "steps")
		if err != nil {
			return nil, err
		}
		r := in.Reader(f, item)
		l := policy.Ladder{ID: r.Need("id"), Title: r.Text("title"), Per: policy.Scope(r.Word("per", true, "class", "slot", "day", "school"))}
		l.Within = []policy.WindowKind{policy.GradingPeriod, policy.Term, policy.Year}[r.Word("within", true, "grading_period", "term", "year")]
		if ids[l.ID] {
			r.Fail(in.Wrong(item, "the id %q is there twice", l.ID))
		}
		ids[l.ID] = true
		if !r.Has("steps") {
			r.Fail(in.Wrong(item, "steps is missing"))
		}
		if r.Err == nil {
			l.Steps, r.Err = stepsOf(f["steps"])
		}
		if r.Err != nil {
			return nil, r.Err
		}
		out = append(out, l)
	}
	return out, nil
}

func stepsOf(n ast.Node) ([]policy.Step, error) {
	list, err := in.Items(n)
	if err != nil {
		return nil, err
	}
	var out []policy.Step
	for i, item := range list {
		f, err := in.Fields(item, "from", "to", "do")
		if err != nil {
			return nil, err
		}
		r := in.Reader(f, item)
		if !r.Has("from") {
			r.Fail(in.Wrong(item, "from is missing"))
		}
		s := policy.Step{From: r.Whole("from", 1, 1), To: r.Whole("to", 1, 0)}
		if s.To != 0 && s.To < s.From {
			r.Fail(in.Wrong(item, "to %d is before from %d", s.To, s.From))
		}
		if i > 0 && (out[i-1].To == 0 || out[i-1].To >= s.From) {
			r.Fail(in.Wrong(item, "steps ascend and do not overlap"))
		}
		actions, err := in.Items(f["do"])
		if err != nil {
			r.Fail(err)
		}
		if len(actions) == 0 {
			r.Fail(in.Wrong(item, "do is missing or empty"))
		}
		for _, a := range actions {
			text, err := in.Scalar(a)
			if err != nil {
				r.Fail(err)
			} else if text == "" || strings.Contains(text, ";") {
				r.Fail(in.Wrong(a, "an action is %q; it can't be empty or have a ;", text))
			}
			s.Do = append(s.Do, text)
		}
		if r.Err != nil {
			return nil, r.Err
		}
		out = append(out, s)
	}
	return out, nil
}
