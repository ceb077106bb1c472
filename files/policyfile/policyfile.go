// Package policyfile reads policies and code sets written in YAML, and ships a
// few. It knows how they are written; what they mean is core/policy's.
package policyfile

import (
	"crypto/sha256"
	"encoding/hex"

	"meldung/core/policy"
	"meldung/files/yamlfile"
)

// Problem is a mistake in a policy file, with its line where it has one.
type Problem = yamlfile.Problem

const in = yamlfile.Kind("policy")

// CodeSource finds a code set that a policy names.
type CodeSource func(name string) (*policy.CodeSet, error)

// Parse reads one policy. The first mistake is returned as a *Problem.
func Parse(text []byte, codes CodeSource) (*policy.Policy, error) {
	top, err := in.Top(text)
	if err != nil {
		return nil, err
	}
	f, err := in.Fields(top, "id", "title", "source", "codes", "unit", "basis", "day_absent_at", "slots", "min_possible",
		"threshold", "bands", "triggers", "ladders", "unexplained_after")
	if err != nil {
		return nil, err
	}
	p := &policy.Policy{DayAbsentAt: policy.NewFraction(1, 2), Version: versionOf(text)}
	r := in.Reader(f, top)
	p.ID = r.Need("id")
	p.Title = r.Need("title")
	p.Source = r.Text("source")
	p.Unit = policy.Unit(r.Word("unit", true, "day", "session", "minute"))
	p.Basis = policy.Basis(r.Word("basis", false, "scheduled", "full_day"))
	p.RegistrationOnly = r.Word("slots", false, "all", "registration") == 1
	p.MinPossible = r.Whole("min_possible", 0, 0)
	p.UnexplainedAfter = r.Whole("unexplained_after", 0, 0)
	p.Threshold = r.Share("threshold", true)
	if r.Has("day_absent_at") {
		p.DayAbsentAt = r.Share("day_absent_at", true)
	}
	if !r.Has("codes") {
		r.Fail(in.Wrong(top, "codes is missing"))
	}
	if r.Err != nil {
		return nil, r.Err
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
