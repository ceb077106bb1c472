package absence

import (
	"meldung/core/day"
	"meldung/core/policy"
)

// Window tells over which school days a count runs that ends on one of them. Runs have none: they are of
// no fixed days.
type Window struct {
	of  window
	day []int // weekday of each school day; nil where any weekday counts
	on  int
}

// NewWindow returns the window of a kind over a school year. With a weekday, 1 = Monday to 7, only its days
// count, and a number of rolling days is that of the last school days that fall on it. 0 is any weekday.
func NewWindow(cal *day.Calendar, w policy.Window, weekday int) *Window {
	out := &Window{on: weekday}
	if weekday == 0 {
		out.of = windowOf(cal, w)
		return out
	}
	out.day = make([]int, cal.Days())
	for d := range out.day {
		out.day[d] = cal.Day(d).Date.Weekday()
	}
	if w.Kind != policy.RollingDays {
		out.of = windowOf(cal, w)
		return out
	}
	out.of.start = make([]int32, len(out.day))
	var fell []int32
	for d, on := range out.day {
		if on == weekday {
			fell = append(fell, int32(d))
		}
		out.of.start[d] = 0
		if n := len(fell) - w.N; n >= 0 {
			out.of.start[d] = fell[n]
		}
	}
	return out
}

// Has reports whether a school day takes part in the window that ends on another.
func (w *Window) Has(d, end int) bool {
	return (w.on == 0 || w.day[d] == w.on) && w.of.holds(d, end)
}

// Sums adds up daily amounts in the window that ends on each of their days.
func (w *Window) Sums(daily []int32) []int32 {
	out := make([]int32, len(daily))
	amount := func(d int) int32 {
		if w.on != 0 && w.day[d] != w.on {
			return 0
		}
		return daily[d]
	}
	if w.of.group != nil {
		sum := make([]int32, w.of.groups)
		for d := range daily {
			sum[w.of.group[d]] += amount(d)
			out[d] = sum[w.of.group[d]]
		}
		return out
	}
	first, sum := 0, int32(0)
	for d := range daily {
		sum += amount(d)
		for ; first < int(w.of.start[d]); first++ {
			sum -= amount(first)
		}
		out[d] = sum
	}
	return out
}

// Daily returns what each school day up to one gave in the policy's unit: possible, and absent.
func (m *Measure) Daily(i, to int) (possible, absent []int32) {
	possible, absent = make([]int32, to+1), make([]int32, to+1)
	r := &m.ledger.rows[i]
	for d := range r.within(Span{0, to}) {
		var t tally
		m.day(&t, r, d)
		switch m.policy.Unit {
		case policy.Session:
			possible[d], absent[d] = int32(t.possible), int32(t.sessions.total())
		case policy.Minutes:
			possible[d], absent[d] = int32(t.due), int32(t.missed.total())
		default:
			v := m.verdict(&t)
			if v.possible {
				possible[d] = 1
			}
			if v.absent {
				absent[d] = 1
			}
		}
	}
	return possible, absent
}

// DailyCount returns what each school day up to one adds to a count of the sides, as a trigger counts it.
func (m *Measure) DailyCount(i, to int, count policy.Count, of policy.Side) []int32 {
	out := make([]int32, to+1)
	t := policy.Trigger{Count: count, Of: of}
	r := &m.ledger.rows[i]
	var s stretch
	m.stretch(&s, r, Span{0, to})
	for k := range s.events {
		out[s.events[k].day] = int32(m.amount(&t, &s.events[k], r))
	}
	return out
}

// DailyOnSite returns how many slots of each school day up to one were missed while on site.
func (m *Measure) DailyOnSite(i, to int) []int32 {
	out := make([]int32, to+1)
	r := &m.ledger.rows[i]
	var s stretch
	m.stretch(&s, r, Span{0, to})
	for k := range s.events {
		if d := s.events[k].day; s.events[k].missed.unexcused > 0 {
			out[d] = int32(m.MissedOnSite(i, Span{d, d}, nil))
		}
	}
	return out
}

// DailyLates returns the lates of each school day up to one by class, or by slot where a mark has none.
func (m *Measure) DailyLates(i, to int) map[string][]int32 {
	out := map[string][]int32{}
	r := &m.ledger.rows[i]
	var s stretch
	m.stretch(&s, r, Span{0, to})
	perClass := &policy.Ladder{Per: policy.PerClass}
	for k := range s.events {
		if s.events[k].lates == 0 {
			continue
		}
		for _, late := range m.latesOn(r, s.events[k].day) {
			scope := scopeOf(perClass, late)
			if out[scope] == nil {
				out[scope] = make([]int32, to+1)
			}
			out[scope][s.events[k].day]++
		}
	}
	return out
}

// LastAttended returns, for each school day up to one, the last up to it on which a mark says that the
// student attended; −1 for none.
func (l *Ledger) LastAttended(i, to int) []int32 {
	out := make([]int32, to+1)
	r := &l.rows[i]
	last := int32(-1)
	for d := range to + 1 {
		for at := l.offset[d]; at < l.offset[d+1]; at++ {
			if c := r.cells[at]; c.marked() && l.Codes(d).Codes[c.code()].Counts == policy.Attended {
				last = int32(d)
			}
		}
		out[d] = last
	}
	return out
}
