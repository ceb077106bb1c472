package policyfile

import (
	"errors"

	"github.com/goccy/go-yaml/ast"

	"meldung/core/policy"
	"meldung/files/yamlfile"
)

// ParseCodes reads a code set written in a file of its own.
func ParseCodes(id string, text []byte) (*policy.CodeSet, error) {
	top, err := in.Top(text)
	if err != nil {
		return nil, err
	}
	f, err := in.Fields(top, "codes")
	if err != nil {
		return nil, err
	}
	switch {
	case f["codes"] == nil:
		return nil, in.Wrong(top, "codes is missing")
	case yamlfile.Nothing(f["codes"]):
		return nil, in.Wrong(f["codes"], "codes is empty")
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
	if yamlfile.Nothing(n) {
		return nil, in.Wrong(n, "codes is empty")
	}
	name, err := in.Scalar(n)
	if err != nil {
		return nil, err
	}
	set, err := named(name)
	var inside *Problem
	switch {
	case errors.As(err, &inside):
		return nil, in.Wrong(nil, "codes %s: %s", name, inside.Place())
	case err != nil:
		return nil, in.Wrong(n, "codes: %v", err)
	}
	return set, nil
}

func codeList(id string, n ast.Node) (*policy.CodeSet, error) {
	list, err := in.Items(n)
	if err != nil {
		return nil, err
	}
	var codes []policy.Code
	for _, item := range list {
		f, err := in.Fields(item, "code", "word", "counts", "late", "medical", "on_site", "unexplained", "minutes_as", "used_for", "half")
		if err != nil {
			return nil, err
		}
		r := in.Reader(f, item)
		c := policy.Code{Code: r.Need("code"), Word: r.Text("word"), Late: r.Flag("late"), Medical: r.Flag("medical"),
			OnSite: r.Flag("on_site"), Unexplained: r.Flag("unexplained"), MinutesAsExcused: r.Word("minutes_as", false, "unexcused", "excused") == 1}
		c.Counts = policy.Counts(r.Word("counts", true, "attended", "activity", "excused", "unexcused", "void"))
		c.Half = policy.Half(1 + r.Word("half", false, "morning", "afternoon"))
		if !r.Has("half") {
			c.Half = policy.WholeDay
		}
		if r.Err == nil && r.Has("used_for") {
			c.Uses, r.Err = usesOf(f["used_for"])
		}
		if r.Err != nil {
			return nil, r.Err
		}
		codes = append(codes, c)
		if _, err := policy.NewCodeSet(id, codes); err != nil {
			return nil, in.Wrong(item, "%v", err)
		}
	}
	set, err := policy.NewCodeSet(id, codes)
	if err != nil {
		return nil, in.Wrong(n, "%v", err)
	}
	return set, nil
}

// usesOf reads what a code is used for.
func usesOf(n ast.Node) (policy.Use, error) {
	list, err := in.Items(n)
	if err != nil {
		return 0, err
	}
	var out policy.Use
	for _, item := range list {
		text, err := in.Scalar(item)
		if err != nil {
			return 0, err
		}
		use, err := policy.ParseUse(text)
		if err != nil {
			return 0, in.Wrong(item, "used_for %v", err)
		}
		if out&use != 0 {
			return 0, in.Wrong(item, "used_for %s is there twice", text)
		}
		out |= use
	}
	return out, nil
}
