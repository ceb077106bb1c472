package policyfile

import (
	"strings"

	"github.com/goccy/go-yaml/ast"

	"meldung/core/policy"
)

func bandsOf(n ast.Node) ([]policy.Band, error) {
	list, err := items(n)
	if err != nil {
		return nil, err
	}
	var out []policy.Band
	for i, item := range list {
		f, err := fieldsOf(item, "name", "below")
		if err != nil {
			return nil, err
		}
		r := reader{f: f, node: item}
		b := policy.Band{Name: r.need("name")}
		last := i == len(list)-1
		switch {
		case last && r.has("below"):
			r.fail(wrong(item, "the last band has no below"))
		case !last:
			below := r.share("below", true)
			b.Below = &below
			if i > 0 && r.err == nil && out[i-1].Below != nil && below.Rat().Cmp(out[i-1].Below.Rat()) <= 0 {
				r.fail(wrong(item, "bands ascend; %s is not above %s", below, out[i-1].Below))
			}
		}
		if r.err != nil {
			return nil, r.err
		}
		out = append(out, b)
	}
	return out, nil
}

var windowWords = []string{"year", "term", "grading_period", "month", "four_weeks", "rolling_weeks", "rolling_days", "run"}

func triggersOf(n ast.Node) ([]policy.Trigger, error) {
	list, err := items(n)
	if err != nil {
		return nil, err
	}
	var out []policy.Trigger
	ids := map[string]bool{}
	for _, item := range list {
		f, err := fieldsOf(item, "id", "title", "count", "of", "reach", "window")
		if err != nil {
			return nil, err
		}
		r := reader{f: f, node: item}
		t := policy.Trigger{ID: r.need("id"), Title: r.text("title"), Count: policy.Count(r.word("count", true, "minutes", "sessions", "days", "lates"))}
		if !r.has("reach") {
			r.fail(wrong(item, "reach is missing"))
		}
		t.Reach = r.whole("reach", 1, 1)
		if ids[t.ID] {
			r.fail(wrong(item, "the id %q is there twice", t.ID))
		}
		ids[t.ID] = true
		if r.err == nil {
			t.Of, r.err = sidesOf(item, f["of"], t.Count)
		}
		if r.err == nil {
			t.Window, r.err = windowOf(item, f["window"], t.Count)
		}
		if r.err != nil {
			return nil, r.err
		}
		out = append(out, t)
	}
	return out, nil
}

func sidesOf(item, n ast.Node, count policy.Count) (policy.Side, error) {
	if count == policy.CountLates {
		if n != nil {
			return 0, wrong(n, "lates have no sides: of can't stand here")
		}
		return 0, nil
	}
	if n == nil {
		return 0, wrong(item, "of is missing")
	}
	list, err := items(n)
	if err != nil {
		return 0, err
	}
	if len(list) == 0 {
		return 0, wrong(n, "of is empty; expected are excused, unexcused, medical or excused_nonmedical")
	}
	var out policy.Side
	for _, one := range list {
		s, err := scalar(one)
		if err != nil {
			return 0, err
		}
		if s == "" {
			return 0, wrong(one, "a side is empty; expected are excused, unexcused, medical or excused_nonmedical")
		}
		side := sideOf(s)
		if side == 0 {
			return 0, wrong(one, "%q is no side; expected are excused, unexcused, medical or excused_nonmedical", s)
		}
		out |= side
	}
	return out, nil
}

func windowOf(item, n ast.Node, count policy.Count) (policy.Window, error) {
	if n == nil {
		return policy.Window{}, wrong(item, "window is missing")
	}
	switch n.(type) {
	case *ast.MappingNode, *ast.MappingValueNode:
		f, err := fieldsOf(n, "rolling_weeks", "rolling_days")
		if err != nil {
			return policy.Window{}, err
		}
		if len(f) != 1 {
			return policy.Window{}, wrong(n, "a window rolls over weeks or over days, not both")
		}
		r := reader{f: f, node: n}
		if r.has("rolling_weeks") {
			return policy.Window{Kind: policy.RollingWeeks, N: r.whole("rolling_weeks", 1, 1)}, r.err
		}
		return policy.Window{Kind: policy.RollingDays, N: r.whole("rolling_days", 1, 1)}, r.err
	}
	s, err := scalar(n)
	switch {
	case err != nil:
		return policy.Window{}, err
	case s == "":
		return policy.Window{}, wrong(n, "window is empty")
	}
	for i, w := range windowWords {
		kind := policy.WindowKind(i)
		if w != s || kind == policy.RollingDays || kind == policy.RollingWeeks {
			continue
		}
		if kind == policy.Run && count == policy.CountLates {
			return policy.Window{}, wrong(n, "lates have no window run")
		}
		return policy.Window{Kind: kind}, nil
	}
	return policy.Window{}, wrong(n, "%q is no window; expected are year, term, grading_period, month, four_weeks, run, {rolling_weeks: n} or {rolling_days: n}", s)
}

func laddersOf(n ast.Node) ([]policy.Ladder, error) {
	list, err := items(n)
	if err != nil {
		return nil, err
	}
	var out []policy.Ladder
	ids := map[string]bool{}
	for _, item := range list {
		f, err := fieldsOf(item, "id", "title", "per", "within", "steps")
		if err != nil {
			return nil, err
		}
		r := reader{f: f, node: item}
		l := policy.Ladder{ID: r.need("id"), Title: r.text("title"), Per: policy.Scope(r.word("per", true, "class", "slot", "day", "school"))}
		l.Within = []policy.WindowKind{policy.GradingPeriod, policy.Term, policy.Year}[r.word("within", true, "grading_period", "term", "year")]
		if ids[l.ID] {
			r.fail(wrong(item, "the id %q is there twice", l.ID))
		}
		ids[l.ID] = true
		if !r.has("steps") {
			r.fail(wrong(item, "steps is missing"))
		}
		if r.err == nil {
			l.Steps, r.err = stepsOf(f["steps"])
		}
		if r.err != nil {
			return nil, r.err
		}
		out = append(out, l)
	}
	return out, nil
}

func stepsOf(n ast.Node) ([]policy.Step, error) {
	list, err := items(n)
	if err != nil {
		return nil, err
	}
	var out []policy.Step
	for i, item := range list {
		f, err := fieldsOf(item, "from", "to", "do")
		if err != nil {
			return nil, err
		}
		r := reader{f: f, node: item}
		if !r.has("from") {
			r.fail(wrong(item, "from is missing"))
		}
		s := policy.Step{From: r.whole("from", 1, 1), To: r.whole("to", 1, 0)}
		if s.To != 0 && s.To < s.From {
			r.fail(wrong(item, "to %d is before from %d", s.To, s.From))
		}
		if i > 0 && (out[i-1].To == 0 || out[i-1].To >= s.From) {
			r.fail(wrong(item, "steps ascend and do not overlap"))
		}
		actions, err := items(f["do"])
		if err != nil {
			r.fail(err)
		}
		if len(actions) == 0 {
			r.fail(wrong(item, "do is missing or empty"))
		}
		for _, a := range actions {
			text, err := scalar(a)
			if err != nil {
				r.fail(err)
			} else if text == "" || strings.Contains(text, ";") {
				r.fail(wrong(a, "an action is %q; it can't be empty or have a ;", text))
			}
			s.Do = append(s.Do, text)
		}
		if r.err != nil {
			return nil, r.err
		}
		out = append(out, s)
	}
	return out, nil
}
