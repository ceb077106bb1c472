package pages

import (
	"context"

	"meldung/core/absence"
	"meldung/work"
)

// LastYear returns the section as it held a year before, and the span of that year to the same
// school day as one of the snapshot's year; ok is false where no year before is known, or it
// had not so many days.
func LastYear(ctx context.Context, v work.Section, upTo int) (before work.Section, span absence.Span, ok bool, err error) {
	y := v.YearBefore(v.On)
	if y == nil || upTo < 0 || upTo >= y.Calendar.Days() {
		return before, span, false, nil
	}
	before, err = v.At(ctx, y.Calendar.Day(upTo).Date)
	return before, absence.Span{From: 0, To: upTo}, err == nil, err
}
