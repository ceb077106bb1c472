package register

import (
	"fmt"
	"strconv"
	"strings"

	"meldung/core/day"
)

// ParseLate reads what was typed after L: one or two digits are minutes late,
// more are the time of arriving. The time must lie in the slot, or at its end.
func ParseLate(s day.Slot, typed string) (day.Minute, error) {
	typed = strings.TrimSpace(typed)
	var at day.Minute
	if n, err := strconv.Atoi(typed); err == nil && len(typed) <= 2 && n > 0 {
		at = s.Start.Add(day.Minutes(n))
	} else if at, err = day.ParseTyped(typed); err != nil {
		return day.Minute{}, fmt.Errorf("%q is neither minutes late nor a time", typed)
	}
	if !at.After(s.Start) || at.After(s.End) {
		return day.Minute{}, fmt.Errorf("%s is not within %s, %s to %s", at, s.Name, s.Start, s.End)
	}
	return at, nil
}
