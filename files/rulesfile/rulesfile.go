// Package rulesfile reads and writes the rules by which a school finds who needs attention. It knows how
// they are written and what can be wrong in them; what they mean is core/attention's.
package rulesfile

import (
	"slices"
	"strings"

	"github.com/goccy/go-yaml/ast"

	"meldung/core/attention"
	"meldung/core/policy"
	"meldung/files/policyfile"
	"meldung/files/yamlfile"
)

const in = yamlfile.Kind("rules")

// Rule is a rule as a file has it: also whether it is on, and who is told of those whom it comes to find.
type Rule struct {
	attention.Rule
	On   bool
	Tell []string // of Tells
	Send bool     // by e-mail too, once a day
}

// Tells are those who can be told: everybody of a role, and the tutors of the student.
var Tells = []string{"pastoral", "officer", "leader", "tutor"}

// Parse reads a file of rules. The first mistake is returned as a *yamlfile.Problem. Policies are those that
// the rules may name.
func Parse(text []byte, policies map[string]*policy.Policy) ([]Rule, error) {
	top, err := in.Top(text)
	if err != nil {
		return nil, err
	}
	f, err := in.Fields(top, "rules")
	if err != nil {
		return nil, err
	}
	list, err := in.Items(f["rules"])
	if err != nil {
		return nil, err
	}
	if len(list) == 0 {
		return nil, in.Wrong(top, "there is no rule")
	}
	var out []Rule
	for _, n := range list {
		one, err := ruleOf(n, policies)
		if err != nil {
			return nil, err
		}
		if slices.ContainsFunc(out, func(o Rule) bool { return o.ID == one.ID }) {
			return nil, in.Wrong(n, "the id %q is there twice", one.ID)
		}
		out = append(out, one)
	}
	return out, nil
}

func ruleOf(n ast.Node, policies map[string]*policy.Policy) (Rule, error) {
	f, err := in.Fields(n, "id", "title", "source", "on", "tell", "send", "for", "all", "any")
	if err != nil {
		return Rule{}, err
	}
	r := in.Reader(f, n)
	out := Rule{Rule: attention.Rule{ID: r.Need("id"), Title: r.Need("title"), Source: r.Text("source")}, On: !r.Has("on") || r.Flag("on")}
	if r.Err != nil {
		return out, r.Err
	}
	if out.Tell, err = textsOf("tell", f["tell"]); err != nil {
		return out, err
	}
	for _, who := range out.Tell {
		if !slices.Contains(Tells, who) {
			return out, in.Wrong(f["tell"], "%q is nobody who can be told; %s are", who, strings.Join(Tells, ", "))
		}
	}
	if out.Send = r.Flag("send"); r.Err != nil {
		return out, r.Err
	}
	if out.For, err = scopeOf(f["for"]); err != nil {
		return out, err
	}
	if out.If, err = groupOf(n, f, 1, policies); err != nil {
		return out, err
	}
	return out, nil
}

func scopeOf(n ast.Node) (attention.Scope, error) {
	var out attention.Scope
	if n == nil {
		return out, nil
	}
	f, err := in.Fields(n, "years", "forms", "classes", "lists", "on_plan")
	if err != nil {
		return out, err
	}
	for _, x := range []struct {
		key string
		to  *[]string
	}{{"years", &out.Years}, {"forms", &out.Forms}, {"classes", &out.Classes}, {"lists", &out.Lists}} {
		if *x.to, err = textsOf(x.key, f[x.key]); err != nil {
			return out, err
		}
	}
	r := in.Reader(f, n)
	out.OnPlan = r.Flag("on_plan")
	return out, r.Err
}

func textsOf(key string, n ast.Node) ([]string, error) {
	list, err := in.Items(n)
	if err != nil {
		return nil, err
	}
	var out []string
	for _, one := range list {
		text, err := in.Scalar(one)
		switch {
		case err != nil:
			return nil, err
		case text == "":
			return nil, in.Wrong(one, "one of %s is empty", key)
		case slices.Contains(out, text):
			return nil, in.Wrong(one, "%q is there twice", text)
		}
		out = append(out, text)
	}
	return out, nil
}

// groupOf reads the conditions of a mapping: under all, or under any.
func groupOf(n ast.Node, f map[string]ast.Node, level int, policies map[string]*policy.Policy) (attention.Group, error) {
	out := attention.Group{Any: f["any"] != nil}
	key := map[bool]string{false: "all", true: "any"}[out.Any]
	if f["all"] != nil && out.Any {
		return out, in.Wrong(n, "conditions stand under all or under any, not both")
	}
	list, err := in.Items(f[key])
	if err != nil {
		return out, err
	}
	if len(list) == 0 {
		return out, in.Wrong(n, "it says nothing: one condition is needed, under all or under any")
	}
	for _, one := range list {
		e, err := entryOf(one, level, policies)
		if err != nil {
			return out, err
		}
		out.Entries = append(out.Entries, e)
	}
	return out, nil
}

