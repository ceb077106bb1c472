package policy

import (
	"fmt"
	"strings"

	"meldung/core/day"
)

// Bare says so many of what is counted without the unit, unless that is time: "3", "31 h 15 min".
func (c Count) Bare(n int) string {
	if c == CountMinutes {
		return day.Duration(n)
	}
	return fmt.Sprint(n)
}

// Of says so many of what is counted: "31 h 15 min", "3 days", "1 late".
func (c Count) Of(n int) string {
	switch {
	case c == CountMinutes:
		return c.Bare(n)
	case n == 1:
		return "1 " + strings.TrimSuffix(c.String(), "s")
	default:
		return c.Bare(n) + " " + c.String()
	}
}

// Words says of which sides of absence something is: "unexcused", "excused or unexcused".
func (s Side) Words() string {
	var out []string
	if s&SideExcused == SideExcused {
		out = append(out, "excused")
	} else {
		if s&SideMedical != 0 {
			out = append(out, "medical")
		}
		if s&SideExcusedNonmedical != 0 {
			out = append(out, "excused, not medical,")
		}
	}
	if s&SideUnexcused != 0 {
		out = append(out, "unexcused")
	}
	return strings.Join(out, " or ")
}

// Words says over what a trigger counts: "in the year", "in 10 school weeks".
func (w Window) Words() string {
	switch w.Kind {
	case Term:
		return "in the term"
	case GradingPeriod:
		return "in the grading period"
	case Month:
		return "in the month"
	case FourWeeks:
		return "in the school month of four weeks"
	case RollingWeeks:
		return fmt.Sprintf("in %d school weeks", w.N)
	case RollingDays:
		return fmt.Sprintf("in %d school days", w.N)
	case Run:
		return "in a run"
	default:
		return "in the year"
	}
}
