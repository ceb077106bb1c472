// Package policyfile reads policies and code sets written in YAML, and ships a
// few. It knows how they are written; what they mean is core/policy's.
package policyfile

import (
	"crypto/sha256"
	"encoding/hex"
	"fmt"

	"github.com/goccy/go-yaml/ast"

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
