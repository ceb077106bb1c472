package attention

import (
	"maps"
	"slices"
	"sort"
	"sync"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/policy"
)

// Incident is a student's part in an incident, by the names of the school's own lists.
type Incident struct {
	Date              day.Date
	Kind, Place, Role string
}

// PeriodResults are a student's results of a grading period.
type PeriodResults struct {
	Failing, Nearly int
	Mean            *policy.Fraction // nil while there is no grade
	Words           []string         // of the failing courses: English F
}

// Results are a student's course results as they stood from a date on.
type Results struct {
	From    day.Date
	Periods []string // of the school in time, up to the latest with grades
	Of      map[string]PeriodResults
	None    bool // nothing is on record of the student at all
	Away    int
	Behind  *policy.Fraction // nil where nothing is expected
}

// Item is a student's share of a piece of work from a date on.
type Item struct {
	From         day.Date
	Class, Title string
	Share        Value // never where it is due and nothing was handed in
}

// Dated is something that happened on a date: activity by its source, a session by its kind, a contact by
// whom it was with.
type Dated struct {
	Date day.Date
	What string
}

// The people whom a contact may be with.
const (
	WithHome    = "home"
	WithStudent = "student"
)

// Field is the value of an own field from a date on.
type Field struct {
	From  day.Date
	Value Value
}

// Facts are what is on record of one student, each list in time.
type Facts struct {
	Year, Form string
	Classes    []string
	OnPlan     bool
	Lists      []string
	Arrivals   []day.Date
	Incidents  []Incident
	Results    []Results
	Items      []Item
	Activity   []Dated
	Known      []string // sources of activity that know the student
	Contacts   []Dated
	Sessions   []Dated
	Changes    Value // of school
	Fields     map[string][]Field
	Outlooks   []Field // probability at each review
}

// Source is where facts come from. Before the first of a source an indicator of it is missing.
type Source string

// The sources.
const (
	FromIncidents Source = "incidents"
	FromContacts  Source = "contacts"
	FromSessions  Source = "sessions"
)

// School is a school year with its facts. Students are in the order of the ledger.
type School struct {
	Ledger   *absence.Ledger
	Policies map[string]*policy.Policy
	Students []Facts
	First    map[Source]day.Date // when each source began; none where there is nothing yet
	Upto     int                 // last school day that is read

	mu       sync.Mutex // guards what follows
	measures map[string]*absence.Measure
}

// NewSchool returns a school of which nothing after the school day upto is read.
func NewSchool(l *absence.Ledger, policies map[string]*policy.Policy, students []Facts, first map[Source]day.Date, upto int) *School {
	return &School{Ledger: l, Policies: policies, Students: students, First: first, Upto: upto, measures: map[string]*absence.Measure{}}
}

// Date returns the date of a school day.
func (s *School) Date(d int) day.Date { return s.Ledger.Calendar().Day(d).Date }

// began reports whether a source has begun by a date.
func (s *School) began(of Source, by day.Date) bool {
	first, any := s.First[of]
	return any && first <= by
}

// measure returns the measure of a policy over the marks of a slot; of every slot where it is empty.
func (s *School) measure(id, slot string) *absence.Measure {
	s.mu.Lock()
	defer s.mu.Unlock()
	key := id + "\x00" + slot
	if m := s.measures[key]; m != nil {
		return m
	}
	l := s.Ledger
	if slot != "" {
		everyone := make([]int, l.Len())
		for i := range everyone {
			everyone[i] = i
		}
		l = l.Part(everyone, func(_, d, pos int) bool { return l.Calendar().Day(d).Pattern.Slots[pos].Name == slot })
	}
	m := absence.NewMeasure(l, s.Policies[id])
	s.measures[key] = m
	return m
}

// CountWith has what happened after a school day count with it: until the next is over, that is what is known
// now. Each list stays in time.
func (f *Facts) CountWith(d day.Date) {
	for i := range f.Arrivals {
		f.Arrivals[i] = min(f.Arrivals[i], d)
	}
	for i := range f.Incidents {
		f.Incidents[i].Date = min(f.Incidents[i].Date, d)
	}
	for i := range f.Results {
		f.Results[i].From = min(f.Results[i].From, d)
	}
	for i := range f.Items {
		f.Items[i].From = min(f.Items[i].From, d)
	}
	for _, list := range [][]Dated{f.Activity, f.Contacts, f.Sessions} {
		for i := range list {
			list[i].Date = min(list[i].Date, d)
		}
	}
	fields := append(slices.Collect(maps.Values(f.Fields)), f.Outlooks)
	for _, list := range fields {
		for i := range list {
			list[i].From = min(list[i].From, d)
		}
	}
}

// upTo returns how many of a list in time are on or before a date.
func upTo[T any](list []T, d day.Date, date func(T) day.Date) int {
	return sort.Search(len(list), func(i int) bool { return date(list[i]) > d })
}

// within counts those of a list in time that are within so many calendar days up to a date and that fit.
func within[T any](list []T, d day.Date, days int, date func(T) day.Date, fits func(T) bool) (n int, last day.Date, any bool) {
	for _, x := range slices.Backward(list[:upTo(list, d, date)]) {
		if !fits(x) {
			continue
		}
		if !any {
			last, any = date(x), true
		}
		if days > 0 && d-date(x) >= day.Date(days) {
			break
		}
		n++
	}
	return n, last, any
}

func (f *Facts) resultsOn(d day.Date) *Results {
	n := upTo(f.Results, d, func(r Results) day.Date { return r.From })
	if n == 0 {
		return nil
	}
	return &f.Results[n-1]
}

// Failing names the courses that a student fails in the latest period, as on a school day.
func (s *School) Failing(i, d int) []string {
	p, _ := s.Students[i].resultsOn(s.Date(d)).period("", 0)
	return p.Words
}

func fieldOn(list []Field, d day.Date) Value {
	n := upTo(list, d, func(f Field) day.Date { return f.From })
	if n == 0 {
		return Value{}
	}
	return list[n-1].Value
}
