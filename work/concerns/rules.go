package concerns

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"meldung/core/attention"
	"meldung/core/policy"
	"meldung/files/policyfile"
	"meldung/files/rulesfile"
	"meldung/files/yamlfile"
	"meldung/store"
	"meldung/work"
)

// HeldRule is a rule that stands, with the version that it is.
type HeldRule struct {
	rulesfile.Rule
	Version int64  // 0 for one that ships
	By      string // who changed it last; empty for one that ships
	Problem string // why it can't be read any more: a policy that it names is gone
}

// Policies are those that rules may name: every section's of a date.
func Policies(v work.Snapshot) (map[string]*policy.Policy, error) {
	out := map[string]*policy.Policy{}
	for _, s := range v.Sections() {
		list, err := s.PoliciesOn(v.On)
		if err != nil {
			return nil, err
		}
		for _, p := range list {
			out[p.ID] = p
		}
	}
	return out, nil
}

// Names give the words of what rules name.
func Names(policies map[string]*policy.Policy) attention.Names {
	return attention.Names{Policy: func(id string) string {
		if p := policies[id]; p != nil {
			return p.Title
		}
		return id
	}}
}

// Rules returns the school's rules in their order; those that ship where it has none.
func Rules(ctx context.Context, q store.Queryer, policies map[string]*policy.Policy) ([]HeldRule, error) {
	rows, err := store.AttentionRules(ctx, q)
	if err != nil {
		return nil, err
	}
	var out []HeldRule
	if ever, err := store.AnyAttentionRule(ctx, q); err != nil || !ever {
		if err != nil {
			return nil, err
		}
		shipped, err := rulesfile.Parse(rulesfile.Shipped(), policies)
		for _, r := range shipped {
			out = append(out, HeldRule{Rule: r})
		}
		return out, err
	}
	for _, row := range rows {
		out = append(out, heldOf(row, policies))
	}
	return out, nil
}

func heldOf(row store.AttentionRule, policies map[string]*policy.Policy) HeldRule {
	list, err := rulesfile.Parse([]byte(row.Words), policies)
	if err != nil {
		return HeldRule{Rule: rulesfile.Rule{Rule: attention.Rule{ID: row.Key, Title: row.Key}}, Version: int64(row.ID), By: row.By, Problem: wrongIn(err)}
	}
	return HeldRule{Rule: list[0], Version: int64(row.ID), By: row.By}
}

func wrongIn(err error) string {
	var p *yamlfile.Problem
	if errors.As(err, &p) {
		return p.Text
	}
	return err.Error()
}

// RuleForm is a rule filled in. Numbers are as they are typed.
type RuleForm struct {
	ID      string      `json:"id" maxLength:"60" doc:"Empty for a new one"`
	Title   string      `json:"title" maxLength:"120"`
	Source  string      `json:"source" maxLength:"200"`
	On      bool        `json:"on"`
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
	out := rulesfile.Rule{On: f.On, Rule: attention.Rule{ID: f.ID, Title: strings.TrimSpace(f.Title), Source: f.Source,
		For: attention.Scope{Years: f.Years, Forms: f.Forms, Classes: f.Classes, Lists: f.Lists, OnPlan: f.OnPlan}, If: attention.Group{Any: f.Any}}}
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
	out := RuleForm{ID: r.ID, Title: r.Title, Source: r.Source, On: r.On, Years: full(r.For.Years), Forms: full(r.For.Forms), Classes: full(r.For.Classes), Lists: full(r.For.Lists), OnPlan: r.For.OnPlan, Any: r.If.Any, Pieces: []RulePiece{}}
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

// RuleChange saves a rule, or takes it off.
type RuleChange struct {
	Rule    RuleForm `json:"rule"`
	Version int64    `json:"version" doc:"The version that was seen; 0 for a new rule or one that ships"`
	Off     bool     `json:"off" doc:"Take the rule off"`
}

// SaveRule saves a version of a rule as the one that was seen; the versions before stay on record.
func SaveRule(ctx context.Context, o *work.Office, p work.Person, key string, c RuleChange) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MaySetRules, Kind: "rule of attention", In: c, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		policies, err := Policies(v)
		if err != nil {
			return err
		}
		held, err := Rules(ctx, tx.Tx, policies)
		if err != nil {
			return err
		}
		i := slices.IndexFunc(held, func(h HeldRule) bool { return h.ID == c.Rule.ID })
		switch {
		case c.Rule.ID != "" && i < 0:
			return work.NotFoundf("there is no rule %q", c.Rule.ID)
		case i >= 0 && held[i].Version != c.Version:
			return work.Conflictf("%s has changed “%s” meanwhile; nothing was saved", held[i].By, held[i].Title)
		}
		row := store.AttentionRule{Key: c.Rule.ID, Place: i}
		var r rulesfile.Rule
		if c.Off {
			if i < 0 {
				return work.Wrongf("say which rule to take off")
			}
			r = held[i].Rule
		} else if r, err = c.Rule.Rule(policies); err != nil {
			return work.Wrongf("%v; nothing was saved", err)
		}
		if i < 0 {
			row.Place = len(held)
			row.Key = newKey(r.Title, held)
			r.ID = row.Key
		}
		if err := own(ctx, tx, held); err != nil {
			return err
		}
		words := "“" + r.Title + "” "
		if !c.Off {
			row.Words = string(rulesfile.Format([]rulesfile.Rule{r}))
			words += map[bool]string{true: "saved", false: "saved; it is off"}[r.On]
		} else {
			words += "is taken off"
		}
		if err := store.SaveAttentionRule(ctx, tx.Tx, row, tx.Entry); err != nil {
			return err
		}
		out = work.ReceiptOf[int64](tx, words)
		return nil
	})
	return out, err
}

