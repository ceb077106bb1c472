package absence

import (
	"meldung/core/day"
	"meldung/core/policy"
)

// Measure is a policy made ready for one ledger. It is good for as long as the
// ledger's calendar and code set are.
type Measure struct {
	*counting
	policy     *policy.Policy
	absentFrom []int    // by due minutes: missed minutes that make a day absent
	windows    []window // by trigger
}

// NewMeasure makes a policy ready for the ledger. A mark counts by the ledger's
// own code set.
func NewMeasure(l *Ledger, p *policy.Policy) *Measure { return newMeasure(newCounting(l, p), p) }

func newMeasure(c *counting, p *policy.Policy) *Measure {
	m := &Measure{counting: c, policy: p}
	longest := 0
	for _, full := range c.full {
		longest = max(longest, full)
	}
	m.absentFrom = make([]int, longest+1)
	for due := range m.absentFrom {
		m.absentFrom[due] = p.DayAbsentAt.CeilTimes(due)
	}
	for _, t := range p.Triggers {
		m.windows = append(m.windows, windowOf(c.ledger.cal, t.Window))
	}
	return m
}

// Ledger returns the ledger that the measure is made for.
func (m *Measure) Ledger() *Ledger { return m.ledger }

// Policy returns the measure's policy.
func (m *Measure) Policy() *policy.Policy { return m.policy }

// Span is a stretch of open days, both ends included, by their places in the
// calendar. It is empty when To < From.
type Span struct{ From, To int }

// YearTo returns the span from the first open day to the last one on or before
// the date.
func (l *Ledger) YearTo(asAt day.Date) Span { return Span{0, l.cal.UpTo(asAt)} }

// Between returns the open days from one date to another, both included.
func (l *Ledger) Between(from, to day.Date) Span { return Span{l.cal.From(from), l.cal.UpTo(to)} }

// Room is how many units more may be missed, or must be attended.
type Room struct {
	Known bool // false: there is no figure
	None  bool // no room is left
	Units int
}

// Figures are one student's sums over a span. Possible, Absent, Excused and
// Unexcused are in the policy's unit; the minutes are minutes.
type Figures struct {
	Possible, Absent, Excused, Unexcused      int
	Unexplained, Void, Unmarked, Lates        int
	DueMinutes, MissedMinutes, ChargedMinutes int
	Band                                      int // place in the policy's bands; −1 for none
	Headroom                                  Room
	WayBack                                   Room
	ToCome                                    int // units still to come this year, after the span
}

// Rate returns the absence rate in per cent with one decimal; empty where
// nothing was possible.
func (f Figures) Rate() string { return policy.Percent(f.Absent, f.Possible) }

// BackInTime tells whether the way back fits into what is left of the year.
func (f Figures) BackInTime() bool { return f.WayBack.Known && f.WayBack.Units <= f.ToCome }

// Student adds up one student over a span and says how far the threshold is.
func (m *Measure) Student(i int, span Span) Figures {
	r := &m.ledger.rows[i]
	var s stretch
	m.stretch(&s, r, span)
	return m.figures(&s, r)
}

func (m *Measure) figures(s *stretch, r *row) Figures {
	f := m.sums(s, r)
	f.Band = -1
	if place, ok := m.policy.Band(f.Absent, f.Possible); ok {
		f.Band = place
	}
	if m.policy.Unit != policy.Minutes {
		f.ToCome = m.toCome(r, s.last)
		f.Headroom = Headroom(f.Absent, f.Possible, f.ToCome, m.policy.Threshold)
		f.WayBack = WayBack(f.Absent, f.Possible, m.policy.Threshold)
	}
	return f
}

// sums returns the figures that add up.
func (m *Measure) sums(s *stretch, r *row) Figures {
	f := Figures{Unexplained: int(s.sum.unexplained), Void: int(s.sum.void), Unmarked: int(s.sum.unmarked), Lates: int(s.sum.lates),
		DueMinutes: int(s.sum.due), MissedMinutes: s.sum.missed.total()}
	for n := range s.events {
		charged, _ := m.charge(&s.events[n].tally, r, s.events[n].day)
		f.ChargedMinutes += charged.total()
	}
	switch m.policy.Unit {
	case policy.Session:
		f.Possible, f.Excused, f.Unexcused = int(s.sum.possible), s.sum.sessions.excused(), int(s.sum.sessions.unexcused)
	case policy.Minutes:
		f.Possible, f.Excused, f.Unexcused = int(s.sum.due), s.sum.missed.excused(), int(s.sum.missed.unexcused)
	default:
		f.Possible = s.possibleDays
		f.Excused, f.Unexcused = m.absentDays(s)
	}
	f.Absent = f.Excused + f.Unexcused
	return f
}

func (m *Measure) absentDays(s *stretch) (excused, unexcused int) {
	for n := range s.events {
		switch v := m.verdict(&s.events[n].tally); {
		case !v.absent:
		case v.side == policy.SideUnexcused:
			unexcused++
		default:
			excused++
		}
	}
	return excused, unexcused
}

