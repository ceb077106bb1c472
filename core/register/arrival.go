package register

import (
	"meldung/core/day"
	"meldung/core/policy"
)

// OnTimeUntil returns the last minute at which someone who comes to a slot is in,
// not late.
func OnTimeUntil(s day.Slot, lateGrace day.Minutes) day.Minute { return s.Start.Add(lateGrace) }

// There returns a code set's codes for being there in a slot, on time and late; empty where
// it has none.
func There(set *policy.CodeSet, slot day.Slot) (in, late string) {
	return code(set, policy.UsePresent, slot), code(set, policy.UseLate, slot)
}

// LeftEarly returns the code of leaving a slot early for a reason; empty where the set has
// none, and the mark stays.
func LeftEarly(set *policy.CodeSet, slot day.Slot, r Reason) string {
	if r.Excused {
		return code(set, policy.UseLeftWithReason, slot)
	}
	return code(set, policy.UseLeft, slot)
}
