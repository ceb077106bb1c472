package policyfile

import (
	"errors"
	"fmt"

	"github.com/goccy/go-yaml/ast"

	"meldung/core/policy"
)

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

// ownCodes is what the codes are called that stand in the policy itself.
const ownCodes = "own"

func codesOf(n ast.Node, named CodeSource) (*policy.CodeSet, error) {
	switch n.(type) {
	case *ast.SequenceNode:
		return codeList(ownCodes, n)
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