// comparisons are the keys of a condition that say how it compares.
func comparisons() []string {
	var out []string
	for _, op := range attention.Ops {
		out = append(out, string(op))
	}
	return out
}

func indicators() []string {
	var out []string
	for _, d := range attention.Definitions {
		out = append(out, d.ID)
	}
	return out
}

func entryOf(n ast.Node, level int, policies map[string]*policy.Policy) (attention.Entry, error) {
	known := append(append([]string{"all", "any", "never"}, comparisons()...), indicators()...)
	f, err := in.Fields(n, known...)
	if err != nil {
		return attention.Entry{}, err
	}
	if f["all"] != nil || f["any"] != nil {
		switch {
		case len(f) > 1 && (f["all"] == nil || f["any"] == nil):
			return attention.Entry{}, in.Wrong(n, "conditions within conditions have no comparison of their own")
		case level >= attention.Deepest:
			return attention.Entry{}, in.Wrong(n, "conditions within conditions go %d levels deep, and no more", attention.Deepest)
		}
		g, err := groupOf(n, f, level+1, policies)
		return attention.Entry{Group: &g}, err
	}
	c, err := conditionOf(n, f, policies)
	return attention.Entry{Condition: c}, err
}

// one returns the only key of some that is there.
func one(n ast.Node, f map[string]ast.Node, of []string, what string) (string, error) {
	found := ""
	for _, key := range of {
		if f[key] == nil {
			continue
		}
		if found != "" {
			return "", in.Wrong(n, "%s and %s: one %s is needed", found, key, what)
		}
		found = key
	}
	if found == "" {
		return "", in.Wrong(n, "the %s is missing; expected is one of %s", what, strings.Join(of, ", "))
	}
	return found, nil
}

func conditionOf(n ast.Node, f map[string]ast.Node, policies map[string]*policy.Policy) (*attention.Condition, error) {
	id, err := one(n, f, indicators(), "indicator")
	if err != nil {
		return nil, err
	}
	op, err := one(n, f, comparisons(), "comparison")
	if err != nil {
		return nil, err
	}
	out := &attention.Condition{Op: attention.Op(op)}
	if out.Indicator, err = indicatorOf(id, f[id]); err != nil {
		return nil, err
	}
	r := in.Reader(f, n)
	text := r.Need(op)
	out.NeverOut = r.Word("never", false, "counts", "left_out") == 1
	if r.Err != nil {
		return nil, r.Err
	}
	if out.Value, err = attention.ParseValue(text, out.Op); err != nil {
		return nil, in.Wrong(f[op], "%s %v", op, err)
	}
	if err := out.Check(policies); err != nil {
		return nil, in.Wrong(n, "%v", err)
	}
	return out, nil
}

var weekdays = []string{"", "monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday"}

// usualPolicy is the policy of an indicator that names none.
const usualPolicy = "ten-percent"

func indicatorOf(id string, n ast.Node) (attention.Indicator, error) {
	d := attention.Define(id)
	out := attention.Indicator{ID: id}
	f := map[string]ast.Node{}
	if !yamlfile.Nothing(n) {
		var err error
		if m, ok := n.(*ast.MappingNode); !ok || len(m.Values) > 0 {
			if f, err = in.Fields(n, d.Params...); err != nil {
				return out, err
			}
		}
	}
	r := in.Reader(f, n)
	var err error
	for _, key := range d.Params {
		switch key {
		case "policy":
			if out.Policy = usualPolicy; r.Has(key) {
				out.Policy = r.Need(key)
			}
		case "count":
			out.Count = attention.Counts[r.Word(key, false, attention.Counts...)]
		case "of":
			if r.Has(key) {
				if out.Of, err = policyfile.Sides(in, f[key]); err != nil {
					return out, err
				}
			}
		case "window":
			if r.Has(key) {
				if out.Window, err = policyfile.Window(in, f[key]); err != nil {
					return out, err
				}
			}
		case "weekday":
			out.Weekday = r.Word(key, false, weekdays...)
		case "per":
			out.Per = attention.Pers[r.Word(key, false, attention.Pers...)]
		case "with":
			if r.Has(key) {
				out.With = []string{attention.WithHome, attention.WithStudent}[r.Word(key, true, attention.WithHome, attention.WithStudent)]
			}
		case "days":
			out.Days = r.Whole(key, 1, 0)
		case "kinds", "roles", "places":
			to := map[string]*[]string{"kinds": &out.Kinds, "roles": &out.Roles, "places": &out.Places}[key]
			if *to, err = textsOf(key, f[key]); err != nil {
				return out, err
			}
		default:
			to := map[string]*string{"slot": &out.Slot, "period": &out.Period, "class": &out.Class, "item": &out.Item, "source": &out.Source, "field": &out.Field}[key]
			*to = r.Text(key)
		}
	}
	return out, r.Err
}
