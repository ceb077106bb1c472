package register

import "meldung/core/day"

// OnTimeUntil returns the last minute at which someone who comes to a slot is in,
// not late.
func OnTimeUntil(s day.Slot, lateGrace day.Minute) day.Minute { return s.Start + lateGrace }
