// Package policyfile reads policies and code sets written in YAML, and ships a
// few. It knows how they are written; what they mean is core/policy's.
package policyfile

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"strconv"
	"strings"
	"unicode/utf8"

	"github.com/goccy/go-yaml/ast"
	"github.com/goccy/go-yaml/parser"
	"github.com/goccy/go-yaml/token"

	"meldung/core/policy"
)

// Problem is a mistake in a policy file, with its line where it has one.
type Problem struct {
	Line int
	Text string
}

// Error returns the problem as one line.
func (p *Problem) Error() string { return "policy: " + p.place() }

func (p *Problem) place() string {
	if p.Line == 0 {
		return p.Text
	}
	return fmt.Sprintf("line %d: %s", p.Line, p.Text)
}

func wrong(n ast.Node, format string, args ...any) error {
	line := 0
	if n != nil && n.GetToken() != nil {
		line = n.GetToken().Position.Line
	}
	return &Problem{line, fmt.Sprintf(format, args...)}
}

// CodeSource finds a code set that a policy names.
type CodeSource func(name string) (*policy.CodeSet, error)

// Parse reads one policy. The first mistake is returned as a *Problem.
func Parse(text []byte, codes CodeSource) (*policy.Policy, error) {
	top, err := topOf(text)
	if err != nil {
		return nil, err
	}
	f, err := fieldsOf(top, "id", "title", "source", "codes", "unit", "basis", "day_absent_at", "slots", "min_possible",
		"threshold", "bands", "triggers", "ladders", "unexplained_after")
	if err != nil {
		return nil, err
	}
	p := &policy.Policy{DayAbsentAt: policy.NewFraction(1, 2), Version: versionOf(text)}
	r := reader{f: f, node: top}
	p.ID = r.need("id")
	p.Title = r.need("title")
	p.Source = r.text("source")
	p.Unit = policy.Unit(r.word("unit", true, "day", "session", "minute"))
	p.Basis = policy.Basis(r.word("basis", false, "scheduled", "full_day"))
	p.RegistrationOnly = r.word("slots", false, "all", "registration") == 1
	p.MinPossible = r.whole("min_possible", 0, 0)
	p.UnexplainedAfter = r.whole("unexplained_after", 0, 0)
	p.Threshold = r.share("threshold", true)
	if r.has("day_absent_at") {
		p.DayAbsentAt = r.share("day_absent_at", true)
	}
	r.need("codes")
	if r.err != nil {
		return nil, r.err
	}
	for _, part := range []func() error{
		func() (err error) { p.Codes, err = codesOf(f["codes"], codes); return },
		func() (err error) { p.Bands, err = bandsOf(f["bands"]); return },
		func() (err error) { p.Triggers, err = triggersOf(f["triggers"]); return },
		func() (err error) { p.Ladders, err = laddersOf(f["ladders"]); return },
	} {
		if err := part(); err != nil {
			return nil, err
		}
	}
	return p, nil
}

// versionOf tells one wording of a policy from another: any change of its text is
// another version.
func versionOf(text []byte) string {
	sum := sha256.Sum256(text)
	return hex.EncodeToString(sum[:4])
}

// ParseCodes reads a code set written in a file of its own.
func ParseCodes(id string, text []byte) (*policy.CodeSet, error) {
	top, err := topOf(text)
	if err != nil {
		return nil, err
	}
	f, err := fieldsOf(top, "codes")
	if err != nil {
		return nil, err
	}
	switch {
	case f["codes"] == nil:
		return nil, wrong(top, "codes is missing")
	case nothing(f["codes"]):
		return nil, wrong(f["codes"], "codes is empty")
	}
	return codeList(id, f["codes"])
}

// topOf returns the one document of a text, which is UTF-8 and may begin with a byte-order
// mark.
func topOf(text []byte) (ast.Node, error) {
	text = bytes.TrimPrefix(text, []byte("\ufeff"))
	if line, ok := notUTF8(text); !ok {
		return nil, &Problem{line, "this is not valid UTF-8"}
	}
	file, err := parser.ParseBytes(text, 0)
	if err != nil {
		return nil, notYAML(err)
	}
	var top []ast.Node
	for _, doc := range file.Docs {
		if _, directive := doc.Body.(*ast.DirectiveNode); doc.Body != nil && !directive {
			top = append(top, doc.Body)
		}
	}
	if len(top) != 1 {
		return nil, &Problem{0, "one YAML document with the policy's keys is expected"}
	}
	return bare(top[0], map[string]ast.Node{})
}

// notUTF8 returns the first line that is not valid UTF-8; ok is true where there is none.
func notUTF8(text []byte) (line int, ok bool) {
	for n, l := range bytes.Split(text, []byte("\n")) {
		if !utf8.Valid(l) {
			return n + 1, false
		}
	}
	return 0, true
}

