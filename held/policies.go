package held

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/policy"
	"meldung/files/policyfile"
	"meldung/store"
)

// PolicyFrom is a policy of a section's own from a date on; without a policy it is taken away.
type PolicyFrom struct {
	ID     string
	From   day.Date
	Text   string
	Policy *policy.Policy // nil where it is taken away
}

// loadPolicies reads the own policies of each section.
func loadPolicies(ctx context.Context, q store.Queryer) (map[ids.Section][]PolicyFrom, error) {
	files, err := store.PolicyFiles(ctx, q)
	if err != nil {
		return nil, err
	}
	own, err := store.CodeSets(ctx, q)
	if err != nil {
		return nil, err
	}
	out := map[ids.Section][]PolicyFrom{}
	for _, f := range files {
		p := PolicyFrom{ID: f.Policy, From: f.From, Text: f.Text}
		if f.Text != "" {
			if p.Policy, err = ParsePolicy([]byte(f.Text), own); err != nil {
				return nil, fmt.Errorf("reading the policy %s from %s on: %w", f.Policy, f.From, err)
			}
		}
		out[f.SectionID] = append(out[f.SectionID], p)
	}
	return out, nil
}

// ParsePolicy reads a policy of the school's own, whose codes may be one of its own sets.
func ParsePolicy(text []byte, own map[string]string) (*policy.Policy, error) {
	return policyfile.Parse(text, func(name string) (*policy.CodeSet, error) { return codeSet(name, own) })
}

// PoliciesOn returns the policies by which the section measures on a date: the shipped ones
// and its own, of which one takes the place of a shipped one of the same id.
func (s *SectionRecords) PoliciesOn(d day.Date) ([]*policy.Policy, error) {
	latest := map[string]PolicyFrom{}
	var order []string
	for _, p := range s.policies {
		if p.From <= d {
			if _, known := latest[p.ID]; !known {
				order = append(order, p.ID)
			}
			latest[p.ID] = p
		}
	}
	var out []*policy.Policy
	for _, id := range policyfile.Policies() {
		if own, known := latest[id]; known && own.Policy != nil {
			out = append(out, own.Policy)
			continue
		}
		p, err := policyfile.Shipped(id)
		if err != nil {
			return nil, fmt.Errorf("reading the policy %s: %w", id, err)
		}
		out = append(out, p)
	}
	for _, id := range order {
		if own := latest[id]; own.Policy != nil && !slices.Contains(policyfile.Policies(), id) {
			out = append(out, own.Policy)
		}
	}
	return out, nil
}

// PolicyText returns a policy as it is written, as it holds on a date.
func (s *SectionRecords) PolicyText(id string, d day.Date) ([]byte, error) {
	text := ""
	for _, p := range s.policies {
		if p.ID == id && p.From <= d {
			text = p.Text
		}
	}
	if text != "" {
		return []byte(text), nil
	}
	return policyfile.Text(id)
}

// OwnPolicies returns the section's own policies, in the order of the dates from which they
// hold.
func (s *SectionRecords) OwnPolicies() []PolicyFrom { return s.policies }

// PolicyKey tells the policies of one date from those of another.
func PolicyKey(list []*policy.Policy) string {
	var b strings.Builder
	for _, p := range list {
		b.WriteString(p.ID + "@" + p.Version + " ")
	}
	return b.String()
}
