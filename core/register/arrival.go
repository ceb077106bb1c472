package register

import (
	"meldung/core/day"
	"meldung/core/policy"
)

// OnTimeUntil returns the last minute at which someone who comes to a slot is in,
// not late.
func OnTimeUntil(s day.Slot, lateGrace day.Minutes) day.Minute { return s.Start.Add(lateGrace) }

// There returns a code set's first codes for being there, on time and late; empty where it
// has none.
func There(set *policy.CodeSet) (in, late string) { return there(set, false), there(set, true) }

func there(set *policy.CodeSet, late bool) string {
	for _, c := range set.Codes {
		if c.Counts == policy.Attended && c.OnSite && c.Late == late && !c.MinutesAsExcused {
			return c.Code
		}
	}
	return ""
}
