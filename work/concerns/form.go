package concerns

import (
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"meldung/core/attention"
	"meldung/core/policy"
	"meldung/files/policyfile"
	"meldung/files/rulesfile"
)

// RuleForm is a rule filled in. Numbers are as they are typed.
type RuleForm struct {
	ID      string      `json:"id" maxLength:"60" doc:"Empty for a new one"`
	Title   string      `json:"title" maxLength:"120"`
	Source  string      `json:"source" maxLength:"200"`
	On      bool        `json:"on"`
	Tell    []string    `json:"tell" maxItems:"4" doc:"Who is told of those whom it comes to find: pastoral, officer, leader, tutor"`
	Send    bool        `json:"send" doc:"By e-mail too, once a day"`
	Years   []string    `json:"years" maxItems:"40"`
	Forms   []string    `json:"forms" maxItems:"200"`
	Classes []string    `json:"classes" maxItems:"200"`
	Lists   []string    `json:"lists" maxItems:"50"`
	OnPlan  bool        `json:"onPlan"`
	Any     bool        `json:"any" doc:"One of the pieces is enough; else all"`
	Pieces  []RulePiece `json:"pieces" maxItems:"12"`
}

// RulePiece is a condition, or several of which all or any must hold.
type RulePiece struct {
	Condition *RuleCondition  `json:"condition,omitempty"`
	Any       bool            `json:"any" doc:"Of the pieces within"`
	Within    []RuleCondition `json:"within" maxItems:"12"`
}

// RuleCondition is a condition filled in. What its indicator does not take stays empty.
type RuleCondition struct {
	Indicator string   `json:"indicator" maxLength:"40"`
	Policy    string   `json:"policy" maxLength:"60"`
	Count     string   `json:"count" maxLength:"20"`
	Of        []string `json:"of" maxItems:"4"`
	Window    string   `json:"window" maxLength:"20"`
	N         string   `json:"n" maxLength:"10" doc:"Over how many a window rolls"`
	Weekday   int      `json:"weekday" minimum:"0" maximum:"7"`
	Slot      string   `json:"slot" maxLength:"60"`
	Per       string   `json:"per" maxLength:"20"`
	Kinds     []string `json:"kinds" maxItems:"50"`
	Roles     []string `json:"roles" maxItems:"5"`
	Places    []string `json:"places" maxItems:"50"`
	Days      string   `json:"days" maxLength:"10"`
	Period    string   `json:"period" maxLength:"100"`
	Class     string   `json:"class" maxLength:"120"`
	Item      string   `json:"item" maxLength:"200"`
	Source    string   `json:"source" maxLength:"120"`
	With      string   `json:"with" maxLength:"20"`
	Field     string   `json:"field" maxLength:"120"`
	Op        string   `json:"op" maxLength:"20"`
	Value     string   `json:"value" maxLength:"60" doc:"A share may be in per cent"`
	NeverOut  bool     `json:"neverOut"`
}

// Rule reads the form.
func (f RuleForm) Rule(policies map[string]*policy.Policy) (rulesfile.Rule, error) {
	out := rulesfile.Rule{On: f.On, Tell: some(f.Tell), Send: f.Send, Rule: attention.Rule{ID: f.ID, Title: strings.TrimSpace(f.Title), Source: f.Source,
		For: attention.Scope{Years: f.Years, Forms: f.Forms, Classes: f.Classes, Lists: f.Lists, OnPlan: f.OnPlan}, If: attention.Group{Any: f.Any}}}
	for _, who := range f.Tell {
		if !slices.Contains(rulesfile.Tells, who) {
			return out, fmt.Errorf("%q is nobody who can be told", who)
		}
	}
	for _, p := range f.Pieces {
		var e attention.Entry
		if p.Condition != nil {
			c, err := p.Condition.condition()
			if err != nil {
				return out, err
			}
			e.Condition = c
		} else {
			e.Group = &attention.Group{Any: p.Any}
			for _, w := range p.Within {
				c, err := w.condition()
				if err != nil {
					return out, err
				}
				e.Group.Entries = append(e.Group.Entries, attention.Entry{Condition: c})
			}
		}
		out.If.Entries = append(out.If.Entries, e)
	}
	return out, out.Check(policies)
}

