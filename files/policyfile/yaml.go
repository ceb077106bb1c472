package policyfile

import (
	"bytes"
	"fmt"
	"strconv"
	"strings"
	"unicode/utf8"

	"github.com/goccy/go-yaml/ast"
	"github.com/goccy/go-yaml/parser"
	"github.com/goccy/go-yaml/token"

	"meldung/core/policy"
)

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