// bare takes tags off, since every value is read as text, and puts what an anchor
// names in the place of its aliases.
func bare(n ast.Node, anchors map[string]ast.Node) (out ast.Node, err error) {
	switch v := n.(type) {
	case *ast.TagNode:
		return bare(v.Value, anchors)
	case *ast.AnchorNode:
		if out, err = bare(v.Value, anchors); err == nil {
			anchors[v.Name.GetToken().Value] = out
		}
		return out, err
	case *ast.AliasNode:
		name := v.Value.GetToken().Value
		if anchors[name] == nil {
			return nil, wrong(n, "nothing before is anchored as %q", name)
		}
		return anchors[name], nil
	case *ast.MappingValueNode:
		v.Value, err = bare(v.Value, anchors)
	case *ast.MappingNode:
		for _, value := range v.Values {
			if value.Value, err = bare(value.Value, anchors); err != nil {
				return nil, err
			}
		}
	case *ast.SequenceNode:
		for i := range v.Values {
			if v.Values[i], err = bare(v.Values[i], anchors); err != nil {
				return nil, err
			}
		}
	}
	return n, err
}

// notYAML turns the parser's "[3:5] words" into a problem with its line.
func notYAML(err error) error {
	text := strings.ReplaceAll(strings.SplitN(err.Error(), "\n", 2)[0], "\t", " ")
	line, column := 0, 0
	if _, err := fmt.Sscanf(text, "[%d:%d]", &line, &column); err == nil {
		_, text, _ = strings.Cut(text, "] ")
	}
	return &Problem{line, "this is not YAML: " + text}
}

// fieldsOf returns a mapping's values by key; unknown and repeated keys are mistakes.
func fieldsOf(n ast.Node, known ...string) (map[string]ast.Node, error) {
	var values []*ast.MappingValueNode
	switch m := n.(type) {
	case *ast.MappingNode:
		values = m.Values
	case *ast.MappingValueNode:
		values = []*ast.MappingValueNode{m}
	default:
		return nil, wrong(n, "keys and values are expected")
	}
	out := map[string]ast.Node{}
	for _, v := range values {
		key := v.Key.GetToken().Value
		ok := false
		for _, k := range known {
			ok = ok || k == key
		}
		if !ok {
			return nil, wrong(v.Key, "%q is not a key here; known are %s", key, strings.Join(known, ", "))
		}
		if _, twice := out[key]; twice {
			return nil, wrong(v.Key, "%q is there twice", key)
		}
		out[key] = v.Value
	}
	return out, nil
}

// scalar returns a scalar's text as written, so that N, Y and 08 stay text.
func scalar(n ast.Node) (string, error) {
	switch n.(type) {
	case *ast.StringNode, *ast.IntegerNode, *ast.FloatNode, *ast.BoolNode, *ast.InfinityNode, *ast.NanNode, *ast.LiteralNode:
		if l, ok := n.(*ast.LiteralNode); ok {
			return l.Value.Value, nil
		}
		return n.GetToken().Value, nil
	case *ast.NullNode:
		if nothing(n) {
			return "", nil
		}
		return n.GetToken().Value, nil // ~ and null are text like any other
	}
	return "", wrong(n, "a single value is expected")
}

// nothing reports whether there is nothing where a value could stand.
func nothing(n ast.Node) bool {
	null, ok := n.(*ast.NullNode)
	return ok && null.GetToken().Type == token.ImplicitNullType
}

// items returns a list's entries; an empty value is an empty list.
func items(n ast.Node) ([]ast.Node, error) {
	switch s := n.(type) {
	case nil, *ast.NullNode:
		return nil, nil
	case *ast.SequenceNode:
		return s.Values, nil
	}
	return nil, wrong(n, "a list is expected")
}

// reader reads the fields of one mapping and keeps the first mistake.
type reader struct {
	f    map[string]ast.Node
	node ast.Node
	err  error
}

func (r *reader) fail(err error) {
	if r.err == nil {
		r.err = err
	}
}

func (r *reader) has(key string) bool { return r.f[key] != nil }

func (r *reader) text(key string) string {
	n := r.f[key]
	if n == nil {
		return ""
	}
	s, err := scalar(n)
	if err != nil {
		r.fail(err)
	}
	return s
}

func (r *reader) need(key string) string {
	n := r.f[key]
	if n == nil {
		r.fail(wrong(r.node, "%s is missing", key))
		return ""
	}
	if key == "codes" {
		return ""
	}
	s := r.text(key)
	if s == "" {
		r.fail(wrong(n, "%s is empty", key))
	}
	return s
}

func (r *reader) word(key string, needed bool, words ...string) int {
	if !r.has(key) {
		if needed {
			r.fail(wrong(r.node, "%s is missing", key))
		}
		return 0
	}
	s := r.text(key)
	if s == "" {
		r.fail(wrong(r.f[key], "%s is empty; expected is one of %s", key, strings.Join(words, ", ")))
		return 0
	}
	for i, w := range words {
		if w == s {
			return i
		}
	}
	r.fail(wrong(r.f[key], "%s is %q; expected is one of %s", key, s, strings.Join(words, ", ")))
	return 0
}