func (c RuleCondition) condition() (*attention.Condition, error) {
	d := attention.Define(c.Indicator)
	if d == nil {
		return nil, fmt.Errorf("there is no indicator %q", c.Indicator)
	}
	in := attention.Indicator{ID: c.Indicator}
	var err error
	for _, p := range d.Params {
		switch p {
		case "policy":
			in.Policy = c.Policy
		case "count":
			in.Count = c.Count
		case "of":
			for _, word := range c.Of {
				in.Of |= policyfile.SideOf(word)
			}
		case "window":
			if in.Window, err = c.window(); err != nil {
				return nil, err
			}
		case "weekday":
			in.Weekday = c.Weekday
		case "days":
			if in.Days, err = wholeOrNone("days", c.Days); err != nil {
				return nil, err
			}
		case "kinds":
			in.Kinds = some(c.Kinds)
		case "roles":
			in.Roles = some(c.Roles)
		case "places":
			in.Places = some(c.Places)
		default:
			to := map[string]*string{"slot": &in.Slot, "per": &in.Per, "period": &in.Period, "class": &in.Class, "item": &in.Item, "source": &in.Source, "with": &in.With, "field": &in.Field}[p]
			*to = map[string]string{"slot": c.Slot, "per": c.Per, "period": c.Period, "class": c.Class, "item": c.Item, "source": c.Source, "with": c.With, "field": c.Field}[p]
		}
	}
	out := &attention.Condition{Indicator: in, Op: attention.Op(c.Op), NeverOut: c.NeverOut}
	if out.Value, err = attention.ParseTyped(c.Value, out.Op, d.Unit); err != nil {
		return nil, fmt.Errorf("%s: %w", d.Title, err)
	}
	return out, nil
}

func some(list []string) []string {
	if len(list) == 0 {
		return nil
	}
	return list
}

func wholeOrNone(what, text string) (int, error) {
	if text == "" {
		return 0, nil
	}
	n, err := strconv.Atoi(text)
	if err != nil || n < 1 {
		return 0, fmt.Errorf("%s is %q; a whole number from 1 on is expected", what, text)
	}
	return n, nil
}

func (c RuleCondition) window() (policy.Window, error) {
	for k := policy.Year; k <= policy.Run; k++ {
		if policyfile.WindowWord(k) != c.Window {
			continue
		}
		if k != policy.RollingDays && k != policy.RollingWeeks {
			return policy.Window{Kind: k}, nil
		}
		n, err := wholeOrNone("over how many it rolls", c.N)
		if err == nil && n == 0 {
			err = errors.New("over how many days or weeks is not said")
		}
		return policy.Window{Kind: k, N: n}, err
	}
	return policy.Window{}, fmt.Errorf("%q is no window", c.Window)
}

// FormOf fills a rule in.
func FormOf(r rulesfile.Rule) RuleForm {
	out := RuleForm{ID: r.ID, Title: r.Title, Source: r.Source, On: r.On, Tell: full(r.Tell), Send: r.Send, Years: full(r.For.Years), Forms: full(r.For.Forms), Classes: full(r.For.Classes), Lists: full(r.For.Lists), OnPlan: r.For.OnPlan, Any: r.If.Any, Pieces: []RulePiece{}}
	for _, e := range r.If.Entries {
		p := RulePiece{Within: []RuleCondition{}}
		if e.Group != nil {
			p.Any = e.Group.Any
			for _, c := range e.Group.Conditions() {
				p.Within = append(p.Within, formOf(c))
			}
		} else {
			c := formOf(e.Condition)
			p.Condition = &c
		}
		out.Pieces = append(out.Pieces, p)
	}
	return out
}

func full(list []string) []string { return append([]string{}, list...) }

func formOf(c *attention.Condition) RuleCondition {
	in := c.Indicator
	d := attention.Define(in.ID)
	out := RuleCondition{Indicator: in.ID, Policy: in.Policy, Count: in.Count, Of: full(policyfile.SideWords(in.Of)), Weekday: in.Weekday, Slot: in.Slot, Per: in.Per, Kinds: full(in.Kinds), Roles: full(in.Roles), Places: full(in.Places),
		Period: in.Period, Class: in.Class, Item: in.Item, Source: in.Source, With: in.With, Field: in.Field, Op: string(c.Op), Value: c.Value.Typed(d.Unit == attention.UnitShare), NeverOut: c.NeverOut}
	if slices.Contains(d.Params, "window") {
		out.Window = policyfile.WindowWord(in.Window.Kind)
	}
	if in.Window.N > 0 {
		out.N = strconv.Itoa(in.Window.N)
	}
	if in.Days > 0 {
		out.Days = strconv.Itoa(in.Days)
	}
	return out
}
