package attention

import "meldung/core/day"

// Schedule says when reviews are: on which weekday (1 = Monday … 7), every how many weeks. Without weeks they
// are when somebody begins one.
type Schedule struct {
	Weekday int
	Weeks   int
}

// Days returns the school days of a calendar on which reviews are: in each week of the turn the first school
// day on or after the weekday, else the last; weeks without school have none. Turns are counted from the
// calendar's first week.
func (s Schedule) Days(cal *day.Calendar) []day.Date {
	var out []day.Date
	if s.Weeks < 1 {
		return out
	}
	for i := 0; i < cal.Days(); {
		monday := cal.Day(i).Date.Monday()
		on := cal.Day(i).Date
		for ; i < cal.Days() && cal.Day(i).Date.Monday() == monday; i++ {
			if d := cal.Day(i).Date; on.Weekday() < s.Weekday {
				on = d
			}
		}
		if int(monday-cal.Day(0).Date.Monday())/7%s.Weeks == 0 {
			out = append(out, on)
		}
	}
	return out
}
