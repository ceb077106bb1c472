package support

import "meldung/core/day"

// Session is one student's part in a session.
type Session struct {
	Student int
	Date    day.Date
	Kind    int
	Minutes int
}

// Stay is a stretch of dates, both included, for which a student is on the caseload.
type Stay struct {
	Student  int
	From, To day.Date
}

// Reason is why a student was in no session of the week that begins on a Monday.
type Reason struct {
	Student int
	Week    day.Date
	Text    string
}

// Week is one from Monday to Sunday, with how many school days it has.
type Week struct {
	Monday day.Date
	Days   int
}

// Has reports whether a date is of the week.
func (w Week) Has(d day.Date) bool { return w.Monday <= d && d < w.Monday+7 }

// Weeks returns the school weeks of a calendar that have a day from one date to another, in time. A week without
// school is one only where a session was held in it.
func Weeks(cal *day.Calendar, from, to day.Date, sessions []Session) []Week {
	var out []Week
	held := map[day.Date]bool{}
	for _, s := range sessions {
		held[s.Date.Monday()] = true
	}
	for monday := from.Monday(); monday <= to; monday += 7 {
		w := Week{Monday: monday, Days: cal.UpTo(monday+6) - cal.UpTo(monday-1)}
		if w.Days > 0 || held[monday] {
			out = append(out, w)
		}
	}
	return out
}

// Count is how many sessions there were, and their minutes.
type Count struct{ Sessions, Minutes int }

func (c *Count) add(minutes int) {
	c.Sessions++
	c.Minutes += minutes
}

// Cell is a student's week.
type Cell struct {
	Count
	ByKind map[int]Count
	On     bool   // the caseload, on a day of it
	Reason string // why there was none, where somebody said so and there was none
}

// Unmet reports whether the student was to be met and was not, and nobody said why. In a week without school nobody
// is to be.
func (c Cell) Unmet(w Week) bool { return c.On && c.Sessions == 0 && c.Reason == "" && w.Days > 0 }

// Total is what a week comes to.
type Total struct {
	Count
	ByKind  map[int]Count
	On      int // students on the caseload
	Met     int // of these, in a session or more
	Reasons int // of these, in none for a reason that was given
}

// Unmet is how many of the caseload were in no session, and nobody said why; 0 in a week without school.
func (t Total) Unmet(w Week) int {
	if w.Days == 0 {
		return 0
	}
	return t.On - t.Met - t.Reasons
}

// Coverage is students × weeks.
type Coverage struct {
	Weeks  []Week
	Cells  map[int][]Cell // by student, a cell for each week
	Totals []Total        // a week's
}

// Cover counts sessions by student and week. Students are those who have a stay, a session or both in the weeks.
func Cover(weeks []Week, sessions []Session, stays []Stay, reasons []Reason) Coverage {
	c := Coverage{Weeks: weeks, Cells: map[int][]Cell{}, Totals: make([]Total, len(weeks))}
	of := func(student int) []Cell {
		if c.Cells[student] == nil {
			c.Cells[student] = make([]Cell, len(weeks))
		}
		return c.Cells[student]
	}
	for w, week := range weeks {
		for _, s := range stays {
			if s.From < week.Monday+7 && s.To >= week.Monday {
				of(s.Student)[w].On = true
			}
		}
		for _, s := range sessions {
			if week.Has(s.Date) {
				cell := &of(s.Student)[w]
				cell.add(s.Minutes)
				cell.ByKind = counted(cell.ByKind, s)
				c.Totals[w].add(s.Minutes)
				c.Totals[w].ByKind = counted(c.Totals[w].ByKind, s)
			}
		}
		for _, r := range reasons {
			if cells := c.Cells[r.Student]; r.Week == week.Monday && cells != nil && cells[w].Sessions == 0 {
				cells[w].Reason = r.Text
			}
		}
		for _, cells := range c.Cells {
			switch cell := cells[w]; {
			case !cell.On:
			case cell.Sessions > 0:
				c.Totals[w].On++
				c.Totals[w].Met++
			case cell.Reason != "":
				c.Totals[w].On++
				c.Totals[w].Reasons++
			default:
				c.Totals[w].On++
			}
		}
	}
	return c
}

func counted(by map[int]Count, s Session) map[int]Count {
	if by == nil {
		by = map[int]Count{}
	}
	n := by[s.Kind]
	n.add(s.Minutes)
	by[s.Kind] = n
	return by
}
