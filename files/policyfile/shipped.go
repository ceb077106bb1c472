package policyfile

import (
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path"
	"path/filepath"
	"slices"
	"sort"
	"strings"
	"sync"

	"meldung/core/policy"
)

//go:embed shipped/*.yaml
var shipped embed.FS

// CodeSets lists the shipped code sets by name.
func CodeSets() []string { return names("codes-") }

// Policies lists the shipped policies by id.
func Policies() []string { return names("policy-") }

func names(prefix string) []string {
	entries, err := shipped.ReadDir("shipped")
	if err != nil {
		return nil
	}
	var out []string
	for _, e := range entries {
		if name, ok := strings.CutPrefix(e.Name(), prefix); ok {
			out = append(out, strings.TrimSuffix(name, ".yaml"))
		}
	}
	sort.Strings(out)
	return out
}

// Text returns a shipped policy as it is written, to edit.
func Text(id string) ([]byte, error) {
	text, err := shipped.ReadFile(path.Join("shipped", "policy-"+id+".yaml"))
	if err != nil {
		return nil, fmt.Errorf("there is no shipped policy %q; there are %s", id, strings.Join(Policies(), ", "))
	}
	return text, nil
}

// WithCodes returns a policy as it is written, but for its codes: those of a set, or of a
// file beside it. They are found as the lines from "codes:" to the next key that is not
// indented; a policy written otherwise is refused.
func WithCodes(text []byte, codes string) ([]byte, error) {
	var out []string
	within, found := false, false
	for _, line := range strings.Split(string(text), "\n") {
		if within && (strings.TrimSpace(line) == "" || strings.ContainsAny(line[:1], " -#\t")) {
			continue
		}
		if within = strings.HasPrefix(line, "codes:"); within {
			out, found = append(out, "codes: "+codes), true
			continue
		}
		out = append(out, line)
	}
	if !found {
		return nil, errors.New("the policy names its codes nowhere at the beginning of a line")
	}
	return []byte(strings.Join(out, "\n")), nil
}

// CodesText returns a shipped code set as it is written.
func CodesText(name string) ([]byte, error) {
	text, err := shipped.ReadFile(path.Join("shipped", "codes-"+name+".yaml"))
	if err != nil {
		return nil, fmt.Errorf("there is no shipped code set %q; there are %s", name, strings.Join(CodeSets(), ", "))
	}
	return text, nil
}

// What ships with the program is read once.
var (
	readCodes    sync.Map // name → *policy.CodeSet
	readPolicies sync.Map // id → *policy.Policy
)

// ShippedCodes returns a shipped code set, which must not be changed.
func ShippedCodes(name string) (*policy.CodeSet, error) {
	if read, ok := readCodes.Load(name); ok {
		return read.(*policy.CodeSet), nil
	}
	text, err := CodesText(name)
	if err != nil {
		return nil, err
	}
	set, err := ParseCodes(name, text)
	if err != nil {
		return nil, err
	}
	read, _ := readCodes.LoadOrStore(name, set)
	return read.(*policy.CodeSet), nil
}

// Shipped returns a shipped policy: a copy of the caller's own, whose lists may be replaced and
// must not be written into.
func Shipped(id string) (*policy.Policy, error) {
	read, ok := readPolicies.Load(id)
	if !ok {
		text, err := Text(id)
		if err != nil {
			return nil, err
		}
		p, err := Parse(text, ShippedCodes)
		if err != nil {
			return nil, err
		}
		read, _ = readPolicies.LoadOrStore(id, p)
	}
	own := *read.(*policy.Policy)
	return &own, nil
}

// Load returns the shipped policy of this id or, where there is none, the policy
// in the file of this name; code sets are named relative to that file.
func Load(name string) (*policy.Policy, error) {
	if slices.Contains(Policies(), name) {
		return Shipped(name)
	}
	text, err := os.ReadFile(name)
	if errors.Is(err, fs.ErrNotExist) {
		return nil, in.Wrong(nil, "%q is neither a shipped policy (%s) nor a file", name, strings.Join(Policies(), ", "))
	}
	if err != nil {
		return nil, in.Wrong(nil, "%v", err)
	}
	return Parse(text, func(codes string) (*policy.CodeSet, error) {
		if slices.Contains(CodeSets(), codes) {
			return ShippedCodes(codes)
		}
		text, err := os.ReadFile(filepath.Join(filepath.Dir(name), codes))
		if err != nil {
			return nil, fmt.Errorf("%q is neither a shipped code set (%s) nor a file that can be read beside the policy", codes, strings.Join(CodeSets(), ", "))
		}
		return ParseCodes(codes, text)
	})
}