func (r *reader) whole(key string, least, absent int) int {
	if !r.has(key) {
		return absent
	}
	n, err := wholeOf(r.text(key))
	switch {
	case r.text(key) == "":
		r.fail(wrong(r.f[key], "%s is empty; expected is a whole number from %d on", key, least))
	case err != nil || n < least:
		r.fail(wrong(r.f[key], "%s is %q; expected is a whole number from %d on", key, r.text(key), least))
	}
	return n
}

func wholeOf(s string) (int, error) {
	if s == "" || strings.Trim(s, "0123456789") != "" {
		return 0, fmt.Errorf("%q is not a whole number", s)
	}
	n, err := strconv.Atoi(s)
	if err != nil || n > most {
		return most, nil // more than anything that is counted
	}
	return n, nil
}

// most is where whole numbers end: beyond it they all mean "never".
const most = 1 << 40

// share reads a fraction above 0 and at most 1.
func (r *reader) share(key string, needed bool) policy.Fraction {
	if !r.has(key) {
		if needed {
			r.fail(wrong(r.node, "%s is missing", key))
		}
		return policy.NewFraction(1, 1)
	}
	if r.text(key) == "" {
		r.fail(wrong(r.f[key], "%s is empty; expected is a fraction such as 1/10", key))
		return policy.NewFraction(1, 1)
	}
	f, err := policy.ParseFraction(r.text(key))
	if err != nil || f.Sign() <= 0 || f.Cmp(1, 1) < 0 {
		r.fail(wrong(r.f[key], "%s is %q; expected is a fraction such as 1/10, above 0 and at most 1", key, r.text(key)))
		return policy.NewFraction(1, 1)
	}
	return f
}

func (r *reader) flag(key string) bool { return r.word(key, false, "false", "true") == 1 }

func codesOf(n ast.Node, named CodeSource) (*policy.CodeSet, error) {
	switch n.(type) {
	case *ast.SequenceNode:
		return codeList("own", n)
	}
	if nothing(n) {
		return nil, wrong(n, "codes is empty")
	}
	name, err := scalar(n)
	if err != nil {
		return nil, err
	}
	set, err := named(name)
	var inside *Problem
	switch {
	case errors.As(err, &inside):
		return nil, &Problem{0, fmt.Sprintf("codes %s: %s", name, inside.place())}
	case err != nil:
		return nil, wrong(n, "codes: %v", err)
	}
	return set, nil
}

func codeList(id string, n ast.Node) (*policy.CodeSet, error) {
	list, err := items(n)
	if err != nil {
		return nil, err
	}
	var codes []policy.Code
	for _, item := range list {
		f, err := fieldsOf(item, "code", "word", "counts", "late", "medical", "on_site", "unexplained", "minutes_as", "used_for", "half")
		if err != nil {
			return nil, err
		}
		r := reader{f: f, node: item}
		c := policy.Code{Code: r.need("code"), Word: r.text("word"), Late: r.flag("late"), Medical: r.flag("medical"),
			OnSite: r.flag("on_site"), Unexplained: r.flag("unexplained"), MinutesAsExcused: r.word("minutes_as", false, "unexcused", "excused") == 1}
		c.Counts = policy.Counts(r.word("counts", true, "attended", "activity", "excused", "unexcused", "void"))
		c.Half = policy.Half(1 + r.word("half", false, "morning", "afternoon"))
		if !r.has("half") {
			c.Half = policy.WholeDay
		}
		if r.err == nil && r.has("used_for") {
			c.Uses, r.err = usesOf(f["used_for"])
		}
		if r.err != nil {
			return nil, r.err
		}
		codes = append(codes, c)
		if _, err := policy.NewCodeSet(id, codes); err != nil {
			return nil, wrong(item, "%v", err)
		}
	}
	set, err := policy.NewCodeSet(id, codes)
	if err != nil {
		return nil, wrong(n, "%v", err)
	}
	return set, nil
}

// usesOf reads what a code is used for.
func usesOf(n ast.Node) (policy.Use, error) {
	list, err := items(n)
	if err != nil {
		return 0, err
	}
	var out policy.Use
	for _, item := range list {
		text, err := scalar(item)
		if err != nil {
			return 0, err
		}
		use, err := policy.ParseUse(text)
		if err != nil {
			return 0, wrong(item, "used_for %v", err)
		}
		if out&use != 0 {
			return 0, wrong(item, "used_for %s is there twice", text)
		}
		out |= use
	}
	return out, nil
}

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
	sides := map[string]policy.Side{"excused": policy.SideExcused, "unexcused": policy.SideUnexcused,
		"medical": policy.SideMedical, "excused_nonmedical": policy.SideExcusedNonmedical}
	var out policy.Side
	for _, one := range list {
		s, err := scalar(one)
		if err != nil {
			return 0, err
		}
		if s == "" {
			return 0, wrong(one, "a side is empty; expected are excused, unexcused, medical or excused_nonmedical")
		}
		if sides[s] == 0 {
			return 0, wrong(one, "%q is no side; expected are excused, unexcused, medical or excused_nonmedical", s)
		}
		out |= sides[s]
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