// toCome counts the units after the d-th open day, within enrolment.
func (m *Measure) toCome(r *row, d int) int {
	n := 0
	for d := range r.within(Span{d + 1, m.ledger.cal.Days() - 1}) {
		slots := m.counted[m.ledger.pattern[d]]
		due := len(slots)
		if on := m.ledger.dueOn(r, d); on != nil {
			due = 0
			for _, s := range slots {
				if on[s.pos] {
					due++
				}
			}
		}
		if m.policy.Unit == policy.Day {
			due = min(due, 1)
		}
		n += due
	}
	return n
}

// Headroom returns the largest x ≤ toCome with (absent + x)/(possible + toCome)
// below the threshold: how many units more may be missed and the year still end
// below it. There is no figure where possible + toCome is 0.
func Headroom(absent, possible, toCome int, threshold policy.Fraction) Room {
	if possible+toCome == 0 {
		return Room{}
	}
	x := min(threshold.CeilTimes(possible+toCome)-1-absent, toCome)
	if x < 0 {
		return Room{Known: true, None: true}
	}
	return Room{Known: true, Units: x}
}

// WayBack returns the smallest m ≥ 0 with absent/(possible + m) below the
// threshold: how many units in a row must be attended. It may exceed what is
// left of the year.
func WayBack(absent, possible int, threshold policy.Fraction) Room {
	if possible == 0 {
		return Room{Known: true}
	}
	return Room{Known: true, Units: max(0, threshold.FloorUnder(absent)+1-possible)}
}

// Group is the sum over a set of students.
type Group struct {
	Students         int
	Possible, Absent int
	Excused          int
	Unexcused        int
	AttendedDays     int // student-days, unit day
	EnrolledDays     int // student-days
	SchoolDays       int
	Bands            []int // students in each band
}

// Rate returns Σ absent / Σ possible in per cent with one decimal.
func (g Group) Rate() string { return policy.Percent(g.Absent, g.Possible) }

// AverageDailyAttendance returns attended student-days ÷ school days, as a
// fraction; ok is false where there was no school day.
func (g Group) AverageDailyAttendance() (days policy.Fraction, ok bool) {
	return perSchoolDay(g.AttendedDays, g.SchoolDays)
}

// AverageDailyMembership returns enrolled student-days ÷ school days, as a
// fraction; ok is false where there was no school day.
func (g Group) AverageDailyMembership() (days policy.Fraction, ok bool) {
	return perSchoolDay(g.EnrolledDays, g.SchoolDays)
}

// Groups are the sums of several sections, each measured by its own calendar. A whole school is
// the sum over its sections.
type Groups []Group

// Total adds them up. Its school days are those of the section that had most; what was
// attended a day is told by AverageDailyAttendance, not by the total.
func (g Groups) Total() Group {
	var out Group
	for _, one := range g {
		out.Students += one.Students
		out.Possible += one.Possible
		out.Absent += one.Absent
		out.Excused += one.Excused
		out.Unexcused += one.Unexcused
		out.AttendedDays += one.AttendedDays
		out.EnrolledDays += one.EnrolledDays
		out.SchoolDays = max(out.SchoolDays, one.SchoolDays)
		for len(out.Bands) < len(one.Bands) {
			out.Bands = append(out.Bands, 0)
		}
		for i, n := range one.Bands {
			out.Bands[i] += n
		}
	}
	return out
}

// AverageDailyAttendance returns the sum of the sections' averages; ok is false where none had
// a school day.
func (g Groups) AverageDailyAttendance() (days policy.Fraction, ok bool) {
	return g.sum(Group.AverageDailyAttendance)
}

// AverageDailyMembership returns the sum of the sections' averages; ok is false where none had
// a school day.
func (g Groups) AverageDailyMembership() (days policy.Fraction, ok bool) {
	return g.sum(Group.AverageDailyMembership)
}

func (g Groups) sum(average func(Group) (policy.Fraction, bool)) (days policy.Fraction, ok bool) {
	days = policy.NewFraction(0, 1)
	for _, one := range g {
		if a, there := average(one); there {
			days, ok = days.Add(a), true
		}
	}
	return days, ok
}

func perSchoolDay(n, days int) (policy.Fraction, bool) {
	if days == 0 {
		return policy.Fraction{}, false
	}
	return policy.NewFraction(int64(n), int64(days)), true
}

// Group adds up the given students over a span.
func (m *Measure) Group(students []int, span Span) Group {
	g := Group{Students: len(students), SchoolDays: max(0, span.To-max(span.From, 0)+1), Bands: make([]int, len(m.policy.Bands))}
	var s stretch
	for _, i := range students {
		r := &m.ledger.rows[i]
		m.stretch(&s, r, span)
		f := m.sums(&s, r)
		excused, unexcused := m.absentDays(&s)
		g.AttendedDays += s.possibleDays - excused - unexcused
		g.EnrolledDays += s.enrolledDays
		g.Possible += f.Possible
		g.Absent += f.Absent
		g.Excused += f.Excused
		g.Unexcused += f.Unexcused
		if place, ok := m.policy.Band(f.Absent, f.Possible); ok {
			g.Bands[place]++
		}
	}
	return g
}