// own makes the rules that ship the school's own, before the first of them changes.
func own(ctx context.Context, tx *work.Tx, held []HeldRule) error {
	for i, h := range held {
		if h.Version != 0 {
			continue
		}
		row := store.AttentionRule{Key: h.ID, Place: i, Words: string(rulesfile.Format([]rulesfile.Rule{h.Rule}))}
		if err := store.SaveAttentionRule(ctx, tx.Tx, row, tx.Entry); err != nil {
			return err
		}
	}
	return nil
}

// newKey makes a key of a title that no rule has.
func newKey(title string, held []HeldRule) string {
	base := strings.Trim(strings.Map(func(r rune) rune {
		switch {
		case r >= 'a' && r <= 'z' || r >= '0' && r <= '9':
			return r
		case r >= 'A' && r <= 'Z':
			return r + 'a' - 'A'
		}
		return '-'
	}, title), "-")
	if base == "" {
		base = "rule"
	}
	base = base[:min(len(base), 40)]
	key := base
	for n := 2; slices.ContainsFunc(held, func(h HeldRule) bool { return h.ID == key }); n++ {
		key = fmt.Sprintf("%s-%d", base, n)
	}
	return key
}

// RulesText is the text of a file of rules.
type RulesText struct {
	Text  string `json:"text" maxLength:"200000"`
	Apply bool   `json:"apply" doc:"Take them; else only look"`
}

// RulesPlan is what a file of rules says and what it would change.
type RulesPlan struct {
	Problem string   `json:"problem" doc:"The first mistake, by its line; empty where there is none"`
	Changes []string `json:"changes" doc:"What each rule of the file is: new, changed, the same"`
	Applied bool     `json:"applied"`
}

// BringRules looks at a file of rules, and takes it when asked to: a rule takes the place of the one of its
// id, others come after those that are there; what the file lacks stays.
func BringRules(ctx context.Context, o *work.Office, p work.Person, key string, in RulesText) (RulesPlan, error) {
	out := RulesPlan{Changes: []string{}}
	var next []rulesfile.Rule
	look := func(v work.Snapshot, q store.Queryer) ([]HeldRule, error) {
		out.Changes = []string{}
		policies, err := Policies(v)
		if err != nil {
			return nil, err
		}
		if next, err = rulesfile.Parse([]byte(in.Text), policies); err != nil {
			out.Problem = err.Error()
			return nil, nil
		}
		held, err := Rules(ctx, q, policies)
		for _, r := range next {
			i := slices.IndexFunc(held, func(h HeldRule) bool { return h.ID == r.ID })
			state := "new"
			if i >= 0 {
				state = map[bool]string{true: "the same", false: "changed"}[slices.Equal(rulesfile.Format([]rulesfile.Rule{r}), rulesfile.Format([]rulesfile.Rule{held[i].Rule}))]
			}
			out.Changes = append(out.Changes, fmt.Sprintf("%s (%s): %s", r.Title, state, r.Sentence(Names(policies))))
		}
		return held, err
	}
	job := work.Job{By: p, Key: key, Needs: work.MayBringRules, Kind: "rules of attention brought in", In: in, Out: &out}
	if !in.Apply {
		return out, o.Look(ctx, job, func(v work.Snapshot) error {
			_, err := look(v, v.Store())
			return err
		})
	}
	err := o.Write(ctx, job, func(tx *work.Tx, v work.Snapshot) error {
		held, err := look(v, tx.Tx)
		if err != nil {
			return err
		}
		if out.Problem != "" {
			return work.Wrongf("%s; nothing was changed", out.Problem)
		}
		if err := own(ctx, tx, held); err != nil {
			return err
		}
		for n, r := range next {
			place := slices.IndexFunc(held, func(h HeldRule) bool { return h.ID == r.ID })
			if place < 0 {
				place = len(held) + n
			}
			if err := store.SaveAttentionRule(ctx, tx.Tx, store.AttentionRule{Key: r.ID, Place: place, Words: string(rulesfile.Format([]rulesfile.Rule{r}))}, tx.Entry); err != nil {
				return err
			}
		}
		out.Applied = true
		return nil
	})
	return out, err
}
