package concernspage

import (
	"fmt"
	"math"

	"meldung/work/concerns"
	"meldung/work/outlooks"
)

// chanceOf is what the outlook says of a student, as pages show it; nil for nothing.
func chanceOf(f *concerns.Foreseen, r outlooks.OutlookRule) *Chance {
	if f == nil {
		return nil
	}
	out := &Chance{Text: fmt.Sprintf("%.0f %%", 100*f.Probability), Percent: 100 * f.Probability, Low: 100 * f.Low, High: 100 * f.High, Missing: append([]string{}, f.Missing...), Shares: []AreaShare{}, Course: []float64{},
		Moved: map[int]string{1: "up", -1: "down"}[f.Moved]}
	if len(f.Missing) > 0 {
		out.Text = fmt.Sprintf("%.0f to %.0f %%", out.Low, out.High)
	}
	for _, p := range f.Course {
		out.Course = append(out.Course, 100*p)
	}
	for _, s := range f.Shares {
		out.Shares = append(out.Shares, AreaShare{Area: s.Area, Odds: fmt.Sprintf("odds × %.1f", math.Exp(s.Odds)), Weight: int(math.Round(100 * s.Odds)), Concern: s.Odds >= r.Concern()})
	}
	return out
}
