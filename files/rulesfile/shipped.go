package rulesfile

import (
	_ "embed"

	"meldung/core/policy"
	"meldung/files/policyfile"
)

//go:embed shipped/rules.yaml
var shipped []byte

// Shipped returns the text of the rules that a school begins with.
func Shipped() []byte { return shipped }

// Policies returns the shipped policies by their id, which rules may name.
func Policies() (map[string]*policy.Policy, error) {
	out := map[string]*policy.Policy{}
	for _, id := range policyfile.Policies() {
		p, err := policyfile.Shipped(id)
		if err != nil {
			return nil, err
		}
		out[id] = p
	}
	return out, nil
}
