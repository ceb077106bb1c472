package attention

import "slices"

// Held is a condition that holds, with its figure.
type Held struct {
	Condition *Condition
	Value     Value
}

// Match is a student whom a rule matches on a school day.
type Match struct {
	Student int
	Since   int // the first school day of the unbroken stretch of matching
	Held    []Held
}

// Found is what a rule finds on a school day.
type Found struct {
	Of      int // in scope
	Matches []Match
	Unknown []int // in scope, and not to be judged
}

// judge is a rule over the students of a school, one at a time.
type judge struct {
	school *School
	rule   *Rule
	conds  []*Condition
	of     []func(i int) evaluator // of each condition
	ago    []bool                  // conditions of days ago
	root   node
}

// node is a group of a rule by the places of its conditions.
type node struct {
	condition int // −1 for a group
	any       bool
	nodes     []node
}

func (s *School) judge(r *Rule) *judge {
	j := &judge{school: s, rule: r}
	j.root = j.grow(&r.If)
	return j
}

func (j *judge) grow(g *Group) node {
	out := node{condition: -1, any: g.Any}
	for _, e := range g.Entries {
		if e.Group != nil {
			out.nodes = append(out.nodes, j.grow(e.Group))
			continue
		}
		d := Define(e.Condition.Indicator.ID)
		out.nodes = append(out.nodes, node{condition: len(j.conds)})
		j.conds = append(j.conds, e.Condition)
		j.of = append(j.of, j.school.valuesOf(e.Condition.Indicator))
		j.ago = append(j.ago, d.Unit == UnitDays)
	}
	return out
}

// student is a rule on one student.
type student struct {
	j  *judge
	at []evaluator
}

func (j *judge) student(i int) *student {
	out := &student{j: j, at: make([]evaluator, len(j.of))}
	for n, of := range j.of {
		out.at[n] = of(i)
	}
	return out
}

// on is whether the rule matches on a school day.
func (s *student) on(d int) Truth { return s.truth(&s.j.root, d) }

// truth joins three-valued: all is No when one is, else Unknown when one is; any is Yes when one is, else
// Unknown when one is.
func (s *student) truth(n *node, d int) Truth {
	if c := n.condition; c >= 0 {
		return s.j.conds[c].holds(s.at[c](d), s.j.ago[c])
	}
	decides, out := No, Yes
	if n.any {
		decides, out = Yes, No
	}
	for k := range n.nodes {
		switch s.truth(&n.nodes[k], d) {
		case decides:
			return decides
		case Unknown:
			out = Unknown
		}
	}
	return out
}

func (s *student) held(d int) []Held {
	var out []Held
	for n, c := range s.j.conds {
		if v := s.at[n](d); c.holds(v, s.j.ago[n]) == Yes {
			out = append(out, Held{c, v})
		}
	}
	return out
}

// Find returns whom a rule matches on a school day, in the order of the students.
func (s *School) Find(r *Rule, d int) Found {
	j := s.judge(r)
	var out Found
	for i := range s.Students {
		if !s.inScope(r, i, d) {
			continue
		}
		out.Of++
		one := j.student(i)
		switch one.on(d) {
		case Yes:
			out.Matches = append(out.Matches, Match{Student: i, Since: one.since(i, d), Held: one.held(d)})
		case Unknown:
			out.Unknown = append(out.Unknown, i)
		}
	}
	return out
}

// inScope reports whether a rule judges a student on a school day: who is enrolled then.
func (s *School) inScope(r *Rule, i, d int) bool {
	return s.Ledger.Enrolled(i, d) && r.For.Has(&s.Students[i])
}

func (s *student) since(i, d int) int {
	for d > 0 && s.j.school.Ledger.Enrolled(i, d-1) && s.on(d-1) == Yes {
		d--
	}
	return d
}

// Standing is a student with the rules that match.
type Standing struct {
	Student int
	Rules   []RuleMatch
	Since   int // the school day since which one of them has stood longest
}

// RuleMatch is a rule that matches a student.
type RuleMatch struct {
	Rule int // among those asked for
	Match
}

// Standings returns the students whom one rule at least matches.
func (s *School) Standings(rules []*Rule, d int) []Standing {
	of := map[int]*Standing{}
	for n, r := range rules {
		for _, m := range s.Find(r, d).Matches {
			if of[m.Student] == nil {
				of[m.Student] = &Standing{Student: m.Student, Since: m.Since}
			}
			st := of[m.Student]
			st.Rules = append(st.Rules, RuleMatch{n, m})
			st.Since = min(st.Since, m.Since)
		}
	}
	out := make([]Standing, 0, len(of))
	for i := range s.Students {
		if st := of[i]; st != nil {
			out = append(out, *st)
		}
	}
	return out
}

// Matched returns the students of a standing list, in order.
func Matched(list []Standing) []int {
	out := make([]int, len(list))
	for i, st := range list {
		out[i] = st.Student
	}
	slices.Sort(out)
	return out
}

// Value is the value of an indicator of a student on a school day.
func (s *School) Value(in Indicator, i, d int) Value { return s.valuesOf(in)(i)(d) }

// Evaluator gives the values of an indicator: of a student, and then on a school day.
func (s *School) Evaluator(in Indicator) func(i int) func(d int) Value {
	of := s.valuesOf(in)
	return func(i int) func(d int) Value { return of(i) }
}

// valuesOf gives the values of an indicator. Where the school does not measure by its policy they are missing.
func (s *School) valuesOf(in Indicator) func(i int) evaluator {
	d := Define(in.ID)
	if slices.Contains(d.Params, "policy") && s.Policies[in.Policy] == nil {
		return func(int) evaluator { return func(int) Value { return Value{} } }
	}
	return d.of(s, in)
}
