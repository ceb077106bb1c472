// Package signals finds the students who need a look: from absence, conduct and
// course results. It is given figures and gives back reasons; it must not know
// where the figures come from.
package signals

import (
	"fmt"
	"sort"
	"strings"

	"meldung/core/day"
)

// Kind is a kind of signal.
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

// Limits are the lines at which the signals stand.
type Limits struct {
	BandFrom      int // place of the first band that is a concern
	UnexcusedDays int // in the last ten school days
	Incidents     int
	IncidentDays  int // calendar days
	Courses       int
	NewDays       int // a signal that arose within so many calendar days is new
}

// Usual are the limits a school starts with (common practice, no source).
var Usual = Limits{BandFrom: 2, UnexcusedDays: 3, Incidents: 2, IncidentDays: 30, Courses: 1, NewDays: 7}

// Incident is a day on which a student did something, in a few words.
type Incident struct {
	Date  day.Date
	Words string
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
	Student       string
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

// Signal is one reason to look at a student, with the figure behind it.
type Signal struct {
	Kind   Kind
	Since  day.Date
	Figure string
	Why    string
}

// Found is a student with at least one signal.
type Found struct {
	Student string
	New     bool
	Since   day.Date // of the newest signal
	Signals []Signal
}

// Find returns the students with a signal, the new ones first, then by number of
// signals, then the one that has stood longest.
func Find(inputs []Input, limits Limits, asAt day.Date) []Found {
	var out []Found
	for _, in := range inputs {
		if s := signalsOf(in, limits, asAt); len(s) > 0 {
			f := Found{Student: in.Student, Signals: s}
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
		if len(x.Signals) != len(y.Signals) {
			return len(x.Signals) > len(y.Signals)
		}
		return x.Since < y.Since
	})
	return out
}

func signalsOf(in Input, limits Limits, asAt day.Date) []Signal {
	var out []Signal
	if in.Band >= limits.BandFrom {
		out = append(out, Signal{AbsenceBand, in.BandSince, in.Rate + " %",
			fmt.Sprintf("missed %d of %d days: %s", in.Absent, in.Possible, in.BandName)})
	}
	if in.UnexcusedDays >= limits.UnexcusedDays {
		out = append(out, Signal{UnexcusedRun, in.UnexcusedOn, fmt.Sprint(in.UnexcusedDays),
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
			words[i] = r.Words
		}
		out = append(out, Signal{Incidents, recent[limits.Incidents-1].Date, fmt.Sprint(len(recent)),
			fmt.Sprintf("%d incidents in %d days: %s", len(recent), limits.IncidentDays, strings.Join(words, ", "))})
	}
	if len(in.Failing) >= limits.Courses {
		since := in.Failing[0].Since
		words := make([]string, len(in.Failing))
		for i, f := range in.Failing {
			since = min(since, f.Since)
			words[i] = f.Course + " " + f.Grade
		}
		out = append(out, Signal{FailingCourse, since, fmt.Sprint(len(in.Failing)), "failing " + strings.Join(words, ", ")})
	}
	return out
}
