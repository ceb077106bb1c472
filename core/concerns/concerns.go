// Package concerns finds the students who need a look: from absence, conduct and
// course results. It is given figures and gives back reasons; it must not know
// where the figures come from.
package concerns

import (
	"fmt"
	"sort"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/policy"
)

// Kind is a kind of concern.
type Kind string

// The kinds.
const (
	AbsenceBand   Kind = "absence-band"
	UnexcusedRun  Kind = "unexcused-days"
	Incidents     Kind = "incidents"
	FailingCourse Kind = "failing-course"
)

// Kinds lists the kinds in their order with the words of the pages.
var Kinds = []struct {
	Kind  Kind
	Title string
}{
	{AbsenceBand, "Chronic or severe absence"},
	{UnexcusedRun, "Three unexcused days in ten"},
	{Incidents, "Two incidents in 30 days"},
	{FailingCourse, "Failing a course"},
}

// Limits are the lines at which the concerns stand.
type Limits struct {
	BandFrom      int // place of the first band that is a concern
	UnexcusedDays int // in the last ten school days
	Incidents     int
	IncidentDays  int // calendar days
	Courses       int
	NewDays       int // a concern that arose within so many calendar days is new
}

// Usual are the limits a school starts with (common practice, no source).
var Usual = Limits{BandFrom: 2, UnexcusedDays: 3, Incidents: 2, IncidentDays: 30, Courses: 1, NewDays: 7}

// UnexcusedDays returns the trigger whose count is unexcused days in the last ten school
// days, and which is reached at the limit.
func UnexcusedDays(limits Limits) policy.Trigger {
	return policy.Trigger{ID: "unexcused-days", Count: policy.CountDays, Of: policy.SideUnexcused, Reach: limits.UnexcusedDays,
		Window: policy.Window{Kind: policy.RollingDays, N: 10}}
}

// Incident is a day on which a student did something, in a few words.
type Incident struct {
	Date day.Date
	Text string
}

// Failing is a course failed in the latest grading period, and since when that
// is known.
type Failing struct {
	Course string
	Grade  string
	Since  day.Date
}

// Input is what is looked at for one student.
type Input struct {
	Student       ids.Student
	Band          int // −1 for none
	BandName      string
	Rate          string
	Absent        int
	Possible      int
	BandSince     day.Date // first day of the unbroken stay in a band of concern
	UnexcusedDays int      // in the last ten school days
	UnexcusedOn   day.Date // the day on which the line was reached, in this stay
	Incidents     []Incident
	Failing       []Failing
}

// Concern is one reason to look at a student, with the figure behind it.
type Concern struct {
	Kind   Kind
	Since  day.Date
	Figure string
	Why    string
}

// Found is a student with at least one concern.
type Found struct {
	Student  ids.Student
	New      bool
	Since    day.Date // of the newest concern
	Concerns []Concern
}

// Find returns the students with a concern, the new ones first, then by number of
// concerns, then the one that has stood longest.
func Find(inputs []Input, limits Limits, asAt day.Date) []Found {
	var out []Found
	for _, in := range inputs {
		if s := concernsOf(in, limits, asAt); len(s) > 0 {
			f := Found{Student: in.Student, Concerns: s}
			for _, one := range s {
				f.Since = max(f.Since, one.Since)
			}
			f.New = asAt-f.Since < day.Date(limits.NewDays)
			out = append(out, f)
		}
	}
	sort.SliceStable(out, func(a, b int) bool {
		x, y := out[a], out[b]
		if x.New != y.New {
			return x.New
		}
		if len(x.Concerns) != len(y.Concerns) {
			return len(x.Concerns) > len(y.Concerns)
		}
		return x.Since < y.Since
	})
	return out
}

func concernsOf(in Input, limits Limits, asAt day.Date) []Concern {
	var out []Concern
	if in.Band >= limits.BandFrom {
		out = append(out, Concern{AbsenceBand, in.BandSince, in.Rate + " %",
			fmt.Sprintf("missed %d of %d days: %s", in.Absent, in.Possible, in.BandName)})
	}
	if in.UnexcusedDays >= limits.UnexcusedDays {
		out = append(out, Concern{UnexcusedRun, in.UnexcusedOn, fmt.Sprint(in.UnexcusedDays),
			fmt.Sprintf("%d unexcused days in the last ten school days", in.UnexcusedDays)})
	}
	var recent []Incident
	for _, i := range in.Incidents {
		if i.Date <= asAt && asAt-i.Date < day.Date(limits.IncidentDays) {
			recent = append(recent, i)
		}
	}
	if len(recent) >= limits.Incidents {
		sort.Slice(recent, func(a, b int) bool { return recent[a].Date < recent[b].Date })
		words := make([]string, len(recent))
		for i, r := range recent {
			words[i] = r.Text
		}
		out = append(out, Concern{Incidents, recent[limits.Incidents-1].Date, fmt.Sprint(len(recent)),
			fmt.Sprintf("%d incidents in %d days: %s", len(recent), limits.IncidentDays, strings.Join(words, ", "))})
	}
	if len(in.Failing) >= limits.Courses {
		since := in.Failing[0].Since
		words := make([]string, len(in.Failing))
		for i, f := range in.Failing {
			since = min(since, f.Since)
			words[i] = f.Course + " " + f.Grade
		}
		out = append(out, Concern{FailingCourse, since, fmt.Sprint(len(in.Failing)), "failing " + strings.Join(words, ", ")})
	}
	return out
}
