package held

import (
	"fmt"

	"meldung/core/absence"
	"meldung/core/policy"
)

// GradingRule is how a school writes attendance for grading, as it is stored.
type GradingRule struct {
	Kind         string `json:"kind,omitempty" enum:",share,points" doc:"Empty for not at all"`
	ExcusedApart bool   `json:"excusedApart,omitempty" doc:"Of a share: what was excused is left out of it"`
	Full         string `json:"full,omitempty" maxLength:"10" doc:"Points to begin with"`
	Least        string `json:"least,omitempty" maxLength:"10" doc:"Points below which it does not go; empty is 0"`
	OffExcused   string `json:"offExcused,omitempty" maxLength:"10" doc:"Points off for each lesson or day missed excused"`
	OffUnexcused string `json:"offUnexcused,omitempty" maxLength:"10"`
	OffLates     string `json:"offLates,omitempty" maxLength:"10" doc:"Points off for each late"`
}

// Grading reads the rule; the error says which number is none.
func (r GradingRule) Grading() (absence.Grading, error) {
	g := absence.Grading{ExcusedApart: r.ExcusedApart}
	switch r.Kind {
	case "":
		return absence.Grading{}, nil
	case "share":
		g.Kind = absence.GradedByShare
		return g, nil
	case "points":
		g.Kind = absence.GradedByPoints
	default:
		return g, fmt.Errorf("%q is neither share nor points", r.Kind)
	}
	for _, x := range []struct {
		what, text string
		to         *policy.Fraction
	}{{"to begin with", r.Full, &g.Full}, {"at least", r.Least, &g.Least}, {"off for an excused absence", r.OffExcused, &g.OffExcused}, {"off for an unexcused absence", r.OffUnexcused, &g.OffUnexcused}, {"off for a late", r.OffLates, &g.OffLates}} {
		*x.to = policy.NewFraction(0, 1)
		if x.text == "" {
			continue
		}
		f, err := policy.ParseDecimal(x.text)
		if err != nil {
			return g, fmt.Errorf("points %s: %w", x.what, err)
		}
		*x.to = f
	}
	if g.Full.Rat().Cmp(g.Least.Rat()) <= 0 {
		return g, fmt.Errorf("points to begin with must be above the least, %s", g.Least)
	}
	return g, nil
}

// Graded returns the section's rule; none where it is off.
func (s Settings) Graded() absence.Grading {
	g, err := s.Grading.Grading()
	if err != nil {
		return absence.Grading{} // it was read before it was stored
	}
	return g
}
