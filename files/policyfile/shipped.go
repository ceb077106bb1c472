package policyfile

import (
	"embed"
	"fmt"
	"path"
	"sort"
	"strings"

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

// ShippedCodes returns a shipped code set.
func ShippedCodes(name string) (*policy.CodeSet, error) {
	text, err := shipped.ReadFile(path.Join("shipped", "codes-"+name+".yaml"))
	if err != nil {
		return nil, fmt.Errorf("there is no shipped code set %q; there are %s", name, strings.Join(CodeSets(), ", "))
	}
	return ParseCodes(name, text)
}

// Shipped returns a shipped policy.
func Shipped(id string) (*policy.Policy, error) {
	text, err := Text(id)
	if err != nil {
		return nil, err
	}
	return Parse(text, ShippedCodes)
}
