package attention

import (
	"errors"
	"fmt"
	"slices"
	"strings"

	"meldung/core/policy"
)

// Condition compares an indicator with a value.
type Condition struct {
	Indicator Indicator
	Op        Op
	Value     Value
	NeverOut  bool // a number of days ago that is never does not hold
}

// Entry is a condition, or conditions of their own.
type Entry struct {
	Condition *Condition
	Group     *Group
}

// Group joins entries: all of them, or any.
type Group struct {
	Any     bool
	Entries []Entry
}

// Scope says for whom a rule is; what is empty is everyone.
type Scope struct {
	Years   []string
	Forms   []string
	Classes []string
	OnPlan  bool
	Lists   []string
}

// Rule is a school's own.
type Rule struct {
	ID     string
	Title  string
	Source string
	For    Scope
	If     Group
}

// Deepest is how many levels of conditions a rule may have.
const Deepest = 2

// Check says what is wrong with a rule.
func (r *Rule) Check(policies map[string]*policy.Policy) error {
	if r.Title == "" {
		return errors.New("the rule has no title")
	}
	return r.If.check(policies, 1)
}

func (g *Group) check(policies map[string]*policy.Policy, level int) error {
	if len(g.Entries) == 0 {
		return errors.New("it says nothing: one condition is needed")
	}
	if level > Deepest {
		return fmt.Errorf("conditions within conditions go %d levels deep, and no more", Deepest)
	}
	for _, e := range g.Entries {
		switch {
		case e.Group != nil:
			if err := e.Group.check(policies, level+1); err != nil {
				return err
			}
		case e.Condition != nil:
			if err := e.Condition.Check(policies); err != nil {
				return err
			}
		}
	}
	return nil
}

// Check says what is wrong with a condition.
func (c *Condition) Check(policies map[string]*policy.Policy) error {
	if err := c.Indicator.Check(policies); err != nil {
		return err
	}
	d := Define(c.Indicator.ID)
	word := c.Value.Kind == Word
	switch {
	case !slices.Contains(Ops, c.Op):
		return fmt.Errorf("%q is no comparison", c.Op)
	case c.Op.OfWords() != word:
		return fmt.Errorf("%s: %s compares %s", c.Indicator.ID, c.Op, map[bool]string{true: "words", false: "numbers"}[c.Op.OfWords()])
	case word && d.Unit != UnitWord && c.Value.Word != neverWord:
		return fmt.Errorf("%s is a number; of words it may only be never", c.Indicator.ID)
	case !word && c.Value.Kind != Number:
		return fmt.Errorf("%s is compared with nothing", c.Indicator.ID)
	case d.Whole && !word && c.Value.Den != 1:
		return fmt.Errorf("%s counts whole things, and %s is none", c.Indicator.ID, c.Value.Text(false))
	case d.Unit == UnitShare && d.ID != "outlook_change" && !word && (c.Value.Num < 0 || c.Value.Num > c.Value.Den):
		return fmt.Errorf("%s is a share, from 0 to 1", c.Indicator.ID)
	case c.NeverOut && d.Unit != UnitDays:
		return fmt.Errorf("%s is no number of days ago, so that never can't be left out", c.Indicator.ID)
	}
	return nil
}

// ParseValue reads what a condition compares with: of numbers a fraction such as 1/10, 0.1 or −0.5.
func ParseValue(text string, op Op) (Value, error) {
	if op.OfWords() {
		if text == "" {
			return Value{}, errors.New("is empty")
		}
		return Value{Kind: Word, Word: text}, nil
	}
	negative := strings.HasPrefix(text, "-")
	f, err := policy.ParseFraction(strings.TrimPrefix(text, "-"))
	if err != nil {
		return Value{}, err
	}
	v := NumberOf(f)
	if v.Kind != Number {
		return Value{}, fmt.Errorf("%q is longer than a number can be", text)
	}
	if negative {
		v.Num = -v.Num
	}
	return v, nil
}

// ParseTyped reads what a person types to compare with: as ParseValue, and of a share also per cent.
func ParseTyped(text string, op Op, unit Unit) (Value, error) {
	text = strings.ReplaceAll(strings.TrimSpace(text), "−", "-")
	percent, isPercent := strings.CutSuffix(text, "%")
	if !isPercent || unit != UnitShare || op.OfWords() {
		return ParseValue(text, op)
	}
	v, err := ParseValue(strings.TrimSpace(percent), op)
	if err != nil || v.Num%100 == 0 {
		v.Num /= 100
		return v, err
	}
	v.Den *= 100
	return v, nil
}

// Conditions returns every condition of a group, in order.
func (g *Group) Conditions() []*Condition {
	var out []*Condition
	for _, e := range g.Entries {
		if e.Group != nil {
			out = append(out, e.Group.Conditions()...)
			continue
		}
		out = append(out, e.Condition)
	}
	return out
}

// Has reports whether a rule is for a student.
func (s Scope) Has(f *Facts) bool {
	in := func(list []string, one string) bool { return len(list) == 0 || slices.Contains(list, one) }
	anyOf := func(list, of []string) bool {
		return len(list) == 0 || slices.ContainsFunc(list, func(x string) bool { return slices.Contains(of, x) })
	}
	return in(s.Years, f.Year) && in(s.Forms, f.Form) && anyOf(s.Classes, f.Classes) && (!s.OnPlan || f.OnPlan) && anyOf(s.Lists, f.Lists)
}
