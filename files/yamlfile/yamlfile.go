// Package yamlfile reads YAML that a school writes, every value as text first, and says what is wrong
// by line. What the values mean is for whoever reads a kind of file.
package yamlfile

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

// Problem is a mistake in a file, with its line where it has one.
type Problem struct {
	In   string // what is read: "policy"
	Line int
	Text string
}

// Error returns the problem as one line.
func (p *Problem) Error() string { return p.In + ": " + p.Place() }

// Place returns the problem without what it is a problem of.
func (p *Problem) Place() string {
	if p.Line == 0 {
		return p.Text
	}
	return fmt.Sprintf("line %d: %s", p.Line, p.Text)
}

// Kind is a kind of file, as its problems name it: "policy".
type Kind string

// Wrong returns a problem at a node, which may be nil.
func (k Kind) Wrong(n ast.Node, format string, args ...any) error {
	line := 0
	if n != nil && n.GetToken() != nil {
		line = n.GetToken().Position.Line
	}
	return &Problem{string(k), line, fmt.Sprintf(format, args...)}
}

// Top returns the one document of a text, which is UTF-8 and may begin with a byte-order
// mark.
func (k Kind) Top(text []byte) (ast.Node, error) {
	text = bytes.TrimPrefix(text, []byte("\ufeff"))
	if line, ok := notUTF8(text); !ok {
		return nil, &Problem{string(k), line, "this is not valid UTF-8"}
	}
	file, err := parser.ParseBytes(text, 0)
	if err != nil {
		return nil, k.notYAML(err)
	}
	var top []ast.Node
	for _, doc := range file.Docs {
		if _, directive := doc.Body.(*ast.DirectiveNode); doc.Body != nil && !directive {
			top = append(top, doc.Body)
		}
	}
	if len(top) != 1 {
		return nil, &Problem{string(k), 0, "one YAML document with the " + string(k) + "'s keys is expected"}
	}
	return k.bare(top[0], map[string]ast.Node{})
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
func (k Kind) bare(n ast.Node, anchors map[string]ast.Node) (out ast.Node, err error) {
	switch v := n.(type) {
	case *ast.TagNode:
		return k.bare(v.Value, anchors)
	case *ast.AnchorNode:
		if out, err = k.bare(v.Value, anchors); err == nil {
			anchors[v.Name.GetToken().Value] = out
		}
		return out, err
	case *ast.AliasNode:
		name := v.Value.GetToken().Value
		if anchors[name] == nil {
			return nil, k.Wrong(n, "nothing before is anchored as %q", name)
		}
		return anchors[name], nil
	case *ast.MappingValueNode:
		v.Value, err = k.bare(v.Value, anchors)
	case *ast.MappingNode:
		for _, value := range v.Values {
			if value.Value, err = k.bare(value.Value, anchors); err != nil {
				return nil, err
			}
		}
	case *ast.SequenceNode:
		for i := range v.Values {
			if v.Values[i], err = k.bare(v.Values[i], anchors); err != nil {
				return nil, err
			}
		}
	}
	return n, err
}

// notYAML turns the parser's "[3:5] words" into a problem with its line.
func (k Kind) notYAML(err error) error {
	text := strings.ReplaceAll(strings.SplitN(err.Error(), "\n", 2)[0], "\t", " ")
	line, column := 0, 0
	if _, err := fmt.Sscanf(text, "[%d:%d]", &line, &column); err == nil {
		_, text, _ = strings.Cut(text, "] ")
	}
	return &Problem{string(k), line, "this is not YAML: " + text}
}

// Fields returns a mapping's values by key; unknown and repeated keys are mistakes.
func (k Kind) Fields(n ast.Node, known ...string) (map[string]ast.Node, error) {
	var values []*ast.MappingValueNode
	switch m := n.(type) {
	case *ast.MappingNode:
		values = m.Values
	case *ast.MappingValueNode:
		values = []*ast.MappingValueNode{m}
	default:
		return nil, k.Wrong(n, "keys and values are expected")
	}
	out := map[string]ast.Node{}
	for _, v := range values {
		key := v.Key.GetToken().Value
		ok := false
		for _, one := range known {
			ok = ok || one == key
		}
		if !ok {
			return nil, k.Wrong(v.Key, "%q is not a key here; known are %s", key, strings.Join(known, ", "))
		}
		if _, twice := out[key]; twice {
			return nil, k.Wrong(v.Key, "%q is there twice", key)
		}
		out[key] = v.Value
	}
	return out, nil
}

// Scalar returns a scalar's text as written, so that N, Y and 08 stay text.
func (k Kind) Scalar(n ast.Node) (string, error) {
	switch n.(type) {
	case *ast.StringNode, *ast.IntegerNode, *ast.FloatNode, *ast.BoolNode, *ast.InfinityNode, *ast.NanNode, *ast.LiteralNode:
		if l, ok := n.(*ast.LiteralNode); ok {
			return l.Value.Value, nil
		}
		return n.GetToken().Value, nil
	case *ast.NullNode:
		if Nothing(n) {
			return "", nil
		}
		return n.GetToken().Value, nil // ~ and null are text like any other
	}
	return "", k.Wrong(n, "a single value is expected")
}

// Nothing reports whether there is nothing where a value could stand.
func Nothing(n ast.Node) bool {
	null, ok := n.(*ast.NullNode)
	return ok && null.GetToken().Type == token.ImplicitNullType
}

// Items returns a list's entries; an empty value is an empty list.
func (k Kind) Items(n ast.Node) ([]ast.Node, error) {
	switch s := n.(type) {
	case nil, *ast.NullNode:
		return nil, nil
	case *ast.SequenceNode:
		return s.Values, nil
	}
	return nil, k.Wrong(n, "a list is expected")
}

// Reader reads the fields of one mapping and keeps the first mistake.
type Reader struct {
	F    map[string]ast.Node
	Err  error
	kind Kind
	node ast.Node
}

// Reader returns a reader of a mapping's fields.
func (k Kind) Reader(f map[string]ast.Node, n ast.Node) *Reader {
	return &Reader{F: f, kind: k, node: n}
}

// Fail keeps a mistake, unless there is one already.
func (r *Reader) Fail(err error) {
	if r.Err == nil {
		r.Err = err
	}
}

// Has reports whether a key is there.
func (r *Reader) Has(key string) bool { return r.F[key] != nil }

// Text returns a value as text; empty where the key is missing.
func (r *Reader) Text(key string) string {
	n := r.F[key]
	if n == nil {
		return ""
	}
	s, err := r.kind.Scalar(n)
	if err != nil {
		r.Fail(err)
	}
	return s
}

// Need returns a value that must be there and not be empty.
func (r *Reader) Need(key string) string {
	n := r.F[key]
	if n == nil {
		r.Fail(r.kind.Wrong(r.node, "%s is missing", key))
		return ""
	}
	s := r.Text(key)
	if s == "" {
		r.Fail(r.kind.Wrong(n, "%s is empty", key))
	}
	return s
}

// Word returns the place of a value among words; 0 where it is missing.
func (r *Reader) Word(key string, needed bool, words ...string) int {
	if !r.Has(key) {
		if needed {
			r.Fail(r.kind.Wrong(r.node, "%s is missing", key))
		}
		return 0
	}
	s := r.Text(key)
	if s == "" {
		r.Fail(r.kind.Wrong(r.F[key], "%s is empty; expected is one of %s", key, strings.Join(words, ", ")))
		return 0
	}
	for i, w := range words {
		if w == s {
			return i
		}
	}
	r.Fail(r.kind.Wrong(r.F[key], "%s is %q; expected is one of %s", key, s, strings.Join(words, ", ")))
	return 0
}

// Whole reads a whole number from least on; absent where the key is missing.
func (r *Reader) Whole(key string, least, absent int) int {
	if !r.Has(key) {
		return absent
	}
	n, err := wholeOf(r.Text(key))
	switch {
	case r.Text(key) == "":
		r.Fail(r.kind.Wrong(r.F[key], "%s is empty; expected is a whole number from %d on", key, least))
	case err != nil || n < least:
		r.Fail(r.kind.Wrong(r.F[key], "%s is %q; expected is a whole number from %d on", key, r.Text(key), least))
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

// Share reads a fraction above 0 and at most 1.
func (r *Reader) Share(key string, needed bool) policy.Fraction {
	if !r.Has(key) {
		if needed {
			r.Fail(r.kind.Wrong(r.node, "%s is missing", key))
		}
		return policy.NewFraction(1, 1)
	}
	if r.Text(key) == "" {
		r.Fail(r.kind.Wrong(r.F[key], "%s is empty; expected is a fraction such as 1/10", key))
		return policy.NewFraction(1, 1)
	}
	f, err := policy.ParseFraction(r.Text(key))
	if err != nil || f.Sign() <= 0 || f.Cmp(1, 1) < 0 {
		r.Fail(r.kind.Wrong(r.F[key], "%s is %q; expected is a fraction such as 1/10, above 0 and at most 1", key, r.Text(key)))
		return policy.NewFraction(1, 1)
	}
	return f
}

// Flag reads true or false; false where the key is missing.
func (r *Reader) Flag(key string) bool { return r.Word(key, false, "false", "true") == 1 }
